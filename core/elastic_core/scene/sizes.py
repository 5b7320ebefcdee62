"""How large a figure is on the stage: always alike, or keyed, and then it grows about the foot it stands on.

Of a figure's own ground and the stage: stage = shift + size · own. While the size changes the shift makes
up for it where the foot that bears is, so that it stays; for two frames k, k + 1 with the foot at F,
shift(k + 1) = shift(k) − (size(k + 1) − size(k)) F.
"""

from dataclasses import dataclass, replace

import numpy as np

from ..anatomy import legs_of
from ..arrays import Array
from ..figure import Placed, forward
from ..foot import foot_of
from ..moments import LaneTime, lane_time
from ..motion import Motion
from .clock import Asked
from .document import LEAST_SIZE, MOST_SIZE
from .own_motion import unsized_at
from .staged import StagedFigure

# A foot that moves less than this between two frames bears as much as one that does not.
STILL_METRES = 1e-3


@dataclass(frozen=True, eq=False)
class StageGround:
    """A figure's own ground on the stage at some moments: shift [n, 2] metres, size [n]."""

    shift: Array
    size: Array

    def on_stage(self, placement: Array) -> Array:
        """Own ground → stage. [n, 3] → [n, 3]"""
        return _with_places(placement, self.shift + self.size[:, None] * placement[:, :2])

    def off_stage(self, placement: Array) -> Array:
        """Stage → own ground. [n, 3] → [n, 3]"""
        return _with_places(placement, (placement[:, :2] - self.shift) / self.size[:, None])


@dataclass(frozen=True, eq=False)
class _Growth:
    """Shifts and bearing places over the whole frames between which a size changes.

    shifts [n, 2]; feet [n − 1, 2], where the foot bears from each frame to the next, on the own ground.
    """

    first: float
    shifts: Array
    feet: Array


def sized(stage: StagedFigure, time: LaneTime, motion: Motion) -> Motion:
    """Motion in the figure's own metres at these moments, as it is on the stage."""
    member = stage.member
    if member.sizes is None and member.size == 1:
        return motion
    ground = ground_at(stage, time)
    size = ground.size[:, None]
    whole = np.asfortranarray(np.repeat(size, 3, axis=1))
    scales = {
        joint: motion.scales[joint] * size if joint in motion.scales else whole
        for joint in range(len(stage.figure.joints))
    }
    return replace(
        motion,
        travel=ground.on_stage(motion.travel),
        root_move=np.asfortranarray(motion.root_move * size),
        scales=scales,
    )


def ground_at(stage: StagedFigure, time: LaneTime) -> StageGround:
    """How a figure's own ground lies on the stage at these moments of its clock. [n]"""
    member = stage.member
    mark = np.array(member.mark[:2])
    size = size_at(stage, time)
    if member.sizes is None:
        return StageGround((1 - size)[:, None] * mark, size)
    growth: _Growth = stage.once("growth", lambda: _growth(stage))
    within = np.clip(np.floor(time - growth.first), 0, len(growth.feet) - 1).astype(np.intp)
    whole = size_at(stage, lane_time(growth.first + within))
    shift = growth.shifts[within] - (size - whole)[:, None] * growth.feet[within]
    return StageGround(shift, size)


def size_at(stage: StagedFigure, time: LaneTime) -> Array:
    """How large a figure is at these moments of its clock. [n] → [n]"""
    sizes = stage.member.sizes
    if sizes is None:
        return np.full(len(time), stage.member.size)
    return np.clip(sizes.values(time), LEAST_SIZE, MOST_SIZE)


def _growth(stage: StagedFigure) -> _Growth:
    sizes = stage.member.sizes
    assert sizes is not None
    first, last = np.floor(sizes.times[0]), np.ceil(sizes.times[-1]) + 1
    frames = lane_time(np.arange(first, last + 1))
    feet = _bearing(stage, forward(stage.figure, unsized_at(stage, Asked(frames, stage.clock))))
    size = size_at(stage, frames)
    mark = np.array(stage.member.mark[:2])
    steps = -np.diff(size)[:, None] * feet
    shifts = (1 - size[0]) * mark + np.concatenate([np.zeros((1, 2)), np.cumsum(steps, axis=0)])
    return _Growth(float(first), shifts, feet)


def _bearing(stage: StagedFigure, placed: Placed) -> Array:
    """Where a figure bears from each frame to the next, x and z: where the feet are that stand still, else
    between both; without legs under its root. [frames] → [frames − 1, 2]"""
    points = []
    for leg in legs_of(stage.figure):
        foot = foot_of(stage.figure, leg)
        soles = placed.positions[:, [leg.foot]] if foot is None else foot.soles(placed)
        points.append(soles[..., [0, 2]])
    if not points:
        under: Array = placed.positions[:-1, 0][:, [0, 2]]
        return under
    every = np.concatenate(points, axis=1)
    steps = np.linalg.norm(np.diff(every, axis=0), axis=-1)
    weights = 1 / (np.maximum(steps, 0.0) + STILL_METRES) ** 2
    bears: Array = (weights[..., None] * every[:-1]).sum(axis=1) / weights.sum(axis=1)[:, None]
    return bears


def _with_places(placement: Array, places: Array) -> Array:
    moved = placement.copy(order="F")
    moved[:, :2] = places
    return moved
