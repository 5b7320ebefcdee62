"""`hours joins`: the contract of its answer, and what it finds in files."""

import json
from pathlib import Path

import numpy as np
import pytest

from elastic_core import ground
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from, motion_from, skeleton_from

from .test_command_line import hours


@pytest.fixture(scope="module")
def walks(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    folder = tmp_path_factory.mktemp("walks")
    found = {name: folder / f"{name}.bvh" for name in ("amble", "hurry")}
    for name, path in found.items():
        assert hours("walk", path, "--gait", name).returncode == 0
    return found


def joins(*words: object) -> dict[str, object]:
    told = hours("joins", *words, "--json")
    assert told.returncode == 0, told.stderr
    found: dict[str, object] = json.loads(told.stdout)
    return found


def elsewhere(path: Path, out: Path, moved: np.ndarray) -> Path:
    """The same motion, set down elsewhere on the ground."""
    file = bvh.read(path.read_bytes())
    figure = skeleton_from(file, "figure", 1.0)
    motion = motion_from(file, 1.0).moved(moved)
    out.write_text(bvh.write(file_from(figure, motion, file.rate)), encoding="utf-8")
    return out


def test_the_best_place_is_on_the_same_foot_twice_a_round(walks: dict[str, Path]) -> None:
    found = joins(walks["amble"], walks["hurry"])
    first, second, *_ = found["joins"]
    assert set(first) == {"out_frame", "in_frame", "score", "planted", "placement"}
    assert found["window"] == [0, 24]
    assert {first["planted"], second["planted"]} == {"left", "right"}
    assert (second["out_frame"] - first["out_frame"]) % 24 == 12
    assert (second["in_frame"] - first["in_frame"]) % 18 == 9
    assert first["score"] == pytest.approx(second["score"], abs=1e-6)
    plain = hours("joins", walks["amble"], walks["hurry"]).stdout.splitlines()
    assert len(plain) == len(found["joins"])
    assert f"planted: {first['planted']}" in plain[0]


def test_the_placement_lays_the_second_on_the_first(walks: dict[str, Path], tmp_path: Path) -> None:
    """A walk that was made elsewhere, and goes another way, is found and laid back."""
    moved = np.array([3.0, -2.0, np.radians(70)])
    there = elsewhere(walks["amble"], tmp_path / "there.bvh", moved)
    best = joins(walks["amble"], there)["joins"][0]
    assert best["out_frame"] == best["in_frame"]
    # Six decimals of a file.
    assert best["score"] < 1e-4
    x, z, degrees = best["placement"]
    back = ground.compose(np.array([x, z, np.radians(degrees)]), moved)
    assert np.abs(back).max() < 1e-4


def test_windows_and_cycles_are_the_files_own_frames(walks: dict[str, Path]) -> None:
    found = joins(walks["amble"], walks["hurry"], "--window", "10:14", "--cycle-b", "3:15")
    assert found["window"] == [10, 14]
    assert {10, 11, 12, 13} >= {join["out_frame"] for join in found["joins"]}
    assert all(3 <= join["in_frame"] < 15 for join in found["joins"])


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("--window", "20:40"), "The window 20:40 is not inside 0 to 24."),
        (("--window", "soon"), "Write a window as its first frame"),
        (("--window", "²:40"), "Write a window as its first frame"),
        (("--window", "1:" + "9" * 6_000), "Write a window as its first frame"),
        (("--cycle-a", "²:9"), "Write a cycle as its first frame"),
        (("--cycle-a", "4"), "Write a cycle as its first frame"),
        (("--cycle-b", "2:900"), "The cycle 2:900 is not inside"),
    ],
)
def test_bad_words_are_one_plain_line(
    words: tuple[str, ...], says: str, walks: dict[str, Path]
) -> None:
    told = hours("joins", walks["amble"], walks["hurry"], *words)
    assert told.returncode == 1
    assert told.stderr.startswith(says)
    assert told.stderr.count("\n") == 1


def test_two_skeletons_are_not_joined(walks: dict[str, Path], tmp_path: Path) -> None:
    text = walks["hurry"].read_text(encoding="utf-8").replace("ROOT ", "ROOT Other", 1)
    other = tmp_path / "other.bvh"
    other.write_text(text, encoding="utf-8")
    told = hours("joins", walks["amble"], other)
    assert told.returncode == 1
    assert "different skeletons" in told.stderr
