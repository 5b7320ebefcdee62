"""The whole demo production: figures, clips and the scene “Sc 04 Quay at dusk”."""

from dataclasses import dataclass
from pathlib import Path

from elastic_core.clip import Material, PlayableClip
from elastic_core.figure import Figure
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint

from .acts import LOOK_BACK, REACH, STARTLE, act_clip, stand_clip
from .gait import AMBLE, HURRY, gait_clip

PRODUCTION = "The Last Lamp"
FIGURES = Path(__file__).parent / "figures"


@dataclass(frozen=True)
class Demo:
    """Everything by the ids it will have."""

    figures: dict[str, Figure]
    clips: dict[str, PlayableClip]
    scene: Scene

    @property
    def material(self) -> Material:
        return Material(self.figures, self.clips)


def odo() -> Figure:
    return Figure.model_validate_json((FIGURES / "odo.json").read_text(encoding="utf-8"))


def odo_clips(figure: Figure, figure_id: str) -> list[PlayableClip]:
    """His clips, in the order of the drawer."""
    return [
        stand_clip(figure, figure_id),
        gait_clip(figure, figure_id, AMBLE),
        gait_clip(figure, figure_id, HURRY),
        *(act_clip(figure, figure_id, act) for act in (REACH, STARTLE, LOOK_BACK)),
    ]


def quay_at_dusk(figure_id: str, clip_ids: dict[str, str]) -> Scene:
    """Odo on his rounds: he stands, ambles, hears it, hurries, and stands. Frames from 0."""
    stints = (
        Stint(id="stand-1", clip=clip_ids["Stand"], start=0, length_frames=60),
        Stint(id="amble", clip=clip_ids["Amble"], start=48, length_frames=102),
        # In step with the amble: its left foot comes down as the amble's does.
        Stint(id="hurry", clip=clip_ids["Hurry"], start=138, length_frames=90, in_frame=12),
        Stint(id="stand-2", clip=clip_ids["Stand"], start=215, length_frames=73),
    )
    return Scene(
        name="Sc 04 Quay at dusk",
        rate="24",
        length_frames=288,
        backdrop="quay",
        figures=(SceneFigure(id="odo", name="Odo", figure=figure_id),),
        lanes=(Lane(id="odo-body", name="Body", figure="odo", stints=stints),),
    )


def demo() -> Demo:
    """The demo with readable ids, as tests and benches use it."""
    figure = odo()
    clips = {playable.clip.name: playable for playable in odo_clips(figure, "odo")}
    scene = quay_at_dusk("odo", {name: name for name in clips})
    return Demo({"odo": figure}, clips, scene)
