"""Feet that were held before stand as they stood, and are held anew where they must."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core.clip.document import Plant
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.cycle import StartWalk
from elastic_core.clip.edits.pose import KeyPose
from elastic_core.clip.playing import laid, round_of
from elastic_core.clip.pose import MoveRoot, Turn
from elastic_core.cycle import held_before
from elastic_core.cycle.feet import hold_feet

from .motions import random_motion

ODO = demo().figures["odo"]
AMBLE = Made(demo().clips["Amble"].clip, ODO)
WALK = Made(edit_clip(AMBLE, StartWalk(preset="march")).clip, ODO)


def turned(made: Made, joint: str, degrees: float) -> Made:
    turn = Turn(joint=joint, axis=(1.0, 0.0, 0.0), degrees=degrees)
    return Made(edit_clip(made, KeyPose(frame=6, changes=(turn,))).clip, ODO)


@pytest.mark.parametrize("made", [AMBLE, WALK], ids=["plain", "rolling"])
def test_what_comes_from_memory_is_what_is_worked_out(made: Made) -> None:
    assert all(plant.held for plant in made.clip.plants)
    lower = Made(
        edit_clip(made, KeyPose(frame=3, changes=(MoveRoot(by=(0.0, -0.05, 0.02)),))).clip, ODO
    )
    for each in (made, turned(made, "chest", 20), turned(made, "l_knee", 9), lower, made):
        clip, motion = each.clip, laid(ODO, each.clip)
        plain = hold_feet(ODO, motion, clip.plants, round_of(clip))
        for _ in range(2):
            held = held_before.hold_feet_as_before(ODO, motion, clip.plants, round_of(clip))
            assert np.array_equal(held.motion.rotations, plain.motion.rotations)
            assert np.array_equal(held.motion.root_move, plain.motion.root_move)
            assert np.array_equal(held.motion.travel, plain.motion.travel)
            assert (held.lowered_cm, held.lowered_at) == (plain.lowered_cm, plain.lowered_at)


def test_feet_are_held_anew_only_where_a_leg_hangs_on_what_changed(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    made = Made(AMBLE.clip, ODO.model_copy())
    worked_out: list[int] = []

    def counted(*asked: object) -> object:
        worked_out.append(1)
        return hold_feet(*asked)  # type: ignore[arg-type]

    monkeypatch.setattr(held_before, "hold_feet", counted)

    def play(each: Made) -> int:
        worked_out.clear()
        assert Made(each.clip, made.figure).playable.samples.frames == 25
        return len(worked_out)

    assert play(made) == 1
    for joint in ("chest", "head", "l_elbow"):
        assert play(turned(made, joint, 12)) == 0
    for joint in ("hips", "l_knee", "r_toe"):
        assert play(turned(made, joint, 12)) == 1
    longer = made.clip.plants[0].model_copy(update={"end": made.clip.plants[0].end - 1})
    changed = made.clip.model_copy(update={"plants": (longer, *made.clip.plants[1:])})
    assert play(Made(changed, made.figure)) == 1


def test_few_are_remembered_and_none_of_a_long_take() -> None:
    figure, joints = ODO.model_copy(), len(ODO.joints)
    plants = (Plant(joint="l_ankle", side="left", start=0, end=5, held=True),)
    for seed in range(9):
        motion = random_motion(20, joints, seed)
        held_before.hold_feet_as_before(figure, motion, plants, None)
    kept = figure.once("feet held before", dict)
    assert len(kept) == held_before.REMEMBERED
    held_before.hold_feet_as_before(figure, random_motion(2_001, joints), plants, None)
    assert len(kept) == held_before.REMEMBERED
