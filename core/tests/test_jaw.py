"""A jaw driven by a laid line's mouths: fixes on a fix lane, whole where the mouth changes (rule 5.6)."""

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.arrays import Array
from elastic_core.errors import Refusal
from elastic_core.scene.document import Fix, Scene
from elastic_core.scene.edits import SceneEdit
from elastic_core.scene.edits.jaw import DriveJaw
from elastic_core.scene.edits.sounds import SetSoundLane
from elastic_core.scene.evaluate import frames_of
from elastic_core.voice.chart import Mouth, usual_mouths
from elastic_core.voice.openness import openness, openness_by_drawing

from .test_spoken_lanes import LAID, LAY, MATERIAL, SCENE, at_half, drawn, edited

FIGURE = MATERIAL.figures["keeper"]
JOINT = FIGURE.names[1]
DRIVE = DriveJaw(stint="says", joint=JOINT, degrees=20.0)
SHARES = openness_by_drawing(usual_mouths())


def degrees(scene: Scene) -> Array:
    """By how much the joint is turned about the figure's left and right beside the same scene without it,
    down where it is positive. [played frames]"""
    frames = np.arange(scene.played_frames, dtype=np.float64)
    place = FIGURE.place_of(JOINT)
    lanes = tuple(lane for lane in scene.lanes if lane.fixes is None)
    (with_it,) = frames_of(scene, MATERIAL, frames)
    (without,) = frames_of(scene.model_copy(update={"lanes": lanes}), MATERIAL, frames)
    turns = rotation.multiply(
        rotation.conjugate(without.motion.rotations[:, place]), with_it.motion.rotations[:, place]
    )
    found: Array = np.degrees(rotation.vector(turns))
    assert np.abs(found[:, 1:]).max() < 1e-6
    return found[:, 0]


def fixes(scene: Scene) -> list[Fix]:
    return [fix for lane in scene.lanes for fix in lane.fixes or ()]


def driven(scene: Scene, *edits: SceneEdit) -> Scene:
    return edited(scene, *(edits or (DRIVE,))).scene


def test_the_jaw_is_as_open_as_the_mouth_wherever_it_changes() -> None:
    shown = degrees(driven(LAID))
    changes = [k for k in range(1, 48) if drawn(k) != drawn(k - 1)]
    assert len(changes) >= 5
    for k in changes:
        assert shown[24 + k] == pytest.approx(20.0 * SHARES[drawn(k)], abs=1e-6)
    assert shown.max() == pytest.approx(20.0, abs=1e-6)
    # Shut before the line and after it.
    assert np.abs(shown[:22]).max() < 1e-9
    assert np.abs(shown[75:]).max() < 1e-9


def test_it_goes_straight_from_one_opening_to_the_next() -> None:
    shown = degrees(driven(LAID))
    changes = [0, *(k for k in range(1, 48) if drawn(k) != drawn(k - 1)), 48]
    for start, end in zip(changes, changes[1:], strict=False):
        own, after = (20.0 * SHARES[drawn(min(k, 47))] for k in (start, end))
        inside = shown[24 + start : 24 + end]
        steps = np.diff(np.append(inside, after))
        assert np.all(steps * np.sign(after - own) >= -1e-9)
        assert np.all((inside >= min(own, after) - 1e-9) & (inside <= max(own, after) + 1e-9))
    # Over one frame it is exactly the mouth's on every frame.
    stepped = degrees(driven(LAID, DRIVE.model_copy(update={"ease_frames": 1})))
    expected = [20.0 * SHARES[drawn(k)] for k in range(48)]
    assert np.allclose(stepped[24:72], expected, atol=1e-6)


def test_lips_that_meet_shut_it() -> None:
    stepped = degrees(driven(LAID, DRIVE.model_copy(update={"ease_frames": 1})))
    closed = [k for k in range(48) if drawn(k) == 2]
    assert closed
    assert np.abs(stepped[24 + np.array(closed)]).max() < 1e-9


def test_driven_again_the_old_fixes_make_room_and_others_stay() -> None:
    once = driven(LAID)
    other = Fix(id="own", at=200.0)
    lane = next(lane for lane in once.lanes if lane.fixes)
    with_own = once.model_copy(
        update={
            "lanes": tuple(
                one.model_copy(update={"fixes": (*(one.fixes or ()), other)})
                if one is lane
                else one
                for one in once.lanes
            )
        }
    )
    again = driven(with_own, DRIVE.model_copy(update={"degrees": 10.0}))
    assert len(again.lanes) == len(once.lanes)
    assert len(fixes(again)) == len(fixes(once)) + 1
    assert any(fix.id == "own" for fix in fixes(again))
    assert degrees(again).max() == pytest.approx(10.0, abs=1e-6)


def test_it_keeps_the_time_that_the_mouths_keep() -> None:
    stays = degrees(at_half(driven(LAID, DRIVE.model_copy(update={"ease_frames": 1}))))
    assert stays[24:72] == pytest.approx([20.0 * SHARES[drawn(k)] for k in range(48)], abs=1e-6)
    follows = edited(LAID, SetSoundLane(lane="voices", keeps_own_time=False)).scene
    half = degrees(at_half(driven(follows, DRIVE.model_copy(update={"ease_frames": 1}))))
    assert half[48:144:2] == pytest.approx(stays[24:72], abs=1e-6)


def test_a_stint_of_the_longest_id_is_driven_at_any_frame() -> None:
    own = "9f0c6f0e-6d8e-4a4b-9a52-0d6b1f6f2c11-xyz"
    assert len(own) == 40
    far = SCENE.model_copy(update={"laid_frames": 120_000, "played_frames": 120_000})
    laid = edited(far, LAY.model_copy(update={"start": 110_000, "stint": own})).scene
    made = fixes(driven(laid, DRIVE.model_copy(update={"stint": own})))
    assert len(made) >= 3
    assert all(110_000 <= fix.at < 110_048 and len(fix.id) <= 40 for fix in made)
    assert len({fix.id for fix in made}) == len(made)


def test_what_cannot_be_driven_is_told() -> None:
    for edit, says in (
        (DRIVE.model_copy(update={"joint": "no such joint"}), "has no joint called"),
        (DRIVE.model_copy(update={"joint": FIGURE.names[0]}), "choose the joint of its jaw"),
        (DRIVE.model_copy(update={"degrees": 0.0}), "how many degrees"),
        (DRIVE.model_copy(update={"stint": "gone"}), "no longer in the scene"),
    ):
        with pytest.raises(Refusal, match=says):
            edited(LAID, edit)
    with pytest.raises(Refusal):
        edited(SCENE, DRIVE)


def test_how_open_a_mouth_is() -> None:
    ours = {mouth.key: openness(mouth) for mouth in usual_mouths().mouths}
    assert ours["rest"] == ours["mbp"] == 0.0
    assert ours["mbp"] < ours["consonants"] < ours["e"] < ours["o"] < ours["ai"] == 1.0
    wide = Mouth(key="cry", drawing=1, name="Cry", phones=("AA", "M"))
    assert openness(wide) == 1.0
    assert openness(wide.model_copy(update={"size": "small"})) == pytest.approx(0.6)
    assert openness(wide.model_copy(update={"size": "shouted"})) == 1.0
    assert openness(Mouth(key="smirk", drawing=2, name="Smirk")) == 0.0
