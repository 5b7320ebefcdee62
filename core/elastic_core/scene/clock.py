"""A lane's clock: which time of its own a lane shows at each played frame (rule 1.9)."""

from dataclasses import dataclass, replace

import numpy as np

from ..clock import Span
from ..elastic import Elastic
from ..exposure import Exposure
from ..moments import LaneTime, Played, lane_time, played
from .document import Lane, Scene


@dataclass(frozen=True)
class StintExposure:
    """An exposure that a lane goes by over a stint, in lane time. Its anchor counts from the first frame at
    which the stint plays."""

    over: Span
    exposure: Exposure


@dataclass(frozen=True)
class LaneClock:
    """Exposure first, then the scene's elastic, unless the lane keeps its own time."""

    exposure: Exposure
    elastic: Elastic
    stints: tuple[StintExposure, ...] = ()

    def time(self, at: Played) -> LaneTime:
        """The lane's time at these played frames. Shape [...] → [...]."""
        return LaneTime(self.elastic.source(self.sampled(at)))

    def sampled(self, at: Played) -> Played:
        """The played frames whose poses show at these. What a stint holds never comes from before it."""
        shown = self.exposure.sampled(at)
        if not self.stints:
            return Played(shown)
        # On ones it comes back as it was given.
        shown = shown.copy()
        laid = self.elastic.source(at)
        for own in self.stints:
            inside = (laid >= own.over.start) & (laid < own.over.end)
            if inside.any():
                first = np.ceil(self._first(own.over.start) - 1e-9)
                held = first + own.exposure.sampled(at[inside] - first)
                shown[inside] = np.maximum(held, first)
        return Played(shown)

    def at_exposure(self, exposure: Exposure) -> "LaneClock":
        """The same time at another exposure."""
        return replace(self, exposure=exposure, stints=())

    def first_played(self, time: LaneTime) -> Played:
        """When each moment of the lane first plays, exposure apart; one that never does comes at the
        played moment nearest to it. [n] → [n]."""
        if self.elastic.is_identity:
            return Played(time)
        return played([self._first(float(moment)) for moment in time])

    def _first(self, moment: float) -> float:
        answers = self.elastic.played(moment)
        if answers:
            return answers[0]
        pins = self.elastic.pins
        return min(pins, key=lambda pin: abs(pin.source - moment)).played


@dataclass(frozen=True, eq=False)
class Asked:
    """Moments that are asked for: as they play, or as a clock reads them, and then exposure is left out."""

    moments: Played | LaneTime
    clock: LaneClock | None = None

    def __len__(self) -> int:
        return len(self.moments)

    def on(self, clock: LaneClock) -> LaneTime:
        """The same moments as a clock reads them. [n]"""
        if self.clock is None:
            return clock.time(Played(self.moments))
        return carried(LaneTime(self.moments), self.clock, clock)


def clock_of(scene: Scene, lane: Lane) -> LaneClock:
    """The clock that a lane goes by."""
    return LaneClock(
        scene.exposure_of(lane),
        Elastic() if lane.keeps_own_time else scene.elastic,
        tuple(
            StintExposure(stint.span, stint.exposure)
            for stint in lane.stints
            if stint.exposure is not None
        ),
    )


def carried(time: LaneTime, of: LaneClock, to: LaneClock) -> LaneTime:
    """Moments of one lane as another lane's clock reads them, exposure apart."""
    if of.elastic == to.elastic:
        return time
    return LaneTime(to.elastic.source(of.first_played(lane_time(time))))
