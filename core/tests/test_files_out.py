"""Frame packs, scene files and scenes as BVH."""

import json

import numpy as np
import pytest

from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import positions_in_file_units
from elastic_core.formats.frame_pack import pack, pack_frames
from elastic_core.formats.scene_bvh import scene_bvh
from elastic_core.formats.scene_file import ClipInFile, SceneFile, read_scene_file, sampled
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.document import Stint
from elastic_core.scene.evaluate import frames_of

from .motions import material, once_clip, scene_of, small_figure, turning_cycle

MATERIAL = material(turning_cycle(length=20), once_clip(30))
SCENE = scene_of(
    [
        Stint(id="a", source=ClipSource(id="Round"), start=0, length_frames=60),
        Stint(id="b", source=ClipSource(id="Reach"), start=48, length_frames=30),
    ],
    length=90,
)


def unpacked(data: bytes) -> tuple[dict[str, np.ndarray], dict[str, str]]:
    """The safetensors layout, read independently."""
    length = int.from_bytes(data[:8], "little")
    header = json.loads(data[8 : 8 + length])
    metadata = header.pop("__metadata__")
    arrays = {}
    for name, entry in header.items():
        start, end = entry["data_offsets"]
        block = data[8 + length + start : 8 + length + end]
        kind = {"F32": "<f4", "U8": "u1", "I32": "<i4"}[entry["dtype"]]
        arrays[name] = np.frombuffer(block, dtype=kind).reshape(entry["shape"])
        assert (8 + length + start) % 8 == 0
    return arrays, metadata


def test_a_pack_is_read_back_the_same() -> None:
    arrays = {
        "a": np.arange(15, dtype=np.float32).reshape(5, 3),
        "b": np.array([1, 2, 255], dtype=np.uint8),
        "c": np.array([[-7]], dtype=np.int32),
    }
    back, metadata = unpacked(pack(arrays, {"content": "x"}))
    assert metadata == {"content": "x"}
    for name, array in arrays.items():
        assert np.array_equal(back[name], array)
        assert back[name].dtype == array.dtype


def test_frames_go_out_as_the_scene_gives_them() -> None:
    shown = frames_of(SCENE, MATERIAL, np.arange(10.0))
    arrays, _ = unpacked(pack_frames(shown, {}))
    assert arrays["k/positions"].shape == (10, 5, 3)
    assert np.abs(arrays["k/positions"] - shown[0].placed.positions).max() < 1e-6
    assert np.abs(arrays["k/rotations"] - shown[0].placed.rotations).max() < 1e-6
    assert np.abs(arrays["k/travel"] - shown[0].motion.travel).max() < 1e-6


def scene_file() -> SceneFile:
    clips = {
        name: ClipInFile(clip=held.clip, poses=sampled(held.samples, small_figure()))
        for name, held in MATERIAL.clips.items()
    }
    return SceneFile(scene=SCENE, figures=dict(MATERIAL.figures), clips=clips)


def test_a_scene_file_gives_the_same_frames() -> None:
    again = read_scene_file(scene_file().model_dump_json().encode())
    assert again.scene == SCENE
    here = frames_of(SCENE, MATERIAL, np.arange(90.0))[0].placed.positions
    there = frames_of(again.scene, again.material(), np.arange(90.0))[0].placed.positions
    assert np.abs(here - there).max() < 1e-12


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        (b"", "not a scene file"),
        (b"{}", "Scene is missing. It is at scene."),
        (b'{"format": "other"}', "format"),
        (
            scene_file().model_dump_json().replace("eeper", "eeper", 1).encode()[:-40],
            "not a scene file",
        ),
    ],
)
def test_what_is_no_scene_file_is_refused_in_a_sentence(text: bytes, reason: str) -> None:
    with pytest.raises(Refusal, match=reason) as refused:
        read_scene_file(text)
    assert "\n" not in str(refused.value)


def test_a_scene_file_without_one_of_its_clips_is_refused() -> None:
    held = scene_file()
    short = held.model_copy(update={"clips": {"Round": held.clips["Round"]}})
    with pytest.raises(Refusal, match="does not hold"):
        short.material()


def test_the_motion_taken_out_is_that_of_the_scene() -> None:
    text = bvh.write(scene_bvh(SCENE, MATERIAL, "k", start=11, end=81))
    back = bvh.read(text.encode())
    assert (back.frames, back.rate) == (70, 24)
    frames = frames_of(SCENE, MATERIAL, np.arange(10.0, 80.0))[0]
    assert np.abs(positions_in_file_units(back).positions - frames.placed.positions).max() < 1e-4
    assert (
        np.abs(forward(small_figure(), frames.motion).positions - frames.placed.positions).max()
        == 0
    )


def test_a_range_outside_the_scene_is_refused_in_its_own_frames() -> None:
    with pytest.raises(Refusal, match="The range 0 to 5 is not inside 1 to 90"):
        scene_bvh(SCENE, MATERIAL, "k", start=0, end=6)
