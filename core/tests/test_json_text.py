"""JSON at the door: finite numbers, and text that can be kept."""

import json

import pytest

from demo.production import demo
from elastic_core.errors import Refusal
from elastic_core.formats.clip_file import ClipFile, clip_file_pieces
from elastic_core.formats.json_text import read_json
from elastic_core.formats.scene_file import read_own_file


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (b"", "nothing in it"),
        (b"{", "line 1, column"),
        (b'{"frame": NaN}', "line 1, column 11"),
        (b"[-Infinity]", "not JSON that can be read"),
        (b"1e999", "not JSON that can be read"),
        (rb'"\ud800"', "not JSON that can be read"),
        (b'"\xff"', "not JSON that can be read"),
        (b"[" * 5000 + b"]" * 5000, "not JSON that can be read"),
        (rb'{"name": "Lamp\u0000"}', "the character of number 0"),
        (rb'"\\\u0000"', "the character of number 0"),
        (b'"\x00"', "not JSON that can be read"),
    ],
)
def test_what_cannot_be_kept_is_refused(text: bytes, says: str) -> None:
    with pytest.raises(Refusal, match=says) as refused:
        read_json(text)
    assert str(refused.value).endswith(".")


def test_what_only_looks_like_it_is_read() -> None:
    """A backslash of its own before u0000 is text like any other."""
    assert read_json(rb'{"name": "a\\u0000", "at": 1.5}') == {"name": r"a\u0000", "at": 1.5}
    assert read_json('"灯台 🕯"'.encode()) == "灯台 🕯"


@pytest.mark.parametrize("number", ["NaN", "Infinity", "1e999", "1e300"])
@pytest.mark.parametrize("where", ["start", "period", "rotation"])
def test_a_clip_file_with_one_bad_number_is_refused(number: str, where: str) -> None:
    """One NaN in a clip made its whole library unreadable."""
    odo, clip = demo().figures["odo"], demo().clips["Amble"]
    held = json.loads(b"".join(clip_file_pieces(odo, clip)))
    if where == "start":
        held["clip"]["plants"][0]["start"] = 12345.5
    elif where == "period":
        held["clip"]["period"][1] = 12345.5
    else:
        held["poses"]["rotations"][3][2][1] = 12345.5
    text = json.dumps(held)
    assert read_own_file(ClipFile, text.encode(), "clip").clip.name == "Amble"
    with pytest.raises(Refusal, match="not a clip file that can be read") as refused:
        read_own_file(ClipFile, text.replace("12345.5", number).encode(), "clip")
    assert "\n" not in str(refused.value)
