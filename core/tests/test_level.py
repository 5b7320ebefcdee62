"""Rule 6.6: the floor levelled, start and heading laid to a mark, drift taken out."""

import numpy as np
import pytest

from elastic_core import ground, rotation
from elastic_core.capture.level import (
    drift_of,
    floor_of,
    levelling,
    placement,
    standing_points,
    without_drift,
)
from elastic_core.motion import Motion

from .captures import FIGURE, FPS, errors_degrees, noisy, turned_in_world, walking


def tilted(motion: Motion, degrees: tuple[float, float], rise: float = 0.12) -> Motion:
    turn = rotation.from_vector(np.radians([degrees[0], 0.0, degrees[1]]))
    return turned_in_world(motion, turn, np.array([0.4, rise, -0.3]))


def left_tilt(motion: Motion, truth: Motion) -> float:
    """How far the stage is from upright, in degrees, at the most."""
    now, was = motion.root_in_world()[1], truth.root_in_world()[1]
    up = rotation.rotate(rotation.multiply(now, rotation.conjugate(was)), np.array([0.0, 1.0, 0.0]))
    return float(np.degrees(np.arccos(np.clip(up[:, 1], -1, 1))).max())


@pytest.mark.parametrize("degrees", [(3.0, 2.0), (-4.0, 1.0), (0.0, 6.0)])
def test_a_tilted_floor_comes_level_and_to_height_0(degrees: tuple[float, float]) -> None:
    truth = walking(1200)
    take = noisy(tilted(truth, degrees), 0.5)
    floor = floor_of(FIGURE, take, FPS)
    assert floor is not None
    assert floor.tilt_degrees == pytest.approx(np.hypot(*degrees), abs=0.5)
    done = levelling(floor, take).applied(take)
    assert left_tilt(done, truth) < 0.6
    after = floor_of(FIGURE, done, FPS)
    assert after is not None
    assert abs(after.height) < 0.01
    assert after.tilt_degrees < 0.5


def test_a_level_floor_stays() -> None:
    truth = walking(600)
    floor = floor_of(FIGURE, truth, FPS)
    assert floor is not None
    assert floor.tilt_degrees < 0.1
    assert abs(floor.height) < 0.003


def test_no_more_than_10_degrees_are_taken_out() -> None:
    truth = walking(1200)
    take = tilted(truth, (14.0, 0.0))
    floor = floor_of(FIGURE, take, FPS)
    assert floor is not None
    done = levelling(floor, take).applied(take)
    assert left_tilt(done, truth) == pytest.approx(4.0, abs=0.7)


def test_a_step_on_a_crate_does_not_tip_the_floor() -> None:
    truth = walking(1200)
    lifted = truth.root_move.copy(order="F")
    lifted[500:640, 1] += 0.3 * np.sin(np.linspace(0, np.pi, 140))
    take = Motion(truth.travel, lifted, truth.rotations)
    floor = floor_of(FIGURE, take, FPS)
    assert floor is not None
    assert floor.tilt_degrees < 0.5
    assert abs(floor.height) < 0.01


def test_nothing_stands_in_a_leap() -> None:
    truth = walking(200)
    path = truth.travel + np.arange(200)[:, None] * np.array([0.05, 0.0, 0.0])
    assert standing_points(FIGURE, truth.carried(path), FPS) == []
    assert floor_of(FIGURE, truth.carried(path), FPS) is None
    assert floor_of(FIGURE, truth.at(np.arange(3)), FPS) is None


@pytest.mark.parametrize("mark", [(0.0, 0.0, 0.0), (2.0, -1.0, 0.5)])
def test_a_walk_that_set_off_anywhere_starts_at_its_mark(mark: tuple[float, float, float]) -> None:
    truth = walking(1200)
    somewhere = truth.moved(np.array([5.0, 3.0, 2.2]))
    done = somewhere.moved(placement(somewhere, FPS, mark))
    assert done.travel[0, :2] == pytest.approx(mark[:2], abs=1e-9)
    # One step and back to where the hips began: the way it goes is the way it looks.
    went = done.travel[480, :2] - done.travel[0, :2]
    assert np.arctan2(went[0], went[1]) == pytest.approx(mark[2], abs=np.radians(1.5))


def test_drift_is_found_and_taken_out() -> None:
    truth = walking(1800)
    share = np.linspace(0, 1, 1800)
    drift = np.stack([0.25 * np.sin(3 * share), 0.3 * share], axis=-1)
    take = without_drift(truth, -drift)
    found = drift_of(FIGURE, take, FPS)
    assert np.linalg.norm(found - drift, axis=-1).max() < 0.05
    assert np.linalg.norm(drift_of(FIGURE, truth, FPS), axis=-1).max() < 0.05
    done = without_drift(take, found)
    assert errors_degrees(done, take).max() < 1e-9
    assert np.linalg.norm(done.travel - truth.travel, axis=-1).max() < 0.05


def test_setting_down_keeps_every_pose() -> None:
    truth = walking(100)
    moved = truth.moved(ground.inverse(truth.travel[40]))
    assert np.array_equal(moved.rotations, truth.rotations)
    assert moved.travel[40] == pytest.approx([0, 0, 0], abs=1e-12)
