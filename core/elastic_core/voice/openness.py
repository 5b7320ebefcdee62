"""How far a mouth is open, as a share of the widest: what a jaw is driven by."""

from collections.abc import Mapping

from .chart import ChartMouths, Mouth, MouthSize, usual_mouth

# Of our ten mouths, and of a rough reading's.
OPEN: Mapping[str, float] = {
    "rest": 0.0,
    "mbp": 0.0,
    "fv": 0.1,
    "thl": 0.35,
    "ai": 1.0,
    "e": 0.5,
    "o": 0.7,
    "uw": 0.3,
    "consonants": 0.25,
    "smile": 0.1,
    "closed": 0.0,
    "narrow": 0.25,
    "half": 0.5,
    "open": 1.0,
}
_BY_SIZE: Mapping[MouthSize, float] = {"small": 0.6, "full": 1.0, "shouted": 1.25}


def openness(mouth: Mouth) -> float:
    """From 0, shut, to 1: by its key where it is one of ours, else by the widest of the phones it stands for;
    less where it is a soft one, more where it is shouted."""
    own = OPEN.get(mouth.key)
    if own is None:
        own = max((OPEN[usual_mouth(phone)] for phone in mouth.phones), default=0.0)
    return min(1.0, own * _BY_SIZE[mouth.size])


def openness_by_drawing(chart: ChartMouths) -> dict[int, float]:
    """The same for every drawing of a chart, by its number."""
    return {mouth.drawing: openness(mouth) for mouth in chart.mouths}
