"""The whole demo production: figures, clips, sounds, “Sc 04 Quay at dusk” and “Sc 05 The lamp is lit”."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path

from elastic_core.beats import Beat
from elastic_core.clip.playable import PlayableClip
from elastic_core.figure import Figure
from elastic_core.join.alignment import Alignment
from elastic_core.join.where import Planted
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.material import Material
from elastic_core.sound.document import Sound

from .acts import LOOK_BACK, REACH, STARTLE, act_clip, stand_clip
from .gait import AMBLE, HURRY, gait_clip, keyed_gait_clip
from .lamp import flicker_clip, lamp_is_lit
from .others import flap_clip, glide_clip, turn_clip
from .sounds import SOUNDS, sound_document
from .tilda import brisk_clip

PRODUCTION = "The Last Lamp"
# Each laid where it joins the one before best: the foot that both stand on, held.
ODO_JOINED: tuple[tuple[str, str, int, int, int, Planted], ...] = (
    ("look-back", "Look back", 62, 98, 0, "both"),
    ("amble", "Amble", 90, 170, 1, "left"),
    ("hurry", "Hurry", 162, 230, -1, "left"),
    ("reach", "Reach and light", 215, 272, 7, "right"),
    ("stand-2", "Stand", 264, 288, -5, "both"),
)
FOLDER = Path(__file__).parent / "figures"
FIGURES = ("odo", "gull", "capstan", "tilda", "flame")


@dataclass(frozen=True)
class Demo:
    """Everything by the ids it will have."""

    figures: dict[str, Figure]
    clips: dict[str, PlayableClip]
    sounds: dict[str, Sound]
    scene: Scene
    lamp: Scene

    @property
    def material(self) -> Material:
        made = Material.of_clips(self.figures, self.clips.items())
        return replace(made, sounds=self.sounds)


def figure(name: str) -> Figure:
    return Figure.model_validate_json((FOLDER / f"{name}.json").read_text(encoding="utf-8"))


def odo() -> Figure:
    return figure("odo")


def odo_clips(figure: Figure, figure_id: str) -> list[PlayableClip]:
    """His clips, in the order of the drawer."""
    return [
        stand_clip(figure, figure_id),
        keyed_gait_clip(figure, figure_id, AMBLE),
        gait_clip(figure, figure_id, HURRY),
        *(act_clip(figure, figure_id, act) for act in (REACH, STARTLE, LOOK_BACK)),
    ]


def demo_clips(figures: Mapping[str, Figure], ids: Mapping[str, str]) -> list[PlayableClip]:
    """What everyone does, in the order of the drawer. `ids` are the figures' by their names."""
    return [
        *odo_clips(figures["odo"], ids["odo"]),
        flap_clip(figures["gull"], ids["gull"]),
        glide_clip(figures["gull"], ids["gull"]),
        turn_clip(figures["capstan"], ids["capstan"]),
        brisk_clip(figures["tilda"], ids["tilda"]),
        flicker_clip(figures["flame"], ids["flame"]),
    ]


def quay_at_dusk(figures: dict[str, str], clips: dict[str, str]) -> Scene:
    """Odo on his rounds: he hears something, ambles on, hurries, and lights the lamp; the gull goes with
    him. His joins are those that laying each clip next to the one before finds.

    Frames from 0. `figures` and `clips` give the ids that their names have.
    """
    odo_does = (
        Stint(id="stand-1", source=ClipSource(id=clips["Stand"]), start=0, length_frames=70),
        *(
            Stint(
                id=name,
                source=ClipSource(id=clips[clip]),
                start=start,
                length_frames=end - start,
                in_frame=in_frame,
                alignment=Alignment(plant=plant),
                holds_join=True,
            )
            for name, clip, start, end, in_frame, plant in ODO_JOINED
        ),
    )
    gull_does = (
        Stint(id="glide-1", source=ClipSource(id=clips["Glide"]), start=24, length_frames=60),
        Stint(id="flap-1", source=ClipSource(id=clips["Flap"]), start=74, length_frames=84),
        Stint(id="glide-2", source=ClipSource(id=clips["Glide"]), start=148, length_frames=140),
    )
    capstan_does = (
        Stint(id="turn", source=ClipSource(id=clips["Turn"]), start=120, length_frames=168),
    )
    return Scene(
        name="Sc 04 Quay at dusk",
        rate="24",
        laid_frames=288,
        played_frames=288,
        backdrop="quay",
        figures=(
            SceneFigure(id="odo", name="Odo", figure=figures["odo"]),
            SceneFigure(id="gull", name="Gull", figure=figures["gull"], mark=(0.9, 0.2, 0.0)),
            SceneFigure(
                id="capstan", name="Capstan", figure=figures["capstan"], mark=(1.5, 5.2, 0.3)
            ),
        ),
        lanes=(
            Lane(id="odo-body", name="Body", target=BodyTarget(figure="odo"), stints=odo_does),
            Lane(
                id="gull-body",
                name="Body",
                target=BodyTarget(figure="gull"),
                gap="wait",
                stints=gull_does,
            ),
            Lane(
                id="capstan-body",
                name="Body",
                target=BodyTarget(figure="capstan"),
                gap="wait",
                stints=capstan_does,
            ),
        ),
        beats=(
            Beat(id="hears-it", name="Hears it", colour="plum", start=62, end=98),
            Beat(id="rounds", name="Rounds", colour="ochre", start=98, end=162),
            Beat(id="runs", name="Runs", colour="rose", start=162, end=288),
        ),
    )


def demo() -> Demo:
    """The demo with readable ids, as tests and benches use it."""
    figures = {name: figure(name) for name in FIGURES}
    names = {name: name for name in figures}
    made = demo_clips(figures, names)
    clips = {playable.clip.name: playable for playable in made}
    kept = {name: name for name in clips}
    sounds = {name: sound_document(name) for name in SOUNDS}
    heard = {name: name for name in sounds}
    lamp = lamp_is_lit(names, kept, heard)
    return Demo(figures, clips, sounds, quay_at_dusk(names, kept), lamp)
