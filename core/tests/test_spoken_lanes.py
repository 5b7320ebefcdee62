"""A line's mouths on a figure of a scene: in step with their sound, under every elastic (rules 1.9, 7.2 and
7.3)."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.arrays import Index, real
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.formats.scene_file import read_scene_file, scene_file
from elastic_core.scene.cast import LineSource
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.base import Edited
from elastic_core.scene.edits.elastics import SlowRange
from elastic_core.scene.edits.exposures import Expose
from elastic_core.scene.edits.sounds import (
    LaySound,
    MoveSound,
    RemoveSound,
    SetSoundLane,
    TrimSound,
)
from elastic_core.scene.edits.stints import MoveStint
from elastic_core.scene.edits.voices import FreeFromSound, LayLine
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.material import Material
from elastic_core.voice.chart import MouthChart, usual_mouths
from elastic_core.voice.exposing import MouthRules
from elastic_core.voice.line import Line, run_of
from elastic_core.voice.playing import LinePlayed

from .motions import material, once_clip, scene_of, turning_cycle
from .sounds import bursts, document_of
from .voices import reading_of

SOUND = document_of(bursts(2.0))
PHONES = [
    ("TH", 0.2, 0.3), ("IY", 0.3, 0.5), ("L", 0.5, 0.6), ("AE", 0.6, 0.8), ("M", 0.8, 0.9), ("P", 0.9, 1.0),
    ("S", 1.0, 1.2),
]  # fmt: skip
LINE = Line(
    name="Three lamps",
    sound="voice",
    text="Three lamps",
    chart="mouths",
    rules=MouthRules(on=2),
    reading=reading_of(PHONES, 2.0),
    read_text="Three lamps",
)
CHART = MouthChart(name="Keeper", figure="keeper", mouths=usual_mouths().mouths)
RUN = run_of(LINE, CHART, 2.0)
CLIPS = material(turning_cycle(length=20), once_clip(100))
MATERIAL = Material(
    CLIPS.figures,
    {**CLIPS.performances, LineSource(id="line"): LinePlayed(LINE, RUN, "keeper")},
    {"voice": SOUND},
    {"mouths": CHART},
)
SCENE = scene_of([], length=240)
LAY = LayLine(
    line="line", sound="voice", laid="a", sound_lane="voices", start=24, figure="k", stint="says",
    chart="mouths",
)  # fmt: skip


def edited(scene: Scene, *edits: SceneEdit) -> Edited:
    done = Edited(scene, "")
    for edit in edits:
        done = apply_edit(done.scene, edit, MATERIAL)
    return done


def mouths(scene: Scene) -> Index:
    frames = np.arange(scene.played_frames, dtype=np.float64)
    (shown,) = frames_of(scene, MATERIAL, frames)
    return shown.drawings["mouth"]


def drawn(line_frame: float) -> int:
    """The drawing that the line shows at a moment of its own."""
    return RUN.at(int(np.floor(line_frame + 1e-6))).drawing


def at_half(scene: Scene) -> Scene:
    """The scene at half its pace, from its first frame to its last."""
    elastic = Elastic(pins=(Pin(played=0, source=0), Pin(played=480, source=240)))
    return scene.model_copy(update={"elastic": elastic, "played_frames": 480})


LAID = edited(SCENE, LAY).scene


def test_a_line_is_laid_with_its_mouths_in_step() -> None:
    done = edited(SCENE, LAY)
    (lane,) = [lane for lane in done.scene.lanes if lane.target.kind == "part"]
    (stint,) = lane.stints
    assert (stint.start, stint.length_frames, stint.with_sound) == (24, 48, "a")
    assert done.scene.sound_lanes[0].sounds[0].start == 24
    assert lane.charts == ("mouths",)
    shown = mouths(done.scene)
    assert [int(shown[k]) for k in range(24, 72)] == [drawn(k) for k in range(48)]
    # Before and after the line the lane holds its first and its last mouth: both rest.
    assert set(shown[:24]) == set(shown[72:]) == {1}


def test_mouths_are_on_ones_of_their_own_while_the_figure_is_on_twos() -> None:
    on_threes = edited(LAID, Expose(pattern=(3,))).scene
    assert list(mouths(on_threes)) == list(mouths(LAID))


def test_half_the_pace_with_a_following_sound_holds_every_mouth_twice_as_long() -> None:
    follows = edited(LAID, SetSoundLane(lane="voices", keeps_own_time=False)).scene
    assert [lane.keeps_own_time for lane in follows.lanes if lane.target.kind == "part"] == [False]
    half = at_half(follows)
    shown = mouths(half)
    # Laid frame 24 plays at 48, and half of a line's frame goes by on each.
    expected = [drawn(np.clip(k / 2 - 24, 0, 47)) for k in range(half.played_frames)]
    assert [int(drawing) for drawing in shown] == expected


def test_a_sound_that_stays_keeps_its_mouths_in_its_own_time() -> None:
    half = at_half(LAID)
    shown = mouths(half)
    assert [int(shown[k]) for k in range(24, 72)] == [drawn(k) for k in range(48)]


def test_from_one_kind_of_time_to_the_other_the_line_begins_when_it_began() -> None:
    slow = at_half(LAID)
    follows = edited(slow, SetSoundLane(lane="voices", keeps_own_time=False)).scene
    (lane,) = [lane for lane in follows.lanes if lane.target.kind == "part"]
    # It plays from frame 24 on, which is laid frame 12.
    assert lane.stints[0].start == follows.sound_lanes[0].sounds[0].start == pytest.approx(12)
    assert int(mouths(follows)[24 + 2 * 8]) == drawn(8)


def test_mouths_move_with_their_sound_until_they_are_freed() -> None:
    moved = edited(LAID, MoveSound(laid="a", start=40)).scene
    _, stint = moved.find("says")
    assert stint.start == 40
    freed = edited(LAID, FreeFromSound(stint="says"), MoveSound(laid="a", start=40)).scene
    assert freed.find("says")[1].start == 24
    with pytest.raises(Refusal, match="moves with no sound"):
        edited(freed, FreeFromSound(stint="says"))
    # A stint that was moved by hand keeps its distance.
    apart = edited(LAID, MoveStint(stint="says", start=30), MoveSound(laid="a", start=40)).scene
    assert apart.find("says")[1].start == 46


def test_a_sound_that_is_deleted_leaves_its_mouths() -> None:
    left = edited(LAID, RemoveSound(laid="a")).scene
    assert left.find("says")[1].with_sound is None
    assert list(mouths(left)) == list(mouths(LAID))


def test_a_line_without_a_figure_is_only_heard() -> None:
    done = edited(SCENE, LAY.model_copy(update={"figure": None})).scene
    assert done.lanes == SCENE.lanes
    assert len(done.sound_lanes[0].sounds) == 1


def test_another_figures_mouths_are_refused() -> None:
    line = LinePlayed(LINE, RUN, "gull")
    other = Material(
        MATERIAL.figures, {**MATERIAL.performances, LineSource(id="line"): line}, MATERIAL.sounds
    )
    with pytest.raises(Refusal, match="another figure's"):
        apply_edit(SCENE, LAY, other)


def test_a_line_is_laid_with_its_own_sound_and_chart_alone() -> None:
    for wrong in ({"chart": None}, {"sound": "bell"}):
        with pytest.raises(Refusal, match=r"another sound, or other|A sound of the scene is"):
            edited(SCENE, LAY.model_copy(update=wrong))


@given(
    st.lists(st.tuples(st.integers(0, 200), st.integers(4, 60), st.floats(0.1, 3)), max_size=4),
    st.booleans(),
)
def test_no_elastic_shows_a_drawing_that_is_not_in_the_run(
    slowed: list[tuple[int, int, float]], follows: bool
) -> None:
    scene = edited(LAID, SetSoundLane(lane="voices", keeps_own_time=not follows)).scene
    for start, length, pace in slowed:
        edit = SlowRange(start=start, end=start + length, pace=pace, ramp_frames=2)
        try:
            scene = edited(scene, edit).scene
        except Refusal:
            continue
    assert set(mouths(scene).tolist()) <= {one.drawing for one in RUN.exposures}


def test_a_line_of_another_rate_keeps_its_seconds() -> None:
    line = LINE.model_copy(update={"rate": Fraction(12)})
    played = LinePlayed(line, run_of(line, CHART, 2.0), "keeper")
    slower = Material(
        MATERIAL.figures,
        {**MATERIAL.performances, LineSource(id="line"): played},
        MATERIAL.sounds,
        MATERIAL.charts,
    )
    done = apply_edit(SCENE, LAY, slower).scene
    assert done.find("says")[1].length_frames == 48
    frames = real(np.arange(24, 72))
    (shown,) = frames_of(done, slower, frames)
    expected = [played.run.at(k // 2).drawing for k in range(48)]
    assert shown.drawings["mouth"].tolist() == expected


def test_a_scene_file_carries_its_lines_and_charts() -> None:
    written = scene_file(LAID, MATERIAL).model_dump_json().encode()
    read = read_scene_file(written)
    assert read.lines == {"line": LINE}
    assert read.charts == {"mouths": CHART}
    frames = real(np.arange(LAID.played_frames))
    (again,) = frames_of(read.scene, read.material(), frames)
    assert again.drawings["mouth"].tolist() == mouths(LAID).tolist()
    bare = read.model_copy(update={"charts": {}})
    with pytest.raises(Refusal, match="does not hold the sound or the chart"):
        bare.material()


def test_mouths_are_laid_on_a_sound_that_lies_already_as_it_lies() -> None:
    heard = edited(
        SCENE,
        LaySound(laid="a", sound="voice", lane="voices", start=30.5),
        TrimSound(laid="a", edge="start", frame=42.5),
        TrimSound(laid="a", edge="end", frame=66.5),
    ).scene
    spoken = edited(heard, LAY).scene
    assert spoken.sound_lanes == heard.sound_lanes
    (lane,) = [lane for lane in spoken.lanes if lane.target.kind == "part"]
    (stint,) = lane.stints
    start = heard.sound_lanes[0].sounds[0].start
    assert (stint.start, stint.in_frame, stint.length_frames) == (start, 12.0, 24)
    shown = mouths(spoken)
    first = int(np.ceil(start))
    assert [int(shown[k]) for k in range(first, first + 24)] == [
        drawn(12 + k - start) for k in range(first, first + 24)
    ]
    with pytest.raises(Refusal, match="says that already"):
        edited(spoken, LAY.model_copy(update={"stint": "again"}))
    moved = edited(spoken, MoveSound(laid="a", start=60)).scene
    assert list(mouths(moved))[60:84] == [drawn(12 + k) for k in range(24)]


def test_charts_of_other_sides_go_with_the_lane() -> None:
    other = CHART.model_copy(update={"name": "Keeper, side", "view": "side"})
    there = replace(MATERIAL, charts={**MATERIAL.charts, "side": other})
    laid = apply_edit(SCENE, LAY.model_copy(update={"other_sides": ("side",)}), there).scene
    (lane,) = [lane for lane in laid.lanes if lane.target.kind == "part"]
    assert lane.charts == ("mouths", "side")
    # Laid once more without them they stay.
    again = LAY.model_copy(update={"laid": "b", "start": 120.0, "stint": "then"})
    (lane,) = [
        lane for lane in apply_edit(laid, again, there).scene.lanes if lane.target.kind == "part"
    ]
    assert (lane.charts, len(lane.stints)) == (("mouths", "side"), 2)
