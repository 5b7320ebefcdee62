"""Planar rigid motion and its powers (rule 4.4)."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from elastic_core import ground, rotation

places = st.tuples(st.floats(-5, 5), st.floats(-5, 5), st.floats(-3, 3)).map(np.array)


@given(places, places, places)
def test_composition_is_a_group(a: np.ndarray, b: np.ndarray, c: np.ndarray) -> None:
    left = ground.compose(ground.compose(a, b), c)
    right = ground.compose(a, ground.compose(b, c))
    assert np.allclose(left, right, atol=1e-9)
    assert np.allclose(ground.compose(a, ground.inverse(a)), 0, atol=1e-9)


@given(places, st.integers(0, 9))
def test_a_power_is_so_many_compositions(period: np.ndarray, times: int) -> None:
    repeated = np.zeros(3)
    for _ in range(times):
        repeated = ground.compose(period, repeated)
    assert np.allclose(ground.power(period, np.array(float(times))), repeated, atol=1e-8)


@given(places)
def test_two_half_rounds_make_a_whole(period: np.ndarray) -> None:
    half = ground.power(period, np.array(0.5))
    assert np.allclose(ground.compose(half, half), period, atol=1e-8)


def test_a_nearly_straight_walk_is_not_thrown_off_course() -> None:
    far = ground.power(np.array([0.0, 1.0, 1e-13]), np.array(1000.0))
    assert np.allclose(far, [0, 1000, 1e-10], atol=1e-6)


def test_heading_turns_forward_towards_plus_x_as_the_quaternion_does() -> None:
    x, z = ground.turn(np.array(0.3), np.array(0.0), np.array(1.0))
    turned = rotation.rotate(rotation.about_axis("Y", np.array([0.3])), np.array([[0.0, 0, 1]]))[0]
    assert np.allclose([x, 0, z], turned)


def test_blending_headings_goes_the_short_way() -> None:
    a, b = np.array([[0.0, 0, 3.0]]), np.array([[2.0, 0, -3.0]])
    middle = ground.blend(a, b, np.array([0.5]))[0]
    assert np.allclose(middle, [1, 0, np.pi], atol=1e-12)
