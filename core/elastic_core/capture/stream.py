"""Captured frames as they arrive, laid on their own clock (rule 6.8): doubled ones are dropped, late ones
put where they belong, and what never came is filled and listed, or marked."""

from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from .. import rotation
from ..arrays import Array, Index
from ..errors import Refusal
from ..motion import Motion
from .take import Lost

# A gap up to so long is filled by a curve.
FILLED_SECONDS = 0.25
# No take is longer.
LONGEST_SECONDS = 1_800
# In frames: so near to one another two frames are one that came twice, and so near to a whole frame one is
# that frame.
_THE_SAME, _ON_TIME = 0.01, 0.02
# Two frames no further apart have none between them that was lost.
_NEIGHBOURS = 1.5
# As many frames on each side of a gap tell how fast it is entered and left.
_FEWEST_TOLD_BY, _MOST_TOLD_BY = 2, 11


@dataclass(frozen=True, eq=False)
class Arrived:
    """Frames in the order in which they came.

    clocks      [frames] seconds on the stage's own clock
    positions   [frames, 3] the root's in the world, in metres
    rotations   [frames, joints, 4] relative to rest, the root's in the world
    """

    clocks: Array
    positions: Array
    rotations: Array


@dataclass(frozen=True, eq=False)
class Laid:
    """What was captured, one frame after another from the first that came; how many frames came twice, and
    how many after a later one."""

    motion: Motion
    lost: tuple[Lost, ...]
    doubled: int
    late: int


def laid(arrived: Arrived, rate: Fraction) -> Laid:
    """Frames on their own clock. Raises Refusal where none came, or their clock goes wrong."""
    if not len(arrived.clocks):
        raise Refusal("No frame came from the stage.")
    if not np.isfinite(arrived.clocks).all():
        raise Refusal("The stage's clock tells no time.")
    arrived = _of_this_take(arrived)
    order = np.argsort(arrived.clocks, kind="stable")
    times = (arrived.clocks[order] - arrived.clocks[order[0]]) * float(rate)
    once = np.concatenate([[True], np.diff(times) > _THE_SAME])
    latest = np.concatenate([[-np.inf], np.maximum.accumulate(arrived.clocks)[:-1]])
    behind = arrived.clocks < latest
    behind[order[~once]] = False
    doubled, late = int((~once).sum()), int(behind.sum())
    order, times = order[once], times[once]
    positions = arrived.positions[order]
    rotations = rotation.normalise(arrived.rotations[order])
    rotations = rotation.align_hemispheres(rotations)

    frames = np.arange(round(float(times[-1])) + 1)
    after = np.clip(np.searchsorted(times, frames), 1, max(len(times) - 1, 1))
    before = after - 1
    after = np.minimum(after, len(times) - 1)
    nearer = np.where(times[after] - frames < frames - times[before], after, before)
    off = np.abs(times[nearer] - frames)
    span = np.where(after > before, times[after] - times[before], 1.0)
    # A clock that runs a little slower than the rate has no frame near enough now and then.
    came = (off <= 0.5) | (span <= _NEIGHBOURS)
    share = np.clip((frames - times[before]) / span, 0.0, 1.0)
    share = np.where(off <= _ON_TIME, (nearer == after) * 1.0, share)
    # Where a neighbour was lost too, the one that came stands for itself.
    share = np.where(came & (span > _NEIGHBOURS), (nearer == after) * 1.0, share)
    at = positions[before] + share[:, None] * (positions[after] - positions[before])
    turned = rotation.slerp(rotations[before], rotations[after], share[:, None])
    whole = share == np.round(share)
    exact = np.where(share > 0.5, after, before)
    at[whole], turned[whole] = positions[exact[whole]], rotations[exact[whole]]

    lost = tuple(
        Lost(start=start, end=end, filled=(end - start) <= FILLED_SECONDS * float(rate))
        for start, end in _runs(~came)
    )
    for gap in lost:
        if gap.filled:
            _fill(at, turned, came, gap)
    return Laid(Motion.from_root(at, turned, given_away=True), lost, doubled, late)


def _of_this_take(arrived: Arrived) -> Arrived:
    """Without frames whose clock is so far off that they are of another time: as good as lost."""
    off = np.abs(arrived.clocks - np.median(arrived.clocks))
    near = np.flatnonzero(off <= LONGEST_SECONDS / 2)
    return Arrived(arrived.clocks[near], arrived.positions[near], arrived.rotations[near])


def _runs(off: Array) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], off.astype(np.int8), [0]])))
    return [(int(start), int(end)) for start, end in edges.reshape(-1, 2)]


def _fill(at: Array, turned: Array, came: Array, gap: Lost) -> None:
    """A curve from one edge of a gap to the other, along the shortest arcs."""
    first, last = gap.start - 1, gap.end
    told_by = min(_MOST_TOLD_BY, max(_FEWEST_TOLD_BY, last - first))
    sides = _good(came, first, -1, told_by), _good(came, last, 1, told_by)
    inside = slice(gap.start, gap.end)
    at[inside] = at[first] + _curve(at - at[first], first, last, sides)
    about = turned[first].copy()
    near = slice(int(sides[0][0]), int(sides[1][-1]) + 1)
    away = rotation.vector(rotation.multiply(rotation.conjugate(about), turned[near]))
    shifted = tuple(side - near.start for side in sides)
    curve = _curve(away, first - near.start, last - near.start, shifted)
    turned[inside] = rotation.multiply(about, rotation.from_vector(curve))


def _curve(values: Array, first: int, last: int, sides: tuple[Index, ...]) -> Array:
    """The cubic of C. Hermite between two frames, as fast at each as the frames beside it tell. values
    [frames, …], nothing at `first` → [last - first - 1, …]."""
    span = last - first
    share = (np.arange(1, span) / span).reshape(-1, *[1] * (values.ndim - 1))
    enters, leaves = (
        span * _pace(values[side], side - edge)
        for side, edge in zip(sides, (first, last), strict=True)
    )
    curve: Array = (
        share**2 * (3 - 2 * share) * values[last]
        + share * (1 - share) ** 2 * enters
        - share**2 * (1 - share) * leaves
    )
    return curve


def _good(came: Array, edge: int, way: int, count: int) -> Index:
    """Frames in a row that came, from an edge of a gap outwards."""
    places = edge + way * np.arange(count + 1)
    places = places[(places >= 0) & (places < len(came))]
    unbroken = np.cumprod(came[places]).astype(bool)
    return np.sort(places[unbroken])


def _pace(values: Array, away: Index) -> Array:
    """How much values change a frame at an edge: the parabola of least squares through the frames so far `away`
    from it. [frames, …] → […]."""
    if len(away) < 2:
        return np.zeros(values.shape[1:])
    powers = np.vander(away.astype(np.float64), min(len(away), 3), increasing=True)
    told: Array = np.tensordot(np.linalg.pinv(powers)[1], values, axes=1)
    return told
