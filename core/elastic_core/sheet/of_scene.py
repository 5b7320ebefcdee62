"""A scene on its sheet: a row for each played frame, a column for each lane and for what is said."""

import numpy as np

from ..exposure import ON_ONES
from ..moments import LaneTime, Played, played
from ..scene.clock import LaneClock, clock_of
from ..scene.cues import cues
from ..scene.document import Lane, Scene
from ..scene.evaluate import NO_DRAWING, drawings_of_lane
from ..scene.material import Material
from ..scene.sound_lane import SoundLane
from ..voice.chart import ChartMouths, Stroke
from ..voice.said import said_on
from .document import Sheet, SheetCell, SheetColumn, runs
from .of_line import said_cells

# A moment that is computed may lie a hair before the frame that it is on.
_HAIR_FRAMES = 1e-6


def sheet_of_scene(scene: Scene, material: Material) -> Sheet:
    """The sheet of a scene, as it plays.

    Raises Refusal where the material lacks what a lane plays.
    """
    columns = [_beats(scene)]
    columns += [_sound(scene, lane, material) for lane in scene.sound_lanes]
    columns += [_lane(scene, lane, material) for lane in scene.lanes if lane.fixes is None]
    return Sheet(
        title=scene.name,
        rate=scene.rate,
        frames=scene.played_frames,
        columns=tuple(columns),
        first_frame=scene.first_frame,
    )


def _beats(scene: Scene) -> SheetColumn:
    """Beats stand in laid time: each is noted on the frame at which its first laid frame plays."""
    time = _laid(scene)
    cells = []
    for beat in sorted(scene.beats, key=lambda one: one.start):
        there = np.flatnonzero((time >= beat.start) & (time < beat.end))
        if there.size:
            cells.append(SheetCell(int(there[0]), 1, beat.name))
    return SheetColumn("Notes", "notes", tuple(cells))


def _sound(scene: Scene, lane: SoundLane, material: Material) -> SheetColumn:
    """What is said on a sound lane; of a sound that nobody has read its name. A lane that goes by the scene's
    time is written where it plays."""
    read = {played.line.sound: played.line.reading for played in material.lines.values()}
    fps = float(scene.rate)
    cells: list[SheetCell] = []
    for laid in lane.sounds:
        reading = read.get(laid.sound)
        first = laid.start - laid.in_seconds * fps
        words = [(w.word, w) for w in reading.words if w.fits] if reading else []
        most = scene.laid_frames + scene.played_frames
        own = said_cells(said_on(words, fps, most, first))
        if not own:
            name = laid.name or material.sound(laid.sound).name
            start, end = round(max(0.0, laid.start)), round(laid.end(scene.rate))
            own = (SheetCell(start, max(1, end - start), name),)
        cells += own
    if lane.keeps_own_time:
        row = _row(cells, scene.played_frames)
    else:
        laid_row = _row(cells, scene.laid_frames)
        last = scene.laid_frames - 1
        row = [laid_row[min(max(int(at + _HAIR_FRAMES), 0), last)] for at in _laid(scene)]
    return SheetColumn(lane.name, "said", tuple(SheetCell(*run) for run in runs(row)))


def _frames(scene: Scene) -> Played:
    return played(np.arange(scene.played_frames, dtype=np.float64))


def _laid(scene: Scene) -> LaneTime:
    """The laid moment that each frame plays."""
    return LaneClock(ON_ONES, scene.elastic, ()).time(_frames(scene))


def _row(cells: list[SheetCell], frames: int) -> list[str]:
    row = [""] * frames
    for cell in cells:
        for frame in range(max(0, cell.frame), min(cell.end, frames)):
            row[frame] = cell.text
    return row


def _lane(scene: Scene, lane: Lane, material: Material) -> SheetColumn:
    name = f"{scene.figure(lane.figure).name} {lane.name}" if lane.figure else lane.name
    frames = _frames(scene)
    layer = scene.layer_of(lane)
    if layer is not None:
        name = f"{layer.name} {lane.name}" if lane.name != layer.name else layer.name
    if lane.target.takes == "drawings":
        drawn = drawings_of_lane(scene, material, lane, frames)
        strokes = _strokes(lane, material)
        row = ["" if number == NO_DRAWING else str(number) for number in drawn.tolist()]
        cells = tuple(
            SheetCell(frame, length, text, strokes=strokes.get(int(text), ()))
            for frame, length, text in runs(row)
        )
        return SheetColumn(name, "drawings", cells)
    row = [""] * scene.played_frames
    for cue in cues(lane, clock_of(scene, lane).time(frames), gaps=False):
        stint = lane.stints[cue.stint]
        shown = stint.name or material.performance(stint.source).name
        for place in cue.places.tolist():
            row[place] = shown
    return SheetColumn(name, "clips", tuple(SheetCell(*run) for run in runs(row)))


def _strokes(lane: Lane, material: Material) -> dict[int, tuple[Stroke, ...]]:
    chart: ChartMouths | None = material.charts.get(lane.charts[0]) if lane.charts else None
    return {} if chart is None else {mouth.drawing: mouth.strokes for mouth in chart.mouths}
