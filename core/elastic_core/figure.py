"""Figures: trees of joints, their rest pose and forward kinematics (rules 2.1 to 2.3)."""

from collections.abc import Callable, Hashable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Annotated, Any, Literal, TypeVar

import numpy as np
from pydantic import AfterValidator, Field, field_validator, model_validator

from . import rotation
from .arrays import Array, Index
from .budget import take
from .dress import Dress
from .errors import Refusal
from .frozen import Frozen
from .motion import Motion
from .quantities import MOST_FRAMES, Metres, Value


def _known_order(order: str) -> str:
    if order not in rotation.EULER_ORDERS:
        raise Refusal(f"“{order}” is not an Euler order; write one of XYZ … ZYX.")
    return order


T = TypeVar("T")
Vector = tuple[Metres, Metres, Metres]
# Of unit length, or to be made so.
Quaternion = tuple[Value, Value, Value, Value]
EulerOrder = Annotated[str, AfterValidator(_known_order)]


class Joint(Frozen):
    """One joint. `parent` is the parent's place in the figure's list, −1 for the root. One with a `plane` turns
    about that axis of its own alone, as the paper of a cut-out does (rule 2.1)."""

    name: str = Field(min_length=1)
    parent: Annotated[int, Field(ge=-1, le=MOST_FRAMES)]
    offset: Vector
    rest: Quaternion = rotation.IDENTITY
    euler_order: EulerOrder = "ZXY"
    side: Literal["left", "right", "middle"] = "middle"
    mirror: str | None = None
    rigid: bool = False
    plane: Literal["x", "y", "z"] | None = None
    end_sites: tuple[Vector, ...] = ()


class LegJoints(Frozen):
    """The joints of a leg, by their names; some feet have no toes."""

    side: Literal["left", "right", "middle"]
    thigh: str
    shin: str
    foot: str
    toe: str | None = None


class Figure(Frozen):
    """A figure document: joints with parents before children, offsets in metres, y up.

    `spellings` tells which joint plays which name of a clip's: the mapping that a person confirmed
    (rule 2.4). `legs` were set by hand; without them they are read from names and shape.
    """

    schema_version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=120)
    joints: tuple[Joint, ...]
    dress: Dress = Dress()
    spellings: dict[str, str] = Field(default={})
    legs: Annotated[tuple[LegJoints, ...], Field(max_length=8)] | None = None

    @field_validator("joints")
    @classmethod
    def _a_tree(cls, joints: tuple[Joint, ...]) -> tuple[Joint, ...]:
        if not joints or joints[0].parent != -1:
            raise Refusal("A figure begins with its root joint.")
        if joints[0].rest != rotation.IDENTITY:
            raise Refusal("A root rests upright, looking along +z: it has no rest rotation.")
        for place, joint in enumerate(joints[1:], start=1):
            if not 0 <= joint.parent < place:
                raise Refusal(f"Joint “{joint.name}” comes before its parent.")
        if len({joint.name for joint in joints}) < len(joints):
            raise Refusal("Two joints of a figure cannot share a name.")
        return joints

    @model_validator(mode="after")
    def _legs_are_there(self) -> "Figure":
        names = {joint.name for joint in self.joints}
        for leg in self.legs or ():
            if not {leg.thigh, leg.shin, leg.foot, leg.toe or leg.foot} <= names:
                raise Refusal("A leg of the figure has a joint that is not there.")
        return self

    @cached_property
    def names(self) -> tuple[str, ...]:
        return tuple(joint.name for joint in self.joints)

    @cached_property
    def parents(self) -> tuple[int, ...]:
        return tuple(joint.parent for joint in self.joints)

    @cached_property
    def levels(self) -> tuple[tuple[Index, Index], ...]:
        """Joints below the root by their depth, with their parents."""
        depths = [0]
        for parent in self.parents[1:]:
            depths.append(depths[parent] + 1)
        found = []
        for depth in range(1, max(depths) + 1):
            joints = np.array([k for k, d in enumerate(depths) if d == depth], dtype=np.intp)
            found.append((joints, np.array([self.parents[k] for k in joints], dtype=np.intp)))
        return tuple(found)

    @cached_property
    def planes(self) -> tuple[tuple[int, Index], ...]:
        """The joints that turn about one axis of their own alone: the axis, and their places."""
        found = []
        for axis, name in enumerate("xyz"):
            own = [k for k, joint in enumerate(self.joints) if joint.plane == name]
            if own:
                found.append((axis, np.array(own, dtype=np.intp)))
        return tuple(found)

    def in_plane(self, rotations: Array) -> Array:
        """Rotations of its joints as it can turn them (rule 2.1). [frames, joints, 4]"""
        if not self.planes:
            return rotations
        turned = rotations.copy(order="F")
        for axis, joints in self.planes:
            turned[:, joints] = rotation.twist(rotations[:, joints], axis)
        return turned

    def turned_in_plane(self, place: int, rotations: Array) -> Array:
        """Rotations of one joint as it can turn. [..., 4]"""
        plane = self.joints[place].plane
        return rotations if plane is None else rotation.twist(rotations, "xyz".index(plane))

    @cached_property
    def offsets(self) -> Array:
        """Offsets from the parent, metres [joints, 3]."""
        return np.array([joint.offset for joint in self.joints], dtype=np.float64)

    @cached_property
    def rests(self) -> Array:
        """Rest rotations [joints, 4]."""
        return np.array([joint.rest for joint in self.joints], dtype=np.float64)

    @cached_property
    def rest_motion(self) -> Motion:
        """One frame of the rest pose, standing at the origin."""
        return Motion.resting(1, len(self.joints), root_move=self.offsets[0])

    @property
    def as_painted(self) -> "Figure":
        """The same with all that it wears written out, on both of its sides."""
        return self.model_copy(update={"dress": self.dress.both_sides})

    @cached_property
    def at_rest(self) -> "Placed":
        """The rest pose in the world, standing at the origin."""
        return forward(self, self.rest_motion)

    @cached_property
    def height_metres(self) -> float:
        """From the lowest to the highest point of the rest pose, end sites and the paint of cards included."""
        placed = self.at_rest
        heights = [placed.positions[0, :, 1]]
        for place, joint in enumerate(self.joints):
            for site in joint.end_sites:
                tip = rotation.rotate(placed.rotations[0, place], np.array(site))
                heights.append(placed.positions[0, place, 1] + tip[1:2])
        for card in self.dress.cards:
            place = self.place_of(card.joint)
            corners = rotation.rotate(placed.rotations[0, place], card.painted_corners)
            heights.append(placed.positions[0, place, 1] + corners[:, 1])
        every = np.concatenate(heights)
        return float(every.max() - every.min())

    @cached_property
    def _once(self) -> dict[Hashable, Any]:
        return {}

    def once(self, key: Hashable, make: Callable[[], T]) -> T:
        """What follows from the figure alone, worked out once for it under a key."""
        if key not in self._once:
            self._once[key] = make()
        found: T = self._once[key]
        return found

    def place_of(self, name: str) -> int:
        """Where a joint stands in the list. Raises Refusal for a joint that it lacks."""
        if name not in self.names:
            raise Refusal(f"{self.name} has no joint called “{name}”.")
        return self.names.index(name)

    def same_skeleton(self, other: "Figure") -> bool:
        """Whether motion of one plays on the other as it is: names, tree and offsets agree."""
        return (
            self.names == other.names
            and self.parents == other.parents
            and bool(np.allclose(self.offsets, other.offsets, atol=1e-4))
            and bool(np.allclose(self.rests, other.rests, atol=1e-6))
        )


@dataclass(frozen=True, eq=False)
class Placed:
    """Joints in the world: positions [frames, joints, 3] metres, rotations [frames, joints, 4]."""

    positions: Array
    rotations: Array


def forward(figure: Figure, motion: Motion, only: tuple[int, ...] | None = None) -> Placed:
    """Forward kinematics: every joint's world position and rotation at every frame (rule 2.3).

    With `only` these joints, by their places, and those they hang on; the others are nowhere: not a number.
    Raises Refusal for motion of another number of joints.
    """
    frames, joints = motion.rotations.shape[:2]
    if joints != len(figure.joints):
        raise Refusal(f"{figure.name} has {len(figure.joints)} joints; the motion has {joints}.")
    if figure.planes:
        motion = replace(motion, rotations=figure.in_plane(motion.rotations))
    take(7 * frames * joints)
    positions: Array = np.empty((frames, joints, 3), order="F")
    world: Array = np.empty((frames, joints, 4), order="F")
    levels = figure.levels
    if only is not None:
        positions.fill(np.nan)
        world.fill(np.nan)
        levels = figure.once(("levels of", only), lambda: _levels_of(figure, only))
    positions[:, 0], world[:, 0] = motion.root_in_world()
    hung = hanging(figure, motion)
    turned = bool((figure.rests != rotation.IDENTITY).any())
    # All joints of one depth at once: few, long runs.
    for joints_there, parents in levels:
        local = _joints(motion.rotations, joints_there)
        if turned:
            local = rotation.multiply(figure.rests[joints_there], local)
        above = _joints(world, parents)
        reach = figure.offsets[joints_there]
        if moved := [k for k, joint in enumerate(joints_there) if int(joint) in hung]:
            reach = np.array(np.broadcast_to(reach, (frames, *reach.shape)), order="F")
            for k in moved:
                reach[:, k] = hung[int(joints_there[k])]
        carried = rotation.rotate(above, reach)
        carried += _joints(positions, parents)
        positions.T[:, joints_there] = carried.T
        world.T[:, joints_there] = rotation.multiply(above, local).T
    return Placed(positions, world)


def _levels_of(figure: Figure, only: tuple[int, ...]) -> tuple[tuple[Index, Index], ...]:
    """The levels of a figure with these joints and those they hang on."""
    wanted: set[int] = set()
    for joint in only:
        while joint >= 0:
            wanted.add(joint)
            joint = figure.parents[joint]
    found = []
    for joints, parents in figure.levels:
        own = np.array([joint in wanted for joint in joints.tolist()], dtype=np.bool_)
        if own.any():
            found.append((joints[own], parents[own]))
    return tuple(found)


def hanging(figure: Figure, motion: Motion) -> dict[int, Array]:
    """Where joints hang on their parents, for those that are moved or hang on a scaled one: joint →
    [frames, 3] metres along the parent's axes."""
    hung = {joint: move for joint, move in motion.moves.items() if joint}
    if motion.scales:
        for joint, parent in enumerate(figure.parents):
            if parent in motion.scales:
                hung[joint] = hung.get(joint, figure.offsets[joint]) * motion.scales[parent]
    return hung


def _joints(values: Array, joints: Index) -> Array:
    """`values[:, joints]`, one contiguous run of frames per joint."""
    picked: Array = np.take(values.T, joints, axis=1)
    return picked.T
