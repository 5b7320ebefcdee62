"""Cues: which stint of a lane shows at which of the asked moments (rules 5.1 and 5.2)."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..arrays import Array, Index
from ..easing import smooth
from ..moments import LaneTime, lane_time
from .document import GapRule, Lane
from .join import incoming_weight, upper_weight
from .timing import last_frame


@dataclass(frozen=True, eq=False)
class Cue:
    """One stint at some of the asked moments.

    stint   its place on the lane
    places  [k] which of the asked moments it shows at
    at      [k] lane times that it shows there; one time alone holds for all of them
    joined  [j] which of those it shares with what was cued before it, and its weight there [j]
    upper   [j] its weight there for the upper body; nothing where that goes with the rest
    rests   the figure stands in its rest pose where the stint has brought it
    """

    stint: int
    places: Index
    at: LaneTime
    joined: Index
    weight: Array
    rests: bool = False
    upper: Array | None = None


_NONE = np.empty(0, dtype=np.intp)
_NO_WEIGHT = np.empty(0)


def covered(lane: Lane, time: LaneTime) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
    """Where a lane has a stint. [frames] → [frames]."""
    found = np.zeros(len(time), dtype=np.bool_)
    for stint in lane.stints:
        found |= (time >= stint.start) & (time < stint.end)
    return found


def cues(lane: Lane, time: LaneTime, *, gaps: bool) -> Iterator[Cue]:
    """What shows on a lane, in the order in which it is laid down: gaps first, then stint by stint,
    each over what the one before has left. Without `gaps` moments outside all stints have no cue."""
    if gaps:
        yield from _gap_cues(lane, time)
    low, high = (float(time.min()), float(time.max())) if len(time) else (0.0, -1.0)
    for place, stint in enumerate(lane.stints):
        if stint.end <= low or stint.start > high:
            continue
        inside = np.flatnonzero((time >= stint.start) & (time < stint.end))
        if not inside.size:
            continue
        at = LaneTime(time[inside])
        joined, weight, upper = _NONE, _NO_WEIGHT, None
        before = lane.stints[place - 1] if place else None
        if before is not None and before.end > stint.start:
            joined = np.flatnonzero(at < before.end)
            weight = incoming_weight(before, stint, LaneTime(at[joined]))
            upper = upper_weight(before, stint, LaneTime(at[joined]))
        yield Cue(place, inside, at, joined, weight, upper=upper)


def _gap_cues(lane: Lane, time: LaneTime) -> Iterator[Cue]:
    """Moments without a stint, by the lane's gap rule. Before the first there is nothing to hold."""
    ends = [-np.inf, *(stint.end for stint in lane.stints)]
    starts = [*(stint.start for stint in lane.stints), np.inf]
    for place, (start, end) in enumerate(zip(ends, starts, strict=True)):
        if end <= start:
            continue
        gap = np.flatnonzero((time >= start) & (time < end))
        if not gap.size:
            continue
        rule = _rule(lane, place)
        waits = place == 0 or (rule == "wait" and place < len(lane.stints))
        shown = place if waits else place - 1
        stint = lane.stints[shown]
        at = lane_time([stint.start if waits else last_frame(stint.end)])
        yield Cue(shown, gap, at, _NONE, _NO_WEIGHT, rests=rule == "rest")
        if rule == "ease" and 0 < place < len(lane.stints):
            yield from _easing(lane, time, place, start)


def _rule(lane: Lane, place: int) -> GapRule:
    """What happens in the gap before a stint's place on its lane."""
    own = lane.stints[place - 1].gap if place else None
    return own or lane.gap


def _easing(lane: Lane, time: LaneTime, place: int, gap_start: float) -> Iterator[Cue]:
    """The end of a gap, over which the pose that is held goes over into the next one's first."""
    end = lane.stints[place].start
    start = max(gap_start, end - lane.ease_frames)
    inside = np.flatnonzero((time >= start) & (time < end))
    if inside.size:
        weight = smooth((time[inside] - start) / (end - start))
        at = lane_time(np.full(len(inside), end))
        yield Cue(place, inside, at, np.arange(len(inside)), weight)
