"""Bringing motion files in over the API."""

from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from core.tests.makes import colons_make
from core.tests.motions import FileStyle, bvh_text, bvh_values
from core.tests.test_bvh import BROKEN
from documents.models import Document
from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import Wanted, bring_in
from library import files, motions, shelf
from library.models import MotionBlock

from .conftest import Demo, files_kept


def send(client: Client, demo: Demo, data: bytes, name: str = "slow_walk-01.bvh") -> Any:
    return client.post(
        f"/api/productions/{demo.production}/files", {"upload": SimpleUploadedFile(name, data)}
    )


def bring(client: Client, demo: Demo, **wanted: Any) -> Any:
    url = f"/api/productions/{demo.production}/clips"
    return client.post(url, wanted, content_type="application/json")


def test_a_file_becomes_a_clip_and_a_lay_figure(demo: Demo, owner: Client) -> None:
    data = bvh_text(bvh_values(1500), FileStyle())
    report = send(owner, demo, data).json()
    assert (report["joints"], report["frames"], report["frames_per_second"]) == (5, 1500, 120)
    assert report["suggested_name"] == "Slow walk 01"
    assert report["known_figure"] is None
    done = bring(owner, demo, file=report["file"], name="歩き", is_cycle=False)
    assert done.status_code == 201
    assert done.json()["clip"]["name"] == "歩き"
    assert done.json()["says"] == ["歩き is a new lay figure."]
    kept = Document.objects.get(kind="clip", name="歩き")
    playable = shelf.clip_of(kept)
    direct = bring_in(bvh.read(data), Wanted(name="歩き", is_cycle=False), "f")[1].samples.whole()
    samples = playable.samples.whole()
    assert np.abs(samples.rotations - direct.rotations).max() < 1e-6
    assert np.abs(samples.moves[2] - direct.moves[2]).max() < 1e-6
    block = MotionBlock.objects.get(pk=playable.clip.motion)
    assert [chunk.number for chunk in block.chunks.order_by("number")] == [0, 1]
    figure = owner.get(f"/api/figures/{playable.clip.figure}").json()
    assert len(figure["dress"]["hulls"]) >= 3


def test_the_same_skeleton_gives_no_second_figure(demo: Demo, owner: Client) -> None:
    for seed, expected in ((1, True), (2, False)):
        report = send(owner, demo, bvh_text(bvh_values(20, seed), FileStyle())).json()
        assert (report["known_figure"] is None) is expected
        done = bring(owner, demo, file=report["file"], name=f"Take {seed}", metres_per_unit=0.01)
        assert done.json()["figure_is_new"] is expected
    assert Document.objects.filter(kind="figure").count() == 8


def test_a_range_is_reported_before_it_is_brought_in(demo: Demo, owner: Client) -> None:
    rows = np.concatenate([bvh_values(30), bvh_values(30)[:1]])
    report = send(owner, demo, bvh_text(rows, FileStyle())).json()
    assert report["cycle_length_frames"] == 30
    url = f"/api/productions/{demo.production}/files/{report['file']}"
    part = owner.get(f"{url}?start=3&end=20").json()
    assert (part["start"], part["end"], part["cycle_length_frames"]) == (3, 20, None)
    assert owner.get(f"{url}?start=30&end=20").status_code == 422
    whole = bring(owner, demo, file=report["file"], name="Round").json()
    assert whole["clip"]["is_cycle"]
    assert whole["clip"]["length_frames"] == 30
    assert whole["says"][0] == "A cycle of 30 frames, 0 to 29."


@pytest.mark.parametrize("name", BROKEN)
def test_a_broken_file_leaves_the_library_as_it_was(name: str, demo: Demo, owner: Client) -> None:
    before = Document.objects.count()
    answer = send(owner, demo, BROKEN[name][0])
    assert answer.status_code == 422
    message = answer.json()["message"]
    assert message.endswith(".")
    assert "\n" not in message
    assert Document.objects.count() == before
    assert files_kept().count() == 0


def test_a_file_too_large_is_refused_before_it_is_read(
    demo: Demo, owner: Client, settings: Any
) -> None:
    settings.LARGEST_UPLOAD_BYTES = 1 << 20
    for more, status in ((1, 422), (1 << 16, 413)):
        answer = send(owner, demo, b"HIERARCHY" + b" " * ((1 << 20) + more))
        assert answer.status_code == status
        assert answer.json()["message"] == "The file is larger than 1 MB."


@pytest.mark.parametrize(
    ("wanted", "reason"),
    [
        ({"name": " "}, "Name is empty."),
        ({"name": "A", "start": 5, "end": 5}, "is not inside 0 to 12."),
        ({"name": "A", "rate": "many"}, "is not a frame rate"),
        ({"name": "A", "metres_per_unit": 1e9}, "Metres per unit is at the most 1,000."),
        ({"name": "A", "file": "0" * 64}, "choose it again."),
    ],
)
def test_bad_choices_are_refused_in_a_sentence(
    wanted: dict[str, Any], reason: str, demo: Demo, owner: Client
) -> None:
    report = send(owner, demo, bvh_text(bvh_values(12), FileStyle())).json()
    answer = bring(owner, demo, **{"file": report["file"], **wanted})
    assert answer.status_code == 422
    assert reason in answer.json()["message"]
    assert not Document.objects.filter(kind="clip", name="A").exists()


def test_files_and_motions_are_kept_once_and_whole(demo: Demo, owner: Client) -> None:
    data = bvh_text(bvh_values(9000), FileStyle())
    assert len(data) > files.CHUNK_BYTES
    send(owner, demo, data)
    send(owner, demo, data, "again.bvh")
    (kept,) = files_kept()
    assert files.load(kept) == data
    playable = shelf.clip_of(demo.document("clip", "Hurry"))
    assert motions.store(playable.samples) == playable.clip.motion


def test_motion_is_fitted_to_a_figure_and_its_spellings_are_learnt(
    demo: Demo, owner: Client
) -> None:
    odo = demo.document("figure", "Odo")
    file = send(owner, demo, colons_make(), "stroll.bvh").json()["file"]
    base = f"/api/productions/{demo.production}/files/{file}"
    report = owner.get(f"{base}/fit?figure={odo.pk}").json()
    assert (len(report["plays"]), len(report["proposed"])) == (0, 19)
    assert (len(report["dropped"]), report["rests"]) == (36, ["pole"])
    # Told for the unit that is wanted: half as large a file means twice the ratio.
    half = owner.get(f"{base}/fit?figure={odo.pk}&metres_per_unit=0.005").json()
    assert half["leg_ratio"] == pytest.approx(2 * report["leg_ratio"])
    mapping = {pair["clip_joint"]: pair["figure_joint"] for pair in report["proposed"]}
    onto = {"figure": str(odo.pk), "mapping": mapping}
    seen = owner.post(f"{base}/frames", {"most": 12, "onto": onto}, content_type="application/json")
    assert seen.status_code == 200
    done = bring(owner, demo, file=file, name="Stroll", onto=onto).json()
    assert done["figure_is_new"] is False
    assert done["clip"]["figure_name"] == "Odo"
    assert done["clip"]["rests"] == ["pole"]
    assert "1 of its joints rest." in done["says"]
    clip = shelf.clip_of(Document.objects.get(pk=done["clip"]["id"]))
    assert {plant.joint for plant in clip.clip.plants} <= {"l_ankle", "r_ankle"}
    # Next time it is known.
    again = owner.get(f"{base}/fit?figure={odo.pk}").json()
    assert (len(again["plays"]), again["proposed"]) == (19, [])
    odo.refresh_from_db()
    history = owner.get(f"/api/documents/{odo.pk}/history").json()
    assert (odo.head, history[0]["label"]) == (2, "Learn 19 spellings of joint names")


def test_a_mapping_that_cannot_be_is_refused_and_nothing_is_kept(demo: Demo, owner: Client) -> None:
    odo = demo.document("figure", "Odo")
    file = send(owner, demo, colons_make(), "stroll.bvh").json()["file"]
    before = Document.objects.count()
    onto = {"figure": str(odo.pk), "mapping": {"rig:Hips": "hips", "rig:Spine": "hips"}}
    refused = bring(owner, demo, file=file, name="Stroll", onto=onto)
    assert refused.json()["message"] == "Two joints of the clip would play “hips”."
    assert Document.objects.count() == before
    odo.refresh_from_db()
    assert odo.head == 1
