"""Where on a lane one stint could hand over to the next (rule 5.4)."""

from dataclasses import dataclass

import numpy as np

from ..arrays import Array, real
from ..clock import Span
from ..figure import Figure
from ..join.where import JoinMap, Moments, Planted, best_joins, join_map, moments_of
from ..moments import lane_time
from ..performance import BodyPerformance
from .document import Stint
from .join import meeting_time
from .planted import plants_of
from .timing import mean_pace, room_in_stint, source_of

MOST_FRAMES = 300
# Of a clip that plays once, where only its end or its start is looked at: so much of it, or so little.
END_SHARE, LEAST_END_FRAMES = 1 / 3, 12
LEAST_HANDOVER_FRAMES, USUAL_HANDOVER_FRAMES, MOST_HANDOVER_FRAMES = 4, 8, 24


@dataclass(frozen=True)
class Part:
    """A stint, what it plays, and its source frames per scene frame; until `free_from` it is joined to
    the one before."""

    stint: Stint
    body: BodyPerformance
    ratio: float
    free_from: float = -np.inf

    def source(self, at: float) -> float:
        """What it shows at a moment of its lane, in its source's frames."""
        return float(source_of(self.stint, self.ratio, lane_time(at)))

    @property
    def frames_per_round(self) -> int:
        """A round in whole frames of the lane."""
        step = abs(mean_pace(self.stint)) * self.ratio
        return max(2, round(self.body.length_frames / step)) if step else 2


@dataclass(frozen=True)
class JoinPlace:
    """The outgoing stint at a lane frame meets the incoming one's source frame there."""

    at: float
    in_frame: float
    score_metres: float
    planted: Planted


@dataclass(frozen=True, eq=False)
class Search:
    """Every pair of frames that was looked at, and the best of them; and the best of those at which one
    foot stands in both and the other does not.

    out_frames  [n] lane frames of the outgoing stint
    in_frames   [m] source frames of the incoming one, in its first round
    """

    out_frames: Array
    in_frames: Array
    found: JoinMap
    best: tuple[JoinPlace, ...]
    on_one_foot: tuple[JoinPlace, ...]
    outgoing: Moments
    incoming: Moments


def searched(figure: Figure, outgoing: Part, incoming: Part, *, ends_only: bool = True) -> Search:
    """Where the outgoing stint could hand over to the incoming one, about where it does now.

    Of a cycle one round is looked at; of a clip that plays once its end, or its start, or all of it.
    """
    rows = _rows(outgoing, meeting_time(outgoing.stint, incoming.stint)[0], ends_only)
    sources = source_of(outgoing.stint, outgoing.ratio, lane_time(rows))
    columns = _columns(incoming, ends_only)
    leaving = moments_of(
        figure,
        outgoing.body,
        sources,
        mean_pace(outgoing.stint),
        goes_round=outgoing.body.is_cycle and len(rows) == outgoing.frames_per_round,
    )
    coming = moments_of(
        figure,
        incoming.body,
        columns,
        mean_pace(incoming.stint),
        goes_round=incoming.body.is_cycle and len(columns) == incoming.frames_per_round,
    )
    found = join_map(figure, leaving, coming)
    lane_frames = dict(zip(sources.tolist(), rows.tolist(), strict=True))
    best, on_one_foot = (
        tuple(
            JoinPlace(lane_frames[join.out_frame], join.in_frame, join.score, join.planted)
            for join in best_joins(found, leaving, coming, on_one_foot=one)
        )
        for one in (False, True)
    )
    return Search(rows, columns, found, best, on_one_foot, leaving, coming)


def handover_frames(outgoing: Part, incoming: Part, place: JoinPlace) -> int:
    """About as many frames as the feet that both stand on stay down there."""
    there = _lane_frame(incoming, place.in_frame)
    later = place.at - there
    stands = [
        plants_of(part.body, _long(part), part.ratio, Span(at, at))
        for part, at in ((outgoing, place.at), (incoming, there))
    ]
    lengths = [
        min(a.end, b.end + later) - max(a.start, b.start + later)
        for a in stands[0]
        for b in stands[1]
        if a.side == b.side
    ]
    longest = max(lengths, default=float(USUAL_HANDOVER_FRAMES))
    return int(np.clip(round(longest), LEAST_HANDOVER_FRAMES, MOST_HANDOVER_FRAMES))


def _rows(part: Part, now: float, ends_only: bool) -> Array:
    """The lane frames that are looked at of an outgoing stint."""
    stint = part.stint
    first = np.ceil(max(stint.start + 1, part.free_from))
    if part.body.is_cycle:
        count = min(part.frames_per_round, MOST_FRAMES)
        start = max(first, np.floor(now - count / 2))
        return np.arange(start, start + count)
    _, last = room_in_stint(part.body, stint, part.ratio)
    last = last if np.isfinite(last) else stint.end
    count = last - first
    if ends_only:
        count = min(count, max(LEAST_END_FRAMES, round(END_SHARE * count)))
    return np.arange(max(first, last - min(count, MOST_FRAMES)), max(last, first + 1))


def _columns(part: Part, ends_only: bool) -> Array:
    """The source frames that are looked at of an incoming stint."""
    step = abs(mean_pace(part.stint)) * part.ratio or 1.0
    if part.body.is_cycle:
        count = min(part.frames_per_round, MOST_FRAMES)
        return real(np.arange(count) * (part.body.length_frames / part.frames_per_round))
    count = max(1, int(np.ceil(part.body.length_frames / step - 1e-9)))
    if ends_only:
        count = min(count, max(LEAST_END_FRAMES, round(END_SHARE * count)))
    return real(np.arange(min(count, MOST_FRAMES)) * step)


def _lane_frame(part: Part, source: float) -> float:
    """When a stint would show a source frame, at its mean pace."""
    step = mean_pace(part.stint) * part.ratio or 1.0
    return part.stint.start + (source - part.stint.in_frame) / step


def _long(part: Part) -> Stint:
    """The stint as it would go on before and after itself."""
    margin = 2.0 * part.frames_per_round
    stint = part.stint
    earlier = stint.in_frame + part.ratio * float(stint.elastic.source(real(-margin)))
    return stint.model_copy(
        update={
            "start": stint.start - margin,
            "length_frames": stint.length_frames + 2 * margin,
            "in_frame": earlier,
            "elastic": stint.elastic.shifted(-margin),
        }
    )
