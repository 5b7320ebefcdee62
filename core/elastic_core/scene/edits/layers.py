"""Edits on layers of drawings: set up in the scene, placed, faded, and carried (rules 7.3 and 7.5)."""

from typing import Any, Literal

from ...clock import nearest_frame
from ...curve import Curve, Key
from ...errors import Refusal
from ...names import Id, Name
from ...quantities import Frame, PlaceMetres
from ...sides import spoken
from ...tracing import Opacity
from ..cast import LayerTarget, RunSource
from ..document import (
    Attachment,
    Degrees,
    JointName,
    Lane,
    Layer,
    LayerHeight,
    Scene,
    Stands,
    Stint,
)
from ..material import Material
from ..timing import conform
from .base import LEAST_FRAMES, Edit, Edited, Rules, ordered, with_lane
from .figures import free_id


class AddLayer(Edit):
    """A drawing set enters the scene as a layer with a lane; with a run that plays on it over the whole scene,
    or, of one that plays once, over its own length. With `to` it rides there from the start."""

    kind: Literal["add_layer"] = "add_layer"
    layer: Id
    lane: Id | None = None
    drawings: Id
    run: Id | None = None
    name: Name | None = None
    stands: Stands = "card"
    place: PlaceMetres = (0.0, 0.0, 0.0)
    heading_degrees: Degrees = 0.0
    height_metres: LayerHeight = 1.0
    faces_camera: bool = False
    repeats: bool = False
    start: Frame = 0.0
    to: Id | None = None
    joint: JointName | None = None


class SetLayer(Edit):
    """How a layer stands; what is left out stays. One that comes from the stage to lie over the picture or
    under it fills its height, from its middle, and rides on nothing; one that goes back to the stage stands at
    its middle: what the place was counted in is gone."""

    kind: Literal["set_layer"] = "set_layer"
    layer: str
    name: Name | None = None
    stands: Stands | None = None
    place: PlaceMetres | None = None
    heading_degrees: Degrees | None = None
    height_metres: LayerHeight | None = None
    mirrored: bool | None = None
    faces_camera: bool | None = None
    repeats: bool | None = None
    steps: bool | None = None


class KeyOpacity(Edit):
    """Key how much of a layer shows at a laid frame; without a value the key there is taken away."""

    kind: Literal["key_opacity"] = "key_opacity"
    layer: str
    frame: Frame
    opacity: Opacity | None = None


class RideLayer(Edit):
    """A layer rides on a figure's joint, or on a guide, from a laid frame on: its pegs are there, `offset` off
    in metres as that has it. Without `turns` the card stays upright. Other rides of it end there."""

    kind: Literal["ride_layer"] = "ride_layer"
    layer: str
    to: Id
    joint: JointName | None = None
    start: Frame = 0.0
    end: Frame | None = None
    offset: PlaceMetres = (0.0, 0.0, 0.0)
    turns: bool = False


class LetLayerOff(Edit):
    """A layer rides on nothing any more."""

    kind: Literal["let_layer_off"] = "let_layer_off"
    layer: str


class RemoveLayer(Edit):
    """Take a layer and its lanes out of the scene."""

    kind: Literal["remove_layer"] = "remove_layer"
    layer: str


_SAYS: dict[str, str] = {
    "stands": "stands {}",
    "place": "moved",
    "heading_degrees": "turned",
    "height_metres": "{:g} m high",
    "mirrored": "mirrored",
    "faces_camera": "faces the camera",
    "repeats": "repeats sideways",
    "steps": "moves with its drawings",
}
ON_PICTURE: tuple[Stands, ...] = ("overlay", "under")
_STANDS: dict[Stands, str] = {
    "card": "as a card",
    "overlay": "before the picture",
    "behind": "behind all",
    "under": "under the picture",
}


def _add(scene: Scene, edit: AddLayer, material: Material) -> Edited:
    if edit.layer in scene.ids_on_stage:
        raise Refusal("Something with that id is in the scene already.")
    drawn = material.drawing_set(edit.drawings)
    attachments: tuple[Attachment, ...] = ()
    if edit.to is not None:
        ridden_on(scene, edit.to, edit.joint, material)
        ride = Attachment(id="ride", to=edit.to, joint=edit.joint, start=0.0, turns=False)
        attachments = (ride,)
    name = edit.name or drawn.name
    told = edit.model_dump(include={"stands", "heading_degrees", "height_metres", "repeats"})
    layer = Layer(
        **told,
        id=edit.layer,
        name=name,
        drawings=edit.drawings,
        place=edit.place,
        faces_camera=edit.faces_camera,
        attachments=attachments,
    )
    taken = [lane.id for lane in scene.lanes]
    if edit.lane in taken:
        raise Refusal("A lane with that id is in the scene already.")
    lane = Lane(
        id=edit.lane or free_id("lane", taken),
        name="Drawings",
        target=LayerTarget(layer=layer.id),
        gap="rest",
    )
    update = {"layers": (*scene.layers, layer), "lanes": (lane, *scene.lanes)}
    done = scene.model_copy(update=update)
    if edit.run is not None:
        stint = _stint(done, edit, edit.run, material)
        done = with_lane(done, ordered(lane, (stint,), material))
    return Edited(done, f"Add {name}")


def _stint(scene: Scene, edit: AddLayer, run_id: str, material: Material) -> Stint:
    source = RunSource(id=run_id)
    performance = material.drawings(source)
    if material.runs[run_id].run.drawings != edit.drawings:
        raise Refusal(f"The run “{performance.name}” has other drawings.")
    start = nearest_frame(max(0.0, edit.start))
    if start >= scene.laid_frames:
        raise Refusal("The scene does not play at that frame.")
    length = scene.laid_frames - start
    if not performance.is_cycle:
        own = nearest_frame(performance.length_frames / conform(performance, scene))
        length = max(LEAST_FRAMES, own)
    return Stint(
        id=free_id("stint", [stint.id for stint in scene.stints]),
        source=source,
        start=start,
        length_frames=length,
    )


def ridden_on(scene: Scene, to: str, joint: str | None, material: Material) -> str:
    """What a layer is to ride on, in words. Raises Refusal where there is no such joint or guide."""
    if joint is None:
        return scene.guide(to).name
    other = scene.figure(to)
    material.figure(other.figure).place_of(joint)
    return f"{other.name}’s {spoken(joint).lower()}"


def _with(scene: Scene, layer: Layer) -> Scene:
    layers = tuple(layer if other.id == layer.id else other for other in scene.layers)
    return scene.model_copy(update={"layers": layers})


def _set(scene: Scene, edit: SetLayer, material: Material) -> Edited:
    layer = scene.layer(edit.layer)
    changes: dict[str, Any] = {
        name: getattr(edit, name)
        for name in type(edit).model_fields
        if name not in ("kind", "layer") and getattr(edit, name) is not None
    }
    moved = {} if edit.stands is None else _moved(layer, edit.stands, material)
    changed = layer.model_copy(update=moved | changes)
    if edit.name is not None:
        return Edited(_with(scene, changed), f"Rename {layer.name} to {edit.name}")
    return Edited(_with(scene, changed), f"{layer.name}: {_said(changes)}")


def _moved(layer: Layer, stands: Stands, material: Material) -> dict[str, Any]:
    """Where a layer is when it leaves the stage for the picture, or the picture for the stage."""
    if (layer.stands in ON_PICTURE) == (stands in ON_PICTURE):
        return {}
    if stands not in ON_PICTURE:
        return {"place": (0.0, 0.0, 0.0)}
    x, y = material.drawing_set(layer.drawings).middle
    return {"place": (-x, -y, 0.0), "height_metres": 1.0, "attachments": ()}


def _said(changes: dict[str, Any]) -> str:
    words = []
    for name, value in changes.items():
        if name == "stands":
            words.append(f"stands {_STANDS[value]}")
        else:
            word = _SAYS[name].format(value)
            words.append(f"not {word}" if value is False else word)
    return ", ".join(words)


def _opacity(scene: Scene, edit: KeyOpacity, material: Material) -> Edited:
    layer = scene.layer(edit.layer)
    if not 0 <= edit.frame < scene.laid_frames:
        raise Refusal("The scene does not play at that frame.")
    at = edit.frame + scene.first_frame
    if edit.opacity is None:
        place = None if layer.opacity is None else layer.opacity.place_of(edit.frame)
        if layer.opacity is None or place is None:
            raise Refusal(f"{layer.name} has no key of its opacity there.")
        left = layer.opacity.without(frozenset({place}))
        done = _with(scene, layer.model_copy(update={"opacity": left}))
        return Edited(done, f"Delete an opacity key of {layer.name} at {at:g}")
    key = Key(time=edit.frame, value=edit.opacity)
    curve = layer.opacity or Curve(keys=(key,))
    keyed = layer.model_copy(update={"opacity": curve.with_value(edit.frame, edit.opacity)})
    return Edited(_with(scene, keyed), f"{layer.name} {round(100 * edit.opacity)} % at {at:g}")


def _ride(scene: Scene, edit: RideLayer, material: Material) -> Edited:
    layer = scene.layer(edit.layer)
    what = ridden_on(scene, edit.to, edit.joint, material)
    if not 0 <= edit.start < scene.laid_frames:
        raise Refusal("The scene does not play at that frame.")
    if edit.end is not None and edit.end <= edit.start:
        raise Refusal("A ride ends after it starts.")
    kept = [own for own in layer.attachments if own.start < edit.start]
    kept = [
        own
        if own.end is not None and own.end <= edit.start
        else own.model_copy(update={"end": edit.start})
        for own in kept
    ]
    ride = Attachment(
        id=free_id("ride", [own.id for own in kept]),
        to=edit.to,
        joint=edit.joint,
        start=edit.start,
        end=edit.end,
        offset=edit.offset,
        turns=edit.turns,
    )
    done = layer.model_copy(update={"attachments": (*kept, ride)})
    return Edited(_with(scene, done), f"{layer.name} rides on {what}")


def _let_off(scene: Scene, edit: LetLayerOff, material: Material) -> Edited:
    layer = scene.layer(edit.layer)
    if not layer.attachments:
        raise Refusal(f"{layer.name} rides on nothing.")
    done = layer.model_copy(update={"attachments": ()})
    return Edited(_with(scene, done), f"Let {layer.name} off")


def _remove(scene: Scene, edit: RemoveLayer, material: Material) -> Edited:
    layer = scene.layer(edit.layer)
    update = {
        "layers": tuple(other for other in scene.layers if other.id != layer.id),
        "lanes": tuple(lane for lane in scene.lanes if lane.target != LayerTarget(layer=layer.id)),
    }
    return Edited(scene.model_copy(update=update), f"Take {layer.name} away")


RULES: Rules = {
    AddLayer: _add,
    SetLayer: _set,
    KeyOpacity: _opacity,
    RideLayer: _ride,
    LetLayerOff: _let_off,
    RemoveLayer: _remove,
}
