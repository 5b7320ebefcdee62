"""Joins through the API: read-outs, where to join, both poses, and the check strips."""

import json
from typing import Any

import numpy as np
import pytest
from django.test import Client

from demo.production import demo as core_demo
from elastic_core.scene.join_report import join_report

from .conftest import Demo, edit

CUT = {"kind": "set_join", "stint": "hurry", "length_frames": 0}


def post(client: Client, demo: Demo, route: str, body: dict[str, Any]) -> Any:
    return client.post(f"{demo.url}/{route}", body, content_type="application/json")


def unpacked(data: bytes) -> tuple[dict[str, np.ndarray], dict[str, str]]:
    length = int.from_bytes(data[:8], "little")
    header = json.loads(data[8 : 8 + length])
    metadata = header.pop("__metadata__")
    kinds = {"F32": "<f4", "U8": "u1", "I32": "<i4"}
    arrays = {}
    for name, entry in header.items():
        start, end = (8 + length + at for at in entry["data_offsets"])
        arrays[name] = np.frombuffer(data[start:end], dtype=kinds[entry["dtype"]]).reshape(
            entry["shape"]
        )
    return arrays, metadata


def test_a_join_is_told_as_the_core_measures_it(demo: Demo, owner: Client) -> None:
    told = post(owner, demo, "join", {"stint": "hurry"}).json()
    known = core_demo()
    report = join_report(known.scene, known.material, "hurry")
    assert told["jump"]["amount"] == pytest.approx(report.jump.amount, abs=1e-6)
    assert told["jump"]["joint"] == report.jump.joint
    assert (told["start"], told["end"]) == (162, 170)
    assert told["slide"]["amount"] < 0.5
    # As it would be after an edit: a hard cut jumps.
    cut = post(owner, demo, "join", {"stint": "hurry", "edit": CUT}).json()
    assert cut["jump"]["amount"] > 20
    assert demo.scene.revisions.count() == 1


def test_the_map_holds_every_pair_and_rings_the_lowest(demo: Demo, owner: Client) -> None:
    arrays, told = unpacked(post(owner, demo, "join-map", {"stint": "hurry"}).content)
    rows, columns = arrays["out_frames"], arrays["in_frames"]
    assert arrays["score"].shape == (24, 16) == (len(rows), len(columns))
    assert (arrays["out_feet"].shape, arrays["in_feet"].shape) == ((24, 2), (16, 2))
    best = json.loads(told["best"])
    place = np.unravel_index(arrays["score"].argmin(), arrays["score"].shape)
    assert (rows[place[0]], columns[place[1]]) == (best[0]["at"], best[0]["in_frame"])
    assert best[0]["score_cm"] == pytest.approx(arrays["score"].min(), abs=1e-4)
    assert best[0]["planted"] == "left"
    # The demo is joined there already.
    assert json.loads(told["now"]) == {"at": 166.0, "in_frame": 3.0}


def test_both_poses_stand_on_the_planted_foot(demo: Demo, owner: Client) -> None:
    wanted = {"stint": "hurry", "at": 166, "in_frame": 3, "plant": "left"}
    arrays, _ = unpacked(post(owner, demo, "join-pair", wanted).content)
    both = arrays["odo/positions"]
    assert both.shape[:2] == (2, 20)
    names = core_demo().figures["odo"].names
    toe = names.index("l_toe")
    assert np.abs(both[0, toe, [0, 2]] - both[1, toe, [0, 2]]).max() < 1e-5
    aside = unpacked(post(owner, demo, "join-pair", wanted | {"plant": "none"}).content)[0]
    roots = aside["odo/travel"]
    assert np.abs(roots[0] - roots[1]).max() < 1e-5


def test_strips_are_empty_until_something_is_off(demo: Demo, owner: Client) -> None:
    whole = {"start": 0, "end": 2048}
    clean = post(owner, demo, "checks", whole).json()
    assert [lane["lane"] for lane in clean] == ["odo-body", "gull-body", "capstan-body"]
    assert all(lane["marks"] == [] for lane in clean)
    assert edit(owner, demo, CUT, 1).status_code == 200
    marks = post(owner, demo, "checks", whole).json()[0]["marks"]
    assert {mark["kind"] for mark in marks} >= {"jump"}
    assert all(158 <= mark["frame"] <= 172 for mark in marks)
    # Of the part that is asked for, and as it was before.
    assert post(owner, demo, "checks", {"start": 0, "end": 100}).json()[0]["marks"] == []
    before = post(owner, demo, "checks", whole | {"revision": 1}).json()
    assert before[0]["marks"] == []


def test_what_is_no_join_says_so(demo: Demo, owner: Client) -> None:
    for stint, says in (
        ("stand-1", "Nothing hands over to that stint: there is a gap before it."),
        ("gone", "That stint is no longer in the scene."),
    ):
        for route in ("join", "join-map"):
            answer = post(owner, demo, route, {"stint": stint})
            assert (answer.status_code, answer.json()["message"]) == (422, says)
    far = post(owner, demo, "checks", {"start": 0, "end": 5000})
    assert far.status_code == 200


def test_a_clip_is_laid_next_to_a_stint_in_one_step(demo: Demo, owner: Client) -> None:
    startle = str(demo.document("clip", "Startle").pk)
    lay = {
        "kind": "lay_next",
        "stint": "startled",
        "source": {"kind": "clip", "id": startle},
        "after": "look-back",
    }
    done = edit(owner, demo, lay, 1).json()
    assert done["label"] == "Lay Startle next to Look back"
    lane = done["scene"]["desk"]["lanes"][0]
    names = [stint["name"] for stint in lane["stints"]]
    assert names[:4] == ["Stand", "Look back", "Startle", "Amble"]
    joins = {join["incoming"]: join for join in lane["joins"]}
    assert joins["startled"]["holds_feet"]
    told = post(owner, demo, "join", {"stint": "startled"}).json()
    assert told["slide"]["amount"] < 0.5
    back = owner.post(f"{demo.url}/undo", {"base_revision": 2}, content_type="application/json")
    assert back.json()["undo"] is None


def test_a_run_is_kept_as_a_scene_and_played_as_one_stint(demo: Demo, owner: Client) -> None:
    before = unpacked(post(owner, demo, "frames", {"start": 80, "end": 240}).content)[0]
    kept = post(owner, demo, "groups", {"stints": ["amble", "hurry"], "name": "Rounds"})
    assert kept.status_code == 201
    made = kept.json()
    inner = owner.get(f"/api/scenes/{made['scene']}").json()
    assert (inner["name"], inner["desk"]["laid_frames"]) == ("Rounds", 140)
    use = {
        "kind": "use_group",
        "stints": ["amble", "hurry"],
        "stint": "rounds",
        "source": {"kind": "scene", "id": made["scene"], "figure": made["figure"]},
    }
    done = edit(owner, demo, use, 1).json()
    assert done["label"] == "Keep 2 stints as Rounds, Odo"
    after = unpacked(post(owner, demo, "frames", {"start": 80, "end": 240}).content)[0]
    assert np.abs(after["odo/positions"] - before["odo/positions"]).max() < 1e-5
    # It follows its parts: the group's own scene is changed, and this one plays the change.
    late = {"kind": "set_join", "stint": "hurry", "shape": "late"}
    body = {"edit": late, "base_revision": 1}
    url = f"/api/scenes/{made['scene']}/edits"
    assert owner.post(url, body, content_type="application/json").status_code == 200
    live = unpacked(post(owner, demo, "frames", {"start": 80, "end": 240}).content)[0]
    assert np.abs(live["odo/positions"] - after["odo/positions"]).max() > 0.005
    between = post(owner, demo, "groups", {"stints": ["rounds", "stand-2"], "name": "No"})
    assert between.status_code == 422


def test_how_a_clip_fits_is_told_before_it_plays(demo: Demo, owner: Client) -> None:
    flap = demo.document("clip", "Flap")
    told = owner.get(f"{demo.url}/fit?figure=odo&clip={flap.pk}").json()
    assert told["figure_name"] == "Odo"
    assert set(told["dropped"]) | {
        pair["clip_joint"] for pair in told["plays"] + told["proposed"]
    } == set(core_demo().figures["gull"].names)
    place = {
        "kind": "place_stint",
        "stint": "flaps",
        "source": {"kind": "clip", "id": str(flap.pk)},
        "start": 300,
        "lane": "odo-body",
    }
    refused = edit(owner, demo, place, 1)
    assert refused.status_code == 422
    assert "moves Gull, and this lane moves Odo" in refused.json()["message"]
    mapping = {"head": "head"}
    done = edit(owner, demo, {**place, "mapping": mapping}, 1).json()
    stint = done["scene"]["desk"]["lanes"][0]["stints"][-1]
    assert stint["id"] == "flaps"
    assert set(stint["dropped"]) == set(core_demo().figures["gull"].names) - {"head"}


def test_how_a_part_of_another_scene_fits_is_by_the_figure_that_plays_it(
    demo: Demo, owner: Client
) -> None:
    url = f"{demo.url}/fit?figure=odo&group={demo.scene.pk}"
    gull = owner.get(f"{url}&part=gull").json()
    assert gull["clip_joints"] == list(core_demo().figures["gull"].names)
    assert owner.get(f"{url}&part=odo").json()["dropped"] == []
    gone = owner.get(f"{url}&part=nobody")
    assert (gone.status_code, gone.json()["message"]) == (
        422,
        "That figure is no longer in the scene.",
    )
