"""Cut-outs: figures of paper, built from the drawings of a layered set (rule 2.1)."""

from functools import cached_property
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..dress import Card, CardPicture, Dress
from ..errors import Refusal
from ..figure import Figure, Joint
from ..frozen import Frozen
from ..sides import sides_of
from .drawing_set import DrawingSet, SetDrawing
from .run import Drawing

MOST_PARTS = 200
PartName = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^.]+$")]
# In heights of the sheet, from its pegs.
Along = Annotated[float, Field(ge=-100.0, le=100.0)]
Place = tuple[Along, Along]
Looks = Literal["right", "left"]


class CutPart(Frozen):
    """A part: the drawing that it shows and those that may take its place, where on the sheet it turns, in
    heights of the sheet to the right of its pegs and up, and the part that it hangs on. `tip` is where it ends.
    Of a higher `order` it lies over others."""

    name: PartName
    drawings: Annotated[tuple[Drawing, ...], Field(min_length=1, max_length=500)]
    pivot: Place = (0.0, 0.0)
    parent: Annotated[str, Field(max_length=60)] = ""
    order: Annotated[int, Field(ge=-1_000, le=1_000)] = 0
    tip: Place | None = None


class CutOut(Frozen):
    """How a figure is cut out of a drawing set, as a document: a sheet is `height_metres` high. `figure` is the
    one that was made of it."""

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120)]
    drawings: Annotated[str, Field(min_length=1, max_length=40)]
    height_metres: Annotated[float, Field(gt=0.0, le=1_000.0)] = 1.8
    looks: Looks = "right"
    parts: Annotated[tuple[CutPart, ...], Field(max_length=MOST_PARTS)] = ()
    figure: Annotated[str, Field(max_length=40)] = ""

    @model_validator(mode="after")
    def _hangs_together(self) -> Self:
        names = {part.name for part in self.parts}
        if len(names) < len(self.parts):
            raise Refusal("Two parts of a cut-out cannot share a name.")
        for part in self.parts:
            if part.parent and part.parent not in names:
                raise Refusal(f"{part.name} hangs on “{part.parent}”, which is no part.")
            if part.name in self.above(part.name):
                raise Refusal(f"{part.name} would hang on itself.")
        return self

    @cached_property
    def by_name(self) -> dict[str, CutPart]:
        return {part.name: part for part in self.parts}

    def part(self, name: str) -> CutPart:
        """A part by its name. Raises Refusal where there is none."""
        if name not in self.by_name:
            raise Refusal(f"“{self.name}” has no part called “{name}”.")
        return self.by_name[name]

    def above(self, name: str) -> list[str]:
        """What a part hangs on, from its parent up; itself is among them where they go in a ring."""
        found: list[str] = []
        at = self.by_name[name].parent
        while at and at not in found:
            found.append(at)
            at = self.by_name[at].parent
        return found

    @property
    def carriers(self) -> list[str]:
        """The parts that hang on none."""
        return [part.name for part in self.parts if not part.parent]


def figure_of(cut_out: CutOut, drawn: DrawingSet) -> Figure:
    """The figure: its joints turn in the plane of the paper alone, and the carrier stands at the origin as high
    as it was drawn over the pegs.

    Raises Refusal where it has no parts, more than one carries the others, or a drawing is missing.
    """
    if not cut_out.parts:
        raise Refusal(f"“{cut_out.name}” has no parts yet.")
    if len(cut_out.carriers) > 1:
        raise Refusal(
            f"{' and '.join(cut_out.carriers)} hang on nothing: one part alone carries the others."
        )
    parts = _from_the_carrier(cut_out)
    places = {part.name: place for place, part in enumerate(parts)}
    sides = sides_of([part.name for part in parts])
    joints = []
    for part, side in zip(parts, sides, strict=True):
        above = cut_out.by_name[part.parent].pivot if part.parent else (part.pivot[0], 0.0)
        ends = () if part.tip is None else (_reach(cut_out, part.pivot, part.tip),)
        joints.append(
            Joint(
                name=part.name,
                parent=places[part.parent] if part.parent else -1,
                offset=_reach(cut_out, above, part.pivot),
                side=side.side,
                mirror=side.mirror,
                plane="x",
                end_sites=ends,
            )
        )
    cards = tuple(_card(cut_out, part, drawn) for part in parts)
    return Figure(name=cut_out.name, joints=tuple(joints), dress=Dress(cards=cards))


def _from_the_carrier(cut_out: CutOut) -> list[CutPart]:
    """The parts, each after the one that it hangs on."""
    depth = {part.name: len(cut_out.above(part.name)) for part in cut_out.parts}
    return sorted(cut_out.parts, key=lambda part: depth[part.name])


def _reach(cut_out: CutOut, start: Place, end: Place) -> tuple[float, float, float]:
    """From one place of the sheet to another, metres: what the figure looks to lies ahead of it."""
    ahead = 1.0 if cut_out.looks == "right" else -1.0
    high = cut_out.height_metres
    return (0.0, high * (end[1] - start[1]), ahead * high * (end[0] - start[0]))


def _card(cut_out: CutOut, part: CutPart, drawn: DrawingSet) -> Card:
    pictures = [
        CardPicture(
            drawing=number,
            picture=drawn.drawing(number).picture,
            pivot=on_picture(drawn, drawn.drawing(number), part.pivot),
            turn_degrees=drawn.drawing(number).turn_degrees,
            scale=drawn.drawing(number).scale,
        )
        for number in dict.fromkeys(part.drawings)
    ]
    pivot = pictures[0].pivot
    assert pivot is not None
    return Card(
        name=part.name,
        joint=part.name,
        pictures=tuple(pictures),
        drawings=cut_out.drawings,
        pivot=pivot,
        metres_per_pixel=min(10.0, cut_out.height_metres * drawn.pegs.scale / drawn.height_pixels),
        turn_degrees=drawn.pegs.turn_degrees,
        order=part.order,
        mirrored=cut_out.looks == "left",
    )


def on_picture(drawn: DrawingSet, drawing: SetDrawing, place: Place) -> tuple[float, float]:
    """A place of the sheet on a picture that lies there, in parts of it from the left and from its foot. Raises
    Refusal for one that is further away than ten of them."""
    laid = drawn.placed(drawing)
    across, up = np.linalg.solve(laid[:, :2], np.array(place) - laid[:, 2]).tolist()
    if max(abs(across), abs(up)) > 10:
        raise Refusal(f"The pivot lies too far from drawing {drawing.number}.")
    return across, up
