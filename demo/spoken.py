"""What Odo says on the quay: lines that a free synthesizer spoke once, with what was read of them
(voices/make.sh); and the scene “Sc 06 Three lamps lit”, in which he turns his head while he speaks."""

import json
import math
from collections.abc import Mapping
from functools import cache
from pathlib import Path

from elastic_core.beats import Beat
from elastic_core.exposure import ON_ONES, Exposure
from elastic_core.scene.cast import BodyTarget, ClipSource, LinePart, LineSource, PartTarget
from elastic_core.scene.document import Fix, Lane, Scene, SceneFigure, Stint
from elastic_core.scene.sound_lane import LaidSound, SoundLane
from elastic_core.voice.blinks import proposed
from elastic_core.voice.exposing import MouthRules
from elastic_core.voice.line import Line
from elastic_core.voice.reading import Reading

PARTS: tuple[tuple[str, LinePart], ...] = (("says", "mouth"), ("blinks", "eyes"))
VOICES = Path(__file__).parent / "voices"
SPOKEN = ("Odo, line 1", "Odo calls the gull")
SCENE_FRAMES, SPEAKS_AT, BLINKS = 216, 14, 3


@cache
def voice_file(name: str) -> bytes:
    """A line's sound as a file."""
    return (VOICES / f"{name}.ogg").read_bytes()


def text_of(name: str) -> str:
    """What is said in it."""
    return (VOICES / f"{name}.txt").read_text(encoding="utf-8")


def reading_of(name: str) -> Reading:
    """What was read of it."""
    return Reading.model_validate(json.loads((VOICES / f"{name}.json").read_text(encoding="utf-8")))


def spoken_line(name: str, sound: str, chart: str) -> Line:
    """A line of the demo, by the ids of its sound and its chart."""
    text = text_of(name)
    return Line(
        name=name,
        sound=sound,
        speaker="Odo",
        text=text,
        chart=chart,
        rules=MouthRules(on=2),
        reading=reading_of(name),
        read_text=text,
        blinks=proposed(reading_of(name), math.ceil(reading_of(name).seconds * 24), 24.0, BLINKS),
        blink_seed=BLINKS,
    )


def three_lamps_lit(
    figures: Mapping[str, str],
    clips: Mapping[str, str],
    sounds: Mapping[str, str],
    lines: Mapping[str, str],
    charts: tuple[str, ...],
    eyes: str,
) -> Scene:
    """Odo on the quay, on twos; his head goes round to the water and back while he speaks, his mouth with it.

    The mappings give the ids that names have; `charts` are those of his mouths, the front one first, `eyes`
    that of his eyes.
    """
    line = "Odo, line 1"
    seconds = reading_of(line).seconds
    frames = math.ceil(seconds * 24)
    turns = (("to-the-water", 62, 46, -34.0, 4.0), ("to-the-boy", 132, 40, 24.0, -6.0))
    fixes = tuple(
        Fix(
            id=name,
            at=at,
            fade_in=10,
            fade_out=12,
            stands_frames=stands,
            turns={"neck": _turn(yaw / 3, 0), "head": _turn(2 * yaw / 3, pitch)},
        )
        for name, at, stands, yaw, pitch in turns
    )
    body = BodyTarget(figure="odo")
    stands = Stint(
        id="stands", source=ClipSource(id=clips["Stand"]), start=0, length_frames=SCENE_FRAMES
    )
    says, blinks = (
        Stint(
            id=name,
            source=LineSource(id=lines[line], part=part),
            start=SPEAKS_AT,
            length_frames=frames,
            with_sound="said",
        )
        for name, part in PARTS
    )
    said = LaidSound(id="said", sound=sounds[line], start=SPEAKS_AT, seconds=seconds)
    return Scene(
        name="Sc 06 Three lamps lit",
        rate="24",
        laid_frames=SCENE_FRAMES,
        played_frames=SCENE_FRAMES,
        backdrop="quay",
        figures=(SceneFigure(id="odo", name="Odo", figure=figures["odo"]),),
        lanes=(
            Lane(
                id="odo-mouth",
                name="Mouth",
                target=PartTarget(figure="odo", part="mouth"),
                exposure=ON_ONES,
                keeps_own_time=True,
                charts=charts,
                stints=(says,),
            ),
            Lane(
                id="odo-eyes",
                name="Eyes",
                target=PartTarget(figure="odo", part="eyes"),
                exposure=ON_ONES,
                keeps_own_time=True,
                charts=(eyes,),
                stints=(blinks,),
            ),
            Lane(id="odo-body", name="Body", target=body, exposure=_ON_TWOS, stints=(stands,)),
            Lane(id="odo-head", name="Head", target=body, exposure=_ON_TWOS, fixes=fixes),
        ),
        sound_lanes=(SoundLane(id="voice", name="Voice", sounds=(said,)),),
        beats=(
            Beat(id="lamps", name="Three lamps", colour="ochre", start=SPEAKS_AT, end=62),
            Beat(id="tide", name="The tide", colour="slate", start=62, end=108),
        ),
    )


_ON_TWOS = Exposure(pattern=(2,))


def _turn(yaw_degrees: float, pitch_degrees: float) -> tuple[float, float, float, float]:
    """A turn about the upright axis, then down: w, x, y, z."""
    yaw, pitch = math.radians(yaw_degrees) / 2, math.radians(pitch_degrees) / 2
    return (
        math.cos(yaw) * math.cos(pitch),
        math.cos(yaw) * math.sin(pitch),
        math.sin(yaw) * math.cos(pitch),
        -math.sin(yaw) * math.sin(pitch),
    )
