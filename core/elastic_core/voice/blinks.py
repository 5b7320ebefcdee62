"""Blinks: the eyes of a line, by hand or proposed, at the ends of phrases and every two to six seconds."""

import math
from collections.abc import Iterable, Sequence
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import Refusal
from ..frozen import Frozen
from .accents import accents_of
from .exposing import Exposed, WholeFrames
from .reading import Reading

OPEN, HALF, CLOSED = ("open", 1), ("half", 2), ("closed", 3)
MOST_SECONDS, LEAST_SECONDS = 6.0, 2.0
# Two blinks at the ends of short phrases may be so near.
NEAREST_SECONDS = 1.0
# A stop shorter than this ends no phrase.
PHRASE_PAUSE_SECONDS = 0.18
_BLINK_SECONDS = 0.17


LONGEST_FRAMES = 240


class Blink(Frozen):
    """The eyes begin to close on `frame`, and are open again after `length` frames."""

    frame: WholeFrames
    length: Annotated[int, Field(ge=2, le=LONGEST_FRAMES)] = 4

    @property
    def end(self) -> int:
        return self.frame + self.length


def usual_length(fps: float) -> int:
    """How many frames a blink lasts, half closed on its first and its last."""
    return max(3, round(_BLINK_SECONDS * fps))


def proposed(reading: Reading, frames: int, fps: float, seed: int) -> tuple[Blink, ...]:
    """Blinks where phrases end and in between, none on a word's accent, no two farther apart than six
    seconds. The same seed gives the same blinks."""
    chance = np.random.default_rng(seed)
    length = usual_length(fps)
    accents = [math.floor(accent.seconds * fps) for accent in accents_of(reading)]
    ends = [
        math.floor(pause.start * fps) + int(chance.integers(0, 3))
        for pause in reading.pauses
        if pause.seconds >= PHRASE_PAUSE_SECONDS and pause.start > 0
    ]
    found: list[Blink] = []
    last = -float(chance.uniform(0, LEAST_SECONDS)) * fps
    for end in [*ends, frames + int(MOST_SECONDS * fps)]:
        # What lies between two ends of phrases is filled, never nearer to the next one than it may be.
        while end - last > MOST_SECONDS * fps:
            step = float(chance.uniform(LEAST_SECONDS, MOST_SECONDS)) * fps
            if end - last - step < NEAREST_SECONDS * fps:
                step = (end - last) / 2
            frame = _beside(round(last + step), length, accents, round(last + MOST_SECONDS * fps))
            if frame + length > frames:
                break
            found.append(Blink(frame=max(0, frame), length=length))
            last = frame
        frame = _beside(end, length, accents, round(last + MOST_SECONDS * fps))
        if frame - last >= NEAREST_SECONDS * fps and frame + length <= frames:
            found.append(Blink(frame=frame, length=length))
            last = frame
    return tuple(found)


def _beside(frame: int, length: int, accents: Iterable[int], latest: int) -> int:
    """The frame nearest to this one, and none after `latest`, on which a blink covers no accent."""
    hit = set(accents)
    for by in range(10_000):
        for near in (frame + by, frame - by):
            if near <= latest and not hit & set(range(near, near + length)):
                return near
    return frame


def blinks_of(row: Sequence[str], first_frame: int = 0) -> tuple[Blink, ...]:
    """The blinks of eyes that are shown by their keys, frame by frame: one while they are not open. One of a
    single frame takes two. Raises Refusal where eyes stay shut for too long."""
    found: list[Blink] = []
    start: int | None = None
    for frame, key in enumerate([*row, OPEN[0]], start=first_frame):
        if key != OPEN[0]:
            start = frame if start is None else start
        elif start is not None:
            if frame - start > LONGEST_FRAMES:
                raise Refusal(
                    f"Frame {start + 1}: eyes stay shut for {LONGEST_FRAMES} frames at the most."
                )
            found.append(Blink(frame=start, length=max(2, frame - start)))
            start = None
    return tuple(found)


def eyes(blinks: Iterable[Blink], frames: int) -> tuple[Exposed, ...]:
    """What the eyes show on every frame: open, and in a blink half closed, closed and half closed again."""
    row = [OPEN] * frames
    for blink in blinks:
        for frame in range(blink.frame, min(blink.end, frames)):
            is_edge = frame in (blink.frame, blink.end - 1)
            row[frame] = HALF if is_edge and blink.length > 2 else CLOSED
    found: list[Exposed] = []
    start = 0
    for frame in range(1, frames + 1):
        if frame == frames or row[frame] != row[start]:
            key, drawing = row[start]
            found.append(
                Exposed(
                    frame=start, length=frame - start, mouth=key, drawing=drawing, reason="pause"
                )
            )
            start = frame
    return tuple(found)
