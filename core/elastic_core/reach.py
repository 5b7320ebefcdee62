"""Reaching: an arm or a leg laid so that its hand or foot comes to a place (rule 5.5)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from . import rotation
from .anatomy import legs_of
from .arrays import Array, Index
from .errors import Refusal
from .figure import Figure, Placed, forward
from .ik import two_bone, unit
from .motion import Motion
from .sides import Side

# How far off the straight line a limb must be bent for its own bend to count, as a share of it.
LEAST_BEND = 0.02


@dataclass(frozen=True)
class Limb:
    """Three joints in a row, by their places: hip, knee and ankle, or shoulder, elbow and wrist."""

    upper: int
    middle: int
    end: int


def limb_ending_at(figure: Figure, joint: str) -> Limb:
    """The two bones above a joint.

    Raises Refusal for a joint with no two bones between it and the root.
    """
    end = figure.place_of(joint)
    middle = figure.parents[end]
    upper = figure.parents[middle] if middle > 0 else -1
    if upper <= 0:
        raise Refusal(
            f"{joint} hangs too near the root to be drawn: turn its parents, or the root."
        )
    return Limb(upper, middle, end)


def ends_limb(figure: Figure, place: int) -> bool:
    """A hand or a foot: two bones lead to it from the joint that its side begins with."""
    sides: list[Side] = []
    while place >= 0 and len(sides) < 4:
        sides.append(figure.joints[place].side)
        place = figure.parents[place]
    own = sides[0]
    return own != "middle" and len(sides) == 4 and sides[1] == sides[2] == own != sides[3]


def limb_length_metres(figure: Figure, limb: Limb) -> float:
    """Both bones at rest, stretched out."""
    bones = figure.offsets[[limb.middle, limb.end]]
    return float(np.linalg.norm(bones, axis=-1).sum())


def reach_metres(placed: Placed, limb: Limb) -> Array:
    """Both bones as they are, moved and scaled ones too, stretched out. [frames]."""
    start, bend, end = (placed.positions[:, j] for j in (limb.upper, limb.middle, limb.end))
    reach: Array = (_length(bend - start) + _length(end - bend))[:, 0]
    return reach


def _length(bones: Array) -> Array:
    """[frames, 3] → [frames, 1]."""
    length: Array = np.linalg.norm(bones, axis=-1, keepdims=True)
    return length


def reached(
    figure: Figure,
    motion: Motion,
    limbs: Sequence[Limb],
    targets: Array,
    placed: Placed | None = None,
) -> Motion:
    """The motion with the ends of limbs at `targets` [frames, limbs, 3] (world, metres), as far as they
    reach. No limb hangs on another.

    A limb bends in the plane it bent in, so a knee never flips; its end keeps its world rotation.
    `placed` is the motion in the world, where it is known.
    """
    placed = placed or forward(figure, motion)
    uppers, middles, ends = _joints_of(limbs)
    start, bend, end = (placed.positions[:, joints] for joints in (uppers, middles, ends))
    upper, lower = _length(bend - start), _length(end - bend)
    towards = _bends_of(figure, placed, limbs)
    new_bend, new_end = two_bone(start, targets, upper, lower, towards)
    swung = rotation.least(bend - start, new_bend - start)
    turned = rotation.multiply(swung, placed.rotations[:, uppers])
    carried = rotation.rotate(swung, end - bend)
    bent = rotation.multiply(rotation.least(carried, new_end - new_bend), swung)
    lower_world = rotation.multiply(bent, placed.rotations[:, middles])
    above = placed.rotations[:, np.array(figure.parents, dtype=np.intp)[uppers]]
    rotations = motion.rotations.copy(order="F")
    rotations[:, uppers] = local(figure, uppers, above, turned)
    rotations[:, middles] = local(figure, middles, turned, lower_world)
    rotations[:, ends] = local(figure, ends, lower_world, placed.rotations[:, ends])
    return replace(motion, rotations=rotations)


def local(figure: Figure, joints: int | Index, above: Array, world: Array) -> Array:
    """Joints' rotations relative to their rest, from their parents' and their own in the world.
    [..., 4]."""
    resting = rotation.multiply(above, figure.rests[joints])
    return rotation.multiply(rotation.conjugate(resting), world)


def _joints_of(limbs: Sequence[Limb]) -> tuple[Index, Index, Index]:
    """The upper, the middle and the end joints of limbs."""
    joints = np.array([(limb.upper, limb.middle, limb.end) for limb in limbs], dtype=np.intp)
    return joints[:, 0], joints[:, 1], joints[:, 2]


def _bends_of(figure: Figure, placed: Placed, limbs: Sequence[Limb]) -> Array:
    """Where the middle joints stand out to: as they do now; when straight, as rest bends them, or
    forward for a leg and back for an arm. [frames, limbs, 3]."""
    start, bend, end = (placed.positions[:, joints] for joints in _joints_of(limbs))
    along = unit(end - start)
    out = (bend - start) - along * ((bend - start) * along).sum(axis=-1, keepdims=True)
    reach = np.array([[limb_length_metres(figure, limb)] for limb in limbs])
    weight = np.clip(np.linalg.norm(out, axis=-1, keepdims=True) / (LEAST_BEND * reach), 0.0, 1.0)
    at_rest = [
        figure.once(("usual bend", limb), partial(_usual_bend, figure, limb)) for limb in limbs
    ]
    turned = placed.rotations[:, [limb.upper for limb in limbs]]
    towards: Array = unit(out) * weight + rotation.rotate(turned, np.stack(at_rest)) * (1 - weight)
    return towards


def _usual_bend(figure: Figure, limb: Limb) -> Array:
    """The bend of the rest pose, as the upper joint sees it [3]."""
    rest = figure.at_rest
    start, bend, end = (rest.positions[0, j] for j in (limb.upper, limb.middle, limb.end))
    along = unit(end - start)
    out = (bend - start) - along * float((bend - start) @ along)
    if np.linalg.norm(out) < LEAST_BEND * limb_length_metres(figure, limb):
        is_leg = limb.upper in {leg.thigh for leg in legs_of(figure)}
        out = np.array([0.0, 0.0, 1.0 if is_leg else -1.0])
    return rotation.rotate(rotation.conjugate(rest.rotations[0, limb.upper]), out)
