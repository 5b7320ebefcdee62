"""A sound of the production, as a document: which file it is, and how long it lasts."""

from typing import Annotated, Literal

from pydantic import Field

from ..frozen import Frozen

# What is laid, mixed and heard goes by this rate; sounds of other rates are brought to it once.
HOUSE_RATE = 48_000
LONGEST_SECONDS = 600

Form = Literal["WAV", "AIFF", "FLAC", "OGG", "MP3", "M4A"]
Sha256 = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Sound(Frozen):
    """A sound file by its content, `file`. `samples` are counted at the house rate."""

    schema_version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=120)
    file: Sha256
    form: Form
    rate_hz: int = Field(ge=1, le=1_000_000)
    channels: int = Field(ge=1, le=64)
    samples: int = Field(ge=1, le=LONGEST_SECONDS * HOUSE_RATE)

    @property
    def seconds(self) -> float:
        return self.samples / HOUSE_RATE
