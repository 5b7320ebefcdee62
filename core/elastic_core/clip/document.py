"""The clip document: reusable motion with its own local time, as samples or as keys (1.2, 3.x, 4.4)."""

from typing import Literal

from pydantic import Field

from .. import ground
from ..beats import Beat
from ..clock import Rate
from ..colour import Colour
from ..curve import Curve
from ..exposure import Exposure
from ..frozen import Frozen
from ..quantities import MOST_FRAMES, Frame, Metres
from ..tracing import Tracing

GroundTuple = tuple[Metres, Metres, Metres]


class Plant(Frozen):
    """A foot on the ground over a half-open span of the clip's frames.

    One that is `held` is kept where it stands (rule 5.5). A foot that `rolls` stands on its heel for the
    first `heel_frames`, then flat, and on its ball for the last `toe_frames`; one that does not stands on
    its `joint` alone, as plants did before feet rolled.
    """

    joint: str
    side: Literal["left", "right", "middle"]
    start: Frame
    end: Frame
    held: bool = False
    rolls: bool = False
    heel_frames: float = Field(default=0.0, ge=0.0, le=MOST_FRAMES)
    toe_frames: float = Field(default=0.0, ge=0.0, le=MOST_FRAMES)


class NamedPose(Frozen):
    """What a frame's pose is called: contact, down, passing, up, or a name of one's own."""

    frame: Frame
    name: str = Field(min_length=1, max_length=40)


class Clip(Frozen):
    """A clip document. Its poses are its `keys`, or are kept apart as samples under the name `motion`.

    With `half_linked` the second half of a cycle follows the first, mirrored (rule 4.3). A clip that
    does not `travels` plays in place; nothing of its travel is lost (rule 4.4).

    A cycle of `length_frames` L shows frames 0 … L−1 and moves on by `period` in each round. It keeps
    one pose more, the one that was made for frame L: it never shows, and tells how the seam closes.
    `rests` names the figure's joints that the clip does not animate (rule 2.4). `lead_in` names the
    frames that preceded a cycle's start in its take, seen from its path; they never show.
    """

    schema_version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=120)
    figure: str
    rate: Rate
    length_frames: int = Field(ge=1, le=MOST_FRAMES)
    is_cycle: bool = False
    period: GroundTuple = ground.ORIGIN
    colour: Colour = "cobalt"
    exposure: Exposure = Exposure()
    plants: tuple[Plant, ...] = ()
    rests: tuple[str, ...] = ()
    motion: str = ""
    lead_in: str = ""
    keys: dict[str, Curve] = Field(default={})
    half_linked: bool = False
    travels: bool = True
    poses: tuple[NamedPose, ...] = ()
    beats: tuple[Beat, ...] = ()
    tracing: Tracing | None = None

    @property
    def is_keyed(self) -> bool:
        return not self.motion and bool(self.keys)

    @property
    def holds_feet(self) -> bool:
        return any(plant.held for plant in self.plants)

    @property
    def round_period(self) -> GroundTuple:
        """What a round adds as the clip plays."""
        return self.period if self.travels else ground.ORIGIN
