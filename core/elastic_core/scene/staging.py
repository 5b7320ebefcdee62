"""A figure's lanes made ready: every stint set down on the ground, once, from the lowest lane up (5.3)."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from .. import ground
from ..arrays import Array
from ..join.alignment import Alignment, Standing, aligned, bearing, on_heels, stands
from ..moments import Source, lane_time, source
from ..motion import Motion
from ..remembered import remembered
from .cast import ClipSource
from .clock import Asked, LaneClock, clock_of
from .document import Lane, Scene, SceneFigure, Stint
from .fitting import body_for
from .join import meeting_time
from .layers import travel_of
from .material import Material
from .staged import StagedFigure, StagedFixes, StagedLane, off_stage, on_stage
from .timing import conform


def staged(scene: Scene, material: Material, member: SceneFigure) -> StagedFigure:
    """One figure's lanes as they play. Raises Refusal where a stint was made for another figure."""
    figure = material.figure(member.figure)
    own = scene.lanes_of_figure(member.id)
    playing = [lane for lane in own if scene.plays(lane) and lane.stints]
    lanes, fixes = _lanes(scene, material, member, playing), _fixes(scene, member)
    clocks = [*(lane.clock for lane in lanes), *(lane.clock for lane in fixes)]
    clock = clocks[0] if clocks else LaneClock(scene.exposure, scene.elastic)
    return StagedFigure(member, figure, lanes, clock, _chosen_rest(material, member), fixes)


def _fixes(scene: Scene, member: SceneFigure) -> tuple[StagedFixes, ...]:
    """The fix lanes of a figure that play, from the lowest up."""
    found: list[StagedFixes] = []
    under = 0
    for lane in scene.body_lanes(member.id):
        if lane.fixes and scene.plays(lane):
            found.append(StagedFixes(lane, clock_of(scene, lane), under))
        under += bool(lane.stints) and scene.plays(lane)
    return tuple(found)


def _chosen_rest(material: Material, member: SceneFigure) -> Motion | None:
    """The pose that was chosen for a figure to rest in, at the origin."""
    if member.rest is None:
        return None
    body = material.body(ClipSource(id=member.rest.clip))
    pose = body.at(source([member.rest.frame]))
    return Motion(np.zeros((1, 3), order="F"), pose.root_move, pose.rotations)


def placements_of(scene: Scene, material: Material, lane: Lane) -> Array:
    """The ground placement of every stint of a lane on the stage [stints, 3], whether the lane plays or
    not."""
    return on_stage(staged_with(scene, material, lane)[1].placements, scene.figure(lane.figure))


def staged_with(scene: Scene, material: Material, lane: Lane) -> tuple[StagedFigure, StagedLane]:
    """A lane of a figure's body, whether it plays or not, over those under it that do."""
    member = scene.figure(lane.figure)
    own = scene.lanes_of_figure(member.id)
    under = [other for other in own[: own.index(lane)] if scene.plays(other) and other.stints]
    lanes = _lanes(scene, material, member, [*under, lane])
    figure = material.figure(member.figure)
    rest = _chosen_rest(material, member)
    return StagedFigure(member, figure, lanes, lanes[0].clock, rest), lanes[-1]


def _lanes(
    scene: Scene, material: Material, member: SceneFigure, lanes: Sequence[Lane]
) -> tuple[StagedLane, ...]:
    """Lanes from the lowest up, each set down where those below it have brought the figure."""
    figure = material.figure(member.figure)
    ready: list[StagedLane] = []
    for lane in lanes:
        bodies = tuple(body_for(material, member, stint) for stint in lane.stints)
        ratios = tuple(conform(body, scene) for body in bodies)
        bare = StagedLane(lane, figure, clock_of(scene, lane), bodies, ratios, np.zeros((0, 3)))
        ready.append(replace(bare, placements=_placements(bare, member, ready)))
    return tuple(ready)


def _placements(lane: StagedLane, member: SceneFigure, under: Sequence[StagedLane]) -> Array:
    """The ground placement of every stint [stints, 3].

    A chained stint carries on from the one before, laid on it where they meet as its alignment says.
    The first one starts from the figure's mark; on a lane over others, one with nothing right before
    it starts from where they have brought the figure.
    """
    stints = lane.lane.stints
    below = _starts_below(lane, member, under)
    placed = np.zeros((len(stints), 3))
    leaving = np.array(member.mark, dtype=np.float64)
    for place, stint in enumerate(stints):
        before = stints[place - 1] if place and place not in below else None
        follower = stints[place + 1] if place + 1 < len(stints) else None
        meets = lane_time(_meetings(before, stint, follower))
        arrives, leaves = _edges(lane, place, lane.source_of(place, meets))
        if stint.nailed is not None:
            placed[place] = off_stage(np.array(stint.nailed), member)
        elif before is None or stint.alignment.is_root_on_root:
            nobody = np.zeros((2, 2))
            reference = Standing(below.get(place, leaving), nobody)
            arriving = Standing(arrives, nobody)
            alignment = Alignment() if before is None else stint.alignment
            placed[place] = aligned(reference, arriving, alignment, member.mark[2])
        else:
            met = met_at(lane, placed[place - 1], place)
            placed[place] = aligned(*met, stint.alignment, member.mark[2])
        leaving = ground.compose(placed[place], leaves)
    return placed


def met_at(lane: StagedLane, leaves_from: Array, place: int) -> tuple[Standing, Standing]:
    """A stint and the one before it where they meet: how that leaves, set down on the scene's ground,
    and how this arrives, on its clip's."""
    before, stint = lane.lane.stints[place - 1], lane.lane.stints[place]
    sources = [
        lane.source_of(at, lane_time([moment]))
        for at, moment in zip((place - 1, place), meeting_time(before, stint), strict=True)
    ]
    bodies = (lane.bodies[place - 1], lane.bodies[place])
    bears = [bearing(body, float(shown[0])) for body, shown in zip(bodies, sources, strict=True)]
    heels = on_heels(*bears)
    leaving, arriving = (
        stands(lane.figure, body, shown, heels) for body, shown in zip(bodies, sources, strict=True)
    )
    return leaving.moved(leaves_from), arriving


def _edges(lane: StagedLane, place: int, shown: Source) -> Array:
    """Where a stint's source has brought the figure as it meets the others [2, 3]. It is remembered."""
    body = lane.bodies[place]
    key = ("edges", *shown.tolist())
    return remembered(lane.figure, body, key, lambda: body.travel_at(shown))


def _starts_below(
    lane: StagedLane, member: SceneFigure, under: Sequence[StagedLane]
) -> dict[int, Array]:
    """Where the lanes below have the figure at the start of each stint that starts from there."""
    stints = lane.lane.stints
    free = [
        place
        for place, stint in enumerate(stints)
        if stint.nailed is None and (place == 0 or stints[place - 1].end < stint.start)
    ]
    if not under or not free:
        return {}
    starts = lane_time([stints[place].start for place in free])
    return dict(zip(free, travel_of(under, member, Asked(starts, lane.clock)), strict=True))


def _meetings(before: Stint | None, stint: Stint, follower: Stint | None) -> tuple[float, float]:
    """When a stint meets the one before it, and the one after it."""
    arrives = stint.start if before is None else meeting_time(before, stint)[1]
    leaves = stint.start if follower is None else meeting_time(stint, follower)[0]
    return arrives, leaves
