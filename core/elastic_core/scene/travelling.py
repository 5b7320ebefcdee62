"""A stint whose path over the ground runs at a pace of its own: a slide, a fall, a ride (rule 5.7).

The body poses at its source time s, and stands where its path is at T(s). The root moves with the path, so that
it and the pelvis stay together.
"""

from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from ..arrays import Array
from ..clip.document import Plant
from ..clock import Span
from ..colour import Colour
from ..elastic import Elastic, Pin
from ..errors import Refusal
from ..figure import Figure
from ..moments import LaneTime, Source, lane_time
from ..motion import Motion
from ..performance import BodyPerformance, ChannelKind
from ..quantities import NEAR_FRAMES
from ..retime.pace import must_go, told

REMEMBERED = 16
SourceAt = Callable[[LaneTime], Source]
"""What a stint shows at moments of its lane."""


@dataclass(frozen=True, eq=False)
class OnItsPath:
    """A performance that stands where its path is at another source time."""

    body: BodyPerformance
    path: Elastic

    @property
    def name(self) -> str:
        return self.body.name

    @property
    def colour(self) -> Colour:
        return self.body.colour

    @property
    def figure(self) -> str:
        return self.body.figure

    @property
    def rate(self) -> Fraction:
        return self.body.rate

    @property
    def length_frames(self) -> int:
        return self.body.length_frames

    @property
    def is_cycle(self) -> bool:
        return self.body.is_cycle

    @property
    def channels(self) -> frozenset[ChannelKind]:
        return self.body.channels

    @property
    def plants(self) -> Sequence[Plant]:
        return self.body.plants

    @property
    def rests(self) -> Sequence[str]:
        return self.body.rests

    @property
    def joints(self) -> int:
        return self.body.joints

    @property
    def moved(self) -> frozenset[int]:
        return self.body.moved

    @property
    def scaled(self) -> frozenset[int]:
        return self.body.scaled

    def at(self, source: Source) -> Motion:
        """Its poses at these source times [frames], on its path."""
        return replace(self.body.at(source), travel=self.travel_at(source))

    def as_laid(self, source: Source) -> Motion:
        """The same, with no feet held through joins."""
        return replace(self.body.as_laid(source), travel=self.travel_at(source))

    def travel_at(self, source: Source) -> Array:
        """Only the travel of `at`. [frames] → [frames, 3]."""
        return self.body.travel_at(Source(self.path.source(source)))


def on_its_path(figure: Figure, body: BodyPerformance, path: Elastic) -> BodyPerformance:
    """A performance with its path at a pace of its own; it is remembered with the figure."""
    if path.is_identity:
        return body
    known: OrderedDict[tuple[int, Elastic], OnItsPath] = figure.once("on their paths", OrderedDict)
    key = (id(body), path)
    if key not in known:
        known[key] = OnItsPath(body, path)
        while len(known) > REMEMBERED:
            known.popitem(last=False)
    known.move_to_end(key)
    return known[key]


def slowed_path(whole: Span, over: Span, pace: float, ramp: float, *, keeps_ends: bool) -> Elastic:
    """A path that runs at a pace (1 = as made) over a range of source frames, with ramps inside it. With
    `keeps_ends` the rest of the whole runs at one other pace, so that it begins and ends where it did; else
    it covers so much less, or more, of its ground.

    Raises Refusal for ramps that do not fit, and where the rest would have to go too fast.
    """
    if over.length_frames < 2 * ramp or over.length_frames <= 0:
        raise Refusal(f"Ramps of {told(ramp)} frames do not fit into this range.")
    outside = 1.0
    if keeps_ends:
        beside = over.start - whole.start + whole.end - over.end + ramp
        if beside <= NEAR_FRAMES:
            raise Refusal("Nothing lies beside this range that could make up for it.")
        outside = (whole.length_frames - (over.length_frames - ramp) * pace) / beside
        if outside <= 0:
            raise Refusal("It would be past its end before the range is over: choose a lower pace.")
        must_go(outside)
    starts = [whole.start, over.start, over.start + ramp, over.end - ramp, over.end]
    means = [outside, (outside + pace) / 2, pace, (outside + pace) / 2, outside]
    leaving = [None, outside, None, pace, None]
    pins, source = list[Pin](), whole.start
    for place, (start, end) in enumerate(zip(starts, [*starts[1:], whole.end], strict=True)):
        if end - start < NEAR_FRAMES:
            continue
        ramped = leaving[place] is not None
        pins.append(
            Pin(
                played=start,
                source=source,
                span="ramped" if ramped else "even",
                leaving=leaving[place],
            )
        )
        source += means[place] * (end - start)
    pins.append(Pin(played=whole.end, source=source))
    # Beyond its ends it goes on as it was made.
    before = Pin(played=whole.start - 1, source=whole.start - 1)
    after = Pin(played=whole.end + 1, source=source + 1)
    return Elastic(pins=(before, *pins, after))


def speeds(body: BodyPerformance, shown: Span, source_at: SourceAt, rate: Fraction) -> Array:
    """How fast a stint goes over the ground at each whole frame of a span of its lane, in metres a second of
    the figure's own."""
    frames = np.arange(np.ceil(shown.start - 1e-9), np.ceil(shown.end - 1e-9))
    before, after = (body.travel_at(source_at(lane_time(frames + by))) for by in (-0.5, 0.5))
    found: Array = np.hypot(*(after - before)[:, :2].T) * float(rate)
    return found
