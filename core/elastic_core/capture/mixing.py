"""A motion whose frames are mixed with their neighbours: what every linear filter does (rules 6.1 and 6.2).

Numbers are mixed as they are; rotations either as quaternions of one hemisphere, made whole again
afterwards, or as rotation vectors about a joint's mean, which is exact for a joint that turns about one axis.
"""

import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

import numpy as np

from .. import rotation
from ..arrays import Array, by_runs
from ..motion import Motion

T = TypeVar("T")
Mix = Callable[[Array], Array]
"""Rows of numbers mixed along frames: [n, numbers] → [m, numbers]."""

# A long take has no room for several copies of itself.
_JOINTS_AT_ONCE = 4
# A short one is done before others could help.
_LONG_FRAMES = 5_000
# Rotation vectors tell turns apart up to a half turn; close to it the axis is mostly noise.
_FARTHEST_RADIANS = np.radians(150)


def by_blocks(
    motion: Motion, joints: Sequence[int], work: Callable[[list[int], Array], T]
) -> list[T]:
    """What `work` makes of joints' places and turns [n, places, 4], a few joints at a time, in order: as many
    blocks side by side as there are processors. The turns are its own to change."""
    blocks = [list(joints[k : k + _JOINTS_AT_ONCE]) for k in range(0, len(joints), _JOINTS_AT_ONCE)]

    def one(places: list[int]) -> T:
        return work(places, _turns(motion, places))

    if len(blocks) < 2 or motion.frames < _LONG_FRAMES:
        return [one(places) for places in blocks]
    with ThreadPoolExecutor(min(len(blocks), os.cpu_count() or 1)) as side_by_side:
        return list(side_by_side.map(one, blocks))


def _turns(motion: Motion, places: list[int]) -> Array:
    """Joints' rotations in one hemisphere along frames, the root's as it is in the world. [n, places, 4]."""
    here = slice(places[0], places[-1] + 1)
    together = places == list(range(here.start, here.stop))
    turns = motion.rotations[:, here] if together else motion.rotations[:, places]
    if 0 in places:
        turns = turns.copy(order="F")
        turns[:, places.index(0)] = motion.root_in_world()[1]
    return rotation.align_hemispheres(turns)


def mixed(motion: Motion, mix: Mix) -> Motion:
    """The motion with all its numbers mixed, its turns as vectors where they can be. The root is taken as it
    is in the world, and its path becomes the travel."""
    position, _ = motion.root_in_world()
    places = mix(position)
    rotations: Array = np.empty((len(places), motion.joints, 4), order="F")

    def work(joints: list[int], turns: Array) -> None:
        rotations[:, joints] = mixed_turns(turns, mix)

    by_blocks(motion, range(motion.joints), work)
    moves = {joint: mix(move) for joint, move in motion.moves.items()}
    return Motion.from_root(by_runs(places), rotations, moves, given_away=True)


def mixed_turns(turns: Array, mix: Mix) -> Array:
    """Rotations in one hemisphere, mixed: as vectors about each joint's mean where they stay within 150° of
    it, else as quaternions. [n, joints, 4] → [m, joints, 4]."""
    mean = rotation.normalise(turns.mean(axis=0) + 1e-12)
    away = rotation.vector(rotation.multiply(rotation.conjugate(mean), turns))
    farthest = np.sqrt((away * away).sum(axis=-1)).max(axis=0)
    near = farthest < _FARTHEST_RADIANS
    done = rotation.multiply(mean, rotation.from_vector(_mixed_parts(away, mix)))
    if not near.all():
        done[:, ~near] = mixed_quaternions(turns[:, ~near], mix)
    return done


def mixed_quaternions(turns: Array, mix: Mix) -> Array:
    """Rotations in one hemisphere, mixed part by part and made whole again. [n, joints, 4] → [m, joints, 4]."""
    return _whole(_mixed_parts(turns, mix))


def _mixed_parts(values: Array, mix: Mix) -> Array:
    """Each part of each joint mixed by itself. [n, joints, parts] → [m, joints, parts]."""
    # Each is one run of frames in memory: seen so, nothing has to be copied.
    columns = by_runs(values).T
    mixed_columns = np.ascontiguousarray(mix(columns.reshape(-1, len(values)).T).T)
    return mixed_columns.reshape(*columns.shape[:-1], -1).T


def _whole(q: Array) -> Array:
    """Unit length again, in place."""
    squares = q[..., 0] ** 2
    for part in (1, 2, 3):
        squares += q[..., part] ** 2
    np.sqrt(squares, out=squares)
    for part in range(4):
        q[..., part] /= squares
    return q
