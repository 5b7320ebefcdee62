"""Edits on beats: named, coloured ranges of a scene's time."""

from typing import Literal

from ...clip import Colour, Material
from ...errors import Refusal
from ..document import Beat, Scene
from .base import Edit, Edited, Id, Name, Rules, whole_frame


class AddBeat(Edit):
    kind: Literal["add_beat"] = "add_beat"
    beat: Id
    name: Name
    colour: Colour = "ochre"
    start: float
    end: float


class SetBeat(Edit):
    """Another name, colour, start or end; what is left out stays."""

    kind: Literal["set_beat"] = "set_beat"
    beat: str
    name: Name | None = None
    colour: Colour | None = None
    start: float | None = None
    end: float | None = None


class RemoveBeat(Edit):
    kind: Literal["remove_beat"] = "remove_beat"
    beat: str


def _add(scene: Scene, edit: AddBeat, material: Material) -> Edited:
    if any(beat.id == edit.beat for beat in scene.beats):
        raise Refusal("A beat with that id is in the scene already.")
    start, end = _range(scene, edit.start, edit.end)
    beat = Beat(id=edit.beat, name=edit.name, colour=edit.colour, start=start, end=end)
    return Edited(_with_beats(scene, (*scene.beats, beat)), f"Add the beat {beat.name}")


def _set(scene: Scene, edit: SetBeat, material: Material) -> Edited:
    beat = scene.beat(edit.beat)
    start, end = _range(
        scene,
        beat.start if edit.start is None else edit.start,
        beat.end if edit.end is None else edit.end,
    )
    changed = beat.model_copy(
        update={
            "name": edit.name or beat.name,
            "colour": edit.colour or beat.colour,
            "start": start,
            "end": end,
        }
    )
    beats = tuple(changed if other.id == beat.id else other for other in scene.beats)
    return Edited(_with_beats(scene, beats), _label(beat, changed))


def _label(before: Beat, after: Beat) -> str:
    if after.name != before.name:
        return f"Rename the beat {before.name} to {after.name}"
    if after.colour != before.colour:
        return f"Colour the beat {before.name}"
    moved = after.end - after.start == before.end - before.start
    return f"{'Move' if moved else 'Trim'} the beat {before.name}"


def _remove(scene: Scene, edit: RemoveBeat, material: Material) -> Edited:
    gone = scene.beat(edit.beat)
    beats = tuple(beat for beat in scene.beats if beat.id != gone.id)
    return Edited(_with_beats(scene, beats), f"Delete the beat {gone.name}")


def _range(scene: Scene, start: float, end: float) -> tuple[float, float]:
    """Whole frames inside the scene, one at the least."""
    first, last = whole_frame(start), whole_frame(end)
    if last <= first:
        raise Refusal("A beat ends after it starts.")
    if first < 0 or last > scene.length_frames:
        raise Refusal("A beat lies inside the scene.")
    return first, last


def _with_beats(scene: Scene, beats: tuple[Beat, ...]) -> Scene:
    in_order = tuple(sorted(beats, key=lambda beat: (beat.start, beat.end)))
    return scene.model_copy(update={"beats": in_order})


RULES: Rules = {AddBeat: _add, SetBeat: _set, RemoveBeat: _remove}
