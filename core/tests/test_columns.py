"""Curves as columns: the same to the last bit as blocks and as documents, and never half a curve."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from elastic_core.curve import Curve, Key
from elastic_core.errors import Refusal
from elastic_core.formats.key_block import from_block, to_block

from .test_curve import curves

CURVE = TypeAdapter(Curve)


@given(curves("mirror"))
def test_a_curve_comes_back_from_its_block_and_from_its_document_bit_for_bit(curve: Curve) -> None:
    assert from_block(to_block(curve), "mirror", "mirror") == curve
    assert CURVE.validate_json(CURVE.dump_json(curve)) == curve
    by_key = {
        "keys": [key.model_dump() for key in curve.keys],
        "before": "mirror",
        "after": "mirror",
    }
    assert CURVE.validate_python(by_key) == curve
    assert CURVE.validate_python(by_key).fingerprint == curve.fingerprint


@given(st.lists(st.floats(-1e6, 1e6), min_size=64, max_size=300))
def test_a_take_says_its_values_alone(values: list[float]) -> None:
    curve = Curve.even(np.arange(float(len(values))), np.array(values))
    assert curve.as_document() == {
        "values": values,
        "spans": "even",
        "before": "hold",
        "after": "hold",
    }
    block = to_block(curve)
    assert len(block) <= 8 * len(values) + 40
    assert from_block(block, "hold", "hold") == curve


@pytest.mark.parametrize(
    ("written", "says"),
    [
        ({"values": []}, "one key at least"),
        ({"values": [1, float("nan")]}, "plain numbers"),
        ({"values": [1, 2], "times": [3, 3]}, "cannot share frame 3"),
        ({"values": [1, 2], "times": [4, 3]}, "cannot share frame 3"),
        ({"values": [1, 2], "times": [0]}, "one time, one span and one value"),
        ({"values": [1, 2], "spans": ["even"]}, "one time, one span and one value"),
        ({"values": [1], "spans": "wobbly"}, "not “wobbly”"),
        ({"values": [1], "before": "never"}, "not “never”"),
        ({"values": ["one"]}, "plain numbers"),
        ({"values": [[1]]}, "plain rows"),
        ([1, 2], "times and values"),
    ],
)
def test_what_is_no_curve_is_refused_in_words(written: object, says: str) -> None:
    with pytest.raises(Refusal, match=says):
        Curve.from_document(written)


@pytest.mark.parametrize("damage", [b"", b"not deflated", to_block(Curve.still(1.0))[:-3]])
def test_a_broken_block_is_refused(damage: bytes) -> None:
    with pytest.raises(Refusal, match="block of keys"):
        from_block(damage, "hold", "hold")


def test_columns_cannot_be_written_to() -> None:
    curve = Curve(keys=(Key(time=0, value=1), Key(time=5, value=2)))
    with pytest.raises(ValueError, match="read-only"):
        curve.values_of_keys[0] = 7.0


@given(curves(), st.data())
def test_a_choice_of_keys_is_those_and_no_others(curve: Curve, data: st.DataObject) -> None:
    chosen = np.array(data.draw(st.lists(st.booleans(), min_size=len(curve), max_size=len(curve))))
    left = curve.only(chosen)
    kept = [key for key, is_kept in zip(curve.keys, chosen, strict=True) if is_kept]
    assert (list(left.keys) if left else []) == kept
    without = curve.without(frozenset(np.flatnonzero(~chosen).tolist()))
    assert without == left
