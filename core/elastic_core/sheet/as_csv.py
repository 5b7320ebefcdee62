"""A sheet as comma-separated text (RFC 4180): a row a frame, and what is written stands where it begins."""

import csv
import io
from collections.abc import Mapping

from ..errors import Refusal
from ..quantities import MOST_FRAMES
from .document import Sheet, SheetCell

FRAME, SECONDS = "Frame", "Seconds"
LARGEST_BYTES = 32 << 20
# What spreadsheets put between columns.
_BETWEEN = (",", ";", "\t")
# A cell that begins so would be worked out by a spreadsheet.
_FORMULA = ("=", "+", "-", "@", "\t")


def csv_of(sheet: Sheet) -> str:
    """The whole sheet, its first line the names of its columns. Text that a spreadsheet would take for a
    formula has an apostrophe before it."""
    out = io.StringIO(newline="")
    rows = csv.writer(out)
    rows.writerow([FRAME, SECONDS, *(_safe(column.name) for column in sheet.columns)])
    cells: list[Mapping[int, SheetCell]] = [
        {cell.frame: cell for cell in column.cells} for column in sheet.columns
    ]
    ends = [{cell.end for cell in column.cells} for column in sheet.columns]
    for frame in range(sheet.frames):
        row = [str(frame + sheet.first_frame), f"{sheet.seconds(frame):.3f}"]
        for begins, over, column in zip(cells, ends, sheet.columns, strict=True):
            cell = begins.get(frame)
            # Where a drawing is over and none follows, that is written too: empty means held.
            blank = "x" if column.kind == "drawings" and frame in over else ""
            row.append(_safe(cell.text) if cell else blank)
        rows.writerow(row)
    return out.getvalue()


def _safe(text: str) -> str:
    return f"'{text}" if text.startswith(_FORMULA) else text


def columns_in(data: bytes, first_frame: int, frames: int) -> dict[str, dict[int, str]]:
    """What is written in a file's columns: name in small letters → frame, from 0 → text, where there is one.

    Raises Refusal for what is no such file, and for frames that the sheet lacks.
    """
    if len(data) > LARGEST_BYTES:
        raise Refusal(f"A sheet has {LARGEST_BYTES >> 20} MB at the most.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal("This is no sheet: it is not text in UTF-8.") from None
    if "\0" in text:
        raise Refusal("This is no sheet: it is not text.")
    first = text.split("\n", 1)[0]
    between = max(_BETWEEN, key=first.count)
    try:
        rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=between))
    except csv.Error:
        raise Refusal("This is no sheet: its rows cannot be told apart.") from None
    names = [name.strip().lower() for name in rows[0]] if rows else []
    if FRAME.lower() not in names:
        raise Refusal("This is no sheet: no column of it is called “Frame”.")
    at = names.index(FRAME.lower())
    found: dict[str, dict[int, str]] = {name: {} for name in names}
    seen: set[int] = set()
    for number, row in enumerate(rows[1:], start=2):
        if not any(cell.strip() for cell in row):
            continue
        frame = _frame(row[at] if at < len(row) else "", number, first_frame, frames)
        if frame in seen:
            raise Refusal(f"Row {number} has frame {frame + first_frame} once more.")
        seen.add(frame)
        for name, cell in zip(names, row, strict=False):
            written = cell.strip()
            if written:
                found[name][frame] = written.removeprefix("'")
    return found


def _frame(text: str, row: int, first_frame: int, frames: int) -> int:
    try:
        frame = int(text.strip()) - first_frame
    except ValueError:
        raise Refusal(f"Row {row} has no frame but “{text.strip()[:40]}”.") from None
    if not 0 <= frame < min(frames, MOST_FRAMES):
        raise Refusal(
            f"Row {row} is frame {frame + first_frame}; the sheet has {first_frame} to "
            f"{frames - 1 + first_frame}."
        )
    return frame
