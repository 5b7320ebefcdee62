"""Words written along the wave by hand: which they are, how they are said, and what they take the place of."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import Refusal
from .letters import spelt_out, stresses
from .phones import VOWELS, phone_of, phones_of
from .reading import NEAR_SECONDS, Reading, SpokenPhone, SpokenWord, Stretch, pauses_between
from .text import TextWord, words_of

# Two boundaries do not come nearer to each other.
LEAST_PHONE_SECONDS = 0.01
# A phone that is written takes no less than this, one with another; a vowel takes so many times a consonant's.
_LEAST_MEAN_SECONDS, _VOWEL_SHARE = 0.02, 1.6
# “lamppu /l aa m p uw/ palaa”: how the word before the strokes is said.
_TYPED = re.compile(r"([^/]+)(?:/([^/]*)/)?")


@dataclass(frozen=True)
class TypedWord:
    """A word as it is typed, its phones, and which of them are stressed vowels. [phones]

    `is_said_so` where its phones were typed with it.
    """

    word: str
    phones: tuple[str, ...]
    stressed: tuple[bool, ...]
    is_said_so: bool = False


def words_typed(text: str, said: Mapping[str, Sequence[str]]) -> list[TypedWord]:
    """The words of a text with their phones: as they are typed after a word between strokes, as a person has
    said before, by small letters, or as the letters tell.

    Raises Refusal for a text that has no word, for what is no phone, and for letters that are not read here.
    """
    found: list[TypedWord] = []
    for words, phones in _TYPED.findall(text):
        *others, last = words_of(words)
        found += [_as_known(word, said) for word in others]
        if phones.strip():
            typed = phones_of(phones)
            found.append(TypedWord(last.word, typed, _stressed(last, typed), is_said_so=True))
        else:
            found.append(_as_known(last, said))
    if not found:
        raise Refusal("The text has no word in it.")
    return found


def _as_known(word: TextWord, said: Mapping[str, Sequence[str]]) -> TypedWord:
    phones = tuple(said.get(word.word.lower(), ()))
    if not phones:
        phones = tuple(phone_of(sign) for part in word.spoken for sign in spelt_out(part))
    if not phones:
        raise Refusal(
            f"“{word.word}” is in letters that are not read here. Type how it is said after it, "
            "between strokes: /t ow d ay/."
        )
    return TypedWord(word.word, phones, _stressed(word, phones))


def _stressed(word: TextWord, phones: tuple[str, ...]) -> tuple[bool, ...]:
    if word.spoken:
        return stresses("".join(word.spoken), phones)
    first = next((place for place, phone in enumerate(phones) if phone in VOWELS), -1)
    return tuple(place == first for place in range(len(phones)))


def with_words(reading: Reading, within: Stretch, words: Sequence[TypedWord]) -> Reading:
    """A reading in which these words are said over a stretch; what was said there makes room: words that lie
    in it go, those that reach into it end or begin at its edge.

    Raises Refusal where so many phones have no room.
    """
    fresh = _placed(words, within)
    spelt = {word.word.lower() for word in words}
    before: list[SpokenWord] = []
    after: list[SpokenWord] = []
    for word in reading.words:
        if not word.fits:
            if word.word.lower() not in spelt or not _meet(word, within):
                (before if word.start < within.start else after).append(word)
            continue
        kept = _outside(word, within)
        if kept is not None:
            (before if kept.start < within.start else after).append(kept)
    all_words = (*before, *fresh, *after)
    extra = tuple(one for one in reading.extra if not _meet(one, within))
    said = [Stretch(start=p.start, end=p.end) for word in all_words for p in word.phones]
    return Reading(
        seconds=reading.seconds,
        words=all_words,
        not_heard=tuple(word.word for word in all_words if not word.fits),
        extra=extra,
        pauses=pauses_between([*said, *extra], reading.seconds),
    )


def _placed(words: Sequence[TypedWord], within: Stretch) -> list[SpokenWord]:
    """Words that share a stretch by their phones. Where they begin was set by hand."""
    phones = [phone for word in words for phone in word.phones]
    if phones and within.seconds < _LEAST_MEAN_SECONDS * len(phones):
        raise Refusal(f"{within.seconds:.2f} s are too short for {len(phones)} phones.")
    shares = [_VOWEL_SHARE if phone in VOWELS else 1.0 for phone in phones]
    ends = within.start + within.seconds * np.cumsum(shares) / max(1.0, sum(shares))
    edges = iter([within.start, *ends[:-1].tolist(), within.end])
    at = next(edges)
    found: list[SpokenWord] = []
    for word in words:
        own: list[SpokenPhone] = []
        for phone, stressed in zip(word.phones, word.stressed, strict=True):
            end = next(edges)
            own.append(SpokenPhone(phone=phone, start=at, end=end, stressed=stressed))
            at = end
        if not found:
            own[0] = own[0].model_copy(update={"by_hand": True})
        found.append(
            SpokenWord(word=word.word[:100], start=own[0].start, end=own[-1].end, phones=tuple(own))
        )
    return found


def _outside(word: SpokenWord, within: Stretch) -> SpokenWord | None:
    """What is left of a word outside a stretch: its longer side; nothing where it lies in it."""
    if not _meet(word, within):
        return word
    sides = []
    for low, high in ((word.start, within.start), (within.end, word.end)):
        own = tuple(
            phone.model_copy(update={"start": max(phone.start, low), "end": min(phone.end, high)})
            for phone in word.phones
            if min(phone.end, high) - max(phone.start, low) >= LEAST_PHONE_SECONDS
        )
        if own:
            sides.append(
                word.model_copy(update={"start": own[0].start, "end": own[-1].end, "phones": own})
            )
    return max(sides, key=lambda one: one.seconds, default=None)


def _meet(one: Stretch, other: Stretch) -> bool:
    return min(one.end, other.end) - max(one.start, other.start) > NEAR_SECONDS
