"""Odo's motion holds up to an animator's eye: weight, opposite arms, feet that stay, closed seams."""

import numpy as np
import pytest

from demo.gait import AMBLE, HURRY, Gait, gait_motion
from demo.production import demo
from elastic_core.arrays import Array
from elastic_core.clip.playable import PlayableClip
from elastic_core.cycle.seam import seam_report
from elastic_core.figure import forward
from elastic_core.moments import source
from elastic_core.scene.evaluate import frames_of

DEMO = demo()
ODO = DEMO.figures["odo"]
OWN = [name for name, clip in DEMO.clips.items() if clip.clip.figure == "odo"]
CYCLES = ["Stand", "Amble", "Hurry"]


def path_of(playable: PlayableClip, joint: str, frames: Array) -> Array:
    """A joint's way through the world."""
    return forward(ODO, playable.at(source(frames))).positions[:, ODO.place_of(joint)]


def test_the_clips_have_their_lengths() -> None:
    lengths = {name: DEMO.clips[name].clip.length_frames for name in OWN}
    assert lengths == {
        "Stand": 48,
        "Amble": 24,
        "Hurry": 16,
        "Reach and light": 64,
        "Startle": 20,
        "Look back": 36,
    }
    assert [name for name in OWN if DEMO.clips[name].clip.is_cycle] == CYCLES


@pytest.mark.parametrize("name", CYCLES)
def test_seams_are_closed(name: str) -> None:
    report = seam_report(ODO, DEMO.clips[name])
    assert report.grade == "closed"
    assert report.worst.gap_degrees < 0.01


@pytest.mark.parametrize("name", OWN)
def test_planted_feet_slide_less_than_two_millimetres(name: str) -> None:
    playable = DEMO.clips[name]
    assert playable.clip.plants
    for plant in playable.clip.plants:
        frames = np.arange(np.ceil(plant.start), np.ceil(plant.end), dtype=np.float64)
        way = path_of(playable, plant.joint, frames)
        slide = np.linalg.norm(np.diff(way[:, [0, 2]], axis=0), axis=1).sum()
        assert slide < 0.002
        assert np.ptp(way[:, 1]) < 0.002


@pytest.mark.parametrize("name", OWN)
def test_no_foot_sinks_into_the_quay_and_no_leg_is_pulled_out(name: str) -> None:
    playable = DEMO.clips[name]
    positions = forward(ODO, playable.samples.whole()).positions
    for side in "lr":
        toe, ankle, hip = (
            positions[:, ODO.place_of(f"{side}_{part}")] for part in ("toe", "ankle", "hip")
        )
        assert toe[:, 1].min() > 0.036
        assert np.linalg.norm(ankle - hip, axis=1).max() < 0.78
        knee = positions[:, ODO.place_of(f"{side}_knee")]
        # Knees bend forwards, never back.
        middle = (ankle + hip) / 2
        assert ((knee - middle)[:, 2] > -1e-6).all()


@pytest.mark.parametrize("gait", [AMBLE, HURRY], ids=lambda gait: gait.name)
def test_arms_swing_against_the_legs_and_weight_falls_after_contact(gait: Gait) -> None:
    phases = np.arange(48) / 48
    motion = gait_motion(ODO, gait, phases, np.zeros((48, 3)))
    positions = forward(ODO, motion).positions
    hand = positions[:, ODO.place_of("r_wrist"), 2]
    foot = {side: positions[:, ODO.place_of(f"{side}_ankle"), 2] for side in "lr"}
    assert np.corrcoef(hand, foot["l"])[0, 1] > 0.7
    assert np.corrcoef(hand, foot["r"])[0, 1] < -0.7
    hips = positions[:, 0, 1]
    low = phases[np.argmin(hips[:24])]
    assert 0 < low < 0.25
    assert 0.03 < np.ptp(hips) < 0.09


def test_the_scene_is_chained_without_a_jump() -> None:
    shown = frames_of(DEMO.scene, DEMO.material, np.arange(288.0))[0]
    steps = np.linalg.norm(np.diff(shown.motion.travel[:, :2], axis=0), axis=1)
    assert steps.max() < 0.12
    assert np.abs(np.diff(shown.motion.travel[:, 2])).max() < 1e-9
    moved = np.linalg.norm(np.diff(shown.placed.positions, axis=0), axis=-1)
    # No joint of the body moves faster than a hurrying foot swings.
    body = [k for k, name in enumerate(ODO.names) if name != "pole"]
    assert moved[:, body].max() < 0.32
    assert shown.motion.travel[-1, 1] == pytest.approx(8.4, abs=0.1)
