"""The mouth column of a sheet, changed as on paper (rules 7.2 and 8.1)."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.errors import Refusal
from elastic_core.voice.chart import usual_mouths
from elastic_core.voice.exposing import MouthByHand, exposed
from elastic_core.voice.line import Line, run_of
from elastic_core.voice.line_edits import (
    FillOn,
    HoldMouth,
    LiftMouths,
    LineEdit,
    RepeatMouths,
    SheetRange,
    TurnMouthsRound,
    WriteMouth,
    edit_line,
)
from elastic_core.voice.reading import Reading

CHART = usual_mouths()
SECONDS, FRAMES = 2.0, 48
LINE = Line(name="Lamp", sound="voice", reading=Reading(seconds=SECONDS))
MOUTHS = ("rest", "mbp", "ai", "o", "e")
columns = st.lists(st.sampled_from(MOUTHS), min_size=FRAMES, max_size=FRAMES)


def drawn(column: list[str]) -> Line:
    """A line whose every frame is by hand, so that the rules change nothing of it."""
    hands = [MouthByHand(frame=k, length=1, mouth=mouth) for k, mouth in enumerate(column)]
    return LINE.model_copy(update={"by_hand": tuple(hands)})


def column(line: Line) -> list[str]:
    run = run_of(line, CHART, SECONDS)
    return [one.mouth for one in run.exposures for _ in range(one.length)]


def after(line: Line, edit: LineEdit) -> list[str]:
    return column(edit_line(line, edit, run_of(line, CHART, SECONDS)).line)


def runs(mouths: list[str]) -> Line:
    """Mouths as they are held: “rest rest ai” is two exposures."""
    hands, at = [], 0
    for k in range(1, len(mouths) + 1):
        if k == len(mouths) or mouths[k] != mouths[at]:
            hands.append(MouthByHand(frame=at, length=k - at, mouth=mouths[at]))
            at = k
    return LINE.model_copy(update={"by_hand": tuple(hands)})


def test_a_mouth_shows_from_where_it_is_written_to_the_next_one() -> None:
    held = ["rest"] * 8 + ["ai"] * 8 + ["o"] * 32
    assert after(runs(held), WriteMouth(frame=8, mouth="e")) == ["rest"] * 8 + ["e"] * 8 + held[16:]
    cut_in = after(runs(held), WriteMouth(frame=11, mouth="e"))
    assert cut_in == ["rest"] * 8 + ["ai"] * 3 + ["e"] * 5 + held[16:]
    for_two = after(runs(held), WriteMouth(frame=11, mouth="e", length=2))
    assert for_two[8:16] == ["ai"] * 3 + ["e"] * 2 + ["ai"] * 3
    over_the_end = after(runs(held), WriteMouth(frame=46, mouth="e", length=9))
    assert over_the_end[44:] == ["o", "o", "e", "e"]


def test_a_hold_is_longer_over_what_follows_or_shorter_before_it() -> None:
    held = ["rest"] * 8 + ["ai"] * 4 + ["o"] * 2 + ["e"] * 34
    assert after(runs(held), HoldMouth(frame=10, frames=1))[8:16] == ["ai"] * 5 + ["o"] + ["e"] * 2
    swallowed = after(runs(held), HoldMouth(frame=9, frames=3))
    assert swallowed[8:17] == ["ai"] * 7 + ["e"] * 2
    shorter = after(runs(held), HoldMouth(frame=9, frames=-3))
    assert shorter[8:16] == ["ai"] + ["o"] * 5 + ["e"] * 2
    with pytest.raises(Refusal, match="at least one frame"):
        after(runs(held), HoldMouth(frame=9, frames=-4))
    with pytest.raises(Refusal, match="Nothing follows it"):
        after(runs(held), HoldMouth(frame=40, frames=-2))
    with pytest.raises(Refusal, match="to the end of the line already"):
        after(runs(held), HoldMouth(frame=40, frames=2))


@given(columns, st.integers(0, 46), st.integers(1, 20), st.integers(1, 6))
def test_a_range_is_repeated_turned_round_and_filled(
    mouths: list[str], start: int, length: int, count: int
) -> None:
    line, end = drawn(mouths), min(start + length, FRAMES)
    turned = after(line, TurnMouthsRound(start=start, end=end))
    assert turned == mouths[:start] + mouths[start:end][::-1] + mouths[end:]
    if end < FRAMES:
        again = after(line, RepeatMouths(start=start, end=end, times=count))
        wanted = mouths[:end] + mouths[start:end] * count
        assert again == (wanted + mouths[len(wanted) :])[:FRAMES]
    filled = after(line, FillOn(start=start, end=end, on=count))
    own = run_of(line, CHART, SECONDS).exposures
    drawings = [one.mouth for one in own if start <= one.frame < end or one.frame < start < one.end]
    assert filled[start:end] == [drawings[k // count % len(drawings)] for k in range(end - start)]
    assert (filled[:start], filled[end:]) == (mouths[:start], mouths[end:])


@given(columns, st.integers(0, 47), st.sampled_from(MOUTHS))
def test_what_is_lifted_is_as_the_rules_have_it(mouths: list[str], frame: int, mouth: str) -> None:
    line = edit_line(
        drawn(mouths), LiftMouths(start=0, end=FRAMES), run_of(LINE, CHART, SECONDS)
    ).line
    assert column(line) == ["rest"] * FRAMES
    assert exposed(Reading(seconds=SECONDS), CHART, Fraction(24), line.rules).frames == FRAMES
    shown = after(line, WriteMouth(frame=frame, mouth=mouth))[:frame]
    # A single frame is less than the shortest mouth: it goes with what is written.
    assert shown == ([mouth] if frame == 1 else ["rest"] * frame)


@pytest.mark.parametrize(
    "edit",
    [
        WriteMouth(frame=48, mouth="ai"),
        HoldMouth(frame=90, frames=1),
        TurnMouthsRound(start=8, end=8),
        FillOn(start=40, end=49),
        RepeatMouths(start=12, end=11),
    ],
)
def test_frames_that_the_line_lacks_are_refused(edit: SheetRange) -> None:
    with pytest.raises(Refusal, match="The line has frames 1 to 48"):
        after(LINE, edit)  # type: ignore[arg-type]


def test_nothing_follows_the_end_of_the_line() -> None:
    with pytest.raises(Refusal, match="nothing can follow"):
        after(LINE, RepeatMouths(start=40, end=48))
