"""Legs set by hand, where names and shape do not tell them: a foot, and the two bones above it (rule 5.5)."""

from collections.abc import Mapping

from .errors import Refusal
from .figure import Figure, LegJoints
from .reach import limb_ending_at
from .saying import said
from .sides import Side


def with_legs(figure: Figure, feet: Mapping[Side, str]) -> Figure:
    """The figure with these joints as its feet, by their sides; without any its legs are read from names and
    shape again.

    Raises Refusal for a joint with no two bones between it and the root, and for legs that share one.
    """
    legs = tuple(_ending_at(figure, side, foot) for side, foot in sorted(feet.items()))
    joints = [name for leg in legs for name in (leg.thigh, leg.shin, leg.foot)]
    shared = [name for name in joints if joints.count(name) > 1]
    if shared:
        raise Refusal(f"Two legs would share {said(figure, shared[:1])}.")
    return figure.model_copy(update={"legs": legs or None})


def _ending_at(figure: Figure, side: Side, foot: str) -> LegJoints:
    limb = limb_ending_at(figure, foot)
    below = (place for place, parent in enumerate(figure.parents) if parent == limb.end)
    toe = next(below, None)
    return LegJoints(
        side=side,
        thigh=figure.names[limb.upper],
        shin=figure.names[limb.middle],
        foot=foot,
        toe=None if toe is None else figure.names[toe],
    )
