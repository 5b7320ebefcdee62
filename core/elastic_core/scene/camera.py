"""The scene's camera: where it stands, what it looks at, how it is turned and how near it brings (rule 1.9).

It goes by the scene's time, on ones unless told otherwise, so that a drawn look on twos is seen by an even
move.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..arrays import Array
from ..curve import Curve
from ..elastic import Elastic
from ..exposure import ON_ONES, Exposure
from ..frozen import Frozen
from ..moments import LaneTime, Played

Aim = Literal["look", "angle"]
CameraChannel = Literal["x", "y", "z", "look.x", "look.y", "look.z", "pan", "tilt", "roll", "zoom"]
PLACE: tuple[CameraChannel, ...] = ("x", "y", "z")
LOOK: tuple[CameraChannel, ...] = ("look.x", "look.y", "look.z")
ANGLE: tuple[CameraChannel, ...] = ("pan", "tilt")
LENS: tuple[CameraChannel, ...] = ("roll", "zoom")
LEAST_ZOOM, MOST_ZOOM = 0.05, 20.0
# What a camera by its angle looks at, when that has to be said, lies so far away.
LOOK_METRES = 5.0


class SceneCamera(Frozen):
    """A camera by curves over laid frames: its place in metres, and either the point that it looks at, or its
    `pan` (0 looks along z) and `tilt` in degrees; its `roll` in degrees, and its `zoom` (1: the house lens).

    All of its curves have keys at the same frames.
    """

    aim: Aim = "look"
    channels: Annotated[dict[CameraChannel, Curve], Field(max_length=10)]
    keeps_own_time: bool = False
    exposure: Exposure | None = None

    @property
    def frames(self) -> tuple[float, ...]:
        """The frames at which it has keys."""
        curve = self.channels.get("x")
        return () if curve is None else tuple(float(at) for at in curve.times)


@dataclass(frozen=True, eq=False)
class CameraFrames:
    """A camera at some moments: eye [n, 3] and look [n, 3] metres, roll [n] degrees, zoom [n]."""

    eye: Array
    look: Array
    roll: Array
    zoom: Array


def camera_at(camera: SceneCamera, time: LaneTime) -> CameraFrames:
    """A camera at these moments of its own time. [n]"""
    eye = _columns(camera, PLACE, time)
    if camera.aim == "look":
        look = _columns(camera, LOOK, time)
    else:
        pan, tilt = np.radians(_columns(camera, ANGLE, time)).T
        level = np.cos(tilt)
        ahead = np.stack([np.sin(pan) * level, np.sin(tilt), np.cos(pan) * level], axis=-1)
        look = eye + LOOK_METRES * ahead
    roll, zoom = _columns(camera, LENS, time).T
    return CameraFrames(eye, look, roll, np.clip(zoom, LEAST_ZOOM, MOST_ZOOM))


def camera_frames(camera: SceneCamera, elastic: Elastic, at: Played) -> CameraFrames:
    """A camera at these played frames, by its exposure and the scene's elastic. [n]"""
    shown = (camera.exposure or ON_ONES).sampled(at)
    if not camera.keeps_own_time:
        shown = elastic.source(shown)
    return camera_at(camera, LaneTime(shown))


def angles(eye: Array, look: Array) -> tuple[float, float]:
    """The pan and the tilt, in degrees, of one place that looks at another."""
    ahead = look - eye
    level = float(np.hypot(ahead[0], ahead[2]))
    pan = float(np.degrees(np.arctan2(ahead[0], ahead[2]))) if level > 1e-9 else 0.0
    return pan, float(np.degrees(np.arctan2(ahead[1], level)))


def _columns(camera: SceneCamera, names: tuple[CameraChannel, ...], time: LaneTime) -> Array:
    resting = {"zoom": 1.0}
    columns = [
        camera.channels[name].values(time)
        if name in camera.channels
        else np.full(len(time), resting.get(name, 0.0))
        for name in names
    ]
    return np.stack(columns, axis=-1)
