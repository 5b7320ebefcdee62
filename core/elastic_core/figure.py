"""Figures: trees of joints, their rest pose and forward kinematics (rules 2.1 to 2.3)."""

from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, field_validator

from . import ground, rotation
from .arrays import Array
from .dress import Dress
from .errors import Refusal
from .motion import Motion


def _known_order(order: str) -> str:
    if order not in rotation.EULER_ORDERS:
        raise Refusal(f"“{order}” is not an Euler order; write one of XYZ … ZYX.")
    return order


Vector = tuple[float, float, float]
Quaternion = tuple[float, float, float, float]
EulerOrder = Annotated[str, AfterValidator(_known_order)]


class Joint(BaseModel):
    """One joint. `parent` is the parent's place in the figure's list, −1 for the root."""

    model_config = ConfigDict(frozen=True)

    name: str = Field(min_length=1)
    parent: int
    offset: Vector
    rest: Quaternion = rotation.IDENTITY
    euler_order: EulerOrder = "ZXY"
    side: Literal["left", "right", "middle"] = "middle"
    mirror: str | None = None
    rigid: bool = False
    end_sites: tuple[Vector, ...] = ()


class Figure(BaseModel):
    """A figure document: joints with parents before children, offsets in metres, y up."""

    model_config = ConfigDict(frozen=True)

    schema_version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=120)
    joints: tuple[Joint, ...]
    dress: Dress = Dress()

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

    @cached_property
    def names(self) -> tuple[str, ...]:
        return tuple(joint.name for joint in self.joints)

    @cached_property
    def parents(self) -> tuple[int, ...]:
        return tuple(joint.parent for joint in self.joints)

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

    @cached_property
    def height_metres(self) -> float:
        """From the lowest to the highest point of the rest pose, end sites included."""
        placed = forward(self, self.rest_motion)
        heights = [placed.positions[0, :, 1]]
        for place, joint in enumerate(self.joints):
            for site in joint.end_sites:
                tip = rotation.rotate(placed.rotations[0, place], np.array(site))
                heights.append(placed.positions[0, place, 1] + tip[1:2])
        every = np.concatenate(heights)
        return float(every.max() - every.min())

    def place_of(self, name: str) -> int:
        """Where a joint stands in the list."""
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


def forward(figure: Figure, motion: Motion) -> Placed:
    """Forward kinematics: every joint's world position and rotation at every frame (rule 2.3)."""
    frames, joints = motion.rotations.shape[:2]
    if joints != len(figure.joints):
        raise Refusal(f"{figure.name} has {len(figure.joints)} joints; the motion has {joints}.")
    positions: Array = np.empty((frames, joints, 3), order="F")
    world: Array = np.empty((frames, joints, 4), order="F")
    heading = rotation.about_axis("Y", motion.travel[:, 2])
    unturned = bool((figure.rests == rotation.IDENTITY).all())
    for place, joint in enumerate(figure.joints):
        local = motion.rotations[:, place]
        if not unturned:
            local = rotation.multiply(figure.rests[place], local)
        if joint.parent < 0:
            x, z = ground.turn(motion.travel[:, 2], motion.root_move[:, 0], motion.root_move[:, 2])
            positions[:, place, 0] = motion.travel[:, 0] + x
            positions[:, place, 1] = motion.root_move[:, 1]
            positions[:, place, 2] = motion.travel[:, 1] + z
            world[:, place] = rotation.multiply(heading, local)
            continue
        above = world[:, joint.parent]
        reach = motion.moves.get(place, figure.offsets[place])
        positions[:, place] = positions[:, joint.parent] + rotation.rotate(above, reach)
        world[:, place] = rotation.multiply(above, local)
    return Placed(positions, world)
