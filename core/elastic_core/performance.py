"""Performances: whatever can be placed on a lane (rule 5.1).

A clip of keys, a clip of samples, a run of drawings, a figure's part in a scene or in a group of
stints: a lane asks all of them the same few questions.
"""

from collections.abc import Sequence
from fractions import Fraction
from typing import Literal, Protocol, TypeGuard

from .arrays import Array, Index
from .clip.document import Plant
from .colour import Colour
from .moments import Source
from .motion import Motion

ChannelKind = Literal["body", "drawings", "camera"]


class Performance(Protocol):
    """Something with a time of its own that can be placed on a lane."""

    @property
    def name(self) -> str:
        """What it is called, for sentences."""

    @property
    def colour(self) -> Colour:
        """What its stints look like without a colour of their own."""

    @property
    def figure(self) -> str:
        """The id of the figure that it was made for; empty where it was made for none."""

    @property
    def rate(self) -> Fraction:
        """Its own frames a second."""

    @property
    def length_frames(self) -> int:
        """How long one round is, in its own frames."""

    @property
    def is_cycle(self) -> bool:
        """Whether it goes round; one that plays once holds its first and its last pose beyond."""

    @property
    def channels(self) -> frozenset[ChannelKind]:
        """What of a target it drives."""

    @property
    def plants(self) -> Sequence[Plant]:
        """When its feet are on the ground, in its own frames."""

    @property
    def rests(self) -> Sequence[str]:
        """The joints of its figure that it leaves at rest."""


class BodyPerformance(Performance, Protocol):
    """One that poses a body. It says which joints it moves off their places, and which it scales."""

    @property
    def joints(self) -> int:
        """How many joints it poses."""

    @property
    def moved(self) -> frozenset[int]: ...

    @property
    def scaled(self) -> frozenset[int]: ...

    def at(self, source: Source) -> Motion:
        """Its poses at these source times [frames], rounds of a cycle gone on."""

    def as_laid(self, source: Source) -> Motion:
        """The same, with no feet held through joins: what stints are laid on each other by."""

    def travel_at(self, source: Source) -> Array:
        """Only the travel of `at`. [frames] → [frames, 3]."""


class DrawingPerformance(Performance, Protocol):
    """One that says which drawing shows; there is never one between two (rule 7.3)."""

    def drawings_at(self, source: Source) -> Index:
        """The numbers of its drawings at these source times. [frames] → [frames]."""


def is_body(performance: Performance) -> TypeGuard[BodyPerformance]:
    """Whether it poses a body."""
    return "body" in performance.channels


def is_drawings(performance: Performance) -> TypeGuard[DrawingPerformance]:
    """Whether it says which drawing shows."""
    return "drawings" in performance.channels
