"""Reaching: an arm or a leg laid so that its hand or foot comes to a place (rule 5.5)."""

from dataclasses import dataclass, replace

import numpy as np

from . import rotation
from .anatomy import legs_of
from .arrays import Array
from .errors import Refusal
from .figure import Figure, Placed, forward
from .ik import two_bone, unit
from .motion import Motion

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
    figure: Figure, motion: Motion, limb: Limb, target: Array, placed: Placed | None = None
) -> Motion:
    """The motion with a limb's end at `target` [frames, 3] (world, metres), as far as it reaches.

    The limb bends in the plane it bent in, so a knee never flips; the end keeps its world rotation.
    `placed` is the motion in the world, where it is known; other limbs may have been bent since.
    """
    placed = placed or forward(figure, motion)
    start, bend = placed.positions[:, limb.upper], placed.positions[:, limb.middle]
    end = placed.positions[:, limb.end]
    upper, lower = _length(bend - start), _length(end - bend)
    towards = _bend_of(figure, placed, limb)
    new_bend, new_end = two_bone(start, target, upper, lower, towards)
    swung = rotation.least(bend - start, new_bend - start)
    turned = rotation.multiply(swung, placed.rotations[:, limb.upper])
    carried = rotation.rotate(swung, end - bend)
    bent = rotation.multiply(rotation.least(carried, new_end - new_bend), swung)
    lower_world = rotation.multiply(bent, placed.rotations[:, limb.middle])
    above = placed.rotations[:, figure.parents[limb.upper]]
    rotations = motion.rotations.copy(order="F")
    rotations[:, limb.upper] = local(figure, limb.upper, above, turned)
    rotations[:, limb.middle] = local(figure, limb.middle, turned, lower_world)
    rotations[:, limb.end] = local(figure, limb.end, lower_world, placed.rotations[:, limb.end])
    return replace(motion, rotations=rotations)


def local(figure: Figure, joint: int, above: Array, world: Array) -> Array:
    """A joint's rotation relative to its rest, from its parent's and its own in the world. [..., 4]."""
    resting = rotation.multiply(above, figure.rests[joint])
    return rotation.multiply(rotation.conjugate(resting), world)


def _bend_of(figure: Figure, placed: Placed, limb: Limb) -> Array:
    """Where the middle joint stands out to: as it does now; when straight, as rest bends it, or
    forward for a leg and back for an arm. [frames, 3]."""
    start, bend, end = (placed.positions[:, j] for j in (limb.upper, limb.middle, limb.end))
    along = unit(end - start)
    out = (bend - start) - along * ((bend - start) * along).sum(axis=-1, keepdims=True)
    reach = limb_length_metres(figure, limb)
    weight = np.clip(np.linalg.norm(out, axis=-1, keepdims=True) / (LEAST_BEND * reach), 0.0, 1.0)
    at_rest = figure.once(("usual bend", limb), lambda: _usual_bend(figure, limb))
    usual = rotation.rotate(placed.rotations[:, limb.upper], at_rest)
    towards: Array = unit(out) * weight + usual * (1 - weight)
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
