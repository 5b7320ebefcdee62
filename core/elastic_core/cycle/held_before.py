"""Feet that were held before: where nothing has changed that a leg hangs on, they stand as they stood.

A pose is drawn tens of times a second, mostly above the hips; holding the feet is half of its cost.
"""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..anatomy import leg_joints
from ..arrays import Array, Index
from ..clip.document import Plant
from ..figure import Figure
from ..motion import Motion
from .feet import Held, hold_feet

# How many are remembered for a figure, and of how long a clip at the most.
REMEMBERED, LONGEST_FRAMES = 4, 2_000


@dataclass(frozen=True)
class _Standing:
    """What holding the feet has changed."""

    root_move: Array
    rotations: Array
    lowered_cm: float
    lowered_at: int


def hold_feet_as_before(
    figure: Figure, motion: Motion, plants: Sequence[Plant], round_: tuple[int, Array] | None
) -> Held:
    """What `hold_feet` gives, to the bit; worked out anew only where what it comes from is new."""
    if motion.frames > LONGEST_FRAMES or not any(plant.held for plant in plants):
        return hold_feet(figure, motion, plants, round_)
    joints = np.array(leg_joints(figure), dtype=np.intp)
    before: dict[bytes, _Standing] = figure.once("feet held before", dict)
    key = _comes_from(motion, joints, plants, round_)
    standing = before.get(key)
    if standing is None:
        held = hold_feet(figure, motion, plants, round_)
        before[key] = _Standing(
            held.motion.root_move,
            held.motion.rotations[:, joints],
            held.lowered_cm,
            held.lowered_at,
        )
        for oldest in list(before)[:-REMEMBERED]:
            before.pop(oldest, None)
        return held
    rotations = motion.rotations.copy(order="F")
    rotations[:, joints] = standing.rotations
    stands = replace(motion, root_move=standing.root_move, rotations=rotations)
    return Held(stands, standing.lowered_cm, standing.lowered_at)


def _comes_from(
    motion: Motion, joints: Index, plants: Sequence[Plant], round_: tuple[int, Array] | None
) -> bytes:
    """A name of all that the held feet come from."""
    digest = hashlib.blake2b(repr((motion.frames, plants, round_ and round_[0])).encode())
    if round_ is not None:
        digest.update(round_[1].tobytes())
    for array in (motion.travel, motion.root_move, motion.rotations[:, joints]):
        digest.update(np.ascontiguousarray(array).tobytes())
    for kind in (motion.moves, motion.scales):
        for joint in sorted(set(kind) & set(joints.tolist())):
            digest.update(f"{joint}".encode())
            digest.update(np.ascontiguousarray(kind[joint]).tobytes())
        digest.update(b"|")
    return digest.digest()
