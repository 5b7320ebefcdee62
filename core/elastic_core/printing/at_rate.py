"""A print at another rate than that of what it shows."""

import math
from dataclasses import dataclass
from fractions import Fraction

from ..sound.document import HOUSE_RATE
from .film import Heard
from .painter import Painter


@dataclass(frozen=True)
class AtRate:
    """The played frames of a span at a rate: pictures, counted from 0, each of the frame that stands then."""

    press: Painter
    span: range
    rate: Fraction

    @property
    def size(self) -> tuple[int, int]:
        return self.press.size

    @property
    def pictures(self) -> range:
        return range(pictures_in(len(self.span), self.press.rate, self.rate))

    def frame(self, played: int) -> bytes:
        """A picture, as a PNG. Raises Refusal as its press does."""
        return self.press.frame(self.span[self.shown(played)])

    def shown(self, picture: int) -> int:
        """Which frame of the span a picture shows."""
        return min(len(self.span) - 1, math.floor(picture * self.press.rate / self.rate))

    def heard(self, heard: Heard | None) -> Heard | None:
        """What is heard with them, counted from the first picture on."""
        if heard is None:
            return None
        begins = round(self.span.start / self.press.rate * HOUSE_RATE)
        return lambda start, count: heard(begins + start, count)


def pictures_in(frames: int, shown: Fraction, rate: Fraction) -> int:
    """How many pictures a rate makes of so many frames: they last as long, to half a picture."""
    return max(1, round(frames * rate / shown))
