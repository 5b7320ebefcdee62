"""A clip ready to play (rules 1.2, 1.8 and 4.4)."""

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np

from .. import ground
from ..arrays import Array, real
from ..colour import Colour
from ..errors import Refusal
from ..moments import Local, Source
from ..motion import Motion, Samples, between, join_runs
from ..performance import ChannelKind
from .document import Clip, Plant


@dataclass(frozen=True, eq=False)
class PlayableClip:
    """A clip with its samples at hand, ready to be asked for any local time.

    `kept` are the samples as they are stored, where what plays differs: its feet are held, or it
    plays in place. `lead_in` precedes a cycle's start.
    """

    clip: Clip
    samples: Samples
    kept: Samples | None = None
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
        return self.samples.moved_joints

    @property
    def scaled(self) -> frozenset[int]:
        return self.samples.scaled_joints

    @property
    def kept_samples(self) -> Samples:
        return self.samples if self.kept is None else self.kept

    def __post_init__(self) -> None:
        if self.samples.frames != self.clip.length_frames + self.clip.is_cycle:
            raise Refusal(
                f"“{self.clip.name}” is {self.clip.length_frames} frames long and has "
                f"{self.samples.frames} poses."
            )

    @cached_property
    def _rounded(self) -> Samples:
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
        motion = between(self._rounded, low, share)
        if self.clip.is_cycle and any(self.clip.round_period):
            return motion.moved(ground.power(np.array(self.clip.round_period), rounds))
        return motion

    def as_laid(self, source: Source) -> Motion:
        """A clip has no joins."""
        return self.at(source)

    def travel_at(self, source: Source) -> Array:
        """Only the travel of `at`. [frames] → [frames, 3]."""
        rounds, local = self.local(source)
        path = self._rounded
        low = local.astype(np.intp)
        start, end = path.travel_at(low), path.travel_at(np.minimum(low + 1, path.frames - 1))
        travel = start + (end - start) * (local - low)[:, None]
        if self.clip.is_cycle and any(self.clip.round_period):
            return ground.compose(ground.power(np.array(self.clip.round_period), rounds), travel)
        return travel
