"""Scenes as timelines of other tools, and timelines as scenes."""

import io
import json
import zipfile
from fractions import Fraction
from pathlib import Path
from random import Random
from typing import Any

import numpy as np
import opentimelineio as otio
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.formats import scene_file as files
from elastic_core.formats.scene_zip import read_packed_scene, write_scene_zip
from elastic_core.formats.timeline import media_of, timeline_of, write_otioz, write_timeline
from elastic_core.formats.timeline_in import TimelineRead, is_otioz, read_otioz, read_timeline
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit

from .reels import shots
from .sounds import bursts, file_of
from .test_command_line import hours
from .test_every_edit import KINDS, MATERIAL, START, A, B, edits, outcome
from .test_scene_zip import BELL, SOUND, packed


def held(scene: Scene = START) -> files.SceneFile:
    return files.scene_file(scene, MATERIAL)


def nothing(place: str) -> bytes | None:
    return None


def again(timeline: Any) -> TimelineRead:
    """A timeline as another tool would write it, read."""
    return read_timeline(timeline.to_json_string().encode(), nothing)


def tracks(timeline: Any) -> dict[str, Any]:
    return {track.name: track for track in timeline.tracks}


def clips(track: Any) -> list[Any]:
    return [item for item in track if isinstance(item, otio.schema.Clip)]


def frames_of(clip: Any) -> tuple[float, float]:
    """Where a clip lies on its track, by the library's own reckoning."""
    span = clip.trimmed_range_in_parent()
    return span.start_time.value, span.end_time_exclusive().value


@settings(max_examples=60)
@given(st.lists(st.sampled_from(sorted(KINDS)).flatmap(edits), max_size=10))
def test_any_scene_comes_back_equal(run: list[SceneEdit]) -> None:
    scene = START
    for edit in run:
        edited, _ = outcome(scene, edit)
        scene = edited.scene if edited else scene
    whole = held(scene)
    read = read_timeline(write_timeline(whole).encode(), nothing)
    assert read.packed.scene == whole
    assert read.notes == ()
    # What the timeline shows to others is what is played.
    for track in timeline_of(whole).tracks.find_children(descended_from_type=otio.schema.Track):
        for clip in clips(track):
            start, end = frames_of(clip)
            assert end - start == pytest.approx(clip.duration().value)
            assert end > start >= 0


def test_a_joined_pair_is_two_clips_and_a_transition() -> None:
    timeline = timeline_of(held())
    assert timeline.global_start_time == otio.opentime.RationalTime(1, 24)
    (track,) = timeline.tracks
    before, join, after = track
    # A plays over 0 to 50 and B over 40 to 70: the join is cut in its middle.
    assert (frames_of(before), frames_of(after)) == ((0, 45), (45, 70))
    assert (join.in_offset.value, join.out_offset.value) == (5, 5)
    assert after.source_range.start_time.value == 5
    assert after.media_reference.available_range.duration.value == 30
    # A cycle goes on for ever.
    assert before.media_reference.available_range is None
    (marker,) = timeline.tracks.markers
    assert (marker.name, marker.marked_range.duration.value) == ("Stands", 20)


@pytest.mark.parametrize(
    ("elastic", "pace"),
    [
        (Elastic(), None),
        (Elastic.at_pace(0.5), 0.5),
        (Elastic(pins=(Pin(played=0, source=20), Pin(played=20, source=0))), -1.0),
        (Elastic(pins=(Pin(played=0, source=7, span="held"),), before="hold"), 0.0),
    ],
)
def test_paces_are_told_as_others_know_them(elastic: Elastic, pace: float | None) -> None:
    lane = START.lanes[0]
    bent = A.model_copy(update={"elastic": elastic})
    scene = START.model_copy(update={"lanes": (lane.model_copy(update={"stints": (bent,)}),)})
    (clip,) = timeline_of(held(scene)).tracks[0]
    if pace is None:
        assert len(clip.effects) == 0
    else:
        (effect,) = clip.effects
        assert isinstance(effect, otio.schema.LinearTimeWarp)
        assert isinstance(effect, otio.schema.FreezeFrame) == (pace == 0)
        assert effect.time_scalar == pytest.approx(pace)
    assert again(timeline_of(held(scene))).packed.scene.scene == scene


def test_an_elastic_that_the_form_cannot_say_is_named_and_kept() -> None:
    pins = (
        Pin(played=0, source=0, span="eased"),
        Pin(played=20, source=30),
        Pin(played=50, source=35),
    )
    scene = START.model_copy(update={"elastic": Elastic(pins=pins)})
    timeline = timeline_of(held(scene))
    # The scene's own time bends what goes by it.
    (laid,) = timeline.tracks
    assert (laid.name, laid.effects[0].effect_name) == ("The scene’s time", "Elastic")
    assert again(timeline).packed.scene.scene == scene


def test_what_was_moved_trimmed_and_retimed_elsewhere_is_moved_here() -> None:
    timeline = timeline_of(held())
    (track,) = timeline.tracks
    before, _, after = track
    second = otio.opentime.RationalTime(24, 24)
    track.insert(0, otio.schema.Gap(duration=second))
    before.effects.append(otio.schema.LinearTimeWarp(time_scalar=0.5))
    span = after.source_range
    after.source_range = otio.opentime.TimeRange(
        span.start_time + otio.opentime.RationalTime(2, 24),
        span.duration - otio.opentime.RationalTime(4, 24),
    )
    after.name = "Stretch"
    timeline.tracks.markers[0].marked_range = otio.opentime.TimeRange(second, second)
    read = again(timeline)
    first, then = read.packed.scene.scene.lanes[0].stints
    assert (first.start, first.length_frames, first.elastic) == (24, 50, Elastic.at_pace(0.5))
    assert (then.start, then.end, then.in_frame, then.name) == (64, 90, B.in_frame + 2, "Stretch")
    assert [(b.name, b.start, b.end) for b in read.packed.scene.scene.beats] == [("Stands", 24, 48)]
    assert read.notes == ()


def test_a_clip_cut_in_two_elsewhere_is_two_stints_that_play_on() -> None:
    lane = START.lanes[0].model_copy(update={"stints": (A,)})
    timeline = timeline_of(held(START.model_copy(update={"lanes": (lane,)})))
    (track,) = timeline.tracks
    (whole,) = track
    late = whole.deepcopy()
    for clip, start, length in ((whole, 0, 20), (late, 20, 30)):
        clip.source_range = otio.opentime.TimeRange(
            otio.opentime.RationalTime(start, 24), otio.opentime.RationalTime(length, 24)
        )
    track.append(late)
    first, then = again(timeline).packed.scene.scene.lanes[0].stints
    assert (first.id, first.start, first.length_frames, first.in_frame) == (A.id, 0, 20, 0)
    assert (then.start, then.length_frames, then.in_frame) == (20, 30, 20)
    assert then.id not in (A.id, B.id)


def test_what_was_taken_out_or_put_in_elsewhere_is_told() -> None:
    timeline = timeline_of(held())
    (track,) = timeline.tracks
    del track[2], track[1]
    track.append(otio.schema.Clip("Storm", source_range=track[0].source_range))
    timeline.tracks.markers.clear()
    timeline.tracks.append(otio.schema.Track("Titles", children=[track[0].deepcopy()]))
    read = again(timeline)
    scene = read.packed.scene.scene
    assert [stint.id for stint in scene.lanes[0].stints] == [A.id]
    assert scene.beats == ()
    assert read.notes == (
        "The track “Titles” is no lane of the scene: it stays out.",
        "“Storm” on “Body” is none of the scene’s: it stays out.",
    )
    del timeline.tracks[0]
    gone = again(timeline)
    assert gone.packed.scene.scene.lanes == ()
    assert gone.notes[0] == "The lane “Body” is no longer in the timeline."


def test_sounds_go_along_and_are_found_again() -> None:
    whole = packed()
    data = write_otioz(whole)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.namelist() == ["content.otio", "version.txt", f"media/{SOUND.file}.flac"]
        assert archive.read(f"media/{SOUND.file}.flac") == BELL
        text = archive.read("content.otio")
    read = read_otioz(data)
    assert read.whole() == whole
    timeline = otio.core.deserialize_json_from_string(text.decode())
    (clip,) = timeline.audio_tracks()[0].find_clips()
    assert clip.media_reference.target_url == f"media/{SOUND.file}.flac"
    assert clip.media_reference.available_range.duration.value == pytest.approx(24)
    # It lies at 12.25 and plays from a quarter of a second on.
    assert frames_of(clip) == pytest.approx((12.25, 30.25))
    assert clip.source_range.start_time.value == pytest.approx(6)
    bare = read_timeline(text, nothing)
    assert bare.packed.scene == whole.scene
    with pytest.raises(Refusal, match="is not beside the timeline: keep its folder with it"):
        bare.whole()


def test_a_sound_moved_elsewhere_is_moved_here() -> None:
    timeline = timeline_of(packed().scene)
    (track,) = timeline.audio_tracks()
    gap, clip = track
    gap.source_range = otio.opentime.TimeRange(duration=otio.opentime.RationalTime(48, 24))
    clip.enabled = False
    (laid,) = again(timeline).packed.scene.scene.sound_lanes[0].sounds
    assert (laid.start, laid.seconds, laid.in_seconds, laid.muted) == (48, 0.75, 0.25, True)


def test_shots_from_elsewhere_are_beats_and_sounds() -> None:
    wav = file_of(bursts(2.0), "WAV")
    text = shots().to_json_string().encode()
    read = read_timeline(text, {"bell%201.wav": wav}.get)
    scene = read.packed.scene.scene
    assert (scene.name, scene.rate, scene.laid_frames) == ("Reel 2", Fraction(25), 100)
    assert scene.first_frame == 90_000
    assert [(beat.name, beat.start, beat.end) for beat in scene.beats] == [
        ("Quay", 0, 50),
        ("Cue", 12, 13),
        ("Lamp", 60, 93),
        ("Sea", 93, 100),
    ]
    ((laid,),) = [lane.sounds for lane in scene.sound_lanes]
    # Its file's own time begins at 1,000: it plays from its frame 10 on.
    assert (laid.start, laid.in_seconds, laid.seconds) == (60, 0.4, 1.2)
    assert list(read.whole().files.values()) == [wav]
    assert read.notes == (
        "The sound of “Wind” is not beside the timeline (https://example.org/wind.wav).",
    )
    # It is a scene like any other: it goes out, and comes in as it was.
    assert read_otioz(write_otioz(read.packed)).whole() == read.packed


def test_counted_in_broadcast_rates_and_samples() -> None:
    shot = otio.schema.Clip("One")
    shot.source_range = otio.opentime.TimeRange(duration=otio.opentime.RationalTime(48, 23.976))
    reel = otio.schema.Timeline("Reel")
    reel.tracks.append(otio.schema.Track("V1", children=[shot]))
    scene = again(reel).packed.scene.scene
    assert (scene.rate, scene.laid_frames) == (Fraction(24_000, 1001), 48)
    shot.source_range = otio.opentime.TimeRange(duration=otio.opentime.RationalTime(96_000, 48_000))
    assert again(reel).packed.scene.scene.laid_frames == 48


def lying() -> dict[str, bytes]:
    own = write_timeline(held())
    clip = otio.schema.Clip("One")
    alone = otio.schema.Timeline("Reel")
    alone.tracks.append(otio.schema.Track("V1", children=[clip]))
    endless = otio.schema.Timeline("Reel")
    long = otio.opentime.TimeRange(duration=otio.opentime.RationalTime(1e9, 24))
    shot = otio.schema.Clip("Sea", source_range=long)
    endless.tracks.append(otio.schema.Track("V1", children=[shot]))
    return {
        "nothing": b"",
        "no JSON": b"BVH",
        "cut off": own[:4000].encode(),
        "deep": b"[" * 100_000 + b"]" * 100_000,
        "a list": b"[1, 2]",
        "another thing": b'{"a": 1}',
        "no timeline": clip.to_json_string().encode(),
        "no length": alone.to_json_string().encode(),
        "empty": otio.schema.Timeline("Reel").to_json_string().encode(),
        "endless": endless.to_json_string().encode(),
        "an unknown schema": own.replace("Track.1", "Truck.1").encode(),
        "a scene file that lies": own.replace("elastic-hours-scene", "elastic-hours-sea").encode(),
        "a rate of 0": alone.to_json_string().replace("null", "{}").encode(),
    }


@pytest.mark.parametrize("name", lying())
def test_what_is_no_timeline_is_refused_in_a_sentence(name: str) -> None:
    with pytest.raises(Refusal, match=r"^[A-Z].*\.$"):
        read_timeline(lying()[name], nothing)


BROKEN: tuple[Any, ...] = (
    None, 0, -1, 1e308, "", "x", [], {}, True, {"OTIO_SCHEMA": "Gap.1"}, [{"OTIO_SCHEMA": "Stack.1"}],
    {"OTIO_SCHEMA": "RationalTime.1", "rate": 0, "value": 1},
    {"OTIO_SCHEMA": "RationalTime.1", "rate": -24, "value": 1e300},
)  # fmt: skip


def places_in(tree: Any, way: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """The way to everything in a JSON tree."""
    below = tree.items() if isinstance(tree, dict) else enumerate(tree)
    inner = [
        place
        for key, value in below
        for place in (
            places_in(value, (*way, key)) if isinstance(value, dict | list) else [(*way, key)]
        )
    ]
    return [way, *inner] if way else inner


@settings(max_examples=200)
@given(st.randoms(use_true_random=False))
def test_a_timeline_that_was_written_wrongly_is_read_or_refused(chance: Random) -> None:
    known = [write_timeline(held()), write_timeline(packed().scene), shots().to_json_string()]
    tree = json.loads(chance.choice(known))
    *way, last = chance.choice(places_in(tree))
    inner = tree
    for key in way:
        inner = inner[key]
    inner[last] = chance.choice(BROKEN)
    scene, said = None, ""
    try:
        scene = read_timeline(json.dumps(tree).encode(), nothing).packed.scene.scene
    except Refusal as refusal:
        said = str(refusal)
    assert said.endswith(".") if scene is None else scene.checked().laid_frames > 0


def test_a_zip_that_holds_none_is_refused() -> None:
    assert is_otioz(write_otioz(packed()))
    for data in (b"PK\x03\x04 no zip", write_scene_zip(packed())):
        assert not is_otioz(data)
        with pytest.raises(Refusal, match=r"^(This zip file is broken|There is no timeline)"):
            read_otioz(data)


def test_hours_timeline_goes_both_ways(tmp_path: Path) -> None:
    scene = tmp_path / "scene.zip"
    scene.write_bytes(write_scene_zip(packed()))
    for name in ("dusk.otio", "dusk.otioz"):
        out, back = tmp_path / name, tmp_path / f"{name}.scene.zip"
        assert hours("timeline", scene, out).returncode == 0
        assert hours("timeline", out, back).stderr == ""
        assert read_packed_scene(back.read_bytes()) == packed()
    (place,) = media_of(packed().scene).values()
    assert (tmp_path / place).read_bytes() == BELL
    alone = hours("timeline", tmp_path / "dusk.otio", tmp_path / "back.scene.json")
    assert (alone.returncode, alone.stderr) == (
        0,
        "warning: Its sounds and pictures go into FILE.scene.zip.\n",
    )
    text = (tmp_path / "back.scene.json").read_bytes()
    assert files.read_scene_file(text) == packed().scene
    (tmp_path / place).unlink()
    lacking = hours("timeline", tmp_path / "dusk.otio", tmp_path / "lacking.scene.zip")
    assert lacking.returncode == 1
    assert "is not beside the timeline" in lacking.stderr
    assert not (tmp_path / "lacking.scene.zip").exists()
    assert hours("timeline", scene, tmp_path / "dusk.edl").stderr == (
        "A timeline is FILE.otio or FILE.otioz.\n"
    )


def test_a_rounded_moment_was_not_moved() -> None:
    """Other tools write fewer digits: what they did not touch stays number for number."""
    start = A.model_copy(update={"start": 0.1 + 0.2, "length_frames": 49 + 1 / 3})
    lane = START.lanes[0].model_copy(update={"stints": (start, B)})
    scene = START.model_copy(update={"lanes": (lane,)})
    timeline = timeline_of(held(scene))
    for item in timeline.tracks[0]:
        if span := getattr(item, "source_range", None):
            rounded = [round(one.value, 5) for one in (span.start_time, span.duration)]
            item.source_range = otio.opentime.TimeRange(
                *(otio.opentime.RationalTime(value, 24) for value in rounded)
            )
    assert again(timeline).packed.scene.scene == scene
    assert np.isfinite(scene.lanes[0].stints[0].start)
