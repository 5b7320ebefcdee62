"""What was changed outside on a line's sheet, as one edit of the line."""

from ..errors import Refusal
from ..voice.blinks import CLOSED, HALF, OPEN, Blink, blinks_of, eyes
from ..voice.chart import REST, ChartMouths
from ..voice.exposing import MouthByHand, MouthRun
from ..voice.line import Line, Note
from ..voice.line_edits import BringSheetIn
from .as_csv import columns_in

_NOTHING = "x"


def changes_in(data: bytes, line: Line, chart: ChartMouths, run: MouthRun) -> BringSheetIn:
    """The mouths of a file that are not exposed so already, by hand; its notes; and its blinks.

    Mouths are written by their numbers, keys or names, each where it begins; eyes by 1 2 3, or open, half and
    closed. Raises Refusal for what is no sheet, for a drawing that there is not, and where nothing was changed.
    """
    columns = columns_in(data, 1, run.frames)
    if "mouth" not in columns:
        raise Refusal("No column of the sheet is called “Mouth”.")
    mouths = [
        mouth for mouth in _exposures(columns["mouth"], chart, run) if mouth not in _known(run)
    ]
    notes = line.notes
    if "notes" in columns:
        notes = tuple(
            Note(frame=frame, text=text[:200]) for frame, text in sorted(columns["notes"].items())
        )
    blinks = _blinks(columns["eyes"], line, run.frames) if "eyes" in columns else None
    if not mouths and notes == line.notes and blinks is None:
        raise Refusal("Nothing was changed on that sheet.")
    return BringSheetIn(mouths=tuple(mouths), notes=notes, blinks=blinks)


def _blinks(written: dict[int, str], line: Line, frames: int) -> tuple[Blink, ...] | None:
    """The blinks of a column of eyes; none where it shows what the line's own show."""
    called = {str(drawing): key for key, drawing in (OPEN, HALF, CLOSED)}
    called |= {key: key for key, _ in (OPEN, HALF, CLOSED)} | {_NOTHING: OPEN[0]}
    row = [OPEN[0]] * frames
    own = [one.mouth for one in eyes(line.blinks, frames) for _ in range(one.length)]
    starts = sorted(written)
    for frame, end in zip(starts, [*starts[1:], frames], strict=True):
        key = called.get(written[frame].lower().removesuffix(".0"))
        if key is None:
            raise Refusal(f"Frame {frame + 1}: the eyes have no drawing “{written[frame][:40]}”.")
        row[frame:end] = [key] * (end - frame)
    return None if row == own else blinks_of(row)


def _known(run: MouthRun) -> list[MouthByHand]:
    return [
        MouthByHand(frame=one.frame, length=one.length, mouth=one.mouth) for one in run.exposures
    ]


def _exposures(written: dict[int, str], chart: ChartMouths, run: MouthRun) -> list[MouthByHand]:
    """A column's exposures; what comes before its first is as it was."""
    called = {str(mouth.drawing): mouth.key for mouth in chart.mouths}
    called |= {mouth.key: mouth.key for mouth in chart.mouths}
    called |= {mouth.name.lower(): mouth.key for mouth in chart.mouths}
    called[_NOTHING] = chart.standing_for(REST).mouth.key
    starts = sorted(written)
    found = []
    for frame, end in zip(starts, [*starts[1:], run.frames], strict=True):
        name = written[frame].lower()
        # A spreadsheet may write a whole number as one that is none.
        key = called.get(name) or called.get(name.removesuffix(".0"))
        if key is None:
            raise Refusal(f"Frame {frame + 1}: the chart has no mouth “{written[frame][:40]}”.")
        found.append(MouthByHand(frame=frame, length=end - frame, mouth=key))
    return found
