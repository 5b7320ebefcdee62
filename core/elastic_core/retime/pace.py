"""An elastic edited by its pace (rule 1.5): a level, or the length of a ramp. Sources stay pinned."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.optimize import brentq

from ..elastic import Elastic, Pin, PinSpan
from ..errors import Refusal

# Beyond these a pace is marked, and what has to make up for a change goes no further.
FAST, SLOW = 4.0, 0.1


def told(frame: float) -> str:
    """A moment in a sentence."""
    return f"{frame:.1f}".rstrip("0").rstrip(".")


def percent(pace: float) -> str:
    """A pace in a sentence."""
    return f"{100 * pace:.1f}".rstrip("0").rstrip(".") + " %"


def with_level(
    elastic: Elastic, place: int, slope: float, unit: float, *, ripple: bool, whole: bool = False
) -> Elastic:
    """The span after a pin at one pace, `slope` source frames per played frame; ramps that led to its old
    pace lead to the new one. `unit` is the slope of 100 %. With `whole` a pace near by is
    taken, at which what follows moves by whole frames.

    Raises Refusal for a held span, for a pace that turns it round, and without `ripple` where nothing else
    can make up for it.
    """
    _has_span(elastic, place)
    rise = elastic.pins[place + 1].source - elastic.pins[place].source
    if rise == 0 or elastic.pins[place].span == "held":
        raise Refusal("This stretch is held: make it even first, or take out its pins.")
    if slope == 0:
        raise Refusal("At 0 % it would never end. Hold the frame instead, for as long as wanted.")
    if slope * rise < 0:
        raise Refusal(
            "To play it backwards, draw one of its pins past the other on the lower ruler."
        )
    joined = _joined(elastic, place)
    if whole and ripple:
        slope = _of_whole_frames(elastic, joined, slope)
    pins = list(elastic.pins)
    lengths = [b.played - a.played for a, b in pairwise(pins)]
    for span, leaving, length in _at_level(elastic, joined, slope):
        lengths[span] = length
        kind: PinSpan = "even" if span == place else "ramped"
        pins[span] = pins[span].model_copy(update={"span": kind, "leaving": leaving})
    changed = (joined.first, joined.last)
    return _laid_out(elastic, pins, lengths, changed, unit, ripple=ripple)


@dataclass(frozen=True)
class _Joined:
    """A level and the ramps that lead to and from its pace: spans `first` up to but not `last`."""

    level: int
    first: int
    last: int


def _joined(elastic: Elastic, level: int) -> _Joined:
    pins, (start, end) = elastic.pins, elastic.span_slopes(level)
    before, after = level - 1, level + 1
    leads = level > 0 and pins[before].span == "ramped"
    follows = after + 1 < len(pins) and pins[after].span == "ramped"
    leads = leads and _same(elastic.span_slopes(before)[1], start)
    follows = follows and _same(elastic.span_slopes(after)[0], end)
    return _Joined(level, level - leads, level + 1 + follows)


def _at_level(
    elastic: Elastic, joined: _Joined, slope: float
) -> list[tuple[int, float | None, float]]:
    """The level at a pace and its ramps: of each span its place, the slope it sets out with where it is a
    ramp, and how long its source takes."""
    found: list[tuple[int, float | None, float]] = []
    for span in range(joined.first, joined.last):
        start, end = elastic.span_slopes(span)
        if span < joined.level:
            found.append((span, start, _ramp_frames(elastic, span, start, slope)))
        elif span > joined.level:
            found.append((span, slope, _ramp_frames(elastic, span, slope, end)))
        else:
            rise = elastic.pins[span + 1].source - elastic.pins[span].source
            found.append((span, None, rise / slope))
    return found


def _of_whole_frames(elastic: Elastic, joined: _Joined, slope: float) -> float:
    """The pace nearest to one at which a level and its ramps take whole frames more or less than now."""
    now = elastic.pins[joined.last].played - elastic.pins[joined.first].played

    def longer(pace: float) -> float:
        return sum(length for _, _, length in _at_level(elastic, joined, pace)) - now

    goal = float(np.floor(longer(slope) + 0.5))
    low, high = sorted((slope / 2, slope * 2))
    try:
        return float(brentq(lambda pace: longer(pace) - goal, low, high, xtol=1e-14, rtol=1e-14))
    except ValueError:
        # So short a stretch has no such pace.
        return slope


def with_ramp(
    elastic: Elastic, place: int, frames: float, unit: float, *, ripple: bool, whole: bool = False
) -> Elastic:
    """The ramp beside a pin, so many frames long between the same two paces; what it takes more of its
    source the level on the pin's other side has less. `place` is the pin between ramp and level. With
    `whole` a length near by is taken, by which what follows moves by whole frames.

    Raises Refusal where there is no ramp beside a level, or none of that length fits.
    """
    if not 0 < place < len(elastic.pins) - 1:
        raise Refusal("There is no ramp here.")
    kinds = (elastic.pins[place - 1].span, elastic.pins[place].span)
    if kinds not in (("ramped", "even"), ("even", "ramped")):
        raise Refusal("There is no ramp here beside an even stretch.")
    ramp, level = (place - 1, place) if kinds[0] == "ramped" else (place, place - 1)
    start, end = elastic.span_slopes(ramp)
    pace = elastic.span_slopes(level)[0]
    mean = (start + end) / 2
    if whole and ripple and mean != pace:
        # Each frame of it more makes the whole longer by 1 − mean / pace.
        now = elastic.pins[ramp + 1].played - elastic.pins[ramp].played
        by = 1 - mean / pace
        frames = now + float(np.floor((frames - now) * by + 0.5)) / by
    rise = frames * mean
    both = elastic.pins[place + 1].source - elastic.pins[place - 1].source
    left = both - rise
    if frames <= 0 or pace * left <= 0:
        raise Refusal(f"A ramp of {told(frames)} frames does not fit here.")
    pins = list(elastic.pins)
    lengths = [b.played - a.played for a, b in pairwise(pins)]
    lengths[ramp], lengths[level] = frames, left / pace
    source = pins[place - 1].source + (rise if ramp < level else left)
    pins[place] = pins[place].model_copy(update={"source": source})
    pins[ramp] = pins[ramp].model_copy(update={"leaving": start})
    return _laid_out(elastic, pins, lengths, (place - 1, place + 1), unit, ripple=ripple)


def _laid_out(
    elastic: Elastic,
    pins: Sequence[Pin],
    lengths: Sequence[float],
    changed: tuple[int, int],
    unit: float,
    *,
    ripple: bool,
) -> Elastic:
    """Pins after each other with these lengths between them. Without `ripple` the first and the last one
    stay, and what lies behind the changed spans (else before them) is squeezed or stretched."""
    first, last = changed
    factors = [1.0] * len(lengths)
    if not ripple:
        behind = range(last, len(lengths)) if last < len(lengths) else range(first)
        own = sum(lengths[k] for k in behind)
        whole = elastic.pins[-1].played - elastic.pins[0].played
        left = own + whole - sum(lengths)
        if not behind or left <= 0:
            raise Refusal(
                "Nothing else could make up for it: let what follows move on, or pin it first."
            )
        _within_limits(elastic, behind, own / left, unit)
        for k in behind:
            factors[k] = left / own
    found = [pins[0]]
    for k, length in enumerate(lengths):
        found.append(
            pins[k + 1].model_copy(update={"played": found[-1].played + length * factors[k]})
        )
    if not ripple:
        found[-1] = found[-1].model_copy(update={"played": elastic.pins[-1].played})
    for k, factor in enumerate(factors):
        if factor != 1:
            found[k] = with_slopes(found[k], leaving=1 / factor)
            found[k + 1] = with_slopes(found[k + 1], arriving=1 / factor)
    return elastic.with_pins(found)


def _within_limits(elastic: Elastic, behind: range, factor: float, unit: float) -> None:
    """Raises Refusal where making up for a change would take a pace beyond the limit."""
    fastest = max(max(abs(slope) for slope in elastic.span_slopes(k)) for k in behind)
    must_go(fastest * factor / unit)


def must_go(pace: float) -> None:
    """Raises Refusal for a pace that is too fast to make up for a change."""
    if pace > FAST + 1e-9:
        raise Refusal(
            f"The rest would have to play at {percent(pace)} to make up for it, and more than "
            f"{percent(FAST)} is too fast. Let what follows move on, or change less."
        )


def with_slopes(pin: Pin, *, arriving: float = 1.0, leaving: float = 1.0) -> Pin:
    """A pin whose own slopes, where it has them, are so many times as steep."""
    return pin.model_copy(
        update={
            "arriving": None if pin.arriving is None else pin.arriving * arriving,
            "leaving": None if pin.leaving is None else pin.leaving * leaving,
        }
    )


def _ramp_frames(elastic: Elastic, place: int, start: float, end: float) -> float:
    """How long a ramp between two paces takes for its source."""
    rise = elastic.pins[place + 1].source - elastic.pins[place].source
    if (start + end) * rise <= 0:
        raise Refusal("The ramp beside it would have to turn back: straighten that first.")
    return 2 * rise / (start + end)


def _has_span(elastic: Elastic, place: int) -> None:
    if not 0 <= place < len(elastic.pins) - 1:
        raise Refusal("There is no pinned stretch here: its pace is that of its neighbours.")


def _same(a: float, b: float) -> bool:
    return abs(a - b) <= 1e-6 * max(1.0, abs(a), abs(b))
