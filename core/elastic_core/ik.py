"""Two-bone reach for legs and arms, in closed form."""

import numpy as np

from . import rotation
from .arrays import Array


def two_bone(
    start: Array, target: Array, upper: Array | float, lower: Array | float, towards: Array
) -> tuple[Array, Array]:
    """Where the middle joint and the end come to lie. Shapes [..., 3] → two of [..., 3].

    Bone lengths are numbers, or [..., 1] where they change. The bend lies in the plane of `start`,
    `target` and the direction `towards`, on that side, so a knee never flips. A target out of reach
    is approached along the straight line to it.
    """
    reach = target - start
    distance = np.linalg.norm(reach, axis=-1, keepdims=True)
    along = reach / np.maximum(distance, 1e-9)
    length = np.clip(distance, np.abs(upper - lower) + 1e-4, (upper + lower) * 0.9999)
    # The law of cosines gives the middle joint's place along the line and off it.
    inline = (upper**2 + length**2 - lower**2) / (2 * length)
    aside = np.sqrt(np.maximum(upper**2 - inline**2, 0.0))
    bend = unit(towards - along * (towards * along).sum(axis=-1, keepdims=True))
    return start + along * inline + bend * aside, start + along * length


def aimed(down: Array, forward: Array) -> Array:
    """The rotation whose −y axis points along `down` and whose z axis is as near `forward` as can be.

    Shapes [..., 3] → quaternions [..., 4].
    """
    up = unit(-down)
    ahead = unit(forward - up * (forward * up).sum(axis=-1, keepdims=True))
    return rotation.from_basis(rotation.cross(up, ahead), up, ahead)


def unit(v: Array) -> Array:
    """Length one."""
    result: Array = v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-12)
    return result
