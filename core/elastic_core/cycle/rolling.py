"""Feet that roll: the heel stands from its strike, then the whole foot, then ball and toes until they leave
(rules 4.5 and 5.5)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from .. import ground, rotation
from ..arrays import Array, Index
from ..clip.document import Plant
from ..clock import Span
from ..easing import smooth
from ..figure import Figure, Placed
from ..foot import Foot
from ..motion import Motion
from ..reach import local

Round = tuple[int, Array]
RELEASE_FRAMES = 4.0
NOWHERE_ELSE: Mapping[Plant, Span] = {}


@dataclass(frozen=True, eq=False)
class Stand:
    """A plant as it stands in one round: where heel and ball are, and how the foot and its toes lie."""

    plant: Plant
    first: float
    last: float
    heel: Array
    ball: Array
    flat: Array
    toes: Array

    def carried(self, carry: Array) -> "Stand":
        """The same set down elsewhere on the ground: carry [3]."""
        turn = rotation.about_axis("Y", carry[2])
        return replace(
            self,
            heel=_carried(carry, self.heel),
            ball=_carried(carry, self.ball),
            flat=rotation.multiply(turn, self.flat),
            toes=rotation.multiply(turn, self.toes),
        )


@dataclass(frozen=True, eq=False)
class Rolled:
    """Where a leg's ankle has to be, and how foot and toes lie in the world, at every frame."""

    ankle: Array
    foot: Array
    toes: Array


def roll(
    figure: Figure,
    foot: Foot,
    placed: Placed,
    plants: Sequence[Plant],
    round_: Round | None,
    release: float,
    seen: Mapping[Plant, Span] = NOWHERE_ELSE,
) -> Rolled:
    """A foot through its plants, with a smooth release of so many frames before and after each."""
    count = len(placed.positions)
    frames = np.arange(count, dtype=np.float64)
    ankle = placed.positions[:, foot.ankle].copy()
    turned = placed.rotations[:, foot.ankle].copy()
    toes = placed.rotations[:, foot.toe].copy()
    shift, weight = np.zeros((count, 3)), np.zeros(count)
    twist, toe_twist = _still(count), _still(count)
    inside = np.zeros(count, dtype=np.bool_)
    for plant in plants:
        stand = stand_of(figure, foot, placed, plant, round_, seen)
        if stand is None:
            continue
        for turn in range(-2, 3) if round_ else range(1):
            here, times = stand, frames
            if round_:
                # Seen from this round, the plant lies that many periods back.
                if not reaches(frames + turn * round_[0], stand.first, stand.last, release):
                    continue
                here = stand.carried(ground.inverse(ground.power(round_[1], np.array(float(turn)))))
                times = frames + turn * round_[0]
            within = (times >= stand.first) & (times <= stand.last)
            if within.any():
                ankle[within], turned[within], toes[within] = _standing(
                    foot, here, times[within], placed.rotations[within, foot.ankle]
                )
                inside |= within
            for edge, way in ((stand.first, -1.0), (stand.last, 1.0)):
                share = way * (times - edge) / release
                near = (share > 0) & (share < 1)
                if not near.any():
                    continue
                off = _off_at(foot, here, edge, times, placed, round_)
                if off is None:
                    continue
                amount = 1 - smooth(share[near])
                shift[near] += amount[:, None] * off[0]
                twist[near] = rotation.slerp(_still(1), off[1][None], amount)
                toe_twist[near] = rotation.slerp(_still(1), off[2][None], amount)
                weight[near] = amount
    free = ~inside & (weight > 0)
    ankle[free] += shift[free]
    turned[free] = rotation.multiply(twist[free], turned[free])
    toes[free] = rotation.multiply(toe_twist[free], toes[free])
    return Rolled(ankle, turned, toes)


def reaches(times: Array, first: float, last: float, release: float = RELEASE_FRAMES) -> bool:
    """Whether a plant, or its release on either side, falls on any of these frames in order."""
    return bool(times[0] < last + release and times[-1] > first - release)


def stand_of(
    figure: Figure,
    foot: Foot,
    placed: Placed,
    plant: Plant,
    round_: Round | None,
    seen: Mapping[Plant, Span] = NOWHERE_ELSE,
) -> Stand | None:
    """Where a plant stands, as seen from the round it begins in: its ball where it is while it bears, its
    sole flat on the ground as at rest, heading as in the middle of the plant; of the frames that are
    `seen`."""
    first, last = np.ceil(plant.start), np.ceil(plant.end) - 1
    if last < first:
        return None
    frames = np.arange(first, last + 1)
    looked_at = frames[frames_seen(plant, frames, seen)]
    bears = looked_at[phase_of(plant, looked_at) >= 0]
    bears = bears if bears.size else looked_at
    at, carry = _in_round(bears, len(placed.positions), round_)
    ball = _each_carried(carry, placed.positions[at, foot.toe]).mean(axis=0)
    middle = len(bears) // 2
    rest = figure.at_rest.rotations[0]
    turned = placed.rotations[at[middle], foot.ankle]
    heading, _ = rotation.split_heading(
        rotation.multiply(turned, rotation.conjugate(rest[foot.ankle]))
    )
    upright = rotation.about_axis("Y", heading + carry[middle, 2])
    flat = rotation.multiply(upright, rest[foot.ankle])
    toes = rotation.multiply(upright, rest[foot.toe])
    heel = ball + rotation.rotate(flat, foot.heel - foot.ball)
    return Stand(plant, float(first), float(last), heel, ball, flat, toes)


def frames_seen(plant: Plant, times: Array, seen: Mapping[Plant, Span]) -> Index:
    """Which of a plant's frames tell where it stands: those that are seen, or all where none is."""
    span = seen.get(plant)
    if span is not None:
        inside = np.flatnonzero((times >= span.start) & (times < span.end))
        if inside.size:
            return inside
    return np.arange(len(times))


def phase_of(plant: Plant, times: Array) -> Array:
    """−1 while the heel bears, 0 while the foot lies flat, 1 while the ball does. [n] → [n]."""
    on_heel = times < plant.start + plant.heel_frames
    on_ball = times > plant.end - 1 - plant.toe_frames
    phase: Array = np.where(on_heel, -1.0, np.where(on_ball, 1.0, 0.0))
    return phase


def above_ground(figure: Figure, foot: Foot, rolled: Rolled) -> Rolled:
    """The ankle raised, and then the toes bent up, wherever the sole would go under the floor it rests on."""
    heel_rests, ball_rests, tip_rests = foot.soles(figure.at_rest)[0, :, 1]
    heel = rolled.ankle + rotation.rotate(rolled.foot, foot.heel)
    ball = rolled.ankle + rotation.rotate(rolled.foot, foot.ball)
    rise = np.maximum(0.0, np.maximum(heel_rests - heel[:, 1], ball_rests - ball[:, 1]))
    ankle = rolled.ankle.copy()
    ankle[:, 1] += rise
    reach = rotation.rotate(rolled.toes, foot.tip)
    ball_height = ball[:, 1] + rise
    under = ball_height + reach[:, 1] < tip_rests
    toes = rolled.toes.copy()
    if under.any():
        length = float(np.linalg.norm(foot.tip))
        up = np.clip((tip_rests - ball_height[under]) / length, -1.0, 1.0)
        level = reach[under][:, [0, 2]]
        level /= np.maximum(np.linalg.norm(level, axis=-1, keepdims=True), 1e-9)
        across = np.sqrt(1 - up**2)
        aimed = np.stack([level[:, 0] * across, up, level[:, 1] * across], axis=-1)
        toes[under] = rotation.multiply(rotation.least(reach[under], aimed), toes[under])
    return Rolled(ankle, rolled.foot, toes)


def laid(figure: Figure, motion: Motion, placed: Placed, foot: Foot, rolled: Rolled) -> Motion:
    """The motion with foot and toes lying as they are to; the ankle's place is still to be reached."""
    rotations = motion.rotations.copy(order="F")
    shin = placed.rotations[:, figure.parents[foot.ankle]]
    rotations[:, foot.ankle] = local(figure, foot.ankle, shin, rolled.foot)
    rotations[:, foot.toe] = local(figure, foot.toe, rolled.foot, rolled.toes)
    return replace(motion, rotations=rotations)


def _standing(foot: Foot, stand: Stand, times: Array, turned: Array) -> tuple[Array, Array, Array]:
    """Ankle, foot and toes while a plant stands: on the heel, flat, or on the ball. [n, 3], [n, 4] × 2."""
    phase = phase_of(stand.plant, times)
    angle = foot.roll_about(stand.flat, turned)
    # On its heel a foot only points up, on its ball only down.
    angle = np.where(
        phase < 0, np.minimum(angle, 0.0), np.where(phase > 0, np.maximum(angle, 0.0), 0.0)
    )
    lies = foot.rolled(stand.flat, angle)
    on_heel = stand.heel - rotation.rotate(lies, foot.heel)
    on_ball = stand.ball - rotation.rotate(lies, foot.ball)
    ankle = np.where((phase < 0)[:, None], on_heel, on_ball)
    # The toes stay as they lie until they leave; on the heel they point up with the foot.
    since_flat = rotation.multiply(rotation.conjugate(stand.flat), stand.toes)
    with_foot = rotation.multiply(lies, since_flat)
    toes = np.where((phase < 0)[:, None], with_foot, stand.toes)
    return ankle, lies, toes


def _off_at(
    foot: Foot, stand: Stand, edge: float, times: Array, placed: Placed, round_: Round | None
) -> tuple[Array, Array, Array] | None:
    """How far ankle, foot and toes are off their own place at a plant's edge: [3], [4], [4]."""
    count = len(placed.positions)
    at = edge - times[0]
    rounds = 0.0
    if round_:
        rounds = np.floor(at / round_[0])
        at -= rounds * round_[0]
    place = int(np.clip(at, 0, count - 1))
    carry = ground.power(round_[1], np.array(rounds)) if round_ else np.zeros(3)
    turn = rotation.about_axis("Y", carry[2])
    own = _carried(carry, placed.positions[place, foot.ankle])
    own_foot = rotation.multiply(turn, placed.rotations[place, foot.ankle])
    own_toes = rotation.multiply(turn, placed.rotations[place, foot.toe])
    ankle, lies, toes = _standing(foot, stand, np.array([edge]), own_foot[None])
    return (
        ankle[0] - own,
        rotation.multiply(lies[0], rotation.conjugate(own_foot)),
        rotation.multiply(toes[0], rotation.conjugate(own_toes)),
    )


def _in_round(times: Array, count: int, round_: Round | None) -> tuple[Index, Array]:
    """Places of these frames among the samples, and the carry of each into its round [n, 3]."""
    if round_ is None:
        return np.clip(times, 0, count - 1).astype(np.intp), np.zeros((len(times), 3))
    rounds = np.floor(times / round_[0])
    return (times - rounds * round_[0]).astype(np.intp), ground.power(round_[1], rounds)


def _carried(carry: Array, point: Array) -> Array:
    """A point [3] set down elsewhere on the ground: carry [3]."""
    moved: Array = _each_carried(carry[None], point[None])[0]
    return moved


def _each_carried(carry: Array, points: Array) -> Array:
    x, z = ground.turn(carry[:, 2], points[:, 0], points[:, 2])
    moved: Array = np.stack([carry[:, 0] + x, points[:, 1], carry[:, 1] + z], axis=-1)
    return moved


def _still(count: int) -> Array:
    return np.tile(np.array(rotation.IDENTITY), (count, 1))
