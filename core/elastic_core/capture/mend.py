"""Spikes: turns that are off for one to three samples, found and mended (rule 6.2).

A spike is told by what its neighbours foretell. Of all runs of one to three samples the one is taken that,
mended, leaves the motion smoothest; it counts where every sample of it is off by more than the threshold,
and where it comes and goes at once. A knee that is thrown about in every step sets a threshold of its own.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from .. import rotation
from ..arrays import Array, Index
from ..cycle.mirror import partners
from ..errors import Refusal
from ..figure import Figure
from ..motion import Motion
from .mixing import by_blocks

OVER_DEGREES = 6.0
LONGEST_SAMPLES = 3
LONGEST_BY_HAND = 48
# Less than so many times what three in four of a joint's samples stay under is no spike of that joint. Where
# three samples last for long enough to be a move, nor is what the same joint of either side does in three of
# a hundred: toes that flick in every step.
_MOVE_FPS = 60
_USUAL_PER_CENT, _USUALLY = 75.0, 3.7
_HABIT_PER_CENT, _HABITS = 97.0, 1.3
# How suddenly a spike comes and goes, as a share of the threshold.
_SUDDEN_SHARE = 0.6
_UNSURE = 1.6
_MOST_PASSES = 6
_HABIT_FRAMES = 2048
# Which samples before and after a run foretell it: at the start of a take, at its end, and in a take that is
# hardly longer than the run.
_NODES = {1: [-1, 0, 1], 2: [-2, -1, 0], 3: [-1, 0]}


@dataclass(frozen=True)
class Spike:
    """A joint's samples `[frame, end)`, off by so many degrees at the most."""

    frame: int
    end: int
    joint: str
    degrees: float


def find_spikes(
    figure: Figure, motion: Motion, rate: Fraction, over_degrees: float = OVER_DEGREES
) -> tuple[Spike, ...]:
    """Every spike, in order of frames. Spikes close to one another are told apart by mending as they are
    found."""
    over = np.maximum(_thresholds_degrees(figure, motion, rate), over_degrees)

    def work(places: list[int], turns: Array) -> list[Spike]:
        found: list[Spike] = []
        row = _Row(_in_a_row(turns), motion.frames)
        for start, end, degrees in row.spikes(np.radians(over[:, places])):
            joint, frame = divmod(start, motion.frames)
            name = figure.names[places[joint]]
            found.append(Spike(frame, frame + end - start, name, degrees))
        return found

    blocks = by_blocks(motion, range(motion.joints), work)
    return tuple(sorted((spike for found in blocks for spike in found), key=_in_order))


def _in_order(spike: Spike) -> tuple[int, str]:
    return spike.frame, spike.joint


def mended(figure: Figure, motion: Motion, spikes: Iterable[Spike]) -> Motion:
    """The motion with these samples on the shortest-arc curve through their neighbours.

    Raises Refusal for a spike that is longer than can be told from its neighbours, or lies outside.
    """
    spans: list[tuple[int, int]] = []
    for spike in spikes:
        if not 0 <= spike.frame < spike.end <= motion.frames:
            raise Refusal(f"The take has no frames {spike.frame} to {spike.end} to be mended.")
        if spike.end - spike.frame > LONGEST_BY_HAND:
            raise Refusal(f"{LONGEST_BY_HAND} samples can be mended in a row, and no more.")
        first = figure.place_of(spike.joint) * motion.frames
        spans.append((first + spike.frame, first + spike.end))
    if not spans:
        return motion
    rotations = motion.rotations.copy(order="F")
    position: Array | None = None
    if min(spans)[0] < motion.frames:
        # The root is mended as it is in the world, its heading with it.
        position, rotations[:, 0] = motion.root_in_world()
    _Row(_in_a_row(rotations), motion.frames).mend(spans)
    if position is None:
        return replace(motion, rotations=rotations)
    made = Motion.from_root(position, rotations, motion.moves, given_away=True)
    return replace(made, scales=motion.scales)


def _in_a_row(turns: Array) -> Array:
    """Joints' turns one joint after another, as they lie in memory. [n, joints, 4] → [joints · n, 4]."""
    return turns.reshape(-1, 4, order="F")


def lagrange(known: Array, wanted: Array) -> Array:
    """How much each known moment counts at each wanted one, on the polynomial through all. [wanted, known]."""
    apart = known[:, None] - known[None]
    np.fill_diagonal(apart, 1.0)
    weights: Array = np.empty((len(wanted), len(known)))
    for k in range(len(known)):
        others = np.delete(known, k)
        weights[:, k] = np.prod(wanted[:, None] - others, axis=1) / np.prod(apart[k])
    return weights


def _thresholds_degrees(figure: Figure, motion: Motion, rate: Fraction) -> Array:
    """What each joint's samples have to be off by at the least to be more than its noise and its habit:
    told from what they are off by from their neighbours. [samples in a row, joints]."""
    if motion.frames < LONGEST_SAMPLES + 4:
        return np.zeros((LONGEST_SAMPLES, motion.joints))
    start = max(0, (motion.frames - _HABIT_FRAMES) // 2)
    seen = motion.at(np.arange(start, min(motion.frames, start + _HABIT_FRAMES)))
    usual, habit = (np.zeros((LONGEST_SAMPLES, motion.joints)) for _ in range(2))

    def work(places: list[int], turns: Array) -> None:
        for length in range(1, LONGEST_SAMPLES + 1):
            degrees = _off_in_the_middle(turns, length)
            usual[length - 1, places], habit[length - 1, places] = np.percentile(
                degrees, (_USUAL_PER_CENT, _HABIT_PER_CENT), axis=0
            )

    by_blocks(seen, range(motion.joints), work)
    if rate >= _MOVE_FPS:
        return _USUALLY * usual
    other = partners(figure)
    has_other = other != np.arange(len(other))
    both = np.where(has_other, np.minimum(habit, habit[:, other]), 0.0)
    result: Array = np.maximum(_USUALLY * usual, _HABITS * both)
    return result


def _off_in_the_middle(turns: Array, length: int) -> Array:
    """What the middle of every run of so many samples is off by from what the two before and the two after it
    foretell, in degrees. [n, joints, 4] → [n − length − 3, joints]."""
    nodes = np.array([-2, -1, length, length + 1])
    middle = length // 2
    weights = lagrange(nodes.astype(np.float64), np.array([float(middle)]))[0]
    count = len(turns) - length - 3
    off = turns[middle + 2 : middle + 2 + count].copy()
    for node, weight in zip(nodes.tolist(), weights.tolist(), strict=True):
        off -= weight * turns[node + 2 : node + 2 + count]
    # Half of a small turn is as long as the chord between its quaternions.
    result: Array = np.degrees(2 * np.sqrt((off * off).sum(axis=-1)))
    return result


class _Row:
    """The turns of several joints, one joint after another: all are looked at and mended at once.

    turns [joints · frames, 4]; where spikes are looked for, each joint's are in one hemisphere.
    """

    def __init__(self, turns: Array, frames: int) -> None:
        self.turns, self.frames = turns, frames

    def spikes(self, over: Array) -> list[tuple[int, int, float]]:
        """Spikes as (first sample, end, degrees), over thresholds in radians for runs of one, two and three
        samples of each joint [3, joints]. They are mended on the way."""
        found: list[tuple[int, int, float]] = []
        places: Index | None = None
        for _ in range(_MOST_PASSES):
            worst = self._worst_first(over, places)
            if not worst:
                break
            found += [(start, end, float(np.degrees(off))) for start, end, off in worst]
            self.mend([(start, end) for start, end, _ in worst])
            near = np.array([start for start, _, _ in worst])[:, None] + np.arange(-4, 8)
            places = np.unique(near[(near > 0) & (near < len(self.turns) - 1)])
        return self._joined(found)

    def mend(self, spans: Sequence[tuple[int, int]]) -> None:
        """Samples put on the curve through their neighbours, in place."""
        gaps = self._gaps(spans)
        starts, ends = gaps[:, 0], gaps[:, 1]
        lengths = ends - starts
        # Two good samples on either side are the rule: those gaps are mended all at once.
        free = (starts % self.frames >= 2) & ((ends - 1) % self.frames + 3 <= self.frames)
        free[1:] &= starts[1:] - ends[:-1] >= 2
        free[:-1] &= starts[1:] - ends[:-1] >= 2
        for length in np.unique(lengths[free]).tolist():
            self._mend_alike(starts[free & (lengths == length)], length)
        for start, end in gaps[~free].tolist():
            self._mend_one(start, end, gaps)

    def _gaps(self, spans: Sequence[tuple[int, int]]) -> Index:
        """Runs of samples that are off, in order, none over the end of its joint. [gaps, 2]."""
        gaps: list[tuple[int, int]] = []
        for start, end in sorted(spans):
            if gaps and start <= gaps[-1][1] and start % self.frames:
                gaps[-1] = (gaps[-1][0], max(gaps[-1][1], end))
            else:
                gaps.append((start, end))
        return np.array(gaps, dtype=np.intp).reshape(-1, 2)

    def _mend_alike(self, starts: Index, length: int) -> None:
        """Gaps of one length, each with two good samples before it and two after it."""
        nodes = np.array([-2, -1, length, length + 1])
        weights = lagrange(nodes.astype(np.float64), np.arange(length, dtype=np.float64))
        about = self.turns[starts - 1][:, None]
        known = self.turns[starts[:, None] + nodes]
        away = rotation.vector(rotation.multiply(rotation.conjugate(about), known))
        told = np.einsum("fk,rkc->rfc", weights, away)
        done = rotation.multiply(about, rotation.from_vector(told))
        self.turns[starts[:, None] + np.arange(length)] = done

    def _mend_one(self, start: int, end: int, gaps: Index) -> None:
        """The cubic through what good samples there are; at an end of the take the nearest stays."""
        first = start // self.frames * self.frames
        last_gap = np.searchsorted(gaps[:, 0], np.arange(first, first + self.frames), "right") - 1
        off = (last_gap >= 0) & (np.arange(first, first + self.frames) < gaps[last_gap, 1])
        good = first + np.flatnonzero(~off)
        before, after = good[good < start][-2:], good[good >= end][:2]
        if not before.size and not after.size:
            raise Refusal("Nothing is left of the joint to mend it by.")
        if not before.size or not after.size:
            self.turns[start:end] = self.turns[before[-1] if before.size else after[0]]
            return
        known, wanted = np.concatenate([before, after]), np.arange(start, end)
        about = self.turns[before[-1]]
        away = rotation.vector(rotation.multiply(rotation.conjugate(about), self.turns[known]))
        weights = lagrange((known - start).astype(np.float64), (wanted - start).astype(np.float64))
        self.turns[start:end] = rotation.multiply(about, rotation.from_vector(weights @ away))

    def _joined(self, spikes: list[tuple[int, int, float]]) -> list[tuple[int, int, float]]:
        """Spikes of a joint that touch are one."""
        joined: list[tuple[int, int, float]] = []
        for start, end, off in sorted(spikes):
            if joined and start <= joined[-1][1] and start % self.frames:
                first, last, worst = joined[-1]
                joined[-1] = (first, max(last, end), max(worst, off))
            else:
                joined.append((start, end, off))
        return joined

    def _worst_first(self, over: Array, places: Index | None) -> list[tuple[int, int, float]]:
        """The runs that leave the motion smoothest when mended, the best first, none near another."""
        where, bends = self._bends(places)
        least = _SUDDEN_SHARE * over.min(axis=0)
        sudden = where[bends > least[where // self.frames]]
        if not sudden.size:
            return []
        # A spike comes at once and goes at once; at an end of the take one of both is not seen.
        edges: NDArray[np.bool_] = np.zeros(len(self.turns), dtype=np.bool_)
        edges[sudden] = edges[:: self.frames] = edges[self.frames - 1 :: self.frames] = True
        rows = [np.empty((0, 4))]
        for length in range(1, LONGEST_SAMPLES + 1):
            starts = np.unique(np.concatenate([sudden + 1, sudden - length]))
            frame = starts % self.frames
            starts = starts[(frame >= 1) & (frame + length < self.frames) & (starts > 0)]
            starts = starts[edges[starts - 1] & edges[starts + length]]
            if starts.size:
                rows.append(self._told(starts, length, over[length - 1, starts // self.frames]))
        candidates = np.concatenate(rows)
        candidates = candidates[np.argsort(-candidates[:, 2], kind="stable")]
        taken = bytearray(len(self.turns) + 4)
        best: list[tuple[int, int, float]] = []
        for start, end, _, off in candidates.tolist():
            a, e = int(start), int(end)
            if not any(taken[a : e + 4]):
                taken[a + 2 : e + 2] = b"\1" * (e - a)
                best.append((a, e, off))
        return best

    def _bends(self, places: Index | None) -> tuple[Index, Array]:
        """Places, and by how much each step there differs from the one before, in radians."""
        squares: Array
        if places is None:
            places = np.arange(1, len(self.turns) - 1)
            squares = np.zeros(len(places))
            for part in self.turns.T:
                bend = part[2:] - part[1:-1]
                bend -= part[1:-1]
                bend += part[:-2]
                bend *= bend
                squares += bend
        else:
            before, here, after = (self.turns[places + k] for k in (-1, 0, 1))
            squares = ((after - 2 * here + before) ** 2).sum(axis=-1)
        frame = places % self.frames
        squares[(frame == 0) | (frame == self.frames - 1)] = 0.0
        return places, 2 * np.sqrt(squares)

    def _told(self, starts: Index, length: int, over: Array) -> Array:
        """Runs of so many samples from each start that are off by more than `over` [starts] radians, as rows of
        start, end, how much smoother the motion is without, and what they are off by."""
        ahead = 3
        offsets = np.arange(-ahead, length + ahead)
        frames = (starts % self.frames)[:, None] + offsets
        first = (starts // self.frames * self.frames)[:, None]
        about = self.turns[starts - 1]
        inside = self.turns[first + np.clip(frames, 0, self.frames - 1)]
        away = rotation.vector(rotation.multiply(rotation.conjugate(about)[:, None], inside))
        outside = (frames < 0) | (frames >= self.frames)
        known = np.where(outside[:, 1], 1, 0) + np.where(outside[:, length + ahead + 1], 2, 0)
        foretold = np.empty((len(starts), length, 3))
        own = np.arange(length, dtype=np.float64)
        for case in np.unique(known).tolist():
            nodes = _NODES[case] if case else [-2, -1, 0, 1]
            nodes = [node if node < 0 else node + length for node in nodes]
            weights = lagrange(np.array(nodes, dtype=np.float64), own)
            rows = known == case
            there = away[rows][:, [ahead + node for node in nodes]]
            foretold[rows] = np.einsum("fk,rkc->rfc", weights, there)
        without = away.copy()
        without[:, ahead : ahead + length] = foretold
        # With less to foretell it by, more is needed to be sure.
        least = over * np.where(known > 0, _UNSURE, 1.0)
        off = np.sqrt(((away - without)[:, ahead : ahead + length] ** 2).sum(axis=-1))
        before, after = _second(away), _second(without)
        # What reaches beyond an end says nothing: nothing there is smoother or rougher.
        unseen = outside[:, :-2] | outside[:, 2:]
        before[unseen], after[unseen] = 0.0, 0.0
        smoother = before.sum(axis=1) - after.sum(axis=1)
        comes, goes = before[:, ahead - 2], before[:, ahead + length - 1]
        edges = np.minimum(
            np.where(unseen[:, ahead - 2], np.inf, comes),
            np.where(unseen[:, ahead + length - 1], np.inf, goes),
        )
        counts = (off.min(axis=1) > least) & (edges > _SUDDEN_SHARE * over) & (smoother > 0)
        told = np.stack([starts, starts + length, smoother, off.max(axis=1)], axis=-1)
        result: Array = told[counts]
        return result


def _second(values: Array) -> Array:
    bend = values[:, 2:] - 2 * values[:, 1:-1] + values[:, :-2]
    result: Array = np.sqrt((bend * bend).sum(axis=-1))
    return result
