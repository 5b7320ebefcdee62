"""Where to join (rule 5.4): the closed form against a search, and what it finds in the demo's clips."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import minimize_scalar

from demo.production import demo
from elastic_core import ground
from elastic_core.clip.playable import PlayableClip
from elastic_core.join.where import (
    AHEAD_SECONDS,
    FOOT_METRES,
    JoinMap,
    Moments,
    best_joins,
    join_map,
    joint_weights,
    moments_of,
)

DEMO = demo()
ODO = DEMO.figures["odo"]
AMBLE, HURRY, STAND = (DEMO.clips[name] for name in ("Amble", "Hurry", "Stand"))


def all_of(playable: PlayableClip) -> Moments:
    return moments_of(ODO, playable, range(playable.length_frames))


def laid(moments: Moments, row: int, placement: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """A pose's joints and velocities after a ground motion [joints, 3]."""
    place, going = moments.positions[row].copy(), moments.velocities[row].copy()
    x, z, heading = placement
    for points in (place, going):
        points[:, 0], points[:, 2] = ground.turn(heading, points[:, 0], points[:, 2])
    place[:, 0] += x
    place[:, 2] += z
    return place, going


def distance(
    outgoing: Moments, row: int, incoming: Moments, column: int, placement: np.ndarray
) -> float:
    """The weighted distance of two poses, joint by joint."""
    place, going = laid(incoming, column, placement)
    weights = joint_weights(ODO)
    apart = (weights[:, None] * (outgoing.positions[row] - place) ** 2).sum()
    apart += AHEAD_SECONDS**2 * (weights[:, None] * (outgoing.velocities[row] - going) ** 2).sum()
    differ = (outgoing.feet[row] != incoming.feet[column]).sum()
    return float(np.sqrt(apart) + FOOT_METRES * differ)


@pytest.mark.parametrize("seed", range(12))
def test_no_other_placement_is_better(seed: int) -> None:
    """The closed form, against a search over all turns; each with its own best shift."""
    random = np.random.default_rng(seed)
    outgoing, incoming = all_of(AMBLE), all_of(HURRY)
    found = join_map(ODO, outgoing, incoming)
    row, column = int(random.integers(24)), int(random.integers(16))
    weights = joint_weights(ODO)

    def at(heading: float) -> float:
        turned, _ = laid(incoming, column, np.array([0.0, 0.0, heading]))
        x, _, z = weights @ (outgoing.positions[row] - turned)
        return distance(outgoing, row, incoming, column, np.array([x, z, heading]))

    turns = np.linspace(-np.pi, np.pi, 73)
    start = turns[np.argmin([at(turn) for turn in turns])]
    best = minimize_scalar(at, bounds=(start - 0.1, start + 0.1), options={"xatol": 1e-10})
    assert found.score[row, column] == pytest.approx(best.fun, abs=1e-9)
    placement = found.placement[row, column]
    assert distance(outgoing, row, incoming, column, placement) == pytest.approx(
        found.score[row, column], abs=1e-9
    )


@settings(max_examples=40)
@given(st.floats(-20, 20), st.floats(-20, 20), st.floats(-3, 3), st.integers(0, 23))
def test_a_pose_that_was_set_down_elsewhere_is_found_again(
    x: float, z: float, heading: float, row: int
) -> None:
    """It makes no difference where the clips were made, and which way they went."""
    here = all_of(AMBLE)
    moved = np.array([x, z, heading])
    placed = [laid(here, k, moved) for k in range(24)]
    there = Moments(
        here.frames, np.stack([p for p, _ in placed]), np.stack([v for _, v in placed]), here.feet
    )
    plain, found = join_map(ODO, here, here), join_map(ODO, here, there)
    # Squares of metres that cancel leave a hair.
    assert np.abs(plain.score - found.score).max() < 2e-6
    assert found.score[row, row] < 2e-6
    back = ground.compose(found.placement[row, row], moved)
    assert np.abs([back[0], back[1], ground.nearest_turn(back[2:])[0]]).max() < 1e-6


def test_weights_are_bones() -> None:
    weights = joint_weights(ODO)
    assert weights.sum() == pytest.approx(1)
    assert (weights > 0).all()
    assert weights[ODO.place_of("l_knee")] > 3 * weights[ODO.place_of("l_toe")]


def test_a_clip_meets_itself_where_it_is() -> None:
    joins = best_joins(join_map(ODO, all_of(AMBLE), all_of(AMBLE)), all_of(AMBLE), all_of(AMBLE))
    assert joins[0].score < 1e-6
    assert joins[0].out_frame == joins[0].in_frame
    assert all(a.score <= b.score for a, b in zip(joins, joins[1:], strict=False))


def test_a_walk_goes_over_into_a_hurry_on_the_same_foot() -> None:
    """Of 24 × 16 pairs the best is the one that a search through all of them finds."""
    outgoing, incoming = all_of(AMBLE), all_of(HURRY)
    found = join_map(ODO, outgoing, incoming)
    joins = best_joins(found, outgoing, incoming)
    every = {
        (row, column): distance(outgoing, row, incoming, column, found.placement[row, column])
        for row in range(24)
        for column in range(16)
    }
    best = min(every, key=every.__getitem__)
    assert (joins[0].out_frame, joins[0].in_frame) == best
    assert joins[0].score == pytest.approx(every[best], abs=1e-9)
    row, column = best
    assert (outgoing.feet[row] == incoming.feet[column]).all()
    assert joins[0].planted != "none"
    # Half a round on, the other foot does the same.
    first, second = joins[:2]
    assert {first.planted, second.planted} == {"left", "right"}
    # But for the pole that he carries on one side.
    assert first.score == pytest.approx(second.score, rel=0.15)
    assert (second.out_frame - first.out_frame) % 24 == pytest.approx(12, abs=1)
    assert (second.in_frame - first.in_frame) % 16 == pytest.approx(8, abs=1)
    # Both go straight ahead: no turn is needed.
    assert abs(joins[0].placement[2]) < np.radians(6)


def test_places_are_apart_and_each_is_the_lowest_around_it() -> None:
    outgoing, incoming = all_of(STAND), all_of(AMBLE)
    found = join_map(ODO, outgoing, incoming)
    joins = best_joins(found, outgoing, incoming, most=5)
    assert 1 <= len(joins) <= 5
    cells = [(int(join.out_frame), int(join.in_frame)) for join in joins]
    for place, (row, column) in enumerate(cells):
        # Both are cycles: beyond their ends they begin again.
        rows, columns = (np.arange(at - 3, at + 4) for at in (row, column))
        near = found.score[np.ix_(rows % 48, columns % 24)]
        assert found.score[row, column] == near.min()
        for other in cells[:place]:
            apart = (abs(row - other[0]), abs(column - other[1]))
            assert max(min(apart[0], 48 - apart[0]), min(apart[1], 24 - apart[1])) > 3
    level = JoinMap(np.ones((20, 20)), np.zeros((20, 20, 3)))
    flat = Moments(np.arange(20.0), *(np.zeros((20, 1, 3)) for _ in "pv"), np.zeros((20, 2), bool))
    assert len(best_joins(level, flat, flat)) == 8
