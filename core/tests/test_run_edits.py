"""Edits of a run, and what is shown of it (rules 7.3, 7.4 and 8.1)."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from elastic_core.drawings.orders import held_in, written
from elastic_core.drawings.playing import RunPlayed, laid
from elastic_core.drawings.run import DrawingPin, DrawingRun, Held
from elastic_core.drawings.run_edits import RunEdit, edit_run
from elastic_core.drawings.squeezed import squeezed
from elastic_core.drawings.view import run_sheet
from elastic_core.errors import Refusal
from elastic_core.moments import source
from elastic_core.sheet.of_run import sheet_of_run

from .drawn import run_of_drawings, set_of
from .test_runs import helds, runs

EDIT: TypeAdapter[RunEdit] = TypeAdapter(RunEdit)


def edited(run: DrawingRun, kind: str, **fields: Any) -> DrawingRun:
    return edit_run(run, EDIT.validate_python({"kind": kind, **fields})).run


def order(run: DrawingRun) -> str:
    return written(run.held)


def row(run: DrawingRun, frames: int) -> list[int]:
    return RunPlayed(run).drawings_at(source(np.arange(frames))).tolist()


@pytest.mark.parametrize(
    ("kind", "fields", "expected"),
    [
        ("order_run", {"order": "1-3, 2 hold 12"}, "1-3, 2 hold 12"),
        ("order_run", {"order": "1-3", "frames": 3}, "1-3 on 3"),
        ("expose_run", {"pattern": [2, 3]}, "1, 2 hold 3, 3-4, 5 hold 3"),
        ("hold_drawing", {"place": 1, "frames": 8}, "1, 2 hold 8, 3, 4 hold 4, 5"),
        ("show_drawing", {"place": 3, "drawing": 9}, "1-3, 9 hold 4, 5"),
        (
            "insert_drawings",
            {"place": 1, "held": [Held(drawing=7, frames=2)]},
            "1, 7, 2-3, 4 hold 4, 5",
        ),
        (
            "insert_drawings",
            {"place": 99, "held": [Held(drawing=6, frames=2)]},
            "1-3, 4 hold 4, 5-6",
        ),
        ("move_drawings", {"place": 0, "count": 2, "to": 3}, "3, 4 hold 4, 5, 1-2"),
        ("take_out_drawings", {"places": [3, 0]}, "2-3, 5"),
    ],
)
def test_the_order_is_edited(kind: str, fields: dict[str, Any], expected: str) -> None:
    run = run_of_drawings("1-3, 4 hold 4, 5", play="once")
    if kind == "expose_run":
        expected = "1, 2 hold 3, 3, 4 hold 3, 5"
    assert order(edited(run, kind, **fields)) == expected


def test_what_cannot_be_done_is_said() -> None:
    run = run_of_drawings("1-3", play="once")
    with pytest.raises(Refusal, match="at least one drawing"):
        edited(run, "take_out_drawings", places=[0, 1, 2])
    with pytest.raises(Refusal, match="The run has 3 exposures"):
        edited(run, "hold_drawing", place=3, frames=2)
    with pytest.raises(Refusal, match="200,000 frames long at the most"):
        edited(run, "order_run", order=", ".join(["1 hold 10000"] * 21))
    with pytest.raises(Refusal, match=r"The run is over by 7"):
        edited(run, "write_drawing", frame=6, drawing=1)


def test_a_drawing_is_written_on_a_frame_as_on_a_sheet() -> None:
    run = run_of_drawings("1 hold 4, 2 hold 4", play="repeat")
    assert order(edited(run, "write_drawing", frame=2, drawing=5)) == "1, 5, 2 hold 4"
    # On a frame of the second round it is the same exposure.
    assert order(edited(run, "write_drawing", frame=10, drawing=5)) == "1, 5, 2 hold 4"
    # What becomes equal to its neighbour is one exposure with it.
    assert order(edited(run, "write_drawing", frame=4, drawing=1)) == "1 hold 8"
    with pytest.raises(Refusal, match="follows from the whole run, since it boils"):
        edited(edited(run, "play_run", play="boil"), "write_drawing", frame=0, drawing=3)


@given(
    runs.filter(lambda run: run.play not in ("once", "boil")),
    st.integers(0, 60),
    st.integers(20, 24),
)
def test_what_is_written_shows_from_there_to_the_end_of_the_exposure(
    run: DrawingRun, frame: int, drawing: int
) -> None:
    before = row(run, 400)
    after = row(edited(run, "write_drawing", frame=frame, drawing=drawing), 400)
    assert after[frame] == drawing
    assert len(after) == len(before)
    changed = [k for k, (a, b) in enumerate(zip(before, after, strict=True)) if a != b]
    assert {after[k] for k in changed} == {drawing}
    if frame and before[frame - 1] != before[frame]:
        assert after[frame - 1] == before[frame - 1]


def test_backwards_and_there_and_back() -> None:
    run = run_of_drawings("1-3", play="backwards")
    assert row(run, 8) == [3, 3, 2, 2, 1, 1, 3, 3]
    assert row(edited(run, "play_run", play="bounce"), 10) == [1, 1, 2, 2, 3, 3, 2, 2, 1, 1]


def test_a_pin_begins_its_drawing_on_its_frame_and_the_rest_plays_on() -> None:
    run = run_of_drawings("1-3 on 4", play="repeat")
    pinned = edited(run, "pin_drawing", drawing=2, frame=6)
    assert row(pinned, 24) == [1] * 6 + [2] * 4 + [3] * 2 + [1] * 4 + [2] * 4 + [3] * 4
    assert pinned.pins == (DrawingPin(drawing=2, frame=6),)
    moved = edited(pinned, "pin_drawing", drawing=2, frame=2, instead=6)
    assert moved.pins == (DrawingPin(drawing=2, frame=2),)
    # It shows as long as it did, and its neighbours longer or shorter.
    assert row(moved, 12) == [1] * 2 + [2] * 4 + [3] * 6
    assert edited(moved, "unpin_drawing", frame=2) == run
    with pytest.raises(Refusal, match="Drawing 9 is not in the run"):
        edited(run, "pin_drawing", drawing=9, frame=6)
    with pytest.raises(Refusal, match="Nothing is pinned to 4"):
        edited(pinned, "unpin_drawing", frame=3)


def test_a_pin_of_a_boil_keeps_its_order() -> None:
    run = run_of_drawings("1-6 on 3", play="boil", seed=5)
    free = list(dict.fromkeys(row(run, 18)))
    pinned = edited(run, "pin_drawing", drawing=free[3], frame=11)
    shown = row(pinned, 36)
    assert shown[11] == free[3]
    assert shown[10] != free[3]
    assert list(dict.fromkeys(shown[:18])) == free
    assert shown[18:] == row(run, 36)[18:]


def test_what_a_pin_pushes_out_is_told() -> None:
    run = run_of_drawings("1-6 on 1", play="once")
    done = edit_run(run, EDIT.validate_python({"kind": "pin_drawing", "drawing": 5, "frame": 2}))
    assert done.label == "Pin drawing 5 to 3"
    fell = laid(done.run).fell_out
    assert fell
    assert done.notes == (f"{' and '.join(map(str, fell))} fell out.",)


def test_a_pin_goes_with_its_drawing() -> None:
    pinned = edited(run_of_drawings("1-3 on 4", play="once"), "pin_drawing", drawing=2, frame=6)
    done = edit_run(pinned, EDIT.validate_python({"kind": "take_out_drawings", "places": [1]}))
    assert done.run.pins == ()
    assert done.notes == ("Drawing 2 is no longer pinned to 7.",)


def test_squeezing_says_what_fell_out() -> None:
    run = run_of_drawings("1-9, 12 hold 6", play="once")
    wanted = EDIT.validate_python({"kind": "squeeze_run", "frames": 6, "how": "even"})
    done = edit_run(run, wanted)
    assert (done.run.length_frames, done.run.held[0].drawing, done.run.held[-1].drawing) == (
        6,
        1,
        12,
    )
    gone = sorted(set(run.numbers) - set(done.run.numbers))
    assert done.notes == (f"{', '.join(map(str, gone[:-1]))} and {gone[-1]} fell out.",)
    with pytest.raises(Refusal, match="10 drawings do not go into 6 frames"):
        edited(run, "squeeze_run", frames=6, how="every")
    assert edited(run, "squeeze_run", frames=12, how="every").numbers == run.numbers


@given(st.lists(helds, min_size=1, max_size=14), st.integers(1, 80))
def test_squeezing_keeps_the_order_and_the_length(held: list[Held], frames: int) -> None:
    done = squeezed(held, frames, "even")
    assert sum(one.frames for one in done.held) == frames
    left = [one.drawing for one in done.held]
    rest = iter(one.drawing for one in held)
    assert all(drawing in rest for drawing in left)
    assert set(done.fell_out) == {one.drawing for one in held} - set(left)
    if len(held) <= frames:
        every = squeezed(held, frames, "every")
        assert [one.drawing for one in every.held] == [one.drawing for one in held]
        assert sum(one.frames for one in every.held) == frames
        assert every.fell_out == ()
    if len(held) > frames > 1:
        assert (left[0], left[-1]) == (held[0].drawing, held[-1].drawing)
        assert len(left) == frames


@given(runs, st.lists(st.tuples(st.integers(0, 12), st.integers(0, 90)), max_size=3))
def test_no_pin_ever_shows_what_is_not_in_the_run(
    run: DrawingRun, pins: list[tuple[int, int]]
) -> None:
    for drawing, frame in pins:
        try:
            run = edited(run, "pin_drawing", drawing=drawing, frame=frame)
        except Refusal:
            continue
    shown = RunPlayed(run).drawings_at(source(np.arange(-20, 300, 0.37)))
    assert set(shown.tolist()) <= set(run.numbers)
    for pin in run.pins:
        assert row(run, pin.frame + 1)[-1] == pin.drawing


def test_the_sheet_tells_what_plays() -> None:
    run = run_of_drawings("1-3, 7", play="boil", seed=3)
    sheet = run_sheet(run, set_of(1, 2, 3, 4))
    assert (sheet.order, sheet.pattern) == ("1-3, 7", [2])
    assert (sheet.round_frames, sheet.frames, sheet.rounds[:3]) == (8, 48, [8, 16, 24])
    assert (sheet.lacking, sheet.unused) == ([7], [4])
    assert sheet.uses is not None
    assert (sheet.uses.least, sheet.uses.most) == (10, 10)
    told = np.repeat([one.drawing for one in sheet.shown], [one.length for one in sheet.shown])
    assert told.tolist() == row(run, 48)
    (column,) = sheet_of_run(run).columns
    assert [(c.frame, c.length, c.text) for c in column.cells] == [
        (one.frame, one.length, str(one.drawing)) for one in sheet.shown
    ]
    assert {one.place for one in sheet.shown} == {None}
    back = run_sheet(run_of_drawings("1-3", play="bounce"), None)
    assert [(one.frame, one.drawing, one.place) for one in back.shown[:6]] == [
        (0, 1, 0), (2, 2, 1), (4, 3, 2), (6, 2, 1), (8, 1, 0), (10, 2, 1),
    ]  # fmt: skip
    once = run_sheet(run_of_drawings("1 hold 5, 2", play="once"), None)
    assert (once.frames, once.rounds, once.uses, once.lacking) == (7, [], None, [1, 2])


def test_a_long_run_is_shown_whole() -> None:
    run = DrawingRun(name="Long", held=held_in("1-9000"), play="once")
    sheet = run_sheet(run, None)
    assert (sheet.frames, len(sheet.shown), sheet.fell_out) == (18_000, 9_000, [])
