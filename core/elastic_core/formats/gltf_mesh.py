"""A figure's hulls as one skinned mesh of glTF 2.0: each ball's skin goes with the joint that carries it."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import ConvexHull, QhullError

from .. import rotation
from ..arrays import Array
from ..dress import Ball, Hull
from ..figure import Figure

# A ring of a section is painted as so many small balls (web/src/stage/costume.ts).
RING = 20
Corners = NDArray[np.integer[Any]]


@dataclass(frozen=True, eq=False)
class MeshPart:
    """Triangles of one colour, #rrggbb, on the figure as it rests.

    places, normals [n, 3] metres; corners [m] three by three, outwards counter-clockwise; joints [n, 2] and
    weights [n, 2]: which joints carry each place, and how much.
    """

    colour: str
    places: Array
    normals: Array
    corners: Corners
    joints: Corners
    weights: Array


@dataclass(frozen=True, eq=False)
class _Skin:
    """Points on balls, and what carries them."""

    places: Array
    joints: Corners
    weights: Array


def mesh_parts(figure: Figure) -> list[MeshPart]:
    """The hulls of a figure, all of a colour together; none for a figure that wears none."""
    by_colour: dict[str, list[MeshPart]] = {}
    for hull in figure.dress.both_sides.hulls:
        for piece in _pieces(hull):
            if part := _outside(hull.fill, _skin(figure, piece)):
                by_colour.setdefault(hull.fill, []).append(part)
    return [_together(parts) for parts in by_colour.values()]


def _pieces(hull: Hull) -> Iterator[tuple[Ball, ...]]:
    """A hull of several sections is a chain: each pair of neighbours has its own outside."""
    if len(hull.sections) == 1:
        yield hull.sections[0]
    for one, next_one in pairwise(hull.sections):
        yield one + next_one


def _skin(figure: Figure, balls: tuple[Ball, ...]) -> _Skin:
    places: dict[str, int] = {name: place for place, name in enumerate(figure.names)}
    points, joints, weights = list[Array](), list[tuple[int, int]](), list[tuple[float, float]]()
    for ball in balls:
        offsets = _offsets(ball)
        # The balls of a ring are small: their corners are enough.
        sphere = _SPHERE if len(offsets) == 1 else _SPHERE[:12]
        joint = places[ball.joint]
        other, share = (places[ball.to], ball.t) if ball.to else (joint, 0.0)
        # The format has each joint once for a corner.
        share = share if other != joint else 0.0
        carried = min(1.0, max(0.0, share))
        for offset in offsets:
            points.append(_at_rest(figure, joint, other, share, offset) + ball.radius * sphere)
            joints += [(joint, other)] * len(sphere)
            weights += [(1.0 - carried, carried)] * len(sphere)
    return _Skin(np.concatenate(points), np.array(joints), np.array(weights))


def _offsets(ball: Ball) -> Array:
    """The middles of a ball, or of those of its ring. [n, 3]"""
    middle = np.array(ball.offset)
    if ball.radius_x is None or ball.radius_z is None:
        return middle[None]
    angle = np.arange(RING) / RING * 2 * np.pi
    x, z = ball.radius_x * np.cos(angle), ball.radius_z * np.sin(angle)
    ring: Array = middle + np.stack([x, ball.tilt * z + ball.roll * x, z], axis=-1)
    return ring


def _at_rest(figure: Figure, joint: int, other: int, share: float, offset: Array) -> Array:
    placed = figure.at_rest
    place = placed.positions[0, joint] + rotation.rotate(placed.rotations[0, joint], offset)
    if other != joint:
        place = place + share * (placed.positions[0, other] - placed.positions[0, joint])
    return np.asarray(place)


def _outside(colour: str, skin: _Skin) -> MeshPart | None:
    """The convex outside of a piece; none of one that is flat."""
    try:
        hull = ConvexHull(skin.places)
    except QhullError:
        return None
    corners: Corners = hull.simplices.copy()
    a, b, c = (skin.places[corners[:, k]] for k in range(3))
    faces = np.cross(b - a, c - a)
    # Qhull's own equations look outwards.
    inwards = (faces * hull.equations[:, :3]).sum(axis=-1) < 0
    corners[inwards] = corners[inwards][:, [0, 2, 1]]
    faces[inwards] *= -1
    used, kept = np.unique(corners, return_inverse=True)
    corners = kept.reshape(corners.shape)
    normals = np.zeros((len(used), 3))
    for k in range(3):
        # A long face counts for more: its normal is as long as it is large.
        np.add.at(normals, corners[:, k], faces)
    lengths = np.linalg.norm(normals, axis=-1, keepdims=True)
    if not (lengths > 0).all():
        return None
    return MeshPart(
        colour, skin.places[used], normals / lengths, corners.ravel(), skin.joints[used],
        skin.weights[used],
    )  # fmt: skip


def _together(parts: list[MeshPart]) -> MeshPart:
    shifts = np.cumsum([0, *(len(part.places) for part in parts[:-1])])
    return MeshPart(
        parts[0].colour,
        np.concatenate([part.places for part in parts]),
        np.concatenate([part.normals for part in parts]),
        np.concatenate([part.corners + shift for part, shift in zip(parts, shifts, strict=True)]),
        np.concatenate([part.joints for part in parts]),
        np.concatenate([part.weights for part in parts]),
    )


def linear(colour: str) -> list[float]:
    """A colour, #rrggbb, as glTF tells it: linear, from sRGB (IEC 61966-2-1)."""
    shown = np.array([int(colour[at : at + 2], 16) for at in (1, 3, 5)]) / 255
    low = shown / 12.92
    return [float(one) for one in np.where(shown <= 0.04045, low, ((shown + 0.055) / 1.055) ** 2.4)]


def _sphere() -> Array:
    """The corners of an icosahedron and the middles of its edges, on a ball of radius 1. [42, 3]"""
    golden = (1 + 5**0.5) / 2
    corners = np.array(
        [
            point
            for a in (-1.0, 1.0)
            for b in (-golden, golden)
            for point in ((0.0, a, b), (a, b, 0.0), (b, 0.0, a))
        ]
    )
    near = [
        (corners[i] + corners[j]) / 2
        for i in range(12)
        for j in range(i)
        if np.isclose(np.linalg.norm(corners[i] - corners[j]), 2.0)
    ]
    points = np.concatenate([corners, near])
    return np.asarray(points / np.linalg.norm(points, axis=-1, keepdims=True))


_SPHERE = _sphere()
