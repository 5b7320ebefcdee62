"""The press: the page that paints prints, driven in headless Chromium. It asks for nothing outside: all that it
gets is handed to it here, so that it needs no server, and can change nothing."""

import base64
import io
import mimetypes
import shutil
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import unquote, urlsplit

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from playwright.sync_api import Error, Page, Route, sync_playwright

from ..errors import Refusal
from .sheet import Printed, frames_for, sheet_of

Picture = NDArray[np.uint8]
"""Red, green and blue, from the upper left. [height, width, 3]"""
# No such host is ever looked up: every request is answered here.
_HOST = "http://print.invalid"
_PAGE = "print.html"
_HANDED = "/printed/"
# The picture is the same with and without a graphics card: it is painted by the processor.
_SETTINGS = ("--no-sandbox", "--disable-gpu", "--force-color-profile=srgb", "--hide-scrollbars")
_PAINT = "async (frame) => (await window.printPage).paint(frame)"
_BUILT_PAGE = Path(__file__).resolve().parents[3] / "web" / "dist"


@dataclass(frozen=True)
class Handed:
    """What the page is given by its path behind `/printed/`."""

    printed: Printed
    picture: Callable[[str], bytes]
    """A picture's bytes by its file. Raises Refusal where it is not there."""

    def at(self, path: str) -> tuple[bytes, str]:
        """Bytes and their kind. Raises Refusal for anything else."""
        what, _, name = path.partition("/")
        if path == "sheet.json":
            return sheet_of(self.printed), "application/json"
        if what == "frames":
            start, _, end = name.partition("-")
            return frames_for(self.printed, int(start), int(end)), "application/octet-stream"
        if what == "pictures":
            data = self.picture(name)
            return data, _kind_of(data)
        raise Refusal(f"Nothing is printed from “{path}”.")


class Press:
    """A page that paints frames of one print. Made by `press_for`."""

    def __init__(self, page: Page, printed: Printed) -> None:
        self._page = page
        self.printed = printed

    def frame(self, played: int) -> bytes:
        """The picture of a played frame, as a PNG. Raises Refusal where the page cannot paint it."""
        try:
            text: str = self._page.evaluate(_PAINT, played)
        except Error as problem:
            raise Refusal(f"Frame {played} cannot be painted: {_said(problem)}") from None
        return base64.b64decode(text)


def pixels_of(png: bytes) -> Picture:
    """The pixels of a frame that was painted. [height, width, 3]"""
    with Image.open(io.BytesIO(png)) as image:
        return np.asarray(image.convert("RGB"))


@contextmanager
def press_for(
    printed: Printed,
    pictures: Mapping[str, bytes] | Callable[[str], bytes],
    page_folder: Path = _BUILT_PAGE,
) -> Iterator[Press]:
    """A press for a print; `pictures` gives the bytes of a picture by its file.

    Raises Refusal where there is no Chromium, or the page was not built.
    """
    # What the page would be refused is said at once.
    sheet_of(printed)
    if not (page_folder / _PAGE).is_file():
        raise Refusal("The page that prints is not built: bin/setup builds it.")
    chromium = shutil.which("chromium") or shutil.which("chromium-browser")
    if chromium is None:
        raise Refusal(
            "Prints are painted by Chromium, which is not here: apt-get install chromium."
        )
    picture = pictures if callable(pictures) else _of(pictures)
    handed = Handed(printed, picture)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=[*_SETTINGS])
        try:
            page = browser.new_page(
                viewport={"width": 64, "height": 64}, device_scale_factor=1, base_url=_HOST
            )
            page.route("**/*", lambda route: _answer(route, handed, page_folder))
            page.goto(f"{_HOST}/{_PAGE}")
            yield Press(page, printed)
        finally:
            browser.close()


def _of(pictures: Mapping[str, bytes]) -> Callable[[str], bytes]:
    def picture(file: str) -> bytes:
        if file not in pictures:
            raise Refusal("A picture of the print is not here.")
        return pictures[file]

    return picture


def _answer(route: Route, handed: Handed, page_folder: Path) -> None:
    path = unquote(urlsplit(route.request.url).path)
    if not route.request.url.startswith(f"{_HOST}/") or route.request.method != "GET":
        route.abort()
        return
    if path.startswith(_HANDED):
        try:
            body, kind = handed.at(path.removeprefix(_HANDED))
        except (Refusal, ValueError) as problem:
            route.fulfill(status=404, body=str(problem), content_type="text/plain")
            return
        route.fulfill(body=body, content_type=kind)
        return
    file = (page_folder / path.lstrip("/")).resolve()
    if not file.is_relative_to(page_folder.resolve()) or not file.is_file():
        route.fulfill(status=404, body="")
        return
    kind = mimetypes.guess_type(file.name)[0] or "application/octet-stream"
    route.fulfill(body=file.read_bytes(), content_type=kind)


def _kind_of(data: bytes) -> str:
    if data.startswith(b"\xff\xd8\xff"):
        return "image/jpeg"
    if data[8:12] == b"WEBP":
        return "image/webp"
    return "image/png"


def _said(problem: Error) -> str:
    first = problem.message.splitlines()[0] if problem.message else "the page stopped."
    return first.removeprefix("Page.evaluate: ").removeprefix("Error: ")
