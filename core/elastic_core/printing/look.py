"""How a print looks: from where it is seen, how large, and what shows beside the picture itself."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..errors import Refusal
from ..frozen import Frozen

View = Literal["three-quarter", "side", "front", "plan", "camera", "stage"]
Burnt = Literal["frame", "time", "timecode", "name", "revision", "beat", "lanes"]
BURNT: tuple[Burnt, ...] = ("frame", "time", "timecode", "name", "revision", "beat", "lanes")
FilmForm = Literal["mp4", "webm"]
Pixels = Annotated[int, Field(ge=16, le=4_096)]
Degrees = Annotated[float, Field(ge=-100_000.0, le=100_000.0)]
Metres = Annotated[float, Field(ge=-100_000.0, le=100_000.0)]
HOUSE_SIZE = (1_280, 720)
MOST_ROUNDS = 100


class PrintGhosts(Frozen):
    """Neighbouring poses: so many on either side, so many frames apart."""

    count: Annotated[int, Field(ge=1, le=8)] = 2
    step: Annotated[int, Field(ge=1, le=100)] = 8


class PrintArc(Frozen):
    """A joint whose arc shows, by its place in its figure."""

    figure: Annotated[str, Field(max_length=40)]
    joint: Annotated[int, Field(ge=0, le=10_000)]


class PrintLook(Frozen):
    """The same wish gives the same pixels. With the view “stage” it is seen as somebody looked round: `yaw`,
    `pitch`, `distance` and `target` count, or the watched figure is followed. `prints` are
    those of feet, `numbers` stand under the watched figure and its ghosts. `burns` are told along its foot; a
    `mark` is the frame's number in cells that a machine reads."""

    width: Pixels = HOUSE_SIZE[0]
    height: Pixels = HOUSE_SIZE[1]
    view: View = "three-quarter"
    yaw_degrees: Degrees = -58.0
    pitch_degrees: Annotated[float, Field(ge=-90.0, le=90.0)] = 9.0
    distance_metres: Annotated[float, Field(gt=0.0, le=1_000.0)] = 7.0
    target: tuple[Metres, Metres, Metres] = (0.0, 0.86, 0.0)
    follow: bool = True
    watched: Annotated[str, Field(max_length=40)] | None = None
    ghosts: PrintGhosts | None = None
    arcs: Annotated[tuple[PrintArc, ...], Field(max_length=100)] = ()
    prints: bool = False
    grid: bool = False
    numbers: bool = False
    burns: Annotated[tuple[Burnt, ...], Field(max_length=len(BURNT))] = ()
    mark: bool = False

    @model_validator(mode="after")
    def _is_even(self) -> Self:
        # Films keep a colour for four pixels together.
        if self.width % 2 or self.height % 2:
            raise Refusal(f"A print is an even number of pixels: not {self.width} × {self.height}.")
        return self
