"""A line's text as the words that are said: as it is spelt, and as it is looked up."""

import re
import unicodedata
from dataclasses import dataclass

from ..errors import Refusal
from .numerals import said_number

MOST_CHARACTERS = 100_000
MOST_WORDS = 10_000
_LETTERS = re.compile(r"[a-z]+(?:'[a-z]+)*'?")
_MARKS = "‘’ʼ`´"
_ENDS_A_PHRASE = re.compile(r"[.,;:!?…—–)\]\"”]+$")


@dataclass(frozen=True)
class TextWord:
    """A word of a text.

    word         as the text spells it, without the marks around it
    spoken       as it is looked up, in small letters: several words for a number, none for what cannot be read
    ends_phrase  a mark after it bids a pause
    """

    word: str
    spoken: tuple[str, ...]
    ends_phrase: bool = False


def words_of(text: str) -> list[TextWord]:
    """The words of a text, in order.

    Raises Refusal for a text that is too long, and for one that has no word.
    """
    if len(text) > MOST_CHARACTERS:
        raise Refusal(f"A line's text has {MOST_CHARACTERS:,} characters at the most.")
    found: list[TextWord] = []
    for written in re.split(r"\s+|(?<=\w)[-–—/](?=\w)|—", text):
        bare = _bare(written)
        if bare:
            ends = bool(_ENDS_A_PHRASE.search(written))
            found.append(TextWord(bare[:100], _spoken(bare), ends))
    if not found:
        raise Refusal("The text has no word in it.")
    if len(found) > MOST_WORDS:
        raise Refusal(f"A line's text has {MOST_WORDS:,} words at the most.")
    return found


def in_latin(word: str) -> str:
    """“café” → “cafe”; other scripts stay as they are."""
    split = unicodedata.normalize("NFD", word.lower())
    return "".join(letter for letter in split if unicodedata.category(letter) != "Mn")


def _bare(written: str) -> str:
    """A word without the marks around it; an apostrophe belongs to it."""
    for mark in _MARKS:
        written = written.replace(mark, "'")
    bare = re.sub(r"^[^\w']+|[^\w']+$", "", written)
    return "" if not any(sign.isalnum() for sign in bare) else bare


def _spoken(bare: str) -> tuple[str, ...]:
    plain, parts = in_latin(bare), list[str]()
    is_year = "," not in plain
    plain = plain.replace(",", "")
    for part in re.findall(r"[0-9]+|[^\W0-9_]+(?:'[^\W0-9_]+)*'?|'[^\W0-9_]+", plain):
        if part.isdigit():
            parts += said_number(part, may_be_year=is_year)
        elif _LETTERS.fullmatch(part.strip("'")):
            parts.append(part)
        else:
            return ()
    return tuple(parts)
