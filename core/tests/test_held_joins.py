"""Feet held through joins, and what joins are told by (rules 5.1, 5.2 and 5.5)."""

from itertools import product

import numpy as np
import pytest
from hypothesis import event, given, settings
from hypothesis import strategies as st

from demo.production import demo
from elastic_core.anatomy import leg_length_metres, legs_of
from elastic_core.clock import Span
from elastic_core.cycle.feet import steps_of_plant
from elastic_core.elastic import Elastic
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.scene.alone import alone
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.joins import HoldStintFeet, LayNext, MatchSteps, MeetStint, SetJoin
from elastic_core.scene.edits.stints import MoveCut, SplitStint
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.held import lane_plants
from elastic_core.scene.join_report import join_of, join_report
from elastic_core.scene.planted import joined_plants, plants_of
from elastic_core.scene.staging import staged_with

DEMO = demo()
ODO, MATERIAL = DEMO.figures["odo"], DEMO.material
HIS = ["Stand", "Amble", "Hurry", "Reach and light", "Startle", "Look back"]


def scene_of(*stints: Stint, frames: int = 400) -> Scene:
    return Scene(
        name="Test",
        rate="24",
        laid_frames=frames,
        played_frames=frames,
        figures=(SceneFigure(id="o", name="Odo", figure="odo"),),
        lanes=(Lane(id="l", name="Body", target=BodyTarget(figure="o"), stints=stints),),
    )


def stint(name: str, clip: str, start: float, length: float, **more: object) -> Stint:
    return Stint.model_validate(
        {
            "id": name,
            "source": ClipSource(id=clip),
            "start": start,
            "length_frames": length,
            **more,
        }
    )


def pair(first: str, second: str) -> Scene:
    """One clip laid next to another; cycles go round three times."""

    def frames(clip: str) -> float:
        playable = DEMO.clips[clip]
        return playable.length_frames * (3 if playable.is_cycle else 1)

    scene = scene_of(stint("a", first, 0, frames(first)))
    lay = LayNext(stint="b", source=ClipSource(id=second), after="a")
    scene = apply_edit(scene, lay, MATERIAL).scene
    lane = scene.lanes[0]
    longer = lane.stints[1].model_copy(
        update={"length_frames": max(lane.stints[1].length_frames, 40.0)}
    )
    if not DEMO.clips[second].is_cycle:
        longer = lane.stints[1]
    stints = (lane.stints[0], longer)
    return scene.model_copy(update={"lanes": (lane.model_copy(update={"stints": stints}),)})


def motion_of(scene: Scene, frames: np.ndarray):  # type: ignore[no-untyped-def]
    return figure_motion(scene, MATERIAL, scene.figures[0], frames)


@pytest.mark.parametrize(("first", "second"), list(product(HIS, HIS)))
def test_planted_feet_stand_still_through_every_join_and_knees_bend_one_way(
    first: str, second: str
) -> None:
    """Under 2 mm on every pair of clips; legs are never stretched, and knees never flip."""
    scene = pair(first, second)
    before, after = scene.lanes[0].stints
    stage, lane = staged_with(scene, MATERIAL, scene.lanes[0])
    seen = Span(after.start - 30, before.end + 30)
    shown = alone(stage, lane, seen)
    for plant in lane_plants(lane, Span(after.start, before.end)):
        moved = {"start": plant.start - shown.first, "end": plant.end - shown.first}
        steps = steps_of_plant(ODO, shown.placed, plant.model_copy(update=moved))
        assert steps.sum() < 0.002, (plant.side, plant.start, plant.end)
    for leg in legs_of(ODO):
        hip, knee, ankle = (shown.placed.positions[:, j] for j in (leg.thigh, leg.shin, leg.foot))
        bones = np.linalg.norm(knee - hip, axis=-1) + np.linalg.norm(ankle - knee, axis=-1)
        assert np.abs(bones - leg_length_metres(ODO)).max() < 1e-6
        # The knee stands out ahead of the straight line from hip to ankle, as the pelvis looks.
        heading = shown.motion.travel[:, 2]
        ahead = np.stack([np.sin(heading), np.cos(heading)], axis=-1)
        along = np.linalg.norm(knee - hip, axis=-1, keepdims=True) / bones[:, None]
        out = (knee - hip - (ankle - hip) * along)[:, [0, 2]]
        assert (out * ahead).sum(axis=-1).min() > -0.02


def test_a_join_of_a_clip_with_itself_at_the_same_phase_changes_nothing() -> None:
    frames = np.arange(0.0, 96.0, 0.5)
    plain = motion_of(scene_of(stint("a", "Amble", 0, 120)), frames)
    again = stint("b", "Amble", 40, 80, in_frame=40, holds_join=True, shape="late")
    joined = scene_of(stint("a", "Amble", 0, 56), again)
    shown = motion_of(joined, frames)
    assert np.abs(forward(ODO, shown).positions - forward(ODO, plain).positions).max() < 1e-9
    bare = motion_of(
        scene_of(stint("a", "Amble", 0, 56), again.model_copy(update={"holds_join": False})), frames
    )
    assert np.abs(forward(ODO, bare).positions - forward(ODO, plain).positions).max() < 1e-9
    report = join_report(joined, MATERIAL, "b")
    assert report.jump.amount < 0.05
    assert report.slide.amount < 0.01


@settings(max_examples=25, deadline=None)
@given(st.integers(1, 287), st.booleans())
def test_splitting_anywhere_changes_no_frame(frame: int, holds: bool) -> None:
    scene = DEMO.scene
    name = next(
        (one.id for one in scene.lane("odo-body").stints if one.start < frame < one.end), "stand-1"
    )
    hold = HoldStintFeet(stint=name, holds=holds)
    scene = apply_edit(scene, hold, MATERIAL).scene
    try:
        split = apply_edit(scene, SplitStint(stint=name, frame=frame, new_stint="n"), MATERIAL)
    except Refusal:
        # Inside a join, or so near to one that a part would lie wholly in it.
        joins = [(a.end, b.start) for a, b in scene.lane("odo-body").neighbours()]
        near = any(start - 1 <= frame <= end + 1 for end, start in joins)
        edge = frame in (scene.find(name)[1].start, scene.find(name)[1].end)
        event(f"refused near a join: {near or edge}")
        return
    frames = np.arange(288.0)
    before, after = (motion_of(one, frames) for one in (scene, split.scene))
    assert np.abs(before.rotations - after.rotations).max() < 1e-7
    assert np.abs(before.travel - after.travel).max() < 1e-9


def test_a_frame_comes_out_the_same_whichever_others_are_asked_for() -> None:
    whole = motion_of(DEMO.scene, np.arange(288.0))
    for start in range(0, 288, 7):
        part = motion_of(DEMO.scene, np.arange(float(start), min(288.0, start + 7.0)))
        assert np.abs(part.rotations - whole.rotations[start : start + 7]).max() < 1e-9
        assert np.abs(part.root_move - whole.root_move[start : start + 7]).max() < 1e-9
    # Between two frames it lies between them.
    halves = motion_of(DEMO.scene, np.arange(160.5, 175.5))
    knee = ODO.place_of("l_knee")
    dots = np.abs((halves.rotations[:, knee] * whole.rotations[160:175, knee]).sum(axis=-1))
    assert dots.min() > np.cos(np.radians(12))


def test_plants_of_both_become_one_and_lone_ones_get_time() -> None:
    amble, hurry = DEMO.clips["Amble"], DEMO.clips["Hurry"]
    before = stint("a", "Amble", 0, 50)
    after = stint("b", "Hurry", 40, 40, in_frame=0)
    own = [plants_of(amble, before, 1.0), plants_of(hurry, after, 1.0)]
    both = joined_plants(*own, Span(40, 50), 45.0)
    for side in ("left", "right"):
        spans = [(plant.start, plant.end) for plant in both if plant.side == side]
        assert all(a[1] < b[0] for a, b in zip(spans, spans[1:], strict=False))
    standing = [plant for plant in both if plant.start < 45 < plant.end]
    shared = {
        plant.side
        for plant in own[0]
        if plant.start <= 45 <= plant.end
        and any(other.side == plant.side and other.start <= 45 <= other.end for other in own[1])
    }
    assert {plant.side for plant in standing} == shared
    # Played backwards a plant ends where it began.
    back = before.model_copy(update={"in_frame": 50.0, "elastic": Elastic.at_pace(-1.0)})
    forwards = {(p.side, p.start, p.end) for p in plants_of(amble, before, 1.0)}
    mirrored = {(p.side, 50 - p.end, 50 - p.start) for p in plants_of(amble, back, 1.0)}
    assert {(s, round(a, 6), round(b, 6)) for s, a, b in mirrored} == {
        (s, round(a, 6), round(b, 6)) for s, a, b in forwards
    }


def test_walk_to_hurry_to_walk_over_two_steps_has_no_hop() -> None:
    """Done when 4: the root's speed rises through the one join and falls through the other."""
    scene = scene_of(stint("a", "Amble", 0, 96))
    for name, clip, after in (("h", "Hurry", "a"), ("w", "Amble", "h")):
        lay = LayNext(stint=name, source=ClipSource(id=clip), after=after)
        scene = apply_edit(scene, lay, MATERIAL).scene
        lane = scene.lanes[0]
        longer = lane.stints[-1].model_copy(update={"length_frames": 96.0})
        lane = lane.model_copy(update={"stints": (*lane.stints[:-1], longer)})
        scene = scene.model_copy(update={"lanes": (lane,)})
        # Once more in other steps, as one tries; the last counts.
        for steps in (4, 2):
            scene = apply_edit(scene, MatchSteps(stint=name, steps=steps), MATERIAL).scene
    travel = motion_of(scene, np.arange(280.0)).travel
    speed = np.diff(travel[:, 1]) * 24
    first, second = (scene.find(name)[1] for name in ("h", "w"))
    walk, run = 1.12, 1.44 * 24 / 16
    for rises, start, end in (
        (True, first.start, scene.find("a")[1].end),
        (False, second.start, first.end),
    ):
        through = speed[int(start) - 2 : int(end) + 2]
        assert through[0] == pytest.approx(walk if rises else run, rel=0.005)
        assert through[-1] == pytest.approx(run if rises else walk, rel=0.005)
        steps = np.diff(through) if rises else -np.diff(through)
        assert steps.min() > -0.03 * walk
        assert (through.min(), through.max()) == pytest.approx((walk, run), rel=0.03)
    for name in ("h", "w"):
        report = join_report(scene, MATERIAL, name)
        assert report.slide.amount < 0.5
        assert report.jump.amount < 8
    assert first.elastic.pins[0].span == "eased"


def test_what_cannot_step_together_says_why() -> None:
    scene = scene_of(stint("a", "Amble", 0, 60), stint("b", "Reach and light", 50, 60))
    with pytest.raises(Refusal, match=r"Reach and light plays once: only cycles step together."):
        apply_edit(scene, MatchSteps(stint="b", steps=2), MATERIAL)
    short = scene_of(stint("a", "Amble", 0, 60), stint("b", "Hurry", 56, 12))
    with pytest.raises(Refusal, match=r"Hurry is too short for 4 steps."):
        apply_edit(short, MatchSteps(stint="b", steps=4), MATERIAL)
    gap = scene_of(stint("a", "Amble", 0, 40), stint("b", "Hurry", 56, 60))
    with pytest.raises(Refusal, match="There is a gap in Amble to Hurry"):
        apply_edit(gap, MatchSteps(stint="b", steps=2), MATERIAL)


def test_meeting_elsewhere_brings_both_frames_together_and_what_follows_along() -> None:
    before = DEMO.scene
    meet = MeetStint(stint="hurry", at=154, in_frame=11, length_frames=10, plant="right")
    after = apply_edit(before, meet, MATERIAL).scene
    amble, hurry = (after.find(name)[1] for name in ("amble", "hurry"))
    assert (hurry.start, amble.end) == (149, 159)
    assert hurry.in_frame + 5 == 11
    assert hurry.alignment.plant == "right"
    moved = hurry.end - before.find("hurry")[1].end
    for name in ("reach", "stand-2"):
        assert after.find(name)[1].start - before.find(name)[1].start == moved
    with pytest.raises(Refusal, match=r"Reach and light has the frames 0 to 63."):
        apply_edit(before, MeetStint(stint="reach", at=220, in_frame=70), MATERIAL)
    with pytest.raises(Refusal, match="Nothing comes before Stand"):
        apply_edit(before, MeetStint(stint="stand-1", at=20, in_frame=7), MATERIAL)


def test_a_join_cut_short_jumps_and_is_told_where() -> None:
    cut = apply_edit(DEMO.scene, SetJoin(stint="reach", length_frames=0), MATERIAL).scene
    report = join_report(cut, MATERIAL, "reach")
    assert report.jump.amount > 40
    assert report.jump.frame == 215
    clean = join_report(DEMO.scene, MATERIAL, "reach")
    assert clean.jump.amount < 8
    assert clean.jump.clean == 8
    lets_go = SetJoin(stint="reach", holds_feet=False)
    slides = join_report(apply_edit(DEMO.scene, lets_go, MATERIAL).scene, MATERIAL, "reach")
    assert slides.slide.amount > 2
    with pytest.raises(Refusal, match="there is a gap before it"):
        join_of(DEMO.scene, MATERIAL, "stand-1")


def test_moving_the_cut_carries_the_phase_on() -> None:
    """Rule 5.1: every pose keeps its frame, so that nothing drifts when a cut is moved."""
    moved = apply_edit(DEMO.scene, MoveCut(stint="hurry", frame=178), MATERIAL).scene
    hurry, was = moved.find("hurry")[1], DEMO.scene.find("hurry")[1]
    assert hurry.start == 178
    assert hurry.in_frame - was.in_frame == 16
    assert hurry.end == was.end
