"""Where to join: every outgoing frame against every incoming one, laid on each other as well as can be.

Two poses are compared as clouds of joints that move: the incoming one is turned about the vertical and
shifted over the ground until both agree best in where the joints are and how they go on (rule 5.4).
The best turn has a closed form. With the ground seen as complex numbers, z + ix, a turn by h is a
factor exp(ih), and the sum of squared distances is least where h is the argument of the sum of
products of both clouds about their centres (Kovar, Gleicher and Pighin, Motion Graphs, 2002, give the
same for positions; velocities add to the sum). So all pairs come from one product of two matrices.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
from scipy.ndimage import minimum_filter

from ..arrays import Array, Index
from ..budget import take
from ..figure import Figure, forward
from ..moments import source
from ..performance import BodyPerformance, Performance

Planted = Literal["left", "right", "both", "none"]
Grid = npt.NDArray[np.complex128]
# A difference in velocity weighs as the way that it makes in this time.
AHEAD_SECONDS = 0.15
# A foot that stands in one pose and not in the other weighs as if every joint were so far away.
FOOT_METRES = 0.06
# Two places nearer to each other than this are one.
APART_FRAMES = 3
MOST_JOINS = 8


@dataclass(frozen=True, eq=False)
class Moments:
    """Poses at a run of a clip's frames, on the clip's own ground, and how they go on.

    frames      [n]             the clip's own frames, counted on through the rounds of a cycle
    positions   [n, joints, 3]  metres
    velocities  [n, joints, 3]  metres a second
    feet        [n, 2]          whether the left and the right foot is planted
    goes_round  they are one whole round of a cycle: the last is followed by the first
    """

    frames: Array
    positions: Array
    velocities: Array
    feet: npt.NDArray[np.bool_]
    goes_round: bool = False

    def apart(self, a: int, b: int) -> int:
        """How many frames lie between two of them."""
        there = abs(a - b)
        return min(there, len(self.frames) - there) if self.goes_round else there


@dataclass(frozen=True, eq=False)
class JoinMap:
    """How far apart every outgoing pose is from every incoming one, after the best placement.

    score       [outgoing, incoming]     metres: the weighted mean distance of the joints, and what
                                         velocities and feet add to it
    placement   [outgoing, incoming, 3]  the incoming clip's ground as seen from the outgoing one's
    """

    score: Array
    placement: Array


@dataclass(frozen=True)
class Join:
    """A place to join: the outgoing clip's frame meets the incoming one's there."""

    out_frame: float
    in_frame: float
    score: float
    planted: Planted
    placement: tuple[float, float, float]


def moments_of(
    figure: Figure,
    body: BodyPerformance,
    frames: Sequence[int] | Index | Array,
    pace: float = 1.0,
    *,
    goes_round: bool | None = None,
) -> Moments:
    """A performance at these frames of its own, played at a pace. What plays once holds its ends, and
    does not move beyond them. Without being told, as many frames as a cycle has are one round."""
    at = np.asarray(frames, dtype=np.float64)
    last = np.inf if body.is_cycle else body.length_frames - 1.0
    first = -np.inf if body.is_cycle else 0.0
    before, after = np.clip(at - 0.5, first, last), np.clip(at + 0.5, first, last)
    placed = [forward(figure, body.at(source(t))).positions for t in (before, at, after)]
    lasts = np.maximum(after - before, 0.5)[:, None, None] / float(body.rate)
    if goes_round is None:
        goes_round = body.is_cycle and len(at) == body.length_frames
    going = (placed[2] - placed[0]) / lasts * pace
    return Moments(at, placed[1], going, _feet(body, at), goes_round)


def joint_weights(figure: Figure) -> Array:
    """How much each joint counts: half the length of the bones that meet in it, one in all. [joints]"""
    lengths = np.linalg.norm(figure.offsets, axis=-1)
    lengths[0] = 0.0
    weights = lengths / 2
    for joint, parent in enumerate(figure.parents):
        if parent >= 0:
            weights[parent] += lengths[joint] / 2
        for site in figure.joints[joint].end_sites:
            weights[joint] += float(np.linalg.norm(site)) / 2
    total = weights.sum()
    return weights / total if total > 0 else np.full(len(weights), 1 / len(weights))


def join_map(figure: Figure, outgoing: Moments, incoming: Moments) -> JoinMap:
    """Every pair of frames compared, each after its own best placement."""
    found = _compared(figure, outgoing, incoming)
    turn = np.angle(found.agreement)
    shift = found.out_centre[:, None] - np.exp(1j * turn) * found.in_centre
    placement = np.stack([shift.imag, shift.real, turn], axis=-1)
    return JoinMap(found.score, placement)


def distances(figure: Figure, outgoing: Moments, incoming: Moments) -> Array:
    """How far apart every pair is after its best placement, without saying which that is. In metres, as in a
    JoinMap. [outgoing, incoming]"""
    return _compared(figure, outgoing, incoming).score


@dataclass(frozen=True, eq=False)
class _Compared:
    score: Array
    agreement: Grid
    out_centre: Grid
    in_centre: Grid


def _compared(figure: Figure, outgoing: Moments, incoming: Moments) -> _Compared:
    weights = joint_weights(figure)
    take(8 * len(outgoing.frames) * len(incoming.frames))
    out_cloud, out_centre, out_size = _cloud(outgoing, weights)
    in_cloud, in_centre, in_size = _cloud(incoming, weights)
    agreement = out_cloud @ in_cloud.conj().T
    out_height, in_height = _heights(outgoing, weights), _heights(incoming, weights)
    squares = out_size[:, None] + in_size - 2 * np.abs(agreement)
    squares += (out_height**2).sum(axis=-1)[:, None] + (in_height**2).sum(axis=-1)
    squares -= 2 * out_height @ in_height.T
    # The product of two rows can be a hair more than their squares.
    score = np.sqrt(np.maximum(squares, 0.0))
    differ = np.abs(outgoing.feet[:, None].astype(np.int8) - incoming.feet.astype(np.int8))
    return _Compared(score + FOOT_METRES * differ.sum(axis=-1), agreement, out_centre, in_centre)


def best_joins(
    found: JoinMap,
    outgoing: Moments,
    incoming: Moments,
    most: int = MOST_JOINS,
    *,
    on_one_foot: bool = False,
) -> list[Join]:
    """The best places of a map, best first: each is the lowest of what lies around it. With `on_one_foot`
    only those at which one foot stands in both, and the other does not."""
    score = found.score
    if on_one_foot:
        shared = (outgoing.feet[:, None] & incoming.feet[None]).sum(axis=-1)
        score = np.where(shared == 1, score, np.inf)
    around = 2 * APART_FRAMES + 1
    edges: list[Literal["wrap", "nearest"]] = [
        "wrap" if run.goes_round else "nearest" for run in (outgoing, incoming)
    ]
    lowest = np.isfinite(score) & (score <= minimum_filter(score, size=around, mode=edges))
    places = np.argwhere(lowest)
    places = places[np.argsort(score[lowest], kind="stable")]
    joins: list[Join] = []
    taken: list[tuple[int, int]] = []
    for row, column in places.tolist():
        # Where the map is level there are several lowest places side by side.
        if any(
            max(outgoing.apart(row, r), incoming.apart(column, c)) <= APART_FRAMES for r, c in taken
        ):
            continue
        taken.append((row, column))
        both = outgoing.feet[row] & incoming.feet[column]
        x, z, heading = found.placement[row, column].tolist()
        joins.append(
            Join(
                float(outgoing.frames[row]),
                float(incoming.frames[column]),
                float(found.score[row, column]),
                named(both),
                (x, z, heading),
            )
        )
        if len(joins) == most:
            break
    return joins


def _cloud(moments: Moments, weights: Array) -> tuple[Grid, Grid, Array]:
    """Joints on the ground about their weighted centre and their velocities, weighted, as complex rows
    [n, 2 joints]; the centres [n]; and each row's sum of squares [n]."""
    on_ground: Grid = moments.positions[..., 2] + 1j * moments.positions[..., 0]
    centre: Grid = on_ground @ weights
    going = moments.velocities[..., 2] + 1j * moments.velocities[..., 0]
    share = np.sqrt(weights)
    rows: Grid = np.concatenate(
        [share * (on_ground - centre[:, None]), AHEAD_SECONDS * share * going], axis=-1
    )
    size: Array = (np.abs(rows) ** 2).sum(axis=-1)
    return rows, centre, size


def _heights(moments: Moments, weights: Array) -> Array:
    """Heights and how they change, weighted. [n, 2 joints]"""
    share = np.sqrt(weights)
    rows: Array = np.concatenate(
        [share * moments.positions[..., 1], AHEAD_SECONDS * share * moments.velocities[..., 1]],
        axis=-1,
    )
    return rows


def _feet(playable: Performance, frames: Array) -> npt.NDArray[np.bool_]:
    """Whether the left and the right foot is planted at each frame. [n, 2]"""
    feet = np.zeros((len(frames), 2), dtype=np.bool_)
    length = playable.length_frames
    for plant in playable.plants:
        if plant.side == "middle":
            continue
        since = frames - plant.start
        if playable.is_cycle:
            since = since % length
        column = 0 if plant.side == "left" else 1
        feet[:, column] |= (since >= 0) & (since < plant.end - plant.start)
    return feet


def named(feet: npt.NDArray[np.bool_]) -> Planted:
    """What is planted, of a left and a right foot [2]."""
    left, right = bool(feet[0]), bool(feet[1])
    if left and right:
        return "both"
    return "left" if left else "right" if right else "none"
