"""One pose changed by hand: turned, drawn by a hand or a foot, moved by the root, or by numbers."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import ConfigDict, Field

from .. import ground, rotation
from ..arrays import Array, by_runs
from ..channels import AXES, TRAVEL, channel, turn_near, turned
from ..cycle.mirror import mirrored, partner_of
from ..figure import Figure, forward
from ..frozen import Frozen
from ..motion import Motion
from ..quantities import Value
from ..reach import limb_ending_at, local, reached

Vector = tuple[Value, Value, Value]


class Change(Frozen):
    model_config = ConfigDict(extra="forbid")


class Turn(Change):
    """A joint turned about an axis of the world."""

    kind: Literal["turn"] = "turn"
    joint: str
    axis: Vector
    degrees: Value


class Reach(Change):
    """A hand or a foot drawn to a place in the world, metres; elbow or knee follow."""

    kind: Literal["reach"] = "reach"
    joint: str
    to: Vector


class MoveRoot(Change):
    """The figure moved by so many metres in the world, over its travel."""

    kind: Literal["move_root"] = "move_root"
    by: Vector


class SetValue(Change):
    """One number of the card: degrees, metres, or times its own size."""

    kind: Literal["set_value"] = "set_value"
    channel: str
    value: Value


class RestJoint(Change):
    """A joint back in its rest."""

    kind: Literal["rest"] = "rest"
    joint: str


PoseChange = Annotated[Turn | Reach | MoveRoot | SetValue | RestJoint, Field(discriminator="kind")]


def posed(
    figure: Figure, pose: Motion, changes: Sequence[PoseChange], *, on_both_sides: bool = False
) -> Motion:
    """A pose (one frame) after these changes; with `on_both_sides` the other side is its mirror."""
    for change in changes:
        pose = _changed(figure, pose, change)
    if on_both_sides:
        for joint in changed_joints(figure, changes):
            other = partner_of(figure, joint)
            if other != joint:
                pose = _like_the_other(figure, pose, other)
    return pose


def changed_joints(figure: Figure, changes: Sequence[PoseChange]) -> list[str]:
    """The joints whose channels the changes touch, in their order."""
    found: list[str] = []
    for change in changes:
        if isinstance(change, MoveRoot):
            found.append(figure.names[0])
        elif isinstance(change, SetValue):
            found.append(channel(change.channel).joint or figure.names[0])
        elif isinstance(change, Reach):
            limb = limb_ending_at(figure, change.joint)
            found += [figure.names[place] for place in (limb.upper, limb.middle, limb.end)]
        else:
            found.append(change.joint)
    return list(dict.fromkeys(found))


def _changed(figure: Figure, pose: Motion, change: PoseChange) -> Motion:
    if isinstance(change, Turn):
        return _turned(figure, pose, change)
    if isinstance(change, Reach):
        limb = limb_ending_at(figure, change.joint)
        return reached(figure, pose, [limb], np.array([[change.to]]))
    if isinstance(change, MoveRoot):
        x, z = ground.turn(-pose.travel[:, 2], *(np.array([change.by[k]]) for k in (0, 2)))
        by = np.stack([x, np.array([change.by[1]]), z], axis=-1)
        return replace(pose, root_move=by_runs(pose.root_move + by))
    if isinstance(change, RestJoint):
        place = figure.place_of(change.joint)
        rested = _with_turn(pose, place, np.array([rotation.IDENTITY]))
        moves = {joint: move for joint, move in pose.moves.items() if joint != place}
        scales = {joint: scale for joint, scale in pose.scales.items() if joint != place}
        return replace(rested, moves=moves, scales=scales)
    return _set(figure, pose, change)


def _turned(figure: Figure, pose: Motion, change: Turn) -> Motion:
    place = figure.place_of(change.joint)
    axis = np.array(change.axis)
    length = float(np.linalg.norm(axis))
    if length < 1e-9:
        return pose
    half = np.radians(change.degrees) / 2
    turn = np.concatenate([[np.cos(half)], np.sin(half) * axis / length])
    placed = forward(figure, pose)
    world = rotation.multiply(turn, placed.rotations[:, place])
    if place == 0:
        heading = rotation.about_axis("Y", -pose.travel[:, 2])
        return _with_turn(pose, 0, rotation.multiply(heading, world))
    above = placed.rotations[:, figure.parents[place]]
    return _with_turn(pose, place, local(figure, place, above, world))


def _set(figure: Figure, pose: Motion, change: SetValue) -> Motion:
    own = channel(change.channel)
    if own.part == "travel":
        travel = pose.travel.copy(order="F")
        column = TRAVEL.index(own.axis)
        travel[:, column] = np.radians(change.value) if column == 2 else change.value
        return pose.carried(travel)
    column = AXES.index(own.axis)
    if own.part == "root":
        root_move = pose.root_move.copy(order="F")
        root_move[:, column] = change.value
        return replace(pose, root_move=root_move)
    place = figure.place_of(own.joint)
    if own.part == "turn":
        degrees = turn_near(figure, place, pose.rotations[0, place], np.zeros(3))
        degrees[column] = change.value
        return _with_turn(pose, place, turned(figure, place, degrees[None]))
    if own.part == "scale":
        scale = pose.scales.get(place, np.ones((1, 3))).copy()
        scale[:, column] = change.value
        return replace(pose, scales={**pose.scales, place: scale})
    move = pose.moves.get(place, figure.offsets[place][None]).copy()
    move[:, column] = change.value
    return replace(pose, moves={**pose.moves, place: move})


def _with_turn(pose: Motion, place: int, turn: Array) -> Motion:
    rotations = pose.rotations.copy(order="F")
    rotations[:, place] = turn
    return replace(pose, rotations=rotations)


def _like_the_other(figure: Figure, pose: Motion, other: str) -> Motion:
    """One joint as the looking-glass shows its partner."""
    reflected = mirrored(figure, pose)
    place = figure.place_of(other)
    posed_like = _with_turn(pose, place, reflected.rotations[:, place])
    moves, scales = dict(pose.moves), dict(pose.scales)
    if place in reflected.moves:
        moves[place] = reflected.moves[place]
    if place in reflected.scales:
        scales[place] = reflected.scales[place]
    return replace(posed_like, moves=moves, scales=scales)
