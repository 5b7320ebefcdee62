"""Quaternions and Euler orders against scipy (rules 2.3, 3.4, 5.2)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation, Slerp

from elastic_core import rotation


def scipy_of(q: np.ndarray) -> Rotation:
    return Rotation.from_quat(q, scalar_first=True)


def random_rotations(count: int, seed: int) -> np.ndarray:
    return Rotation.random(count, rng=np.random.default_rng(seed)).as_quat(scalar_first=True)


@pytest.mark.parametrize("order", rotation.EULER_ORDERS)
def test_euler_orders_agree_with_scipy_both_ways(order: str) -> None:
    degrees = np.random.default_rng(7).uniform(-180, 180, (200, 3))
    degrees[:, 1] /= 2.001
    q = rotation.from_axes(order, degrees)
    expected = Rotation.from_euler(order, degrees, degrees=True).as_matrix()
    assert np.abs(scipy_of(q).as_matrix() - expected).max() < 1e-12
    assert np.abs(rotation.to_euler(q, order) - degrees).max() < 1e-8


@pytest.mark.parametrize("order", rotation.EULER_ORDERS)
@pytest.mark.parametrize("middle", [90.0, -90.0])
def test_a_locked_middle_axis_still_gives_the_same_rotation(order: str, middle: float) -> None:
    q = rotation.from_axes(order, np.array([[33.0, middle, -71.0]]))
    again = rotation.from_axes(order, rotation.to_euler(q, order))
    assert np.degrees(rotation.angle_between(q, again)).max() < 1e-5


def test_multiply_and_rotate_agree_with_scipy() -> None:
    a, b = random_rotations(50, 1), random_rotations(50, 2)
    v = np.random.default_rng(3).normal(size=(50, 3))
    product = scipy_of(a) * scipy_of(b)
    assert np.abs(scipy_of(rotation.multiply(a, b)).as_matrix() - product.as_matrix()).max() < 1e-12
    assert np.abs(rotation.rotate(a, v) - scipy_of(a).apply(v)).max() < 1e-12


def test_slerp_agrees_with_scipy() -> None:
    a, b = random_rotations(2, 9)
    t = np.linspace(0, 1, 41)
    ours = rotation.slerp(a[None], b[None], t)
    theirs = Slerp([0, 1], scipy_of(np.stack([a, b])))(t)
    assert np.degrees((scipy_of(ours).inv() * theirs).magnitude()).max() < 1e-6


@given(st.floats(1e-12, 1e-3), st.floats(-0.5, 1.5))
def test_slerp_between_near_rotations_stays_exact(angle: float, t: float) -> None:
    a = rotation.about_axis("X", np.array([0.3]))
    b = rotation.about_axis("X", np.array([0.3 + angle]))
    between = rotation.slerp(a, b, np.array([t]))
    expected = rotation.about_axis("X", np.array([0.3 + t * angle]))
    assert np.abs(between - expected).max() < 1e-11


def test_slerp_takes_the_shortest_arc() -> None:
    a = rotation.about_axis("Z", np.array([0.0]))
    b = -rotation.about_axis("Z", np.array([0.4]))
    half = rotation.slerp(a, b, np.array([0.5]))
    assert rotation.angle_between(half, rotation.about_axis("Z", np.array([0.2])))[0] < 1e-12


def test_from_basis_covers_all_four_branches() -> None:
    q = random_rotations(400, 4)
    axes = scipy_of(q).as_matrix()
    again = rotation.from_basis(axes[:, :, 0], axes[:, :, 1], axes[:, :, 2])
    assert rotation.angle_between(q, again).max() < 1e-7


def test_unrolled_degrees_never_jump() -> None:
    turns = np.linspace(0, 3 * 360, 200)
    degrees = np.stack([turns, 100 * np.sin(turns / 200), turns / 3], axis=-1)
    q = rotation.from_axes("ZXY", degrees)
    unrolled = rotation.unroll(rotation.to_euler(q, "ZXY"))
    assert np.abs(np.diff(unrolled, axis=0)).max() < 180
    assert rotation.angle_between(q, rotation.from_axes("ZXY", unrolled)).max() < 1e-7


def test_heading_and_tilt_put_together_again() -> None:
    q = random_rotations(100, 6)
    heading, tilt = rotation.split_heading(q)
    again = rotation.multiply(rotation.about_axis("Y", heading), tilt)
    assert rotation.angle_between(q, again).max() < 1e-7
    assert np.abs(tilt[:, 2]).max() < 1e-12


def test_vector_is_the_axis_times_the_angle() -> None:
    vectors = np.array([[0.0, 0, 0], [1e-14, 0, 0], [0.3, -0.2, 1.1], [0, 3.1, 0]])
    q = Rotation.from_rotvec(vectors).as_quat(scalar_first=True)
    assert np.abs(rotation.vector(q) - vectors).max() < 1e-12


@given(st.integers(0, 10_000))
def test_the_least_turn_takes_one_direction_to_another_also_to_its_opposite(seed: int) -> None:
    chance = np.random.default_rng(seed)
    a, b = chance.normal(size=(2, 20, 3))
    b[0] = -3 * a[0]
    turn = rotation.least(a, b)
    turned = rotation.rotate(turn, a / np.linalg.norm(a, axis=-1, keepdims=True))
    assert np.abs(turned - b / np.linalg.norm(b, axis=-1, keepdims=True)).max() < 1e-6
    assert np.abs(np.linalg.norm(turn, axis=-1) - 1).max() < 1e-12
    cosine = (a * b).sum(-1) / np.linalg.norm(a, axis=-1) / np.linalg.norm(b, axis=-1)
    angle = rotation.angle_between(np.tile(rotation.IDENTITY, (20, 1)), turn)
    assert np.abs(angle - np.arccos(np.clip(cosine, -1, 1))).max() < 1e-5


def test_the_cross_product_is_numpys() -> None:
    chance = np.random.default_rng(11)
    a, b = chance.normal(size=(2, 7, 5, 3))
    assert np.array_equal(rotation.cross(a, b), np.cross(a, b))
    assert np.array_equal(rotation.cross(a, b[0, 0]), np.cross(a, b[0, 0]))
