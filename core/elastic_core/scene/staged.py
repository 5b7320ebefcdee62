"""A figure's lanes with all that it takes to play them."""

from dataclasses import dataclass
from functools import cached_property

from ..arrays import Array
from ..figure import Figure
from ..moments import LaneTime, Source
from ..motion import Motion
from ..performance import BodyPerformance
from .clock import LaneClock
from .cues import Cue
from .document import Lane, SceneFigure
from .timing import source_of


@dataclass(frozen=True, eq=False)
class StagedLane:
    """A lane with all that it takes to play it: placements [stints, 3] on the ground."""

    lane: Lane
    figure: Figure
    clock: LaneClock
    bodies: tuple[BodyPerformance, ...]
    ratios: tuple[float, ...]
    placements: Array

    def source(self, cue: Cue) -> Source:
        """What a cue's stint shows, in its source's own frames."""
        return self.source_of(cue.stint, cue.at)

    def source_of(self, place: int, time: LaneTime) -> Source:
        """What one stint shows at these moments."""
        return source_of(self.lane.stints[place], self.ratios[place], time)


@dataclass(frozen=True, eq=False)
class StagedFigure:
    """A figure and the lanes that drive it now, from the lowest up."""

    member: SceneFigure
    figure: Figure
    lanes: tuple[StagedLane, ...]
    chosen_rest: Motion | None = None

    @cached_property
    def rest(self) -> Motion:
        """One frame of the pose it stands in where nothing plays, at the origin."""
        return self.figure.rest_motion if self.chosen_rest is None else self.chosen_rest

    @cached_property
    def moved(self) -> frozenset[int]:
        """The joints that any of its stints moves off their places."""
        return frozenset().union(*(body.moved for lane in self.lanes for body in lane.bodies))

    @cached_property
    def scaled(self) -> frozenset[int]:
        """The joints that any of its stints scales."""
        return frozenset().union(*(body.scaled for lane in self.lanes for body in lane.bodies))
