"""Rule 1.8."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.exposure import ON_ONES, Exposure


def test_on_twos_and_a_pattern() -> None:
    frames = np.arange(8.0)
    assert Exposure(pattern=(2,)).sampled(frames).tolist() == [0, 0, 2, 2, 4, 4, 6, 6]
    assert Exposure(pattern=(2, 2, 3, 1)).sampled(frames).tolist() == [0, 0, 2, 2, 4, 4, 4, 7]
    assert Exposure(pattern=(3,), anchor=1).sampled(frames).tolist() == [-2, 1, 1, 1, 4, 4, 4, 7]


def test_on_ones_changes_nothing() -> None:
    frames = np.array([0.0, 0.25, 7.75])
    assert np.array_equal(ON_ONES.sampled(frames), frames)


@given(st.lists(st.integers(1, 6), min_size=1, max_size=5), st.integers(-20, 20))
def test_average_pace_is_unchanged(pattern: list[int], anchor: int) -> None:
    exposure = Exposure(pattern=tuple(pattern), anchor=anchor)
    total = sum(pattern)
    start = exposure.sampled(np.array([anchor, anchor + total, anchor + 9 * total], dtype=float))
    assert np.diff(start).tolist() == [total, 8 * total]
