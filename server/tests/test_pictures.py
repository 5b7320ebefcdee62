"""Pictures in and out: checked, kept once, and laid under a clip."""

import io
import zlib

import pytest
from django.test import Client
from PIL import Image

from library.models import StoredFile

from .conftest import Demo

pytestmark = pytest.mark.django_db


def picture(
    kind: str = "PNG", size: tuple[int, int] = (32, 20), turned: bool = False
) -> io.BytesIO:
    data = io.BytesIO()
    exif = Image.Exif()
    if turned:
        exif[0x0112] = 6
    Image.new("RGB", size, "#8CC9E8").save(data, kind, exif=exif)
    data.seek(0)
    data.name = f"pose.{kind.lower()}"
    return data


def with_chunk(kind: bytes, data: bytes) -> bytes:
    """A good picture with one chunk more, right after its head."""
    whole = picture("PNG", (300, 200)).getvalue()
    head = 8 + 4 + 4 + 13 + 4
    check = zlib.crc32(kind + data).to_bytes(4, "big")
    chunk = len(data).to_bytes(4, "big") + kind + data + check
    return whole[:head] + chunk + whole[head:]


def bring_in(client: Client, demo: Demo, upload: io.BytesIO) -> tuple[int, dict[str, object]]:
    answer = client.post(f"/api/productions/{demo.production}/pictures", {"upload": upload})
    return answer.status_code, answer.json()


def test_png_and_jpeg_are_kept_and_given_back_as_they_were(editor: Client, demo: Demo) -> None:
    for kind, content_type in (("PNG", "image/png"), ("JPEG", "image/jpeg")):
        upload = picture(kind)
        data = upload.getvalue()
        status, kept = bring_in(editor, demo, upload)
        assert (status, kept["width_pixels"], kept["height_pixels"]) == (201, 32, 20)
        back = editor.get(f"/api/productions/{demo.production}/pictures/{kept['file']}")
        assert back.content == data
        assert back.headers["Content-Type"] == content_type
        assert "immutable" in back.headers["Cache-Control"]
    before = StoredFile.objects.count()
    bring_in(editor, demo, picture("PNG"))
    assert StoredFile.objects.count() == before


def test_a_camera_held_upright_gives_an_upright_picture(editor: Client, demo: Demo) -> None:
    _, kept = bring_in(editor, demo, picture("JPEG", turned=True))
    assert (kept["width_pixels"], kept["height_pixels"]) == (20, 32)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"HIERARCHY", "“pose.png” is no PNG, JPEG, WebP, GIF or SVG picture."),
        (b"", "“pose.png” is no PNG, JPEG, WebP, GIF or SVG picture."),
        (picture("PNG", (9000, 6000)).getvalue(), "“pose.png” has more than 50 million pixels."),
        (picture("PNG", (300, 200)).getvalue()[:-60], "broken off"),
        (with_chunk(b"zTXt", b"Comment\0\0" + zlib.compress(b" " * (80 << 20))), "cannot be read"),
        (with_chunk(b"iCCP", b"paper\0\0" + zlib.compress(b"\0" * (80 << 20))), "cannot be read"),
        (with_chunk(b"tEXt", b"Comment\0" + b"x" * (1 << 20)), ""),
        (with_chunk(b"gAMA", b"\0"), "cannot be read"),
    ],
    ids=["motion", "empty", "huge", "cut", "text", "profile", "long text", "short chunk"],
)
def test_what_cannot_be_traced_is_refused_in_words(
    data: bytes, says: str, editor: Client, demo: Demo
) -> None:
    upload = io.BytesIO(data)
    upload.name = "pose.png"
    before = StoredFile.objects.count()
    status, answer = bring_in(editor, demo, upload)
    if not says:
        # It is only long.
        assert status == 201
        return
    assert status == 422
    assert says in str(answer["message"])
    assert StoredFile.objects.count() == before


def test_a_picture_is_laid_under_a_clip_and_undone(editor: Client, demo: Demo) -> None:
    _, kept = bring_in(editor, demo, picture())
    clip = f"/api/clips/{demo.document('clip', 'Amble').pk}"
    edit: dict[str, object] = {
        "kind": "set_tracing",
        "pictures": [kept],
        "opacity": 0.3,
    }

    def send(what: dict[str, object], base: int) -> tuple[int, dict[str, object]]:
        body = {"edit": what, "base_revision": base}
        answer = editor.post(f"{clip}/edits", body, content_type="application/json")
        return answer.status_code, answer.json()

    status, laid = send(edit, 1)
    assert (status, laid["label"]) == (200, "Lay a picture under the stage")
    shown = editor.get(clip).json()["bench"]
    assert shown["tracing"]["opacity"] == 0.3
    assert shown["traced"] == [{"picture": 0, "start": 0, "end": 24}]
    editor.post(f"{clip}/undo", {"base_revision": 2}, content_type="application/json")
    assert editor.get(clip).json()["bench"]["tracing"] is None
    elsewhere = {**kept, "file": "0" * 64}
    status, refused = send({"kind": "set_tracing", "pictures": [elsewhere]}, 1)
    assert status == 422
    assert "bring it in first" in str(refused["message"])


SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20">{}</svg>'


def sent(client: Client, demo: Demo, data: bytes, name: str) -> tuple[int, dict[str, object]]:
    upload = io.BytesIO(data)
    upload.name = name
    return bring_in(client, demo, upload)


def test_drawings_of_lines_and_webp_are_kept_with_what_is_clear(demo: Demo, owner: Client) -> None:
    circle = '<defs><circle id="a" r="5"/></defs><use href="#a" x="20" y="10" fill="#c8452f"/>'
    _, kept = sent(owner, demo, SVG.format(circle).encode(), "mouth.svg")
    assert (kept["width_pixels"], kept["height_pixels"]) == (1200, 600)
    data = owner.get(f"/api/productions/{demo.production}/pictures/{kept['file']}")
    assert data.headers["Content-Type"] == "image/png"
    with Image.open(io.BytesIO(data.content)) as image:
        assert image.getpixel((600, 300)) == (200, 69, 47, 255)
        assert image.convert("RGBA").getchannel("A").getpixel((5, 5)) == 0
    assert bring_in(owner, demo, picture("WEBP"))[0] == 201


@pytest.mark.parametrize(
    ("inside", "says"),
    [
        ('<image href="/etc/hostname.png" width="9" height="9"/>', "points at other files"),
        ('<image xlink:href="http://127.0.0.1/a.png" width="9" height="9"/>', "points at other"),
        ('<rect width="9" height="9" fill="url(http://127.0.0.1/a)"/>', "points at other files"),
        ("<rect", "is no SVG that can be drawn"),
        (f"<!-- {'x' * (1 << 20)} -->", "larger than a drawing may be"),
    ],
)
def test_a_drawing_that_reaches_out_of_itself_is_refused(
    demo: Demo, owner: Client, inside: str, says: str
) -> None:
    status, refused = sent(owner, demo, SVG.format(inside).encode(), "mouth.svg")
    assert status == 422
    assert says in str(refused["message"])
    entities = b'<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "b">]><svg xmlns="a">&a;</svg>'
    assert "points at other files" in str(sent(owner, demo, entities, "a.svg")[1]["message"])
