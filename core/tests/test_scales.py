"""Scale channels (rule 2.2): a joint's own piece is drawn out, and what hangs on it keeps its size."""

from dataclasses import replace

import numpy as np
import pytest

from demo.production import demo
from elastic_core import rotation
from elastic_core.clip.edits import ClipEdit, edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.cycle import CloseSeam, LinkHalves, MirrorClip
from elastic_core.clip.edits.keys import DeleteKeys, SetKey
from elastic_core.clip.edits.pose import Favour, KeyPose
from elastic_core.clip.numbers import numbers_of
from elastic_core.clip.playable import PlayableClip
from elastic_core.clip.playing import keys_of, motion_at, playable_of
from elastic_core.clip.pose import RestJoint, SetValue
from elastic_core.clip.view import bench_of
from elastic_core.cycle.seam import seam_report
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from, positions_in_file_units
from elastic_core.formats.clip_file import ClipFile, clip_file_pieces
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.motion import Motion, blend, join_runs
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.document import SceneFigure, Stint
from elastic_core.scene.evaluate import FigureFrames, frames_of

from .motions import material, once_clip, random_motion, scene_of, small_figure

DEMO = demo()
ODO = DEMO.figures["odo"]
AMBLE = Made(DEMO.clips["Amble"].clip, ODO)
KEEPER = small_figure()


def after(made: Made, *edits: ClipEdit) -> Made:
    for edit in edits:
        made = Made(edit_clip(made, edit).clip, made.figure)
    return made


def scaled(frame: float, joint: str, **axes: float) -> KeyPose:
    changes = tuple(
        SetValue(channel=f"{joint}.scale.{axis}", value=times) for axis, times in axes.items()
    )
    return KeyPose(frame=frame, changes=changes)


def samples(made: Made) -> Motion:
    return playable_of(made.figure, made.clip, made.samples).samples


def drawn_out(frames: int = 12) -> Motion:
    """Random poses whose spine is half as long again along y, and swells."""
    swell = 1 + np.linspace(0, 1, frames)
    scale = np.stack([swell, np.full(frames, 1.5), np.ones(frames)], axis=-1)
    return replace(random_motion(frames), scales={1: np.asfortranarray(scale)})


def test_what_hangs_on_a_scaled_joint_is_carried_out_along_its_axes() -> None:
    plain, motion = forward(KEEPER, random_motion(12)), drawn_out()
    placed = forward(KEEPER, motion)
    # Only the head hangs on the spine, and only it goes elsewhere; nothing turns.
    assert np.array_equal(placed.positions[:, [0, 1, 3, 4]], plain.positions[:, [0, 1, 3, 4]])
    assert np.array_equal(placed.rotations, plain.rotations)
    hung = np.array(KEEPER.joints[2].offset) * motion.scales[1]
    wanted = plain.positions[:, 1] + rotation.rotate(plain.rotations[:, 1], hung)
    assert np.abs(placed.positions[:, 2] - wanted).max() < 1e-12
    assert np.linalg.norm(placed.positions[0, 2] - placed.positions[0, 1]) == pytest.approx(0.525)


def test_scales_are_blended_and_joined_with_what_has_none() -> None:
    motion, plain = drawn_out(4), random_motion(4)
    half = blend(motion, plain, np.full(4, 0.5))
    assert half.scales[1][:, 1] == pytest.approx(1.25)
    assert blend(plain, motion, np.ones(4)).scales[1] == pytest.approx(motion.scales[1])
    joined = join_runs([plain, motion])
    assert joined.scales[1][:, 1].tolist() == [1, 1, 1, 1, 1.5, 1.5, 1.5, 1.5]


def test_a_scale_is_keyed_where_it_was_changed_and_nowhere_else() -> None:
    made = after(AMBLE, scaled(6, "chest", y=1.3))
    assert {name for name in made.clip.keys if ".scale." in name} == {"chest.scale.y"}
    # A first key stands over the whole round; a second one lets it come and go.
    assert samples(made).scales[ODO.place_of("chest")][:, 1] == pytest.approx(1.3)
    swelling = after(made, scaled(18, "chest", y=1.0))
    along = samples(swelling).scales[ODO.place_of("chest")][:, 1]
    assert along[[6, 12, 18]] == pytest.approx([1.3, 1.15, 1.0])
    # Later keys of the pose take the scale along, as it is keyed now; the other joints stay without.
    whole = after(swelling, KeyPose(frame=9))
    assert 9 in [key.time for key in whole.clip.keys["chest.scale.y"].keys]
    assert not any(name.startswith("head.scale") for name in whole.clip.keys)
    # Asked for alone it is keyed as it stands.
    alone = after(AMBLE, KeyPose(frame=3, joints=("head",), kinds=("scale",)))
    assert alone.clip.keys["head.scale.y"].keys[0].value == 1.0
    # Of the whole figure, moves and scales are keyed where they are keyed already.
    moves = after(made, KeyPose(frame=3, kinds=("move",)))
    assert {name for name in moves.clip.keys if ".move." in name} == set()
    with pytest.raises(Refusal, match="Choose a joint to key"):
        edit_clip(AMBLE, KeyPose(frame=3, kinds=("scale",)))


def test_the_card_shows_every_number_of_a_joint_and_rest_takes_a_scale_back() -> None:
    made = after(AMBLE, scaled(6, "chest", y=1.3))
    rows = numbers_of(made, 6, ["chest"])
    assert [(row.row, row.axis, row.unit) for row in rows][3:] == [
        ("move", "x", "metres"), ("move", "y", "metres"), ("move", "z", "metres"),
        ("scale", "x", "times"), ("scale", "y", "times"), ("scale", "z", "times"),
    ]  # fmt: skip
    by_name = {row.channel: row for row in rows}
    assert by_name["chest.scale.y"].value == pytest.approx(1.3)
    assert by_name["chest.scale.y"].keyed == "here"
    curve = next(row for row in bench_of(made).curves if row.channel == "chest.scale.y")
    assert (curve.label, curve.kind, curve.unit) == ("Chest scale y", "scale", "times")
    rested = after(made, KeyPose(frame=6, changes=(RestJoint(joint="chest"),)))
    assert samples(rested).scales[ODO.place_of("chest")] == pytest.approx(1.0)


def test_an_overshoot_never_turns_a_piece_inside_out() -> None:
    made = after(AMBLE, scaled(0, "chest", y=0.2), scaled(12, "chest", y=1.0))
    over = after(
        made, Favour(frame=6, share=-1, scope="chosen", joints=("chest",), kinds=("scale",))
    )
    assert over.clip.keys["chest.scale.y"].values(np.array(6.0)) == pytest.approx(-0.6)
    assert samples(over).scales[ODO.place_of("chest")][6, 1] == 0.01


def test_scales_mirror_and_follow_a_linked_half() -> None:
    made = after(AMBLE, scaled(3, "l_wrist", x=2.0), scaled(9, "l_wrist", x=1.0))
    mirrored = after(made, MirrorClip())
    assert mirrored.clip.keys["r_wrist.scale.x"] == made.clip.keys["l_wrist.scale.x"]
    assert after(mirrored, MirrorClip()).clip.keys == made.clip.keys
    linked = samples(after(made, LinkHalves(linked=True)))
    left, right = (linked.scales[ODO.place_of(name)][:24] for name in ("l_wrist", "r_wrist"))
    assert np.abs(np.roll(left, 12, axis=0) - right).max() < 1e-9


def test_a_leg_that_is_drawn_out_still_holds_its_foot() -> None:
    made = after(AMBLE, scaled(6, "l_knee", y=1.12))
    slides = {plant.joint: plant.slide_cm for plant in bench_of(made).plants}
    assert len(slides) == 2
    assert max(slides.values()) < 0.1


def test_a_scale_that_jumps_at_the_seam_is_told_and_closed() -> None:
    made = after(AMBLE, scaled(0, "head", y=1.0), scaled(24 - 1, "head", y=1.5))
    opened = after(
        made, SetKey(channel="head.scale.y", time=23, new_time=24),
    )  # fmt: skip
    report = seam_report(ODO, playable_of(ODO, opened.clip))
    assert report.grade == "open"
    assert report.worst.joint == "head"
    assert report.worst.gap_cm > 3
    closed = after(opened, CloseSeam(method="match"))
    assert seam_report(ODO, playable_of(ODO, closed.clip)).grade == "closed"


def test_motion_with_scales_becomes_keys_and_a_file_and_comes_back() -> None:
    motion = drawn_out()
    clip = once_clip(12).clip.model_copy(update={"keys": keys_of(KEEPER, motion, is_cycle=False)})
    again = motion_at(KEEPER, clip, np.arange(12.0))
    assert np.abs(again.scales[1] - motion.scales[1]).max() < 1e-9
    written = b"".join(clip_file_pieces(KEEPER, PlayableClip(once_clip(12).clip, motion)))
    back = ClipFile.model_validate_json(written).playable().samples.whole()
    assert np.array_equal(back.scales[1], motion.scales[1])
    # BVH knows no scale: the joints still come to lie where they were.
    text = bvh.write(file_from(KEEPER, motion, clip.rate, 0.01))
    there = positions_in_file_units(bvh.read(text.encode())).positions * 0.01
    assert np.abs(there - forward(KEEPER, motion).positions).max() < 1e-6


def test_scales_reach_the_scene_and_the_page() -> None:
    swelling = PlayableClip(once_clip(12).clip, drawn_out())
    plain = PlayableClip(once_clip(12).clip.model_copy(update={"name": "Plain"}), random_motion(12))
    scene = scene_of(
        [
            Stint(id="a", source=ClipSource(id="Plain"), start=0, length_frames=10),
            Stint(id="b", source=ClipSource(id="Reach"), start=6, length_frames=10),
        ],
        length=16,
    )
    shown = frames_of(scene, material(swelling, plain), np.arange(16.0))[0]
    along = shown.motion.scales[1][:, 1]
    assert along[:6] == pytest.approx(1.0)
    assert along[10:] == pytest.approx(1.5)
    assert np.all(np.diff(along) >= 0)
    member = SceneFigure(id="k", name="Keeper", figure="")
    placed = forward(KEEPER, drawn_out())
    packed = pack_frames([FigureFrames(member, drawn_out(), placed)], {})
    assert b'"k/scales"' in packed
    unscaled = pack_frames([FigureFrames(member, random_motion(12), placed)], {})
    assert b'"k/scales"' not in unscaled


def test_a_scale_is_a_channel_of_a_joint_and_is_deleted_like_any() -> None:
    made = after(AMBLE, scaled(6, "chest", y=1.3))
    gone = after(made, DeleteKeys(chosen={"chest.scale.y": [6.0]}))
    assert gone.clip.keys.keys() == AMBLE.clip.keys.keys()
    assert not samples(gone).scales
    with pytest.raises(Refusal, match="not a channel"):
        edit_clip(AMBLE, KeyPose(frame=0, changes=(SetValue(channel="chest.size.y", value=2),)))
