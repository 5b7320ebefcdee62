"""Edits on sound lanes. Frames are of the lane's own time: played ones where it keeps its own, else laid."""

from typing import Literal

import numpy as np

from ...arrays import real
from ...errors import Refusal
from ...names import Id, Name
from ...quantities import Frame
from ...saying import counted
from ..document import Scene
from ..material import Material
from ..sound_lane import LEAST_SECONDS, Fade, LaidSound, Level, SoundLane, on_a_sample
from .base import Edit, Edited, Rules, ordered, with_lane


class AddSoundLane(Edit):
    kind: Literal["add_sound_lane"] = "add_sound_lane"
    lane: Id
    name: Name | None = None


class SetSoundLane(Edit):
    """Another name, level or switch of a sound lane; what is left out stays. Where it changes whose time it
    goes by, each sound begins at the moment at which it began."""

    kind: Literal["set_sound_lane"] = "set_sound_lane"
    lane: str
    name: Name | None = None
    muted: bool | None = None
    level_db: Level | None = None
    keeps_own_time: bool | None = None


class RemoveSoundLane(Edit):
    kind: Literal["remove_sound_lane"] = "remove_sound_lane"
    lane: str


class LaySound(Edit):
    """Lay a sound of the production; on a lane that is not there yet, one is made with that id."""

    kind: Literal["lay_sound"] = "lay_sound"
    laid: Id
    sound: str
    lane: Id
    start: Frame


class MoveSound(Edit):
    """It begins at another moment, to the sample, and may go to another sound lane."""

    kind: Literal["move_sound"] = "move_sound"
    laid: str
    start: Frame
    lane: str | None = None


class TrimSound(Edit):
    """Draw one of its ends to a frame: what stays is heard when it was. It has no more than its file has."""

    kind: Literal["trim_sound"] = "trim_sound"
    laid: str
    edge: Literal["start", "end"]
    frame: Frame


class SetSound(Edit):
    """Another name, level, fade or switch of a laid sound; what is left out stays."""

    kind: Literal["set_sound"] = "set_sound"
    laid: str
    name: Name | None = None
    level_db: Level | None = None
    fade_in_seconds: Fade | None = None
    fade_out_seconds: Fade | None = None
    muted: bool | None = None


class SplitSound(Edit):
    kind: Literal["split_sound"] = "split_sound"
    laid: str
    frame: Frame
    new: Id


class DuplicateSound(Edit):
    """The same again, right after it."""

    kind: Literal["duplicate_sound"] = "duplicate_sound"
    laid: str
    new: Id


class RemoveSound(Edit):
    kind: Literal["remove_sound"] = "remove_sound"
    laid: str


def _find(scene: Scene, laid_id: str) -> tuple[SoundLane, LaidSound]:
    for lane in scene.sound_lanes:
        for laid in lane.sounds:
            if laid.id == laid_id:
                return lane, laid
    raise Refusal("That sound is no longer in the scene.")


def _lane(scene: Scene, lane_id: str) -> SoundLane:
    for lane in scene.sound_lanes:
        if lane.id == lane_id:
            return lane
    raise Refusal("That sound lane is no longer in the scene.")


def _said(laid: LaidSound, material: Material) -> str:
    return laid.name or material.sound(laid.sound).name


def _with_lane(scene: Scene, lane: SoundLane) -> Scene:
    lanes = tuple(lane if other.id == lane.id else other for other in scene.sound_lanes)
    return scene.model_copy(update={"sound_lanes": lanes})


def _replaced(scene: Scene, laid: LaidSound, *more: LaidSound) -> Scene:
    """The scene with a laid sound changed, and perhaps others beside it."""
    lane, _ = _find(scene, laid.id)
    kept = [other for other in lane.sounds if other.id != laid.id]
    return _with_lane(scene, lane.with_sounds([*kept, laid, *more]))


def _free(scene: Scene, laid_id: str) -> None:
    if any(laid.id == laid_id for lane in scene.sound_lanes for laid in lane.sounds):
        raise Refusal("A sound with that id is in the scene already.")


def moved_along(scene: Scene, laid_id: str, by_frames: float, material: Material) -> Scene:
    """The mouths of a sound moved with it. Raises Refusal where they would lie on others."""
    for lane in scene.lanes:
        bound = {stint.id for stint in lane.stints if stint.with_sound == laid_id}
        if bound and by_frames:
            stints = tuple(
                stint.model_copy(update={"start": stint.start + by_frames})
                if stint.id in bound
                else stint
                for stint in lane.stints
            )
            scene = with_lane(scene, ordered(lane, stints, material))
    return scene


def freed(scene: Scene, sounds: set[str]) -> Scene:
    """The scene without these sounds: their mouths stay where they are."""
    for lane in scene.lanes:
        if any(stint.with_sound in sounds for stint in lane.stints):
            stints = tuple(
                stint.model_copy(update={"with_sound": None})
                if stint.with_sound in sounds
                else stint
                for stint in lane.stints
            )
            scene = with_lane(scene, lane.model_copy(update={"stints": stints}))
    return scene


def _goes_with(scene: Scene, lane: SoundLane, before: SoundLane, material: Material) -> Scene:
    """The lanes of mouths that move with a sound lane's sounds go by its time, as it does from now on."""
    starts = {laid.id: laid.start for laid in lane.sounds}
    begun = {laid.id: laid.start for laid in before.sounds}
    for own in scene.lanes:
        bound = [stint for stint in own.stints if stint.with_sound in starts]
        if bound and len(bound) == len(own.stints):
            stints = tuple(
                stint.model_copy(
                    update={
                        "start": starts[stint.with_sound] + stint.start - begun[stint.with_sound]
                    }
                )
                for stint in bound
                if stint.with_sound
            )
            changed = own.model_copy(update={"keeps_own_time": lane.keeps_own_time})
            scene = with_lane(scene, ordered(changed, stints, material))
    return scene


def _long_enough(scene: Scene, laid_id: str, label: str, notes: tuple[str, ...] = ()) -> Edited:
    """A scene that plays until a sound is over."""
    lane, laid = _find(scene, laid_id)
    end = int(np.ceil(laid.end(scene.rate) - 1e-6))
    longer = scene
    if lane.keeps_own_time:
        longer = scene.with_played_frames(max(end, scene.played_frames))
    elif end > scene.laid_frames:
        longer = scene.with_laid_frames(end)
    if longer.played_frames != scene.played_frames:
        notes = (*notes, f"The scene plays for {longer.played_frames} frames now.")
    return Edited(longer, label, notes)


def _place(scene: Scene, frame: float, name: str) -> float:
    start = on_a_sample(frame, scene.rate)
    if start < 0:
        raise Refusal(f"{name} would start before the scene does. Trim its start instead.")
    return start


def _add_lane(scene: Scene, edit: AddSoundLane, material: Material) -> Edited:
    if any(lane.id == edit.lane for lane in scene.sound_lanes):
        raise Refusal("A sound lane with that id is in the scene already.")
    lane = SoundLane(id=edit.lane, name=edit.name or _next_name(scene))
    lanes = (*scene.sound_lanes, lane)
    return Edited(
        scene.model_copy(update={"sound_lanes": lanes}), f"Add the sound lane {lane.name}"
    )


def _next_name(scene: Scene) -> str:
    taken = {lane.name for lane in scene.sound_lanes}
    names = ("Sound" if k == 1 else f"Sound {k}" for k in range(1, len(taken) + 2))
    return next(name for name in names if name not in taken)


def _set_lane(scene: Scene, edit: SetSoundLane, material: Material) -> Edited:
    lane = _lane(scene, edit.lane)
    changes = edit.model_dump(exclude={"kind", "lane"}, exclude_none=True)
    changed = lane.model_copy(update=changes)
    if changed.keeps_own_time != lane.keeps_own_time:
        changed = changed.with_sounds(
            [
                laid.model_copy(update={"start": _carried(scene, laid.start, changed)})
                for laid in lane.sounds
            ]
        )
    done = _with_lane(scene, changed)
    if changed.keeps_own_time != lane.keeps_own_time:
        done = _goes_with(done, changed, lane, material)
    return Edited(done, _label(lane, edit))


def _carried(scene: Scene, start: float, to: SoundLane) -> float:
    """A moment of one kind of time as the other one tells it."""
    if not to.keeps_own_time:
        return on_a_sample(max(0.0, float(scene.elastic.source(real(start)))), scene.rate)
    moments = scene.elastic.played(start)
    return on_a_sample(max(0.0, moments[0]) if moments else start, scene.rate)


def _label(lane: SoundLane, edit: SetSoundLane) -> str:
    if edit.name is not None:
        return f"Rename the sound lane {lane.name} to {edit.name}"
    if edit.muted is not None:
        return f"{lane.name}: {'mute' if edit.muted else 'let it be heard'}"
    if edit.keeps_own_time is not None:
        return f"{lane.name}: {'keep its own time' if edit.keeps_own_time else 'go by the scene’s time'}"
    return f"{lane.name}: level {_db(edit.level_db or 0.0)}"


def _db(level: float) -> str:
    return f"{level:+g} dB" if level else "0 dB"


def _remove_lane(scene: Scene, edit: RemoveSoundLane, material: Material) -> Edited:
    gone = _lane(scene, edit.lane)
    lanes = tuple(lane for lane in scene.sound_lanes if lane.id != gone.id)
    notes = (f"{counted(len(gone.sounds), 'sound')} went with it.",) if gone.sounds else ()
    left = scene.model_copy(update={"sound_lanes": lanes})
    done = freed(left, {laid.id for laid in gone.sounds})
    return Edited(done, f"Delete the sound lane {gone.name}", notes)


def lay_sound(scene: Scene, edit: LaySound, material: Material) -> Edited:
    """Lay a sound. Raises Refusal as the edit does."""
    _free(scene, edit.laid)
    sound = material.sound(edit.sound)
    if all(lane.id != edit.lane for lane in scene.sound_lanes):
        scene = _add_lane(scene, AddSoundLane(lane=edit.lane), material).scene
    lane = _lane(scene, edit.lane)
    start = _place(scene, edit.start, sound.name)
    laid = LaidSound(id=edit.laid, sound=edit.sound, start=start, seconds=sound.seconds)
    done = _with_lane(scene, lane.with_sounds([*lane.sounds, laid]))
    return _long_enough(done, laid.id, f"Lay {sound.name}")


def _move(scene: Scene, edit: MoveSound, material: Material) -> Edited:
    lane, laid = _find(scene, edit.laid)
    name = _said(laid, material)
    moved = laid.model_copy(update={"start": _place(scene, edit.start, name)})
    scene = moved_along(scene, laid.id, moved.start - laid.start, material)
    if edit.lane is None or edit.lane == lane.id:
        return _long_enough(_replaced(scene, moved), laid.id, f"Move {name}")
    goal = _lane(scene, edit.lane)
    left = lane.with_sounds([other for other in lane.sounds if other.id != laid.id])
    done = _with_lane(_with_lane(scene, left), goal.with_sounds([*goal.sounds, moved]))
    return _long_enough(done, laid.id, f"Move {name} to {goal.name}")


def _trim(scene: Scene, edit: TrimSound, material: Material) -> Edited:
    _, laid = _find(scene, edit.laid)
    sound, fps = material.sound(laid.sound), float(scene.rate)
    frame = on_a_sample(edit.frame, scene.rate)
    by = (frame - (laid.start if edit.edge == "start" else laid.end(scene.rate))) / fps
    if edit.edge == "start":
        # No further than to its file's beginning, nor to the scene's.
        by = max(by, -laid.in_seconds, -laid.start / fps)
        by = min(by, laid.seconds - LEAST_SECONDS)
        changes = {
            "start": laid.start + by * fps,
            "in_seconds": max(0.0, laid.in_seconds + by),
            "seconds": laid.seconds - by,
        }
    else:
        by = min(by, sound.seconds - laid.in_seconds - laid.seconds)
        changes = {"seconds": max(LEAST_SECONDS, laid.seconds + by)}
    trimmed = laid.model_copy(update=changes)
    label = f"Trim {_said(laid, material)}"
    return _long_enough(_replaced(scene, _faded_within(trimmed)), laid.id, label)


def _faded_within(laid: LaidSound) -> LaidSound:
    """No fade is longer than what is heard."""
    fades = {
        "fade_in_seconds": min(laid.fade_in_seconds, laid.seconds),
        "fade_out_seconds": min(laid.fade_out_seconds, laid.seconds),
    }
    return laid.model_copy(update=fades)


def _set(scene: Scene, edit: SetSound, material: Material) -> Edited:
    _, laid = _find(scene, edit.laid)
    changes = edit.model_dump(exclude={"kind", "laid"}, exclude_none=True)
    changed = _faded_within(laid.model_copy(update=changes))
    return Edited(_replaced(scene, changed), _set_label(_said(laid, material), edit))


def _set_label(name: str, edit: SetSound) -> str:
    if edit.name is not None:
        return f"Rename {name} to {edit.name}"
    if edit.muted is not None:
        return f"{name}: {'mute' if edit.muted else 'let it be heard'}"
    if edit.level_db is not None:
        return f"{name}: level {_db(edit.level_db)}"
    if edit.fade_in_seconds is not None:
        return f"{name}: fade in over {edit.fade_in_seconds:g} s"
    return f"{name}: fade out over {edit.fade_out_seconds or 0:g} s"


def _split(scene: Scene, edit: SplitSound, material: Material) -> Edited:
    _free(scene, edit.new)
    _, laid = _find(scene, edit.laid)
    name, fps = _said(laid, material), float(scene.rate)
    at = on_a_sample(edit.frame, scene.rate)
    before = (at - laid.start) / fps
    if not LEAST_SECONDS <= before <= laid.seconds - LEAST_SECONDS:
        raise Refusal(f"{name} can be split only where it is heard.")
    first = laid.model_copy(update={"seconds": before, "fade_out_seconds": 0.0})
    rest = {
        "id": edit.new,
        "start": at,
        "in_seconds": laid.in_seconds + before,
        "seconds": laid.seconds - before,
        "fade_in_seconds": 0.0,
    }
    second = laid.model_copy(update=rest)
    done = _replaced(scene, _faded_within(first), _faded_within(second))
    return Edited(done, f"Split {name}")


def _duplicate(scene: Scene, edit: DuplicateSound, material: Material) -> Edited:
    _free(scene, edit.new)
    _, laid = _find(scene, edit.laid)
    copy = laid.model_copy(update={"id": edit.new, "start": laid.end(scene.rate)})
    label = f"Duplicate {_said(laid, material)}"
    return _long_enough(_replaced(scene, laid, copy), copy.id, label)


def _remove(scene: Scene, edit: RemoveSound, material: Material) -> Edited:
    lane, laid = _find(scene, edit.laid)
    left = lane.with_sounds([other for other in lane.sounds if other.id != laid.id])
    gone = {laid.id}
    return Edited(freed(_with_lane(scene, left), gone), f"Delete {_said(laid, material)}")


RULES: Rules = {
    AddSoundLane: _add_lane,
    SetSoundLane: _set_lane,
    RemoveSoundLane: _remove_lane,
    LaySound: lay_sound,
    MoveSound: _move,
    TrimSound: _trim,
    SetSound: _set,
    SplitSound: _split,
    DuplicateSound: _duplicate,
    RemoveSound: _remove,
}
