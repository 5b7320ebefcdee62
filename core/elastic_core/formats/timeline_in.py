"""Timelines from editing tools as scenes: one of ours opens as it was, with what was moved in it; one from
elsewhere as beats and sounds."""

import hashlib
import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import PurePosixPath
from typing import Any, TypeVar
from urllib.parse import unquote, urlsplit

import opentimelineio as otio

from ..beats import Beat
from ..clock import nearest_frame, parse_rate
from ..colour import COLOURS
from ..elastic import Elastic
from ..errors import Refusal, refusing
from ..scene.document import LONGEST_SCENE_FRAMES, Lane, Scene, Stint
from ..scene.edits.base import ordered
from ..scene.edits.figures import free_id
from ..scene.material import Material
from ..scene.sound_lane import LEAST_SECONDS, LaidSound, SoundLane
from ..scene.timing import conform
from ..sound.document import HOUSE_RATE, Sound
from .json_text import read_json
from .scene_file import SceneFile, read_scene_file
from .scene_zip import PackedScene
from .sound_file import name_of_sound, read_sound
from .timeline import (
    CONTENT_NAME,
    OWN,
    Piece,
    media_of,
    pace_of,
    pieces_of,
    sound_piece,
    source_at,
    timeline_of,
    tracks_of,
)
from .zips import names_in, unzipped

# A moment moved by less was not moved: other tools round what they write.
NEAR_FRAMES = 1e-4
MOST_SHOTS = 5_000
# What the library says of a file that is not as the form has it.
_BROKEN = (
    otio.exceptions.OTIOError,
    AttributeError,
    LookupError,
    RuntimeError,
    TypeError,
    ValueError,
)

# A file by its place as the timeline has it, where it is there.
Media = Callable[[str], bytes | None]


@dataclass(frozen=True)
class TimelineRead:
    """A timeline as a scene, what of it is not in there, in sentences, and which of its files are missing, by
    their places."""

    packed: PackedScene
    notes: tuple[str, ...] = ()
    missing: tuple[str, ...] = ()

    def whole(self) -> PackedScene:
        """The scene with all its files. Raises Refusal where one is missing."""
        if self.missing:
            place = self.missing[0]
            raise Refusal(
                f"{place} is not beside the timeline: keep its folder with it, or take the .otioz."
            )
        return self.packed


@dataclass(frozen=True)
class _Got:
    """A clip of a track as it is found: see Piece."""

    clip: Any
    start: float
    end: float
    first: float
    source: float


def read_timeline(text: bytes, media: Media) -> TimelineRead:
    """OpenTimelineIO JSON. Raises Refusal in one sentence for what is none."""
    read_json(text)
    try:
        timeline = otio.core.deserialize_json_from_string(text.decode())
    except _BROKEN as problem:
        raise Refusal("This is not a timeline that can be read.") from problem
    if not isinstance(timeline, otio.schema.Timeline) or timeline.tracks is None:
        raise Refusal("There is no timeline in this file.")
    try:
        own = _own(timeline).get("scene_file")
        with refusing():
            return _foreign(timeline, media) if own is None else _ours(timeline, own, media)
    except _BROKEN as problem:
        raise Refusal("This timeline does not hold together: it cannot be read.") from problem


def is_otioz(data: bytes) -> bool:
    """Whether a file is a zip with a timeline in it."""
    return CONTENT_NAME in names_in(data)


def read_otioz(data: bytes) -> TimelineRead:
    """A timeline with its media in one zip. Raises Refusal in one sentence."""
    held = unzipped(data)
    if CONTENT_NAME not in held:
        raise Refusal("There is no timeline in this zip file.")
    return read_timeline(held[CONTENT_NAME], held.get)


def _own(thing: Any) -> dict[str, str]:
    """Our own words with a thing of the timeline."""
    found = thing.metadata.get(OWN)
    if not hasattr(found, "items"):
        return {}
    return {key: value for key, value in found.items() if isinstance(value, str)}


def _ours(timeline: Any, text: str, media: Media) -> TimelineRead:
    held = read_scene_file(text.encode())
    scene, material = held.scene, held.material()
    files, missing = {}, []
    for file, place in media_of(held).items():
        found = media(place)
        if found is None or hashlib.sha256(found).hexdigest() != file:
            missing.append(place)
        else:
            files[file] = found
    again = _Again(held, material)
    scene = again.scene(timeline).checked()
    packed = PackedScene(held.model_copy(update={"scene": scene}), files)
    return TimelineRead(packed, tuple(again.notes), tuple(missing))


# A lane's tracks by its id, in their order.
_Rows = dict[str, list[Any]]
L = TypeVar("L", Lane, SoundLane)


def _by_lane(tracks: Iterable[Any], key: str) -> _Rows:
    found: _Rows = {}
    for track in tracks:
        if (name := _own(track).get(key)) is not None:
            found.setdefault(name, []).append(track)
    return found


class _Again:
    """A scene with what was done to its timeline since it was written."""

    def __init__(self, held: SceneFile, material: Material) -> None:
        self.held = held
        self.material = material
        self.before = held.scene
        self.notes: list[str] = []

    def scene(self, timeline: Any) -> Scene:
        before = self.before
        tracks = tracks_of(timeline)
        rows = _by_lane(reversed(tracks), "lane")
        sound_rows = _by_lane(tracks, "sound_lane")
        as_written = tracks_of(timeline_of(self.held))
        lanes = self._kept(before.lanes, rows, _by_lane(reversed(as_written), "lane"))
        sound_lanes = self._kept(before.sound_lanes, sound_rows, _by_lane(as_written, "sound_lane"))
        for track in tracks:
            if not {"lane", "sound_lane"} & set(_own(track)) and len(track):
                self.notes.append(
                    f"The track “{track.name}” is no lane of the scene: it stays out."
                )
        update = {
            "name": (timeline.name or before.name)[:120],
            "lanes": tuple(self._lane(lane, rows[lane.id][0]) for lane in lanes),
            "sound_lanes": tuple(
                self._sound_lane(lane, sound_rows[lane.id]) for lane in sound_lanes
            ),
            "beats": self._beats(timeline),
        }
        scene = before.model_copy(update=update)
        # What went on beyond the scene's end before may go on there.
        reached = _last_frame(scene)
        if reached > max(scene.laid_frames, _last_frame(before)) + NEAR_FRAMES:
            scene = scene.with_laid_frames(math.ceil(reached - NEAR_FRAMES))
        return scene

    def _kept(self, lanes: tuple[L, ...], there: _Rows, as_written: _Rows) -> list[L]:
        """The lanes that are there: in the order of their tracks, where that is another one now."""
        kept = [lane for lane in lanes if lane.id in there]
        for lane in lanes:
            if lane.id not in there:
                self.notes.append(f"The lane “{lane.name}” is no longer in the timeline.")
        if list(there) == [name for name in as_written if name in there]:
            return kept
        order = {name: place for place, name in enumerate(there)}
        return sorted(kept, key=lambda lane: order[lane.id])

    def _lane(self, lane: Lane, track: Any) -> Lane:
        known = {
            piece.id: (piece, stint)
            for piece, stint in zip(
                pieces_of(lane, self.before, self.material), lane.stints, strict=True
            )
        }
        taken = [stint.id for other in self.before.lanes for stint in other.stints]
        stints: list[Stint] = []
        for got in _row(track, self.before.rate):
            name = _own(got.clip).get("stint")
            if name not in known:
                self._left_out(got.clip, lane.name)
                continue
            piece, stint = known[name]
            moved = self._stint(stint, piece, got)
            if any(other.id == moved.id for other in stints):
                # Cut in two there: both are what it was.
                moved = moved.model_copy(update={"id": free_id("stint", taken)})
                taken.append(moved.id)
            stints.append(moved)
        update = {"name": (track.name or lane.name)[:120], "muted": not track.enabled}
        if tuple(stints) != lane.stints:
            lane = ordered(lane.model_copy(update={"stints": ()}), tuple(stints), self.material)
        return lane.model_copy(update=update)

    def _stint(self, stint: Stint, piece: Piece, got: _Got) -> Stint:
        update: dict[str, Any] = {}
        if abs(got.start - piece.start) > NEAR_FRAMES:
            update["start"] = got.start
        length = got.end - got.start
        if abs(length - stint.length_frames) > NEAR_FRAMES:
            update["length_frames"] = length
        pace, was = _pace(got.clip), pace_of(stint.elastic, stint.length_frames)
        if pace is not None and (was is None or not math.isclose(pace, was, abs_tol=1e-9)):
            update["elastic"] = Elastic.at_pace(pace)
        ratio = conform(self.material.performances[stint.source], self.before)
        played = stint.model_copy(update=update)
        shift = got.source - source_at(played, ratio, got.first - got.start)
        if abs(shift) > NEAR_FRAMES:
            update["in_frame"] = stint.in_frame + shift * ratio
        if got.clip.name and got.clip.name != piece.name:
            update["name"] = got.clip.name[:120]
        return stint.model_copy(update=update)

    def _sound_lane(self, lane: SoundLane, tracks: list[Any]) -> SoundLane:
        rate = self.before.rate
        known = {laid.id: laid for laid in lane.sounds}
        sounds: list[LaidSound] = []
        for track in tracks:
            for got in _row(track, rate):
                laid = known.get(_own(got.clip).get("sound", ""))
                if laid is None:
                    self._left_out(got.clip, lane.name)
                    continue
                moved = self._sound(laid, got)
                if any(other.id == moved.id for other in sounds):
                    taken = [*known, *(other.id for other in sounds)]
                    moved = moved.model_copy(update={"id": free_id("sound", taken)})
                sounds.append(moved)
        update = {"name": (tracks[0].name or lane.name)[:120], "muted": not tracks[0].enabled}
        return lane.with_sounds(sounds).model_copy(update=update)

    def _sound(self, laid: LaidSound, got: _Got) -> LaidSound:
        fps = float(self.before.rate)
        piece = sound_piece(laid, self.before.rate, self.held)
        update: dict[str, Any] = {"muted": not got.clip.enabled}
        if abs(got.start - piece.start) > NEAR_FRAMES:
            update["start"] = got.start
        if abs(got.end - got.start - (piece.end - piece.start)) > NEAR_FRAMES:
            update["seconds"] = (got.end - got.start) / fps
        if abs(got.source - piece.source) > NEAR_FRAMES:
            update["in_seconds"] = max(0.0, got.source / fps)
        if got.clip.name and got.clip.name != piece.name:
            update["name"] = got.clip.name[:120]
        return laid.model_copy(update=update)

    def _beats(self, timeline: Any) -> tuple[Beat, ...]:
        known = {beat.id: beat for beat in self.before.beats}
        found: list[Beat] = []
        for marker in _markers(timeline):
            start, end = _frames(marker.marked_range, self.before.rate)
            beat = known.pop(_own(marker).get("beat", ""), None)
            if beat is None:
                taken = [*(one.id for one in self.before.beats), *(one.id for one in found)]
                found.append(_beat(free_id("beat", taken), marker.name, start, end))
                continue
            if abs(start - beat.start) > NEAR_FRAMES or abs(end - beat.end) > NEAR_FRAMES:
                moved = _beat(beat.id, beat.name, start, end)
                beat = beat.model_copy(update={"start": moved.start, "end": moved.end})
            found.append(beat.model_copy(update={"name": (marker.name or beat.name)[:120]}))
        return tuple(sorted(found, key=lambda beat: (beat.start, beat.end)))

    def _left_out(self, clip: Any, lane: str) -> None:
        self.notes.append(
            f"“{clip.name or 'A clip'}” on “{lane}” is none of the scene’s: it stays out."
        )


def _last_frame(scene: Scene) -> float:
    """Until when anything lies on its lanes of motion, or a beat goes on."""
    ends = [stint.end for lane in scene.lanes for stint in lane.stints]
    return max(ends + [beat.end for beat in scene.beats], default=0.0)


def _foreign(timeline: Any, media: Media) -> TimelineRead:
    """Shots and markers as beats, sounds as sounds."""
    rate = _rate_of(timeline)
    notes: list[str] = []
    beats: list[Beat] = []
    laid: list[tuple[str, LaidSound]] = []
    sounds: dict[str, Sound] = {}
    files: dict[str, bytes] = {}
    read_of = _SoundsBeside(media, notes)
    for track, clip, start, end, source in _placed(timeline, rate):
        if track.kind == otio.schema.TrackKind.Audio:
            sound = read_of(clip)
            if sound is None:
                continue
            read, data = sound
            sounds[read.file], files[read.file] = read, data
            one = _laid(f"sound-{len(laid) + 1}", read, clip, (start, end, source), rate)
            if one is not None:
                laid.append((track.name or "Sound", one))
        elif len(beats) < MOST_SHOTS:
            beats.append(_beat(f"beat-{len(beats) + 1}", _name(clip), start, end))
    for marker in _markers(timeline):
        start, end = _frames(marker.marked_range, rate)
        if len(beats) < MOST_SHOTS and start > -1:
            marked = _beat(f"beat-{len(beats) + 1}", marker.name, max(0.0, start), end)
            beats.append(marked.model_copy(update={"colour": COLOURS[0]}))
    if not beats and not laid:
        raise Refusal("There is no shot, no marker and no sound in this timeline.")
    ends = [beat.end for beat in beats] + [one.end(rate) for _, one in laid]
    length = max(1, math.ceil(max(ends) - NEAR_FRAMES))
    first = timeline.global_start_time
    scene = Scene(
        name=(timeline.name or "Timeline")[:120],
        rate=rate,
        laid_frames=length,
        played_frames=length,
        first_frame=0 if first is None else nearest_frame(_value(first, rate)),
        beats=tuple(sorted(beats, key=lambda beat: (beat.start, beat.end))),
        sound_lanes=_sound_lanes(laid),
    )
    held = SceneFile(scene=scene, figures={}, clips={}, sounds=sounds)
    return TimelineRead(PackedScene(held, files), tuple(notes))


def _sound_lanes(laid: list[tuple[str, LaidSound]]) -> tuple[SoundLane, ...]:
    """A lane for each track that has sounds."""
    by_name: dict[str, list[LaidSound]] = {}
    for name, one in laid:
        by_name.setdefault(name[:120], []).append(one)
    return tuple(
        SoundLane(id=f"sounds-{place}", name=name).with_sounds(sounds)
        for place, (name, sounds) in enumerate(by_name.items(), start=1)
    )


class _SoundsBeside:
    """What clips play, where that is a sound beside the timeline: each is read once, what is none is told."""

    def __init__(self, media: Media, notes: list[str]) -> None:
        self._media, self._notes = media, notes
        self._known: dict[str, tuple[Sound, bytes] | None] = {}

    def __call__(self, clip: Any) -> tuple[Sound, bytes] | None:
        place = getattr(clip.media_reference, "target_url", None) or ""
        if not place or place not in self._known:
            self._known[place] = self._read(clip, place)
        return self._known[place]

    def _read(self, clip: Any, place: str) -> tuple[Sound, bytes] | None:
        data = self._media(place) if place else None
        if data is None:
            where = f" ({place})" if place else ""
            self._notes.append(f"The sound of “{_name(clip)}” is not beside the timeline{where}.")
            return None
        name = PurePosixPath(unquote(urlsplit(place).path)).name or "Sound"
        try:
            read = read_sound(data, name)
        except Refusal as refusal:
            self._notes.append(f"“{_name(clip)}”: {refusal}")
            return None
        sound = Sound(
            name=name_of_sound(name),
            file=hashlib.sha256(data).hexdigest(),
            form=read.form,
            rate_hz=read.rate_hz,
            channels=read.channels,
            samples=len(read.samples),
        )
        return sound, data


def _laid(
    name: str, sound: Sound, clip: Any, placed: tuple[float, float, float], rate: Fraction
) -> LaidSound | None:
    """A sound where its clip lies, as far as it goes; in a file whose own time begins later, from there."""
    start, end, source = placed
    fps = float(rate)
    available = getattr(clip.media_reference, "available_range", None)
    begins = 0.0 if available is None else _value(available.start_time, rate)
    in_seconds = max(0.0, (source - begins) / fps)
    seconds = min((end - start) / fps, sound.seconds - in_seconds)
    if seconds < LEAST_SECONDS:
        return None
    return LaidSound(
        id=name, sound=sound.file, start=start, in_seconds=in_seconds, seconds=seconds,
        muted=not clip.enabled, name=clip.name[:120] or None,
    )  # fmt: skip


def _placed(timeline: Any, rate: Fraction) -> Iterator[tuple[Any, Any, float, float, float]]:
    """Every clip with its track, where it lies on the whole timeline, and from where on its source shows."""
    stack = timeline.tracks
    for track in tracks_of(timeline):
        for clip in track:
            if not isinstance(clip, otio.schema.Clip):
                continue
            trimmed = clip.trimmed_range()
            whole = clip.transformed_time_range(trimmed, stack)
            start, end = _frames(whole, rate)
            if end > LONGEST_SCENE_FRAMES:
                raise Refusal(f"A scene has {LONGEST_SCENE_FRAMES:,} frames at the most.")
            yield track, clip, max(0.0, start), end, _value(trimmed.start_time, rate)


def _row(track: Any, rate: Fraction) -> Iterator[_Got]:
    """A track's clips, with what transitions add to either side."""
    items = list(track)
    reached = 0.0
    for place, item in enumerate(items):
        if isinstance(item, otio.schema.Transition):
            continue
        length = _value(item.duration(), rate)
        if isinstance(item, otio.schema.Clip):
            start = reached - sum(_value(join.in_offset, rate) for join in _joins(items, place - 1))
            joined = sum(_value(join.out_offset, rate) for join in _joins(items, place + 1))
            end = reached + length + joined
            source = _value(item.trimmed_range().start_time, rate)
            yield _Got(item, start, end, reached, source)
        reached += length


def _joins(items: list[Any], place: int) -> list[Any]:
    """The transition at a place, where there is one."""
    there = items[place : place + 1] if place >= 0 else []
    return [item for item in there if isinstance(item, otio.schema.Transition)]


def _pace(clip: Any) -> float | None:
    """The pace that a clip plays at, where it has one."""
    for effect in clip.effects:
        if isinstance(effect, otio.schema.LinearTimeWarp):
            return float(effect.time_scalar)
        if _own_elastic(effect):
            return None
    return 1.0


def _own_elastic(effect: Any) -> bool:
    return isinstance(effect, otio.schema.TimeEffect) and effect.effect_name == "Elastic"


def _markers(timeline: Any) -> Iterator[Any]:
    yield from timeline.tracks.markers
    for stack in timeline.tracks.find_children(descended_from_type=otio.schema.Stack):
        yield from stack.markers


def _beat(name: str, says: str, start: float, end: float) -> Beat:
    """A beat on whole frames, one long at the least."""
    first = max(0, nearest_frame(start))
    return Beat(
        id=name,
        name=(says or name.replace("-", " ").capitalize())[:120],
        start=float(first),
        end=float(max(first + 1, nearest_frame(end))),
    )


def _name(clip: Any) -> str:
    return str(clip.name or getattr(clip.media_reference, "name", "") or "A clip")


def _rate_of(timeline: Any) -> Fraction:
    """The rate that a timeline counts by: its start's, or that of the first clip that has one."""
    if timeline.global_start_time is not None:
        return _rate(timeline.global_start_time.rate)
    for clip in timeline.find_clips():
        return _rate(clip.trimmed_range().duration.rate)
    for marker in _markers(timeline):
        return _rate(marker.marked_range.start_time.rate)
    return Fraction(24)


def _rate(told: float) -> Fraction:
    """Sounds may be counted in samples: their rate is no rate of frames."""
    if told >= HOUSE_RATE / 6:
        return Fraction(24)
    return parse_rate(f"{told:.6f}")


def _value(moment: Any, rate: Fraction) -> float:
    frames = float(moment.rescaled_to(float(rate)).value)
    if not math.isfinite(frames):
        raise Refusal("A moment in this timeline is no number.")
    return frames


def _frames(span: Any, rate: Fraction) -> tuple[float, float]:
    start = _value(span.start_time, rate)
    return start, start + _value(span.duration, rate)
