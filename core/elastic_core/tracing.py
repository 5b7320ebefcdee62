"""Tracing: pictures laid under the stage as a reference, one or a numbered run of them."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from .errors import Refusal

MOST_PICTURES = 2_000
Number = Annotated[float, Field(allow_inf_nan=False)]


class Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Picture(Part):
    """A picture by its file, named by SHA-256."""

    file: str = Field(pattern="^[0-9a-f]{64}$")
    width_pixels: int = Field(ge=1)
    height_pixels: int = Field(ge=1)


class Tracing(Part):
    """Pictures under the stage, seen from one side only.

    They stand upright on the stage, `height_metres` high, their foot's middle `right_metres` and
    `up_metres` from the clip's origin as the view sees it. The view is that from `yaw_degrees` round
    the origin and `pitch_degrees` above the ground. The first shows from `first_frame` on, each for
    `frames_each`; the last one stays.
    """

    pictures: tuple[Picture, ...] = Field(min_length=1, max_length=MOST_PICTURES)
    opacity: float = Field(default=0.5, ge=0.0, le=1.0)
    height_metres: float = Field(default=1.8, gt=0.0, le=1_000.0)
    right_metres: Number = 0.0
    up_metres: Number = 0.0
    yaw_degrees: Number = -90.0
    pitch_degrees: Number = 0.0
    first_frame: int = Field(default=0, ge=-100_000, le=100_000)
    frames_each: int = Field(default=1, ge=1, le=1_000)


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
    """Lay pictures under the stage, change how they lie, or take them away."""

    kind: Literal["set_tracing"] = "set_tracing"
    tracing: Tracing | None = None


def laid(before: Tracing | None, after: Tracing | None) -> str:
    """What such an edit is called."""
    if before == after:
        raise Refusal(
            "There is no picture to take away." if after is None else "It lies so already."
        )
    if after is None:
        return "Take the tracing away"
    count = len(after.pictures)
    if before is None or before.pictures != after.pictures:
        return "Lay a picture under the stage" if count == 1 else f"Lay {count} pictures under"
    changed = [name for name in _WORDS if getattr(before, name) != getattr(after, name)]
    return (
        f"Set the tracing’s {_WORDS[changed[0]]}" if len(changed) == 1 else "Lay the tracing anew"
    )


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
