"""Sound lanes of a scene: which sounds lie on them, and where (rule 1.9: a sound keeps its own time unless told
otherwise)."""

from fractions import Fraction
from typing import Annotated

from pydantic import Field

from ..frozen import Frozen
from ..names import Id
from ..quantities import Frame
from ..sound.document import HOUSE_RATE, LONGEST_SECONDS

LEAST_DB, MOST_DB = -60.0, 12.0
Level = Annotated[float, Field(ge=LEAST_DB, le=MOST_DB)]
Fade = Annotated[float, Field(ge=0.0, le=LONGEST_SECONDS)]
Seconds = Annotated[float, Field(ge=0.0, le=LONGEST_SECONDS)]
SecondsLong = Annotated[float, Field(gt=0.0, le=LONGEST_SECONDS)]
# A shorter piece of sound is a click.
LEAST_SECONDS = 0.01


class LaidSound(Frozen):
    """A sound as it lies on a lane: from `start`, a frame of the lane's time and a part of one, it is heard for
    `seconds` of its own, from `in_seconds` on."""

    id: Id
    sound: str
    start: Frame
    in_seconds: Seconds = 0.0
    seconds: SecondsLong
    level_db: Level = 0.0
    fade_in_seconds: Fade = 0.0
    fade_out_seconds: Fade = 0.0
    muted: bool = False
    name: str | None = Field(default=None, min_length=1, max_length=120)

    def length_frames(self, rate: Fraction) -> float:
        """How many frames of its lane it takes."""
        return self.seconds * float(rate)

    def end(self, rate: Fraction) -> float:
        """The frame of its lane at which it is over."""
        return self.start + self.length_frames(rate)


class SoundLane(Frozen):
    """A row of sounds, in order of their starts; where they overlap both are heard.

    It keeps its own time, and lies by played frames; or it goes by the scene's, and lies by laid ones: then its
    sounds are made longer and shorter with their pitch kept.
    """

    id: Id
    name: str = Field(min_length=1, max_length=120)
    muted: bool = False
    level_db: Level = 0.0
    keeps_own_time: bool = True
    sounds: Annotated[tuple[LaidSound, ...], Field(max_length=2_000)] = ()

    def with_sounds(self, sounds: "tuple[LaidSound, ...] | list[LaidSound]") -> "SoundLane":
        """The same lane with other sounds, in order."""
        return self.model_copy(update={"sounds": tuple(sorted(sounds, key=lambda one: one.start))})


def on_a_sample(frame: float, rate: Fraction) -> float:
    """The nearest moment, in frames, at which a sample of the house rate stands."""
    fps = float(rate)
    return round(frame / fps * HOUSE_RATE) / HOUSE_RATE * fps
