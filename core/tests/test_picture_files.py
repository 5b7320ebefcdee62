"""Pictures as they come: told apart by what they hold, and safe to open."""

import io
import struct
import zipfile
import zlib
from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from PIL import Image

from elastic_core.errors import Refusal
from elastic_core.formats.picture_files import (
    FileCame,
    Grid,
    PicturePiece,
    flat,
    form_of_picture,
    is_packed,
    opened_picture,
    unpacked,
)


def saved(image: Image.Image, form: str = "PNG", **more: object) -> bytes:
    out = io.BytesIO()
    image.save(out, form, **more)
    return out.getvalue()


def plain(colour: object, size: tuple[int, int] = (8, 6), mode: str = "RGB") -> Image.Image:
    return Image.new(mode, size, colour)  # type: ignore[arg-type]


def came(*files: tuple[str, bytes], grid: Grid | None = None, first: int = 1) -> list[PicturePiece]:
    return list(
        unpacked([FileCame(name, lambda d=data: d) for name, data in files], grid, first).pieces
    )


def zipped(*files: tuple[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files:
            archive.writestr(name, data)
    return out.getvalue()


PNG = saved(plain("red"))


def numbers(pieces: Sequence[PicturePiece]) -> list[int]:
    return [piece.number for piece in pieces]


def test_pictures_have_the_numbers_of_their_names_in_natural_order() -> None:
    found = came(("f10.png", PNG), ("f2.png", PNG), ("f0.png", PNG))
    assert numbers(found) == [0, 2, 10]
    assert [piece.name for piece in found] == ["f0.png", "f2.png", "f10.png"]
    # Where one has none, all are counted.
    assert numbers(came(("f10.png", PNG), ("flame.png", PNG), first=4)) == [4, 5]
    with pytest.raises(Refusal, match=r"“a/7\.png” and “b/07\.png” are both drawing 7"):
        came(("a/7.png", PNG), ("b/07.png", PNG))


def test_a_zip_is_taken_apart_and_what_is_no_picture_is_left_out() -> None:
    data = zipped(
        ("flame/f2.png", PNG),
        ("flame/f1.png", PNG),
        ("notes.txt", b"x"),
        ("__MACOSX/f1.png", b"x"),
        (".DS_Store", b""),
    )
    found = unpacked([FileCame("flame.zip", lambda: data)])
    assert (found.count, found.left_out) == (2, ("notes.txt",))
    assert numbers(list(found.pieces)) == [1, 2]
    with pytest.raises(Refusal, match=r"There are no pictures in “flame\.zip”"):
        came(("flame.zip", zipped(("notes.txt", b"x"))))
    with pytest.raises(Refusal, match="is no whole zip"):
        came(("flame.zip", data[:60]))


def test_a_zip_that_lies_fills_no_memory() -> None:
    """One that unpacks to far more than it says, one that says so, and one in which files are beyond count."""
    bomb = zipped(("f1.png", b"\0" * (40 << 20)))
    assert len(bomb) < 100_000
    with pytest.raises(Refusal, match=r"“f1\.png” is larger than 32 MB"):
        came(("bomb.zip", bomb))
    out = io.BytesIO(bomb)
    # It says of itself that it unpacks to four bytes.
    size = (40 << 20).to_bytes(4, "little")
    lying = out.getvalue().replace(size, (4).to_bytes(4, "little"))
    with pytest.raises(Refusal):
        came(("bomb.zip", lying))
    huge = zipped(*((f"f{k}.png", b"") for k in range(3))).replace(
        (0).to_bytes(4, "little") + (0).to_bytes(4, "little"), b"\xff\xff\xff\xf0" * 2
    )
    with pytest.raises(Refusal):
        came(("huge.zip", huge))
    many = zipped(*((f"f{k}.png", b"") for k in range(20_001)))
    with pytest.raises(Refusal, match="20,000 files"):
        came(("many.zip", many))


def test_an_animation_is_taken_apart_with_its_times() -> None:
    frames = [plain(colour) for colour in ("red", "green", "blue")]
    for form in ("GIF", "WEBP", "PNG"):
        data = saved(
            frames[0], form, save_all=True, append_images=frames[1:], duration=[80, 120, 40]
        )
        found = came(("flame.any", data))
        assert numbers(found) == [1, 2, 3]
        colours = []
        for piece in found:
            with Image.open(io.BytesIO(piece.data)) as image:
                colours.append(image.convert("RGB").getpixel((2, 2)))
        assert colours[0][0] > 200 > colours[0][2]  # type: ignore[index]
        assert colours[2][2] > 200 > colours[2][0]  # type: ignore[index]
        if form != "PNG":
            assert [piece.seconds for piece in found] == [Fraction(n, 1000) for n in (80, 120, 40)]


def test_a_sheet_is_cut_row_by_row_and_its_empty_end_is_none() -> None:
    sheet = Image.new("RGBA", (30, 20), (0, 0, 0, 0))
    for place in range(5):
        cell = Image.new("RGBA", (10, 10), (10 * place, 0, 0, 255))
        cell.putpixel((0, 0), (255, 255, 255, 255))
        sheet.paste(cell, (place % 3 * 10, place // 3 * 10))
    found = came(("sheet 4.png", saved(sheet)), grid=Grid(columns=3, rows=2))
    assert numbers(found) == [1, 2, 3, 4, 5]
    reds = [Image.open(io.BytesIO(piece.data)).getpixel((5, 5))[0] for piece in found]  # type: ignore[index]
    assert reds == [0, 10, 20, 30, 40]
    with pytest.raises(Refusal, match="fewer pixels than cells"):
        came(("tiny.png", PNG), grid=Grid(columns=20, rows=1))


def test_a_movie_is_taken_apart_at_its_rate(tmp_path: Path) -> None:
    path = tmp_path / "sea.mp4"
    with av.open(str(path), "w") as movie:
        stream = movie.add_stream("mpeg4", rate=12)
        stream.width, stream.height = 32, 16
        for place in range(7):
            pixels = np.full((16, 32, 3), 30 * place, dtype=np.uint8)
            for packet in stream.encode(av.VideoFrame.from_ndarray(pixels, format="rgb24")):
                movie.mux(packet)
        for packet in stream.encode():
            movie.mux(packet)
    found = came(("sea.mp4", path.read_bytes()))
    assert numbers(found) == [1, 2, 3, 4, 5, 6, 7]
    assert unpacked([FileCame("sea.mp4", path.read_bytes)]).count == 7
    assert {piece.seconds for piece in found} == {Fraction(1, 12)}
    with Image.open(io.BytesIO(found[4].data)) as image:
        assert image.size == (32, 16)
        assert image.getpixel((9, 9))[0] == pytest.approx(120, abs=8)  # type: ignore[index]
    with pytest.raises(Refusal, match=r"is no whole movie|holds no pictures"):
        came(("sea.mp4", path.read_bytes()[:200]))


def test_what_a_file_is_goes_by_how_it_begins() -> None:
    assert form_of_picture(PNG, "x.zip") == "picture"
    assert form_of_picture(zipped(("a1.png", PNG)), "x.png") == "zip"
    assert form_of_picture(b"<svg xmlns=''/>", "x.svg") == "picture"
    assert is_packed(b"\0\0\0\x18ftypmp42")
    for wrong in (b"", b"HIERARCHY\n", b"%PDF-1.7", b"MZ\x90\0"):
        with pytest.raises(Refusal, match="is none of PNG, JPEG"):
            form_of_picture(wrong, "flame.png")
    with pytest.raises(Refusal, match="is to be taken apart"):
        came(("f1.png", PNG), ("f2.png", zipped(("a1.png", PNG))))


def shown(data: bytes) -> Image.Image:
    with opened_picture(data, "f.png") as image:
        return flat(image, "f.png")


def test_pictures_come_out_upright_in_eight_bits() -> None:
    lying = plain("red", (8, 6))
    exif = Image.Exif()
    exif[0x0112] = 6
    assert shown(saved(lying, "JPEG", exif=exif)).size == (6, 8)
    cmyk = shown(saved(plain((0, 255, 255, 0), mode="CMYK"), "JPEG"))
    assert cmyk.mode == "RGB"
    assert cmyk.getpixel((3, 3))[0] > 200  # type: ignore[index]
    deep = Image.fromarray(np.full((4, 4), 32_896, dtype=np.uint16))
    assert shown(saved(deep)).getpixel((1, 1)) == (128, 128, 128)
    clear = shown(saved(plain((9, 9, 9, 40), mode="RGBA")))
    assert (clear.mode, clear.getpixel((1, 1))) == ("RGBA", (9, 9, 9, 40))
    grey = shown(saved(plain((77, 128), mode="LA")))
    assert grey.getpixel((1, 1)) == (77, 77, 77, 128)
    indexed = plain("red").convert("P")
    assert shown(saved(indexed, "GIF")).getpixel((1, 1))[:3] == (255, 0, 0)  # type: ignore[index]


def chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def test_pictures_that_lie_are_refused_in_a_sentence() -> None:
    head = struct.pack(">IIBBBBB", 30_000, 30_000, 8, 2, 0, 0, 0)
    huge = (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(b"\0"))
        + chunk(b"IEND", b"")
    )
    with pytest.raises(Refusal, match=r"is no PNG|more than 50 million pixels"):
        opened_picture(huge, "f.png")
    broken = saved(Image.effect_noise((80, 80), 90))[:900]
    with pytest.raises(Refusal, match="broken off"):
        shown(broken)
    with pytest.raises(Refusal, match="is no PNG, JPEG, WebP, GIF or SVG"):
        opened_picture(b"\x89PNG\r\n\x1a\nrubbish", "f.png")
