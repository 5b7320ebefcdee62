"""A clip ready to play (rules 1.2, 1.8 and 4.4)."""

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np

from .. import ground, rotation
from ..arrays import Array, Index, real
from ..colour import Colour
from ..errors import Refusal
from ..moments import Local, Source
from ..motion import Motion, join_runs
from ..performance import ChannelKind
from .document import Clip, Plant


@dataclass(frozen=True, eq=False)
class PlayableClip:
    """A clip with its samples at hand, ready to be asked for any local time.

    `kept` are the samples as they are stored, where what plays differs: its feet are held, or it
    plays in place. `lead_in` precedes a cycle's start.
    """

    clip: Clip
    samples: Motion
    kept: Motion | None = None
    lead_in: Motion | None = None

    @property
    def name(self) -> str:
        return self.clip.name

    @property
    def colour(self) -> Colour:
        return self.clip.colour

    @property
    def figure(self) -> str:
        return self.clip.figure

    @property
    def plants(self) -> tuple[Plant, ...]:
        return self.clip.plants

    @property
    def rests(self) -> tuple[str, ...]:
        return self.clip.rests

    @property
    def rate(self) -> Fraction:
        return self.clip.rate

    @property
    def length_frames(self) -> int:
        return self.clip.length_frames

    @property
    def is_cycle(self) -> bool:
        return self.clip.is_cycle

    @property
    def joints(self) -> int:
        return self.samples.joints

    @property
    def channels(self) -> frozenset[ChannelKind]:
        return frozenset({"body"})

    @property
    def moved(self) -> frozenset[int]:
        return frozenset(self.samples.moves)

    @property
    def scaled(self) -> frozenset[int]:
        return frozenset(self.samples.scales)

    @property
    def kept_samples(self) -> Motion:
        return self.samples if self.kept is None else self.kept

    def __post_init__(self) -> None:
        if self.samples.frames != self.clip.length_frames + self.clip.is_cycle:
            raise Refusal(
                f"“{self.clip.name}” is {self.clip.length_frames} frames long and has "
                f"{self.samples.frames} poses."
            )

    @cached_property
    def _rounded(self) -> Motion:
        """The samples of a cycle with frame 0, one period on, as the frame after the last."""
        if not self.clip.is_cycle:
            return self.samples
        shown = self.samples.at(np.arange(self.clip.length_frames))
        first = shown.at(np.zeros(1, dtype=np.intp))
        return join_runs([shown, first.moved(np.array(self.clip.round_period))])

    def local(self, source: Source) -> tuple[Array, Local]:
        """Source time → rounds gone by, and local time within the clip (rules 1.2 and 1.8).

        A clip that plays once holds its first and its last pose beyond its ends.
        """
        length = self.clip.length_frames
        if not self.clip.is_cycle:
            inside = np.clip(real(source), 0.0, length - 1)
            return np.zeros_like(inside), Local(self.clip.exposure.sampled(inside))
        rounds = np.floor(source / length)
        local = source - rounds * length
        # A hair below a whole round can land on the round itself.
        over = local >= length
        rounds, local = np.where(over, rounds + 1, rounds), np.where(over, 0.0, local)
        held = self.clip.exposure.sampled(local)
        # A pose held over the seam belongs to the round before.
        earlier = held < 0
        return np.where(earlier, rounds - 1, rounds), Local(np.where(earlier, held + length, held))

    def at(self, source: Source) -> Motion:
        """Poses at source times [frames]; travel goes on from round to round (rule 4.4)."""
        rounds, local = self.local(source)
        low = np.floor(local).astype(np.intp)
        share = local - low
        motion = _between(self._rounded, low, share)
        if self.clip.is_cycle and any(self.clip.round_period):
            return motion.moved(ground.power(np.array(self.clip.round_period), rounds))
        return motion

    def travel_at(self, source: Source) -> Array:
        """Only the travel of `at`. [frames] → [frames, 3]."""
        rounds, local = self.local(source)
        path = self._rounded.travel
        low = local.astype(np.intp)
        start, end = path[low], path[np.minimum(low + 1, len(path) - 1)]
        travel = start + (end - start) * (local - low)[:, None]
        if self.clip.is_cycle and any(self.clip.round_period):
            return ground.compose(ground.power(np.array(self.clip.round_period), rounds), travel)
        return travel


def _between(samples: Motion, low: Index, share: Array) -> Motion:
    """Samples at `low` + `share`; whole frames come back exactly as they are stored."""
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
