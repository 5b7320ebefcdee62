"""What the page draws of a cut-out, worked out."""

import numpy as np

from .. import rotation
from ..anatomy import legs_of
from ..arrays import Array
from ..errors import Refusal
from ..figure import Figure, forward
from ..frozen import Shown
from ..motion import Motion
from ..sides import side_of
from .cut_out import CutOut, CutPart, figure_of
from .drawing_set import DrawingSet
from .view import PlacedDrawing, set_sheet

# A try: every part swings about its pivot once, those that hang on it a little later.
SWING_FRAMES, SWING_DEGREES, LATER = 48, 14.0, 0.12
Lies = tuple[float, float, float, float, float, float]


class PartShown(Shown):
    """A part: on which side of the figure it is, and its partner on the other."""

    part: CutPart
    side: str
    partner: str | None


class CutOutSheet(Shown):
    """A cut-out, with what follows from it: its parts from back to front, where each drawing lies on the sheet,
    how far the paper reaches (left, below, right, above), the drawings that are no part, whether it has `legs`
    to walk on, and what is in the way of making the figure. Over the frames of `swing` it tries its joints: for
    each part from back to front what takes a place of the sheet to where it lies then (a, b, c, d, e, f:
    x′ = a·x + c·y + e, y′ = b·x + d·y + f)."""

    cut_out: CutOut
    parts: list[PartShown]
    placed: list[PlacedDrawing]
    reach: tuple[float, float, float, float]
    unused: list[int]
    has_legs: bool
    hitch: str | None
    swing: list[list[Lies]]


def cut_out_sheet(cut_out: CutOut, drawn: DrawingSet) -> CutOutSheet:
    """A cut-out of a set, worked out."""
    parts = sorted(cut_out.parts, key=lambda part: part.order)
    placed = set_sheet(drawn).placed
    used = {number for part in parts for number in part.drawings}
    figure, hitch = _made(cut_out, drawn)
    sides = {joint.name: joint.mirror for joint in figure.joints} if figure else {}
    return CutOutSheet(
        cut_out=cut_out,
        parts=[
            PartShown(part=part, side=side_of(part.name), partner=sides.get(part.name))
            for part in parts
        ],
        placed=placed,
        reach=_reach(placed, used),
        unused=[number for number in drawn.numbers if number not in used],
        has_legs=figure is not None and len(legs_of(figure)) == 2,
        hitch=hitch,
        swing=_swing(cut_out, figure, parts) if figure else [],
    )


def _made(cut_out: CutOut, drawn: DrawingSet) -> tuple[Figure | None, str | None]:
    try:
        return figure_of(cut_out, drawn), None
    except Refusal as refusal:
        return None, str(refusal)


def _reach(placed: list[PlacedDrawing], used: set[int]) -> tuple[float, float, float, float]:
    """How far the pictures of parts reach on the sheet; all of them where none is a part."""
    shown = [one for one in placed if one.number in used] or placed
    corners = np.array([(0, 0, 1), (1, 0, 1), (0, 1, 1), (1, 1, 1)], dtype=np.float64)
    xs = np.concatenate([corners @ np.array(one.across) for one in shown])
    ys = np.concatenate([corners @ np.array(one.up) for one in shown])
    return float(xs.min()), float(ys.min()), float(xs.max()), float(ys.max())


def _swing(cut_out: CutOut, figure: Figure, parts: list[CutPart]) -> list[list[Lies]]:
    phases = np.arange(SWING_FRAMES) / SWING_FRAMES
    motion = Motion.resting(SWING_FRAMES, len(figure.joints), figure.offsets[0])
    for place, joint in enumerate(figure.joints):
        if place:
            depth = len(cut_out.above(joint.name))
            # Those on the far side swing against those on the near one.
            against = 0.5 if joint.side == "left" else 0.0
            degrees = SWING_DEGREES * np.sin(2 * np.pi * (phases - LATER * depth + against))
            motion.rotations[:, place] = rotation.about_axis("X", np.radians(degrees))
    placed = forward(figure, motion)
    shown = [_lies(cut_out, figure, placed.positions, placed.rotations, part) for part in parts]
    return [[_written(one[frame]) for one in shown] for frame in range(SWING_FRAMES)]


def _lies(
    cut_out: CutOut, figure: Figure, positions: Array, rotations: Array, part: CutPart
) -> Array:
    """What takes the sheet to where a part's paper lies. [frames, 2, 3]"""
    place = figure.place_of(part.name)
    ahead = 1.0 if cut_out.looks == "right" else -1.0
    # A turn about +x takes up to ahead: as the hands of a clock go for one that looks to the right.
    turn = ahead * 2 * np.arctan2(rotations[:, place, 1], rotations[:, place, 0])
    cos, sin = np.cos(turn), np.sin(turn)
    carrier = cut_out.part(cut_out.carriers[0]).pivot[0]
    at_x = ahead * positions[:, place, 2] / cut_out.height_metres + carrier
    at_y = positions[:, place, 1] / cut_out.height_metres
    x, y = part.pivot
    rows = [cos, sin, at_x - cos * x - sin * y, -sin, cos, at_y + sin * x - cos * y]
    found: Array = np.stack(rows, axis=-1).reshape(-1, 2, 3)
    return found


def _written(lies: Array) -> Lies:
    (a, c, e), (b, d, f) = lies.round(6).tolist()
    return a, b, c, d, e, f
