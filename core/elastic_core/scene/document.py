"""The scene document (rules 5.1 and 8.1). Frames are counted from 0 here and shown from `first_frame`."""

from collections.abc import Iterator
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from ..beats import Beat
from ..clip import GroundTuple
from ..clock import Rate, Span
from ..colour import Colour
from ..elastic import Elastic
from ..errors import Refusal
from ..exposure import Exposure
from ..ground import ORIGIN

GapRule = Literal["rest", "hold", "wait"]
JoinShape = Literal["even", "smooth", "early", "late"]
Backdrop = Literal["paper", "quay"]
LONGEST_SCENE_FRAMES = 200_000


class Part(BaseModel):
    """What every piece of a scene has in common."""

    model_config = ConfigDict(frozen=True)

    id: str = Field(min_length=1, max_length=40)


def _never_stops(elastic: Elastic) -> Elastic:
    """Where time stops there is no pose to show; a stint's own ends say when nothing plays."""
    if "stop" in (elastic.before, elastic.after):
        raise Refusal("The time of a scene or a stint goes on or holds; it cannot stop.")
    return elastic


RunningElastic = Annotated[Elastic, AfterValidator(_never_stops)]


class Stint(Part):
    """One placed use of a clip.

    It plays over `[start, start + length_frames)` of the scene. At its start the clip stands at
    `in_frame`, counted on through the rounds of a cycle; `elastic` runs from there, in frames of the
    scene's rate. `nailed` is a ground placement of its own; without one the stint is chained. Without
    a name or a colour of its own it has its clip's.
    """

    clip: str
    start: float
    length_frames: float = Field(gt=0)
    in_frame: float = 0.0
    elastic: RunningElastic = Elastic()
    shape: JoinShape = "smooth"
    nailed: GroundTuple | None = None
    name: str | None = Field(default=None, min_length=1, max_length=120)
    colour: Colour | None = None

    @property
    def end(self) -> float:
        return self.start + self.length_frames

    @property
    def span(self) -> Span:
        return Span(self.start, self.end)


class Lane(Part):
    """A row of stints for one figure of the scene, in order of their starts.

    A muted lane does not play. While any lane is soloed, only soloed ones play. A locked lane keeps
    its stints as they are. Folding only changes how high it lies on the desk.
    """

    name: str = Field(min_length=1, max_length=120)
    figure: str
    gap: GapRule = "hold"
    colour: Colour | None = None
    folded: bool = False
    muted: bool = False
    soloed: bool = False
    locked: bool = False
    stints: tuple[Stint, ...] = ()

    def neighbours(self) -> Iterator[tuple[Stint, Stint]]:
        return pairwise(self.stints)


class SceneFigure(Part):
    """A figure on the stage, and the mark it starts from."""

    name: str = Field(min_length=1, max_length=120)
    figure: str
    mark: GroundTuple = ORIGIN


class Scene(BaseModel):
    """A whole scene. Clips and figures are named by the ids of their documents.

    Lanes stand from top to bottom, as on the desk: of one figure's lanes the upper lies over the
    lower (rule 5.6).
    """

    model_config = ConfigDict(frozen=True)

    schema_version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=120)
    rate: Rate
    length_frames: int = Field(ge=1, le=LONGEST_SCENE_FRAMES)
    first_frame: int = 1
    backdrop: Backdrop = "paper"
    exposure: Exposure = Exposure()
    elastic: RunningElastic = Elastic()
    figures: tuple[SceneFigure, ...] = ()
    lanes: tuple[Lane, ...] = ()
    beats: tuple[Beat, ...] = ()

    def lane(self, lane_id: str) -> Lane:
        for lane in self.lanes:
            if lane.id == lane_id:
                return lane
        raise Refusal("That lane is no longer in the scene.")

    def find(self, stint_id: str) -> tuple[Lane, Stint]:
        """A stint and the lane it lies on."""
        for lane in self.lanes:
            for stint in lane.stints:
                if stint.id == stint_id:
                    return lane, stint
        raise Refusal("That stint is no longer in the scene.")

    def figure(self, figure_id: str) -> SceneFigure:
        for figure in self.figures:
            if figure.id == figure_id:
                return figure
        raise Refusal("That figure is no longer in the scene.")

    def lanes_of_figure(self, figure_id: str) -> list[Lane]:
        """A figure's lanes from the lowest to the uppermost."""
        return [lane for lane in reversed(self.lanes) if lane.figure == figure_id]

    def plays(self, lane: Lane) -> bool:
        """Whether a lane drives its figure now."""
        if any(other.soloed for other in self.lanes):
            return lane.soloed
        return not lane.muted

    @property
    def stints(self) -> Iterator[Stint]:
        return (stint for lane in self.lanes for stint in lane.stints)

    @property
    def clip_ids(self) -> set[str]:
        return {stint.clip for stint in self.stints}

    @property
    def figure_ids(self) -> set[str]:
        return {figure.figure for figure in self.figures}
