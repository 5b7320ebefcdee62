"""Unit quaternions (w, x, y, z) and Euler angles, vectorised over everything but the last axis.

Formulas: K. Shoemake, "Animating rotation with quaternion curves" (SIGGRAPH 1985) for slerp;
K. Shoemake, "Euler angle conversion" (Graphics Gems IV, 1994) for the orders.
"""

from itertools import permutations

import numpy as np

from .arrays import Array, real

IDENTITY = (1.0, 0.0, 0.0, 0.0)
EULER_ORDERS = tuple("".join(order) for order in permutations("XYZ"))
_AXIS = {"X": 0, "Y": 1, "Z": 2}


def multiply(a: Array, b: Array) -> Array:
    """`a` after `b`. Shapes [..., 4] → [..., 4]."""
    aw, ax, ay, az = a[..., 0], a[..., 1], a[..., 2], a[..., 3]
    bw, bx, by, bz = b[..., 0], b[..., 1], b[..., 2], b[..., 3]
    w = aw * bw - ax * bx - ay * by - az * bz
    product: Array = np.empty((*w.shape, 4), order="F")
    product[..., 0] = w
    product[..., 1] = aw * bx + ax * bw + ay * bz - az * by
    product[..., 2] = aw * by - ax * bz + ay * bw + az * bx
    product[..., 3] = aw * bz + ax * by - ay * bx + az * bw
    return product


def conjugate(q: Array) -> Array:
    """The inverse of unit quaternions."""
    result: Array = q * np.array([1.0, -1.0, -1.0, -1.0])
    return result


def normalise(q: Array) -> Array:
    """Unit length again."""
    squares = q[..., 0] * q[..., 0]
    for axis in (1, 2, 3):
        squares = squares + q[..., axis] * q[..., axis]
    result: Array = q / np.sqrt(squares)[..., None]
    return result


def rotate(q: Array, v: Array) -> Array:
    """Vectors [..., 3] turned by quaternions [..., 4]."""
    w, x, y, z = q[..., 0], q[..., 1], q[..., 2], q[..., 3]
    vx, vy, vz = v[..., 0], v[..., 1], v[..., 2]
    # t = 2 q × v;  v' = v + w t + q × t
    tx = 2 * (y * vz - z * vy)
    ty = 2 * (z * vx - x * vz)
    tz = 2 * (x * vy - y * vx)
    first = vx + w * tx + (y * tz - z * ty)
    turned: Array = np.empty((*first.shape, 3), order="F")
    turned[..., 0] = first
    turned[..., 1] = vy + w * ty + (z * tx - x * tz)
    turned[..., 2] = vz + w * tz + (x * ty - y * tx)
    return turned


def slerp(a: Array, b: Array, t: Array) -> Array:
    """From `a` to `b` by the shortest arc, at constant speed; `t` may lie outside 0…1.

    Shapes [..., 4], [..., 4], t broadcast against [...].
    """
    cosine = a[..., 0] * b[..., 0]
    for axis in (1, 2, 3):
        cosine += a[..., axis] * b[..., axis]
    sign = np.where(cosine < 0, -1.0, 1.0)
    cosine *= sign
    np.minimum(cosine, 1.0, out=cosine)
    sine = np.sqrt((1 - cosine) * (1 + cosine))
    angle = np.arctan2(sine, cosine)
    # Below a hundred-thousandth of a radian both weights are straight lines to within 1e-11.
    near = sine < 1e-5
    safe = np.where(near, 1.0, sine)
    weight_b = np.where(near, t, np.sin(t * angle) / safe)
    weight_a = np.where(near, 1.0 - t, np.sin((1.0 - t) * angle) / safe)
    weight_b *= sign
    result: Array = np.empty(np.broadcast_shapes(a.shape, b.shape, (*np.shape(t), 1)), order="F")
    for axis in range(4):
        result[..., axis] = weight_a * a[..., axis] + weight_b * b[..., axis]
    return normalise(result) if near.any() else result


def angle_between(a: Array, b: Array) -> Array:
    """The least angle from one rotation to the other, in radians, 0…π. Shape [...]."""
    difference = multiply(conjugate(a), b)
    vector = np.sqrt((difference[..., 1:] ** 2).sum(axis=-1))
    result: Array = 2 * np.arctan2(vector, np.abs(difference[..., 0]))
    return result


def vector(q: Array) -> Array:
    """Rotation vectors (axis times angle, radians, at most π long). [..., 4] → [..., 3]."""
    q = q * np.where(q[..., :1] < 0, -1.0, 1.0)
    sine = np.sqrt((q[..., 1:] ** 2).sum(axis=-1, keepdims=True))
    still = sine < 1e-12
    angle = 2 * np.arctan2(sine, q[..., :1])
    return q[..., 1:] * np.where(still, 2.0, angle / np.where(still, 1.0, sine))


def from_vector(v: Array) -> Array:
    """The turns of rotation vectors of any length (radians). [..., 3] → [..., 4]."""
    half = np.sqrt((v * v).sum(axis=-1)) / 2
    q: Array = np.empty((*half.shape, 4), order="F")
    q[..., 0] = np.cos(half)
    # NumPy's sinc is that of πx.
    q[..., 1:] = v * (np.sinc(half / np.pi) / 2)[..., None]
    return q


def cross(a: Array, b: Array) -> Array:
    """The cross product of vectors. Shapes [..., 3] → [..., 3]. For a few frames several times faster
    than NumPy's, which first finds out which axes are meant."""
    ax, ay, az = a[..., 0], a[..., 1], a[..., 2]
    bx, by, bz = b[..., 0], b[..., 1], b[..., 2]
    return np.stack([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx], axis=-1)


def least(a: Array, b: Array) -> Array:
    """The least rotation that takes direction `a` to `b`, of any length but 0. [..., 3] → [..., 4].

    Between opposite directions every half turn across is as short: about the axis furthest from `a`.
    """
    a, b = _unit(a), _unit(b)
    half = a + b
    length = np.linalg.norm(half, axis=-1, keepdims=True)
    opposite = length < 1e-7
    aside = np.eye(3)[np.abs(a).argmin(axis=-1)]
    middle = np.where(opposite, _unit(cross(a, aside)), half / np.where(opposite, 1.0, length))
    # From a to halfway is half the turn: its cosine and sine are the quaternion's parts.
    cosine = np.where(opposite, 0.0, (a * middle).sum(axis=-1, keepdims=True))
    return np.concatenate([cosine, np.where(opposite, middle, cross(a, middle))], axis=-1)


def _unit(v: Array) -> Array:
    result: Array = v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-12)
    return result


def align_hemispheres(q: Array) -> Array:
    """Flip signs along the first axis so that neighbours lie in one hemisphere. [n, ..., 4] → the same."""
    aligned = q.copy(order="F")
    cosine = aligned[1:, ..., 0] * aligned[:-1, ..., 0]
    for axis in (1, 2, 3):
        cosine += aligned[1:, ..., axis] * aligned[:-1, ..., axis]
    flips = cosine < 0
    if flips.any():
        aligned[1:] *= np.cumprod(np.where(flips, -1.0, 1.0), axis=0)[..., None]
    return aligned


def about_axis(axis: str, radians: Array) -> Array:
    """A turn about X, Y or Z. Shape [...] → [..., 4]."""
    half = real(radians) / 2
    q: Array = np.zeros((*half.shape, 4), order="F")
    q[..., 0] = np.cos(half)
    q[..., 1 + _AXIS[axis]] = np.sin(half)
    return q


def twist(q: Array, axis: int) -> Array:
    """The part of unit quaternions that turns about one of their own axes (0, 1, 2: x, y, z), as in the
    decomposition into swing and twist (P. Dobrowolski, 2015). [..., 4] → [..., 4]"""
    result = np.zeros_like(q)
    result[..., 0], result[..., 1 + axis] = q[..., 0], q[..., 1 + axis]
    length = np.hypot(result[..., 0], result[..., 1 + axis])
    # Half a turn about another axis leaves nothing of this one.
    bare = length < 1e-9
    result[..., 0] = np.where(bare, 1.0, result[..., 0])
    turned: Array = result / np.where(bare, 1.0, length)[..., None]
    return turned


def from_basis(x: Array, y: Array, z: Array) -> Array:
    """The rotation that takes the axes to these orthonormal vectors. [..., 3] each → [..., 4].

    I. Y. Bar-Itzhack's four-way choice of the largest component, vectorised.
    """
    m = np.stack([x, y, z], axis=-1)
    xx, yy, zz = m[..., 0, 0], m[..., 1, 1], m[..., 2, 2]
    squares = np.stack([1 + xx + yy + zz, 1 + xx - yy - zz, 1 - xx + yy - zz, 1 - xx - yy + zz], -1)
    wx, wy, wz = (
        m[..., 2, 1] - m[..., 1, 2],
        m[..., 0, 2] - m[..., 2, 0],
        m[..., 1, 0] - m[..., 0, 1],
    )
    xy, xz, yz = (
        m[..., 1, 0] + m[..., 0, 1],
        m[..., 0, 2] + m[..., 2, 0],
        m[..., 2, 1] + m[..., 1, 2],
    )
    w2, x2, y2, z2 = (squares[..., column] for column in range(4))
    rows = [[w2, wx, wy, wz], [wx, x2, xy, xz], [wy, xy, y2, yz], [wz, xz, yz, z2]]
    candidates = np.stack([np.stack(row, axis=-1) for row in rows], axis=-2)
    largest = squares.argmax(axis=-1)[..., None, None]
    return normalise(np.take_along_axis(candidates, largest, axis=-2)[..., 0, :])


def from_axes(axes: str, degrees: Array) -> Array:
    """Turns about the named axes, the first named outermost. degrees [..., len(axes)] → [..., 4].

    This is the motion-file convention: channels `Zrotation Xrotation Yrotation` mean Rz·Rx·Ry.
    """
    radians = np.radians(real(degrees))
    if not axes:
        return np.broadcast_to(np.array(IDENTITY), (*radians.shape[:-1], 4)).copy(order="F")
    q = about_axis(axes[0], radians[..., 0])
    for position, axis in enumerate(axes[1:], start=1):
        q = multiply(q, about_axis(axis, radians[..., position]))
    return q


def to_euler(q: Array, order: str) -> Array:
    """Euler degrees in `order` (outermost first), middle angle within ±90°. [..., 4] → [..., 3]."""
    i, j, k = (_AXIS[axis] for axis in order)
    sign = 1.0 if (j - i) % 3 == 1 else -1.0
    w = q[..., 0]
    a, b, c = q[..., 1 + i], q[..., 1 + j], q[..., 1 + k]
    # The rotation matrix entries that an i-j-k product isolates.
    sin_middle = np.clip(2 * (w * b + sign * a * c), -1.0, 1.0)
    first = np.arctan2(2 * (w * a - sign * b * c), 1 - 2 * (a * a + b * b))
    last = np.arctan2(2 * (w * c - sign * a * b), 1 - 2 * (b * b + c * c))
    middle = np.arcsin(sin_middle)
    # Looking along the middle axis only first ± last is known: give it all to the first.
    locked = np.abs(sin_middle) > 1 - 1e-12
    if np.any(locked):
        first = np.where(locked, 2 * np.arctan2(a, w), first)
        last = np.where(locked, 0.0, last)
    result: Array = np.degrees(np.stack([first, middle, last], axis=-1))
    return result


def unroll(degrees: Array) -> Array:
    """Euler degrees without jumps (rule 3.4): of the two equal triples, and all full turns of each,
    every frame takes the one nearest the frame before. Shape [frames, 3] → [frames, 3]."""
    if len(degrees) < 2:
        return degrees
    other = degrees + 180.0
    other[:, 1] = 180.0 - degrees[:, 1]
    both = np.stack([degrees, other])
    # From either triple of a frame to either of the next, by the short way: [2, 2, frames - 1, 3].
    steps = both[None, :, 1:] - both[:, None, :-1]
    turns = np.round(steps / 360.0)
    distance = np.abs(steps - 360.0 * turns).sum(axis=-1)
    # A choice at one frame decides the next, so this one loop runs over frames.
    is_other = (distance[:, 0] > distance[:, 1]).astype(int).tolist()
    chosen = [0]
    for frame in range(len(degrees) - 1):
        chosen.append(is_other[chosen[-1]][frame])
    place = np.arange(len(degrees) - 1)
    taken = turns[chosen[:-1], chosen[1:], place]
    unrolled: Array = both[chosen, np.arange(len(degrees))]
    unrolled[1:] -= 360.0 * np.cumsum(taken, axis=0)
    return unrolled


def split_heading(q: Array) -> tuple[Array, Array]:
    """Heading about y, and the tilt left when it is taken off: q = Ry(heading)·tilt.

    Shapes [..., 4] → [...] radians, [..., 4]. Swing-twist decomposition about y.
    """
    heading = 2 * np.arctan2(q[..., 2], q[..., 0])
    heading = np.remainder(heading + np.pi, 2 * np.pi) - np.pi
    return heading, multiply(about_axis("Y", -heading), q)
