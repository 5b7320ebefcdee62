"""Numbered pictures, as other programs read them: `frame 0000.png`, one a frame."""

import zipfile
from collections.abc import Callable
from pathlib import Path

from ..errors import Refusal
from ..formats.zips import entry_named
from .painter import Painter
from .whole import written_whole

NAME = "frame {:04}.png"


def print_pictures(
    press: Painter, span: range, folder: Path, on_picture: Callable[[int], None] = lambda done: None
) -> None:
    """A span of a print's played frames as PNG pictures by their numbers. Raises Refusal for a folder that
    holds pictures already: among others' nobody would find them."""
    folder.mkdir(parents=True, exist_ok=True)
    if any(folder.glob("frame *.png")):
        raise Refusal(f"There are pictures in {folder.name} already: name another folder.")
    written: list[Path] = []
    try:
        for done, frame in enumerate(span, start=1):
            path = folder / NAME.format(frame)
            path.write_bytes(press.frame(frame))
            written.append(path)
            on_picture(done)
    except BaseException:
        for path in written:
            path.unlink(missing_ok=True)
        raise


def print_zip(
    press: Painter, span: range, path: Path, on_picture: Callable[[int], None] = lambda done: None
) -> None:
    """The same in one file. They are packed already."""
    with written_whole(path), zipfile.ZipFile(path, "w") as packed:
        for done, frame in enumerate(span, start=1):
            packed.writestr(entry_named(NAME.format(frame)), press.frame(frame))
            on_picture(done)
