"""What was set by hand on a take: it stays when the recipe is run again, and belongs to no other take."""

from typing import Literal

from pydantic import Field

from ..elastic import Elastic
from ..frozen import Frozen
from ..quantities import MOST_FRAMES


class SpikeMark(Frozen):
    """A joint's frames of the take `[frame, end)`: a spike that is none, or one that was missed."""

    frame: int = Field(ge=0, le=MOST_FRAMES)
    end: int = Field(ge=1, le=MOST_FRAMES)
    joint: str = Field(min_length=1, max_length=200)

    def meets(self, frame: int, end: int, joint: str) -> bool:
        """Whether a spike is the one that is meant."""
        return joint == self.joint and frame < self.end and end > self.frame


class FootMark(Frozen):
    """A foot, by its side, on the ground or off it over frames of the take `[start, end)`."""

    side: Literal["left", "right", "middle"]
    start: int = Field(ge=0, le=MOST_FRAMES)
    end: int = Field(ge=1, le=MOST_FRAMES)
    planted: bool


class ByHand(Frozen):
    """The take's elastic (frames of the result → frames of the take), spikes refused and added, feet painted
    on and off the ground, each over those before, and frames that are always keyed."""

    elastic: Elastic | None = None
    refused: tuple[SpikeMark, ...] = ()
    added: tuple[SpikeMark, ...] = ()
    feet: tuple[FootMark, ...] = ()
    keyed: tuple[int, ...] = ()
