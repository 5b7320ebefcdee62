"""The time desk's picture of a scene: everything about stints and joins that the page draws."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass

import numpy as np

from ..anatomy import legs_of
from ..arrays import real
from ..beats import Beat
from ..budget import take
from ..clip.document import Plant
from ..colour import Colour
from ..figure import Figure
from ..frozen import Shown
from ..moments import lane_time
from ..performance import Performance
from .cast import StintSource, Target
from .document import Backdrop, GapRule, JoinShape, Lane, Scene, SceneFigure, Stint
from .edits.card import FOLLOWS, CardNumber, CardNumbers, card_numbers
from .join import incoming_weight
from .material import Material
from .timing import (
    conform,
    room_in_clip,
    scene_times_of,
    source_at,
    source_time,
)

_SHAPE_POINTS = 13
_MOST_TICKS = 2000


class DeskPlant(Shown):
    """A foot on the ground, in scene frames: the joint it stands on, and those of ankle and toes."""

    side: str
    joint: str
    ankle: str
    toe: str | None
    start: float
    end: float


class DeskStint(Shown):
    """One stint as it lies on the desk. Times are scene frames from 0, half open.

    `rests` names the joints that its clip leaves at rest; `made` is the stint of the document, for
    copies.
    """

    id: str
    source: StintSource
    clip_name: str
    name: str
    colour: Colour
    own_colour: bool
    start: float
    end: float
    numbers: CardNumbers
    clip_length_frames: int
    is_cycle: bool
    cycles: float | None
    cycle_starts: list[float]
    earliest: float | None
    latest: float | None
    nailed: bool
    plants: list[DeskPlant]
    rests: list[str]
    made: Stint


class DeskJoin(Shown):
    """Where one stint hands over to the next; `weights` are the incoming one's, evenly over it."""

    outgoing: str
    incoming: str
    start: float
    end: float
    shape: JoinShape
    weights: list[float]


class DeskGap(Shown):
    start: float
    end: float


class DeskLane(Shown):
    id: str
    name: str
    target: Target
    figure: str
    figure_name: str
    gap: GapRule
    colour: Colour | None
    folded: bool
    muted: bool
    soloed: bool
    locked: bool
    plays: bool
    lies_over: bool
    stints: list[DeskStint]
    joins: list[DeskJoin]
    gaps: list[DeskGap]


class Desk(Shown):
    """A whole scene on the desk."""

    name: str
    rate: str
    frames_per_second: float
    laid_frames: int
    played_frames: int
    first_frame: int
    backdrop: Backdrop
    figures: list[SceneFigure]
    lanes: list[DeskLane]
    lane_ids: list[str]
    beats: list[Beat]
    follows: dict[CardNumber, CardNumber]


def desk_of(scene: Scene, material: Material) -> Desk:
    """The picture of a scene."""
    return Desk(
        name=scene.name,
        rate=str(scene.rate),
        frames_per_second=float(scene.rate),
        laid_frames=scene.laid_frames,
        played_frames=scene.played_frames,
        first_frame=scene.first_frame,
        backdrop=scene.backdrop,
        figures=list(scene.figures),
        lanes=[_lane(scene, lane, material) for lane in scene.lanes],
        lane_ids=[lane.id for lane in scene.lanes],
        beats=list(scene.beats),
        follows=FOLLOWS,
    )


def _lane(scene: Scene, lane: Lane, material: Material) -> DeskLane:
    take()
    figure = material.figure(scene.figure(lane.figure).figure) if lane.figure else None
    return DeskLane(
        id=lane.id,
        name=lane.name,
        target=lane.target,
        figure=lane.figure,
        figure_name=scene.figure(lane.figure).name if lane.figure else "",
        gap=lane.gap,
        colour=lane.colour,
        folded=lane.folded,
        muted=lane.muted,
        soloed=lane.soloed,
        locked=lane.locked,
        plays=scene.plays(lane),
        lies_over=lane not in scene.lanes_of_figure(lane.figure)[:1],
        stints=[
            _stint(scene, stint, material.performance(stint.source), figure)
            for stint in lane.stints
        ],
        joins=[_join(a, b) for a, b in lane.neighbours() if a.end > b.start],
        gaps=_gaps(scene, lane),
    )


_PlantSpan = tuple[str, float, float]
"""Side, start and end."""


@dataclass(frozen=True)
class _Foot:
    """The joint that a side's plants stand on, and those of its ankle and its toes."""

    joint: str
    ankle: str
    toe: str | None


def _feet(performance: Performance, figure: Figure | None) -> dict[str, _Foot]:
    """The foot of each side that has plants."""
    found: dict[str, _Foot] = {}
    for plant in performance.plants:
        found.setdefault(plant.side, _Foot(plant.joint, plant.joint, None))
    for leg in legs_of(figure) if figure else ():
        names = figure.names if figure else ()
        ankle, toe = names[leg.foot], None if leg.toe is None else names[leg.toe]
        known = found.get(leg.side)
        if known is not None and known.joint in (ankle, toe):
            found[leg.side] = _Foot(known.joint, ankle, toe)
    return found


def _stint(
    scene: Scene, stint: Stint, performance: Performance, figure: Figure | None
) -> DeskStint:
    feet = _feet(performance, figure)
    source_start = source_at(scene, performance, stint, stint.start)
    source_end = source_at(scene, performance, stint, stint.end)
    earliest, latest = room_in_clip(scene, performance, stint)
    length = performance.length_frames
    return DeskStint(
        id=stint.id,
        source=stint.source,
        clip_name=performance.name,
        name=stint.name or performance.name,
        colour=stint.colour or performance.colour,
        own_colour=stint.colour is not None,
        start=stint.start,
        end=stint.end,
        numbers=card_numbers(scene, performance, stint),
        clip_length_frames=length,
        is_cycle=performance.is_cycle,
        cycles=abs(source_end - source_start) / length if performance.is_cycle else None,
        cycle_starts=_cycle_starts(scene, performance, stint, source_start, source_end),
        earliest=float(earliest) if np.isfinite(earliest) else None,
        latest=float(latest) if np.isfinite(latest) else None,
        nailed=stint.nailed is not None,
        plants=[
            DeskPlant(side=side, **asdict(feet[side]), start=first, end=last)
            for side, first, last in _plants(scene, performance, stint, source_start, source_end)
        ],
        rests=list(performance.rests),
        made=stint,
    )


def _rounds(performance: Performance, source_start: float, source_end: float) -> range:
    """The rounds of a cycle that a stretch of source touches."""
    low, high = sorted((source_start, source_end))
    first, last = (
        int(np.floor(low / performance.length_frames)),
        int(np.ceil(high / performance.length_frames)),
    )
    return range(first, min(last, first + _MOST_TICKS))


def _cycle_starts(
    scene: Scene, performance: Performance, stint: Stint, source_start: float, source_end: float
) -> list[float]:
    """Where each later round begins."""
    if not performance.is_cycle:
        return []
    starts = [
        time
        for k in _rounds(performance, source_start, source_end)
        for time in scene_times_of(scene, performance, stint, float(k * performance.length_frames))
    ]
    return sorted(time for time in starts if stint.start + 1e-6 < time < stint.end - 1e-6)


def _plants(
    scene: Scene, performance: Performance, stint: Stint, source_start: float, source_end: float
) -> list[_PlantSpan]:
    """A clip's plants in scene frames, round after round, cut to the stint."""
    if not stint.elastic.runs_evenly:
        return _plants_by_frame(scene, performance, stint)
    scale = float(stint.elastic.slope(real(0.0))) * conform(performance, scene)
    shifts = [0]
    if performance.is_cycle:
        # A plant may reach over the seam, so the round before counts too.
        rounds = _rounds(performance, source_start, source_end)
        shifts = [k * performance.length_frames for k in (rounds.start - 1, *rounds)]
    found: list[_PlantSpan] = []
    for side in ("left", "right", "middle"):
        spans = sorted(
            _scene_edges(plant, shift, stint, scale)
            for plant in performance.plants
            for shift in shifts
            if plant.side == side
        )
        for start, end in _merged(spans):
            start, end = max(stint.start, start), min(stint.end, end)
            if end - start > 1e-6:
                found.append((side, start, end))
    return found


def _plants_by_frame(scene: Scene, performance: Performance, stint: Stint) -> list[_PlantSpan]:
    """The same where time bends: a frame at a time, whichever way the source runs."""
    frames = lane_time(np.arange(np.ceil(stint.start), stint.end))
    source = source_time(scene, performance, stint, frames)
    found: list[_PlantSpan] = []
    for side in ("left", "right", "middle"):
        planted = np.zeros(len(frames), dtype=bool)
        for plant in performance.plants:
            if plant.side != side:
                continue
            into = source - plant.start
            into = np.mod(into, performance.length_frames) if performance.is_cycle else into
            planted |= (into >= 0) & (into < plant.end - plant.start)
        edges = np.flatnonzero(np.diff(planted, prepend=False, append=False))
        for first, end in edges.reshape(-1, 2):
            start = float(frames[first])
            stop = start + float(end - first)
            found.append((side, start, stop))
    return found


def _merged(spans: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Spans that touch become one: a foot that never lifts has one long bar."""
    merged: list[tuple[float, float]] = []
    for start, end in spans:
        if merged and start <= merged[-1][1] + 1e-6:
            merged[-1] = (merged[-1][0], max(end, merged[-1][1]))
        else:
            merged.append((start, end))
    return merged


def _scene_edges(plant: Plant, shift: float, stint: Stint, scale: float) -> tuple[float, float]:
    """A plant of one round in scene frames; played backwards it ends where it began."""
    edges = [
        stint.start + (edge + shift - stint.in_frame) / scale for edge in (plant.start, plant.end)
    ]
    return min(edges), max(edges)


def _join(outgoing: Stint, incoming: Stint) -> DeskJoin:
    times = lane_time(np.linspace(incoming.start, outgoing.end, _SHAPE_POINTS))
    return DeskJoin(
        outgoing=outgoing.id,
        incoming=incoming.id,
        start=incoming.start,
        end=outgoing.end,
        shape=incoming.shape,
        weights=[float(weight) for weight in incoming_weight(outgoing, incoming, times)],
    )


def _gaps(scene: Scene, lane: Lane) -> list[DeskGap]:
    ends = [0.0, *(stint.end for stint in lane.stints)]
    starts = [*(stint.start for stint in lane.stints), float(scene.laid_frames)]
    return [DeskGap(start=a, end=b) for a, b in zip(ends, starts, strict=True) if b > a]
