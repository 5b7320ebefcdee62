"""A scene's frames: the motion of every figure, and the drawings of every layer (rules 1.9 and 5.x)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial

import numpy as np

from .. import rotation
from ..arrays import Array, Index, by_runs
from ..figure import Placed, forward
from ..moments import Played, played
from ..motion import Motion, join_runs
from .attaching import Rigid, carried_along, carried_by, carrying, riders_in_order
from .camera import CameraFrames, camera_frames
from .card_order import orders_at
from .clock import Asked, clock_of
from .cues import cues
from .document import Lane, Layer, Scene, SceneFigure
from .figure_before import as_before
from .guide import guide_frames
from .ink import ink_frames
from .material import Material
from .own_motion import unsized_at
from .sizes import sized
from .staged import StagedFigure
from .staging import staged
from .timing import source_time

BLOCK_FRAMES = 512
NO_DRAWING = -1
MOST_LOOKED_BACK_FRAMES = 96


@dataclass(frozen=True, eq=False)
class FigureFrames:
    """One figure of the scene over the asked frames: its local motion, its joints in the world, the drawing
    that each of its drawn parts shows: part → [frames], how its ink boils, if it does [frames, 2], and in which
    order parts of a cut-out lie that have keys of it: part → [frames]."""

    figure: SceneFigure
    motion: Motion
    placed: Placed
    drawings: Mapping[str, Index] = field(default_factory=dict)
    ink: Array | None = None
    orders: Mapping[str, Index] = field(default_factory=dict)


def frames_of(scene: Scene, material: Material, frames: Array) -> list[FigureFrames]:
    """Every figure of the scene at these played frames [frames]. Raises Refusal where material is
    missing or a stint was made for another figure."""
    at = played(frames)
    own = {
        member.id: as_before(
            scene, material, member, at, partial(_frames_of_figure, scene, material, member, at)
        )
        for member in scene.figures
    }
    riders = [member for member in riders_in_order(scene) if member.attachments]
    for member in riders:
        by = carrying(scene, material, member, at, lambda name: own[name].placed)
        shown = own[member.id]
        motion, placed = carried_along(member, by, shown.motion, shown.placed)
        own[member.id] = replace(shown, motion=motion, placed=placed)
    return [own[member.id] for member in scene.figures]


def figure_motion(scene: Scene, material: Material, member: SceneFigure, frames: Array) -> Motion:
    """One figure's motion at these played frames, on the ground of the scene or on what carries it."""
    if member.attachments:
        every = frames_of(scene, material, frames)
        return next(shown.motion for shown in every if shown.figure.id == member.id)
    return motion_of(staged(scene, material, member), played(frames))


def layers_of(scene: Scene, material: Material, frames: Array) -> dict[str, Index]:
    """The drawing that each layer shows at these played frames: layer → [frames]; −1 for none."""
    at = played(frames)
    found: dict[str, Index] = {}
    for lane in _drawing_lanes(scene):
        if lane.target.kind == "layer":
            _draw(scene, material, lane, at, found.setdefault(lane.target.layer, _blank_row(at)))
    return found


@dataclass(frozen=True, eq=False)
class LayerFrames:
    """Where a layer of drawings stands over the asked frames: its pegs in metres, its turn, and how much of it
    shows. place [n, 3], turn [n, 4], opacity [n]"""

    place: Array
    turn: Array
    opacity: Array


def standing_of(
    scene: Scene, material: Material, frames: Array, figures: Sequence[FigureFrames]
) -> dict[str, LayerFrames]:
    """Where each layer stands at these played frames. `figures` are all of the scene's at them, for those
    that ride."""
    if not scene.layers:
        return {}
    at = played(frames)
    drawn = layers_of(scene, material, frames)
    found: dict[str, LayerFrames] = {}
    for layer in scene.layers:
        shown = {one.figure.id: one.placed for one in figures}
        opacity = np.ones(len(at))
        if layer.opacity is not None:
            opacity = np.clip(layer.opacity.values(scene.elastic.source(at)), 0.0, 1.0)
        since = at
        if layer.steps and layer.id in drawn:
            since = _exposed_since(scene, material, layer, at)
            if layer.attachments:
                shown = {one.figure.id: one.placed for one in frames_of(scene, material, since)}
        stands = _standing(scene, material, layer, since, shown)
        found[layer.id] = LayerFrames(stands.move, stands.turn, opacity)
    return found


def _standing(
    scene: Scene, material: Material, layer: Layer, at: Played, placed: Mapping[str, Placed]
) -> Rigid:
    heading = rotation.about_axis("Y", np.full(len(at), np.radians(layer.heading_degrees)))
    place = np.tile(np.array(layer.place, dtype=np.float64), (len(at), 1))
    stands = Rigid(heading, place)
    # Its pegs go along with the joint, turns and all; whether the card does, each ride says for itself.
    whole = [ride.model_copy(update={"turns": True}) for ride in layer.attachments]
    pegs = carried_by(scene, material, whole, at, placed.__getitem__, stands)
    by = carried_by(scene, material, layer.attachments, at, placed.__getitem__, stands)
    turn = by.world.turn.copy()
    turn[by.rides] = rotation.multiply(by.world.turn[by.rides], heading[by.rides])
    return Rigid(turn, pegs.world.move)


def _exposed_since(scene: Scene, material: Material, layer: Layer, at: Played) -> Played:
    """The played frame at which the drawing that shows at each of these came up; one that stands for longer
    than is looked back counts from there."""
    first = np.arange(np.floor(at.min()) - MOST_LOOKED_BACK_FRAMES, np.floor(at.max()) + 1)
    row = layers_of(scene, material, np.maximum(first, 0.0))[layer.id]
    changes = np.flatnonzero(np.diff(row, prepend=row[:1] - 1))
    since = first[changes]
    place = np.searchsorted(since, at + 1e-9, side="right") - 1
    return played(np.maximum(since[place], 0.0))


def guides_of(scene: Scene, frames: Array) -> dict[str, Array]:
    """Where each guide is at these played frames: guide → x, y, z in metres and heading in radians [n, 4]."""
    at = played(frames)
    return {guide.id: guide_frames(guide, scene.elastic, at) for guide in scene.guides}


def camera_of(scene: Scene, frames: Array) -> CameraFrames | None:
    """The scene's camera at these played frames, if it has one."""
    if scene.camera is None:
        return None
    return camera_frames(scene.camera, scene.elastic, played(frames))


def motion_of(stage: StagedFigure, frames: Played, *, holds: bool = True) -> Motion:
    """The lanes from the lowest up: each where it has a stint takes the place of what lies below it, or
    is mixed into that by its weight and its mask, and a fix lane adds to it (rule 5.6). Without `holds`
    no feet are held."""
    time = stage.clock.time(frames)
    return sized(stage, time, unsized_at(stage, Asked(frames), holds=holds))


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
    ink = _ink_of(scene, member, frames)
    orders = orders_at(member.card_orders, scene.elastic.source(frames))
    if len(motions) == 1:
        return FigureFrames(member, motions[0], placed[0], drawings, ink, orders)
    positions = by_runs(np.concatenate([block.positions for block in placed]))
    rotations = by_runs(np.concatenate([block.rotations for block in placed]))
    whole = Placed(positions, rotations)
    return FigureFrames(member, join_runs(motions), whole, drawings, ink, orders)


def _ink_of(scene: Scene, member: SceneFigure, frames: Played) -> Array | None:
    """How a figure's ink boils: by the uppermost stint that plays and has ink of its own, else by its own."""
    lanes = [lane for lane in scene.lanes_of_figure(member.id) if scene.plays(lane)]
    boiling = [(lane, stint) for lane in lanes for stint in lane.stints if stint.ink is not None]
    if member.ink is None and not boiling:
        return None
    rows = ink_frames(member.ink, frames)
    for lane, stint in boiling:
        time = clock_of(scene, lane).time(frames)
        plays = np.flatnonzero((time >= stint.start - 1e-9) & (time < stint.end - 1e-9))
        rows[plays] = ink_frames(stint.ink, Played(frames[plays]))
    return rows


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


def drawings_of_lane(scene: Scene, material: Material, lane: Lane, frames: Played) -> Index:
    """The numbers of the drawings that a lane shows at these played frames, −1 where it shows none.
    [frames] → [frames]."""
    row = _blank_row(frames)
    _draw(scene, material, lane, frames, row)
    return row


def _draw(scene: Scene, material: Material, lane: Lane, frames: Played, row: Index) -> None:
    """Lay a lane's drawings over what lies there; a join is a straight cut (rule 7.3)."""
    is_lowest = bool((row == NO_DRAWING).all())
    time = clock_of(scene, lane).time(frames)
    for cue in cues(lane, time, gaps=is_lowest and lane.gap != "rest"):
        stint = lane.stints[cue.stint]
        performance = material.drawings(stint.source)
        row[cue.places] = performance.drawings_at(source_time(scene, performance, stint, cue.at))


def _blank_row(frames: Played) -> Index:
    return np.full(len(frames), NO_DRAWING, dtype=np.intp)
