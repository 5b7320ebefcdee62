"""Fit (rule 2.4): what plays, what is dropped, what rests; and motion carried over."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core import rotation
from elastic_core.anatomy import leg_length_metres
from elastic_core.arrays import Array
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, forward
from elastic_core.fit import fit, fit_clip, retarget
from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import Wanted, bring_in

from .makes import colons_make, slow_make, tabs_make

ODO = demo().figures["odo"]
LIMBS = {
    "Hips": "hips", "Spine": "spine", "Chest": "chest", "Neck": "neck", "Head": "head",
    "LeftArm": "l_shoulder", "LeftForeArm": "l_elbow", "LeftHand": "l_wrist",
    "RightArm": "r_shoulder", "RightForeArm": "r_elbow", "RightHand": "r_wrist",
    "LeftUpLeg": "l_hip", "LeftLeg": "l_knee", "LeftFoot": "l_ankle", "LeftToe": "l_toe",
    "RightUpLeg": "r_hip", "RightLeg": "r_knee", "RightFoot": "r_ankle", "RightToe": "r_toe",
}  # fmt: skip


@pytest.mark.parametrize(
    ("make", "prefix", "dropped"),
    [(slow_make, "", 12), (tabs_make, "", 0), (colons_make, "rig:", 36)],
)
def test_other_spellings_are_proposed_and_the_rest_is_named(
    make: object, prefix: str, dropped: int
) -> None:
    figure, _ = bring_in(bvh.read(make()), Wanted(name="Take"), "f")  # type: ignore[operator]
    report = fit(figure, ODO)
    assert report.plays == ()
    assert report.mapping() == {prefix + theirs: own for theirs, own in LIMBS.items()}
    assert len(report.dropped) == dropped
    assert report.rests == ("pole",)
    assert all("Finger" in name or "Hat" in name for name in report.dropped)
    # Every joint of either side is named once.
    told = [p.clip_joint for p in report.proposed] + list(report.dropped)
    assert sorted(told) == sorted(figure.names)


def renamed(figure: Figure, names: dict[str, str]) -> Figure:
    joints = [
        {**j.model_dump(), "name": names.get(j.name, j.name), "mirror": None} for j in figure.joints
    ]
    return Figure.model_validate({"name": "Other", "joints": joints})


@pytest.mark.parametrize(
    ("theirs", "partner", "own"),
    [
        ("LThigh", "RThigh", "l_hip"),
        ("thigh_r", "thigh_l", "r_hip"),
        ("mk:Left_Knee", "mk:Right_Knee", "l_knee"),
        ("R.Shin", "L.Shin", "r_knee"),
        ("rCalf", "lCalf", "r_knee"),
        ("left ankle", "right ankle", "l_ankle"),
        ("L_ToeBase", "R_ToeBase", "l_toe"),
        ("Right-Elbow", "Left-Elbow", "r_elbow"),
        ("lowerarm_l", "lowerarm_r", "l_elbow"),
        ("RUpArm", "LUpArm", "r_shoulder"),
        ("L_Wrist", "R_Wrist", "l_wrist"),
        ("Pelvis", "", "hips"),
        ("Skull", "", "head"),
    ],
)
def test_common_spellings_meet_their_joint(theirs: str, partner: str, own: str) -> None:
    names = {own: theirs}
    if partner:
        names[("r" if own[0] == "l" else "l") + own[1:]] = partner
    assert fit(renamed(ODO, names), ODO).mapping()[theirs] == own


def test_names_come_first_then_what_was_stored_then_proposals() -> None:
    figure = renamed(ODO, {"l_knee": "LeftLeg", "r_knee": "RightLeg", "pole": "Stick"})
    report = fit(figure, ODO, {"Stick": "pole", "l_wrist": "r_wrist"})
    how = {pair.clip_joint: (pair.figure_joint, pair.how) for pair in report.plays}
    assert how["Stick"] == ("pole", "stored")
    # A stored meeting outweighs the name.
    assert how["l_wrist"] == ("r_wrist", "stored")
    assert how["l_ankle"] == ("l_ankle", "name")
    assert [(p.clip_joint, p.figure_joint) for p in report.proposed] == [
        ("LeftLeg", "l_knee"),
        ("RightLeg", "r_knee"),
    ]


def test_a_figure_plays_its_own_motion_back_unchanged() -> None:
    amble = demo().clips["Amble"]
    same = retarget(ODO, amble.samples, ODO, fit(ODO, ODO).mapping())
    assert rotation.angle_between(same.rotations, amble.samples.rotations).max() < 1e-7
    assert np.abs(same.root_move - amble.samples.root_move).max() < 1e-12
    assert np.array_equal(same.travel, amble.samples.travel)


def scaled(figure: Figure, factor: float) -> Figure:
    joints = [
        {**j.model_dump(), "offset": tuple(factor * v for v in j.offset)} for j in figure.joints
    ]
    return Figure.model_validate({"name": "Grown", "joints": joints})


def test_path_and_height_go_by_leg_length() -> None:
    amble = demo().clips["Amble"]
    grown = scaled(ODO, 1.5)
    moved = fit_clip(ODO, amble, grown, "grown", fit(ODO, grown).mapping())
    assert moved.clip.period == pytest.approx([1.5 * amble.clip.period[0],
                                               1.5 * amble.clip.period[1],
                                               amble.clip.period[2]])  # fmt: skip
    ours, theirs = forward(ODO, amble.samples), forward(grown, moved.samples)
    assert np.abs(theirs.positions - 1.5 * ours.positions).max() < 1e-9
    assert moved.clip.rests == ()


def directions(figure: Figure, positions: Array, bones: list[tuple[str, str]]) -> Array:
    found = [positions[:, figure.place_of(b)] - positions[:, figure.place_of(a)] for a, b in bones]
    stacked = np.stack(found, axis=1)
    unit: Array = stacked / np.linalg.norm(stacked, axis=-1, keepdims=True)
    return unit


@pytest.mark.parametrize("make", [slow_make, tabs_make, colons_make])
def test_arms_that_rest_otherwise_still_move_alike(make: object) -> None:
    """The files rest with raised arms, Odo with hanging ones: bones must point the same way."""
    figure, playable = bring_in(bvh.read(make()), Wanted(name="Take"), "f")  # type: ignore[operator]
    mapping = fit(figure, ODO).mapping()
    back = {own: theirs for theirs, own in mapping.items()}
    motion = retarget(figure, playable.samples, ODO, mapping)
    own_bones = [
        (f"{side}_{a}", f"{side}_{b}")
        for side in "lr"
        for a, b in (("shoulder", "elbow"), ("elbow", "wrist"), ("hip", "knee"), ("knee", "ankle"))
    ]
    their_bones = [(back[a], back[b]) for a, b in own_bones]
    ours = directions(ODO, forward(ODO, motion).positions, own_bones)
    theirs = directions(figure, forward(figure, playable.samples).positions, their_bones)
    assert np.degrees(np.arccos(np.clip((ours * theirs).sum(-1), -1, 1))).max() < 0.01
    # Feet stay as level as they were.
    toes = [(f"{side}_ankle", f"{side}_toe") for side in "lr"]
    tilt = directions(ODO, forward(ODO, motion).positions, toes)[..., 1]
    at_rest = directions(ODO, forward(ODO, ODO.rest_motion).positions, toes)[..., 1]
    made = directions(
        figure, forward(figure, playable.samples).positions, [(back[a], back[b]) for a, b in toes]
    )[..., 1]
    made_at_rest = directions(
        figure, forward(figure, figure.rest_motion).positions, [(back[a], back[b]) for a, b in toes]
    )[..., 1]
    assert np.abs((tilt - at_rest) - (made - made_at_rest)).max() < 0.06


def test_a_root_above_the_pelvis_is_followed() -> None:
    joints = [j.model_dump() for j in ODO.joints]
    low = {"name": "Root", "parent": -1, "offset": (0, 0, 0), "rest": (1, 0, 0, 0)}
    joints = [low, *({**j, "parent": j["parent"] + 1} for j in joints)]
    rooted = Figure.model_validate({"name": "Rooted", "joints": joints})
    report = fit(rooted, ODO)
    assert report.dropped == ("Root",)
    assert report.rests == ()
    rest = rooted.rest_motion
    motion = retarget(rooted, rest, ODO, report.mapping())
    assert motion.root_move[0] == pytest.approx(ODO.offsets[0])


def test_a_mapping_is_checked_in_words() -> None:
    amble = demo().clips["Amble"].samples
    with pytest.raises(Refusal, match="Two joints of the clip would play “l_hip”"):
        retarget(ODO, amble, ODO, {"l_hip": "l_hip", "r_hip": "l_hip"})
    with pytest.raises(Refusal, match="nothing would play"):
        retarget(ODO, amble, ODO, {})
    with pytest.raises(Refusal, match="has no joint called “tail”"):
        retarget(ODO, amble, ODO, {"hips": "tail"})


def test_the_shortest_turn_takes_one_direction_to_the_other() -> None:
    chance = np.random.default_rng(4)
    for start, end in [*chance.normal(size=(50, 2, 3)), ([1, 0, 0], [-1, 0, 0])]:
        a, b = np.array(start, dtype=float), np.array(end, dtype=float)
        turned = rotation.rotate(rotation.least(a, b), a / np.linalg.norm(a))
        assert turned == pytest.approx(b / np.linalg.norm(b), abs=1e-9)


def test_leg_length_counts_bones() -> None:
    assert leg_length_metres(ODO) == pytest.approx(0.78)
