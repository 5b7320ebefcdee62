"""Rule 6.3: fewest keys within a tolerance that is kept on every frame."""

from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elastic_core.arrays import Array
from elastic_core.capture.fewest import (
    fewest_keys,
    fitted_slopes,
    greatest_error,
    keyed_within,
    spans_within,
)
from elastic_core.capture.plants import found_plants, held_take, worst_slide
from elastic_core.capture.smooth import smoothed
from elastic_core.capture.thin import Tolerance, thinned, to_share
from elastic_core.clip.document import Clip
from elastic_core.clip.playing import playable_of
from elastic_core.curve import Curve
from elastic_core.cycle.seam import seam_report
from elastic_core.errors import Refusal
from elastic_core.motion import Motion
from elastic_core.spans import Span

from .captures import FIGURE, FPS, errors_degrees, gait, noisy, walking


def take(frames: int = 240) -> tuple[Motion, Clip]:
    motion = smoothed(FIGURE, noisy(walking(5 * frames), 0.3), FPS, 6.0, 9.0)
    at_24 = motion.at(np.arange(0, 5 * frames, 5))
    return at_24, Clip(name="take", figure="figure", rate="24", length_frames=frames)


@st.composite
def wandering(draw: st.DrawFn, most: int = 40) -> Array:
    """A curve that wanders: one or three channels in times of their tolerance."""
    count = draw(st.integers(4, most))
    channels = draw(st.sampled_from([1, 3]))
    seed = draw(st.integers(0, 10_000))
    size = draw(st.sampled_from([0.5, 3.0, 20.0]))
    chance = np.random.default_rng(seed)
    steps = chance.standard_normal((count, channels))
    return np.cumsum(size * np.convolve(steps[:, 0], [0.25, 0.5, 0.25], "same"))[:, None] + (
        size * np.cumsum(0.3 * steps, axis=0)
    )


@given(wandering(most=120), st.booleans())
@settings(max_examples=60)
def test_no_frame_is_off_by_more_than_the_tolerance(values: Array, goes_round: bool) -> None:
    if goes_round:
        values = np.concatenate([values, values[:1]])
    forced = np.zeros(len(values), dtype=bool)
    frames, slopes = keyed_within(values, forced, goes_round=goes_round)
    kinds = np.full(len(frames), Span.FREE, dtype=np.uint8)
    every = np.arange(len(values), dtype=float)
    times = frames.astype(float)
    curves = [
        Curve.of_columns(times, own[frames], slope, slope, kinds)
        for own, slope in zip(values.T, slopes.T, strict=True)
    ]
    told = np.stack([curve.values(every) for curve in curves], axis=-1)
    assert np.linalg.norm(told - values, axis=-1).max() <= 1.0 + 1e-9
    assert frames[0] == 0
    assert frames[-1] == len(values) - 1
    if goes_round:
        assert slopes[0] == pytest.approx(slopes[-1], abs=1e-9)


@given(wandering(most=13))
@settings(max_examples=40, deadline=None)
def test_there_are_no_more_keys_than_an_exhaustive_search_finds(values: Array) -> None:
    count = len(values)
    slopes = np.gradient(values, axis=0) if count > 1 else np.zeros_like(values)
    found = fewest_keys(values, slopes, np.zeros(count, dtype=bool))

    def fits(inner: tuple[int, ...]) -> bool:
        frames = np.array([0, *inner, count - 1])
        return greatest_error(values, frames, slopes[frames]) <= 1.0

    fewest = next(
        k + 2
        for k in range(count - 1)
        if any(fits(inner) for inner in combinations(range(1, count - 1), k))
    )
    # The mark is 1.15 times as many; this is the optimum itself.
    assert len(found) == max(2, fewest)


@pytest.mark.parametrize(
    ("count", "channels", "seed", "keys"), [(7, 1, 317, 2), (7, 3, 1021, 2), (8, 1, 407, 2)]
)
def test_a_long_span_is_found_whose_shorter_ones_are_out(
    count: int, channels: int, seed: int, keys: int
) -> None:
    steps = np.random.default_rng(seed).standard_normal((count, channels))
    sway = np.cumsum(3.0 * np.convolve(steps[:, 0], [0.25, 0.5, 0.25], "same"))[:, None]
    values = sway + 3.0 * np.cumsum(0.3 * steps, axis=0)
    slopes = np.gradient(values, axis=0)
    assert len(fewest_keys(values, slopes, np.zeros(count, dtype=bool))) == keys


def test_forced_frames_are_keyed_and_no_span_passes_over_one() -> None:
    values = np.linspace(0, 5, 60)[:, None]
    slopes = np.gradient(values, axis=0)
    forced = np.zeros(60, dtype=bool)
    forced[[17, 41]] = True
    assert fewest_keys(values, slopes, forced).tolist() == [0, 17, 41, 59]
    starts, ends, errors = spans_within(values, slopes, forced)
    assert not any(a < 17 < b or a < 41 < b for a, b in zip(starts, ends, strict=True))
    assert errors.max() < 1e-9


def test_fitted_slopes_are_the_least_squares() -> None:
    chance = np.random.default_rng(4)
    values = np.cumsum(chance.standard_normal(30))[:, None]
    frames = np.array([0, 6, 7, 15, 29])
    slopes = fitted_slopes(values, frames)

    def squares(own: Array) -> float:
        every = np.arange(30, dtype=float)
        kinds = np.full(5, Span.FREE, dtype=np.uint8)
        curve = Curve.of_columns(frames.astype(float), values[frames, 0], own, own, kinds)
        return float(((curve.values(every) - values[:, 0]) ** 2).sum())

    best = squares(slopes[:, 0])
    for key in (0, 1, 3, 4):
        for step in (-0.01, 0.01):
            nudged = slopes[:, 0].copy()
            nudged[key] += step
            assert squares(nudged) > best


@pytest.mark.parametrize("degrees", [0.5, 1.0, 3.0])
def test_a_take_keeps_its_tolerance_on_every_frame_as_the_clip_plays_it(degrees: float) -> None:
    motion, clip = take()
    done = thinned(FIGURE, motion, clip, Tolerance(degrees, degrees))
    played = playable_of(FIGURE, clip.model_copy(update={"keys": done.keys})).samples.whole()
    assert errors_degrees(played, motion).max() <= degrees + 1e-9
    assert done.worst_turn.amount == pytest.approx(errors_degrees(played, motion).max(), abs=1e-9)
    assert done.worst_end.amount <= degrees
    assert done.keys_after < 0.5 * done.keys_before
    assert done.keys_after == sum(len(curve) for curve in done.keys.values())


def test_held_feet_stay_held_and_the_tolerance_is_kept_with_them() -> None:
    motion, clip = take()
    held = held_take(FIGURE, motion, found_plants(FIGURE, motion, clip.rate))
    clip = clip.model_copy(update={"plants": held.plants})
    done = thinned(FIGURE, held.motion, clip, Tolerance(1.0, 0.5))
    played = playable_of(FIGURE, clip.model_copy(update={"keys": done.keys})).samples.whole()
    slide = worst_slide(FIGURE, played, held.plants)
    assert slide is not None
    assert slide.amount < 0.1
    assert errors_degrees(played, held.motion).max() <= 1.0 + 1e-9
    assert done.worst_end.amount <= 0.5


def test_extremes_the_ends_of_plants_and_chosen_frames_are_keyed() -> None:
    motion, clip = take()
    plants = found_plants(FIGURE, motion, clip.rate)
    clip = clip.model_copy(update={"plants": plants})
    done = thinned(FIGURE, motion, clip, Tolerance(5.0, 5.0), chosen_frames=(101, 173))
    left = next(plant for plant in plants if plant.side == "left" and plant.start > 0)
    knee = done.keys["LeftKnee.turn.x"].times.tolist()
    assert {left.start, left.end - 1} <= set(knee)
    assert {101, 173} <= set(done.keys["RightShoulder.turn.x"].times.tolist())
    arm = done.keys["RightShoulder.turn.x"]
    every = arm.values(np.arange(240.0))
    # Of a swing's extremes each is a key: two a cycle of 24 frames.
    peaks = [k for k in range(5, 235) if every[k] == every[k - 4 : k + 5].max()]
    assert len(peaks) >= 8
    assert all(np.abs(arm.times - peak).min() <= 1 for peak in peaks)


def test_what_stands_still_is_one_key() -> None:
    motion, clip = take(60)
    still = motion.rotations.copy(order="F")
    head = FIGURE.place_of("Head")
    still[:, head] = still[0, head]
    done = thinned(FIGURE, replace(motion, rotations=still), clip, Tolerance(1.0, 1.0))
    assert {len(done.keys[f"Head.turn.{axis}"]) for axis in "xyz"} == {1}


def test_a_cycle_stays_closed() -> None:
    playable = gait("amble", 24, 12)
    motion = playable.samples.whole()
    done = thinned(FIGURE, motion, playable.clip, Tolerance(1.0, 0.5))
    clip = playable.clip.model_copy(update={"keys": done.keys})
    assert seam_report(FIGURE, playable_of(FIGURE, clip)).grade == "closed"
    assert done.keys_after < 0.5 * done.keys_before
    assert done.worst_turn.amount <= 1.0


def test_a_share_of_the_keys_and_the_error_that_comes_of_it() -> None:
    motion, clip = take(120)
    done, tolerance = to_share(FIGURE, motion, clip, 0.25)
    assert done.keys_after <= 0.25 * done.keys_before
    assert done.worst_turn.amount <= tolerance.degrees
    with pytest.raises(Refusal, match="Extremes and contacts alone"):
        to_share(FIGURE, motion, clip, 0.001)
    with pytest.raises(Refusal, match="between 0 and 100 %"):
        to_share(FIGURE, motion, clip, 1.5)


def test_more_error_takes_fewer_keys() -> None:
    motion, clip = take(120)
    done = {
        degrees: thinned(FIGURE, motion, clip, Tolerance(degrees, degrees))
        for degrees in (0.3, 1.0, 3.0)
    }
    keys = [one.keys_after for one in done.values()]
    assert keys == sorted(keys, reverse=True)
    assert keys[0] > 1.5 * keys[-1]
    assert all(one.worst_turn.amount <= tolerance for tolerance, one in done.items())


def test_a_tolerance_that_is_none_is_refused() -> None:
    motion, clip = take(30)
    with pytest.raises(Refusal, match="A tolerance lies between 0 and 30 degrees"):
        thinned(FIGURE, motion, clip, Tolerance(0.0, 1.0))
