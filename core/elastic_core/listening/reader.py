"""A reading of a sound and its text, by a recogniser (rule 7.1).

A text may not fit its sound: words that are not heard are told and have no phones, speech that the text lacks
is told, and nothing is made up. A word that the first look leaves out by itself may only be said in another
way than the model knows; so it is laid on the sound with the others, and told where it does not fit there
either.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import pairwise
from typing import Protocol

import numpy as np

from ..errors import Refusal
from ..voice.closures import ended_in_silence, looked_at_again
from ..voice.letters import spelt_out, stresses
from ..voice.loudness import SPEECH_HZ, STEP_SECONDS, Loudness, Speech, loudness_of, pauses_of
from ..voice.phones import VOWELS, phone_of
from ..voice.reading import Reading, SpokenPhone, SpokenWord, Stretch, pauses_between
from ..voice.text import TextWord, words_of
from .recogniser import Found, Phones, Piece

Progress = Callable[[float, float], None]
# The recogniser's memory grows faster than what it listens to.
_LONGEST_PIECE_SECONDS, _CUT_FROM_SECONDS = 24.0, 10.0
_LEAST_CUT_SECONDS = 0.2
# The longer a stretch, the worse its words are laid: it is parted at its pauses.
_LEAST_PHRASE_SECONDS = 1.5
# No one speaks faster: more words than this are not looked for in a piece.
_WORDS_A_SECOND, _WORDS_MORE = 6.0, 6
# A word's phones take no longer than this, one with another.
_LONGEST_PHONE_SECONDS = 0.17
# Other speech so short may be a part of the words beside it that was said in another way.
_LONGEST_DOUBTED_SECONDS, _LONG_PHONE_SECONDS = 0.45, 0.35
_LEAST_EXTRA_SECONDS, _LEAST_EXTRA_SHARE = 0.25, 0.5
# How well words fit, a frame's mean. Beside the line's usual, since each voice and room has its own.
_GOOD_FIT, _POOR_FIT, _POOR_BESIDE_USUAL = -12.0, -45.0, 2.6
_DOUBTFUL, _WEAK, _LOOSE, _BETWEEN = (-38.0, 2.0), (-27.0, 1.6), (-22.0, 1.4), (-17.0, 1.2)
# So long a gap with speech in it is explained by no word; a light word has so many phones at the most.
_GAP_SECONDS, _LIGHT_PHONES = 0.1, 3
# A word whose phones are as short as the model allows was pressed in.
_PRESSED_SECONDS, _PRESSED_SHARE, _PRESSED_FIT = 0.035, 0.5, -25.0
# A text of which no more than this share is heard does not belong to the sound; nor does one of which
# somewhat more is, where even that fits poorly and leaves much of what is said to nobody.
_LEAST_SHARE_HEARD, _SHARE_BY_ACCIDENT, _FIT_BY_ACCIDENT = 0.2, 0.72, -18.0
_EXPLAINED_BY_ACCIDENT = 0.78


class Listens(Protocol):
    """A recogniser, as a reading needs it."""

    def pronunciations(self, word: str) -> tuple[Phones, ...]: ...

    def heard(
        self, pcm: Speech, words: Sequence[Sequence[Phones]], *, to_the_end: bool = True
    ) -> Found: ...

    def aligned(self, pcm: Speech, words: Sequence[Phones]) -> list[list[Piece]] | None: ...


@dataclass(frozen=True)
class _Word:
    """A word of the text: the ways in which it may be said, and what was found of it."""

    text: TextWord
    ways: tuple[Phones, ...]
    said: Phones = ()
    near: float = 0.0
    pieces: tuple[Piece, ...] = ()
    is_heard: bool = False

    @property
    def fit(self) -> float:
        """A frame's mean over its phones; 0 at best."""
        frames = [piece.end - piece.start for piece in self.pieces]
        if not frames:
            return -np.inf
        return float(np.average([piece.fit for piece in self.pieces], weights=frames))

    @property
    def is_pressed(self) -> bool:
        short = [piece.end - piece.start <= _PRESSED_SECONDS for piece in self.pieces]
        return bool(short) and float(np.mean(short)) >= _PRESSED_SHARE


@dataclass
class _Line:
    """A line while it is read."""

    speech: Speech
    loudness: Loudness
    words: list[_Word]
    other: list[tuple[float, float]] = field(default_factory=list)

    @property
    def seconds(self) -> float:
        return len(self.speech) / SPEECH_HZ

    @cached_property
    def pauses(self) -> list[tuple[float, float]]:
        return pauses_of(self.loudness, _LEAST_CUT_SECONDS)

    @property
    def heard(self) -> list[int]:
        return [place for place, word in enumerate(self.words) if word.is_heard]


def read(
    recogniser: Listens,
    speech: Speech,
    text: str,
    pronunciations: Mapping[str, Sequence[Phones]] | None = None,
    progress: Progress = lambda done, of: None,
) -> Reading:
    """Lay a text on the sound in which it is said. [samples at 16 kHz]

    `pronunciations` are those of words in small letters that a person gave; they go before the dictionary's.
    Raises Refusal where nothing is said, nothing of the text can be read, or nothing of it is heard.
    """
    words = [_Word(word, _ways(recogniser, word, pronunciations or {})) for word in words_of(text)]
    if not any(word.ways for word in words):
        raise Refusal(
            "The text is in letters that are not read here. "
            "Read the sound alone, or type the phones of its words."
        )
    loudness = loudness_of(speech)
    if float(np.mean(loudness.speaks)) * len(speech) / SPEECH_HZ < 0.05 or _is_silent(loudness):
        raise Refusal("Nothing is said in this sound.")
    line = _Line(speech, loudness, words)
    _look_for_words(line, recogniser, progress)
    _lay_on_the_sound(line, recogniser)
    _tell_what_does_not_fit(line, recogniser)
    if _belongs_elsewhere(line):
        raise Refusal("Nothing of this text is heard in the sound.")
    return _reading(line)


def _belongs_elsewhere(line: _Line) -> bool:
    """Whether so little of a text is heard, or so little so poorly, that it is another sound's."""
    share = len(line.heard) / sum(bool(word.ways) for word in line.words)
    if share <= _LEAST_SHARE_HEARD:
        return True
    if share >= _SHARE_BY_ACCIDENT or _usual_fit(line) >= _FIT_BY_ACCIDENT:
        return False
    rows = [line.words[place].pieces for place in line.heard]
    explained = sum(pieces[-1].end - pieces[0].start for pieces in rows)
    said = float(np.mean(line.loudness.speaks)) * line.seconds
    return explained < _EXPLAINED_BY_ACCIDENT * said


def _is_silent(loudness: Loudness) -> bool:
    return float(loudness.whole.max()) < -60.0


def _ways(
    recogniser: Listens, word: TextWord, given: Mapping[str, Sequence[Phones]]
) -> tuple[Phones, ...]:
    """The ways to say a word: as a person said, as the dictionary does, or as its letters tell."""
    if word.word.lower() in given:
        return tuple(given[word.word.lower()])
    ways: list[Phones] = [()]
    for part in word.spoken:
        own = (
            given.get(part)
            or recogniser.pronunciations(part)
            or recogniser.pronunciations(part.strip("'"))
        )
        if not own:
            own = (tuple(phone_of(sign) for sign in spelt_out(part)),)
        ways = [(*way, *more) for way in ways for more in own][:8]
    return tuple(way for way in ways if way)


def _look_for_words(line: _Line, recogniser: Listens, progress: Progress) -> None:
    """The first look, piece by piece: which words are heard, and roughly when."""
    readable = [place for place, word in enumerate(line.words) if word.ways]
    cuts = _cuts(line)
    following = 0
    for number, (start, end) in enumerate(cuts):
        most = round((end - start) * _WORDS_A_SECOND) + _WORDS_MORE
        here = readable[following : following + most]
        is_last = number == len(cuts) - 1
        piece = line.speech[round(start * SPEECH_HZ) : round(end * SPEECH_HZ)]
        found = recogniser.heard(
            piece, [line.words[place].ways for place in here], to_the_end=is_last
        )
        for word in found.words:
            place = here[word.place]
            near = start + (word.start + word.end) / 2
            line.words[place] = replace(
                line.words[place], said=word.phones, near=near, is_heard=True
            )
        line.other += [(start + low, start + high) for low, high in found.other]
        if found.words:
            following += found.words[-1].place + 1
        progress(end, line.seconds)


def _cuts(line: _Line) -> list[tuple[float, float]]:
    """Pieces that a recogniser can hold, cut at pauses."""
    cuts, at, seconds = [0.0], 0.0, line.seconds
    while seconds - at > _LONGEST_PIECE_SECONDS:
        low, high = at + _CUT_FROM_SECONDS, at + _LONGEST_PIECE_SECONDS
        inside = [(end - start, (start + end) / 2) for start, end in line.pauses]
        middles = [pause for pause in inside if low <= pause[1] <= high]
        at = max(middles)[1] if middles else _quietest(line.loudness, low, high)
        cuts.append(at)
    return list(zip(cuts, [*cuts[1:], seconds], strict=True))


def _quietest(loudness: Loudness, start: float, end: float) -> float:
    low, high = loudness.step(start), loudness.step(end)
    return (low + int(np.argmin(loudness.whole[low:high]))) * STEP_SECONDS


def _lay_on_the_sound(line: _Line, recogniser: Listens) -> None:
    """The second look, island by island between other speech: every word's phones. Words that were left out by
    themselves are tried once more, in the place of the other speech that was heard there."""
    tried = _left_out_alone(line)
    doubted = {span for spans in tried.values() for span in spans}
    short = {span for span in _extra(line) if _may_be_of_a_word(line, span)}
    other = line.other
    line.other = [span for span in other if span not in doubted | short]
    for place in tried:
        line.words[place] = replace(line.words[place], is_heard=True)
    _align_all(line, recogniser)
    rejected = [place for place in tried if not _fits(line, place)]
    back = {span for place in rejected for span in tried[place]}
    back |= {span for span in short - doubted if not _explained(line, span)}
    if not rejected and not back:
        return
    line.other = [span for span in other if span in line.other or span in back]
    for place in rejected:
        line.words[place] = replace(line.words[place], is_heard=False, pieces=())
    _align_all(line, recogniser)


def _may_be_of_a_word(line: _Line, span: tuple[float, float]) -> bool:
    """Whether other speech is short, and no word of the text is missing where it is heard."""
    before = [place for place in line.heard if line.words[place].near < sum(span) / 2]
    after = [place for place in line.heard if line.words[place].near >= sum(span) / 2]
    last, following = max(before, default=-1), min(after, default=len(line.words))
    return span[1] - span[0] < _LONGEST_DOUBTED_SECONDS and following == last + 1


def _explained(line: _Line, span: tuple[float, float]) -> bool:
    """Whether the words that lie on a stretch, now that they have it to themselves, fit there."""
    on_it = [
        place
        for place in line.heard
        if line.words[place].pieces[0].start < span[1]
        and line.words[place].pieces[-1].end > span[0]
    ]
    return bool(on_it) and not any(
        _fits_worse(line, place, _DOUBTFUL)
        or any(piece.end - piece.start > _LONG_PHONE_SECONDS for piece in line.words[place].pieces)
        for place in on_it
    )


def _align_all(line: _Line, recogniser: Listens) -> None:
    """Lay the words that are heard on every island; where they do not go on, or lie on none, they are not
    heard."""
    laid: set[int] = set()
    for start, end, members in _islands(line):
        if _aligned(line, recogniser, members, start, end):
            laid.update(members)
    for place in line.heard:
        if place not in laid:
            line.words[place] = replace(line.words[place], is_heard=False, pieces=())


def _left_out_alone(line: _Line) -> dict[int, list[tuple[float, float]]]:
    """Words left out by themselves between two that are heard, with the other speech that stands in their
    place, where it takes no longer than the word may."""
    found: dict[int, list[tuple[float, float]]] = {}
    for place, word in enumerate(line.words):
        beside = _beside(line, place)
        if word.is_heard or not word.ways or not all(heard for _, heard in beside):
            continue
        low = line.words[place - 1].near if place else 0.0
        high = line.words[place + 1].near if place + 1 < len(line.words) else line.seconds
        spans = [span for span in line.other if low <= sum(span) / 2 <= high]
        if sum(end - start for start, end in spans) <= _LONGEST_PHONE_SECONDS * len(word.ways[0]):
            found[place] = spans
            line.words[place] = replace(word, near=_middle(spans, low, high))
    return found


def _middle(spans: Sequence[tuple[float, float]], low: float, high: float) -> float:
    return (spans[0][0] + spans[-1][1]) / 2 if spans else (low + high) / 2


def _aligned(
    line: _Line, recogniser: Listens, places: Sequence[int], start: float, end: float
) -> bool:
    """Lay words on a stretch of the sound. Whether they go on."""
    speech = line.speech[round(start * SPEECH_HZ) : round(end * SPEECH_HZ)]
    said = [line.words[place].said or line.words[place].ways[0] for place in places]
    rows = recogniser.aligned(speech, said)
    if rows is None:
        return False
    for place, row in zip(places, rows, strict=True):
        pieces = tuple(
            replace(piece, start=start + piece.start, end=start + piece.end) for piece in row
        )
        near = (pieces[0].start + pieces[-1].end) / 2
        line.words[place] = replace(line.words[place], pieces=pieces, near=near, is_heard=True)
    return True


def _usual_fit(line: _Line) -> float:
    fits = [line.words[place].fit for place in line.heard if line.words[place].pieces]
    return float(np.median(fits)) if fits else _POOR_FIT


def _fits(line: _Line, place: int) -> bool:
    """Whether a word that was tried fits as well as the line's others do."""
    word = line.words[place]
    poor = min(_POOR_FIT, _POOR_BESIDE_USUAL * _usual_fit(line))
    return word.fit >= poor and not word.is_pressed


def _tell_what_does_not_fit(line: _Line, recogniser: Listens) -> None:
    """Take out the words that were heard by accident; one that goes may take those beside it along."""
    extra, unexplained = _extra(line), _beside_what_none_explains(line)
    dropped = False
    while gone := [
        place for place in line.heard if _is_by_accident(line, place, extra, unexplained)
    ]:
        for place in gone:
            line.words[place] = replace(line.words[place], is_heard=False, pieces=())
        dropped = True
    if dropped:
        _align_all(line, recogniser)


def _is_by_accident(
    line: _Line, place: int, extra: Sequence[tuple[float, float]], unexplained: frozenset[int]
) -> bool:
    """Whether a word fits badly enough for where it stands: beside words that are not heard or fit badly
    themselves, or beside speech that no word explains, less is believed."""
    beside = _beside(line, place)
    missing = [not heard for _, heard in beside]
    alone = len(missing) == 2 and all(missing)
    if alone and _fits_worse(line, place, _BETWEEN):
        return True
    near_missing = any(missing) or _is_missing_across(line, place)
    if near_missing and _fits_worse(line, place, _LOOSE if place in unexplained else _WEAK):
        return True
    return _fits_worse(line, place, _DOUBTFUL) and (
        any(_fits_worse(line, other, _WEAK) for other, _ in beside)
        or _touches(line.words[place], extra)
    )


def _is_missing_across(line: _Line, place: int) -> bool:
    """Whether only a light word lies between this one and one that is not heard: “the” fits anywhere."""
    for way in (-1, 1):
        between, other = place + way, place + 2 * way
        if 0 <= other < len(line.words) and not line.words[other].is_heard:
            word = line.words[between]
            if word.is_heard and _is_light(word) and len(word.pieces) <= _LIGHT_PHONES:
                return True
    return False


def _beside_what_none_explains(line: _Line) -> frozenset[int]:
    """The words on either side of a gap in which something is said."""
    return frozenset(
        place
        for one, other in pairwise(line.heard)
        for start, end in [(line.words[one].pieces[-1].end, line.words[other].pieces[0].start)]
        if end - start >= _GAP_SECONDS
        and line.loudness.spoken_share(start, end) >= _LEAST_EXTRA_SHARE
        for place in (one, other)
    )


def _beside(line: _Line, place: int) -> list[tuple[int, bool]]:
    """The words beside one, and whether they are heard."""
    found = [other for other in (place - 1, place + 1) if 0 <= other < len(line.words)]
    return [(other, line.words[other].is_heard) for other in found]


def _fits_worse(line: _Line, place: int, than: tuple[float, float]) -> bool:
    """Whether a word fits worse than so much, and so many times worse than the line's others do."""
    word = line.words[place]
    if word.is_pressed and word.fit < _PRESSED_FIT:
        return True
    return word.fit < min(than[0], than[1] * _usual_fit(line))


def _touches(word: _Word, extra: Sequence[tuple[float, float]]) -> bool:
    start, end = word.pieces[0].start, word.pieces[-1].end
    return any(low < end + 0.1 and high > start - 0.1 for low, high in extra)


def _islands(line: _Line) -> list[tuple[float, float, list[int]]]:
    """The stretches between other speech, phrase by phrase, with the words that are heard in them."""
    ends = [0.0, *(edge for span in _extra(line) for edge in span), line.seconds]
    found = []
    for low, high in zip(ends[::2], ends[1::2], strict=True):
        for start, end in pairwise([low, *_breaths(line, low, high), high]):
            members = [place for place in line.heard if start <= line.words[place].near < end]
            if members:
                found.append((start, end, members))
    return found


def _breaths(line: _Line, low: float, high: float) -> list[float]:
    """Where a stretch may be parted, in the middle of pauses."""
    found, last = [], low
    for start, end in line.pauses:
        middle = (start + end) / 2
        if middle - last >= _LEAST_PHRASE_SECONDS and high - middle >= _LEAST_PHRASE_SECONDS:
            found.append(middle)
            last = middle
    return found


def _extra(line: _Line) -> list[tuple[float, float]]:
    """Speech that the text lacks: long enough, and loud enough to be speech."""
    return [
        (max(0.0, low), min(line.seconds, high))
        for low, high in line.other
        if high - low >= _LEAST_EXTRA_SECONDS
        and line.loudness.spoken_share(low, high) >= _LEAST_EXTRA_SHARE
    ]


def _reading(line: _Line) -> Reading:
    """What was found, as a reading."""
    phones = _phones(line)
    usual = _usual_loudness(line, phones)
    gaps = _gaps(line, phones)
    words: list[SpokenWord] = []
    for place, word in enumerate(line.words):
        if not word.is_heard:
            start, end = gaps[place]
            words.append(
                SpokenWord(word=word.text.word, start=start, end=end, confidence=0.0, fits=False)
            )
            continue
        own = tuple(
            phone.model_copy(
                update={
                    "loudness_db": round(line.loudness.level_db(phone.start, phone.end) - usual, 1)
                }
            )
            for phone in phones[place]
        )
        words.append(
            SpokenWord(
                word=word.text.word,
                start=own[0].start,
                end=own[-1].end,
                confidence=_confidence(word.fit),
                phones=own,
            )
        )
    heard = [phone for place in line.heard for phone in phones[place]]
    extra = tuple(Stretch(start=low, end=high) for low, high in _extra(line))
    spoken = [Stretch(start=phone.start, end=phone.end) for phone in heard]
    return Reading(
        seconds=line.seconds,
        words=tuple(words),
        not_heard=tuple(word.word for word in words if not word.fits),
        extra=extra,
        pauses=pauses_between([*spoken, *extra], line.seconds),
    )


def _gaps(
    line: _Line, phones: Mapping[int, Sequence[SpokenPhone]]
) -> dict[int, tuple[float, float]]:
    """Where words that are not heard would be said: they share the gap between those that are. place →
    seconds"""
    ends = [-1, *line.heard, len(line.words)]
    found: dict[int, tuple[float, float]] = {}
    for before, after in pairwise(ends):
        start = phones[before][-1].end if before >= 0 else 0.0
        end = phones[after][0].start if after < len(line.words) else line.seconds
        edges = np.linspace(start, max(start, end), after - before).tolist()
        for place, edge in zip(range(before + 1, after), pairwise(edges), strict=True):
            found[place] = edge
    return found


def _phones(line: _Line) -> dict[int, list[SpokenPhone]]:
    """The phones of every word that is heard, in order, closures looked at again. place → phones"""
    flat: list[SpokenPhone] = []
    counts: list[tuple[int, int]] = []
    at = 0.0
    for place in line.heard:
        word = line.words[place]
        names = tuple(piece.phone for piece in word.pieces)
        stressed = _stressed(word, names)
        for piece, is_stressed in zip(word.pieces, stressed, strict=True):
            start = min(line.seconds, max(at, piece.start))
            at = min(line.seconds, max(start, piece.end))
            flat.append(SpokenPhone(phone=piece.phone, start=start, end=at, stressed=is_stressed))
        counts.append((place, len(names)))
    again = iter(looked_at_again(ended_in_silence(flat, line.loudness), line.loudness))
    return {place: [next(again) for _ in range(count)] for place, count in counts}


# Said without a stress, wherever they stand.
_LIGHT = (
    "a an and are as at be been but by can could do does for from had has have he her him his i if in is it "
    "its me my of on or she so than that the their them then there they this to us was we were will with "
    "would you your"
)
_UNSTRESSED = frozenset(_LIGHT.split(" "))


def _stressed(word: _Word, names: Phones) -> tuple[bool, ...]:
    if _is_light(word):
        return (False,) * len(names)
    return stresses("".join(word.text.spoken), names)


def _is_light(word: _Word) -> bool:
    return len(word.text.spoken) == 1 and word.text.spoken[0] in _UNSTRESSED


def _usual_loudness(line: _Line, phones: Mapping[int, Iterable[SpokenPhone]]) -> float:
    levels = [
        line.loudness.level_db(phone.start, phone.end)
        for row in phones.values()
        for phone in row
        if phone.phone in VOWELS
    ]
    return float(np.median(levels)) if levels else 0.0


def _confidence(fit: float) -> float:
    """1 where a word fits as words do that were meant, ½ half way to where it does not."""
    middle = (_GOOD_FIT + _POOR_FIT) / 2
    return round(float(1 / (1 + np.exp((middle - fit) / 5.0))), 3)
