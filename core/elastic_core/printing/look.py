"""How a print looks: from where it is seen, how large, and what shows beside the picture itself."""

from collections.abc import Mapping
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..errors import Refusal
from ..frozen import Frozen

View = Literal["three-quarter", "side", "front", "plan", "camera", "stage"]
Burnt = Literal["frame", "time", "timecode", "name", "revision", "beat", "lanes"]
BURNT: tuple[Burnt, ...] = ("frame", "time", "timecode", "name", "revision", "beat", "lanes")
FilmForm = Literal["mp4", "webm"]
# Pictures: one that moves and goes round for ever, each by its number, or all of them on a sheet or on pages.
MovingForm = Literal["webp", "gif"]
ContactForm = Literal["contact", "pdf"]
PrintForm = Literal["mp4", "webm", "webp", "gif", "png", "contact", "pdf"]
ENDINGS: Mapping[str, str] = {
    "mp4": ".mp4", "webm": ".webm", "webp": ".webp", "gif": ".gif", "png": ".zip",
    "contact": ".png", "pdf": ".pdf",
}  # fmt: skip
WITHOUT_PAPER: tuple[PrintForm, ...] = ("png", "webp", "contact")
Pixels = Annotated[int, Field(ge=16, le=4_096)]
Degrees = Annotated[float, Field(ge=-100_000.0, le=100_000.0)]
Metres = Annotated[float, Field(ge=-100_000.0, le=100_000.0)]
HOUSE_SIZE = (1_280, 720)
# Of one frame on a contact sheet, and how many frames apart they are.
CELL_SIZE, HOUSE_EVERY = (320, 180), 4
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
    `mark` is the frame's number in cells that a machine reads. What is `transparent` has no
    paper, and no quay."""

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
    transparent: bool = False

    @model_validator(mode="after")
    def _is_even(self) -> Self:
        # Films keep a colour for four pixels together.
        if self.width % 2 or self.height % 2:
            raise Refusal(f"A print is an even number of pixels: not {self.width} × {self.height}.")
        return self


def checked_form(form: PrintForm, look: PrintLook) -> None:
    """Raises Refusal for a form that cannot show a picture without its paper."""
    if look.transparent and form not in WITHOUT_PAPER:
        raise Refusal(
            "Without its paper a print is numbered PNG pictures, a WebP or a contact sheet."
        )
