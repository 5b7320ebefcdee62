"""Accents: the syllables of a line that the body can hit, stressed and loud."""

from dataclasses import dataclass

from .reading import Reading, SpokenPhone

# Of two that follow each other sooner than this only the louder one is hit.
APART_SECONDS = 0.25
# Softer than this beside the line's usual nothing is an accent.
LEAST_DB = -4.0


@dataclass(frozen=True)
class Accent:
    """A stressed vowel: when it begins, in seconds, in which word, and how loud it is beside the line's
    usual."""

    seconds: float
    word: str
    loudness_db: float


def accents_of(reading: Reading) -> tuple[Accent, ...]:
    """The accents of a line, in order: of each word its loudest stressed vowel, where that is loud enough."""
    found: list[Accent] = []
    for word in reading.words:
        stressed = [phone for phone in word.phones if phone.stressed]
        if not word.fits or not stressed:
            continue
        loudest = max(stressed, key=_loudness)
        here = Accent(loudest.start, word.word, _loudness(loudest))
        if here.loudness_db < LEAST_DB:
            continue
        if found and here.seconds - found[-1].seconds < APART_SECONDS:
            if here.loudness_db > found[-1].loudness_db:
                found[-1] = here
            continue
        found.append(here)
    return tuple(found)


def _loudness(phone: SpokenPhone) -> float:
    return 0.0 if phone.loudness_db is None else phone.loudness_db
