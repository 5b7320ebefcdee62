"""Planar rigid motion on the ground: (x, z, heading), metres and radians, in arrays [..., 3].

Heading 0 looks along +z; a positive heading turns towards +x. A ground motion G takes a point of
its own frame to the world; `compose(a, b)` is a after b.
"""

import numpy as np

from .arrays import Array, real

ORIGIN = (0.0, 0.0, 0.0)


def turn(heading: Array, x: Array, z: Array) -> tuple[Array, Array]:
    """A ground vector turned by a heading."""
    cosine, sine = np.cos(heading), np.sin(heading)
    return x * cosine + z * sine, z * cosine - x * sine


def compose(a: Array, b: Array) -> Array:
    """`a` after `b`. Shapes [..., 3]."""
    x, z = turn(a[..., 2], b[..., 0], b[..., 1])
    composed: Array = np.empty(np.broadcast_shapes(a.shape, b.shape), order="F")
    composed[..., 0] = a[..., 0] + x
    composed[..., 1] = a[..., 1] + z
    composed[..., 2] = a[..., 2] + b[..., 2]
    return composed


def inverse(a: Array) -> Array:
    """The motion that undoes `a`."""
    x, z = turn(-a[..., 2], -a[..., 0], -a[..., 1])
    return np.stack([x, z, -a[..., 2]], axis=-1)


def power(period: Array, times: Array) -> Array:
    """`period` repeated `times` times, fractions included: a steady walk round a circle (rule 4.4).

    period [3], times [...] → [..., 3]. The sum of the rotated steps is a geometric series; written
    with sines of half angles it stays exact as the turn goes to nothing.
    """
    times = real(times)
    x, z, heading = period[0], period[1], period[2]
    half = heading / 2
    if abs(np.sin(half)) < 1e-12:
        gain = times
    else:
        gain = np.sin(times * half) / np.sin(half)
    moved_x, moved_z = turn((times - 1) * half, x * gain, z * gain)
    return np.stack(
        np.broadcast_arrays(moved_x, moved_z, times * heading),
        axis=-1,
    )


def nearest_turn(angle: Array) -> Array:
    """The same angle within ±π."""
    return np.remainder(angle + np.pi, 2 * np.pi) - np.pi


def blend(a: Array, b: Array, weight: Array) -> Array:
    """Position linearly, heading by the shortest arc (rule 5.2). Shapes [..., 3], weight [...]."""
    mixed = a + (b - a) * weight[..., None]
    mixed[..., 2] = a[..., 2] + nearest_turn(b[..., 2] - a[..., 2]) * weight
    return mixed
