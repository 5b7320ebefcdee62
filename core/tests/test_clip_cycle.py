"""The bench's cycles: the walk starter, held feet, halves, the dial, closing seams (rules 4.x, 5.5)."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from demo.production import demo
from elastic_core.anatomy import legs_of
from elastic_core.beats import Beat
from elastic_core.clip.document import Plant
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.cycle import (
    CloseSeam,
    FindContacts,
    HoldFeet,
    LinkHalves,
    MirrorClip,
    MovePlant,
    SetCycle,
    SetPlant,
    SetStride,
    SetTravels,
    StartWalk,
    TurnDial,
)
from elastic_core.clip.edits.keys import SetBeyond, SetKey, SetSpans
from elastic_core.clip.edits.pose import KeyPose
from elastic_core.clip.new import blank
from elastic_core.clip.playing import held, keys_of, laid, playable_of, played_curves, round_of
from elastic_core.clip.pose import Turn
from elastic_core.clip.view import bench_of, seam_of
from elastic_core.curve import Curve, Key
from elastic_core.cycle.feet import sole_paths
from elastic_core.cycle.mirror import mirrored, with_other_half
from elastic_core.cycle.rolling import phase_of
from elastic_core.cycle.starter import PRESETS, Gait, PresetName, preset, walk
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.foot import foot_of
from elastic_core.motion import Motion
from elastic_core.rotation import angle_between

DEMO = demo()
ODO = DEMO.figures["odo"]
CAPSTAN = DEMO.figures["capstan"]
AMBLE = Made(DEMO.clips["Amble"].clip, ODO)
HURRY = Made(DEMO.clips["Hurry"].clip.model_copy(update={"motion": "kept"}), ODO,
             DEMO.clips["Hurry"].samples)  # fmt: skip


def after(made: Made, *edits: object) -> Made:
    for edit in edits:
        made = Made(edit_clip(made, edit).clip, made.figure)  # type: ignore[arg-type]
    return made


def motion_of(made: Made) -> Motion:
    return playable_of(made.figure, made.clip, made.samples).samples.whole()


def apart(a: Made, b: Made) -> float:
    """The greatest distance between the joints of two clips, frame by frame, metres."""
    first, second = (forward(m.figure, motion_of(m)).positions for m in (a, b))
    return float(np.abs(first - second).max())


def knee_degrees(made: Made) -> np.ndarray:
    """How far each knee is bent at every frame: 0 is straight."""
    placed = forward(ODO, motion_of(made)).positions
    bends = []
    for side in ("l", "r"):
        hip, knee, ankle = (
            placed[:, ODO.place_of(f"{side}_{j}")] for j in ("hip", "knee", "ankle")
        )
        thigh, shin = knee - hip, ankle - knee
        cosine = (thigh * shin).sum(-1) / np.linalg.norm(thigh, axis=-1)
        bends.append(np.degrees(np.arccos(np.clip(cosine / np.linalg.norm(shin, axis=-1), -1, 1))))
    return np.stack(bends)


def new(length: int = 24, *, is_cycle: bool = True) -> Made:
    return Made(blank(ODO, "odo", "New", AMBLE.clip.rate, length, is_cycle=is_cycle), ODO)


def soles_stand(made: Made) -> None:
    """Heel, ball and tip keep their places while they bear, and none goes under the floor it rests on."""
    around = round_of(made.clip)
    placed = forward(ODO, held(ODO, made.clip, laid(ODO, made.clip)).motion)
    for leg in legs_of(ODO):
        foot = foot_of(ODO, leg)
        assert foot is not None
        rests = foot.soles(ODO.at_rest)[0, :, 1]
        assert (foot.soles(placed)[:, :, 1] - rests).min() > -0.002
        for plant in (plant for plant in made.clip.plants if plant.side == leg.side):
            times = np.arange(np.ceil(plant.start), np.ceil(plant.end))
            soles = sole_paths(foot, placed, times, around)
            steps = np.linalg.norm(np.diff(soles[:, :, [0, 2]], axis=0), axis=-1)
            phase = phase_of(plant, times)
            # The foot stands from its strike, and its toe until it leaves.
            assert phase[0] <= 0
            both = np.stack([phase[:-1], phase[1:]])
            assert steps[(both <= 0).all(axis=0), 0].max(initial=0.0) < 0.001
            assert steps[(both >= 0).all(axis=0), 1:].max(initial=0.0) < 0.001


def checks(made: Made) -> None:
    """What every started walk keeps: a closed seam, feet that stand, knees in their limits."""
    bench = bench_of(made)
    assert bench.seam is not None
    assert bench.seam.joints[0].gap_degrees < 0.5
    assert bench.seam.joints[0].gap_cm < 0.25
    assert max(plant.slide_cm for plant in bench.plants) < 0.1
    soles_stand(made)
    bends = knee_degrees(made)
    assert np.isfinite(bends).all()
    assert bends.min() > 0.5
    assert bends.max() < 165


@pytest.mark.parametrize("name", PRESETS)
def test_every_preset_walks(name: PresetName) -> None:
    made = after(new(), StartWalk(preset=name))
    checks(made)
    bench = bench_of(made)
    assert bench.seam is not None
    assert bench.seam.grade == "closed"
    assert [pose.name for pose in bench.poses] == ["Contact", "Down", "Passing", "Up"] * 2
    gait = preset(name, ODO)
    assert bench.length_frames == 2 * gait.frames_per_step
    assert bench.stride_metres == pytest.approx(gait.stride_metres)
    # The hand that carries the pole keeps it.
    assert gait.arms == "right"


@settings(max_examples=200)
@given(
    name=st.sampled_from(PRESETS),
    stride=st.floats(0.5, 1.1),
    frames=st.integers(5, 24),
    bounce=st.floats(0.0, 1.6),
    lean=st.floats(-10, 30),
    lift=st.floats(0.3, 1.5),
    turn=st.floats(0, 14),
    arms=st.sampled_from(["both", "right", "none"]),
)
def test_random_gaits_close_and_stand(
    name: PresetName, stride: float, frames: int, bounce: float, lean: float, lift: float,
    turn: float, arms: str,
) -> None:  # fmt: skip
    usual = preset(name, ODO)
    gait = Gait.model_validate(
        usual.model_dump()
        | {
            "stride_metres": usual.stride_metres * stride,
            "frames_per_step": frames,
            "bounce_metres": usual.bounce_metres * bounce,
            "lean_degrees": lean,
            "foot_lift_metres": usual.foot_lift_metres * lift,
            "hip_turn_degrees": turn,
            "arms": arms,
        }
    )
    checks(after(new(), StartWalk(gait=gait)))


def test_a_stride_beyond_the_legs_is_refused_in_words() -> None:
    with pytest.raises(Refusal, match=r"A stride of 4.00 m is longer than Odo's legs reach"):
        walk(ODO, Gait(stride_metres=4.0))
    with pytest.raises(Refusal, match="Capstan has no pair of legs to walk on"):
        walk(CAPSTAN, Gait())


def test_both_halves_of_a_started_walk_are_mirror_images() -> None:
    made = after(new(), StartWalk(gait=Gait(arms="both")))
    motion = motion_of(made)
    half = made.clip.length_frames // 2
    frames = np.arange(half)
    image = mirrored(ODO, motion.at(frames))
    other = motion.at(frames + half)
    assert np.degrees(angle_between(image.rotations, other.rotations)).max() < 0.01
    assert np.abs(image.root_move - other.root_move).max() < 1e-6


# Halves


def test_mirroring_twice_is_the_identity() -> None:
    motion = motion_of(AMBLE)
    twice = mirrored(ODO, mirrored(ODO, motion))
    assert np.abs(twice.rotations - motion.rotations).max() < 1e-9
    assert np.abs(twice.travel - motion.travel).max() < 1e-9
    assert apart(after(AMBLE, MirrorClip(), MirrorClip()), AMBLE) < 1e-9


def test_keys_and_samples_are_mirrored_alike() -> None:
    made = after(AMBLE, MirrorClip())
    image = mirrored(ODO, motion_of(AMBLE))
    assert np.degrees(angle_between(image.rotations, motion_of(made).rotations)).max() < 1e-6


def test_the_second_half_follows_the_first() -> None:
    started = after(new(), StartWalk(gait=Gait(arms="both")))
    linked = after(started, LinkHalves(linked=True))
    assert apart(started, linked) < 1e-6
    assert all(key.time < 12 for curve in linked.clip.keys.values() for key in curve.keys)
    bow = Turn(joint="chest", axis=(0, 0, 1), degrees=10)
    bent = after(linked, KeyPose(frame=3, changes=(bow,)))
    curves = played_curves(ODO, bent.clip)
    tilt = curves["chest.turn.z"]
    assert float(tilt.values(np.array(15.0))) == pytest.approx(-float(tilt.values(np.array(3.0))))
    # Keyed in the half that follows, it is made where that comes from.
    raised = Turn(joint="r_elbow", axis=(1, 0, 0), degrees=-25)
    late = after(linked, KeyPose(frame=15, changes=(raised,)))
    left = {key.time: key.value for key in late.clip.keys["l_elbow.turn.x"].keys}
    was = {key.time: key.value for key in linked.clip.keys["l_elbow.turn.x"].keys}
    assert {time for time in left if left[time] != was.get(time)} == {3.0}
    loose = after(bent, LinkHalves(linked=False))
    assert apart(bent, loose) < 1e-9


def test_a_half_needs_an_even_length_and_a_straight_way() -> None:
    odd = after(new(25), KeyPose(frame=0))
    with pytest.raises(Refusal, match="25 frames has no whole half"):
        edit_clip(odd, LinkHalves(linked=True))
    curves = {"hips.turn.y": Curve(keys=(Key(time=2, value=5), Key(time=14, value=9)))}
    whole = with_other_half(ODO, curves, 24)
    assert [(key.time, key.value) for key in whole["hips.turn.y"].keys] == [(2, 5), (14, -5)]


# The dial


@settings(max_examples=40)
@given(turn=st.integers(-60, 60))
def test_turning_the_dial_and_back_is_the_identity(turn: int) -> None:
    turned = after(AMBLE, TurnDial(frames=turn))
    back = after(turned, TurnDial(frames=-turn))
    for name, curve in AMBLE.clip.keys.items():
        same = back.clip.keys[name]
        assert (
            np.abs(np.array([k.value for k in same.keys]) - [k.value for k in curve.keys]).max()
            == 0
        )
        assert [k.time for k in same.keys] == [k.time for k in curve.keys]
    shown = motion_of(AMBLE)
    frames = (np.arange(24) + turn) % 24
    rotations = motion_of(turned).rotations[:24]
    assert np.degrees(angle_between(rotations, shown.rotations[frames])).max() < 1e-6


def test_a_dial_turns_a_rise_along_and_refuses_an_open_seam() -> None:
    keys = (Key(time=0, value=0, span="even"), Key(time=6, value=90, span="even"),
            Key(time=24, value=360))  # fmt: skip
    clip = new().clip.model_copy(
        update={"keys": {"hips.turn.y": Curve(keys=keys, before="offset", after="offset")}}
    )
    turned = after(Made(clip, ODO), TurnDial(frames=6)).clip.keys["hips.turn.y"]
    assert [(key.time, key.value) for key in turned.keys] == [(0, 90), (18, 360), (24, 450)]
    opened = after(AMBLE, KeyPose(frame=0), SetKey(channel="chest.turn.y", time=0, value=4))
    rounded = opened.clip.keys["chest.turn.y"].with_value(24, 30)
    broken = Made(opened.clip.model_copy(
        update={"keys": {**opened.clip.keys, "chest.turn.y": rounded}}), ODO)  # fmt: skip
    with pytest.raises(Refusal, match="close its seam first"):
        edit_clip(broken, TurnDial(frames=3))


def test_the_capstan_turns_for_ever_without_a_pause() -> None:
    """A wheel keyed 0° at 0 and 360° at 24, even, repeat with offset: no one stops a degree short."""
    made = Made(blank(CAPSTAN, "capstan", "Wheel", AMBLE.clip.rate, 24, is_cycle=True), CAPSTAN)
    name = f"{CAPSTAN.names[-1]}.turn.y"
    keys = (Key(time=0, value=0, span="even"), Key(time=24, value=360, span="even"))
    clip = made.clip.model_copy(
        update={"keys": {**made.clip.keys, name: Curve(keys=keys, before="offset", after="offset")}}
    )
    curve = played_curves(CAPSTAN, clip)[name]
    times = np.arange(0, 240.25, 0.25)
    values = curve.values(times)
    assert np.abs(np.diff(values) / 0.25 - 15.0).max() < 1e-9
    assert np.abs(curve.rate_of_change(times) - 15.0).max() < 1e-9
    # As poses, over ten rounds: the same angle from each frame to the next.
    place = CAPSTAN.place_of(CAPSTAN.names[-1])
    turns = playable_of(CAPSTAN, clip).at(np.arange(241.0)).rotations[:, place]
    steps = np.degrees(angle_between(turns[:-1], turns[1:]))
    assert np.abs(steps - 15.0).max() < 1e-9
    report = seam_of(CAPSTAN, playable_of(CAPSTAN, clip))
    assert report.grade == "closed"


# Seams


def opened(degrees: float = 8.0) -> Made:
    """Hurry with every joint's end turned away from its start by a growing drift."""
    motion = motion_of(HURRY)
    share = np.linspace(0.0, 1.0, motion.frames)
    keys = keys_of(ODO, motion, is_cycle=True)
    drifted = {}
    for place, (name, curve) in enumerate(keys.items()):
        size = degrees if ".turn." in name else 0.01
        if len(curve.keys) == 1:
            drifted[name] = curve
            continue
        moved = tuple(
            key.model_copy(update={"value": key.value + size * share[k] ** 3 * (-1) ** place})
            for k, key in enumerate(curve.keys)
        )
        drifted[name] = curve.with_keys(moved)
    clip = HURRY.clip.model_copy(update={"keys": drifted, "motion": ""})
    return Made(clip, ODO)


@pytest.mark.parametrize("method", ["match", "spread", "through"])
def test_a_closed_seam_is_reported_closed(method: str) -> None:
    broken = opened()
    before = bench_of(broken).seam
    assert before is not None
    assert before.grade == "open"
    assert before.joints[0].gap_degrees > 7
    edited = edit_clip(broken, CloseSeam.model_validate({"method": method, "frames": 6}))
    seam = bench_of(Made(edited.clip, ODO)).seam
    assert seam is not None
    assert max(gap.gap_degrees for gap in seam.joints) < 0.01
    assert max(gap.gap_cm for gap in seam.joints) < 0.01


def test_spread_leaves_all_but_the_last_frames() -> None:
    broken = opened()
    made = after(broken, CloseSeam(method="spread", frames=6))
    first, second = motion_of(broken), motion_of(made)
    moved = np.degrees(angle_between(first.rotations, second.rotations)).max(axis=1)
    assert moved[:10].max() < 1e-9
    assert moved[15] > 3
    assert (np.diff(moved[10:16]) > 0).all()


def test_ease_through_meets_half_way_with_one_slope() -> None:
    keys = (Key(time=0, value=0), Key(time=8, value=10), Key(time=24, value=4))
    curve = Curve(keys=keys, before="repeat", after="repeat")
    clip = new().clip.model_copy(update={"keys": {"chest.turn.x": curve}})
    made = after(Made(clip, ODO), CloseSeam(method="through", frames=4)).clip.keys["chest.turn.x"]
    assert made.keys[0].value == pytest.approx(2.0)
    assert made.keys[-1].value == pytest.approx(2.0)
    incoming, outgoing = made.slopes()
    assert incoming[-1] == pytest.approx(outgoing[0], abs=1e-12)
    inside = np.linspace(4, 20, 50)
    assert np.abs(made.values(inside) - curve.values(inside)).max() < 1e-9


def test_overlap_blends_into_what_precedes_the_start() -> None:
    times = np.arange(-6, 25)
    lead = Curve(
        keys=tuple(Key(time=float(t), value=float(t) * 2, span="even") for t in times),
        before="repeat", after="repeat",
    )  # fmt: skip
    clip = new().clip.model_copy(update={"keys": {"chest.turn.x": lead}})
    made = after(Made(clip, ODO), CloseSeam(method="overlap", frames=6)).clip.keys["chest.turn.x"]
    values = {key.time: key.value for key in made.keys}
    assert values[18] == pytest.approx(36)
    assert values[24] == pytest.approx(values[0])
    # Just before the end it runs as it ran before the start.
    assert values[24] - values[23] == pytest.approx(2, abs=4)
    with pytest.raises(Refusal, match="Nothing precedes the start by 6 frames"):
        edit_clip(AMBLE, CloseSeam(method="overlap", frames=6))


def test_feet_are_held_through_a_closed_seam() -> None:
    edited = edit_clip(opened(3.0), CloseSeam(method="spread", frames=6, hold_feet=True))
    assert max(plant.slide_cm for plant in bench_of(Made(edited.clip, ODO)).plants) < 0.2
    assert "turned the most" in edited.notes[-1]


# Feet and travel


def test_feet_that_slide_are_held_and_the_note_says_so() -> None:
    loose = after(AMBLE, HoldFeet(held=False))
    slides = [plant.slide_cm for plant in bench_of(loose).plants]
    assert min(slides) > 0.3
    edited = edit_clip(loose, HoldFeet(held=True))
    assert edited.notes[0].startswith("Slide: 0.0")
    assert max(p.slide_cm for p in bench_of(Made(edited.clip, ODO)).plants) < 1e-6
    # Held feet never stretch a leg: the root comes down, and the note says by how much.
    tall = after(loose, SetStride(metres=1.9))
    note = edit_clip(tall, HoldFeet(held=True)).notes[-1]
    assert "a leg would have been stretched" in note
    assert knee_degrees(after(tall, HoldFeet(held=True))).min() > 0.5


def test_samples_are_held_without_being_made_keys() -> None:
    drifting = motion_of(HURRY)
    slid = Motion(
        drifting.travel * np.array([1.0, 1.15, 1.0]), drifting.root_move, drifting.rotations
    )
    made = Made(HURRY.clip.model_copy(
        update={"period": (0.0, HURRY.clip.period[1] * 1.15, 0.0)}), ODO, slid)  # fmt: skip
    assert max(plant.slide_cm for plant in bench_of(made).plants) > 3
    held = edit_clip(made, HoldFeet(held=True)).clip
    assert held.motion == "kept"
    assert not held.keys
    slides = [plant.slide_cm for plant in bench_of(Made(held, ODO, slid)).plants]
    assert max(slides) < 1e-6


def test_contacts_are_found_set_and_refused_in_words() -> None:
    found = after(AMBLE, FindContacts())
    assert {plant.side for plant in found.clip.plants} == {"left", "right"}
    moved = after(found, SetPlant(place=0, start=30, end=36))
    assert (6.0, 12.0) in {(plant.start, plant.end) for plant in moved.clip.plants}
    with pytest.raises(Refusal, match="A contact lasts 1 to 24 frames"):
        edit_clip(found, SetPlant(place=0, start=3, end=3))
    with pytest.raises(Refusal, match="no longer in the clip"):
        edit_clip(found, HoldFeet(held=True, places=(9,)))


def test_in_place_and_travelling_is_a_switch_that_loses_nothing() -> None:
    still = after(AMBLE, SetTravels(travels=False))
    loose = after(AMBLE, HoldFeet(held=False))
    slides = [plant.slide_cm for plant in bench_of(loose).plants]
    in_place = bench_of(after(loose, SetTravels(travels=False))).plants
    assert min(slides) > 0.3
    assert [plant.slide_cm for plant in in_place] == pytest.approx(slides)
    assert np.abs(playable_of(ODO, still.clip).at(np.arange(60.0)).travel).max() == 0
    again = after(still, SetTravels(travels=True))
    assert again.clip == AMBLE.clip
    longer = after(AMBLE, SetStride(metres=1.5))
    assert bench_of(longer).stride_metres == pytest.approx(1.5)
    assert bench_of(longer).ground_speed_metres_a_second == pytest.approx(1.5)


def test_a_cycle_plays_once_and_is_a_cycle_again() -> None:
    loose = after(AMBLE, HoldFeet(held=False))
    once = after(loose, SetCycle(is_cycle=False))
    first = forward(ODO, motion_of(loose).at(np.arange(24))).positions
    assert np.abs(first - forward(ODO, motion_of(once)).positions).max() < 1e-9
    # Its travel is kept over its frames; the round that was is made of them.
    again = after(once, SetCycle(is_cycle=True))
    assert again.clip.is_cycle
    assert bench_of(again).stride_metres == pytest.approx(1.12 * 23 / 24, rel=0.06)


def test_spans_and_what_lies_beyond_are_set_for_many_at_once() -> None:
    chosen = {name: [0.0, 3.0] for name in ("chest.turn.x", "chest.turn.y")}
    held = after(AMBLE, SetSpans(chosen=chosen, span="hold"))
    curve = held.clip.keys["chest.turn.x"]
    assert [key.span for key in curve.keys[:3]] == ["hold", "hold", "eased"]
    assert float(curve.values(np.array(2.9))) == curve.keys[0].value
    free = after(AMBLE, SetSpans(chosen=chosen, span="free"))
    times = np.linspace(0, 24, 97)
    was, now = (played_curves(ODO, m.clip)["chest.turn.x"].values(times) for m in (AMBLE, free))
    assert np.abs(was - now).max() < 1e-9
    beyond = SetBeyond(channels=("chest.turn.x",), before="hold", after="continue")
    assert after(AMBLE, beyond).clip.keys["chest.turn.x"].after == "continue"


def test_hands_and_feet_reach_and_the_worst_measure_of_a_seam_is_told() -> None:
    bench = bench_of(opened())
    reaching = [joint.name for joint in bench.joints if joint.reaches]
    assert reaching == ["l_wrist", "r_wrist", "l_ankle", "r_ankle"]
    assert bench.seam is not None
    worst = bench.seam.joints[0]
    limits = {"degrees": (worst.gap_degrees, 0.5), "cm": (worst.gap_cm, 0.25)}
    limits["degrees_per_frame"] = (worst.gap_degrees_per_frame, 1.0)
    shares = {name: value / limit for name, (value, limit) in limits.items()}
    assert worst.over == pytest.approx(max(shares.values()))
    assert shares[worst.worst] == max(shares.values())


def _planted(start: float, end: float) -> Made:
    plant = Plant(joint="l_ankle", side="left", start=start, end=end)
    return Made(AMBLE.clip.model_copy(update={"plants": (plant,)}), ODO)


@pytest.mark.parametrize(
    ("grip", "frames", "expected"),
    [
        ("body", 6, (2, 12)),  # from 20 to 26, over the seam of 24: the round after
        ("start", 3, (23, 30)),
        ("start", 40, (5, 6)),  # 29 to 30: a frame from the other end
        ("start", -40, (6, 30)),  # no more than a round
        ("end", -40, (20, 21)),
        ("end", 40, (20, 44)),
    ],
)
def test_a_contact_is_drawn_along_and_by_its_ends(
    grip: str, frames: float, expected: tuple[float, float]
) -> None:
    edit = MovePlant(place=0, grip=grip, frames=frames)  # type: ignore[arg-type]
    (plant,) = edit_clip(_planted(20, 30), edit).clip.plants
    assert (plant.start, plant.end) == expected


def test_a_contact_that_is_not_there_is_not_drawn() -> None:
    with pytest.raises(Refusal, match="no longer in the clip"):
        edit_clip(_planted(20, 30), MovePlant(place=1, grip="body", frames=1))


def test_a_foot_planted_without_an_end_stands_for_a_quarter() -> None:
    edit = SetPlant(place=1, joint="r_ankle", start=22)
    planted = edit_clip(_planted(2, 8), edit).clip.plants[1]
    assert (planted.start, planted.end, planted.side) == (22, 28, "right")
    once = AMBLE.clip.model_copy(update={"is_cycle": False, "plants": ()})
    (last,) = edit_clip(Made(once, ODO), SetPlant(place=0, joint="r_ankle", start=22)).clip.plants
    assert (last.start, last.end) == (22, 24)


def test_a_beat_over_the_seam_has_two_stretches() -> None:
    beats = (
        Beat(id="a", name="Down", start=3, end=8),
        Beat(id="b", name="Over", start=19, end=26),
    )
    made = Made(AMBLE.clip.model_copy(update={"beats": beats}), ODO)
    shown = bench_of(made).beats
    assert [beat.stretches for beat in shown] == [((3, 8),), ((19, 24), (0, 2))]
