"""Clips on the bench over the API: edits are revisions, scenes follow, previews save nothing."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from typer.testing import CliRunner

from documents.models import Document
from elastic_core.command_line import app

from .conftest import Demo
from .test_scene import positions as placed


def post(client: Client, url: str, body: dict[str, Any]) -> Any:
    return client.post(url, body, content_type="application/json")


@pytest.fixture
def amble(demo: Demo) -> str:
    return f"/api/clips/{demo.document('clip', 'Amble').pk}"


def edit(client: Client, clip: str, wanted: dict[str, Any], *, preview: bool = False) -> Any:
    head = client.get(clip).json()["head"]
    body = {"edit": wanted, "base_revision": head, "preview": preview}
    return post(client, clip + "/edits", body)


def positions(client: Client, url: str, body: dict[str, Any], figure: str) -> Any:
    answer = post(client, url, body)
    assert answer.status_code == 200, answer.content[:200]
    length = int.from_bytes(answer.content[:8], "little")
    metadata = json.loads(answer.content[8 : 8 + length])["__metadata__"]
    return placed(answer.content, figure), metadata


BOW = {
    "kind": "key_pose",
    "frame": 6,
    "changes": [{"kind": "turn", "joint": "chest", "axis": [1, 0, 0], "degrees": 30}],
}


def test_the_bench_shows_joints_keys_contacts_and_the_seam(owner: Client, amble: str) -> None:
    view = owner.get(amble).json()
    bench = view["bench"]
    assert [row["label"] for row in bench["joints"]][:3] == ["Hips", "Spine", "Chest"]
    assert bench["length_frames"] == 24
    assert bench["is_cycle"]
    assert bench["seam"]["grade"] == "closed"
    assert {plant["side"] for plant in bench["plants"]} == {"left", "right"}
    assert all(plant["slide_cm"] < 0.1 for plant in bench["plants"])
    assert bench["stride_metres"] == pytest.approx(1.12)
    assert bench["ground_speed_metres_a_second"] == pytest.approx(1.12)
    scenes = ["Sc 04 Quay at dusk", "Sc 07 The flame holds"]
    assert [use["name"] for use in view["used_in"]] == scenes


def test_a_change_shows_in_the_scene_and_one_undo_takes_it_back(
    owner: Client, demo: Demo, amble: str
) -> None:
    scene = owner.get(demo.url).json()
    wanted = {"start": 100, "end": 124, "step": 1}
    before, metadata = positions(owner, demo.url + "/frames", wanted, "odo")
    made = edit(owner, amble, BOW).json()
    assert made["label"] == "Key Chest at 6"
    assert made["clip"]["undo"] == "Key Chest at 6"
    after, changed = positions(owner, demo.url + "/frames", wanted, "odo")
    assert np.abs(after - before).max() > 0.002
    assert changed["content"] != metadata["content"]
    same = owner.get(demo.url).json()
    assert same["revision"] == scene["revision"]
    assert same["made_from"] != scene["made_from"]
    assert owner.get(demo.url + "/head").json()["made_from"] == same["made_from"]
    back = post(owner, amble + "/undo", {"base_revision": made["clip"]["revision"]}).json()
    assert back["redo"] == "Key Chest at 6"
    again, _ = positions(owner, demo.url + "/frames", wanted, "odo")
    assert (again == before).all()


def test_a_preview_saves_nothing_and_gives_its_frames(owner: Client, amble: str) -> None:
    head = owner.get(amble).json()["head"]
    shown = edit(owner, amble, BOW, preview=True).json()
    assert owner.get(amble).json()["head"] == head
    was, _ = positions(owner, amble + "/poses", {"start": 0, "end": 24}, "figure")
    wanted = {"start": 0, "end": 24, "edit": BOW}
    would, metadata = positions(owner, amble + "/poses", wanted, "figure")
    assert metadata["content"] == shown["clip"]["content"]
    assert np.abs(would - was).max(axis=(1, 2)).argmax() == 6


def test_a_cycle_goes_on_beyond_its_ends(owner: Client, amble: str) -> None:
    in_place, _ = positions(owner, amble + "/poses", {"start": -24, "end": 48}, "figure")
    assert np.abs(in_place[:24] - in_place[24:48]).max() < 1e-6
    wanted = {"start": 0, "end": 48, "in_place": False}
    travelling, _ = positions(owner, amble + "/poses", wanted, "figure")
    step = travelling[24:] - travelling[:24]
    assert np.abs(step - [0, 0, 1.12]).max() < 1e-5


def test_curves_are_traced_with_their_rate_of_change(owner: Client, demo: Demo) -> None:
    hurry = f"/api/clips/{demo.document('clip', 'Hurry').pk}"
    body = {"channels": ["l_knee.turn.x"], "start": 0, "end": 26}
    trace = post(owner, hurry + "/traces", body).json()[0]
    values, rates = np.array(trace["values"]), np.array(trace["rates"])
    assert trace["unit"] == "degrees"
    assert len(values) == 26 * 4 + 1
    assert abs(values[0] - values[16 * 4]) < 0.05
    # Even spans: the rate is the slope to the next quarter of a frame.
    assert np.abs(rates[:-1] - np.diff(values) * 4).max() < 1e-6


def test_an_old_base_is_refused_and_an_edit_sent_twice_is_made_once(
    owner: Client, amble: str
) -> None:
    head = owner.get(amble).json()["head"]
    body = {"edit": BOW, "base_revision": head, "token": "bow"}
    first = post(owner, amble + "/edits", body).json()
    again = post(owner, amble + "/edits", body)
    assert again.status_code == 200
    assert again.json()["clip"]["revision"] == first["clip"]["revision"]
    late = post(owner, amble + "/edits", {"edit": BOW, "base_revision": head})
    assert (late.status_code, late.json()["head"]) == (409, head + 1)


@pytest.mark.parametrize(
    ("wanted", "says"),
    [
        ({"kind": "delete_keys", "chosen": {"tail.turn.x": [0]}}, "tail.turn.x has no keys."),
        ({"kind": "hold_feet", "held": True}, "They are held already."),
        ({"kind": "set_length", "length_frames": 24}, "The clip has 24 frames already."),
        (
            {"kind": "close_seam", "method": "overlap", "frames": 4},
            "Nothing precedes the start by 4 frames: an overlap needs motion before it. Spread the "
            "gap, or bring the clip in with frames before its start.",
        ),
    ],
)
def test_what_cannot_be_done_is_said_and_changes_nothing(
    owner: Client, amble: str, wanted: dict[str, Any], says: str
) -> None:
    head = owner.get(amble).json()["head"]
    answer = edit(owner, amble, wanted)
    assert (answer.status_code, answer.json()["message"]) == (422, says)
    assert owner.get(amble).json()["head"] == head


def test_new_clips_from_blank_a_pose_a_range_and_a_scene(owner: Client, demo: Demo) -> None:
    figure = str(demo.document("figure", "Odo").pk)
    amble = demo.document("clip", "Amble")
    url = f"/api/productions/{demo.production}/new-clips"

    def made(**wanted: Any) -> dict[str, Any]:
        answer = post(owner, url, wanted)
        assert answer.status_code == 201, answer.json()
        bench: dict[str, Any] = owner.get(f"/api/clips/{answer.json()['id']}").json()["bench"]
        return bench

    blank = made(name="Blank", source="blank", of=figure, length_frames=16)
    assert (blank["length_frames"], blank["is_keyed"], len(blank["curves"])) == (16, True, 3)
    posed = made(name="Posed", source="pose", of=str(amble.pk), start=6)
    assert {key["time"] for curve in posed["curves"] for key in curve["keys"]} == {0.0, 24.0}
    ranged = made(name="Part", source="range", of=str(amble.pk), start=4, end=16)
    assert (ranged["length_frames"], ranged["is_cycle"]) == (12, False)
    baked = made(
        name="Baked", source="scene", of=str(demo.scene.pk), scene_figure="odo", start=60, end=90
    )
    assert baked["length_frames"] == 30
    clip = Document.objects.get(name="Baked")
    own, _ = positions(owner, f"/api/clips/{clip.pk}/poses", {"start": 0, "end": 30}, "figure")
    body = {"start": 60, "end": 90, "step": 1}
    shown, _ = positions(owner, demo.url + "/frames", body, "odo")
    # In place, the one is the other but for where it stands and looks.
    span = np.linalg.norm(own[:, 4] - own[:, 0], axis=-1)
    assert np.abs(span - np.linalg.norm(shown[:, 4] - shown[:, 0], axis=-1)).max() < 1e-5


def test_a_clip_of_keys_goes_out_and_in_without_loss(owner: Client, demo: Demo, amble: str) -> None:
    edit(owner, amble, {"kind": "start_walk", "preset": "sneak"})
    file = owner.get(amble + "/file").getvalue()
    body = {"upload": _upload(file)}
    opened = owner.post(f"/api/productions/{demo.production}/own-files", body).json()
    same = owner.get(f"/api/clips/{opened['id']}").json()["bench"]
    was = owner.get(amble).json()["bench"]
    assert same["curves"] == was["curves"]
    assert same["plants"] == was["plants"]


def _upload(data: bytes, name: str = "clip.json") -> Any:
    return SimpleUploadedFile(name, data)


def test_an_imported_walk_is_closed_by_each_method_as_hours_reads_it(
    owner: Client, demo: Demo, tmp_path: Path
) -> None:
    """The room's read-outs before and after are those of `hours seam` and `hours close`."""

    def hours(*words: object) -> None:
        result = CliRunner().invoke(app, [str(word) for word in words])
        assert result.exit_code == 0, result.output

    def read_out(file: Path, *words: str) -> dict[str, tuple[float, float, float]]:
        told = CliRunner().invoke(app, ["seam", str(file), *words, "--json"])
        return {row["joint"]: gaps(row) for row in json.loads(told.stdout)["joints"]}

    def gaps(row: dict[str, Any]) -> tuple[float, float, float]:
        return row["gap_degrees"], row["gap_cm"], row["gap_degrees_per_frame"]

    walked, file = tmp_path / "walk.bvh", tmp_path / "take.bvh"
    hours("walk", walked, "--stride", 1.1, "--frames-per-step", 12)
    hours("convert", walked, file, "--end", 25)
    # Frames 5 to 20 of a round of twenty-four: the end does not meet the start.
    production = f"/api/productions/{demo.production}"
    sent = owner.post(production + "/files", {"upload": _upload(file.read_bytes(), "take.bvh")})
    wanted = {"file": sent.json()["file"], "name": "Part", "is_cycle": True, "start": 5, "end": 21}
    made = post(owner, production + "/clips", wanted)
    assert made.status_code == 201, made.json()
    clip = f"/api/clips/{made.json()['clip']['id']}"

    def shown() -> dict[str, tuple[float, float, float]]:
        return {
            row["joint"]: gaps(row) for row in owner.get(clip).json()["bench"]["seam"]["joints"]
        }

    before = read_out(file, "--cycle", "5:21")
    assert max(degrees for degrees, _, _ in before.values()) > 5
    for joint, (degrees, cm, _) in shown().items():
        assert (degrees, cm) == pytest.approx(before[joint][:2], abs=0.01)
    for method in ("match", "spread", "through", "overlap"):
        closed = tmp_path / f"{method}.bvh"
        hours("close", file, closed, "--cycle", "5:21", "--method", method, "--frames", 5)
        after = read_out(closed)
        edited = edit(owner, clip, {"kind": "close_seam", "method": method, "frames": 5}).json()
        for joint, (degrees, cm, _) in shown().items():
            assert degrees < 0.02
            assert (degrees, cm) == pytest.approx(after[joint][:2], abs=0.02)
        post(owner, clip + "/undo", {"base_revision": edited["clip"]["revision"]})
