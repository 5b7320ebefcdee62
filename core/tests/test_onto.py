"""Rule 6.7: a take onto a figure whose rest pose is another."""

from dataclasses import replace

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.arrays import Array
from elastic_core.capture.onto import (
    Onto,
    as_planted,
    held_on,
    onto_figure,
    proposed_rest_frame,
)
from elastic_core.capture.plants import found_plants, worst_slide
from elastic_core.figure import Figure, forward
from elastic_core.fit import Alignment, fit, retarget
from elastic_core.motion import Motion

from .captures import FIGURE, FPS, errors_degrees, walking

ARMS = ("LeftShoulder", "LeftElbow", "RightShoulder", "RightElbow")


def arms_out() -> Figure:
    """The mannequin with its arms straight out where it rests."""
    joints = []
    for joint in FIGURE.joints:
        offset = joint.offset
        if joint.name in ("LeftElbow", "LeftWrist", "RightElbow", "RightWrist"):
            length = float(np.linalg.norm(offset))
            offset = (length if joint.name.startswith("Left") else -length, 0.0, 0.0)
        joints.append(joint.model_copy(update={"offset": offset}))
    return FIGURE.model_copy(update={"joints": tuple(joints), "name": "Suit"})


SUIT = arms_out()


def on_the_suit(motion: Motion) -> Motion:
    """The same moves as the suit would have captured them: arms down from out at its sides."""
    done = retarget(FIGURE, motion, SUIT, fit(FIGURE, SUIT).mapping())
    return done


def calibrating(motion: Motion, frames: int = 60) -> Motion:
    """The suit stands with its arms out before it walks."""
    still = motion.at(np.zeros(frames, dtype=np.intp))
    rotations = still.rotations.copy(order="F")
    rotations[..., 1:] = 0.0
    rotations[..., 0] = 1.0
    stood = replace(still, rotations=rotations)
    return Motion(
        np.asfortranarray(np.concatenate([stood.travel, motion.travel])),
        np.asfortranarray(np.concatenate([stood.root_move, motion.root_move])),
        np.asfortranarray(np.concatenate([stood.rotations, motion.rotations])),
    )


def bones(figure: Figure, motion: Motion, names: tuple[str, ...]) -> Array:
    """Directions from joints to the first that hangs on each. [frames, bones, 3]."""
    placed = forward(figure, motion).positions
    ways = []
    for name in names:
        place = figure.place_of(name)
        below = figure.parents.index(place)
        way = placed[:, below] - placed[:, place]
        ways.append(way / np.linalg.norm(way, axis=-1, keepdims=True))
    return np.stack(ways, axis=1)


LIMBS = (*ARMS, "LeftHip", "LeftKnee", "RightHip", "RightKnee")


def test_bone_directions_agree_in_the_frame_that_is_the_rest_pose_and_in_every_other() -> None:
    # Captured by a figure that rests with its arms down, and stands so in frame 0 with arms out.
    motion = calibrating(on_the_suit(walking(300)))
    rest = motion.at(np.array([10]))
    onto = Onto(FIGURE, fit(SUIT, FIGURE).mapping(), rest)
    done = onto_figure(SUIT, motion, onto)
    apart = np.degrees(
        np.arccos(np.clip((bones(FIGURE, done, LIMBS) * bones(SUIT, motion, LIMBS)).sum(-1), -1, 1))
    )
    assert apart.max() < 0.01
    out = bones(FIGURE, done, ("LeftShoulder",))[10, 0]
    assert out == pytest.approx([1, 0, 0], abs=1e-6)


def test_another_rest_frame_gives_other_shoulders() -> None:
    motion = calibrating(on_the_suit(walking(100)))
    mapping = fit(SUIT, FIGURE).mapping()
    right = onto_figure(SUIT, motion, Onto(FIGURE, mapping, motion.at(np.array([10]))))
    wrong = onto_figure(SUIT, motion, Onto(FIGURE, mapping, motion.at(np.array([150]))))
    same = bones(FIGURE, right, ARMS)[100] * bones(FIGURE, wrong, ARMS)[100]
    assert np.degrees(np.arccos(np.clip(same.sum(-1), -1, 1))).max() < 0.01
    # Bones agree either way; how they are turned about themselves does not.
    assert errors_degrees(right, wrong)[100].max() > 1


def test_a_joint_is_corrected_by_degrees_about_its_own_axes() -> None:
    motion = on_the_suit(walking(60))
    mapping = fit(SUIT, FIGURE).mapping()
    plain = onto_figure(SUIT, motion, Onto(FIGURE, mapping))
    turned = onto_figure(
        SUIT, motion, Onto(FIGURE, mapping, corrections={"Head": (0.0, 15.0, 0.0)})
    )
    off = errors_degrees(turned, plain)
    head = FIGURE.place_of("Head")
    assert off[:, head] == pytest.approx(15.0, abs=1e-6)
    others = [place for place in range(len(FIGURE.names)) if place != head]
    assert off[:, others].max() < 1e-6


def test_travel_and_height_go_by_leg_length_and_planted_feet_slide_less_than_a_centimetre() -> None:
    small = FIGURE.model_copy(
        update={
            "joints": tuple(
                joint.model_copy(update={"offset": tuple(0.6 * v for v in joint.offset)})
                for joint in FIGURE.joints
            )
        }
    )
    motion = walking(600)
    plants = found_plants(FIGURE, motion, FPS)
    carried = onto_figure(FIGURE, motion, Onto(small, fit(FIGURE, small).mapping()))
    assert carried.travel[-1, :2] == pytest.approx(0.6 * motion.travel[-1, :2], abs=1e-9)
    held, own, lowered = held_on(small, carried, plants, FPS)
    slide = worst_slide(small, held, own)
    assert slide is not None
    assert slide.amount < 0.1
    assert lowered < 1.0
    assert len(own) == len(plants)


def test_a_figure_that_would_float_is_set_on_the_ground() -> None:
    motion = walking(300)
    floating = replace(motion, root_move=motion.root_move + np.array([0.0, 0.25, 0.0]))
    plants = found_plants(FIGURE, motion, FPS)
    held, own, _ = held_on(FIGURE, floating, plants, FPS)
    assert np.abs(held.root_move[:, 1] - motion.root_move[:, 1]).max() < 0.02
    assert {plant.joint for plant in own} == {"LeftAnkle", "RightAnkle"}


def test_plants_go_over_to_the_feet_of_the_same_sides() -> None:
    renamed = FIGURE.model_copy(
        update={
            "joints": tuple(
                joint.model_copy(
                    update={"name": joint.name.replace("Ankle", "Foot"), "mirror": None}
                )
                for joint in FIGURE.joints
            )
        }
    )
    motion = walking(300)
    plants = found_plants(FIGURE, motion, FPS)
    own = as_planted(renamed, motion, plants)
    assert [(p.side, p.start, p.end) for p in own] == [(p.side, p.start, p.end) for p in plants]
    assert {p.joint for p in own} == {"LeftFoot", "RightFoot"}


def test_hands_go_to_the_same_place_beside_the_body() -> None:
    short = FIGURE.model_copy(
        update={
            "joints": tuple(
                joint.model_copy(update={"offset": tuple(1.25 * v for v in joint.offset)})
                if joint.name in ("LeftElbow", "LeftWrist", "RightElbow", "RightWrist")
                else joint
                for joint in FIGURE.joints
            )
        }
    )
    motion = walking(120)
    mapping = fit(FIGURE, short).mapping()
    plain = onto_figure(FIGURE, motion, Onto(short, mapping))
    there = onto_figure(FIGURE, motion, Onto(short, mapping, hands=True))
    hand = FIGURE.place_of("LeftWrist")
    truth = forward(FIGURE, motion).positions
    wanted = truth[:, hand] - truth[:, 0]

    def off(done: Motion) -> float:
        placed = forward(short, done).positions
        return float(np.linalg.norm(placed[:, hand] - placed[:, 0] - wanted, axis=-1).max())

    assert off(plain) > 0.05
    assert off(there) < 0.001


def test_a_calibration_pose_is_proposed_where_one_is_stood_in() -> None:
    motion = calibrating(on_the_suit(walking(600)), frames=90)
    proposed = proposed_rest_frame(SUIT, motion, FPS)
    assert proposed is not None
    assert proposed < 90
    assert proposed_rest_frame(SUIT, on_the_suit(walking(600)), FPS) is None


def test_without_a_named_frame_the_skeletons_rest_poses_count() -> None:
    motion = walking(60)
    mapping = fit(FIGURE, FIGURE).mapping()
    own = retarget(FIGURE, motion, FIGURE, mapping)
    named = retarget(FIGURE, motion, FIGURE, mapping, Alignment(FIGURE.rest_motion))
    assert errors_degrees(own, motion).max() < 1e-6
    assert np.degrees(rotation.angle_between(own.rotations, named.rotations)).max() < 1e-6
