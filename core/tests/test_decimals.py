"""Reading plain decimals by the block gives what Python reads, bit for bit."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core.formats.decimals import PADDING, read_decimals

plain = st.tuples(
    st.sampled_from(["", "-"]),
    st.integers(0, 99_999_999),
    st.integers(0, 8),
    st.integers(0, 10**8 - 1),
).map(lambda n: f"{n[0]}{n[1]}." + (f"{n[3]:08}"[: n[2]] if len(str(n[1])) + n[2] < 16 else ""))


def block(text: str) -> np.ndarray:
    return np.frombuffer((" " * PADDING + text + " ").encode(), dtype=np.uint8).copy()


@given(st.lists(plain, min_size=1, max_size=40), st.sampled_from([" ", "\t", "\n", "  \n "]))
def test_plain_decimals_are_read_exactly(words: list[str], between: str) -> None:
    read = read_decimals(block(between.join(words)))
    assert read is not None
    expected = np.array([float(word) for word in words])
    assert np.array_equal(read[0].view(np.uint64), expected.view(np.uint64))
    assert len(read[1]) == len(words)


@pytest.mark.parametrize(
    "text",
    ["", "1", "1.5 2", ".5", "-.5", "1e5", "1.5e3", "+1.5", "1.5.2", "--1.5", "1.-5", "1-.5", "1,5", "nan",
     "123456789.0", "0.123456789", "99999999.99999999", "1.5 x", "1.5 2..5", "1.5 .. 2", "1.5 2.5-"],
)  # fmt: skip
def test_anything_else_is_left_to_the_caller(text: str) -> None:
    assert read_decimals(block(text)) is None


def test_points_that_only_seem_to_add_up() -> None:
    # Three events each, and yet no numbers.
    assert read_decimals(block("1..2 3")) is None
    assert read_decimals(block("12 3.4.5 6.7")) is None
