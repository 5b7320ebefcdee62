"""A lane's clock: which time of its own a lane shows at each played frame (rule 1.9)."""

from dataclasses import dataclass

from ..elastic import Elastic
from ..exposure import Exposure
from ..moments import LaneTime, Played, lane_time, played
from .document import Lane, Scene


@dataclass(frozen=True)
class LaneClock:
    """Exposure first, then the scene's elastic, unless the lane keeps its own time."""

    exposure: Exposure
    elastic: Elastic

    def time(self, at: Played) -> LaneTime:
        """The lane's time at these played frames. Shape [...] → [...]."""
        return LaneTime(self.elastic.source(self.exposure.sampled(at)))

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


def clock_of(scene: Scene, lane: Lane) -> LaneClock:
    """The clock that a lane goes by."""
    return LaneClock(
        lane.exposure or scene.exposure, Elastic() if lane.keeps_own_time else scene.elastic
    )


def carried(time: LaneTime, of: LaneClock, to: LaneClock) -> LaneTime:
    """Moments of one lane as another lane's clock reads them."""
    return time if of == to else to.time(of.first_played(lane_time(time)))
