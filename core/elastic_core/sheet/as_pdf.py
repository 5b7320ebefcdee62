"""A sheet on paper: A4 pages on three pegs, ruled by frames, seconds and feet, with holds as drawn lines."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from ..errors import Refusal
from ..voice.chart import Stroke
from .document import FOOT_FRAMES, Sheet, SheetCell, SheetColumn
from .typeface import PLAIN, face_for

INK, GRAPHITE, FADED = HexColor("#22303C"), HexColor("#5C6670"), HexColor("#B9AE98")
BLUE, BLUE_SOFT = HexColor("#8CC9E8"), HexColor("#CFE5EF")
WIDTH, HEIGHT = float(A4[0]), float(A4[1])
MM = float(mm)
MARGIN, TOP, ROWS_A_PAGE = 12 * MM, 30 * MM, 96
ROW = (HEIGHT - TOP - 12 * MM) / ROWS_A_PAGE
FRAME_WIDTH = 13 * MM
# Columns that fit beside each other; more go on to further pages.
COLUMNS_A_PAGE = 9
MOST_PAGES = 2_000
# Half the width of a drawn mouth, and what of it lies over its middle line.
_HALF, _MIDDLE = 5.2 * MM, 0.24


def pdf_of(sheet: Sheet) -> bytes:
    """The whole sheet. Raises Refusal for one that would be a pile of paper."""
    groups = [
        sheet.columns[at : at + COLUMNS_A_PAGE]
        for at in range(0, len(sheet.columns), COLUMNS_A_PAGE)
    ] or [()]
    pages = -(-sheet.frames // ROWS_A_PAGE)
    if pages * len(groups) > MOST_PAGES:
        raise Refusal(f"That would be {pages * len(groups):,} pages. Print a shorter scene.")
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=1)
    canvas.setTitle(sheet.title)
    for page in range(pages):
        for columns in groups:
            first = page * ROWS_A_PAGE
            _Page(canvas, sheet, columns, first, min(sheet.frames, first + ROWS_A_PAGE)).draw(
                f"sheet {page + 1} of {pages}"
            )
            canvas.showPage()
    canvas.save()
    return out.getvalue()


@dataclass
class _Page:
    """Frames `[first, end)` of some columns."""

    canvas: Canvas
    sheet: Sheet
    columns: Sequence[SheetColumn]
    first: int
    end: int

    @property
    def column_width(self) -> float:
        return (WIDTH - 2 * MARGIN - FRAME_WIDTH) / max(1, len(self.columns))

    def x(self, column: int) -> float:
        return MARGIN + FRAME_WIDTH + column * self.column_width

    def y(self, frame: float) -> float:
        """The upper edge of a frame's row."""
        return HEIGHT - TOP - (frame - self.first) * ROW

    def draw(self, page: str) -> None:
        self._head(page)
        self._rules()
        for place, column in enumerate(self.columns):
            for cell in column.cells:
                if cell.frame < self.end and cell.end > self.first:
                    self._cell(place, column, cell)

    def _head(self, page: str) -> None:
        canvas = self.canvas
        canvas.setStrokeColor(FADED)
        canvas.setLineWidth(0.7)
        middle, top = WIDTH / 2, HEIGHT - 9 * MM
        canvas.circle(middle, top, 3 * MM)
        for side in (-1, 1):
            canvas.roundRect(
                middle + side * 50 * MM - 6.4 * MM, top - 1.6 * MM, 12.8 * MM, 3.2 * MM, 1.6 * MM
            )
        self._text(MARGIN, HEIGHT - 20 * MM, self.sheet.title, 12, bold=True)
        rate = f"{float(self.sheet.rate):.3f}".rstrip("0").rstrip(".")
        self._text(WIDTH - MARGIN - 45 * MM, HEIGHT - 20 * MM, f"{rate} frames a second, {page}", 8)
        for place, column in enumerate(self.columns):
            self._text(self.x(place) + 2, HEIGHT - TOP + 3, self._cut(column.name, 7), 7)
        self._text(MARGIN, HEIGHT - TOP + 3, "Frame", 7)

    def _rules(self) -> None:
        canvas, fps = self.canvas, round(float(self.sheet.rate))
        right = WIDTH - MARGIN
        for frame in range(self.first, self.end + 1):
            is_second, is_foot = frame % fps == 0, frame % FOOT_FRAMES == 0
            canvas.setStrokeColor(BLUE if is_second else BLUE_SOFT)
            canvas.setLineWidth(1.1 if is_second else 0.4)
            canvas.line(MARGIN, self.y(frame), right, self.y(frame))
            if is_foot and frame:
                canvas.setStrokeColor(GRAPHITE)
                canvas.setLineWidth(0.8)
                canvas.line(MARGIN, self.y(frame), MARGIN + 5 * MM, self.y(frame))
        canvas.setStrokeColor(BLUE)
        canvas.setLineWidth(0.6)
        for place in range(len(self.columns) + 1):
            canvas.line(self.x(place), self.y(self.first), self.x(place), self.y(self.end))
        canvas.setStrokeColor(INK)
        canvas.line(MARGIN, self.y(self.first), right, self.y(self.first))
        for frame in range(self.first, self.end):
            number = str(frame + self.sheet.first_frame)
            self._text(MARGIN + 6 * MM, self.y(frame + 1) + 1.6, number, 5.5, bold=frame % fps == 0)

    def _cell(self, place: int, column: SheetColumn, cell: SheetCell) -> None:
        x, top = self.x(place), max(cell.frame, self.first)
        if cell.frame >= self.first:
            if column.kind == "drawings":
                self._drawing(x, cell)
            else:
                size = 6.2 if column.kind != "clips" else 6.5
                text = self._cut(cell.text, size)
                self._text(x + 2, self.y(cell.frame + 1) + 1.6, text, size)
            top += 1
        last = min(cell.end, self.end)
        if column.kind != "notes" and last > top:
            self._hold(
                x + (self.column_width - 9 if column.kind == "drawings" else 5), top, last, cell
            )

    def _drawing(self, x: float, cell: SheetCell) -> None:
        canvas = self.canvas
        middle = self.y(cell.frame + 0.5)
        if cell.strokes and self.column_width > 3 * _HALF:
            self._mouth(x + 1.5 * _HALF, middle, cell.strokes, min(1.0, 0.55 + 0.2 * cell.length))
        right = x + self.column_width - 9
        canvas.setFillColor(HexColor("#FFFFFF"))
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.7)
        canvas.circle(right, middle, 3.6, fill=1)
        width = pdfmetrics.stringWidth(cell.text, "Helvetica", 5)
        self._text(right - width / 2, middle - 1.8, cell.text, 5)
        if cell.by_hand:
            canvas.setLineWidth(1.0)
            canvas.line(right - 9, middle, right - 7.5, middle - 2)
            canvas.line(right - 7.5, middle - 2, right - 5, middle + 2.4)

    def _hold(self, x: float, top: int, last: int, cell: SheetCell) -> None:
        canvas = self.canvas
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.7)
        foot = self.y(last) + 1.2
        canvas.line(x, self.y(top) - 0.6, x, foot)
        if cell.end <= self.end:
            canvas.line(x - 2, foot, x + 2, foot)

    def _mouth(self, x: float, y: float, strokes: Sequence[Stroke], share: float) -> None:
        canvas, half = self.canvas, _HALF * share
        for stroke in strokes:
            path = canvas.beginPath()
            points = [(x + u * half, y + (v + _MIDDLE) * half) for u, v in stroke.points]
            path.moveTo(*points[0])
            for point in points[1:]:
                path.lineTo(*point)
            if stroke.closed or stroke.fill:
                path.close()
            if stroke.fill:
                canvas.setFillColor(HexColor(stroke.fill))
            canvas.setStrokeColor(HexColor(stroke.colour))
            canvas.setLineWidth(max(0.25, stroke.line / 100 * half))
            canvas.drawPath(path, stroke=int(stroke.line > 0), fill=int(stroke.fill is not None))

    def _cut(self, text: str, size: float) -> str:
        """As much of a text as a column holds."""
        room = self.column_width - 4
        while text and pdfmetrics.stringWidth(text, face_for(text), size) > room:
            text = text[:-1]
        return text

    def _text(self, x: float, y: float, text: str, size: float, *, bold: bool = False) -> None:
        face = face_for(text)
        self.canvas.setFillColor(INK)
        self.canvas.setFont("Helvetica-Bold" if bold and face == PLAIN else face, size)
        self.canvas.drawString(x, y, text)
