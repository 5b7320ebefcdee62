"""Mouth charts of the demo: Odo from the front and in three-quarter, his eyes, and the gull's beak from the
side."""

import math
from collections.abc import Sequence

from elastic_core.voice.chart import FacePlace, Mouth, MouthChart, Stroke, usual_mouths
from elastic_core.voice.faces import lids

# Odo's face bends away from the front at this radius, in halves of his chart's width.
FACE_BENDS = 1.5
THREE_QUARTER_DEGREES = 42.0
MOUTH_WIDTH = 0.115
# How far his eyes are from his nose, half as wide and half as high as they are, and his skin.
EYES = (0.69, 0.21, 0.24, "#EFD2B3")
DARK, BILL, BILL_SHADE, TONGUE = "#43303A", "#E5A83C", "#C48525", "#CF7F86"


def odo_front(figure: str) -> MouthChart:
    """Odo's ten mouths, seen from the front."""
    return MouthChart(
        name="Odo, front",
        figure=figure,
        mouths=usual_mouths().mouths,
        view="front",
        place=FacePlace(
            joint="head", offset=(0.0, -0.008, 0.116), on="skull", width_metres=MOUTH_WIDTH
        ),
    )


def odo_three_quarter(figure: str) -> MouthChart:
    """The same mouths as his face turns away: the far corner goes round the cheek."""
    turn = math.radians(THREE_QUARTER_DEGREES)
    return MouthChart(
        name="Odo, three-quarter",
        figure=figure,
        mouths=tuple(_turned(mouth, turn) for mouth in usual_mouths().mouths),
        view="three-quarter",
        place=FacePlace(
            joint="head",
            offset=(0.030, -0.008, 0.106),
            on="skull",
            width_metres=MOUTH_WIDTH,
            heading_degrees=THREE_QUARTER_DEGREES,
        ),
    )


def gull_beak(figure: str) -> MouthChart:
    """The gull's beak: shut, half open, and wide open for a cry."""
    vowels = ("AA", "AE", "AH", "AO", "AW", "AY", "OW", "OY")
    narrow = ("EH", "ER", "EY", "IH", "IY", "R", "UH", "UW", "W", "HH", "K", "G", "NG", "L", "Y")
    return MouthChart(
        name="Gull’s beak",
        figure=figure,
        view="side",
        mouths=(
            Mouth(key="rest", drawing=1, name="Shut", strokes=_beak(0.0)),
            Mouth(key="half", drawing=2, name="Half open", phones=narrow, strokes=_beak(14.0)),
            Mouth(key="open", drawing=3, name="Open", phones=vowels, strokes=_beak(32.0)),
        ),
        place=FacePlace(
            joint="head",
            offset=(0.012, -0.010, 0.055),
            on="bill",
            width_metres=0.14,
            heading_degrees=90.0,
        ),
    )


def _turned(mouth: Mouth, turn: float) -> Mouth:
    """A mouth on a round face that is looked at from its left by `turn` radians."""

    def seen(point: tuple[float, float]) -> tuple[float, float]:
        x, y = point
        across = FACE_BENDS * (math.sin(x / FACE_BENDS - turn) + math.sin(turn))
        return (round(across, 3), y)

    strokes = tuple(
        stroke.model_copy(update={"points": tuple(seen(point) for point in stroke.points)})
        for stroke in mouth.strokes
    )
    return mouth.model_copy(update={"strokes": strokes})


def _beak(degrees: float) -> tuple[Stroke, ...]:
    """The lower bill dropped by so much, and the throat behind it; the tip is one to the right of what looks
    left."""
    tip, lower = (-1.0, -0.16), _about((-0.94, -0.24), degrees)
    under, corner = _about((-0.5, -0.34), degrees), (0.06, -0.02)
    line = Stroke(points=((0.02, -0.02), (-0.5, -0.1), tip), line=3.4)
    if not degrees:
        return (line,)
    throat = Stroke(points=(corner, tip, lower, under), closed=True, smooth=False, fill=DARK)
    tongue = Stroke(
        points=(corner, *(_about(point, degrees) for point in ((-0.3, -0.12), (-0.72, -0.18)))),
        closed=True,
        fill=TONGUE,
    )
    bill = Stroke(
        points=(corner, _about((-0.5, -0.17), degrees), lower, under, (0.02, -0.2)),
        closed=True,
        smooth=False,
        fill=BILL_SHADE,
        line=3.0,
    )
    return (throat, tongue, bill, line)


def _about(point: Sequence[float], degrees: float) -> tuple[float, float]:
    """Turned about the corner of the beak, down where it opens."""
    turn = math.radians(degrees)
    x, y = point
    return (
        round(x * math.cos(turn) - y * math.sin(turn), 3),
        round(x * math.sin(turn) + y * math.cos(turn), 3),
    )


def odo_eyes(figure: str) -> MouthChart:
    """His eyes: open as they are, half closed, and closed."""
    return MouthChart(
        name="Odo’s eyes",
        figure=figure,
        part="eyes",
        mouths=(
            Mouth(key="open", drawing=1, name="Open"),
            Mouth(key="half", drawing=2, name="Half closed", strokes=lids(0.5, *EYES)),
            Mouth(key="closed", drawing=3, name="Closed", strokes=lids(1.0, *EYES)),
        ),
        place=FacePlace(joint="head", offset=(0.0, 0.088, 0.090), on="skull", width_metres=0.13),
    )
