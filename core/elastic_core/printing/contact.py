"""Contact sheets: chosen frames beside each other, as one picture or on pages."""

import io
import math
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

from PIL import Image
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from ..errors import Refusal
from ..sheet.typeface import face_for
from .look import ContactForm
from .painter import Painter
from .whole import check_folder, written_whole

MOST_CELLS = 400
MOST_PIXELS = 100_000_000
# As wide as a desk is.
_ASPECT = 16 / 10
_GAP_SHARE = 0.03
# The paper that figures are drawn on (web/src/app/theme.css).
_PAPER = "#FBF8F1"
PAGE_COLUMNS, PAGE_ROWS = 4, 4
_MARGIN, _HEAD, _GAP = 10 * float(mm), 9 * float(mm), 3 * float(mm)
_TEXT_SIZE = 9


def print_contact(
    press: Painter,
    frames: Sequence[int],
    path: Path,
    form: ContactForm,
    title: str,
    on_picture: Callable[[int], None] = lambda done: None,
    *,
    transparent: bool = False,
) -> None:
    """Chosen frames of a print on one sheet, or on pages with a head. Raises Refusal for too many of them."""
    if not frames:
        raise Refusal("There are no frames to print.")
    if len(frames) > MOST_CELLS:
        raise Refusal(
            f"A contact sheet has {MOST_CELLS} frames at the most, not {len(frames):,}: print fewer of them."
        )
    check_folder(path)
    if form == "contact":
        columns, size = _laid_out(len(frames), press.size)
        sheet = Image.new(
            "RGBA" if transparent else "RGB", size, (0, 0, 0, 0) if transparent else _PAPER
        )
        gap = _gap(press.size)
        for place, image in enumerate(_cells(press, frames, on_picture)):
            row, column = divmod(place, columns)
            left = gap + column * (press.size[0] + gap)
            sheet.paste(image.convert(sheet.mode), (left, gap + row * (press.size[1] + gap)))
        with written_whole(path):
            sheet.save(path, "PNG")
    else:
        with written_whole(path):
            _on_pages(press, frames, path, title, on_picture)


def _cells(
    press: Painter, frames: Sequence[int], on_picture: Callable[[int], None]
) -> Iterator[Image.Image]:
    for done, frame in enumerate(frames, start=1):
        with Image.open(io.BytesIO(press.frame(frame))) as image:
            image.load()
            yield image
        on_picture(done)


def _gap(cell: tuple[int, int]) -> int:
    return max(4, round(cell[1] * _GAP_SHARE))


def _laid_out(cells: int, cell: tuple[int, int]) -> tuple[int, tuple[int, int]]:
    """How many columns, and the size of the sheet in pixels. Raises Refusal for a sheet that is too large."""
    gap = _gap(cell)
    width, height = cell[0] + gap, cell[1] + gap
    columns = min(cells, max(1, round(math.sqrt(cells * _ASPECT * height / width))))
    rows = -(-cells // columns)
    size = columns * width + gap, rows * height + gap
    if size[0] * size[1] > MOST_PIXELS:
        raise Refusal(
            f"The sheet would be {size[0]:,} × {size[1]:,} pixels: print smaller or fewer frames."
        )
    return columns, size


def _on_pages(
    press: Painter,
    frames: Sequence[int],
    path: Path,
    title: str,
    on_picture: Callable[[int], None],
) -> None:
    """On A4 pages on their side."""
    page_width, page_height = map(float, landscape(A4))
    canvas = Canvas(str(path), pagesize=(page_width, page_height), invariant=1)
    canvas.setTitle(title)
    each = PAGE_COLUMNS * PAGE_ROWS
    pages = -(-len(frames) // each)
    most_width = (page_width - 2 * _MARGIN - (PAGE_COLUMNS - 1) * _GAP) / PAGE_COLUMNS
    most_height = (page_height - 2 * _MARGIN - _HEAD - (PAGE_ROWS - 1) * _GAP) / PAGE_ROWS
    share = min(most_width / press.size[0], most_height / press.size[1])
    width, height = press.size[0] * share, press.size[1] * share
    for place, image in enumerate(_cells(press, frames, on_picture)):
        page, on_page = divmod(place, each)
        if on_page == 0:
            if page:
                canvas.showPage()
            canvas.setFont(face_for(title), _TEXT_SIZE)
            canvas.drawString(_MARGIN, page_height - _MARGIN - _TEXT_SIZE, title)
            canvas.setFont(face_for(""), _TEXT_SIZE)
            right = page_width - _MARGIN
            canvas.drawRightString(
                right, page_height - _MARGIN - _TEXT_SIZE, f"page {page + 1} of {pages}"
            )
        row, column = divmod(on_page, PAGE_COLUMNS)
        x = _MARGIN + column * (most_width + _GAP)
        y = page_height - _MARGIN - _HEAD - row * (most_height + _GAP) - height
        canvas.drawImage(ImageReader(image.convert("RGB")), x, y, width, height)
    canvas.showPage()
    canvas.save()
