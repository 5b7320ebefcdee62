"""Two cycles that step together through their join, so that a walk becomes a run without a hop.

Both go round at one rate in the overlap, from the one's to the other's. Laid on each other where they
meet, and blended by the weight w, the two roots go S(w) Φ from there: S is the stride between both, Φ
the rounds gone by. Φ is chosen so that this way is run through at a speed that changes evenly.
"""

from dataclasses import dataclass, replace

import numpy as np

from ..arrays import Array, real
from ..elastic import Elastic, Pin
from ..errors import Refusal
from ..moments import source
from .document import JoinShape, JoinSlopes, Stint
from .join import STEPS_A_ROUND, shaped
from .joining import Part

# Pins lie so many frames apart at the most.
PIN_FRAMES = 4.0
LEAST_FRAMES = 2.0


@dataclass(frozen=True)
class Going:
    """A cycle as it goes when the other does not play: its stride in metres a round, the source frames
    of a round, its source frames per lane frame, and its pace."""

    stride: float
    length: float
    ratio: float
    pace: float

    @property
    def rounds_a_frame(self) -> float:
        return self.pace * self.ratio / self.length


@dataclass(frozen=True)
class Overlap:
    """Rounds gone by from the middle of an overlap of so many frames, and how fast, in rounds a frame."""

    leaving: Going
    coming: Going
    frames: float
    shape: JoinShape
    slopes: JoinSlopes

    def rounds(self, time: Array) -> Array:
        """Φ at these frames of the overlap. [n] → [n]."""
        share = real(time) / self.frames
        if not self._travels:
            a, b = self.leaving.rounds_a_frame, self.coming.rounds_a_frame
            gone: Array = self.frames * (a * share + (b - a) * share**2 / 2 - a / 2 - (b - a) / 8)
            return gone
        a, b = self._speeds
        way = self.frames * (a * share + (b - a) * share**2 / 2 - a / 2 - (b - a) / 8)
        rounds: Array = way / self._stride(share)
        return rounds

    def rate(self, time: Array) -> Array:
        """Φ′ at these frames, rounds a frame. [n] → [n]."""
        hair = 1e-4
        after, before = np.minimum(time + hair, self.frames), np.maximum(time - hair, 0.0)
        rate: Array = (self.rounds(after) - self.rounds(before)) / (after - before)
        return rate

    @property
    def _travels(self) -> bool:
        return min(self.leaving.stride, self.coming.stride) > 1e-3

    @property
    def _speeds(self) -> tuple[float, float]:
        """Metres a frame before and after."""
        a, b = (going.stride * going.rounds_a_frame for going in (self.leaving, self.coming))
        return a, b

    def _stride(self, share: Array) -> Array:
        weight = shaped(share, self.shape, self.slopes)
        return self.leaving.stride * (1 - weight) + self.coming.stride * weight


def in_step(outgoing: Part, incoming: Part, steps: int) -> tuple[Stint, Stint]:
    """Both stints as they step together through a join of so many steps; where they met before, they
    meet. Raises Refusal for what plays once, or has a time of its own that bends there."""
    for part in (outgoing, incoming):
        if not part.body.is_cycle:
            raise Refusal(f"{part.body.name} plays once: only cycles step together.")
    outgoing = replace(outgoing, stint=_without_end(outgoing.stint))
    incoming = replace(incoming, stint=_without_start(incoming.stint, incoming.ratio))
    before, stint = outgoing.stint, incoming.stint
    leaving, coming = _going(outgoing, stint.start), _going(incoming, before.end)
    rates = leaving.rounds_a_frame, coming.rounds_a_frame
    if min(rates) <= 0:
        raise Refusal("Only cycles that run forwards step together.")
    middle = (stint.start + before.end) / 2
    whole = Overlap(leaving, coming, 1.0, stint.shape, stint.slopes)
    ends = whole.rounds(real([0.0, 1.0]))
    frames = max(LEAST_FRAMES, round(steps / STEPS_A_ROUND / float(ends[1] - ends[0])))
    start = round(middle - frames / 2)
    if start <= before.start or start + frames >= stint.end:
        short = before if start <= before.start else stint
        body = outgoing.body if short is before else incoming.body
        raise Refusal(f"{short.name or body.name} is too short for {steps} steps.")
    overlap = Overlap(leaving, coming, float(frames), stint.shape, stint.slopes)
    quickened = _leaving(outgoing, overlap, float(start))
    met = replace(outgoing, stint=quickened).source(start + frames / 2)
    gone_on = (met - outgoing.source(middle)) / outgoing.body.length_frames
    meets = incoming.source(middle) + gone_on * incoming.body.length_frames
    return quickened, _coming(incoming, overlap, float(start), meets)


def _going(part: Part, at: float) -> Going:
    stint = part.stint
    pace = float(stint.elastic.slope(real(at - stint.start)))
    length = part.body.length_frames
    start, end = part.body.travel_at(source([0.0, float(length)]))
    return Going(float(np.hypot(*(end - start)[:2])), float(length), part.ratio, pace)


def _leaving(part: Part, overlap: Overlap, start: float) -> Stint:
    """The outgoing stint, brought into step until the end of the overlap."""
    stint, elastic = part.stint, part.stint.elastic
    since = start - stint.start
    if since > 0:
        _must_run_evenly(part, since)
    at = float(elastic.source(real(since)))
    kept = tuple(pin for pin in elastic.pinned().pins if pin.played < since - 1e-6)
    pins = _pins(overlap, overlap.leaving, since, at)
    return stint.model_copy(
        update={
            "length_frames": since + overlap.frames,
            "elastic": Elastic(pins=(*kept, *pins), before=elastic.before),
        }
    )


def _coming(part: Part, overlap: Overlap, start: float, meets: float) -> Stint:
    """The incoming stint, in step from the start of the overlap; in its middle it shows `meets`."""
    stint = part.stint
    going = overlap.coming
    pins = _pins(overlap, going, 0.0, 0.0)
    half = float(overlap.rounds(real(0.0)))
    later = stint.elastic.shifted(start + overlap.frames - stint.start)
    rest = tuple(
        pin.model_copy(
            update={
                "played": pin.played + overlap.frames,
                "source": pin.source + pins[-1].source,
            }
        )
        for pin in later.pins
        if pin.played > 1e-6
    )
    if not rest:
        on = pins[-1].source + going.pace
        rest = (Pin(played=overlap.frames + 1, source=on),)
    last = pins[-1].model_copy(update={"span": "even", "leaving": None})
    return stint.model_copy(
        update={
            "start": start,
            "length_frames": stint.end - start,
            "in_frame": meets + half * going.length,
            "elastic": Elastic(pins=(*pins[:-1], last, *rest), after=stint.elastic.after),
        }
    )


def _pins(overlap: Overlap, going: Going, played: float, at: float) -> tuple[Pin, ...]:
    """The overlap's time as pins: eased, with the slopes that it has there."""
    count = int(np.ceil(overlap.frames / PIN_FRAMES)) + 1
    times = np.linspace(0.0, overlap.frames, count)
    scale = going.length / going.ratio
    gone = (overlap.rounds(times) - overlap.rounds(times[:1])) * scale
    slopes = overlap.rate(times) * scale
    return tuple(
        Pin(
            played=played + float(time),
            source=at + float(ran),
            span="eased",
            arriving=float(slope),
            leaving=float(slope),
        )
        for time, ran, slope in zip(times, gone, slopes, strict=True)
    )


def _must_run_evenly(part: Part, since: float) -> None:
    slopes = part.stint.elastic.slope(real([since, part.stint.length_frames]))
    if np.ptp(slopes) > 1e-6:
        raise Refusal("A stint whose pace changes inside the join cannot be stepped as well.")


def _is_stepped(pin: Pin) -> bool:
    return pin.span == "eased" and pin.arriving is not None and pin.leaving is not None


def _without_end(stint: Stint) -> Stint:
    """A stint as it was before its end was brought into step."""
    pins = stint.elastic.pins
    first = len(pins)
    while first and _is_stepped(pins[first - 1]):
        first -= 1
    if first == len(pins) or first == 0:
        return stint
    start = pins[first]
    on = Pin(played=start.played + 1, source=start.source + (start.arriving or 1.0))
    kept = start.model_copy(update={"span": "even", "arriving": None, "leaving": None})
    return stint.model_copy(
        update={"elastic": stint.elastic.model_copy(update={"pins": (*pins[:first], kept, on)})}
    )


def _without_start(stint: Stint, ratio: float) -> Stint:
    """A stint as it was before its start was brought into step; what follows stays as it is."""
    pins = stint.elastic.pins
    first = 0
    while first < len(pins) and _is_stepped(pins[first]):
        first += 1
    if first == 0 or first >= len(pins) - 1:
        return stint
    goes_on = pins[first]
    pace = float(stint.elastic.slope(real(goes_on.played)))
    before = goes_on.source - pace * goes_on.played
    moved = tuple(pin.model_copy(update={"source": pin.source - before}) for pin in pins[first:])
    return stint.model_copy(
        update={
            "elastic": stint.elastic.model_copy(
                update={"pins": (Pin(played=0.0, source=0.0), *moved)}
            ),
            "in_frame": stint.in_frame + ratio * before,
        }
    )
