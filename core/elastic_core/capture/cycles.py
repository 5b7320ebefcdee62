"""Find a cycle: the loops that are hidden in a take, by how well their ends meet (rule 6.4).

Every frame is compared with every other as in rule 5.4, turned about the vertical and laid on each other as
well as can be, in where the joints are and how they go on. Where two frames agree, what lies between them
goes round."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np
from scipy.ndimage import minimum_filter

from .. import rotation
from ..arrays import Array, Index
from ..clip.document import Clip, Plant
from ..clip.playable import PlayableClip
from ..cycle.travel import in_place
from ..errors import Refusal
from ..figure import Figure, forward
from ..join.where import FOOT_METRES, Moments, Planted, distances, moments_of, named
from ..motion import Motion

SHORTEST_SECONDS, LONGEST_SECONDS = 0.4, 2.0
# Beyond so many frames every other one is looked at first, and the best places again frame by frame.
MOST_FRAMES = 3000
MOST_CYCLES = 8
# Loops whose seams differ by less are as good as each other: then the shorter and the earlier one is first.
_AS_GOOD_METRES = 5e-4
# A figure that stands still would go round anywhere: somewhere in a loop it has to be this far from its start.
_LEAST_MOVE_METRES, _LEAST_SHARE = 0.03, 0.35
# Ends nearer to those of a better loop than this are the same loop.
_APART_FRAMES = 3
_LOOKED_AT, _REFINED, _ROWS_AT_ONCE = 200, 96, 256


@dataclass(frozen=True)
class FoundCycle:
    """Frames `[start, end)` that go round, and how far frame `end` is from frame `start` at the worst joint
    with the travel of one round taken out."""

    start: int
    end: int
    seam_degrees: float
    seam_cm: float
    score: float
    planted: Planted

    @property
    def length_frames(self) -> int:
        """Frames of one round."""
        return self.end - self.start


@dataclass(frozen=True, eq=False)
class Similarity:
    """How far apart frames `first` + k·`step` are from each other, in metres. score [n, n]."""

    first: int
    step: int
    score: Array


def similarity(
    figure: Figure,
    motion: Motion,
    rate: Fraction,
    plants: Sequence[Plant] = (),
    most_frames: int = MOST_FRAMES,
) -> Similarity:
    """The map of a motion against itself, at every frame, or at every nth of a long one."""
    step = max(1, -(-motion.frames // most_frames))
    frames = np.arange(0, motion.frames, step)
    return Similarity(
        0, step, _map(figure, _moments(figure, motion, rate, plants, frames), motion.frames)
    )


def _moments(
    figure: Figure, motion: Motion, rate: Fraction, plants: Sequence[Plant], frames: Index
) -> Moments:
    clip = Clip(
        name="take", figure="", rate=rate, length_frames=motion.frames, plants=tuple(plants)
    )
    # On the spot: turns and places over the ground are laid aside anyway, and numbers stay small.
    return moments_of(figure, PlayableClip(clip, motion), frames)


def _map(figure: Figure, moments: Moments, frames: int) -> Array:
    score = distances(figure, moments, moments)
    # How the motion came to its first frame, and how it goes on from its last, is not known.
    ends = np.flatnonzero((moments.frames == 0) | (moments.frames == frames - 1))
    still = np.zeros_like(moments.velocities)
    calm = replace(moments, velocities=still, feet=np.zeros_like(moments.feet))
    for end in ends.tolist():
        own = replace(calm, frames=calm.frames[[end]], positions=calm.positions[[end]],
                      velocities=still[[end]], feet=calm.feet[[end]])  # fmt: skip
        # As far apart in how they move as they are in where they are: what is known says no more.
        score[end] = np.sqrt(2) * distances(figure, own, calm)[0]
        score[:, end] = score[end]
    return score


def find_cycles(
    figure: Figure,
    motion: Motion,
    rate: Fraction,
    shortest: int | None = None,
    longest: int | None = None,
    plants: Sequence[Plant] = (),
    most: int = MOST_CYCLES,
) -> list[FoundCycle]:
    """The loops of a motion whose lengths lie in a range of frames, both included, best first.

    Raises Refusal for a range that is none, or motion too short for any loop of it.
    """
    shortest = max(2, round(SHORTEST_SECONDS * rate)) if shortest is None else shortest
    longest = max(shortest, round(LONGEST_SECONDS * rate)) if longest is None else longest
    if not 2 <= shortest <= longest:
        raise Refusal(
            "A cycle has 2 frames or more, and its longest is no shorter than its shortest."
        )
    if motion.frames <= shortest:
        raise Refusal(f"These {motion.frames} frames hold no cycle of {shortest} or more.")
    step = max(1, -(-motion.frames // MOST_FRAMES))
    frames = np.arange(0, motion.frames, step)
    moments = _moments(figure, motion, rate, plants, frames)
    band = _band(figure, moments, motion.frames, longest // step)
    pairs = [(a * step, b * step) for a, b in _lowest(band, -(-shortest // step))]
    if step > 1:
        pairs = _refined(figure, motion, rate, plants, pairs, step, (shortest, longest))
    return _ranked(figure, motion, rate, plants, pairs, most)


def _band(figure: Figure, moments: Moments, frames: int, longest: int) -> Array:
    """How far apart each moment is from those up to so many on. [moments, 0 … longest]; beyond the end ∞."""
    count = len(moments.frames)
    band = np.full((count, longest + 1), np.inf)
    on = np.arange(longest + 1)
    for start in range(0, count, _ROWS_AT_ONCE):
        end = min(count, start + _ROWS_AT_ONCE + longest)
        score = _map(figure, _some(moments, slice(start, end)), frames)
        rows = np.arange(min(_ROWS_AT_ONCE, count - start))
        columns = rows[:, None] + on
        inside = columns < end - start
        here = score[rows[:, None], np.minimum(columns, end - start - 1)]
        band[start : start + len(rows)] = np.where(inside, here, np.inf)
    return band


def _some(moments: Moments, rows: slice) -> Moments:
    return Moments(
        moments.frames[rows], moments.positions[rows], moments.velocities[rows], moments.feet[rows]
    )


def _lowest(band: Array, shortest: int) -> list[tuple[int, int]]:
    """Starts and ends of loops that are long enough, each the lowest of what lies around it; best first."""
    finite = np.where(np.isfinite(band), band, 0.0)
    reached = np.maximum.accumulate(finite, axis=1)
    # Beside loops in which much goes on, who shifts their weight goes nowhere.
    usual = float(np.percentile(reached[:, -1], 75))
    moves = reached > max(_LEAST_MOVE_METRES, _LEAST_SHARE * usual)
    allowed = np.where(moves, band, np.inf)
    allowed[:, :shortest] = np.inf
    around = minimum_filter(allowed, 2 * _APART_FRAMES + 1, mode="constant", cval=np.inf)
    starts, lengths = np.nonzero(np.isfinite(allowed) & (allowed <= around + _AS_GOOD_METRES))
    values = np.round(allowed[starts, lengths] / _AS_GOOD_METRES)
    order = np.lexsort((starts, lengths, values))
    kept: list[tuple[int, int]] = []
    by_length: dict[int, list[int]] = {}
    for start, length in zip(starts[order].tolist(), lengths[order].tolist(), strict=True):
        near = range(length - _APART_FRAMES, length + _APART_FRAMES + 1)
        # A loop that is as long, and for the most part the same frames, is the same loop.
        if any(abs(other - start) < length / 2 for own in near for other in by_length.get(own, ())):
            continue
        kept.append((start, start + length))
        by_length.setdefault(length, []).append(start)
        if len(kept) == _LOOKED_AT:
            break
    return kept


def _refined(
    figure: Figure,
    motion: Motion,
    rate: Fraction,
    plants: Sequence[Plant],
    pairs: Sequence[tuple[int, int]],
    step: int,
    lengths: tuple[int, int],
) -> list[tuple[int, int]]:
    """The best pairs, each the best of the frames around it."""
    refined: list[tuple[int, int]] = []
    for start, end in pairs[:_REFINED]:
        rows, columns = (
            np.arange(max(0, at - step), min(motion.frames, at + step + 1)) for at in (start, end)
        )
        own, other = (_moments(figure, motion, rate, plants, at) for at in (rows, columns))
        score = distances(figure, own, other)
        apart = columns - rows[:, None]
        score = np.where((apart >= lengths[0]) & (apart <= lengths[1]), score, np.inf)
        a, b = np.unravel_index(int(score.argmin()), score.shape)
        if np.isfinite(score[a, b]):
            refined.append((int(rows[a]), int(columns[b])))
    return list(dict.fromkeys(refined))


def _ranked(
    figure: Figure,
    motion: Motion,
    rate: Fraction,
    plants: Sequence[Plant],
    pairs: Sequence[tuple[int, int]],
    most: int,
) -> list[FoundCycle]:
    if not pairs:
        return []
    starts, ends = (np.array(column, dtype=np.intp) for column in zip(*pairs, strict=True))
    looked_at, back = np.unique(np.concatenate([starts, ends]), return_inverse=True)
    at_start, at_end = back[: len(starts)], back[len(starts) :]
    moments = _moments(figure, motion, rate, plants, looked_at)
    score = _map(figure, moments, motion.frames)
    poses = in_place(motion.at(looked_at))
    placed = forward(figure, poses).positions
    rows: list[tuple[float, FoundCycle]] = []
    for a, b in zip(at_start.tolist(), at_end.tolist(), strict=True):
        value = float(score[a, b])
        turned = rotation.angle_between(poses.rotations[a], poses.rotations[b])
        apart = np.linalg.norm(placed[a] - placed[b], axis=-1)
        feet = moments.feet[a] & moments.feet[b]
        found = FoundCycle(
            int(looked_at[a]),
            int(looked_at[b]),
            float(np.degrees(turned.max())),
            float(100 * apart.max()),
            value,
            named(feet),
        )
        differ = bool((moments.feet[a] != moments.feet[b]).any()) and value >= FOOT_METRES
        rows.append((value + FOOT_METRES * differ, found))
    rows.sort(key=lambda row: (round(row[0] / _AS_GOOD_METRES), row[1].length_frames, row[1].start))
    return [found for _, found in rows[:most]]
