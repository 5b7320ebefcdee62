"""Contacts found from motion (rule 4.5), against plants that are known."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core.anatomy import leg_length_metres, legs_of
from elastic_core.arrays import by_runs
from elastic_core.clip.playable import PlayableClip
from elastic_core.cycle.contacts import find_contacts
from elastic_core.figure import Figure
from elastic_core.motion import Motion

DEMO = demo()
ODO = DEMO.figures["odo"]


def touching(start: float, end: float, spans: list[tuple[int, int]]) -> float:
    """The share of the true plant's frames that was found, less what was found too much."""
    frames = set(range(int(np.ceil(start)), int(np.ceil(end))))
    found = {f for a, b in spans for f in range(a, b)}
    return len(frames & found) / len(frames | found)


@pytest.mark.parametrize("name", ["Amble", "Hurry", "Reach and light", "Startle", "Look back"])
def test_the_plants_that_were_made_are_found(name: str) -> None:
    clip = DEMO.clips[name]
    found = find_contacts(ODO, clip)
    for side in ("left", "right"):
        spans = [(c.start, c.end) for c in found if c.side == side]
        made = [p for p in clip.clip.plants if p.side == side]
        assert len(spans) == len(made)
        for plant, span in zip(sorted(made, key=lambda p: p.start), spans, strict=True):
            assert touching(plant.start, plant.end, [span]) > 0.7
    assert max(c.slide_cm for c in found) < 1.0


def test_a_cycle_that_stands_has_one_plant_a_foot_and_no_slide() -> None:
    found = find_contacts(ODO, DEMO.clips["Stand"])
    assert [(c.side, c.start, c.end) for c in found] == [("left", 0, 48), ("right", 0, 48)]
    assert max(c.slide_cm for c in found) < 1e-6


def slid(playable: PlayableClip, centimetres_a_frame: float) -> PlayableClip:
    """The same poses, dragged sideways over the ground."""
    samples = playable.samples
    travel = samples.travel.copy()
    travel[:, 0] += centimetres_a_frame / 100 * np.arange(samples.frames)
    clip = playable.clip.model_copy(update={"is_cycle": False, "length_frames": samples.frames})
    return PlayableClip(clip, samples.carried(by_runs(travel)))


def test_slide_is_the_ground_covered_during_a_plant() -> None:
    found = find_contacts(ODO, slid(DEMO.clips["Look back"], 0.2))
    assert [(c.start, c.end) for c in found] == [(0, 36), (0, 36)]
    assert [c.slide_cm for c in found] == pytest.approx([0.2 * 35] * 2, abs=0.01)


def test_a_foot_that_glides_is_not_planted() -> None:
    # Four centimetres a frame is nearly a metre a second.
    assert find_contacts(ODO, slid(DEMO.clips["Look back"], 4.0)) == []


def test_thresholds_grow_with_the_leg() -> None:
    tall = Figure.model_validate(
        {
            **ODO.model_dump(),
            "joints": [
                {**j.model_dump(), "offset": tuple(3 * v for v in j.offset)} for j in ODO.joints
            ],
        }
    )
    assert leg_length_metres(tall) == pytest.approx(3 * leg_length_metres(ODO))
    amble = DEMO.clips["Amble"]
    samples = amble.samples
    grown = Motion(
        samples.travel * np.array([3.0, 3.0, 1.0]), samples.root_move * 3, samples.rotations
    )
    x, z, heading = amble.clip.period
    clip = amble.clip.model_copy(update={"period": (3 * x, 3 * z, heading)})
    small = [(c.side, c.start, c.end) for c in find_contacts(ODO, amble)]
    assert [(c.side, c.start, c.end) for c in find_contacts(tall, PlayableClip(clip, grown))] == (
        small
    )


def test_legs_are_found_by_shape_where_names_say_nothing() -> None:
    renamed = [
        {**j.model_dump(), "name": f"n{k}", "side": "middle", "mirror": None}
        for k, j in enumerate(ODO.joints)
    ]
    nameless = Figure.model_validate({"name": "Nameless", "joints": renamed})
    by_name = [(leg.side, leg.thigh, leg.shin, leg.foot, leg.toe) for leg in legs_of(ODO)]
    assert [(g.side, g.thigh, g.shin, g.foot, g.toe) for g in legs_of(nameless)] == by_name


def test_a_single_pose_has_no_plants() -> None:
    amble = DEMO.clips["Amble"]
    clip = amble.clip.model_copy(update={"is_cycle": False, "length_frames": 1})
    still = PlayableClip(clip, amble.samples.at(np.zeros(1, dtype=np.intp)))
    assert find_contacts(ODO, still) == []
