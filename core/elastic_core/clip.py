"""Clips: reusable motion with its own local time, as samples or as keys (rules 1.2, 3.x, 4.4)."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from . import ground, rotation
from .arrays import Array, Index, by_runs, real
from .beats import Beat
from .channels import motion_of
from .clock import Rate
from .colour import Colour
from .curve import Curve
from .errors import Refusal
from .exposure import Exposure
from .figure import Figure
from .motion import Motion, join_runs
from .tracing import Tracing

GroundTuple = tuple[float, float, float]


class Plant(BaseModel):
    """A foot on the ground over a half-open span of the clip's frames.

    One that is `held` is kept where it stands (rule 5.5).
    """

    model_config = ConfigDict(frozen=True)

    joint: str
    side: Literal["left", "right", "middle"]
    start: float
    end: float
    held: bool = False


class NamedPose(BaseModel):
    """What a frame's pose is called: contact, down, passing, up, or a name of one's own."""

    model_config = ConfigDict(frozen=True)

    frame: float
    name: str = Field(min_length=1, max_length=40)


class Clip(BaseModel):
    """A clip document. Its poses are its `keys`, or are kept apart as samples under the name `motion`.

    With `half_linked` the second half of a cycle follows the first, mirrored (rule 4.3). A clip that
    does not `travels` plays in place; nothing of its travel is lost (rule 4.4).

    A cycle of `length_frames` L shows frames 0 … L−1 and moves on by `period` in each round. It keeps
    one pose more, the one that was made for frame L: it never shows, and tells how the seam closes.
    `rests` names the figure's joints that the clip does not animate (rule 2.4). `lead_in` names the
    frames that preceded a cycle's start in its take, seen from its path; they never show.
    """

    model_config = ConfigDict(frozen=True)

    schema_version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=120)
    figure: str
    rate: Rate
    length_frames: int = Field(ge=1)
    is_cycle: bool = False
    period: GroundTuple = ground.ORIGIN
    colour: Colour = "cobalt"
    exposure: Exposure = Exposure()
    plants: tuple[Plant, ...] = ()
    rests: tuple[str, ...] = ()
    motion: str = ""
    lead_in: str = ""
    keys: dict[str, Curve] = {}
    half_linked: bool = False
    travels: bool = True
    poses: tuple[NamedPose, ...] = ()
    beats: tuple[Beat, ...] = ()
    tracing: Tracing | None = None

    @property
    def is_keyed(self) -> bool:
        return not self.motion and bool(self.keys)

    @property
    def round_period(self) -> GroundTuple:
        """What a round adds as the clip plays."""
        return self.period if self.travels else ground.ORIGIN


class KeyedPose(BaseModel):
    """A clip's curves, by the names of their channels."""

    model_config = ConfigDict(frozen=True)

    kind: Literal["keys"] = "keys"
    channels: dict[str, Curve]


class SampledPose(BaseModel):
    """A clip's poses, one row a frame, as plain numbers: see docs/formats.md."""

    model_config = ConfigDict(frozen=True)

    kind: Literal["samples"] = "samples"
    travel: tuple[GroundTuple, ...]
    root_move: tuple[GroundTuple, ...]
    rotations: tuple[tuple[tuple[float, float, float, float], ...], ...]
    moves: dict[str, tuple[GroundTuple, ...]] = {}
    scales: dict[str, tuple[GroundTuple, ...]] = {}


Poses = Annotated[KeyedPose | SampledPose, Field(discriminator="kind")]


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

    def local(self, source: Array) -> tuple[Array, Array]:
        """Source time → rounds gone by, and local time within the clip (rules 1.2 and 1.8).

        A clip that plays once holds its first and its last pose beyond its ends.
        """
        length = self.clip.length_frames
        if not self.clip.is_cycle:
            inside = np.clip(real(source), 0.0, length - 1)
            return np.zeros_like(inside), self.clip.exposure.sampled(inside)
        rounds = np.floor(source / length)
        local = source - rounds * length
        # A hair below a whole round can land on the round itself.
        over = local >= length
        rounds, local = np.where(over, rounds + 1, rounds), np.where(over, 0.0, local)
        held = self.clip.exposure.sampled(local)
        # A pose held over the seam belongs to the round before.
        earlier = held < 0
        return np.where(earlier, rounds - 1, rounds), np.where(earlier, held + length, held)

    def at(self, source: Array) -> Motion:
        """Poses at source times [frames]; travel goes on from round to round (rule 4.4)."""
        rounds, local = self.local(source)
        low = np.floor(local).astype(np.intp)
        share = local - low
        motion = _between(self._rounded, low, share)
        if self.clip.is_cycle and any(self.clip.round_period):
            return motion.moved(ground.power(np.array(self.clip.round_period), rounds))
        return motion

    def travel_at(self, source: float) -> Array:
        """Only the travel at one source time [3]; the same as `at`, without its poses."""
        rounds, local = self.local(real(source))
        low = int(local)
        path = self._rounded.travel
        following = path[min(low + 1, len(path) - 1)]
        travel: Array = path[low] + (following - path[low]) * (local - low)
        if rounds:
            travel = ground.compose(ground.power(np.array(self.clip.round_period), rounds), travel)
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


def poses_to_motion(poses: KeyedPose | SampledPose, figure: Figure, length_frames: int) -> Motion:
    """A clip's keys or plain samples as motion of a figure, one pose a frame."""
    if isinstance(poses, SampledPose):
        rows = np.array(poses.rotations, dtype=np.float64)
        if rows.shape != (len(poses.travel), len(figure.joints), 4):
            raise Refusal(
                f"The samples have shape {rows.shape}; {len(poses.travel)} frames of "
                f"{len(figure.joints)} joints with 4 numbers were expected."
            )
        return Motion(
            by_runs(np.array(poses.travel)),
            by_runs(np.array(poses.root_move)),
            by_runs(_of_unit_length(rows)),
            _by_place(figure, poses.moves),
            _by_place(figure, poses.scales),
        )
    return motion_of(poses.channels, figure, np.arange(length_frames, dtype=np.float64))


def _by_place(figure: Figure, rows: Mapping[str, tuple[GroundTuple, ...]]) -> dict[int, Array]:
    return {figure.place_of(name): by_runs(np.array(row)) for name, row in rows.items()}


def _of_unit_length(rotations: Array) -> Array:
    """Quaternions put right where they are off; those rounded to float32 stay to the last bit."""
    length = np.linalg.norm(rotations, axis=-1)
    if not (length > 1e-6).all():
        raise Refusal("A rotation of the samples is all zeros.")
    return np.where(
        (np.abs(length - 1) > 1e-6)[..., None], rotation.normalise(rotations), rotations
    )


@dataclass(frozen=True)
class Material:
    """What a scene is made from: figures and playable clips, by their ids."""

    figures: Mapping[str, Figure]
    clips: Mapping[str, PlayableClip] = field(default_factory=dict)

    def figure(self, name: str) -> Figure:
        if name not in self.figures:
            raise Refusal("A figure of the scene is missing.")
        return self.figures[name]

    def clip(self, name: str) -> PlayableClip:
        if name not in self.clips:
            raise Refusal("A clip of the scene is missing.")
        return self.clips[name]
