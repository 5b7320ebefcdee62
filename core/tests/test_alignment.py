"""How an incoming clip is laid on the outgoing one (rule 5.3): rigid, exact, and told where feet swap."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from demo.production import demo
from elastic_core import ground
from elastic_core.clock import Span
from elastic_core.figure import forward
from elastic_core.join.alignment import (
    Alignment,
    Standing,
    aligned,
    bearing,
    feet_swapped,
    on_heels,
    standing,
)
from elastic_core.moments import source
from elastic_core.scene.checks import marks_of
from elastic_core.scene.document import Scene, Stint
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.figures import SetMark
from elastic_core.scene.edits.joins import MeetStint, NailStint, PlaceJoin, SetJoin
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.join_report import join_of, join_report
from elastic_core.scene.staging import met_at, placements_of

DEMO = demo()
ODO, MATERIAL = DEMO.figures["odo"], DEMO.material
AMBLE, HURRY = DEMO.clips["Amble"], DEMO.clips["Hurry"]
metres, turns = st.floats(-5, 5), st.floats(-3, 3)
grounds = st.tuples(metres, metres, turns).map(np.array)
feet = st.sampled_from(["left", "right", "both", "none"])


def stands(clip: str, frame: float) -> Standing:
    return standing(ODO, DEMO.clips[clip].at(source([frame])), (False, False))


@given(grounds, grounds, feet, st.sampled_from(["keep", "feet"]))
def test_what_is_laid_lies_on_its_like_wherever_it_was_made(
    here: np.ndarray, there: np.ndarray, plant: str, heading: str
) -> None:
    leaving, arriving = stands("Amble", 4).moved(here), stands("Hurry", 3).moved(there)
    laid = arriving.moved(
        aligned(leaving, arriving, Alignment.model_validate({"plant": plant, "heading": heading}))
    )
    points = {
        "left": lambda who: who.feet[0],
        "right": lambda who: who.feet[1],
        "both": lambda who: who.feet.mean(axis=0),
        "none": lambda who: who.root[:2],
    }
    assert np.abs(points[plant](laid) - points[plant](leaving)).max() < 1e-9
    if heading == "keep":
        assert abs(ground.nearest_turn(laid.root[2:] - leaving.root[2:])[0]) < 1e-9
    else:
        lines = [who.feet[1] - who.feet[0] for who in (leaving, laid)]
        across = lines[0][0] * lines[1][1] - lines[0][1] * lines[1][0]
        assert abs(across) < 1e-9
        assert lines[0] @ lines[1] > 0
    # Rigid: between the two feet it is as far as it was.
    apart = [float(np.linalg.norm(who.feet[1] - who.feet[0])) for who in (arriving, laid)]
    assert apart[0] == pytest.approx(apart[1], abs=1e-9)


@given(grounds)
def test_a_placement_undoes_itself(placed: np.ndarray) -> None:
    here = stands("Amble", 7)
    back = here.moved(placed).moved(ground.inverse(placed))
    assert np.abs(back.feet - here.feet).max() < 1e-9
    assert np.abs(back.root - here.root).max() < 1e-9


def test_left_as_placed_has_the_marks_heading_and_a_nudge_is_seen_from_the_outgoing_figure() -> (
    None
):
    leaving = stands("Amble", 4).moved(np.array([1.0, 2.0, np.pi / 2]))
    arriving = stands("Hurry", 3)
    placed = aligned(leaving, arriving, Alignment(plant="left", heading="placed"), 0.4)
    assert placed[2] == pytest.approx(0.4)
    plain = aligned(leaving, arriving, Alignment(plant="left"))
    nudged = aligned(leaving, arriving, Alignment(plant="left", nudge=(0.0, 0.1, 0.0)))
    # Ten centimetres ahead of a figure that looks along +x.
    assert np.abs(nudged - plain - [0.1, 0.0, 0.0]).max() < 1e-9
    turned = arriving.moved(
        aligned(leaving, arriving, Alignment(plant="left", nudge=(0.0, 0.0, 0.3)))
    )
    assert np.abs(turned.feet[0] - leaving.feet[0]).max() < 1e-9
    assert turned.root[2] - leaving.root[2] == pytest.approx(0.3)


def test_heels_are_laid_on_heels_only_while_one_stands_on_its_heel() -> None:
    assert on_heels((-1, None), (0, 1)) == (True, False)
    assert on_heels((-1, 0), (1, -1)) == (False, True)
    assert on_heels((0, None), (0, None)) == (False, False)
    plants = [plant for plant in AMBLE.plants if plant.side == "left"]
    middle = (plants[0].start + plants[0].end) / 2
    assert bearing(AMBLE, middle)[0] == 0
    assert bearing(AMBLE, middle + 24 * 5)[0] == 0
    lifted = plants[0].end + 1
    assert bearing(AMBLE, lifted)[0] is None


def test_a_quarter_turn_on_the_left_foot_is_no_swap_and_the_other_foot_ahead_is_one() -> None:
    """Done when 3: which foot is ahead counts, and not which way the figure goes."""
    leaving = stands("Amble", 0)
    assert not feet_swapped(leaving, stands("Amble", 0).moved(np.array([0, 0, np.pi / 2])))
    assert feet_swapped(stands("Amble", 4), stands("Amble", 16))


def joined(**wanted: object) -> Scene:
    edit = SetJoin.model_validate({"stint": "hurry", **wanted})
    return apply_edit(DEMO.scene, edit, MATERIAL).scene


def test_a_quarter_turn_in_the_demo_keeps_the_left_foot_still() -> None:
    turned = joined(nudge=(0.0, 0.0, np.pi / 2), length_frames=14)
    report = join_report(turned, MATERIAL, "hurry")
    assert report.heading_change_degrees == pytest.approx(90)
    assert report.slide.amount < 0.5
    assert not report.swapped
    motion = figure_motion(turned, MATERIAL, turned.figures[0], np.arange(288.0))
    assert np.degrees(motion.travel[180, 2]) == pytest.approx(90)
    toes = forward(ODO, motion).positions[:, ODO.place_of("l_toe")]
    assert np.linalg.norm(np.ptp(toes[160:166, [0, 2]], axis=0)) < 0.002


def test_swapped_feet_are_marked_through_the_join() -> None:
    wrong = MeetStint(stint="hurry", at=166, in_frame=11, length_frames=8, plant="left")
    scene = apply_edit(DEMO.scene, wrong, MATERIAL).scene
    assert join_report(scene, MATERIAL, "hurry").swapped
    marks = marks_of(scene, MATERIAL, scene.lane("odo-body"), Span(0, 288))
    crossed = [mark for mark in marks if mark.kind == "crossed"]
    assert crossed
    assert crossed[0].frame == 162
    assert crossed[0].end >= 170


def test_earlier_stints_carry_chained_ones_along_rigidly_and_nailed_ones_stay() -> None:
    frames = np.arange(288.0)

    def places(scene: Scene) -> np.ndarray:
        motion = figure_motion(scene, MATERIAL, scene.figures[0], frames)
        return forward(ODO, motion).positions

    plain = places(DEMO.scene)
    mark = (2.0, -1.0, 0.7)
    moved = places(apply_edit(DEMO.scene, SetMark(figure="odo", mark=mark), MATERIAL).scene)
    x, z = ground.turn(np.array(mark[2]), plain[..., 0], plain[..., 2])
    carried = np.stack([x + mark[0], plain[..., 1], z + mark[1]], axis=-1)
    assert np.abs(carried - moved).max() < 1e-9
    nailed = apply_edit(DEMO.scene, NailStint(stint="hurry"), MATERIAL).scene
    stays = places(apply_edit(nailed, SetMark(figure="odo", mark=mark), MATERIAL).scene)
    assert np.abs(stays[190:] - plain[190:]).max() < 1e-9
    assert np.abs(stays[:60] - plain[:60]).max() > 0.5


def test_setting_the_red_figure_down_makes_up_the_difference() -> None:
    scene = DEMO.scene
    join = join_of(scene, MATERIAL, "hurry")
    _, arriving = met_at(join.lane, join.lane.placements[join.place - 1], join.place)
    stood = arriving.moved(join.lane.placements[join.place]).root
    goal = (float(stood[0]) + 0.3, float(stood[1]) - 0.1, float(stood[2]) + 0.5)
    edited = apply_edit(scene, PlaceJoin(stint="hurry", root=goal), MATERIAL).scene
    lane = edited.lane("odo-body")
    place = [stint.id for stint in lane.stints].index("hurry")
    now = arriving.moved(placements_of(edited, MATERIAL, lane)[place]).root
    assert np.abs(now - goal).max() < 1e-9
    # Put back where it stood, nothing is left of it.
    back = apply_edit(edited, PlaceJoin(stint="hurry", root=tuple(stood)), MATERIAL).scene
    nudge = found(back, "hurry").alignment.nudge
    assert np.abs(nudge).max() < 1e-9


def found(scene: Scene, stint: str) -> Stint:
    return scene.find(stint)[1]
