"""A line: one spoken sound with its text, its reading, and the mouths that say it, as a document."""

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from ..clock import Rate
from ..frozen import Frozen
from .blinks import Blink
from .chart import ChartMouths
from .exposing import MouthByHand, MouthRules, MouthRun, WholeFrames, exposed
from .phones import Phone
from .reading import Reading
from .text import MOST_CHARACTERS

Text = Annotated[str, Field(max_length=MOST_CHARACTERS)]
# Languages whose words can be looked up; a line in another one is read by phones, or from the sound alone.
READ_LANGUAGES = ("en",)


class Note(Frozen):
    """What happens on a frame, in words: the first column of a sheet."""

    frame: WholeFrames
    text: Annotated[str, Field(min_length=1, max_length=200)]


class Line(Frozen):
    """One spoken sound with its text.

    `sound` and `chart` are ids of documents; without a chart our ten mouths are used. Mouths follow from the
    reading by the rules; those in `by_hand` stand, whatever becomes of text, reading and rules. Frames are
    those of the line: the sound begins on frame 0. `said` has the pronunciations that a person gave, of words
    in small letters. `blinks` are the eyes' own, in order; those that were proposed came of `blink_seed`.
    """

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120)]
    sound: str
    speaker: Annotated[str, Field(max_length=120)] = ""
    language: Annotated[str, Field(pattern=r"^[a-z]{2,3}$")] = "en"
    text: Text = ""
    rate: Rate = Fraction(24)
    chart: str = ""
    rules: MouthRules = MouthRules(on=2)
    reading: Reading | None = None
    read_text: Text = ""
    said: Annotated[dict[str, tuple[Phone, ...]], Field(max_length=2_000)] = Field(default={})
    by_hand: Annotated[tuple[MouthByHand, ...], Field(max_length=20_000)] = ()
    notes: Annotated[tuple[Note, ...], Field(max_length=20_000)] = ()
    blinks: Annotated[tuple[Blink, ...], Field(max_length=20_000)] = ()
    blink_seed: Annotated[int, Field(ge=0, le=999_999)] = 0

    @property
    def is_read(self) -> bool:
        """Whether its reading is one of the text that it has."""
        return self.reading is not None and self.read_text == self.text


def run_of(line: Line, chart: ChartMouths, seconds: float) -> MouthRun:
    """A line exposed; one that is not read yet rests where nothing is set by hand. `seconds` is its sound's
    length.

    Raises Refusal as `exposed` does.
    """
    reading = line.reading or Reading(seconds=seconds)
    return exposed(reading, chart, line.rate, line.rules, line.by_hand)
