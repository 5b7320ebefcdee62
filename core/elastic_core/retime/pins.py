"""An elastic edited by its pins (rules 1.3 and 1.4).

With `ripple` what comes after moves along, and the length grows or shrinks; without, the last pin stays.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ..clock import Span
from ..elastic import Elastic, Pin, PinSpan
from ..errors import Refusal
from ..quantities import NEAR_FRAMES
from .pace import told

# Two pins come no nearer than this by hand.
LEAST_FRAMES = 1.0


def pinned_over(elastic: Elastic, span: Span) -> Elastic:
    """The same map with a pin at both ends of what plays, so that a pin between them moves neither."""
    return elastic.with_pin(span.start).with_pin(span.end)


def pin_at(elastic: Elastic, place: int) -> Pin:
    """A pin by its place. Raises Refusal where it is gone."""
    if not 0 <= place < len(elastic.pins):
        raise Refusal("That pin is no longer there.")
    return elastic.pins[place]


def moved_pin(
    elastic: Elastic,
    place: int,
    played: float | None = None,
    source: float | None = None,
    *,
    ripple: bool = False,
) -> Elastic:
    """One pin at another played or source moment. It stops a frame short of its neighbours; with `ripple`
    the later ones keep their distance to it."""
    pin = pin_at(elastic, place)
    pins = list(elastic.pins)
    shift = 0.0
    if played is not None:
        shift = _held_between(pins, place, played, ripple=ripple) - pin.played
    update = {"played": pin.played + shift, "source": pin.source if source is None else source}
    pins[place] = pin.model_copy(update=update)
    if ripple:
        pins[place + 1 :] = [later(other, shift) for other in pins[place + 1 :]]
    return elastic.with_pins(pins)


def _held_between(pins: Sequence[Pin], place: int, wanted: float, *, ripple: bool) -> float:
    own = pins[place].played
    if place:
        before = pins[place - 1].played
        wanted = max(wanted, before + min(LEAST_FRAMES, own - before))
    if place + 1 < len(pins) and not ripple:
        after = pins[place + 1].played
        wanted = min(wanted, after - min(LEAST_FRAMES, after - own))
    return wanted


def later(pin: Pin, frames: float) -> Pin:
    """A pin that plays so many frames later."""
    return pin.model_copy(update={"played": pin.played + frames}) if frames else pin


def removed_pin(elastic: Elastic, place: int) -> Elastic:
    """The map without one of its pins."""
    return elastic.without_pin(pin_at(elastic, place).played)


def with_span(elastic: Elastic, place: int, span: PinSpan) -> Elastic:
    """Another kind for the span after a pin. A ramp sets out at the pace with which the span before it
    ends, as far as it comes out without turning back."""
    pin = pin_at(elastic, place)
    if place + 1 == len(elastic.pins) and span != "held":
        span = "even"
    leaving = None
    if span == "ramped":
        after = elastic.pins[place + 1]
        mean = (after.source - pin.source) / (after.played - pin.played)
        before = elastic.slope_before(pin.played) if place else mean
        low, high = sorted((0.0, 2 * mean))
        leaving = min(max(before, low), high)
    pins = list(elastic.pins)
    pins[place] = pin.model_copy(update={"span": span, "leaving": leaving})
    if place + 1 < len(pins):
        pins[place + 1] = pins[place + 1].model_copy(update={"arriving": None})
    return elastic.with_pins(pins)


@dataclass(frozen=True)
class Numbered:
    """How moments are numbered where they are told: as they are, or from a scene's first frame."""

    played: Callable[[float], str] = told
    source: Callable[[float], str] = told


AS_COUNTED = Numbered()


def pinned_source(
    elastic: Elastic,
    source: float,
    played: float,
    span: Span,
    *,
    ripple: bool = False,
    numbered: Numbered = AS_COUNTED,
) -> Elastic:
    """“Source 90 plays at 36”: the pin that ties them, put in where that source plays now.

    Raises Refusal where it never plays, or where it would come before what lies before it.
    """
    ended = pinned_over(elastic, span)
    now = [at for at in ended.played(source) if span.start - 1e-6 <= at <= span.end + 1e-6]
    if not now:
        raise Refusal(
            f"Frame {numbered.source(source)} does not play here, so there is nothing to pin."
        )
    at = min(now, key=lambda moment: abs(moment - played))
    pinned = ended.with_pin(at)
    place = next(k for k, pin in enumerate(pinned.pins) if abs(pin.played - at) < NEAR_FRAMES)
    if place == 0 and played != at:
        raise Refusal(
            f"Frame {numbered.source(source)} is what it begins with: move the beginning itself."
        )
    if place and played - pinned.pins[place - 1].played < LEAST_FRAMES:
        raise Refusal(
            f"Frame {numbered.source(source)} cannot play before the pin at "
            f"{numbered.played(pinned.pins[place - 1].played)}."
        )
    is_past = place + 1 < len(pinned.pins) and played > pinned.pins[place + 1].played - LEAST_FRAMES
    if is_past and not ripple:
        raise Refusal(
            f"Frame {numbered.source(source)} cannot play after the pin at "
            f"{numbered.played(pinned.pins[place + 1].played)}, unless what follows moves on."
        )
    return moved_pin(pinned, place, played, source, ripple=ripple)


def turned_round(elastic: Elastic, span: Span) -> Elastic:
    """What plays over a span, from its end to its beginning: E'(p) = E(start + end − p).

    Raises Refusal for a held stretch that jumps on at its end: backwards it would have to jump before it.
    """
    ended = pinned_over(elastic, span)
    inside = [
        pin
        for pin in ended.pins
        if span.start - NEAR_FRAMES <= pin.played <= span.end + NEAR_FRAMES
    ]
    pins: list[Pin] = []
    for place in range(len(inside) - 1, -1, -1):
        pin = inside[place]
        before = inside[place - 1] if place else None
        kind: PinSpan = before.span if before else "even"
        if before and kind == "held" and abs(before.source - pin.source) > NEAR_FRAMES:
            raise Refusal("A held stretch that jumps on at its end cannot be turned round.")
        leaving, arriving = pin.arriving, pin.leaving
        if before and kind == "ramped":
            leaving = ended.span_slopes(ended.pins.index(before))[1]
            arriving = None
        pins.append(
            Pin(
                played=span.start + span.end - pin.played,
                source=pin.source,
                span=kind,
                arriving=None if arriving is None else -arriving,
                leaving=None if leaving is None else -leaving,
            )
        )
    return elastic.with_pins(pins)
