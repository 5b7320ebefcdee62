"""A foot's sole: the points that it stands on, and how it rolls over them (rules 4.5 and 5.5)."""

from dataclasses import dataclass

import numpy as np

from . import rotation
from .anatomy import Leg
from .arrays import Array
from .figure import Figure, Placed

# How far the heel lies behind the ankle, and the tip before the ball, as shares of the foot between them.
HEEL_SHARE, TIP_SHARE = 0.45, 0.45


@dataclass(frozen=True, eq=False)
class Foot:
    """A foot that rolls: heel, ball and tip. The ball is the toes' own joint.

    heel, ball  [3] metres, as the ankle's joint sees them
    tip         [3] metres, as the toes' joint sees it
    hinge       [3] the axis that the foot rolls about, as the ankle's joint sees it; a positive turn
                takes the toes down
    """

    leg: Leg
    ankle: int
    toe: int
    heel: Array
    ball: Array
    tip: Array
    hinge: Array

    def soles(self, placed: Placed) -> Array:
        """Heel, ball and tip in the world. [frames, 3 points, 3]."""
        ankle, turned = placed.positions[:, self.ankle], placed.rotations[:, self.ankle]
        toe, toe_turned = placed.positions[:, self.toe], placed.rotations[:, self.toe]
        heel = ankle + rotation.rotate(turned, self.heel)
        tip = toe + rotation.rotate(toe_turned, self.tip)
        return np.stack([heel, toe, tip], axis=1)

    def roll_about(self, flat: Array, turned: Array) -> Array:
        """How far a foot is rolled from where it lies flat, in radians; above 0 its toes point down.
        Rotations [4] or [frames, 4] → [frames]."""
        since = rotation.multiply(rotation.conjugate(flat), turned)
        along = (since[..., 1:] * self.hinge).sum(axis=-1)
        angle = 2 * np.arctan2(along, since[..., 0])
        result: Array = np.remainder(angle + np.pi, 2 * np.pi) - np.pi
        return result

    def rolled(self, flat: Array, radians: Array) -> Array:
        """A flat foot rolled about its hinge. [4] or [frames, 4], [frames] → [frames, 4]."""
        half = radians / 2
        turn = np.concatenate([np.cos(half)[:, None], np.sin(half)[:, None] * self.hinge], axis=-1)
        return rotation.multiply(flat, turn)


def stillest_steps(points: Array) -> Array:
    """The ground that a foot covers from each frame to the next, by whichever of its points is stiller:
    one that rolls over heel and ball slides on neither. [frames, points, 3] → [frames − 1]."""
    if len(points) < 2:
        return np.zeros(0)
    steps = np.linalg.norm(np.diff(points[:, :, [0, 2]], axis=0), axis=-1)
    least: Array = steps.min(axis=1)
    return least


def foot_of(figure: Figure, leg: Leg) -> Foot | None:
    """The foot at the end of a leg; none where it has no toes to roll over."""
    return figure.once(("foot", leg), lambda: _foot_of(figure, leg))


def _foot_of(figure: Figure, leg: Leg) -> Foot | None:
    if leg.toe is None or figure.parents[leg.toe] != leg.foot:
        return None
    rest = figure.at_rest
    ankle, ball = rest.positions[0, leg.foot], rest.positions[0, leg.toe]
    ahead = (ball - ankle) * np.array([1.0, 0.0, 1.0])
    length = float(np.linalg.norm(ahead))
    if length < 1e-6:
        return None
    ahead /= length
    tip = _tip(figure, leg.toe, ball + ahead * (TIP_SHARE * length))
    # A figure made for the stage stands on it; one from elsewhere stands as low as its toes reach.
    floor = min(0.0, float(tip[1]), float(ball[1]))
    heel = ankle - ahead * (HEEL_SHARE * length)
    heel[1] = floor
    seen, toe_seen = (rotation.conjugate(rest.rotations[0, j]) for j in (leg.foot, leg.toe))
    hinge = np.cross(np.array([0.0, 1.0, 0.0]), ahead)
    return Foot(
        leg,
        leg.foot,
        leg.toe,
        rotation.rotate(seen, heel - ankle),
        rotation.rotate(seen, ball - ankle),
        rotation.rotate(toe_seen, tip - ball),
        rotation.rotate(seen, hinge),
    )


def _tip(figure: Figure, toe: int, usual: Array) -> Array:
    """The end of the toes at rest, in the world: its end site, or as far as toes usually reach."""
    sites = figure.joints[toe].end_sites
    rest = figure.at_rest
    if not sites:
        return usual
    reached = [
        rest.positions[0, toe] + rotation.rotate(rest.rotations[0, toe], np.array(site))
        for site in sites
    ]
    return max(reached, key=lambda point: float(point[2]))
