"""Pictures as they were brought in: checked, kept, and given back."""

import io
import re
from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from PIL import Image, ImageOps, UnidentifiedImageError
from resvg_py import svg_to_bytes

from accounts.models import Production
from elastic_core.errors import Refusal
from elastic_core.tracing import Picture

from . import files
from .models import StoredFile

LARGEST_BYTES = 32 << 20
MOST_PIXELS = 50_000_000
CONTENT_TYPES = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}
# A drawing of lines is kept as it looks at so many pixels across.
SVG_PIXELS = 1_200
LARGEST_SVG_BYTES = 1 << 20
# What a drawing may point at: itself, and what lies in it.
_POINTS_AT = re.compile(r"""(?:href|src)\s*=\s*["']\s*+(?!#|data:)""", re.IGNORECASE)
_URL = re.compile(r"url\(\s*+[\"']?+\s*+(?!#)", re.IGNORECASE)


@dataclass(frozen=True)
class PictureFile:
    data: bytes
    content_type: str


def store(production: Production, name: str, data: bytes) -> Picture:
    """Keep a PNG, a JPEG or a WebP, or an SVG as a PNG; anything else is refused in words."""
    if len(data) > LARGEST_BYTES:
        raise Refusal(f"“{name}” is larger than {LARGEST_BYTES >> 20} MB.")
    if is_svg(data):
        name, data = f"{name}.png", _drawn(name, data)
    with _opened(name, data) as image:
        if image.width * image.height > MOST_PIXELS:
            raise Refusal(f"“{name}” has more than {MOST_PIXELS // 1_000_000} million pixels.")
        try:
            # As it is to be looked at: a camera may have been held upright.
            width, height = ImageOps.exif_transpose(image).size
        except (OSError, SyntaxError, ValueError):
            raise Refusal(f"“{name}” is broken off: it cannot be read to its end.") from None
    kept = files.store(production, name, data)
    return Picture(file=kept.sha256, width_pixels=width, height_pixels=height)


def is_svg(data: bytes) -> bool:
    """Whether it is a drawing of lines."""
    head = data[:1_000].lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    return head.startswith((b"<svg", b"<?xml", b"<!doctype svg", b"<!--"))


def _drawn(name: str, data: bytes) -> bytes:
    """A drawing of lines as pixels, on nothing. It is given no file of this machine, and no entity."""
    if len(data) > LARGEST_SVG_BYTES:
        raise Refusal(f"“{name}” is larger than a drawing may be, {LARGEST_SVG_BYTES >> 20} MB.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal(f"“{name}” is no SVG in UTF-8.") from None
    if "<!entity" in text.lower() or _POINTS_AT.search(text) or _URL.search(text):
        raise Refusal(f"“{name}” points at other files: keep everything in the drawing itself.")
    try:
        return bytes(svg_to_bytes(svg_string=text, width=SVG_PIXELS, skip_system_fonts=True))
    except ValueError:
        raise Refusal(f"“{name}” is no SVG that can be drawn.") from None


def load(production: Production, sha256: str) -> PictureFile:
    kept = production.files.filter(sha256=sha256).first()
    if kept is None:
        raise Refusal("That picture is not here any more.")
    data = files.load(kept)
    with _opened(kept.name, data) as image:
        return PictureFile(data, CONTENT_TYPES[image.format or ""])


def check(production_id: UUID, pictures: Sequence[Picture]) -> None:
    """Whether all of them are kept in this production."""
    check_files(production_id, {picture.file for picture in pictures})


def check_files(production_id: UUID, wanted: set[str]) -> None:
    """The same, by their files."""
    files = StoredFile.objects.filter(production_id=production_id, sha256__in=wanted)
    known = files.values_list("sha256", flat=True)
    if wanted - set(known):
        raise Refusal("One of the pictures is not here: bring it in first.")


def _opened(name: str, data: bytes) -> Image.Image:
    try:
        return Image.open(io.BytesIO(data), formats=list(CONTENT_TYPES))
    except (UnidentifiedImageError, Image.DecompressionBombError):
        raise Refusal(f"“{name}” is no PNG, JPEG, WebP or SVG picture.") from None
    except (OSError, SyntaxError, ValueError):
        # Its head is one, and what follows is not what it should be: a chunk that is beyond all measure.
        raise Refusal(
            f"“{name}” cannot be read: what is written beside the picture is broken."
        ) from None
