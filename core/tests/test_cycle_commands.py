"""`hours seam`, `walk`, `mirror`, `close` on files, as a pipeline calls them."""

import json
from pathlib import Path

import numpy as np
import pytest
from typer.testing import CliRunner, Result

from elastic_core.command_line import app
from elastic_core.cycle.mirror import mirrored
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from, motion_from, skeleton_from
from elastic_core.motion import Motion
from elastic_core.rotation import about_axis, angle_between, multiply


def hours(*words: object) -> Result:
    return CliRunner().invoke(app, [str(word) for word in words])


def made_well(*words: object) -> Result:
    result = hours(*words)
    assert result.exit_code == 0, result.output
    return result


def report(file: Path, *words: str) -> dict[str, object]:
    facts: dict[str, object] = json.loads(made_well("seam", file, *words, "--json").stdout)
    return facts


def worst(file: Path) -> dict[str, float]:
    joints = report(file)["joints"]
    assert isinstance(joints, list)
    return {key: max(joint[key] for joint in joints) for key in ("gap_degrees", "gap_cm")}


@pytest.fixture
def walked(tmp_path: Path) -> Path:
    out = tmp_path / "walk.bvh"
    made_well("walk", out, "--stride", "1.1", "--frames-per-step", "12")
    return out


@pytest.fixture
def opened(walked: Path, tmp_path: Path) -> Path:
    """The walk with its chest turned by 12° more from the first frame to the last."""
    file = bvh.read(walked.read_bytes())
    figure = skeleton_from(file, "figure", 1.0)
    motion = motion_from(file, 1.0)
    rotations = motion.rotations.copy(order="F")
    drift = about_axis("Y", np.radians(12) * np.linspace(0, 1, motion.frames) ** 2)
    chest = figure.place_of("Chest")
    rotations[:, chest] = multiply(drift, rotations[:, chest])
    out = tmp_path / "opened.bvh"
    turned = Motion(motion.travel, motion.root_move, rotations)
    out.write_text(bvh.write(file_from(figure, turned, file.rate)), encoding="utf-8")
    return out


def test_a_walk_is_written_that_closes_and_stands(tmp_path: Path) -> None:
    out = tmp_path / "walk.bvh"
    told = made_well("walk", out, "--stride", "1.3", "--frames-per-step", "10", "--json")
    facts = json.loads(told.stdout)
    assert facts["frames"] == 20
    assert facts["seam"] == "closed"
    assert facts["slide_cm"] < 0.1
    file = bvh.read(out.read_bytes())
    assert file.frames == 21
    motion = motion_from(file, 1.0)
    assert motion.travel[-1, 1] - motion.travel[0, 1] == pytest.approx(1.3, abs=1e-3)
    assert report(out)["grade"] == "closed"


def test_a_walk_takes_a_skeleton_and_a_gait(walked: Path, tmp_path: Path) -> None:
    out = tmp_path / "sneak.bvh"
    made_well("walk", out, "--gait", "sneak", "--figure", walked, "--lean", "30")
    assert bvh.read(out.read_bytes()).frames == 41
    refused = hours("walk", out, "--gait", "moonwalk")
    assert refused.exit_code == 1
    assert refused.stderr.startswith("There is no gait called “moonwalk”")
    long = hours("walk", out, "--stride", "5")
    assert (long.exit_code, "longer than Mannequin's legs reach" in long.stderr) == (1, True)


def test_an_open_seam_is_told_and_closed_by_each_method(opened: Path, tmp_path: Path) -> None:
    before = report(opened)
    assert before["grade"] == "open"
    joints = before["joints"]
    assert isinstance(joints, list)
    assert joints[0]["joint"] in ("Chest", "LeftWrist", "RightWrist", "Neck", "Head")
    assert worst(opened)["gap_degrees"] == pytest.approx(12, abs=0.01)
    for method in ("match", "spread", "through"):
        out = tmp_path / f"{method}.bvh"
        made_well("close", opened, out, "--method", method, "--frames", "5")
        gaps = worst(out)
        assert gaps["gap_degrees"] < 0.01
        assert gaps["gap_cm"] < 0.01
    spread = made_well("close", opened, tmp_path / "s.bvh", "--method", "spread")
    assert "turned the most, by 11." in spread.stderr


def test_a_range_is_closed_over_what_precedes_it(walked: Path, tmp_path: Path) -> None:
    out = tmp_path / "part.bvh"
    refused = hours("close", walked, out, "--cycle", "2:22", "--method", "overlap", "--frames", "6")
    assert "Nothing precedes the start by 6 frames" in refused.stderr
    made_well("close", walked, out, "--cycle", "4:24", "--method", "overlap", "--frames", "4")
    assert bvh.read(out.read_bytes()).frames == 21
    assert worst(out)["gap_degrees"] < 0.01
    assert hours("seam", walked, "--cycle", "9:99").stderr.startswith(
        "The cycle 9:99 is not inside"
    )
    assert hours("seam", walked, "--cycle", "all").stderr.startswith("Write a cycle as")


def test_a_file_is_mirrored_whole_or_by_half(walked: Path, tmp_path: Path) -> None:
    once, twice, half = (tmp_path / f"{name}.bvh" for name in ("once", "twice", "half"))
    made_well("mirror", walked, once)
    made_well("mirror", once, twice)
    first, second = (motion_from(bvh.read(f.read_bytes()), 1.0) for f in (walked, twice))
    assert np.degrees(angle_between(first.rotations, second.rotations)).max() < 1e-4
    made_well("mirror", "--half", walked, half)
    file = bvh.read(half.read_bytes())
    figure, motion = skeleton_from(file, "figure", 1.0), motion_from(file, 1.0)
    image = mirrored(figure, motion.at(np.arange(12)))
    later = motion.at(np.arange(12, 24))
    apart = np.degrees(angle_between(image.rotations[:, 1:], later.rotations[:, 1:]))
    assert apart.max() < 0.01


def test_a_half_needs_a_closed_cycle(opened: Path, tmp_path: Path) -> None:
    refused = hours("mirror", "--half", opened, tmp_path / "half.bvh")
    assert refused.exit_code == 1
    assert refused.stderr == "The last pose does not repeat the first: close the cycle first.\n"
