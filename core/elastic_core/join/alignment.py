"""How an incoming clip is laid on the outgoing one (rule 5.3)."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from .. import ground
from ..anatomy import leg_joints, legs_of
from ..arrays import Array
from ..clip.document import GroundTuple
from ..cycle.rolling import phase_of
from ..figure import Figure, forward
from ..foot import foot_of
from ..frozen import Frozen
from ..ground import ORIGIN
from ..moments import Source
from ..motion import Motion
from ..performance import BodyPerformance, Performance
from ..remembered import remembered
from .where import Planted

HeadingRule = Literal["keep", "feet", "placed"]
Bears = tuple[float | None, float | None]
# Feet nearer to each other than this have no line from one to the other.
LEAST_APART_METRES = 0.02


class Alignment(Frozen):
    """Which foot of the incoming clip is laid on the outgoing one's, and how the clip is turned.

    Without a foot the root is laid on the root. The heading is kept (the figure goes on the way it
    went), made so that both feet lie along the outgoing ones, or left as the clip was placed: as it
    was made, seen from the figure's mark. `nudge` is a fine shift and turn about what is laid, as the
    outgoing figure sees it.
    """

    plant: Planted = "none"
    heading: HeadingRule = "keep"
    nudge: GroundTuple = ORIGIN

    @property
    def is_root_on_root(self) -> bool:
        """Whether nothing has to be known but where both roots are."""
        return self.plant == "none" and self.heading != "feet"


@dataclass(frozen=True, eq=False)
class Standing:
    """A figure at one moment, on some ground: its root [3] and where its feet stand.

    feet  [2, 2] x and z of the left and the right foot's point that bears, metres
    """

    root: Array
    feet: Array

    def moved(self, placement: Array) -> "Standing":
        """The same set down elsewhere."""
        x, z = ground.turn(placement[2], self.feet[:, 0], self.feet[:, 1])
        feet = np.stack([placement[0] + x, placement[1] + z], axis=-1)
        return Standing(ground.compose(placement, self.root), feet)


def bearing(performance: Performance, at: float) -> Bears:
    """What bears of the left and the right foot at a source frame: −1 the heel, 0 the sole, 1 the ball;
    None while it is lifted."""
    found: dict[str, float] = {}
    for plant in performance.plants:
        since = at - plant.start
        if performance.is_cycle:
            since %= performance.length_frames
        if 0 <= since < plant.end - plant.start:
            found[plant.side] = float(phase_of(plant, np.array([plant.start + since]))[0])
    return found.get("left"), found.get("right")


def on_heels(a: Bears, b: Bears) -> tuple[bool, bool]:
    """Whether two feet that are laid on each other are so by their heels: where one of them stands on
    its heel, and none on its ball alone."""
    left, right = (-1 in both and 1 not in both for both in zip(a, b, strict=True))
    return left, right


def stands(
    figure: Figure, body: BodyPerformance, at: Source, on_heel: tuple[bool, bool]
) -> Standing:
    """How a body stands at one source time [1], on its own ground, its feet not held.

    It is remembered.
    """
    key = ("stands", float(at[0]), on_heel)
    return remembered(figure, body, key, lambda: standing(figure, body.as_laid(at), on_heel))


def standing(figure: Figure, motion: Motion, on_heel: tuple[bool, bool]) -> Standing:
    """The first pose of a motion: heels or balls of the feet, as asked for left and right.

    A figure whose legs are not known stands on its root.
    """
    first = motion.at(np.zeros(1, dtype=np.intp))
    placed = forward(figure, first, leg_joints(figure))
    feet = np.tile(motion.travel[0, :2], (2, 1))
    for leg in legs_of(figure):
        if leg.side == "middle":
            continue
        side = 0 if leg.side == "left" else 1
        foot = foot_of(figure, leg)
        if foot is None:
            point = placed.positions[0, leg.foot]
        else:
            point = foot.soles(placed)[0, 0 if on_heel[side] else 1]
        feet[side] = point[[0, 2]]
    return Standing(motion.travel[0], feet)


def aligned(
    leaving: Standing, arriving: Standing, alignment: Alignment, placed_heading: float = 0.0
) -> Array:
    """The incoming clip's ground placement [3], from the outgoing figure as it leaves, on the scene's
    ground, and the incoming one as it arrives, on its clip's.

    `placed_heading` is the heading that a clip left as placed has, in radians.
    """
    nudge_x, nudge_z, nudge_turn = alignment.nudge
    heading = _heading(leaving, arriving, alignment.heading, placed_heading) + nudge_turn
    there, here = (_laid(who, alignment.plant) for who in (leaving, arriving))
    x, z = ground.turn(np.asarray(heading), here[0], here[1])
    aside, ahead = ground.turn(leaving.root[2], np.asarray(nudge_x), np.asarray(nudge_z))
    return np.array([there[0] - x + aside, there[1] - z + ahead, heading])


def feet_swapped(leaving: Standing, arriving: Standing) -> bool:
    """Whether one figure has its left foot where the other has its right, each as it sees itself: in
    the join its legs would have to change places without a step."""
    there, here = (_line(_as_it_sees_itself(who)) for who in (leaving, arriving))
    far = min(float(np.hypot(*line)) for line in (there, here)) > LEAST_APART_METRES
    return far and float(there @ here) < 0


def _as_it_sees_itself(who: Standing) -> Standing:
    return who.moved(ground.inverse(who.root))


def _heading(
    leaving: Standing, arriving: Standing, rule: HeadingRule, placed_heading: float
) -> float:
    if rule == "placed":
        return placed_heading
    if rule == "feet":
        there, here = (_line(who) for who in (leaving, arriving))
        if min(np.hypot(*there), np.hypot(*here)) > LEAST_APART_METRES:
            turn = np.arctan2(there[0], there[1]) - np.arctan2(here[0], here[1])
            return float(ground.nearest_turn(np.asarray(turn)))
    return float(leaving.root[2] - arriving.root[2])


def _line(who: Standing) -> Array:
    """From the left foot to the right one [2]."""
    line: Array = who.feet[1] - who.feet[0]
    return line


def _laid(who: Standing, plant: Planted) -> Array:
    """The point that is laid on its like [2]."""
    points = (who.feet[0], who.feet[1], who.feet.mean(axis=0), who.root[:2])
    found: Array = points[("left", "right", "both", "none").index(plant)]
    return found
