"""Words written along the wave by hand (rule 7.1): where they lie, how they are said, what makes room."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.errors import Refusal
from elastic_core.voice.chart import usual_mouths
from elastic_core.voice.exposing import MouthRules, exposed
from elastic_core.voice.line import Line, run_of
from elastic_core.voice.line_edits import LineEdited, SetLineText, WriteWords, edit_line
from elastic_core.voice.reading import Mouthing, Reading, SpokenWord

from .voices import reading_of

CHART = usual_mouths()
BLANK = Line(name="Flame", sound="voice")
SECONDS = 3.0


def wrote(line: Line, start: float, end: float, text: str) -> LineEdited:
    return edit_line(
        line, WriteWords(start=start, end=end, text=text), run_of(line, CHART, SECONDS)
    )


def written(*words: tuple[float, float, str], line: Line = BLANK) -> Line:
    for word in words:
        line = wrote(line, *word).line
    return line


def words(line: Line) -> list[tuple[str, float, float]]:
    assert line.reading is not None
    return [(one.word, round(one.start, 3), round(one.end, 3)) for one in line.reading.words]


def phones(line: Line) -> str:
    assert line.reading is not None
    return " ".join(phone.phone for phone in line.reading.phones)


def test_words_along_the_wave_make_a_line_and_its_text() -> None:
    line = written((0.5, 1.0, "lamp"), (1.2, 1.5, "lit"), (0.1, 0.38, "three"))
    assert words(line) == [("three", 0.1, 0.38), ("lamp", 0.5, 1.0), ("lit", 1.2, 1.5)]
    assert phones(line) == "TH R IY L AE M P L IH T"
    assert (line.text, line.read_text, line.is_read) == ("three lamp lit", "three lamp lit", True)
    assert line.reading is not None
    pauses = [(round(one.start, 3), round(one.end, 3)) for one in line.reading.pauses]
    assert pauses == [(0.0, 0.1), (0.38, 0.5), (1.0, 1.2), (1.5, 3.0)]


def test_phones_share_a_words_time_a_vowel_has_more_and_bears_its_stress() -> None:
    line = written((0.5, 1.0, "lamp"))
    assert line.reading is not None
    found = line.reading.phones
    assert [round(one.seconds, 3) for one in found] == [
        pytest.approx(0.5 * share / 4.6, abs=1e-3) for share in (1, 1.6, 1, 1)
    ]
    assert [one.stressed for one in found] == [False, True, False, False]
    # Where the word begins was set by hand; the rest is for a reader to find.
    assert [one.by_hand for one in found] == [True, False, False, False]


def test_its_mouths_are_exposed_by_the_same_rules() -> None:
    line = written((0.5, 1.0, "lamp"))
    assert line.reading is not None
    run = exposed(line.reading, CHART, Fraction(24), MouthRules(on=2))
    assert (run.closures_wanted, run.closures_shown) == (2, 2)
    closed = [one for one in run.exposures if one.reason == "closed lips"]
    # M and P are one: from a frame before the M, on twos, to the end of the word.
    assert [(one.frame, one.end) for one in closed] == [(16, 24)]


def test_how_a_word_is_said_is_typed_after_it_and_known_from_then_on() -> None:
    line = written((0.5, 1.0, "灯台 /t ow d ay/"))
    assert phones(line) == "T OW D AY"
    assert line.said == {"灯台": ("T", "OW", "D", "AY")}
    again = written((1.5, 2.0, "灯台"), line=line)
    assert phones(again) == "T OW D AY T OW D AY"
    two = written((0.5, 1.5, "lamppu /l aa m p uw/ lit"))
    assert [word for word, _, _ in words(two)] == ["lamppu", "lit"]
    assert phones(two) == "L AA M P UW L IH T"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("灯台", "letters that are not read here. Type how it is said"),
        ("lamp /l ae qq/", "“qq” is no phone"),
        ("…", "has no word in it"),
        ("unbelievably long words in no time", "too short for"),
    ],
)
def test_what_cannot_be_written_is_told(text: str, says: str) -> None:
    with pytest.raises(Refusal, match=says):
        wrote(BLANK, 0.5, 0.75, text)
    with pytest.raises(Refusal, match="over some part of the sound"):
        wrote(BLANK, 5.0, 6.0, "lamp")


def test_what_is_there_makes_room_and_an_empty_text_takes_it_away() -> None:
    line = written((0.5, 1.5, "lamp"))
    shorter = written((1.0, 1.3, "lit"), line=line)
    assert words(shorter) == [("lamp", 0.5, 1.0), ("lit", 1.0, 1.3)]
    instead = written((0.4, 1.6, "flame"), line=line)
    assert words(instead) == [("flame", 0.4, 1.6)]
    done = wrote(instead, 0.3, 2.0, "")
    assert (done.label, words(done.line), done.line.text) == ("Take words away", [], "")
    with pytest.raises(Refusal, match="No word lies there"):
        wrote(done.line, 0.3, 2.0, " ")


def test_a_word_that_was_not_heard_is_written_where_it_is_said() -> None:
    heard = reading_of([("L", 0.5, 0.6), ("AE", 0.6, 0.9)], SECONDS)
    missing = SpokenWord(word="Lit", start=1.0, end=3.0, confidence=0, fits=False)
    reading = heard.model_copy(update={"words": (*heard.words, missing), "not_heard": ("Lit",)})
    line = BLANK.model_copy(
        update={"text": "La, Lit.", "reading": reading, "read_text": "La, Lit."}
    )
    done = written((1.2, 1.6, "lit"), line=line)
    assert done.reading is not None
    assert done.reading.not_heard == ()
    assert words(done)[-1] == ("lit", 1.2, 1.6)
    # A text that somebody wrote stays as it is written.
    assert (done.text, done.is_read) == ("La, Lit.", True)


def test_words_take_the_place_of_a_rough_reading_and_say_so() -> None:
    rough = Reading(seconds=SECONDS, rough=(Mouthing(start=0.5, end=1.0, opening="open"),))
    done = wrote(BLANK.model_copy(update={"reading": rough}), 0.5, 1.0, "lamp")
    assert done.notes == ("The rough reading makes way for words.",)
    assert done.label == "Write “lamp”"
    assert done.line.reading is not None
    assert done.line.reading.rough == ()


def test_a_text_that_waits_to_be_read_is_not_overwritten() -> None:
    line = edit_line(BLANK, SetLineText(text="Three lamps"), run_of(BLANK, CHART, SECONDS)).line
    done = written((0.5, 1.0, "three"), line=line)
    assert (done.text, done.is_read) == ("Three lamps", False)


PLACES = st.tuples(
    st.floats(0, 2.4), st.floats(0.15, 1.2), st.sampled_from(["lamp", "a lit lamp", "oh", ""])
)


@given(st.lists(PLACES, min_size=1, max_size=8))
def test_however_words_are_written_none_overlap_and_the_last_one_stands(
    places: list[tuple[float, float, str]],
) -> None:
    line = BLANK
    for start, length, text in places:
        try:
            line = wrote(line, start, start + length, text).line
        except Refusal:
            continue
        assert line.reading is not None
        found = line.reading.phones
        assert all(a.end <= b.start + 1e-9 for a, b in zip(found, found[1:], strict=False))
        assert all(0 <= one.start < one.end <= SECONDS + 1e-9 for one in found)
        end = min(start + length, SECONDS)
        inside = [
            one for one in line.reading.words if one.start < end - 0.01 and one.end > start + 0.01
        ]
        assert " ".join(one.word for one in inside) == text
        assert line.text == " ".join(one.word for one in line.reading.words)
