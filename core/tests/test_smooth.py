"""Rule 6.2: noise taken out without lag, and peaks kept."""

from fractions import Fraction

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.capture.smooth import limb_joints, low_pass, roughness_degrees, smoothed

from .captures import FIGURE, FPS, errors_degrees, noisy, walking


def rms(values: np.ndarray) -> float:
    return float(np.sqrt((values**2).mean()))


def test_the_error_against_the_clean_motion_falls_by_60_per_cent() -> None:
    truth = walking(1200)
    take = noisy(truth, 0.5)
    done = smoothed(FIGURE, take, FPS, 6.0, 9.5)
    before, after = (errors_degrees(motion, truth)[:, 1:] for motion in (take, done))
    # Toes flick faster than any cut-off that takes noise out; all else is told as it is.
    body = [k - 1 for k, joint in enumerate(FIGURE.names) if k and "Toe" not in joint]
    assert rms(after[:, body]) < 0.4 * rms(before[:, body])


def test_the_peaks_of_a_hurry_lose_less_than_2_per_cent() -> None:
    truth = walking(1200, "hurry", 120, 45)
    done = smoothed(FIGURE, truth, FPS, 6.0, 9.5)
    for joint in ("LeftHip", "RightShoulder", "Chest", "LeftElbow"):
        place = FIGURE.place_of(joint)
        was, now = (rotation.vector(m.rotations[200:1000, place]) for m in (truth, done))
        axis = int(np.ptp(was, axis=0).argmax())
        assert np.ptp(now[:, axis]) > 0.98 * np.ptp(was[:, axis])


def test_there_is_no_phase_shift() -> None:
    truth = walking(1200)
    done = smoothed(FIGURE, noisy(truth, 0.5), FPS, 6.0)
    place = FIGURE.place_of("LeftShoulder")
    was, now = (rotation.vector(m.rotations[100:1100, place])[:, 0] for m in (truth, done))
    # What the shift has to be for the slope to explain the difference, in frames.
    slope = np.gradient(was)
    assert abs(float(slope @ (now - was) / (slope @ slope))) < 0.05


def test_3_db_are_gone_at_the_cut_off_run_both_ways() -> None:
    time = np.arange(2400) / 120
    wave = np.sin(2 * np.pi * 6.0 * time)[:, None]
    done = low_pass(wave, FPS, 6.0)[600:1800]
    assert np.sqrt(2) * rms(done) == pytest.approx(10 ** (-3 / 20), rel=0.01)


def test_only_chosen_joints_are_smoothed_and_the_rest_keeps_every_bit() -> None:
    take = noisy(walking(300), 0.5)
    head = FIGURE.place_of("Head")
    done = smoothed(FIGURE, take, FPS, 4.0, joints=[head])
    others = [place for place in range(1, take.joints) if place != head]
    assert np.array_equal(done.rotations[:, others], take.rotations[:, others])
    assert roughness_degrees(done.rotations[:, [head]]) < 0.2 * roughness_degrees(
        take.rotations[:, [head]]
    )
    assert np.abs(done.root_in_world()[0] - take.root_in_world()[0]).max() < 1e-12


def test_arms_and_legs_have_a_cut_off_of_their_own() -> None:
    take = noisy(walking(600), 0.5)
    done = smoothed(FIGURE, take, FPS, 3.0, 20.0)
    limbs = sorted(limb_joints(FIGURE))
    body = [place for place in range(1, take.joints) if place not in limbs]
    assert {"LeftAnkle", "RightWrist", "LeftHip"} <= {FIGURE.names[k] for k in limbs}
    assert "Head" not in {FIGURE.names[k] for k in limbs}
    left = [roughness_degrees(done.rotations[:, own]) for own in (limbs, body)]
    assert left[0] > 5 * left[1]


def test_a_cut_off_beyond_what_the_rate_carries_leaves_the_motion_as_it_is() -> None:
    take = noisy(walking(100, "amble", 24, 12), 0.5)
    done = smoothed(FIGURE, take, Fraction(24), 12.0)
    assert errors_degrees(done, take).max() < 1e-9
    assert np.abs(done.root_in_world()[0] - take.root_in_world()[0]).max() < 1e-12


@pytest.mark.parametrize("frames", [1, 4, 5, 30])
def test_short_takes_are_smoothed_as_far_as_they_go(frames: int) -> None:
    done = smoothed(FIGURE, walking(frames), FPS, 6.0)
    assert done.frames == frames
    assert np.isfinite(done.rotations).all()
