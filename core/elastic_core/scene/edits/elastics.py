"""Edits on elastics: a stint's, or with no stint the scene's (rules 1.3 to 1.6).

Played moments of a stint are frames of its lane, and its sources are its clip's frames, told from within
its first round. The scene's elastic takes played frames to laid ones; a range of it is told in laid frames,
as everything on the desk is.

With `ripple` what follows moves along: on the stint's lane, or with `all_lanes` on every lane, with beats,
fixes and keyed sizes. Without, the ends stay where they are.
"""

from collections.abc import Callable
from typing import Literal

import numpy as np
from pydantic import Field

from ...clock import Span
from ...curve import Curve
from ...elastic import Elastic, PinSpan
from ...errors import Refusal
from ...quantities import Frame, LengthFrames, Place, SourceFrame
from ...retime.pace import percent, told, with_level, with_ramp
from ...retime.pins import (
    Numbered,
    moved_pin,
    pin_at,
    pinned_over,
    pinned_source,
    removed_pin,
    turned_round,
    with_span,
)
from ...retime.ranges import Slowing, held_frame, slowed
from ..baking import baked_length
from ..cast import ClipSource
from ..document import LONGEST_SCENE_FRAMES, Lane, Scene, Stint
from ..material import Material
from ..retimed import Retimed, retimed_of
from .base import (
    LEAST_FRAMES,
    Edit,
    Edited,
    Rules,
    grown,
    ordered,
    replaced,
    stint_name,
    unheard,
    with_lane,
)
from .stints import end_of, paced

FASTEST_PACE = 100.0


class ElasticEdit(Edit):
    """On the elastic of a stint, or of the scene."""

    stint: str | None = None


class AddPin(ElasticEdit):
    """Pin what plays at a moment; nothing changes until the pin is drawn (rule 1.4)."""

    kind: Literal["add_pin"] = "add_pin"
    played: Frame


class PinSource(ElasticEdit):
    """“Source 90 plays at 36”."""

    kind: Literal["pin_source"] = "pin_source"
    source: SourceFrame
    played: Frame
    ripple: bool = False


class SetPin(ElasticEdit):
    """A pin at another played or source moment, or another kind of the span after it."""

    kind: Literal["set_pin"] = "set_pin"
    pin: Place
    played: Frame | None = None
    source: SourceFrame | None = None
    span: PinSpan | None = None
    ripple: bool = False


class RemovePin(ElasticEdit):
    kind: Literal["remove_pin"] = "remove_pin"
    pin: Place


class SetPace(ElasticEdit):
    """The stretch after a pin at one pace; 1 is as made."""

    kind: Literal["set_pace"] = "set_pace"
    pin: Place
    pace: float = Field(ge=-FASTEST_PACE, le=FASTEST_PACE)
    ripple: bool = False


class SetRamp(ElasticEdit):
    """How long the ramp beside a pin takes."""

    kind: Literal["set_ramp"] = "set_ramp"
    pin: Place
    frames: LengthFrames
    ripple: bool = False


class SlowRange(ElasticEdit):
    """Slow, or hurry, a range of the desk: one action (rule 1.6). A pace, or a new length in frames."""

    kind: Literal["slow_range"] = "slow_range"
    start: Frame
    end: Frame
    pace: float | None = Field(default=None, gt=0, le=FASTEST_PACE)
    length_frames: LengthFrames | None = None
    ramp_frames: float = Field(default=0.0, ge=0, le=10_000)
    ripple: bool = True
    all_lanes: bool = False


class HoldFrame(ElasticEdit):
    """What shows at a frame of the desk stands for so many frames more."""

    kind: Literal["hold_frame"] = "hold_frame"
    frame: Frame
    frames: LengthFrames
    ripple: bool = True
    all_lanes: bool = False


class TurnRound(ElasticEdit):
    """Play it from its end to its beginning."""

    kind: Literal["turn_round"] = "turn_round"


class UseBake(Edit):
    """A stint plays the clip that was baked of it: its elastic is straight then, and applied only once."""

    kind: Literal["use_bake"] = "use_bake"
    stint: str
    clip: str


class Straighten(ElasticEdit):
    """Take the elastic out: as made, at once and whatever was done to it."""

    kind: Literal["straighten"] = "straighten"
    ripple: bool = False


def _add_pin(scene: Scene, edit: AddPin, material: Material) -> Edited:
    held = retimed_of(scene, edit.stint, material)
    if not held.span.start <= edit.played <= held.span.end:
        raise Refusal(f"{held.capital} does not play at that frame.")
    pinned = pinned_over(held.elastic, held.ends).with_pin(edit.played)
    label = f"Pin {held.name} at {held.shown(edit.played)}"
    return _done(scene, held, pinned, label, material)


def pin_source(scene: Scene, edit: PinSource, material: Material) -> Edited:
    """A source moment plays at a moment. Raises Refusal where time would go back, or too fast."""
    held = retimed_of(scene, edit.stint, material)
    pinned = pinned_source(
        held.elastic,
        edit.source,
        edit.played,
        held.ends,
        ripple=edit.ripple,
        numbered=Numbered(held.shown, held.shown_source),
    )
    label = f"{held.capital}: {held.shown_source(edit.source)} plays at {held.shown(edit.played)}"
    longer = pinned.pins[-1].played - held.ends.end
    return _longer(scene, held, pinned, longer, label, material, ripple=edit.ripple)


def _set_pin(scene: Scene, edit: SetPin, material: Material) -> Edited:
    held = retimed_of(scene, edit.stint, material)
    before = pin_at(held.elastic, edit.pin)
    if edit.pin == 0 and edit.played not in (None, before.played):
        raise Refusal(f"The first pin stays where {held.name} begins: move that itself.")
    elastic = moved_pin(held.elastic, edit.pin, edit.played, edit.source, ripple=edit.ripple)
    label = f"Move a pin of {held.name}"
    if edit.span is not None:
        elastic = with_span(elastic, edit.pin, edit.span)
        if edit.played is None and edit.source is None:
            label = f"{held.capital}: {edit.span} from {held.shown(before.played)}"
    longer = elastic.pins[-1].played - held.elastic.pins[-1].played
    return _longer(scene, held, elastic, longer, label, material, ripple=edit.ripple)


def _remove_pin(scene: Scene, edit: RemovePin, material: Material) -> Edited:
    held = retimed_of(scene, edit.stint, material)
    at = held.shown(pin_at(held.elastic, edit.pin).played)
    left = removed_pin(held.elastic, edit.pin)
    if len(left.pins) < 2:
        left = Elastic()
    return _done(scene, held, left, f"Take out the pin of {held.name} at {at}", material)


def _set_pace(scene: Scene, edit: SetPace, material: Material) -> Edited:
    held = retimed_of(scene, edit.stint, material)
    pin_at(held.elastic, edit.pin)
    slope = edit.pace * held.unit
    if edit.stint is not None and edit.pin == 0 and _runs_on_evenly(held.elastic, slope):
        return paced(scene, edit.stint, abs(edit.pace), material, ripple=edit.ripple)
    at_level = with_level(held.elastic, edit.pin, slope, held.unit, ripple=edit.ripple, whole=True)
    longer = at_level.pins[-1].played - held.elastic.pins[-1].played
    label = f"{held.capital}: a stretch at {percent(edit.pace)}"
    return _longer(scene, held, at_level, longer, label, material, ripple=edit.ripple)


def _runs_on_evenly(elastic: Elastic, slope: float) -> bool:
    """Whether one stretch from end to end is to play at another pace the same way round: then nothing
    inside has to make room, and a stint is stretched as a whole."""
    if len(elastic.pins) != 2 or elastic.pins[0].span == "held":
        return False
    return slope * (elastic.pins[1].source - elastic.pins[0].source) > 0


def _set_ramp(scene: Scene, edit: SetRamp, material: Material) -> Edited:
    held = retimed_of(scene, edit.stint, material)
    pin_at(held.elastic, edit.pin)
    ramped = with_ramp(
        held.elastic, edit.pin, edit.frames, held.unit, ripple=edit.ripple, whole=True
    )
    longer = ramped.pins[-1].played - held.elastic.pins[-1].played
    label = f"{held.capital}: a ramp of {told(edit.frames)} frames"
    return _longer(scene, held, ramped, longer, label, material, ripple=edit.ripple)


def _slow_range(scene: Scene, edit: SlowRange, material: Material) -> Edited:
    held = retimed_of(scene, edit.stint, material)
    over = held.over(edit.start, edit.end)
    wanted = Slowing(
        pace=edit.pace,
        length_frames=edit.length_frames,
        ramp_frames=edit.ramp_frames,
        unit=held.unit,
        whole=edit.ripple,
    )
    done = slowed(held.elastic, over, wanted, None if edit.ripple else _staying(held, over))
    before, after = over.length_frames, _plays_for(held, done, over)
    pace = abs(held.rise(over)) / held.unit / after
    word = "Slow" if after >= before else "Hurry"
    first, last = held.shown_desk(edit.start), held.shown_desk(edit.end - 1)
    to = percent(edit.pace) if edit.pace is not None else f"{told(after)} frames"
    label = f"{word} {held.name} to {to}, {first} to {last}"
    note = f"{told(before)} frames play for {told(after)} now, at {percent(pace)} on the average."
    longer = after - before if edit.ripple else 0.0
    along = edit.end if edit.all_lanes else None
    return _longer(
        scene, held, done, longer, label, material, (note,), ripple=edit.ripple, along=along
    )


def _staying(held: Retimed, over: Span) -> Span:
    """What makes up for a change inside a range: from the first to the last frame, or to the very end."""
    return held.ends if over.end <= held.ends.end else held.span


def _plays_for(held: Retimed, done: Elastic, over: Span) -> float:
    """How long the source of a range plays now."""
    first, last = (float(at) for at in held.elastic.source(np.array([over.start, over.end])))
    return _nearest(done.played(last), over.end) - _nearest(done.played(first), over.start)


def _nearest(moments: list[float], to: float) -> float:
    return min(moments, key=lambda moment: abs(moment - to))


def _hold_frame(scene: Scene, edit: HoldFrame, material: Material) -> Edited:
    held = retimed_of(scene, edit.stint, material)
    at = held.over(edit.frame, edit.frame).start
    within = None if edit.ripple else held.ends
    done = held_frame(held.elastic, at, edit.frames, within, held.unit)
    label = f"{held.capital}: hold {held.shown_desk(edit.frame)} for {told(edit.frames)} frames"
    longer = edit.frames if edit.ripple else 0.0
    along = edit.frame if edit.all_lanes else None
    return _longer(scene, held, done, longer, label, material, ripple=edit.ripple, along=along)


def _turn_round(scene: Scene, edit: TurnRound, material: Material) -> Edited:
    held = retimed_of(scene, edit.stint, material)
    turned = turned_round(held.elastic, held.ends)
    return _done(scene, held, turned, f"Play {held.name} the other way round", material)


def _use_bake(scene: Scene, edit: UseBake, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    source = ClipSource(id=edit.clip)
    clip = material.body(source)
    name = stint_name(material, stint)
    figure = scene.figure(lane.figure).figure if lane.figure else ""
    if clip.figure != figure or clip.rate != scene.rate or clip.is_cycle:
        raise Refusal(f"“{clip.name}” was not baked of {name}.")
    if clip.length_frames != baked_length(stint):
        raise Refusal(f"{name} was changed since it was baked: bake it again.")
    as_baked = {
        "source": source,
        "in_frame": 0.0,
        "elastic": Elastic(),
        "stride": 1.0,
        "path": Elastic(),
    }
    done = replaced(scene, lane, stint.model_copy(update=as_baked), material)
    return Edited(
        done, f"Bake {name}", (f"It is the clip {clip.name} now, with a key on each frame.",)
    )


def _straighten(scene: Scene, edit: Straighten, material: Material) -> Edited:
    held = retimed_of(scene, edit.stint, material)
    label = f"Straighten {held.name}"
    if held.stint is None:
        as_laid = {"elastic": Elastic(), "played_frames": scene.laid_frames}
        done = scene.model_copy(update=as_laid)
        return Edited(done, label, (*_length_note(scene, done), *unheard(done)))
    first, frames = _gone_through(held)
    length = max(LEAST_FRAMES, float(np.floor(frames / held.unit + 0.5)))
    straight = held.stint.model_copy(
        update={
            "elastic": Elastic(),
            "in_frame": first + held.rounds,
            "length_frames": length,
        }
    )
    done = _with_stint(scene, held.stint, straight, material, ripple=edit.ripple)
    return grown(done, label, end_of(done, scene.find(straight.id)[0]))


def _gone_through(held: Retimed) -> tuple[float, float]:
    """The first source frame that plays and how many there are, whichever way round; of a clip that plays
    once those that it has."""
    start, end = (
        float(at) for at in held.elastic.source(np.array([held.span.start, held.span.end]))
    )
    last = float(held.elastic.source(np.array(held.ends.end)))
    first, frames = min(start, last), abs(end - start)
    if held.clip_frames is not None:
        first = min(max(first, 0.0), held.clip_frames - 1.0)
        frames = min(frames, held.clip_frames - first)
    return first, frames


def _done(scene: Scene, held: Retimed, elastic: Elastic, label: str, material: Material) -> Edited:
    if held.stint is None:
        return Edited(scene.model_copy(update={"elastic": elastic}), label)
    lane, _ = scene.find(held.stint.id)
    return Edited(replaced(scene, lane, held.stint_with(elastic), material), label)


def _longer(
    scene: Scene,
    held: Retimed,
    elastic: Elastic,
    frames: float,
    label: str,
    material: Material,
    notes: tuple[str, ...] = (),
    *,
    ripple: bool,
    along: float | None = None,
) -> Edited:
    """The elastic in its place, what it plays for so many frames longer; from `along` on every lane moves."""
    if held.stint is None:
        played = scene.played_frames + frames
        length = max(1, int(np.ceil(played - 1e-6)))
        if length > LONGEST_SCENE_FRAMES:
            raise Refusal(f"A scene has {LONGEST_SCENE_FRAMES:,} frames at the most.")
        done = scene.model_copy(update={"elastic": elastic, "played_frames": length})
        return Edited(done, label, (*notes, *_length_note(scene, done)))
    stint = held.stint
    length_frames = stint.length_frames + frames
    if length_frames < LEAST_FRAMES:
        raise Refusal(f"{held.capital} would be shorter than a frame.")
    changed = held.stint_with(elastic).model_copy(update={"length_frames": length_frames})
    done = _with_stint(scene, held.stint, changed, material, ripple=ripple, along=along)
    return grown(done, label, end_of(done, scene.find(stint.id)[0]), notes)


def _length_note(before: Scene, after: Scene) -> tuple[str, ...]:
    if before.played_frames == after.played_frames:
        return ()
    return (f"The scene plays for {after.played_frames} frames now.",)


def _with_stint(
    scene: Scene,
    before: Stint,
    changed: Stint,
    material: Material,
    *,
    ripple: bool,
    along: float | None = None,
) -> Scene:
    """The scene with a stint changed. With `ripple` the later ones on its lane move along, and with `along`
    whatever is laid from that frame on."""
    by = changed.end - before.end
    lane, _ = scene.find(changed.id)

    def moves(row: Lane, stint: Stint) -> bool:
        if row.id == lane.id:
            return stint.start > before.start
        return along is not None and stint.start >= along - 1e-6

    for row in scene.lanes if ripple and along is not None else [lane]:
        stints = tuple(
            changed
            if stint.id == changed.id
            else stint.model_copy(update={"start": stint.start + by})
            if ripple and moves(row, stint)
            else stint
            for stint in row.stints
        )
        if stints != row.stints:
            scene = with_lane(scene, ordered(row, stints, material))
    return _carried_along(scene, along, by) if ripple and along is not None else scene


def _carried_along(scene: Scene, since: float, by: float) -> Scene:
    """What is laid by the scene's frames beside stints, moved along from a frame on: beats, fixes, keyed
    sizes, rides, the keys of guides and of the camera, and sounds that go by the scene's time."""

    def moved(frame: float) -> float:
        return frame + by if frame >= since - 1e-6 else frame

    lanes = tuple(
        lane
        if lane.fixes is None
        else lane.model_copy(
            update={
                "fixes": tuple(fix.model_copy(update={"at": moved(fix.at)}) for fix in lane.fixes)
            }
        )
        for lane in scene.lanes
    )
    beats = tuple(
        beat.model_copy(update={"start": moved(beat.start), "end": moved(beat.end)})
        for beat in scene.beats
    )
    figures = tuple(
        member.model_copy(
            update={
                "sizes": member.sizes and _keys_moved(member.sizes, moved),
                "attachments": tuple(
                    ride.model_copy(
                        update={
                            "start": moved(ride.start),
                            "end": None if ride.end is None else moved(ride.end),
                        }
                    )
                    for ride in member.attachments
                ),
            }
        )
        for member in scene.figures
    )
    sound_lanes = tuple(
        lane
        if lane.keeps_own_time
        else lane.with_sounds(
            [laid.model_copy(update={"start": moved(laid.start)}) for laid in lane.sounds]
        )
        for lane in scene.sound_lanes
    )
    camera = scene.camera
    if camera is not None:
        channels = {name: _keys_moved(curve, moved) for name, curve in camera.channels.items()}
        camera = camera.model_copy(update={"channels": channels})
    guides = tuple(
        guide
        if guide.keeps_own_time
        else guide.model_copy(
            update={
                "channels": {
                    name: _keys_moved(curve, moved) for name, curve in guide.channels.items()
                }
            }
        )
        for guide in scene.guides
    )
    return scene.model_copy(
        update={
            "lanes": lanes,
            "guides": guides,
            "beats": beats,
            "figures": figures,
            "camera": camera,
            "sound_lanes": sound_lanes,
        }
    )


def _keys_moved(curve: Curve, moved: Callable[[float], float]) -> Curve:
    return curve.retimed({place: moved(key.time) for place, key in enumerate(curve.keys)})[0]


RULES: Rules = {
    AddPin: _add_pin,
    PinSource: pin_source,
    SetPin: _set_pin,
    RemovePin: _remove_pin,
    SetPace: _set_pace,
    SetRamp: _set_ramp,
    SlowRange: _slow_range,
    HoldFrame: _hold_frame,
    TurnRound: _turn_round,
    UseBake: _use_bake,
    Straighten: _straighten,
}
