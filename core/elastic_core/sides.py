"""Left, right and mirror partners, read from joint names (rule 2.1)."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

Side = Literal["left", "right", "middle"]

# A cut-out is seen from its right: what is near is on that side, what is far on its left.
_ALONE = r"(?:^|(?<=[_.: -])){}(?=$|[_.: -])"
_LEFT = re.compile(rf"{_ALONE.format('(?:l|far)')}|left", re.IGNORECASE)
_RIGHT = re.compile(rf"{_ALONE.format('(?:r|near)')}|right", re.IGNORECASE)
_NEAR_OR_FAR = re.compile(_ALONE.format("(near|far)"), re.IGNORECASE)
# “LHipJoint”, “rCollar”: one letter, then a capital that begins the part's own name.
_LEFT_LETTER = re.compile(r"(?:^|(?<=[:_ ]))[lL](?=[A-Z][a-z])")
_RIGHT_LETTER = re.compile(r"(?:^|(?<=[:_ ]))[rR](?=[A-Z][a-z])")


@dataclass(frozen=True)
class SideOf:
    side: Side
    mirror: str | None


def sides_of(names: Sequence[str]) -> list[SideOf]:
    """For each name its side and the partner on the other one; names without a partner are middle."""
    by_key: dict[tuple[str, Side], str] = {}
    keys = [_key(name) for name in names]
    for name, (stem, side) in zip(names, keys, strict=True):
        by_key[stem, side] = name
    other: dict[Side, Side] = {"left": "right", "right": "left", "middle": "middle"}
    found = []
    for stem, side in keys:
        partner = by_key.get((stem, other[side])) if side != "middle" else None
        found.append(SideOf(side if partner else "middle", partner))
    return found


def spoken(name: str) -> str:
    """A joint's name as one would say it: “l_ankle” → “Left ankle”, “LeftUpLeg” → “Left up leg”."""
    bare = name.rsplit(":", 1)[-1]
    stem, side = _key(bare)
    words = bare
    if side != "middle":
        patterns = (_LEFT, _LEFT_LETTER) if side == "left" else (_RIGHT, _RIGHT_LETTER)
        words = next(p.sub(" ", bare, count=1) for p in patterns if p.search(bare))
    words = re.sub(r"(?<=[a-z])(?=[A-Z])|[_.\s-]+", " ", words).strip().lower()
    on_paper = _NEAR_OR_FAR.search(bare)
    said = f"{on_paper[1].lower() if on_paper else side} {words}" if side != "middle" else words
    return (said or stem or name).strip().capitalize() or name


def side_of(name: str) -> Side:
    """The side that a name tells, its maker's prefix apart."""
    return _key(name.rsplit(":", 1)[-1])[1]


def _key(name: str) -> tuple[str, Side]:
    for side, patterns in (("left", (_LEFT, _LEFT_LETTER)), ("right", (_RIGHT, _RIGHT_LETTER))):
        for pattern in patterns:
            if pattern.search(name):
                return pattern.sub(
                    "*", name, count=1
                ).lower(), "left" if side == "left" else "right"
    return name.lower(), "middle"
