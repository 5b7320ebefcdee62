"""BVH as it is written: joints, channels and rows of numbers, in the file's own units.

Reading is strict about numbers and forgiving about everything else: any line ending, a byte order
mark, tabs, lower case, names with blanks, Latin-1 names, channels in any order, position channels on
any joint. Every refusal is one sentence that says where. A file is read as a stream, so that one of
any size takes little memory; `read` gathers it, and `indexed` remembers where its rows stand.
"""

import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import chain
from typing import Protocol

import numpy as np

from ..arrays import Array, Index
from ..budget import take
from ..clock import rate_from_frame_time
from ..errors import Refusal
from .bvh_rows import BLOCK_BYTES, RowBlock, read_rows, row_blocks
from .bvh_skeleton import BvhJoint, read_skeleton, refuse_endless_lines, text_of

LARGEST_FILE_BYTES = 512 * 1024 * 1024
_HEADER_BYTES = 1 << 27
_ENDLESS_SEARCHED = 1 << 24
# After MOTION, so many characters hold the frames and the frame time.
_TIMES_BYTES = 1 << 16
_MOTION = re.compile(rb"^[ \t]*motion[ \t]*$", re.IGNORECASE | re.MULTILINE)


class BvhMotion(Protocol):
    """The motion of a file, wherever its rows lie."""

    @property
    def joints(self) -> tuple[BvhJoint, ...]: ...
    @property
    def frame_time(self) -> float: ...
    @property
    def warnings(self) -> tuple[str, ...]: ...
    @property
    def frames(self) -> int: ...
    @property
    def rate(self) -> Fraction: ...
    @property
    def channels(self) -> int: ...
    def rows(self, frames: Index) -> Array:
        """The rows of these frames, in their order. [n, channels]."""


@dataclass(frozen=True, eq=False)
class BvhFile:
    """A whole file. `values` is [frames, channels]: degrees, and lengths in the file's own unit."""

    joints: tuple[BvhJoint, ...]
    frame_time: float
    values: Array
    warnings: tuple[str, ...] = ()

    @property
    def frames(self) -> int:
        return len(self.values)

    @property
    def rate(self) -> Fraction:
        return rate_from_frame_time(self.frame_time)

    @property
    def channels(self) -> int:
        return int(self.values.shape[1])

    def rows(self, frames: Index) -> Array:
        rows: Array = self.values[frames]
        return rows


@dataclass(frozen=True, eq=False)
class BvhIndex:
    """Where the rows of a file stand, which was read once and found good.

    `starts` [frames + 1]: the bytes at which the rows begin, and the last of them ends.
    """

    joints: tuple[BvhJoint, ...]
    frame_time: float
    starts: Index
    warnings: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class IndexedBvh:
    """A file whose rows are read where they are wanted. `fetch` gets pieces `[start, end)` of its bytes."""

    index: BvhIndex
    fetch: Callable[[Sequence[tuple[int, int]]], Sequence[bytes]]

    @property
    def joints(self) -> tuple[BvhJoint, ...]:
        return self.index.joints

    @property
    def frame_time(self) -> float:
        return self.index.frame_time

    @property
    def warnings(self) -> tuple[str, ...]:
        return self.index.warnings

    @property
    def frames(self) -> int:
        return len(self.index.starts) - 1

    @property
    def rate(self) -> Fraction:
        return rate_from_frame_time(self.frame_time)

    @property
    def channels(self) -> int:
        return sum(len(joint.channels) for joint in self.joints)

    def rows(self, frames: Index) -> Array:
        wanted, places = np.unique(frames, return_inverse=True)
        # Frames that follow one another are one piece of the file.
        runs = np.split(wanted, np.flatnonzero(np.diff(wanted) > 1) + 1) if len(wanted) else []
        starts = self.index.starts
        pieces = self.fetch([(int(starts[run[0]]), int(starts[run[-1] + 1])) for run in runs])
        rows = [
            read_rows(_plain_ends(piece), self.joints, int(run[0]))
            for run, piece in zip(runs, pieces, strict=True)
        ]
        found: Array = np.concatenate([np.empty((0, self.channels)), *rows])[places]
        return found


@dataclass(frozen=True, eq=False)
class BvhStream:
    """A file on its way through: what stands before its rows, and the rows as they come.

    `warnings` may grow while the blocks are read. The blocks raise Refusal where a row is wrong, and
    at the end where there are fewer rows than the file says, or none.
    """

    joints: tuple[BvhJoint, ...]
    frame_time: float
    declared_frames: int
    warnings: list[str]
    blocks: Iterator[RowBlock]


def read(data: bytes) -> BvhFile:
    """A file's bytes → BvhFile. Raises Refusal with one plain sentence."""
    if len(data) > LARGEST_FILE_BYTES:
        raise Refusal(f"The file is larger than {LARGEST_FILE_BYTES >> 20} MB.")
    pieces = (data[start : start + BLOCK_BYTES] for start in range(0, len(data), BLOCK_BYTES))
    found = stream(pieces)
    values = np.concatenate([block.values for block in found.blocks])
    return BvhFile(found.joints, found.frame_time, values, tuple(found.warnings))


def indexed(found: BvhStream, progress: Callable[[int], None] = lambda rows: None) -> BvhIndex:
    """A file read to its end for where its rows stand; `progress` hears how many were read.

    Raises Refusal as `read` does.
    """
    starts: list[Index] = []
    rows = end = 0
    for block in found.blocks:
        starts.append(block.starts)
        rows, end = rows + len(block.starts), block.end
        progress(rows)
    every = np.concatenate([*starts, np.array([end])])
    return BvhIndex(found.joints, found.frame_time, every, tuple(found.warnings))


def stream(pieces: Iterable[bytes]) -> BvhStream:
    """A file from its bytes, a piece at a time. Raises Refusal with one plain sentence."""
    texts = _text_alone(_plain(pieces))
    head, motion = _head(texts)
    start = 3 if head.startswith(b"\xef\xbb\xbf") else 0
    joints, warnings = read_skeleton(head[start : motion.start()])
    declared, frame_time, rows_from = _motion_header(head, motion.end())
    blocks = row_blocks(chain([head[rows_from:]], texts), rows_from, joints)
    counted = _counted(blocks, declared, warnings)
    return BvhStream(joints, frame_time, declared, warnings, counted)


def _counted(blocks: Iterator[RowBlock], declared: int, warnings: list[str]) -> Iterator[RowBlock]:
    rows = 0
    for block in blocks:
        take(block.values.size)
        rows += len(block.values)
        yield block
    if rows < declared:
        raise Refusal(
            f"The file says {declared:,} frames and holds {rows:,}: it has been cut short."
        )
    if not rows:
        raise Refusal("The file holds no frames.")
    if rows > declared:
        warnings.append(
            f"The file says {declared:,} frames and holds {rows:,}; all of them are read."
        )


def _plain(pieces: Iterable[bytes]) -> Iterator[bytes]:
    """The same bytes, as many, with every line ending on a line feed."""
    held = b""
    for piece in pieces:
        text = held + piece
        # What follows a carriage return says what it is.
        held = b"\r" if text.endswith(b"\r") else b""
        yield _plain_ends(text[: len(text) - len(held)])
    if held:
        yield b"\n"


def _plain_ends(text: bytes) -> bytes:
    return text.replace(b"\r\n", b" \n").replace(b"\r", b"\n") if b"\r" in text else text


def _text_alone(texts: Iterable[bytes]) -> Iterator[bytes]:
    """The texts of a BVH file. Raises Refusal where they are of another kind."""
    start = b""
    begun = False
    for text in texts:
        start += text
        if not begun and len(start) >= _SNIFFED_BYTES:
            begun = True
            refuse_other_kinds(start)
        if b"\0" in text and begun:
            raise Refusal(_NOT_TEXT)
        if begun:
            yield start
            start = b""
    if not begun:
        refuse_other_kinds(start)
        if b"\0" in start:
            raise Refusal(_NOT_TEXT)
        yield start


def refuse_other_kinds(data: bytes) -> None:
    """Raises Refusal for the start of a file of another kind, and says of which."""
    head = data[:_SNIFFED_BYTES].removeprefix(b"\xef\xbb\xbf").lstrip()
    if not head:
        raise Refusal("The file is empty.")
    packed = next((name for start, name in _PACKED.items() if data.startswith(start)), None)
    if packed:
        raise Refusal(f"This is a {packed} file. Unpack it, and choose the BVH file inside.")
    if data[:2] in (b"\xff\xfe", b"\xfe\xff") or data[1:64:2].count(0) > 16:
        raise Refusal("The file is written in UTF-16; save it as plain text (UTF-8) and try again.")
    if not head[:9].upper() == b"HIERARCHY":
        raise Refusal("This is not a BVH file: it does not begin with HIERARCHY.")


_SNIFFED_BYTES = 4096
_PACKED = {b"\x1f\x8b": "gzip", b"PK\x03\x04": "zip", b"BZh": "bzip2", b"\xfd7zXZ": "xz"}
_NOT_TEXT = "This is not a BVH file: there are bytes in it that are not text."


def _head(texts: Iterator[bytes]) -> tuple[bytes, re.Match[bytes]]:
    """A file's text up to some way into its rows, and where MOTION stands in it."""
    head, found, times = bytearray(), False, 0
    for text in texts:
        # From the line on that was not whole before.
        searched = head.rfind(b"\n") + 1
        head += text
        found = found or _MOTION.search(head, searched) is not None
        times = times + len(text) if found else 0
        if times > _TIMES_BYTES:
            break
        if not found and searched <= _ENDLESS_SEARCHED < len(head):
            refuse_endless_lines(bytes(head))
        if not found and len(head) > _HEADER_BYTES:
            raise Refusal(f"The skeleton is larger than {_HEADER_BYTES >> 20} MB.")
    whole = bytes(head)
    motion = _MOTION.search(whole)
    if not motion:
        # Whatever else is wrong comes from the cut, but for a line that never ends.
        refuse_endless_lines(whole[:_ENDLESS_SEARCHED])
        raise Refusal("The file has no MOTION part: it has been cut short.")
    return whole, motion


def _motion_header(data: bytes, position: int) -> tuple[int, float, int]:
    """Declared frames, frame time in seconds, and where the rows begin."""
    frames = re.compile(rb"\s*frames[ \t]*:?[ \t]*([^\s]{1,40})", re.IGNORECASE).match(
        data, position
    )
    if not frames or not frames[1].isdigit():
        raise Refusal("After MOTION the file should say “Frames:” and a whole number.")
    pattern = rb"\s*frame[ \t]*time[ \t]*:?[ \t]*([^\s]{1,40})[^\S\n]*(?:\n|$)"
    time = re.compile(pattern, re.IGNORECASE).match(data, frames.end())
    try:
        seconds = float(time[1]) if time else np.nan
    except ValueError:
        seconds = np.nan
    if not time or np.isnan(seconds):
        raise Refusal(
            "After the frames the file should say “Frame Time:” and the seconds per frame."
        )
    if not 1e-6 < seconds < 1e6:
        raise Refusal(
            f"The file says a frame time of {text_of(time[1])} seconds: no frame lasts so long. "
            "At 24 frames per second it is 0.0416667."
        )
    return int(frames[1]), seconds, time.end()


def write(file: BvhFile) -> str:
    """A file's text, with line feeds, six decimals, and eight for the frame time."""
    children: list[list[int]] = [[] for _ in file.joints]
    for place, joint in enumerate(file.joints):
        if joint.parent >= 0:
            children[joint.parent].append(place)
    lines, order = ["HIERARCHY"], list[int]()
    todo: list[tuple[int, int]] = [(0, 0)]  # (joint, depth); a joint of −1 closes a bracket
    while todo:
        place, depth = todo.pop()
        indent = "\t" * depth
        if place < 0:
            lines.append(indent + "}")
            continue
        joint = file.joints[place]
        order.append(place)
        lines += [f"{indent}{'JOINT' if depth else 'ROOT'} {joint.name}", indent + "{"]
        lines.append(f"{indent}\tOFFSET {_numbers(joint.offset)}")
        lines.append(f"{indent}\tCHANNELS {' '.join([str(len(joint.channels)), *joint.channels])}")
        for site in joint.end_sites:
            lines += [f"{indent}\tEnd Site", indent + "\t{"]
            lines += [f"{indent}\t\tOFFSET {_numbers(site)}", indent + "\t}"]
        todo.append((-1, depth))
        todo += [(child, depth + 1) for child in reversed(children[place])]
    columns = [
        file.joints[place].first_channel + channel
        for place in order
        for channel in range(len(file.joints[place].channels))
    ]
    lines += ["MOTION", f"Frames: {file.frames}", f"Frame Time: {file.frame_time:.8f}"]
    pattern = " ".join(["%.6f"] * len(columns))
    lines += [pattern % tuple(row) for row in file.values[:, columns]]
    return "\n".join(lines) + "\n"


def _numbers(vector: Sequence[float]) -> str:
    return " ".join(f"{value:.6f}" for value in vector)


@dataclass(frozen=True)
class BvhBuilder:
    """Collects joints and columns for a file that is being written."""

    joints: list[BvhJoint] = field(default_factory=list)
    columns: list[Array] = field(default_factory=list)

    def add(self, joint: BvhJoint, columns: Sequence[Array]) -> None:
        first = len(self.columns)
        self.joints.append(
            BvhJoint(joint.name, joint.parent, joint.offset, joint.channels, first, joint.end_sites)
        )
        self.columns.extend(columns)

    def file(self, frame_time: float) -> BvhFile:
        return BvhFile(tuple(self.joints), frame_time, np.stack(self.columns, axis=-1))
