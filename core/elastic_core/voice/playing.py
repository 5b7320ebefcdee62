"""A line as it plays on a lane: which drawing shows when (rules 7.2 and 7.3)."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from typing import Literal

import numpy as np

from ..arrays import Index
from ..clip.document import Plant
from ..colour import Colour
from ..moments import Source
from ..performance import ChannelKind
from .blinks import eyes
from .exposing import Exposed, MouthRun
from .line import Line

# A moment that is computed may lie a hair before the frame that it is on.
_HAIR_FRAMES = 1e-6


@dataclass(frozen=True, eq=False)
class LinePlayed:
    """A line's run of mouths, or of its eyes. Before it begins its first drawing shows, and after it its
    last."""

    line: Line
    run: MouthRun
    figure: str = ""
    made_from: tuple[str, ...] = ()
    part: Literal["mouth", "eyes"] = "mouth"

    @property
    def name(self) -> str:
        return self.line.name

    @property
    def colour(self) -> Colour:
        return "rose"

    @property
    def rate(self) -> Fraction:
        return self.line.rate

    @property
    def length_frames(self) -> int:
        return self.run.frames

    @property
    def is_cycle(self) -> bool:
        return False

    @property
    def channels(self) -> frozenset[ChannelKind]:
        return frozenset({"drawings"})

    @property
    def plants(self) -> Sequence[Plant]:
        return ()

    @property
    def rests(self) -> Sequence[str]:
        return ()

    @cached_property
    def exposures(self) -> tuple[Exposed, ...]:
        """What shows, every frame once, in order."""
        if self.part == "mouth":
            return self.run.exposures
        return eyes(self.line.blinks, self.run.frames)

    @cached_property
    def _starts(self) -> Index:
        return np.array([one.frame for one in self.exposures], dtype=np.intp)

    @cached_property
    def _drawings(self) -> Index:
        return np.array([one.drawing for one in self.exposures], dtype=np.intp)

    def drawings_at(self, source: Source) -> Index:
        """The numbers of the drawings at these times of the line. [frames] → [frames]."""
        place = np.searchsorted(self._starts, source + _HAIR_FRAMES, side="right") - 1
        drawings: Index = self._drawings[np.maximum(place, 0)]
        return drawings
