"""Edits of a line and of a mouth chart (rules 7.2, 8.1 and 8.3)."""

import pytest

from elastic_core.errors import Refusal
from elastic_core.voice.chart import FacePlace, Mouth, MouthChart, usual_mouths
from elastic_core.voice.chart_edits import (
    ChartEdit,
    DropMouth,
    PlaceChart,
    SetMouth,
    ViewChart,
    edit_chart,
)
from elastic_core.voice.exposing import MouthByHand, MouthRules
from elastic_core.voice.line import Line, run_of
from elastic_core.voice.line_edits import (
    ExposeMouths,
    LiftMouths,
    LineEdit,
    MoveBoundary,
    SayWord,
    SetLineText,
    SetMouthRules,
    SetReading,
    SetSpeaker,
    UseChart,
    WriteNote,
    edit_line,
)
from elastic_core.voice.reading import Reading, Stretch

from .voices import moved, reading_of

CHART = usual_mouths()
PHONES = [("L", 0.5, 0.6), ("AE", 0.6, 0.8), ("M", 0.8, 0.9), ("P", 0.9, 1.0), ("T", 1.4, 1.5)]
READING = reading_of(PHONES, 2.0)
LINE = Line(name="Lamp", sound="voice", text="lamp t", reading=READING, read_text="lamp t")


def edited(line: Line, *edits: LineEdit) -> Line:
    for edit in edits:
        line = edit_line(line, edit, run_of(line, CHART, 2.0)).line
    return line


def hand(frame: int, length: int, mouth: str) -> MouthByHand:
    return MouthByHand(frame=frame, length=length, mouth=mouth)


def starts(line: Line) -> list[float]:
    assert line.reading is not None
    return [phone.start for phone in line.reading.phones]


def test_a_mouth_set_by_hand_survives_reading_text_and_rules() -> None:
    line = edited(LINE, ExposeMouths(mouths=(hand(14, 4, "smile"),)))
    again = edited(
        line,
        SetLineText(text="lamp tea"),
        SetReading(text="lamp tea", reading=moved(READING, 0.2)),
        SetMouthRules(rules=MouthRules(on=1, lead=2)),
    )
    assert again.by_hand == line.by_hand
    run = run_of(again, CHART, 2.2)
    assert {run.at(frame).mouth for frame in range(14, 18)} == {"smile"}
    assert again.is_read


def test_a_changed_text_is_not_read_yet() -> None:
    changed = edited(LINE, SetLineText(text="lamps"))
    assert LINE.is_read
    assert not changed.is_read
    with pytest.raises(Refusal, match="says that already"):
        edited(changed, SetLineText(text="  lamps "))


def test_mouths_by_hand_cut_what_they_are_laid_over() -> None:
    line = edited(
        LINE,
        ExposeMouths(mouths=(hand(10, 10, "o"),)),
        ExposeMouths(mouths=(hand(13, 2, "smile"), hand(15, 1, "rest"))),
    )
    assert line.by_hand == (
        hand(10, 3, "o"), hand(13, 2, "smile"), hand(15, 1, "rest"), hand(16, 4, "o"),
    )  # fmt: skip
    lifted = edited(line, LiftMouths(start=12, end=16))
    assert lifted.by_hand == (hand(10, 2, "o"), hand(16, 4, "o"))
    with pytest.raises(Refusal, match="Nothing is set by hand"):
        edited(lifted, LiftMouths(start=12, end=16))
    with pytest.raises(Refusal, match="Two mouths are set by hand on frame 4"):
        edited(LINE, ExposeMouths(mouths=(hand(3, 2, "o"), hand(4, 2, "e"))))


def test_a_boundary_takes_the_phone_before_along() -> None:
    line = edited(LINE, MoveBoundary(phone=2, seconds=0.75))
    assert starts(line) == [0.5, 0.6, 0.75, 0.9, 1.4]
    assert line.reading is not None
    phones = line.reading.phones
    assert phones[1].end == 0.75
    assert [phone.by_hand for phone in phones] == [False, False, True, False, False]
    with pytest.raises(Refusal, match="no longer in the reading"):
        edited(LINE, MoveBoundary(phone=5, seconds=0.95))


def test_after_a_pause_only_the_phone_moves_and_the_pause_goes_with_it() -> None:
    line = edited(LINE, MoveBoundary(phone=4, seconds=1.2))
    assert line.reading is not None
    assert line.reading.phones[3].end == 1.0
    assert Stretch(start=1.0, end=1.2) in line.reading.pauses
    near = edited(LINE, MoveBoundary(phone=4, seconds=1.05))
    assert near.reading is not None
    assert all(pause.start != 1.0 for pause in near.reading.pauses)


def test_words_are_said_as_typed() -> None:
    line = edited(LINE, SayWord(word="Lamp", phones="l ae1 m"))
    assert line.said == {"lamp": ("L", "AE", "M")}
    assert edited(line, SayWord(word="lamp", phones=" ")).said == {}
    with pytest.raises(Refusal, match="as the dictionary says already"):
        edited(LINE, SayWord(word="lamp", phones=""))
    with pytest.raises(Refusal, match="is no phone"):
        edited(LINE, SayWord(word="lamp", phones="l a m p"))


def test_a_reading_tells_what_does_not_fit() -> None:
    reading = READING.model_copy(
        update={"not_heard": ("three", "ropes"), "extra": (Stretch(start=1.1, end=1.3),)}
    )
    done = edit_line(
        LINE, SetReading(text="lamp t three ropes", reading=reading), run_of(LINE, CHART, 2.0)
    )
    assert done.notes == (
        "“three” is not heard.",
        "“ropes” is not heard.",
        "From 1.10 to 1.30 s there is speech that the text lacks.",
    )


def test_notes_speaker_and_chart() -> None:
    line = edited(
        LINE,
        WriteNote(frame=30, text="turns to the gull"),
        WriteNote(frame=6, text="looks up"),
        SetSpeaker(speaker="Odo", language="de"),
        UseChart(chart="other"),
    )
    assert [(note.frame, note.text) for note in line.notes] == [
        (6, "looks up"), (30, "turns to the gull"),
    ]  # fmt: skip
    assert (line.speaker, line.language, line.chart) == ("Odo", "de", "other")
    assert [note.frame for note in edited(line, WriteNote(frame=30, text=" ")).notes] == [6]


def test_a_line_that_is_not_read_shows_what_is_set_by_hand() -> None:
    bare = Line(name="Lamp", sound="voice")
    run = run_of(edited(bare, ExposeMouths(mouths=(hand(3, 2, "o"),))), CHART, 1.0)
    assert [(one.frame, one.mouth) for one in run.exposures] == [(0, "rest"), (3, "o"), (5, "rest")]
    with pytest.raises(Refusal, match="has not been read"):
        edited(bare, MoveBoundary(phone=0, seconds=0.5))


def test_a_reading_goes_one_way() -> None:
    with pytest.raises(Refusal, match="ends before it starts"):
        Stretch(start=1.0, end=0.5)
    with pytest.raises(Refusal, match="one after another"):
        Reading(seconds=2.0, words=(*moved(READING, 0.5).words, *READING.words))


OWN = MouthChart(name="Odo", mouths=CHART.mouths)


def chart(*edits: ChartEdit) -> MouthChart:
    made = OWN
    for edit in edits:
        made = edit_chart(made, edit).chart
    return made


def test_a_phone_belongs_to_one_mouth_of_a_size() -> None:
    made = chart(SetMouth(mouth=Mouth(key="grin", drawing=11, name="Grin", phones=("IY", "EY"))))
    assert made.shown("IY").mouth.key == "grin"
    assert made.by_key["e"].phones == ("EH", "IH")
    loud = Mouth(key="ai_loud", drawing=12, name="Loud", phones=("AE",), size="shouted")
    made = chart(SetMouth(mouth=loud))
    assert made.shown("AE", 9.0).mouth.key == "ai_loud"
    assert made.shown("AE", 0.0).mouth.key == "ai"


def test_a_mouth_taken_out_is_stood_in_for_and_told() -> None:
    done = edit_chart(OWN, DropMouth(key="fv"))
    assert done.notes == ("M B P stands in for F, V.",)
    assert done.chart.shown("F").instead_of == "fv"
    with pytest.raises(Refusal, match="at least one mouth"):
        edit_chart(
            MouthChart(name="One", mouths=CHART.mouths[:1]), DropMouth(key=CHART.mouths[0].key)
        )
    with pytest.raises(Refusal, match="no mouth “grin”"):
        chart(DropMouth(key="grin"))
    with pytest.raises(Refusal, match="the drawing 1"):
        chart(SetMouth(mouth=Mouth(key="grin", drawing=1, name="Grin")))


def test_a_chart_is_placed_on_a_joint_and_seen_from_a_side() -> None:
    place = FacePlace(joint="head", offset=(0.0, 0.05, 0.12), width_metres=0.09)
    made = chart(PlaceChart(place=place), ViewChart(view="three-quarter"))
    assert (made.place, made.view) == (place, "three-quarter")


def test_a_boundary_goes_as_far_as_its_neighbours_let_it() -> None:
    # The M begins at 0.8, between an AE from 0.6 and its own end at 0.9.
    assert starts(edited(LINE, MoveBoundary(phone=2, seconds=0.1)))[2] == pytest.approx(0.61)
    assert starts(edited(LINE, MoveBoundary(phone=2, seconds=1.9)))[2] == pytest.approx(0.89)
    with pytest.raises(Refusal, match=r"lies between 0\.61 and 0\.89 seconds"):
        edited(LINE, MoveBoundary(phone=2, seconds=0.8))
