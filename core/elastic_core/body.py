"""A figure's body as one speaks of it: its joints by what they are called, and the parts they make up."""

from .anatomy import body_parts, legs_of
from .figure import Figure
from .frozen import Shown
from .reach import ends_limb
from .sides import Side, spoken


class BodyJoint(Shown):
    """A joint, what one calls it, the place of its parent (−1 for the root), its side, and whether it is a
    hand or a foot, which reaches."""

    name: str
    label: str
    parent: int
    side: Side
    reaches: bool


class Body(Shown):
    """A figure's joints in order, its parts by their names, and how tall it is at rest. `feet` are those its
    legs end in, by their sides, `legs_by_hand` tells whether they were set so."""

    height_metres: float
    feet: dict[Side, str]
    legs_by_hand: bool
    joints: list[BodyJoint]
    parts: dict[str, list[str]]


def body_of(figure: Figure) -> Body:
    """The body of a figure; parts that were not recognised are left out."""
    return Body(
        height_metres=figure.height_metres,
        feet={leg.side: figure.names[leg.foot] for leg in legs_of(figure)},
        legs_by_hand=figure.legs is not None,
        joints=[
            BodyJoint(
                name=joint.name,
                label=spoken(joint.name),
                parent=joint.parent,
                side=joint.side,
                reaches=ends_limb(figure, place),
            )
            for place, joint in enumerate(figure.joints)
        ],
        parts=body_parts(figure),
    )
