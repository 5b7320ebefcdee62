"""A run: drawings in order with their exposures, and what shows of it on any frame (rules 7.3 and 7.4)."""

from collections.abc import Sequence
from fractions import Fraction
from functools import cached_property
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..arrays import Array, Index
from ..clock import Rate
from ..colour import Colour
from ..errors import Refusal
from ..exposure import HoldFrames
from ..frozen import Frozen
from .boil import boiled

Drawing = Annotated[int, Field(ge=0, le=999_999_999)]
Play = Literal["once", "repeat", "bounce", "backwards", "boil"]
Seed = Annotated[int, Field(ge=0, le=999_999)]
MOST_HELD = 10_000
# As long as the longest scene.
LONGEST_FRAMES = 200_000
PinnedFrame = Annotated[int, Field(ge=0, lt=LONGEST_FRAMES)]
# What is computed may come out a hair before the frame that it is on.
_HAIR_FRAMES = 1e-6


class Held(Frozen):
    """A drawing, and for how many frames it shows."""

    drawing: Drawing
    frames: HoldFrames = 2


class DrawingPin(Frozen):
    """A drawing that begins on a frame."""

    drawing: Drawing
    frame: PinnedFrame


class DrawingRun(Frozen):
    """A clip of drawings, as a document. `drawings` is the id of the set that its numbers are of.

    It plays once and holds its last drawing; repeats; goes there and back, its ends shown once; repeats
    backwards; or boils: every round has each drawing once, in an order of its own by `seed`, and never the
    same twice running. Over the rounds that its `pins` lie in, each pinned drawing begins on its frame.
    """

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120)]
    drawings: str = ""
    rate: Rate = Fraction(24)
    held: Annotated[tuple[Held, ...], Field(min_length=1, max_length=MOST_HELD)]
    play: Play = "once"
    seed: Seed = 1
    pins: Annotated[tuple[DrawingPin, ...], Field(max_length=1_000)] = ()
    colour: Colour = "ochre"

    @model_validator(mode="after")
    def _no_longer_than_a_scene(self) -> Self:
        if sum(one.frames for one in self.held) > LONGEST_FRAMES:
            raise Refusal(f"A run is {LONGEST_FRAMES:,} frames long at the most.")
        return self

    @property
    def numbers(self) -> tuple[int, ...]:
        """Its drawings, each once, in the order in which they come."""
        return tuple(dict.fromkeys(one.drawing for one in self.held))

    @cached_property
    def of_one_round(self) -> tuple[Held, ...]:
        """What one round plays, in order; of a boil each drawing once, as long as it first shows."""
        if self.play == "bounce":
            return (*self.held, *self.held[-2:0:-1])
        if self.play == "backwards":
            return self.held[::-1]
        if self.play == "boil":
            first = {one.drawing: one for one in reversed(self.held)}
            return tuple(first[number] for number in self.numbers)
        return self.held

    @property
    def length_frames(self) -> int:
        """How long one round is."""
        return sum(one.frames for one in self.of_one_round)

    def round(self, number: int) -> tuple[Held, ...]:
        """What the round with this number plays, in order; 0 is the first, −1 the one before it."""
        if self.play != "boil":
            return self.of_one_round
        order = boiled(len(self.of_one_round), number, self.seed)
        return tuple(self.of_one_round[place] for place in order)

    def drawings_at(self, frames: Array) -> Index:
        """The numbers of the drawings at these times, in frames of the run, without its pins. [n] → [n]"""
        whole = floored(frames)
        length = self.length_frames
        if self.play == "once":
            return _row(self.held)[np.clip(whole, 0, length - 1)]
        rounds, within = np.divmod(whole, length)
        if self.play != "boil":
            return _row(self.of_one_round)[within]
        shown = np.empty(len(whole), dtype=np.intp)
        for number in np.unique(rounds):
            here = rounds == number
            shown[here] = _row(self.round(int(number)))[within[here]]
        return shown


def floored(frames: Array) -> Index:
    """The whole frames that these times lie in. [n] → [n]"""
    whole: Index = np.floor(np.asarray(frames, dtype=np.float64) + _HAIR_FRAMES).astype(np.intp)
    return whole


def _row(held: Sequence[Held]) -> Index:
    """A drawing for each frame."""
    row: Index = np.repeat([one.drawing for one in held], [one.frames for one in held]).astype(
        np.intp
    )
    return row
