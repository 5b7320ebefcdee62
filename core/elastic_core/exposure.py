"""Exposure: on ones, on twos, or a repeating pattern (rule 1.8)."""

import numpy as np
from pydantic import field_validator

from .arrays import Array, real
from .errors import Refusal
from .frozen import Frozen


class Exposure(Frozen):
    """How many frames each sampled pose stays; `(2,)` is on twos, `(2, 2, 3, 1)` repeats."""

    pattern: tuple[int, ...] = (1,)
    anchor: float = 0.0

    @field_validator("pattern")
    @classmethod
    def _whole_and_positive(cls, pattern: tuple[int, ...]) -> tuple[int, ...]:
        if not pattern or min(pattern) < 1:
            raise Refusal("An exposure holds each pose for one frame or more.")
        return pattern

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
