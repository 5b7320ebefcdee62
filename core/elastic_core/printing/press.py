"""The press: the page that paints prints, driven in headless Chromium. It asks for nothing outside: all that it
gets is handed to it here, so that it needs no server, and can change nothing."""

import base64
import io
import mimetypes
import shutil
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from queue import Empty, SimpleQueue
from threading import Thread
from typing import TYPE_CHECKING
from urllib.parse import unquote, urlsplit

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..errors import Refusal
from .sheet import Printed, frames_for, sheet_of

if TYPE_CHECKING:
    from playwright.sync_api import Route

Picture = NDArray[np.uint8]
"""Red, green and blue, from the upper left. [height, width, 3]"""
# No such host is ever looked up: every request is answered here.
_HOST = "http://print.invalid"
_PAGE = "print.html"
_HANDED = "/printed/"
# The picture is the same with and without a graphics card: it is painted by the processor.
_SETTINGS = ("--no-sandbox", "--disable-gpu", "--force-color-profile=srgb", "--hide-scrollbars")
# A frame takes hundredths of a second; a page that takes so long is lost.
_PATIENCE_SECONDS, _LETTING_GO_SECONDS = 120, 10
_PAINT = "async (frame) => (await window.printPage).paint(frame)"
BUILT_PAGE = Path(__file__).resolve().parents[3] / "web" / "dist"


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


@dataclass(frozen=True)
class _Answer:
    status: int
    body: bytes
    kind: str


@dataclass(frozen=True)
class _Asked:
    """The page asks for something; its browser waits for the answer."""

    path: str
    answer: "SimpleQueue[_Answer]"


class Press:
    """Paints frames of one print. Made by `press_for`.

    The browser is driven on a thread of its own, by a loop of its own. What its page asks for is worked out on
    the thread that asks for frames, and only while it does: whose database or whose arrays those are, nobody
    else touches them.
    """

    def __init__(self, handed: Handed, page_folder: Path, chromium: str) -> None:
        self.printed = handed.printed
        self._handed = handed
        self._wishes: SimpleQueue[int | None] = SimpleQueue()
        self._told: SimpleQueue[bytes | _Asked | Exception] = SimpleQueue()
        self._is_closing = False
        self._thread = Thread(target=self._drive, args=(page_folder, chromium), daemon=True)
        self._thread.start()
        try:
            self._hear()
        except BaseException:
            self.close()
            raise

    @property
    def size(self) -> tuple[int, int]:
        return self.printed.look.width, self.printed.look.height

    @property
    def rate(self) -> Fraction:
        return self.printed.scene.rate

    def frame(self, played: int) -> bytes:
        """The picture of a played frame, as a PNG. Raises Refusal where the page cannot paint it."""
        if not self._thread.is_alive():
            raise Refusal("The press stopped.")
        self._wishes.put(played)
        return self._hear()

    def close(self) -> None:
        """Let the browser go."""
        self._is_closing = True
        self._wishes.put(None)
        self._thread.join(timeout=_LETTING_GO_SECONDS)

    def _hear(self) -> bytes:
        """What the browser's thread comes to, its page handed all that it asks for meanwhile."""
        while True:
            try:
                told = self._told.get(timeout=_PATIENCE_SECONDS)
            except Empty:
                raise Refusal(
                    f"The press painted nothing for {_PATIENCE_SECONDS} seconds: print a smaller picture."
                ) from None
            if isinstance(told, Exception):
                raise told
            if isinstance(told, bytes):
                return told
            try:
                body, kind = self._handed.at(told.path)
            except (Refusal, ValueError) as problem:
                told.answer.put(_Answer(404, str(problem).encode(), "text/plain"))
            except BaseException:
                told.answer.put(_Answer(500, b"", "text/plain"))
                raise
            else:
                told.answer.put(_Answer(200, body, kind))

    def _drive(self, page_folder: Path, chromium: str) -> None:
        # Only who prints waits for it: it takes a while to be read.
        from playwright.sync_api import Error, sync_playwright

        try:
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path=chromium, args=[*_SETTINGS])
                try:
                    page = browser.new_page(
                        viewport={"width": 64, "height": 64}, device_scale_factor=1
                    )
                    page.route("**/*", lambda route: self._answer(route, page_folder))
                    page.goto(f"{_HOST}/{_PAGE}")
                    self._told.put(b"")
                    while (played := self._wishes.get()) is not None:
                        try:
                            text: str = page.evaluate(_PAINT, played)
                        except Error as problem:
                            says = f"Frame {played} cannot be painted: {_said(problem.message)}"
                            self._told.put(Refusal(says))
                        else:
                            self._told.put(base64.b64decode(text))
                finally:
                    browser.close()
        except Exception as problem:
            self._told.put(Refusal(f"The press stopped: {_said(str(problem))}"))

    def _answer(self, route: "Route", page_folder: Path) -> None:
        url = route.request.url
        if self._is_closing or route.request.method != "GET" or not url.startswith(f"{_HOST}/"):
            route.abort()
            return
        path = unquote(urlsplit(url).path)
        if path.startswith(_HANDED):
            answer: SimpleQueue[_Answer] = SimpleQueue()
            self._told.put(_Asked(path.removeprefix(_HANDED), answer))
            given = answer.get()
            route.fulfill(status=given.status, body=given.body, content_type=given.kind)
            return
        file = (page_folder / path.lstrip("/")).resolve()
        if not file.is_relative_to(page_folder.resolve()) or not file.is_file():
            route.fulfill(status=404, body="")
            return
        kind = mimetypes.guess_type(file.name)[0] or "application/octet-stream"
        route.fulfill(body=file.read_bytes(), content_type=kind)


@contextmanager
def press_for(
    printed: Printed,
    pictures: Mapping[str, bytes] | Callable[[str], bytes],
    page_folder: Path = BUILT_PAGE,
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
    press = Press(Handed(printed, picture), page_folder, chromium)
    try:
        yield press
    finally:
        press.close()


def pixels_of(png: bytes) -> Picture:
    """The pixels of a frame that was painted. [height, width, 3]"""
    with Image.open(io.BytesIO(png)) as image:
        return np.asarray(image.convert("RGB"))


def _of(pictures: Mapping[str, bytes]) -> Callable[[str], bytes]:
    def picture(file: str) -> bytes:
        """Raises Refusal for one that is not at hand."""
        if file not in pictures:
            raise Refusal("A picture of the print is not here.")
        return pictures[file]

    return picture


def _kind_of(data: bytes) -> str:
    if data.startswith(b"\xff\xd8\xff"):
        return "image/jpeg"
    if data[8:12] == b"WEBP":
        return "image/webp"
    return "image/png"


def _said(message: str) -> str:
    first = message.splitlines()[0] if message else "the page stopped."
    return first.removeprefix("Page.evaluate: ").removeprefix("Error: ")
