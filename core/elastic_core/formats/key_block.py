"""A curve's keys as a block of bytes, for keeping dense curves apart from their document.

Deflated columns, little-endian: the number of keys (uint32), then times, values, incoming and outgoing
slopes (float64 each) and kinds of span (uint8).
"""

import zlib

import numpy as np

from ..curve import Beyond, Curve
from ..errors import Refusal

_QUICK = 1


def to_block(curve: Curve) -> bytes:
    """The keys of a curve; what lies beyond them is not part of it."""
    numbers = (curve.times, curve.values_of_keys, curve.in_slopes, curve.out_slopes)
    columns = b"".join(np.ascontiguousarray(column, dtype="<f8").tobytes() for column in numbers)
    count = np.uint32(len(curve)).astype("<u4").tobytes()
    return zlib.compress(count + columns + curve.kinds.tobytes(), _QUICK)


def from_block(data: bytes, before: Beyond, after: Beyond) -> Curve:
    """A curve from its block, to the last bit. Raises Refusal where the block is broken."""
    try:
        raw = zlib.decompress(data)
    except zlib.error as problem:
        raise Refusal("A block of keys cannot be read.") from problem
    count = int(np.frombuffer(raw[:4], dtype="<u4")[0]) if len(raw) >= 4 else 0
    if len(raw) != 4 + count * 33:
        raise Refusal("A block of keys is broken off.")
    numbers = np.frombuffer(raw, dtype="<f8", count=4 * count, offset=4).astype(np.float64)
    times, values, in_slopes, out_slopes = numbers.reshape(4, count)
    kinds = np.frombuffer(raw, dtype=np.uint8, offset=4 + 32 * count).copy()
    return Curve.of_columns(times, values, in_slopes, out_slopes, kinds, before, after)
