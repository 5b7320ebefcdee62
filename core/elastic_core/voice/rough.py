"""A rough reading, from the sound alone (rule 7.1): how loud it is says how far a mouth is open, and how
bright whether it is rounded or spread."""

import numpy as np

from ..errors import Refusal
from .loudness import SPEECH_HZ, STEP_SECONDS, Loudness, Speech, loudness_of, pauses_of
from .reading import LEAST_PAUSE_SECONDS, Mouthing, Opening, Reading, Stretch

# One look at the mouth, and how long a mouth stays at the least.
_LOOK_SECONDS, _LEAST_SECONDS = 0.02, 0.06
# Below the loud parts of the line by so many decibels: an open mouth, a half open one; softer, and it is
# nearly shut.
_OPEN_UNDER_DB, _HALF_UNDER_DB = 5.0, 14.0
# Where what lies over 1 kHz is so much softer than the whole, lips are rounded.
_DARK_UNDER_DB = 16.0


def read_roughly(speech: Speech) -> Reading:
    """Open, half, narrow and closed, from loudness and brightness. [samples at 16 kHz]

    Raises Refusal where nothing is said.
    """
    seconds = len(speech) / SPEECH_HZ
    loudness = loudness_of(speech)
    if not len(speech) or loudness.whole.max() < -60.0:
        raise Refusal("Nothing is said in this sound.")
    look = round(_LOOK_SECONDS / STEP_SECONDS)
    count = max(1, len(loudness.whole) // look)
    whole = loudness.whole[: count * look].reshape(count, -1).mean(axis=1)
    bright = loudness.bright[: count * look].reshape(count, -1).mean(axis=1)
    openings = _openings(loudness, whole, bright)
    return Reading(
        seconds=seconds,
        pauses=tuple(
            Stretch(start=start, end=min(end, seconds))
            for start, end in pauses_of(loudness, LEAST_PAUSE_SECONDS)
            if start < seconds
        ),
        rough=_in_stretches(openings, seconds),
    )


def _openings(
    loudness: Loudness, whole: "np.ndarray[tuple[int], np.dtype[np.float64]]",
    bright: "np.ndarray[tuple[int], np.dtype[np.float64]]",
) -> list[Opening]:  # fmt: skip
    """What the mouth does at each look."""
    said = whole > loudness.threshold_db
    loud = float(np.quantile(whole[said], 0.8)) if said.any() else 0.0
    found: list[Opening] = []
    for level, above, is_said in zip(whole, bright, said, strict=True):
        if not is_said:
            found.append("closed")
        elif level - above > _DARK_UNDER_DB:
            found.append("narrow")
        elif level > loud - _OPEN_UNDER_DB:
            found.append("open")
        elif level > loud - _HALF_UNDER_DB:
            found.append("half")
        else:
            found.append("narrow")
    return found


def _in_stretches(openings: list[Opening], seconds: float) -> tuple[Mouthing, ...]:
    """Looks that tell the same, together; one that is too short goes with what was before it."""
    runs: list[tuple[Opening, int]] = []
    for opening in openings:
        if runs and runs[-1][0] == opening:
            runs[-1] = (opening, runs[-1][1] + 1)
        else:
            runs.append((opening, 1))
    least = round(_LEAST_SECONDS / _LOOK_SECONDS)
    kept: list[tuple[Opening, int]] = []
    for opening, count in runs:
        if kept and (count < least or kept[-1][0] == opening):
            kept[-1] = (kept[-1][0], kept[-1][1] + count)
        else:
            kept.append((opening, count))
    found, at = [], 0
    for place, (opening, count) in enumerate(kept):
        end = seconds if place == len(kept) - 1 else min(seconds, (at + count) * _LOOK_SECONDS)
        start = min(seconds, at * _LOOK_SECONDS)
        found.append(Mouthing(start=start, end=end, opening=opening))
        at += count
    return tuple(found)
