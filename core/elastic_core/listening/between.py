"""Reading again between the pins: what lies between two beginnings that were set by hand is laid on its own
part of the sound, and all else stays."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from ..errors import Refusal
from ..voice.loudness import SPEECH_HZ, Speech
from ..voice.reading import Reading, SpokenPhone, SpokenWord, Stretch, pauses_between

Read = Callable[[Speech, str], Reading]
_HUSH_SECONDS = 0.15
S = TypeVar("S", bound=Stretch)


@dataclass(frozen=True)
class Between:
    """Words `[first, end)` of a reading, and the seconds of the sound that are theirs."""

    first: int
    end: int
    start_seconds: float
    end_seconds: float


def between_pins(reading: Reading, at_seconds: float) -> Between:
    """What lies between the pins on either side of a moment. A pin is a word whose beginning was set by hand;
    a word in which another boundary was set so is left as it is, and parts what lies on its sides.

    Raises Refusal where nothing is pinned, and where no word lies there.
    """
    words = reading.words
    if not any(phone.by_hand for phone in reading.phones):
        raise Refusal(
            "No beginning is set by hand yet. Draw one, and read again between it and the next."
        )
    edges = [0]
    for place, word in enumerate(words):
        if _is_held(word):
            edges += [place, place + 1]
        elif _is_pinned(word):
            edges.append(place)
    edges.append(len(words))
    for first, end in zip(edges, edges[1:], strict=False):
        if first == end or _is_held(words[first]):
            continue
        start = 0.0 if first == 0 else words[first].start
        if first and not _is_pinned(words[first]):
            start = words[first - 1].end
        stop = reading.seconds if end == len(words) else words[end].start
        if start <= at_seconds < stop or (end == len(words) and at_seconds >= stop):
            return Between(first, end, start, stop)
    raise Refusal(
        "Every boundary of the word here was set by hand: there is nothing to read again."
    )


def read_between(reading: Reading, speech: Speech, at_seconds: float, read: Read) -> Reading:
    """A reading with what lies between two pins laid anew on its part of the sound, [samples at 16 kHz].

    Raises Refusal as `between_pins` and `read` do.
    """
    part = between_pins(reading, at_seconds)
    low, high = (round(at * SPEECH_HZ) for at in (part.start_seconds, part.end_seconds))
    own = reading.words[part.first : part.end]
    # A voice that is cut off is no silence: a reader wants some before the first word and after the last.
    hush = np.zeros(round(_HUSH_SECONDS * SPEECH_HZ), dtype=np.float32)
    heard = np.concatenate([hush, speech[low:high], hush])
    found = read(heard, " ".join(word.word for word in own))
    moved = [_later(word, part) for word in found.words]
    if len(moved) != len(own):
        raise Refusal("What lies there cannot be told word by word.")
    if part.first and _is_pinned(own[0]) and moved[0].phones:
        # It begins where the hand has put it.
        first = moved[0].phones[0]
        begins = min(own[0].start, first.end)
        pinned = first.model_copy(update={"start": begins, "by_hand": True})
        phones = (pinned, *moved[0].phones[1:])
        moved[0] = moved[0].model_copy(update={"phones": phones, "start": begins})
    words = (*reading.words[: part.first], *moved, *reading.words[part.end :])
    extra = [one for one in reading.extra if not part.start_seconds <= one.start < part.end_seconds]
    extra += [_moved(one, part) for one in found.extra]
    extra.sort(key=lambda one: one.start)
    spoken = [Stretch(start=p.start, end=p.end) for word in words for p in word.phones]
    return reading.model_copy(
        update={
            "words": words,
            "not_heard": tuple(word.word for word in words if not word.fits),
            "extra": tuple(extra),
            "pauses": pauses_between([*spoken, *extra], reading.seconds),
        }
    )


def _is_pinned(word: SpokenWord) -> bool:
    return bool(word.phones) and word.phones[0].by_hand


def _is_held(word: SpokenWord) -> bool:
    return any(phone.by_hand for phone in word.phones[1:])


def _later(word: SpokenWord, part: Between) -> SpokenWord:
    phones: tuple[SpokenPhone, ...] = tuple(_moved(phone, part) for phone in word.phones)
    return _moved(word, part).model_copy(update={"phones": phones})


def _moved(one: S, part: Between) -> S:
    """A stretch of what was heard, in the whole sound, and inside of the part."""
    start, end = (
        min(max(at - _HUSH_SECONDS + part.start_seconds, part.start_seconds), part.end_seconds)
        for at in (one.start, one.end)
    )
    return one.model_copy(update={"start": start, "end": end})
