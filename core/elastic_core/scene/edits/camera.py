"""Edits on the scene's camera: keyed as it is seen, at the playhead."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ...curve import Curve, Key, SpanKind
from ...errors import Refusal
from ...exposure import Exposure, Pattern
from ...exposure import said as said_exposure
from ...moments import lane_time
from ...quantities import Frame, PlaceMetres
from ..camera import (
    ANGLE,
    LEAST_ZOOM,
    LOOK,
    MOST_ZOOM,
    Aim,
    CameraChannel,
    CameraFrames,
    SceneCamera,
    angles,
    camera_at,
)
from ..document import Scene
from ..material import Material
from .base import Edit, Edited, Rules
from .keyed import (
    in_the_scene,
    keyed,
    moved_key,
    place_of_key,
    with_span,
    within_half_a_turn,
    without_key,
)

Degrees = Annotated[float, Field(ge=-36_000, le=36_000)]


class KeyCamera(Edit):
    """Key the camera at a laid frame: where it stands, what it looks at, its roll and its zoom. The first
    key sets it up."""

    kind: Literal["key_camera"] = "key_camera"
    frame: Frame
    eye: PlaceMetres
    look: PlaceMetres
    roll: Degrees = 0.0
    zoom: float = Field(default=1.0, ge=LEAST_ZOOM, le=MOST_ZOOM)


class SetCamera(Edit):
    """How it aims, its own time, its exposure; what is left out stays."""

    kind: Literal["set_camera"] = "set_camera"
    aim: Aim | None = None
    keeps_own_time: bool | None = None
    pattern: Pattern | None = None


class SetCameraKey(Edit):
    """A key at another frame, or another kind of the span after it."""

    kind: Literal["set_camera_key"] = "set_camera_key"
    frame: Frame
    to: Frame | None = None
    span: SpanKind | None = None


class RemoveCameraKey(Edit):
    kind: Literal["remove_camera_key"] = "remove_camera_key"
    frame: Frame


class RemoveCamera(Edit):
    kind: Literal["remove_camera"] = "remove_camera"


def _key(scene: Scene, edit: KeyCamera, material: Material) -> Edited:
    in_the_scene(scene, edit.frame)
    if np.linalg.norm(np.subtract(edit.look, edit.eye)) < 1e-3:
        raise Refusal("The camera looks at a place away from where it stands.")
    camera = scene.camera or SceneCamera(channels={})
    channels = keyed(camera.channels, edit.frame, _numbers(camera, edit))
    done = camera.model_copy(update={"channels": channels})
    at = f"{edit.frame + scene.first_frame:g}"
    label = f"Key the camera at {at}" if scene.camera else f"Set up the camera at {at}"
    return Edited(scene.model_copy(update={"camera": done}), label)


def _numbers(camera: SceneCamera, edit: KeyCamera) -> dict[CameraChannel, float]:
    x, y, z = edit.eye
    found: dict[CameraChannel, float] = {"x": x, "y": y, "z": z}
    if camera.aim == "look":
        found |= dict(zip(LOOK, edit.look, strict=True))
    else:
        pan, tilt = angles(np.array(edit.eye), np.array(edit.look))
        found["pan"] = within_half_a_turn(camera.channels.get("pan"), edit.frame, pan)
        found["tilt"] = tilt
    return found | {"roll": edit.roll, "zoom": edit.zoom}


def _standing(scene: Scene) -> SceneCamera:
    if scene.camera is None:
        raise Refusal("The scene has no camera yet: key one where you look from.")
    return scene.camera


def _set(scene: Scene, edit: SetCamera, material: Material) -> Edited:
    camera = _standing(scene)
    says = "The camera"
    if edit.keeps_own_time is not None:
        camera = camera.model_copy(update={"keeps_own_time": edit.keeps_own_time})
        says = f"The camera: {'its own' if edit.keeps_own_time else 'the scene’s'} time"
    if edit.pattern is not None:
        exposure = None if edit.pattern == (1,) else Exposure(pattern=edit.pattern)
        camera = camera.model_copy(update={"exposure": exposure})
        says = f"The camera {said_exposure(edit.pattern)}"
    if edit.aim is not None and edit.aim != camera.aim:
        camera = _aimed(camera, edit.aim)
        says = "The camera looks at a point" if edit.aim == "look" else "The camera turns by angles"
    return Edited(scene.model_copy(update={"camera": camera}), says)


def _aimed(camera: SceneCamera, aim: Aim) -> SceneCamera:
    """The same keys told in the other way; between them it goes as that goes."""
    frames = camera.frames
    shown = camera_at(camera, lane_time(frames))
    gone = LOOK if aim == "angle" else ANGLE
    channels = {name: curve for name, curve in camera.channels.items() if name not in gone}
    columns = _as_angles(shown) if aim == "angle" else dict(zip(LOOK, shown.look.T, strict=True))
    spans = [key.span for key in camera.channels["x"].keys]
    for name, values in columns.items():
        channels[name] = Curve(
            keys=tuple(
                Key(time=time, value=float(value), span=span)
                for time, value, span in zip(frames, values, spans, strict=True)
            )
        )
    return camera.model_copy(update={"aim": aim, "channels": channels})


def _as_angles(shown: CameraFrames) -> dict[CameraChannel, np.ndarray]:
    both = [angles(eye, look) for eye, look in zip(shown.eye, shown.look, strict=True)]
    pans = np.degrees(np.unwrap(np.radians([pan for pan, _ in both])))
    return {"pan": pans, "tilt": np.array([tilt for _, tilt in both])}


def _set_key(scene: Scene, edit: SetCameraKey, material: Material) -> Edited:
    camera = _standing(scene)
    place = place_of_key(camera.channels, edit.frame, "The camera")
    channels = dict(camera.channels)
    notes: tuple[str, ...] = ()
    label = f"The camera: {edit.span} from {edit.frame + scene.first_frame:g}"
    if edit.span is not None:
        channels = with_span(channels, place, edit.span)
    if edit.to is not None:
        in_the_scene(scene, edit.to)
        channels, notes = moved_key(channels, place, edit.to)
        label = f"Move a key of the camera to {edit.to + scene.first_frame:g}"
    done = camera.model_copy(update={"channels": channels})
    return Edited(scene.model_copy(update={"camera": done}), label, notes)


def _remove_key(scene: Scene, edit: RemoveCameraKey, material: Material) -> Edited:
    camera = _standing(scene)
    place = place_of_key(camera.channels, edit.frame, "The camera")
    label = f"Delete the camera’s key at {edit.frame + scene.first_frame:g}"
    left = without_key(camera.channels, place)
    if not left:
        raise Refusal("It is the camera’s only key: take the camera away instead.")
    done = camera.model_copy(update={"channels": left})
    return Edited(scene.model_copy(update={"camera": done}), label)


def _remove(scene: Scene, edit: RemoveCamera, material: Material) -> Edited:
    _standing(scene)
    return Edited(scene.model_copy(update={"camera": None}), "Take the camera away")


RULES: Rules = {
    KeyCamera: _key,
    SetCamera: _set,
    SetCameraKey: _set_key,
    RemoveCameraKey: _remove_key,
    RemoveCamera: _remove,
}
