"""Pocketsphinx with its own English model: which words of a text are heard, and when each of their phones
begins.

Two questions are asked of the same samples. First the words stand in a chain in which every word may be left
out, and between any two of them a few phones may be heard that belong to none (a filler, as in Rose and Paul
1990, “A hidden Markov model based keyword recognition system”): so a text that does not fit is told. Then the
words that are heard are laid on the samples, phone by phone.
"""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pocketsphinx import Decoder

RATE_HZ = 16_000
FRAMES_A_SECOND = 100
Pcm = NDArray[np.float32]
"""At 16 kHz, one channel. [samples]"""
Phones = tuple[str, ...]
# Silence before and after: the model wants some to begin with.
_AROUND_SECONDS = 0.25
# A frame is told by its start, and is heard through a window of 25.6 ms.
_MIDDLE_SECONDS = 0.0078
# A few sounds that stand for all: more of them would explain any word away.
_FILLERS = ("AH", "IH", "OW", "N", "S", "T", "M", "L", "ER", "B", "DH", "SH")
_FILLER_PROBABILITY, _LEFT_OUT_PROBABILITY = 1e-10, 1e-3
# So wide that no path is given up: what does not fit must stay possible to be told.
_BEAM = 1e-100
_LOUDEST = 0.6
# Other speech with a shorter silence in it is told as one stretch.
_ONE_STRETCH_SECONDS = 0.15
# A decoder never forgets a word: one that knows so many is followed by a new one.
MOST_KNOWN = 4_000


@dataclass(frozen=True)
class Piece:
    """A phone, in seconds, and how well it fits: 0 at best, less the worse, a frame's mean."""

    phone: str
    start: float
    end: float
    fit: float


@dataclass(frozen=True)
class HeardWord:
    """A word of a chain that is heard: its place there, how it is said, and when, in seconds."""

    place: int
    phones: Phones
    start: float
    end: float


@dataclass(frozen=True)
class Found:
    """What is heard of a chain of words, and stretches of other speech, in seconds."""

    words: tuple[HeardWord, ...]
    other: tuple[tuple[float, float], ...]


class Recogniser:
    """The recogniser, once it has come up. Not for two threads at once."""

    def __init__(self) -> None:
        self._come_up()

    def _come_up(self) -> None:
        self._decoder = Decoder(
            lm=None, loglevel="FATAL", samprate=RATE_HZ, bestpath=False, fwdflat=False,
            beam=_BEAM, pbeam=_BEAM, wbeam=_BEAM, lw=1.0, wip=1.0, pip=1.0, silprob=0.1, fillprob=1e-8,
        )  # fmt: skip
        self._known: set[str] = set()
        for phone in _FILLERS:
            self._learn(f"~{phone}", (phone,))

    def pronunciations(self, word: str) -> tuple[tuple[str, ...], ...]:
        """How the dictionary says a word in small letters; nothing where it does not know it."""
        found: list[tuple[str, ...]] = []
        while said := self._decoder.lookup_word(f"{word}({len(found) + 1})" if found else word):
            found.append(tuple(said.split()))
        return tuple(found)

    def heard(
        self, pcm: Pcm, words: Sequence[Sequence[Phones]], *, to_the_end: bool = True
    ) -> Found:
        """Which of these words are heard, in order; each may be said in several ways. Without `to_the_end` the
        last ones may belong to what comes after."""
        # Here and not in the midst of a line: what is laid on the sound is laid by who has heard it.
        if len(self._known) > MOST_KNOWN:
            self._come_up()
        names = self._names(words)
        last = len(words)
        steps: list[tuple[int, int, float] | tuple[int, int, float, str]] = []
        for place in range(last + 1):
            steps += [(place, place, _FILLER_PROBABILITY, f"~{phone}") for phone in _FILLERS]
        for place, of in enumerate(names):
            steps += [(place, place + 1, 1.0, name) for name in of]
            steps.append((place, place + 1, _LEFT_OUT_PROBABILITY))
            if not to_the_end:
                steps.append((place, last, 1.0))
        decoder = self._decoder
        decoder.add_fsg("chain", decoder.create_fsg("chain", 0, last, steps))
        decoder.activate_search("chain")
        self._listen(pcm)
        return _found(decoder.seg() or (), names, words)

    def aligned(self, pcm: Pcm, words: Sequence[Phones]) -> list[list[Piece]] | None:
        """Words, said like this, laid on the samples, phone by phone; nothing where they do not go on."""
        names = self._names([(phones,) for phones in words])
        try:
            self._decoder.set_align_text(" ".join(name for (name,) in names))
            self._listen(pcm)
            self._decoder.set_alignment()
            self._listen(pcm)
            told = self._decoder.get_alignment()
        except RuntimeError:
            return None
        found = [[_piece(one) for one in word] for word in told if "~" in word.name]
        return found if len(found) == len(words) else None

    def _names(self, words: Sequence[Sequence[Phones]]) -> list[list[str]]:
        """A name in the dictionary for each way to say each word, another one for each time that it comes."""
        counts: Counter[Phones] = Counter()
        found = []
        for ways in words:
            own = []
            for phones in dict.fromkeys(ways):
                counts[phones] += 1
                own.append(self._learn(f"{'_'.join(phones)}~{counts[phones]}", phones))
            found.append(own)
        return found

    @property
    def words_known(self) -> int:
        return len(self._known)

    def _learn(self, name: str, phones: Sequence[str]) -> str:
        if name not in self._known:
            self._decoder.add_word(name, " ".join(phones), update=True)
            self._known.add(name)
        return name

    def _listen(self, pcm: Pcm) -> None:
        loudest = float(np.abs(pcm).max(initial=0.0))
        level = pcm * (_LOUDEST / loudest if loudest > 1e-6 else 0.0)
        around = np.zeros(round(_AROUND_SECONDS * RATE_HZ), dtype=np.float32)
        whole = np.concatenate([around, level, around])
        # Digital silence has no logarithm: a hiss nobody hears, the same every time.
        whole = whole * 32_767 + np.random.default_rng(0).normal(0, 2, len(whole))
        samples = np.clip(whole, -32_768, 32_767).astype("<i2")
        self._decoder.start_utt()
        self._decoder.process_raw(samples.tobytes(), full_utt=True)
        self._decoder.end_utt()


def _found(
    segments: Iterable[Any], names: Sequence[Sequence[str]], words: Sequence[Sequence[Phones]]
) -> Found:
    places = {
        name: (place, phones)
        for place, (of, ways) in enumerate(zip(names, words, strict=True))
        for name, phones in zip(of, dict.fromkeys(ways), strict=True)
    }
    heard: list[HeardWord] = []
    other: list[tuple[float, float]] = []
    goes_on = False
    for segment in segments:
        start, end = _seconds(segment.start_frame), _seconds(segment.end_frame + 1)
        if segment.word in places:
            heard.append(HeardWord(*places[segment.word], start, end))
            goes_on = False
        elif segment.word.startswith("~"):
            if goes_on and start - other[-1][1] < _ONE_STRETCH_SECONDS:
                other[-1] = (other[-1][0], end)
            else:
                other.append((start, end))
            goes_on = True
    return Found(tuple(heard), tuple(other))


def _seconds(frame: int) -> float:
    return frame / FRAMES_A_SECOND - _AROUND_SECONDS


def _piece(told: Any) -> Piece:
    duration = max(1, told.duration)
    return Piece(
        told.name,
        _seconds(told.start) + _MIDDLE_SECONDS,
        _seconds(told.start + duration) + _MIDDLE_SECONDS,
        told.score / duration,
    )
