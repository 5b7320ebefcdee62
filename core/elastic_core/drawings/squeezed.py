"""A run squeezed into fewer frames, or drawn out over more: new exposures, in the same order (rule 7.3)."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..arrays import Index
from ..errors import Refusal
from ..quantities import MOST_FRAMES
from .run import Held

Squeeze = Literal["even", "every"]


@dataclass(frozen=True)
class Squeezed:
    """The exposures that are left, and the drawings that fell out."""

    held: tuple[Held, ...]
    fell_out: tuple[int, ...]


def squeezed(held: Sequence[Held], frames: int, how: Squeeze) -> Squeezed:
    """Exposures over so many frames, in their order: `every` one of them at least once, or `even`ly spaced,
    where what is shorter than a frame may fall out.

    Raises Refusal for no frames, and for fewer frames than exposures where each is to show.
    """
    if not 1 <= frames <= MOST_FRAMES:
        raise Refusal(f"A run is squeezed into 1 to {MOST_FRAMES:,} frames.")
    if how == "every" and len(held) > frames:
        raise Refusal(
            f"{len(held)} drawings do not go into {frames} frames, a frame each at the least: "
            "let some fall out, or take more frames."
        )
    ends = np.cumsum([one.frames for one in held])
    if how == "every":
        whole = _ends_of_every(ends, frames)
    elif len(held) > frames:
        # One drawing a frame, the first and the last among them.
        kept = np.round(np.linspace(0, len(held) - 1, frames)).astype(int)
        whole = np.searchsorted(kept, np.arange(len(held)), side="right")
    else:
        whole = np.round(ends * (frames / ends[-1])).astype(int)
    lengths = np.diff(whole, prepend=0)
    left = tuple(
        one.model_copy(update={"frames": int(length)})
        for one, length in zip(held, lengths, strict=True)
        if length
    )
    shown = {one.drawing for one in left}
    numbers = dict.fromkeys(one.drawing for one in held)
    return Squeezed(left, tuple(number for number in numbers if number not in shown))


def _ends_of_every(ends: Index, frames: int) -> Index:
    """When each exposure is over: a frame for each, and what is left over shared by their lengths."""
    lengths = np.diff(ends, prepend=0)
    over = np.maximum(lengths - 1, 0)
    spare = frames - len(lengths)
    shares = np.cumsum(over) / over.sum() if over.sum() else np.arange(1, len(ends) + 1) / len(ends)
    result: Index = np.arange(1, len(ends) + 1) + np.round(shares * spare).astype(int)
    return result
