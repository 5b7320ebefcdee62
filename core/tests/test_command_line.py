"""`hours`: the core's public door."""

import json
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import positions_in_file_units

from .motions import FileStyle, bvh_text, bvh_values
from .test_bvh import BROKEN, nested
from .test_files_out import MATERIAL, SCENE, scene_file


def hours(*words: object) -> subprocess.CompletedProcess[str]:
    command = [str(Path(sys.executable).with_name("hours")), *map(str, words)]
    return subprocess.run(command, capture_output=True, text=True, check=False)


@pytest.fixture
def take(tmp_path: Path) -> Path:
    path = tmp_path / "a take.bvh"
    path.write_bytes(bvh_text(bvh_values(121), FileStyle(line_end="\r\n", separator="\t")))
    return path


def test_info_says_what_a_file_is(take: Path) -> None:
    found = json.loads(hours("info", take, "--json").stdout)
    assert found["joints"] == 5
    assert found["frames"] == 121
    assert found["fps"] == 120
    assert found["channels"] == 16
    assert found["unit"] == "cm"
    assert found["length_seconds"] == pytest.approx(121 / 120)
    assert found["warnings"] == []
    assert "120 fps" in hours("info", take).stdout


def test_positions_are_float64_in_the_files_units(take: Path, tmp_path: Path) -> None:
    out = tmp_path / "out.npz"
    assert hours("positions", take, "--out", out).returncode == 0
    with np.load(out) as kept:
        expected = positions_in_file_units(bvh.read(take.read_bytes())).positions
        assert kept["positions"].dtype == np.float64
        assert np.array_equal(kept["positions"], expected)
        assert kept["names"].tolist() == ["Hips", "Spine Lower", "Tail", "Plate", "Leg"]
        assert kept["parents"].tolist() == [-1, 0, 1, 1, 0]
        assert float(kept["fps"]) == 120
        assert kept["end_sites"].shape == (121, 2, 3)


def test_convert_keeps_numbers_and_changes_the_rate(take: Path, tmp_path: Path) -> None:
    out = tmp_path / "part.bvh"
    assert hours("convert", take, out, "--start", 10, "--end", 40).returncode == 0
    part, whole = bvh.read(out.read_bytes()), bvh.read(take.read_bytes())
    assert np.abs(np.sort(part.values) - np.sort(whole.values[10:40])).max() < 1e-6
    assert hours("convert", take, out, "--fps", "24").returncode == 0
    slow = bvh.read(out.read_bytes())
    assert (slow.frames, float(slow.rate)) == (25, 24)
    shared = positions_in_file_units(whole).positions[::5]
    assert np.abs(positions_in_file_units(slow).positions - shared).max() < 1e-4


def test_a_scene_file_is_taken_out_as_bvh(tmp_path: Path) -> None:
    file, out = tmp_path / "scene.json", tmp_path / "out.bvh"
    file.write_text(scene_file().model_dump_json(), encoding="utf-8")
    assert hours("scene", "export", file, "--figure", "Keeper", "--out", out).returncode == 0
    assert bvh.read(out.read_bytes()).frames == SCENE.length_frames
    assert MATERIAL.clips
    missing = hours("scene", "export", file, "--figure", "Nobody", "--out", out)
    assert missing.returncode == 1
    assert "no figure called “Nobody”; it has Keeper." in missing.stderr


@pytest.mark.parametrize(
    "name", ["binary", "utf-16", "cut in the rows", "a huge declared count", "two roots"]
)
def test_a_broken_file_gives_one_plain_line(name: str, tmp_path: Path) -> None:
    path = tmp_path / "broken.bvh"
    path.write_bytes(BROKEN[name][0])
    ran = hours("info", path)
    assert ran.returncode == 1
    assert ran.stdout == ""
    assert len(ran.stderr.strip().split("\n")) == 1
    assert "Traceback" not in ran.stderr


@pytest.mark.parametrize(
    "words",
    [
        ["info", "nothing-here.bvh"],
        ["convert", "{take}", "/no/such/folder/out.bvh"],
        ["convert", "{take}", "{out}", "--fps", "many"],
        ["convert", "{take}", "{out}", "--start", "50", "--end", "20"],
        ["scene", "export", "{take}", "--figure", "Odo", "--out", "{out}"],
        ["info", "{deep}"],
        ["info", "/"],
    ],
)
def test_every_other_trouble_gives_one_plain_line_too(
    words: list[str], take: Path, tmp_path: Path
) -> None:
    deep = tmp_path / "deep.bvh"
    deep.write_bytes(nested(5000))
    names = {"take": str(take), "out": str(tmp_path / "out.bvh"), "deep": str(deep)}
    ran = hours(*(word.format(**names) for word in words))
    assert ran.returncode == 1
    assert len(ran.stderr.strip().split("\n")) == 1
    assert "Traceback" not in ran.stderr
    assert not (tmp_path / "out.bvh").exists()
