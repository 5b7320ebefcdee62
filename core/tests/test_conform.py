"""Rule 6.1: rates conformed without aliasing, and pins that hold."""

from fractions import Fraction

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.arrays import by_runs
from elastic_core.capture.conform import by_elastic, by_rate, conformed
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.motion import Motion, between

from .captures import errors_degrees, walking

FROM, TO = Fraction(120), Fraction(24)


def wave(hertz: float, degrees: float = 30.0, frames: int = 2401) -> Motion:
    """A hip, and a joint on it that swings about one axis."""
    time = np.arange(frames) / 120
    angle = np.radians(degrees) * np.sin(2 * np.pi * hertz * time + 0.3)
    rotations = np.zeros((frames, 2, 4))
    rotations[:, 0, 0] = 1.0
    rotations[:, 1] = rotation.about_axis("X", angle)
    travel = np.zeros((frames, 3))
    return Motion(
        by_runs(travel), by_runs(np.tile([0.0, 0.9, 0.0], (frames, 1))), by_runs(rotations)
    )


def swing(motion: Motion) -> np.ndarray:
    """The swinging joint's angle over the middle of its motion, in degrees."""
    angle = np.degrees(rotation.vector(motion.rotations[:, 1])[:, 0])
    return angle[60:-60]


@pytest.mark.parametrize("degrees", [5.0, 30.0, 80.0])
def test_a_sine_at_eight_tenths_of_the_new_nyquist_passes_within_1_per_cent(degrees: float) -> None:
    hertz = 0.8 * 12
    motion = wave(hertz, degrees)
    done = conformed(motion, by_rate(motion.frames, FROM, TO))
    time = np.arange(done.frames)[60:-60] / 24
    wanted = degrees * np.sin(2 * np.pi * hertz * time + 0.3)
    assert np.abs(swing(done) - wanted).max() < 0.01 * degrees


def test_a_sine_at_one_and_a_half_of_the_new_nyquist_is_gone() -> None:
    motion = wave(1.5 * 12)
    done = conformed(motion, by_rate(motion.frames, FROM, TO))
    assert np.abs(swing(done)).max() < 0.01 * 30
    plain = between(motion, np.arange(0, motion.frames, 5), np.zeros(done.frames))
    assert np.abs(swing(plain)).max() > 20


def test_every_frame_of_the_result_stands_at_its_own_seconds() -> None:
    moments = by_rate(1201, FROM, Fraction(24000, 1001))
    seconds = np.arange(len(moments)) * 1001 / 24000
    assert moments.at / 120 == pytest.approx(seconds, abs=1e-12)
    assert by_rate(1200, FROM, TO).at.tolist() == list(range(0, 1200, 5))
    assert by_rate(1200, FROM, TO, pace=2).at.tolist() == list(range(0, 1200, 10))


def test_a_slow_motion_is_as_it_was_at_the_frames_that_both_have() -> None:
    truth = walking(601)
    done = conformed(truth, by_rate(601, FROM, TO))
    errors = errors_degrees(done, truth.at(np.arange(0, 601, 5)))
    # What is faster than the new rate carries is gone: a knee's jolt as the foot strikes.
    assert np.percentile(errors, 95) < 0.25
    assert errors.max() < 1.5
    position, wanted = done.root_in_world()[0], truth.root_in_world()[0][::5]
    assert np.abs(position - wanted).max() < 0.002


def test_a_higher_rate_keeps_whole_frames_to_the_bit() -> None:
    truth = walking(100, "amble", 24, 12)
    done = conformed(truth, by_rate(100, TO, Fraction(48)))
    assert np.array_equal(done.rotations[::2], truth.rotations)
    assert np.array_equal(done.travel[::2], truth.travel)


def test_source_90_plays_at_36_exactly() -> None:
    truth = walking(241)
    pins = (Pin(played=0, source=0), Pin(played=36, source=90), Pin(played=48, source=240))
    moments = by_elastic(truth.frames, Elastic(pins=pins), 49)
    assert moments.at[36] == 90
    assert moments.at[[0, 18, 48]].tolist() == [0, 45, 240]
    assert moments.step[[10, 40]].tolist() == [2.5, 12.5]


def test_a_held_stretch_is_held_and_an_even_one_is_untouched() -> None:
    truth = walking(100)
    pins = (
        Pin(played=0, source=0),
        Pin(played=20, source=20, span="held"),
        Pin(played=30, source=20),
        Pin(played=60, source=50),
    )
    done = conformed(truth, by_elastic(100, Elastic(pins=pins), 60))
    assert np.array_equal(done.rotations[20:31], np.repeat(truth.rotations[20:21], 11, axis=0))
    assert np.array_equal(done.rotations[:21], truth.rotations[:21])
    assert np.array_equal(done.rotations[30:60], truth.rotations[20:50])


def test_only_what_plays_faster_than_it_was_taken_is_mixed() -> None:
    truth = walking(241)
    pins = (Pin(played=0, source=0), Pin(played=60, source=60), Pin(played=90, source=240))
    done = conformed(truth, by_elastic(241, Elastic(pins=pins), 91))
    assert errors_degrees(done.at(np.arange(60)), truth.at(np.arange(60))).max() < 1e-9
    wanted = truth.at(np.arange(60, 241, 6))
    assert errors_degrees(done.at(np.arange(60, 91)), wanted)[1:-2].max() < 2.5


def test_what_would_play_for_too_long_is_refused() -> None:
    with pytest.raises(Refusal, match="200,000 are the most"):
        by_rate(72_000, FROM, Fraction(1000))
