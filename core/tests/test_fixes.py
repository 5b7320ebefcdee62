"""Fix lanes: a pose corrected over what plays, faded in and out (rule 5.6)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from demo.production import demo
from elastic_core import rotation
from elastic_core.anatomy import body_parts
from elastic_core.arrays import Array
from elastic_core.clip.pose import MoveRoot, PoseChange, Reach, RestJoint, SetValue, Turn
from elastic_core.easing import smooth
from elastic_core.errors import Refusal
from elastic_core.figure import Placed, forward
from elastic_core.motion import Motion
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.figures import SetSize
from elastic_core.scene.edits.fixes import AddFixLane, PoseFix, RemoveFix, SetFix, UnfixJoint
from elastic_core.scene.edits.lanes import RemoveLane, SetLane
from elastic_core.scene.edits.stints import PlaceStint
from elastic_core.scene.evaluate import figure_motion

DEMO = demo()
ODO, MATERIAL = DEMO.figures["odo"], DEMO.material
FRAMES = np.arange(60.0)
HAND = ODO.place_of("r_wrist")
LEGS = [ODO.place_of(name) for name in body_parts(ODO)["Lower body"]]
AT = 24


def walk(*, size: float = 1.0) -> Scene:
    amble = Stint(id="a", source=ClipSource(id="Amble"), start=0, length_frames=60)
    member = SceneFigure(id="o", name="Odo", figure="odo", mark=(0.4, -0.2, 0.7), size=size)
    return Scene(
        name="Test",
        rate="24",
        laid_frames=60,
        played_frames=60,
        first_frame=1,
        figures=(member,),
        lanes=(Lane(id="l", name="Body", target=BodyTarget(figure="o"), stints=(amble,)),),
    )


def done(scene: Scene, *edits: SceneEdit) -> Scene:
    for edit in edits:
        scene = apply_edit(scene, edit, MATERIAL).scene
    return scene


def motion(scene: Scene) -> Motion:
    return figure_motion(scene, MATERIAL, scene.figures[0], FRAMES)


def placed(scene: Scene) -> Placed:
    return forward(ODO, motion(scene))


def pose(*changes: PoseChange, frame: float = AT, fix: str = "f", **more: object) -> PoseFix:
    fields = {"lane": "lane-1", "frame": frame, "fix": fix, "changes": changes, **more}
    return PoseFix.model_validate(fields)


FIXABLE = done(walk(), AddFixLane(figure="o"))
BEFORE = motion(FIXABLE)


def same(one: Motion, other: Motion, where: Array | slice = slice(None)) -> bool:
    return all(
        np.array_equal(a[where], b[where])
        for a, b in (
            (one.travel, other.travel),
            (one.root_move, other.root_move),
            (one.rotations, other.rotations),
        )
    )


def near_hand(scene: Scene, aside: float = 0.1) -> tuple[float, float, float]:
    """A place that the hand reaches, a little off where it is."""
    x, y, z = placed(scene).positions[AT, HAND].tolist()
    return x - aside, y + aside, z


def test_a_hand_comes_where_it_was_drawn_and_the_rest_of_the_scene_stays_to_the_bit() -> None:
    to = near_hand(FIXABLE)
    fixed = done(FIXABLE, pose(Reach(joint="r_wrist", to=to), fade_in=6, fade_out=3))
    assert placed(fixed).positions[AT, HAND] == pytest.approx(to, abs=1e-6)
    after = motion(fixed)
    inside = (FRAMES > AT - 6) & (FRAMES < AT + 3)
    assert same(after, BEFORE, ~inside)
    assert not same(after, BEFORE, inside)
    assert np.array_equal(after.rotations[:, LEGS], BEFORE.rotations[:, LEGS])


def test_a_fix_fades_by_the_smooth_shape_on_both_sides() -> None:
    turn = Turn(joint="head", axis=(0.0, 1.0, 0.0), degrees=40.0)
    fixed = done(
        FIXABLE,
        pose(turn, fade_in=8, fade_out=4),
        SetFix(fix="f", stands_frames=5),
    )
    head = ODO.place_of("head")
    turned = rotation.angle_between(motion(fixed).rotations[:, head], BEFORE.rotations[:, head])
    into = np.clip((FRAMES - (AT - 8)) / 8, 0, 1)
    out = np.clip((AT + 5 + 4 - FRAMES) / 4, 0, 1)
    assert np.degrees(turned) == pytest.approx(40 * smooth(into) * smooth(out), abs=1e-9)


@given(
    frames=st.tuples(st.integers(8, 20), st.integers(21, 34)),
    share=st.floats(0.05, 0.5),
)
def test_where_fixes_overlap_each_pose_is_still_the_one_that_was_made(
    frames: tuple[int, int], share: float
) -> None:
    first = pose(
        Turn(joint="chest", axis=(0.2, 1.0, 0.1), degrees=25.0),
        frame=frames[0], fade_in=9, fade_out=20,
    )  # fmt: skip
    scene = done(FIXABLE, first)
    hand, shoulder = placed(scene).positions[frames[1], [HAND, ODO.place_of("r_shoulder")]]
    to = tuple((hand + share * (shoulder - hand)).tolist())
    other = pose(Reach(joint="r_wrist", to=to), frame=frames[1], fix="g", fade_in=20)
    both = done(scene, other)
    assert placed(both).positions[frames[1], HAND] == pytest.approx(to, abs=1e-6)
    # Posed again, the earlier of the two makes up for the later one.
    again = pose(RestJoint(joint="head"), frame=frames[0])
    rested = motion(done(both, again)).rotations[frames[0], ODO.place_of("head")]
    assert np.abs(rested @ np.array(rotation.IDENTITY)) == pytest.approx(1, abs=1e-9)


@pytest.mark.parametrize("size", [0.6, 1.0, 1.7])
def test_a_larger_or_smaller_figure_reaches_as_far_as_it_is_drawn_on_the_stage(size: float) -> None:
    scene = done(FIXABLE, SetSize(figure="o", size=size))
    to = near_hand(scene, aside=0.1 * size)
    by = (0.05, -0.02, 0.03)
    fixed = done(scene, pose(Reach(joint="r_wrist", to=to)))
    assert placed(fixed).positions[AT, HAND] == pytest.approx(to, abs=1e-6)
    moved = placed(done(scene, pose(MoveRoot(by=by)))).positions[AT, 0]
    assert moved - placed(scene).positions[AT, 0] == pytest.approx(by, abs=1e-9)


def test_posing_at_a_fix_changes_it_and_letting_a_joint_go_undoes_it() -> None:
    turn = Turn(joint="head", axis=(0.0, 1.0, 0.0), degrees=10.0)
    nod = Turn(joint="neck", axis=(1.0, 0.0, 0.0), degrees=8.0)
    scene = done(FIXABLE, pose(turn), pose(nod, fix="other"), pose(MoveRoot(by=(0.0, -0.05, 0.0))))
    (fix,) = scene.lanes[0].fixes or ()
    assert (fix.id, fix.at, sorted(fix.turns)) == ("f", AT, ["head", "neck"])
    assert fix.shift == pytest.approx((0.0, -0.05, 0.0), abs=1e-12)
    left = done(scene, UnfixJoint(fix="f", joint="head"), UnfixJoint(fix="f", joint="hips"))
    (fix,) = left.lanes[0].fixes or ()
    assert (list(fix.turns), fix.shift) == (["neck"], (0.0, 0.0, 0.0))
    assert same(motion(done(left, RemoveFix(fix="f"))), BEFORE)
    # Turned back, a joint is turned no more.
    back = Turn(joint="head", axis=(0.0, 1.0, 0.0), degrees=-10.0)
    (fix,) = done(FIXABLE, pose(turn), pose(back)).lanes[0].fixes or ()
    assert not fix.turns


def test_the_other_side_is_posed_as_the_looking_glass_shows_it() -> None:
    turn = SetValue(channel="l_elbow.turn.x", value=-60.0)
    scene = done(FIXABLE, pose(turn, on_both_sides=True))
    (fix,) = scene.lanes[0].fixes or ()
    assert sorted(fix.turns) == ["l_elbow", "r_elbow"]


def test_a_fix_lane_over_nothing_corrects_the_rest_pose() -> None:
    bare = walk().model_copy(update={"lanes": ()})
    scene = done(
        bare, AddFixLane(figure="o"), pose(RestJoint(joint="head"), MoveRoot(by=(0, 0.1, 0)))
    )
    height = placed(scene).positions[AT, 0, 1] - placed(bare).positions[AT, 0, 1]
    assert height == pytest.approx(0.1, abs=1e-9)


def test_only_a_fix_lane_that_plays_corrects() -> None:
    turn = Turn(joint="head", axis=(0.0, 1.0, 0.0), degrees=10.0)
    scene = done(FIXABLE, pose(turn))
    assert same(motion(done(scene, SetLane(lane="lane-1", muted=True))), BEFORE)
    # A lane with clips that lies over it takes its place.
    over = scene.model_copy(update={"lanes": (walk().lanes[0], scene.lanes[0])})
    assert same(motion(over), BEFORE)


def test_what_cannot_be_fixed_is_refused() -> None:
    turn = Turn(joint="head", axis=(0.0, 1.0, 0.0), degrees=10.0)
    scene = done(FIXABLE, pose(turn), pose(turn, frame=40, fix="g"))
    stint = PlaceStint(stint="b", source=ClipSource(id="Stand"), start=0, lane="lane-1")
    muted = done(scene, SetLane(lane="lane-1", muted=True))
    locked = done(scene, SetLane(lane="lane-1", locked=True))
    refused: list[tuple[Scene, SceneEdit, str]] = [
        (scene, stint, "“Fixes” holds fixes"),
        (scene, pose(turn).model_copy(update={"lane": "l"}), "“Body” plays clips"),
        (muted, pose(turn), "does not play"),
        (locked, pose(turn), "is locked"),
        (scene, pose(turn, frame=99), "does not play at that frame"),
        (scene, pose(turn, frame=10, fix="g"), "with that id"),
        (scene, SetFix(fix="g", at=AT), "a fix at that frame already"),
        (scene, SetFix(fix="gone"), "no longer in the scene"),
        (scene, pose(SetValue(channel="travel.x", value=2.0)), "A fix turns joints"),
    ]
    for before, edit, says in refused:
        with pytest.raises(Refusal, match=says):
            apply_edit(before, edit, MATERIAL)


def test_labels_say_the_joint_and_the_frame_as_the_scene_counts() -> None:
    turn = pose(Turn(joint="head", axis=(0.0, 1.0, 0.0), degrees=10.0))
    done_once = apply_edit(FIXABLE, turn, MATERIAL)
    assert done_once.label == "Fix Head of Odo at 25"
    moved = apply_edit(done_once.scene, SetFix(fix="f", at=30), MATERIAL)
    assert moved.label == "Move the fix at 25"
    assert (moved.scene.lanes[0].fixes or ())[0].at == 30
    gone = apply_edit(moved.scene, RemoveLane(lane="lane-1"), MATERIAL)
    assert gone.notes == ("1 fix went with it.",)


def test_with_a_fix_lane_above_the_pose_still_comes_where_it_was_drawn() -> None:
    two = done(FIXABLE, AddFixLane(figure="o"))
    above = pose(Turn(joint="chest", axis=(0.0, 1.0, 0.0), degrees=20.0), fix="over", fade_in=9)
    scene = done(two, above.model_copy(update={"lane": "lane-2"}))
    hand, shoulder = placed(scene).positions[AT - 3, [HAND, ODO.place_of("r_shoulder")]]
    to = tuple((hand + 0.3 * (shoulder - hand)).tolist())
    turn = Turn(joint="chest", axis=(1.0, 0.0, 0.0), degrees=12.0)
    below = done(scene, pose(turn, Reach(joint="r_wrist", to=to), frame=AT - 3))
    assert placed(below).positions[AT - 3, HAND] == pytest.approx(to, abs=1e-6)
