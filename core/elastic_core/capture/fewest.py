"""The fewest keys with which a curve stays within its tolerance on every frame (rule 6.3).

A key has the value and the slope that the frames have there, so a span is told by its two ends alone, and the
fewest spans that are all within tolerance are the shortest path from the first frame to the last: found by
going through frames in order (R. Bellman, "On the approximation of curves by line segments using dynamic
programming", 1961).
"""

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solveh_banded

from ..arrays import Array, Index

# Keys are looked for at so many times the tolerance first: with fitted slopes few are often enough.
_LOOSER = (3.0, 2.0, 1.5, 1.2, 1.0)

Flags = NDArray[np.bool_]
# Up to so many frames every span is looked at; beyond, every other length and start, then every fourth …
_EVERY_LENGTH_FRAMES = 32
# A start is given up once this many lengths in a row were out of tolerance; of so few frames none is: there now
# and then a long span is within it whose shorter ones are not.
_TRIES, _FEW_FRAMES = 4, 48
_FAINT = 1e-6


def keyed_within(values: Array, forced: Flags, *, goes_round: bool = False) -> tuple[Index, Array]:
    """The frames to key and their slopes, so that no frame is off by more than 1: the curve's channels are
    told in times of their tolerance. The first, the last and the `forced` frames are keyed. In a round the
    last frame is the first again.

    values [n, channels], forced [n] → frames [keys], slopes [keys, channels]. Raises nothing: where nothing
    else is within tolerance, every frame is keyed."""
    slopes = _slopes_of(values, goes_round=goes_round)
    frames = np.arange(len(values))
    for looser in _LOOSER:
        frames = fewest_keys(values / looser, slopes / looser, forced)
        fitted = _fitted(values, frames, goes_round=goes_round)
        if greatest_error(values, frames, fitted) <= 1.0:
            return frames, fitted
    return frames, slopes[frames]


def _slopes_of(values: Array, *, goes_round: bool) -> Array:
    if goes_round and len(values) > 2:
        around = np.concatenate([values[-2:-1], values, values[1:2]])
        slopes: Array = (around[2:] - around[:-2]) / 2
        return slopes
    if len(values) < 2:
        return np.zeros_like(values)
    slopes = np.gradient(values, axis=0, edge_order=2 if len(values) > 2 else 1)
    return slopes


def _fitted(values: Array, frames: Index, *, goes_round: bool) -> Array:
    if not goes_round:
        return fitted_slopes(values, frames)
    # Three rounds, of which the middle one knows both its neighbours.
    length, count = int(frames[-1]), len(frames) - 1
    rise = values[-1] - values[0]
    rounds = np.concatenate(
        [values[:-1] - rise, values[:-1], values[:-1] + rise, values[:1] + 2 * rise]
    )
    places = np.concatenate([frames[:-1], frames[:-1] + length, frames + 2 * length])
    slopes: Array = fitted_slopes(rounds, places)[count : 2 * count + 1]
    slopes[-1] = slopes[0]
    return slopes


def fewest_keys(values: Array, slopes: Array, forced: Flags) -> Index:
    """The frames to key. The curve's channels are told in times of their tolerance, and together may be off
    by 1 at the most on any frame; the first, the last and the `forced` frames are keyed.

    values, slopes [n, channels], forced [n] → frames [keys].
    """
    count = len(values)
    if count < 3:
        return np.arange(count)
    starts, ends, errors = spans_within(values, slopes, forced)
    order = np.lexsort((starts, ends))
    starts, ends, errors = starts[order], ends[order], errors[order]
    first = np.searchsorted(ends, np.arange(count + 1))
    # Of two ways with as few keys the one that is nearer counts.
    cost = np.full(count, np.inf)
    cost[0] = 0.0
    came_from = np.zeros(count, dtype=np.intp)
    steps = 1.0 + errors / (2 * count)
    for end in range(1, count):
        here = slice(first[end], first[end + 1])
        ways = cost[starts[here]] + steps[here]
        best = int(ways.argmin())
        cost[end], came_from[end] = ways[best], starts[here][best]
    frames = [count - 1]
    while frames[-1]:
        frames.append(int(came_from[frames[-1]]))
    return np.array(frames[::-1], dtype=np.intp)


def spans_within(values: Array, slopes: Array, forced: Flags) -> tuple[Index, Index, Array]:
    """Every span that is within tolerance and passes over no forced frame: starts, ends and greatest
    errors."""
    count = len(values)
    every = np.arange(count)
    wall = _next_forced(forced)
    found: list[tuple[Index, Index, Array]] = []
    alive, misses = every[:-1], np.zeros(count - 1, dtype=np.intp)
    length = 1
    while alive.size:
        stride = _stride(length)
        reaches = (alive + length <= wall[alive]) & ((alive % stride == 0) | forced[alive])
        alive, misses = alive[reaches], misses[reaches]
        if not alive.size:
            break
        errors = _errors(values, slopes, alive, length)
        within = errors <= 1.0
        if within.any():
            found.append((alive[within], alive[within] + length, errors[within]))
        misses = np.where(within, 0, misses + 1)
        goes_on = (misses < _TRIES) | (count <= _FEW_FRAMES)
        alive, misses = alive[goes_on], misses[goes_on]
        length += _stride(length + 1)
    starts, ends, errors = (np.concatenate(column) for column in zip(*found, strict=True))
    return starts, ends, errors


def _stride(length: int) -> int:
    stride = 1
    while length > _EVERY_LENGTH_FRAMES * stride:
        stride *= 2
    return stride


def _next_forced(forced: Flags) -> Index:
    """The next forced frame after each; the last frame is one. [n]."""
    count = len(forced)
    places = np.append(np.flatnonzero(forced[:-1]), count - 1)
    at = np.searchsorted(places, np.arange(count), side="right")
    return places[np.minimum(at, len(places) - 1)]


def _errors(values: Array, slopes: Array, starts: Index, length: int) -> Array:
    """How far spans of one length are off, at the most over their frames. [starts]."""
    if length == 1:
        return np.zeros(len(starts))
    t = np.arange(1, length) / length
    ends = starts + length
    # Cubic Hermite, as curves are (rule 3.1).
    basis = np.stack(
        [(1 + 2 * t) * (1 - t) ** 2, t * (1 - t) ** 2 * length,
         t * t * (3 - 2 * t), t * t * (t - 1) * length]
    )  # fmt: skip
    between = starts[:, None] + np.arange(1, length)
    squares = np.zeros((len(starts), length - 1))
    for channel in range(values.shape[1]):
        own, slope = values[:, channel], slopes[:, channel]
        told = np.stack([own[starts], slope[starts], own[ends], slope[ends]], axis=-1) @ basis
        squares += (told - own[between]) ** 2
    result: Array = np.sqrt(squares.max(axis=1))
    return result


def fitted_slopes(values: Array, frames: Index) -> Array:
    """The slopes of keys on these frames that leave the least squares of error over all frames, the keys'
    values as they are. values [n, channels] → [keys, channels].

    Each span's error is linear in its two slopes, so the slopes solve a system of three diagonals.
    """
    count = len(frames)
    lengths = np.diff(frames)
    span = np.repeat(np.arange(count - 1), lengths)
    since = np.arange(frames[0], frames[-1]) - frames[span]
    length = lengths[span].astype(np.float64)
    t = since / length
    leaves, arrives = t * (1 - t) ** 2 * length, t * t * (t - 1) * length
    start, end = values[frames[span]], values[frames[span + 1]]
    blend = (t * t * (3 - 2 * t))[:, None]
    lacks = values[frames[0] : frames[-1]] - start - (end - start) * blend
    bands = np.zeros((2, count))
    bands[1] += np.bincount(span, leaves**2, count) + np.bincount(span + 1, arrives**2, count)
    bands[0, 1:] = np.bincount(span, leaves * arrives, count)[:-1]
    right = np.stack(
        [
            np.bincount(span, leaves * own, count) + np.bincount(span + 1, arrives * own, count)
            for own in lacks.T
        ],
        axis=-1,
    )
    # Next to nothing, so that a key between two spans of one frame has a slope: the even one.
    mean = np.gradient(values, axis=0)[frames] if len(values) > 1 else np.zeros_like(right)
    bands[1] += _FAINT
    solved: Array = solveh_banded(bands, right + _FAINT * mean)
    return solved


def greatest_error(values: Array, frames: Index, slopes: Array) -> float:
    """How far keys on these frames are off at the most, over all frames. slopes [keys, channels]."""
    lengths = np.diff(frames)
    span = np.repeat(np.arange(len(frames) - 1), lengths)
    since = np.arange(frames[0], frames[-1]) - frames[span]
    length = lengths[span].astype(np.float64)[:, None]
    t = since[:, None] / length
    told = (
        (1 + 2 * t) * (1 - t) ** 2 * values[frames[span]]
        + t * (1 - t) ** 2 * length * slopes[span]
        + t * t * (3 - 2 * t) * values[frames[span + 1]]
        + t * t * (t - 1) * length * slopes[span + 1]
    )
    off = told - values[frames[0] : frames[-1]]
    return float(np.sqrt((off * off).sum(axis=-1).max(initial=0.0)))
