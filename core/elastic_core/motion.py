"""Motion: poses over frames, with the travel over the ground kept apart (rule 2.2)."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Protocol

import numpy as np

from . import ground, rotation
from .arrays import Array, Index, at_frames, by_runs
from .budget import take
from .errors import Refusal


class Samples(Protocol):
    """Poses one a frame, wherever they lie: at hand as a Motion, or read by window."""

    @property
    def frames(self) -> int: ...
    @property
    def joints(self) -> int: ...
    @property
    def moved_joints(self) -> frozenset[int]:
        """The joints whose offset is replaced."""

    @property
    def scaled_joints(self) -> frozenset[int]: ...
    def at(self, index: Index) -> "Motion":
        """The poses at these frames."""

    def travel_at(self, index: Index) -> Array:
        """Only the travel at these frames. [n, 3]."""

    def whole(self) -> "Motion":
        """All of them at hand."""

    def windows(self) -> Iterator["Motion"]:
        """All of them in order, as many at a time as there is room for."""


@dataclass(frozen=True, eq=False)
class Motion:
    """Poses at a run of frames.

    travel     [frames, 3]          x, z, heading: the path over the ground (metres, radians)
    root_move  [frames, 3]          the root joint as seen from its travel (metres): sway, height, surge
    rotations  [frames, joints, 4]  relative to rest; the root's is relative to the travel's heading
    moves      joint → [frames, 3]  positions that replace a joint's offset (metres)
    scales     joint → [frames, 3]  how much longer a joint's own piece is along its own axes
    """

    travel: Array
    root_move: Array
    rotations: Array
    moves: Mapping[int, Array] = field(default_factory=dict)
    scales: Mapping[int, Array] = field(default_factory=dict)

    @property
    def frames(self) -> int:
        return len(self.travel)

    @property
    def joints(self) -> int:
        return int(self.rotations.shape[1])

    @property
    def moved_joints(self) -> frozenset[int]:
        return frozenset(self.moves)

    @property
    def scaled_joints(self) -> frozenset[int]:
        return frozenset(self.scales)

    def travel_at(self, index: Index) -> Array:
        """Only the travel at these places. [n, 3]."""
        return at_frames(self.travel, index)

    def whole(self) -> "Motion":
        """Itself."""
        return self

    def windows(self) -> Iterator["Motion"]:
        """Itself."""
        yield self

    @classmethod
    def resting(cls, frames: int, joints: int, root_move: Array) -> "Motion":
        """So many frames of the rest pose at the origin."""
        take(4 * frames * joints)
        rotations: Array = np.zeros((frames, joints, 4), order="F")
        rotations[..., 0] = 1.0
        root = np.asfortranarray(np.broadcast_to(root_move, (frames, 3)))
        return cls(np.zeros((frames, 3), order="F"), root, rotations)

    @classmethod
    def from_root(
        cls,
        root_position: Array,
        rotations: Array,
        moves: Mapping[int, Array] | None = None,
        *,
        given_away: bool = False,
    ) -> "Motion":
        """From the root's world position and rotation: its ground path becomes the travel.

        root_position [frames, 3] metres; rotations [frames, joints, 4] with the root's in the world. Rotations
        that are `given_away` are not copied.
        """
        rotations = by_runs(rotations)
        rotations = rotations if given_away else rotations.copy(order="F")
        heading, tilt = rotation.split_heading(rotations[:, 0])
        rotations[:, 0] = tilt
        travel = np.stack([root_position[:, 0], root_position[:, 2], np.unwrap(heading)], axis=-1)
        root_move = np.zeros_like(root_position, order="F")
        root_move[:, 1] = root_position[:, 1]
        return cls(by_runs(travel), root_move, rotations, dict(moves or {}))

    def at(self, index: Index) -> "Motion":
        """The poses at these places."""
        return Motion(
            at_frames(self.travel, index),
            at_frames(self.root_move, index),
            at_frames(self.rotations, index),
            {joint: at_frames(move, index) for joint, move in self.moves.items()},
            {joint: at_frames(scale, index) for joint, scale in self.scales.items()},
        )

    def carried(self, travel: Array) -> "Motion":
        """The same poses on another path."""
        return replace(self, travel=travel)

    def moved(self, placement: Array) -> "Motion":
        """The whole motion set down elsewhere: `placement` [3] or [frames, 3] after the travel."""
        return self.carried(ground.compose(placement, self.travel))

    def relaid(self, travel: Array) -> "Motion":
        """The same picture with another path as its travel: the root makes up the difference."""
        apart = ground.compose(ground.inverse(travel), self.travel)
        x, z = ground.turn(apart[:, 2], self.root_move[:, 0], self.root_move[:, 2])
        root_move = np.stack([apart[:, 0] + x, self.root_move[:, 1], apart[:, 1] + z], axis=-1)
        rotations = self.rotations.copy(order="F")
        turned = rotation.about_axis("Y", apart[:, 2])
        rotations[:, 0] = rotation.multiply(turned, rotations[:, 0])
        return replace(
            self, travel=by_runs(travel), root_move=by_runs(root_move), rotations=rotations
        )

    def root_in_world(self) -> tuple[Array, Array]:
        """The root's world position [frames, 3] and rotation [frames, 4], rest left out."""
        heading = rotation.about_axis("Y", self.travel[:, 2])
        x, z = ground.turn(self.travel[:, 2], self.root_move[:, 0], self.root_move[:, 2])
        position = np.stack(
            [self.travel[:, 0] + x, self.root_move[:, 1], self.travel[:, 1] + z], axis=-1
        )
        return position, rotation.multiply(heading, self.rotations[:, 0])


def blend(a: Motion, b: Motion, weight: Array) -> Motion:
    """From `a` (0) to `b` (1), frame by frame (rule 5.2). weight [frames].

    Raises Refusal for poses of two figures.
    """
    if a.joints != b.joints:
        raise Refusal("Only poses of one figure can be blended.")
    share = weight[:, None]
    moves: dict[int, Array] = {}
    for joint in {*a.moves, *b.moves}:
        start, end = a.moves.get(joint), b.moves.get(joint)
        if start is not None and end is not None:
            moves[joint] = start + (end - start) * share
        elif (only := start if end is None else end) is not None:
            moves[joint] = only
    unscaled = np.ones((1, 3))
    scales = {
        joint: a.scales.get(joint, unscaled) * (1 - share) + b.scales.get(joint, unscaled) * share
        for joint in {*a.scales, *b.scales}
    }
    return Motion(
        ground.blend(a.travel, b.travel, weight),
        a.root_move + (b.root_move - a.root_move) * share,
        rotation.slerp(a.rotations, b.rotations, share),
        moves,
        scales,
    )


def between(samples: Samples, low: Index, share: Array) -> Motion:
    """Samples at `low` + `share`, both [n]; whole frames come back exactly as they are stored."""
    take(4 * len(low) * samples.joints)
    start = samples.at(low)
    if not share.any():
        return start
    end = samples.at(np.minimum(low + 1, samples.frames - 1))
    t = share[:, None]
    rotations = rotation.slerp(start.rotations, end.rotations, t)
    whole = share == 0
    if whole.any():
        rotations[whole] = start.rotations[whole]
    return Motion(
        start.travel + (end.travel - start.travel) * t,
        start.root_move + (end.root_move - start.root_move) * t,
        rotations,
        {j: move + (end.moves[j] - move) * t for j, move in start.moves.items()},
        {j: scale + (end.scales[j] - scale) * t for j, scale in start.scales.items()},
    )


def join_runs(runs: list[Motion]) -> Motion:
    """Motions one after another. Raises Refusal for runs that move different joints."""
    joints = set().union(*(run.moves for run in runs))
    if any(set(run.moves) != joints for run in runs):
        raise Refusal("Runs that move different joints cannot be laid end to end.")
    scaled = set().union(*(run.scales for run in runs))
    scales = {
        j: by_runs(np.concatenate([run.scales.get(j, np.ones((run.frames, 3))) for run in runs]))
        for j in scaled
    }
    return Motion(
        by_runs(np.concatenate([run.travel for run in runs])),
        by_runs(np.concatenate([run.root_move for run in runs])),
        by_runs(np.concatenate([run.rotations for run in runs])),
        {j: by_runs(np.concatenate([run.moves[j] for run in runs])) for j in joints},
        scales,
    )
