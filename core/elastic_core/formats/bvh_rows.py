"""The motion part of a BVH file: rows of numbers, read a block of whole lines at a time."""

from collections import deque
from collections.abc import Iterable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index
from ..errors import Refusal
from ..quantities import MOST_VALUE
from .bvh_skeleton import LONGEST_HEADER_LINE, BvhJoint, text_of
from .decimals import PADDING, read_decimals

# Memory stays near the size of a block, whatever the size of the file.
BLOCK_BYTES = 1 << 19
# The work on a block runs outside Python's lock.
_READERS = 2
_BYTES_PER_VALUE = 64


@dataclass(frozen=True, eq=False)
class RowBlock:
    """Some rows of a file.

    values  [rows, channels]: degrees, and lengths in the file's own unit
    starts  [rows]: where in the file each row's first number stands, in bytes
    end     where in the file the block ends, in bytes
    """

    values: Array
    starts: Index
    end: int


def row_blocks(
    texts: Iterable[bytes], position: int, joints: Sequence[BvhJoint]
) -> Iterator[RowBlock]:
    """The rows of a file in order. `texts` follow one another from `position` on, in bytes.

    Raises Refusal for a row of another length, or a value that is not a finite number, by its frame.
    """
    channels = sum(len(joint.channels) for joint in joints)
    if not channels:
        raise Refusal("No joint of the file has channels: there is no motion in it.")
    row = 0
    waiting = deque[tuple[int, bytes, Future[RowBlock | None]]]()

    def finished() -> RowBlock:
        start, text, read = waiting.popleft()
        # Where something is wrong, it is read once more to say in which frame.
        return read.result() or _block(text, start, channels, row, joints)

    with ThreadPoolExecutor(_READERS) as readers:
        for start, text in _whole_lines(texts, position, channels):
            waiting.append((start, text, readers.submit(_try_block, text, start, channels)))
            if len(waiting) > 2 * _READERS:
                block = finished()
                row += len(block.values)
                yield block
        while waiting:
            block = finished()
            row += len(block.values)
            yield block


def read_rows(text: bytes, joints: Sequence[BvhJoint], first_row: int) -> Array:
    """The rows of a piece of whole lines, `first_row` being the first. Raises Refusal as `row_blocks`."""
    channels = sum(len(joint.channels) for joint in joints)
    return _block(text, 0, channels, first_row, joints).values


def _whole_lines(
    texts: Iterable[bytes], position: int, channels: int
) -> Iterator[tuple[int, bytes]]:
    """Blocks of whole lines, and where each begins."""
    longest = max(LONGEST_HEADER_LINE, channels * _BYTES_PER_VALUE)
    rest = b""
    parts = (
        text[start : start + BLOCK_BYTES]
        for text in texts
        for start in range(0, len(text), BLOCK_BYTES)
    )
    for part in parts:
        rest += part
        if len(rest) < BLOCK_BYTES:
            continue
        end = rest.rfind(b"\n") + 1
        if end:
            yield position, rest[:end]
            position, rest = position + end, rest[end:]
        if len(rest) > longest:
            raise Refusal(
                f"A line of the motion is longer than {longest:,} characters; "
                f"{channels} values were expected in each."
            )
    if rest:
        yield position, rest


def _try_block(text: bytes, start: int, channels: int) -> RowBlock | None:
    """A block's rows; None where something is wrong with them."""
    try:
        return _block(text, start, channels, 0, ())
    except (Refusal, ValueError):
        return None


def _block(
    raw: bytes, position: int, channels: int, first_row: int, joints: Sequence[BvhJoint]
) -> RowBlock:
    """The rows of one block of whole lines, checked row by row."""
    end = position + len(raw)
    text: NDArray[np.uint8] = np.empty(len(raw) + PADDING + 1, dtype=np.uint8)
    text[:PADDING] = text[-1] = ord(" ")
    text[PADDING:-1] = np.frombuffer(raw, dtype=np.uint8)
    plain = read_decimals(text)
    values, starts = plain or (None, _starts_of_words(text))
    breaks = np.flatnonzero(text == ord("\n"))
    counts = np.diff(np.searchsorted(starts, breaks), prepend=0, append=len(starts))
    counts = counts[counts > 0]
    if not len(counts):
        return RowBlock(np.empty((0, channels)), np.empty(0, dtype=np.intp), end)
    if (wrong := np.flatnonzero(counts != channels)).size:
        row = int(wrong[0])
        raise Refusal(
            f"Frame {first_row + row} has {int(counts[row]):,} values; {channels} were expected."
        )
    if values is None:
        values = _any_numbers(raw)
        if values.size != len(starts):
            _refuse_number(raw, first_row, joints)
    # Written so that what is no number is refused too.
    if not max(values.max(), -values.min()) <= MOST_VALUE:
        _refuse_number(raw, first_row, joints)
    rows = values.reshape(len(counts), channels)
    return RowBlock(rows, starts[::channels] - PADDING + position, end)


def _starts_of_words(text: NDArray[np.uint8]) -> Index:
    solid = text > ord(" ")
    return np.flatnonzero(solid[1:] & ~solid[:-1]) + 1


def _any_numbers(text: bytes) -> Array:
    """Numbers of any form, exponents and all; nothing where one cannot be read."""
    try:
        return np.fromstring(text, dtype=np.float64, sep=" ")
    except ValueError:
        return np.empty(0)


def _refuse_number(text: bytes, first_row: int, joints: Sequence[BvhJoint]) -> None:
    """Find the value that is not a finite number, and say where it stands."""
    channels = [f"{joint.name} {channel}" for joint in joints for channel in joint.channels]
    rows = (line.split() for line in text.split(b"\n") if line.strip())
    for row, line in enumerate(rows, start=first_row):
        for channel, word in zip(channels, line, strict=True):
            try:
                value = np.nan if b"_" in word else float(word)
            except ValueError:
                value = np.nan
            if not abs(value) <= MOST_VALUE:
                wrong = "beyond all measure" if np.isfinite(value) else "not a number"
                raise Refusal(f"Frame {row}, {channel}: “{text_of(word[:20])}” is {wrong}.")
    raise Refusal(f"Frame {first_row}: the numbers cannot be read.")
