"""Pictures as they were brought in: checked, kept, and given back."""

import io
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from uuid import UUID

from PIL import ExifTags, Image
from resvg_py import svg_to_bytes

from accounts.models import Production
from elastic_core.errors import Refusal
from elastic_core.formats.picture_files import (
    LARGEST_PICTURE_BYTES,
    flat,
    is_svg,
    opened_picture,
    written_png,
)
from elastic_core.tracing import Picture

from . import files
from .models import PictureSize, StoredFile

LARGEST_BYTES = LARGEST_PICTURE_BYTES
# On a shelf or in a strip, and on the stage or the light table.
SMALL_PIXELS, SHOWN_PIXELS = 160, 1_280
PIXELS = {"small": SMALL_PIXELS, "shown": SHOWN_PIXELS}
CONTENT_TYPES = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}
# A drawing of lines is kept as it looks at so many pixels across.
SVG_PIXELS = 1_200
LARGEST_SVG_BYTES = 1 << 20
# Orientations in which a picture lies on its side.
_LYING = (5, 6, 7, 8)
# Fainter than this is no paint: a sheet that was wiped clean is seldom quite clean.
LEAST_PAINT = 24
# What a drawing may point at: itself, and what lies in it.
_POINTS_AT = re.compile(r"""(?:href|src)\s*=\s*["']\s*+(?!#|data:)""", re.IGNORECASE)
_URL = re.compile(r"url\(\s*+[\"']?+\s*+(?!#)", re.IGNORECASE)


# Left, below, right and above, in parts of a picture from its left and from its foot.
Painted = tuple[float, float, float, float]


@dataclass(frozen=True)
class PictureFile:
    data: bytes
    content_type: str


def store(production: Production, name: str, data: bytes) -> Picture:
    """Keep a PNG, a JPEG or a WebP; an SVG or a GIF as a PNG; anything else is refused in words."""
    return keep(production, prepared(name, data))


@dataclass(frozen=True)
class Prepared:
    """A picture that was read once and found good: its bytes as they are kept, its size as it is to be looked
    at, how far it is painted, and itself at the sizes that are shown."""

    name: str
    data: bytes
    width_pixels: int
    height_pixels: int
    painted: Painted
    sizes: Mapping[int, bytes]


def prepared(name: str, data: bytes, sizes: Sequence[int] = ()) -> Prepared:
    """Read a picture, to be kept. Raises Refusal for what is none."""
    if is_svg(data):
        name, data = f"{name}.png", _drawn(name, data)
    with opened_picture(data, name) as image:
        form, (width, height) = image.format or "", _upright_size(image, name)
        # A JPEG is read no larger than is needed, in a quarter of the time.
        image.draft("RGB", (max(sizes, default=width), max(sizes, default=height)))
        shown = flat(image, name)
    if form not in CONTENT_TYPES:
        name, data = f"{name}.png", written_png(shown)
    painted = _painted(shown)
    made: dict[int, bytes] = {}
    for pixels in sorted(sizes, reverse=True):
        # The smaller one from the larger, in a tenth of the time.
        shown = shown.copy()
        shown.thumbnail((pixels, pixels), Image.Resampling.LANCZOS, reducing_gap=1.5)
        made[pixels] = _webp(shown)
    return Prepared(name, data, width, height, painted, made)


def _painted(image: Image.Image) -> Painted:
    """How far a picture is painted; all of one that nobody sees through, or that has no paint."""
    if image.mode != "RGBA":
        return (0.0, 0.0, 1.0, 1.0)
    paint = image.getchannel("A").point(lambda alpha: 255 * (alpha >= LEAST_PAINT))
    left, top, right, bottom = paint.getbbox() or (0, 0, image.width, image.height)
    return (
        left / image.width,
        1 - bottom / image.height,
        right / image.width,
        1 - top / image.height,
    )


def _upright_size(image: Image.Image, name: str) -> tuple[int, int]:
    """How large it is as it is to be looked at: a camera may have been held upright."""
    try:
        is_lying = image.getexif().get(ExifTags.Base.Orientation, 1) in _LYING
    except (OSError, SyntaxError, ValueError):
        raise Refusal(f"“{name}” is broken off: it cannot be read to its end.") from None
    return (image.height, image.width) if is_lying else image.size


def _webp(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "WEBP", quality=88, method=1)
    return out.getvalue()


def keep(production: Production, picture: Prepared) -> Picture:
    """Keep what was prepared, with the sizes that it is shown at."""
    kept = files.store(production, picture.name, picture.data)
    PictureSize.objects.bulk_create(
        [
            PictureSize(sha256=kept.sha256, pixels=pixels, data=data)
            for pixels, data in picture.sizes.items()
        ],
        ignore_conflicts=True,
    )
    return Picture(
        file=kept.sha256,
        width_pixels=picture.width_pixels,
        height_pixels=picture.height_pixels,
        painted=picture.painted,
    )


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


def painted(production: Production, sha256: str) -> Painted:
    """How far a kept picture is painted, as its small size shows it."""
    small = load(production, sha256, SMALL_PIXELS)
    with Image.open(io.BytesIO(small.data)) as image:
        return _painted(image.convert("RGBA"))


def load(production: Production, sha256: str, pixels: int | None = None) -> PictureFile:
    """A picture as it was brought in; or no larger than so many pixels, made when it is first asked for."""
    kept = production.files.filter(sha256=sha256).first()
    if kept is None:
        raise Refusal("That picture is not here any more.")
    if pixels is not None:
        return PictureFile(_at_size(kept, pixels), CONTENT_TYPES["WEBP"])
    data = files.load(kept)
    with opened_picture(data, kept.name) as image:
        return PictureFile(data, CONTENT_TYPES[image.format or ""])


def _at_size(kept: StoredFile, pixels: int) -> bytes:
    known = PictureSize.objects.filter(sha256=kept.sha256, pixels=pixels).first()
    if known is None:
        made = prepared(kept.name, files.load(kept), [pixels]).sizes[pixels]
        known, _ = PictureSize.objects.get_or_create(
            sha256=kept.sha256, pixels=pixels, defaults={"data": made}
        )
    return bytes(known.data)


def check(production_id: UUID, pictures: Sequence[Picture]) -> None:
    """Whether all of them are kept in this production."""
    check_files(production_id, {picture.file for picture in pictures})


def check_files(production_id: UUID, wanted: set[str]) -> None:
    """The same, by their files."""
    files = StoredFile.objects.filter(production_id=production_id, sha256__in=wanted)
    known = files.values_list("sha256", flat=True)
    if wanted - set(known):
        raise Refusal("One of the pictures is not here: bring it in first.")
