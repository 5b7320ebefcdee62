"""The scene's camera: keyed as it is seen, on ones, in the scene's time (rule 1.9)."""

import numpy as np
import pytest

from elastic_core.errors import Refusal
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.scene.camera import CameraFrames
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.camera import (
    KeyCamera,
    RemoveCamera,
    RemoveCameraKey,
    SetCamera,
    SetCameraKey,
)
from elastic_core.scene.edits.elastics import SlowRange
from elastic_core.scene.edits.exposures import Expose
from elastic_core.scene.evaluate import camera_of

from .motions import material, scene_of, turning_cycle

MATERIAL = material(turning_cycle())
FIRST = KeyCamera(frame=0, eye=(0.0, 1.5, 6.0), look=(0.0, 1.0, 0.0))
SECOND = KeyCamera(frame=40, eye=(6.0, 1.5, 0.0), look=(0.0, 1.0, 0.0), zoom=2.0, roll=8.0)


def edited(*edits: SceneEdit) -> Scene:
    scene = scene_of([])
    for edit in edits:
        scene = apply_edit(scene, edit, MATERIAL).scene
    return scene


def seen(scene: Scene, *frames: float) -> CameraFrames:
    found = camera_of(scene, np.array(frames))
    assert found is not None
    return found


def test_a_key_is_what_was_seen_and_between_two_it_goes_over() -> None:
    done = apply_edit(scene_of([]), FIRST, MATERIAL)
    assert done.label == "Set up the camera at 1"
    both = apply_edit(done.scene, SECOND, MATERIAL)
    assert both.label == "Key the camera at 41"
    shown = seen(both.scene, 0, 20, 40, 90)
    assert shown.eye.tolist() == [[0, 1.5, 6], [3, 1.5, 3], [6, 1.5, 0], [6, 1.5, 0]]
    assert shown.look.tolist() == [[0, 1, 0]] * 4
    assert shown.zoom.tolist() == [1, 1.5, 2, 2]
    assert shown.roll.tolist() == pytest.approx([0, 4, 8, 8])
    assert camera_of(scene_of([]), np.arange(3.0)) is None


def test_by_angles_it_turns_and_keeps_its_keys() -> None:
    scene = edited(FIRST, SECOND, SetCamera(aim="angle"))
    camera = scene.camera
    assert camera is not None
    assert set(camera.channels) == {"x", "y", "z", "pan", "tilt", "roll", "zoom"}
    # From straight back (180°) to left, over a quarter of a turn and not three.
    assert camera.channels["pan"].values_of_keys.tolist() == pytest.approx([180, 270])
    shown = seen(scene, 0, 20, 40)
    ahead = shown.look - shown.eye
    ahead /= np.linalg.norm(ahead, axis=-1)[:, None]
    assert ahead[0] == pytest.approx(np.array([0, -0.5, -6]) / np.hypot(6, 0.5))
    assert ahead[1][[0, 2]] == pytest.approx(-np.sqrt(0.5) * np.hypot(*ahead[1][[0, 2]]))
    back = seen(edited(FIRST, SECOND, SetCamera(aim="angle"), SetCamera(aim="look")), 0, 40)
    there = (back.look - back.eye)[1]
    assert there / np.linalg.norm(there) == pytest.approx(ahead[2])


def test_it_goes_by_the_scene_on_ones_whatever_the_figures_are_on() -> None:
    """Rule 1.9, and 1.8: slow motion slows it; the scene on twos leaves it on ones, unless told."""
    slow = edited(FIRST, SECOND, SlowRange(start=10, end=30, pace=0.5), Expose(pattern=(2,)))
    shown = seen(slow, *range(60)).eye[:, 0]
    plain = seen(edited(FIRST, SECOND), *np.arange(10, 30, 0.5)).eye[:, 0]
    assert shown[10:50] == pytest.approx(plain)
    assert (np.diff(shown[:50]) > 0).all()
    twos = apply_edit(slow, SetCamera(pattern=(2,)), MATERIAL)
    assert twos.label == "The camera on twos"
    held = seen(twos.scene, *range(48)).eye
    assert np.array_equal(held[0::2], held[1::2])
    own = apply_edit(slow, SetCamera(keeps_own_time=True), MATERIAL).scene
    assert np.array_equal(seen(own, 20).eye, seen(edited(FIRST, SECOND), 20).eye)
    ones = apply_edit(twos.scene, SetCamera(pattern=(1,)), MATERIAL).scene
    assert ones.camera is not None
    assert ones.camera.exposure is None


def test_keys_move_change_their_kind_and_go() -> None:
    scene = edited(FIRST, SECOND, SetCameraKey(frame=40, to=20), SetCameraKey(frame=0, span="hold"))
    assert seen(scene, 19, 20).eye[:, 0].tolist() == [0, 6]
    desk = desk_of(scene, MATERIAL).camera
    assert desk is not None
    assert [(key.frame, key.span, key.zoom) for key in desk.keys] == [
        (0, "hold", 1),
        (20, "eased", 2),
    ]
    over = apply_edit(scene, SetCameraKey(frame=20, to=0), MATERIAL)
    assert over.notes == ("It takes the place of the key that was there.",)
    left = apply_edit(scene, RemoveCameraKey(frame=0), MATERIAL).scene
    with pytest.raises(Refusal, match="only key: take the camera away"):
        apply_edit(left, RemoveCameraKey(frame=20), MATERIAL)
    assert apply_edit(left, RemoveCamera(), MATERIAL).scene.camera is None


def test_what_no_camera_can_do_is_told() -> None:
    with pytest.raises(Refusal, match="has no camera yet"):
        edited(SetCamera(aim="angle"))
    with pytest.raises(Refusal, match="has no key there"):
        edited(FIRST, SetCameraKey(frame=7, to=9))
    with pytest.raises(Refusal, match="away from where it stands"):
        edited(FIRST.model_copy(update={"look": FIRST.eye}))
    with pytest.raises(Refusal, match="does not play at that frame"):
        edited(FIRST.model_copy(update={"frame": 900.0}))


def test_it_goes_out_with_the_frames() -> None:
    scene = edited(FIRST, SECOND)
    packed = pack_frames([], {}, camera=camera_of(scene, np.arange(4.0)))
    assert b'"camera":{"dtype":"F32","shape":[4,8]' in packed
