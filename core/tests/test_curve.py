"""Rules 3.1 to 3.3."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline

from elastic_core.curve import Curve, Key
from elastic_core.errors import Refusal


@st.composite
def curves(draw: st.DrawFn, beyond: str = "hold") -> Curve:
    count = draw(st.integers(2, 6))
    steps = draw(st.lists(st.integers(1, 12), min_size=count, max_size=count))
    number = st.floats(-90, 90).map(lambda x: round(x, 3))
    kinds = st.sampled_from(["hold", "even", "eased", "free"])
    keys = [
        Key(
            time=float(time),
            value=draw(number),
            in_slope=draw(st.floats(-9, 9)),
            out_slope=draw(st.floats(-9, 9)),
            span=draw(kinds),
        )
        for time in np.cumsum(steps)
    ]
    return Curve(keys=tuple(keys), before=beyond, after=beyond)


@given(curves(), st.floats(0.02, 0.98))
def test_a_key_put_in_leaves_the_curve_unchanged(curve: Curve, share: float) -> None:
    first, last = curve.keys[0].time, curve.keys[-1].time
    at = round(first + share * (last - first), 4)
    times = np.linspace(first - 2, last + 2, 400)
    assert np.abs(curve.with_key(at).values(times) - curve.values(times)).max() < 1e-9


@pytest.mark.parametrize("at", [-3.0, 30.0])
def test_a_key_beyond_the_ends_of_a_held_curve_changes_nothing(at: float) -> None:
    keys = tuple(
        Key(time=t, value=v, in_slope=2, out_slope=5, span="free")
        for t, v in ((0, 1), (9, 4), (20, 2))
    )
    curve, times = Curve(keys=keys), np.linspace(-6, 40, 231)
    assert np.abs(curve.with_key(at).values(times) - curve.values(times)).max() < 1e-12


def test_free_spans_are_cubic_hermite() -> None:
    keys = tuple(
        Key(time=t, value=v, in_slope=s, out_slope=s, span="free")
        for t, v, s in ((0, 1, 2), (5, -3, 0.5), (12, 4, -1))
    )
    expected = CubicHermiteSpline([0, 5, 12], [1, -3, 4], [2, 0.5, -1])
    times = np.linspace(0, 12, 200)
    assert np.abs(Curve(keys=keys).values(times) - expected(times)).max() < 1e-12


@given(curves())
def test_eased_spans_do_not_overshoot(curve: Curve) -> None:
    eased = Curve(keys=tuple(key.model_copy(update={"span": "eased"}) for key in curve.keys))
    for before, after in zip(eased.keys, eased.keys[1:], strict=False):
        values = eased.values(np.linspace(before.time, after.time, 50))
        low, high = sorted((before.value, after.value))
        assert values.min() >= low - 1e-9
        assert values.max() <= high + 1e-9


def test_held_spans_hold_and_then_jump() -> None:
    curve = Curve(keys=(Key(time=0, value=1, span="hold"), Key(time=4, value=9)))
    assert curve.values(np.array([0, 3.999, 4, 8])).tolist() == [1, 1, 9, 9]


def test_a_wheel_turns_for_ever_without_a_stop() -> None:
    wheel = Curve(
        keys=(Key(time=0, value=0, span="even"), Key(time=24, value=360, span="even")),
        before="offset",
        after="offset",
    )
    frames = np.arange(-48, 24 * 12, 0.5)
    assert np.abs(np.diff(wheel.values(frames)) - 7.5).max() < 1e-9


@pytest.mark.parametrize(
    ("beyond", "expected"),
    [
        ("hold", [0, 10, 10]),
        ("repeat", [8, 2, 8]),
        ("offset", [-2, 12, 18]),
        ("mirror", [2, 8, 2]),
        ("continue", [-2, 12, 18]),
    ],
)
def test_beyond_the_keys(beyond: str, expected: list[float]) -> None:
    keys = (Key(time=0, value=0, span="even"), Key(time=10, value=10, span="even"))
    curve = Curve(keys=keys, before=beyond, after=beyond)
    assert curve.values(np.array([-2.0, 12, 18])).tolist() == pytest.approx(expected)


@given(curves(), st.integers(-30, 30))
def test_two_keys_never_share_a_time_and_the_moved_one_wins(curve: Curve, frames: int) -> None:
    moved, replaced = curve.moved(frozenset({0}), frames)
    times = [key.time for key in moved.keys]
    assert times == sorted(set(times))
    assert len(moved.keys) == len(curve.keys) - replaced
    assert curve.keys[0].value in [
        k.value for k in moved.keys if k.time == curve.keys[0].time + frames
    ]


@given(curves(), st.sampled_from([0.25, 0.5, 2.0, 3.0]))
def test_scaling_and_scaling_back_restores(curve: Curve, factor: float) -> None:
    every = frozenset(range(len(curve.keys)))
    scaled, _ = curve.scaled(every, 2.0, factor)
    back, _ = scaled.scaled(every, 2.0, 1 / factor)
    assert np.allclose([k.time for k in back.keys], [k.time for k in curve.keys], atol=1e-9)


@given(curves())
def test_reversing_plays_backwards_and_twice_is_the_identity(curve: Curve) -> None:
    first, last = curve.keys[0].time, curve.keys[-1].time
    times = np.linspace(first, last, 101)[1:-1]
    held_edge = np.isin(times, [key.time for key in curve.keys])
    smooth = all(key.span != "hold" for key in curve.keys)
    back = curve.reversed()
    if smooth:
        there = curve.values(first + last - times)
        assert np.abs(back.values(times) - there)[~held_edge].max(initial=0) < 1e-6
        again = back.reversed()
        assert np.abs(again.values(times) - curve.values(times)).max() < 1e-6


@given(curves())
def test_mirroring_twice_is_the_identity(curve: Curve) -> None:
    times = np.linspace(0, 80, 161)
    assert np.allclose(curve.mirrored(4).values(times), 8 - curve.values(times), atol=1e-6)


def test_rippling_and_snapping_keep_order() -> None:
    curve = Curve(keys=tuple(Key(time=t, value=t) for t in (0, 3.4, 3.6, 9)))
    snapped, replaced = curve.snapped()
    assert [key.time for key in snapped.keys] == [0, 3, 4, 9]
    assert replaced == 0
    rippled, _ = curve.rippled(3.5, 2)
    assert [key.time for key in rippled.keys] == [0, 3.4, 5.6, 11]


def test_times_too_near_to_be_told_apart_are_one() -> None:
    """Keys 1e-161 frames apart made slopes beyond all numbers when the dial was turned."""
    near = 1e-7
    for gap in (5e-324, 1e-161, near):
        with pytest.raises(Refusal, match="Two keys cannot share frame"):
            Curve(keys=(Key(time=0, value=0), Key(time=gap, value=1)))
    curve = Curve(keys=tuple(Key(time=t, value=t) for t in (0, 5, 10)))
    assert curve.place_of(5 + near) == curve.place_of(5 - near) == 1
    assert curve.place_of(5.001) is None
    assert curve.with_value(5 + near, 7).values_of_keys.tolist() == [0, 7, 10]
    moved, replaced = curve.retimed({0: 5 + near})
    assert (moved.times.tolist(), replaced) == ([5 + near, 10], 1)
    # A round that ends a hair before its length is closed already.
    whole = Curve(
        keys=(Key(time=0, value=0), Key(time=24 - near, value=1)), before="repeat", after="repeat"
    )
    assert whole.closed(24) is whole
    for beyond in (1e300, float("nan")):
        with pytest.raises(Refusal, match="beyond all measure"):
            Curve.even(np.array([0.0, 1.0]), np.array([0.0, beyond]))


def test_a_curve_without_keys_is_refused() -> None:
    with pytest.raises(Refusal, match="one key at least"):
        Curve(keys=())
    with pytest.raises(Refusal, match="only between two keys"):
        Curve(keys=(Key(time=0, value=0), Key(time=2, value=1)), after="repeat").with_key(5)
