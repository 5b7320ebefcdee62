"""When the feet of a stint stand on the ground, in the frames of its lane (rule 4.5)."""

from collections.abc import Iterable

import numpy as np

from ..arrays import real
from ..clip.document import Plant
from ..clock import Span
from ..moments import lane_time
from ..performance import Performance
from .document import Stint
from .timing import source_of

_SIDES = ("left", "right", "middle")
_MOST_ROUNDS = 2_000
# So much of a join a foot goes on standing that the other stint has in the air.
UNSHARED_SHARE = 0.25


def plants_of(
    performance: Performance, stint: Stint, ratio: float, window: Span | None = None
) -> list[Plant]:
    """A stint's plants in lane frames, round after round, cut to it; plants that touch are one.

    `ratio` is source frames per scene frame. With a window only those that touch it, and of what is
    looked at no more than it takes to see them whole.
    """
    if not performance.plants:
        return []
    if not stint.elastic.runs_evenly:
        return _frame_by_frame(performance, stint, ratio, window)
    scale = float(stint.elastic.slope(real(0.0))) * ratio
    shifts = _shifts(performance, stint, scale, window)
    found: list[Plant] = []
    for plant in performance.plants:
        if performance.is_cycle and plant.end - plant.start >= performance.length_frames:
            found.append(plant.model_copy(update={"start": stint.start, "end": stint.end}))
        else:
            found += [_in_lane(plant, shift, stint, scale) for shift in shifts]
    return _touching(_merged(found, stint.span), window)


def joined_plants(
    outgoing: Iterable[Plant], incoming: Iterable[Plant], overlap: Span, handover: float
) -> list[Plant]:
    """The plants of two stints through their join. What stands on both sides of the moment at which they
    weigh the same stands on; a foot that only one of them stands on is left while that one plays
    nearly alone, so that it has time to get there, or away."""
    before, after = list(outgoing), list(incoming)
    hair = 1e-6
    leaving = [plant for plant in before if plant.end >= handover - hair]
    coming = [plant for plant in after if plant.start <= handover + hair]
    leaves = {plant.side for plant in leaving if plant.start <= handover + hair}
    comes = {plant.side for plant in coming if plant.end >= handover - hair}
    aside = UNSHARED_SHARE * overlap.length_frames
    found: list[Plant | None] = []
    for plant in before:
        shared = plant in leaving and plant.side in leaves & comes
        until = handover if shared else overlap.start + aside
        found.append(clipped(plant, Span(-np.inf, until)))
    for plant in after:
        shared = plant in coming and plant.side in leaves & comes
        since = handover if shared else overlap.end - aside
        found.append(clipped(plant, Span(since, np.inf)))
    return _merged([plant for plant in found if plant], Span(-np.inf, np.inf))


def clipped(plant: Plant, span: Span) -> Plant | None:
    """The part of a plant inside a span, which rolls as the whole did; none where there is none."""
    start, end = max(plant.start, span.start), min(plant.end, span.end)
    if end - start <= 1e-6:
        return None
    if (start, end) == (plant.start, plant.end):
        return plant
    heel = max(0.0, plant.start + plant.heel_frames - start)
    toe = max(0.0, end - (plant.end - plant.toe_frames))
    update = {"start": start, "end": end, "heel_frames": heel, "toe_frames": toe}
    return plant.model_copy(update=update)


def _shifts(
    performance: Performance, stint: Stint, scale: float, window: Span | None
) -> list[float]:
    """Source frames of the rounds whose plants can show."""
    length = performance.length_frames
    if not performance.is_cycle:
        return [0.0]
    if scale == 0:
        here = np.floor(stint.in_frame / length)
        return [float(k * length) for k in (here - 1, here)]
    start, end = stint.start, stint.end
    if window is not None:
        margin = window.length_frames + 2 * length / abs(scale)
        start, end = max(start, window.start - margin), min(end, window.end + margin)
    low, high = sorted(stint.in_frame + scale * (at - stint.start) for at in (start, end))
    first, last = int(np.floor(low / length)) - 1, int(np.ceil(high / length))
    return [float(k * length) for k in range(first, min(last, first + _MOST_ROUNDS))]


def _in_lane(plant: Plant, shift: float, stint: Stint, scale: float) -> Plant:
    """A plant of one round in lane frames; played backwards it ends where it began."""
    if scale == 0:
        stands = plant.start <= stint.in_frame - shift < plant.end
        end = stint.end if stands else stint.start
        return plant.model_copy(update={"start": stint.start, "end": end})
    edges = [
        stint.start + (edge + shift - stint.in_frame) / scale for edge in (plant.start, plant.end)
    ]
    rolls = [plant.heel_frames / abs(scale), plant.toe_frames / abs(scale)]
    if scale < 0:
        rolls.reverse()
    start, end = sorted(edges)
    update = {"start": start, "end": end, "heel_frames": rolls[0], "toe_frames": rolls[1]}
    return plant.model_copy(update=update)


def _merged(plants: Iterable[Plant], span: Span) -> list[Plant]:
    """Plants of one side that touch become one: a foot that never lifts has one long bar."""
    merged: list[Plant] = []
    for side in _SIDES:
        own: list[Plant] = []
        inside = [cut for plant in plants if plant.side == side and (cut := clipped(plant, span))]
        for plant in sorted(inside, key=lambda plant: (plant.start, plant.end)):
            if own and plant.start <= own[-1].end + 1e-6:
                own[-1] = _as_one(own[-1], plant)
            else:
                own.append(plant)
        merged += own
    return merged


def _as_one(first: Plant, second: Plant) -> Plant:
    """Two plants of one foot that touch. It rolls where both do; else it stands on the joint of the one
    that does not."""
    last = second if second.end >= first.end else first
    rolls = first.rolls and second.rolls
    update = {
        "joint": second.joint if first.rolls and not second.rolls else first.joint,
        "end": last.end,
        "held": first.held or second.held,
        "rolls": rolls,
        "heel_frames": first.heel_frames if rolls else 0.0,
        "toe_frames": last.toe_frames if rolls else 0.0,
    }
    return first.model_copy(update=update)


def _touching(plants: list[Plant], window: Span | None) -> list[Plant]:
    if window is None:
        return plants
    return [plant for plant in plants if plant.start <= window.end and plant.end >= window.start]


def _frame_by_frame(
    performance: Performance, stint: Stint, ratio: float, window: Span | None
) -> list[Plant]:
    """The same where time bends: a frame at a time, whichever way the source runs."""
    first, last = np.ceil(stint.start), stint.end
    if window is not None:
        first = max(
            first, np.ceil(window.start - 2 * window.length_frames - performance.length_frames)
        )
        last = min(last, window.end + 2 * window.length_frames + performance.length_frames)
    frames = lane_time(np.arange(first, last))
    source = source_of(stint, ratio, frames)
    found: list[Plant] = []
    for plant in performance.plants:
        into = source - plant.start
        into = np.mod(into, performance.length_frames) if performance.is_cycle else into
        length = plant.end - plant.start
        stands = (into >= 0) & (into < length)
        edges = np.flatnonzero(np.diff(stands, prepend=False, append=False))
        for start, end in edges.reshape(-1, 2):
            shown = into[start:end]
            on_heel, on_ball = shown < plant.heel_frames, shown > length - 1 - plant.toe_frames
            update = {
                "start": float(frames[start]),
                "end": float(frames[start]) + float(end - start),
                "heel_frames": float(_first_run(on_heel)),
                "toe_frames": float(_first_run(on_ball[::-1])),
            }
            found.append(plant.model_copy(update=update))
    return _touching(_merged(found, stint.span), window)


def _first_run(flags: "np.ndarray[tuple[int], np.dtype[np.bool_]]") -> int:
    """How many are true at the start."""
    return len(flags) if flags.all() else int(flags.argmin())
