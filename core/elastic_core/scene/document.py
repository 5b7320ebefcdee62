"""The scene document (rules 5.1 and 8.1). Frames are counted from 0 here and shown from `first_frame`."""

import math
from collections.abc import Iterator
from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, model_validator

from ..arrays import real
from ..beats import Beat
from ..clip.document import GroundTuple
from ..clock import Rate, Span
from ..colour import Colour
from ..curve import Curve
from ..elastic import Elastic
from ..errors import Refusal
from ..exposure import ON_ONES, Exposure
from ..frozen import Frozen
from ..ground import ORIGIN
from ..join.alignment import Alignment
from ..quantities import Frame, LengthFrames, PlaceMetres, WholeFrame
from .camera import SceneCamera
from .card_order import CardOrder
from .cast import BodyTarget, ClipSource, PartTarget, StintSource, Target
from .fades import FadeFrames
from .guide import Guide
from .ink import InkBoil
from .sound_lane import SoundLane
from .upgrade import upgraded

GapRule = Literal["rest", "hold", "wait", "ease"]
JoinShape = Literal["even", "smooth", "early", "late", "free"]
# Between these a join's weight never leaves 0 to 1, and never goes back.
JoinSlope = Annotated[float, Field(ge=0.0, le=3.0)]
JoinSlopes = tuple[JoinSlope, JoinSlope]
Backdrop = Literal["paper", "quay"]
LONGEST_SCENE_FRAMES = 200_000
LEAST_SIZE, MOST_SIZE = 0.05, 20.0
Size = Annotated[float, Field(ge=LEAST_SIZE, le=MOST_SIZE)]
Stride = Annotated[float, Field(ge=0.1, le=10.0)]
Degrees = Annotated[float, Field(ge=-360_000.0, le=360_000.0)]
JointName = Annotated[str, Field(min_length=1, max_length=200)]


class Part(Frozen):
    """What every piece of a scene has in common."""

    id: str = Field(min_length=1, max_length=40)


def _never_stops(elastic: Elastic) -> Elastic:
    """Where time stops there is no pose to show; a stint's own ends say when nothing plays."""
    if "stop" in (elastic.before, elastic.after):
        raise Refusal("The time of a scene or a stint goes on or holds; it cannot stop.")
    return elastic


RunningElastic = Annotated[Elastic, AfterValidator(_never_stops)]


class Stint(Part):
    """One placed use of a clip, or of anything else that performs.

    It plays over `[start, start + length_frames)` of the scene. At its start the clip stands at
    `in_frame`, counted on through the rounds of a cycle; `elastic` runs from there, in frames of the
    scene's rate; an `exposure` of its own, counted from its first played frame, stands instead of its
    lane's. The join with the one before has a `shape`, and its upper body may have another one; of a free
    one the `slopes` at both ends are set by hand. On a lane over others its `weight` says how
    much of it shows, by keys from its start. `nailed` is a ground placement of its own; without one the
    stint is chained, and its `alignment` says how it is laid on the one before. Feet are held through
    the join with the one before, or through the whole stint (rule 5.5). A `stride` other than 1 makes its
    path along the ground so many times as long; by its `path`, source frames to source frames, it runs at a
    pace of its own. After it a `gap` of its own may stand instead of the
    lane's. Without a name or a colour of its own it has its clip's. A line's mouths
    move with the laid sound `with_sound`, until they are freed from it. While it plays, its figure's ink boils
    by its `ink`, if it has one.
    """

    source: StintSource
    start: Frame
    length_frames: LengthFrames
    in_frame: Frame = 0.0
    elastic: RunningElastic = Elastic()
    shape: JoinShape = "smooth"
    slopes: JoinSlopes = (0.0, 0.0)
    upper_shape: JoinShape | None = None
    upper_slopes: JoinSlopes = (0.0, 0.0)
    exposure: Exposure | None = None
    weight: Curve | None = None
    nailed: GroundTuple | None = None
    alignment: Alignment = Alignment()
    holds_join: bool = False
    holds_feet: bool = False
    stride: Stride = 1.0
    path: RunningElastic = Elastic()
    gap: GapRule | None = None
    with_sound: Annotated[str, Field(min_length=1, max_length=40)] | None = None
    ink: InkBoil | None = None
    name: str | None = Field(default=None, min_length=1, max_length=120)
    colour: Colour | None = None

    @property
    def end(self) -> float:
        return self.start + self.length_frames

    @property
    def span(self) -> Span:
        return Span(self.start, self.end)


Cosine = Annotated[float, Field(ge=-1.0, le=1.0)]


def _of_length_one(turn: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    if abs(math.hypot(*turn) - 1) > 1e-6:
        raise Refusal("A turn is a quaternion of length one.")
    return turn


Turn = Annotated[tuple[Cosine, Cosine, Cosine, Cosine], AfterValidator(_of_length_one)]


class Fix(Part):
    """A correction of a figure's pose: what joints are turned by after their own rotations, in quaternions,
    and how far the root is moved over its travel, in metres as the figure sees it.

    It shows whole at frame `at` and stands for `stands_frames` after it, comes in over `fade_in` frames
    before that and goes out over `fade_out` after it.
    """

    at: Frame
    fade_in: FadeFrames = 4.0
    fade_out: FadeFrames = 4.0
    stands_frames: FadeFrames = 0.0
    turns: dict[JointName, Turn] = Field(default={}, max_length=2_000)
    shift: PlaceMetres = (0.0, 0.0, 0.0)


class JointExposure(Frozen):
    """Some joints on an exposure of their own, while the rest of the figure goes by its lane's."""

    joints: tuple[JointName, ...] = Field(min_length=1, max_length=2_000)
    exposure: Exposure


class Lane(Part):
    """A row of stints that drive one target, in order of their starts.

    Where it has no stint its figure rests, holds its last pose, waits in the next one's first, or eases
    from the one to the other over the gap's last `ease_frames`.

    It goes by the scene's time, unless it keeps its own. An exposure of its own stands instead of the
    scene's, or of that of the lane it lies over; some joints may have one to themselves, and so may its place
    on the ground, so that a drawn figure on twos goes along on ones.

    On a lane over others a `mask` names the joints that it drives; the others stay as they are below.
    A fix lane has `fixes`, by their frames, and no stints: it adds them to what lies below.

    A lane of drawings shows those of its `charts`, by the ids of their documents: the first one's numbers
    count, and the others show the same from other sides.

    A muted lane does not play. While any lane is soloed, only soloed ones play. A locked lane keeps
    its stints as they are. Folding only changes how high it lies on the desk.
    """

    name: str = Field(min_length=1, max_length=120)
    target: Target
    gap: GapRule = "hold"
    colour: Colour | None = None
    folded: bool = False
    muted: bool = False
    soloed: bool = False
    locked: bool = False
    keeps_own_time: bool = False
    exposure: Exposure | None = None
    joint_exposures: Annotated[tuple[JointExposure, ...], Field(max_length=100)] = ()
    place_exposure: Exposure | None = None
    mask: tuple[JointName, ...] | None = None
    ease_frames: LengthFrames = 8.0
    stints: tuple[Stint, ...] = ()
    fixes: tuple[Fix, ...] | None = None
    charts: Annotated[tuple[str, ...], Field(max_length=8)] = ()

    @property
    def figure(self) -> str:
        """The figure that it drives, or a part of which; empty where it drives none."""
        return self.target.figure if isinstance(self.target, (BodyTarget, PartTarget)) else ""

    def neighbours(self) -> Iterator[tuple[Stint, Stint]]:
        return pairwise(self.stints)


class RestPose(Frozen):
    """A pose of a clip, by a frame of its own."""

    clip: str
    frame: Frame


class Fitting(Frozen):
    """How clips made for another figure play on this one: their joint → its joint."""

    figure: str
    mapping: dict[str, str] = Field(max_length=5_000)


class Attachment(Part):
    """A figure rides on a joint of another figure of the scene, `to`, or on a guide, which has no joints, over
    the laid frames `[start, end)`; without an end, for good.

    The joint carries the figure's mark: first `turn` and `offset` (metres) as the joint has it, then the
    figure's own motion. Without `turns` only the joint's place counts.
    """

    to: str
    joint: JointName | None = None
    start: Frame
    end: Frame | None = None
    offset: PlaceMetres = (0.0, 0.0, 0.0)
    turn: Turn = (1.0, 0.0, 0.0, 0.0)
    turns: bool = True


class SceneFigure(Part):
    """A figure on the stage, the mark it starts from, and its size: its travel and its stride grow with
    it, so that its feet hold. With keyed `sizes`, by the scene's frames, it grows or shrinks about the foot
    it stands on; `size` is then what it begins with. With `attachments`, by their starts, it rides on other
    figures. Its `ink` may boil. With `card_orders`, by their laid frames, parts of a cut-out lie over others
    than they were made to. `fits` lets clips of other figures play on it. Where nothing plays it stands at
    rest, or in a clip's pose that was chosen for that.
    """

    name: str = Field(min_length=1, max_length=120)
    figure: str
    mark: GroundTuple = ORIGIN
    size: Size = 1.0
    sizes: Curve | None = None
    attachments: Annotated[tuple[Attachment, ...], Field(max_length=1_000)] = ()
    fits: tuple[Fitting, ...] = ()
    rest: RestPose | None = None
    ink: InkBoil | None = None
    card_orders: Annotated[tuple[CardOrder, ...], Field(max_length=5_000)] = ()


Stands = Literal["card", "behind", "overlay", "under"]
LayerHeight = Annotated[float, Field(gt=0.0, le=10_000.0)]


class Layer(Part):
    """Drawings that stand in the scene by themselves: those of a set, by the id of its document; its lanes say
    which of them shows.

    A `card` stands upright on the stage, its pegs at `place` in metres, a sheet of its set `height_metres`
    high, facing `heading_degrees` (0 looks along z); one that `faces_camera` turns about its pegs to whoever
    looks. With `attachments`, by their starts, it rides on joints or guides: then it stands at what it rides
    on, and without their turn keeps upright.

    One that stands `behind` is a card that is painted under all else, however near; one that `repeats` goes on
    to both sides, sheet by sheet. An `overlay` lies over the picture, and what is `under` it lies under all of
    it, as a reference does; neither goes with a camera: `place` is where their pegs are, x and y in heights of
    the picture from its middle, and `height_metres` counts those heights.

    `opacity` is keyed over laid frames. With `steps` it moves only when its drawing changes.
    """

    name: str = Field(min_length=1, max_length=120)
    drawings: str
    stands: Stands = "card"
    place: PlaceMetres = (0.0, 0.0, 0.0)
    heading_degrees: Degrees = 0.0
    height_metres: LayerHeight = 1.0
    mirrored: bool = False
    faces_camera: bool = False
    repeats: bool = False
    steps: bool = False
    opacity: Curve | None = None
    attachments: Annotated[tuple[Attachment, ...], Field(max_length=1_000)] = ()


class Scene(Frozen):
    """A whole scene. Clips and figures are named by the ids of their documents.

    Lanes stand from top to bottom, as on the desk: of one figure's lanes the upper lies over the
    lower (rule 5.6). `laid_frames` is how long the time is that lanes are laid on, `played_frames` how
    many frames come out of it: they differ where the scene's elastic bends time.
    """

    schema_version: Literal[2] = 2
    name: str = Field(min_length=1, max_length=120)
    rate: Rate
    laid_frames: int = Field(ge=1, le=LONGEST_SCENE_FRAMES)
    played_frames: int = Field(ge=1, le=LONGEST_SCENE_FRAMES)
    first_frame: WholeFrame = 1
    backdrop: Backdrop = "paper"
    exposure: Exposure = Exposure()
    elastic: RunningElastic = Elastic()
    camera: SceneCamera | None = None
    figures: tuple[SceneFigure, ...] = ()
    layers: Annotated[tuple[Layer, ...], Field(max_length=500)] = ()
    lanes: tuple[Lane, ...] = ()
    guides: Annotated[tuple[Guide, ...], Field(max_length=1_000)] = ()
    sound_lanes: Annotated[tuple[SoundLane, ...], Field(max_length=200)] = ()
    beats: tuple[Beat, ...] = ()

    @model_validator(mode="before")
    @classmethod
    def _of_any_version(cls, written: Any) -> Any:
        return upgraded(written)

    def with_laid_frames(self, frames: int) -> "Scene":
        """The scene on longer or shorter paper; as much more or less of it plays.

        Raises Refusal for a length that no scene can have.
        """
        ends = [
            max(self.elastic.played(float(end)), default=float(end))
            for end in (self.laid_frames, frames)
        ]
        played = max(1, self.played_frames + math.ceil(ends[1]) - math.ceil(ends[0]))
        if max(frames, played) > LONGEST_SCENE_FRAMES:
            raise Refusal(f"A scene has {LONGEST_SCENE_FRAMES:,} frames at the most.")
        return self.model_copy(update={"laid_frames": frames, "played_frames": played})

    def with_played_frames(self, frames: int) -> "Scene":
        """The scene until so many frames have played, on as much paper as that takes.

        Raises Refusal for a length that no scene can have.
        """
        if self.elastic.is_identity:
            return self.with_laid_frames(frames)
        if frames > LONGEST_SCENE_FRAMES:
            raise Refusal(f"A scene has {LONGEST_SCENE_FRAMES:,} frames at the most.")
        last = math.ceil(float(self.elastic.source(real(frames))) - 1e-6)
        laid = min(LONGEST_SCENE_FRAMES, max(self.laid_frames, last))
        return self.model_copy(update={"laid_frames": laid, "played_frames": frames})

    def lane(self, lane_id: str) -> Lane:
        """A lane by its id. Raises Refusal where it is gone."""
        for lane in self.lanes:
            if lane.id == lane_id:
                return lane
        raise Refusal("That lane is no longer in the scene.")

    def find(self, stint_id: str) -> tuple[Lane, Stint]:
        """A stint and the lane it lies on. Raises Refusal where it is gone."""
        for lane in self.lanes:
            for stint in lane.stints:
                if stint.id == stint_id:
                    return lane, stint
        raise Refusal("That stint is no longer in the scene.")

    def figure(self, figure_id: str) -> SceneFigure:
        """A figure on the stage by its id. Raises Refusal where it is gone."""
        for figure in self.figures:
            if figure.id == figure_id:
                return figure
        raise Refusal("That figure is no longer in the scene.")

    def guide(self, guide_id: str) -> Guide:
        """A guide by its id. Raises Refusal where it is gone."""
        for guide in self.guides:
            if guide.id == guide_id:
                return guide
        raise Refusal("That guide is no longer in the scene.")

    def layer(self, layer_id: str) -> Layer:
        """A layer of drawings by its id. Raises Refusal where it is gone."""
        for layer in self.layers:
            if layer.id == layer_id:
                return layer
        raise Refusal("That layer of drawings is no longer in the scene.")

    def layer_of(self, lane: Lane) -> Layer | None:
        """The layer that a lane drives, if it drives one."""
        if lane.target.kind != "layer":
            return None
        wanted = lane.target.layer
        return next((layer for layer in self.layers if layer.id == wanted), None)

    def lanes_of_figure(self, figure_id: str) -> list[Lane]:
        """The lanes of a figure's body that play clips, from the lowest to the uppermost."""
        return [lane for lane in self.body_lanes(figure_id) if lane.fixes is None]

    def body_lanes(self, figure_id: str) -> list[Lane]:
        """The same with the fix lanes among them."""
        body = BodyTarget(figure=figure_id)
        return [lane for lane in reversed(self.lanes) if lane.target == body]

    def exposure_of(self, lane: Lane) -> Exposure:
        """A lane's own exposure, or that of the next lane under it which has one, or the scene's; a camera
        stays on ones unless told, and drawings, which have exposures of their own."""
        if lane.exposure is not None:
            return lane.exposure
        under = self.body_lanes(lane.figure) if lane.target.kind == "body" else []
        own = [other for other in under if other.exposure is not None]
        for other in reversed(own):
            if under.index(other) < under.index(lane):
                assert other.exposure is not None
                return other.exposure
        is_on_ones = lane.target.takes in ("camera", "drawings")
        return ON_ONES if is_on_ones else self.exposure

    def plays(self, lane: Lane) -> bool:
        """Whether a lane drives its figure now."""
        if any(other.soloed for other in self.lanes):
            return lane.soloed
        return not lane.muted

    @property
    def stints(self) -> Iterator[Stint]:
        return (stint for lane in self.lanes for stint in lane.stints)

    @property
    def sources(self) -> set[StintSource]:
        rests = {ClipSource(id=one.rest.clip) for one in self.figures if one.rest is not None}
        return {stint.source for stint in self.stints} | rests

    @property
    def clip_ids(self) -> set[str]:
        return {source.id for source in self.sources if source.kind == "clip"}

    @property
    def document_ids(self) -> set[str]:
        """The ids of all documents that it uses."""
        played = {source.document for source in self.sources}
        return played | self.figure_ids | self.sound_ids | self.chart_ids | self.drawing_ids

    @property
    def heard_frames(self) -> int:
        """How many frames play until the last sound that keeps its own time is over."""
        ends = (
            laid.end(self.rate)
            for lane in self.sound_lanes
            if lane.keeps_own_time
            for laid in lane.sounds
        )
        return math.ceil(max(ends, default=0.0) - 1e-6)

    @property
    def sound_ids(self) -> set[str]:
        return {laid.sound for lane in self.sound_lanes for laid in lane.sounds}

    @property
    def chart_ids(self) -> set[str]:
        return {chart for lane in self.lanes for chart in lane.charts}

    @property
    def drawing_ids(self) -> set[str]:
        """The ids of the drawing sets that its layers show."""
        return {layer.drawings for layer in self.layers}

    @property
    def ids_on_stage(self) -> set[str]:
        """The ids that something which rides could mean: of figures, guides and layers."""
        figures = {member.id for member in self.figures}
        return figures | {guide.id for guide in self.guides} | {layer.id for layer in self.layers}

    @property
    def figure_ids(self) -> set[str]:
        return {figure.figure for figure in self.figures}
