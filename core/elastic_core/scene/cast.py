"""Who is on: what a lane drives, and what a stint plays (rule 5.1)."""

from typing import Annotated, Literal

from pydantic import Field

from ..frozen import Frozen
from ..performance import ChannelKind

Id = Annotated[str, Field(min_length=1, max_length=40)]


class BodyTarget(Frozen):
    """A figure's body. `figure` is an id of the scene's figures."""

    kind: Literal["body"] = "body"
    figure: Id

    @property
    def takes(self) -> ChannelKind:
        return "body"


class PartTarget(Frozen):
    """One of a figure's parts that is drawn: its mouth, its eyes."""

    kind: Literal["part"] = "part"
    figure: Id
    part: Annotated[str, Field(min_length=1, max_length=120)]

    @property
    def takes(self) -> ChannelKind:
        return "drawings"


class LayerTarget(Frozen):
    """A layer of drawings that stands in the scene by itself."""

    kind: Literal["layer"] = "layer"
    layer: Id

    @property
    def takes(self) -> ChannelKind:
        return "drawings"


class CameraTarget(Frozen):
    """The scene's camera."""

    kind: Literal["camera"] = "camera"

    @property
    def takes(self) -> ChannelKind:
        return "camera"


Target = Annotated[
    BodyTarget | PartTarget | LayerTarget | CameraTarget, Field(discriminator="kind")
]


LinePart = Literal["mouth", "eyes"]


class ClipSource(Frozen):
    """A clip, by the id of its document."""

    kind: Literal["clip"] = "clip"
    id: str

    @property
    def document(self) -> str:
        return self.id


class SceneSource(Frozen):
    """One figure's part in another scene, or in a group of stints, by the ids of both."""

    kind: Literal["scene"] = "scene"
    id: str
    figure: Id

    @property
    def document(self) -> str:
        return self.id


class LineSource(Frozen):
    """A line's run of mouths, or of its eyes, by the id of its document."""

    kind: Literal["line"] = "line"
    id: str
    part: LinePart = "mouth"

    @property
    def document(self) -> str:
        return self.id


class RunSource(Frozen):
    """A run of drawings, by the id of its document."""

    kind: Literal["run"] = "run"
    id: str

    @property
    def document(self) -> str:
        return self.id


StintSource = Annotated[
    ClipSource | SceneSource | LineSource | RunSource, Field(discriminator="kind")
]
