"""Scenes into frames (rules 1.9, 5.1 to 5.3, 4.4)."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elastic_core import ground, rotation
from elastic_core.elastic import Elastic, Pin
from elastic_core.exposure import Exposure
from elastic_core.figure import forward
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.document import Stint
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.stints import SplitStint
from elastic_core.scene.evaluate import figure_motion, frames_of
from elastic_core.scene.join import shaped
from elastic_core.scene.staging import placements_of

from .motions import material, once_clip, scene_of, small_figure, turning_cycle

ROUND, REACH = turning_cycle(length=20), once_clip(30)
MATERIAL = material(ROUND, REACH)
FRAMES = np.arange(200.0)


def motion_of(scene, frames=FRAMES):  # type: ignore[no-untyped-def]
    return figure_motion(scene, MATERIAL, scene.figures[0], frames)


def test_a_cycle_drawn_long_goes_round_without_a_hitch() -> None:
    scene = scene_of([Stint(id="a", source=ClipSource(id="Round"), start=0, length_frames=200)])
    motion = motion_of(scene)
    assert np.array_equal(motion.rotations[::20], np.repeat(motion.rotations[:1], 10, axis=0))
    step = ground.compose(ground.inverse(motion.travel[:-1]), motion.travel[1:])
    assert np.ptp(step, axis=0).max() < 1e-9


def test_the_first_stint_starts_from_the_mark() -> None:
    scene = scene_of([Stint(id="a", source=ClipSource(id="Round"), start=30, length_frames=40)])
    assert motion_of(scene).travel[30] == pytest.approx([1.0, -2.0, 0.7])


def test_a_chained_stint_carries_position_and_heading_on() -> None:
    stints = [
        Stint(id="a", source=ClipSource(id="Round"), start=0, length_frames=50),
        Stint(id="b", source=ClipSource(id="Reach"), start=50, length_frames=30),
        Stint(id="c", source=ClipSource(id="Round"), start=74, length_frames=60, in_frame=7),
    ]
    scene = scene_of(stints)
    motion = motion_of(scene)
    # At a cut the incoming clip begins where the outgoing one would have been.
    alone = motion_of(
        scene_of(stints[:1] and [stints[0].model_copy(update={"length_frames": 60.0})])
    )
    assert motion.travel[50] == pytest.approx(alone.travel[50], abs=1e-9)
    # In an overlap the two roots meet in its middle.
    placed = placements_of(scene, MATERIAL, scene.lanes[0])
    out = ground.compose(placed[1], REACH.travel_at(np.array([27.0]))[0])
    into = ground.compose(placed[2], ROUND.travel_at(np.array([10.0]))[0])
    assert into == pytest.approx(out, abs=1e-9)


def test_an_earlier_edit_carries_later_stints_along_but_not_a_nailed_one() -> None:
    chained = [
        Stint(id="a", source=ClipSource(id="Round"), start=0, length_frames=40),
        Stint(id="b", source=ClipSource(id="Reach"), start=40, length_frames=30),
    ]
    longer = [chained[0].model_copy(update={"elastic": Elastic.at_pace(0.5)}), chained[1]]
    moved = motion_of(scene_of(chained)).travel[60], motion_of(scene_of(longer)).travel[60]
    assert np.abs(moved[0] - moved[1]).max() > 0.01
    nailed = [chained[0], chained[1].model_copy(update={"nailed": (4.0, 5.0, 0.0)})]
    still = [longer[0], nailed[1]]
    assert motion_of(scene_of(nailed)).travel[60] == pytest.approx(
        motion_of(scene_of(still)).travel[60]
    )


def test_a_join_hands_over_from_nothing_to_all() -> None:
    stints = [
        Stint(id="a", source=ClipSource(id="Round"), start=0, length_frames=60),
        Stint(id="b", source=ClipSource(id="Reach"), start=48, length_frames=30, shape="even"),
    ]
    scene = scene_of(stints)
    motion = motion_of(scene)
    placed = placements_of(scene, MATERIAL, scene.lanes[0])
    out = ROUND.at(FRAMES[48:60]).moved(placed[0])
    into = REACH.at(np.arange(12.0)).moved(placed[1])
    for k, weight in enumerate(np.arange(12) / 12):
        expected = rotation.slerp(out.rotations[k], into.rotations[k], np.array(weight))
        assert rotation.angle_between(motion.rotations[48 + k], expected).max() < 1e-7
        expected_place = out.travel[k, :2] + weight * (into.travel[k, :2] - out.travel[k, :2])
        assert motion.travel[48 + k, :2] == pytest.approx(expected_place)
    assert np.allclose(motion.rotations[60], REACH.samples.rotations[12])


@pytest.mark.parametrize("shape", ["even", "smooth", "early", "late"])
def test_join_shapes_rise_from_0_to_1(shape: str) -> None:
    weights = shaped(np.linspace(0, 1, 101), shape)  # type: ignore[arg-type]
    assert weights[[0, -1]].tolist() == [0, 1]
    assert np.diff(weights).min() >= 0
    middle = {"even": 0.5, "smooth": 0.5, "early": 0.875, "late": 0.125}[shape]
    assert weights[50] == pytest.approx(middle)


def test_gap_rules() -> None:
    stints = [
        Stint(id="a", source=ClipSource(id="Reach"), start=10, length_frames=30),
        Stint(id="b", source=ClipSource(id="Round"), start=60, length_frames=40),
    ]
    holds = motion_of(scene_of(stints, gap="hold"))
    assert np.array_equal(holds.rotations[50], holds.rotations[39])
    assert np.array_equal(holds.travel[50], holds.travel[39])
    assert np.array_equal(holds.rotations[150], holds.rotations[99])
    waits = motion_of(scene_of(stints, gap="wait"))
    assert np.array_equal(waits.rotations[50], waits.rotations[60])
    assert np.array_equal(waits.travel[50], waits.travel[60])
    rests = motion_of(scene_of(stints, gap="rest"))
    assert np.array_equal(rests.rotations[50], np.tile(rotation.IDENTITY, (5, 1)))
    assert rests.travel[50] == pytest.approx(holds.travel[39])
    assert np.array_equal(rests.rotations[0], rests.rotations[50])
    for motion in (holds, waits):
        assert np.array_equal(motion.rotations[0], motion.rotations[10])


def test_the_order_of_time() -> None:
    """Rule 1.9: exposure, scene elastic, stint elastic, cycle wrap, sample."""
    twice = Elastic(pins=(Pin(played=0, source=0), Pin(played=10, source=20)))
    stint = Stint(
        id="a", source=ClipSource(id="Round"), start=6, length_frames=400, in_frame=3, elastic=twice
    )
    slow = Elastic(pins=(Pin(played=0, source=4), Pin(played=10, source=9)))
    scene = scene_of([stint]).model_copy(
        update={"exposure": Exposure(pattern=(2,)), "elastic": slow}
    )
    shown = motion_of(scene, np.array([10.0, 11, 30]))
    # Frame 11 is held at 10; the scene shows its 9th frame there; 3 of the stint's, twice: 6.
    expected = ROUND.at(np.array([9.0, 9.0, 3 + 2 * (19 - 6)]))
    assert np.array_equal(shown.rotations[0], shown.rotations[1])
    assert rotation.angle_between(shown.rotations, expected.rotations).max() < 1e-7


def test_a_clip_of_another_rate_plays_at_its_own_speed() -> None:
    fast = once_clip(121, name="Fast", rate="120")
    scene = scene_of([Stint(id="a", source=ClipSource(id="Fast"), start=0, length_frames=24)])
    motion = figure_motion(scene, material(fast), scene.figures[0], np.arange(24.0))
    assert np.array_equal(motion.rotations, fast.samples.rotations[0:120:5])


@settings(max_examples=60)
@given(
    at=st.integers(1, 119),
    pace=st.sampled_from([0.5, 1.0, 1.37]),
    in_frame=st.floats(-30, 30),
    clip=st.sampled_from(["Round", "Reach"]),
)
def test_splitting_a_stint_changes_no_pose(
    at: int, pace: float, in_frame: float, clip: str
) -> None:
    stint = Stint(
        id="a",
        source=ClipSource(id=clip),
        start=20,
        length_frames=120,
        in_frame=in_frame,
        elastic=Elastic.at_pace(pace),
    )
    scene = scene_of([stint])
    split = apply_edit(scene, SplitStint(stint="a", frame=20 + at, new_stint="b"), MATERIAL).scene
    assert len(split.lanes[0].stints) == 2
    before, after = motion_of(scene), motion_of(split)
    figure = small_figure()
    difference = forward(figure, before).positions - forward(figure, after).positions
    assert np.abs(difference).max() < 1e-9


def test_a_figure_without_a_stint_stands_at_rest_on_its_mark() -> None:
    scene = scene_of([])
    shown = frames_of(scene, MATERIAL, np.arange(3.0))[0]
    assert shown.placed.positions[2, 0] == pytest.approx([1.0, 0.9, -2.0])
    assert np.array_equal(shown.motion.rotations[1], np.tile(rotation.IDENTITY, (5, 1)))
