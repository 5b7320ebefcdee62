"""BVH as it is written: joints, channels and rows of numbers, in the file's own units.

Reading is strict about numbers and forgiving about everything else: any line ending, a byte order
mark, tabs, lower case, names with blanks, Latin-1 names, channels in any order, position channels on
any joint. Every refusal is one sentence that says where.
"""

import re
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from fractions import Fraction
from functools import partial

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index
from ..clock import rate_from_frame_time
from ..errors import Refusal
from .decimals import PADDING, read_decimals

MOST_JOINTS = 4096
LONGEST_HEADER_LINE = 4096
MOST_HEADER_LINES = 200_000
LARGEST_FILE_BYTES = 512 * 1024 * 1024
# Numbers are read a block of lines at a time, so that memory stays near the size of the file.
_BLOCK_BYTES = 1 << 19
# The work on a block runs outside Python's lock.
_READERS = 2
_BYTES_PER_VALUE = 64
_HEADER_SEARCHED = 1 << 24
_ENDLESS_LINE = re.compile(rb"[^\n]{%d}" % (LONGEST_HEADER_LINE + 1))
_CHANNEL = re.compile(r"([xyz])(position|rotation)", re.IGNORECASE)
_MOTION = re.compile(rb"^[ \t]*motion[ \t]*$", re.IGNORECASE | re.MULTILINE)


@dataclass(frozen=True)
class BvhJoint:
    """One joint: its channels in file order, and where its first value stands in a row."""

    name: str
    parent: int
    offset: tuple[float, float, float]
    channels: tuple[str, ...] = ()
    first_channel: int = 0
    end_sites: tuple[tuple[float, float, float], ...] = ()

    def columns(self, kind: str) -> tuple[str, list[int]]:
        """The axes of its `position` or `rotation` channels, and their columns in a row."""
        found = [
            (channel[0], self.first_channel + place)
            for place, channel in enumerate(self.channels)
            if channel.endswith(kind)
        ]
        return "".join(axis for axis, _ in found), [column for _, column in found]


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


def read(data: bytes) -> BvhFile:
    """A file's bytes → BvhFile. Raises Refusal with one plain sentence."""
    if len(data) > LARGEST_FILE_BYTES:
        raise Refusal(f"The file is larger than {LARGEST_FILE_BYTES >> 20} MB.")
    _refuse_other_kinds(data)
    start = 3 if data.startswith(b"\xef\xbb\xbf") else 0
    if b"\r" in data:
        # Without \r at all every line ends the same way.
        data = data.replace(b"\r\n", b"\n").replace(b"\r", b"\n")
    motion = _MOTION.search(data, start)
    if not motion:
        # Whatever else is wrong comes from the cut, but for a line that never ends.
        _refuse_endless_lines(data[start : start + _HEADER_SEARCHED])
        raise Refusal("The file has no MOTION part: it has been cut short.")
    joints, warnings = _Skeleton().read(data[start : motion.start()])
    declared, frame_time, rows_from = _motion_header(data, motion.end())
    values = _rows(data, rows_from, joints)
    if len(values) < declared:
        raise Refusal(
            f"The file says {declared:,} frames and holds {len(values):,}: it has been cut short."
        )
    if not len(values):
        raise Refusal("The file holds no frames.")
    if len(values) > declared:
        warnings.append(
            f"The file says {declared:,} frames and holds {len(values):,}; all of them are read."
        )
    return BvhFile(joints, frame_time, values, tuple(warnings))


def _refuse_other_kinds(data: bytes) -> None:
    head = data[:4096].removeprefix(b"\xef\xbb\xbf").lstrip()
    if not head:
        raise Refusal("The file is empty.")
    if data[:2] in (b"\xff\xfe", b"\xfe\xff") or data[1:64:2].count(0) > 16:
        raise Refusal("The file is written in UTF-16; save it as plain text (UTF-8) and try again.")
    if not head[:9].upper() == b"HIERARCHY":
        raise Refusal("This is not a BVH file: it does not begin with HIERARCHY.")
    if b"\0" in data:
        raise Refusal("This is not a BVH file: there are bytes in it that are not text.")


def _text(raw: bytes) -> str:
    try:
        return raw.decode("utf-8")
    except UnicodeDecodeError:
        return raw.decode("latin-1")


def _refuse_endless_lines(header: bytes) -> None:
    endless = _ENDLESS_LINE.search(header)
    if endless:
        raise Refusal(_endless(header.count(b"\n", 0, endless.start()) + 1))


def _endless(number: int) -> str:
    return (
        f"Line {number} is more than {LONGEST_HEADER_LINE:,} characters long: "
        "that is no line of a BVH skeleton."
    )


def _header_lines(header: bytes) -> Iterator[tuple[int, str]]:
    """Numbered lines with braces standing alone."""
    position, number = 0, 0
    while position < len(header):
        end = header.find(b"\n", position)
        end = len(header) if end < 0 else end
        number += 1
        if end - position > LONGEST_HEADER_LINE:
            raise Refusal(_endless(number))
        if number > MOST_HEADER_LINES:
            raise Refusal(f"The skeleton is more than {MOST_HEADER_LINES:,} lines long.")
        line = _text(header[position:end])
        for part in re.split(r"([{}])", line):
            if part.strip():
                yield number, part.strip()
        position = end + 1


class _Skeleton:
    """Reads the HIERARCHY part line by line, with a stack of its own and no recursion."""

    def __init__(self) -> None:
        self.names: list[str] = []
        self.parents: list[int] = []
        self.offsets: list[tuple[float, float, float] | None] = []
        self.channels: list[tuple[str, ...]] = []
        self.end_sites: list[list[tuple[float, float, float]]] = []
        self.warnings: list[str] = []
        # Open braces: a joint's place, or None for an End Site.
        self.open: list[int | None] = []
        self.waiting: int | None = None
        self.opening = False

    def read(self, header: bytes) -> tuple[tuple[BvhJoint, ...], list[str]]:
        """The joints of a header, and what is odd about it. Raises Refusal with the line that is wrong."""
        number = 0
        for number, line in _header_lines(header):
            self._line(number, line)
        if not self.names:
            raise Refusal("The file has no ROOT joint.")
        if self.open or self.opening:
            raise Refusal(
                f"The skeleton ends at line {number} with {len(self.open) or 1} open brackets: "
                "it has been cut short."
            )
        return self._joints(), self.warnings

    def _line(self, number: int, line: str) -> None:
        word, _, rest = line.replace("\t", " ").partition(" ")
        keyword, rest = word.upper(), rest.strip()
        if keyword == "HIERARCHY" and not self.names:
            return
        if self.opening and keyword != "{":
            raise Refusal(f"Line {number}: a “{{” should follow the joint’s name.")
        if keyword == "ROOT":
            if self.names:
                raise Refusal(
                    f"Line {number}: the file has a second ROOT, “{rest}”; "
                    "a figure has one. Save each skeleton in a file of its own."
                )
            self._joint(number, rest, -1)
        elif keyword == "JOINT":
            self._joint(number, rest, self._inside(number))
        elif keyword == "END" and rest.upper().startswith("SITE"):
            self._inside(number)
            self.opening, self.waiting = True, None
        elif keyword == "{":
            if not self.opening:
                raise Refusal(f"Line {number}: a “{{” that belongs to no joint.")
            self.open.append(self.waiting)
            self.opening = False
        elif keyword == "}":
            if not self.open:
                raise Refusal(f"Line {number}: a “}}” too many.")
            closed = self.open.pop()
            if closed is not None and self.offsets[closed] is None:
                raise Refusal(f"Line {number}: joint “{self.names[closed]}” has no OFFSET.")
        elif keyword == "OFFSET":
            self._offset(number, rest)
        elif keyword == "CHANNELS":
            self._channels(number, rest)
        else:
            raise Refusal(f"Line {number}: “{line[:40]}” means nothing in a BVH skeleton.")

    def _joint(self, number: int, name: str, parent: int) -> None:
        if not name:
            raise Refusal(f"Line {number}: a joint without a name.")
        if len(self.names) >= MOST_JOINTS:
            raise Refusal(
                f"Line {number}: the skeleton has more than {MOST_JOINTS:,} joints; "
                "that is more than a figure can have."
            )
        self.waiting, self.opening = len(self.names), True
        self.names.append(name)
        self.parents.append(parent)
        self.offsets.append(None)
        self.channels.append(())
        self.end_sites.append([])

    def _inside(self, number: int) -> int:
        if not self.open or self.open[-1] is None:
            raise Refusal(f"Line {number}: a joint that hangs on nothing.")
        return self.open[-1]

    def _offset(self, number: int, rest: str) -> None:
        if not self.open:
            raise Refusal(f"Line {number}: an OFFSET outside any joint.")
        try:
            x, y, z = (float(part) for part in rest.split())
        except ValueError:
            raise Refusal(
                f"Line {number}: an OFFSET has three numbers, not “{rest[:40]}”."
            ) from None
        if not np.isfinite([x, y, z]).all():
            raise Refusal(f"Line {number}: the OFFSET “{rest[:40]}” is not a place.")
        joint = self.open[-1]
        if joint is None:
            owner = next((place for place in reversed(self.open) if place is not None), 0)
            self.end_sites[owner].append((x, y, z))
        elif self.offsets[joint] is not None:
            raise Refusal(f"Line {number}: joint “{self.names[joint]}” has two OFFSETs.")
        else:
            self.offsets[joint] = (x, y, z)

    def _channels(self, number: int, rest: str) -> None:
        if not self.open or self.open[-1] is None:
            raise Refusal(f"Line {number}: CHANNELS outside any joint.")
        joint = self.open[-1]
        if self.channels[joint]:
            raise Refusal(f"Line {number}: joint “{self.names[joint]}” has two CHANNELS lines.")
        count, *names = rest.split() or [""]
        if not count.isdigit() or int(count) != len(names):
            raise Refusal(
                f"Line {number}: joint “{self.names[joint]}” declares {count or 'no'} channels "
                f"and names {len(names)}."
            )
        channels = []
        for name in names:
            match = _CHANNEL.fullmatch(name)
            if not match:
                raise Refusal(f"Line {number}: “{name[:40]}” is not a channel of a BVH file.")
            channels.append(match[1].upper() + match[2].lower())
        if len(set(channels)) < len(channels):
            raise Refusal(f"Line {number}: joint “{self.names[joint]}” names a channel twice.")
        self.channels[joint] = tuple(channels)

    def _joints(self) -> tuple[BvhJoint, ...]:
        joints, column, taken = [], 0, set[str]()
        for place, name in enumerate(self.names):
            unique, copy = name, 2
            while unique in taken:
                unique, copy = f"{name} {copy}", copy + 1
            if unique != name:
                self.warnings.append(f"Two joints are called “{name}”; one is now “{unique}”.")
            taken.add(unique)
            joints.append(
                BvhJoint(
                    unique,
                    self.parents[place],
                    self.offsets[place] or (0.0, 0.0, 0.0),
                    self.channels[place],
                    column,
                    tuple(self.end_sites[place]),
                )
            )
            column += len(self.channels[place])
        return tuple(joints)


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
        seconds = float(time[1]) if time else 0.0
    except ValueError:
        seconds = 0.0
    if not time or not 1e-6 < seconds < 1e6:
        raise Refusal(
            "After the frames the file should say “Frame Time:” and the seconds per frame."
        )
    return int(frames[1]), seconds, time.end()


def _rows(data: bytes, position: int, joints: Sequence[BvhJoint]) -> Array:
    """All rows [frames, channels]. Memory follows what is there, never what is declared."""
    channels = sum(len(joint.channels) for joint in joints)
    if not channels:
        raise Refusal("No joint of the file has channels: there is no motion in it.")
    text = memoryview(data)
    blocks: list[Array] = []
    row = 0
    with ThreadPoolExecutor(_READERS) as readers:
        cuts = list(_cuts(data, position, channels))
        for cut, block in zip(
            cuts, readers.map(partial(_try_block, text, channels), cuts), strict=True
        ):
            if block is None:
                # Read once more where its first row is known, to say which frame is wrong.
                block = _block(text[cut], channels, row, joints)
            blocks.append(block)
            row += len(block)
    return np.concatenate([np.empty((0, channels)), *blocks])


def _cuts(data: bytes, position: int, channels: int) -> Iterator[slice]:
    """Blocks of whole lines."""
    longest = max(LONGEST_HEADER_LINE, channels * _BYTES_PER_VALUE)
    while position < len(data):
        end = min(position + _BLOCK_BYTES, len(data))
        if end < len(data):
            newline = data.rfind(b"\n", position, end)
            if newline < 0:
                newline = data.find(b"\n", end, end + longest)
            if newline < 0 and len(data) - position > longest:
                raise Refusal(
                    f"A line of the motion is longer than {longest:,} characters; "
                    f"{channels} values were expected in each."
                )
            end = newline + 1 if newline >= 0 else len(data)
        yield slice(position, end)
        position = end


def _try_block(text: memoryview, channels: int, cut: slice) -> Array | None:
    """A block's rows; None where something is wrong with them."""
    try:
        return _block(text[cut], channels, 0, ())
    except (Refusal, ValueError):
        return None


def _block(raw: memoryview, channels: int, first_row: int, joints: Sequence[BvhJoint]) -> Array:
    """The rows of one block of whole lines, checked row by row."""
    text: NDArray[np.uint8] = np.empty(len(raw) + PADDING + 1, dtype=np.uint8)
    text[:PADDING] = text[-1] = ord(" ")
    text[PADDING:-1] = raw
    plain = read_decimals(text)
    values, starts = plain or (None, _starts_of_words(text))
    breaks = np.flatnonzero(text == ord("\n"))
    counts = np.diff(np.searchsorted(starts, breaks), prepend=0, append=len(starts))
    counts = counts[counts > 0]
    if not len(counts):
        return np.empty((0, channels))
    if (wrong := np.flatnonzero(counts != channels)).size:
        row = int(wrong[0])
        raise Refusal(
            f"Frame {first_row + row} has {int(counts[row]):,} values; {channels} were expected."
        )
    if values is None:
        values = _any_numbers(bytes(raw))
        if values.size != len(starts) or not np.isfinite(values).all():
            _refuse_number(bytes(raw), first_row, joints)
    return values.reshape(len(counts), channels)


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
                good = bool(np.isfinite(float(word))) and b"_" not in word
            except ValueError:
                good = False
            if not good:
                shown = _text(word[:20])
                raise Refusal(f"Frame {row}, {channel}: “{shown}” is not a number.")
    raise Refusal(f"Frame {first_row}: the numbers cannot be read.")


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
