"""A figure's dress: what is painted on its joints, as hulls of balls.

A ball is a sphere in a joint's frame. A hull is painted as the convex outline of its projected
balls. A hull of several sections is a chain: each pair of neighbouring sections has its own outline.
All lengths are metres; colours are #rrggbb. See docs/formats.md for every field.
"""

from collections.abc import Mapping
from typing import Annotated

import numpy as np
from pydantic import ConfigDict, Field

from .arrays import Array
from .frozen import Frozen
from .quantities import Metres as Bounded
from .tracing import Picture

Colour = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
Offset = tuple[Bounded, Bounded, Bounded]


class DressPart(Frozen):
    model_config = ConfigDict(extra="forbid")


class Ball(DressPart):
    """A sphere, or with `radius_x` and `radius_z` a flat ring of small ones."""

    joint: str
    offset: Offset = (0.0, 0.0, 0.0)
    radius: Bounded = 0.0
    radius_x: Bounded | None = None
    radius_z: Bounded | None = None
    tilt: Bounded = 0.0
    roll: Bounded = 0.0
    to: str | None = None
    t: Bounded = 0.0


class Hull(DressPart):
    """One painted shape."""

    name: str
    sections: tuple[tuple[Ball, ...], ...]
    fill: Colour
    shade: Colour | None = None
    flat: bool = False
    hatch: bool = False
    lit: Bounded | None = None
    line: Bounded = 1.0
    split: bool = False
    weld: str | None = None
    group: str | None = None
    depth_bias: Bounded = 0.0
    anchor: tuple[str, ...] = ()
    under: tuple[str, ...] = ()
    mirror: bool = False
    minor: bool = False
    tiny: bool = False
    inside: bool = False


class Point(DressPart):
    """A point in a joint's frame; in the detail's own joint where none is named."""

    offset: Offset
    joint: str | None = None


class Detail(DressPart):
    """A stroke (`points`) or small dots on a hull, shown where its normal faces the camera."""

    on: str
    joint: str
    points: tuple[Point, ...] = ()
    dots: tuple[Point, ...] = ()
    radius: Bounded = 0.0
    squash: Bounded = 1.0
    close: bool = False
    smooth: bool = False
    fill: Colour | None = None
    line: Bounded = 0.0
    colour: Colour | None = None
    normal: Offset | None = None
    limit: Bounded = 0.08
    mirror: bool = False
    ghost: bool = False


Share = Annotated[float, Field(ge=-10.0, le=10.0)]


class CardPicture(DressPart):
    """One drawing of a card: its number, and its picture. Where it does not lie as the card does it has a
    `pivot` of its own, and is turned and sized besides."""

    drawing: Annotated[int, Field(ge=0, le=999_999_999)]
    picture: Picture
    pivot: tuple[Share, Share] | None = None
    turn_degrees: Annotated[float, Field(ge=-720.0, le=720.0)] = 0.0
    scale: Annotated[float, Field(ge=0.0001, le=10_000.0)] = 1.0


class Card(DressPart):
    """A picture as a part of a cut-out: it lies in the joint's y–z plane, its right along z, its `pivot` (in
    parts of the picture from the left and from its foot) at the joint, turned about it by `turn_degrees` as the
    hands of a clock go. The first of its `pictures` shows where nothing says another. Cards of a higher `order`
    lie over those of a lower one, as one sees them from their right; from their left it is the other way
    round."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    joint: str
    pictures: Annotated[tuple[CardPicture, ...], Field(min_length=1, max_length=500)]
    drawings: Annotated[str, Field(max_length=40)] = ""
    pivot: tuple[Share, Share] = (0.5, 0.5)
    metres_per_pixel: Annotated[float, Field(gt=0.0, le=10.0)] = 0.001
    turn_degrees: Annotated[float, Field(ge=-360.0, le=360.0)] = 0.0
    order: Annotated[int, Field(ge=-1_000, le=1_000)] = 0
    mirrored: bool = False

    @property
    def painted_corners(self) -> Array:
        """The corners of what is painted of its first picture, in the joint's frame, metres. [4, 3]"""
        shown = self.pictures[0]
        left, below, right, above = shown.picture.painted or (0.0, 0.0, 1.0, 1.0)
        across, up = shown.pivot or self.pivot
        metres = self.metres_per_pixel * shown.scale
        z = metres * shown.picture.width_pixels * (np.array([left, right, right, left]) - across)
        y = metres * shown.picture.height_pixels * (np.array([below, below, above, above]) - up)
        turn = np.radians(self.turn_degrees + shown.turn_degrees)
        cos, sin = np.cos(turn), np.sin(turn)
        side = -1.0 if self.mirrored else 1.0
        return np.stack([np.zeros(4), cos * y - sin * z, side * (cos * z + sin * y)], axis=-1)


class Dress(DressPart):
    """Everything a figure wears. `groups` are painted as blocks, each with a depth bias; `cards` are the parts
    of a cut-out."""

    groups: dict[str, Bounded] = Field(default={})
    hulls: tuple[Hull, ...] = ()
    details: tuple[Detail, ...] = ()
    cards: Annotated[tuple[Card, ...], Field(max_length=500)] = ()

    @property
    def both_sides(self) -> "Dress":
        """The same with what is mirrored written out: each such part once more, on the other side."""
        hulls = [
            made
            for hull in self.hulls
            for made in ((hull, _flipped_hull(hull)) if hull.mirror else (hull,))
        ]
        details = [
            made
            for detail in self.details
            for made in ((detail, _flipped_detail(detail)) if detail.mirror else (detail,))
        ]
        plain = {"mirror": False}
        return self.model_copy(
            update={
                "hulls": tuple(hull.model_copy(update=plain) for hull in hulls),
                "details": tuple(detail.model_copy(update=plain) for detail in details),
            }
        )

    @property
    def drawing_ids(self) -> set[str]:
        """The drawing sets that its cards take their pictures from."""
        return {card.drawings for card in self.cards} - {""}

    def with_drawing_ids(self, ids: Mapping[str, str]) -> "Dress":
        """The same with other names for those drawing sets; a card of a set without one keeps its pictures."""
        if not self.cards:
            return self
        cards = tuple(
            card.model_copy(update={"drawings": ids.get(card.drawings, "")}) for card in self.cards
        )
        return self.model_copy(update={"cards": cards})


_SIDES = {"l_": "r_", "r_": "l_"}


def _other_side(name: str) -> str:
    return _SIDES.get(name[:2], name[:2]) + name[2:]


def _flipped_offset(offset: Offset) -> Offset:
    return (-offset[0], offset[1], offset[2])


def _flipped_ball(ball: Ball) -> Ball:
    return ball.model_copy(
        update={
            "joint": _other_side(ball.joint),
            "to": _other_side(ball.to) if ball.to else ball.to,
            "offset": _flipped_offset(ball.offset),
            "roll": -ball.roll,
        }
    )


def _flipped_hull(hull: Hull) -> Hull:
    return hull.model_copy(
        update={
            "name": _other_side(hull.name),
            "group": _other_side(hull.group) if hull.group else hull.group,
            "weld": _other_side(hull.weld) if hull.weld else hull.weld,
            "under": tuple(map(_other_side, hull.under)),
            "anchor": tuple(map(_other_side, hull.anchor)),
            "sections": tuple(tuple(map(_flipped_ball, section)) for section in hull.sections),
        }
    )


def _flipped_point(point: Point) -> Point:
    joint = _other_side(point.joint) if point.joint else point.joint
    return point.model_copy(update={"joint": joint, "offset": _flipped_offset(point.offset)})


def _flipped_detail(detail: Detail) -> Detail:
    return detail.model_copy(
        update={
            "on": _other_side(detail.on),
            "joint": _other_side(detail.joint),
            "points": tuple(map(_flipped_point, detail.points)),
            "dots": tuple(map(_flipped_point, detail.dots)),
            "normal": _flipped_offset(detail.normal) if detail.normal else detail.normal,
        }
    )
