"""Lanes over lanes: which of them each moment needs, and how much of the upper ones shows (rule 5.6)."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .. import ground
from ..arrays import Array, Index
from ..figure import Figure
from ..moments import LaneTime, lane_time
from .clock import Asked
from .cues import covered, cues
from .document import Lane, SceneFigure
from .staged import StagedLane


@dataclass(frozen=True, eq=False)
class Layer:
    """A lane at the moments that need it.

    time     [k] those moments, as the lane's own clock reads them
    places   [k] which of the asked moments they are
    covers   it takes the place of all that is below it; else it is mixed in
    """

    lane: StagedLane
    time: LaneTime
    places: Index
    covers: bool


def is_partial(lane: Lane) -> bool:
    """Whether a lane over others leaves something of them."""
    return lane.mask is not None or any(stint.weight is not None for stint in lane.stints)


def layers_at(lanes: Sequence[StagedLane], asked: Asked) -> list[Layer]:
    """Lanes from the lowest up, each at the moments at which it shows: where it has a stint (the lowest
    one everywhere), and no lane above it covers it whole."""
    times = [asked.on(lane.clock) for lane in lanes]
    shows = [covered(lane.lane, own) for lane, own in zip(lanes, times, strict=True)]
    shows[0] = np.ones(len(asked), dtype=np.bool_)
    found: list[Layer] = []
    seen = np.ones(len(asked), dtype=np.bool_)
    for place in range(len(lanes) - 1, -1, -1):
        lane, own = lanes[place], times[place]
        partial = place > 0 and is_partial(lane.lane)
        places = np.flatnonzero(shows[place] & seen)
        if places.size:
            found.append(Layer(lane, LaneTime(own[places]), places, not partial))
        if not partial:
            seen = seen & ~shows[place]
    return found[::-1]


def weights_at(lane: Lane, time: LaneTime) -> Array:
    """How much of a lane shows at these moments, by the keys of its stints. [n] → [n]"""
    weights = np.zeros(len(time))
    for cue in cues(lane, time, gaps=False):
        stint = lane.stints[cue.stint]
        own = np.ones(len(cue.at))
        if stint.weight is not None:
            own = np.clip(stint.weight.values(lane_time(cue.at - stint.start)), 0.0, 1.0)
        if cue.joined.size:
            before = weights[cue.places[cue.joined]]
            own[cue.joined] = before + (own[cue.joined] - before) * cue.weight
        weights[cue.places] = own
    return weights


def masked(figure: Figure, lane: Lane) -> Index:
    """The joints that a lane drives, by their places; names that the figure lacks are passed over."""
    if lane.mask is None:
        return np.arange(len(figure.joints))
    wanted = set(lane.mask)
    return np.array([k for k, name in enumerate(figure.names) if name in wanted], dtype=np.intp)


def travel_of(lanes: Sequence[StagedLane], member: SceneFigure, asked: Asked) -> Array:
    """Where a figure stands on the ground under these lanes, without its poses. [n] → [n, 3]."""
    travel: Array = np.tile(np.array(member.mark, dtype=np.float64), (len(asked), 1))
    for layer in layers_at(lanes, asked) if lanes else []:
        lane, places = layer.lane, layer.places
        if layer.covers:
            travel[places] = _lane_travel(lane, layer.time, gaps=lane is lanes[0])
        elif 0 in masked(lane.figure, lane.lane):
            own = _lane_travel(lane, layer.time, gaps=False)
            weight = weights_at(lane.lane, layer.time)
            travel[places] = ground.blend(travel[places], own, weight)
    return travel


def _lane_travel(lane: StagedLane, time: LaneTime, *, gaps: bool) -> Array:
    travel = np.zeros((len(time), 3))
    for cue in cues(lane.lane, time, gaps=gaps):
        moved = ground.compose(
            lane.placements[cue.stint], lane.bodies[cue.stint].travel_at(lane.source(cue))
        )
        if cue.joined.size:
            joined = cue.places[cue.joined]
            moved[cue.joined] = ground.blend(travel[joined], moved[cue.joined], cue.weight)
        travel[cue.places] = moved
    return travel
