"""A second look at closed lips: where a recogniser is least sure, after a pause, the loudness tells too.

Before a P nothing is heard until the lips let go, so they are said to meet 0.06 s before that. Of a B a hum
may be heard before, and an M hums all the time: then they have met when the hum begins. A recogniser guesses
too early where loudness tells too late, and the other way round: for P and B the middle of the two is taken,
within 0.03 s of what loudness tells.
"""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from .loudness import STEP_SECONDS, Loudness
from .phones import CLOSURES
from .reading import SpokenPhone

CLOSED_BEFORE_RELEASE_SECONDS = 0.06
_MOST_LEAN_SECONDS = 0.03
# So long before a sound, nothing is said: then it comes after a pause.
_SILENCE_SECONDS = 0.04
_LOOKS_BACK_SECONDS, _LOOKS_ON_SECONDS = 0.16, 0.06
# A hum that is heard for so long before the lips let go is a hum.
_HUM_SECONDS = 0.02
_LEAST_SECONDS = 0.02
_GAP_SECONDS, _LONG_SECONDS = 0.03, 0.14
# Lips that are closed in the midst of speech are as silent as a pause, but not for so long.
_LONGEST_CLOSED_SECONDS = 0.15


def ended_in_silence(phones: Sequence[SpokenPhone], loudness: Loudness) -> list[SpokenPhone]:
    """The same phones; one that runs on into a pause ends where it is heard no more."""
    found = list(phones)
    for place, phone in enumerate(phones):
        before_stop = place + 1 < len(phones) and phones[place + 1].start - phone.end < _GAP_SECONDS
        if before_stop:
            continue
        low, high = loudness.step(phone.start), loudness.step(phone.end)
        said = np.flatnonzero(loudness.speaks[low:high])
        silent = high - low - (int(said[-1]) + 1 if len(said) else 0)
        if len(said) and silent * STEP_SECONDS > _SILENCE_SECONDS:
            end = max(phone.start + _LEAST_SECONDS, phone.end - silent * STEP_SECONDS)
            found[place] = phone.model_copy(update={"end": end})
    return found


def looked_at_again(phones: Sequence[SpokenPhone], loudness: Loudness) -> list[SpokenPhone]:
    """The same phones, closures after a pause where they are heard."""
    found = list(phones)
    for place, phone in enumerate(phones):
        before = found[place - 1].end if place else 0.0
        silence = _silence_before(phone, before if place else None)
        if phone.phone in CLOSURES and silence is not None:
            heard = _heard_from(phone, before, loudness, silence)
            if heard is not None:
                start = min(max(before, heard), phone.end - _LEAST_SECONDS)
                found[place] = phone.model_copy(update={"start": max(0.0, start)})
    for place, (one, after) in enumerate(pairwise(found)):
        if one.end > after.start:
            found[place] = one.model_copy(update={"end": max(one.start, after.start)})
    return found


def _silence_before(phone: SpokenPhone, before: float | None) -> float | None:
    """How long nothing is said where a closure follows a pause; nothing where it follows none: a recogniser
    leaves a gap there, or stretches the closure over it."""
    if before is None or phone.start - before >= _GAP_SECONDS:
        return _SILENCE_SECONDS
    return _LONGEST_CLOSED_SECONDS if phone.seconds > _LONG_SECONDS else None


def _heard_from(
    phone: SpokenPhone, before: float, loudness: Loudness, silence_seconds: float
) -> float | None:
    """When the lips of a closure have met, in seconds; nothing where it comes in the middle of speech."""
    low = loudness.step(max(before - 0.02, phone.start - _LOOKS_BACK_SECONDS))
    high = loudness.step(phone.end + _LOOKS_ON_SECONDS)
    speaks = loudness.speaks[low:high]
    silence = round(silence_seconds / STEP_SECONDS)
    onset = _onset_after_silence(speaks, silence, at_the_start=low == 0)
    if onset is None:
        return None
    heard = (low + onset) * STEP_SECONDS
    if phone.phone == "M":
        return heard
    bright = loudness.bright[low + onset : high]
    if len(bright) < 3:
        return None
    release = heard + int(np.argmax(np.diff(bright[: round(0.12 / STEP_SECONDS)]))) * STEP_SECONDS
    if phone.phone != "B" or release - heard <= _HUM_SECONDS:
        heard -= CLOSED_BEFORE_RELEASE_SECONDS
    lean = (phone.start - heard) / 2
    return heard + min(_MOST_LEAN_SECONDS, max(-_MOST_LEAN_SECONDS, lean))


def _onset_after_silence(
    speaks: "np.ndarray[tuple[int], np.dtype[np.bool_]]", silence: int, *, at_the_start: bool
) -> int | None:
    """The first step at which something is said after so many at which nothing was."""
    quiet = silence if at_the_start else 0
    for step, is_said in enumerate(speaks.tolist()):
        if not is_said:
            quiet += 1
        elif quiet >= silence:
            return step
        else:
            quiet = 0
    return None
