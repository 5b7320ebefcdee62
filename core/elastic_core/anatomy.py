"""What a figure's joints are, read from their names and their places in the tree.

Names differ from maker to maker: prefixes, sides written as letters or words, and the same joint
called after its bone or after its hinge. A joint is known here by its side and its part.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from .arrays import Index
from .figure import Figure, forward
from .sides import Side, side_of, sides_of

Part = Literal[
    "pelvis", "trunk", "neck", "head", "collar", "upper arm", "forearm", "hand",
    "thigh", "shin", "foot", "toe",
]  # fmt: skip

_PARTS: dict[Part, frozenset[str]] = {
    "pelvis": frozenset({"hips", "hip", "pelvis", "root"}),
    "trunk": frozenset(
        {"spine", "lowerback", "upperback", "back", "torso", "abdomen", "waist", "chest", "thorax",
         "ribs", "ribcage", "upperchest", "belly"}
    ),
    "neck": frozenset({"neck"}),
    "head": frozenset({"head", "skull"}),
    "collar": frozenset({"collar", "clavicle", "clav", "collarbone"}),
    "upper arm": frozenset({"upperarm", "uparm", "arm", "humerus", "shoulder"}),
    "forearm": frozenset({"forearm", "lowerarm", "lowarm", "elbow", "radius"}),
    "hand": frozenset({"hand", "wrist"}),
    "thigh": frozenset({"thigh", "upleg", "upperleg", "femur", "hip"}),
    "shin": frozenset({"shin", "calf", "knee", "lowleg", "lowerleg", "tibia"}),
    "foot": frozenset({"foot", "ankle"}),
    "toe": frozenset({"toe", "toes", "toebase", "ball"}),
}  # fmt: skip
_PELVIS = _PARTS["pelvis"] - {"root"}
_SIDED: tuple[Part, ...] = (
    "collar", "upper arm", "forearm", "hand", "thigh", "shin", "foot", "toe",
)  # fmt: skip


@dataclass(frozen=True)
class Known:
    """A joint that was recognised."""

    side: Side
    part: Part


@dataclass(frozen=True)
class Leg:
    """The joints of a leg, by their places; `toe` is missing on some figures."""

    side: Side
    thigh: int
    shin: int
    foot: int
    toe: int | None


def plain_name(name: str) -> str:
    """A name without its maker's prefix, side, case and separators: “mk:LeftUp_Leg” → “upleg”."""
    bare = name.rsplit(":", 1)[-1]
    return re.sub(r"[^a-z0-9]", "", _without_side(bare).lower())


def _without_side(name: str) -> str:
    name = re.sub(r"left|right", "", name, flags=re.IGNORECASE)
    name = re.sub(r"^[lrLR](?=[A-Z][a-z])", "", name)
    return re.sub(r"(?:^|(?<=[_. -]))(?:[lr]|near|far)(?=$|[_. -])", "", name, flags=re.IGNORECASE)


def same_spelling(name: str) -> tuple[str, Side]:
    """Names that differ only in how they are written come out alike."""
    return plain_name(name), side_of(name)


def known_joints(figure: Figure) -> dict[int, Known]:
    """Places of the joints that were recognised; of a side's doubles the first counts."""
    is_paper = any(joint.plane for joint in figure.joints)
    return dict(known_by_name(figure.names, figure.parents, without_partners=is_paper))


@lru_cache(maxsize=64)
def known_by_name(
    names: tuple[str, ...], parents: tuple[int, ...], without_partners: bool = False
) -> dict[int, Known]:
    """The same for names with the places of their parents; −1 where they hang on nothing yet. A cut-out may
    have the near arm alone: then a side counts `without_partners` too."""
    sides = [
        side_of(name) if without_partners else one.side
        for name, one in zip(names, sides_of(names), strict=True)
    ]
    found: dict[int, Known] = {}
    taken: set[tuple[Side, Part]] = set()
    for place, name in enumerate(names):
        stem = re.sub(r"\d+$", "", plain_name(name))
        part = _part(names, parents, found, place, stem, sides)
        if part is None or (part != "trunk" and (sides[place], part) in taken):
            continue
        taken.add((sides[place], part))
        found[place] = Known(sides[place], part)
    return found


def _part(
    names: Sequence[str],
    parents: Sequence[int],
    found: dict[int, Known],
    place: int,
    stem: str,
    sides: Sequence[Side],
) -> Part | None:
    side = sides[place]
    if side == "middle":
        if stem == "root" and any(plain_name(name) in _PELVIS for name in names):
            return None
        middle: tuple[Part, ...] = ("pelvis", "trunk", "neck", "head")
        return next((part for part in middle if stem in _PARTS[part]), None)
    if stem == "shoulder" and _below(names, parents, place, {"arm", "upperarm", "uparm"}):
        return "collar"
    if stem == "leg":
        above = found.get(parents[place])
        return "shin" if above and above.part == "thigh" else "thigh"
    return next((part for part in _SIDED if stem in _PARTS[part]), None)


def _below(names: Sequence[str], parents: Sequence[int], place: int, stems: set[str]) -> bool:
    """Whether a child of a joint goes by one of these names."""
    return any(
        parent == place and re.sub(r"\d+$", "", plain_name(name)) in stems
        for name, parent in zip(names, parents, strict=True)
    )


def legs_of(figure: Figure) -> tuple[Leg, ...]:
    """Legs as they were set by hand; else by name; without names, the two chains that reach lowest on
    either side."""
    return figure.once("legs", lambda: _legs_of(figure))


def _legs_of(figure: Figure) -> tuple[Leg, ...]:
    if figure.legs is not None:
        return tuple(
            Leg(
                leg.side,
                figure.place_of(leg.thigh),
                figure.place_of(leg.shin),
                figure.place_of(leg.foot),
                None if leg.toe is None else figure.place_of(leg.toe),
            )
            for leg in figure.legs
        )
    by_part = {(known.side, known.part): place for place, known in known_joints(figure).items()}
    legs = []
    for side in ("left", "right"):
        thigh, shin, foot = (by_part.get((side, part)) for part in ("thigh", "shin", "foot"))
        if thigh is not None and shin is not None and foot is not None:
            legs.append(Leg(side, thigh, shin, foot, by_part.get((side, "toe"))))
    return tuple(legs) or _legs_by_shape(figure)


def _legs_by_shape(figure: Figure) -> tuple[Leg, ...]:
    """Chains of three bones or more down to the lowest leaves, one on either side of the middle."""
    rest = forward(figure, figure.rest_motion).positions[0]
    tall = float(np.ptp(rest[:, 1]))
    leaves = sorted(set(range(len(figure.joints))) - set(figure.parents), key=lambda j: rest[j, 1])
    legs: list[Leg] = []
    sides: tuple[tuple[Side, int], ...] = (("left", 1), ("right", -1))
    for side, sign in sides:
        aside = [j for j in leaves if sign * rest[j, 0] > 0.01 * tall]
        lowest = [j for j in aside if rest[j, 1] < rest[:, 1].min() + 0.15 * tall]
        if not lowest:
            continue
        chain = [lowest[0]]
        while figure.parents[chain[0]] > 0:
            chain.insert(0, figure.parents[chain[0]])
        chain = [j for j in chain if sign * rest[j, 0] > 0.01 * tall]
        if len(chain) >= 3:
            thigh, shin, foot = chain[:3]
            legs.append(Leg(side, thigh, shin, foot, chain[3] if len(chain) > 3 else None))
    return tuple(legs) if len(legs) == 2 else ()


def leg_joints(figure: Figure) -> tuple[int, ...]:
    """The legs' joints, all that they hang on, and all that hangs on their feet, by their places."""
    return figure.once("joints of legs", lambda: _leg_joints(figure))


def _leg_joints(figure: Figure) -> tuple[int, ...]:
    found: set[int] = set()
    for leg in legs_of(figure):
        place = leg.foot
        while place >= 0:
            found.add(place)
            place = figure.parents[place]
    feet = {leg.foot for leg in legs_of(figure)}
    for place, parent in enumerate(figure.parents):
        if parent in feet:
            feet.add(place)
    return tuple(sorted(found | feet))


def leg_length_metres(figure: Figure) -> float:
    """Thigh and shin together, the longer leg; without legs the root's height at rest."""
    lengths = [
        float(np.linalg.norm(figure.offsets[leg.shin]) + np.linalg.norm(figure.offsets[leg.foot]))
        for leg in legs_of(figure)
    ]
    return max(lengths, default=0.0) or float(figure.offsets[0][1]) or figure.height_metres or 1.0


def upper_body(figure: Figure) -> Index:
    """All joints but the root, the legs, and what hangs on them; none where legs are not known."""
    return figure.once("upper body", lambda: _upper_body(figure))


def _upper_body(figure: Figure) -> Index:
    legs = legs_of(figure)
    below = {0, *(leg.thigh for leg in legs)}
    for place, parent in enumerate(figure.parents):
        if parent in below and parent != 0:
            below.add(place)
    every = set(range(len(figure.joints)))
    return np.array(sorted(every - below if legs else ()), dtype=np.intp)


def body_parts(figure: Figure) -> dict[str, list[str]]:
    """The parts of a body that one speaks of, those that were recognised, with the names of their joints."""
    return figure.once("body parts", lambda: _body_parts(figure))


def _body_parts(figure: Figure) -> dict[str, list[str]]:
    known = {(one.side, one.part): place for place, one in reversed(known_joints(figure).items())}
    upper = set(upper_body(figure).tolist())
    found: dict[str, set[int]] = {}
    if upper:
        found["Upper body"] = upper
        found["Lower body"] = set(range(len(figure.joints))) - upper
    sides: tuple[Side, ...] = ("left", "right")
    for side in sides:
        first: tuple[Part, ...] = ("collar", "upper arm", "forearm")
        top = next((known[side, part] for part in first if (side, part) in known), None)
        if top is not None:
            found[f"{side.capitalize()} arm"] = _hanging_on(figure, top)
    middle: tuple[tuple[Side, Part], ...] = (("middle", "neck"), ("middle", "head"))
    top = next((known[one] for one in middle if one in known), None)
    if top is not None:
        found["Head"] = _hanging_on(figure, top)
    return {name: [figure.names[k] for k in sorted(places)] for name, places in found.items()}


def _hanging_on(figure: Figure, top: int) -> set[int]:
    """A joint and all that hangs on it."""
    found = {top}
    for place, parent in enumerate(figure.parents):
        if parent in found:
            found.add(place)
    return found
