"""Edits that key a pose, and the in-between slider."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ...channels import KINDS, Kind, channels_of, joint_of, values_at
from ...curve import Curve, Key, SpanKind
from ...cycle.mirror import is_own_half, mirrored, partner_of
from ...errors import Refusal
from ...inbetween import favour, with_post
from ...moments import source
from ...motion import Motion
from ...quantities import Frame, LengthFrames
from ...saying import said
from ..playing import motion_at
from ..pose import MoveRoot, PoseChange, SetValue, changed_joints, posed
from .base import Edit, Edited, Made, Rules, beyond_of, into_keys, own_frame, with_curves


class KeyPose(Edit):
    """Keys at a frame: of the chosen joints, or of those that the changes touch; with neither, of the
    whole figure. The changes are made to the pose that shows there."""

    kind: Literal["key_pose"] = "key_pose"
    frame: Frame
    changes: tuple[PoseChange, ...] = ()
    on_both_sides: bool = False
    joints: tuple[str, ...] | None = None
    kinds: tuple[Kind, ...] = KINDS
    span: SpanKind | None = None


class InsertKeys(Edit):
    """Keys at a frame that change nothing (rule 3.3)."""

    kind: Literal["insert_keys"] = "insert_keys"
    frame: Frame
    joints: tuple[str, ...]


class Favour(Edit):
    """An in-between at a share of the way from the key before to the key after (rule 4.7)."""

    kind: Literal["favour"] = "favour"
    frame: Frame
    share: Annotated[float, Field(ge=-1.0, le=2.0)]
    scope: Literal["chosen", "all_but_chosen", "whole"] = "chosen"
    joints: tuple[str, ...] = ()
    kinds: tuple[Kind, ...] = KINDS
    fence_frames: LengthFrames | None = None


def _key_pose(made: Made, edit: KeyPose) -> Edited:
    keyed = made.keyed
    clip, figure = keyed.clip, keyed.figure
    frame = own_frame(clip, edit.frame)
    pose = posed(figure, pose_at(made, frame), edit.changes, on_both_sides=edit.on_both_sides)
    joints = list(edit.joints) if edit.joints is not None else _touched(made, edit)
    kinds = frozenset(edit.kinds)
    asked = list(joints)
    if clip.half_linked and not is_own_half(clip.length_frames, frame):
        # The other half is keyed where it is made: half a cycle earlier, on the other side.
        frame -= clip.length_frames / 2
        pose = mirrored(figure, pose)
        joints = [partner_of(figure, joint) for joint in joints]
    changed = {}
    # The feet's hold is part of the picture and not of the curves: turns are compared with these.
    curves = keyed.curves
    wanted = _channels(keyed, joints, kinds, edit.changes)
    near = {name: float(curves[name].values(np.array(frame))) for name in wanted if name in curves}
    values = values_at(figure, pose, 0, near, {joint_of(figure, name) for name in wanted})
    for name in wanted:
        curve = clip.keys.get(name)
        if curve is None:
            key = Key(time=frame, value=values[name], span=edit.span or "eased")
            beyond = beyond_of(clip)
            changed[name] = Curve(keys=(key,), before=beyond, after=beyond)
        else:
            changed[name] = curve.with_value(frame, values[name], edit.span)
    if not changed:
        raise Refusal("Choose a joint to key, or what of it: its turn, its move or its scale.")
    label = f"Key {said(figure, asked)} at {edit.frame:g}"
    return Edited(with_curves(clip, changed), label, into_keys(made))


def _touched(made: Made, edit: KeyPose) -> list[str]:
    figure = made.figure
    if not edit.changes:
        return list(figure.names)
    joints = changed_joints(figure, edit.changes)
    if edit.on_both_sides:
        joints += [partner_of(figure, joint) for joint in joints]
    return list(dict.fromkeys(joints))


def _channels(
    made: Made, joints: list[str], kinds: frozenset[Kind], changes: tuple[PoseChange, ...]
) -> list[str]:
    """What is keyed: joints below the root move, and any scale, only where they do so already, or
    were changed so now; or where nothing else was asked for of a few."""
    alone = len(kinds) == 1 and len(joints) < len(made.figure.joints)
    moved = {change.channel for change in changes if isinstance(change, SetValue)}
    # Without a turn of the root a draw of it is a move alone, and the other way round.
    only_moved = bool(changes) and all(isinstance(change, MoveRoot) for change in changes)
    names = []
    for joint in joints:
        for name in channels_of(made.figure, joint, kinds):
            is_extra = ".move." in name or ".scale." in name
            if is_extra and not alone and name not in made.clip.keys and name not in moved:
                continue
            if only_moved and name.endswith(tuple(f"{joint}.turn.{a}" for a in "xyz")):
                continue
            names.append(name)
    if "move" in kinds and not made.clip.is_cycle and made.figure.names[0] in joints:
        names += [name for name in moved if name.startswith("travel.")]
    return names


def pose_at(made: Made, frame: float) -> Motion:
    """The pose that shows at a frame [1 frame], its held feet included."""
    playable = made.playable
    if frame == int(frame):
        return playable.samples.at(np.array([int(frame)]))
    if made.clip.is_keyed:
        return motion_at(made.figure, made.clip, np.array([frame]))
    return playable.at(source([frame]))


def _insert(made: Made, edit: InsertKeys) -> Edited:
    keyed = made.keyed
    clip = keyed.clip
    frame = own_frame(clip, edit.frame)
    round_frames = clip.length_frames if clip.is_cycle else None
    changed = {
        name: with_post(clip.keys[name], frame, round_frames)
        for joint in edit.joints
        for name in channels_of(keyed.figure, joint, frozenset(KINDS))
        if name in clip.keys
    }
    changed = {name: curve for name, curve in changed.items() if curve != clip.keys[name]}
    if not changed:
        raise Refusal(f"There is nothing to key between keys at {edit.frame:g}.")
    return Edited(
        with_curves(clip, changed),
        f"Insert keys of {said(keyed.figure, list(edit.joints))} at {edit.frame:g}",
        into_keys(made),
    )


def _favour(made: Made, edit: Favour) -> Edited:
    keyed = made.keyed
    clip, figure = keyed.clip, keyed.figure
    frame = own_frame(clip, edit.frame)
    joints = {
        "whole": list(figure.names),
        "chosen": list(edit.joints),
        "all_but_chosen": [name for name in figure.names if name not in edit.joints],
    }[edit.scope]
    if not joints:
        raise Refusal("Choose the joints to favour, or favour the whole figure.")
    if clip.half_linked and not is_own_half(clip.length_frames, frame):
        frame -= clip.length_frames / 2
        joints = [partner_of(figure, joint) for joint in joints]
    curves = dict(clip.keys)
    if clip.half_linked:
        curves = {name: c for name, c in keyed.curves.items() if name in curves}
    found = favour(
        figure,
        curves,
        frame,
        edit.share,
        joints,
        frozenset(edit.kinds),
        edit.fence_frames,
        clip.length_frames if clip.is_cycle else None,
    )
    changed = {name: curve for name, curve in found.items() if curve != curves[name]}
    if clip.half_linked:
        half = clip.length_frames / 2
        changed = {
            name: kept
            for name, curve in changed.items()
            if (kept := curve.only(curve.times < half)) is not None
        }
    label = f"Favour {said(figure, joints)} {100 * edit.share:.0f} % at {edit.frame:g}"
    return Edited(with_curves(clip, changed), label, into_keys(made))


RULES: Rules = {KeyPose: _key_pose, InsertKeys: _insert, Favour: _favour}
