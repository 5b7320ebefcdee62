"""Tracing: pictures laid under the stage as a reference, one or a numbered run of them."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import ConfigDict, Field

from .errors import Refusal
from .frozen import Frozen
from .quantities import Metres, Value

MOST_PICTURES = 2_000


class Part(Frozen):
    model_config = ConfigDict(extra="forbid")


Along = Annotated[float, Field(ge=0.0, le=1.0)]


class Picture(Part):
    """A picture by its file, named by SHA-256. It is `painted` that far (left, below, right, above, in parts of
    it from the left and from its foot) and elsewhere one sees through it; none where nobody has looked."""

    file: str = Field(pattern="^[0-9a-f]{64}$")
    width_pixels: int = Field(ge=1, le=100_000)
    height_pixels: int = Field(ge=1, le=100_000)
    painted: Annotated[tuple[Along, ...], Field(min_length=4, max_length=4)] | None = None


Opacity = Annotated[float, Field(ge=0.0, le=1.0)]
Height = Annotated[float, Field(gt=0.0, le=1_000.0)]
FirstFrame = Annotated[int, Field(ge=-100_000, le=100_000)]
FramesEach = Annotated[int, Field(ge=1, le=1_000)]
Pictures = Annotated[tuple[Picture, ...], Field(min_length=1, max_length=MOST_PICTURES)]


class Tracing(Part):
    """Pictures under the stage, seen from one side only.

    They stand upright on the stage, `height_metres` high, their foot's middle `right_metres` and
    `up_metres` from the clip's origin as the view sees it. The view is that from `yaw_degrees` round
    the origin and `pitch_degrees` above the ground. The first shows from `first_frame` on, each for
    `frames_each`; the last one stays.
    """

    pictures: Pictures
    opacity: Opacity = 0.5
    height_metres: Height = 1.8
    right_metres: Metres = 0.0
    up_metres: Metres = 0.0
    yaw_degrees: Value = -90.0
    pitch_degrees: Value = 0.0
    first_frame: FirstFrame = 0
    frames_each: FramesEach = 1


class Shown(Part):
    """A picture by its place in the run, over `[start, end)` frames."""

    picture: int
    start: int
    end: int


def shown(tracing: Tracing, length_frames: int) -> Iterator[Shown]:
    """Which picture lies under which of a clip's frames 0 … L−1. Before the first there is none."""
    last = len(tracing.pictures) - 1
    for place in range(len(tracing.pictures)):
        start = tracing.first_frame + place * tracing.frames_each
        end = length_frames if place == last else start + tracing.frames_each
        start, end = max(start, 0), min(end, length_frames)
        if start < end:
            yield Shown(picture=place, start=start, end=end)


class SetTracing(Part):
    """Pictures under the stage, and how they lie; what is left out stays, or is as usual."""

    kind: Literal["set_tracing"] = "set_tracing"
    pictures: Pictures | None = None
    opacity: Opacity | None = None
    height_metres: Height | None = None
    right_metres: Metres | None = None
    up_metres: Metres | None = None
    yaw_degrees: Value | None = None
    pitch_degrees: Value | None = None
    first_frame: FirstFrame | None = None
    frames_each: FramesEach | None = None


class RemoveTracing(Part):
    kind: Literal["remove_tracing"] = "remove_tracing"


def edited(before: Tracing | None, edit: SetTracing | RemoveTracing) -> tuple[Tracing | None, str]:
    """The tracing after an edit, and what the edit is called.

    Raises Refusal where there is no tracing to change, or no picture to begin one with.
    """
    if isinstance(edit, RemoveTracing):
        if before is None:
            raise Refusal("There is no picture to take away.")
        return None, "Take the tracing away"
    wanted = edit.model_dump(exclude={"kind"}, exclude_none=True)
    if before is None:
        if edit.pictures is None:
            raise Refusal("There is no picture under the stage any more.")
        return Tracing.model_validate(wanted), _laid(edit.pictures)
    after = Tracing.model_validate(before.model_dump() | wanted)
    changed = [name for name in wanted if getattr(before, name) != getattr(after, name)]
    if not changed:
        raise Refusal("It lies so already.")
    if "pictures" in changed:
        return after, _laid(after.pictures)
    words = list(dict.fromkeys(_WORDS[name] for name in changed))
    return after, f"Set the tracing’s {' and '.join(words)}"


def _laid(pictures: tuple[Picture, ...]) -> str:
    count = len(pictures)
    return "Lay a picture under the stage" if count == 1 else f"Lay {count} pictures under"


_WORDS = {
    "opacity": "opacity",
    "height_metres": "height",
    "right_metres": "place",
    "up_metres": "place",
    "yaw_degrees": "view",
    "pitch_degrees": "view",
    "first_frame": "first frame",
    "frames_each": "exposure",
}
