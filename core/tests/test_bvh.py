"""BVH files of every make, and broken ones."""

import time
import tracemalloc
from pathlib import Path

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from elastic_core import rotation
from elastic_core.errors import Refusal
from elastic_core.formats import bvh, bvh_rows
from elastic_core.formats.bvh_clip import inspect
from elastic_core.formats.bvh_motion import (
    figure_from,
    file_from,
    guess_unit,
    motion_from,
    positions_in_file_units,
)

from .motions import CHANNELS, FileStyle, bvh_text, bvh_values


def independent_positions(file: bvh.BvhFile) -> np.ndarray:
    """Straight from the rows with scipy, one joint after another."""
    result = np.zeros((file.frames, len(file.joints), 3))
    turns: list[Rotation] = []
    for place, joint in enumerate(file.joints):
        values = file.values[:, joint.first_channel : joint.first_channel + len(joint.channels)]
        offset = np.tile(joint.offset, (file.frames, 1)).astype(float)
        order, degrees = "", []
        for column, channel in enumerate(joint.channels):
            if channel.endswith("position"):
                offset[:, "XYZ".index(channel[0])] = values[:, column]
            else:
                order += channel[0]
                degrees.append(values[:, column])
        turn = Rotation.identity(file.frames)
        if order:
            turn = Rotation.from_euler(order, np.stack(degrees, -1), degrees=True)
        if joint.parent < 0:
            result[:, place] = offset
        else:
            above = turns[joint.parent]
            result[:, place] = result[:, joint.parent] + above.apply(offset)
            turn = above * turn
        turns.append(turn)
    return result


STYLES = [
    *(FileStyle(order=order) for order in rotation.EULER_ORDERS),
    FileStyle(line_end="\r\n", separator="\t"),
    FileStyle(line_end="\r"),
    FileStyle(lower=True),
    FileStyle(mark=True),
    FileStyle(separator="  \t "),
]


@pytest.mark.parametrize("style", STYLES, ids=str)
def test_positions_agree_with_an_independent_computation(style: FileStyle) -> None:
    values = bvh_values(25)
    file = bvh.read(bvh_text(values, style))
    assert np.array_equal(file.values, values)
    assert float(file.rate) == 120
    positions = positions_in_file_units(file).positions
    assert np.abs(positions - independent_positions(file)).max() < 1e-6


def test_names_with_blanks_and_joints_without_ends_or_channels() -> None:
    file = bvh.read(bvh_text(bvh_values(2), FileStyle()))
    assert [joint.name for joint in file.joints] == ["Hips", "Spine Lower", "Tail", "Plate", "Leg"]
    assert [joint.parent for joint in file.joints] == [-1, 0, 1, 1, 0]
    assert file.joints[2].channels[0] == "Yposition"
    assert file.joints[2].end_sites == ()
    assert file.joints[3].channels == ()


def test_latin_names_are_read() -> None:
    data = bvh_text(bvh_values(2), FileStyle()).replace(b"Tail", "Schürze".encode("latin-1"))
    assert bvh.read(data).joints[2].name == "Schürze"


def test_braces_may_stand_on_the_joint_line() -> None:
    data = bvh_text(bvh_values(2), FileStyle()).replace(b"JOINT Leg\n{\n", b"JOINT Leg { ")
    assert bvh.read(data).joints[4].name == "Leg"


def test_two_joints_of_one_name_are_told_apart_with_a_warning() -> None:
    data = bvh_text(bvh_values(2), FileStyle()).replace(b"JOINT Leg", b"JOINT Tail")
    file = bvh.read(data)
    assert file.joints[4].name == "Tail 2"
    assert "“Tail 2”" in file.warnings[0]


@pytest.mark.parametrize("order", rotation.EULER_ORDERS)
def test_what_is_written_is_read_back_the_same(order: str) -> None:
    file = bvh.read(bvh_text(bvh_values(40), FileStyle(order=order)))
    scale = 0.01
    figure, motion = figure_from(file, "Again", scale), motion_from(file, scale)
    again = bvh.read(bvh.write(file_from(figure, motion, file.rate)).encode())
    assert [joint.name for joint in again.joints] == [joint.name for joint in file.joints]
    assert again.rate == file.rate
    there = positions_in_file_units(again).positions
    here = positions_in_file_units(file).positions * scale
    assert np.abs(there - here).max() < 1e-5


def test_more_rows_than_declared_are_all_read_with_a_warning() -> None:
    file = bvh.read(bvh_text(bvh_values(9), FileStyle(), declared=4))
    assert file.frames == 9
    assert "says 4 frames and holds 9" in file.warnings[0]


def test_blank_lines_are_no_rows(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(bvh, "BLOCK_BYTES", 256)
    monkeypatch.setattr(bvh_rows, "BLOCK_BYTES", 256)
    data = bvh_text(bvh_values(20), FileStyle())
    head, rows = data.split(b"0.0083333\n")
    spread = rows.replace(b"\n", b"\n" + b" \n" * 200)
    file = bvh.read(head + b"0.0083333\n\n" + spread)
    assert np.array_equal(file.values, bvh_values(20))
    lines = spread.split(b"\n")
    at = [k for k, line in enumerate(lines) if line.strip()][17]
    words = lines[at].split()
    words[7] = b"x"
    lines[at] = b" ".join(words)
    broken = head + b"0.0083333\n" + b"\n".join(lines)
    with pytest.raises(Refusal, match="Frame 17, Spine Lower Xrotation: “x”"):
        bvh.read(broken)


def _with(old: bytes, new: bytes) -> bytes:
    data = bvh_text(bvh_values(6), FileStyle())
    assert old in data
    return data.replace(old, new)


def _row_changed(frame: int, change: str) -> bytes:
    lines = bvh_text(bvh_values(6), FileStyle()).decode().split("\n")
    at = next(k for k, line in enumerate(lines) if line.startswith("Frame Time")) + 1 + frame
    words = lines[at].split()
    if change == "short":
        words = words[:-1]
    elif change == "long":
        words.append("1")
    else:
        words[7] = change
    lines[at] = " ".join(words)
    return "\n".join(lines).encode()


BROKEN = {
    "empty": (b" \n\t\r\n", "empty"),
    "binary": (bytes(range(256)) * 40, "does not begin with HIERARCHY"),
    "binary inside": (_with(b"JOINT Leg", b"JOINT L\0g"), "not text"),
    "utf-16": (bvh_text(bvh_values(6), FileStyle()).decode().encode("utf-16"), "UTF-16"),
    "another file": (b"PNG or so\n" * 30, "does not begin with HIERARCHY"),
    "cut in the skeleton": (bvh_text(bvh_values(6), FileStyle())[:150], "no MOTION part|cut short"),
    "cut in the rows": (_row_changed(5, "short"), "Frame 5 has 15 values; 16 were expected"),
    "a long row": (_row_changed(2, "long"), "Frame 2 has 17 values; 16 were expected"),
    "fewer rows than declared": (
        bvh_text(bvh_values(6), FileStyle(), declared=10),
        "says 10 frames and holds 6",
    ),
    "a huge declared count": (
        bvh_text(bvh_values(6), FileStyle(), declared=10**15),
        "1,000,000,000,000,000 frames and holds 6",
    ),
    "no rows": (bvh_text(np.empty((0, CHANNELS)), FileStyle(), declared=0), "no frames"),
    "not a number": (
        _row_changed(3, "nan"),
        "Frame 3, Spine Lower Xrotation: “nan” is not a number",
    ),
    "infinite": (_row_changed(1, "1e999"), "Frame 1, Spine Lower Xrotation: “1e999”"),
    "a word": (_row_changed(0, "wörd"), "Frame 0, Spine Lower Xrotation: “wörd”"),
    "a decimal comma": (_row_changed(4, "3,5"), "Frame 4, Spine Lower Xrotation: “3,5”"),
    "two roots": (_with(b"JOINT Leg", b"ROOT Leg"), "a second ROOT, “Leg”"),
    "a bad channel": (_with(b"Yposition Z", b"Yposture Z"), "“Yposture” is not a channel"),
    "channels counted by a raised two": (
        _with(b"CHANNELS 4", "CHANNELS ⁴".encode()),
        "declares ⁴ channels and names 4",
    ),
    "too few channels": (_with(b"CHANNELS 4", b"CHANNELS 5"), "declares 5 channels and names 4"),
    "no offset": (_with(b"OFFSET 1 2 -20\n", b""), "“Tail” has no OFFSET"),
    "a bad offset": (_with(b"OFFSET 1 2 -20", b"OFFSET 1 2"), "three numbers"),
    "no frame time": (_with(b"Frame Time: 0.0083333", b"Frame Time: soon"), "Frame Time"),
    "a gzip": (
        b"\x1f\x8b\x08" + b"\0" * 60,
        "a gzip file. Unpack it, and choose the BVH file inside",
    ),
    "a zip": (b"PK\x03\x04" + b"\0" * 60, "a zip file. Unpack it"),
    "a far offset": (
        _with(b"OFFSET 1 2 -20", b"OFFSET 1 2e30 -20"),
        "the OFFSET “1 2e30 -20” is farther than any bone is long",
    ),
    "a far value": (_row_changed(2, "7e30"), "Frame 2, .*: “7e30” is beyond all measure"),
    "one bracket open": (
        bvh_text(bvh_values(6), FileStyle()).replace(b"}\nMOTION", b"MOTION"),
        "with 1 open bracket: it has been cut short",
    ),
    "no time at all": (
        _with(b"Frame Time: 0.0083333", b"Frame Time: 0"),
        "frame time of 0 seconds",
    ),
}


@pytest.mark.parametrize("name", BROKEN)
def test_a_broken_file_is_refused_in_one_sentence(name: str) -> None:
    data, reason = BROKEN[name]
    with pytest.raises(Refusal, match=reason) as refused:
        bvh.read(data)
    sentence = str(refused.value)
    assert sentence.endswith(".")
    assert "\n" not in sentence
    assert len(sentence) < 200


def test_a_figure_of_no_ones_height_is_told_as_one() -> None:
    """Ten bones that reach as far as any bone may make a figure that no unit fits."""
    data = nested(10).replace(b"OFFSET 0 1 0", b"OFFSET 0 1000000 0")
    with pytest.raises(Refusal, match="9e\\+06 units tall: its offsets cannot be right"):
        inspect(bvh.read(data))


def nested(depth: int) -> bytes:
    lines = ["HIERARCHY"]
    for level in range(depth):
        lines += [f"{'JOINT' if level else 'ROOT'} j{level}", "{", "OFFSET 0 1 0"]
        lines.append("CHANNELS 3 Zrotation Xrotation Yrotation")
    lines += ["}"] * depth
    row = " ".join(["0"] * (3 * depth))
    lines += ["MOTION", "Frames: 1", "Frame Time: 0.0416667", row]
    return "\n".join(lines).encode()


def test_deep_trees_need_no_recursion() -> None:
    file = bvh.read(nested(1200))
    assert positions_in_file_units(file).positions[0, -1, 1] == pytest.approx(1200)
    assert bvh.read(bvh.write(file).encode()).joints[-1].name == "j1199"


def test_more_joints_than_a_figure_can_have_are_refused() -> None:
    with pytest.raises(Refusal, match="more than 4,096 joints"):
        bvh.read(nested(5000))


@pytest.mark.parametrize("where", ["rows", "skeleton", "after motion"])
def test_a_line_without_an_end_is_refused_soon_and_cheaply(where: str) -> None:
    size = 40_000_000
    good = bvh_text(bvh_values(1), FileStyle())
    data = {
        "rows": good.rstrip() + b" 1.5" * (size // 4),
        "skeleton": good.replace(b"Tail", b"T" * size),
        "after motion": good.replace(b"Frames: 1", b"Frames: " + b"1" * size),
    }[where]
    tracemalloc.start()
    began = time.perf_counter()
    with pytest.raises(Refusal, match=r"\.$"):
        bvh.read(data)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert time.perf_counter() - began < 10
    assert peak < 3 * size


def test_the_unit_makes_a_person(tmp_path: Path) -> None:
    for scale, unit in ((1.0, "cm"), (0.01, "m"), (10.0, "mm"), (1 / 2.54, "in"), (0.17, "own")):
        text = bvh_text(bvh_values(1) * 0, FileStyle()).decode()
        lines = []
        for line in text.split("\n"):
            if line.startswith("OFFSET"):
                numbers = [float(word) * scale * 1.25 for word in line.split()[1:]]
                line = "OFFSET " + " ".join(f"{number:.6f}" for number in numbers)
            lines.append(line)
        guess = guess_unit(bvh.read("\n".join(lines).encode()))
        assert guess.unit == unit
        if unit == "own":
            assert guess.height_in_file * guess.metres == pytest.approx(1.7)
