"""What goes over the wire, where the core has no model for it."""

from typing import Annotated
from uuid import UUID

from ninja import Schema
from pydantic import Field, StringConstraints

from elastic_core.clip import Colour
from elastic_core.cycle.seam import Grade
from elastic_core.scene.desk import Desk
from elastic_core.scene.edits import SceneEdit

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]


class Problem(Schema):
    """A plain sentence; `head` is the revision that stands, where an edit came too late."""

    message: str
    head: int | None = None


class Person(Schema):
    account: str
    name: str
    initials: str


class SignIn(Schema):
    account: str
    password: str


class SessionState(Schema):
    person: Person | None
    csrf: str


class ProductionRow(Schema):
    id: UUID
    name: str
    role: str
    scenes: int
    clips: int


class Seam(Schema):
    grade: Grade
    joint: str
    gap_degrees: float
    gap_cm: float
    gap_degrees_per_frame: float


class ClipCard(Schema):
    id: UUID
    name: str
    figure: UUID
    figure_name: str
    rate: str
    length_frames: int
    length_seconds: float
    is_cycle: bool
    stride_metres: float
    colour: Colour
    seam: Seam | None
    used_in: list[str]


class FigureCard(Schema):
    id: UUID
    name: str
    joints: int
    height_metres: float


class FigureOnStage(Schema):
    id: str
    name: str
    figure: str


class SceneCard(Schema):
    id: UUID
    name: str
    rate: str
    length_frames: int
    length_seconds: float
    figures: list[FigureOnStage]


class LibraryView(Schema):
    id: UUID
    name: str
    role: str
    clips: list[ClipCard]
    figures: list[FigureCard]
    scenes: list[SceneCard]


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
    known_figure: str | None


class ImportWanted(Schema):
    """How a file that was read is to be brought in. Frames are the file's, `[start, end)`."""

    file: str
    name: Name
    start: int = Field(default=0, ge=0)
    end: int | None = None
    rate: str | None = None
    metres_per_unit: float | None = Field(default=None, gt=0)
    is_cycle: bool | None = None
    colour: Colour | None = None


class Imported(Schema):
    clip: ClipCard
    figure_is_new: bool
    says: list[str]


class NewScene(Schema):
    name: Name
    rate: str = "24"
    length_frames: int = Field(default=120, ge=1)


class SceneView(Schema):
    id: UUID
    production: UUID
    production_name: str
    name: str
    revision: int
    content: str
    may_change: bool
    undo: str | None
    redo: str | None
    figures: list[FigureOnStage]
    desk: Desk


class EditWanted(Schema):
    edit: SceneEdit
    base_revision: int
    preview: bool = False


class EditOutcome(Schema):
    scene: SceneView
    label: str
    notes: list[str]


class StepWanted(Schema):
    base_revision: int


class FramesWanted(Schema):
    """Frames `[start, end)` from 0; with `edit`, as they would be after it."""

    start: int = Field(ge=0)
    end: int
    step: int = Field(default=1, ge=1)
    edit: SceneEdit | None = None
