"""Slow (or hurry) a range, or hold a frame (rule 1.6).

*Ripple*: what follows moves later and the length grows. *Absorb*: the ends of a wider span stay where they
are, and what lies beside the range makes up the difference, all of it at so many times its pace.
"""

from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import brentq

from ..clock import Span
from ..elastic import Elastic, Pin
from ..errors import Refusal
from ..quantities import NEAR_FRAMES
from .pace import must_go, told, with_slopes
from .pins import later


@dataclass(frozen=True)
class Slowing:
    """What is asked of a range: a pace (1 = as made) or a length in played frames, and ramps at both ends.

    `unit` is the slope of 100 %: source frames per played frame. With `whole` the range comes out in whole
    frames: the ramps take up the difference, or the pace where there are none.
    """

    pace: float | None = None
    length_frames: float | None = None
    ramp_frames: float = 0.0
    unit: float = 1.0
    whole: bool = False


@dataclass(frozen=True)
class _Range:
    """A range of an elastic: its source at both ends, and the slopes just outside."""

    source: tuple[float, float]
    before: float
    after: float

    @property
    def rise(self) -> float:
        return self.source[1] - self.source[0]


@dataclass(frozen=True)
class _Piece:
    """A level between two ramps, so long in all."""

    frames: float
    level: float
    ramp: float


def slowed(elastic: Elastic, over: Span, wanted: Slowing, within: Span | None = None) -> Elastic:
    """The elastic with one range at another pace; the same source plays in it. Without `within` it ripples,
    else the ends of that span stay.

    Raises Refusal for a range that is held or turns back, for ramps that do not fit, and where the rest
    would have to go too fast to make up for it. Then nothing has changed.
    """
    if within is not None or not wanted.ramp_frames:
        elastic = _anchored(elastic, within or over)
    held = _Range(
        (_source(elastic, over.start), _source(elastic, over.end)),
        elastic.slope_before(over.start),
        float(elastic.slope(np.array(over.end))),
    )
    _must_go_one_way(elastic, over, held)
    if within is None:
        return _put(elastic, over, held, _piece(held, wanted, 1.0, 1.0), None, 1.0)
    beside = _beside(over, within)
    if min(beside) < -NEAR_FRAMES:
        raise Refusal("The range lies outside of what is to make up for it.")
    exact = replace(wanted, whole=False)
    factor = _absorbing(held, exact, within.length_frames, beside)
    _must_fit(elastic, over, within, factor, wanted.unit)
    piece = _piece(held, exact, *_outside(beside, factor))
    return _put(elastic, over, held, piece, within, factor)


def held_frame(
    elastic: Elastic, at: float, frames: float, within: Span | None = None, unit: float = 1.0
) -> Elastic:
    """The frame that shows at a moment stands for so many frames more.

    Raises Refusal where the rest would have to go too fast to make up for it.
    """
    if frames <= 0:
        raise Refusal("A frame is held for one frame or more.")
    source = _source(elastic, at)
    elastic = _anchored(elastic, within or Span(at, at))
    if within is None:
        left, right = _sides(elastic, Span(at, at), None, 1.0, frames)
    else:
        room = within.length_frames - frames
        if room <= 0:
            raise Refusal(f"There is no room to hold it for {told(frames)} frames.")
        factor = within.length_frames / room
        _must_fit(elastic, Span(at, at), within, factor, unit)
        left, right = _sides(elastic, Span(at, at), within, factor, frames)
    stands = left[-1].model_copy(update={"source": source, "span": "held", "leaving": None})
    goes_on = right[0].model_copy(update={"source": source, "arriving": None})
    return elastic.with_pins([*left[:-1], stands, goes_on, *right[1:]])


def _anchored(elastic: Elastic, over: Span) -> Elastic:
    """The same map with pins about a range: beyond them it goes on as it does now, and not at the pace of
    the range. An elastic that has its ends pinned is left alone."""
    if not elastic.pins or elastic.pins[0].played > over.start:
        elastic = elastic.with_pin(over.start - 1)
    return elastic if elastic.pins[-1].played >= over.end else elastic.with_pin(over.end + 1)


def _source(elastic: Elastic, at: float) -> float:
    return float(elastic.source(np.array(at)))


def _must_go_one_way(elastic: Elastic, over: Span, held: _Range) -> None:
    steps = max(2, int(np.ceil(over.length_frames * 4)) + 1)
    runs = np.diff(elastic.source(np.linspace(over.start, over.end, steps)))
    if held.rise == 0:
        raise Refusal("This range is held: it has no pace to change. Take out its pins first.")
    if (runs * held.rise < -1e-9).any():
        raise Refusal("This range plays there and back: slow each way by itself.")


def _piece(held: _Range, wanted: Slowing, before: float, after: float) -> _Piece:
    """Level and ramps, where the pace outside is so many times what it was."""
    way, ramp = np.sign(held.rise), wanted.ramp_frames
    ends = held.before * before + held.after * after
    if wanted.length_frames is not None:
        frames = wanted.length_frames
        if frames <= 2 * ramp:
            raise Refusal(f"Two ramps of {told(ramp)} frames do not fit into {told(frames)}.")
        level = (held.rise - ramp * ends / 2) / (frames - ramp)
    elif wanted.pace is not None:
        level = float(way) * wanted.pace * wanted.unit
        if level == 0:
            raise Refusal("At 0 % it would never end. Hold a frame instead.")
        frames = ramp + (held.rise - ramp * ends / 2) / level
    else:
        raise Refusal("Say at which pace it is to play, or for how long.")
    if way * level <= 0 or frames < 2 * ramp - 1e-9:
        most = _longest_ramp(held, ends, level)
        raise Refusal(
            f"Ramps of {told(ramp)} frames do not fit into this range"
            + (f"; {told(most)} is the most." if most > 0 else ".")
        )
    piece = _Piece(float(frames), float(level), ramp)
    return _in_whole_frames(held, piece, ends) if wanted.whole else piece


def _longest_ramp(held: _Range, ends: float, level: float) -> float:
    """The ramps that leave no level between them: rise = ramp (ends / 2 + level)."""
    mean = ends / 2 + level
    return float(np.floor(10 * held.rise / mean) / 10) if mean * held.rise > 0 else 0.0


def _in_whole_frames(held: _Range, piece: _Piece, ends: float) -> _Piece:
    frames = max(1.0, float(np.floor(piece.frames + 0.5)))
    bends = ends / 2 - piece.level
    if piece.ramp and abs(bends) > 1e-9:
        ramp = (held.rise - frames * piece.level) / bends
        if 0 <= ramp <= frames / 2 and abs(ramp - piece.ramp) < 1:
            return replace(piece, frames=frames, ramp=float(ramp))
    level = (held.rise - piece.ramp * ends / 2) / (frames - piece.ramp)
    if level * held.rise <= 0:
        return piece
    return replace(piece, frames=frames, level=float(level))


def _outside(beside: tuple[float, float], factor: float) -> tuple[float, float]:
    """How many times its pace each side goes; one that is not there goes on as it did."""
    left, right = (factor if own > NEAR_FRAMES else 1.0 for own in beside)
    return left, right


def _absorbing(held: _Range, wanted: Slowing, whole: float, beside: tuple[float, float]) -> float:
    """How many times as fast both sides have to go so that the whole takes as long as before."""
    own = sum(beside)
    if own <= NEAR_FRAMES:
        raise Refusal("Nothing lies beside this range that could make up for it.")

    def over(factor: float) -> float:
        return _piece(held, wanted, *_outside(beside, factor)).frames + own / factor - whole

    shortest = _piece(held, wanted, 1.0, 1.0).frames
    if wanted.ramp_frames == 0 or wanted.length_frames is not None:
        room = whole - shortest
        if room <= 0:
            raise Refusal(
                f"The range alone would take {told(shortest)} frames, and there are {told(whole)} in all."
            )
        return own / room
    low, high = 1e-3, 1.0
    while over(high) > 0:
        high *= 2
        must_go(high / 2 * min(1.0, max(abs(held.before), abs(held.after)) / wanted.unit))
    return float(brentq(over, low, high, xtol=1e-14, rtol=1e-14))


def _must_fit(elastic: Elastic, over: Span, within: Span, factor: float, unit: float) -> None:
    """Raises Refusal where what lies beside a range would have to go beyond the limit."""
    pinned = elastic.pinned()
    edges = [within.start, over.start, over.end, within.end, *(pin.played for pin in pinned.pins)]
    beside = [
        edge for edge in edges if within.start <= edge < over.start or over.end <= edge < within.end
    ]
    slopes = [float(elastic.slope(np.array(edge))) for edge in beside]
    slopes += [elastic.slope_before(edge) for edge in edges if edge > within.start]
    if factor > 1 and slopes:
        must_go(factor * max(abs(slope) for slope in slopes) / unit)


def _put(
    elastic: Elastic,
    over: Span,
    held: _Range,
    piece: _Piece,
    within: Span | None,
    factor: float,
) -> Elastic:
    """A range replaced by level and ramps; what lies outside of it as it was, or squeezed."""
    left, right = _sides(elastic, over, within, factor, piece.frames - over.length_frames)
    start, end = left[-1], right[0]
    first, last = held.source
    if not piece.ramp:
        middle = [start.model_copy(update={"source": first, "span": "even", "leaving": None})]
    else:
        # The ramps meet the pace outside, as it is when the rest has made up for it: a ramp's mean gives it.
        before, after = _outside(_beside(over, within), factor) if within else (1.0, 1.0)
        outside = (held.before * before, held.after * after)
        rises = [piece.ramp * (slope + piece.level) / 2 for slope in outside]
        ramp_in = {"source": first, "span": "ramped", "leaving": outside[0]}
        middle = [
            start.model_copy(update=ramp_in),
            Pin(played=start.played + piece.ramp, source=first + rises[0]),
            Pin(
                played=end.played - piece.ramp,
                source=last - rises[1],
                span="ramped",
                leaving=piece.level,
            ),
        ]
        if middle[2].played - middle[1].played < 1e-3:
            # No level is left between the two ramps.
            del middle[1]
    return elastic.with_pins(
        [*left[:-1], *middle, end.model_copy(update={"source": last}), *right[1:]]
    )


def _beside(over: Span, within: Span) -> tuple[float, float]:
    """How much lies on either side of a range."""
    return over.start - within.start, within.end - over.end


def _sides(
    elastic: Elastic, over: Span, within: Span | None, factor: float, longer: float
) -> tuple[list[Pin], list[Pin]]:
    """The pins up to where a range begins, and from where it ends on, the range so much longer.

    The pin at either end is among them. Eased spans that meet the range, or the edge of what makes up for
    it, keep the slopes they had.
    """
    edges = {over.start, over.end, *((within.start, within.end) if within else ())}
    pinned = elastic
    for edge in sorted(edges):
        pinned = pinned.with_pin(edge)
    pins = [
        _as_it_runs(pinned, place) if _near_one(pin.played, edges) else pin
        for place, pin in enumerate(pinned.pins)
    ]
    left = [pin for pin in pins if pin.played <= over.start + NEAR_FRAMES]
    right = [pin for pin in pins if pin.played >= over.end - NEAR_FRAMES]
    if within is None:
        return left, [later(pin, longer) for pin in right]
    return (
        [_squeezed(pin, within.start, within, factor) for pin in left],
        [_squeezed(pin, within.end, within, factor) for pin in right],
    )


def _squeezed(pin: Pin, about: float, within: Span, factor: float) -> Pin:
    if pin.played < within.start - NEAR_FRAMES or pin.played > within.end + NEAR_FRAMES:
        return pin
    at_edge = abs(pin.played - about) <= NEAR_FRAMES
    moved = pin.model_copy(update={"played": about + (pin.played - about) / factor})
    outward = about == within.start
    return with_slopes(
        moved,
        arriving=1.0 if at_edge and outward else factor,
        leaving=1.0 if at_edge and not outward else factor,
    )


def _as_it_runs(elastic: Elastic, place: int) -> Pin:
    """A pin whose eased spans on both sides have their slopes written down."""
    pin = elastic.pins[place]
    update: dict[str, float] = {}
    if place and elastic.pins[place - 1].span == "eased" and pin.arriving is None:
        update["arriving"] = elastic.span_slopes(place - 1)[1]
    if place + 1 < len(elastic.pins) and pin.span == "eased" and pin.leaving is None:
        update["leaving"] = elastic.span_slopes(place)[0]
    return pin.model_copy(update=update) if update else pin


def _near_one(played: float, edges: set[float]) -> bool:
    return any(abs(played - edge) < NEAR_FRAMES for edge in edges)
