"""The pace of a path over the ground, apart from the body (rule 5.7)."""

import numpy as np
import pytest

from elastic_core.clock import Span
from elastic_core.errors import Refusal
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.document import Scene, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.travelling import SlowTravel, StraightenTravel
from elastic_core.scene.evaluate import figure_motion, frames_of
from elastic_core.scene.retimed import strands_of_stint
from elastic_core.scene.travelling import slowed_path

from .motions import material, once_clip, scene_of, turning_cycle

MATERIAL = material(turning_cycle(length=20, turn_degrees=0.0), once_clip(90))
# What goes on for 90 frames over a curved path: a slide, overdriven.
SLIDE = Stint(id="slide", source=ClipSource(id="Reach"), start=0, length_frames=90, stride=2.0)
SCENE = scene_of([SLIDE], length=90)
EVERY = np.arange(90.0)
SLOW = SlowTravel(stint="slide", start=30, end=60, pace=0.25, ramp_frames=4)


def edited(scene: Scene, *edits: SceneEdit) -> Scene:
    for edit in edits:
        scene = apply_edit(scene, edit, MATERIAL).scene
    return scene


def speed(scene: Scene) -> np.ndarray:
    travel = figure_motion(scene, MATERIAL, SCENE.figures[0], EVERY).travel
    return np.asarray(np.hypot(*np.diff(travel[:, :2], axis=0).T))


def test_the_middle_third_is_slowed_and_both_ends_stay() -> None:
    done = apply_edit(SCENE, SLOW, MATERIAL)
    assert done.label == "Travel of Reach at 25 %, 31 to 60"
    slow, plain = speed(done.scene), speed(SCENE)
    assert slow[36:54] == pytest.approx(0.25 * plain[36:54], rel=0.05)
    ends = figure_motion(done.scene, MATERIAL, SCENE.figures[0], EVERY[[0, 89]])
    were = figure_motion(SCENE, MATERIAL, SCENE.figures[0], EVERY[[0, 89]])
    assert np.abs(ends.travel - were.travel).max() < 1e-9
    # The rest makes up for it at one pace: (89 − 26 × 0.25) / 63.
    factor = (89 - 26 * 0.25) / 63
    assert slow[5:25].sum() / plain[5:25].sum() == pytest.approx(factor, rel=0.05)


def test_root_and_pelvis_stay_together_and_the_body_goes_on_as_it_did() -> None:
    scene = edited(SCENE, SLOW)
    now, was = (frames_of(one, MATERIAL, EVERY)[0] for one in (scene, SCENE))
    assert np.array_equal(now.motion.rotations, was.motion.rotations)
    assert np.array_equal(now.motion.root_move, was.motion.root_move)
    # Where the pelvis is from its path, seen from above, is where it was, turned with the path.
    for shown in (now, was):
        apart = shown.placed.positions[:, 0][:, [0, 2]] - shown.motion.travel[:, :2]
        own = np.hypot(*shown.motion.root_move[:, [0, 2]].T)
        assert np.abs(np.hypot(*apart.T) - own).max() < 1e-3


def test_without_keeping_its_ends_it_covers_less_ground() -> None:
    scene = edited(SCENE, SLOW.model_copy(update={"keeps_ends": False}))
    slow, plain = speed(scene), speed(SCENE)
    assert slow[:29] == pytest.approx(plain[:29])
    assert slow.sum() < 0.8 * plain.sum()
    back = edited(scene, StraightenTravel(stint="slide"))
    assert back == SCENE


def test_the_speed_is_told_in_metres_a_second() -> None:
    found = strands_of_stint(SCENE, "slide", MATERIAL).speeds
    assert found is not None
    assert found[10:80] == pytest.approx(24 * speed(SCENE)[10:80], rel=0.05)
    slow = strands_of_stint(edited(SCENE, SLOW), "slide", MATERIAL).speeds
    assert slow is not None
    assert slow[45] == pytest.approx(0.25 * found[45], rel=0.05)


def test_what_cannot_be_slowed_says_so() -> None:
    with pytest.raises(Refusal, match="bent already"):
        edited(SCENE, SLOW, SLOW)
    with pytest.raises(Refusal, match="Ramps of 20 frames do not fit"):
        edited(SCENE, SLOW.model_copy(update={"ramp_frames": 20.0}))
    with pytest.raises(Refusal, match="past its end before the range is over"):
        edited(SCENE, SLOW.model_copy(update={"pace": 9.0}))
    with pytest.raises(Refusal, match="reaches out of Reach"):
        edited(SCENE, SLOW.model_copy(update={"end": 99.0}))


def test_a_path_begins_and_ends_where_it_did_whatever_the_range() -> None:
    for start, end, pace, ramp in (
        (0, 30, 0.5, 3),
        (60, 90, 0.5, 0),
        (30, 60, 0.0, 5),
        (20, 40, 1.8, 2),
    ):
        path = slowed_path(Span(0, 90), Span(start, end), pace, ramp, keeps_ends=True)
        assert path.source(np.array([-5.0, 0, 90, 95])) == pytest.approx([-5, 0, 90, 95])
        assert float(path.slope(np.array((start + end) / 2))) == pytest.approx(pace, abs=1e-12)
        assert (np.diff(path.source(np.linspace(0, 90, 400))) >= -1e-12).all()
