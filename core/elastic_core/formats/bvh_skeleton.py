"""The skeleton part of a BVH file: joints, offsets and channels, as they are written."""

import re
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..errors import Refusal
from ..quantities import MOST_METRES

MOST_JOINTS = 4096
LONGEST_HEADER_LINE = 4096
MOST_HEADER_LINES = 200_000
_ENDLESS_LINE = re.compile(rb"[^\n]{%d}" % (LONGEST_HEADER_LINE + 1))
_CHANNEL = re.compile(r"([xyz])(position|rotation)", re.IGNORECASE)


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


def read_skeleton(header: bytes) -> tuple[tuple[BvhJoint, ...], list[str]]:
    """The joints of a file's HIERARCHY part, and what is odd about it.

    Raises Refusal with the line that is wrong.
    """
    return _Skeleton().read(header)


def text_of(raw: bytes) -> str:
    try:
        return raw.decode("utf-8")
    except UnicodeDecodeError:
        return raw.decode("latin-1")


def refuse_endless_lines(header: bytes) -> None:
    """Raises Refusal for a line of a skeleton that is longer than any is, by its number."""
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
        line = text_of(header[position:end])
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
            left = len(self.open) or 1
            brackets = "1 open bracket" if left == 1 else f"{left} open brackets"
            raise Refusal(
                f"The skeleton ends at line {number} with {brackets}: it has been cut short."
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
        if max(abs(x), abs(y), abs(z)) > MOST_METRES:
            raise Refusal(
                f"Line {number}: the OFFSET “{rest[:40]}” is farther than any bone is long."
            )
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
        if not count.isdecimal() or int(count) != len(names):
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
