"""glTF out: read again by itself joints are where they were, and the official validator finds nothing."""

import json
import shutil
import subprocess
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner

from demo.production import demo
from elastic_core.command_line import app
from elastic_core.dress import Ball, Dress, Hull
from elastic_core.figure import Figure, Joint, forward
from elastic_core.formats.clip_file import clip_file_pieces
from elastic_core.formats.gltf import GltfClip, write_glb
from elastic_core.motion import Motion

from .gltf_reader import read
from .makes import colons_make, tabs_make

ROOT = Path(__file__).parents[2]
RATES = [Fraction(24), Fraction(24_000, 1_001), Fraction(30), Fraction(120)]


def random_figure(chance: np.random.Generator, joints: int) -> Figure:
    def rest() -> tuple[float, float, float, float]:
        turn = chance.normal(size=4)
        w, x, y, z = (turn / np.linalg.norm(turn)).tolist()
        return w, x, y, z

    def offset(place: int) -> tuple[float, float, float]:
        x, y, z = chance.normal(0, 0.3, 3).tolist()
        return (x, y + (0.9 if place == 0 else 0.0), z)

    made = tuple(
        Joint(
            name=f"灯 {place}",
            parent=int(chance.integers(0, place)) if place else -1,
            offset=offset(place),
            rest=rest() if place and chance.random() < 0.5 else (1.0, 0.0, 0.0, 0.0),
        )
        for place in range(joints)
    )
    return Figure(name="Lay figure", joints=made, dress=random_dress(chance, made))


def random_dress(chance: np.random.Generator, joints: tuple[Joint, ...]) -> Dress:
    """A few hulls of balls and rings, some of them hung between two joints, some flat; or none."""

    def ball() -> Ball:
        name, other = (joints[int(place)].name for place in chance.integers(0, len(joints), 2))
        x, y, z = chance.normal(0, 0.1, 3).tolist()
        ring = {"radius_x": 0.1, "radius_z": 0.06} if chance.random() < 0.3 else {}
        hung = {"to": other, "t": float(chance.uniform(-0.2, 1.2))} if chance.random() < 0.3 else {}
        radius = 0.0 if chance.random() < 0.1 else float(chance.uniform(0.01, 0.2))
        return Ball(joint=name, offset=(x, y, z), radius=radius, **ring, **hung)  # type: ignore[arg-type]

    return Dress(
        hulls=tuple(
            Hull(
                name=f"hull {place}",
                fill=str(chance.choice(["#D98A1F", "#22303C", "#8CC9E8"])),
                sections=tuple((ball(),) for _ in range(int(chance.integers(1, 4)))),
            )
            for place in range(int(chance.integers(0, 4)))
        )
    )


def random_motion(chance: np.random.Generator, figure: Figure, frames: int) -> Motion:
    joints = len(figure.joints)
    turns = chance.normal(size=(frames, joints, 4))
    if chance.random() < 0.5:
        # Some joints are still, and some turn little.
        turns[:, chance.random(joints) < 0.5] = (1.0, 0.0, 0.0, 0.0)
    turns /= np.linalg.norm(turns, axis=-1, keepdims=True)
    travel = chance.normal(0, 2, (frames, 3)).cumsum(axis=0)
    moves, scales = {}, {}
    if joints > 2 and chance.random() < 0.4:
        moves[2] = chance.normal(0, 0.4, (frames, 3))
    if joints > 2 and chance.random() < 0.4:
        scales[1] = chance.uniform(0.5, 2.0, (frames, 3))
    return Motion(travel, chance.normal(0, 0.5, (frames, 3)), turns, moves, scales)


def assert_alike(figure: Figure, motion: Motion, rate: Fraction, glb: bytes) -> None:
    """At whole frames joints lie within a tenth of a millimetre, and are turned alike."""
    held = read(glb)
    dressed = [f"{figure.name}, dressed"] if "meshes" in held.told else []
    assert held.names == [figure.name, *figure.names, *dressed]
    roots = held.told["scenes"][held.told["scene"]]["nodes"]
    assert roots == [0, *(len(figure.names) + 1 for _ in dressed)]
    placed = forward(figure, motion)
    animation = 0 if held.told.get("animations") else None
    seconds = np.arange(motion.frames) / float(rate)
    places, turns = held.world(animation, seconds)
    joints = slice(1, len(figure.names) + 1)
    assert np.abs(places[:, joints] - placed.positions).max() < 1e-4
    alike = np.abs((turns[:, joints][..., [3, 0, 1, 2]] * placed.rotations).sum(axis=-1))
    assert alike.min() > 1 - 1e-6


@given(
    seed=st.integers(0, 2**32 - 1),
    joints=st.integers(1, 24),
    frames=st.integers(1, 12),
    rate=st.sampled_from(RATES),
)
def test_joints_are_where_they_were(seed: int, joints: int, frames: int, rate: Fraction) -> None:
    chance = np.random.default_rng(seed)
    figure = random_figure(chance, joints)
    motion = random_motion(chance, figure, frames)
    assert_alike(figure, motion, rate, write_glb(figure, [GltfClip("Clip", motion, rate)]))


def test_at_rest_it_stands_as_the_figure_does() -> None:
    odo = demo().figures["odo"]
    places, _ = read(write_glb(odo)).world(None, np.zeros(1))
    assert np.abs(places[0, 1:-1] - odo.at_rest.positions[0]).max() < 1e-6
    # Without motion or dress there is nothing but nodes.
    bare = odo.model_copy(update={"dress": Dress()})
    assert set(read(write_glb(bare)).told) == {"asset", "scene", "scenes", "nodes"}


def test_between_two_frames_a_turn_takes_the_short_way() -> None:
    """A reader that goes straight from number to number never goes round the other way."""
    chance = np.random.default_rng(3)
    figure = random_figure(chance, 4)
    motion = random_motion(chance, figure, 40)
    held = read(write_glb(figure, [GltfClip("Clip", motion, Fraction(24))]))
    for channel in held.told["animations"][0]["channels"]:
        if channel["target"]["path"] == "rotation":
            sampler = held.told["animations"][0]["samplers"][channel["sampler"]]
            values = held.accessor(sampler["output"])
            assert (values[1:] * values[:-1]).sum(axis=-1).min() >= 0
            assert np.abs(np.linalg.norm(values, axis=-1) - 1).max() < 1e-6


def test_several_clips_share_a_figure_and_what_is_still_has_no_channel() -> None:
    made = demo()
    odo = made.figures["odo"]
    amble, stand = (made.clips[name] for name in ("Amble", "Stand"))
    clips = [GltfClip(c.clip.name, c.samples.whole(), c.clip.rate) for c in (amble, stand)]
    held = read(write_glb(odo, clips))
    assert [one["name"] for one in held.told["animations"]] == ["Amble", "Stand"]
    for place, clip in enumerate(clips):
        placed = forward(odo, clip.motion)
        seconds = np.arange(clip.motion.frames) / float(clip.rate)
        places, _ = held.world(place, seconds)
        assert np.abs(places[:, 1:-1] - placed.positions).max() < 1e-4
        # Only the hips go anywhere against what they hang on.
        paths = [c["target"] for c in held.told["animations"][place]["channels"]]
        assert {t["node"] for t in paths if t["path"] == "translation"} == {1}


def validated(folder: Path) -> dict[str, dict[str, object]]:
    node = shutil.which("node")
    assert node, "Node checks what is written: bin/setup brings it."
    script = Path(__file__).with_name("gltf_validated.cjs")
    done = subprocess.run(
        [node, str(script), str(ROOT / "web"), str(folder)],
        capture_output=True,
        text=True,
        check=True,
        timeout=300,
    )
    found: dict[str, dict[str, object]] = json.loads(done.stdout)
    return found


def test_the_official_validator_finds_nothing(tmp_path: Path) -> None:
    """200 random figures and clips, and the demo's."""
    count = 200
    for seed in range(count):
        chance = np.random.default_rng(seed)
        figure = random_figure(chance, int(chance.integers(1, 30)))
        frames = int(chance.integers(1, 40))
        clips = [
            GltfClip(f"Clip {n}", random_motion(chance, figure, frames), RATES[seed % len(RATES)])
            for n in range(int(chance.integers(0, 3)))
        ]
        (tmp_path / f"{seed}.glb").write_bytes(write_glb(figure, clips))
    made = demo()
    for clip in made.clips.values():
        figure = made.figures[clip.clip.figure]
        told = GltfClip.of(clip)
        (tmp_path / f"{clip.clip.name}.glb").write_bytes(write_glb(figure, [told]))
    found = validated(tmp_path)
    assert len(found) == count + len(made.clips)
    troubled = {name: said for name, said in found.items() if said["errors"] or said["warnings"]}
    assert troubled == {}


@pytest.mark.parametrize("make", [colons_make, tabs_make])
def test_a_motion_file_becomes_gltf(tmp_path: Path, make: object) -> None:
    from elastic_core.formats import bvh
    from elastic_core.formats.bvh_motion import guess_unit, motion_from, skeleton_from

    data: bytes = make()  # type: ignore[operator]
    (tmp_path / "walk.bvh").write_bytes(data)
    told = CliRunner().invoke(app, ["gltf", str(tmp_path / "walk.bvh"), str(tmp_path / "walk.glb")])
    assert told.exit_code == 0, told.stderr
    file = bvh.read(data)
    metres = guess_unit(file).metres
    figure = skeleton_from(file, "walk", metres)
    glb = (tmp_path / "walk.glb").read_bytes()
    assert_alike(figure, motion_from(file, metres), file.rate, glb)


def test_a_cycle_of_a_clip_file_ends_on_its_first_pose(tmp_path: Path) -> None:
    made = demo()
    amble, odo = made.clips["Amble"], made.figures["odo"]
    clip = tmp_path / "amble.clip.json"
    clip.write_bytes(b"".join(clip_file_pieces(odo, amble)))
    out = tmp_path / "amble.glb"
    assert CliRunner().invoke(app, ["gltf", str(clip), str(out)]).exit_code == 0
    held = read(out.read_bytes())
    samplers = held.told["animations"][0]["samplers"]
    ends = {
        round(held.accessor(one["input"])[-1, 0] * float(amble.clip.rate), 4) for one in samplers
    }
    assert ends == {amble.clip.length_frames}
    times = np.arange(amble.clip.length_frames + 1) / float(amble.clip.rate)
    _, turns = held.world(0, times)
    alike = np.abs((turns[0] * turns[-1]).sum(axis=-1))
    assert alike.min() > 1 - 1e-6


@pytest.mark.parametrize(
    ("name", "data", "out", "says"),
    [
        ("walk.bvh", b"HIERARCHY", "walk.glb", ""),
        ("walk.clip.json", b"{}", "walk.glb", ""),
        ("walk.bvh", colons_make(), "walk.fbx", "glTF is written as FILE.glb."),
    ],
)
def test_what_is_no_motion_is_one_line(
    tmp_path: Path, name: str, data: bytes, out: str, says: str
) -> None:
    (tmp_path / name).write_bytes(data)
    told = CliRunner().invoke(app, ["gltf", str(tmp_path / name), str(tmp_path / out)])
    assert told.exit_code == 1
    assert says in told.stderr
    assert len(told.stderr.strip().splitlines()) == 1
    assert not (tmp_path / out).exists()
    assert [one.name for one in tmp_path.iterdir()] == [name]
