"""A figure rides on a joint of another one as that is played (rule 7.5)."""

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.arrays import Array
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.attaching import AttachFigure, DetachFigure, SetAttachment
from elastic_core.scene.edits.elastics import AddPin, SetPin, SlowRange
from elastic_core.scene.edits.exposures import Expose
from elastic_core.scene.edits.figures import RemoveFigure, SetMark
from elastic_core.scene.evaluate import figure_motion, frames_of

from .motions import material, once_clip, scene_of, small_figure, turning_cycle

MATERIAL = material(turning_cycle(length=20), once_clip(100))
WALK = Stint(id="walk", source=ClipSource(id="Round"), start=0, length_frames=120)
FLICKER = Stint(id="flicker", source=ClipSource(id="Round"), start=0, length_frames=200)
FLAME = SceneFigure(id="f", name="Flame", figure="keeper", mark=(0.4, 0.2, 0.3))
LANE = Lane(id="flame", name="Body", target=BodyTarget(figure="f"), stints=(FLICKER,))
ALONE = scene_of([WALK])
SCENE = ALONE.model_copy(update={"figures": (*ALONE.figures, FLAME), "lanes": (*ALONE.lanes, LANE)})
HEAD = small_figure().place_of("head")
RIDE = AttachFigure(attachment="t", figure="f", to="k", joint="head", start=30)


def edited(scene: Scene, *edits: SceneEdit) -> Scene:
    for edit in edits:
        scene = apply_edit(scene, edit, MATERIAL).scene
    return scene


def seen(scene: Scene, frames: Array) -> tuple[Array, Array, Array, Array]:
    """The head of whom it rides on, and the root of who rides: places and turns."""
    on, rider = frames_of(scene, MATERIAL, frames)
    return (
        on.placed.positions[:, HEAD],
        on.placed.rotations[:, HEAD],
        rider.placed.positions[:, 0],
        rider.placed.rotations[:, 0],
    )


def in_the_joint(scene: Scene, frames: Array) -> Array:
    """Where the rider's mark is, as the joint has it: its own motion taken out. [n, 3]"""
    on, turn, root, root_turn = seen(scene, frames)
    own = frames_of(edited(scene, DetachFigure(figure="f", attachment="t")), MATERIAL, frames)[1]
    x, z, heading = scene.figure("f").mark
    about = rotation.about_axis("Y", np.full(len(frames), heading))
    still = own.placed.positions[:, 0] - np.array([x, 0, z])
    # The carrier's turn is what the rider's root has over its own.
    carrier = rotation.multiply(
        root_turn,
        rotation.conjugate(
            rotation.multiply(rotation.conjugate(about), own.placed.rotations[:, 0])
        ),
    )
    origin = root - rotation.rotate(carrier, rotation.rotate(rotation.conjugate(about), still))
    return rotation.rotate(rotation.conjugate(turn), origin - on)


def test_attaching_in_the_middle_of_a_range_moves_nothing() -> None:
    ride = apply_edit(SCENE, RIDE, MATERIAL)
    assert ride.label == "Flame rides on Keeper’s head"
    frames = np.arange(31.0)
    for before, after in zip(
        frames_of(SCENE, MATERIAL, frames), frames_of(ride.scene, MATERIAL, frames), strict=True
    ):
        assert np.abs(before.placed.positions - after.placed.positions).max() < 1e-9
    later = seen(ride.scene, np.array([60.0]))[2] - seen(SCENE, np.array([60.0]))[2]
    assert np.linalg.norm(later) > 0.5


def test_it_follows_through_three_nested_elastics_and_an_exposure() -> None:
    bent = edited(
        SCENE,
        RIDE,
        AddPin(stint="walk", played=60),
        SetPin(stint="walk", pin=1, played=80),
        SlowRange(start=50, end=75, pace=0.35, ramp_frames=4),
        SlowRange(stint="flicker", start=40, end=60, pace=0.5),
        Expose(lane="lane", pattern=(2,)),
        Expose(lane="flame", pattern=(3,)),
    )
    frames = np.arange(40.0, 230.0)
    places = in_the_joint(bent, frames)
    assert np.abs(places - places[0]).max() < 1e-6
    # The joint is on twos, the flame's own flicker on threes.
    on = seen(bent, frames)[0]
    assert np.array_equal(on[0::2], on[1::2])
    plain = frames_of(edited(bent, DetachFigure(figure="f", attachment="t")), MATERIAL, frames)[1]
    at_two, same = plain.placed.rotations[2:5, HEAD], plain.placed.rotations[2, HEAD]
    assert np.array_equal(at_two, np.tile(same, (3, 1)))


def test_zeroed_its_root_comes_to_the_joint() -> None:
    zeroed = edited(SCENE, RIDE.model_copy(update={"keeps_offset": False}))
    on, _, root, _ = seen(zeroed, np.array([30.0]))
    assert np.abs(on - root).max() < 1e-9


def test_place_only_leaves_its_own_turn() -> None:
    placed = edited(SCENE, RIDE.model_copy(update={"turns": False}))
    frames = np.arange(30.0, 90.0)
    turned = seen(placed, frames)[3]
    alone = seen(SCENE, frames)[3]
    # It turns as it did by itself, but for the sign.
    assert np.abs(np.abs((turned * alone).sum(axis=-1)) - 1).max() < 1e-9


def test_its_joints_and_its_motion_say_the_same() -> None:
    ride = edited(SCENE, RIDE)
    frames = np.arange(0.0, 120.0, 7)
    rider = frames_of(ride, MATERIAL, frames)[1]
    again = forward(MATERIAL.figure("keeper"), rider.motion)
    assert np.abs(again.positions - rider.placed.positions).max() < 1e-9
    alone = figure_motion(ride, MATERIAL, ride.figures[1], frames)
    assert np.array_equal(alone.rotations, rider.motion.rotations)


def test_rides_have_ranges_and_follow_each_other() -> None:
    ride = edited(SCENE, RIDE, SetAttachment(figure="f", attachment="t", end=70))
    frames = np.array([29.0, 70.0, 90.0])
    assert np.array_equal(seen(ride, frames)[2], seen(SCENE, frames)[2])
    second = RIDE.model_copy(update={"attachment": "u", "joint": "hips", "start": 50.0})
    both = edited(ride, second)
    assert [(own.id, own.start, own.end) for own in both.figures[1].attachments] == [
        ("t", 30, 50), ("u", 50, None),
    ]  # fmt: skip
    step = seen(both, np.array([49.999, 50.0]))[2]
    assert np.abs(step[0] - step[1]).max() < 1e-3
    # Whom it rides on may go elsewhere: it comes along.
    elsewhere = edited(both, SetMark(figure="k", mark=(5.0, 5.0, 0.0)))
    here, there = seen(both, np.array([60.0])), seen(elsewhere, np.array([60.0]))
    near, far = np.linalg.norm(here[0] - here[2]), np.linalg.norm(there[0] - there[2])
    assert near == pytest.approx(far, abs=1e-9)
    assert edited(both, RemoveFigure(figure="k")).figures[0].attachments == ()


def test_nobody_rides_on_himself() -> None:
    with pytest.raises(Refusal, match="Flame would ride on itself"):
        edited(SCENE, RIDE.model_copy(update={"to": "f"}))
    with pytest.raises(Refusal, match="would ride on itself"):
        edited(SCENE, RIDE, RIDE.model_copy(update={"attachment": "u", "figure": "k", "to": "f"}))
    with pytest.raises(Refusal, match="has no joint called “tail”"):
        edited(SCENE, RIDE.model_copy(update={"joint": "tail"}))
    with pytest.raises(Refusal, match="no longer rides there"):
        edited(SCENE, DetachFigure(figure="f", attachment="t"))
