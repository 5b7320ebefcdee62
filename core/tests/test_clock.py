"""Rules 1.1 and 1.2."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.clock import (
    Span,
    parse_rate,
    parse_timecode,
    rate_from_frame_time,
    seconds,
    timecode,
)
from elastic_core.errors import Refusal


@pytest.mark.parametrize(
    ("written", "exact"),
    [
        ("24", Fraction(24)),
        ("23.976", Fraction(24000, 1001)),
        (29.97, Fraction(30000, 1001)),
        ("59.94", Fraction(60000, 1001)),
        ("30000/1001", Fraction(30000, 1001)),
        (12.5, Fraction(25, 2)),
    ],
)
def test_rates_are_exact_rationals(written: object, exact: Fraction) -> None:
    assert parse_rate(written) == exact


@pytest.mark.parametrize(
    ("frame_time", "exact"),
    [
        (0.0083333, Fraction(120)),
        (0.033333, Fraction(30)),
        (0.0333333, Fraction(30)),
        (0.0416667, Fraction(24)),
        (0.041708, Fraction(24000, 1001)),
        (0.0333667, Fraction(30000, 1001)),
        (0.04, Fraction(25)),
        (0.0166667, Fraction(60)),
    ],
)
def test_a_frame_time_with_few_decimals_finds_its_rate(frame_time: float, exact: Fraction) -> None:
    assert rate_from_frame_time(frame_time) == exact


@pytest.mark.parametrize(
    "bad",
    [
        "",
        "fast",
        "0",
        "-24",
        "24/0",
        "1e9",
        "nan",
        "1e100000000",
        "24.5/2",
        "1_000",
        "٢٤",
        "+24",
        "24." + "0" * 10_000_000,
        "1/" + "9" * 5_000_000,
        10**5000,
        2.4e-7,
    ],
    ids=lambda value: type(value).__name__,
)
def test_what_is_no_rate_is_refused_in_a_sentence(bad: object) -> None:
    """A rate is read by its form: a number of a few characters can take minutes to write out."""
    with pytest.raises(Refusal, match=r"\.$") as refused:
        parse_rate(bad)
    assert len(str(refused.value)) < 120


def test_seconds_of_a_broadcast_hour() -> None:
    assert seconds(107892, Fraction(30000, 1001)) == pytest.approx(3599.9964, abs=1e-9)


@pytest.mark.parametrize(
    ("frame", "text"),
    # SMPTE ST 12-1: ;00 and ;01 are left out at each minute but every tenth.
    [(0, "00:00:00;00"), (1799, "00:00:59;29"), (1800, "00:01:00;02"), (17982, "00:10:00;00")],
)
def test_drop_frame_numbers(frame: int, text: str) -> None:
    assert timecode(frame, Fraction(30000, 1001)) == text


def test_a_number_that_drop_frame_leaves_out_is_refused() -> None:
    with pytest.raises(Refusal, match="leaves out"):
        parse_timecode("00:01:00;01", Fraction(30000, 1001))


@given(
    frame=st.integers(0, 3_000_000),
    rate=st.sampled_from(
        [Fraction(24), Fraction(25), Fraction(30000, 1001), Fraction(60000, 1001)]
    ),
)
def test_timecode_is_read_back_as_the_same_frame(frame: int, rate: Fraction) -> None:
    assert parse_timecode(timecode(frame, rate), rate) == frame


def test_spans_are_half_open() -> None:
    assert Span(1, 4).length_frames == 3
    assert Span(0, 4).overlap(Span(4, 9)).length_frames == 0
