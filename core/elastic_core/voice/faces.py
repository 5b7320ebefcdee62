"""Where drawings stand on a face that nobody has placed them on yet, and lids for it."""

import math

from ..anatomy import known_joints
from ..figure import Figure
from .chart import FacePlace, Ink, Mouth, Stroke

# Beside a figure's height: how wide its mouths are drawn, how far a face lies before the head's joint, and how
# far eyes lie over its mouth.
_WIDE, _AHEAD, _EYES_OVER = 0.08, 0.08, 0.065
_LEAST_HEIGHT_METRES = 0.1
# A lid of our eyes: how far its middle is from the nose, and its half width and height, in halves of a chart.
_APART, _LID_WIDE, _LID_HIGH = 0.55, 0.3, 0.24


def proposed_place(figure: Figure, part: str) -> FacePlace:
    """Before the figure's head, or before the last joint up from its root where it has none that is known."""
    known = known_joints(figure)
    heads = [place for place, one in known.items() if one.part == "head"]
    joint = heads[0] if heads else len(figure.joints) - 1
    tall = max(_LEAST_HEIGHT_METRES, figure.height_metres)
    up = _EYES_OVER * tall if part == "eyes" else 0.0
    return FacePlace(
        joint=figure.names[joint],
        offset=(0.0, round(up, 4), round(_AHEAD * tall, 4)),
        width_metres=round(_WIDE * tall, 4),
    )


def usual_eyes() -> tuple[Mouth, ...]:
    """Open as they are, half closed, and closed: what blinks are exposed by."""
    return (
        Mouth(key="open", drawing=1, name="Open"),
        Mouth(key="half", drawing=2, name="Half closed", strokes=lids(0.5)),
        Mouth(key="closed", drawing=3, name="Closed", strokes=lids(1.0)),
    )


def lids(
    share: float,
    apart: float = _APART,
    wide: float = _LID_WIDE,
    high: float = _LID_HIGH,
    skin: Ink = "#EFD2B3",
) -> tuple[Stroke, ...]:
    """Both lids, so far down over the eyes, each with its lashes; lengths in halves of the chart's width."""
    found: list[Stroke] = []
    for middle in (-apart, apart):
        low = high * (1 - 2 * share)
        lid = [
            (middle + wide * math.cos(turn), max(low, high * math.sin(turn)))
            for turn in (math.tau * k / 24 for k in range(24))
        ]
        sag = 0.05 * share
        lashes = [
            (middle + wide * across, low + 0.06 - sag * (1 - across * across))
            for across in (-1.0, -0.5, 0.0, 0.5, 1.0)
        ]
        found.append(Stroke(points=tuple(lid), closed=True, smooth=False, fill=skin))
        found.append(Stroke(points=tuple(lashes), line=6.0))
    return tuple(found)
