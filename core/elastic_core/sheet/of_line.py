"""A line on its sheet: notes, words, phones, mouths and eyes."""

from collections.abc import Iterable

from ..voice.blinks import eyes
from ..voice.chart import ChartMouths
from ..voice.exposing import MouthRun
from ..voice.line import Line
from ..voice.said import SaidHere, phones_on, words_on
from .document import Sheet, SheetCell, SheetColumn


def sheet_of_line(line: Line, chart: ChartMouths, run: MouthRun) -> Sheet:
    """The sheet of a line, from its first frame to the last of its sound."""
    frames = run.frames
    reading, fps = line.reading, float(line.rate)
    said = said_cells(words_on(reading, fps, frames) if reading else ())
    phones = said_cells(phones_on(reading, fps, frames) if reading else ())
    return Sheet(
        title=line.name,
        rate=line.rate,
        frames=frames,
        columns=(
            SheetColumn(
                "Notes",
                "notes",
                tuple(SheetCell(n.frame, 1, n.text) for n in line.notes if n.frame < frames),
            ),
            SheetColumn("Word", "said", said),
            SheetColumn("Phone", "said", phones),
            SheetColumn("Mouth", "drawings", mouth_cells(run, chart)),
            SheetColumn("Eyes", "drawings", eye_cells(line, frames)),
        ),
    )


def mouth_cells(run: MouthRun, chart: ChartMouths) -> tuple[SheetCell, ...]:
    """A run of mouths, by the numbers of their drawings."""
    return tuple(
        SheetCell(
            one.frame,
            one.length,
            str(one.drawing),
            one.reason == "by hand",
            chart.by_key[one.mouth].strokes,
        )
        for one in run.exposures
    )


def eye_cells(line: Line, frames: int) -> tuple[SheetCell, ...]:
    """A line's eyes, by the numbers of their drawings."""
    return tuple(
        SheetCell(one.frame, one.length, str(one.drawing)) for one in eyes(line.blinks, frames)
    )


def said_cells(said: Iterable[SaidHere]) -> tuple[SheetCell, ...]:
    """What is said, as cells."""
    return tuple(SheetCell(one.frame, one.length, one.text) for one in said)
