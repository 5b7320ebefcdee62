"""A figure's lanes with all that it takes to play them."""

from collections.abc import Callable, Hashable
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar

from ..arrays import Array
from ..figure import Figure
from ..moments import LaneTime, Source
from ..motion import Motion
from ..performance import BodyPerformance
from .clock import LaneClock
from .cues import Cue
from .document import Lane, SceneFigure
from .timing import source_of

T = TypeVar("T")


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
class StagedFixes:
    """A fix lane, and how many of the figure's lanes lie under it."""

    lane: Lane
    clock: LaneClock
    over: int


@dataclass(frozen=True, eq=False)
class StagedFigure:
    """A figure and the lanes that drive it now, from the lowest up, with its fix lanes among them."""

    member: SceneFigure
    figure: Figure
    lanes: tuple[StagedLane, ...]
    clock: LaneClock
    chosen_rest: Motion | None = None
    fixes: tuple[StagedFixes, ...] = ()

    @cached_property
    def rest(self) -> Motion:
        """One frame of the pose it stands in where nothing plays, at the origin."""
        return self.figure.rest_motion if self.chosen_rest is None else self.chosen_rest

    @cached_property
    def _once(self) -> dict[Hashable, Any]:
        return {}

    def once(self, key: Hashable, make: Callable[[], T]) -> T:
        """What follows from the staged figure alone, worked out once for it under a key."""
        if key not in self._once:
            self._once[key] = make()
        found: T = self._once[key]
        return found

    @cached_property
    def moved(self) -> frozenset[int]:
        """The joints that any of its stints moves off their places."""
        return frozenset().union(*(body.moved for lane in self.lanes for body in lane.bodies))

    @cached_property
    def scaled(self) -> frozenset[int]:
        """The joints that any of its stints scales."""
        return frozenset().union(*(body.scaled for lane in self.lanes for body in lane.bodies))


def on_stage(placement: Array, member: SceneFigure) -> Array:
    """A ground placement in a figure's own metres about its mark, as it is on the stage. [..., 3]"""
    return _about(placement, member, member.size)


def off_stage(placement: Array, member: SceneFigure) -> Array:
    """A ground placement on the stage, in a figure's own metres about its mark. [..., 3]"""
    return _about(placement, member, 1 / member.size)


def _about(placement: Array, member: SceneFigure, factor: float) -> Array:
    if factor == 1:
        return placement
    moved = placement.copy(order="F")
    for axis in (0, 1):
        moved[..., axis] = member.mark[axis] + factor * (placement[..., axis] - member.mark[axis])
    return moved
