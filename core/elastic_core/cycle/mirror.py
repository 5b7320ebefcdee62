"""Left and right swapped, reflected in the sagittal plane (rule 4.3)."""

from collections.abc import Mapping

import numpy as np

from .. import rotation
from ..arrays import Index
from ..channels import channel
from ..clip.document import Plant
from ..curve import Curve, Key
from ..errors import Refusal
from ..figure import Figure
from ..motion import Motion

_OTHER_SIDE = {"left": "right", "right": "left", "middle": "middle"}


def partners(figure: Figure) -> Index:
    """For each joint the place of its mirror partner, or its own."""
    return np.array(
        [
            figure.place_of(joint.mirror) if joint.mirror else place
            for place, joint in enumerate(figure.joints)
        ],
        dtype=np.intp,
    )


def partner_of(figure: Figure, joint: str) -> str:
    """A joint's mirror partner, or itself."""
    return figure.joints[figure.place_of(joint)].mirror or joint


def mirrored(figure: Figure, motion: Motion) -> Motion:
    """The motion as a looking-glass between left and right shows it."""
    other = partners(figure)
    rest = figure.at_rest.rotations[0]
    # Turned as the body's axes see it, so that joints may rest at any angle.
    body = rotation.multiply(rotation.multiply(rest, motion.rotations), rotation.conjugate(rest))
    reflected = body[:, other] * np.array([1.0, 1.0, -1.0, -1.0])
    rotations = rotation.multiply(rotation.multiply(rotation.conjugate(rest), reflected), rest)
    flip = np.array([-1.0, 1.0, 1.0])
    return Motion(
        motion.travel * np.array([-1.0, 1.0, -1.0]),
        motion.root_move * flip,
        np.asfortranarray(rotations),
        {int(np.flatnonzero(other == j)[0]): move * flip for j, move in motion.moves.items()},
        {int(np.flatnonzero(other == j)[0]): scale for j, scale in motion.scales.items()},
    )


def mirrored_plant(figure: Figure, plant: Plant) -> Plant:
    """The other foot's plant."""
    return plant.model_copy(
        update={"joint": partner_of(figure, plant.joint), "side": _OTHER_SIDE[plant.side]}
    )


def mirrored_name(figure: Figure, name: str) -> str:
    """The channel on the other side."""
    own = channel(name)
    if not own.joint:
        return name
    return f"{partner_of(figure, own.joint)}.{own.part}.{own.axis}"


def mirrored_curve(name: str, curve: Curve) -> Curve:
    """A channel's curve as the other side plays it: reflected where it points sideways."""
    own = channel(name)
    if own.part == "scale":
        return curve
    sideways = ("y", "z") if own.part == "turn" else ("x", "heading")
    return curve.mirrored() if own.axis in sideways else curve


def check_mirrors(figure: Figure) -> None:
    """Whether curves can be swapped as they are: partners must rest upright and turn alike.

    Raises Refusal with the joints that do not.
    """
    rest = figure.at_rest.rotations[0]
    for place, joint in enumerate(figure.joints):
        other = figure.joints[figure.place_of(joint.mirror)] if joint.mirror else joint
        if joint.euler_order != other.euler_order:
            raise Refusal(
                f"{joint.name} and {other.name} turn in different orders: no mirror fits."
            )
        if joint.mirror and not np.allclose(np.abs(rest[place]), rotation.IDENTITY, atol=1e-6):
            raise Refusal(f"{joint.name} does not rest upright, so its keys cannot be mirrored.")


def mirrored_keys(figure: Figure, curves: Mapping[str, Curve]) -> dict[str, Curve]:
    """All curves with left and right swapped."""
    check_mirrors(figure)
    return {
        mirrored_name(figure, name): mirrored_curve(name, curve) for name, curve in curves.items()
    }


def with_other_half(figure: Figure, curves: Mapping[str, Curve], length: int) -> dict[str, Curve]:
    """Curves over `[0, length / 2)` and their mirror image over the second half of a cycle.

    Keys of the second half are left out; a joint that has keys on one side only gets them on both.
    """
    check_mirrors(figure)
    half = length / 2
    first = {name: _before(curve, half) for name, curve in curves.items()}
    names = {*first, *(mirrored_name(figure, name) for name in first)}
    whole: dict[str, Curve] = {}
    for name in sorted(names):
        other = mirrored_name(figure, name)
        own = first.get(name)
        image = first.get(other)
        keys: list[Key] = list(own.keys) if own else []
        if image:
            keys += [
                key.model_copy(update={"time": key.time + half})
                for key in mirrored_curve(other, image).keys
            ]
        if keys:
            whole[name] = Curve(keys=tuple(keys), before="repeat", after="repeat")
    return whole


def _before(curve: Curve, end: float) -> Curve | None:
    return curve.only((curve.times >= 0) & (curve.times < end))


def is_own_half(length: int, frame: float) -> bool:
    """Whether a frame lies in the half that is made, and not in the one that follows it."""
    return 0 <= frame < length / 2
