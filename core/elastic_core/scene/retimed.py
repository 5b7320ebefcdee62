"""A stint's elastic or the scene's, told in the frames of the desk: what is drawn, and what edits change."""

from dataclasses import dataclass

import numpy as np

from ..clock import Span
from ..elastic import Elastic, Pin
from ..errors import Refusal
from ..retime.pace import told
from ..retime.pins import pinned_over
from ..retime.strands import Strands, strands_of
from .document import Scene, Stint
from .fitting import body_for
from .material import Material
from .timing import conform, source_of
from .travelling import speeds


@dataclass(frozen=True, eq=False)
class Retimed:
    """An elastic in desk frames.

    Of a stint: lane frames → its clip's frames, told from within its first round. Of the scene (no stint):
    played → laid frames. `span` is what plays of it; once it is bent it has pins at its first and its last
    frame. `unit` is the slope of 100 %, `rounds` the clip's frames of the rounds that lie before.
    """

    name: str
    elastic: Elastic
    span: Span
    unit: float
    first_frame: int
    stint: Stint | None = None
    rounds: float = 0.0
    round_frames: int | None = None
    clip_frames: int | None = None

    @property
    def capital(self) -> str:
        """Its name at the head of a sentence."""
        return self.name[:1].upper() + self.name[1:]

    @property
    def ends(self) -> Span:
        """Its first and its last frame: what stays where it is."""
        return first_to_last(self.span)

    @property
    def is_straight(self) -> bool:
        """Whether it plays as it was made."""
        return self.elastic.is_identity if self.stint is None else self.stint.elastic.is_identity

    def stint_with(self, elastic: Elastic) -> Stint:
        """The stint with another elastic, told in desk frames."""
        assert self.stint is not None
        if elastic.is_identity:
            return self.stint.model_copy(update={"elastic": elastic})
        origin = (self.stint.in_frame - self.rounds) / self.unit
        own = elastic.placed(-self.stint.start, -origin, 1 / self.unit)
        return self.stint.model_copy(update={"elastic": own})

    def over(self, start: float, end: float) -> Span:
        """A range of the desk as the elastic's played time. Raises Refusal where it does not play."""
        if end < start:
            raise Refusal("A range ends after it starts.")
        if self.stint is not None:
            if start < self.span.start - 1e-6 or end > self.span.end + 1e-6:
                raise Refusal(f"The range reaches out of {self.name}.")
            return Span(start, end)
        moments = [self._first_played(start), self._last_played(end)]
        return Span(*moments)

    def _first_played(self, laid: float) -> float:
        return min(self._moments(laid))

    def _last_played(self, laid: float) -> float:
        return max(self._moments(laid))

    def _moments(self, laid: float) -> list[float]:
        found = [
            at
            for at in self.elastic.played(laid)
            if self.span.start - 1e-6 <= at <= self.span.end + 1e-6
        ]
        if not found:
            raise Refusal("That part of the scene does not play.")
        return found

    def rise(self, over: Span) -> float:
        """What of the source a range goes through."""
        first, last = self.elastic.source(np.array([over.start, over.end]))
        return float(last - first)

    def shown(self, played: float) -> str:
        """A played moment as the desk numbers it."""
        return told(played + self.first_frame)

    def shown_desk(self, frame: float) -> str:
        """A frame of the desk as it is numbered there."""
        return told(frame + self.first_frame)

    def shown_source(self, source: float) -> str:
        """A source moment as its ruler numbers it."""
        return told(source if self.stint is not None else source + self.first_frame)

    def strands(self) -> Strands:
        """Its picture."""
        return strands_of(
            self.elastic,
            self.span,
            self.unit,
            self.round_frames,
            self.clip_frames,
            is_straight=self.is_straight,
        )


def retimed_of(scene: Scene, stint_id: str | None, material: Material) -> Retimed:
    """A stint's elastic, or the scene's. Raises Refusal where the stint is gone."""
    if stint_id is None:
        span = Span(0.0, float(scene.played_frames))
        elastic = scene.elastic
        if not elastic.is_identity:
            elastic = pinned_over(elastic, first_to_last(span))
        return Retimed("the scene", elastic, span, 1.0, scene.first_frame)
    _, stint = scene.find(stint_id)
    performance = material.performance(stint.source)
    unit = conform(performance, scene)
    length = performance.length_frames
    start = stint.in_frame + unit * float(stint.elastic.source(np.array(0.0)))
    rounds = float(np.floor(start / length)) * length if performance.is_cycle else 0.0
    own = stint.elastic
    if own.runs_evenly and len(own.pins) <= 2:
        # However its pace was written down, it has its two ends to be drawn by.
        ends = np.array([0.0, first_to_last(stint.span).length_frames])
        first, last = (Pin(played=float(at), source=float(own.source(at))) for at in ends)
        own = own.with_pins((first, last))
    elastic = own.placed(stint.start, stint.in_frame - rounds, unit)
    return Retimed(
        stint.name or performance.name,
        pinned_over(elastic, first_to_last(stint.span)),
        stint.span,
        unit,
        scene.first_frame,
        stint,
        rounds,
        length if performance.is_cycle else None,
        None if performance.is_cycle else length,
    )


def first_to_last(span: Span) -> Span:
    """From the first frame of a half-open span to its last one; of the shortest to its end."""
    return Span(span.start, max(span.end - 1, span.start + 1))


def strands_of_stint(scene: Scene, stint_id: str | None, material: Material) -> Strands:
    """The picture of an elastic, with how fast a stint goes over the ground. Raises Refusal where the stint
    is gone."""
    strands = retimed_of(scene, stint_id, material).strands()
    if stint_id is None:
        return strands
    lane, stint = scene.find(stint_id)
    if lane.target.kind != "body":
        return strands
    member = scene.figure(lane.figure)
    body = body_for(material, member, stint)
    ratio = conform(body, scene)
    found = speeds(body, stint.span, lambda time: source_of(stint, ratio, time), scene.rate)
    return strands.model_copy(
        update={"speeds": [round(float(speed) * member.size, 4) for speed in found]}
    )
