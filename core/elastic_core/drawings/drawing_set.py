"""A drawing set: numbered pictures that belong together, on one peg."""

from collections import defaultdict
from functools import cached_property
from typing import Annotated, Self

import numpy as np
from pydantic import Field, model_validator

from ..arrays import Array
from ..errors import Refusal
from ..frozen import Frozen
from ..tracing import MOST_PICTURES, Picture
from .numbers import missing_between
from .run import Drawing

PointName = Annotated[str, Field(min_length=1, max_length=60)]
# Parts of a picture's width and height; a point may lie beside the picture.
Share = Annotated[float, Field(ge=-10.0, le=10.0)]
Pixels = Annotated[float, Field(ge=-100_000.0, le=100_000.0)]
Degrees = Annotated[float, Field(ge=-360.0, le=360.0)]
Times = Annotated[float, Field(ge=0.01, le=100.0)]
MOST_POINTS = 20


class Pegs(Frozen):
    """How the sheets of a set lie: every picture's `anchor` lies on the others', in parts of its width from
    the left and of its height from its foot. `scale` and `turn_degrees` (as the hands of a clock go) are about
    it."""

    anchor: tuple[Share, Share] = (0.5, 0.0)
    scale: Times = 1.0
    turn_degrees: Degrees = 0.0


class SetDrawing(Frozen):
    """A drawing: its number, its picture, and how it is nudged on the pegs, to the right and up in pixels.
    `points` are places on it that are followed through the drawings, in parts of it as an anchor is."""

    number: Drawing
    picture: Picture
    name: Annotated[str, Field(max_length=255)] = ""
    shift_pixels: tuple[Pixels, Pixels] = (0.0, 0.0)
    scale: Times = 1.0
    turn_degrees: Degrees = 0.0
    points: Annotated[dict[PointName, tuple[Share, Share]], Field(max_length=MOST_POINTS)] = Field(
        default={}
    )


class DrawingSet(Frozen):
    """A set, as a document: its drawings by their numbers."""

    schema_version: int = Field(default=1, ge=1, le=1)
    name: Annotated[str, Field(min_length=1, max_length=120)]
    pegs: Pegs = Pegs()
    drawings: Annotated[tuple[SetDrawing, ...], Field(min_length=1, max_length=MOST_PICTURES)]

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        numbers = [drawing.number for drawing in self.drawings]
        if numbers != sorted(set(numbers)):
            raise Refusal(
                "The drawings of a set have numbers of their own, and lie in their order."
            )
        return self

    @cached_property
    def by_number(self) -> dict[int, SetDrawing]:
        return {drawing.number: drawing for drawing in self.drawings}

    @property
    def numbers(self) -> tuple[int, ...]:
        return tuple(drawing.number for drawing in self.drawings)

    @property
    def missing(self) -> tuple[int, ...]:
        """The numbers that lack between its first and its last."""
        return missing_between(self.numbers)

    @property
    def same(self) -> tuple[tuple[int, ...], ...]:
        """Drawings that are one and the same picture, by their numbers."""
        by_file: dict[str, list[int]] = defaultdict(list)
        for drawing in self.drawings:
            by_file[drawing.picture.file].append(drawing.number)
        return tuple(tuple(numbers) for numbers in by_file.values() if len(numbers) > 1)

    @property
    def height_pixels(self) -> int:
        """How high a sheet is: as high as the highest picture."""
        return max(drawing.picture.height_pixels for drawing in self.drawings)

    def drawing(self, number: int) -> SetDrawing:
        """A drawing by its number. Raises Refusal where the set lacks it."""
        if number not in self.by_number:
            raise Refusal(f"“{self.name}” has no drawing {number}.")
        return self.by_number[number]

    def placed(self, drawing: SetDrawing) -> Array:
        """Where a picture lies: what takes a place on it (from the left, from its foot, in parts of it) to the
        sheet, whose height is 1 and whose pegs are at the origin, x to the right and y up. [2, 3]"""
        wide, high = drawing.picture.width_pixels, drawing.picture.height_pixels
        sheet = self.height_pixels
        anchor_x, anchor_y = self.pegs.anchor
        to_pixels = np.array([[wide, 0, -anchor_x * wide], [0, high, -anchor_y * high], [0, 0, 1]])
        own = _turned(drawing.turn_degrees, drawing.scale, drawing.shift_pixels)
        pegs = _turned(self.pegs.turn_degrees, self.pegs.scale, (0.0, 0.0))
        found: Array = ((pegs @ own @ to_pixels)[:2]) / sheet
        return found

    @property
    def middle(self) -> tuple[float, float]:
        """Where the middle of its first drawing lies on the sheet, from the pegs."""
        x, y = self.placed(self.drawings[0]) @ (0.5, 0.5, 1.0)
        return float(x), float(y)


def _turned(degrees: float, scale: float, shift: tuple[float, float]) -> Array:
    """A turn as a clock's hands go and a scale about the origin, then a shift. [3, 3]"""
    turn = np.radians(degrees)
    cos, sin = scale * np.cos(turn), scale * np.sin(turn)
    return np.array([[cos, sin, shift[0]], [-sin, cos, shift[1]], [0.0, 0.0, 1.0]])
