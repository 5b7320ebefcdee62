"""Feet held through joins and stints: what stands on both sides of a join stands still (rule 5.5).

Worked out at whole frames of the lane, from whole plants, so that a frame comes out the same whichever
others are asked for with it; what lies between two frames takes a share of both corrections.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from .. import rotation
from ..anatomy import leg_joints, legs_of
from ..arrays import Array, Index
from ..clip.document import Plant
from ..clock import Span
from ..cycle.feet import as_it_rolls, hold_feet
from ..cycle.rolling import RELEASE_FRAMES
from ..easing import smooth
from ..figure import Figure, forward
from ..moments import LaneTime, lane_time
from ..motion import Motion
from ..quantities import NEAR_FRAMES
from ..remembered import remembered
from .document import Lane
from .join import handover_time
from .laying import laid
from .planted import clipped, joined_plants, plants_of
from .staged import StagedFigure, StagedLane

# Beyond its plant a foot is let go over the first, and the root rises again over the second.
FADE_FRAMES = 2 * RELEASE_FRAMES
MARGIN_FRAMES = RELEASE_FRAMES + FADE_FRAMES + 1
# A foot that stands on and on is held for so long after its join.
LONGEST_HELD_FRAMES = 240.0
# A stint of no more frames has its plants looked for all at once.
LONGEST_WHOLE_FRAMES = 1_000.0
# Where it stands is read from so many frames before the join.
SEEN_FRAMES = 24.0


@dataclass(frozen=True, eq=False)
class Correction:
    """What holding the feet changes, at the lane's whole frames from `first` on.

    bare   [n] what the lane plays there by itself
    drop   [n] metres that the root is lowered by
    turns  [n, joints, 4] what each of these joints is turned by, after its own rotation
    """

    first: float
    bare: Motion
    joints: Index
    drop: Array
    turns: Array


def lane_plants(lane: StagedLane, window: Span) -> list[Plant]:
    """The plants that touch a window, in lane frames and whole: in a join those of the stint that weighs
    more."""
    seen = window
    while True:
        found = [plant for plant in _plants_in(lane, seen) if _touches(plant, window)]
        # A foot may have come to stand in a stint that does not touch the window.
        whole = Span(
            min([seen.start, *(plant.start for plant in found)]),
            max([seen.end, *(plant.end for plant in found)]),
        )
        if whole == seen:
            return found
        seen = whole


def _plants_in(lane: StagedLane, window: Span) -> list[Plant]:
    """The plants of the stints that touch a window."""
    found: list[Plant] = []
    before = None
    for place, stint in enumerate(lane.lane.stints):
        if stint.end < window.start or stint.start > window.end:
            before = None
            continue
        own = _plants_of_stint(lane, place, window)
        if before is not None and before.end >= stint.start:
            overlap = Span(stint.start, before.end)
            found = joined_plants(found, own, overlap, handover_time(before, stint))
        else:
            found = [*found, *own]
        before = stint
    return found


def _plants_of_stint(lane: StagedLane, place: int, window: Span) -> list[Plant]:
    """Those of one stint that touch a window; of a stint of a usual length all are remembered."""
    stint, body, ratio = lane.lane.stints[place], lane.bodies[place], lane.ratios[place]
    if stint.length_frames > LONGEST_WHOLE_FRAMES:
        return plants_of(body, stint, ratio, window)
    key = ("plants", stint.span, stint.in_frame, stint.elastic, ratio)
    whole = remembered(lane.figure, body, key, lambda: plants_of(body, stint, ratio))
    return [plant for plant in whole if _touches(plant, window)]


def _touches(plant: Plant, window: Span) -> bool:
    return plant.start <= window.end and plant.end >= window.start


def held_joins(lane: Lane) -> Iterator[Span]:
    """The joins through which feet are held."""
    for before, stint in lane.neighbours():
        if stint.holds_join and before.end >= stint.start:
            yield Span(stint.start, before.end)


def poses_of(stage: StagedFigure, lane: StagedLane, time: LaneTime, *, gaps: bool) -> Motion:
    """What a lane plays at these moments, its feet held; with `gaps` also where it has no stint."""
    correction = None
    if len(time):
        correction = correction_over(stage, lane, Span(float(time.min()), float(time.max())))
    if correction is None:
        return laid(stage, lane, time, gaps=gaps)
    within = time - correction.first
    low = np.clip(np.floor(within), 0, len(correction.drop) - 1).astype(np.intp)
    share = np.clip(within - low, 0.0, 1.0)
    drop, turns = correction.drop[low], correction.turns[low]
    if share.any():
        high = np.minimum(low + 1, len(correction.drop) - 1)
        drop = drop + (correction.drop[high] - drop) * share
        turns = rotation.slerp(turns, correction.turns[high], share[:, None])
        motion = laid(stage, lane, time, gaps=gaps)
    else:
        motion = correction.bare.at(low)
    motion.root_move[:, 1] -= drop
    turned = rotation.multiply(motion.rotations[:, correction.joints], turns)
    motion.rotations[:, correction.joints] = turned
    return motion


def correction_over(stage: StagedFigure, lane: StagedLane, asked: Span) -> Correction | None:
    """What holding the feet changes over a span of the lane; nothing where none are held."""
    margin = Span(asked.start - MARGIN_FRAMES, asked.end + MARGIN_FRAMES)
    held = _held_plants(lane, margin)
    if not held:
        return None
    first = np.floor(min(asked.start, *(plant.start for plant, _ in held)) - MARGIN_FRAMES)
    last = np.ceil(max(asked.end, *(plant.end for plant, _ in held)) + MARGIN_FRAMES)
    frames = np.arange(first, last + 1)
    bare = laid(stage, lane, lane_time(frames), gaps=True)
    placed = forward(stage.figure, bare, leg_joints(stage.figure))
    shifted = {
        as_it_rolls(stage.figure, placed, _shifted(plant, first)): span for plant, span in held
    }
    seen = {
        plant: Span(span.start - first, span.end - first)
        for plant, span in shifted.items()
        if span is not None
    }
    done = hold_feet(
        stage.figure, bare, list(shifted), None, seen, in_passing=True, placed=placed
    ).motion
    joints = _joints(stage.figure)
    weight = _near(frames, [plant for plant, _ in held])
    still = np.array(rotation.IDENTITY)
    turned = rotation.multiply(
        rotation.conjugate(bare.rotations[:, joints]), done.rotations[:, joints]
    )
    turns = np.where(
        weight[:, None, None] == 1,
        turned,
        rotation.slerp(np.broadcast_to(still, turned.shape), turned, weight[:, None]),
    )
    drop = (bare.root_move[:, 1] - done.root_move[:, 1]) * weight
    return Correction(float(first), bare, joints, drop, turns)


def _held_plants(lane: StagedLane, window: Span) -> list[tuple[Plant, Span | None]]:
    """The plants that are held, of those that touch a window, and which of their frames tell where they
    stand: those before the first join that they stand through."""
    joins = list(held_joins(lane.lane))
    stints = [stint.span for stint in lane.lane.stints if stint.holds_feet]
    if not joins and not stints:
        return []
    plants = lane_plants(lane, window)
    every = list(_meetings(lane, plants))
    found: list[tuple[Plant, Span | None]] = []
    for plant in plants:
        own = Span(plant.start, plant.end)
        through = [join for join in joins if _meet(own, join)]
        kept: Plant | None = plant
        if not any(_meet(own, stint) for stint in stints):
            if not through:
                continue
            reach = Span(
                through[0].start - LONGEST_HELD_FRAMES, through[-1].end + LONGEST_HELD_FRAMES
            )
            kept = clipped(plant, reach)
        if kept is None:
            continue
        first = next((join.start for join in every if _meet(own, join)), None)
        seen = None if first is None else Span(max(kept.start, first - SEEN_FRAMES), first)
        found.append((kept.model_copy(update={"held": True}), seen))
    return found


def _meetings(lane: StagedLane, plants: Sequence[Plant]) -> Iterator[Span]:
    """Where stints meet while any of these feet stand; one that only goes on where the other was cut is the
    same stint."""
    first = min((plant.start for plant in plants), default=0.0)
    last = max((plant.end for plant in plants), default=0.0)
    for place, (before, stint) in enumerate(lane.lane.neighbours(), start=1):
        if before.end < stint.start or before.end < first or stint.start > last:
            continue
        meets = lane_time([stint.start])
        left, right = (float(lane.source_of(at, meets)[0]) for at in (place - 1, place))
        is_cut = before.end == stint.start and stint.nailed is None
        if not (is_cut and before.source == stint.source and abs(left - right) < NEAR_FRAMES):
            yield Span(stint.start, before.end)


def _meet(a: Span, b: Span) -> bool:
    """Whether a plant stands inside a span, or through a cut."""
    return a.start < b.end + 1e-6 and a.end > b.start - 1e-6


def _shifted(plant: Plant, first: float) -> Plant:
    return plant.model_copy(update={"start": plant.start - first, "end": plant.end - first})


def _joints(figure: Figure) -> Index:
    """The joints of the legs that holding turns."""
    found: list[int] = []
    for leg in legs_of(figure):
        found += [leg.thigh, leg.shin, leg.foot, *([] if leg.toe is None else [leg.toe])]
    return np.array(found, dtype=np.intp)


def _near(frames: Array, plants: list[Plant]) -> Array:
    """1 while any of the plants stands or is let go, and down to 0 beyond that. [n]"""
    weight = np.zeros(len(frames))
    for plant in plants:
        away = np.maximum(plant.start - frames, frames - plant.end)
        share = 1 - np.clip((away - RELEASE_FRAMES) / FADE_FRAMES, 0.0, 1.0)
        weight = np.maximum(weight, smooth(share))
    return weight
