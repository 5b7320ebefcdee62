"""`hours retime`: the contract of its answer, and every whole source frame exact (rules 1.3 to 1.8)."""

import json
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from elastic_core.arrays import Array
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from, positions_in_file_units

from .motions import random_motion, small_figure
from .test_command_line import hours

FRAMES = 121


@pytest.fixture(scope="module")
def reach(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("reach") / "reach.bvh"
    file = file_from(small_figure(), random_motion(FRAMES), Fraction(24))
    path.write_text(bvh.write(file), encoding="utf-8")
    return path


def retime(source: Path, out: Path, *words: object) -> dict[str, Any]:
    told = hours("retime", source, out, *words, "--json")
    assert told.returncode == 0, told.stderr
    found: dict[str, Any] = json.loads(told.stdout)
    assert set(found) == {"elastic", "pace", "length_frames"}
    assert len(found["pace"]) == found["length_frames"] == len(positions(out))
    return found


def positions(path: Path) -> Array:
    placed: Array = positions_in_file_units(bvh.read(path.read_bytes())).positions
    return placed


def same(a: Array, b: Array) -> None:
    assert np.abs(a - b).max() < 1e-5


def test_source_90_plays_at_36(reach: Path, tmp_path: Path) -> None:
    was, out = positions(reach), tmp_path / "out.bvh"
    goes_on = retime(reach, out, "--pin", "90:36")
    now = positions(out)
    same(now[36], was[90])
    same(now[[0, 2, 4, 48]], was[[0, 5, 10, 120]])
    assert goes_on["pace"][:40] == pytest.approx([2.5] * 40)
    assert goes_on["length_frames"] == 49
    moved_on = retime(reach, out, "--pin", "90:36", "--policy", "ripple")
    now = positions(out)
    same(now[36:], was[90:])
    assert moved_on["length_frames"] == FRAMES - 54
    stays = retime(reach, out, "--pin", "90:36", "--policy", "absorb")
    now = positions(out)
    same(now[[0, 36, 120]], was[[0, 90, 120]])
    assert stays["length_frames"] == FRAMES
    assert stays["pace"][60] == pytest.approx(30 / 84)


def test_slow_motion_with_ramps(reach: Path, tmp_path: Path) -> None:
    was, out = positions(reach), tmp_path / "out.bvh"
    slow = retime(reach, out, "--pace", "60:85=35", "--ramp", "4")
    now = positions(out)
    assert slow["length_frames"] == FRAMES + 39
    same(now[:61], was[:61])
    same(now[124:], was[85:])
    assert slow["pace"][59:65] == pytest.approx([1, 1, 0.8375, 0.675, 0.5125, 0.35])
    both = retime(reach, out, "--pace", "20:30=50", "--pace", "60:70=200")
    now = positions(out)
    same(now[75:], was[70:])
    assert both["pace"][25] == pytest.approx(0.5)
    assert both["pace"][72] == pytest.approx(2)
    ends = retime(reach, out, "--pace", "60:85=50", "--ramp", "3", "--policy", "absorb")
    now = positions(out)
    same(now[[0, -1]], was[[0, -1]])
    assert ends["length_frames"] == FRAMES


def test_backwards_on_twos_and_at_another_rate(reach: Path, tmp_path: Path) -> None:
    was, out = positions(reach), tmp_path / "out.bvh"
    back = retime(reach, out, "--reverse")
    same(positions(out), was[::-1])
    assert back["pace"] == pytest.approx([-1] * FRAMES)
    twos = retime(reach, out, "--on", "2")
    now = positions(out)
    assert np.array_equal(now[0:120:2], now[1:121:2])
    same(now[::2], was[::2])
    assert twos["pace"] == pytest.approx([1] * FRAMES)
    half = retime(reach, out, "--fps", "12")
    same(positions(out), was[::2])
    assert half["length_frames"] == 61
    assert half["pace"] == pytest.approx([1] * 61)
    assert half["elastic"]["pins"][1] == {
        "played": 60, "source": 120, "span": "even", "arriving": None, "leaving": None
    }  # fmt: skip


def test_the_kinds_between_pins(reach: Path, tmp_path: Path) -> None:
    was, out = positions(reach), tmp_path / "out.bvh"
    for kind in ("even", "eased", "ramped", "held"):
        retime(reach, out, "--pin", "0:0", "--pin", "30:60", "--pin", "120:120", "--kind", kind)
        same(positions(out)[[0, 60, 120]], was[[0, 30, 120]])
    held = positions(out)
    same(held[:60], np.repeat(was[:1], 60, axis=0))
    ramped = retime(reach, out, "--pin", "90:60", "--kind", "ramped")
    assert ramped["pace"][0] == pytest.approx(1)
    assert ramped["pace"][60] == pytest.approx(2)


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("--pin", "90"), "Write a pin as source and played frame: 90:36."),
        (("--pin", "500:36"), "The file has frames 0 to 120, and none 500 to pin."),
        (("--pin", "10:36", "--pin", "20:36"), "Two pins cannot share played frame 36."),
        (("--pace", "60:85"), "Write a pace as played frames and percent: 88:113=35."),
        (("--pace", "60:85=0"), "A pace is more than 0 %, over one frame or more."),
        (("--pace", "60:999=50"), "60:999 does not lie inside what plays."),
        (("--pace", "60:62=35", "--ramp", "9"), "Ramps of 9 frames do not fit into this range"),
        (("--pace", "10:115=50", "--policy", "absorb"), "The range alone would take"),
        (("--kind", "bouncy"), "Between pins it is even, eased, ramped or held."),
        (("--policy", "guess"), "A policy is ripple or absorb."),
        (("--on", "0"), "A pose stays for 1 to 1,000 frames."),
        (("--fps", "fast"), "is not a frame rate"),
        (("--pace", "0:121=0.01"), "That would play for more than 200,000 frames."),
    ],
)
def test_what_cannot_be_done_says_why_and_writes_nothing(
    reach: Path, tmp_path: Path, words: tuple[str, ...], says: str
) -> None:
    out = tmp_path / "out.bvh"
    told = hours("retime", reach, out, *words)
    assert told.returncode == 1
    assert says in told.stderr
    assert len(told.stderr.splitlines()) == 1
    assert not out.exists()
