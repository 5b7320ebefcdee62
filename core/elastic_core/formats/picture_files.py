"""Pictures as they come: single ones, in a zip, as the frames of an animation or a movie, or on one sheet.

What a file is, is told by how it begins, and never by its name. Nothing of it is run, and nothing fetched.
"""

import io
import zipfile
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import PurePosixPath
from typing import Literal

import av
import numpy as np
from PIL import Image, ImageOps, UnidentifiedImageError
from pydantic import Field

from ..drawings.numbers import natural, number_of
from ..errors import Refusal
from ..frozen import Frozen
from ..tracing import MOST_PICTURES

FORMS = "PNG, JPEG, WebP, GIF or SVG pictures, a zip of them, or a movie"
LARGEST_PICTURE_BYTES = 32 << 20
LARGEST_UNPACKED_BYTES = 2 << 30
MOST_PIXELS = 50_000_000
MOST_ENTRIES = 20_000
MOST_CELLS = 100
_PILLOW_FORMS = ("PNG", "JPEG", "WEBP", "GIF")
_ZIP, _MOVIE_WORD = b"PK\x03\x04", slice(4, 8)
_MATROSKA = b"\x1aE\xdf\xa3"
_MILLISECONDS = 1_000
PieceForm = Literal["picture", "zip", "movie"]


class Grid(Frozen):
    """How a sheet of drawings is cut: so many beside each other, and so many rows."""

    columns: int = Field(ge=1, le=MOST_CELLS)
    rows: int = Field(ge=1, le=MOST_CELLS)


@dataclass(frozen=True)
class FileCame:
    """A file as it came: its name, and its bytes when they are asked for."""

    name: str
    read: Callable[[], bytes]


@dataclass(frozen=True)
class PicturePiece:
    """One picture: the number that it is to have, the name that it came under, and its bytes. One of an
    animation or a movie shows for `seconds`."""

    number: int
    name: str
    data: bytes
    seconds: Fraction | None = None


@dataclass(frozen=True)
class Unpacked:
    """All that came, in order; `pieces` are read one at a time, `count` is how many come if it is known by now.
    `left_out` are files that are no pictures."""

    pieces: Iterator[PicturePiece]
    count: int | None
    left_out: tuple[str, ...] = ()


def form_of_picture(data: bytes, name: str) -> PieceForm:
    """What kind of file it is. Raises Refusal for any other."""
    if is_packed(data):
        return "zip" if data.startswith(_ZIP) else "movie"
    if data.startswith((b"\x89PNG", b"\xff\xd8\xff", b"GIF8")) or data[8:12] == b"WEBP":
        return "picture"
    if is_svg(data):
        return "picture"
    raise Refusal(f"“{name}” is none of {FORMS}.")


def is_packed(data: bytes) -> bool:
    """Whether it is a zip or a movie, by how it begins: what is taken apart."""
    is_movie = data[_MOVIE_WORD] in (b"ftyp", b"moov") or data.startswith(_MATROSKA)
    return is_movie or data.startswith(_ZIP)


def is_svg(data: bytes) -> bool:
    """Whether it is a drawing of lines."""
    head = data[:1_000].lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    return head.startswith((b"<svg", b"<?xml", b"<!doctype svg", b"<!--"))


def unpacked(files: Sequence[FileCame], grid: Grid | None = None, first: int = 1) -> Unpacked:
    """Files taken apart: one zip, animation, movie or sheet, or pictures by the numbers of their names. What
    has no numbers is counted from `first` on, in natural order.

    Raises Refusal for no files, for several that would have to be taken apart, and as `numbered` does; what
    cannot be read is refused as it comes.
    """
    if not files:
        raise Refusal("There are no pictures in it.")
    if len(files) > 1:
        return _numbered([(file.name, file.read) for file in files], first)
    (only,) = files
    data = only.read()
    form = form_of_picture(data, only.name)
    if form == "zip":
        return _of_zip(data, only.name, first)
    if form == "movie":
        return Unpacked(_of_movie(data, only.name, first), _frames_of_movie(data))
    if grid is not None:
        return Unpacked(_cut(data, only.name, grid, first), None)
    if not is_svg(data) and _frames_in(data, only.name) > 1:
        return Unpacked(_of_animation(data, only.name, first), _frames_in(data, only.name))
    return _numbered([(only.name, lambda: data)], first)


def _numbered(files: list[tuple[str, Callable[[], bytes]]], first: int) -> Unpacked:
    """Pictures by the numbers of their names, all of them or none."""
    if len(files) > MOST_PICTURES:
        raise Refusal(f"A set has {MOST_PICTURES:,} drawings at the most.")
    files = sorted(files, key=lambda file: natural(file[0]))
    own = [_own_number(name) for name, _ in files]
    by_number: dict[int, tuple[str, Callable[[], bytes]]] = {}
    for place, file in enumerate(files):
        number = first + place if None in own else own[place]
        assert number is not None
        if number in by_number:
            raise Refusal(f"“{by_number[number][0]}” and “{file[0]}” are both drawing {number}.")
        by_number[number] = file

    def pieces() -> Iterator[PicturePiece]:
        """One after the other. Raises Refusal for one that is none."""
        for number, (name, read) in sorted(by_number.items()):
            data = read()
            if form_of_picture(data, name) != "picture":
                raise Refusal(f"“{name}” is to be taken apart: bring it in by itself.")
            yield PicturePiece(number, name, data)

    return Unpacked(pieces(), len(files))


def _own_number(name: str) -> int | None:
    try:
        return number_of(PurePosixPath(name.replace("\\", "/")).name)
    except Refusal:
        return None


# A zip


def _of_zip(data: bytes, name: str, first: int) -> Unpacked:
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except (zipfile.BadZipFile, ValueError, NotImplementedError):
        raise Refusal(f"“{name}” is no whole zip.") from None
    entries = [entry for entry in archive.infolist() if not entry.is_dir()]
    if len(entries) > MOST_ENTRIES or sum(e.file_size for e in entries) > LARGEST_UNPACKED_BYTES:
        raise Refusal(
            f"“{name}” unpacks to more than {LARGEST_UNPACKED_BYTES >> 30} GB or {MOST_ENTRIES:,} files."
        )
    pictures = [entry for entry in entries if _looks_like_a_picture(entry.filename)]
    if not pictures:
        raise Refusal(f"There are no pictures in “{name}”.")
    left_out = tuple(
        entry.filename
        for entry in entries
        if entry not in pictures and not _is_of_the_system(entry)
    )

    def reader(entry: zipfile.ZipInfo) -> Callable[[], bytes]:
        return lambda: _read_entry(archive, entry)

    found = _numbered([(entry.filename, reader(entry)) for entry in pictures], first)
    return Unpacked(found.pieces, found.count, left_out)


def _read_entry(archive: zipfile.ZipFile, entry: zipfile.ZipInfo) -> bytes:
    """What is packed, and never more than a picture may have, whatever is said of its size."""
    if entry.flag_bits & 1:
        raise Refusal(f"“{entry.filename}” is packed with a password.")
    try:
        with archive.open(entry) as file:
            data = file.read(LARGEST_PICTURE_BYTES + 1)
    except (zipfile.BadZipFile, OSError, EOFError, ValueError, NotImplementedError, RuntimeError):
        raise Refusal(f"“{entry.filename}” in the zip cannot be read.") from None
    if len(data) > LARGEST_PICTURE_BYTES:
        raise Refusal(f"“{entry.filename}” is larger than {LARGEST_PICTURE_BYTES >> 20} MB.")
    return data


def _is_of_the_system(entry: zipfile.ZipInfo) -> bool:
    path = PurePosixPath(entry.filename)
    return path.name.startswith(".") or "__MACOSX" in path.parts or path.name == "Thumbs.db"


def _looks_like_a_picture(name: str) -> bool:
    path = PurePosixPath(name)
    wanted = path.suffix.lower() in (".png", ".jpg", ".jpeg", ".webp", ".svg", ".gif")
    return wanted and not path.name.startswith(".") and "__MACOSX" not in path.parts


# Animations, sheets and movies


def opened_picture(data: bytes, name: str) -> Image.Image:
    """A picture of pixels, its size known and its pixels not read yet. Raises Refusal for none, and for one
    that is larger than may be."""
    if len(data) > LARGEST_PICTURE_BYTES:
        raise Refusal(f"“{name}” is larger than {LARGEST_PICTURE_BYTES >> 20} MB.")
    try:
        image = Image.open(io.BytesIO(data), formats=_PILLOW_FORMS)
    except (UnidentifiedImageError, Image.DecompressionBombError):
        raise Refusal(f"“{name}” is no PNG, JPEG, WebP, GIF or SVG picture.") from None
    except (OSError, SyntaxError, ValueError):
        # Its head is one, and what follows is not what it should be: a chunk that is beyond all measure.
        raise Refusal(
            f"“{name}” cannot be read: what is written beside the picture is broken."
        ) from None
    if image.width * image.height > MOST_PIXELS:
        raise Refusal(f"“{name}” has more than {MOST_PIXELS // 1_000_000} million pixels.")
    return image


def flat(image: Image.Image, name: str) -> Image.Image:
    """A picture as it is to be looked at: upright, in eight bits, RGB or with what one can see through.

    Raises Refusal for one that is broken off.
    """
    try:
        image = ImageOps.exif_transpose(image)
        if image.mode.startswith("I"):
            deep = np.asarray(image, dtype=np.float64) / (
                257 if np.asarray(image).max() > 255 else 1
            )
            return Image.fromarray(np.clip(deep, 0, 255).astype(np.uint8)).convert("RGB")
        clear = image.mode in ("RGBA", "LA", "PA", "La", "RGBa") or "transparency" in image.info
        return image.convert("RGBA" if clear else "RGB")
    except (OSError, SyntaxError, ValueError, EOFError):
        raise Refusal(f"“{name}” is broken off: it cannot be read to its end.") from None


def written_png(image: Image.Image) -> bytes:
    """A picture as a PNG; the same pixels give the same bytes."""
    out = io.BytesIO()
    image.save(out, "PNG", compress_level=3)
    return out.getvalue()


def _frames_in(data: bytes, name: str) -> int:
    with opened_picture(data, name) as image:
        return int(getattr(image, "n_frames", 1))


def _of_animation(data: bytes, name: str, first: int) -> Iterator[PicturePiece]:
    with opened_picture(data, name) as image:
        count = _frames_in(data, name)
        if count > MOST_PICTURES:
            raise Refusal(f"A set has {MOST_PICTURES:,} drawings at the most.")
        for place in range(count):
            try:
                image.seek(place)
            except (EOFError, OSError, SyntaxError, ValueError):
                raise Refusal(f"“{name}” is broken off at its frame {place + 1}.") from None
            shown = flat(image.copy(), name)
            seconds = Fraction(int(image.info.get("duration", 0) or 0), _MILLISECONDS)
            yield PicturePiece(first + place, name, written_png(shown), seconds or None)


def _cut(data: bytes, name: str, grid: Grid, first: int) -> Iterator[PicturePiece]:
    """The cells of a sheet, row by row; empty ones at its end are none."""
    with opened_picture(data, name) as image:
        sheet = flat(image, name)
    wide, high = sheet.width // grid.columns, sheet.height // grid.rows
    if not wide or not high:
        raise Refusal(f"“{name}” has fewer pixels than cells.")
    cells = [
        sheet.crop((column * wide, row * high, (column + 1) * wide, (row + 1) * high))
        for row in range(grid.rows)
        for column in range(grid.columns)
    ]
    while len(cells) > 1 and _is_empty(cells[-1]):
        cells.pop()
    for place, cell in enumerate(cells):
        yield PicturePiece(first + place, name, written_png(cell))


def _is_empty(cell: Image.Image) -> bool:
    """Nothing but one colour, or nothing to be seen at all."""
    if cell.mode == "RGBA" and cell.getchannel("A").getextrema() == (0, 0):
        return True
    return all(low == high for low, high in _extrema(cell))


def _extrema(cell: Image.Image) -> Iterable[tuple[float, float]]:
    return [cell.getchannel(band).getextrema() for band in cell.getbands()]  # type: ignore[misc]


def _frames_of_movie(data: bytes) -> int | None:
    """How many frames a movie says that it has, if it says so and can be opened."""
    try:
        with av.open(io.BytesIO(data), mode="r") as movie:
            return movie.streams.video[0].frames or None if movie.streams.video else None
    except (av.FFmpegError, ValueError):
        return None


def _of_movie(data: bytes, name: str, first: int) -> Iterator[PicturePiece]:
    """Every frame of a movie, at its rate."""
    try:
        with av.open(io.BytesIO(data), mode="r") as movie:
            if not movie.streams.video:
                raise Refusal(f"“{name}” holds no pictures.")
            stream = movie.streams.video[0]
            if stream.width * stream.height > MOST_PIXELS:
                raise Refusal(f"“{name}” has more than {MOST_PIXELS // 1_000_000} million pixels.")
            rate = Fraction(stream.average_rate or stream.guessed_rate or 24)
            for place, frame in enumerate(movie.decode(stream)):
                if place == MOST_PICTURES:
                    raise Refusal(
                        f"“{name}” has more than {MOST_PICTURES:,} frames: cut it, or use it as a reference."
                    )
                out = io.BytesIO()
                shown = Image.fromarray(frame.to_ndarray(format="rgb24"))
                shown.save(out, "JPEG", quality=92)
                yield PicturePiece(first + place, name, out.getvalue(), 1 / rate)
    except (av.FFmpegError, ValueError, MemoryError):
        raise Refusal(f"“{name}” cannot be read: it is no whole movie.") from None
