"""Elastics: maps from played time to source time (rules 1.3 to 1.5)."""

from collections.abc import Iterable
from fractions import Fraction
from functools import cached_property
from itertools import pairwise
from typing import Literal

import numpy as np
from pydantic import field_validator

from .arrays import Array, real
from .errors import Refusal
from .frozen import Frozen
from .quantities import NEAR_FRAMES, Frame, Slope, SourceFrame
from .spans import Span, Spans, local_slopes, secants

PinSpan = Literal["even", "eased", "ramped", "held"]
_CODES: dict[PinSpan, Span] = {
    "even": Span.EVEN,
    "eased": Span.EASED,
    "ramped": Span.RAMPED,
    "held": Span.HOLD,
}


class Pin(Frozen):
    """Ties one source moment to one played moment, and says how the span after it runs.

    `arriving` and `leaving` are slopes of its own, in source frames per played frame: what an eased
    span keeps instead of the slopes that its neighbours give, and where a ramp starts.
    """

    played: Frame
    source: SourceFrame
    span: PinSpan = "even"
    arriving: Slope | None = None
    leaving: Slope | None = None


class Elastic(Frozen):
    """Pins in order of played time. With no pins it is the identity; one pin shifts time."""

    pins: tuple[Pin, ...] = ()
    before: Literal["continue", "hold", "stop"] = "continue"
    after: Literal["continue", "hold", "stop"] = "continue"

    @field_validator("pins")
    @classmethod
    def _in_order(cls, pins: tuple[Pin, ...]) -> tuple[Pin, ...]:
        for earlier, later in pairwise(pins):
            if later.played - earlier.played < NEAR_FRAMES:
                raise Refusal(f"Two pins cannot share played frame {later.played:g}.")
        return pins

    @classmethod
    def at_pace(cls, pace: float) -> "Elastic":
        """An even run at one pace from source 0 at played 0; 1 is as made."""
        if pace == 1:
            return cls()
        level = Spans(real([0, 1]), real([pace, pace]), real([0]), real([0]), _one(Span.HOLD))
        return cls.from_pace(level)

    @classmethod
    def from_pace(cls, pace: Spans, source_start: float = 0.0) -> "Elastic":
        """The elastic that runs at this pace (source per played frame), its exact integral (rule 1.5).

        `pace` holds its level over a span, or ramps evenly; raises Refusal for any other span.
        """
        if not np.isin(pace.kinds, (Span.HOLD, Span.EVEN)).all():
            raise Refusal("A pace holds its level, or ramps evenly from one to the next.")
        source = source_start + pace.integral(pace.times)
        pins = []
        for place, (played, at) in enumerate(zip(pace.times, source, strict=True)):
            ramps = place < len(pace.kinds) and pace.kinds[place] == Span.EVEN
            leaving = float(pace.values[place]) if ramps else None
            kind: PinSpan = "ramped" if ramps else "even"
            pins.append(Pin(played=float(played), source=float(at), span=kind, leaving=leaving))
        return cls(pins=tuple(pins))

    @property
    def is_identity(self) -> bool:
        return not self.pins

    def source(self, played: Array) -> Array:
        """Source time at each played time; NaN where the elastic stops. Shape [...] → [...]."""
        played = real(played)
        if not self.pins:
            return played
        source = self._spans.at(self._reached(played))
        if self.before == "stop":
            source = np.where(played < self.pins[0].played, np.nan, source)
        if self.after == "stop":
            source = np.where(played > self.pins[-1].played, np.nan, source)
        return source

    def slope(self, played: Array) -> Array:
        """Source frames per played frame, from each moment onward; 0 where time is held."""
        played = real(played)
        if not self.pins:
            return np.ones_like(played)
        slope = self._spans.slope(played)
        if self.before != "continue":
            slope = np.where(played < self.pins[0].played, 0.0, slope)
        if self.after != "continue" or self.pins[-1].span == "held":
            slope = np.where(played >= self.pins[-1].played, 0.0, slope)
        return slope

    def pace(self, played: Array, source_rate: Fraction, played_rate: Fraction) -> Array:
        """How fast the source runs; 1 is as made, whatever the two frame rates (rule 1.5)."""
        return self.slope(played) * float(played_rate / source_rate)

    def played(self, source: float) -> list[float]:
        """Every played moment that shows this source moment, in order: each span is its own branch.

        A held span answers with its first moment. Continued ends reach beyond the pins.
        """
        if not self.pins:
            return [source]
        first, last = self.pins[0].played, self.pins[-1].played
        goes_on = self.after == "continue" and self.pins[-1].span != "held"
        return [
            moment
            for moment in self._spans.moments_of(source)
            if (self.before == "continue" or moment >= first - 1e-9)
            and (goes_on or moment <= last + 1e-9)
        ]

    def with_pin(self, played: float) -> "Elastic":
        """The same map with one pin more (rule 1.4)."""
        if any(abs(pin.played - played) < NEAR_FRAMES for pin in self.pins):
            return self
        at = real(played)
        source = float(self.source(at))
        if not self.pins:
            return self._with_pins(Pin(played=played, source=source))
        place = sum(pin.played < played for pin in self.pins)
        pins, new = list(self.pins), Pin(played=played, source=source)
        spans = self._spans
        if place == 0:
            # On the straight line that leads to the first pin, which goes on as it did.
            pins[0] = _kept(pins[0], None, float(spans.leaving[0]) if len(pins) > 1 else None)
        elif place == len(pins):
            last = pins[-1]
            arriving = float(spans.arriving[-1]) if len(pins) > 1 else None
            kind: PinSpan = "held" if last.span == "held" else "even"
            pins[-1] = _kept(last, arriving, None).model_copy(update={"span": kind})
            new = new.model_copy(update={"span": kind})
        else:
            new = self._cut(pins, place, new)
        return self._with_pins(*pins[:place], new, *pins[place:])

    def without_pin(self, played: float) -> "Elastic":
        """The map without one of its pins; what was pinned without a change is as it was before."""
        return self._with_pins(*(pin for pin in self.pins if pin.played != played))

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
        pinned = self.pinned()
        moved = (
            pin.model_copy(
                update={
                    "played": pin.played * factor,
                    "arriving": None if pin.arriving is None else pin.arriving / factor,
                    "leaving": None if pin.leaving is None else pin.leaving / factor,
                }
            )
            for pin in pinned.pins
        )
        return pinned._with_pins(*moved)

    def placed(self, played: float, source: float, ratio: float) -> "Elastic":
        """The same map told from other zeros: its played 0 and source 0 lie there, and each of its source
        frames counts for `ratio`."""
        moved = (
            pin.model_copy(
                update={
                    "played": pin.played + played,
                    "source": source + ratio * pin.source,
                    "arriving": None if pin.arriving is None else pin.arriving * ratio,
                    "leaving": None if pin.leaving is None else pin.leaving * ratio,
                }
            )
            for pin in (self if (played, source, ratio) == (0, 0, 1) else self.pinned()).pins
        )
        return self._with_pins(*moved)

    def span_slopes(self, place: int) -> tuple[float, float]:
        """Source frames per played frame at the start and at the end of the span after a pin."""
        spans = self._spans
        if self.pins[place].span == "even":
            line = (spans.values[place + 1] - spans.values[place]) / (
                spans.times[place + 1] - spans.times[place]
            )
            return float(line), float(line)
        return float(spans.leaving[place]), float(spans.arriving[place])

    def slope_before(self, played: float) -> float:
        """Source frames per played frame just before a moment."""
        if not self.pins:
            return 1.0
        place = sum(pin.played < played for pin in self.pins) - 1
        if 0 <= place < len(self.pins) - 1 and self.pins[place + 1].played == played:
            return self.span_slopes(place)[1]
        return float(self.slope(real(np.nextafter(played, -np.inf))))

    def with_pins(self, pins: Iterable[Pin]) -> "Elastic":
        """Other pins, and the same before and after them."""
        return self._with_pins(*pins)

    def pinned(self) -> "Elastic":
        """The same map with at least two pins, so that its pace is written down."""
        if len(self.pins) > 1:
            return self
        pin = self.pins[0] if self.pins else Pin(played=0, source=0)
        after = Pin(played=pin.played + 1, source=pin.source + 1)
        return self._with_pins(pin, after)

    @cached_property
    def runs_evenly(self) -> bool:
        """Whether one pace, and not 0, holds throughout."""
        slopes = self._spans.leaving if len(self.pins) > 1 else np.ones(1)
        straight = all(pin.span == "even" for pin in self.pins[:-1])
        return straight and bool(np.ptp(slopes) < 1e-12 and slopes[0] != 0)

    def _cut(self, pins: list[Pin], place: int, new: Pin) -> Pin:
        """The pin that cuts the span before `place`; its neighbours keep the slopes they had."""
        left, right = pins[place - 1], pins[place]
        spans = self._spans
        # An eased span looks at the pins next to it on either side, and would look at the new one.
        if place > 1 and pins[place - 2].span == "eased":
            left = _kept(left, float(spans.arriving[place - 2]), None)
        if place < len(pins) - 1 and right.span == "eased":
            right = _kept(right, None, float(spans.leaving[place]))
        pins[place - 1], pins[place] = left, right
        if left.span in ("even", "held"):
            return new.model_copy(update={"span": left.span})
        slope = float(spans.slope(real(new.played)))
        if left.span == "eased":
            pins[place - 1] = _kept(left, None, float(spans.leaving[place - 1]))
            pins[place] = _kept(right, float(spans.arriving[place - 1]), None)
        else:
            pins[place - 1] = left.model_copy(update={"leaving": float(spans.leaving[place - 1])})
        update = {"span": left.span, "arriving": slope, "leaving": slope}
        return new.model_copy(update=update)

    def _with_pins(self, *pins: Pin) -> "Elastic":
        return Elastic(pins=pins, before=self.before, after=self.after)

    def _reached(self, played: Array) -> Array:
        """Played time that does not run on beyond a held end."""
        low = self.pins[0].played if self.before == "hold" else -np.inf
        ends = self.after == "hold" or self.pins[-1].span == "held"
        high = self.pins[-1].played if ends else np.inf
        return played if (low, high) == (-np.inf, np.inf) else np.clip(played, low, high)

    @cached_property
    def _spans(self) -> Spans:
        """The pins as spans, every slope worked out."""
        played = np.array([pin.played for pin in self.pins])
        source = np.array([pin.source for pin in self.pins])
        if len(self.pins) == 1:
            # One pin shifts time: a straight line through it.
            played, source = np.append(played, played + 1), np.append(source, source + 1)
            return Spans(played, source, np.ones(1), np.ones(1), _one(Span.EVEN))
        kinds = np.array([_CODES[pin.span] for pin in self.pins[:-1]], dtype=np.uint8)
        lines, eased = secants(played, source), local_slopes(played, source)
        leaving = np.where(kinds == Span.EASED, eased[:-1], np.where(kinds == Span.HOLD, 0, lines))
        arriving = np.where(kinds == Span.EASED, eased[1:], np.where(kinds == Span.HOLD, 0, lines))
        for place, (pin, after) in enumerate(pairwise(self.pins)):
            if pin.span == "eased":
                leaving[place] = leaving[place] if pin.leaving is None else pin.leaving
                arriving[place] = arriving[place] if after.arriving is None else after.arriving
            elif pin.span == "ramped":
                if pin.leaving is not None:
                    leaving[place] = pin.leaving
                elif after.arriving is not None:
                    leaving[place] = 2 * lines[place] - after.arriving
                # The pace changes evenly, so its mean is that of both ends.
                arriving[place] = 2 * lines[place] - leaving[place]
        return Spans(played, source, leaving, arriving, kinds)


def _kept(pin: Pin, arriving: float | None, leaving: float | None) -> Pin:
    """A pin with slopes of its own, where it had none."""
    return pin.model_copy(
        update={
            "arriving": arriving if pin.arriving is None else pin.arriving,
            "leaving": leaving if pin.leaving is None else pin.leaving,
        }
    )


def _one(kind: Span) -> "np.ndarray[tuple[int], np.dtype[np.uint8]]":
    return np.array([kind], dtype=np.uint8)
