"""Joints against what they hang on, as glTF 2.0 has its nodes."""

from .. import rotation
from ..arrays import Array
from ..figure import Figure, Placed


def local_turns(figure: Figure, placed: Placed) -> Array:
    """How each joint is turned against its parent, from frame to frame the short way. [frames, joints, 4]"""
    local = placed.rotations.copy()
    for joint, parent in enumerate(figure.parents):
        if parent >= 0:
            above = rotation.conjugate(placed.rotations[:, parent])
            local[:, joint] = rotation.multiply(above, placed.rotations[:, joint])
    return rotation.align_hemispheres(rotation.normalise(local))


def local_places(figure: Figure, placed: Placed) -> Array:
    """Where each joint hangs on its parent, along the parent's axes. [frames, joints, 3]"""
    local = placed.positions.copy()
    for joint, parent in enumerate(figure.parents):
        if parent >= 0:
            reach = placed.positions[:, joint] - placed.positions[:, parent]
            above = rotation.conjugate(placed.rotations[:, parent])
            local[:, joint] = rotation.rotate(above, reach)
    result: Array = local
    return result
