"""Runs of drawings: their numbers, orders as they are typed, and what shows when (rules 7.3 and 7.4)."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner, Result

from elastic_core.command_line import app
from elastic_core.drawings.boil import boiled
from elastic_core.drawings.laid_out import laid_out
from elastic_core.drawings.numbers import missing_between, natural, number_of, numbered
from elastic_core.drawings.orders import held_in, on_pattern, pattern_in, written
from elastic_core.drawings.run import DrawingPin, DrawingRun, Held, Play
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal

helds = st.builds(Held, drawing=st.integers(0, 12), frames=st.sampled_from([1, 2, 2, 2, 3, 4, 12]))
rows = st.lists(helds, min_size=1, max_size=14).map(tuple)
plays: st.SearchStrategy[Play] = st.sampled_from(["once", "repeat", "bounce", "boil"])
runs = st.builds(
    DrawingRun, name=st.just("Flame"), held=rows, play=plays, seed=st.integers(0, 999_999)
)


def run_of(text: str, play: Play = "once", seed: int = 1) -> DrawingRun:
    return DrawingRun(name="Flame", held=held_in(text), play=play, seed=seed)


def shown(run: DrawingRun, frames: int) -> list[int]:
    return run.drawings_at(np.arange(frames, dtype=np.float64)).tolist()


# Numbers


@pytest.mark.parametrize(
    ("name", "number"),
    [("flame_007.png", 7), ("Sc 2 flame 12.v3.svg", 3), ("0000.webp", 0), ("炎 四 10.PNG", 10)],
)
def test_a_drawings_number_is_the_last_one_in_its_name(name: str, number: int) -> None:
    assert number_of(name) == number


def test_files_come_in_natural_order_and_gaps_are_told() -> None:
    names = ["f10.png", "f2.png", "F1.png", "f4.png"]
    assert sorted(names, key=natural) == ["F1.png", "f2.png", "f4.png", "f10.png"]
    assert list(numbered(names)) == [1, 2, 4, 10]
    assert missing_between([1, 2, 4, 10]) == (3, 5, 6, 7, 8, 9)
    with pytest.raises(Refusal, match=r"are both drawing 7\."):
        numbered(["a7.png", "b/flame 07.png"])
    with pytest.raises(Refusal, match="no number in its name"):
        numbered(["flame.png"])


# Typed orders


def test_an_order_is_typed_in_ranges_both_ways_with_its_exposures() -> None:
    found = [(one.drawing, one.frames) for one in held_in("1-3, 3-1 on 3, 9 hold 12")]
    assert found == [(1, 2), (2, 2), (3, 2), (3, 3), (2, 3), (1, 3), (9, 12)]
    assert on_pattern([1, 2, 3], pattern_in("2, 1")) == held_in("1, 2 hold 1, 3")


@given(rows, st.integers(1, 4))
def test_an_order_that_is_written_is_read_as_it_was(held: tuple[Held, ...], frames: int) -> None:
    text = written(held, frames)
    assert held_in(text, frames) == held
    assert written(held_in(text, frames), frames) == text


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("1-8 hold 3", "a range is on so many frames"),
        ("1, two", "“two” cannot be read"),
        ("", "cannot be read"),
        ("1 on 0", "1 to 10,000 frames"),
        ("1-999999999", "10,000 drawings at the most"),
    ],
)
def test_what_is_no_order_is_told(text: str, says: str) -> None:
    with pytest.raises(Refusal, match=says):
        held_in(text)
    with pytest.raises(Refusal, match="is no pattern"):
        pattern_in("2, x")


# Playing


def test_once_holds_its_last_and_a_round_goes_on() -> None:
    once, again = run_of("1-3"), run_of("1-3", "repeat")
    assert shown(once, 9) == [1, 1, 2, 2, 3, 3, 3, 3, 3]
    assert shown(again, 9) == [1, 1, 2, 2, 3, 3, 1, 1, 2]
    before = again.drawings_at(np.array([-1.0, -3.0, -7.0])).tolist()
    assert before == [3, 2, 3]


def test_there_and_back_shows_its_ends_once() -> None:
    assert shown(run_of("1-4 on 1", "bounce"), 13) == [1, 2, 3, 4, 3, 2, 1, 2, 3, 4, 3, 2, 1]
    assert shown(run_of("7 hold 3", "bounce"), 7) == [7] * 7


@given(st.integers(3, 12), st.integers(0, 999_999))
def test_a_boil_never_repeats_and_uses_all_alike(count: int, seed: int) -> None:
    run = DrawingRun(name="Flame", held=held_in(f"1-{count} on 1"), play="boil", seed=seed)
    row = shown(run, 10 * count)
    assert all(a != b for a, b in zip(row, row[1:], strict=False))
    counts = np.bincount(row, minlength=count + 1)[1:]
    assert counts.max() - counts.min() <= 1
    assert row == shown(run.model_copy(), 10 * count)
    # Any stretch of it is the same whichever frames are asked for.
    assert (
        run.drawings_at(np.arange(3 * count, 5 * count, dtype=np.float64)).tolist()
        == (row[3 * count : 5 * count])
    )


def test_a_boil_is_the_same_on_every_machine() -> None:
    assert [boiled(6, k, 7) for k in (0, 1, -1)] == [
        (1, 0, 4, 2, 3, 5),
        (0, 2, 1, 3, 5, 4),
        (2, 4, 1, 5, 3, 0),
    ]
    assert shown(run_of("1, 2", "boil"), 8) == [1, 1, 2, 2, 1, 1, 2, 2]
    assert shown(run_of("5", "boil"), 3) == [5, 5, 5]
    # A drawing that comes twice is one of them all the same.
    assert run_of("1-4, 2, 2", "boil").length_frames == 8


@given(runs, st.lists(st.floats(-500, 500), min_size=1, max_size=40))
def test_only_drawings_of_the_run_ever_show(run: DrawingRun, times: list[float]) -> None:
    backwards = (Pin(played=0, source=3), Pin(played=10, source=-20), Pin(played=40, source=33.5))
    warped = Elastic(pins=backwards).source(np.array(times))
    found = set(run.drawings_at(np.array(times)).tolist()) | set(run.drawings_at(warped).tolist())
    assert found <= set(run.numbers)


# Over so many frames


def spans(run: DrawingRun, frames: int, *pins: tuple[int, int]) -> list[tuple[int, int, int]]:
    laid = laid_out(run, frames, [DrawingPin(drawing=pin[0], frame=pin[1]) for pin in pins])
    return [(one.frame, one.length, one.drawing) for one in laid.shown]


@given(runs, st.integers(1, 120))
def test_every_frame_shows_one_drawing_and_what_falls_out_is_told(
    run: DrawingRun, frames: int
) -> None:
    laid = laid_out(run, frames)
    ends = [one.frame + one.length for one in laid.shown]
    assert [0, *ends[:-1]] == [one.frame for one in laid.shown]
    assert ends[-1] == frames
    seen = {one.drawing for one in laid.shown}
    assert seen | set(laid.fell_out) == set(run.numbers)
    assert not seen & set(laid.fell_out)
    if run.play == "boil" or len(run.of_one_round) <= frames:
        row = [one.drawing for one in laid.shown for _ in range(one.length)]
        assert row == shown(run, frames)


def test_with_more_drawings_than_frames_they_are_spaced_evenly() -> None:
    laid = laid_out(run_of("1-9"), 5)
    assert [one.drawing for one in laid.shown] == [1, 3, 5, 7, 9]
    assert laid.fell_out == (2, 4, 6, 8)
    assert [one.drawing for one in laid_out(run_of("1-9"), 1).shown] == [1]


def test_a_pinned_drawing_begins_there_and_its_neighbours_make_room() -> None:
    run = run_of("1-5")
    assert spans(run, 10, (3, 6)) == [(0, 2, 1), (2, 4, 2), (6, 2, 3), (8, 1, 4), (9, 1, 5)]
    assert spans(run, 10, (3, 3)) == [(0, 2, 1), (2, 1, 2), (3, 2, 3), (5, 3, 4), (8, 2, 5)]
    # With no frame left for them, those before it fall out, and are told.
    laid = laid_out(run, 10, [DrawingPin(drawing=4, frame=1)])
    assert [(one.frame, one.drawing) for one in laid.shown] == [(0, 1), (1, 4), (3, 5)]
    assert laid.fell_out == (2, 3)
    assert spans(run, 12, (2, 3), (4, 9)) == [
        (0, 3, 1), (3, 2, 2), (5, 4, 3), (9, 2, 4), (11, 1, 5),
    ]  # fmt: skip


def test_in_a_round_the_nearest_appearance_is_pinned() -> None:
    run = run_of("1-3", "repeat")
    assert spans(run, 12, (1, 7)) == [
        (0, 2, 1), (2, 2, 2), (4, 3, 3), (7, 2, 1), (9, 1, 2), (10, 2, 3),
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("pins", "says"),
    [
        (((9, 3),), "Drawing 9 is not in the run"),
        (((3, 2), (2, 8)), "the order stays"),
        (((3, 40),), "not among the 10 frames"),
        (((2, 4), (3, 4)), "Two drawings are to begin on frame 4"),
    ],
)
def test_pins_against_the_order_are_told(pins: tuple[tuple[int, int], ...], says: str) -> None:
    with pytest.raises(Refusal, match=says):
        spans(run_of("1-5"), 10, *pins)


@given(runs, st.integers(4, 60), st.data())
def test_a_pin_that_is_taken_shows_and_keeps_the_order(
    run: DrawingRun, frames: int, data: st.DataObject
) -> None:
    drawing = data.draw(st.sampled_from(run.numbers))
    frame = data.draw(st.integers(0, frames - 1))
    try:
        laid = laid_out(run, frames, [DrawingPin(drawing=drawing, frame=frame)])
    except Refusal:
        return
    at = next(one for one in laid.shown if one.frame <= frame < one.frame + one.length)
    assert at.drawing == drawing
    assert sum(one.length for one in laid.shown) == frames
    if run.play == "once" and len(run.held) <= frames:
        wanted = iter(one.drawing for one in run.held)
        assert all(any(d == one.drawing for d in wanted) for one in laid.shown)
    assert {one.drawing for one in laid.shown} | set(laid.fell_out) == set(run.numbers)


# hours run


def hours(*words: object) -> Result:
    return CliRunner().invoke(app, ["run", *map(str, words)])


def facts(*words: object) -> dict[str, Any]:
    result = hours(*words, "--json")
    assert result.exit_code == 0, result.output
    told: dict[str, Any] = json.loads(result.stdout)
    return told


@pytest.fixture
def files(tmp_path: Path) -> list[Path]:
    """Four drawings, of which the third lacks."""
    found = [tmp_path / f"flame {number}.png" for number in (10, 1, 2, 4)]
    for path in found:
        path.write_bytes(path.name.encode())
    return found


def test_files_are_a_run_and_gaps_are_told(files: list[Path]) -> None:
    told = facts(*files)
    assert told["run"] == [
        {"frame": 2 * k, "length": 2, "drawing": drawing} for k, drawing in enumerate((1, 2, 4, 10))
    ]
    assert (told["missing"], told["fell_out"]) == ([3, 5, 6, 7, 8, 9], [])
    held = facts(*files, "--pattern", "1,3", "--frames", 12)["run"]
    assert [one["length"] for one in held] == [1, 3, 1, 7]
    pinned = facts(*files, "--order", "1, 2, 4 on 3", "--pin", "4:6", "--frames", 10)["run"]
    assert [(one["frame"], one["drawing"]) for one in pinned] == [(0, 1), (2, 2), (6, 4)]


def test_the_numbered_sequence_is_written_whole_or_not_at_all(
    files: list[Path], tmp_path: Path
) -> None:
    out = tmp_path / "out"
    told = facts(*files, "--play", "boil", "--seed", 3, "--frames", 20, "--out", out)
    names = sorted(path.name for path in out.iterdir())
    assert names == [f"frame {k:04}.png" for k in range(20)]
    for one in told["run"]:
        for frame in range(one["frame"], one["frame"] + one["length"]):
            data = (out / f"frame {frame:04}.png").read_bytes()
            assert data == f"flame {one['drawing']}.png".encode()
    again = hours(*files, "--out", out)
    assert again.exit_code == 1
    assert "not an empty folder" in again.stderr


def test_bad_input_is_one_plain_line(files: list[Path], tmp_path: Path) -> None:
    for words, says in (
        ((tmp_path / "none 1.png",), "There is no file"),
        ((*files, "--order", "1, 3"), "Drawing 3 is in the order, and in no file"),
        ((*files, "--play", "wobble"), "no way to play"),
        ((*files, "--pin", "7-30"), "is no pin"),
        ((*files, "--fps", "0"), ""),
    ):
        result = hours(*words)
        assert result.exit_code == 1, words
        assert says in result.stderr
        assert len(result.stderr.strip().splitlines()) == 1
