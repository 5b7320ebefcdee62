"""Elastics: maps from played time to source time (rules 1.3 to 1.5 and 1.7)."""

from collections.abc import Callable
from fractions import Fraction
from functools import cached_property, reduce
from itertools import pairwise
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, field_validator

from .arrays import Array, Index, real
from .errors import Refusal

TimeMap = Callable[[Array], Array]


class Pin(BaseModel):
    """Ties one source moment to one played moment, and says how the span after it runs."""

    model_config = ConfigDict(frozen=True)

    played: float
    source: float
    span: Literal["even", "held"] = "even"


class Elastic(BaseModel):
    """Pins in order of played time. With no pins it is the identity; one pin shifts time."""

    model_config = ConfigDict(frozen=True)

    pins: tuple[Pin, ...] = ()
    before: Literal["continue", "hold", "stop"] = "continue"
    after: Literal["continue", "hold", "stop"] = "continue"

    @field_validator("pins")
    @classmethod
    def _in_order(cls, pins: tuple[Pin, ...]) -> tuple[Pin, ...]:
        if not all(np.isfinite([pin.played, pin.source]).all() for pin in pins):
            raise Refusal("A pin needs a played and a source frame.")
        for earlier, later in pairwise(pins):
            if later.played <= earlier.played:
                raise Refusal(f"Two pins cannot share played frame {later.played:g}.")
        return pins

    @classmethod
    def at_pace(cls, pace: float) -> "Elastic":
        """An even run at one pace from source 0 at played 0; 1 is as made."""
        if pace == 1:
            return cls()
        return cls(pins=(Pin(played=0, source=0), Pin(played=1, source=pace)))

    def source(self, played: Array) -> Array:
        """Source time at each played time; NaN where the elastic stops. Shape [...] → [...]."""
        played = real(played)
        if not self.pins:
            return played
        at, slope = self._spans(played)
        pins_played, pins_source = self._columns
        start, value = pins_played[at], pins_source[at]
        # At pace 1 the whole shift is added at once, so that an identity returns its input exactly.
        source = np.where(slope == 1, played + (value - start), value + (played - start) * slope)
        if self.before == "stop":
            source = np.where(played < pins_played[0], np.nan, source)
        if self.after == "stop":
            source = np.where(played > pins_played[-1], np.nan, source)
        return source

    def slope(self, played: Array) -> Array:
        """Source frames per played frame, from each moment onward; 0 where time is held."""
        played = real(played)
        return self._spans(played)[1] if self.pins else np.ones_like(played)

    def pace(self, played: Array, source_rate: Fraction, played_rate: Fraction) -> Array:
        """How fast the source runs; 1 is as made, whatever the two frame rates (rule 1.5)."""
        return self.slope(played) * float(played_rate / source_rate)

    def played(self, source: float) -> list[float]:
        """Every played moment that shows this source moment, in order: each span is its own branch.

        A held span answers with its first moment. Continued ends reach beyond the pins.
        """
        if not self.pins:
            return [source]
        played, values = self._columns
        slopes = self._span_slopes
        edges = [-np.inf, *played, np.inf]
        anchors = [0, *range(len(played))]
        lines = [slopes[0] if self.before == "continue" else 0.0]
        lines += list(slopes[: len(played) - 1])
        goes_on = self.after == "continue" and self.pins[-1].span != "held"
        lines += [slopes[-1] if goes_on else 0.0]
        answers: list[float] = []
        for (low, high), anchor, slope in zip(pairwise(edges), anchors, lines, strict=True):
            if slope == 0:
                moment = low if values[anchor] == source and np.isfinite(low) else None
            else:
                moment = played[anchor] + (source - values[anchor]) / slope
            inside = moment is not None and low - 1e-9 <= moment <= high + 1e-9
            if inside and moment is not None and not (answers and abs(moment - answers[-1]) < 1e-9):
                answers.append(float(moment))
        return answers

    def with_pin(self, played: float) -> "Elastic":
        """The same map with one pin more (rule 1.4)."""
        if any(pin.played == played for pin in self.pins):
            return self
        source = float(self.source(real(played)))
        if not self.pins:
            return self._with_pins(Pin(played=played, source=source))
        before = [pin for pin in self.pins if pin.played < played]
        span = before[-1].span if before else "even"
        pin = Pin(played=played, source=source, span=span)
        pins = (*before, pin, *(pin for pin in self.pins if pin.played > played))
        return self._with_pins(*pins)

    def shifted(self, played: float) -> "Elastic":
        """The map as seen from a later start: E(p + played) − E(played)."""
        if not self.pins:
            return self
        origin = float(self.source(real(played)))
        moved = tuple(
            pin.model_copy(update={"played": pin.played - played, "source": pin.source - origin})
            for pin in self.pins
        )
        return self._with_pins(*moved)

    def stretched(self, factor: float) -> "Elastic":
        """The same source in `factor` times the played time."""
        pinned = self if len(self.pins) > 1 else Elastic.at_pace(1.0).pinned()
        moved = tuple(pin.model_copy(update={"played": pin.played * factor}) for pin in pinned.pins)
        return pinned._with_pins(*moved)

    def pinned(self) -> "Elastic":
        """The same map with at least two pins, so that its pace is written down."""
        if len(self.pins) > 1:
            return self
        pin = self.pins[0] if self.pins else Pin(played=0, source=0)
        after = Pin(played=pin.played + 1, source=pin.source + 1)
        return self._with_pins(pin, after)

    def _with_pins(self, *pins: Pin) -> "Elastic":
        """Made anew, not copied: a copy would keep what was worked out from the old pins."""
        return Elastic(pins=pins, before=self.before, after=self.after)

    @cached_property
    def _columns(self) -> tuple[Array, Array]:
        """Played and source times of the pins."""
        played = np.array([pin.played for pin in self.pins])
        return played, np.array([pin.source for pin in self.pins])

    @cached_property
    def _span_slopes(self) -> Array:
        """Source frames per played frame between neighbouring pins."""
        played, source = self._columns
        if len(self.pins) == 1:
            return np.ones(1)
        slopes = np.diff(source) / np.diff(played)
        held = np.array([pin.span == "held" for pin in self.pins[:-1]])
        return np.where(held, 0.0, slopes)

    def _spans(self, played: Array) -> tuple[Index, Array]:
        """For each moment: the pin its line goes through, and the line's slope."""
        pins_played, _ = self._columns
        slopes = self._span_slopes
        span = np.searchsorted(pins_played, played, side="right") - 1
        slope = slopes[np.clip(span, 0, len(slopes) - 1)]
        if self.before != "continue":
            slope = np.where(span < 0, 0.0, slope)
        if self.after != "continue" or self.pins[-1].span == "held":
            slope = np.where(span >= len(pins_played) - 1, 0.0, slope)
        return np.clip(span, 0, None), slope


IDENTITY = Elastic()


def pace_to_elastic(breaks: Array, paces: Array, source_start: float = 0.0) -> Elastic:
    """The elastic that runs at `paces[i]` between `breaks[i]` and `breaks[i + 1]` (rule 1.5)."""
    source = source_start + np.concatenate([[0.0], np.cumsum(np.diff(breaks) * paces)])
    return Elastic(
        pins=tuple(
            Pin(played=float(p), source=float(u)) for p, u in zip(breaks, source, strict=True)
        )
    )


def compose(*maps: TimeMap) -> TimeMap:
    """One map after another, outermost first; nothing is resampled on the way (rule 1.7)."""
    return lambda played: reduce(lambda time, step: step(time), maps, played)
