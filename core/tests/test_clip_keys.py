"""The bench's keys and poses (rules 3.3, 3.4, 4.7): keyed, moved, scaled, favoured, fenced."""

import gc
import weakref

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from demo.production import demo
from elastic_core import rotation
from elastic_core.clip.edits import ClipEdit, edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.keys import (
    DeleteKeys,
    MoveKeys,
    PasteKeys,
    ReverseKeys,
    ScaleKeys,
    SetKey,
    SetSpans,
    ShiftValues,
    SnapKeys,
    WidenKeys,
)
from elastic_core.clip.edits.pose import Favour, InsertKeys, KeyPose
from elastic_core.clip.edits.whole import NamePose, SetClipLength, SetExposure, SetRate
from elastic_core.clip.new import blank, from_motion, from_pose
from elastic_core.clip.numbers import numbers_of
from elastic_core.clip.playing import playable_of, played_curves
from elastic_core.clip.pose import MoveRoot, Reach, RestJoint, SetValue, Turn
from elastic_core.clip.traces import traces_of
from elastic_core.clip.view import bench_of
from elastic_core.curve import Curve, Key
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.formats.clip_file import ClipFile, clip_file_pieces
from elastic_core.motion import Motion

DEMO = demo()
ODO = DEMO.figures["odo"]
AMBLE = Made(DEMO.clips["Amble"].clip, ODO)
REACHED = DEMO.clips["Reach and light"]
SAMPLED = Made(REACHED.clip.model_copy(update={"motion": "kept"}), ODO, REACHED.samples)
EVERY_FRAME = [float(frame) for frame in range(24)]


def after(made: Made, *edits: ClipEdit) -> Made:
    for edit in edits:
        made = Made(edit_clip(made, edit).clip, made.figure)
    return made


def motion_of(made: Made) -> Motion:
    return playable_of(made.figure, made.clip, made.samples).samples


def positions(made: Made) -> np.ndarray:
    return forward(ODO, motion_of(made)).positions


def turned_degrees(a: Made, b: Made) -> np.ndarray:
    """How far each joint is turned from one clip to another [frames, joints]."""
    first, second = motion_of(a).rotations, motion_of(b).rotations
    return np.degrees(rotation.angle_between(first, second))


def place(joint: str) -> int:
    return ODO.place_of(joint)


# Poses


def test_a_turn_is_about_an_axis_of_the_world_and_keys_what_it_touches() -> None:
    bow = KeyPose(frame=6, changes=(Turn(joint="chest", axis=(1, 0, 0), degrees=20),))
    made = after(AMBLE, bow)
    before, now = (forward(ODO, motion_of(m)).rotations[6, place("chest")] for m in (AMBLE, made))
    wanted = rotation.multiply(rotation.about_axis("X", np.radians(20.0)), before)
    assert np.degrees(rotation.angle_between(now, wanted)) < 1e-6
    moved = turned_degrees(AMBLE, made).max(axis=0)
    assert moved[place("chest")] == pytest.approx(20, abs=0.5)
    assert moved[place("l_hip")] < 1e-9
    assert edit_clip(AMBLE, bow).label == "Key Chest at 6"
    changed = {name for name in made.clip.keys if made.clip.keys[name] != AMBLE.clip.keys[name]}
    assert changed == {"chest.turn.x", "chest.turn.y", "chest.turn.z"}


def test_a_hand_is_drawn_and_elbow_and_wrist_follow() -> None:
    target = positions(AMBLE)[6, place("r_wrist")] + np.array([0.05, 0.12, 0.1])
    drawn = Reach(joint="r_wrist", to=tuple(float(v) for v in target))
    made = after(AMBLE, KeyPose(frame=6, changes=(drawn,)))
    assert np.abs(positions(made)[6, place("r_wrist")] - target).max() < 1e-6
    same = [forward(ODO, motion_of(m)).rotations[6, place("r_wrist")] for m in (AMBLE, made)]
    assert np.degrees(rotation.angle_between(*same)) < 1e-6
    assert (
        np.abs(
            positions(made)[6, place("r_shoulder")] - positions(AMBLE)[6, place("r_shoulder")]
        ).max()
        < 1e-9
    )
    with pytest.raises(Refusal, match="hangs too near the root to be drawn"):
        edit_clip(AMBLE, KeyPose(frame=6, changes=(Reach(joint="spine", to=(0, 1, 0)),)))


@settings(max_examples=60)
@given(x=st.floats(-0.4, 0.4), y=st.floats(0.0, 0.5), z=st.floats(-0.5, 0.5))
def test_a_knee_never_flips(x: float, y: float, z: float) -> None:
    """Wherever a foot is drawn, the knee stays before the line from hip to ankle."""
    still = Made(blank(ODO, "odo", "Still", AMBLE.clip.rate, 8, is_cycle=False), ODO)
    hip = positions(still)[0, place("l_hip")]
    drawn = Reach(joint="l_ankle", to=(float(hip[0]) + x, y + 0.02, z))
    pose = positions(after(still, KeyPose(frame=0, changes=(drawn,))))[0]
    start, knee, end = (pose[place(f"l_{j}")] for j in ("hip", "knee", "ankle"))
    along = (end - start) / max(float(np.linalg.norm(end - start)), 1e-9)
    out = (knee - start) - along * float((knee - start) @ along)
    forwards = np.array([0, 0, 1.0]) - along * along[2]
    assert float(out @ forwards) > -1e-6
    bones = [np.linalg.norm(knee - start), np.linalg.norm(end - knee)]
    assert bones == pytest.approx(
        [
            np.linalg.norm(ODO.offsets[place("l_knee")]),
            np.linalg.norm(ODO.offsets[place("l_ankle")]),
        ]
    )


def test_root_numbers_rest_and_the_other_side() -> None:
    moved = after(AMBLE, KeyPose(frame=0, changes=(MoveRoot(by=(0.1, -0.05, 0)),)))
    step = motion_of(moved).root_move[0] - motion_of(AMBLE).root_move[0]
    assert step == pytest.approx([0.1, -0.05, 0], abs=1e-9)
    assert moved.clip.keys["hips.turn.x"] == AMBLE.clip.keys["hips.turn.x"]
    value = SetValue(channel="neck.turn.y", value=25)
    turned = after(AMBLE, KeyPose(frame=3, changes=(value,)))
    shown = {n.channel: n for n in numbers_of(turned, 3, ["neck"])}
    assert shown["neck.turn.y"].value == pytest.approx(25)
    assert (shown["neck.turn.y"].keyed, shown["neck.turn.y"].unit) == ("here", "degrees")
    rested = after(AMBLE, KeyPose(frame=3, changes=(RestJoint(joint="neck"),)))
    turns = [n.value for n in numbers_of(rested, 3, ["neck"]) if n.row == "turn"]
    assert turns == pytest.approx([0, 0, 0], abs=1e-9)
    both = KeyPose(
        frame=3, changes=(SetValue(channel="l_elbow.turn.z", value=12),), on_both_sides=True
    )
    values = {n.channel: n.value for n in numbers_of(after(AMBLE, both), 3, ["l_elbow", "r_elbow"])}
    assert values["r_elbow.turn.z"] == pytest.approx(-values["l_elbow.turn.z"])


def test_a_first_key_of_an_unkeyed_channel_is_made_at_once() -> None:
    made = Made(blank(ODO, "odo", "New", AMBLE.clip.rate, 24, is_cycle=True), ODO)
    keyed = after(made, KeyPose(frame=5, changes=(Turn(joint="head", axis=(0, 1, 0), degrees=9),)))
    curve = keyed.clip.keys["head.turn.y"]
    assert [(key.time, pytest.approx(key.value)) for key in curve.keys] == [(5, 9)]
    assert (curve.before, curve.after) == ("repeat", "repeat")
    whole = after(made, KeyPose(frame=0, span="hold"))
    assert {
        key.span for name, c in whole.clip.keys.items() if ".turn." in name for key in c.keys
    } == {"hold"}


def test_samples_become_keys_that_show_the_same_frames() -> None:
    edited = edit_clip(SAMPLED, InsertKeys(frame=3.5, joints=("chest",)))
    assert "It has a key on every frame now." in edited.notes[0]
    made = Made(edited.clip, ODO)
    assert np.abs(positions(made) - positions(SAMPLED)).max() < 1e-9
    assert turned_degrees(made, SAMPLED).max() < 1e-6


def taken(frames: int) -> Made:
    """The reach, gone through again and again: a take with a pose for every frame."""
    kept = REACHED.samples
    again = np.resize(np.arange(kept.frames), frames)
    clip = REACHED.clip.model_copy(update={"motion": "kept", "length_frames": frames, "plants": ()})
    return Made(clip, ODO, kept.at(again))


def test_a_take_is_shown_by_its_values_and_a_short_clip_by_its_keys() -> None:
    take = taken(150)
    curves = {curve.channel: curve for curve in bench_of(take).curves}
    every = curves["l_elbow.turn.z"].every_frame
    assert every is not None
    assert (len(every.values), every.own, curves["l_elbow.turn.z"].keys) == (150, 150, [])
    assert every.values == [key.value for key in take.curves["l_elbow.turn.z"].keys]
    # One eased span, and it is a curve of single keys with slopes again.
    eased = after(take, SetSpans(chosen={"l_elbow.turn.z": [40.0]}, span="eased"))
    now = {curve.channel: curve for curve in bench_of(eased).curves}
    assert now["l_elbow.turn.z"].every_frame is None
    assert (now["l_elbow.turn.z"].keys[40].span, len(now["l_elbow.turn.z"].keys)) == ("eased", 150)
    assert now["l_shoulder.turn.z"].every_frame == curves["l_shoulder.turn.z"].every_frame
    short = {curve.channel: curve for curve in bench_of(taken(64)).curves}["l_elbow.turn.z"]
    assert (short.every_frame, len(short.keys)) == (None, 64)


def test_a_take_too_long_for_the_bench_is_refused_in_words() -> None:
    with pytest.raises(Refusal, match=r"would have about 504,000 keys, and 500,000 are the most"):
        bench_of(taken(8000))


# Keys in time


@settings(max_examples=40)
@given(frame=st.floats(0.1, 23.9))
def test_inserting_keys_changes_nothing(frame: float) -> None:
    names = tuple(ODO.names)
    try:
        made = after(AMBLE, InsertKeys(frame=frame, joints=names))
    except Refusal:
        return
    times = np.linspace(0, 24, 193)
    for name, curve in played_curves(ODO, AMBLE.clip).items():
        now = played_curves(ODO, made.clip)[name]
        assert np.abs(now.values(times) - curve.values(times)).max() < 1e-9


@settings(max_examples=40)
@given(
    factor=st.floats(0.3, 2.5),
    pivot=st.floats(0, 23),
    name=st.sampled_from(["chest.turn.x", "root.y", "l_knee.turn.x"]),
)
def test_scaling_and_scaling_back_restores(factor: float, pivot: float, name: str) -> None:
    """Unsnapped; the keys are moved on first, so that none would come to lie before frame 0."""
    once = Made(AMBLE.clip.model_copy(update={"is_cycle": False, "length_frames": 400}), ODO)
    first = {name: [key.time for key in once.clip.keys[name].keys]}
    late = after(once, MoveKeys(chosen=first, frames=80))
    chosen = {name: [key.time for key in late.clip.keys[name].keys]}
    apart = after(late, ScaleKeys(chosen=chosen, pivot=80 + pivot, factor=factor, snap=False))
    times = [key.time for key in apart.clip.keys[name].keys]
    back = after(
        apart, ScaleKeys(chosen={name: times}, pivot=80 + pivot, factor=1 / factor, snap=False)
    )
    assert [k.time for k in back.clip.keys[name].keys] == pytest.approx(chosen[name], abs=1e-9)


def test_moved_keys_go_round_and_say_what_they_replaced() -> None:
    chosen = {"chest.turn.x": [21.0]}
    made = edit_clip(AMBLE, MoveKeys(chosen=chosen, frames=5))
    assert [key.time for key in made.clip.keys["chest.turn.x"].keys][:2] == [0, 2]
    hit = edit_clip(AMBLE, MoveKeys(chosen={"chest.turn.x": [0.0]}, frames=3))
    assert hit.notes == ("1 key that lay there was replaced.",)
    assert hit.label == "Move 1 key by +3"
    rippled = after(AMBLE, MoveKeys(chosen={"chest.turn.x": [9.0]}, frames=1, ripple=True))
    times = [key.time for key in rippled.clip.keys["root.y"].keys]
    assert times == [0, 3, 6, 7, 8, 10, 13, 16, 19, 20, 21, 22]
    scaled = edit_clip(AMBLE, ScaleKeys(chosen={"chest.turn.x": [0.0, 3.0]}, pivot=0, factor=1.5))
    assert scaled.notes == ("Snapped to whole frames, by 0.50 frames at the most.",)


def test_reverse_delete_snap_and_shift() -> None:
    chosen = {"chest.turn.x": [0.0, 3.0, 9.0]}
    values = {k.time: k.value for k in AMBLE.clip.keys["chest.turn.x"].keys}
    turned = after(AMBLE, ReverseKeys(chosen=chosen)).clip.keys["chest.turn.x"]
    now = {key.time: key.value for key in turned.keys}
    assert (now[0], now[6], now[9]) == (values[9], values[3], values[0])
    gone = edit_clip(
        AMBLE,
        DeleteKeys(chosen={"neck.turn.x": [k.time for k in AMBLE.clip.keys["neck.turn.x"].keys]}),
    )
    assert "neck.turn.x" not in gone.clip.keys
    off = after(AMBLE, MoveKeys(chosen=chosen, frames=0.4, snap=False))
    assert off.clip.keys["chest.turn.x"].keys[0].time == 0.4
    snapped = after(off, SnapKeys())
    assert snapped.clip.keys["chest.turn.x"].keys[0].time == 0
    raised = after(AMBLE, ShiftValues(chosen=chosen, by=5)).clip.keys["chest.turn.x"]
    assert raised.keys[0].value == pytest.approx(values[0] + 5)
    with pytest.raises(Refusal, match="are not moved by one number"):
        edit_clip(AMBLE, ShiftValues(chosen={"root.y": [0.0], "chest.turn.x": [0.0]}, by=1))
    with pytest.raises(Refusal, match=r"There is no key of root.y at 1 any more"):
        edit_clip(AMBLE, DeleteKeys(chosen={"root.y": [1.0]}))


def test_keys_are_pasted_to_another_place_joint_and_side() -> None:
    keys = {"l_elbow.turn.z": (Key(time=0, value=10), Key(time=4, value=20))}
    there = after(AMBLE, PasteKeys(keys=keys, frame=2)).clip.keys["l_elbow.turn.z"]
    assert {k.time: k.value for k in there.keys}[2] == 10
    assert {k.time: k.value for k in there.keys}[6] == 20
    mirrored = after(AMBLE, PasteKeys(keys=keys, frame=2, mirrored=True)).clip.keys[
        "r_elbow.turn.z"
    ]
    assert {k.time: k.value for k in mirrored.keys}[2] == -10
    other = after(AMBLE, PasteKeys(keys=keys, frame=2, onto={"l_elbow": "neck"}))
    assert {k.time: k.value for k in other.clip.keys["neck.turn.z"].keys}[2] == 10
    lost = {**keys, "tail.turn.x": (Key(time=0, value=1),)}
    notes = edit_clip(AMBLE, PasteKeys(keys=lost, frame=2)).notes
    assert notes == ("Left out, because Odo has no such joint: tail.",)


def test_an_edit_says_where_its_keys_lie_now() -> None:
    """Round the cycle, on whole frames, on another joint; an edit that moves none says nothing."""
    chosen = {"chest.turn.x": [0.0, 21.0], "root.y": [21.0]}
    moved = edit_clip(AMBLE, MoveKeys(chosen=chosen, frames=4.4))
    assert moved.chosen == {"chest.turn.x": (1.0, 4.0), "root.y": (1.0,)}
    apart = ScaleKeys(chosen={"root.y": [0.0, 3.0]}, pivot=0, factor=1.4, snap=False)
    assert edit_clip(AMBLE, apart).chosen == {"root.y": (0.0, pytest.approx(4.2))}
    turned = edit_clip(AMBLE, ReverseKeys(chosen={"chest.turn.x": [0.0, 3.0, 9.0]}))
    assert turned.chosen == {"chest.turn.x": (0.0, 6.0, 9.0)}
    rippled = edit_clip(AMBLE, MoveKeys(chosen={"chest.turn.x": [9.0]}, frames=1, ripple=True))
    assert rippled.chosen == {"chest.turn.x": (10.0,)}
    ended = after(AMBLE, PasteKeys(keys={"root.y": (Key(time=0, value=0.9),)}, frame=24))
    whole = MoveKeys(chosen={"root.y": [21.0, 24.0]}, frames=1, ripple=True)
    assert edit_clip(ended, whole).chosen == {"root.y": (22.0, 24.0)}
    keys = {"l_elbow.turn.z": (Key(time=0, value=10), Key(time=4, value=20))}
    pasted = edit_clip(AMBLE, PasteKeys(keys=keys, frame=22, mirrored=True))
    assert pasted.chosen == {"r_elbow.turn.z": (2.0, 22.0)}
    set_key = SetKey(channel="chest.turn.x", time=3, value=40, new_time=4)
    assert edit_clip(AMBLE, set_key).chosen == {"chest.turn.x": (4.0,)}
    off = after(AMBLE, MoveKeys(chosen={"root.y": [3.0]}, frames=0.4, snap=False))
    snapped = edit_clip(off, SnapKeys(chosen={"root.y": [0.0, 3.4]}))
    assert snapped.chosen == {"root.y": (0.0, 3.0)}
    assert edit_clip(AMBLE, DeleteKeys(chosen={"root.y": [3.0]})).chosen == {}
    assert edit_clip(AMBLE, ShiftValues(chosen={"root.y": [3.0]}, by=0.01)).chosen is None


def test_keys_beyond_the_ends_are_told_of_or_refused() -> None:
    """In a clip that plays once; a cycle's go round."""
    chosen = {"l_elbow.turn.z": [60.0, 63.0]}
    late = edit_clip(SAMPLED, MoveKeys(chosen=chosen, frames=3))
    assert late.notes[-1] == "1 key lies after the last frame, 63, now."
    keys = {"neck.turn.x": (Key(time=0, value=1), Key(time=1, value=2))}
    pasted = edit_clip(SAMPLED, PasteKeys(keys=keys, frame=64))
    assert pasted.notes[-1] == "2 keys lie after the last frame, 63, now."
    with pytest.raises(Refusal, match="before frame 0"):
        edit_clip(SAMPLED, PasteKeys(keys=keys, frame=-1))
    moved = SetKey(channel="l_elbow.turn.z", time=3, new_time=-2)
    with pytest.raises(Refusal, match="before frame 0"):
        edit_clip(SAMPLED, moved)
    round_it = edit_clip(AMBLE, SetKey(channel="chest.turn.x", time=3, new_time=26))
    assert round_it.chosen == {"chest.turn.x": (2.0,)}
    assert [key.time for key in round_it.clip.keys["chest.turn.x"].keys][:2] == [0, 2]


def test_one_key_is_set_with_its_slopes() -> None:
    made = after(AMBLE, SetKey(channel="chest.turn.x", time=3, value=40, new_time=4))
    assert {k.time: k.value for k in made.clip.keys["chest.turn.x"].keys}[4] == 40
    sloped = after(AMBLE, SetKey(channel="chest.turn.x", time=3, in_slope=2.5, out_slope=2.5))
    curve = played_curves(ODO, sloped.clip)["chest.turn.x"]
    incoming, outgoing = curve.slopes()
    assert (incoming[1], outgoing[1]) == (2.5, 2.5)
    steps = np.diff(curve.values(np.array([2.999, 3.0, 3.001]))) / 0.001
    assert steps == pytest.approx([2.5, 2.5], abs=0.02)


# Favour


def two_poses() -> Made:
    """A head keyed at 0 and 12, in a clip that plays once."""
    turns = {"x": (5.0, -20.0), "y": (0.0, 50.0), "z": (2.0, 8.0)}
    keys = {
        f"head.turn.{axis}": Curve(keys=(Key(time=0, value=a), Key(time=12, value=b)))
        for axis, (a, b) in turns.items()
    }
    once = blank(ODO, "odo", "Two", AMBLE.clip.rate, 24, is_cycle=False)
    return Made(once.model_copy(update={"keys": {**once.keys, **keys}}), ODO)


@pytest.mark.parametrize("share", [0.0, 0.5, 1.0, -0.25, 1.25, 0.62])
def test_favour_stands_where_slerp_says(share: float) -> None:
    made = after(two_poses(), Favour(frame=5, share=share, joints=("head",)))
    turns = motion_of(made).rotations[:, place("head")]
    wanted = rotation.slerp(turns[:1], turns[12:13], np.array([share]))[0]
    assert np.degrees(rotation.angle_between(turns[5], wanted)) < 1e-6


def test_favour_works_past_the_last_key_and_over_a_seam() -> None:
    past = after(two_poses(), Favour(frame=20, share=1.0, joints=("head",)))
    turns = motion_of(past).rotations[:, place("head")]
    assert np.degrees(rotation.angle_between(turns[20], turns[12])) < 1e-6
    over = after(AMBLE, Favour(frame=22, share=1.0, scope="whole"))
    first, late = motion_of(over).rotations[0], motion_of(over).rotations[22]
    body = [place(name) for name in ("spine", "chest", "neck", "head")]
    assert np.degrees(rotation.angle_between(first[body], late[body])).max() < 1e-6


def test_favour_keeps_to_its_scope() -> None:
    chosen = after(AMBLE, Favour(frame=4, share=0.9, joints=("chest",), kinds=("turn",)))
    moved = turned_degrees(AMBLE, chosen).max(axis=0)
    assert moved[place("chest")] > 0.05
    assert np.delete(moved, place("chest")).max() < 1e-9
    others = Favour(frame=4, share=0.9, scope="all_but_chosen", joints=("chest",))
    rest = turned_degrees(AMBLE, after(AMBLE, others)).max(axis=0)
    assert rest[place("chest")] < 1e-9
    assert rest[place("neck")] > 0.01
    with pytest.raises(Refusal, match="no two keys here to stand between"):
        edit_clip(AMBLE, Favour(frame=4, share=0.5, joints=("r_wrist",)))


@settings(max_examples=30)
@given(share=st.floats(-0.5, 1.5), frame=st.sampled_from([4, 5, 10, 11, 13, 14, 22]))
def test_a_fence_leaves_all_outside_as_it_was(share: float, frame: int) -> None:
    loose = Made(
        AMBLE.clip.model_copy(
            update={
                "plants": tuple(p.model_copy(update={"held": False}) for p in AMBLE.clip.plants)
            }
        ),
        ODO,
    )
    made = after(loose, Favour(frame=frame, share=share, scope="whole", fence_frames=1))
    outside = [k for k in range(24) if k != frame]
    # As they leave the core, in float32: the very same bits. Inside, a span that is cut is computed
    # from its new ends, and may differ in its last bits.
    for part in ("travel", "root_move", "rotations"):
        before, now = (getattr(motion_of(m), part)[outside] for m in (loose, made))
        assert np.array_equal(before.astype(np.float32), now.astype(np.float32))
        assert np.abs(before - now).max() < 1e-12
    before, now = (positions(m)[outside] for m in (loose, made))
    assert np.array_equal(before.astype(np.float32), now.astype(np.float32))


# The clip as a whole


def test_length_is_set_by_fitting_or_by_trimming() -> None:
    longer = edit_clip(AMBLE, SetClipLength(length_frames=30))
    assert longer.notes == ("Snapped to whole frames, by 0.50 frames at the most.",)
    bench = bench_of(Made(longer.clip, ODO))
    assert (bench.length_frames, bench.stride_metres) == (30, pytest.approx(1.12))
    assert {key.time for curve in longer.clip.keys.values() for key in curve.keys} <= set(range(30))
    trimmed = bench_of(after(AMBLE, SetClipLength(length_frames=20, how="trim")))
    assert trimmed.seam is not None
    assert (trimmed.length_frames, trimmed.seam.grade) == (20, "open")
    with pytest.raises(Refusal, match="24 frames already"):
        edit_clip(AMBLE, SetClipLength(length_frames=24))


def test_a_rate_keeps_seconds_or_frames() -> None:
    seconds = after(AMBLE, SetRate(rate="30", snap=False))
    assert (seconds.clip.length_frames, float(seconds.clip.rate)) == (30, 30)
    at_half = [
        playable_of(ODO, m.clip).at(np.array([f])).rotations
        for m, f in ((AMBLE, 12.0), (seconds, 15.0))
    ]
    assert np.degrees(rotation.angle_between(*at_half)).max() < 0.2
    frames = after(AMBLE, SetRate(rate="12", keep="frames"))
    assert (frames.clip.length_frames, float(frames.clip.rate)) == (24, 12)


def test_exposure_holds_each_drawing_bit_for_bit() -> None:
    twos = after(AMBLE, SetExposure(pattern=(2,)))
    shown = playable_of(ODO, twos.clip).at(np.arange(24.0)).rotations
    assert (shown[1::2] == shown[::2]).all()
    assert edit_clip(AMBLE, SetExposure(pattern=(3,))).label == "Expose on threes"


def test_poses_have_names() -> None:
    named = after(AMBLE, NamePose(frame=10, name="Squash"))
    assert ("Squash", 10) in {(pose.name, pose.frame) for pose in named.clip.poses}
    assert after(named, NamePose(frame=10)).clip.poses == AMBLE.clip.poses


def test_new_clips_begin_with_a_pose_or_hold_a_range_exactly() -> None:
    empty = blank(ODO, "odo", "New", AMBLE.clip.rate, 24, is_cycle=True)
    pose = playable_of(ODO, AMBLE.clip).at(np.array([9.0]))
    started = Made(from_pose(ODO, empty, pose), ODO)
    assert (
        np.degrees(rotation.angle_between(motion_of(started).rotations[0], pose.rotations[0])).max()
        < 1e-6
    )
    run = playable_of(ODO, AMBLE.clip).at(np.arange(7.0, 40.0))
    baked = Made(from_motion(ODO, "odo", "Part", AMBLE.clip.rate, run, "ochre"), ODO)
    assert baked.clip.length_frames == 33
    assert (
        np.degrees(rotation.angle_between(motion_of(baked).rotations, run.rotations)).max() < 1e-6
    )
    far = motion_of(baked).travel
    assert far[0] == pytest.approx([0, 0, 0], abs=1e-12)
    assert far[-1, 1] == pytest.approx(1.12 * 32 / 24)


def test_traces_go_on_beyond_the_ends() -> None:
    (trace,) = traces_of(AMBLE, ["chest.turn.y", "nothing.turn.x"], -2, 30)
    values = np.array(trace.values)
    assert (trace.start, trace.steps_a_frame, len(values)) == (-2, 4, 129)
    assert np.abs(values[8 : 8 + 24] - values[8 + 96 : 8 + 120]).max() < 1e-9


def test_a_clip_of_keys_is_the_same_after_a_file() -> None:
    written = b"".join(clip_file_pieces(ODO, playable_of(ODO, AMBLE.clip)))
    again = ClipFile.model_validate_json(written).playable()
    assert again.clip == AMBLE.clip
    assert (again.samples.rotations == motion_of(AMBLE).rotations).all()


def test_a_clip_that_was_worked_on_leaves_memory_when_it_is_let_go() -> None:
    """Nothing made of it refers to itself: twenty edits of a long take would else stay for a while."""
    gc.disable()
    try:
        made = Made(AMBLE.clip, ODO)
        assert made.keyed is made
        assert made.curves
        assert made.playable
        bench_of(made)
        gone = weakref.ref(made)
        del made
        assert gone() is None
    finally:
        gc.enable()


def test_keys_are_drawn_apart_by_frames_of_their_whole_span() -> None:
    chosen = {"chest.turn.x": [3.0, 6.0], "root.y": [0.0, 3.0]}
    wider = edit_clip(AMBLE, WidenKeys(chosen=chosen, frames=6))
    assert wider.chosen == {"chest.turn.x": (6, 12), "root.y": (0, 6)}
    # Twice by three frames is once by six.
    once = edit_clip(AMBLE, WidenKeys(chosen=chosen, frames=3, snap=False))
    again = {name: list(times) for name, times in (once.chosen or {}).items()}
    twice = edit_clip(Made(once.clip, ODO), WidenKeys(chosen=again, frames=3, snap=False))
    assert twice.chosen == wider.chosen
    for frames in (-6.0, -7.0, 1000.0):
        with pytest.raises(Refusal, match="that far"):
            edit_clip(AMBLE, WidenKeys(chosen=chosen, frames=frames))
    with pytest.raises(Refusal, match="that far"):
        edit_clip(AMBLE, WidenKeys(chosen={"root.y": [3.0]}, frames=2))
