"""Holding the feet: planted joints kept in place, with a smooth release (rule 5.5)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import maximum_filter1d, uniform_filter1d

from .. import ground
from ..anatomy import Leg, legs_of
from ..arrays import Array
from ..clip.document import Plant
from ..clock import Span
from ..easing import smooth
from ..figure import Figure, Placed, forward
from ..foot import Foot, foot_of, stillest_steps
from ..motion import Motion
from ..reach import Limb, reach_metres, reached
from .rolling import (
    NOWHERE_ELSE,
    RELEASE_FRAMES,
    above_ground,
    frames_seen,
    laid,
    phase_of,
    reaches,
    roll,
)

# A leg never stretches wholly: a knee that locks flips.
FULLEST = 0.9995
UP = np.array([0.0, 1.0, 0.0])
# An ankle that is no farther off its own place than this is not moved.
STILL_METRES = 1e-7
# A foot that passes over the ground may dip in by so much, as it does in many a clip.
UNDER_FLOOR_METRES = 0.008
# A foot lies flat while its heel and its ball are as level as this, of the way between them: 3°.
FLAT_WITHIN = 0.052


@dataclass(frozen=True)
class Held:
    """The motion with its feet held, and how far the root had to be lowered for it, at the most."""

    motion: Motion
    lowered_cm: float
    lowered_at: int


def hold_feet(
    figure: Figure,
    motion: Motion,
    plants: Sequence[Plant],
    round_: tuple[int, Array] | None,
    seen: Mapping[Plant, Span] = NOWHERE_ELSE,
    *,
    in_passing: bool = False,
    placed: Placed | None = None,
) -> Held:
    """Every plant that is held, kept where it stands. `round_`: a cycle's length and period [3].

    A plant stands where it does on the average of its frames, or of those of them that are `seen`. Held
    `in_passing`, as in a join, frames far from a plant stay as they are, and near one no sole goes deep
    under the floor it rests on. `placed` is the motion in the world, where it is known.
    """
    held = [plant for plant in plants if plant.held]
    if not held:
        return Held(motion, 0.0, 0)
    start, placed = motion, placed or forward(figure, motion)
    targets: list[tuple[Leg, Array]] = []
    lies = motion
    for leg in legs_of(figure):
        own = [plant for plant in held if plant.joint in _joints_below(figure, leg)]
        foot = foot_of(figure, leg)
        if not own:
            continue
        rolling = [plant for plant in own if plant.rolls] if foot else []
        others = [plant for plant in own if plant not in rolling]
        target = placed.positions[:, leg.foot]
        if foot and rolling:
            rolled = roll(figure, foot, placed, rolling, round_, RELEASE_FRAMES, seen)
            rolled = above_ground(figure, foot, rolled)
            lies = laid(figure, lies, placed, foot, rolled)
            target = rolled.ankle
        if others:
            stands = _ankle_targets(figure, placed, leg, others, round_, seen)
            target = target + (stands - placed.positions[:, leg.foot])
            if in_passing and foot:
                target[:, 1] += _under_floor(figure, foot, placed, target)
        targets.append((leg, target))
    if not targets:
        return Held(motion, 0.0, 0)
    motion = lies
    drop = _lowering(placed, targets, round_ is not None, only_moved=in_passing)
    if drop.any():
        root_move = motion.root_move.copy(order="F")
        root_move[:, 1] -= drop
        motion = replace(motion, root_move=root_move)
    if lies is start:
        placed = Placed(placed.positions - drop[:, None, None] * UP, placed.rotations)
    else:
        placed = forward(figure, motion)
    limbs = [_limb(leg) for leg, _ in targets]
    ankles = np.stack([target for _, target in targets], axis=1)
    bent = reached(figure, motion, limbs, ankles, placed)
    if in_passing:
        for leg, target in targets:
            stays = (drop == 0) & ~_is_moved(placed, leg, target)
            still = np.ix_(stays, [leg.thigh, leg.shin, leg.foot])
            bent.rotations[still] = motion.rotations[still]
    motion = bent
    return Held(motion, float(drop.max() * 100), int(drop.argmax()))


def slide_cm(
    figure: Figure, placed: Placed, plant: Plant, round_: tuple[int, Array] | None
) -> float:
    """The ground that the point which bears covers over the whole frames of a plant, in centimetres: the
    heel from the strike, heel and ball while the foot is flat, the ball until it leaves."""
    foot = _foot(figure, plant) if plant.rolls else None
    if foot is None:
        steps = _steps(_path(figure, placed, plant, round_))
        return float(steps.sum() * 100)
    times = np.arange(np.ceil(plant.start), np.ceil(plant.end), dtype=np.float64)
    soles = sole_paths(foot, placed, times, round_)
    phase = phase_of(plant, times)
    heel, ball = _steps(soles[:, 0]), _steps(soles[:, 1])
    bears = np.where(phase[1:] <= 0, heel, 0.0), np.where(phase[:-1] >= 0, ball, 0.0)
    return float(np.maximum(*bears).sum() * 100)


def steps_of_plant(figure: Figure, placed: Placed, plant: Plant) -> Array:
    """The ground that a planted foot covers from each whole frame of its plant to the next, by whichever
    of its points is stiller, in metres [n − 1]. The plant is in frames of the poses."""
    first, end = (
        int(np.clip(np.ceil(at), 0, len(placed.positions))) for at in (plant.start, plant.end)
    )
    foot = _foot(figure, plant)
    if foot is None:
        return stillest_steps(placed.positions[first:end, [figure.place_of(plant.joint)]])
    return stillest_steps(foot.soles(placed)[first:end])


def as_it_rolls(figure: Figure, placed: Placed, plant: Plant) -> Plant:
    """A plant that rolls, with the frames on its heel and on its ball as the motion has them: while one
    of them is clearly higher than the other. The plant is in frames of the poses."""
    foot = _foot(figure, plant) if plant.rolls else None
    first, end = (
        int(np.clip(np.ceil(at), 0, len(placed.positions))) for at in (plant.start, plant.end)
    )
    if foot is None or end <= first:
        return plant
    heights = foot.soles(placed)[first:end, :2, 1] - foot.soles(figure.at_rest)[0, :2, 1]
    tilt = (heights[:, 0] - heights[:, 1]) / float(np.linalg.norm(foot.heel - foot.ball))
    on_heel, on_ball = tilt < -FLAT_WITHIN, tilt > FLAT_WITHIN
    heel = len(tilt) if on_heel.all() else int(on_heel.argmin())
    toe = len(tilt) if on_ball.all() else int(on_ball[::-1].argmin())
    update = {"heel_frames": float(heel), "toe_frames": float(toe)}
    return plant.model_copy(update=update)


def _foot(figure: Figure, plant: Plant) -> Foot | None:
    """The foot that a plant stands on; none where it has no toes to roll over."""
    leg = next((leg for leg in legs_of(figure) if plant.joint in _joints_below(figure, leg)), None)
    return foot_of(figure, leg) if leg else None


def sole_paths(foot: Foot, placed: Placed, times: Array, round_: tuple[int, Array] | None) -> Array:
    """Heel, ball and tip at these frames, rounds of a cycle gone on. [n, 3 points, 3]."""
    soles = foot.soles(placed)
    if round_ is None:
        return soles[np.clip(times, 0, len(soles) - 1).astype(np.intp)]
    length, period = round_
    rounds = np.floor(times / length)
    within = soles[(times - rounds * length).astype(np.intp)]
    carry = ground.power(period, rounds)
    return np.stack([_carried(carry, within[:, point]) for point in range(3)], axis=1)


def _steps(path: Array) -> Array:
    """The ground covered from frame to frame [n − 1]."""
    result: Array = np.linalg.norm(np.diff(path[:, [0, 2]], axis=0), axis=-1)
    return result


def _limb(leg: Leg) -> Limb:
    return Limb(leg.thigh, leg.shin, leg.foot)


def _joints_below(figure: Figure, leg: Leg) -> set[str]:
    """The foot and all that hangs on it."""
    below = {leg.foot}
    for place, parent in enumerate(figure.parents):
        if parent in below:
            below.add(place)
    return {figure.names[place] for place in below}


def _path(figure: Figure, placed: Placed, plant: Plant, round_: tuple[int, Array] | None) -> Array:
    """Where a planted joint is over the whole frames of its plant, rounds of a cycle gone on [n, 3]."""
    times = np.arange(np.ceil(plant.start), np.ceil(plant.end))
    joint = placed.positions[:, figure.place_of(plant.joint)]
    if round_ is None:
        return joint[np.clip(times, 0, len(joint) - 1).astype(np.intp)]
    length, period = round_
    rounds = np.floor(times / length)
    within = joint[(times - rounds * length).astype(np.intp)]
    return _carried(ground.power(period, rounds), within)


def _ankle_targets(
    figure: Figure,
    placed: Placed,
    leg: Leg,
    plants: Sequence[Plant],
    round_: tuple[int, Array] | None,
    seen: Mapping[Plant, Span],
) -> Array:
    """Where a leg's ankle has to be at every frame. [frames, 3]."""
    count = len(placed.positions)
    frames = np.arange(count, dtype=np.float64)
    inside: Array = np.zeros((count, 3))
    fading: Array = np.zeros((count, 3))
    is_inside = np.zeros(count, dtype=bool)
    for plant in plants:
        path = _path(figure, placed, plant, round_)
        if not len(path):
            continue
        joint = placed.positions[:, figure.place_of(plant.joint)]
        first, last = np.ceil(plant.start), np.ceil(plant.end) - 1
        times = np.arange(first, last + 1)
        stands = np.stack([path[frames_seen(plant, times, seen)].mean(axis=0), path[0], path[-1]])
        for turn in range(-2, 3) if round_ else range(1):
            shift, back = 0.0, np.zeros(3)
            if round_:
                # Seen from this round, the plant lies that many periods back.
                shift = float(turn * round_[0])
                if not reaches(frames + shift, first, last):
                    continue
                back = ground.inverse(ground.power(round_[1], np.array(float(turn))))
            place, at_first, at_last = _carried(back, stands)
            times = frames + shift
            here = (times >= first) & (times <= last)
            inside[here] = place - joint[here]
            is_inside |= here
            before = _released((first - times) / RELEASE_FRAMES) * (times < first)
            after = _released((times - last) / RELEASE_FRAMES) * (times > last)
            fading += before[:, None] * (place - at_first) + after[:, None] * (place - at_last)
    offset: Array = np.where(is_inside[:, None], inside, fading)
    return placed.positions[:, leg.foot] + offset


def _carried(carry: Array, points: Array) -> Array:
    """Points [n, 3] set down elsewhere on the ground: carry [3] or [n, 3]."""
    x, z = ground.turn(carry[..., 2], points[:, 0], points[:, 2])
    return np.stack([carry[..., 0] + x, points[:, 1], carry[..., 1] + z], axis=-1)


def _under_floor(figure: Figure, foot: Foot, placed: Placed, ankle: Array) -> Array:
    """How far a sole is too deep under the floor it rests on, with its ankle there. [frames] metres."""
    carried = ankle[:, 1] - placed.positions[:, foot.ankle, 1]
    heights = foot.soles(placed)[..., 1] + carried[:, None]
    rests = np.minimum(foot.soles(figure.at_rest)[..., 1], 0.0)
    under: Array = np.maximum(0.0, (rests - heights).max(axis=1) - UNDER_FLOOR_METRES)
    return under


def _released(share: Array) -> Array:
    """From 1 at a plant's edge to 0 where its release ends, smoothly."""
    return 1 - smooth(np.clip(share, 0.0, 1.0))


def _is_moved(placed: Placed, leg: Leg, target: Array) -> NDArray[np.bool_]:
    """At which frames an ankle has to be elsewhere than it is. [frames]."""
    off = np.abs(target - placed.positions[:, leg.foot]).max(axis=-1)
    moved: NDArray[np.bool_] = off > STILL_METRES
    return moved


def _lowering(
    placed: Placed,
    targets: Sequence[tuple[Leg, Array]],
    goes_round: bool,
    *,
    only_moved: bool = False,
) -> Array:
    """How far the root must come down at every frame so that no leg is stretched. [frames] metres."""
    count = len(placed.positions)
    need = np.zeros(count)
    for leg, target in targets:
        apart = placed.positions[:, leg.thigh] - target
        reach = FULLEST * reach_metres(placed, _limb(leg))
        level = np.hypot(apart[:, 0], apart[:, 2])
        highest = np.sqrt(np.maximum(reach**2 - level**2, 0.0))
        # Where a foot stands too far off even for a root on the ground, the leg points to it.
        lacks = np.where(level < reach, apart[:, 1] - highest, 0.0)
        if only_moved:
            # A leg that the performance stretches by itself is its own affair.
            lacks = np.where(_is_moved(placed, leg, target), lacks, 0.0)
        need = np.maximum(need, lacks)
    if not (need > 0).any():
        return np.zeros(count)
    mode: Literal["wrap", "nearest"] = "wrap" if goes_round else "nearest"
    size = 2 * int(RELEASE_FRAMES) + 1
    body = need[:-1] if goes_round and count > 1 else need
    smooth: Array = uniform_filter1d(maximum_filter1d(body, size, mode=mode), size, mode=mode)
    return np.append(smooth, smooth[0]) if len(body) < len(need) else smooth
