"""The lay figure: a wooden artist's mannequin made from any skeleton. Names are not needed."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from .arrays import Array
from .dress import Ball, Detail, Dress, Hull, Point
from .figure import Figure

_WOOD, _WOOD_SHADE = "#DDBB84", "#BE945A"
_KNOB, _KNOB_SHADE = "#B4874C", "#8F6838"


@dataclass(frozen=True)
class _Limb:
    """A long branch off the spine: every joint of it, its tip, and the joint its blocks begin at."""

    leaves_at: int
    joints: tuple[int, ...]
    tip: int
    start: int
    is_leg: bool


@dataclass
class _Body:
    """The skeleton measured at rest. Places are [joints, 3]; `height` is its vertical extent."""

    names: Sequence[str]
    parents: Sequence[int]
    offsets: Array
    rest: Array
    height: float
    children: list[list[int]]
    spine: list[int] = field(default_factory=list)
    limbs: list[_Limb] = field(default_factory=list)

    def path(self, joint: int) -> list[int]:
        found = [joint]
        while self.parents[found[-1]] >= 0:
            found.append(self.parents[found[-1]])
        return found[::-1]

    def below(self, joint: int) -> list[int]:
        found, todo = [], [joint]
        while todo:
            found.append(todo.pop())
            todo.extend(reversed(self.children[found[-1]]))
        return found

    def length(self, joint: int) -> float:
        return float(np.linalg.norm(self.offsets[joint])) if self.parents[joint] >= 0 else 0.0

    def apart(self, a: int, b: int) -> float:
        return float(np.linalg.norm(self.rest[a] - self.rest[b]))


def lay_dress(figure: Figure) -> Dress:
    """A dress for a figure's joints: eggs along bones, blocks for trunk, pelvis and head."""
    body = _measure(figure)
    return _Carver(body).carve()


def _measure(figure: Figure) -> _Body:
    parents = [joint.parent for joint in figure.joints]
    offsets = np.array([joint.offset for joint in figure.joints])
    rest = np.zeros_like(offsets)
    children: list[list[int]] = [[] for _ in parents]
    for place, parent in enumerate(parents):
        if parent >= 0:
            rest[place] = rest[parent] + offsets[place]
            children[parent].append(place)
    tall = float(np.ptp(rest[:, 1]))
    longest = float(np.linalg.norm(offsets[1:], axis=1).max()) if len(parents) > 1 else 0.0
    body = _Body(
        [joint.name for joint in figure.joints],
        parents,
        offsets,
        rest,
        max(tall, longest) or 1.0,
        children,
    )
    _find_spine_and_limbs(body)
    return body


def _find_spine_and_limbs(body: _Body) -> None:
    leaves = [place for place, below in enumerate(body.children) if not below]
    aside = np.abs(body.rest[:, 0]) + 0.3 * np.abs(body.rest[:, 2])
    # The head's tip: the highest leaf near the middle plane.
    tip = max(leaves, key=lambda leaf: float(body.rest[leaf, 1] - 2 * aside[leaf]))
    body.spine = body.path(tip)
    for level, joint in enumerate(body.spine):
        for first in body.children[joint]:
            if first in body.spine:
                continue
            joints = body.below(first)
            far = max(joints, key=lambda other: body.apart(other, joint))
            if body.apart(far, joint) <= 0.28 * body.height:
                continue
            down = body.rest[far, 1] < body.rest[joint, 1] - 0.3 * body.height
            start = _first_long_bone(body, far, joints)
            body.limbs.append(_Limb(joint, tuple(joints), far, start, down and level <= 1))


def _first_long_bone(body: _Body, tip: int, joints: Sequence[int]) -> int:
    """Where the limb's two long bones begin: past collar bones and hip joints."""
    inside = set(joints)
    path = [joint for joint in body.path(tip) if joint in inside]
    lengths = [body.length(joint) for joint in path] + [0.0, 0.0]
    pairs = [lengths[at + 1] + lengths[at + 2] for at in range(len(path))]
    longest = max(pairs)
    return [joint for joint, pair in zip(path, pairs, strict=True) if pair >= 0.86 * longest][-1]


class _Carver:
    """Collects the hulls and details of one lay figure."""

    def __init__(self, body: _Body) -> None:
        self.body = body
        self.hulls: list[Hull] = []
        self.details: list[Detail] = []
        # Bones, by their lower joint, that blocks stand for.
        self.covered: set[int] = set()

    def carve(self) -> Dress:
        legs = [limb for limb in self.body.limbs if limb.is_leg]
        arms = [limb for limb in self.body.limbs if not limb.is_leg]
        if len(legs) >= 2 and len(arms) >= 2:
            self._trunk(legs, arms)
        self._bones()
        return Dress(hulls=tuple(self.hulls), details=tuple(self.details))

    def _ball(self, joint: int, offset: Array, radius: float) -> Ball:
        x, y, z = (round(float(value), 5) for value in offset)
        return Ball(joint=self.body.names[joint], offset=(x, y, z), radius=round(radius, 5))

    def _at(self, joint: int, place: Array, radius: float) -> Ball:
        """A ball at a place of the rest pose, carried by a joint."""
        return self._ball(joint, place - self.body.rest[joint], radius)

    def _wood(self, name: str, balls: Sequence[Ball], **more: Any) -> None:
        self.hulls.append(
            Hull(
                name=name,
                sections=(tuple(balls),),
                fill=_WOOD,
                shade=_WOOD_SHADE,
                hatch=True,
                **more,
            )
        )

    def _knob(self, name: str, balls: Sequence[Ball], **more: Any) -> None:
        self.hulls.append(
            Hull(name=name, sections=(tuple(balls),), fill=_KNOB, shade=_KNOB_SHADE, **more)
        )

    def _trunk(self, legs: Sequence[_Limb], arms: Sequence[_Limb]) -> None:
        body, tall, rest = self.body, self.body.height, self.body.rest
        root, origin = body.spine[0], np.zeros(3)
        for limb in (*legs, *arms):
            self.covered.update(body.path(limb.start))
        self.covered.update(body.spine)
        hip_half = body.apart(legs[0].start, legs[1].start) / 2
        hip = max(hip_half * 0.62, 0.045 * tall)
        pelvis = [self._ball(root, origin, hip * 1.05)]
        pelvis += [self._ball(limb.start, origin, hip * 0.82) for limb in legs]
        self._wood("pelvis", pelvis)
        chest = arms[0].leaves_at
        level = body.spine.index(chest)
        shoulders = (rest[arms[0].start] + rest[arms[1].start]) / 2
        ribs = max(0.03 * tall, body.apart(arms[0].start, arms[1].start) / 2 * 0.3)

        def up_the_trunk(share: float) -> Array:
            along: Array = rest[root] + (shoulders - rest[root]) * share
            return along

        aside = [rest[limb.start] - shoulders for limb in arms]
        balls = [self._at(chest, shoulders + side * 0.66, ribs * 0.9) for side in aside]
        balls += [self._at(chest, up_the_trunk(0.72) + side * 0.36, ribs * 1.05) for side in aside]
        balls.append(self._at(chest, up_the_trunk(0.52), ribs * 0.98))
        self._wood("ribs", balls, depth_bias=-0.01 * tall)
        waist = [
            self._at(root, up_the_trunk(0.14), hip * 0.72),
            self._at(chest, up_the_trunk(0.42), ribs * 0.74),
        ]
        self._wood("waist", waist, under=("ribs", "pelvis"))
        self._head(chest, level, shoulders)

    def _head(self, chest: int, level: int, shoulders: Array) -> None:
        body, tall, rest = self.body, self.body.height, self.body.rest
        up = np.array([0.0, 1.0, 0.0])
        above = body.spine[level + 1 :]
        hinges = [
            joint
            for joint, following in zip(above, above[1:], strict=False)
            if body.length(following) > 0.03 * tall
        ]
        hinge = hinges[-1] if hinges else (above[-1] if above else chest)
        tip = body.spine[-1]
        room = max(float(rest[tip, 1] - rest[hinge, 1]), 0.1 * tall)
        size, top = 0.052 * tall, min(room, 0.15 * tall)
        collar = self._at(chest, shoulders + up * 0.01 * tall, 0.024 * tall)
        neck = [collar, self._ball(hinge, np.zeros(3), 0.021 * tall)]
        self._knob("neck", neck, under=("head",))
        crown = self._ball(hinge, up * top * 0.8, size)
        chin = self._ball(hinge, np.array([0.0, top * 0.3, 0.014 * tall]), size * 0.7)
        self._wood("head", [crown, chin], depth_bias=-0.005 * tall)
        middle = [(0, 0.9, 0.4), (0, 0.5, 0.86), (0, 0, 1), (0, -0.8, 0.92), (0, -1.2, 0.8)]
        brow = [(-0.86, -0.25, 0.5), (-0.4, -0.32, 0.92), (0.4, -0.32, 0.92), (0.86, -0.25, 0.5)]
        for line in (middle, brow):
            points = []
            for x, y, z in line:
                place = (x * size, top * 0.8 + y * size, z * size)
                points.append(Point(offset=place))
            self.details.append(
                Detail(
                    on="head",
                    joint=body.names[hinge],
                    points=tuple(points),
                    smooth=True,
                    normal=(0.0, 0.0, 1.0),
                    line=0.9,
                )
            )
        self.covered.update(set(body.below(hinge)) - {hinge})

    def _bones(self) -> None:
        body, tall = self.body, self.body.height
        limb_of = {joint: limb for limb in body.limbs for joint in limb.joints}
        knobs: dict[int, float] = {}
        for joint, parent in enumerate(body.parents):
            length = body.length(joint)
            if parent < 0 or joint in self.covered or length < 1e-4 * tall:
                continue
            limb = limb_of.get(joint)
            finger = length < 0.075 * tall or (
                limb is not None and not limb.is_leg and self._past_a_palm(joint, limb)
            )
            radius, end = self._thickness(joint, length, limb, finger)
            offset = body.offsets[joint]
            shares = (
                ((0.12, 0.85), (0.36, 1.0), (0.95, 0.8))
                if finger
                else ((0.16, 0.72), (0.36, 1.0), (0.88, end))
            )
            balls = [self._ball(parent, offset * at, radius * size) for at, size in shares]
            if finger:
                weld = f"small {limb.joints[0] if limb else ''}"
                more = {"minor": True, "line": 0.8, "weld": weld, "depth_bias": -0.002 * tall}
                self._wood(f"bone {joint}", balls, **more)
                continue
            self._wood(f"bone {joint}", balls)
            knobs[parent] = max(knobs.get(parent, 0.0), radius * 0.56)
            if body.children[joint]:
                knobs.setdefault(joint, radius * 0.5)
        for joint, radius in knobs.items():
            ball = self._ball(joint, np.zeros(3), radius)
            self._knob(f"knob {joint}", [ball], minor=True, depth_bias=0.004 * tall)

    def _thickness(
        self, joint: int, length: float, limb: _Limb | None, finger: bool
    ) -> tuple[float, float]:
        """The egg's radius, and its lower end's share of it."""
        tall = self.body.height
        leg = limb is not None and limb.is_leg
        end = 0.5 if self.body.children[joint] else 0.8
        if finger:
            return min(max(length * 0.3, 0.007 * tall), 0.02 * tall), end
        if leg and abs(self.body.offsets[joint][1]) < 0.75 * length:
            return 0.03 * tall, end
        return min(length * 0.2, (0.046 if leg else 0.034) * tall), end

    def _past_a_palm(self, joint: int, limb: _Limb) -> bool:
        above = self.body.path(joint)[:-1]
        return any(k in limb.joints and len(self.body.children[k]) > 2 for k in above)
