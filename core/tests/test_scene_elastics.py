"""Elastics of stints and of the scene, by edits (rules 1.3 to 1.9)."""

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.beats import Beat
from elastic_core.clip.playing import playable_of
from elastic_core.elastic import Elastic
from elastic_core.errors import Refusal
from elastic_core.moments import played
from elastic_core.scene.baking import baked
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.clock import clock_of
from elastic_core.scene.document import Scene, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.base import Edited
from elastic_core.scene.edits.elastics import (
    AddPin,
    HoldFrame,
    PinSource,
    RemovePin,
    SetPace,
    SetPin,
    SlowRange,
    Straighten,
    TurnRound,
    UseBake,
)
from elastic_core.scene.edits.lanes import SetLane
from elastic_core.scene.edits.stints import SplitStint
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.retimed import retimed_of
from elastic_core.scene.timing import source_at

from .motions import material, once_clip, scene_of, turning_cycle

ROUND, REACH = turning_cycle(length=20), once_clip(100)
MATERIAL = material(ROUND, REACH)
WALK = Stint(id="walk", source=ClipSource(id="Round"), start=10, length_frames=60, in_frame=45)
AFTER = Stint(id="after", source=ClipSource(id="Reach"), start=70, length_frames=100)
BEAT = Beat(id="beat", name="Hears it", start=60, end=80)
SCENE = scene_of([WALK, AFTER]).model_copy(update={"beats": (BEAT,)})


def edited(scene: Scene, *edits: SceneEdit) -> Edited:
    done = Edited(scene, "")
    for edit in edits:
        done = apply_edit(done.scene, edit, MATERIAL)
    return done


def shown(scene: Scene, stint: str, at: float) -> float:
    """The clip's frame that a stint shows, told from within its first round."""
    held = retimed_of(scene, stint, MATERIAL)
    return float(held.elastic.source(np.array(at)))


def test_a_pin_put_in_changes_no_pose_and_nothing_in_its_neighbours() -> None:
    done = edited(SCENE, AddPin(stint="walk", played=40))
    assert done.label == "Pin Round at 41"
    every = np.arange(200.0)
    before, after = (
        figure_motion(scene, MATERIAL, SCENE.figures[0], every) for scene in (SCENE, done.scene)
    )
    assert np.abs(before.rotations - after.rotations).max() < 1e-9
    assert np.abs(before.travel - after.travel).max() < 1e-9
    held = retimed_of(done.scene, "walk", MATERIAL)
    # 45 lies in the third round of 20 frames: the rulers tell it as 5.
    assert [(pin.played, pin.source) for pin in held.elastic.pins] == [(10, 5), (40, 35), (69, 64)]


def test_a_drawn_pin_moves_only_what_lies_between_its_neighbours() -> None:
    pinned = edited(SCENE, AddPin(stint="walk", played=40)).scene
    later = edited(pinned, SetPin(stint="walk", pin=1, played=50)).scene
    assert [shown(later, "walk", at) for at in (10, 50, 69)] == pytest.approx([5, 35, 64])
    assert shown(later, "walk", 30) == pytest.approx(5 + 20 * 30 / 40)
    assert later.lanes[0].stints[1] == AFTER
    rippled = edited(pinned, SetPin(stint="walk", pin=1, played=50, ripple=True)).scene
    assert shown(rippled, "walk", 79) == pytest.approx(64)
    walk, after = rippled.lanes[0].stints
    assert (walk.length_frames, after.start) == (70, 80)
    ends = edited(pinned, SetPin(stint="walk", pin=2, played=89, ripple=True)).scene
    assert [stint.start for stint in ends.lanes[0].stints] == [10, 90]
    with pytest.raises(Refusal, match="The first pin stays where Round begins"):
        edited(pinned, SetPin(stint="walk", pin=0, played=20))
    with pytest.raises(Refusal, match="That pin is no longer there"):
        edited(pinned, SetPin(stint="walk", pin=7, played=20))
    taken_out = edited(later, RemovePin(stint="walk", pin=1)).scene
    assert shown(taken_out, "walk", 30) == pytest.approx(25)


def test_source_90_plays_at_36_of_the_lane_and_never_twice() -> None:
    tie = PinSource(stint="after", source=60, played=100)
    once = edited(SCENE, tie)
    assert once.label == "Reach: 60 plays at 101"
    pins = retimed_of(once.scene, "after", MATERIAL).elastic.pins
    assert [(pin.played, pin.source) for pin in pins] == [(70, 0), (100, 60), (169, 99)]
    with pytest.raises(Refusal, match="Frame 80 cannot play before the pin at 101"):
        edited(once.scene, PinSource(stint="after", source=80, played=90))
    twice = edited(once.scene, tie).scene
    every = np.arange(70.0, 170)
    maps = [
        retimed_of(scene, "after", MATERIAL).elastic.source(every) for scene in (once.scene, twice)
    ]
    assert np.abs(maps[0] - maps[1]).max() < 1e-9


def test_slowing_a_range_of_a_stint_on_its_lane_or_on_all() -> None:
    slow = SlowRange(stint="walk", start=30, end=55, pace=0.35, ramp_frames=4)
    done = edited(SCENE, slow)
    assert done.label == "Slow Round to 35 %, 31 to 55"
    assert done.notes[0] == "25 frames play for 64 now, at 39.1 % on the average."
    walk, after = done.scene.lanes[0].stints
    assert (walk.length_frames, after.start) == (99, 109)
    assert [shown(done.scene, "walk", at) for at in (30, 94, 100)] == pytest.approx([25, 50, 56])
    assert done.scene.beats == (BEAT,)
    along = edited(SCENE, slow.model_copy(update={"all_lanes": True})).scene
    assert [(beat.start, beat.end) for beat in along.beats] == [(99, 119)]
    stays = edited(SCENE, slow.model_copy(update={"ripple": False, "pace": 0.8})).scene
    assert [stint.start for stint in stays.lanes[0].stints] == [10, 70]
    assert [shown(stays, "walk", at) for at in (10, 69)] == pytest.approx([5, 64])
    with pytest.raises(Refusal, match="reaches out of Round"):
        edited(SCENE, SlowRange(stint="walk", start=0, end=20, pace=0.5))
    with pytest.raises(Refusal, match="Say at which pace it is to play"):
        edited(SCENE, SlowRange(stint="walk", start=20, end=40))


def test_slow_motion_of_the_whole_scene_is_a_range_and_a_number() -> None:
    done = edited(SCENE, SlowRange(start=88, end=113, pace=0.35, ramp_frames=4))
    assert done.label == "Slow the scene to 35 %, 89 to 113"
    assert done.notes[1] == "The scene plays for 239 frames now."
    scene = done.scene
    assert (scene.laid_frames, scene.played_frames) == (200, 239)
    assert scene.beats == (BEAT,)
    laid = clock_of(scene, scene.lanes[0]).time(played([87.0, 88.0, 152.0, 200.0]))
    assert laid == pytest.approx([87, 88, 113, 161])
    every = figure_motion(scene, MATERIAL, scene.figures[0], np.array([0.0, 88, 152, 238]))
    plain = figure_motion(SCENE, MATERIAL, SCENE.figures[0], np.array([0.0, 88, 113, 199]))
    assert np.abs(every.rotations - plain.rotations).max() < 1e-9
    # A second one is told in the frames of the desk too, whatever plays when.
    again = edited(scene, SlowRange(start=150, end=160, pace=0.5)).scene
    assert again.played_frames == 249
    straight = edited(again, Straighten()).scene
    assert (straight.elastic, straight.played_frames) == (Elastic(), 200)


def test_a_lane_may_keep_its_own_time() -> None:
    slow = edited(SCENE, SlowRange(start=20, end=60, pace=0.5)).scene
    own = edited(slow, SetLane(lane="lane", keeps_own_time=True))
    assert own.label == "Keeper, Body: keep its own time"
    every = np.arange(200.0)
    kept = figure_motion(own.scene, MATERIAL, SCENE.figures[0], every)
    plain = figure_motion(SCENE, MATERIAL, SCENE.figures[0], every)
    assert np.array_equal(kept.rotations, plain.rotations)


def test_a_held_frame_of_the_scene_and_of_a_stint() -> None:
    held = edited(SCENE, HoldFrame(frame=100, frames=12)).scene
    assert held.played_frames == 212
    laid = held.elastic.source(np.array([99.0, 100, 105, 112, 113]))
    assert laid.tolist() == [99, 100, 100, 100, 101]
    own = edited(SCENE, HoldFrame(stint="walk", frame=30, frames=5))
    assert own.label == "Round: hold 31 for 5 frames"
    assert own.scene.lanes[0].stints[1].start == 75
    assert [shown(own.scene, "walk", at) for at in (30, 34, 35, 36)] == pytest.approx(
        [25, 25, 25, 26]
    )


def test_the_other_way_round_the_last_frame_comes_first() -> None:
    back = edited(SCENE, TurnRound(stint="after")).scene
    assert [shown(back, "after", at) for at in (70, 71, 169)] == pytest.approx([99, 98, 0])
    poses = figure_motion(back, MATERIAL, SCENE.figures[0], np.array([70.0, 169.0]))
    plain = figure_motion(SCENE, MATERIAL, SCENE.figures[0], np.array([169.0, 70.0]))
    assert np.abs(poses.rotations - plain.rotations).max() < 1e-9
    straight = edited(back, Straighten(stint="after")).scene.find("after")[1]
    assert (straight.length_frames, straight.in_frame, straight.elastic) == (100, 0, Elastic())


def test_a_level_is_drawn_and_straightened_in_one_action() -> None:
    slow = edited(SCENE, SlowRange(stint="walk", start=30, end=55, pace=0.35, ramp_frames=4)).scene
    paces = [pin.pace_after for pin in retimed_of(slow, "walk", MATERIAL).strands().pins]
    assert paces[2] == pytest.approx(0.35)
    done = edited(slow, SetPace(stint="walk", pin=2, pace=0.7, ripple=True))
    assert done.label == "Round: a stretch at 70 %"
    walk = done.scene.find("walk")[1]
    assert shown(done.scene, "walk", walk.end - 1) == pytest.approx(64)
    # 69.4 frames would do: the pace gives way until it is 69.
    assert walk.length_frames == pytest.approx(69, abs=1e-9)
    straight = edited(done.scene, Straighten(stint="walk", ripple=True)).scene
    assert straight.lanes[0].stints == (WALK.model_copy(update={"elastic": Elastic()}), AFTER)


@pytest.mark.parametrize("turned", [False, True])
def test_the_level_of_an_even_stint_stretches_it_as_a_whole(turned: bool) -> None:
    laid = edited(SCENE, TurnRound(stint="after")).scene if turned else SCENE
    way = -1 if turned else 1
    slower = edited(laid, SetPace(stint="after", pin=0, pace=0.5 * way)).scene
    after = slower.find("after")[1]
    assert (after.start, after.length_frames) == (70, 200)
    assert retimed_of(slower, "after", MATERIAL).strands().pins[0].pace_after == pytest.approx(
        0.5 * way, abs=0.01
    )
    with pytest.raises(Refusal, match="backwards"):
        edited(laid, SetPace(stint="after", pin=0, pace=-0.5 * way, ripple=True))


def test_baked_it_plays_the_same_and_its_elastic_is_straight() -> None:
    slow = edited(SCENE, SlowRange(stint="walk", start=30, end=55, pace=0.35, ramp_frames=4)).scene
    clip = baked(slow, MATERIAL, "walk", "Walk baked")
    assert (clip.length_frames, clip.is_cycle, clip.rate) == (100, False, 24)
    held = playable_of(MATERIAL.figure("keeper"), clip)
    with_bake = material(ROUND, REACH, held)
    done = apply_edit(slow, UseBake(stint="walk", clip="Walk baked"), with_bake)
    assert done.label == "Bake Round"
    stint = done.scene.find("walk")[1]
    assert (stint.elastic, stint.in_frame, stint.start) == (Elastic(), 0, 10)
    every = np.arange(209.0)
    before = figure_motion(slow, MATERIAL, SCENE.figures[0], every)
    after = figure_motion(done.scene, with_bake, SCENE.figures[0], every)
    assert np.abs(before.travel - after.travel).max() < 1e-6
    assert np.abs(before.root_move - after.root_move).max() < 1e-6
    apart = rotation.angle_between(before.rotations, after.rotations)
    assert np.degrees(apart.max()) < 1e-4
    shorter = edited(slow, SlowRange(stint="walk", start=94, end=100, pace=2)).scene
    with pytest.raises(Refusal, match="was changed since it was baked"):
        apply_edit(shorter, UseBake(stint="walk", clip="Walk baked"), with_bake)


def test_a_bent_stint_is_cut_and_keeps_its_poses() -> None:
    slow = edited(SCENE, SlowRange(stint="walk", start=30, end=55, pace=0.35, ramp_frames=4)).scene
    cut = edited(slow, SplitStint(stint="walk", frame=60, new_stint="rest")).scene
    every = np.arange(10.0, 108.0)
    poses = [
        figure_motion(scene, MATERIAL, SCENE.figures[0], every).rotations for scene in (slow, cut)
    ]
    assert np.abs(poses[0] - poses[1]).max() < 1e-9
    stint = cut.find("rest")[1]
    assert source_at(cut, ROUND, stint, 60) == pytest.approx(
        source_at(slow, ROUND, slow.find("walk")[1], 60)
    )
