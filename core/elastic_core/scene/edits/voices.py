"""Edits that lay spoken lines: a sound, and on a figure the mouths that say it, which move with it."""

import math
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from ...beats import Beat
from ...clock import nearest_frame
from ...colour import Colour
from ...errors import Refusal
from ...exposure import ON_ONES
from ...moments import played
from ...names import Id
from ...performance import DrawingPerformance
from ...quantities import Frame
from ...voice.accents import accents_of
from ..cast import LinePart, LineSource, PartTarget
from ..clock import LaneClock
from ..document import Lane, Scene, Stint
from ..material import Material
from ..sound_lane import LaidSound, SoundLane
from .base import Edit, Edited, Rules, grown, ordered, replaced, stint_name, with_lane
from .figures import free_id
from .sounds import LaySound, lay_sound

# What is computed may come out a hair longer than it is.
_HAIR_FRAMES = 1e-6
# The signs that may stand round a word.
_ROUND_WORDS = "\"'“”‘’«»¿¡.,;:!?…()[]"


class LayLine(Edit):
    """Lay a line: its sound from a frame of the sound lane's time, and its mouths on a figure, in step. A
    sound that lies there already, as `laid`, stays as it lies, and only the mouths are laid.
    Without a `figure` it is only heard. A lane that is not there yet is made; the mouths' lane goes by the
    sound lane's time. `other_sides` are charts of the same mouths as they are seen from other sides. With an
    `eyes_chart` its eyes are laid too, on a lane of their own."""

    kind: Literal["lay_line"] = "lay_line"
    line: Id
    sound: Id
    laid: Id
    sound_lane: Id
    start: Frame
    figure: Id | None = None
    part: Literal["mouth"] = "mouth"
    stint: Id | None = None
    chart: Id | None = None
    other_sides: Annotated[tuple[Id, ...], Field(max_length=7)] = ()
    eyes_chart: Id | None = None


class FreeFromSound(Edit):
    """A line's mouths no longer move with its sound."""

    kind: Literal["free_from_sound"] = "free_from_sound"
    stint: str


class MarkAccents(Edit):
    """The stressed, loud syllables of a laid line as beats, for the body to hit; those that were marked for
    this sound before go."""

    kind: Literal["mark_accents"] = "mark_accents"
    laid: str
    colour: Colour = "rose"


def _lay(scene: Scene, edit: LayLine, material: Material) -> Edited:
    heard = _heard(scene, edit, material)
    source = LineSource(id=edit.line)
    performance = material.drawings(source)
    line = material.lines[edit.line].line
    if (line.sound, line.chart) != (edit.sound, edit.chart or ""):
        raise Refusal(
            f"“{line.name}” has another sound, or other mouths, than it is to be laid with."
        )
    label = f"Lay {performance.name}"
    if edit.figure is None:
        return Edited(heard.scene, label, heard.notes)
    member = scene.figure(edit.figure)
    if performance.figure and performance.figure != member.figure:
        raise Refusal(
            f"The mouths of “{performance.name}” are another figure's, not {member.name}'s."
        )
    now = heard.scene
    if edit.eyes_chart is not None:
        now = _drawn(now, edit, material, "eyes")
    done = _drawn(now, edit, material, "mouth")
    lane, stint = done.find(_stint_of(done, edit))
    if lane.keeps_own_time:
        return Edited(done, label, heard.notes)
    return grown(done, label, stint.end, heard.notes)


def _stint_of(scene: Scene, edit: LayLine) -> str:
    """The stint of the line's mouths, which was just laid."""
    return next(
        stint.id
        for lane in scene.lanes
        for stint in lane.stints
        if stint.with_sound == edit.laid and stint.source == LineSource(id=edit.line)
    )


def _drawn(scene: Scene, edit: LayLine, material: Material, part: LinePart) -> Scene:
    """The scene with a part of the line laid on its figure. Raises Refusal where that sound is said already."""
    found = _laid(scene, edit.laid)
    assert found is not None
    sound_lane, laid = found
    source = LineSource(id=edit.line, part=part)
    performance = material.drawings(source)
    now, lane = _lane_of(scene, edit, part, sound_lane)
    if any(stint.with_sound == laid.id for stint in lane.stints):
        raise Refusal(f"{scene.figure(edit.figure or '').name} says that already.")
    taken = [stint.id for stint in now.stints]
    own = edit.stint if part == "mouth" else None
    stint = Stint(
        id=own or free_id("stint", taken),
        source=source,
        start=laid.start,
        in_frame=laid.in_seconds * float(performance.rate),
        length_frames=_length_frames(laid, performance, now.rate),
        with_sound=laid.id,
    )
    return with_lane(now, ordered(lane, (*lane.stints, stint), material))


def _lane_of(
    scene: Scene, edit: LayLine, part: LinePart, sound_lane: SoundLane
) -> tuple[Scene, Lane]:
    """The figure's lane of this part that goes by the sound's time, or a new one over its others. Raises
    Refusal where it shows another chart."""
    target = PartTarget(figure=edit.figure or "", part=part)
    charts = () if edit.chart is None else (edit.chart, *edit.other_sides)
    if part == "eyes":
        charts = () if edit.eyes_chart is None else (edit.eyes_chart,)
    for lane in scene.lanes:
        if lane.target == target and lane.keeps_own_time == sound_lane.keeps_own_time:
            if lane.stints and lane.charts[:1] != charts[:1]:
                raise Refusal(f"The lane “{lane.name}” shows {part} of another chart.")
            if lane.charts[:1] != charts[:1] or charts[1:]:
                lane = lane.model_copy(update={"charts": charts})
                scene = with_lane(scene, lane)
            return scene, lane
    made = Lane(
        id=free_id("lane", [lane.id for lane in scene.lanes]),
        name=part.capitalize(),
        target=target,
        exposure=ON_ONES,
        keeps_own_time=sound_lane.keeps_own_time,
        charts=charts,
    )
    own = [lane for lane in scene.lanes if lane.figure == edit.figure]
    place = scene.lanes.index(own[0]) if own else len(scene.lanes)
    lanes = (*scene.lanes[:place], made, *scene.lanes[place:])
    return scene.model_copy(update={"lanes": lanes}), made


def _heard(scene: Scene, edit: LayLine, material: Material) -> Edited:
    """The scene with the line's sound laid. Raises Refusal where another sound lies under its name."""
    found = _laid(scene, edit.laid)
    if found is None:
        lay = LaySound(laid=edit.laid, sound=edit.sound, lane=edit.sound_lane, start=edit.start)
        return lay_sound(scene, lay, material)
    if found[1].sound != edit.sound:
        raise Refusal("The sound that lies there is not the one of the line.")
    return Edited(scene, "")


def _length_frames(laid: LaidSound, performance: DrawingPerformance, rate: Fraction) -> float:
    """As long as what is heard of the sound; of all of it the whole run, which ends on a whole frame."""
    whole = performance.length_frames * float(rate / performance.rate)
    rest = whole - laid.in_seconds * float(rate)
    return min(rest, math.ceil(laid.seconds * float(rate) - _HAIR_FRAMES))


def _laid(scene: Scene, laid_id: str) -> tuple[SoundLane, LaidSound] | None:
    return next(
        ((lane, laid) for lane in scene.sound_lanes for laid in lane.sounds if laid.id == laid_id),
        None,
    )


def _free(scene: Scene, edit: FreeFromSound, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    name = stint_name(material, stint)
    if stint.with_sound is None:
        raise Refusal(f"{name} moves with no sound.")
    freed = stint.model_copy(update={"with_sound": None})
    return Edited(replaced(scene, lane, freed, material), f"Free {name} from its sound")


def _mark(scene: Scene, edit: MarkAccents, material: Material) -> Edited:
    found = _laid(scene, edit.laid)
    if found is None:
        raise Refusal("That sound is no longer in the scene.")
    lane, laid = found
    line = next((one.line for one in material.lines.values() if one.line.sound == laid.sound), None)
    if line is None or line.reading is None:
        raise Refusal("Nobody has read what is said there: expose it first.")
    # Ids have forty characters, and three are for their count.
    prefix = f"{laid.id[:36]}."
    kept = [beat for beat in scene.beats if not beat.id.startswith(prefix)]
    marked: list[Beat] = []
    for accent in accents_of(line.reading):
        own = accent.seconds - laid.in_seconds
        if not 0 <= own < laid.seconds:
            continue
        frame = _laid_frame(scene, lane, laid.start + own * float(scene.rate))
        if not 0 <= frame < scene.laid_frames or (marked and frame <= marked[-1].start):
            continue
        name = accent.word.strip(_ROUND_WORDS)[:120] or accent.word
        beat = Beat(
            id=f"{prefix}{len(marked)}", name=name, colour=edit.colour, start=frame, end=frame + 1
        )
        marked.append(beat)
    if not marked:
        raise Refusal("No word of it is stressed and loud enough to be hit.")
    beats = sorted([*kept, *marked], key=lambda beat: (beat.start, beat.end))
    count = f"{len(marked)} accents" if len(marked) > 1 else "an accent"
    return Edited(scene.model_copy(update={"beats": tuple(beats)}), f"Mark {count}")


def _laid_frame(scene: Scene, lane: SoundLane, frame: float) -> int:
    """The laid frame, where beats stand, that plays when a frame of a sound lane is heard."""
    if not lane.keeps_own_time:
        return math.floor(frame + _HAIR_FRAMES)
    at = LaneClock(ON_ONES, scene.elastic, ()).time(played([math.floor(frame + _HAIR_FRAMES)]))
    return int(nearest_frame(float(at[0])))


RULES: Rules = {LayLine: _lay, FreeFromSound: _free, MarkAccents: _mark}
