"""`hours`: the core's public door."""

import csv
import json
import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest
from typer.testing import CliRunner

from demo.production import demo
from elastic_core.command_line import app
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from, positions_in_file_units

from .makes import colons_make, tabs_make
from .motions import FileStyle, bvh_text, bvh_values
from .test_bvh import BROKEN, nested
from .test_files_out import MATERIAL, SCENE, scene_file


@dataclass(frozen=True)
class Told:
    """How a command ended, and what it said."""

    returncode: int
    stdout: str
    stderr: str


def hours(*words: object) -> Told:
    """Run a command here: a process of its own would read all modules again each time."""
    done = CliRunner().invoke(app, list(map(str, words)), catch_exceptions=False, prog_name="hours")
    return Told(done.exit_code, done.stdout, done.stderr)


def test_the_command_is_there() -> None:
    command = Path(sys.executable).with_name("hours")
    ran = subprocess.run([command, "info", "no.bvh"], capture_output=True, text=True, check=False)
    assert (ran.returncode, ran.stdout) == (1, "")
    assert ran.stderr == "no.bvh: No such file or directory.\n"


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


def test_positions_are_a_table_for_every_tool(take: Path, tmp_path: Path) -> None:
    out = tmp_path / "places.csv"
    assert hours("positions", take, "--out", out).returncode == 0
    read = bvh.read(take.read_bytes())
    with out.open(newline="", encoding="utf-8") as file:
        head, *rows = csv.reader(file)
    assert head[:5] == ["frame", "seconds", *(f"{read.joints[0].name} {axis}" for axis in "xyz")]
    assert [int(row[0]) for row in rows] == list(range(read.frames))
    assert float(rows[-1][1]) == pytest.approx((read.frames - 1) / float(read.rate), abs=1e-6)
    expected = positions_in_file_units(read).positions.reshape(read.frames, -1)
    assert np.array([row[2:] for row in rows], dtype=float) == pytest.approx(expected, abs=1e-6)


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
    assert bvh.read(out.read_bytes()).frames == SCENE.played_frames
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


def test_fit_tells_what_plays_what_is_dropped_and_what_rests(tmp_path: Path) -> None:
    clip, figure = tmp_path / "colons.bvh", tmp_path / "tabs.bvh"
    clip.write_bytes(colons_make())
    figure.write_bytes(tabs_make())
    facts = json.loads(hours("fit", clip, figure, "--json").stdout)
    assert facts["plays"] == []
    assert facts["mapping_proposed"]["rig:LeftUpLeg"] == "LeftUpLeg"
    assert len(facts["mapping_proposed"]) == 19
    assert len(facts["dropped"]) == 36
    assert facts["rests"] == []
    assert facts["leg_ratio"] == pytest.approx(1, abs=1e-3)
    same = json.loads(hours("fit", figure, figure, "--json").stdout)
    assert {pair["how"] for pair in same["plays"]} == {"name"}
    assert len(same["plays"]) == 19


def test_contacts_are_told_for_each_foot(tmp_path: Path) -> None:
    file = tmp_path / "amble.bvh"
    amble = demo().clips["Amble"]
    odo = demo().figures["odo"]
    poses = amble.at(np.arange(49.0))
    file.write_text(bvh.write(file_from(odo, poses, amble.clip.rate)), encoding="utf-8")
    facts = json.loads(hours("contacts", file, "--json").stdout)
    assert [foot["joint"] for foot in facts["feet"]] == ["l_ankle", "r_ankle"]
    # Its last pose repeats the first: a cycle, whose last plant goes on over the seam.
    assert (facts["frames"], facts["is_cycle"]) == (48, True)
    left = facts["feet"][0]["plants"]
    assert [(plant["start"], plant["end"]) for plant in left] == [(19, 33), (43, 57)]
    assert max(plant["slide_cm"] for plant in left) < 1
    tree = tmp_path / "stick.bvh"
    tree.write_bytes(bvh_text(bvh_values(6), FileStyle()))
    refused = hours("contacts", tree)
    assert refused.returncode == 1
    assert "no feet" in refused.stderr


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("convert", "TAKE", "OUT", "--fps", "1e100000000"), "is not a frame rate"),
        (("convert", "TAKE", "OUT", "--fps", "nan"), "is not a frame rate"),
        (("walk", "OUT", "--stride", "nan"), "Stride metres is a plain number."),
        (("walk", "OUT", "--stride", "1e300"), "Stride is at the most 6 metres."),
        (("walk", "OUT", "--lean", "-inf"), "Lean degrees is a plain number."),
        (("close", "TAKE", "OUT", "--frames", "99999999999999999999"), ""),
    ],
)
def test_a_number_that_is_none_is_one_plain_line(
    words: tuple[str, ...], says: str, take: Path, tmp_path: Path
) -> None:
    out = tmp_path / "out.bvh"
    places = {"TAKE": str(take), "OUT": str(out)}
    told = hours(*(places.get(word, word) for word in words))
    assert told.returncode in (1, 2)
    assert says in told.stderr
    assert "Traceback" not in told.stderr
    assert not out.exists()


def test_a_scene_file_with_one_bad_number_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "scene.json"
    text = scene_file().model_dump_json().replace('"start":0.0', '"start":NaN', 1)
    assert "NaN" in text
    path.write_text(text, encoding="utf-8")
    told = hours("scene", "export", path, "--figure", "Keeper", "--out", tmp_path / "out.bvh")
    assert told.returncode == 1
    assert "Start is a plain number. It is at scene.lanes.0.stints.0.start." in told.stderr
