"""The seam report: how well a cycle's end meets its own start (rule 4.1)."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from .. import rotation
from ..arrays import Array, Index
from ..clip.playable import PlayableClip
from ..figure import Figure, forward
from .mirror import partners
from .travel import in_place

Grade = Literal["closed", "soft", "open"]
# Degrees, centimetres, degrees per frame: the worst joint must stay below all three.
_CLOSED = (0.5, 0.25, 1.0)
_NAMES: tuple[Literal["degrees", "cm", "degrees_per_frame"], ...] = (
    "degrees", "cm", "degrees_per_frame",
)  # fmt: skip
_SOFT = (5.0, 3.0, 6.0)
# One-sided first derivative from four equally spaced samples, nearest first.
_ONE_SIDED = np.array([11.0, -18.0, 9.0, -2.0]) / 6


# A piece without anything to tell its length by.
SMALL_PIECE_METRES = 0.1


@dataclass(frozen=True)
class SeamGap:
    """One joint where the end meets the start."""

    joint: str
    gap_degrees: float
    gap_cm: float
    gap_degrees_per_frame: float

    @property
    def grade(self) -> Grade:
        """What this joint alone would make the clip."""
        return _grade(self)

    @property
    def over(self) -> float:
        """Its worst measure, in times of what still counts as closed."""
        return _badness(self)

    @property
    def worst(self) -> Literal["degrees", "cm", "degrees_per_frame"]:
        """Which measure that is."""
        shares = [value / limit for value, limit in zip(_measures(self), _CLOSED, strict=True)]
        return _NAMES[shares.index(max(shares))]


@dataclass(frozen=True)
class SeamReport:
    """Every joint, worst first."""

    grade: Grade
    joints: tuple[SeamGap, ...]

    @property
    def worst(self) -> SeamGap:
        return self.joints[0]


def seam_report(figure: Figure, playable: PlayableClip) -> SeamReport:
    """How far the pose made for frame L lies from frame 0, joint by joint, with travel removed.

    The velocity gap is that between the speeds on either side of the seam, each taken from frames on
    its own side alone, less what the same measure finds elsewhere in the cycle, for the joint or for
    its partner of the other side: a fast knee turns sharply between frames without any seam.
    """
    motion = in_place(playable.samples.whole())
    length = playable.clip.length_frames
    ends = motion.at(np.array([length, 0]))
    gap = np.degrees(rotation.angle_between(ends.rotations[0], ends.rotations[1]))
    placed = forward(figure, ends).positions
    apart = 100 * np.linalg.norm(placed[0] - placed[1], axis=-1)
    for place, scale in ends.scales.items():
        drawn = 100 * float(np.abs(scale[0] - scale[1]).max()) * _piece_metres(figure, place)
        apart[place] = max(apart[place], drawn)
    kink = _kink_at_seam(motion.rotations, length, partners(figure))
    rows = [
        SeamGap(name, float(degrees), float(cm), float(speed))
        for name, degrees, cm, speed in zip(figure.names, gap, apart, kink, strict=True)
    ]
    rows.sort(key=_badness, reverse=True)
    return SeamReport(_grade(rows[0]), tuple(rows))


def _piece_metres(figure: Figure, place: int) -> float:
    """How far a joint's own piece goes: to what hangs on it, or to its end."""
    hung = [joint.offset for joint in figure.joints if joint.parent == place]
    ends = [*hung, *figure.joints[place].end_sites]
    return max((float(np.linalg.norm(end)) for end in ends), default=SMALL_PIECE_METRES)


def _kink_at_seam(rotations: Array, length: int, other: Index) -> Array:
    """Degrees per frame that each joint's velocity jumps by at the seam, beyond its usual. [joints]."""
    reach = min(4, length)
    steps = np.arange(reach)
    at_seam: Array = _velocity_jump(rotations, (length - steps)[None], steps[None])[0]
    inside = np.arange(reach - 1, length - reach + 1)
    if reach < 4 or not inside.size:
        return at_seam
    usual = _velocity_jump(rotations, inside[:, None] - steps, inside[:, None] + steps)
    most = usual.max(axis=0)
    result: Array = np.maximum(at_seam - np.maximum(most, most[other]), 0.0)
    return result


def _velocity_jump(rotations: Array, before: Index, after: Index) -> Array:
    """Rows of frames leading away from a moment on either side → jumps [moments, joints]."""
    weights = _ONE_SIDED if before.shape[1] == 4 else np.array([1.0, -1.0])
    jump = np.zeros(())
    for frames in (before, after):
        centre = rotation.conjugate(rotations[frames[:, :1]])
        turns = rotation.vector(rotation.multiply(centre, rotations[frames]))
        count = min(len(weights), frames.shape[1])
        jump = jump + np.tensordot(weights[:count], turns[:, :count], axes=(0, 1))
    result: Array = np.degrees(np.linalg.norm(jump, axis=-1))
    return result


def _badness(gap: SeamGap) -> float:
    return max(value / limit for value, limit in zip(_measures(gap), _CLOSED, strict=True))


def _measures(gap: SeamGap) -> tuple[float, float, float]:
    return gap.gap_degrees, gap.gap_cm, gap.gap_degrees_per_frame


def _grade(worst: SeamGap) -> Grade:
    def within(limits: tuple[float, float, float]) -> bool:
        return all(value < limit for value, limit in zip(_measures(worst), limits, strict=True))

    return "closed" if within(_CLOSED) else "soft" if within(_SOFT) else "open"
