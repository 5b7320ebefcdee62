"""What is said, on the frames of a sheet: words and phones where they begin, and pauses."""

import math
from collections.abc import Iterable

from ..frozen import Shown
from .reading import Reading, Stretch

_HAIR_FRAMES = 1e-6


class SaidHere(Shown):
    """A text that is written on a frame and held for `length` of them."""

    frame: int
    length: int
    text: str


def said_on(
    said: Iterable[tuple[str, Stretch]], fps: float, frames: int, first: float = 0.0
) -> tuple[SaidHere, ...]:
    """What is said, on the frames where it begins; two on one frame are written together. The sound begins on
    frame `first`, and what lies outside of the sheet is left out."""
    found: list[SaidHere] = []
    for text, stretch in said:
        frame = math.floor(first + stretch.start * fps + _HAIR_FRAMES)
        end = math.floor(first + stretch.end * fps + _HAIR_FRAMES)
        if not 0 <= frame < frames:
            continue
        last = found[-1] if found else None
        if last is not None and last.frame == frame:
            found[-1] = last.model_copy(update={"text": f"{last.text} {text}"})
            continue
        if last is not None and last.frame + last.length > frame:
            found[-1] = last.model_copy(update={"length": frame - last.frame})
        found.append(SaidHere(frame=frame, length=max(1, min(end, frames) - frame), text=text))
    return tuple(found)


def words_on(reading: Reading, fps: float, frames: int) -> tuple[SaidHere, ...]:
    """The words that are heard, and the pauses between them."""
    said = [
        (word.word, Stretch(start=word.start, end=word.end)) for word in reading.words if word.fits
    ]
    said += [("pause", pause) for pause in reading.pauses] if said else []
    return said_on(sorted(said, key=lambda one: one[1].start), fps, frames)


def phones_on(reading: Reading, fps: float, frames: int) -> tuple[SaidHere, ...]:
    """The phones that are heard."""
    phones = [(phone.phone.lower(), phone) for phone in reading.phones]
    return said_on(phones, fps, frames)
