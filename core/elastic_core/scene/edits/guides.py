"""Edits on guides: keyed at laid frames, named, and taken away."""

from typing import Annotated, Literal

from pydantic import Field

from ...curve import SpanKind
from ...errors import Refusal
from ...exposure import Exposure, Pattern
from ...exposure import said as said_exposure
from ...names import Id, Name
from ...quantities import Frame, PlaceMetres
from ...saying import counted
from ..document import Scene
from ..guide import Guide, GuideChannel
from ..material import Material
from .base import Edit, Edited, Rules
from .figures import not_riding_on
from .keyed import (
    in_the_scene,
    keyed,
    moved_key,
    place_of_key,
    with_span,
    within_half_a_turn,
    without_key,
)

Heading = Annotated[float, Field(ge=-360_000, le=360_000)]


class AddGuide(Edit):
    """A guide with one key: it stands where it is set down."""

    kind: Literal["add_guide"] = "add_guide"
    guide: Id
    name: Name | None = None
    frame: Frame = 0.0
    place: PlaceMetres = (0.0, 0.0, 0.0)
    heading_degrees: Heading = 0.0


class KeyGuide(Edit):
    """Key a guide at a laid frame: where it is, and the way it heads. With `by_hand` the heading is told
    within half a turn of what it is there; a number that was written counts as it is, full turns and all."""

    kind: Literal["key_guide"] = "key_guide"
    guide: str
    frame: Frame
    place: PlaceMetres
    heading_degrees: Heading
    by_hand: bool = False


class SetGuide(Edit):
    """Another name, its own time, its exposure; what is left out stays."""

    kind: Literal["set_guide"] = "set_guide"
    guide: str
    name: Name | None = None
    keeps_own_time: bool | None = None
    pattern: Pattern | None = None


class SetGuideKey(Edit):
    """A key at another frame, or another kind of the span after it."""

    kind: Literal["set_guide_key"] = "set_guide_key"
    guide: str
    frame: Frame
    to: Frame | None = None
    span: SpanKind | None = None


class RemoveGuideKey(Edit):
    kind: Literal["remove_guide_key"] = "remove_guide_key"
    guide: str
    frame: Frame


class RemoveGuide(Edit):
    """Take it away; whom it carried stands on its mark again."""

    kind: Literal["remove_guide"] = "remove_guide"
    guide: str


def _numbers(place: PlaceMetres, heading_degrees: float) -> dict[GuideChannel, float]:
    x, y, z = place
    return {"x": x, "y": y, "z": z, "heading": heading_degrees}


def _with(scene: Scene, guide: Guide) -> Scene:
    guides = tuple(guide if other.id == guide.id else other for other in scene.guides)
    return scene.model_copy(update={"guides": guides})


def _add(scene: Scene, edit: AddGuide, material: Material) -> Edited:
    in_the_scene(scene, edit.frame)
    if edit.guide in scene.ids_on_stage:
        raise Refusal("Something with that id is in the scene already.")
    channels = keyed({}, edit.frame, _numbers(edit.place, edit.heading_degrees))
    guide = Guide(id=edit.guide, name=edit.name or _next_name(scene), channels=channels)
    done = scene.model_copy(update={"guides": (*scene.guides, guide)})
    return Edited(done, f"Add the guide {guide.name}")


def _next_name(scene: Scene) -> str:
    taken = {guide.name for guide in scene.guides}
    names = ("Guide" if k == 1 else f"Guide {k}" for k in range(1, len(taken) + 2))
    return next(name for name in names if name not in taken)


def _key(scene: Scene, edit: KeyGuide, material: Material) -> Edited:
    in_the_scene(scene, edit.frame)
    guide = scene.guide(edit.guide)
    heading = edit.heading_degrees
    if edit.by_hand:
        heading = within_half_a_turn(guide.channels["heading"], edit.frame, heading)
    channels = keyed(guide.channels, edit.frame, _numbers(edit.place, heading))
    done = guide.model_copy(update={"channels": channels})
    return Edited(_with(scene, done), f"Key {guide.name} at {edit.frame + scene.first_frame:g}")


def _set(scene: Scene, edit: SetGuide, material: Material) -> Edited:
    guide = scene.guide(edit.guide)
    label = guide.name
    if edit.keeps_own_time is not None:
        guide = guide.model_copy(update={"keeps_own_time": edit.keeps_own_time})
        label = f"{guide.name}: {'its own' if edit.keeps_own_time else 'the scene’s'} time"
    if edit.pattern is not None:
        exposure = None if edit.pattern == (1,) else Exposure(pattern=edit.pattern)
        guide = guide.model_copy(update={"exposure": exposure})
        label = f"{guide.name} {said_exposure(edit.pattern)}"
    if edit.name is not None:
        label = f"Rename {guide.name} to {edit.name}"
        guide = guide.model_copy(update={"name": edit.name})
    return Edited(_with(scene, guide), label)


def _set_key(scene: Scene, edit: SetGuideKey, material: Material) -> Edited:
    guide = scene.guide(edit.guide)
    place = place_of_key(guide.channels, edit.frame, guide.name)
    channels, notes = dict(guide.channels), tuple[str, ...]()
    label = f"{guide.name}: {edit.span} from {edit.frame + scene.first_frame:g}"
    if edit.span is not None:
        channels = with_span(channels, place, edit.span)
    if edit.to is not None:
        in_the_scene(scene, edit.to)
        channels, notes = moved_key(channels, place, edit.to)
        label = f"Move a key of {guide.name} to {edit.to + scene.first_frame:g}"
    return Edited(_with(scene, guide.model_copy(update={"channels": channels})), label, notes)


def _remove_key(scene: Scene, edit: RemoveGuideKey, material: Material) -> Edited:
    guide = scene.guide(edit.guide)
    place = place_of_key(guide.channels, edit.frame, guide.name)
    left = without_key(guide.channels, place)
    if not left:
        raise Refusal(f"It is the only key of {guide.name}: take the guide away instead.")
    done = guide.model_copy(update={"channels": left})
    label = f"Delete the key of {guide.name} at {edit.frame + scene.first_frame:g}"
    return Edited(_with(scene, done), label)


def _remove(scene: Scene, edit: RemoveGuide, material: Material) -> Edited:
    guide = scene.guide(edit.guide)
    riding = {
        "figure": sum(
            any(ride.to == guide.id for ride in own.attachments) for own in scene.figures
        ),
        "layer": sum(any(ride.to == guide.id for ride in own.attachments) for own in scene.layers),
    }
    update = {
        "guides": tuple(other for other in scene.guides if other.id != guide.id),
        "figures": tuple(not_riding_on(member, guide.id) for member in scene.figures),
        "layers": tuple(not_riding_on(layer, guide.id) for layer in scene.layers),
    }
    notes = tuple(f"{counted(n, what)} rode on it." for what, n in riding.items() if n)
    return Edited(scene.model_copy(update=update), f"Take {guide.name} away", notes)


RULES: Rules = {
    AddGuide: _add,
    KeyGuide: _key,
    SetGuide: _set,
    SetGuideKey: _set_key,
    RemoveGuideKey: _remove_key,
    RemoveGuide: _remove,
}
