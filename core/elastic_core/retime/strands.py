"""Strands: the picture of an elastic. Two rulers, and one thread for each source frame between them."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..arrays import Array, real, runs
from ..clock import Span
from ..elastic import Elastic, PinSpan
from ..frozen import Shown
from .pace import FAST, SLOW

Way = Literal["on", "back", "held"]
MOST_THREADS = 4_000
MOST_PACES = 2_000
_STEPS_A_SPAN = 64


class StrandPin(Shown):
    """A pin at both rulers, and the kind of the span after it; of a ramp's end, that it can be drawn."""

    played: float
    source: float
    span: PinSpan
    pace_before: float
    pace_after: float


class PacePoint(Shown):
    """How fast the source runs at a played moment; two points at one moment are a step."""

    played: float
    pace: float


class Odd(Shown):
    """A stretch of played time to look at: too fast, too slow, backwards, held, a jump, or out of what the
    clip has."""

    start: float
    end: float
    kind: Literal["fast", "slow", "back", "held", "jump", "out"]
    pace: float


class Strands(Shown):
    """An elastic over `[start, end)` of played time.

    `source_low` to `source_high` is what of the source it touches, `unit` how many source frames a played
    frame has at 100 %. Thread k joins `threads_played[k]` to `threads_source[k]`; it runs on, back or stands.
    Every `thread_step`-th source frame has one. `shown[k]` is the source at played frame start + k,
    `speeds[k]` how fast that goes over the ground, in metres a second, where it moves a figure.
    """

    start: float
    end: float
    source_low: float
    source_high: float
    unit: float
    round_frames: int | None
    is_straight: bool
    pins: list[StrandPin]
    paces: list[PacePoint]
    odd: list[Odd]
    thread_step: int
    threads_played: list[float]
    threads_source: list[float]
    threads_way: list[Way]
    shown: list[float]
    speeds: list[float] | None = None


@dataclass(frozen=True, eq=False)
class _Stretch:
    """A part of an elastic that runs one way: on, back or not at all."""

    start: float
    end: float
    low: float
    high: float
    way: Way


def strands_of(
    elastic: Elastic,
    over: Span,
    unit: float = 1.0,
    round_frames: int | None = None,
    clip_frames: int | None = None,
    *,
    is_straight: bool = False,
) -> Strands:
    """The picture of an elastic over a span of played time; `clip_frames` is how much the source has, where
    it plays once."""
    stretches = _stretches(elastic, over)
    low = min(stretch.low for stretch in stretches)
    high = max(stretch.high for stretch in stretches)
    frames = sum(abs(stretch.high - stretch.low) for stretch in stretches) + sum(
        stretch.end - stretch.start for stretch in stretches if stretch.way == "held"
    )
    step = max(1, int(np.ceil(frames / MOST_THREADS)))
    threads = [thread for stretch in stretches for thread in _threads(elastic, stretch, step)]
    whole = np.arange(np.ceil(over.start - 1e-9), np.ceil(over.end - 1e-9), dtype=np.float64)
    shown = elastic.source(whole)
    outside = [] if clip_frames is None else _outside(whole, shown, clip_frames)
    return Strands(
        start=over.start,
        end=over.end,
        source_low=low,
        source_high=high,
        unit=unit,
        round_frames=round_frames,
        is_straight=is_straight,
        pins=_pins(elastic, unit),
        paces=_paces(elastic, over, unit),
        odd=sorted([*odd_spots(elastic, over, unit), *outside], key=lambda odd: odd.start),
        thread_step=step,
        threads_played=[played for played, _, _ in threads],
        threads_source=[source for _, source, _ in threads],
        threads_way=[way for _, _, way in threads],
        shown=[float(source) for source in shown],
    )


def odd_spots(elastic: Elastic, over: Span, unit: float = 1.0) -> list[Odd]:
    """Where the pace is over 400 %, under 10 %, backwards or nothing, and where a held stretch jumps on."""
    found: list[Odd] = []
    edges = _edges(elastic, over)
    for start, end in zip(edges, edges[1:], strict=False):
        at = np.linspace(start, end, 33)[:-1] + (end - start) / 64
        paces = elastic.slope(at) / unit
        kinds = [_kind(float(pace)) for pace in paces]
        for place, kind in enumerate(kinds):
            if kind is None:
                continue
            begins, ends = (
                start + (end - start) * place / 32,
                start + (end - start) * (place + 1) / 32,
            )
            last = found[-1] if found else None
            if last and last.kind == kind and abs(last.end - begins) < 1e-9:
                worst = max if kind == "fast" else min
                found[-1] = Odd(
                    start=last.start,
                    end=ends,
                    kind=kind,
                    pace=worst(last.pace, float(paces[place])),
                )
            else:
                found.append(Odd(start=begins, end=ends, kind=kind, pace=float(paces[place])))
    return sorted([*found, *_jumps(elastic, over)], key=lambda odd: odd.start)


def _kind(pace: float) -> Literal["fast", "slow", "back", "held"] | None:
    if abs(pace) < 1e-9:
        return "held"
    if pace < 0:
        return "back"
    if pace > FAST + 1e-9:
        return "fast"
    return "slow" if pace < SLOW - 1e-9 else None


def _jumps(elastic: Elastic, over: Span) -> list[Odd]:
    return [
        Odd(start=after.played, end=after.played, kind="jump", pace=0.0)
        for pin, after in zip(elastic.pins, elastic.pins[1:], strict=False)
        if pin.span == "held"
        and abs(after.source - pin.source) > 1e-6
        and over.start < after.played < over.end
    ]


def _outside(frames: Array, shown: Array, clip_frames: int) -> list[Odd]:
    """Where played frames show what the clip does not have: it holds its first or its last pose there."""
    beyond = (shown < -1e-6) | (shown > clip_frames - 1 + 1e-6)
    return [
        Odd(start=float(frames[first]), end=float(frames[last - 1]) + 1, kind="out", pace=0.0)
        for first, last in runs(beyond)
    ]


def _edges(elastic: Elastic, over: Span) -> list[float]:
    inside = (pin.played for pin in elastic.pins if over.start < pin.played < over.end)
    return [over.start, *inside, over.end]


def _stretches(elastic: Elastic, over: Span) -> list[_Stretch]:
    """The parts of an elastic between its pins, cut where they turn."""
    found: list[_Stretch] = []
    edges = _edges(elastic, over)
    for start, end in zip(edges, edges[1:], strict=False):
        turns = _turns(elastic, start, end)
        cuts = [start, *turns, end]
        for begins, ends in zip(cuts, cuts[1:], strict=False):
            # Just before an end, as a held stretch may jump there.
            inside = real([begins, np.nextafter(ends, -np.inf)])
            first, last = (float(source) for source in elastic.source(inside))
            way: Way = "held" if abs(last - first) < 1e-9 else "on" if last > first else "back"
            found.append(_Stretch(begins, ends, min(first, last), max(first, last), way))
    return found


def _turns(elastic: Elastic, start: float, end: float) -> list[float]:
    """Where a span's slope, which is at most quadratic, changes its sign."""
    at = np.linspace(start, end, _STEPS_A_SPAN + 1)
    inside = at[:-1] + 1e-9 * (end - start)
    slopes = elastic.slope(inside)
    signs = np.sign(np.where(np.abs(slopes) < 1e-12, 0, slopes))
    found = []
    for place in np.flatnonzero(signs[:-1] * signs[1:] < 0):
        low, high = inside[place], inside[place + 1]
        for _ in range(60):
            middle = (low + high) / 2
            if float(elastic.slope(real(middle))) * signs[place] > 0:
                low = middle
            else:
                high = middle
        found.append(float((low + high) / 2))
    return found


def _threads(elastic: Elastic, stretch: _Stretch, step: int) -> list[tuple[float, float, Way]]:
    """Threads of whole source frames; of a held stretch one for each played frame."""
    if stretch.way == "held":
        frames = np.arange(np.ceil(stretch.start - 1e-9), stretch.end - 1e-9)
        shown = frames[np.mod(frames, step) == 0]
        return [(float(at), stretch.low, "held") for at in shown]
    whole = np.arange(np.ceil(stretch.low / step - 1e-9), np.floor(stretch.high / step + 1e-9) + 1)
    sources = step * whole
    played = moments_of(elastic, stretch.start, stretch.end, sources)
    if stretch.way == "back":
        played, sources = played[::-1], sources[::-1]
    # The end belongs to what follows.
    kept = played < stretch.end - 1e-9
    return [
        (float(at), float(source), stretch.way)
        for at, source in zip(played[kept], sources[kept], strict=True)
    ]


def moments_of(elastic: Elastic, start: float, end: float, sources: Array) -> Array:
    """When a stretch that runs one way shows these sources. [n] → [n]"""
    steps = max(_STEPS_A_SPAN, int(np.ceil(2 * (end - start))))
    grid = np.linspace(start, np.nextafter(end, -np.inf), min(steps, 20_000) + 1)
    shown = elastic.source(grid)
    rises = shown[-1] > shown[0]
    order = slice(None) if rises else slice(None, None, -1)
    at: Array = np.interp(sources, shown[order], grid[order])
    for _ in range(4):
        slope = elastic.slope(at)
        safe = np.where(np.abs(slope) > 1e-9, slope, np.inf)
        at = np.clip(at + (sources - elastic.source(at)) / safe, start, end)
    return at


def _pins(elastic: Elastic, unit: float) -> list[StrandPin]:
    return [
        StrandPin(
            played=pin.played,
            source=pin.source,
            span=pin.span,
            pace_before=elastic.slope_before(pin.played) / unit,
            pace_after=float(elastic.slope(real(pin.played))) / unit,
        )
        for pin in elastic.pins
    ]


def _paces(elastic: Elastic, over: Span, unit: float) -> list[PacePoint]:
    """The pace as a line; where it is neither level nor a ramp, point by point."""
    found: list[PacePoint] = []
    edges = _edges(elastic, over)
    kinds = {pin.played: pin.span for pin in elastic.pins[:-1]}
    bent = sum(kinds.get(edge) == "eased" for edge in edges)
    most = max(4, MOST_PACES // max(1, bent))
    for start, end in zip(edges, edges[1:], strict=False):
        curved = (kinds.get(start) or _span_at(elastic, start)) == "eased"
        steps = int(np.clip(np.ceil(2 * (end - start)), 4, most)) if curved else 1
        at = np.linspace(start, end, steps + 1)
        paces = [*elastic.slope(at[:-1]), elastic.slope_before(end)]
        found += [
            PacePoint(played=float(moment), pace=float(pace) / unit)
            for moment, pace in zip(at, paces, strict=True)
        ]
    return found


def _span_at(elastic: Elastic, played: float) -> PinSpan:
    """The kind of the span that a moment lies in."""
    before = [pin for pin in elastic.pins[:-1] if pin.played <= played]
    return before[-1].span if before else "even"
