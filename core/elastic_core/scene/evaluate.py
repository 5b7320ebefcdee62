"""A scene's frames: the motion of every figure (rules 1.9 and 5.x)."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..arrays import Array, Index, by_runs, real
from ..clip import Material
from ..errors import Refusal
from ..figure import Figure, Placed, forward
from ..motion import Motion, blend, join_runs
from .document import Lane, Scene, SceneFigure, Stint
from .join import TravelAt, incoming_weight, placements
from .timing import last_frame, scene_time, source_time

BLOCK_FRAMES = 512


@dataclass(frozen=True, eq=False)
class FigureFrames:
    """One figure of the scene over the asked frames: its local motion, and its joints in the world."""

    figure: SceneFigure
    motion: Motion
    placed: Placed


def frames_of(scene: Scene, material: Material, frames: Array) -> list[FigureFrames]:
    """Every figure of the scene at these frames."""
    return [_frames_of_figure(scene, material, member, frames) for member in scene.figures]


def _frames_of_figure(
    scene: Scene, material: Material, member: SceneFigure, frames: Array
) -> FigureFrames:
    """A block of frames at a time: what is worked on stays small, however long the scene."""
    figure = material.figure(member.figure)
    motions, placed = [], []
    for start in range(0, max(1, len(frames)), BLOCK_FRAMES):
        motions.append(figure_motion(scene, material, member, frames[start : start + BLOCK_FRAMES]))
        placed.append(forward(figure, motions[-1]))
    if len(motions) == 1:
        return FigureFrames(member, motions[0], placed[0])
    positions = by_runs(np.concatenate([block.positions for block in placed]))
    rotations = by_runs(np.concatenate([block.rotations for block in placed]))
    return FigureFrames(member, join_runs(motions), Placed(positions, rotations))


def figure_motion(scene: Scene, material: Material, member: SceneFigure, frames: Array) -> Motion:
    """One figure's motion at these frames, on the ground of the scene."""
    figure = material.figure(member.figure)
    return _stacked(
        scene, material, member, figure, _layers(scene, member), scene_time(scene, frames)
    )


def _layers(scene: Scene, member: SceneFigure) -> list[Lane]:
    """The lanes that drive a figure now, from the lowest up."""
    return [lane for lane in scene.lanes_of_figure(member.id) if scene.plays(lane) and lane.stints]


def _stacked(
    scene: Scene,
    material: Material,
    member: SceneFigure,
    figure: Figure,
    layers: Sequence[Lane],
    time: Array,
) -> Motion:
    """The uppermost lane where it has a stint, and what lies below it elsewhere (rule 5.6)."""
    if not layers:
        return _standing(figure, np.array(member.mark), len(time))
    *under, lane = layers
    extras = _extras(material, layers)
    if not under:
        return _lane_motion(scene, material, lane, figure, time, extras)

    def below(at: Array) -> Motion:
        return _complete(_stacked(scene, material, member, figure, under, at), figure, extras)

    motion = below(time)
    covered = _covered(lane, time)
    if covered.any():
        places = np.flatnonzero(covered)
        over = _lane_motion(
            scene,
            material,
            lane,
            figure,
            time[places],
            extras,
            lambda at: below(real([at])).travel[0],
        )
        _put(motion, places, over)
    return motion


def placements_of(scene: Scene, material: Material, lane: Lane) -> list[Array]:
    """The ground placement of every stint of a lane [3], whatever lies below it."""
    member = scene.figure(lane.figure)
    lanes = scene.lanes_of_figure(member.id)
    under = [other for other in lanes[: lanes.index(lane)] if scene.plays(other) and other.stints]
    if not under:
        return placements(scene, material, lane)
    figure = material.figure(member.figure)

    def below(at: float) -> Array:
        travel: Array = _stacked(scene, material, member, figure, under, real([at])).travel[0]
        return travel

    return placements(scene, material, lane, below)


def _covered(lane: Lane, time: Array) -> Array:
    """Where a lane has a stint."""
    covered = np.zeros(len(time), dtype=bool)
    for stint in lane.stints:
        covered |= (time >= stint.start) & (time < stint.end)
    return covered


@dataclass(frozen=True)
class Extras:
    """The joints that some clip of a figure moves, and those that one scales."""

    moved: frozenset[int]
    scaled: frozenset[int]


def _lane_motion(
    scene: Scene,
    material: Material,
    lane: Lane,
    figure: Figure,
    time: Array,
    extras: Extras,
    below: TravelAt | None = None,
) -> Motion:
    ground_of = placements(scene, material, lane, below)
    motion = _blank(figure, len(time), extras)

    def poses(stint: Stint, placement: Array, at: Array) -> Motion:
        playable = material.clip(stint.clip)
        if playable.samples.joints != len(figure.joints):
            raise Refusal(f"“{playable.clip.name}” was made for another figure.")
        source = source_time(scene, playable.clip, stint, at)
        return _complete(playable.at(source).moved(placement), figure, extras)

    _fill_gaps(lane, ground_of, figure, time, motion, poses)
    for place, (stint, placement) in enumerate(zip(lane.stints, ground_of, strict=True)):
        inside = np.flatnonzero((time >= stint.start) & (time < stint.end))
        if not inside.size:
            continue
        incoming = poses(stint, placement, time[inside])
        before = lane.stints[place - 1] if place else None
        joined = np.flatnonzero(time[inside] < before.end) if before else np.empty(0, dtype=np.intp)
        if before is None or not joined.size:
            _put(motion, inside, incoming)
            continue
        # What already lies there is the outgoing stint, itself joined to what came before it.
        overlap = inside[joined]
        weight = incoming_weight(before, stint, time[overlap])
        handed = blend(motion.at(overlap), incoming.at(joined), weight)
        _put(motion, inside, incoming)
        _put(motion, overlap, handed)
    return motion


PosesAt = Callable[[Stint, Array, Array], Motion]


def _fill_gaps(
    lane: Lane,
    ground_of: Sequence[Array],
    figure: Figure,
    time: Array,
    motion: Motion,
    poses: PosesAt,
) -> None:
    """Frames without a stint, by the lane's gap rule. Before the first there is nothing to hold."""
    ends = [-np.inf, *(stint.end for stint in lane.stints)]
    starts = [*(stint.start for stint in lane.stints), np.inf]
    for place, (start, end) in enumerate(zip(ends, starts, strict=True)):
        gap = np.flatnonzero((time >= start) & (time < end))
        if not gap.size:
            continue
        waits = place == 0 or (lane.gap == "wait" and place < len(lane.stints))
        shown = place if waits else place - 1
        stint = lane.stints[shown]
        at = stint.start if waits else last_frame(stint.end)
        pose = poses(stint, ground_of[shown], real([at]))
        if lane.gap == "rest":
            rest = _standing(figure, pose.travel[0], 1)
            pose = _complete(
                rest, figure, Extras(frozenset(motion.moves), frozenset(motion.scales))
            )
        _put(motion, gap, pose.at(np.zeros(gap.size, dtype=np.intp)))


def _standing(figure: Figure, mark: Array, frames: int) -> Motion:
    """The rest pose on a mark."""
    rest = figure.rest_motion.moved(mark)
    return rest.at(np.zeros(frames, dtype=np.intp))


def _extras(material: Material, lanes: Sequence[Lane]) -> Extras:
    motions = [material.clip(stint.clip).samples for lane in lanes for stint in lane.stints]
    return Extras(
        frozenset(joint for motion in motions for joint in motion.moves),
        frozenset(joint for motion in motions for joint in motion.scales),
    )


def _complete(motion: Motion, figure: Figure, extras: Extras) -> Motion:
    """Give every moved joint a move, and every scaled one a scale: as it rests where this clip leaves
    it alone."""
    missing = extras.moved - set(motion.moves)
    plain = extras.scaled - set(motion.scales)
    if not missing and not plain:
        return motion
    frames = motion.frames
    still = {joint: by_runs(np.tile(figure.offsets[joint], (frames, 1))) for joint in missing}
    unscaled = {joint: np.ones((frames, 3), order="F") for joint in plain}
    return replace(motion, moves={**motion.moves, **still}, scales={**motion.scales, **unscaled})


def _blank(figure: Figure, frames: int, extras: Extras) -> Motion:
    return Motion(
        np.empty((frames, 3), order="F"),
        np.empty((frames, 3), order="F"),
        np.empty((frames, len(figure.joints), 4), order="F"),
        {joint: np.empty((frames, 3), order="F") for joint in extras.moved},
        {joint: np.empty((frames, 3), order="F") for joint in extras.scaled},
    )


def _put(motion: Motion, places: Index, poses: Motion) -> None:
    where = _as_slice(places)
    motion.travel[where] = poses.travel
    motion.root_move[where] = poses.root_move
    motion.rotations[where] = poses.rotations
    for joint, move in motion.moves.items():
        move[where] = poses.moves[joint]
    for joint, scale in motion.scales.items():
        scale[where] = poses.scales[joint]


def _as_slice(places: Index) -> slice | Index:
    """Neighbouring places as a slice: copying a run is much faster than scattering one."""
    first, last = int(places[0]), int(places[-1])
    return slice(first, last + 1) if last - first + 1 == len(places) else places
