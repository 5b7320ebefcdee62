"""Travelling cycles (rules 1.2 and 4.4)."""

from dataclasses import dataclass

import numpy as np

from .. import ground, rotation
from ..arrays import Array
from ..figure import Figure, forward
from ..motion import Motion, join_runs

REPEAT_DEGREES = 0.1
REPEAT_METRES = 0.001


def period_between(start: Array, end: Array) -> Array:
    """The planar motion M with M∘start = end: what one round adds. [3], [3] → [3]."""
    moved = ground.compose(end, ground.inverse(start))
    moved[2] = ground.nearest_turn(moved[2])
    return moved


def last_repeats_first(figure: Figure, motion: Motion) -> bool:
    """Whether the last pose is a copy of the first, travel apart (rule 1.2)."""
    if motion.frames < 3:
        return False
    ends = motion.at(np.array([0, motion.frames - 1]))
    turned = rotation.angle_between(ends.rotations[0], ends.rotations[1])
    placed = forward(figure, ends.carried(np.zeros_like(ends.travel)))
    moved = np.linalg.norm(placed.positions[1] - placed.positions[0], axis=-1)
    return bool(np.degrees(turned).max() < REPEAT_DEGREES and moved.max() < REPEAT_METRES)


@dataclass(frozen=True)
class Cycle:
    """A cycle's poses, the one made for frame L included, and what one round adds."""

    motion: Motion
    period: tuple[float, float, float]

    @property
    def length_frames(self) -> int:
        return self.motion.frames - 1


def close_on_repeat(motion: Motion) -> Cycle:
    """A motion whose last pose repeats its first, as a cycle of one frame less (rule 1.2)."""
    return _steady(motion, period_between(motion.travel[0], motion.travel[-1]))


def close_as_is(motion: Motion) -> Cycle:
    """Every frame is kept, and the pose for frame L is foretold from the last frames."""
    after = _foretold(motion)
    motion = join_runs([motion, after])
    return _steady(motion, period_between(motion.travel[0], motion.travel[-1]))


def _foretold(motion: Motion) -> Motion:
    """One pose on from the last two, at the speed they have."""
    last = motion.frames - 1
    picked = motion.at(np.array([max(0, last - 1), last]))
    step = ground.compose(ground.inverse(picked.travel[0]), picked.travel[1])
    beyond = np.full((1, 1), 2.0)
    return Motion(
        ground.compose(picked.travel[1], step)[None],
        2 * picked.root_move[1:] - picked.root_move[:1],
        rotation.slerp(picked.rotations[:1], picked.rotations[1:], beyond),
        {joint: 2 * move[1:] - move[:1] for joint, move in picked.moves.items()},
        {joint: scale[1:] for joint, scale in picked.scales.items()},
    )


def _steady(motion: Motion, period: Array) -> Cycle:
    """Lay the travel on the even path of its period; sway and surge stay with the root.

    The heading of a walk then is where the walk goes, not where the pelvis happens to point.
    """
    length = motion.frames - 1
    even = ground.power(period, np.arange(length + 1) / length)
    swing = ground.compose(ground.inverse(even), motion.travel)
    # The path starts at the middle of the swing, and is carried round by the same motion.
    middle = swing[:length].mean(axis=0)
    path = ground.compose(even, middle)
    carried = period_between(path[0], path[-1])
    x, z, heading = (float(value) for value in carried)
    return Cycle(motion.relaid(path), (x, z, heading))


def in_place(motion: Motion) -> Motion:
    """The same poses without their travel."""
    return motion.carried(np.zeros_like(motion.travel))
