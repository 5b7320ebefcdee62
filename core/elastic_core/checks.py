"""What is off in a performance, frame by frame: the check strip. Nothing to mark means clean.

A foot slides while it is planted, a joint jumps, feet cross, or a sole goes through the floor. What
is measured here is arrays of one run of frames; where they come from is for a scene or a file to say.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from . import rotation
from .anatomy import Leg, leg_length_metres, legs_of
from .arrays import Array, Index, runs
from .clip.document import Plant
from .cycle.feet import steps_of_plant
from .figure import Figure, Placed
from .foot import foot_of

Kind = Literal["slide", "jump", "crossed", "ground", "dropped"]
Unit = Literal["cm", "degrees", "channels"]

SLIDE_CM = 1.0
JUMP_DEGREES = 15.0
JUMP_CM = 5.0
GROUND_CM = 1.0
# Feet may come a little over each other in a narrow walk: a share of the leg's length.
CROSSED_SHARE = 0.06
# What three in a hundred of its steps exceed is a joint's habit.
HABIT_PER_CENT = 97.0
# A foot that covers less from one frame to the next is still, whatever it adds up to.
STILL_METRES = 2e-4


@dataclass(frozen=True)
class Mark:
    """Frames `[frame, end)` at which something is off, how much at the most, and of which joint."""

    frame: int
    end: int
    kind: Kind
    joint: str
    amount: float
    unit: Unit


def turns_between(rotations: Array) -> Array:
    """What each joint turns by from every frame to the next, as rotation vectors in radians.
    [frames, joints, 4] → [frames − 1, joints, 3]."""
    if len(rotations) < 2:
        return np.zeros((0, *rotations.shape[1:-1], 3))
    return rotation.vector(rotation.multiply(rotation.conjugate(rotations[:-1]), rotations[1:]))


def sudden(steps: Array) -> Array:
    """How far each step is from what the steps before and after it explain, by the nearer of the two.
    [n, joints, 3] → [n, joints], in the steps' own unit.

    Fast action comes and goes over some frames, so one neighbour is like it; a jump is like neither.
    """
    nearer = np.full(steps.shape[:-1], np.inf)
    apart = np.linalg.norm(np.diff(steps, axis=0), axis=-1)
    nearer[1:] = apart
    nearer[:-1] = np.minimum(nearer[:-1], apart)
    return nearer if len(steps) > 1 else np.zeros_like(nearer)


def beyond_habit(jolts: Array, partners: Index) -> Array:
    """What is sudden beyond what the same joint and its mirror partner do elsewhere: a knee that is
    thrown about in every step of a run, as its foot lands, does so by habit. [n, joints] → the same;
    partners [joints]: the place of each joint's partner, or its own."""
    if not len(jolts):
        return jolts
    both = np.concatenate([jolts, jolts[:, partners]])
    habit = np.percentile(both, HABIT_PER_CENT, axis=0, method="lower")
    beyond: Array = np.maximum(jolts - habit, 0.0)
    return beyond


def in_order(marks: Iterable[Mark]) -> list[Mark]:
    """Marks by their frames; of one kind and joint those that touch are one."""
    merged: list[Mark] = []
    for mark in sorted(marks, key=lambda mark: (mark.kind, mark.joint, mark.unit, mark.frame)):
        last = merged[-1] if merged else None
        if (
            last is not None
            and (last.kind, last.joint, last.unit) == (mark.kind, mark.joint, mark.unit)
            and mark.frame <= last.end
        ):
            worst = max(last.amount, mark.amount)
            merged[-1] = replace(last, end=max(last.end, mark.end), amount=worst)
        else:
            merged.append(mark)
    return sorted(merged, key=lambda mark: (mark.frame, mark.kind))


def slides(figure: Figure, placed: Placed, plants: Sequence[Plant], first: int) -> list[Mark]:
    """Plants in which a foot covers more than `SLIDE_CM`, its edges apart: the frames over which it does so.

    Plants are in frames from `first`, the frame of the first pose.
    """
    found: list[Mark] = []
    for plant in plants:
        steps = steps_of_plant(figure, placed, _since(plant, first))
        # Into its first frame a foot still comes down, and out of its last one it leaves.
        steps[:1] = 0.0
        steps[-1:] = 0.0
        total = float(steps.sum() * 100)
        moving = np.flatnonzero(steps > STILL_METRES)
        if total <= SLIDE_CM or not moving.size:
            continue
        start = int(np.ceil(plant.start))
        found.append(
            Mark(
                start + int(moving[0]) + 1,
                start + int(moving[-1]) + 2,
                "slide",
                plant.joint,
                total,
                "cm",
            )
        )
    return found


def jumps(names: Sequence[str], turns: Array, steps: Array, first: int) -> list[Mark]:
    """Frames at which a joint jumps, by what the motion does not explain: turns [n, joints] in degrees
    and steps [n, joints] in metres from each frame to the next, the first of them to frame `first`.

    Of a frame only the joint that jumps most is told.
    """
    found: list[Mark] = []
    measures: tuple[tuple[Array, float, Unit], ...] = (
        (turns, JUMP_DEGREES, "degrees"),
        (steps * 100, JUMP_CM, "cm"),
    )
    for amounts, most, unit in measures:
        if not amounts.size:
            continue
        worst = amounts.argmax(axis=1)
        for place in np.flatnonzero(amounts.max(axis=1) > most).tolist():
            joint = int(worst[place])
            amount = float(amounts[place, joint])
            found.append(Mark(first + place, first + place + 1, "jump", names[joint], amount, unit))
    return found


def crossings(figure: Figure, placed: Placed, first: int) -> list[Mark]:
    """Frames at which the left foot lies right of the right one, as the pelvis sees it."""
    sides = {leg.side: leg for leg in legs_of(figure)}
    if not {"left", "right"} <= set(sides):
        return []
    over = -_apart(placed, sides["left"], sides["right"])
    most = CROSSED_SHARE * leg_length_metres(figure)
    name = figure.names[sides["left"].foot]
    return [
        Mark(first + start, first + end, "crossed", name, float(over[start:end].max() * 100), "cm")
        for start, end in runs(over > most)
    ]


def sunk(figure: Figure, placed: Placed, first: int, floor_metres: float = 0.0) -> list[Mark]:
    """Frames at which heel, ball or tip of a foot is deeper than `GROUND_CM` under the floor.

    A point that rests under the floor may be as deep as it rests.
    """
    found: list[Mark] = []
    for leg in legs_of(figure):
        foot = foot_of(figure, leg)
        if foot is None:
            heights = placed.positions[:, [leg.foot], 1]
            rests = figure.at_rest.positions[:, [leg.foot], 1]
        else:
            heights, rests = foot.soles(placed)[..., 1], foot.soles(figure.at_rest)[..., 1]
        deep = (floor_metres + np.minimum(rests, 0.0) - heights).max(axis=1) * 100
        name = figure.names[leg.foot]
        found += [
            Mark(first + a, first + b, "ground", name, float(deep[a:b].max()), "cm")
            for a, b in runs(deep > GROUND_CM)
        ]
    return found


def _apart(placed: Placed, left: Leg, right: Leg) -> Array:
    """How far the left foot lies left of the right one, as the root sees it, metres [frames]."""
    heading, _ = rotation.split_heading(placed.rotations[:, 0])
    apart = placed.positions[:, left.foot] - placed.positions[:, right.foot]
    aside: Array = apart[:, 0] * np.cos(heading) - apart[:, 2] * np.sin(heading)
    return aside


def _since(plant: Plant, first: int) -> Plant:
    return plant.model_copy(update={"start": plant.start - first, "end": plant.end - first})
