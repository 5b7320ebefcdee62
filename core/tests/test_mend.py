"""Rule 6.2: spikes found and mended, told from what a joint does by habit."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.capture.mend import Spike, find_spikes, lagrange, mended
from elastic_core.errors import Refusal
from elastic_core.motion import Motion

from .captures import FIGURE, FPS, PutIn, errors_degrees, gait, noisy, spiky, walking


def meets(spike: Spike, put_in: PutIn) -> bool:
    same = spike.joint == put_in.joint
    return same and spike.frame < put_in.end and spike.end > put_in.frame


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_98_in_100_spikes_over_8_degrees_are_found_in_noise_and_2_in_100_are_false_at_most(
    seed: int,
) -> None:
    take, put_in = spiky(noisy(walking(1200), 0.5, seed), 300, seed=seed)
    found = find_spikes(FIGURE, take, FPS)
    hits = [one for one in put_in if any(meets(spike, one) for spike in found)]
    false = [spike for spike in found if not any(meets(spike, one) for one in put_in)]
    assert len(hits) >= 0.98 * len(put_in)
    assert len(false) <= 0.02 * len(found)


def test_spikes_are_told_to_the_frame_with_their_size() -> None:
    take, put_in = spiky(noisy(walking(1200), 0.2), 200, least=15)
    found = {
        (spike.frame, spike.end, spike.joint): spike.degrees
        for spike in find_spikes(FIGURE, take, FPS)
    }
    exact = [one for one in put_in if (one.frame, one.end, one.joint) in found]
    assert len(exact) >= 0.97 * len(put_in)
    off = [abs(found[one.frame, one.end, one.joint] - one.degrees) for one in exact]
    assert np.percentile(off, 95) < 2.0


@pytest.mark.parametrize("name", ["amble", "hurry", "run", "march"])
def test_clean_motion_has_none(name: str) -> None:
    assert find_spikes(FIGURE, gait(name).samples.whole(), FPS) == ()
    assert find_spikes(FIGURE, walking(240, name, 24, 8), Fraction(24)) == ()


def test_a_wrist_that_flips_for_one_sample_and_a_sign_that_does_not_count() -> None:
    motion = walking(200)
    rotations = motion.rotations.copy(order="F")
    wrist = FIGURE.place_of("LeftWrist")
    rotations[90, wrist] = rotation.multiply(
        rotations[90, wrist], rotation.about_axis("X", np.array(np.pi))
    )
    rotations[120:, wrist] *= -1
    found = find_spikes(FIGURE, replace(motion, rotations=rotations), FPS)
    assert [(spike.frame, spike.end, spike.joint) for spike in found] == [(90, 91, "LeftWrist")]
    assert found[0].degrees == pytest.approx(180, abs=0.5)


def test_a_root_that_flips_is_mended_with_its_heading() -> None:
    motion = walking(200)
    position, turned = motion.root_in_world()
    rotations = motion.rotations.copy(order="F")
    rotations[:, 0] = turned
    rotations[60, 0] = rotation.multiply(rotation.about_axis("Y", np.array(np.pi)), turned[60])
    flipped = Motion.from_root(position, rotations, motion.moves)
    found = find_spikes(FIGURE, flipped, FPS)
    assert [(spike.frame, spike.end, spike.joint) for spike in found] == [(60, 61, "Hips")]
    done = mended(FIGURE, flipped, found)
    assert errors_degrees(done, motion).max() < 0.05
    assert np.abs(done.root_in_world()[0] - position).max() < 1e-9


def test_mended_samples_lie_on_the_curve_through_their_neighbours_and_nothing_else_moves() -> None:
    truth = walking(1200)
    take, put_in = spiky(truth, 200)
    done = mended(FIGURE, take, find_spikes(FIGURE, take, FPS))
    # A toe that snaps up as it leaves goes faster than its neighbours tell.
    errors = errors_degrees(done, truth)
    assert np.percentile(errors[errors > 0], 99) < 0.5
    off = np.zeros((take.frames, take.joints), dtype=bool)
    for one in put_in:
        off[one.frame : one.end, FIGURE.place_of(one.joint)] = True
    assert np.array_equal(
        np.abs((done.rotations * take.rotations).sum(axis=-1))[~off].round(12),
        np.ones((~off).sum()),
    )


def test_without_spikes_the_motion_is_the_same_to_the_bit() -> None:
    motion = walking(100)
    assert mended(FIGURE, motion, []) is motion


def test_a_spike_at_the_very_end_takes_its_neighbour() -> None:
    motion = walking(50)
    done = mended(FIGURE, motion, [Spike(48, 50, "Head", 0.0)])
    head = FIGURE.place_of("Head")
    assert (
        rotation.angle_between(done.rotations[48:, head], motion.rotations[47, head]).max() < 1e-9
    )


@pytest.mark.parametrize(
    ("spike", "said"),
    [
        (Spike(90, 101, "Head", 0.0), "no frames 90 to 101"),
        (Spike(0, 60, "Head", 0.0), "48 samples"),
        (Spike(5, 6, "Tail", 0.0), "no joint called “Tail”"),
    ],
)
def test_what_cannot_be_mended_is_refused(spike: Spike, said: str) -> None:
    with pytest.raises(Refusal, match=said):
        mended(FIGURE, walking(100), [spike])


def test_the_curve_through_four_known_moments_is_a_cubic() -> None:
    known, wanted = np.array([-2.0, -1.0, 2.0, 3.0]), np.array([0.0, 1.0])
    cubic = np.array([1.0, -2.0, 0.5, 3.0])
    told = lagrange(known, wanted) @ np.polyval(cubic, known)
    assert told == pytest.approx(np.polyval(cubic, wanted), abs=1e-12)
