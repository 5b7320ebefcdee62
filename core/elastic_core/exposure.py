"""Exposure: on ones, on twos, or a repeating pattern (rule 1.8)."""

from fractions import Fraction
from itertools import pairwise
from typing import Annotated, Self

import numpy as np
from pydantic import Field

from .arrays import Array, real
from .errors import Refusal
from .frozen import Frozen
from .quantities import Frame

LONGEST_HOLD_FRAMES = 10_000
HoldFrames = Annotated[int, Field(ge=1, le=LONGEST_HOLD_FRAMES)]
Pattern = Annotated[tuple[HoldFrames, ...], Field(min_length=1, max_length=1_000)]


class Exposure(Frozen):
    """How many frames each sampled pose stays; `(2,)` is on twos, `(2, 2, 3, 1)` repeats."""

    pattern: Pattern = (1,)
    anchor: Frame = 0.0

    @classmethod
    def of_drawings(cls, a_second: Fraction, rate: Fraction, anchor: float = 0.0) -> Self:
        """So many drawings a second at this frame rate, as evenly as whole frames allow: 12 at 24 is on
        twos, 10 at 24 holds for 2, 2, 3, 2, 3. Raises Refusal for more drawings than frames."""
        if a_second <= 0:
            raise Refusal("A drawing a second is the least that can be said; 0 is none.")
        frames = rate / a_second
        if frames < 1:
            raise Refusal(f"There are {float(rate):g} frames a second, so no more drawings.")
        frames = frames.limit_denominator(100)
        ends = [int(k * frames) for k in range(frames.denominator + 1)]
        return cls(pattern=tuple(b - a for a, b in pairwise(ends)), anchor=anchor)

    def sampled(self, played: Array) -> Array:
        """The played frame whose pose shows at each played frame."""
        if self.pattern == (1,):
            return real(played)
        starts = np.concatenate([[0], np.cumsum(self.pattern)])
        total = starts[-1]
        rounds, within = np.divmod(real(played) - self.anchor, total)
        held = starts[np.searchsorted(starts, within, side="right") - 1]
        result: Array = self.anchor + rounds * total + held
        return result


ON_ONES = Exposure()


def said(pattern: Pattern) -> str:
    """“on twos”, “on 2, 2, 3, 1”."""
    if len(set(pattern)) == 1:
        names = {1: "ones", 2: "twos", 3: "threes", 4: "fours"}
        return f"on {names.get(pattern[0], pattern[0])}"
    return "on " + ", ".join(str(frames) for frames in pattern)
