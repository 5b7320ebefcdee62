"""Edits, revisions, undo and redo, previews and frames (rules 8.1 to 8.3)."""

import io
import json
from typing import Any

import numpy as np
import pytest
import soundfile
from django.test import Client

from core.tests import gltf_reader
from demo.production import demo as core_demo
from documents.memory import memory
from documents.models import Revision
from documents.opening import opened
from elastic_core.figure import forward
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import positions_in_file_units
from elastic_core.formats.scene_file import read_scene_file
from elastic_core.moments import source
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.hearing import mixed, samples_in
from elastic_core.sound.document import HOUSE_RATE
from library import shelf
from scenes.recordings import SceneRecordings

from .conftest import Demo, edit

REPEAT = {"kind": "trim_stint", "stint": "stand-2", "edge": "end", "frame": 320}
OTHERS = ("Look back", "Reach and light", "Gull", "Flap", "Glide", "Capstan", "Turn")
MOVE = {"kind": "move_stint", "stint": "stand-2", "start": 266}


def positions(data: bytes, figure: str = "odo") -> np.ndarray:
    length = int.from_bytes(data[:8], "little")
    header = json.loads(data[8 : 8 + length])
    entry = header[f"{figure}/positions"]
    start, end = entry["data_offsets"]
    block = data[8 + length + start : 8 + length + end]
    return np.frombuffer(block, dtype="<f4").reshape(entry["shape"])


def frames(client: Client, demo: Demo, **wanted: object) -> bytes:
    answer = client.post(f"{demo.url}/frames", wanted, content_type="application/json")
    assert answer.status_code == 200
    return answer.content


def test_a_scene_has_one_content_whether_it_was_edited_here_or_read_again(
    demo: Demo, owner: Client
) -> None:
    """Another process of the server reads what this one edited, and both name its frames alike: a page that
    hears two names waits for frames that never come."""
    turn = {"kind": "clip", "id": str(demo.document("clip", "Turn").pk)}
    fitted = {"stint": "t", "source": turn, "lane": "odo-body", "mapping": {"drum": "hips"}}
    edits: list[dict[str, Any]] = [
        {"kind": "add_guide", "guide": "g", "frame": 0, "place": [0.0, -0.0, -0.05]},
        # The capstan's figure counts, though it is on stage no more.
        {"kind": "remove_figure", "figure": "capstan"},
        {"kind": "place_stint", "start": 280, **fitted},
        MOVE,
    ]
    for base, change in enumerate(edits, start=1):
        answer = edit(owner, demo, change, base)
        assert answer.status_code == 200, answer.content
        here = owner.get(demo.url).json()["content"]
        memory.forget()
        again = owner.get(demo.url).json()["content"]
        assert answer.json()["scene"]["content"] == here == again, change["kind"]


def test_the_demo_scene_stands_on_the_desk(demo: Demo, owner: Client) -> None:
    view = owner.get(demo.url).json()
    assert (view["name"], view["revision"], view["undo"]) == ("Sc 04 Quay at dusk", 1, None)
    stints = view["desk"]["lanes"][0]["stints"]
    assert [(s["name"], s["start"], s["end"]) for s in stints] == [
        ("Stand", 0, 70),
        ("Look back", 62, 98),
        ("Amble", 90, 170),
        ("Hurry", 162, 230),
        ("Reach and light", 215, 272),
        ("Stand", 264, 288),
    ]
    assert stints[2]["cycles"] == pytest.approx(80 / 24)
    joins = view["desk"]["lanes"][0]["joins"]
    assert len(joins) == 5
    assert all(join["holds_feet"] for join in joins)
    assert [join["alignment"]["plant"] for join in joins] == [
        "both",
        "left",
        "left",
        "right",
        "both",
    ]


def test_an_edit_is_one_revision_with_its_label(demo: Demo, owner: Client) -> None:
    done = edit(owner, demo, REPEAT, 1).json()
    assert done["label"] == "Repeat Stand"
    assert done["notes"] == ["The scene is 320 frames long now."]
    assert (done["scene"]["revision"], done["scene"]["undo"]) == (2, "Repeat Stand")
    kept = Revision.objects.get(document=demo.scene, number=2)
    assert (kept.label, kept.parent) == ("Repeat Stand", 1)
    assert kept.author is not None
    assert kept.author.username == "mika"


def test_a_preview_saves_nothing(demo: Demo, owner: Client) -> None:
    before = Revision.objects.get(document=demo.scene, number=1).body
    shown = edit(owner, demo, REPEAT, 1, preview=True).json()
    assert shown["scene"]["desk"]["laid_frames"] == 320
    assert shown["scene"]["revision"] == 1
    demo.scene.refresh_from_db()
    assert (demo.scene.head, demo.scene.revisions.count()) == (1, 1)
    assert Revision.objects.get(document=demo.scene, number=1).body == before
    previewed = frames(owner, demo, start=290, end=300, edit=REPEAT)
    assert positions(previewed).shape == (10, 20, 3)
    assert demo.scene.revisions.count() == 1


def test_undo_and_redo_walk_the_revisions_and_lose_nothing(demo: Demo, owner: Client) -> None:
    first = Revision.objects.get(document=demo.scene, number=1).body
    edit(owner, demo, REPEAT, 1)
    edit(owner, demo, MOVE, 2)

    def step(way: str, base: int) -> dict:  # type: ignore[type-arg]
        answer = owner.post(
            f"{demo.url}/{way}", {"base_revision": base}, content_type="application/json"
        )
        assert answer.status_code == 200
        return answer.json()  # type: ignore[no-any-return]

    back = step("undo", 3)
    assert (back["revision"], back["undo"], back["redo"]) == (2, "Repeat Stand", "Move Stand")
    back = step("undo", 2)
    assert (back["revision"], back["undo"], back["redo"]) == (1, None, "Repeat Stand")
    assert back["content"] == owner.get(demo.url).json()["content"]
    demo.scene.refresh_from_db()
    assert demo.scene.revisions.get(number=demo.scene.head).body == first
    assert step("redo", 1)["revision"] == 2
    # Another way from here: the first way is kept, and redo follows the newest.
    other = edit(owner, demo, {"kind": "rename_scene", "name": "灯台"}, 2).json()["scene"]
    assert (other["revision"], other["redo"]) == (4, None)
    assert step("undo", 4)["redo"] == "Rename to 灯台"
    assert demo.scene.revisions.count() == 4


def test_an_edit_on_an_old_revision_is_refused_with_the_newer_one(
    demo: Demo, owner: Client
) -> None:
    edit(owner, demo, REPEAT, 1)
    late = edit(owner, demo, MOVE, 1)
    assert late.status_code == 409
    assert late.json()["head"] == 2
    assert "stands at revision 2" in late.json()["message"]
    assert edit(owner, demo, MOVE, 1, preview=True).status_code == 409
    assert edit(owner, demo, MOVE, 2).status_code == 200


@pytest.mark.parametrize(
    ("change", "reason"),
    [
        (
            {"kind": "move_stint", "stint": "amble", "start": 140},
            "on top of each other|at one time",
        ),
        ({"kind": "move_stint", "stint": "gone", "start": 1}, "no longer in the scene."),
        ({"kind": "set_length", "laid_frames": 0}, "Length is at the least 1 frame."),
        (
            {
                "kind": "place_stint",
                "stint": "n",
                "source": {"kind": "clip", "id": "x" * 36},
                "start": 300,
                "lane": "odo-body",
            },
            "A clip of the scene is missing.",
        ),
        ({"kind": "teleport"}, "."),
    ],
)
def test_what_cannot_be_done_says_why_and_changes_nothing(
    change: dict[str, object], reason: str, demo: Demo, owner: Client
) -> None:
    answer = edit(owner, demo, change, 1)
    assert answer.status_code == 422
    import re

    assert re.search(reason, answer.json()["message"])
    assert demo.scene.revisions.count() == 1


def test_frames_are_those_of_the_core(demo: Demo, owner: Client) -> None:
    ours = positions(frames(owner, demo, start=40, end=240, step=3))
    direct = frames_of(core_demo().scene, core_demo().material, np.arange(40.0, 240.0, 3))[0]
    assert ours.shape == (67, 20, 3)
    # Motion is kept as float32.
    assert np.abs(ours - direct.placed.positions).max() < 1e-5


def test_motion_taken_out_reads_back_as_the_scenes_frames(demo: Demo, owner: Client) -> None:
    answer = owner.get(f"{demo.url}/bvh?figure=odo&start=49&end=289")
    assert "attachment" in answer.headers["Content-Disposition"]
    back = bvh.read(answer.content)
    shown = positions(frames(owner, demo, start=48, end=288))
    assert np.abs(positions_in_file_units(back).positions - shown).max() < 1e-4
    late = owner.get(f"{demo.url}/bvh?figure=odo&start=49&end=999")
    assert late.json()["message"] == "The range 49 to 998 is not inside 1 to 288."


def test_gltf_taken_out_shows_the_scenes_frames(demo: Demo, owner: Client) -> None:
    answer = owner.get(f"{demo.url}/gltf?figure=odo&start=49&end=289")
    assert answer.headers["Content-Type"] == "model/gltf-binary"
    held = gltf_reader.read(answer.content)
    places, _ = held.world(0, np.arange(240) / 24)
    shown = positions(frames(owner, demo, start=48, end=288))
    joints = shown.shape[1]
    assert np.abs(places[:, 1 : joints + 1] - shown).max() < 1e-4
    # All of them in one file, each under its own name.
    whole = gltf_reader.read(owner.get(f"{demo.url}/gltf?start=49&end=289").content)
    names = [one["name"] for one in opened(demo.scene).document.model_dump()["figures"]]
    roots = [whole.names[root] for root in whole.told["scenes"][0]["nodes"]]
    assert [one for one in roots if not one.endswith(", dressed")] == names
    places, _ = whole.world(0, np.arange(240) / 24)
    first = whole.names.index("Odo") + 1
    assert np.abs(places[:, first : first + joints] - shown).max() < 1e-4
    clip = owner.get(f"/api/clips/{demo.document('clip', 'Amble').pk}/gltf")
    held = gltf_reader.read(clip.content)
    (amble,) = held.told["animations"]
    assert amble["name"] == "Amble"
    assert {held.accessor(one["input"])[-1, 0] for one in amble["samplers"]} == {1.0}


def test_all_that_is_heard_goes_out_as_one_sound(demo: Demo, owner: Client) -> None:
    lamp = demo.document("scene", "Sc 05 The lamp is lit")
    answer: Any = owner.get(f"/api/scenes/{lamp.pk}/wav")
    data = b"".join(answer.streaming_content)
    told, rate = soundfile.read(io.BytesIO(data), dtype="float32")
    now = opened(lamp)
    length = samples_in(now.document)
    assert (told.shape, rate) == ((length, 2), HOUSE_RATE)
    heard = mixed(now.document, SceneRecordings(now.made_of), 0, length)
    # Half a step of sixteen bits, and the one step by which they are not even.
    assert np.abs(told - np.clip(heard, -1, 1)).max() < 1.5 / 32_768
    assert np.abs(told).max() > 0.05
    silent = demo.document("scene", "Sc 07 The flame holds")
    refused = owner.get(f"/api/scenes/{silent.pk}/wav")
    assert refused.json()["message"] == "“Sc 07 The flame holds” has no sound."


def test_what_is_said_goes_out_as_captions_and_labels(demo: Demo, owner: Client) -> None:
    url = f"/api/lines/{demo.document('line', 'Odo, line 1').pk}"
    words = [one for one in owner.get(url).json()["line"]["reading"]["words"] if one["fits"]]
    captions = owner.get(f"{url}/words?form=vtt")
    assert captions.headers["Content-Type"] == "text/vtt; charset=utf-8"
    text = captions.content.decode()
    assert text.startswith("WEBVTT\n\n00:00:0")
    said = " ".join(line for line in text.splitlines()[2:] if line and "-->" not in line)
    assert said.replace("<v Odo>", "").split() == [one["word"] for one in words]
    labels = owner.get(f"{url}/words?form=labels").content.decode().splitlines()
    assert len(labels) == len(words)
    assert float(labels[0].split("\t")[0]) == pytest.approx(words[0]["start"], abs=1e-6)


def test_the_scene_file_plays_the_same(demo: Demo, owner: Client) -> None:
    held = read_scene_file(owner.get(f"{demo.url}/file").content)
    there = frames_of(held.scene, held.material(), np.arange(0.0, 288, 7))[0].placed.positions
    here = positions(frames(owner, demo, start=0, end=288, step=7))
    assert np.abs(there - here).max() < 1e-5


def test_uses_follow_the_standing_revision(demo: Demo, owner: Client) -> None:
    def used() -> set[str]:
        return {use.used.name for use in demo.scene.uses.select_related("used")}

    assert used() == {"Odo", "Stand", "Amble", "Hurry", *OTHERS}
    edit(owner, demo, {"kind": "delete_stints", "stints": ["hurry"]}, 1)
    assert used() == {"Odo", "Stand", "Amble", *OTHERS}
    owner.post(f"{demo.url}/undo", {"base_revision": 2}, content_type="application/json")
    assert used() == {"Odo", "Stand", "Amble", "Hurry", *OTHERS}


def test_a_clip_pack_shows_one_round(demo: Demo, owner: Client) -> None:
    amble = demo.document("clip", "Amble")
    shown = positions(owner.get(f"/api/clips/{amble.pk}/frames?most=6").content, "figure")
    playable = shelf.clip_of(amble)
    expected = forward(
        core_demo().figures["odo"], playable.at(source(np.arange(0, 24, 4)))
    ).positions
    assert np.abs(shown - expected).max() < 1e-5


def test_an_edit_sent_twice_is_made_once(demo: Demo, owner: Client) -> None:
    first = edit(owner, demo, REPEAT, 1, token="one")
    again = edit(owner, demo, REPEAT, 1, token="one")
    assert (first.status_code, again.status_code) == (200, 200)
    assert again.json()["label"] == "Repeat Stand"
    assert again.json()["scene"]["revision"] == 2
    assert demo.scene.revisions.count() == 2
    assert edit(owner, demo, MOVE, 1, token="two").status_code == 409
