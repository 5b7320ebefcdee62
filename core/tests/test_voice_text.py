"""Words of a text, their phones, and phones typed by hand."""

import pytest

from elastic_core.errors import Refusal
from elastic_core.voice.letters import spelt_out, stresses
from elastic_core.voice.phones import phone_of, phones_of
from elastic_core.voice.text import words_of


def spoken(text: str) -> list[tuple[str, ...]]:
    return [word.spoken for word in words_of(text)]


def test_words_keep_their_spelling_and_lose_the_marks_around_them() -> None:
    words = words_of("“Three lamps lit,” said Odo — don’t blow out the café's!")
    assert [word.word for word in words] == [
        "Three", "lamps", "lit", "said", "Odo", "don't", "blow", "out", "the", "café's",
    ]  # fmt: skip
    assert words[-1].spoken == ("cafe's",)
    assert [word.word for word in words if word.ends_phrase] == ["lit", "café's"]


def test_figures_are_said_as_words() -> None:
    assert spoken("24") == [("twenty", "four")]
    assert spoken("1,305 ropes") == [("one", "thousand", "three", "hundred", "five"), ("ropes",)]
    assert spoken("1912") == [("nineteen", "twelve")]
    assert spoken("007") == [("zero", "zero", "seven")]
    assert spoken("No. 3") == [("no",), ("three",)]


def test_joined_words_are_said_one_after_another() -> None:
    assert spoken("half-lit lamp/flame") == [("half",), ("lit",), ("lamp",), ("flame",)]


def test_words_in_other_letters_stay_and_cannot_be_said() -> None:
    words = words_of("Odo 灯台 говорит")
    assert [(word.word, word.spoken) for word in words] == [
        ("Odo", ("odo",)), ("灯台", ()), ("говорит", ()),
    ]  # fmt: skip


def test_a_text_without_words_or_too_long_is_refused() -> None:
    for text in ("", "   ", "… — !"):
        with pytest.raises(Refusal, match="no word"):
            words_of(text)
    with pytest.raises(Refusal, match="100,000 characters"):
        words_of("lamp " * 30_000)
    with pytest.raises(Refusal, match="10,000 words"):
        words_of("a " * 20_000)


def test_letters_tell_the_phones_of_unknown_words() -> None:
    # Words that rhyme with what everybody knows.
    assert spelt_out("zamp") == ("Z", "AE1", "M", "P")
    assert spelt_out("gullet") == ("G", "AH1", "L", "AH0", "T")
    assert len(spelt_out("wickertrimmington")) > 8
    assert spelt_out("灯") == spelt_out("灯")


def test_stress_goes_by_the_letters() -> None:
    phones = ("HH", "AA", "R", "B", "ER")
    assert stresses("harbour", phones) == (False, True, False, False, False)
    away = ("AH", "W", "EY")
    assert stresses("away", away) == (False, False, True)
    # Where they tell another number of vowels, the first one bears it.
    assert stresses("lamp", ("L", "AE", "M", "AH", "P")) == (False, True, False, False, False)


def test_phones_are_typed_with_or_without_stress() -> None:
    assert phones_of("l ae1 m p") == ("L", "AE", "M", "P")
    assert phones_of("AX, dx") == ("AH", "D")
    assert phone_of("ng") == "NG"
    with pytest.raises(Refusal, match="“qq” is no phone"):
        phones_of("l qq p")
    with pytest.raises(Refusal, match="at least one phone"):
        phones_of("  ")
    with pytest.raises(Refusal, match="60 phones"):
        phones_of("t " * 61)
