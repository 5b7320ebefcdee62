"""The lamp's flame, and the scene “Sc 05 The lamp is lit”: slow motion, a ride, three exposures, a camera."""

from collections.abc import Mapping

import numpy as np

from elastic_core import rotation
from elastic_core.arrays import Array, by_runs
from elastic_core.beats import Beat
from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.clock import Span
from elastic_core.curve import Curve, Key
from elastic_core.elastic import Elastic
from elastic_core.exposure import Exposure
from elastic_core.figure import Figure
from elastic_core.join.alignment import Alignment
from elastic_core.motion import Motion
from elastic_core.retime.ranges import Slowing, slowed
from elastic_core.scene.camera import SceneCamera
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.document import Attachment, Lane, Scene, SceneFigure, Stint
from elastic_core.scene.sound_lane import LaidSound, SoundLane

TAU = 2 * np.pi
LAID_FRAMES = 120
# He is up on his toes, the pole at the lamp.
LIGHTS_IT = Span(44, 69)
# The tip of his pole, as the pole has it.
POLE_TIP = (0.0, 1.0, 0.0)


def flicker_clip(figure: Figure, figure_id: str) -> PlayableClip:
    """The flame leans and licks: two sways that only meet again after a second."""
    length = 24
    phase = TAU * np.arange(length + 1) / length
    degrees = np.zeros((length + 1, len(figure.joints), 3))
    heart, tongue = figure.place_of("heart"), figure.place_of("tongue")
    degrees[:, heart, 0] = 9 * np.sin(3 * phase)
    degrees[:, heart, 1] = 7 * np.sin(2 * phase + 0.8)
    degrees[:, tongue, 0] = 24 * np.sin(3 * phase - 1.1) + 8 * np.sin(5 * phase)
    degrees[:, tongue, 1] = 14 * np.sin(4 * phase)
    licks = 1 + 0.22 * np.sin(3 * phase + 0.4) + 0.1 * np.sin(5 * phase)
    scales: Array = np.ones((length + 1, 3), order="F")
    scales[:, 1] = licks
    still = np.zeros((length + 1, 3), order="F")
    motion = Motion(
        still,
        still.copy(order="F"),
        by_runs(rotation.from_axes("ZXY", degrees)),
        {},
        {tongue: scales},
    )
    clip = Clip(
        name="Flicker",
        figure=figure_id,
        rate="24",
        length_frames=length,
        is_cycle=True,
        colour="ochre",
    )
    return PlayableClip(clip, motion)


def lamp_is_lit(
    figures: Mapping[str, str], clips: Mapping[str, str], sounds: Mapping[str, str]
) -> Scene:
    """Odo reaches up to the lamp, on twos; the flame on his pole flickers on threes and rides on it; the
    camera goes nearer on ones; the moment itself plays at 35 %, gull and all. The bell strikes and the sea
    goes on in their own time.

    `figures`, `clips` and `sounds` give the ids that their names have.
    """

    def stint(name: str, clip: str, start: float, length: float, in_frame: float = 0.0) -> Stint:
        return Stint(
            id=name,
            source=ClipSource(id=clips[clip]),
            start=start,
            length_frames=length,
            in_frame=in_frame,
        )

    held = {"alignment": Alignment(plant="both"), "holds_join": True}
    odo = (
        stint("waits", "Stand", 0, 30),
        stint("lights", "Reach and light", 22, 64).model_copy(update=held),
        stint("looks", "Stand", 78, 42, -5).model_copy(update=held),
    )
    elastic = slowed(Elastic(), LIGHTS_IT, Slowing(pace=0.35, ramp_frames=4))
    return Scene(
        name="Sc 05 The lamp is lit",
        rate="24",
        laid_frames=LAID_FRAMES,
        played_frames=LAID_FRAMES + 39,
        backdrop="quay",
        elastic=elastic,
        camera=_camera(),
        figures=(
            SceneFigure(id="odo", name="Odo", figure=figures["odo"]),
            SceneFigure(
                id="flame",
                name="Flame",
                figure=figures["flame"],
                attachments=(
                    Attachment(id="on-the-pole", to="odo", joint="pole", start=0, offset=POLE_TIP),
                ),
            ),
            SceneFigure(id="gull", name="Gull", figure=figures["gull"], mark=(1.4, -2.6, 0.0)),
        ),
        lanes=(
            Lane(
                id="odo-body",
                name="Body",
                target=BodyTarget(figure="odo"),
                exposure=Exposure(pattern=(2,)),
                stints=odo,
            ),
            Lane(
                id="flame-body",
                name="Flame",
                target=BodyTarget(figure="flame"),
                exposure=Exposure(pattern=(3,)),
                stints=(stint("flickers", "Flicker", 0, LAID_FRAMES),),
            ),
            Lane(
                id="gull-body",
                name="Body",
                target=BodyTarget(figure="gull"),
                stints=(stint("glides", "Glide", 0, LAID_FRAMES),),
            ),
        ),
        sound_lanes=_sound_lanes(sounds),
        beats=(
            Beat(
                id="lights-it",
                name="Lights it",
                colour="ochre",
                start=LIGHTS_IT.start,
                end=LIGHTS_IT.end,
            ),
        ),
    )


def _sound_lanes(sounds: Mapping[str, str]) -> tuple[SoundLane, ...]:
    bell = LaidSound(
        id="bell", sound=sounds["Harbour bell"], start=54.5, seconds=4.0, fade_out_seconds=1.0
    )
    sea = LaidSound(
        id="sea",
        sound=sounds["Sea at the quay"],
        start=0,
        in_seconds=0.75,
        seconds=6.625,
        level_db=-8.0,
        fade_in_seconds=0.5,
        fade_out_seconds=0.8,
    )
    return (
        SoundLane(id="bells", name="Bell", sounds=(bell,)),
        SoundLane(id="sea-lane", name="Sea", sounds=(sea,)),
    )


def _camera() -> SceneCamera:
    """From his side to close under the flame."""
    keys = {
        "x": (-5.6, -4.3, -3.4),
        "y": (1.5, 1.35, 1.3),
        "z": (3.6, 3.1, 2.6),
        "look.x": (0.0, 0.1, 0.1),
        "look.y": (1.0, 1.5, 1.45),
        "look.z": (0.1, 0.3, 0.2),
        "roll": (0.0, 0.0, 0.0),
        "zoom": (1.0, 0.88, 0.95),
    }
    frames = (0.0, 50.0, 119.0)
    return SceneCamera.model_validate(
        {
            "channels": {
                name: Curve(
                    keys=[Key(time=at, value=value) for at, value in zip(frames, row, strict=True)]
                )
                for name, row in keys.items()
            }
        }
    )
