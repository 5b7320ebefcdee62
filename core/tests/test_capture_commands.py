"""`hours clean`, `cycles`, `retarget` on files, as a pipeline calls them."""

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from typer.testing import CliRunner, Result

from elastic_core.capture.recipe import Mend, Recipe, Smooth
from elastic_core.command_line import app
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from, motion_from, skeleton_from
from elastic_core.formats.clip_file import ClipFile
from elastic_core.formats.scene_file import read_own_file
from elastic_core.motion import Motion

from .captures import FIGURE, FPS, errors_degrees, noisy, spiky, turned_in_world, walking


def hours(*words: object) -> Result:
    return CliRunner().invoke(app, [str(word) for word in words])


def facts(*words: object) -> dict[str, Any]:
    result = hours(*words, "--json")
    assert result.exit_code == 0, result.output
    told: dict[str, Any] = json.loads(result.stdout)
    return told


def written(path: Path, motion: Motion, centimetres: bool = True) -> Path:
    file = file_from(FIGURE, motion, FPS, 0.01 if centimetres else 1.0)
    path.write_text(bvh.write(file), encoding="utf-8")
    return path


def read(path: Path) -> Motion:
    return motion_from(bvh.read(path.read_bytes()), 0.01)


TRUTH = walking(1200)


@pytest.fixture
def take(tmp_path: Path) -> tuple[Path, list[Any]]:
    motion, put_in = spiky(noisy(TRUTH, 0.5), 120)
    return written(tmp_path / "take.bvh", motion), put_in


def test_noise_and_spikes_put_into_a_clean_file_come_out(
    take: tuple[Path, list[Any]], tmp_path: Path
) -> None:
    source, put_in = take
    out = tmp_path / "out.bvh"
    told = facts("clean", source, out, "--mend", "--smooth", "8", "--hold-feet")
    assert [step["step"] for step in told["steps"]] == ["mend", "smooth", "contacts", "hold_feet"]
    spikes = told["steps"][0]["spikes"]
    found = {
        (spike["joint"], frame) for spike in spikes for frame in range(spike["frame"], spike["end"])
    }
    hits = [p for p in put_in if any((p.joint, f) in found for f in range(p.frame, p.end))]
    assert len(hits) >= 0.98 * len(put_in)
    true = {(p.joint, frame) for p in put_in for frame in range(p.frame, p.end)}
    false = [s for s in spikes if (s["joint"], s["frame"]) not in true]
    assert len(false) <= 0.02 * len(spikes)
    assert told["slide_cm"] < 0.1
    before, after = (errors_degrees(read(file), TRUTH)[:, 1:] for file in (source, out))
    toes = [k - 1 for k, name in enumerate(FIGURE.names) if "Toe" in name]
    body = [k for k in range(before.shape[1]) if k not in toes]
    # Held feet turn the legs that reach them: the body tells what smoothing did.
    arms = [
        k for k in body if "Ankle" not in FIGURE.names[k + 1] and "Knee" not in FIGURE.names[k + 1]
    ]
    ratio = np.sqrt((after[:, arms] ** 2).mean() / (before[:, arms] ** 2).mean())
    assert ratio < 0.4


def test_what_no_option_asks_for_stays_as_it_came(
    take: tuple[Path, list[Any]], tmp_path: Path
) -> None:
    source, _ = take
    out = tmp_path / "out.bvh"
    told = facts("clean", source, out)
    assert told["steps"] == []
    was, now = bvh.read(source.read_bytes()), bvh.read(out.read_bytes())
    assert now.rate == was.rate
    assert [joint.name for joint in now.joints] == [joint.name for joint in was.joints]
    offsets = [np.array([joint.offset for joint in file.joints]) for file in (now, was)]
    assert offsets[0] == pytest.approx(offsets[1], abs=1e-4)
    assert errors_degrees(read(out), read(source)).max() < 1e-3
    apart = read(out).root_in_world()[0] - read(source).root_in_world()[0]
    assert np.abs(apart).max() < 1e-6


def test_place_and_heading_stay_without_ground_and_go_to_zero_with_it(tmp_path: Path) -> None:
    somewhere = TRUTH.moved(np.array([3.0, 2.0, 1.0]))
    source = written(tmp_path / "take.bvh", somewhere)
    out = tmp_path / "out.bvh"
    facts("clean", source, out, "--smooth", "8")
    assert read(out).travel[0] == pytest.approx(read(source).travel[0], abs=0.03)
    facts("clean", source, out, "--ground")
    assert read(out).travel[0, :2] == pytest.approx([0, 0], abs=1e-4)
    assert abs(np.arctan2(*read(out).travel[-1, :2])) < np.radians(2)


def test_a_tilted_floor_is_told_and_levelled(tmp_path: Path) -> None:
    from elastic_core import rotation

    turn = rotation.from_vector(np.radians([4.0, 0.0, 0.0]))
    source = written(tmp_path / "take.bvh", turned_in_world(TRUTH, turn, np.array([0, 0.3, 0])))
    told = facts("clean", source, tmp_path / "out.bvh", "--ground")["steps"][0]
    assert told["before"] == pytest.approx(4.0, abs=0.4)
    assert told["after"] == 0
    again = facts("clean", tmp_path / "out.bvh", tmp_path / "again.bvh", "--ground")["steps"][0]
    assert again["before"] < 0.3


def test_frame_k_of_out_stands_at_its_seconds_of_the_trimmed_take(tmp_path: Path) -> None:
    source = written(tmp_path / "take.bvh", TRUTH)
    out = tmp_path / "out.bvh"
    told = facts("clean", source, out, "--fps", "24", "--trim", "101:701")
    assert told["frames"] == 120
    assert told["fps"] == 24
    now = read(out)
    wanted = TRUTH.at(101 + 5 * np.arange(120))
    assert np.abs(now.root_in_world()[0] - wanted.root_in_world()[0]).max() < 0.003
    assert np.percentile(errors_degrees(now, wanted), 95) < 0.3


def test_thinned_keys_go_into_a_clip_file_and_every_frame_into_out(
    take: tuple[Path, list[Any]], tmp_path: Path
) -> None:
    source, _ = take
    out, keys = tmp_path / "out.bvh", tmp_path / "keys.clip.json"
    words = ("--fps", "24", "--mend", "--smooth", "6", "--hold-feet", "--thin", "1")
    told = facts("clean", source, out, "--keys", keys, *words)
    thin = told["steps"][-1]
    assert thin["step"] == "thin"
    assert thin["keys_after"] < thin["keys_before"]
    assert thin["greatest_error_degrees"] <= 1.0
    held = read_own_file(ClipFile, keys.read_bytes(), "clip")
    assert held.clip.is_keyed
    assert sum(len(curve) for curve in held.clip.keys.values()) == thin["keys_after"]
    played = held.playable().samples.whole()
    assert played.frames == 240 == read(out).frames
    assert errors_degrees(played, read(out)).max() < 1e-3
    assert told["slide_cm"] < 0.1


def test_a_recipe_comes_from_a_file(take: tuple[Path, list[Any]], tmp_path: Path) -> None:
    source, _ = take
    recipe = tmp_path / "house.recipe.json"
    wanted = Recipe(name="Swapped", steps=(Smooth(), Mend()))
    recipe.write_text(wanted.model_dump_json(), encoding="utf-8")
    told = facts("clean", source, tmp_path / "out.bvh", "--recipe", recipe)
    assert [step["step"] for step in told["steps"]] == ["smooth", "mend"]
    assert "mend first" in told["warnings"][0]


def test_in_words_each_step_has_its_line(take: tuple[Path, list[Any]], tmp_path: Path) -> None:
    source, _ = take
    result = hours("clean", source, tmp_path / "out.bvh", "--mend", "--smooth", "6")
    lines = result.stdout.splitlines()
    assert lines[0].startswith("mend      12")
    assert lines[1].startswith("smooth")


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (("--trim", "5"), "12:24"),
        (("--trim", "900:2000"), "900:2000 is not inside 0 to 1200"),
        (("--smooth", "-3"), "A cut-off lies between 0 and 500 Hz"),
        (("--thin", "99"), "between 0 and 30 degrees"),
        (("--fps", "many"), "is not a frame rate"),
    ],
)
def test_what_cannot_be_done_is_one_plain_line_and_no_file(
    words: tuple[str, str], said: str, tmp_path: Path
) -> None:
    source = written(tmp_path / "take.bvh", TRUTH)
    result = hours("clean", source, tmp_path / "out.bvh", *words)
    assert result.exit_code == 1
    assert said in result.stderr
    assert len(result.stderr.strip().splitlines()) == 1
    assert not (tmp_path / "out.bvh").exists()


def test_a_recipe_file_that_is_none_is_refused(tmp_path: Path) -> None:
    source = written(tmp_path / "take.bvh", TRUTH)
    (tmp_path / "r.json").write_text('{"steps": [{"step": "bake"}]}', encoding="utf-8")
    result = hours("clean", source, tmp_path / "out.bvh", "--recipe", tmp_path / "r.json")
    assert result.exit_code == 1
    assert "This is not a recipe file" in result.stderr


def test_cycles_are_ranked_with_their_seams(tmp_path: Path) -> None:
    source = tmp_path / "walk.bvh"
    assert hours("walk", source, "--frames-per-step", "12").exit_code == 0
    file = bvh.read(source.read_bytes())
    figure = skeleton_from(file, "figure", 1.0)
    motion = motion_from(file, 1.0)
    rounds = np.concatenate([np.arange(24), np.arange(24), np.arange(25)])
    walked = replace(motion.at(rounds), travel=np.arange(73)[:, None] * np.array([0, 0.05, 0]))
    source.write_text(bvh.write(file_from(figure, walked, file.rate)), encoding="utf-8")
    rows = facts("cycles", source)["cycles"]
    assert (rows[0]["start"], rows[0]["end"], rows[0]["length_frames"]) == (0, 24, 24)
    assert rows[0]["seam_degrees"] < 1e-3
    assert {"seam_cm", "score", "planted"} < set(rows[0])
    scores = [row["score"] for row in rows]
    assert scores == sorted(scores)
    only = facts("cycles", source, "--shortest", "40", "--longest", "50")["cycles"]
    assert {row["length_frames"] for row in only} == {48}
    assert hours("cycles", source, "--shortest", "99").exit_code == 1
    assert "0 to 24  24 frames" in hours("cycles", source).stdout


def test_a_motion_goes_onto_another_figure(tmp_path: Path) -> None:
    source = written(tmp_path / "take.bvh", TRUTH)
    small = FIGURE.model_copy(
        update={
            "joints": tuple(
                joint.model_copy(
                    update={
                        "name": joint.name.lower(),
                        "mirror": None,
                        "offset": tuple(0.7 * v for v in joint.offset),
                    }
                )
                for joint in FIGURE.joints
            )
        }
    )
    target = tmp_path / "small.bvh"
    rest = Motion.resting(2, len(small.joints), small.offsets[0])
    target.write_text(bvh.write(file_from(small, rest, FPS, 1.0)), encoding="utf-8")
    out = tmp_path / "out.bvh"
    told = facts("retarget", source, target, out)
    assert told["mapping"]["LeftKnee"] == "leftknee"
    assert told["dropped"] == told["rests"] == []
    assert told["scale"] == pytest.approx(0.7, abs=1e-3)
    assert told["slide_cm"] < 1.0
    made = bvh.read(out.read_bytes())
    assert [joint.name for joint in made.joints] == list(small.names)
    named = facts("retarget", source, target, out, "--rest", "0")
    assert named["slide_cm"] < 1.0
    refused = hours("retarget", source, target, out, "--rest", "5000")
    assert refused.exit_code == 1
    assert "0 to 1199, and none 5000" in refused.stderr
