"""Blinks and accents of a line, and what of them goes into a scene."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.errors import Refusal
from elastic_core.scene.cast import LineSource
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.sounds import MoveSound
from elastic_core.scene.edits.voices import MarkAccents
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.material import Material
from elastic_core.voice.accents import APART_SECONDS, accents_of
from elastic_core.voice.blinks import Blink, eyes, proposed, usual_length
from elastic_core.voice.chart import Mouth, MouthChart, usual_mouths
from elastic_core.voice.exposing import frames_of_line
from elastic_core.voice.line import Line, run_of
from elastic_core.voice.line_edits import ProposeBlinks, SetBlink, edit_line
from elastic_core.voice.playing import LinePlayed
from elastic_core.voice.reading import Reading, SpokenPhone, SpokenWord, pauses_between

from .test_spoken_lanes import LAY, LINE, MATERIAL, SCENE, at_half
from .voices import readings

EYES = MouthChart(
    name="Keeper's eyes",
    figure="keeper",
    part="eyes",
    mouths=tuple(
        Mouth(key=key, drawing=number, name=key)
        for number, key in enumerate(("open", "half", "closed"), start=1)
    ),
)


def word(text: str, *phones: tuple[str, float, float, bool, float]) -> SpokenWord:
    spoken = tuple(
        SpokenPhone(phone=p, start=start, end=end, stressed=stressed, loudness_db=level)
        for p, start, end, stressed, level in phones
    )
    return SpokenWord(word=text, start=phones[0][1], end=phones[-1][2], phones=spoken)


READING = Reading(
    seconds=2.0,
    words=(
        word("Mind", ("M", 0.2, 0.25, False, -6), ("AY", 0.25, 0.5, True, 4)),
        word("the", ("DH", 0.5, 0.55, False, -8), ("AH", 0.55, 0.6, True, -9)),
        word("rope,", ("R", 0.6, 0.65, False, 0), ("OW", 0.65, 0.9, True, 2)),
        word("lad!", ("L", 1.0, 1.05, False, 0), ("AE", 1.05, 1.3, True, 3)),
    ),
)


def test_accents_are_the_stressed_and_loud_syllables() -> None:
    assert [(accent.word, accent.seconds) for accent in accents_of(READING)] == [
        ("Mind", 0.25),
        ("rope,", 0.65),
        ("lad!", 1.05),
    ]
    near = READING.model_copy(
        update={"words": (word("a", ("EY", 0.1, 0.2, True, 1)), *READING.words)}
    )
    # Of two so near to each other the louder one is hit.
    assert [accent.word for accent in accents_of(near)] == ["Mind", "rope,", "lad!"]


@given(readings(most=60))
def test_accents_lie_apart_on_stressed_vowels(reading: Reading) -> None:
    found = accents_of(reading)
    stressed = {phone.start for phone in reading.phones if phone.stressed}
    assert all(accent.seconds in stressed for accent in found)
    for before, after in zip(found, found[1:], strict=False):
        assert after.seconds - before.seconds >= APART_SECONDS


@given(readings(most=60), st.integers(0, 9_999), st.sampled_from([12.0, 24.0, 30.0]))
def test_blinks_cover_no_accent_and_are_never_long_away(
    reading: Reading, seed: int, fps: float
) -> None:
    spoken = reading.phones
    told = reading.model_copy(update={"pauses": pauses_between(spoken, reading.seconds)})
    frames = math.ceil(told.seconds * fps)
    found = proposed(told, frames, fps, seed)
    assert proposed(told, frames, fps, seed) == found
    hit = {math.floor(accent.seconds * fps) for accent in accents_of(told)}
    for blink in found:
        assert blink.frame >= 0
        assert blink.end <= frames
        assert not hit & set(range(blink.frame, blink.end))
    edges = [0, *(blink.frame for blink in found), frames]
    longest = max(after - before for before, after in zip(edges, edges[1:], strict=False))
    assert longest <= 6 * fps + usual_length(fps) + 1
    assert all(b.frame >= a.end for a, b in zip(found, found[1:], strict=False))


def test_another_seed_gives_other_blinks_and_phrases_end_in_one() -> None:
    pauses = pauses_between([phone for w in READING.words for phone in w.phones], 30.0)
    long = READING.model_copy(update={"seconds": 30.0, "pauses": pauses})
    by_seed = {proposed(long, 720, 24.0, seed) for seed in range(8)}
    assert len(by_seed) == 8
    # He stops speaking at 1.3 s, and blinks within three frames of that.
    assert all(any(31 <= blink.frame <= 34 for blink in blinks) for blinks in by_seed)


def test_a_blink_is_half_closed_on_its_edges() -> None:
    shown = [one.mouth for one in eyes([Blink(frame=2, length=4)], 8) for _ in range(one.length)]
    assert shown == ["open", "open", "half", "closed", "closed", "half", "open", "open"]
    cut = [one.mouth for one in eyes([Blink(frame=6, length=4)], 8) for _ in range(one.length)]
    assert cut[6:] == ["half", "closed"]


def test_blinks_by_hand_are_set_and_lifted() -> None:
    chart = usual_mouths()
    line = Line(name="Rope", sound="voice", reading=READING)

    def after(line: Line, edit: ProposeBlinks | SetBlink) -> Line:
        return edit_line(line, edit, run_of(line, chart, 2.0)).line

    by_hand = after(line, SetBlink(frame=10))
    assert by_hand.blinks == (Blink(frame=10, length=4),)
    # Another one over it takes its place.
    assert after(by_hand, SetBlink(frame=12)).blinks == (Blink(frame=12, length=4),)
    assert after(by_hand, SetBlink(frame=13, blinks=False)).blinks == ()
    with pytest.raises(Refusal, match="eyes are open there"):
        after(by_hand, SetBlink(frame=14, blinks=False))
    with pytest.raises(Refusal, match="too short for a blink"):
        after(by_hand, ProposeBlinks(seed=7))
    long = by_hand.model_copy(update={"reading": READING.model_copy(update={"seconds": 20.0})})
    proposal = after(long, ProposeBlinks(seed=7))
    assert (proposal.blink_seed, len(proposal.blinks) > 0) == (7, True)
    with pytest.raises(Refusal, match="has not been read"):
        after(line.model_copy(update={"reading": None}), ProposeBlinks(seed=1))


BLINKS = LINE.model_copy(update={"blinks": (Blink(frame=8), Blink(frame=30))})
RUN = run_of(BLINKS, usual_mouths(), 2.0)
THERE = Material(
    MATERIAL.figures,
    {
        **MATERIAL.performances,
        LineSource(id="line"): LinePlayed(BLINKS, RUN, "keeper"),
        LineSource(id="line", part="eyes"): LinePlayed(BLINKS, RUN, "keeper", part="eyes"),
    },
    MATERIAL.sounds,
    {**MATERIAL.charts, "eyes": EYES},
)
BOTH = LAY.model_copy(update={"eyes_chart": "eyes"})


def test_eyes_are_laid_beside_the_mouth_and_move_with_the_sound() -> None:
    scene = apply_edit(SCENE, BOTH, THERE).scene
    parts = [lane.target.part for lane in scene.lanes if lane.target.kind == "part"]
    assert sorted(parts) == ["eyes", "mouth"]
    moved = apply_edit(scene, MoveSound(laid="a", start=50), THERE).scene
    for staged, start in ((scene, 24), (moved, 50)):
        frames = np.arange(staged.played_frames, dtype=np.float64)
        shown = frames_of(staged, THERE, frames)[0].drawings["eyes"]
        assert list(shown[start + 7 : start + 13]) == [1, 2, 3, 3, 2, 1]
        assert list(shown[start + 29 : start + 35]) == [1, 2, 3, 3, 2, 1]
    # Under an elastic of the scene there is never another drawing between two.
    slow = at_half(scene)
    frames = np.arange(slow.played_frames, dtype=np.float64)
    assert set(frames_of(slow, THERE, frames)[0].drawings["eyes"]) == {1, 2, 3}


def test_accents_are_marked_as_beats_and_marked_anew() -> None:
    spoken = BLINKS.model_copy(update={"reading": READING})
    played = LinePlayed(spoken, run_of(spoken, usual_mouths(), 2.0), "keeper")
    eyes_too = replace(played, part="eyes")
    sources = {LineSource(id="line"): played, LineSource(id="line", part="eyes"): eyes_too}
    there = replace(THERE, performances={**THERE.performances, **sources})
    scene = apply_edit(SCENE, LAY, there).scene
    marked = apply_edit(scene, MarkAccents(laid="a"), there)
    assert marked.label == "Mark 3 accents"
    assert [(beat.name, beat.start, beat.end) for beat in marked.scene.beats] == [
        ("Mind", 30, 31),
        ("rope", 39, 40),
        ("lad", 49, 50),
    ]
    moved = apply_edit(marked.scene, MoveSound(laid="a", start=30), there).scene
    again = apply_edit(moved, MarkAccents(laid="a"), there).scene
    assert [beat.start for beat in again.beats] == [36, 45, 55]
    # The sound keeps its own time: at half the pace a beat stands where the picture is when it is heard.
    slow = apply_edit(at_half(scene), MarkAccents(laid="a"), there).scene
    assert [beat.start for beat in slow.beats] == [15, 20, 25]
    with pytest.raises(Refusal, match="no longer in the scene"):
        apply_edit(scene, MarkAccents(laid="z"), there)


def test_a_line_without_blinks_keeps_its_eyes_open() -> None:
    frames = frames_of_line(READING, LINE.rate)
    (only,) = eyes((), frames)
    assert (only.mouth, only.length) == ("open", frames)
