"""Root and body (rule 5.7): the travel and the pelvis do not drift apart unnoticed."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.cycle import LayRoot, LinkHalves, SetStride
from elastic_core.clip.edits.keys import PasteKeys, SetSpans, ShiftValues
from elastic_core.clip.new import blank, from_motion
from elastic_core.clip.playing import playable_of
from elastic_core.clip.view import bench_of
from elastic_core.clock import parse_rate
from elastic_core.curve import Key
from elastic_core.cycle.root import root_apart
from elastic_core.cycle.seam import seam_report
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.motion import Motion

DEMO = demo()
ODO = DEMO.figures["odo"]
AMBLE = Made(DEMO.clips["Amble"].clip, ODO)
RATE = parse_rate("24")


def samples(made: Made) -> Motion:
    return playable_of(made.figure, made.clip).samples


def positions(made: Made) -> np.ndarray:
    return forward(ODO, samples(made)).positions


def laid(made: Made) -> Made:
    return Made(edit_clip(made, LayRoot()).clip, ODO)


def test_how_far_they_are_apart_is_read_out() -> None:
    own = root_apart(ODO, samples(AMBLE))
    assert 0 < own.greatest_cm < 5
    shifted = {"root.x": [key.time for key in AMBLE.clip.keys["root.x"].keys]}
    aside = Made(edit_clip(AMBLE, ShiftValues(chosen=shifted, by=0.4)).clip, ODO)
    view = bench_of(aside)
    assert view.root_apart_cm == pytest.approx(40, abs=own.greatest_cm)
    sway = np.hypot(*(samples(aside).root_move - ODO.offsets[0])[:, [0, 2]].T)
    assert view.root_apart_at == int(sway.argmax())


def test_a_clip_that_plays_once_is_laid_without_a_change_to_the_picture() -> None:
    turning = DEMO.clips["Reach and light"].samples
    strayed = Motion(
        turning.travel * 0.0, turning.root_in_world()[0], turning.rotations, turning.moves
    )
    clip = from_motion(ODO, "odo", "Strayed", RATE, strayed, "cobalt")
    made = Made(clip, ODO)
    before = root_apart(ODO, samples(made)).greatest_cm
    assert before > 1
    edited = edit_clip(made, LayRoot())
    assert edited.label == "Lay the root under the pelvis"
    assert edited.notes[-1].startswith(f"They were {before:.1f} cm apart at ")
    after = Made(edited.clip, ODO)
    assert root_apart(ODO, samples(after)).greatest_cm < 1e-6
    assert np.abs(positions(after) - positions(made)).max() < 1e-9
    with pytest.raises(Refusal, match="under the pelvis already"):
        edit_clip(after, LayRoot())


def test_a_cycle_that_stands_aside_keeps_its_keys_and_its_way() -> None:
    times = [key.time for key in AMBLE.clip.keys["root.x"].keys]
    moved = ShiftValues(chosen={"root.x": times, "root.z": times}, by=0.4)
    aside = Made(edit_clip(AMBLE, moved).clip, ODO)
    after = laid(aside)
    assert after.clip.period == AMBLE.clip.period
    assert [key.time for key in after.clip.keys["root.x"].keys] == times
    assert root_apart(ODO, samples(after)).greatest_cm < 5
    # The whole figure goes along by one step, and nothing else.
    step = positions(after) - positions(aside)
    assert np.abs(step - step[0, 0]).max() < 1e-9
    with pytest.raises(Refusal, match="already: it sways by"):
        edit_clip(after, LayRoot())


def test_a_pelvis_that_walks_away_from_its_travel_takes_it_along() -> None:
    empty = Made(blank(ODO, "odo", "Slides off", RATE, 24, is_cycle=True), ODO)
    walks = {"root.z": (Key(time=0, value=0.0), Key(time=24, value=1.2))}
    off = Made(edit_clip(empty, PasteKeys(keys=walks, frame=0)).clip, ODO)
    off = Made(edit_clip(off, SetSpans(chosen={"root.z": [0.0]}, span="even")).clip, ODO)
    assert bench_of(off).root_apart_cm == pytest.approx(120)
    assert seam_report(ODO, playable_of(ODO, off.clip)).grade == "open"
    after = laid(off)
    assert after.clip.period == pytest.approx((0, 1.2, 0))
    assert bench_of(after).root_apart_cm < 1e-6
    assert seam_report(ODO, playable_of(ODO, after.clip)).grade == "closed"
    # In the world it goes where it went, from the origin.
    went = positions(after)[:, 0] - positions(after)[0, 0]
    assert np.abs(went - (positions(off)[:, 0] - positions(off)[0, 0])).max() < 1e-9


def test_linked_halves_keep_their_root() -> None:
    linked = Made(edit_clip(AMBLE, LinkHalves(linked=True)).clip, ODO)
    with pytest.raises(Refusal, match="Unlink them"):
        edit_clip(linked, LayRoot())
    longer = Made(edit_clip(AMBLE, SetStride(metres=1.5)).clip, ODO)
    assert root_apart(ODO, samples(longer)).greatest_cm < 5
