"""A run as it plays on a lane: which drawing shows when (rules 7.3 and 7.4)."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np

from ..arrays import Index
from ..clip.document import Plant
from ..colour import Colour
from ..moments import Source
from ..performance import ChannelKind
from .laid_out import LaidOut, laid_out
from .run import DrawingRun, floored


def pinned_frames(run: DrawingRun) -> int:
    """How many frames its pins shape: so many whole rounds as they lie in; none without pins."""
    if not run.pins:
        return 0
    last = max(pin.frame for pin in run.pins)
    length = run.length_frames
    return max(length, last + 1) if run.play == "once" else length * (last // length + 1)


def laid(run: DrawingRun, frames: int | None = None) -> LaidOut:
    """A run over so many frames, or one round or what its pins shape of it, as it plays.

    Raises Refusal as `laid_out` does.
    """
    pinned = pinned_frames(run)
    frames = frames or pinned or run.length_frames
    if frames <= pinned or not pinned:
        pins = tuple(pin for pin in run.pins if pin.frame < frames)
        return laid_out(run, frames, pins)
    whole = laid_out(run, pinned, run.pins)
    played = RunPlayed(run)
    rest = played.drawings_at(Source(np.arange(pinned, frames, dtype=np.float64)))
    return whole.followed_by(rest)


@dataclass(frozen=True, eq=False)
class RunPlayed:
    """A run, ready to play. One that plays once shows its first drawing before it begins, and its last one
    after it."""

    run: DrawingRun
    figure: str = ""

    @property
    def name(self) -> str:
        return self.run.name

    @property
    def colour(self) -> Colour:
        return self.run.colour

    @property
    def rate(self) -> Fraction:
        return self.run.rate

    @property
    def length_frames(self) -> int:
        if self.run.play == "once":
            return max(self.run.length_frames, len(self._pinned))
        return self.run.length_frames

    @property
    def is_cycle(self) -> bool:
        return self.run.play != "once"

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
    def _pinned(self) -> Index:
        """The drawings of the frames that pins shape."""
        frames = pinned_frames(self.run)
        if not frames:
            return np.zeros(0, dtype=np.intp)
        return laid_out(self.run, frames, self.run.pins).row

    def drawings_at(self, source: Source) -> Index:
        """The numbers of the drawings at these times of the run, rounds gone on. [frames] → [frames].

        Raises Refusal where a pinned drawing does not come.
        """
        if not self._pinned.size:
            return self.run.drawings_at(source)
        if self.run.play == "once":
            return self._pinned[np.clip(floored(source), 0, len(self._pinned) - 1)]
        whole = floored(source)
        shaped = (whole >= 0) & (whole < len(self._pinned))
        drawings = self.run.drawings_at(source)
        drawings[shaped] = self._pinned[whole[shaped]]
        return drawings
