"""Rule 6.4: loops found by how well their ends meet."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.capture.cycles import find_cycles, similarity
from elastic_core.capture.loop import closed_loop, loop_of
from elastic_core.capture.plants import found_plants
from elastic_core.capture.thin import Tolerance
from elastic_core.clip.playing import playable_of
from elastic_core.cycle.seam import seam_report
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.motion import Motion

from .captures import FIGURE, noisy, walking

RATE = Fraction(24)


def restless(frames: int = 300, seed: int = 4) -> Motion:
    """A walk in which no two rounds are alike."""
    motion = walking(frames, "amble", 24, 12)
    chance = np.random.default_rng(seed)
    slow = np.cumsum(chance.standard_normal((frames, motion.joints, 3)), axis=0) * np.radians(0.8)
    slow[:, 0] = 0
    turned = rotation.multiply(motion.rotations, rotation.from_vector(slow))
    return replace(motion, rotations=turned)


def with_loop(motion: Motion, start: int, end: int, around: int = 2) -> Motion:
    """The motion with its poses about `end` those about `start`."""
    rotations, root = motion.rotations.copy(order="F"), motion.root_move.copy(order="F")
    for k in range(-around, around + 1):
        rotations[end + k], root[end + k] = rotations[start + k], root[start + k]
    travel = motion.travel.copy(order="F")
    travel[:, 2] = 0.0
    travel[:, 0] = 0.0
    travel[:, 1] = np.arange(motion.frames) * 0.04
    return replace(motion, rotations=rotations, root_move=root, travel=travel)


@pytest.mark.parametrize(("start", "end"), [(100, 124), (57, 90), (200, 231)])
def test_the_made_loop_is_first_exactly(start: int, end: int) -> None:
    motion = with_loop(restless(), start, end, around=1)
    found = find_cycles(FIGURE, motion, RATE)
    assert (found[0].start, found[0].end) == (start, end)
    assert found[0].length_frames == end - start
    assert found[0].seam_degrees < 1e-6
    assert found[0].seam_cm < 1e-6
    assert found[1].score > 10 * found[0].score + 0.01


def test_the_first_of_equal_loops_is_the_shortest_and_earliest() -> None:
    found = find_cycles(FIGURE, walking(97, "amble", 24, 12), RATE)
    assert (found[0].start, found[0].end) == (0, 24)
    lengths = [one.length_frames for one in found]
    assert lengths[:3] == [24, 24, 24]
    assert len({(one.start, one.end) for one in found}) == len(found)


def test_only_lengths_of_the_range_are_found() -> None:
    motion = walking(145, "amble", 24, 12)
    assert {c.length_frames for c in find_cycles(FIGURE, motion, RATE, 40, 60)} == {48}
    assert all(10 <= c.length_frames <= 20 for c in find_cycles(FIGURE, motion, RATE, 10, 20))


def test_seams_are_those_of_the_poses_with_the_travel_taken_out() -> None:
    motion = restless()
    for one in find_cycles(FIGURE, motion, RATE)[:3]:
        ends = motion.at(np.array([one.start, one.end]))
        turned = np.degrees(rotation.angle_between(ends.rotations[0], ends.rotations[1])).max()
        placed = forward(FIGURE, ends.carried(np.zeros((2, 3)))).positions
        assert one.seam_degrees == pytest.approx(turned)
        assert one.seam_cm == pytest.approx(
            100 * np.linalg.norm(placed[0] - placed[1], axis=-1).max()
        )


def test_a_turning_walk_goes_round_all_the_same() -> None:
    straight = walking(120, "amble", 24, 12)
    turns = np.arange(120) * 0.03
    path = straight.travel + np.stack([0 * turns, 0 * turns, turns], axis=-1)
    found = find_cycles(FIGURE, straight.carried(path), RATE, 12, 60)
    assert found[0].length_frames == 24
    assert found[0].score < 0.01


def test_feet_that_stand_agree_at_both_ends() -> None:
    motion = noisy(walking(300, "amble", 24, 12), 0.5)
    plants = found_plants(FIGURE, motion, RATE)
    found = find_cycles(FIGURE, motion, RATE, plants=plants)

    def standing(frame: int) -> set[str]:
        return {plant.side for plant in plants if plant.start <= frame < plant.end}

    inner = [one for one in found if one.start > 0 and one.end < 299]
    assert inner
    for one in inner:
        assert standing(one.start) == standing(one.end)
        told = {"both": {"left", "right"}, "none": set()}.get(one.planted, {one.planted})
        assert told == standing(one.start)


def test_who_stands_still_goes_nowhere() -> None:
    motion = walking(200, "amble", 24, 12).at(np.zeros(200, dtype=np.intp))
    assert find_cycles(FIGURE, motion, RATE) == []


def test_a_long_take_is_looked_through_and_found_to_the_frame(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    motion = with_loop(restless(900), 403, 446, around=6)
    monkeypatch.setattr("elastic_core.capture.cycles.MOST_FRAMES", 300)
    best = find_cycles(FIGURE, motion, RATE)[0]
    assert best.length_frames == 43
    assert 397 <= best.start <= 409
    assert best.seam_degrees < 1e-6


def test_the_map_is_its_own_mirror_and_zero_on_its_diagonal() -> None:
    found = similarity(FIGURE, walking(200, "amble", 24, 12), RATE, most_frames=100)
    assert found.step == 2
    assert found.score.shape == (100, 100)
    assert np.abs(np.diagonal(found.score)).max() < 1e-6
    assert np.abs(found.score - found.score.T).max() < 1e-9
    assert found.score[10, 22] < 1e-6 < 0.05 < found.score[10, 16]


@pytest.mark.parametrize(
    ("frames", "lengths", "said"),
    [
        (20, (24, 48), "hold no cycle of 24"),
        (90, (30, 20), "its longest"),
        (90, (1, 20), "2 frames"),
    ],
)
def test_what_no_cycle_can_be_is_refused(frames: int, lengths: tuple[int, int], said: str) -> None:
    with pytest.raises(Refusal, match=said):
        find_cycles(FIGURE, walking(frames, "amble", 24, 12), RATE, *lengths)


@pytest.mark.parametrize("method", ["match", "spread", "through", "overlap"])
def test_to_the_bench_a_loop_is_closed_thinned_and_its_feet_held(method: str) -> None:
    motion = noisy(walking(200, "amble", 24, 12), 0.4)
    made = loop_of(FIGURE, motion, RATE, 50, 74, lead_frames=6)
    closed, done = closed_loop(made, method, 6, Tolerance(1.0, 0.5))  # type: ignore[arg-type]
    playable = playable_of(FIGURE, closed.clip)
    gaps = seam_report(FIGURE, playable)
    assert closed.clip.is_cycle
    assert closed.clip.length_frames == 24
    assert gaps.worst.gap_degrees < 0.5
    assert gaps.worst.gap_cm < 0.25
    assert closed.clip.holds_feet
    assert closed.clip.period[1] == pytest.approx(
        motion.travel[74, 1] - motion.travel[50, 1], abs=1e-9
    )
    assert done is not None
    assert done.keys_after < 0.65 * done.keys_before
    assert done.worst_turn.amount <= 1.0
