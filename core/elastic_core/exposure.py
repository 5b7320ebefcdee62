"""Exposure: on ones, on twos, or a repeating pattern (rule 1.8)."""

from typing import Annotated

import numpy as np
from pydantic import Field

from .arrays import Array, real
from .frozen import Frozen
from .quantities import Frame

LONGEST_HOLD_FRAMES = 10_000
HoldFrames = Annotated[int, Field(ge=1, le=LONGEST_HOLD_FRAMES)]
Pattern = Annotated[tuple[HoldFrames, ...], Field(min_length=1, max_length=1_000)]


class Exposure(Frozen):
    """How many frames each sampled pose stays; `(2,)` is on twos, `(2, 2, 3, 1)` repeats."""

    pattern: Pattern = (1,)
    anchor: Frame = 0.0

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
