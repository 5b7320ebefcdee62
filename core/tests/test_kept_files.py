"""Files made before the footing was laid anew still open, and play the same frames."""

import gzip
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from elastic_core.figure import forward
from elastic_core.formats.clip_file import ClipFile
from elastic_core.formats.scene_file import read_own_file, read_scene_file, scene_file
from elastic_core.moments import source
from elastic_core.scene.evaluate import frames_of

KEPT = Path(__file__).parents[2] / "tests" / "kept" / "2026-11-27"
SCENES = ["Sc 04 Quay at dusk", "Sc 05 Bent time"]
CLIPS = ["Amble", "Hurry", "Slow from file"]


@pytest.fixture(scope="module")
def frames() -> Any:
    return np.load(KEPT / "frames.npz")


def data(name: str) -> bytes:
    return gzip.decompress((KEPT / f"{name}.gz").read_bytes())


@pytest.mark.parametrize("name", SCENES)
def test_a_scene_file_of_version_1_plays_as_it_did(name: str, frames: Any) -> None:
    held = read_scene_file(data(f"{name}.scene.json"))
    assert (held.version, held.scene.schema_version) == (1, 2)
    assert held.scene.laid_frames == held.scene.played_frames == 288
    for shown in frames_of(held.scene, held.material(), frames[f"{name}|frames"]):
        kept = f"{name}|{shown.figure.id}"
        assert np.abs(shown.placed.positions - frames[f"{kept}|positions"]).max() < 1e-6
        assert np.abs(shown.placed.rotations - frames[f"{kept}|rotations"]).max() < 1e-6


@pytest.mark.parametrize("name", SCENES)
def test_written_anew_it_is_version_2_and_plays_the_same(name: str, frames: Any) -> None:
    held = read_scene_file(data(f"{name}.scene.json"))
    text = scene_file(held.scene, held.material()).model_dump_json().encode()
    again = read_scene_file(text)
    assert again.version == 2
    assert again.scene == held.scene
    first = frames[f"{name}|frames"][:9]
    for shown in frames_of(again.scene, again.material(), first):
        kept = frames[f"{name}|{shown.figure.id}|positions"][:9]
        assert np.abs(shown.placed.positions - kept).max() < 1e-6


@pytest.mark.parametrize("name", CLIPS)
def test_a_clip_file_of_version_1_plays_as_it_did(name: str, frames: Any) -> None:
    held = read_own_file(ClipFile, data(f"{name}.clip.json"), "clip")
    assert held.version == 1
    motion = held.playable().at(source(frames[f"clip {name}|frames"]))
    placed = forward(held.figure, motion)
    assert np.abs(placed.positions - frames[f"clip {name}|positions"]).max() < 1e-6
