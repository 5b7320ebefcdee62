"""glTF out: keys stay keys where the format can say them, figures wear their hulls, a scene has them all."""

from fractions import Fraction

import numpy as np
import pytest

from demo.production import demo
from elastic_core import rotation
from elastic_core.clip.document import Clip, Plant
from elastic_core.clip.playing import motion_at, playable_of
from elastic_core.curve import Curve, Key, SpanKind
from elastic_core.dress import Ball, Dress, Hull
from elastic_core.figure import Figure, forward
from elastic_core.formats.gltf import GltfClip, GltfMember, write_glb, write_scene_glb
from elastic_core.formats.gltf_mesh import linear, mesh_parts
from elastic_core.formats.gltf_motion import read_gltf

from .gltf_reader import Read, read, skinned
from .motions import small_figure

FIGURE = small_figure()
JOINT = FIGURE.names[1]


def swings(kinds: list[SpanKind], axes: str = "x", **told: object) -> Clip:
    """A joint swings by these spans, and the root sways."""
    times = np.linspace(0, 24, len(kinds) + 1)
    keys = {
        f"{JOINT}.turn.{axis}": Curve(
            Key(time=time, value=(-1) ** n * 25.0 + 4 * k, span=kind, in_slope=3.0, out_slope=-2.0)
            for n, (time, kind) in enumerate(zip(times, [*kinds, kinds[-1]], strict=True))
        )
        for k, axis in enumerate(axes)
    }
    clip = Clip(name="Swings", figure="k", rate=Fraction(24), length_frames=25, keys=keys)
    return clip.model_copy(update=told)


def written(clip: Clip) -> Read:
    return read(write_glb(FIGURE, [GltfClip.of(playable_of(FIGURE, clip))]))


def samplers(held: Read, path: str = "rotation") -> list[tuple[str, int]]:
    """How each path of this kind goes, and how many keys it has."""
    told = held.told["animations"][0]
    return [
        (one["interpolation"], len(held.accessor(one["input"])))
        for channel in told["channels"]
        if channel["target"]["path"] == path
        for one in [told["samplers"][channel["sampler"]]]
    ]


@pytest.mark.parametrize(
    ("kinds", "goes"),
    [
        (["hold", "hold", "hold"], ("STEP", 4)),
        (["even", "even", "even"], ("LINEAR", 4)),
        # Turns so wide are splines of quaternions by quarters.
        (["eased", "eased", "eased"], ("CUBICSPLINE", 13)),
        (["eased", "even", "free"], ("CUBICSPLINE", 13)),
    ],
    ids=str,
)
def test_spans_of_a_kind_that_the_format_has_keep_it(
    kinds: list[SpanKind], goes: tuple[str, int]
) -> None:
    clip = swings(kinds)
    held = written(clip)
    assert samplers(held) == [goes]
    # Also between the frames it is what plays.
    moments = np.linspace(0, 24, 200)
    placed = forward(FIGURE, motion_at(FIGURE, clip, moments))
    _, turns = held.world(0, moments / 24)
    alike = np.abs(
        (turns[:, 1 : len(FIGURE.names) + 1][..., [3, 0, 1, 2]] * placed.rotations).sum(axis=-1)
    )
    assert np.degrees(2 * np.arccos(alike.clip(0, 1))).max() < 0.02


def test_what_the_format_cannot_say_is_written_frame_by_frame() -> None:
    # A hold among others is a jump.
    assert samplers(written(swings(["hold", "eased", "eased"]))) == [("LINEAR", 25)]
    # Straight about three axes at once is no straight way of a quaternion, but a spline of them.
    assert samplers(written(swings(["even", "even"], "xyz"))) == [("CUBICSPLINE", 9)]
    # Keys on every frame are frames.
    assert samplers(written(swings(["eased"] * 24))) == [("LINEAR", 25)]


def test_a_sway_is_a_spline_of_places() -> None:
    sway = Curve([Key(time=0, value=0.0), Key(time=9, value=0.3), Key(time=24, value=-0.1)])
    clip = swings(["even"]).model_copy(update={"keys": {"root.y": sway}})
    held = written(clip)
    assert samplers(held, "translation") == [("CUBICSPLINE", 3)]
    places, _ = held.world(0, np.linspace(0, 1, 97))
    wanted = motion_at(FIGURE, clip, np.linspace(0, 24, 97)).root_move[:, 1]
    assert wanted.max() > 0.29
    assert np.abs(places[:, 1, 1] - wanted).max() < 1e-5


def test_the_demos_clips_keep_their_keys_where_no_foot_is_held() -> None:
    made = demo()
    odo, amble = made.figures["odo"], made.clips["Amble"]
    held = read(write_glb(odo, [GltfClip.of(amble)]))
    told = samplers(held)
    kept = [count for goes, count in told if goes == "CUBICSPLINE"]
    # Its arms are keyed on every other frame, and its feet are held.
    assert kept
    assert max(kept) == 13
    frames = np.arange(amble.clip.length_frames + 1.0)
    places, _ = held.world(0, frames / float(amble.clip.rate))
    placed = forward(odo, amble.kept_samples.whole())
    assert np.abs(places[:, 1 : len(odo.names) + 1] - placed.positions).max() < 1e-4
    # And they come in again as they are.
    again = read_gltf(write_glb(odo, [GltfClip.of(amble)]), "odo", amble.clip.rate)
    assert again.figure.names == odo.names
    back = forward(again.figure, again.clips[0].motion).positions
    assert np.abs(back - placed.positions).max() < 1e-4


def test_a_cut_clip_and_one_without_keys_are_frames() -> None:
    clip = playable_of(FIGURE, swings(["eased", "eased"]))
    frames = GltfClip("Swings", clip.samples.whole(), Fraction(24))
    assert samplers(read(write_glb(FIGURE, [frames]))) == [("LINEAR", 25)]


COLOURS = ["#D98A1F", "#22303C", "#D98A1F", "#8CC9E8", "#22303C"]


def dressed(*hulls: Hull) -> Figure:
    return FIGURE.model_copy(update={"dress": Dress(hulls=hulls)})


def ball(joint: str, x: float, radius: float) -> Ball:
    return Ball(joint=joint, offset=(x, 0.0, 0.0), radius=radius)


def test_a_hull_is_the_outside_of_its_balls() -> None:
    limb = Hull(
        name="limb", fill="#D98A1F",
        sections=((ball(JOINT, 0.0, 0.05),), (ball(FIGURE.names[2], 0.0, 0.03),)),
    )  # fmt: skip
    figure = dressed(limb)
    (part,) = mesh_parts(figure)
    middles = figure.at_rest.positions[0]
    # Every corner is on the ball of its joint, and none is inside of the other one.
    radius = np.where(part.joints[:, 0] == 1, 0.05, 0.03)
    apart = np.linalg.norm(part.places - middles[part.joints[:, 0]], axis=-1)
    assert np.abs(apart - radius).max() < 1e-9
    assert set(part.joints[:, 0].tolist()) == {1, 2}
    # It is closed, and its faces look outwards: its volume is that of a limb, nearly.
    a, b, c = (part.places[part.corners[k::3]] for k in range(3))
    volume = float((a * np.cross(b, c)).sum()) / 6
    length = float(np.linalg.norm(middles[2] - middles[1]))
    cone = np.pi * length / 3 * (0.05**2 + 0.05 * 0.03 + 0.03**2)
    assert 0.75 * cone < volume < 1.3 * cone
    edges = np.sort(
        np.concatenate([part.corners.reshape(-1, 3)[:, pair] for pair in ([0, 1], [1, 2], [2, 0])])
    )
    assert (np.unique(edges, axis=0, return_counts=True)[1] == 2).all()
    assert np.abs(np.linalg.norm(part.normals, axis=-1) - 1).max() < 1e-9


def test_what_joints_carry_goes_with_them() -> None:
    hulls = [
        Hull(name=name, fill=colour, sections=((ball(name, 0.02, 0.04),),))
        for name, colour in zip(FIGURE.names, COLOURS, strict=True)
    ]
    figure = dressed(*hulls)
    clip = playable_of(FIGURE, swings(["eased", "eased"], "xyz"))
    held = read(write_glb(figure, [GltfClip.of(clip)]))
    primitives = held.told["meshes"][0]["primitives"]
    # One for each colour, painted as it is.
    assert [one["material"] for one in primitives] == [0, 1, 2]
    paint = held.told["materials"][0]["pbrMetallicRoughness"]
    assert paint["baseColorFactor"][:3] == pytest.approx(linear("#D98A1F"))
    assert linear("#FFFFFF") == [1.0, 1.0, 1.0]
    assert linear("#808080")[0] == pytest.approx(0.2158605, abs=1e-6)
    places, turns = held.world(0, np.arange(25) / 24)
    placed = forward(figure, clip.samples.whole())
    carried = np.concatenate(skinned(held, 0, places, turns), axis=1)
    joints = np.concatenate(
        [held.accessor(one["attributes"]["JOINTS_0"])[:, 0].astype(int) for one in primitives]
    )
    for joint in range(len(FIGURE.names)):
        offset = np.array([0.02, 0.0, 0.0])
        middle = placed.positions[:, joint] + rotation.rotate(placed.rotations[:, joint], offset)
        apart = np.linalg.norm(carried[:, joints == joint] - middle[:, None], axis=-1)
        assert np.abs(apart - 0.04).max() < 1e-5


def test_both_sides_of_a_dress_are_written_out() -> None:
    odo = demo().figures["odo"]
    both = odo.dress.both_sides
    mirrored = [hull for hull in odo.dress.hulls if hull.mirror]
    assert mirrored
    assert len(both.hulls) == len(odo.dress.hulls) + len(mirrored)
    assert not any(hull.mirror for hull in both.hulls)
    assert both.both_sides == both
    names = [hull.name for hull in both.hulls]
    for hull in mirrored:
        other = both.hulls[names.index(hull.name) + 1]
        one, flipped = hull.sections[0][0], other.sections[0][0]
        assert flipped.offset == (-one.offset[0], one.offset[1], one.offset[2])
        assert flipped.joint[:2] == {"l_": "r_", "r_": "l_"}.get(one.joint[:2], one.joint[:2])
    # At rest a dress is as wide to one side as to the other.
    boots = both.model_copy(update={"hulls": tuple(h for h in both.hulls if "boot" in h.name)})
    x = np.concatenate(
        [part.places for part in mesh_parts(odo.model_copy(update={"dress": boots}))]
    )
    assert abs(x[:, 0].max() + x[:, 0].min()) < 1e-3


def test_all_figures_of_a_scene_are_in_one_file() -> None:
    one, other = (playable_of(FIGURE, swings(["eased"], axis)).samples.whole() for axis in "xy")
    figure = dressed(Hull(name="body", fill="#22303C", sections=((ball(JOINT, 0, 0.1),),)))
    members = [GltfMember("Odo", figure, one), GltfMember("灯 の 影", FIGURE, other)]
    held = read(write_scene_glb("Sc 04", Fraction(24), members))
    joints = len(FIGURE.names)
    assert held.names[0] == "Odo"
    assert held.names[joints + 1 : joints + 3] == ["Odo, dressed", "灯 の 影"]
    assert held.told["scenes"][0]["nodes"] == [0, joints + 1, joints + 2]
    assert [one["name"] for one in held.told["animations"]] == ["Sc 04"]
    places, _ = held.world(0, np.arange(25) / 24)
    for first, motion in ((1, one), (joints + 3, other)):
        wanted = forward(FIGURE, motion).positions
        assert np.abs(places[:, first : first + joints] - wanted).max() < 1e-4


def test_held_feet_are_written_as_they_stand() -> None:
    plant = Plant(joint=JOINT, side="left", start=0, end=12, held=True)
    clip = playable_of(FIGURE, swings(["eased", "eased"], plants=(plant,)))
    held = read(write_glb(FIGURE, [GltfClip.of(clip)]))
    places, _ = held.world(0, np.arange(25) / 24)
    wanted = forward(FIGURE, clip.kept_samples.whole()).positions
    assert np.abs(places[:, 1:] - wanted).max() < 1e-4
