"""The take document: captured motion as it came, kept whole, with the recipe that cleans it (rule 6.0)."""

from pydantic import Field

from ..beats import Beat
from ..clock import Rate
from ..colour import Colour
from ..elastic import Elastic, Pin
from ..frozen import Frozen
from ..quantities import MOST_FRAMES, Value
from .by_hand import ByHand
from .clean import trimmed
from .recipe import Conform, Recipe, Trim

Degrees = tuple[Value, Value, Value]


class TakeOnto(Frozen):
    """The figure that a take goes onto: which joint plays which, the frame of the take that stands for its rest
    pose, joints corrected by degrees, and whether hands go to the same place beside the body."""

    figure: str
    mapping: dict[str, str] = Field(default={})
    rest_frame: int | None = Field(default=None, ge=0, le=MOST_FRAMES)
    corrections: dict[str, Degrees] = Field(default={})
    hands: bool = False


class Lost(Frozen):
    """Frames `[start, end)` that never came; those that were `filled` lie on a curve (rule 6.8)."""

    start: int = Field(ge=0, le=MOST_FRAMES)
    end: int = Field(ge=1, le=MOST_FRAMES)
    filled: bool


class Take(Frozen):
    """A take: its samples are kept apart under the name `motion`, as they came, at their own rate, and the file
    they came in under the name `file`. Everything else says how a clip is made of them.

    `figure` is the lay figure of its skeleton. `circled` takes are the good ones.
    """

    name: str = Field(min_length=1, max_length=120)
    schema_version: int = Field(default=1, ge=1, le=1)
    figure: str
    motion: str
    file: str = ""
    rate: Rate
    length_frames: int = Field(ge=1, le=MOST_FRAMES)
    recipe: Recipe
    by_hand: ByHand = ByHand()
    onto: TakeOnto | None = None
    beats: tuple[Beat, ...] = ()
    lost: tuple[Lost, ...] = ()
    colour: Colour = "slate"
    circled: bool = False

    @property
    def clip_rate(self) -> Rate:
        """The rate of what comes out."""
        conform = self.recipe.get(Conform)
        return (conform.rate if conform else None) or self.rate

    @property
    def span(self) -> tuple[int, int]:
        """The take's frames that are used, `[start, end)`."""
        return trimmed(self.recipe.get(Trim), self.length_frames)

    @property
    def elastic(self) -> Elastic:
        """When the take's frames play: by its pins, or at the clip's rate and the conform's pace."""
        if self.by_hand.elastic is not None:
            return self.by_hand.elastic
        conform = self.recipe.get(Conform)
        start, end = self.span
        step = float(self.rate / self.clip_rate) * (conform.pace if conform else 1.0)
        last = max(end - 1 - start, 1)
        return Elastic(
            pins=(Pin(played=0, source=start), Pin(played=last / step, source=start + last))
        )
