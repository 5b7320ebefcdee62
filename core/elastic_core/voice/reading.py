"""A reading: the words and phones of a sound, with their times (rule 7.1). All times are seconds of the
sound."""

from collections.abc import Iterable
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..errors import Refusal
from ..frozen import Frozen
from ..sound.document import LONGEST_SECONDS
from .phones import Phone

Seconds = Annotated[float, Field(ge=0.0, le=LONGEST_SECONDS)]
MOST_WORDS = 10_000
# A shorter gap is a stop that is held, or a breath that nobody sees.
LEAST_PAUSE_SECONDS = 0.1
# Ends that lie so near to each other meet.
NEAR_SECONDS = 1e-6
Opening = Literal["closed", "narrow", "half", "open"]


class Stretch(Frozen):
    """From `start` to `end`."""

    start: Seconds
    end: Seconds

    @model_validator(mode="after")
    def _goes_on(self) -> Self:
        if self.end < self.start - NEAR_SECONDS:
            raise Refusal("A stretch of a reading ends before it starts.")
        return self

    @property
    def seconds(self) -> float:
        return self.end - self.start


class SpokenPhone(Stretch):
    """One phone. `stressed` where its vowel bears a stress; how loud it is beside the line's usual, in
    decibels, where that was heard."""

    phone: Phone
    stressed: bool = False
    by_hand: bool = False
    loudness_db: float | None = None


class SpokenWord(Stretch):
    """A word in the text's spelling. One that is not heard does not fit: it has no phones, and lies where it
    would be said. `confidence` is 1 where it fits as words that were meant do, and 0 where nothing speaks for
    it.
    """

    word: Annotated[str, Field(min_length=1, max_length=100)]
    confidence: Annotated[float, Field(ge=0.0, le=1.0)] = 1.0
    fits: bool = True
    phones: Annotated[tuple[SpokenPhone, ...], Field(max_length=100)] = ()


class Mouthing(Stretch):
    """How open a mouth is, as the sound alone tells."""

    opening: Opening


class Reading(Frozen):
    """What is said in a sound of so many `seconds`. Words stand in the text's order; those that are not heard
    are told again in `not_heard`, and speech that the text lacks in `extra`. A `rough` reading, from the
    sound alone, has no words."""

    seconds: Annotated[float, Field(gt=0.0, le=LONGEST_SECONDS)]
    words: Annotated[tuple[SpokenWord, ...], Field(max_length=MOST_WORDS)] = ()
    not_heard: tuple[str, ...] = ()
    extra: tuple[Stretch, ...] = ()
    pauses: tuple[Stretch, ...] = ()
    rough: tuple[Mouthing, ...] = ()

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        at = 0.0
        for phone in self.phones:
            if phone.start < at - 1e-3:
                raise Refusal("The phones of a reading stand in their order, one after another.")
            at = max(at, phone.end)
        return self

    @property
    def phones(self) -> tuple[SpokenPhone, ...]:
        """All phones, in order."""
        return tuple(phone for word in self.words for phone in word.phones)


def pauses_between(spoken: Iterable[Stretch], seconds: float) -> tuple[Stretch, ...]:
    """Where nothing is said: before, between and after these."""
    found, at = [], 0.0
    for one in sorted(spoken, key=lambda stretch: stretch.start):
        if one.start - at >= LEAST_PAUSE_SECONDS:
            found.append(Stretch(start=at, end=one.start))
        at = max(at, one.end)
    if seconds - at >= LEAST_PAUSE_SECONDS:
        found.append(Stretch(start=at, end=seconds))
    return tuple(found)
