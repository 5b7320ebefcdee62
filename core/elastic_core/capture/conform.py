"""Rates conformed without aliasing (rule 6.1)."""

from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from scipy.sparse import csr_array

from ..arrays import Array
from ..elastic import Elastic
from ..errors import Refusal
from ..motion import Motion, between
from .mixing import mixed

# The low-pass is flat up to 0.8 of what the new rate can carry, and 60 dB down from 1.2 of it: what is left to
# alias lies above 0.8. Kaiser's design of a windowed sinc: J. F. Kaiser, "Nonrecursive digital filter design
# using the I0-sinh window function" (1974).
_DOWN_DB = 60.0
_BAND_OF_NEW_NYQUIST = 0.4
_BETA = 0.1102 * (_DOWN_DB - 8.7)
_HALF_WIDTH = (_DOWN_DB - 8) / (2.285 * np.pi * _BAND_OF_NEW_NYQUIST) / 2
# A moment this near to a frame is that frame.
_WHOLE = 1e-7
# A passage faster than this is a jump through the take, not motion.
_WIDEST_STEP = 64.0
MOST_FRAMES = 200_000


@dataclass(frozen=True, eq=False)
class Moments:
    """Where each frame of the result lies in the take [m], and how many of the take's frames it moves on by
    there [m]."""

    at: Array
    step: Array

    def __len__(self) -> int:
        return len(self.at)


def by_rate(frames: int, from_rate: Fraction, to_rate: Fraction, pace: float = 1.0) -> Moments:
    """Frame k of the result at k / `to_rate` seconds of so many frames of a take; at a pace, that many times
    as far. Raises Refusal for a result that is too long."""
    step = from_rate / to_rate * Fraction(pace)
    count = int((frames - 1) / step) + 1
    _checked(count)
    # Exact rationals first, so that whole frames stay whole after thousands of them.
    at = np.array([float(step * k) for k in range(count)])
    return Moments(np.minimum(at, frames - 1), np.full(count, float(step)))


def by_elastic(frames: int, elastic: Elastic, length_frames: int) -> Moments:
    """The moments of so many result frames through an elastic (result frames → frames of the take)."""
    _checked(length_frames)
    played = np.arange(length_frames, dtype=np.float64)
    at = elastic.source(played)
    whole = np.round(at)
    at = np.where(np.abs(at - whole) < _WHOLE, whole, at)
    return Moments(np.clip(at, 0.0, frames - 1.0), np.abs(elastic.slope(played)))


def _checked(count: int) -> None:
    if not 1 <= count <= MOST_FRAMES:
        raise Refusal(f"That would play for {count:,} frames; {MOST_FRAMES:,} are the most.")


def conformed(motion: Motion, moments: Moments) -> Motion:
    """A take at these moments. Where a step passes over frames, what is too fast for the new frames is taken
    out first; where none does, whole frames are those of the take, and others lie on the shortest arc."""
    low = np.floor(moments.at).astype(np.intp)
    plain = between(motion, low, moments.at - low)
    passes = moments.step > 1.0 + 1e-9
    if not passes.any():
        return plain
    weights = _weights(motion.frames, moments.at[passes], moments.step[passes])
    slow = mixed(motion, lambda rows: weights @ np.ascontiguousarray(rows))
    if passes.all():
        return slow
    return _laid_into(plain, slow, passes)


def _weights(frames: int, at: Array, step: Array) -> csr_array:
    """How much each of the take's frames counts at each moment [moments, frames]; rows sum to one."""
    step = np.minimum(step, _WIDEST_STEP)
    reach = int(np.ceil(_HALF_WIDTH * step.max()))
    around = np.arange(-reach, reach + 1)
    nearest = np.round(at).astype(np.intp)
    frame = nearest[:, None] + around
    x = (frame - at[:, None]) / step[:, None]
    inside = np.clip(1 - (x / _HALF_WIDTH) ** 2, 0.0, None)
    window = np.where(inside > 0, np.i0(_BETA * np.sqrt(inside)), 0.0)
    weight = np.sinc(x) * window
    weight /= weight.sum(axis=1, keepdims=True)
    rows = np.broadcast_to(np.arange(len(at))[:, None], frame.shape)
    last = frames - 1
    # Beyond its ends a take goes on as it came, turned about its end: a steady walk stays steady.
    before, after = frame < 0, frame > last
    inner = ~before & ~after
    parts = [(rows[inner], frame[inner], weight[inner])]
    for out, end, mirrored in ((before, 0, -frame), (after, last, 2 * last - frame)):
        if out.any():
            parts.append((rows[out], np.full(out.sum(), end), 2 * weight[out]))
            parts.append((rows[out], np.clip(mirrored[out], 0, last), -weight[out]))
    row, column, value = (np.concatenate(column) for column in zip(*parts, strict=True))
    return csr_array((value, (row, column)), shape=(len(at), frames))


def _laid_into(
    plain: Motion, slow: Motion, passes: "np.ndarray[tuple[int], np.dtype[np.bool_]]"
) -> Motion:
    """The frames that were mixed among those that were not."""
    position, turned = plain.root_in_world()
    rotations = plain.rotations.copy(order="F")
    rotations[:, 0] = turned
    own, own_turned = slow.root_in_world()
    position[passes], rotations[passes] = own, slow.rotations
    rotations[passes, 0] = own_turned
    moves = {joint: move.copy() for joint, move in plain.moves.items()}
    for joint, move in moves.items():
        move[passes] = slow.moves[joint]
    return Motion.from_root(position, rotations, moves)
