"""Spans between knots: the one evaluator under curves and elastics (rules 1.3 and 3.1).

Every span is a cubic in the time since its start, so hold, even, ramped, eased and free spans are
all told by their slopes: cubic Hermite form, as glTF's CUBICSPLINE has it.
"""

from dataclasses import dataclass
from enum import IntEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import PPoly

from .arrays import Array, Index, real

Codes = NDArray[np.uint8]
# From so many times on they are left to compiled evaluators.
MANY = 4_096


class Span(IntEnum):
    """How a span runs; the numbers are those that are stored."""

    HOLD = 0
    EVEN = 1
    EASED = 2
    FREE = 3
    RAMPED = 4


@dataclass(frozen=True, eq=False)
class Spans:
    """Spans between knots in order of time.

    times, values [n]: the knots. leaving, arriving [n − 1]: slopes at a span's start and at its end,
    in value per frame. kinds [n − 1]: codes of `Span`. Before the first and after the last knot the
    end's slope goes on in a straight line.
    """

    times: Array
    values: Array
    leaving: Array
    arriving: Array
    kinds: Codes

    def at(self, times: Array) -> Array:
        """Values at these times; at a knot its own value, bit for bit. Shape [...] → [...]."""
        times = real(times)
        if len(self.times) == 1 and not self._polynomials[1].any():
            return np.full_like(times, self.values[0])
        if times.size >= MANY and not self._shifts.any():
            return self._of_many(times)
        row, since = self._since(times)
        constant, slope, square, cube = self._polynomials
        value: Array = constant[row] + since * (
            slope[row] + since * (square[row] + since * cube[row])
        )
        if self._shifts.any():
            # At slope 1 the whole shift is added at once, so that an identity returns its input.
            value = np.where(self._shifts[row], times + self._shift[row], value)
        return value

    def _of_many(self, times: Array) -> Array:
        """The same for so many times that compiled evaluators pay. Straight lines are NumPy's; the rest is
        SciPy's, its breaks with one more at either end, where it goes on in straight lines."""
        if (self.kinds == Span.EVEN).all():
            value: Array = np.interp(times, self.times, self.values, left=np.nan, right=np.nan)
            # A sum tells in one go whether any lies beyond the ends.
            if np.isnan(value.sum()):
                before, after = self._end_slopes
                early, late = times < self.times[0], times > self.times[-1]
                value[early] = self.values[0] + before * (times[early] - self.times[0])
                value[late] = self.values[-1] + after * (times[late] - self.times[-1])
            return value
        found: Array = self._compiled(times)
        return found

    @cached_property
    def _compiled(self) -> PPoly:
        constant, slope, square, cube = (part.copy() for part in self._polynomials)
        # The first of them is told from its own break, one frame before the first knot.
        constant[0] -= slope[0]
        breaks = np.concatenate([[self.times[0] - 1], self.times, [self.times[-1] + 1]])
        return PPoly.construct_fast(np.stack([cube, square, slope, constant]), breaks, True)

    def slope(self, times: Array) -> Array:
        """Value per frame at each time; at a knot that of the span after it. Shape [...] → [...]."""
        row, since = self._since(real(times))
        _, slope, square, cube = self._polynomials
        result: Array = slope[row] + since * (2 * square[row] + since * 3 * cube[row])
        return result

    def integral(self, times: Array) -> Array:
        """The area under the spans from the first knot to each time. Shape [...] → [...]."""
        row, since = self._since(real(times))
        before = np.concatenate([[0.0], self._areas])
        constant, slope, square, cube = self._polynomials
        inside: Array = since * (
            constant[row]
            + since * (slope[row] / 2 + since * (square[row] / 3 + since * cube[row] / 4))
        )
        return before[row] + inside

    def moments_of(self, value: float) -> list[float]:
        """Every time at which the spans pass this value, in order: each span is its own branch.

        A span that stands at the value answers with its first moment, and the straight lines beyond
        both ends count too.
        """
        found: list[float] = []
        edges = [-np.inf, *self.times, np.inf]
        starts = self._starts
        for row in self._reaching(value):
            low, high = edges[row], edges[row + 1]
            for since in _roots([float(part[row]) for part in self._polynomials], value):
                if not np.isfinite(since):
                    # It stands there from the span's start on.
                    moment = low
                else:
                    moment = float(starts[row]) + since
                inside = np.isfinite(moment) and low - 1e-9 <= moment <= high + 1e-9
                if inside and not any(abs(moment - other) < 1e-9 for other in found[-3:]):
                    found.append(float(moment))
        return sorted(found)

    def _since(self, times: Array) -> tuple[Index, Array]:
        """For each time its polynomial, and the time since that one's start."""
        row = np.searchsorted(self.times, times, side="right")
        return row, times - self._starts[row]

    def _reaching(self, value: float) -> list[int]:
        """The polynomials that may pass a value: those whose Bézier hull holds it, and both ends."""
        if len(self.times) == 1:
            return [0, 1]
        third = np.diff(self.times) / 3
        low, high = self.values[:-1], self.values[1:]
        held = self.kinds == Span.HOLD
        end = np.where(held, low, high)
        hull = np.stack([low, low + third * self.leaving, end - third * self.arriving, end])
        slack = 1e-9 * (1 + abs(value))
        near = (hull.min(axis=0) <= value + slack) & (hull.max(axis=0) >= value - slack)
        return [0, *(np.flatnonzero(near) + 1).tolist(), len(self.times)]

    @cached_property
    def _starts(self) -> Array:
        """Where each polynomial's time begins: one before the knots, one for each span, one after."""
        return np.concatenate([self.times[:1], self.times])

    @cached_property
    def _polynomials(self) -> tuple[Array, Array, Array, Array]:
        """Constant, linear, square and cubic parts, one of each for every polynomial [n + 1]."""
        length = np.diff(self.times)
        rise = np.diff(self.values)
        secant = rise / length
        held, even = self.kinds == Span.HOLD, self.kinds == Span.EVEN
        first = np.where(held, 0.0, np.where(even, secant, self.leaving))
        square, cube = np.zeros_like(secant), np.zeros_like(secant)
        bent = ~(held | even)
        line, over, leaves, arrives = (
            column[bent] for column in (secant, length, self.leaving, self.arriving)
        )
        square[bent] = (3 * line - 2 * leaves - arrives) / over
        cube[bent] = (leaves + arrives - 2 * line) / over**2
        ends = self._end_slopes
        zero = [0.0]
        return (
            np.concatenate([self.values[:1], self.values]),
            np.concatenate([[ends[0]], first, [ends[1]]]),
            np.concatenate([zero, square, zero]),
            np.concatenate([zero, cube, zero]),
        )

    @cached_property
    def _end_slopes(self) -> tuple[float, float]:
        if not len(self.leaving):
            return (0.0, 0.0)
        return float(self.leaving[0]), float(self.arriving[-1])

    @cached_property
    def _shifts(self) -> NDArray[np.bool_]:
        """The polynomials that only shift time."""
        _, slope, square, cube = self._polynomials
        result: NDArray[np.bool_] = (slope == 1) & (square == 0) & (cube == 0)
        return result

    @cached_property
    def _shift(self) -> Array:
        return self._polynomials[0] - self._starts

    @cached_property
    def _areas(self) -> Array:
        """The area up to each knot, and again that up to the last."""
        lengths = np.diff(self.times)
        constant, slope, square, cube = (part[1:-1] for part in self._polynomials)
        each = lengths * (
            constant + lengths * (slope / 2 + lengths * (square / 3 + lengths * cube / 4))
        )
        return np.concatenate([[0.0], np.cumsum(each)])


def _roots(parts: list[float], value: float) -> list[float]:
    """Where a polynomial takes a value; infinity where it stands there."""
    constant, slope, square, cube = parts
    if not (square or cube):
        if slope:
            root = (value - constant) / slope
            # A line that hardly rises gets there at no time that has a number.
            return [root] if np.isfinite(root) else []
        return [np.inf] if constant == value else []
    found = np.roots(
        [cube, square, slope, constant - value] if cube else [square, slope, constant - value]
    )
    # A root that two branches share may come out a hair off the real line.
    real_ones = found[np.abs(found.imag) <= 1e-7 * (1 + np.abs(found))].real
    return sorted(float(root) for root in real_ones)


def secants(times: Array, values: Array) -> Array:
    """Slopes of the straight lines between knots [n − 1]."""
    return np.diff(values) / np.diff(times)


def monotone_slopes(times: Array, values: Array) -> Array:
    """Slopes that neither overshoot nor ring: F. N. Fritsch and R. E. Carlson, "Monotone piecewise
    cubic interpolation", SIAM J. Numer. Anal. 17 (1980). Flat at both ends and at extremes."""
    slopes = np.zeros(len(times))
    if len(times) < 3:
        return slopes
    lines = secants(times, values)
    left, right = lines[:-1], lines[1:]
    slopes[1:-1] = np.where(left * right > 0, (left + right) / 2, 0.0)
    level = lines == 0
    safe = np.where(level, 1.0, lines)
    size = np.hypot(slopes[:-1] / safe, slopes[1:] / safe)
    # Both ends of a span shrink until they lie in the circle of radius 3; shrinking further for the
    # other neighbour keeps them there.
    shrink = np.where(level, 0.0, 3 / np.maximum(size, 3.0))
    result: Array = slopes * np.minimum(
        np.concatenate([[1.0], shrink]), np.concatenate([shrink, [1.0]])
    )
    return result


def round_slopes(times: Array, values: Array) -> Array:
    """The same for knots that go round and round: the first follows the last, one rise higher."""
    if len(times) < 2:
        return np.zeros(len(times))
    length, rise = times[-1] - times[0], values[-1] - values[0]
    rounds = range(-2, 3)
    # Each round but the last leaves out its end, which is the next one's start.
    inner = len(times) - 1
    long = np.concatenate([times[:-1] + k * length for k in rounds])
    high = np.concatenate([values[:-1] + k * rise for k in rounds])
    middle = monotone_slopes(long, high)[2 * inner : 3 * inner]
    return np.append(middle, middle[0])


def local_slopes(times: Array, values: Array) -> Array:
    """Monotone slopes that look no further than the next knot on either side, and run on at both ends:
    F. N. Fritsch and J. Butland, "A method for constructing local monotone piecewise cubic
    interpolants", SIAM J. Sci. Stat. Comput. 5 (1984). A knot that moves changes two spans on each
    side (rule 1.4)."""
    if len(times) < 2:
        return np.ones(len(times))
    lengths, lines = np.diff(times), secants(times, values)
    left, right = lines[:-1], lines[1:]
    before, after = 2 * lengths[1:] + lengths[:-1], lengths[1:] + 2 * lengths[:-1]
    agree = left * right > 0
    # As shares of the steeper line, so that neither very flat nor very steep lines overflow.
    steeper = np.where(agree, np.maximum(np.abs(left), np.abs(right)), 1.0) * np.sign(right)
    left_share = np.where(agree, left, steeper) / np.where(agree, steeper, 1.0)
    right_share = np.where(agree, right, steeper) / np.where(agree, steeper, 1.0)
    mean = steeper * (before + after) * left_share * right_share
    mean /= np.where(agree, before * right_share + after * left_share, 1.0)
    return np.concatenate([lines[:1], np.where(agree, mean, 0.0), lines[-1:]])
