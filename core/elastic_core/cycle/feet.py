"""Holding the feet: planted joints kept in place, with a smooth release (rule 5.5)."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.ndimage import maximum_filter1d, uniform_filter1d

from .. import ground
from ..anatomy import Leg, legs_of
from ..arrays import Array
from ..clip import Plant
from ..figure import Figure, forward
from ..motion import Motion
from ..reach import Limb, limb_length_metres, reached

RELEASE_FRAMES = 4.0
# A leg never stretches wholly: a knee that locks flips.
FULLEST = 0.9995


@dataclass(frozen=True)
class Held:
    """The motion with its feet held, and how far the root had to be lowered for it, at the most."""

    motion: Motion
    lowered_cm: float
    lowered_at: int


def hold_feet(
    figure: Figure, motion: Motion, plants: Sequence[Plant], round_: tuple[int, Array] | None
) -> Held:
    """Every plant that is held, kept where it stands. `round_`: a cycle's length and period [3]."""
    held = [plant for plant in plants if plant.held]
    targets: list[tuple[Leg, Array]] = []
    for leg in legs_of(figure):
        own = [plant for plant in held if plant.joint in _joints_below(figure, leg)]
        if own:
            targets.append((leg, _ankle_targets(figure, motion, leg, own, round_)))
    if not targets:
        return Held(motion, 0.0, 0)
    drop = _lowering(figure, motion, targets, round_ is not None)
    if drop.any():
        root_move = motion.root_move.copy(order="F")
        root_move[:, 1] -= drop
        motion = Motion(motion.travel, root_move, motion.rotations, motion.moves)
    for leg, target in targets:
        motion = reached(figure, motion, _limb(leg), target)
    return Held(motion, float(drop.max() * 100), int(drop.argmax()))


def slide_cm(figure: Figure, motion: Motion, plant: Plant, round_: tuple[int, Array] | None) -> float:
    """The ground that a planted joint covers over the whole frames of its plant, in centimetres."""
    path = _path(figure, motion, plant, np.ceil(plant.start), np.ceil(plant.end), round_)
    steps = np.linalg.norm(np.diff(path[:, [0, 2]], axis=0), axis=-1)
    return float(steps.sum() * 100)


def _limb(leg: Leg) -> Limb:
    return Limb(leg.thigh, leg.shin, leg.foot)


def _joints_below(figure: Figure, leg: Leg) -> set[str]:
    """The foot and all that hangs on it."""
    below = {leg.foot}
    for place, parent in enumerate(figure.parents):
        if parent in below:
            below.add(place)
    return {figure.names[place] for place in below}


def _path(
    figure: Figure,
    motion: Motion,
    plant: Plant,
    start: float,
    end: float,
    round_: tuple[int, Array] | None,
) -> Array:
    """Where a planted joint is over the whole frames `[start, end)`, rounds of a cycle gone on."""
    times = np.arange(start, end)
    place = figure.place_of(plant.joint)
    if round_ is None:
        inside = np.clip(times, 0, motion.frames - 1).astype(np.intp)
        return forward(figure, motion.at(inside)).positions[:, place]
    length, period = round_
    rounds = np.floor(times / length)
    run = motion.at((times - rounds * length).astype(np.intp))
    return forward(figure, run.moved(ground.power(period, rounds))).positions[:, place]


def _ankle_targets(
    figure: Figure,
    motion: Motion,
    leg: Leg,
    plants: Sequence[Plant],
    round_: tuple[int, Array] | None,
) -> Array:
    """Where a leg's ankle has to be at every frame. [frames, 3]."""
    placed = forward(figure, motion)
    ankle = placed.positions[:, leg.foot]
    frames = np.arange(motion.frames, dtype=np.float64)
    inside: Array = np.zeros((motion.frames, 3))
    fading: Array = np.zeros((motion.frames, 3))
    is_inside = np.zeros(motion.frames, dtype=bool)
    for plant in plants:
        joint = placed.positions[:, figure.place_of(plant.joint)]
        for turn in range(-2, 3) if round_ else range(1):
            shift, carry = 0.0, np.zeros(3)
            if round_:
                shift, carry = turn * round_[0], ground.power(round_[1], np.array(float(turn)))
            first, last = np.ceil(plant.start), np.ceil(plant.end) - 1
            path = _path(figure, motion, plant, first, last + 1, round_)
            if not len(path):
                continue
            # Seen from this round, the plant lies that many periods back.
            away = _carried(ground.inverse(carry), path.mean(axis=0))
            ends = [_carried(ground.inverse(carry), point) for point in (path[0], path[-1])]
            times = frames + shift
            here = (times >= first) & (times <= last)
            inside[here] = away - joint[here]
            is_inside |= here
            before = _released((first - times) / RELEASE_FRAMES) * (times < first)
            after = _released((times - last) / RELEASE_FRAMES) * (times > last)
            fading += before[:, None] * (away - ends[0]) + after[:, None] * (away - ends[1])
    offset: Array = np.where(is_inside[:, None], inside, fading)
    return ankle + offset


def _carried(carry: Array, point: Array) -> Array:
    """A point [3] set down elsewhere on the ground."""
    x, z = ground.turn(carry[2], point[0], point[2])
    return np.array([carry[0] + x, point[1], carry[1] + z])


def _released(share: Array) -> Array:
    """From 1 at a plant's edge to 0 where its release ends, smoothly."""
    u = np.clip(share, 0.0, 1.0)
    result: Array = 1 - u * u * (3 - 2 * u)
    return result


def _lowering(
    figure: Figure, motion: Motion, targets: Sequence[tuple[Leg, Array]], goes_round: bool
) -> Array:
    """How far the root must come down at every frame so that no leg is stretched. [frames] metres."""
    placed = forward(figure, motion)
    need = np.zeros(motion.frames)
    for leg, target in targets:
        apart = placed.positions[:, leg.thigh] - target
        reach = FULLEST * limb_length_metres(figure, _limb(leg))
        level = np.hypot(apart[:, 0], apart[:, 2])
        highest = np.sqrt(np.maximum(reach**2 - level**2, 0.0))
        # Where a foot stands too far off even for a root on the ground, the leg points to it.
        need = np.maximum(need, np.where(level < reach, apart[:, 1] - highest, 0.0))
    if not (need > 0).any():
        return np.zeros(motion.frames)
    mode = "wrap" if goes_round else "nearest"
    size = 2 * int(RELEASE_FRAMES) + 1
    body = need[:-1] if goes_round and motion.frames > 1 else need
    smooth: Array = uniform_filter1d(maximum_filter1d(body, size, mode=mode), size, mode=mode)
    return np.append(smooth, smooth[0]) if len(body) < len(need) else smooth
