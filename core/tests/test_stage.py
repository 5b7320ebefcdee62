"""The stand-in stage: who wears the suit does what is asked, and what the stage adds is seeded."""

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.anatomy import leg_length_metres, legs_of
from elastic_core.capture.onto import proposed_rest_frame
from elastic_core.capture.plants import found_plants, worst_slide
from elastic_core.capture.proposing import why_a_take
from elastic_core.capture.stage.performer import State, performed, posed, stepped
from elastic_core.capture.stage.suit import suit
from elastic_core.capture.stage.unclean import Uncleanness, uncleaned
from elastic_core.capture.still import proposed_cuts
from elastic_core.figure import forward

from .captures import FPS

SUIT = suit()


def test_the_suit_is_a_person_with_two_legs_standing_with_arms_out() -> None:
    assert len(SUIT.joints) == 26
    assert len(legs_of(SUIT)) == 2
    assert leg_length_metres(SUIT) == pytest.approx(0.85, abs=0.01)
    hand = SUIT.at_rest.positions[0, SUIT.place_of("LeftHand")]
    collar = SUIT.at_rest.positions[0, SUIT.place_of("LeftCollar")]
    assert hand[0] > 0.6
    assert abs(hand[1] - collar[1]) < 0.05


def test_it_walks_with_feet_that_stand_and_turns_as_far_as_asked() -> None:
    motion = performed([("stand", 0.8), ("walk", 4.0), ("turn", 2.0), ("walk", 1.0)], 120)
    plants = [p for p in found_plants(SUIT, motion, FPS) if 150 < p.start and p.end < 550]
    assert len(plants) >= 5
    slide = worst_slide(SUIT, motion, plants)
    assert slide is not None
    assert slide.amount < 1.0
    turned = np.degrees(motion.travel[-1, 2] - motion.travel[0, 2])
    assert turned == pytest.approx(124, abs=3)
    ahead = motion.travel[570, 1] - motion.travel[150, 1]
    assert ahead > 3.0


def test_a_stumble_bows_the_back_and_passes() -> None:
    motion = performed([("walk", 1.5), ("stumble", 0.9), ("walk", 1.0)], 120)
    head = forward(SUIT, motion).positions[:, SUIT.place_of("Head")]
    ahead = head[:, 2] - motion.travel[:, 1]
    assert ahead[180:290].max() > ahead[60:170].max() + 0.1
    assert ahead[360:].max() < ahead[60:170].max() + 0.05


def test_what_is_asked_moment_by_moment_is_what_is_performed() -> None:
    plan = [("arms out", 0.3), ("walk", 0.7)]
    whole = performed(plan, 120)  # type: ignore[arg-type]
    states = [State()]
    for move, seconds in plan:
        for _ in range(round(seconds * 120)):
            states.append(stepped(states[-1], move, 1 / 120))  # type: ignore[arg-type]
    assert np.array_equal(posed(states[1:]).rotations, whole.rotations)


def test_the_calibration_pose_still_stretches_and_turns_are_seen_in_it() -> None:
    motion = performed(
        [("arms out", 1.6), ("stand", 1.0), ("walk", 3.0), ("turn", 2.0), ("stand", 1.5)], 120
    )
    take = uncleaned(motion, Uncleanness(), 120, seed=3)
    rest = proposed_rest_frame(SUIT, take, FPS)
    assert rest is not None
    assert rest < 195
    cuts = proposed_cuts(SUIT, take, FPS)
    assert [cut.kind for cut in cuts][-1] == "still"
    (turn,) = [cut for cut in cuts if cut.kind == "turn"]
    assert abs(turn.start - 672) < 60
    assert abs(turn.end - 912) < 60


def test_what_the_stage_adds_is_seeded_and_as_much_as_it_says() -> None:
    motion = performed([("walk", 3.0)], 120)
    how = Uncleanness(noise_degrees=0.5, spikes_a_thousand=0.0)
    once, again, other = (uncleaned(motion, how, 120, seed) for seed in (1, 1, 2))
    assert np.array_equal(once.rotations, again.rotations)
    assert not np.array_equal(once.rotations, other.rotations)
    off = rotation.vector(rotation.multiply(rotation.conjugate(motion.rotations), once.rotations))
    assert np.degrees(off[:, 1:]).std() == pytest.approx(0.5, rel=0.05)


def test_long_fast_and_spiky_motion_is_a_take() -> None:
    motion = performed([("walk", 2.0)], 120)
    spiky = uncleaned(motion, Uncleanness(spikes_a_thousand=1.0), 120, seed=4)
    assert why_a_take(SUIT, motion, FPS / 5, 2.0) == ()
    reasons = why_a_take(SUIT, spiky, FPS, 12.0)
    assert reasons[:2] == ("it is 12 s long", "it has 120 frames a second")
    assert "spikes are in it" in reasons[2]
