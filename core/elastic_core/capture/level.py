"""The ground under a take: its floor levelled, its start and heading laid to a mark, its drift taken out
(rule 6.6)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np
from scipy.ndimage import minimum_filter1d

from .. import ground, rotation
from ..anatomy import leg_length_metres, legs_of
from ..arrays import Array, runs
from ..cycle.contacts import (
    HEIGHT_SHARE,
    LEAST_PLANT_SECONDS,
    SPEED_SHARE_A_SECOND,
    held_over,
)
from ..figure import Figure, forward
from ..foot import foot_of
from ..motion import Motion
from .smooth import low_pass

MOST_DEGREES = 10.0
# Plants tell the floor to so much; a floor is thought level to so much, until they say otherwise.
_PLANT_METRES, _LEVEL_RADIANS = 0.005, np.radians(1.5)
# A plant that lies farther from the floor than so many times what is usual is on a step, or is none.
_TUKEY = 4.685
_ROUNDS, _LOOKS = 30, 3
# A foot comes down at least once in this time.
_AROUND_SECONDS = 0.6
_WINDOW_FRAMES = 1024
# Where a figure looks is what it does on the average of so long: a walker's hips swing.
_LOOKS_SECONDS = 1.0
DRIFT_HZ = 0.2
# Speeds are told from feet that were smoothed so far: noise alone moves at any speed.
_SPEED_HZ = 6.0


@dataclass(frozen=True)
class Floor:
    """The plane through the plants: its height in metres over the origin, and how it rises along x and z."""

    height: float
    rise_x: float
    rise_z: float
    plants: int

    @property
    def tilt_degrees(self) -> float:
        """How far it is from level."""
        return float(np.degrees(np.arctan(np.hypot(self.rise_x, self.rise_z))))


_LEVEL = Floor(0.0, 0.0, 0.0, 0)


@dataclass(frozen=True, eq=False)
class Standing:
    """A point of a foot that stands still over samples `[start, end)`; where it does, less the height at
    which it rests on a floor. path [n, 3] metres."""

    start: int
    end: int
    path: Array

    @property
    def place(self) -> Array:
        """Where it stands on the whole [3]."""
        middle: Array = np.median(self.path, axis=0)
        return middle


def standing_points(
    figure: Figure, motion: Motion, rate: Fraction, floor: Floor | None = None
) -> list[Standing]:
    """Every stretch over which a heel, a ball or a tip stands still and is as low as it gets there.

    How low that is, is not known yet: a point is low where it is lower over the `floor`, as far as that is
    known, than in what is around it.
    """
    if motion.frames < 5:
        return []
    return _standing_on(
        _sole_paths(figure, motion), leg_length_metres(figure), rate, floor or _LEVEL
    )


def _standing_on(
    paths: Sequence[tuple[Array, float]], reach: float, rate: Fraction, floor: Floor
) -> list[Standing]:
    found: list[Standing] = []
    for path, rests in paths:
        seen = low_pass(path, rate, _SPEED_HZ) if float(rate) > 3 * _SPEED_HZ else path
        over = seen[:, 1] - floor.rise_x * seen[:, 0] - floor.rise_z * seen[:, 2]
        speed = np.linalg.norm(np.gradient(seen[:, [0, 2]], axis=0), axis=-1) * float(rate) / reach
        around = minimum_filter1d(
            over, 2 * round(_AROUND_SECONDS * float(rate)) + 1, mode="nearest"
        )
        low = over - around < HEIGHT_SHARE[1] * reach
        near = low & (speed < SPEED_SHARE_A_SECOND[0])
        for start, end in runs(held_over(near, low & (speed < SPEED_SHARE_A_SECOND[1]))):
            if end - start >= LEAST_PLANT_SECONDS * float(rate):
                own = path[start:end] - np.array([0.0, rests, 0.0])
                found.append(Standing(start, end, own))
    return found


def _sole_paths(figure: Figure, motion: Motion) -> list[tuple[Array, float]]:
    """The points that a figure can stand on, with the height each has at rest."""
    legs = legs_of(figure)
    paths: list[list[Array]] = []
    for start in range(0, motion.frames, _WINDOW_FRAMES):
        rows = np.arange(start, min(motion.frames, start + _WINDOW_FRAMES))
        placed = forward(figure, motion.at(rows))
        here: list[Array] = []
        for leg in legs:
            foot = foot_of(figure, leg)
            soles = placed.positions[:, [leg.foot]] if foot is None else foot.soles(placed)
            here += [soles[:, k] for k in range(soles.shape[1])]
        paths.append(here)
    rests: list[float] = []
    for leg in legs:
        foot = foot_of(figure, leg)
        at_rest = figure.at_rest
        own = at_rest.positions[0, [leg.foot]] if foot is None else foot.soles(at_rest)[0]
        rests += [float(point[1]) for point in own]
    # A figure from elsewhere may have its origin at its hips: its floor is where its feet rest.
    lowest = min(rests, default=0.0)
    return [
        (np.concatenate([here[k] for here in paths]), rest - lowest) for k, rest in enumerate(rests)
    ]


def floor_of(figure: Figure, motion: Motion, rate: Fraction) -> Floor | None:
    """The floor as the plants tell it; None for a take in which nothing stands.

    A plane by least squares, reweighted (Tukey's biweight; P. W. Holland and R. E. Welsch, "Robust regression
    using iteratively reweighted least-squares", 1977). Across a path that is walked straight plants tell
    little, so a level floor counts as one more measurement.
    """
    if motion.frames < 5:
        return None
    paths, reach = _sole_paths(figure, motion), leg_length_metres(figure)
    floor: Floor | None = None
    for _ in range(_LOOKS):
        # What is low is told better once it is known how the floor lies.
        standing = _standing_on(paths, reach, rate, floor or _LEVEL)
        if not standing:
            break
        floor = _plane_through(np.array([one.place for one in standing]))
    return floor


def _plane_through(points: Array) -> Floor:
    middle = np.median(points, axis=0)
    x, z, y = points[:, 0] - middle[0], points[:, 2] - middle[2], points[:, 1]
    columns = np.stack([np.ones_like(x), x, z], axis=-1)
    level = np.array([[0.0, 1.0, 0.0], [0.0, 0.0, 1.0]]) / _LEVEL_RADIANS
    weights = np.ones(len(y))
    plane = np.array([np.percentile(y, 25), 0.0, 0.0])
    for _ in range(_ROUNDS):
        share = np.sqrt(weights)[:, None] / _PLANT_METRES
        rows = np.concatenate([columns * share, level])
        heights = np.concatenate([y * share[:, 0], np.zeros(2)])
        plane = np.linalg.lstsq(rows, heights, rcond=None)[0]
        off = y - columns @ plane
        spread = max(float(np.median(np.abs(off))) * 1.4826, _PLANT_METRES)
        weights = np.clip(1 - (off / (_TUKEY * spread)) ** 2, 0.0, None) ** 2
    height = float(plane[0] - plane[1] * middle[0] - plane[2] * middle[2])
    return Floor(height, float(plane[1]), float(plane[2]), int((weights > 0).sum()))


@dataclass(frozen=True, eq=False)
class Level:
    """A turn in the world [4] about a point [3], that lays a floor level, and the height it then has."""

    turn: Array
    about: Array

    def applied(self, motion: Motion) -> Motion:
        """A motion on the level floor."""
        position, turned = motion.root_in_world()
        lies = rotation.rotate(self.turn, position - self.about)
        lies[:, [0, 2]] += self.about[[0, 2]]
        rotations = motion.rotations.copy(order="F")
        rotations[:, 0] = rotation.multiply(self.turn, turned)
        return replace(Motion.from_root(lies, rotations, motion.moves), scales=motion.scales)


def levelling(floor: Floor, motion: Motion) -> Level:
    """What lays a motion's floor level and at height 0, turned by at most 10°. Where the floor lies under the
    first pose stays where it was."""
    rise = np.array([floor.rise_x, floor.rise_z])
    tilt = np.radians(min(floor.tilt_degrees, MOST_DEGREES))
    steep = float(np.hypot(*rise))
    turn = np.array(rotation.IDENTITY)
    if steep > 0:
        x, z = -rise / steep * np.sin(tilt)
        turn = rotation.least(np.array([x, np.cos(tilt), z]), np.array([0.0, 1.0, 0.0]))
    x, _, z = motion.at(np.zeros(1, dtype=np.intp)).root_in_world()[0][0]
    height = floor.height + floor.rise_x * x + floor.rise_z * z
    return Level(turn, np.array([x, height, z]))


def placement(motion: Motion, rate: Fraction, mark: Sequence[float] = ground.ORIGIN) -> Array:
    """The move over the ground [3] that sets a motion down so that it starts at a mark (x, z in metres, heading
    in radians), looking along it as it looks over its first second."""
    first = motion.travel[: max(1, round(_LOOKS_SECONDS * float(rate)))]
    looks = float(np.arctan2(np.sin(first[:, 2]).mean(), np.cos(first[:, 2]).mean()))
    start = np.array([first[0, 0], first[0, 1], looks])
    return ground.compose(np.array(mark, dtype=np.float64), ground.inverse(start))


def drift_of(figure: Figure, motion: Motion, rate: Fraction) -> Array:
    """The slow path over the ground that plants disagree with [frames, 2], x and z in metres from its start.

    While a foot stands, whatever moves it is drift; between plants it goes on as it did around them.
    """
    pace, known = np.zeros((motion.frames, 2)), np.zeros(motion.frames)
    for standing in standing_points(figure, motion, rate):
        # Into its first frames a foot still comes down, and out of its last ones it leaves.
        edge = (standing.end - standing.start) // 4
        start, end = standing.start + edge, standing.end - edge
        if end - start < 3:
            continue
        steps = np.arange(end - start) - (end - start - 1) / 2
        along = standing.path[edge : edge + end - start, [0, 2]]
        # A slope is known the better, the longer what it is read from.
        sure = float(steps @ steps)
        pace[start:end] += steps @ along
        known[start:end] += sure
    if not known.any():
        return np.zeros((motion.frames, 2))
    at = np.flatnonzero(known)
    every = np.arange(motion.frames)
    mean = pace[at] / known[at, None]
    steady = np.stack([np.interp(every, at, mean[:, axis]) for axis in range(2)], axis=-1)
    slow = (
        low_pass(steady, rate, DRIFT_HZ)
        if motion.frames > 3 * float(rate)
        else np.broadcast_to(steady.mean(axis=0), steady.shape)
    )
    path = np.cumsum(slow, axis=0)
    result: Array = path - path[0]
    return result


def without_drift(motion: Motion, drift: Array) -> Motion:
    """The motion without a path over the ground. drift [frames, 2]."""
    travel = motion.travel.copy(order="F")
    travel[:, :2] -= drift
    return motion.carried(travel)
