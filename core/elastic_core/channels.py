"""Channels: what of a clip can be keyed, by name (rules 2.2 and 3.4).

`travel.x|z|heading` and `root.x|y|z` are the figure's; `JOINT.turn.x|y|z` (degrees) and
`JOINT.move.x|y|z` (metres) are a joint's, and `JOINT.scale.x|y|z` (times): it draws out the joint's own
piece along its own axes, and the places where others hang on it; those keep their own size.
"""

from collections.abc import Mapping, Set
from dataclasses import dataclass
from typing import Literal

import numpy as np

from . import rotation
from .arrays import Array
from .budget import take
from .curve import Curve
from .errors import Refusal
from .figure import Figure
from .motion import Motion

Part = Literal["travel", "root", "turn", "move", "scale"]
Kind = Literal["move", "turn", "scale"]
Unit = Literal["degrees", "metres", "times"]
KINDS: tuple[Kind, ...] = ("turn", "move", "scale")
# However far a curve overshoots: no piece is turned inside out.
LEAST_SCALE = 0.01
AXES = ("x", "y", "z")
TRAVEL = ("x", "z", "heading")


_UNITS: Mapping[Kind, Unit] = {"turn": "degrees", "move": "metres", "scale": "times"}


@dataclass(frozen=True)
class Channel:
    """One number of a pose. `joint` is empty for the figure's own channels."""

    part: Part
    joint: str
    axis: str

    @property
    def name(self) -> str:
        return f"{self.joint}.{self.part}.{self.axis}" if self.joint else f"{self.part}.{self.axis}"

    @property
    def kind(self) -> Kind:
        if self.part == "scale":
            return "scale"
        return "turn" if self.part == "turn" or self.axis == "heading" else "move"

    @property
    def unit(self) -> Unit:
        return _UNITS[self.kind]


def channel(name: str) -> Channel:
    """A channel by its name. Raises Refusal for a name that is none."""
    part, _, axis = name.rpartition(".")
    if part == "travel" and axis in TRAVEL:
        return Channel("travel", "", axis)
    if part == "root" and axis in AXES:
        return Channel("root", "", axis)
    joint, _, which = part.rpartition(".")
    if joint and axis in AXES:
        if which == "turn":
            return Channel("turn", joint, axis)
        if which == "move":
            return Channel("move", joint, axis)
        if which == "scale":
            return Channel("scale", joint, axis)
    raise Refusal(f"“{name}” is not a channel that can be keyed.")


def joint_of(figure: Figure, name: str) -> str:
    """The joint whose row a channel lies on: the root's for the figure's own."""
    return channel(name).joint or figure.names[0]


def turn_axes(figure: Figure, joint: str) -> tuple[str, ...]:
    """The axes that a joint can be turned about: one in a cut-out's plane has that of the plane alone."""
    plane = figure.joints[figure.place_of(joint)].plane
    return AXES if plane is None else (plane,)


def channels_of(figure: Figure, joint: str, kinds: frozenset[Kind]) -> list[str]:
    """A joint's channels of these kinds; the root's place is the figure's own `root`."""
    place = figure.place_of(joint)
    turns = turn_axes(figure, joint) if "turn" in kinds else ()
    names = [f"{joint}.turn.{axis}" for axis in turns]
    if "move" in kinds:
        part = "root" if place == 0 else f"{joint}.move"
        names += [f"{part}.{axis}" for axis in AXES]
    if "scale" in kinds:
        names += [f"{joint}.scale.{axis}" for axis in AXES]
    return names


def motion_of(curves: Mapping[str, Curve], figure: Figure, times: Array) -> Motion:
    """Curves as motion at these times. Channels that no curve drives keep the rest pose (rule 2.2)."""
    values = {name: curve.values(times) for name, curve in curves.items()}
    return _posed(values, figure, len(times))


def motion_at_frames(curves: Mapping[str, Curve], figure: Figure, count: int) -> Motion:
    """The same at frames 0 … count − 1; curves that were seen before are not worked out again."""
    values = {name: curve.at_frames(count) for name, curve in curves.items()}
    return _posed(values, figure, count)


def _posed(values_of: Mapping[str, Array], figure: Figure, frames: int) -> Motion:
    motion = Motion.resting(frames, len(figure.joints), figure.offsets[0])
    root_move = motion.root_move.copy(order="F")
    turns: dict[int, Array] = {}
    moves: dict[int, Array] = {}
    scales: dict[int, Array] = {}
    for name, values in values_of.items():
        take(frames)
        driven = channel(name)
        if driven.part == "travel":
            column = TRAVEL.index(driven.axis)
            motion.travel[:, column] = np.radians(values) if column == 2 else values
        elif driven.part == "root":
            root_move[:, AXES.index(driven.axis)] = values
        elif driven.part == "turn":
            place = figure.place_of(driven.joint)
            turns.setdefault(place, np.zeros((frames, 3)))
            turns[place][:, AXES.index(driven.axis)] = values
        elif driven.part == "scale":
            place = figure.place_of(driven.joint)
            scales.setdefault(place, np.ones((frames, 3), order="F"))
            scales[place][:, AXES.index(driven.axis)] = np.maximum(values, LEAST_SCALE)
        else:
            place = figure.place_of(driven.joint)
            offset = np.tile(figure.offsets[place], (frames, 1))
            moves.setdefault(place, np.asfortranarray(offset))
            moves[place][:, AXES.index(driven.axis)] = values
    # All joints of one Euler order at once: few, long runs.
    by_order: dict[str, list[int]] = {}
    for place in turns:
        by_order.setdefault(figure.joints[place].euler_order, []).append(place)
    for order, places in by_order.items():
        degrees = np.stack([turns[place] for place in places], axis=1)
        columns = ["XYZ".index(axis) for axis in order]
        motion.rotations[:, places] = rotation.from_axes(order, degrees[..., columns])
    return Motion(motion.travel, root_move, motion.rotations, moves, scales)


def turned(figure: Figure, place: int, degrees: Array) -> Array:
    """A joint's turn about its own x, y and z in its Euler order. [..., 3] → [..., 4]."""
    order = figure.joints[place].euler_order
    return rotation.from_axes(order, degrees[..., ["XYZ".index(axis) for axis in order]])


def turns_of(figure: Figure, place: int, rotations: Array) -> Array:
    """A joint's rotations as degrees about x, y, z, unrolled over frames. [frames, 4] → [frames, 3]."""
    order = figure.joints[place].euler_order
    degrees = rotation.unroll(rotation.to_euler(figure.turned_in_plane(place, rotations), order))
    result: Array = degrees[..., [order.index(axis) for axis in "XYZ"]]
    return result


def turn_near(figure: Figure, place: int, rotation_: Array, near: Array) -> Array:
    """One rotation as degrees about x, y, z: of all equal triples the one nearest `near` [3]."""
    order = figure.joints[place].euler_order
    columns = ["XYZ".index(axis) for axis in order]
    found = rotation.to_euler(figure.turned_in_plane(place, rotation_[None]), order)
    both = rotation.unroll(np.concatenate([near[columns][None], found]))
    result: Array = both[1][[order.index(axis) for axis in "XYZ"]]
    return result


def values_at(
    figure: Figure, motion: Motion, frame: int, near: Mapping[str, float], joints: Set[str]
) -> dict[str, float]:
    """What the channels of some joints stand at in one pose; turns as near to `near` as can be."""
    values: dict[str, float] = {}
    travel = motion.travel[frame]
    for column, axis in enumerate(TRAVEL):
        values[f"travel.{axis}"] = float(
            np.degrees(travel[column]) if column == 2 else travel[column]
        )
    for column, axis in enumerate(AXES):
        values[f"root.{axis}"] = float(motion.root_move[frame, column])
    for place, joint in enumerate(figure.names):
        if joint not in joints:
            continue
        before = np.array([near.get(f"{joint}.turn.{axis}", 0.0) for axis in AXES])
        degrees = turn_near(figure, place, motion.rotations[frame, place], before)
        for column, axis in enumerate(AXES):
            values[f"{joint}.turn.{axis}"] = float(degrees[column])
        offset = motion.moves[place][frame] if place in motion.moves else figure.offsets[place]
        for column, axis in enumerate(AXES):
            values[f"{joint}.move.{axis}"] = float(offset[column])
        scale = motion.scales[place][frame] if place in motion.scales else np.ones(3)
        for column, axis in enumerate(AXES):
            values[f"{joint}.scale.{axis}"] = float(scale[column])
    return values
