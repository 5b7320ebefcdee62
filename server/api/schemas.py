"""What goes over the wire, where the core has no model for it."""

from datetime import datetime
from fractions import Fraction
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema as AnySchema
from pydantic import AwareDatetime, ConfigDict, Field, StringConstraints

from elastic_core.capture.edits import TakeEdit
from elastic_core.capture.recipe import Recipe
from elastic_core.capture.stage.performer import Move
from elastic_core.capture.thin import LOOSEST_DEGREES
from elastic_core.capture.view import TakeSheet
from elastic_core.clip.edits import ClipEdit
from elastic_core.clip.view import Bench
from elastic_core.clock import Rate
from elastic_core.colour import Colour
from elastic_core.curve import Key
from elastic_core.cycle.closing import Method
from elastic_core.cycle.seam import Grade
from elastic_core.cycle.starter import Gait
from elastic_core.drawings.cut_out_edits import CutOutEdit
from elastic_core.drawings.cut_out_view import CutOutSheet
from elastic_core.drawings.run import Play
from elastic_core.drawings.run_edits import RunEdit
from elastic_core.drawings.set_edits import SetEdit
from elastic_core.drawings.view import RunSheet, SetSheet
from elastic_core.figure import Figure
from elastic_core.formats.bvh_motion import LARGEST_UNIT_METRES, SMALLEST_UNIT_METRES
from elastic_core.formats.picture_files import Grid
from elastic_core.frozen import Shown
from elastic_core.join.where import Planted
from elastic_core.names import Id, Name
from elastic_core.printing.look import HOUSE_EVERY, MOST_ROUNDS, PrintForm, PrintLook
from elastic_core.quantities import MOST_FRAMES, Frame
from elastic_core.scene.checks import LaneMark
from elastic_core.scene.desk import Desk
from elastic_core.scene.document import LONGEST_SCENE_FRAMES
from elastic_core.scene.edits import SceneEdit
from elastic_core.sides import Side
from elastic_core.sound.document import Form
from elastic_core.tracing import MOST_PICTURES, Picture
from elastic_core.voice.chart import ChartSide, MouthChart
from elastic_core.voice.chart_edits import ChartEdit
from elastic_core.voice.line_edits import LineEdit
from elastic_core.voice.text import MOST_CHARACTERS
from elastic_core.voice.view import LineSheet
from library.recording import LONGEST_COUNTDOWN_SECONDS

Account = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=150)]
Password = Annotated[str, StringConstraints(min_length=1, max_length=500)]
# The page's own name for something that it sends, so that what is sent twice is done once.
Token = Annotated[str, StringConstraints(min_length=1, max_length=40)]
FileName = Annotated[str, StringConstraints(min_length=1, max_length=64)]
RevisionNumber = Annotated[int, Field(ge=0, le=2**31 - 1)]
# Frames as they are counted in a request.
FrameNumber = Annotated[int, Field(ge=-MOST_FRAMES, le=MOST_FRAMES)]
FrameFromStart = Annotated[int, Field(ge=0, le=MOST_FRAMES)]
Count = Annotated[int, Field(ge=1, le=2_000)]
PieceNumber = Annotated[int, Field(ge=0, le=MOST_FRAMES)]
Pace = Annotated[float, Field(ge=0.1, le=4.0)]
ChannelName = Annotated[str, StringConstraints(max_length=200)]
UnitMetres = Annotated[
    float, Field(ge=SMALLEST_UNIT_METRES, le=LARGEST_UNIT_METRES, allow_inf_nan=False)
]
Mapping = Annotated[dict[str, str], Field(max_length=5_000)]


class Schema(AnySchema):
    """What goes over the wire holds no number that is none, in or out."""

    model_config = ConfigDict(allow_inf_nan=False)


class Problem(Schema):
    """A plain sentence; `head` is the revision that stands, where an edit came too late."""

    message: str
    head: int | None = None


class Person(Schema):
    account: str
    name: str
    initials: str


class SignIn(Schema):
    account: Annotated[str, StringConstraints(max_length=150)]
    password: Annotated[str, StringConstraints(max_length=500)]


class SessionState(Schema):
    person: Person | None
    csrf: str


class PasswordChange(Schema):
    old: Password
    new: Password


Role = Literal["owner", "editor", "viewer"]


class NewProduction(Schema):
    name: Name


class Member(Schema):
    account: str
    name: str
    role: str
    is_you: bool


class Invitation(Schema):
    account: Account
    role: Role = "editor"


class RoleChange(Schema):
    role: Role


class ProductionRow(Schema):
    id: UUID
    name: str
    role: str
    scenes: int
    clips: int


class Seam(Shown):
    grade: Grade
    joint: str
    gap_degrees: float
    gap_cm: float
    gap_degrees_per_frame: float


class UsedIn(Shown):
    id: UUID
    name: str


# Cards come by the thousand: plain models, as the framework's own look every field up in many ways.


class Kept(Shown):
    """What every document of the library has."""

    id: UUID
    name: str
    tags: list[str]
    archived: bool
    created: datetime
    changed: datetime


class ClipCard(Kept):
    figure: UUID
    figure_name: str
    rate: str
    length_frames: int
    length_seconds: float
    is_cycle: bool
    stride_metres: float
    colour: Colour
    seam: Seam | None
    rests: list[str]
    used_in: list[UsedIn]


class FigureCard(Kept):
    joints: int
    height_metres: float
    used_in: list[UsedIn]


class FigureOnStage(Shown):
    id: str
    name: str
    figure: str


class SceneCard(Kept):
    rate: str
    length_frames: int
    length_seconds: float
    figures: list[FigureOnStage]


class SoundCard(Kept):
    form: Form
    rate_hz: int
    channels: int
    length_seconds: float
    used_in: list[UsedIn]


class TakeCard(Kept):
    """A take as the library shows it; `figure` is its skeleton's lay figure."""

    figure: UUID
    rate: str
    length_frames: int
    length_seconds: float
    joints: int
    colour: Colour
    circled: bool
    recipe: str
    lost: int


class LineCard(Kept):
    """A line as the library shows it; `sound` is its sound's document."""

    sound: UUID
    speaker: str
    text: str
    words: int
    not_heard: int
    is_read: bool
    rate: str
    length_frames: int
    length_seconds: float


class ChartCard(Kept):
    """A mouth chart as the library shows it."""

    figure: UUID | None
    mouths: int
    part: str
    view: str


class DrawingsCard(Kept):
    """A drawing set as the library shows it: `strip` are the files of a few of its pictures, `missing` how many
    numbers lack."""

    drawings: int
    missing: int
    strip: list[str]
    used_in: list[UsedIn]


class RunCard(Kept):
    """A run of drawings as the library shows it; `drawings` is its set."""

    drawings: UUID | None
    count: int
    play: Play
    colour: Colour
    strip: list[str]
    rate: str
    length_frames: int
    length_seconds: float
    used_in: list[UsedIn]


class CutOutCard(Kept):
    """A cut-out as the library shows it; `drawings` is the set that it is cut out of."""

    drawings: UUID
    parts: int


class RecipeCard(Kept):
    """A recipe that is kept, and the steps that it runs."""

    recipe: Recipe


class Unreadable(Shown):
    """A document that stands in the library and cannot be opened, and why."""

    id: UUID
    kind: str
    name: str
    why: str


class LibraryView(Shown):
    id: UUID
    name: str
    role: str
    clips: list[ClipCard]
    figures: list[FigureCard]
    scenes: list[SceneCard]
    sounds: list[SoundCard]
    takes: list[TakeCard]
    lines: list[LineCard]
    charts: list[ChartCard]
    drawings: list[DrawingsCard]
    runs: list[RunCard]
    cut_outs: list[CutOutCard]
    unreadable: list[Unreadable]
    after: UUID | None


class FileReport(Schema):
    """A motion file that was read, and what it is over the asked range."""

    file: str
    suggested_name: str
    joints: int
    channels: int
    frames: int
    rate: str
    frames_per_second: float
    length_seconds: float
    height_in_file: float
    height_metres: float
    unit: str
    metres_per_unit: float
    start: int
    end: int
    cycle_length_frames: int | None
    warnings: list[str]
    why_a_take: list[str]
    known_figure: str | None


class PairView(Schema):
    clip_joint: str
    figure_joint: str


class JointName(Schema):
    """A joint, and what it is called."""

    name: str
    label: str


class FitView(Schema):
    """How a file's skeleton fits a figure (rule 2.4)."""

    figure: UUID
    figure_name: str
    plays: list[PairView]
    proposed: list[PairView]
    dropped: list[str]
    rests: list[str]
    clip_joints: list[str]
    figure_joints: list[JointName]
    leg_ratio: float


class Onto(Schema):
    """The figure that is to play a clip, and the confirmed mapping: clip joint → its joint."""

    figure: UUID
    mapping: Mapping


class FilePosesWanted(Schema):
    """Poses of a file that was read, at most so many, evenly over `[start, end)`."""

    start: FrameFromStart = 0
    end: FrameFromStart | None = None
    most: int = Field(default=240, ge=1, le=1000)
    metres_per_unit: UnitMetres | None = None
    onto: Onto | None = None


class ImportWanted(Schema):
    """How a file that was read is to be brought in. Frames are the file's, `[start, end)`."""

    file: FileName
    name: Name
    start: FrameFromStart = 0
    end: FrameFromStart | None = None
    rate: Rate | None = None
    metres_per_unit: UnitMetres | None = None
    is_cycle: bool | None = None
    colour: Colour | None = None
    onto: Onto | None = None
    figure_name: Name | None = None
    token: Annotated[str, StringConstraints(max_length=40)] = ""


class JobView(Schema):
    """Long work, and how far it is: `figure` of `of` `unit`. `file` was read, or `clip`, `sound` or `take` was
    made, or `drawings` with a `run` of them; `line` is the one that is being
    read. A `print` is finished."""

    id: UUID
    kind: str
    title: str
    state: Literal["waiting", "running", "done", "refused", "cancelled"]
    figure: int
    of: int
    unit: str
    is_cancelled: bool
    says: list[str]
    file: str | None
    clip: UUID | None
    sound: UUID | None
    take: UUID | None
    drawings: UUID | None
    run: UUID | None
    line: UUID | None
    print: UUID | None


class Imported(Schema):
    clip: ClipCard
    figure_is_new: bool
    says: list[str]


class FileOpened(Schema):
    """What came of opening a file of our own."""

    kind: str
    id: UUID
    name: str
    says: list[str]


class DocumentChange(Schema):
    """What is to change; what is left out stays."""

    name: Name | None = None
    tags: list[Annotated[str, StringConstraints(max_length=200)]] | None = Field(
        default=None, max_length=200
    )
    archived: bool | None = None


class Copied(Schema):
    id: UUID
    name: str


class RevisionRow(Schema):
    """One step; `parent` is the step it was made on."""

    number: int
    parent: int | None
    label: str
    author: str
    created: datetime
    stands: bool


class FeetWanted(Schema):
    """The joints that a figure's legs end in, by their sides; none to have them read from names."""

    feet: dict[Side, Annotated[str, Field(max_length=200)]] = Field(default={}, max_length=3)


class NewScene(Schema):
    name: Name
    rate: Rate = Fraction(24)
    length_frames: int = Field(default=120, ge=1, le=LONGEST_SCENE_FRAMES)


class DocumentView(Schema):
    """What every room shows of its document."""

    id: UUID
    production: UUID
    production_name: str
    name: str
    revision: int
    head: int
    content: str
    made_from: str
    may_change: bool
    undo: str | None
    redo: str | None


class SceneView(DocumentView):
    desk: Desk


class AnyEditWanted(Schema):
    """How an edit is to be made: on which revision, only as a preview, and under which name of the
    page's, so that one sent twice is made once. A page that tells which content it shows (`known`) is
    answered with what differs."""

    base_revision: RevisionNumber
    preview: bool = False
    token: Token | None = None
    known: Annotated[str, StringConstraints(max_length=400)] | None = None


class EditWanted(AnyEditWanted):
    edit: SceneEdit


class EditOutcome(Schema):
    scene: SceneView
    label: str
    notes: list[str]


class StepWanted(Schema):
    base_revision: RevisionNumber


class GoBackWanted(Schema):
    base_revision: RevisionNumber
    revision: RevisionNumber


class DocumentHead(Schema):
    """The revision that stands, and whose it is: what a page asks for every few seconds."""

    revision: int
    label: str
    author: str
    made_from: str


class FramesWanted(Schema):
    """Frames `[start, end)` from 0; with `edit`, as they would be after it; of an earlier `revision`."""

    start: FrameFromStart
    end: FrameFromStart
    step: int = Field(default=1, ge=1, le=MOST_FRAMES)
    edit: SceneEdit | None = None
    revision: RevisionNumber | None = None


class JoinWanted(Schema):
    """The join before a stint; with `edit`, as it would be after it; of an earlier `revision`."""

    stint: Id
    edit: SceneEdit | None = None
    revision: RevisionNumber | None = None


class StrandsWanted(Schema):
    """The elastic of a stint, or without one of the scene; with `edit`, as it would be after it."""

    stint: Id | None = None
    edit: SceneEdit | None = None
    revision: RevisionNumber | None = None


class JoinMapWanted(JoinWanted):
    """Of clips that play once only the end and the start are looked at, or with `whole` all of them."""

    whole: bool = False


class JoinPairWanted(JoinWanted):
    """The outgoing stint at a lane frame and a source frame of the incoming one, laid on each other."""

    at: Frame
    in_frame: Frame
    plant: Planted = "none"


class GroupWanted(Schema):
    """A run of a scene's stints that is to be kept under a name."""

    stints: Annotated[list[Id], Field(min_length=1, max_length=2_000)]
    name: Name


class BakeWanted(Schema):
    """A stint that is to become a clip as it plays, by a name of its own."""

    stint: Id
    name: Name


class BakeMade(Schema):
    clip: UUID


class GroupMade(Schema):
    """The group as something for a stint to play."""

    scene: UUID
    figure: str


class ChecksWanted(Schema):
    """Lane frames `[start, end)` from 0, of an earlier `revision` where asked."""

    start: FrameFromStart
    end: FrameFromStart
    revision: RevisionNumber | None = None


class LaneChecks(Shown):
    """What is off on a lane; empty where it is clean."""

    lane: str
    marks: list[LaneMark]


class BenchView(DocumentView):
    """A clip on the bench, and the scenes that use it."""

    bench: Bench
    used_in: list[UsedIn]


class ClipEditWanted(AnyEditWanted):
    edit: ClipEdit


class BenchOutcome(Schema):
    clip: BenchView
    label: str
    notes: list[str]
    chosen: dict[str, tuple[float, ...]] | None
    """Where the keys that the edit was about lie now; none: the choice stays as it was."""


class ClipFramesWanted(Schema):
    """Frames `[start, end)` of a clip; with `edit`, as they would be after it."""

    start: FrameNumber
    end: FrameNumber
    in_place: bool = True
    edit: ClipEdit | None = None
    revision: RevisionNumber | None = None


class TracesWanted(Schema):
    """Curves over `[start, end]` frames."""

    channels: list[ChannelName] = Field(max_length=60)
    start: float = Field(ge=-100_000, le=100_000)
    end: float = Field(ge=-100_000, le=100_000)
    edit: ClipEdit | None = None
    revision: RevisionNumber | None = None


class NumbersWanted(Schema):
    """The numbers of some joints at a frame; with `edit`, as they would be after it."""

    frame: float = Field(ge=0, le=100_000)
    joints: list[ChannelName] = Field(max_length=100)
    edit: ClipEdit | None = None
    revision: RevisionNumber | None = None


class FitKeysWanted(Schema):
    """Keys copied from a clip of another figure; without a mapping one is proposed."""

    figure: UUID
    keys: dict[str, tuple[Key, ...]]
    mapping: Mapping | None = None


class FittedKeysView(Schema):
    """The keys as the clip's own figure plays them, and what of them it does not."""

    figure_name: str
    joints: list[str]
    mapping: dict[str, str]
    keys: dict[str, tuple[Key, ...]]
    left_out: list[str]
    notes: list[str]


class GaitCard(Schema):
    name: str
    gait: Gait


class NewClip(Schema):
    """What a new clip is made from: `of` is the figure, the clip or the scene that it comes from."""

    name: Name
    source: Literal["blank", "rest", "pose", "range", "scene"]
    of: UUID | None = None
    scene_figure: str | None = None
    start: FrameFromStart = 0
    end: FrameFromStart | None = None
    rate: Rate = Fraction(24)
    length_frames: int = Field(default=24, ge=1, le=20_000)
    is_cycle: bool = True
    colour: Colour = "cobalt"


class TakeView(DocumentView):
    take: TakeSheet


class TakeEditWanted(AnyEditWanted):
    edit: TakeEdit


class TakeOutcome(Schema):
    take: TakeView
    label: str
    notes: list[str]


class TakeWindowWanted(Schema):
    """A window of the take's frames `[from_frame, to_frame)`; with `edit`, as it would be after it. What is
    wanted `quick`, as while a number is drawn, is not thinned to keys."""

    from_frame: FrameFromStart = 0
    to_frame: FrameFromStart = MOST_FRAMES
    quick: bool = False
    edit: TakeEdit | None = None
    revision: RevisionNumber | None = None


class TakeFramesWanted(TakeWindowWanted):
    """Frames `[start, end)` of what the recipe makes of the window."""

    start: FrameFromStart
    end: FrameFromStart


class TakeCurvesWanted(TakeWindowWanted):
    joints: list[ChannelName] = Field(max_length=12)


class CyclesWanted(TakeWindowWanted):
    """How many frames a cycle may have."""

    shortest: Annotated[int, Field(ge=2, le=MOST_FRAMES)] | None = None
    longest: Annotated[int, Field(ge=2, le=MOST_FRAMES)] | None = None


class CycleSeen(Shown):
    start: int
    end: int
    length_frames: int
    seam_degrees: float
    seam_cm: float
    score_cm: float
    planted: Planted


class CyclesFound(Shown):
    """Loops, the best first; `says` why there are none. The map is `cells_a_side` squared, a byte each, as
    base64: 255 where two frames are alike."""

    cycles: list[CycleSeen]
    says: str
    cells: str
    cells_a_side: int
    frames_a_cell: int


class ToBenchWanted(TakeWindowWanted):
    """A loop, frames `[start, end)` of what came out, closed by a method; keys within `degrees` and `cm`, or
    without `degrees` one on every frame."""

    name: Name
    start: FrameFromStart
    end: FrameFromStart
    method: Method = "overlap"
    frames: int = Field(default=6, ge=1, le=1_000)
    degrees: float | None = Field(default=1.0, gt=0, le=30)
    cm: float = Field(default=0.5, gt=0, le=100)
    colour: Colour = "vermilion"


class KeepTakeWanted(Schema):
    """What came out as one clip, or each beat as one."""

    name: Name | None = None
    by_beats: bool = False
    token: str = Field(default="", max_length=40)


class KeysAgainstErrorWanted(TakeWindowWanted):
    """A tolerance that keys could be thinned within."""

    degrees: float = Field(gt=0, le=LOOSEST_DEGREES)
    cm: float = Field(gt=0, le=100)


class KeysAgainstError(Shown):
    tolerance: float
    keys: int
    degrees: float
    cm: float


class LineView(DocumentView):
    line: LineSheet


class LineEditWanted(AnyEditWanted):
    edit: LineEdit


class LineOutcome(Schema):
    line: LineView
    label: str
    notes: list[str]


class NewLineWanted(Schema):
    """A sound of the production and what is said in it."""

    sound: UUID
    name: Name | None = None
    text: str = Field(default="", max_length=MOST_CHARACTERS)
    speaker: str = Field(default="", max_length=120)
    chart: UUID | None = None
    rate: Rate = Fraction(24)


class ReadLineWanted(Schema):
    """`rough` reads the sound alone; `again_at` only what lies between the pins round that second."""

    rough: bool = False
    again_at: Annotated[float, Field(ge=0.0)] | None = None
    token: Token


SheetForm = Literal["csv", "pdf"]
WordsForm = Literal["vtt", "labels"]


class SheetWanted(Schema):
    """A line's sheet as it came back, as CSV."""

    csv: str


class ChartView(DocumentView):
    chart: MouthChart
    stood_in: dict[str, str]
    reach_degrees: float


class ChartEditWanted(AnyEditWanted):
    edit: ChartEdit


class ChartOutcome(Schema):
    chart: ChartView
    label: str
    notes: list[str]


class NewChartWanted(Schema):
    """Without a chart that it is `like` it begins with ours: ten mouths, or three eyes."""

    name: Name
    like: UUID | None = None
    figure: UUID | None = None
    part: Literal["mouth", "eyes"] = "mouth"
    view: ChartSide | None = None


class SetView(DocumentView):
    drawings: SetSheet


class SetEditWanted(AnyEditWanted):
    edit: SetEdit


class SetOutcome(Schema):
    drawings: SetView
    label: str
    notes: list[str]


class RunView(DocumentView):
    run: RunSheet


class RunEditWanted(AnyEditWanted):
    edit: RunEdit


class RunOutcome(Schema):
    run: RunView
    label: str
    notes: list[str]


class CutOutView(DocumentView):
    """A cut-out, with the pictures of the set's drawings."""

    cut_out: CutOutSheet
    pictures: dict[int, Picture]


class CutOutEditWanted(AnyEditWanted):
    edit: CutOutEdit


class CutOutOutcome(Schema):
    cut_out: CutOutView
    label: str
    notes: list[str]


class NewCutOut(Schema):
    """A figure to be cut out of a drawing set."""

    drawings: UUID
    name: Name | None = None


class FigureMade(Schema):
    """The figure that was made of a cut-out, and what there is to say."""

    figure: UUID
    name: str
    says: str


class KeptPicture(Schema):
    """A file that was kept, to be brought in as drawings: named by its SHA-256."""

    file: str = Field(pattern="^[0-9a-f]{64}$")
    name: Annotated[str, StringConstraints(min_length=1, max_length=120)]


class NewDrawings(Schema):
    """Kept files that become drawings: a set of its own, or `into` one, with `replace` in the place of those
    that have their numbers. With a `grid` it is one sheet that is cut."""

    files: list[KeptPicture] = Field(min_length=1, max_length=MOST_PICTURES)
    name: Name
    into: UUID | None = None
    replace: bool = False
    grid: Grid | None = None
    token: Token


class NewRun(Schema):
    """A run of a set: of all its drawings, or `like` another run."""

    drawings: UUID
    name: Name | None = None
    like: UUID | None = None


class OntoWanted(Schema):
    figure: UUID


class CutSeen(Shown):
    start: int
    end: int
    kind: Literal["still", "turn"]


class CutsProposed(Shown):
    cuts: list[CutSeen]


class TakeInWanted(Schema):
    """A file that was read, to be kept as a take with the house recipe; `onto` the figure it is for."""

    file: FileName
    name: Name
    metres_per_unit: UnitMetres | None = None
    clip_rate: Rate = Fraction(24)
    onto: UUID | None = None
    token: str = Field(default="", max_length=40)


class RecordingView(Schema):
    """A take that is being recorded: frames count once the countdown is over."""

    id: UUID
    begins: datetime
    job: JobView


class StageView(Schema):
    """The capture stage at an address: who is captured, at what rate, and what they do; where none answers, it
    `says` why. `run` names the time since it was started, whose clock stood at zero at `began`, in seconds
    since 1970."""

    address: str
    rate: Rate | None = None
    run: str = ""
    began: float | None = None
    figure: Figure | None = None
    doing: str = ""
    says: str = ""
    recording: RecordingView | None = None


class StageAsked(Schema):
    move: Move


class RecordWanted(Schema):
    """The next take of this label, armed: it begins after a countdown, goes by the house recipe to `clip_rate`,
    and onto a figure if there is one."""

    label: Name = "take"
    countdown_seconds: float = Field(default=3.0, ge=0, le=LONGEST_COUNTDOWN_SECONDS)
    clip_rate: Rate = Fraction(24)
    onto: UUID | None = None


class KeepRecipeWanted(Schema):
    name: Name
    recipe: Recipe


class RecipeRunWanted(Schema):
    """A kept recipe, or without one the house's to `rate`, over these takes."""

    recipe: UUID | None = None
    rate: Rate = Fraction(24)
    takes: list[UUID] = Field(min_length=1, max_length=500)
    token: str = Field(default="", max_length=40)


class PrintWanted(Schema):
    """Played frames `[start, end)` of a scene, a clip or a take as it stands, a film's in so many `rounds`;
    without an `end` to its own. A cycle goes on as long as is wanted. A contact sheet has every so many frames,
    or without `every` those with keys. At the left stands another revision, `beside`, or what a take was when
    it was `captured`. What moves may have another `rate`; a clip may walk `in_place`. It is not begun before a
    moment, where one is told. `token` names the wish."""

    look: PrintLook = PrintLook()
    start: Annotated[int, Field(ge=0, le=MOST_FRAMES)] = 0
    end: Annotated[int, Field(ge=1, le=MOST_FRAMES)] | None = None
    form: PrintForm = "mp4"
    token: Annotated[str, Field(max_length=64)] = ""
    rounds: Annotated[int, Field(ge=1, le=MOST_ROUNDS)] = 1
    every: Annotated[int, Field(ge=1, le=MOST_FRAMES)] | None = HOUSE_EVERY
    beside: Annotated[int, Field(ge=1)] | None = None
    captured: bool = False
    rate: Rate | None = None
    in_place: bool = False
    not_before: AwareDatetime | None = None


class PrintRow(Schema):
    """A print on the night list: one under way, one that waits (for its turn, until a moment, or held), or one
    that came to nothing. `seconds_left` and `frames_per_second` are told of what is under way."""

    id: UUID
    document: UUID
    title: str
    form: PrintForm
    look: PrintLook
    state: Literal["waiting", "running", "refused", "cancelled"]
    figure: int
    of: int
    frames_per_second: float | None
    seconds_left: float | None
    not_before: datetime | None
    is_held: bool
    is_cancelled: bool
    says: str
    author: str
    is_yours: bool


class NightOrder(Schema):
    """Which prints that wait are taken up before which."""

    order: Annotated[list[UUID], Field(max_length=1_000)]


class PutOff(Schema):
    """A print waits until it is let go, until a moment, or for its turn alone."""

    is_held: bool = False
    not_before: AwareDatetime | None = None


class OldPrints(Schema):
    """Prints older than so many days."""

    days: Annotated[int, Field(ge=0, le=36_500)]


class ThrownAway(Schema):
    prints: int
    size_bytes: int


class PrintCard(Schema):
    """A print: which revision of what it shows and how, its played frames, and whose it is; the `kind` of its
    document while that is there. Its first picture is called `first` + `first_frame`; a round of it has so many
    `pictures`."""

    id: UUID
    document: UUID | None
    kind: Literal["scene", "clip", "take"] | None
    name: str
    revision: int
    beside: int | None
    captured: bool
    form: PrintForm
    look: PrintLook
    first: int
    frames: int
    rounds: int
    pictures: int
    first_frame: int
    rate: str
    frames_per_second: float
    shown_frames_per_second: float
    has_sound: bool
    size_bytes: int
    author: str | None
    created: datetime
