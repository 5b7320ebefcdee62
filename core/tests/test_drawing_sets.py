"""Drawing sets: their numbers, how their sheets lie on the pegs, and what is edited (rule 8.1)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.drawings.drawing_set import DrawingSet, Pegs, SetDrawing
from elastic_core.drawings.set_edits import (
    AddDrawings,
    DropDrawings,
    MarkPoint,
    NudgeDrawing,
    RenumberDrawing,
    ReplaceDrawing,
    SetPegs,
    edit_set,
    listed,
    told_of,
)
from elastic_core.drawings.spacing import spacing
from elastic_core.drawings.view import set_sheet
from elastic_core.errors import Refusal

from .drawn import picture, set_of


def corners(drawn: DrawingSet, number: int) -> list[list[float]]:
    """Where the corners of a picture lie on the sheet: lower left, lower right, upper left."""
    shares = np.array([[0, 0, 1], [1, 0, 1], [0, 1, 1]], dtype=np.float64)
    found: list[list[float]] = (drawn.placed(drawn.drawing(number)) @ shares.T).T.tolist()
    return found


def test_a_set_tells_what_lacks_and_what_is_twice() -> None:
    drawn = set_of(1, 2, 5)
    same = SetDrawing(number=9, picture=picture("Flame 2"))
    edited = edit_set(drawn, AddDrawings(drawings=(same,)))
    assert edited.label == "Add 1 drawing"
    assert edited.drawn.missing == (3, 4, 6, 7, 8)
    assert edited.drawn.same == ((2, 9),)
    assert edited.notes == ("3, 4, 6, 7 and 8 are missing.", "2 and 9 are the same picture.")
    assert told_of(set_of(1, 2, 4)) == ("3 is missing.",)
    assert listed(range(20)) == "0, 1, 2, 3, 4, 5, 6, 7 and 12 more"


def test_numbers_are_ones_own_and_in_order() -> None:
    with pytest.raises(Refusal, match="numbers of their own"):
        DrawingSet(name="Flame", drawings=set_of(2, 1).drawings)


def test_pictures_of_all_sizes_lie_on_one_peg() -> None:
    low = SetDrawing(number=2, picture=picture("low", 200, 150))
    drawn = edit_set(set_of(1), AddDrawings(drawings=(low,))).drawn
    # The sheet is as high as the highest picture: 300 pixels are 1.
    assert corners(drawn, 1) == pytest.approx(np.array([[-2 / 3, 0], [2 / 3, 0], [-2 / 3, 1]]))
    assert corners(drawn, 2) == pytest.approx(np.array([[-1 / 3, 0], [1 / 3, 0], [-1 / 3, 0.5]]))
    hung = edit_set(drawn, SetPegs(anchor=(0.5, 1.0))).drawn
    assert corners(hung, 2)[2] == pytest.approx([-1 / 3, 0.0])


def test_a_nudge_is_one_drawings_and_the_pegs_are_everyones() -> None:
    drawn = edit_set(set_of(1, 2), NudgeDrawing(number=2, shift_pixels=(30, -15))).drawn
    assert corners(drawn, 2)[0] == pytest.approx([-2 / 3 + 0.1, -0.05])
    assert corners(drawn, 1)[0] == pytest.approx([-2 / 3, 0.0])
    turned = edit_set(drawn, SetPegs(turn_degrees=90, scale=2)).drawn
    assert turned.pegs == Pegs(turn_degrees=90, scale=2)
    # As the hands of a clock go: what was up is to the right, what was left is up.
    assert corners(turned, 1)[2] == pytest.approx([2.0, 4 / 3])


def test_a_picture_is_replaced_and_nothing_else_of_its_drawing() -> None:
    nudged = edit_set(set_of(1, 2), NudgeDrawing(number=2, turn_degrees=5)).drawn
    marked = edit_set(nudged, MarkPoint(number=2, point="tip", at=(0.5, 0.9))).drawn
    new = picture("new", 800, 600)
    done = edit_set(marked, ReplaceDrawing(number=2, picture=new, name="new 2.png")).drawn
    before, after = marked.drawing(2), done.drawing(2)
    assert after == before.model_copy(update={"picture": new, "name": "new 2.png"})
    again = AddDrawings(drawings=(SetDrawing(number=2, picture=picture("x")),))
    with pytest.raises(Refusal, match=r"“Flame” has a drawing 2 already: replace it"):
        edit_set(done, again)
    replaced = edit_set(done, again.model_copy(update={"replace": True}))
    assert replaced.label == "Replace 1 drawing"
    assert replaced.drawn.drawing(2).points == {"tip": (0.5, 0.9)}


def test_numbers_change_and_drawings_go() -> None:
    drawn = set_of(1, 2, 3)
    assert edit_set(drawn, RenumberDrawing(number=1, to=8)).drawn.numbers == (2, 3, 8)
    with pytest.raises(Refusal, match="There is a drawing 3 already"):
        edit_set(drawn, RenumberDrawing(number=1, to=3))
    assert edit_set(drawn, DropDrawings(numbers=(1, 3))).drawn.numbers == (2,)
    with pytest.raises(Refusal, match="at least one drawing"):
        edit_set(drawn, DropDrawings(numbers=(1, 2, 3)))
    with pytest.raises(Refusal, match="“Flame” has no drawing 7"):
        edit_set(drawn, NudgeDrawing(number=7, turn_degrees=1))


def test_spacing_goes_by_the_order_of_the_run() -> None:
    drawn = set_of(1, 2, 3)
    for number, share in ((1, 0.1), (2, 0.2), (3, 0.6)):
        drawn = edit_set(drawn, MarkPoint(number=number, point="tip", at=(0.5, share))).drawn
    found = spacing(drawn, [1, 2, 3, 1], "tip")
    assert [step.pixels for step in found.steps] == pytest.approx([30, 120, 150])
    assert found.largest is not None
    assert (found.largest.before, found.largest.after) == (3, 1)
    without = edit_set(drawn, MarkPoint(number=2, point="tip")).drawn
    assert [step.pixels for step in spacing(without, [1, 2, 3, 1], "tip").steps] == pytest.approx(
        [150]
    )
    with pytest.raises(Refusal, match="Drawing 2 has no point “tip”"):
        edit_set(without, MarkPoint(number=2, point="tip"))


@given(
    st.tuples(st.floats(-1, 2), st.floats(-1, 2)),
    st.floats(-360, 360),
    st.floats(0.1, 10),
    st.tuples(st.floats(-500, 500), st.floats(-500, 500)),
)
def test_the_anchor_lies_at_the_pegs_however_the_sheet_is_turned(
    anchor: tuple[float, float], degrees: float, scale: float, shift: tuple[float, float]
) -> None:
    drawn = set_of(1)
    drawn = edit_set(drawn, SetPegs(anchor=anchor, turn_degrees=degrees, scale=scale)).drawn
    at = drawn.placed(drawn.drawing(1)) @ np.array([*anchor, 1.0])
    assert at == pytest.approx([0.0, 0.0], abs=1e-9)
    drawn = edit_set(drawn, NudgeDrawing(number=1, shift_pixels=shift)).drawn
    at = drawn.placed(drawn.drawing(1)) @ np.array([*anchor, 1.0])
    assert np.hypot(*at) == pytest.approx(scale * np.hypot(*shift) / 300, abs=1e-9)
    (told,) = set_sheet(drawn).placed
    assert np.array([told.across, told.up]) == pytest.approx(drawn.placed(drawn.drawing(1)))
