"""`hours joins`, `chain` and `check`: the contracts of their answers, and what they find in files."""

import json
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from elastic_core import ground, rotation
from elastic_core.figure import Figure
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import (
    file_from,
    motion_from,
    positions_in_file_units,
    skeleton_from,
)
from elastic_core.motion import Motion

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


def told(command: str, *words: object) -> dict[str, Any]:
    ran = hours(command, *words, "--json")
    assert ran.returncode == 0, ran.stderr
    found: dict[str, Any] = json.loads(ran.stdout)
    return found


def placed_of(path: Path) -> tuple[Any, np.ndarray]:
    file = bvh.read(path.read_bytes())
    return file, positions_in_file_units(file).positions


def test_two_walks_from_elsewhere_become_one_clean_one(
    walks: dict[str, Path], tmp_path: Path
) -> None:
    moved = np.array([3.0, -2.0, np.radians(70)])
    there = elsewhere(walks["hurry"], tmp_path / "there.bvh", moved)
    found = joins(walks["amble"], there)["joins"]
    best = min(found[:2], key=lambda join: join["in_frame"])
    at = f"{best['out_frame']}:{best['in_frame']}"
    out = tmp_path / "out.bvh"
    facts = told("chain", walks["amble"], there, out, "--at", at, "--length", 8, "--hold-feet")
    assert set(facts) >= {
        "length_frames", "join", "slide_cm", "jump_degrees", "jump_joint", "jump_frame",
        "heading_change_degrees", "root_lowered_cm",
    }  # fmt: skip
    file, positions = placed_of(out)
    amble, first = placed_of(walks["amble"])
    assert file.frames == facts["length_frames"] == best["out_frame"] + 19 - best["in_frame"]
    assert (file.rate, [j.name for j in file.joints]) == (
        amble.rate,
        [j.name for j in amble.joints],
    )
    assert facts["join"] == {"start": best["out_frame"] - 4, "end": best["out_frame"] + 4}
    assert facts["slide_cm"] < 0.2
    assert facts["jump_degrees"] < 8
    assert facts["heading_change_degrees"] == pytest.approx(0, abs=0.5)
    # The first one keeps its place: before the join it is as it was, but for a foot that is held.
    assert np.abs(positions[0] - first[0]).max() < 1e-4
    # The second goes on the way that the first went.
    assert abs(positions[-1, 0, 0]) < 0.1
    assert positions[-1, 0, 2] > positions[0, 0, 2] + 0.5
    assert told("check", out) == {"marks": []}


def test_a_heading_that_is_left_as_placed_turns_the_figure(
    walks: dict[str, Path], tmp_path: Path
) -> None:
    turned = elsewhere(walks["amble"], tmp_path / "turned.bvh", np.array([0, 0, np.radians(90)]))
    out = tmp_path / "out.bvh"
    words = (walks["amble"], turned, out, "--at", "8:8", "--length", "6", "--plant", "left")
    facts = told("chain", *words, "--heading", "placed", "--hold-feet")
    assert facts["heading_change_degrees"] == pytest.approx(90, abs=0.1)
    assert facts["slide_cm"] < 0.2
    assert facts["swapped"] is False
    kept = told("chain", *words)
    assert kept["heading_change_degrees"] == pytest.approx(0, abs=0.1)
    assert kept["jump_degrees"] < 0.1
    wrong = told("chain", walks["amble"], turned, out, "--at", "12:1", "--plant", "left")
    assert wrong["swapped"] is True


def test_a_join_is_as_long_as_both_files_have_frames(
    walks: dict[str, Path], tmp_path: Path
) -> None:
    # Cut up, so that neither comes round.
    parts = {}
    for name, span in (("a", ("0", "14")), ("b", ("4", "20"))):
        parts[name] = tmp_path / f"{name}.bvh"
        cut = hours("convert", walks["amble"], parts[name], "--start", span[0], "--end", span[1])
        assert cut.returncode == 0, cut.stderr
    out = tmp_path / "out.bvh"
    ran = hours("chain", parts["a"], parts["b"], out, "--at", "12:2", "--length", "8", "--json")
    assert ran.returncode == 0, ran.stderr
    facts = json.loads(ran.stdout)
    assert facts["join"] == {"start": 10, "end": 14}
    assert "Only 4 frames lie in both files there; 8 were asked for." in ran.stderr
    assert placed_of(out)[0].frames == 12 + 14
    told_off = hours("chain", parts["a"], parts["b"], out, "--at", "40:2")
    assert told_off.returncode == 1
    assert told_off.stderr.strip() == "Frame 40 is not in the first file: it has 0 to 13."


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (("--at", "soon"), "Write where they meet as OUT:IN"),
        (("--at", "3:4", "--shape", "round"), "There is no shape called “round”"),
        (("--at", "3:4", "--plant", "hand"), "There is no foot called “hand”"),
        (("--at", "3:4", "--heading", "north"), "There is no heading called “north”"),
        (("--at", "3:4", "--length", "-2"), "A join is some frames long, or none."),
        (("--at", "3:400"), "Frame 400 is not in the second file"),
    ],
)
def test_bad_words_of_a_chain_leave_no_file(
    words: tuple[str, ...], says: str, walks: dict[str, Path], tmp_path: Path
) -> None:
    out = tmp_path / "none.bvh"
    ran = hours("chain", walks["amble"], walks["hurry"], out, *words)
    assert ran.returncode == 1
    assert ran.stderr.startswith(says)
    assert not out.exists()


@pytest.mark.parametrize("gait", ["amble", "march", "sneak", "hurry", "tired", "run"])
def test_every_gait_is_clean(gait: str, tmp_path: Path) -> None:
    path = tmp_path / "walk.bvh"
    assert hours("walk", path, "--gait", gait).returncode == 0
    assert told("check", path) == {"marks": []}
    assert hours("check", path).stdout.strip() == "clean"


def spoilt(path: Path, out: Path, change: Callable[[Motion, Figure], Motion]) -> Path:
    file = bvh.read(path.read_bytes())
    figure = skeleton_from(file, "figure", 1.0)
    motion = change(motion_from(file, 1.0), figure)
    out.write_text(bvh.write(file_from(figure, motion, file.rate)), encoding="utf-8")
    return out


def test_what_is_off_is_marked_where_it_is(walks: dict[str, Path], tmp_path: Path) -> None:
    walk, out = walks["amble"], tmp_path / "off.bvh"

    def turned(motion: Motion, figure: Figure) -> Motion:
        rotations = motion.rotations.copy()
        elbow = figure.place_of("LeftElbow")
        bend = rotation.about_axis("X", np.radians(np.array(40.0)))
        rotations[10:, elbow] = rotation.multiply(rotations[10:, elbow], bend)
        return replace(motion, rotations=rotations)

    jump = told("check", spoilt(walk, out, turned))["marks"]
    assert [
        (m["frame"], m["end"], m["kind"], m["joint"]) for m in jump if m["unit"] == "degrees"
    ] == [(10, 11, "jump", "LeftElbow")]
    assert jump[0]["amount"] == pytest.approx(40, abs=4)

    def sideways(motion: Motion, figure: Figure) -> Motion:
        travel = motion.travel.copy()
        travel[:, 0] += np.linspace(0, 0.12, motion.frames)
        return replace(motion, travel=travel)

    slide = told("check", spoilt(walk, out, sideways))["marks"]
    assert {mark["kind"] for mark in slide} == {"slide"}
    assert {mark["joint"] for mark in slide} == {"LeftAnkle", "RightAnkle"}
    # Half a centimetre a frame, over the frames of a plant.
    assert max(mark["amount"] for mark in slide) == pytest.approx(0.5 * 13, abs=1)

    def sunk(motion: Motion, figure: Figure) -> Motion:
        root_move = motion.root_move.copy()
        root_move[5:8, 1] -= 0.04
        return replace(motion, root_move=root_move)

    ground_marks = [
        m for m in told("check", spoilt(walk, out, sunk))["marks"] if m["kind"] == "ground"
    ]
    assert ground_marks
    assert {(mark["frame"], mark["end"]) for mark in ground_marks} == {(5, 8)}
    assert ground_marks[0]["amount"] == pytest.approx(4, abs=0.6)

    def crossed(motion: Motion, figure: Figure) -> Motion:
        rotations = motion.rotations.copy()
        for name, way in (("LeftHip", -1), ("RightHip", 1)):
            hip = figure.place_of(name)
            turn = rotation.about_axis("Z", np.radians(np.array(way * 16.0)))
            rotations[:, hip] = rotation.multiply(turn, rotations[:, hip])
        return replace(motion, rotations=rotations)

    marks = told("check", spoilt(walk, out, crossed))["marks"]
    assert "crossed" in {mark["kind"] for mark in marks}
    text = hours("check", out).stdout
    assert "crossed" in text
