"""Scenes as timelines for editing: OpenTimelineIO, the open form of the Academy Software Foundation.

A lane is a track, a stint a clip, a join a transition, a beat a marker. The whole scene file lies in the
timeline's own metadata as text, number for number: what the form cannot say is read from there (`timeline_in`).
"""

import io
import zipfile
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from typing import Any

import numpy as np
import opentimelineio as otio

from ..arrays import real
from ..elastic import Elastic
from ..moments import LaneTime
from ..performance import Performance
from ..scene.cast import ClipSource
from ..scene.document import Lane, Scene, Stint
from ..scene.material import Material
from ..scene.sound_lane import LaidSound, SoundLane
from ..scene.timing import conform, source_of
from .scene_file import SceneFile
from .scene_zip import PackedScene, pictures_of
from .zips import entry_named

# Where our own words lie in what the form leaves to everybody.
OWN = "elastic_hours"
MEDIA_FOLDER = "media"
CONTENT_NAME, VERSION_NAME, BUNDLE_VERSION = "content.otio", "version.txt", "1.0.0"


@dataclass(frozen=True)
class Piece:
    """What lies on a track: it plays over [start, end), in frames of its lane's time, is cut to [first, last)
    where it joins its neighbours, and shows its source from `source` on, in frames of the scene's rate."""

    id: str
    name: str
    start: float
    end: float
    first: float
    last: float
    source: float


def media_of(held: SceneFile) -> dict[str, str]:
    """Where the files of a scene lie beside its timeline: each by its SHA-256 → its place."""
    files = {one.file: f"{one.file}.{one.form.lower()}" for one in held.sounds.values()}
    files |= {file: file for file in sorted(pictures_of(held))}
    return {file: f"{MEDIA_FOLDER}/{name}" for file, name in files.items()}


def write_timeline(held: SceneFile) -> str:
    """A scene file as OpenTimelineIO JSON. Raises Refusal where the file does not hold what the scene uses."""
    return str(timeline_of(held).to_json_string())


def timeline_of(held: SceneFile) -> Any:
    """A scene file as a timeline."""
    scene, material = held.scene, held.material()
    timeline = otio.schema.Timeline(name=scene.name)
    timeline.global_start_time = _moment(scene.first_frame, scene.rate)
    timeline.metadata[OWN] = {"version": 1, "scene_file": held.model_dump_json()}
    laid = timeline.tracks
    if not scene.elastic.is_identity:
        # What lies by played frames is not bent with the rest.
        laid = otio.schema.Stack(name="The scene’s time")
        _bend(laid, scene.elastic, scene.laid_frames)
        timeline.tracks.append(laid)
    # A timeline's tracks are told from the lowest to the uppermost.
    for lane in reversed(scene.lanes):
        (timeline.tracks if lane.keeps_own_time else laid).append(_track(lane, scene, material))
    for sound_lane in scene.sound_lanes:
        stack = timeline.tracks if sound_lane.keeps_own_time else laid
        for track in _sound_tracks(sound_lane, scene, held):
            stack.append(track)
    for beat in scene.beats:
        marker = otio.schema.Marker(
            name=beat.name, marked_range=_range(beat.start, beat.end - beat.start, scene.rate)
        )
        marker.metadata[OWN] = {"beat": beat.id}
        laid.markers.append(marker)
    return timeline


def tracks_of(timeline: Any) -> list[Any]:
    """All tracks of a timeline, those in stacks of its own too."""
    return list(timeline.tracks.find_children(descended_from_type=otio.schema.Track))


def write_otioz(packed: PackedScene) -> bytes:
    """A timeline with its sounds and pictures in one zip, as the form has it (`content.otio`, `media/…`)."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        text = write_timeline(packed.scene).encode()
        archive.writestr(entry_named(CONTENT_NAME, packed=True), text)
        archive.writestr(entry_named(VERSION_NAME), BUNDLE_VERSION)
        for file, name in media_of(packed.scene).items():
            archive.writestr(entry_named(name), packed.files[file])
    return out.getvalue()


def pieces_of(lane: Lane, scene: Scene, material: Material) -> list[Piece]:
    """A lane's stints, cut in the middle of each join."""
    cuts: list[float | None] = [None]
    cuts += [_cut(before, after) for before, after in lane.neighbours()]
    cuts.append(None)
    found = []
    # Of a lane without stints there is nothing to cut.
    for stint, (before, after) in zip(lane.stints, pairwise(cuts), strict=bool(lane.stints)):
        first = stint.start if before is None else before
        last = stint.end if after is None else after
        performance = material.performances[stint.source]
        ratio = conform(performance, scene)
        name = stint.name or performance.name
        source = source_at(stint, ratio, first - stint.start)
        found.append(Piece(stint.id, name, stint.start, stint.end, first, last, source))
    return found


def source_at(stint: Stint, ratio: float, since_start: float) -> float:
    """What of its source a stint shows so many frames after its start, in frames of the scene's rate. `ratio`:
    frames of the source per frame of the scene."""
    shown = source_of(stint, ratio, LaneTime(real(stint.start + since_start)))
    return float(shown) / ratio


def pace_of(elastic: Elastic, length_frames: float) -> float | None:
    """The one pace at which an elastic runs over a length: 0 where time is held throughout, below 0 where it
    runs backwards; none where it has more than one."""
    if elastic.is_identity:
        return 1.0
    if elastic.runs_evenly and (elastic.before, elastic.after) == ("continue", "continue"):
        return float(elastic.slope(real(0.0)))
    at = elastic.source(np.linspace(0.0, length_frames, _LOOKS))
    return 0.0 if float(np.ptp(at)) < _NEAR else None


_LOOKS = 65
_NEAR = 1e-9


def _cut(before: Stint, after: Stint) -> float | None:
    return (after.start + before.end) / 2 if after.start < before.end else None


def _track(lane: Lane, scene: Scene, material: Material) -> Any:
    track = otio.schema.Track(name=lane.name, kind=otio.schema.TrackKind.Video)
    track.metadata[OWN] = {"lane": lane.id}
    track.enabled = not lane.muted
    pieces = pieces_of(lane, scene, material)
    for item in _laid_out(pieces, scene.rate):
        track.append(item)
    clips = [item for item in track if isinstance(item, otio.schema.Clip)]
    for stint, clip in zip(lane.stints, clips, strict=True):
        clip.metadata[OWN] = {"stint": stint.id}
        clip.media_reference = _reference(stint, material.performances[stint.source])
        _bend(clip, stint.elastic, stint.length_frames)
    return track


def _sound_tracks(lane: SoundLane, scene: Scene, held: SceneFile) -> list[Any]:
    """A lane's sounds; those that are heard over others lie on a track more."""
    media = media_of(held)
    tracks = []
    for row in _apart(lane.sounds, scene.rate):
        track = otio.schema.Track(name=lane.name, kind=otio.schema.TrackKind.Audio)
        track.metadata[OWN] = {"sound_lane": lane.id}
        track.enabled = not lane.muted
        for item in _laid_out([sound_piece(laid, scene.rate, held) for laid in row], scene.rate):
            track.append(item)
        clips = [item for item in track if isinstance(item, otio.schema.Clip)]
        for laid, clip in zip(row, clips, strict=True):
            sound = held.sounds[laid.sound]
            clip.metadata[OWN] = {"sound": laid.id}
            clip.enabled = not laid.muted
            clip.media_reference = otio.schema.ExternalReference(
                target_url=media[sound.file],
                available_range=_range(0.0, sound.seconds * float(scene.rate), scene.rate),
            )
        tracks.append(track)
    return tracks


def sound_piece(laid: LaidSound, rate: Fraction, held: SceneFile) -> Piece:
    """A laid sound; its source is counted in frames of the scene's rate as well."""
    name = laid.name or held.sounds[laid.sound].name
    start, end = laid.start, laid.end(rate)
    return Piece(laid.id, name, start, end, start, end, laid.in_seconds * float(rate))


def _apart(sounds: Sequence[LaidSound], rate: Fraction) -> list[list[LaidSound]]:
    """Rows in which no sound lies over another; one at the least."""
    rows: list[list[LaidSound]] = [[]]
    for laid in sounds:
        free = next((row for row in rows if not row or row[-1].end(rate) <= laid.start), None)
        if free is None:
            rows.append([laid])
        else:
            free.append(laid)
    return rows


def _laid_out(pieces: Iterable[Piece], rate: Fraction) -> list[Any]:
    """Clips with what is between them: gaps, and transitions where two play at one time."""
    found: list[Any] = []
    reached, before = 0.0, None
    for piece in pieces:
        if piece.first > reached:
            found.append(otio.schema.Gap(source_range=_range(0.0, piece.first - reached, rate)))
        elif before is not None and piece.start < piece.first:
            found.append(
                otio.schema.Transition(
                    transition_type=otio.schema.TransitionTypes.SMPTE_Dissolve,
                    in_offset=_moment(piece.first - piece.start, rate),
                    out_offset=_moment(before.end - piece.first, rate),
                )
            )
        shown = _range(piece.source, piece.last - piece.first, rate)
        found.append(otio.schema.Clip(name=piece.name, source_range=shown))
        reached, before = piece.last, piece
    return found


def _reference(stint: Stint, performance: Performance) -> Any:
    """What a stint plays has no file that others could open: it is named."""
    available = None
    if isinstance(stint.source, ClipSource) and not performance.is_cycle:
        available = _range(0.0, performance.length_frames, performance.rate)
    return otio.schema.MissingReference(name=performance.name, available_range=available)


def _bend(item: Any, elastic: Elastic, length_frames: float) -> None:
    """An elastic as the form can say it: an even pace, held, backwards; otherwise by its name alone."""
    pace = pace_of(elastic, length_frames)
    if pace is None:
        item.effects.append(otio.schema.TimeEffect(name="Elastic", effect_name="Elastic"))
    elif pace == 0:
        item.effects.append(otio.schema.FreezeFrame())
    elif pace != 1:
        item.effects.append(otio.schema.LinearTimeWarp(name="Pace", time_scalar=pace))


def _moment(frames: float, rate: Fraction) -> Any:
    return otio.opentime.RationalTime(frames, float(rate))


def _range(start: float, length: float, rate: Fraction) -> Any:
    return otio.opentime.TimeRange(_moment(start, rate), _moment(length, rate))
