"""Exposure on a scene, a lane, a stint and some joints (rules 1.8 and 1.9), to the bit."""

from fractions import Fraction

import numpy as np
import pytest

from elastic_core.arrays import Array
from elastic_core.errors import Refusal
from elastic_core.exposure import Exposure
from elastic_core.motion import Motion
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.elastics import SlowRange
from elastic_core.scene.edits.exposures import Expose
from elastic_core.scene.evaluate import figure_motion

from .motions import material, once_clip, scene_of, turning_cycle

MATERIAL = material(turning_cycle(length=20), once_clip(100))
WALK = Stint(id="walk", source=ClipSource(id="Round"), start=0, length_frames=60)
AFTER = Stint(id="after", source=ClipSource(id="Reach"), start=53, length_frames=100)
SCENE = scene_of([WALK, AFTER])
EVERY = np.arange(200.0)


def edited(scene: Scene, *edits: SceneEdit) -> Scene:
    for edit in edits:
        scene = apply_edit(scene, edit, MATERIAL).scene
    return scene


def motion(scene: Scene, frames: Array = EVERY, figure: int = 0) -> Motion:
    return figure_motion(scene, MATERIAL, scene.figures[figure], frames)


def equal(a: Motion, b: Motion) -> bool:
    return bool(
        np.array_equal(a.rotations, b.rotations)
        and np.array_equal(a.travel, b.travel)
        and np.array_equal(a.root_move, b.root_move)
    )


def test_a_lane_on_twos_holds_each_pose_bit_for_bit() -> None:
    twos = edited(SCENE, Expose(lane="lane", pattern=(2,)))
    assert equal(motion(twos), motion(SCENE, 2 * np.floor(EVERY / 2)))
    pattern = edited(SCENE, Expose(lane="lane", pattern=(2, 2, 3, 1), anchor=4))
    shown = motion(pattern, np.arange(4.0, 20))
    first = np.array([4, 4, 6, 6, 8, 8, 8, 11, 12, 12, 14, 14, 16, 16, 16, 19.0])
    assert equal(shown, motion(SCENE, first))


def test_two_figures_of_one_scene_each_on_their_own() -> None:
    other = SceneFigure(id="m", name="Mate", figure="keeper")
    lane = Lane(id="second", name="Body", target=BodyTarget(figure="m"), stints=(
        WALK.model_copy(update={"id": "own"}),
    ))  # fmt: skip
    both = SCENE.model_copy(
        update={"figures": (*SCENE.figures, other), "lanes": (*SCENE.lanes, lane)}
    )
    set_both = edited(both, Expose(lane="lane", pattern=(2,)), Expose(lane="second", pattern=(3,)))
    frames = np.arange(48.0)
    assert equal(motion(set_both, frames), motion(both, 2 * np.floor(frames / 2)))
    assert equal(motion(set_both, frames, 1), motion(both, 3 * np.floor(frames / 3), 1))
    whole = edited(both, Expose(pattern=(4,)), Expose(lane="second", pattern=(1,)))
    assert equal(motion(whole, frames), motion(both, 4 * np.floor(frames / 4)))
    assert equal(motion(whole, frames, 1), motion(both, frames, 1))


def test_a_stint_on_threes_counts_from_its_own_start() -> None:
    threes = edited(SCENE, Expose(stint="after", pattern=(3,)))
    shown = np.where(EVERY >= 53, 53 + 3 * np.floor((EVERY - 53) / 3), EVERY)
    # What is held when the stint ends is the lane's own again.
    shown = np.where(EVERY >= 153, EVERY, shown)
    assert equal(motion(threes), motion(SCENE, shown))


def test_an_arm_on_threes_and_the_body_on_twos() -> None:
    scene = edited(
        SCENE,
        Expose(lane="lane", pattern=(2,)),
        Expose(lane="lane", joints=("head", "spine"), pattern=(3,)),
    )
    twos, threes = motion(SCENE, 2 * np.floor(EVERY / 2)), motion(SCENE, 3 * np.floor(EVERY / 3))
    found = motion(scene)
    names = list(MATERIAL.figure("keeper").names)
    for joint, name in enumerate(names):
        own = threes if name in ("head", "spine") else twos
        assert np.array_equal(found.rotations[:, joint], own.rotations[:, joint])
    assert np.array_equal(found.travel, twos.travel)
    alone = edited(scene, Expose(lane="lane", joints=("head",)))
    assert alone.lanes[0].joint_exposures[0].joints == ("spine",)


def test_exposure_is_of_what_plays_and_leaves_the_pace_alone() -> None:
    """Rule 1.9: exposure first, then the scene's elastic: slow motion on twos is on twos."""
    slow = edited(SCENE, SlowRange(start=40, end=60, pace=0.5))
    twos = edited(slow, Expose(lane="lane", pattern=(2,)))
    frames = np.arange(220.0)
    assert equal(motion(twos, frames), motion(slow, 2 * np.floor(frames / 2)))
    desk = desk_of(twos, MATERIAL)
    holds = np.array(desk.lanes[0].holds)
    # Two frames of the lane apart outside, one inside: half as much goes by.
    assert np.diff(holds[:20]).tolist() == [2] * 19
    assert np.diff(holds[21:39]).tolist() == [1] * 17
    assert desk.laid is not None
    assert desk.laid[40:44] == [40, 40.5, 41, 41.5]


def test_a_lane_over_others_goes_by_the_one_under_it() -> None:
    over = Lane(id="over", name="Reach", target=BodyTarget(figure="k"), mask=("head",), stints=(
        AFTER.model_copy(update={"id": "reach", "start": 10}),
    ))  # fmt: skip
    scene = SCENE.model_copy(update={"lanes": (over, *SCENE.lanes)})
    twos = edited(scene, Expose(lane="lane", pattern=(2,)))
    assert equal(motion(twos), motion(scene, 2 * np.floor(EVERY / 2)))
    ones = edited(twos, Expose(lane="over", pattern=(1,)))
    head = MATERIAL.figure("keeper").place_of("head")
    frames = np.arange(10.0, 60)
    found, plain = motion(ones, frames), motion(scene, frames)
    assert np.array_equal(found.rotations[:, head], plain.rotations[:, head])
    assert np.array_equal(found.travel, motion(scene, 2 * np.floor(frames / 2)).travel)


def test_drawings_a_second_as_evenly_as_whole_frames_allow() -> None:
    def pattern(a_second: float, rate: int = 24) -> tuple[int, ...]:
        return Exposure.of_drawings(Fraction(str(a_second)), Fraction(rate)).pattern

    assert pattern(12) == (2,)
    assert pattern(8) == (3,)
    assert pattern(10) == (2, 2, 3, 2, 3)
    assert sum(pattern(7.5)) / len(pattern(7.5)) == pytest.approx(3.2)
    with pytest.raises(Refusal, match="24 frames a second, so no more drawings"):
        pattern(30)
    done = apply_edit(SCENE, Expose(lane="lane", drawings_a_second="12"), MATERIAL)
    assert done.label == "Keeper, Body: on twos"
    assert done.scene.lanes[0].exposure == Exposure(pattern=(2,))
    with pytest.raises(Refusal, match="not both"):
        edited(SCENE, Expose(lane="lane", pattern=(2,), drawings_a_second="12"))
    with pytest.raises(Refusal, match="on which lane"):
        edited(SCENE, Expose(joints=("head",), pattern=(2,)))
