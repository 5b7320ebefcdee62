"""A curve's keys as a block of bytes, for keeping dense curves apart from their document.

Little-endian, deflated: the number of keys (uint32), what goes without saying (uint8), then those columns
that do not: times, values, incoming and outgoing slopes (float64 each) and kinds of span (uint8). A take
with a key on every frame says its values alone.
"""

import zlib
from enum import IntFlag

import numpy as np

from ..arrays import Array
from ..curve import Beyond, Curve
from ..errors import Refusal

_QUICK = 1
_HEAD = np.dtype([("count", "<u4"), ("plain", "u1")])


class _Plain(IntFlag):
    """Columns that go without saying."""

    EVERY_FRAME = 1
    NO_IN_SLOPES = 2
    NO_OUT_SLOPES = 4
    ONE_KIND = 8


def to_block(curve: Curve) -> bytes:
    """The keys of a curve; what lies beyond them is not part of it."""
    plain = _Plain(0)
    columns: list[Array] = []
    if np.array_equal(curve.times, np.arange(len(curve))):
        plain |= _Plain.EVERY_FRAME
    else:
        columns.append(curve.times)
    columns.append(curve.values_of_keys)
    for slopes, flag in (
        (curve.in_slopes, _Plain.NO_IN_SLOPES),
        (curve.out_slopes, _Plain.NO_OUT_SLOPES),
    ):
        if slopes.any() or np.signbit(slopes).any():
            columns.append(slopes)
        else:
            plain |= flag
    kinds = curve.kinds
    if (kinds == kinds[0]).all():
        plain |= _Plain.ONE_KIND
        kinds = kinds[:1]
    head = np.array([(len(curve), plain)], dtype=_HEAD).tobytes()
    numbers = b"".join(np.ascontiguousarray(column, dtype="<f8").tobytes() for column in columns)
    return zlib.compress(head + numbers + kinds.tobytes(), _QUICK)


def from_block(data: bytes, before: Beyond, after: Beyond) -> Curve:
    """A curve from its block, to the last bit. Raises Refusal where the block is broken."""
    try:
        raw = zlib.decompress(data)
        head = np.frombuffer(raw, dtype=_HEAD, count=1)[0]
    except (zlib.error, ValueError) as problem:
        raise Refusal("A block of keys cannot be read.") from problem
    count, plain = int(head["count"]), _Plain(int(head["plain"]))
    said = [_Plain.EVERY_FRAME not in plain, True]
    said += [_Plain.NO_IN_SLOPES not in plain, _Plain.NO_OUT_SLOPES not in plain]
    kinds_said = 1 if _Plain.ONE_KIND in plain else count
    if len(raw) != _HEAD.itemsize + 8 * count * sum(said) + kinds_said:
        raise Refusal("A block of keys is broken off.")
    columns: list[Array] = []
    at = _HEAD.itemsize
    for is_said in said:
        if is_said:
            column = np.frombuffer(raw, dtype="<f8", count=count, offset=at).astype(np.float64)
            at += 8 * count
        else:
            # The first column is the times; slopes that are not said are 0.
            column = np.zeros(count) if columns else np.arange(count, dtype=np.float64)
        columns.append(column)
    kinds = np.frombuffer(raw, dtype=np.uint8, offset=at)
    times, values, in_slopes, out_slopes = columns
    each = np.broadcast_to(kinds, count).copy()
    return Curve.of_columns(times, values, in_slopes, out_slopes, each, before, after)
