"""What every edit of a clip is made of."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from pydantic import BaseModel, ConfigDict

from ...channels import joint_of
from ...clip.document import Clip
from ...clip.playable import PlayableClip
from ...curve import Beyond, Curve
from ...errors import Refusal
from ...figure import Figure
from ...frozen import Frozen
from ...motion import Motion, Samples
from ...quantities import Frame
from ..playing import in_keys, playable_of, played_curves

LONGEST_CLIP_FRAMES = 20_000
# Samples with more values than this are not opened as keys.
MOST_KEYS = 500_000
Chosen = dict[str, list[Frame]]
"""Chosen keys: the times of each channel's."""


@dataclass(frozen=True)
class Made:
    """A clip on the bench: its document, its figure, the samples it is kept as, if it is, and what
    precedes its start, if that is kept."""

    clip: Clip
    figure: Figure
    samples: Samples | None = None
    lead_in: Motion | None = None

    @cached_property
    def playable(self) -> PlayableClip:
        """The clip ready to play, its feet held."""
        return playable_of(self.figure, self.clip, self.samples)

    @property
    def keyed(self) -> "Made":
        """The clip as keys. Raises Refusal for a take with more keys than the bench can hold."""
        # Not kept in itself: what refers to itself stays in memory until someone looks for it.
        return self if self.clip.is_keyed else self._in_keys

    @cached_property
    def _in_keys(self) -> "Made":
        keys = keys_on_every_frame(self.figure, self.clip.length_frames)
        if keys > MOST_KEYS:
            raise Refusal(
                f"“{self.clip.name}” is too long for the bench: with a key on each of its "
                f"{self.clip.length_frames:,} frames it would have about {keys:,} keys, and "
                f"{MOST_KEYS:,} are the most. Make a new clip of a part of it, or bring it in at "
                "a lower rate."
            )
        clip = in_keys(self.figure, self.clip, self.samples)
        return Made(clip, self.figure, lead_in=self.lead_in)

    @cached_property
    def curves(self) -> dict[str, Curve]:
        """Every curve as it plays; those of samples are the keys that they would become."""
        return played_curves(self.figure, self.keyed.clip)

    def with_(self, **changes: Any) -> Clip:
        return self.clip.model_copy(update=changes)


def keys_on_every_frame(figure: Figure, frames: int) -> int:
    """About how many keys so many frames of the whole figure are."""
    return frames * 3 * (len(figure.joints) + 1)


@dataclass(frozen=True)
class Edited:
    """What came of an edit."""

    clip: Clip
    label: str
    notes: tuple[str, ...] = ()
    chosen: Mapping[str, tuple[float, ...]] | None = None
    """Where the keys that it was about lie now; none: the choice stays as it was."""


class Edit(Frozen):
    model_config = ConfigDict(extra="forbid")


Rules = dict[type[BaseModel], Callable[[Made, Any], Edited]]
"""What each kind of edit does."""


def beyond_of(clip: Clip) -> Beyond:
    """What a new curve does before and after its keys."""
    return "repeat" if clip.is_cycle else "hold"


def curve_of(clip: Clip, name: str) -> Curve:
    """The curve of a channel. Raises Refusal where it has no keys."""
    curve = clip.keys.get(name)
    if curve is None:
        raise Refusal(f"{name} has no keys.")
    return curve


def with_curves(clip: Clip, changed: Mapping[str, Curve | None]) -> Clip:
    """The clip with some curves changed; those that are none any more are taken out."""
    keys = {**clip.keys, **changed}
    return clip.model_copy(update={"keys": {n: c for n, c in keys.items() if c is not None}})


def own_frame(clip: Clip, frame: float) -> float:
    """A frame of the clip; a cycle's frame L is its frame 0.

    Raises Refusal for a frame outside a clip that plays once.
    """
    if clip.is_cycle:
        return frame % clip.length_frames
    if not 0 <= frame < clip.length_frames:
        raise Refusal(f"The clip has frames 0 to {clip.length_frames - 1}.")
    return frame


def into_keys(made: Made) -> tuple[str, ...]:
    if made.clip.is_keyed or made.samples is None:
        return ()
    return ("The clip was samples. It has a key on every frame now.",)


def joints_in(figure: Figure, channels: list[str]) -> list[str]:
    return list(dict.fromkeys(joint_of(figure, name) for name in channels))
