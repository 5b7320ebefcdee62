"""glTF in: ours come back as they were, those of others as the standard says, and what lies is refused."""

import json
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner

from demo.production import demo
from elastic_core.command_line import app
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.formats import bvh
from elastic_core.formats.gltf import GltfClip, write_glb
from elastic_core.formats.gltf_motion import read_gltf

from .gltf_made import Made
from .makes import colons_make
from .test_gltf import RATES, random_figure, random_motion

HALF = 0.5**0.5


@given(
    seed=st.integers(0, 2**32 - 1),
    joints=st.integers(2, 20),
    frames=st.integers(3, 12),
    rate=st.sampled_from(RATES),
)
def test_what_we_wrote_comes_back(seed: int, joints: int, frames: int, rate: Fraction) -> None:
    chance = np.random.default_rng(seed)
    figure = random_figure(chance, joints)
    motion = random_motion(chance, figure, frames)
    read = read_gltf(write_glb(figure, [GltfClip("Clip", motion, rate)]), "Again")
    (clip,) = read.clips
    assert (clip.name, clip.rate, clip.motion.frames) == ("Clip", rate, frames)
    # Joints that nothing moves and nothing hangs on are joints all the same.
    places = {name: place for place, name in enumerate(read.figure.names)}
    there, here = forward(read.figure, clip.motion), forward(figure, motion)
    for place, name in enumerate(figure.names):
        if name in places:
            apart = there.positions[:, places[name]] - here.positions[:, place]
            assert np.abs(apart).max() < 1e-4
            alike = (there.rotations[:, places[name]] * here.rotations[:, place]).sum(axis=-1)
            assert np.abs(alike).min() > 1 - 1e-6


def test_odo_comes_back_whole() -> None:
    made = demo()
    odo, amble = made.figures["odo"], made.clips["Amble"]
    motion = amble.samples.whole()
    read = read_gltf(write_glb(odo, [GltfClip("Amble", motion, Fraction(24))]), "Odo")
    assert read.figure.names == odo.names
    assert read.figure.parents == odo.parents
    assert read.figure.height_metres == pytest.approx(odo.height_metres, rel=0.1)
    assert np.abs(read.figure.at_rest.positions - odo.at_rest.positions).max() < 1e-5
    assert [joint.mirror for joint in read.figure.joints] == [joint.mirror for joint in odo.joints]
    there = forward(read.figure, read.clips[0].motion)
    assert np.abs(there.positions - forward(odo, motion).positions).max() < 1e-4


def lamp_post() -> tuple[Made, dict[str, int]]:
    """An upright post of two joints under a node that stands z up, in centimetres; and a picture of it."""
    made = Made()
    tip = made.node("tip", translation=[0, 0, 100])
    post = made.node("post", tip, translation=[0, 0, 50])
    stand = made.node("stand", post, translation=[0, 0, 10])
    shape = made.node("shape", mesh=0)
    world = made.node("world", stand, shape, rotation=[-HALF, 0, 0, HALF], scale=[0.01, 0.01, 0.01])
    made.skin(post, stand, tip)
    return made, {"tip": tip, "post": post, "stand": stand, "world": world}


@pytest.mark.parametrize("form", ["text", "glb"])
def test_it_stands_upright_in_metres_whatever_carries_it(form: str) -> None:
    made, at = lamp_post()
    # A quarter turn about its own x: what was up points to the front (z up, so y is back).
    turns = made.numbers([[0, 0, 0, 1], [HALF, 0, 0, HALF]], "VEC4")
    made.moves(at["post"], "rotation", [0.0, 1.0], turns)
    read = read_gltf(made.as_text() if form == "text" else made.as_glb(), "Post")
    assert read.figure.names == ("stand", "post", "tip")
    rest = read.figure.at_rest.positions[0]
    assert np.abs(rest - np.array([[0, 0.1, 0], [0, 0.6, 0], [0, 1.6, 0]])).max() < 1e-9
    (clip,) = read.clips
    assert (clip.rate, clip.motion.frames) == (Fraction(24), 25)
    tip = forward(read.figure, clip.motion).positions[:, 2]
    angles = np.linspace(0, np.pi / 2, 25)
    laid = np.stack([np.zeros(25), 0.6 + np.cos(angles), np.sin(angles)], axis=-1)
    assert np.abs(tip - laid).max() < 1e-6


def test_spans_are_held_straight_or_eased_as_they_say() -> None:
    made, at = lamp_post()
    seconds = [0.0, 0.5, 1.0]
    made.moves(
        at["stand"], "translation", seconds,
        made.numbers([[0, 0, 10], [0, 0, 30], [0, 0, 20]], "VEC3"), "STEP",
    )  # fmt: skip
    # Arriving slope, value, leaving slope: from 50 to 150 and on at 0 slopes, an ease.
    still, keys = [0.0, 0, 0], [[0.0, 0, 50], [0.0, 0, 150], [0.0, 0, 150]]
    cubic = [row for key in keys for row in (still, key, still)]
    made.moves(at["post"], "translation", seconds, made.numbers(cubic, "VEC3"), "CUBICSPLINE")
    read = read_gltf(made.as_glb(), "Post", Fraction(24))
    heights = forward(read.figure, read.clips[0].motion).positions[:, :, 1]
    t = np.arange(25) / 24
    stands = np.where(t < 0.5, 0.1, np.where(t < 1, 0.3, 0.2))
    assert np.abs(heights[:, 0] - stands).max() < 1e-6
    share = np.clip(t / 0.5, 0, 1)
    eased = 0.5 + share**2 * (3 - 2 * share)
    assert np.abs(heights[:, 1] - stands - eased).max() < 1e-6


def test_numbers_come_in_every_dress() -> None:
    """Whole numbers that stand for turns, rows that lie apart, and few numbers in place of many."""
    made, at = lamp_post()
    quarter = round(HALF * 32_767)
    rows = np.array([[0, 0, 0, 32_767], [quarter, 0, 0, quarter]], dtype="<i2")
    apart = np.zeros((2, 6), dtype="<i2")
    apart[:, :4] = rows
    view = made.view(apart.tobytes(), byteStride=12)
    made.told["accessors"].append(
        {
            "bufferView": view,
            "componentType": 5122,
            "count": 2,
            "type": "VEC4",
            "normalized": True,
        }
    )  # fmt: skip
    made.moves(at["post"], "rotation", [0.0, 1.0], len(made.told["accessors"]) - 1)
    few = {
        "componentType": 5126, "count": 2, "type": "VEC3",
        "sparse": {
            "count": 1,
            "indices": {"bufferView": made.view(b"\1\0\0\0"), "componentType": 5123},
            "values": {"bufferView": made.view(np.array([0, 0, 40], dtype="<f4").tobytes())},
        },
    }  # fmt: skip
    made.told["accessors"].append(few)
    made.moves(at["stand"], "translation", [0.0, 1.0], len(made.told["accessors"]) - 1)
    read = read_gltf(made.as_glb(), "Post")
    places = forward(read.figure, read.clips[0].motion).positions
    assert np.abs(places[0, 0] - [0, 0, 0]).max() < 1e-6
    assert np.abs(places[-1, 0] - [0, 0.4, 0]).max() < 1e-6
    assert np.abs(places[-1, 2] - [0, 0.9, 1.0]).max() < 1e-4


def test_a_matrix_is_taken_apart() -> None:
    made, at = lamp_post()
    plain = read_gltf(made.as_glb(), "Post").figure
    world = made.told["nodes"][at["world"]]
    del world["rotation"], world["scale"]
    # Column by column: x stays, y goes down and back to −z … as a turn of −90° about x, a hundredth as large.
    world["matrix"] = [0.01, 0, 0, 0, 0, 0, -0.01, 0, 0, 0.01, 0, 0, 0, 0, 0, 1]
    again = read_gltf(made.as_glb(), "Post").figure
    assert np.abs(again.at_rest.positions - plain.at_rest.positions).max() < 1e-9


def test_evenly_standing_keys_tell_the_rate() -> None:
    made, at = lamp_post()
    count = 90
    turns = made.numbers(np.tile([0.0, 0, 0, 1], (count, 1)), "VEC4")
    made.moves(at["post"], "rotation", np.arange(count) * 1001 / 30_000, turns)
    (clip,) = read_gltf(made.as_glb(), "Post").clips
    assert (clip.rate, clip.motion.frames) == (Fraction(30_000, 1001), 90)
    (slower,) = read_gltf(made.as_glb(), "Post", Fraction(12)).clips
    assert (slower.rate, slower.motion.frames) == (Fraction(12), 1 + round(89 * 1.001 / 30 * 12))


def test_two_joints_of_a_name_are_told_apart() -> None:
    made, at = lamp_post()
    for name in ("tip", "post"):
        made.told["nodes"][at[name]]["name"] = "Bone"
    made.told["nodes"][at["stand"]].pop("name")
    assert read_gltf(made.as_glb(), "Post").figure.names == ("joint 1", "Bone", "Bone 2")


def changed(**told: Any) -> bytes:
    made, _ = lamp_post()
    made.told |= told
    return made.as_glb()


def broken_off() -> bytes:
    made, at = lamp_post()
    made.moves(at["post"], "rotation", [0.0, 1.0], made.numbers([[0, 0, 0, 1]] * 2, "VEC4"))
    return made.as_glb()[:-20]


def short_track() -> bytes:
    made, at = lamp_post()
    made.moves(at["post"], "rotation", [0.0, 1.0], made.numbers([[0, 0, 0, 1]] * 3, "VEC4"))
    return made.as_glb()


def outside() -> bytes:
    made, at = lamp_post()
    made.moves(at["post"], "rotation", [0.0, 1.0], made.numbers([[0, 0, 0, 1]] * 2, "VEC4"))
    made.told["accessors"][0]["count"] = 2_000
    return made.as_glb()


def ring() -> bytes:
    made, at = lamp_post()
    made.told["nodes"][at["tip"]]["children"] = [at["stand"]]
    return made.as_glb()


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"HIERARCHY", "This is no glTF file: it cannot be read."),
        (b"[1, 2]", "This is no glTF file: it does not say what it is."),
        (changed(asset={"version": "1.0"}), "is of another version: bring one of version 2."),
        (changed(extensionsRequired=["KHR_draco"]), "needs KHR_draco, which is not read here."),
        (changed(skins=[], animations=[]), "There is no skeleton in this glTF file."),
        (changed(skins=[{"joints": [77]}]), "There is no skeleton in this glTF file."),
        (changed(skins=[{"joints": "all"}]), "a skin is not whole."),
        (changed(nodes=7), "its nodes are no list."),
        (ring(), "its nodes are no tree."),
        (broken_off(), "is broken off: it cannot be read to its end."),
        (short_track(), "an animation is not whole."),
        (outside(), "an accessor points outside its buffer."),
        (
            json.dumps(
                {"asset": {"version": "2.0"}, "buffers": [{"byteLength": 4, "uri": "post.bin"}]}
            ).encode(),
            "keeps its numbers in another file, post.bin: bring it as one GLB file.",
        ),
    ],
    ids=lambda value: value[:40] if isinstance(value, str) else "",
)
def test_what_lies_is_a_sentence(data: bytes, says: str) -> None:
    with pytest.raises(Refusal) as refused:
        read_gltf(data, "Post")
    assert says in str(refused.value)


@pytest.mark.parametrize("spans", ["LINEAR", "STEP", "CUBICSPLINE"])
def test_a_turn_without_a_direction_is_refused(spans: str) -> None:
    made, at = lamp_post()
    each = 3 if spans == "CUBICSPLINE" else 1
    rows = [[0, 0, 0, 0]] * (2 * each)
    made.moves(at["post"], "rotation", [0.0, 1.0], made.numbers(rows, "VEC4"), spans)
    with pytest.raises(Refusal, match="a turn in it has no direction"):
        read_gltf(made.as_glb(), "Post")


def test_a_spline_that_passes_through_no_turn_stays_what_it_was() -> None:
    made, at = lamp_post()
    still, there, back = [0, 0, 0, 0], [0, 0, 0, 1], [0, 0, 0, -1]
    rows = made.numbers([still, there, still, still, back, still], "VEC4")
    made.moves(at["post"], "rotation", [0.0, 1.0], rows, "CUBICSPLINE")
    read = read_gltf(made.as_glb(), "Post")
    assert np.isfinite(read.clips[0].motion.rotations).all()


@given(seed=st.integers(0, 2**32 - 1))
def test_a_file_with_any_byte_wrong_is_read_or_refused(seed: int) -> None:
    chance = np.random.default_rng(seed)
    made, at = lamp_post()
    made.moves(at["post"], "rotation", [0.0, 1.0], made.numbers([[0, 0, 0, 1]] * 2, "VEC4"))
    data = bytearray(made.as_glb())
    for place in chance.integers(0, len(data), int(chance.integers(1, 6))):
        data[place] = int(chance.integers(0, 256))
    try:
        read = read_gltf(bytes(data), "Post")
    except Refusal:
        return
    for clip in read.clips:
        assert np.isfinite(forward(read.figure, clip.motion).positions).all()


def run(*words: str) -> Any:
    return CliRunner().invoke(app, list(words))


def test_convert_reads_and_writes_both_forms(tmp_path: Path) -> None:
    """Through the other form and back: joints lie where they lay, at the file's rate and at another."""
    names = {one: str(tmp_path / one) for one in ("a.bvh", "b.glb", "c.bvh", "d.glb", "e.glb")}
    (tmp_path / "a.bvh").write_bytes(colons_make())
    for source, out in (("a.bvh", "b.glb"), ("b.glb", "c.bvh"), ("c.bvh", "d.glb")):
        told = run("convert", names[source], names[out])
        assert told.exit_code == 0, told.stderr
    first, last = (read_gltf((tmp_path / one).read_bytes(), "Walk") for one in ("b.glb", "d.glb"))
    assert first.clips[0].rate == last.clips[0].rate == bvh.read(colons_make()).rate
    there, here = (forward(one.figure, one.clips[0].motion) for one in (last, first))
    assert np.abs(there.positions - here.positions).max() < 2e-4
    assert (
        run("convert", names["b.glb"], names["e.glb"], "--fps", "12", "--end", "5").exit_code == 0
    )
    (clip,) = read_gltf((tmp_path / "e.glb").read_bytes(), "Walk").clips
    assert (clip.rate, clip.motion.frames) == (Fraction(12), 5)


def test_of_several_clips_one_is_chosen(tmp_path: Path) -> None:
    made = demo()
    clips = [
        GltfClip(name, made.clips[name].samples.whole(), Fraction(24))
        for name in ("Amble", "Hurry")
    ]
    source, out = tmp_path / "odo.glb", tmp_path / "odo.bvh"
    source.write_bytes(write_glb(made.figures["odo"], clips))
    told = run("convert", str(source), str(out))
    assert told.exit_code == 1
    assert "A BVH file has one clip: choose of Amble, Hurry with --clip." in told.stderr
    assert "It has Amble, Hurry." in run("convert", str(source), str(out), "--clip", "Run").stderr
    assert not out.exists()
    assert run("convert", str(source), str(out), "--clip", "Hurry").exit_code == 0
    assert bvh.read(out.read_bytes()).frames == 17
