"""Lanes that lie over each other, muted and soloed (rule 5.6), and what is done with them."""

import numpy as np

from elastic_core.motion import Motion
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Lane, Scene, Stint
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.lanes import AddLane, MoveLane, RemoveLane, SetLane
from elastic_core.scene.evaluate import figure_motion

from .motions import material, once_clip, scene_of, turning_cycle

MATERIAL = material(turning_cycle(length=20), once_clip(30))
FRAMES = np.arange(80.0)
UNDER = Stint(id="under", source=ClipSource(id="Round"), start=0, length_frames=80)
OVER = Stint(id="over", source=ClipSource(id="Reach"), start=30, length_frames=30)


def two_lanes() -> Scene:
    scene = scene_of([UNDER], length=80)
    over = Lane(id="over", name="Over", target=BodyTarget(figure="k"), stints=(OVER,))
    return scene.model_copy(update={"lanes": (over, *scene.lanes)})


def motion(scene: Scene) -> Motion:
    return figure_motion(scene, MATERIAL, scene.figures[0], FRAMES)


def test_the_upper_lane_plays_where_it_has_a_stint_and_the_lower_elsewhere() -> None:
    both, below = motion(two_lanes()), motion(scene_of([UNDER], length=80))
    inside = (FRAMES >= 30) & (FRAMES < 60)
    assert np.array_equal(both.rotations[~inside], below.rotations[~inside])
    assert np.array_equal(both.travel[~inside], below.travel[~inside])
    alone = motion(scene_of([OVER], length=80))
    assert np.array_equal(both.rotations[inside], alone.rotations[inside])
    # It starts where the figure stands below it.
    assert np.allclose(both.travel[30], below.travel[30], atol=1e-12)


def test_a_muted_lane_does_not_play_and_a_soloed_one_plays_alone() -> None:
    scene = two_lanes()
    muted = apply_edit(scene, SetLane(lane="over", muted=True), MATERIAL).scene
    assert np.array_equal(motion(muted).rotations, motion(scene_of([UNDER], 80)).rotations)
    soloed = apply_edit(scene, SetLane(lane="over", soloed=True), MATERIAL).scene
    assert np.array_equal(motion(soloed).rotations, motion(scene_of([OVER], 80)).rotations)
    # Solo outweighs mute.
    both = apply_edit(soloed, SetLane(lane="over", muted=True), MATERIAL).scene
    assert np.array_equal(motion(both).rotations, motion(soloed).rotations)
    none = apply_edit(muted, SetLane(lane="lane", muted=True), MATERIAL).scene
    assert np.ptp(motion(none).travel, axis=0).max() == 0


def test_lanes_are_added_over_their_figures_others_and_moved() -> None:
    scene = scene_of([UNDER], length=80)
    added = apply_edit(scene, AddLane(figure="k"), MATERIAL)
    assert [lane.name for lane in added.scene.lanes] == ["Over Body", "Body"]
    assert added.label == "Add a lane to Keeper"
    moved = apply_edit(added.scene, MoveLane(lane="lane-1", place=5), MATERIAL).scene
    assert [lane.id for lane in moved.lanes] == ["lane", "lane-1"]
    assert [row.lies_over for row in desk_of(moved, MATERIAL).lanes] == [True, False]
    gone = apply_edit(moved, RemoveLane(lane="lane"), MATERIAL)
    assert gone.notes == ("1 stint went with it.",)
    assert [lane.id for lane in gone.scene.lanes] == ["lane-1"]


def test_every_change_of_a_lane_has_a_name() -> None:
    scene = two_lanes()
    for edit, label in (
        (SetLane(lane="lane", name="Walk"), "Rename the lane Body to Walk"),
        (SetLane(lane="lane", colour="rose"), "Keeper, Body: colour"),
        (SetLane(lane="lane", gap="wait"), "Keeper, Body: wait in gaps"),
        (SetLane(lane="lane", muted=True), "Keeper, Body: mute"),
        (SetLane(lane="lane", locked=True), "Keeper, Body: lock"),
        (SetLane(lane="lane", folded=True), "Keeper, Body: fold"),
        (MoveLane(lane="lane", place=0), "Move the lane Body"),
    ):
        assert apply_edit(scene, edit, MATERIAL).label == label
