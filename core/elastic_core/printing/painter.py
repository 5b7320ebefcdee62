"""Who paints the frames of a print."""

from fractions import Fraction
from typing import Protocol


class Painter(Protocol):
    """Frames as PNG pictures, one by one."""

    @property
    def size(self) -> tuple[int, int]:
        """The width and height of a frame, in pixels."""

    @property
    def rate(self) -> Fraction:
        """Frames a second."""

    def frame(self, played: int) -> bytes:
        """The picture of a played frame, as a PNG. Raises Refusal where it cannot be painted."""
