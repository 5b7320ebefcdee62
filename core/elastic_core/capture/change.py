"""What a step changed: how far every joint turned, and how far hands and feet came from where they were."""

from dataclasses import dataclass

import numpy as np

from .. import rotation
from ..anatomy import known_joints
from ..arrays import Array, Index
from ..figure import Figure, Placed, forward
from ..motion import Motion

_ENDS = ("hand", "foot", "toe")
# So many frames at a time are placed in the world.
_WINDOW_FRAMES = 1024


@dataclass(frozen=True)
class Worst:
    """The frame and joint at which something is greatest, and how much it is in its unit."""

    frame: int
    joint: str
    amount: float


@dataclass(frozen=True)
class JointLoss:
    """What one joint was turned by, and moved in the world, at the most; and when."""

    joint: str
    degrees: float
    degrees_frame: int
    cm: float
    cm_frame: int


@dataclass(frozen=True, eq=False)
class Change:
    """Every joint's change at every frame.

    degrees  [frames, joints]  of its turn; the root's in the world
    cm       [frames, joints]  of its place in the world
    """

    names: tuple[str, ...]
    ends: tuple[int, ...]
    degrees: Array
    cm: Array

    @property
    def worst_turn(self) -> Worst:
        """Where a joint was turned most."""
        return _worst(self.names, self.degrees)

    @property
    def worst_end(self) -> Worst:
        """Where a hand or a foot was moved most; of a figure without any, any joint."""
        ends = list(self.ends) or list(range(len(self.names)))
        return _worst(tuple(self.names[k] for k in ends), self.cm[:, ends])

    def losses(self) -> list[JointLoss]:
        """Joint by joint, the one that was turned most first."""
        rows = []
        for place, name in enumerate(self.names):
            turn, move = int(self.degrees[:, place].argmax()), int(self.cm[:, place].argmax())
            rows.append(
                JointLoss(
                    name,
                    float(self.degrees[turn, place]),
                    turn,
                    float(self.cm[move, place]),
                    move,
                )
            )
        return sorted(rows, key=lambda row: -row.degrees)


def end_joints(figure: Figure) -> tuple[int, ...]:
    """Hands, feet and toes that were recognised, by their places."""
    known = known_joints(figure)
    return tuple(sorted(place for place, joint in known.items() if joint.part in _ENDS))


def changed(figure: Figure, before: Motion, after: Motion) -> Change:
    """The change from one motion to another of as many frames."""
    degrees = np.empty((before.frames, before.joints))
    cm = np.empty_like(degrees)
    for start in range(0, before.frames, _WINDOW_FRAMES):
        rows = np.arange(start, min(before.frames, start + _WINDOW_FRAMES))
        here = slice(start, start + len(rows))
        degrees[here], cm[here] = _apart(figure, before.at(rows), after.at(rows))
    return Change(figure.names, end_joints(figure), degrees, cm)


def _apart(figure: Figure, before: Motion, after: Motion) -> tuple[Array, Array]:
    degrees = np.degrees(rotation.angle_between(before.rotations, after.rotations))
    degrees[:, 0] = np.degrees(
        rotation.angle_between(before.root_in_world()[1], after.root_in_world()[1])
    )
    placed = [forward(figure, motion).positions for motion in (before, after)]
    return degrees, 100 * np.linalg.norm(placed[1] - placed[0], axis=-1)


def placed_in_windows(figure: Figure, motion: Motion, only: tuple[int, ...]) -> Placed:
    """Some joints in the world at every frame; the others are nowhere. A long take is placed a window at a
    time, and only what is asked for is kept: positions and rotations [frames, len(only), …] in order."""
    positions: list[Array] = []
    rotations: list[Array] = []
    for start in range(0, motion.frames, _WINDOW_FRAMES):
        rows: Index = np.arange(start, min(motion.frames, start + _WINDOW_FRAMES))
        placed = forward(figure, motion.at(rows), only)
        positions.append(placed.positions[:, only])
        rotations.append(placed.rotations[:, only])
    return Placed(np.concatenate(positions), np.concatenate(rotations))


def _worst(names: tuple[str, ...], amounts: Array) -> Worst:
    frame, joint = np.unravel_index(int(amounts.argmax()), amounts.shape)
    return Worst(int(frame), names[int(joint)], float(amounts[frame, joint]))
