"""A lane played by itself over whole frames, and what its clips alone would do there.

What a join or a held foot adds to a performance is what its clips do not explain: between two frames
each joint turns and moves as in the clips that play, by their weights, and the rest is a jump.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..anatomy import upper_body
from ..arrays import Array
from ..checks import sudden, turns_between
from ..clock import Span
from ..figure import Placed, forward
from ..moments import LaneTime, lane_time
from ..motion import Motion
from .document import Stint
from .held import poses_of
from .join import incoming_weight, upper_weight
from .staged import StagedFigure, StagedLane


@dataclass(frozen=True, eq=False)
class LaneAlone:
    """A body lane over the whole frames from `first` on: what it plays, and its joints in the world."""

    stage: StagedFigure
    lane: StagedLane
    first: int
    motion: Motion
    placed: Placed

    @property
    def frames(self) -> Array:
        return self.first + np.arange(self.motion.frames, dtype=np.float64)

    @cached_property
    def beyond_clips(self) -> tuple[Array, Array]:
        """What its clips do not explain, from each frame to the next: how far each joint turns, in
        degrees, and how far it moves, in metres. Both [frames − 1, joints]."""
        turns = turns_between(self.motion.rotations)
        steps = np.diff(self.placed.positions, axis=0)
        expected_turns, expected_steps = self._expected(turns.shape, steps.shape)
        turned = np.degrees(np.linalg.norm(turns - expected_turns, axis=-1))
        moved = np.linalg.norm(steps - expected_steps, axis=-1)
        return turned, moved

    @cached_property
    def jolts(self) -> Array:
        """How far each joint moves from each frame to the next as neither its clips explain nor the
        motion before and after: a foot that catches up with the other clip's does so in a few frames,
        fast but not at once. [frames − 1, joints] metres."""
        least: Array = np.minimum(
            self.beyond_clips[1], sudden(np.diff(self.placed.positions, axis=0))
        )
        return least

    def _expected(self, turns: tuple[int, ...], steps: tuple[int, ...]) -> tuple[Array, Array]:
        """What the clips that play do by themselves between the frames, by their weights."""
        turned, moved = np.zeros(turns), np.zeros(steps)
        frames = self.frames
        between = LaneTime(frames[:-1] + 0.5)
        stints = self.lane.lane.stints
        for place, stint in enumerate(stints):
            shown = np.flatnonzero((between > stint.start - 1) & (between < stint.end))
            if not shown.size:
                continue
            weight = self.weights(place, LaneTime(between[shown]))
            at = LaneTime(frames[shown[0] : shown[-1] + 2])
            made = self.lane.bodies[place].at(self.lane.source_of(place, at))
            made = made.moved(self.lane.placements[place])
            placed = forward(self.stage.figure, made)
            turned[shown] += weight[..., None] * turns_between(made.rotations)
            moved[shown] += weight[..., None] * np.diff(placed.positions, axis=0)
        return turned, moved

    def weights(self, place: int, time: LaneTime) -> Array:
        """How much a stint counts at these moments, of what plays there, joint by joint. [n, joints]"""
        stints = self.lane.lane.stints
        stint = stints[place]
        shown = np.where((time >= stint.start) & (time < stint.end), 1.0, 0.0)
        weights = np.repeat(shown[:, None], len(self.stage.figure.joints), axis=1)
        if place and stints[place - 1].end > stint.start:
            weights *= self._incoming(stints[place - 1], stint, time)
        if place + 1 < len(stints) and stints[place + 1].start < stint.end:
            weights *= 1 - self._incoming(stint, stints[place + 1], time)
        return weights

    def _incoming(self, outgoing: Stint, incoming: Stint, time: LaneTime) -> Array:
        joints = len(self.stage.figure.joints)
        weights = np.repeat(incoming_weight(outgoing, incoming, time)[:, None], joints, axis=1)
        upper = upper_weight(outgoing, incoming, time)
        if upper is not None:
            weights[:, upper_body(self.stage.figure)] = upper[:, None]
        return weights


def alone(stage: StagedFigure, lane: StagedLane, span: Span) -> LaneAlone:
    """A lane by itself over the whole frames of a span, with its feet held."""
    frames = np.arange(np.floor(span.start), np.ceil(span.end))
    motion = poses_of(stage, lane, lane_time(frames), gaps=True)
    placed = forward(stage.figure, motion)
    return LaneAlone(stage, lane, int(frames[0]) if len(frames) else 0, motion, placed)
