"""A scene's frames: the motion of every figure, and the drawings of every layer (rules 1.9 and 5.x)."""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from ..arrays import Array, Index, by_runs
from ..figure import Placed, forward
from ..moments import LaneTime, Played, played
from ..motion import Motion, join_runs
from .clock import LaneClock, carried, clock_of
from .cues import cues
from .document import Lane, Scene, SceneFigure
from .fixing import fixed
from .held import poses_of
from .layers import layers_at, masked, weights_at
from .laying import blank, laid, mix, put, resting
from .material import Material
from .staged import StagedFigure
from .staging import staged
from .timing import source_time

BLOCK_FRAMES = 512
NO_DRAWING = 0


@dataclass(frozen=True, eq=False)
class FigureFrames:
    """One figure of the scene over the asked frames: its local motion, its joints in the world, and
    the drawing that each of its drawn parts shows: part → [frames]."""

    figure: SceneFigure
    motion: Motion
    placed: Placed
    drawings: Mapping[str, Index] = field(default_factory=dict)


def frames_of(scene: Scene, material: Material, frames: Array) -> list[FigureFrames]:
    """Every figure of the scene at these played frames [frames]. Raises Refusal where material is
    missing or a stint was made for another figure."""
    at = played(frames)
    return [_frames_of_figure(scene, material, member, at) for member in scene.figures]


def figure_motion(scene: Scene, material: Material, member: SceneFigure, frames: Array) -> Motion:
    """One figure's motion at these played frames, on the ground of the scene."""
    return motion_of(staged(scene, material, member), played(frames))


def layers_of(scene: Scene, material: Material, frames: Array) -> dict[str, Index]:
    """The drawing that each layer shows at these played frames: layer → [frames]; 0 for none."""
    at = played(frames)
    found: dict[str, Index] = {}
    for lane in _drawing_lanes(scene):
        if lane.target.kind == "layer":
            _draw(scene, material, lane, at, found.setdefault(lane.target.layer, _blank_row(at)))
    return found


def motion_of(stage: StagedFigure, frames: Played, *, holds: bool = True) -> Motion:
    """The lanes from the lowest up: each where it has a stint takes the place of what lies below it, or
    is mixed into that by its weight and its mask, and a fix lane adds to it (rule 5.6). Without `holds`
    no feet are held."""
    clocks = [lane.clock for lane in stage.lanes] + [lane.clock for lane in stage.fixes]
    if not clocks:
        return stage.sized(resting(stage, np.array(stage.member.mark), len(frames)))
    return stage.sized(unsized_at(stage, clocks[0], clocks[0].time(frames), holds=holds))


def unsized_at(
    stage: StagedFigure, clock: LaneClock, time: LaneTime, *, holds: bool = True
) -> Motion:
    """The same at moments that are read on a clock, in the figure's own metres."""
    if stage.lanes:
        motion = blank(stage, len(time))
        layers = layers_at(stage.lanes, clock, time)
    else:
        motion = resting(stage, np.array(stage.member.mark), len(time))
        layers = []
    poses = poses_of if holds else laid
    for place, lane in enumerate(stage.lanes, start=1):
        for layer in (layer for layer in layers if layer.lane is lane):
            own = poses(stage, lane, layer.time, gaps=place == 1)
            if layer.covers:
                put(motion, layer.places, own)
                continue
            weight = weights_at(lane.lane, layer.time)
            mix(motion, layer.places, own, weight, masked(stage.figure, lane.lane))
        _fix(stage, place, clock, time, motion)
    if not stage.lanes:
        _fix(stage, 0, clock, time, motion)
    return motion


def _fix(stage: StagedFigure, over: int, clock: LaneClock, time: LaneTime, motion: Motion) -> None:
    """Add the fix lanes that lie over so many lanes."""
    for fixes in stage.fixes:
        if fixes.over == over:
            own_time = carried(time, clock, fixes.clock)
            fixed(stage.figure, fixes.lane.fixes or (), own_time, motion)


def _frames_of_figure(
    scene: Scene, material: Material, member: SceneFigure, frames: Played
) -> FigureFrames:
    """A block of frames at a time: what is worked on stays small, however long the scene."""
    stage = staged(scene, material, member)
    drawings = _parts_of(scene, material, member, frames)
    motions, placed = [], []
    for start in range(0, max(1, len(frames)), BLOCK_FRAMES):
        motions.append(motion_of(stage, Played(frames[start : start + BLOCK_FRAMES])))
        placed.append(forward(stage.figure, motions[-1]))
    if len(motions) == 1:
        return FigureFrames(member, motions[0], placed[0], drawings)
    positions = by_runs(np.concatenate([block.positions for block in placed]))
    rotations = by_runs(np.concatenate([block.rotations for block in placed]))
    return FigureFrames(member, join_runs(motions), Placed(positions, rotations), drawings)


def _drawing_lanes(scene: Scene) -> list[Lane]:
    """The lanes of drawings that play, from the lowest up."""
    return [
        lane
        for lane in reversed(scene.lanes)
        if lane.target.takes == "drawings" and scene.plays(lane) and lane.stints
    ]


def _parts_of(
    scene: Scene, material: Material, member: SceneFigure, frames: Played
) -> dict[str, Index]:
    """The drawings of a figure's parts, the upper lane over the lower."""
    found: dict[str, Index] = {}
    for lane in _drawing_lanes(scene):
        if lane.target.kind == "part" and lane.target.figure == member.id:
            row = found.setdefault(lane.target.part, _blank_row(frames))
            _draw(scene, material, lane, frames, row)
    return found


def _draw(scene: Scene, material: Material, lane: Lane, frames: Played, row: Index) -> None:
    """Lay a lane's drawings over what lies there; a join is a straight cut (rule 7.3)."""
    is_lowest = not row.any()
    time = clock_of(scene, lane).time(frames)
    for cue in cues(lane, time, gaps=is_lowest and lane.gap != "rest"):
        stint = lane.stints[cue.stint]
        performance = material.drawings(stint.source)
        row[cue.places] = performance.drawings_at(source_time(scene, performance, stint, cue.at))


def _blank_row(frames: Played) -> Index:
    return np.full(len(frames), NO_DRAWING, dtype=np.intp)
