"""Rules 1.4 to 1.6: an elastic by its pins, its pace, and a range of it."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.clock import Span
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.retime.pace import with_level, with_ramp
from elastic_core.retime.pins import (
    moved_pin,
    pinned_over,
    pinned_source,
    removed_pin,
    turned_round,
    with_span,
)
from elastic_core.retime.ranges import Slowing, held_frame, slowed

AS_MADE = Elastic()
WHOLE = Span(0, 288)
EVERY_HALF = np.arange(0.0, 288.5, 0.5)


def source(elastic: Elastic, at: float) -> float:
    return float(elastic.source(np.array(at)))


@st.composite
def going_on(draw: st.DrawFn) -> Elastic:
    """Elastics over 0 to 288 that only go on, of every kind of span but held ones."""
    count = draw(st.integers(1, 5))
    chance = np.random.default_rng(draw(st.integers(0, 10_000)))
    played = np.concatenate(
        [[0], np.sort(chance.choice(np.arange(4, 284), count, replace=False)), [288]]
    )
    rises = np.diff(played) * chance.uniform(0.5, 1.6, count + 1)
    sources = np.concatenate([[0], np.cumsum(rises)])
    kinds = draw(
        st.lists(st.sampled_from(["even", "eased"]), min_size=count + 2, max_size=count + 2)
    )
    return Elastic(
        pins=tuple(
            Pin(played=p, source=u, span=kind)
            for p, u, kind in zip(played, sources, kinds, strict=True)
        )
    )


def test_slow_motion_of_a_beat_by_its_numbers() -> None:
    """25 frames at 35 % with ramps of 4: 64 frames, of which the ramps are 4 each."""
    slow = slowed(AS_MADE, Span(88, 113), Slowing(pace=0.35, ramp_frames=4))
    assert [pin.played for pin in slow.pins] == [88, 92, 148, 152]
    assert [source(slow, at) for at in (87, 88, 152, 200)] == pytest.approx([87, 88, 113, 161])
    paces = slow.slope(np.array([87, 88, 90, 100, 147, 150, 152]))
    assert paces == pytest.approx([1, 1, 0.675, 0.35, 0.35, 0.675, 1], abs=1e-12)


@given(going_on(), st.integers(1, 140), st.integers(2, 100), st.floats(0.1, 3), st.integers(0, 6))
def test_ripple_moves_everything_later_by_the_same_amount(
    elastic: Elastic, start: int, length: int, pace: float, ramp: int
) -> None:
    over = Span(start, start + length)
    try:
        slow = slowed(elastic, over, Slowing(pace=pace, ramp_frames=ramp))
    except Refusal:
        return
    longer = slow.pins[-1].played - elastic.pins[-1].played
    before, after = EVERY_HALF[EVERY_HALF <= start], EVERY_HALF[EVERY_HALF >= over.end]
    assert np.abs(slow.source(before) - elastic.source(before)).max() < 1e-9
    # Half a hair inside, as a knot's own side is not asked for.
    assert np.abs(slow.source(after + longer + 1e-9) - elastic.source(after + 1e-9)).max() < 1e-6
    middle = (start + over.end + longer) / 2
    assert float(slow.slope(np.array(middle))) == pytest.approx(pace, abs=1e-9)


@given(going_on(), st.integers(20, 140), st.integers(2, 60), st.floats(0.4, 2), st.integers(0, 4))
def test_absorb_keeps_both_ends_to_the_frame(
    elastic: Elastic, start: int, length: int, pace: float, ramp: int
) -> None:
    over, within = Span(start, start + length), Span(10, 270)
    try:
        slow = slowed(elastic, over, Slowing(pace=pace, ramp_frames=ramp), within)
    except Refusal:
        return
    outside = EVERY_HALF[(EVERY_HALF <= 10) | (EVERY_HALF >= 270)]
    assert np.abs(slow.source(outside) - elastic.source(outside)).max() < 1e-7
    shown = slow.played(source(elastic, start))[0], slow.played(source(elastic, over.end))[-1]
    assert float(slow.slope(np.array(sum(shown) / 2))) == pytest.approx(pace, abs=1e-6)
    assert (np.diff(slow.source(EVERY_HALF)) > -1e-9).all()
    # Both sides go faster, or slower, by one factor.
    left = source(elastic, 10), source(elastic, start)
    factor = (start - 10) / (shown[0] - 10)
    right_factor = (270 - over.end) / (270 - shown[1])
    assert factor == pytest.approx(right_factor, rel=1e-6)
    assert source(slow, 10 + (shown[0] - 10)) == pytest.approx(left[1], abs=1e-6)


def test_absorbing_beyond_the_limit_says_so_and_changes_nothing() -> None:
    with pytest.raises(Refusal, match=r"would have to play at 910 %.*more than 400 %"):
        slowed(AS_MADE, Span(10, 100), Slowing(pace=0.91), Span(0, 100))
    with pytest.raises(Refusal, match="The range alone would take 900"):
        slowed(AS_MADE, Span(10, 100), Slowing(pace=0.1), Span(0, 288))


def test_a_new_length_and_whole_frames() -> None:
    longer = slowed(AS_MADE, Span(88, 113), Slowing(length_frames=64, ramp_frames=4))
    assert float(longer.slope(np.array(120))) == pytest.approx(0.35, abs=1e-12)
    whole = slowed(AS_MADE, Span(80, 101), Slowing(pace=0.4, ramp_frames=4, whole=True))
    # 21 frames would take 46.5: the ramps take up the half frame, the pace is as asked.
    assert whole.pins[-1].played - 80 == 47
    assert float(whole.slope(np.array(100))) == pytest.approx(0.4, abs=1e-12)
    assert source(whole, 127) == pytest.approx(101, abs=1e-9)
    no_ramp = slowed(AS_MADE, Span(80, 101), Slowing(pace=0.4, whole=True))
    assert source(no_ramp, 133) == pytest.approx(101)
    assert float(no_ramp.slope(np.array(100))) == pytest.approx(21 / 53, abs=1e-12)


def test_ramps_that_do_not_fit_are_told_with_the_most_that_does() -> None:
    with pytest.raises(Refusal, match=r"Ramps of 9 frames do not fit.*; 7\.4 is the most"):
        slowed(AS_MADE, Span(0, 10), Slowing(pace=0.35, ramp_frames=9))
    fits = slowed(AS_MADE, Span(0, 10), Slowing(pace=0.35, ramp_frames=7.4))
    assert source(fits, fits.pins[-1].played) == 10


def test_held_and_turning_ranges_have_no_pace_to_change() -> None:
    held = held_frame(AS_MADE, 50, 8)
    with pytest.raises(Refusal, match="This range is held"):
        slowed(held, Span(51, 57), Slowing(pace=0.5))
    there_and_back = Elastic(
        pins=tuple(Pin(played=p, source=u) for p, u in [(0, 0), (10, 10), (20, 2)])
    )
    with pytest.raises(Refusal, match="there and back"):
        slowed(there_and_back, Span(5, 18), Slowing(pace=0.5))


def test_a_held_frame_ripples_or_is_made_up_for() -> None:
    held = held_frame(AS_MADE, 50, 8)
    assert [source(held, at) for at in (49, 50, 53.5, 58, 60)] == [49, 50, 50, 50, 52]
    inside = held_frame(AS_MADE, 50, 20, Span(0, 100))
    assert [source(inside, at) for at in (0, 40, 50, 60, 100, 120)] == [0, 50, 50, 50, 100, 120]
    with pytest.raises(Refusal, match="at 500 %"):
        held_frame(AS_MADE, 50, 80, Span(0, 100))


def test_source_90_plays_at_36() -> None:
    """Both ends stay, or what follows moves on as it was made."""
    tied = pinned_source(AS_MADE, 90, 36, Span(0, 240))
    assert [source(tied, at) for at in (0, 36, 240)] == [0, 90, 240]
    moved_on = pinned_source(AS_MADE, 90, 36, Span(0, 240), ripple=True)
    assert [source(moved_on, at) for at in (0, 36, 46, 186)] == [0, 90, 100, 240]
    # Said again it changes nothing: it is a place and no factor.
    again = pinned_source(tied, 90, 36, Span(0, 240))
    assert np.array_equal(again.source(EVERY_HALF), tied.source(EVERY_HALF))
    with pytest.raises(Refusal, match="Frame 900 does not play here"):
        pinned_source(AS_MADE, 900, 36, Span(0, 240))
    with pytest.raises(Refusal, match="cannot play before the pin at 36"):
        pinned_source(tied, 120, 20, Span(0, 240))


def test_a_pin_stops_a_frame_short_of_its_neighbours() -> None:
    pins = pinned_over(AS_MADE, Span(0, 100)).with_pin(40).with_pin(60)
    assert moved_pin(pins, 1, played=75).pins[1].played == 59
    assert moved_pin(pins, 1, played=-9).pins[1].played == 1
    rippled = moved_pin(pins, 1, played=75, ripple=True)
    assert [pin.played for pin in rippled.pins] == [0, 75, 95, 135]
    assert [pin.source for pin in rippled.pins] == [0, 40, 60, 100]
    assert np.array_equal(removed_pin(pins, 2).source(EVERY_HALF), EVERY_HALF)


def test_a_level_changes_how_long_its_source_takes() -> None:
    slow = slowed(AS_MADE, Span(88, 113), Slowing(pace=0.35, ramp_frames=4))
    slower = with_level(pinned_over(slow, Span(0, 327)), 2, 0.2, 1.0, ripple=True)
    assert [pin.source for pin in slower.pins] == pytest.approx([0, 88, 90.7, 110.3, 113, 288])
    paces = slower.slope(np.array([87.0, 88.0, 100.0, slower.pins[-1].played - 1]))
    assert paces == pytest.approx([1, 1, 0.2, 1], abs=1e-9)
    # The ramps lead to the new level: no step at its ends.
    ends = [slower.slope_before(slower.pins[k].played) for k in (2, 3, 4)]
    assert ends == pytest.approx([0.2, 0.2, 1], abs=1e-9)
    stays = with_level(pinned_over(slow, Span(0, 327)), 2, 0.3, 1.0, ripple=False)
    assert stays.pins[-1].played == 327
    assert source(stays, 327) == pytest.approx(288)
    with pytest.raises(Refusal, match="At 0 % it would never end"):
        with_level(slow, 1, 0.0, 1.0, ripple=True)
    with pytest.raises(Refusal, match="draw one of its pins past the other"):
        with_level(slow, 1, -0.5, 1.0, ripple=True)


def test_a_ramp_is_drawn_longer_between_the_same_paces() -> None:
    slow = slowed(AS_MADE, Span(88, 113), Slowing(pace=0.35, ramp_frames=4))
    longer = with_ramp(slow, 1, 10, 1.0, ripple=True)
    assert longer.pins[1].played == 98
    assert longer.slope(np.array([88.0, 98.0, 110.0])) == pytest.approx([1, 0.35, 0.35], abs=1e-9)
    # 6 frames more of ramp go through 4.05 more of the source, which the level has less.
    assert longer.pins[-1].played == pytest.approx(152 + 6 - 4.05 / 0.35, abs=1e-9)
    with pytest.raises(Refusal, match="A ramp of 60 frames does not fit"):
        with_ramp(slow, 1, 60, 1.0, ripple=True)
    with pytest.raises(Refusal, match="There is no ramp here"):
        with_ramp(pinned_over(AS_MADE, Span(0, 9)), 1, 4, 1.0, ripple=True)


@given(going_on())
def test_turned_round_twice_is_as_it_was(elastic: Elastic) -> None:
    back = turned_round(elastic, WHOLE)
    assert np.abs(back.source(288 - EVERY_HALF) - elastic.source(EVERY_HALF)).max() < 1e-7
    again = turned_round(back, WHOLE)
    assert np.abs(again.source(EVERY_HALF) - elastic.source(EVERY_HALF)).max() < 1e-7


def test_turned_round_keeps_ramps_and_holds() -> None:
    bent = held_frame(slowed(AS_MADE, Span(88, 113), Slowing(pace=0.35, ramp_frames=4)), 200, 12)
    span = Span(0, 300)
    back = turned_round(bent, span)
    at = np.arange(0.25, 300, 0.5)
    assert np.abs(back.source(300 - at) - bent.source(at)).max() < 1e-9
    jumps = with_span(pinned_over(AS_MADE, span).with_pin(100), 1, "held")
    with pytest.raises(Refusal, match="cannot be turned round"):
        turned_round(jumps, span)


def test_a_ramp_sets_out_at_the_pace_before_it() -> None:
    pins = pinned_over(AS_MADE, Span(0, 100)).with_pin(40)
    bent = moved_pin(pins, 1, source=20)
    ramp = with_span(bent, 1, "ramped")
    # 50 % before; 80 source frames in 60 have a mean of 4/3, so it ends at 2.1667.
    assert float(ramp.slope(np.array(40.0))) == pytest.approx(0.5)
    assert ramp.slope_before(100) == pytest.approx(2 * 80 / 60 - 0.5)
    steep = with_span(moved_pin(pins, 1, source=90), 1, "ramped")
    # It would set out so fast that it turned back: it comes to rest at its end instead.
    assert steep.slope_before(100) == pytest.approx(0.0, abs=1e-12)


@given(going_on(), st.floats(1, 280))
def test_the_inverse_of_an_elastic_that_goes_on(elastic: Elastic, at: float) -> None:
    assert elastic.played(source(elastic, at)) == pytest.approx([at], abs=1e-7)


@given(going_on(), going_on(), going_on())
def test_elastics_compose_as_functions(first: Elastic, second: Elastic, third: Elastic) -> None:
    """Rule 1.7: in turn, never resampled; told from other zeros they stay the same map."""
    in_turn = third.source(second.source(first.source(EVERY_HALF)))
    one_by_one = [source(third, source(second, source(first, float(at)))) for at in EVERY_HALF]
    assert np.abs(in_turn - np.array(one_by_one)).max() <= 1e-12 * 1000
    told = first.placed(40.0, 7.0, 2.0)
    assert np.abs(told.source(EVERY_HALF + 40) - (7 + 2 * first.source(EVERY_HALF))).max() < 1e-9
