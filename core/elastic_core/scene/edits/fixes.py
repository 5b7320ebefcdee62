"""Edits on fix lanes: a figure posed over what plays, each correction faded in and out (rule 5.6)."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import Field

from ... import rotation
from ...arrays import Array
from ...clip.pose import MoveRoot, PoseChange, Reach, changed_joints, posed
from ...cycle.mirror import partner_of
from ...errors import Refusal
from ...figure import Figure
from ...moments import lane_time
from ...motion import Motion
from ...names import Id
from ...quantities import NEAR_FRAMES, Frame
from ...saying import said
from ..cast import BodyTarget
from ..clock import Asked, carried, clock_of
from ..document import Fix, Lane, Scene
from ..fades import FadeFrames
from ..fixing import turns_after
from ..material import Material
from ..own_motion import unsized_at
from ..sizes import StageGround, ground_at
from ..staging import staged
from .base import Edit, Edited, Rules, with_lane
from .figures import free_id

# A joint that is turned by less than this is not turned.
STILL_DEGREES = 1e-3


class AddFixLane(Edit):
    """A lane of corrections over all lanes of a figure."""

    kind: Literal["add_fix_lane"] = "add_fix_lane"
    figure: str


class PoseFix(Edit):
    """Pose a figure at a frame of a fix lane: the difference to what plays there is kept.

    A fix that stands at that frame is changed; else there is a new one, called `fix`.
    """

    kind: Literal["pose_fix"] = "pose_fix"
    lane: str
    frame: Frame
    fix: Id
    changes: tuple[PoseChange, ...] = Field(min_length=1, max_length=1_000)
    on_both_sides: bool = False
    fade_in: FadeFrames = 4.0
    fade_out: FadeFrames = 4.0


class SetFix(Edit):
    """Another frame of a fix, or other fades; what is left out stays."""

    kind: Literal["set_fix"] = "set_fix"
    fix: str
    at: Frame | None = None
    fade_in: FadeFrames | None = None
    fade_out: FadeFrames | None = None
    stands_frames: FadeFrames | None = None


class UnfixJoint(Edit):
    """Let a joint go as it goes without a fix; with the root goes what it was moved by."""

    kind: Literal["unfix_joint"] = "unfix_joint"
    fix: str
    joint: str


class RemoveFix(Edit):
    """Take a fix away."""

    kind: Literal["remove_fix"] = "remove_fix"
    fix: str


def _add(scene: Scene, edit: AddFixLane, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    own = scene.body_lanes(member.id)
    lane = Lane(
        id=free_id("lane", [lane.id for lane in scene.lanes]),
        name="Fixes",
        target=BodyTarget(figure=member.id),
        fixes=(),
    )
    place = scene.lanes.index(own[-1]) if own else len(scene.lanes)
    lanes = (*scene.lanes[:place], lane, *scene.lanes[place:])
    return Edited(scene.model_copy(update={"lanes": lanes}), f"Add a fix lane to {member.name}")


def _pose(scene: Scene, edit: PoseFix, material: Material) -> Edited:
    lane = scene.lane(edit.lane)
    if lane.fixes is None:
        raise Refusal(f"“{lane.name}” plays clips: pose the figure on a fix lane over it.")
    if not scene.plays(lane):
        raise Refusal(f"“{lane.name}” does not play: what is posed on it would not show.")
    member = scene.figure(lane.figure)
    figure = material.figure(member.figure)
    if not 0 <= edit.frame <= scene.laid_frames:
        raise Refusal("The scene does not play at that frame.")
    standing = fix_at(lane.fixes, edit.frame)
    fix = standing or Fix(id=edit.fix, at=edit.frame, fade_in=edit.fade_in, fade_out=edit.fade_out)
    if standing is None and any(other.id == fix.id for other in _fixes(scene)):
        raise Refusal("A fix with that id is in the scene already.")
    stage = staged(scene, material, member)
    at = carried(lane_time([edit.frame]), clock_of(scene, lane), stage.clock)
    shows = unsized_at(stage, Asked(at, stage.clock))
    here = ground_at(stage, at)
    changes = [_in_own_metres(change, here) for change in edit.changes]
    wanted = posed(figure, shows, changes, on_both_sides=edit.on_both_sides)
    placed = _placed(lane.fixes, fix)
    over = [*placed[placed.index(fix) + 1 :], *_fixes_above(scene, lane)]
    changed = _changed(figure, fix, over, edit.frame, (shows, wanted))
    named = changed_joints(figure, edit.changes)
    if edit.on_both_sides:
        named = list(dict.fromkeys([*named, *(partner_of(figure, name) for name in named)]))
    done = _with_fixes(scene, lane, _placed(lane.fixes, changed))
    return Edited(done, f"Fix {said(figure, named)} of {member.name} at {_shown(scene, fix)}")


def _fixes_above(scene: Scene, lane: Lane) -> list[Fix]:
    """Those of the fix lanes that are added after one."""
    own = scene.body_lanes(lane.figure)
    above = own[own.index(lane) + 1 :]
    return [fix for other in above if scene.plays(other) for fix in other.fixes or ()]


def _changed(
    figure: Figure, fix: Fix, over: Sequence[Fix], at: float, poses: tuple[Motion, Motion]
) -> Fix:
    """The fix with which the second pose shows at a frame instead of the first; `over` are added after it."""
    shows, wanted = poses
    turns = dict(fix.turns)
    own, later = turns_after(figure, [fix, *over], at), turns_after(figure, over, at)
    for joint in _turned_joints(figure, shows, wanted):
        # What shows is what lies below, turned by this fix and then by the later ones.
        below = rotation.multiply(shows.rotations[0, joint], rotation.conjugate(own[joint]))
        without_later = rotation.multiply(
            wanted.rotations[0, joint], rotation.conjugate(later[joint])
        )
        turn = rotation.multiply(rotation.conjugate(below), without_later)
        _keep(turns, figure.names[joint], rotation.normalise(turn))
    shift = np.array(fix.shift) + wanted.root_move[0] - shows.root_move[0]
    return fix.model_copy(update={"turns": turns, "shift": tuple(shift.tolist())})


def _set(scene: Scene, edit: SetFix, material: Material) -> Edited:
    lane, fix = find_fix(scene, edit.fix)
    changes = edit.model_dump(exclude={"kind", "fix"}, exclude_none=True)
    changed = fix.model_copy(update=changes)
    if not 0 <= changed.at <= scene.laid_frames:
        raise Refusal("A fix stands inside the scene.")
    others = [other for other in lane.fixes or () if other.id != fix.id]
    if any(abs(other.at - changed.at) < NEAR_FRAMES for other in others):
        raise Refusal("There is a fix at that frame already.")
    done = _with_fixes(scene, lane, _placed(lane.fixes or (), changed))
    what = "Move the fix" if edit.at is not None else "Fade the fix"
    return Edited(done, f"{what} at {_shown(scene, fix)}")


def _unfix(scene: Scene, edit: UnfixJoint, material: Material) -> Edited:
    lane, fix = find_fix(scene, edit.fix)
    figure = material.figure(scene.figure(lane.figure).figure)
    place = figure.place_of(edit.joint)
    turns = {name: turn for name, turn in fix.turns.items() if name != edit.joint}
    shift = (0.0, 0.0, 0.0) if place == 0 else fix.shift
    changed = fix.model_copy(update={"turns": turns, "shift": shift})
    done = _with_fixes(scene, lane, _placed(lane.fixes or (), changed))
    return Edited(done, f"Let {said(figure, [edit.joint])} go at {_shown(scene, fix)}")


def _remove(scene: Scene, edit: RemoveFix, material: Material) -> Edited:
    lane, fix = find_fix(scene, edit.fix)
    fixes = tuple(other for other in lane.fixes or () if other.id != fix.id)
    return Edited(_with_fixes(scene, lane, fixes), f"Delete the fix at {_shown(scene, fix)}")


def find_fix(scene: Scene, fix_id: str) -> tuple[Lane, Fix]:
    """A fix and the lane it stands on. Raises Refusal where it is gone."""
    for lane in scene.lanes:
        for fix in lane.fixes or ():
            if fix.id == fix_id:
                return lane, fix
    raise Refusal("That fix is no longer in the scene.")


def fix_at(fixes: Sequence[Fix], frame: float) -> Fix | None:
    """The fix that shows whole at a frame."""
    for fix in fixes:
        if fix.at - NEAR_FRAMES < frame < fix.at + fix.stands_frames + NEAR_FRAMES:
            return fix
    return None


def _in_own_metres(change: PoseChange, here: StageGround) -> PoseChange:
    """A change as it was made on the stage, for a figure that is shown larger or smaller."""
    size = float(here.size[0])
    if isinstance(change, Reach):
        x, y, z = change.to
        x, z = here.off_stage(np.array([[x, z, 0.0]]))[0, :2].tolist()
        return change.model_copy(update={"to": (x, y / size, z)})
    if isinstance(change, MoveRoot):
        return change.model_copy(update={"by": tuple(metres / size for metres in change.by)})
    return change


def _turned_joints(figure: Figure, before: Motion, after: Motion) -> list[int]:
    """The joints that a pose turns. Raises Refusal where it does what no fix keeps."""
    moved = {*before.moves, *after.moves}
    scaled = {*before.scales, *after.scales}
    same = all(
        _same(one.get(joint), other.get(joint))
        for one, other, joints in (
            (before.moves, after.moves, moved),
            (before.scales, after.scales, scaled),
        )
        for joint in joints
    )
    if not same or not np.array_equal(before.travel, after.travel):
        raise Refusal("A fix turns joints and moves the root: it moves or scales no other joint.")
    turned = np.degrees(rotation.angle_between(before.rotations[0], after.rotations[0]))
    return [int(joint) for joint in np.flatnonzero(turned > STILL_DEGREES)]


def _same(one: Array | None, other: Array | None) -> bool:
    return one is not None and other is not None and np.array_equal(one, other)


def _keep(turns: dict[str, tuple[float, float, float, float]], joint: str, turn: Array) -> None:
    """A joint's turn; none where it comes to nothing."""
    w, x, y, z = np.clip(turn, -1.0, 1.0).tolist()
    if np.degrees(2 * np.arccos(min(1.0, abs(w)))) < STILL_DEGREES:
        turns.pop(joint, None)
    else:
        turns[joint] = (w, x, y, z)


def _fixes(scene: Scene) -> list[Fix]:
    return [fix for lane in scene.lanes for fix in lane.fixes or ()]


def _placed(fixes: Sequence[Fix], fix: Fix) -> tuple[Fix, ...]:
    """The fixes with this one among them, by their frames."""
    others = [other for other in fixes if other.id != fix.id]
    return tuple(sorted([*others, fix], key=lambda one: one.at))


def _with_fixes(scene: Scene, lane: Lane, fixes: tuple[Fix, ...]) -> Scene:
    return with_lane(scene, lane.model_copy(update={"fixes": fixes}))


def _shown(scene: Scene, fix: Fix) -> str:
    """The frame of a fix as the scene counts."""
    return f"{fix.at + scene.first_frame:g}"


RULES: Rules = {
    AddFixLane: _add,
    PoseFix: _pose,
    SetFix: _set,
    UnfixJoint: _unfix,
    RemoveFix: _remove,
}
