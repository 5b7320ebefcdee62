"""Rules 1.3 to 1.5 and 1.7."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.elastic import Elastic, Pin, PinSpan
from elastic_core.errors import Refusal
from elastic_core.spans import Span, Spans

IDENTITY = Elastic()

moments = st.floats(-1e6, 1e6, allow_nan=False).map(lambda x: round(x, 6))


@st.composite
def elastics(draw: st.DrawFn) -> Elastic:
    """Spans of every kind, no two pins closer than a hundredth of a frame."""
    count = draw(st.integers(1, 6))
    steps = draw(st.lists(st.floats(0.01, 50), min_size=count, max_size=count))
    sources = draw(st.lists(st.floats(-200, 200), min_size=count, max_size=count))
    kinds = st.sampled_from(["even", "held", "eased", "ramped"])
    spans = draw(st.lists(kinds, min_size=count, max_size=count))
    played = np.cumsum(steps)
    return Elastic(
        pins=tuple(
            Pin(played=p, source=u, span=span)
            for p, u, span in zip(played, sources, spans, strict=True)
        ),
        before=draw(st.sampled_from(["continue", "hold"])),
        after=draw(st.sampled_from(["continue", "hold"])),
    )


@given(st.lists(moments, min_size=1, max_size=20))
def test_the_identity_returns_its_input_bit_for_bit(times: list[float]) -> None:
    played = np.array(times)
    assert np.array_equal(IDENTITY.source(played), played)
    pinned = Elastic(pins=(Pin(played=-3.7, source=-3.7), Pin(played=11.3, source=11.3)))
    assert np.array_equal(pinned.source(played), played)


@given(elastics(), st.floats(-20, 200))
def test_a_pin_put_in_never_changes_the_map(elastic: Elastic, at: float) -> None:
    if min(abs(pin.played - at) for pin in elastic.pins) < 1e-3:
        return
    played = np.linspace(-40, 320, 721)
    changed = elastic.with_pin(at)
    inside = elastic.pins[0].played <= at <= elastic.pins[-1].played
    if not inside and len(elastic.pins) == 1:
        # A single pin has a pace of 1 on both sides, so the pin beyond it keeps that pace.
        assert np.allclose(
            changed.source(np.array([at])), elastic.source(np.array([at])), atol=1e-9
        )
        return
    if inside:
        assert np.abs(changed.source(played) - elastic.source(played)).max() <= 1e-9


@pytest.mark.parametrize("cut", ["even", "eased", "ramped", "held"])
@pytest.mark.parametrize("at", [1.4, 5.0, 9.9])
def test_an_eased_span_beside_the_cut_one_stays_as_it_was(cut: PinSpan, at: float) -> None:
    """It looks at the pin that it shares with the cut span, whose neighbour is now the new pin."""
    elastic = Elastic(
        pins=(
            Pin(played=0, source=0, span="eased"),
            Pin(played=1, source=3, span=cut),
            Pin(played=10, source=7, span="eased"),
            Pin(played=14, source=20),
        )
    )
    played = np.linspace(-3, 17, 201)
    changed = elastic.with_pin(at)
    assert np.abs(changed.source(played) - elastic.source(played)).max() <= 1e-9
    assert np.abs(changed.without_pin(at).source(played) - elastic.source(played)).max() <= 1e-9


def test_held_and_even_spans_by_numbers() -> None:
    elastic = Elastic(
        pins=(
            Pin(played=0, source=0),
            Pin(played=10, source=20, span="held"),
            Pin(played=14, source=30),
            Pin(played=24, source=35),
        )
    )
    played = np.array([-5.0, 0, 5, 10, 13.9, 14, 19, 24, 34])
    assert elastic.source(played).tolist() == [-10, 0, 10, 20, 20, 30, 32.5, 35, 40]
    assert elastic.slope(played).tolist() == [2, 2, 2, 0, 0, 0.5, 0.5, 0.5, 0.5]


def test_before_and_after_hold_or_stop() -> None:
    pins = (Pin(played=0, source=3), Pin(played=10, source=23))
    held = Elastic(pins=pins, before="hold", after="hold")
    assert held.source(np.array([-9.0, 99])).tolist() == [3, 23]
    stopped = Elastic(pins=pins, before="stop", after="stop").source(np.array([-1.0, 5, 11]))
    assert np.isnan(stopped[[0, 2]]).all()
    assert stopped[1] == 13


def test_moving_a_pin_changes_the_map_only_to_its_neighbours() -> None:
    pins = [Pin(played=p, source=p) for p in (0, 10, 20, 30, 40)]
    moved = [*pins[:2], Pin(played=20, source=26), *pins[3:]]
    played = np.arange(0.0, 40.5, 0.5)
    change = Elastic(pins=tuple(moved)).source(played) - Elastic(pins=tuple(pins)).source(played)
    changed = played[np.abs(change) > 1e-12]
    assert changed.min() > 10
    assert changed.max() < 30


def test_pace_counts_both_rates() -> None:
    # One source frame a played frame: captured at 120, played at 24, that is a fifth of as-made.
    assert IDENTITY.pace(np.array(0.0), Fraction(120), Fraction(24)) == pytest.approx(0.2)


@given(st.lists(st.floats(-3, 3), min_size=1, max_size=6), st.integers(0, 1000))
def test_pace_to_elastic_and_back(paces: list[float], seed: int) -> None:
    breaks = np.cumsum(np.random.default_rng(seed).uniform(0.5, 30, len(paces) + 1))
    levels = np.array([*paces, paces[-1]])
    kinds = np.full(len(paces), Span.HOLD, dtype=np.uint8)
    still = np.zeros(len(paces))
    elastic = Elastic.from_pace(Spans(breaks, levels, still, still, kinds))
    middles = (breaks[:-1] + breaks[1:]) / 2
    assert np.allclose(elastic.slope(middles), paces, atol=1e-9)


def test_a_source_moment_that_plays_twice_has_two_answers_in_order() -> None:
    there_and_back = Elastic(
        pins=(Pin(played=0, source=0), Pin(played=10, source=10), Pin(played=20, source=0)),
        before="hold",
        after="hold",
    )
    assert there_and_back.played(4) == pytest.approx([4, 16])
    assert there_and_back.played(11) == []


@given(elastics(), st.floats(-5, 150))
def test_every_answer_of_the_inverse_plays_the_source(elastic: Elastic, played: float) -> None:
    source = float(elastic.source(np.array(played)))
    for moment in elastic.played(source):
        assert elastic.source(np.array(moment)) == pytest.approx(source, abs=1e-6)


def test_a_line_that_hardly_rises_never_gets_there() -> None:
    pins = [(1.0, 0.0), (2.0, 4.0), (5.0, 0.0), (6.0, 2.2e-308)]
    elastic = Elastic(pins=tuple(Pin(played=p, source=s) for p, s in pins))
    assert elastic.played(-4.0) == [0.0]


@given(elastics(), st.floats(0, 60), st.floats(0, 60))
def test_a_later_start_sees_the_same_map(elastic: Elastic, shift: float, q: float) -> None:
    expected = elastic.source(np.array(q + shift)) - elastic.source(np.array(shift))
    # Beside a held span's end the sum of the times may fall on either side of it.
    if min(abs(pin.played - q - shift) for pin in elastic.pins) > 1e-6:
        assert elastic.shifted(shift).source(np.array(q)) == pytest.approx(
            expected, abs=1e-6, rel=1e-11
        )


def test_pins_that_share_a_moment_are_refused() -> None:
    with pytest.raises(Refusal, match="cannot share played frame 4"):
        Elastic(pins=(Pin(played=4, source=0), Pin(played=4, source=9)))


@given(st.lists(st.floats(-3, 3), min_size=2, max_size=6), st.integers(0, 1000))
def test_a_ramp_is_the_exact_integral_of_its_pace(paces: list[float], seed: int) -> None:
    breaks = np.cumsum(np.random.default_rng(seed).uniform(0.5, 30, len(paces)))
    lines = np.diff(paces) / np.diff(breaks)
    even = np.full(len(paces) - 1, Span.EVEN, dtype=np.uint8)
    elastic = Elastic.from_pace(Spans(breaks, np.array(paces), lines, lines, even))
    moments = np.linspace(breaks[0], breaks[-1], 50)[:-1]
    assert np.allclose(elastic.slope(moments), np.interp(moments, breaks, paces), atol=1e-9)
    area = np.cumsum(np.diff(breaks) * (np.array(paces[1:]) + paces[:-1]) / 2)
    assert np.allclose(elastic.source(breaks[1:]), area, atol=1e-9)


@given(st.lists(st.floats(0.01, 40), min_size=1, max_size=8), st.integers(0, 1000))
def test_eased_spans_never_turn_back_or_pass_their_pins(rises: list[float], seed: int) -> None:
    played = np.cumsum(np.random.default_rng(seed).uniform(0.5, 30, len(rises) + 1))
    source = np.cumsum([0.0, *rises])
    pins = [Pin(played=p, source=u, span="eased") for p, u in zip(played, source, strict=True)]
    elastic = Elastic(pins=tuple(pins))
    values = elastic.source(np.linspace(played[0], played[-1], 400))
    assert (np.diff(values) >= -1e-9).all()
    assert values.min() >= source[0] - 1e-9
    assert values.max() <= source[-1] + 1e-9


def test_an_eased_pin_that_moves_changes_two_spans_on_each_side() -> None:
    sources = [0, 8, 20, 26, 40, 55, 61, 80]
    pins = [Pin(played=10 * k, source=u, span="eased") for k, u in enumerate(sources)]
    moved = [*pins[:4], Pin(played=40, source=44, span="eased"), *pins[5:]]
    played = np.arange(0.0, 70.5, 0.5)
    change = Elastic(pins=tuple(moved)).source(played) - Elastic(pins=tuple(pins)).source(played)
    changed = played[np.abs(change) > 1e-12]
    assert 20 < changed.min() < 30
    assert 50 < changed.max() < 60


@given(elastics(), st.floats(0, 1))
def test_a_pin_taken_out_again_restores_the_map(elastic: Elastic, share: float) -> None:
    first, last = elastic.pins[0].played, elastic.pins[-1].played
    at = first + share * (last - first)
    if min(abs(pin.played - at) for pin in elastic.pins) < 1e-3:
        return
    played = np.linspace(-40, 320, 721)
    restored = elastic.with_pin(at).without_pin(at)
    assert np.abs(restored.source(played) - elastic.source(played)).max() <= 1e-9


def test_a_copy_works_everything_out_anew() -> None:
    elastic = Elastic.at_pace(2.0)
    assert elastic.source(np.array(5.0)) == 10
    slower = elastic.model_copy(
        update={"pins": (Pin(played=0, source=0), Pin(played=1, source=3.0))}
    )
    assert slower.source(np.array(5.0)) == 15


@given(elastics(), st.integers(0, 1000))
def test_many_moments_at_once_come_out_as_few_do(elastic: Elastic, seed: int) -> None:
    """From a few thousand on they are left to compiled evaluators, beyond both ends too."""
    moments = np.random.default_rng(seed).uniform(-60, 360, 5_000)
    moments[:6] = [pin.played for pin in elastic.pins][:1] * 6
    few = np.concatenate([elastic.source(part) for part in np.split(moments, 5)])
    assert np.abs(elastic.source(moments) - few).max() <= 1e-9 * (1 + np.abs(few).max())
