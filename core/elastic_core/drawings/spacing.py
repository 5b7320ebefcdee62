"""How far a point goes from one drawing to the next: its spacing."""

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from .drawing_set import DrawingSet


@dataclass(frozen=True)
class PointAt:
    """A followed point on a drawing, in pixels of the sheet from its pegs, y up."""

    drawing: int
    x_pixels: float
    y_pixels: float


@dataclass(frozen=True)
class Step:
    """How far the point goes between two drawings that follow each other."""

    before: int
    after: int
    pixels: float


@dataclass(frozen=True)
class Spacing:
    """A point on the drawings that have it, in the order in which they come; `largest` is its largest step."""

    point: str
    places: tuple[PointAt, ...]
    steps: tuple[Step, ...]
    largest: Step | None


def spacing(drawn: DrawingSet, order: Iterable[int], point: str) -> Spacing:
    """A point through drawings in this order. Where one of them has it not, no step crosses it."""
    places: list[PointAt | None] = []
    for number in order:
        drawing = drawn.by_number.get(number)
        if drawing is None or point not in drawing.points:
            places.append(None)
            continue
        x, y = drawn.placed(drawing) @ np.array([*drawing.points[point], 1.0]) * drawn.height_pixels
        places.append(PointAt(number, float(x), float(y)))
    steps = tuple(
        Step(
            a.drawing, b.drawing, float(np.hypot(b.x_pixels - a.x_pixels, b.y_pixels - a.y_pixels))
        )
        for a, b in pairwise(places)
        if a is not None and b is not None
    )
    largest = max(steps, key=lambda step: step.pixels, default=None)
    return Spacing(point, tuple(place for place in places if place is not None), steps, largest)
