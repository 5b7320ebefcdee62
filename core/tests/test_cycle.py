"""Rules 1.2, 4.1 and 4.4."""

import dataclasses

import numpy as np
import pytest

from elastic_core import ground, rotation
from elastic_core.clip.playable import PlayableClip
from elastic_core.cycle.seam import seam_report
from elastic_core.cycle.travel import close_as_is, close_on_repeat, last_repeats_first
from elastic_core.figure import forward
from elastic_core.motion import Motion

from .motions import random_motion, small_figure, turning_cycle


def test_a_turning_walk_goes_round_in_a_circle() -> None:
    playable = turning_cycle(length=20, turn_degrees=30)
    rounds = playable.at(np.arange(0, 20 * 13, 20, dtype=float))
    # Twelve rounds of 30° come back to where they began.
    assert rounds.travel[12, :2] == pytest.approx(rounds.travel[0, :2], abs=1e-12)
    assert np.degrees(rounds.travel[12, 2] - rounds.travel[0, 2]) == pytest.approx(360)
    radius = np.linalg.norm(rounds.travel[:12, :2] - rounds.travel[:12, :2].mean(axis=0), axis=1)
    assert np.ptp(radius) < 1e-12


def test_each_round_starts_one_motion_further() -> None:
    playable = turning_cycle()
    period = np.array(playable.clip.period)
    first = playable.at(np.arange(20.0)).travel
    fifth = playable.at(np.arange(80.0, 100.0)).travel
    expected = ground.compose(ground.power(period, np.array(4.0)), first)
    assert np.abs(fifth - expected).max() < 1e-12


def test_frame_l_is_frame_0_one_round_on() -> None:
    playable = turning_cycle(length=20)
    poses = playable.at(np.array([0.0, 20.0, 19.999999]))
    assert np.array_equal(poses.rotations[1], poses.rotations[0])
    assert rotation.angle_between(poses.rotations[2], poses.rotations[0]).max() < 1e-5
    assert np.abs(poses.travel[2] - poses.travel[1]).max() < 1e-6


def test_going_backwards_past_the_start_works_too() -> None:
    playable = turning_cycle(length=20)
    back = playable.at(np.array([-1.0, 19.0]))
    assert np.array_equal(back.rotations[0], back.rotations[1])


def repeated(playable: PlayableClip) -> Motion:
    return playable.samples


def test_a_last_pose_that_repeats_the_first_makes_a_cycle_of_one_frame_less() -> None:
    figure, playable = small_figure(), turning_cycle(length=20)
    assert last_repeats_first(figure, repeated(playable))
    cycle = close_on_repeat(repeated(playable))
    assert cycle.length_frames == 20
    assert cycle.period == pytest.approx(playable.clip.period)


@pytest.mark.parametrize(("degrees", "repeats"), [(0.05, True), (0.2, False)])
def test_the_repeat_is_recognised_within_a_tenth_of_a_degree(degrees: float, repeats: bool) -> None:
    motion = repeated(turning_cycle())
    rotations = motion.rotations.copy(order="F")
    off = rotation.about_axis("X", np.radians(np.array([degrees])))
    rotations[-1, 4] = rotation.multiply(rotations[-1, 4:5], off)[0]
    changed = dataclasses.replace(motion, rotations=rotations)
    assert last_repeats_first(small_figure(), changed) is repeats


def test_closing_keeps_the_picture_and_steadies_the_path() -> None:
    figure, playable = small_figure(), turning_cycle(length=20)
    swaying = playable.samples.relaid(
        playable.samples.travel + 0.03 * np.sin(np.arange(21) / 20 * 2 * np.pi)[:, None]
    )
    cycle = close_on_repeat(swaying)
    before = forward(figure, swaying).positions
    after = forward(figure, cycle.motion).positions
    assert np.abs(before - after).max() < 1e-12
    # An even path: every step is the same planar motion.
    steps = ground.compose(ground.inverse(cycle.motion.travel[:-1]), cycle.motion.travel[1:])
    assert np.ptp(steps, axis=0).max() < 1e-12


def test_a_closed_cycle_is_reported_closed() -> None:
    report = seam_report(small_figure(), turning_cycle(length=24))
    assert report.grade == "closed"
    assert report.worst.gap_degrees < 1e-9


@pytest.mark.parametrize(("degrees", "grade"), [(0.3, "closed"), (3.0, "soft"), (8.0, "open")])
def test_a_gap_is_measured_at_the_joint_that_has_it(degrees: float, grade: str) -> None:
    playable = turning_cycle(length=24)
    rotations = playable.samples.rotations.copy(order="F")
    off = rotation.about_axis("X", np.radians(np.array([degrees])))
    rotations[-1, 4] = rotation.multiply(rotations[-1, 4:5], off)[0]
    broken = dataclasses.replace(playable.samples, rotations=rotations)
    report = seam_report(small_figure(), PlayableClip(playable.clip, broken))
    assert report.worst.joint == "r_knee"
    assert report.worst.gap_degrees == pytest.approx(degrees, abs=1e-9)
    assert report.grade == grade


def test_a_hitch_without_a_gap_is_found_in_the_velocity() -> None:
    playable = turning_cycle(length=24)
    # There and back at a constant speed: poses meet at the seam, speeds do not.
    degrees = np.zeros((25, 5, 3))
    degrees[:, 1, 0] = 3 * np.abs(12 - np.arange(25))
    turning = rotation.from_axes("XYZ", degrees)
    motion = dataclasses.replace(playable.samples, rotations=np.asfortranarray(turning))
    smooth_inside = PlayableClip(playable.clip, motion)
    report = seam_report(small_figure(), smooth_inside)
    # The same turn stands at frame 12, so the seam is no worse than the motion itself.
    assert report.worst.gap_degrees_per_frame < 1e-6
    ramp = degrees.copy()
    phase = np.arange(25) / 24
    ramp[:, 1, 0] = 40 * (phase - phase**2)
    kinked = dataclasses.replace(
        playable.samples, rotations=np.asfortranarray(rotation.from_axes("XYZ", ramp))
    )
    report = seam_report(small_figure(), PlayableClip(playable.clip, kinked))
    assert report.worst.joint == "spine"
    # The slope of 40(p − p²) falls from −40 to +40 in one round of 24 frames.
    assert report.worst.gap_degrees_per_frame == pytest.approx(80 / 24, rel=0.02)


def test_a_walk_without_its_repeat_is_closed_as_it_is() -> None:
    playable = turning_cycle(length=24)
    shown = playable.samples.at(np.arange(24))
    cycle = close_as_is(shown)
    assert cycle.length_frames == 24
    assert cycle.period == pytest.approx(playable.clip.period, abs=0.02)
    wandering = close_as_is(random_motion(24))
    clip = playable.clip.model_copy(update={"period": wandering.period})
    assert seam_report(small_figure(), PlayableClip(clip, wandering.motion)).grade == "open"
