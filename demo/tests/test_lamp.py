"""“Sc 05 The lamp is lit”: exposures, a ride and slow motion in one scene, to the bit (1.8, 1.9, 7.5)."""

import numpy as np
import pytest

from demo.lamp import POLE_TIP
from demo.production import demo
from elastic_core import rotation
from elastic_core.clock import Span
from elastic_core.elastic import Elastic
from elastic_core.exposure import Exposure
from elastic_core.scene.checks import marks_of
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.elastics import SlowRange
from elastic_core.scene.evaluate import FigureFrames, camera_of, frames_of

DEMO = demo()
SCENE, MATERIAL = DEMO.lamp, DEMO.material
FRAMES = np.arange(48.0) + 30


def seen(scene: Scene, frames: np.ndarray) -> dict[str, FigureFrames]:
    return {shown.figure.id: shown for shown in frames_of(scene, MATERIAL, frames)}


def on_ones(scene: Scene) -> Scene:
    lanes = tuple(lane.model_copy(update={"exposure": Exposure()}) for lane in scene.lanes)
    figures = tuple(member.model_copy(update={"attachments": ()}) for member in scene.figures)
    return scene.model_copy(update={"lanes": lanes, "figures": figures})


def test_odo_on_twos_the_flame_on_threes_the_camera_on_ones_over_48_frames() -> None:
    shown = seen(SCENE, FRAMES)
    plain = on_ones(SCENE)
    twos = seen(plain, 2 * np.floor(FRAMES / 2))["odo"]
    assert np.array_equal(shown["odo"].placed.positions, twos.placed.positions)
    assert np.array_equal(shown["odo"].motion.rotations, twos.motion.rotations)
    threes = seen(plain, 3 * np.floor(FRAMES / 3))["flame"]
    own = shown["flame"].motion
    assert np.array_equal(own.rotations[:, 1:], threes.motion.rotations[:, 1:])
    assert np.array_equal(own.scales[2], threes.motion.scales[2])
    camera = camera_of(SCENE, FRAMES)
    assert camera is not None
    assert (np.abs(np.diff(camera.eye[:, 0])) > 0).all()
    gull = seen(plain, FRAMES)["gull"]
    assert np.array_equal(shown["gull"].placed.positions, gull.placed.positions)


def test_the_flame_stays_at_the_tip_of_the_pole_through_everything_above_it() -> None:
    bent = apply_edit(
        SCENE, SlowRange(stint="lights", start=40, end=60, pace=0.6, ramp_frames=2), MATERIAL
    ).scene
    for scene in (SCENE, bent):
        frames = np.arange(float(scene.played_frames))
        shown = seen(scene, frames)
        pole = MATERIAL.figure("odo").place_of("pole")
        on = shown["odo"].placed
        tip = on.positions[:, pole] + rotation.rotate(on.rotations[:, pole], np.array(POLE_TIP))
        assert np.abs(shown["flame"].placed.positions[:, 0] - tip).max() < 1e-6


def test_the_moment_plays_at_35_percent_camera_and_flame_included() -> None:
    straight = SCENE.model_copy(update={"elastic": Elastic(), "played_frames": SCENE.laid_frames})
    edit = SlowRange(start=44, end=69, pace=0.35, ramp_frames=4)
    slow = apply_edit(straight, edit, MATERIAL).scene
    assert (slow.laid_frames, slow.played_frames) == (120, 159)
    every = np.arange(159.0)
    assert np.abs(slow.elastic.source(every) - SCENE.elastic.source(every)).max() < 1e-9
    before, after = (
        camera_of(straight, np.array([50.0, 100])),
        camera_of(slow, np.array([0.0, 139])),
    )
    assert before is not None
    assert after is not None
    assert after.eye[1] == pytest.approx(before.eye[1], abs=1e-9)
    flame = seen(on_ones(slow), np.array([139.0]))["flame"].placed.positions
    laid = seen(on_ones(straight), np.array([100.0]))["flame"].placed.positions
    assert np.abs(flame - laid).max() < 1e-9


@pytest.mark.parametrize("lane", ["odo-body", "gull-body"])
def test_its_check_strips_are_empty(lane: str) -> None:
    assert marks_of(SCENE, MATERIAL, SCENE.lane(lane), Span(0, SCENE.laid_frames)) == []
