"""An exposure sheet as it is read: columns of cells, each from the frame that it is written on to its last."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from ..voice.chart import Stroke

ColumnKind = Literal["notes", "said", "drawings", "clips"]
# So many frames of film are a foot long.
FOOT_FRAMES = 16


@dataclass(frozen=True)
class SheetCell:
    """What is written on a frame, from 0, and held for `length` of them. A drawing has its number as its text,
    and its strokes where it is drawn by some."""

    frame: int
    length: int
    text: str
    by_hand: bool = False
    strokes: Sequence[Stroke] = ()

    @property
    def end(self) -> int:
        return self.frame + self.length


@dataclass(frozen=True)
class SheetColumn:
    """A column: cells in order, none over another."""

    name: str
    kind: ColumnKind
    cells: tuple[SheetCell, ...]


@dataclass(frozen=True)
class Sheet:
    """A whole sheet; its first row is shown as `first_frame`."""

    title: str
    rate: Fraction
    frames: int
    columns: tuple[SheetColumn, ...]
    first_frame: int = 1

    def seconds(self, frame: int) -> float:
        """When a frame, from 0, begins."""
        return float(frame / self.rate)


def runs(row: Sequence[str]) -> list[tuple[int, int, str]]:
    """What stands on frame after frame, as (frame, length, text) where there is something."""
    found: list[tuple[int, int, str]] = []
    start = 0
    for frame in range(1, len(row) + 1):
        if frame == len(row) or row[frame] != row[start]:
            if row[start]:
                found.append((start, frame - start, row[start]))
            start = frame
    return found
