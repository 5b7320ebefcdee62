"""Clips: keys and samples, exposure, and importing (rules 1.8, 3.4, 6.1 in part)."""

from fractions import Fraction

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.channels import motion_of
from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.curve import Curve, Key
from elastic_core.errors import Refusal
from elastic_core.exposure import Exposure
from elastic_core.figure import forward
from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import Wanted, bring_in, conformed, inspect
from elastic_core.formats.poses import KeyedPose, poses_to_motion

from .motions import (
    FileStyle,
    bvh_text,
    bvh_values,
    once_clip,
    random_motion,
    small_figure,
    turning_cycle,
)


def test_whole_frames_come_back_exactly_as_stored() -> None:
    playable = once_clip(30)
    poses = playable.at(np.array([0.0, 7, 7.5, 29]))
    assert np.array_equal(poses.rotations[[0, 1, 3]], playable.samples.rotations[[0, 7, 29]])


def test_a_clip_that_plays_once_holds_its_ends() -> None:
    playable = once_clip(30)
    poses = playable.at(np.array([-5.0, 29.0, 29.9, 300.0]))
    assert np.array_equal(poses.rotations[0], playable.samples.rotations[0])
    assert np.array_equal(poses.rotations[2], playable.samples.rotations[29])
    assert np.array_equal(poses.travel[3], playable.samples.travel[29])


def test_on_twos_holds_every_pose_bit_for_bit() -> None:
    playable = turning_cycle(length=20)
    clip = playable.clip.model_copy(update={"exposure": Exposure(pattern=(2,))})
    poses = PlayableClip(clip, playable.samples).at(np.arange(40.0))
    assert np.array_equal(poses.rotations[0::2], poses.rotations[1::2])
    assert np.array_equal(poses.travel[0::2], poses.travel[1::2])


def test_a_pose_held_over_the_seam_is_that_of_the_round_before() -> None:
    playable = turning_cycle(length=20)
    clip = playable.clip.model_copy(update={"exposure": Exposure(pattern=(4,), anchor=2)})
    poses = PlayableClip(clip, playable.samples).at(np.arange(38.0, 43.0))
    assert np.array_equal(poses.rotations[:4], np.repeat(poses.rotations[:1], 4, axis=0))
    assert np.array_equal(poses.travel[:4], np.repeat(poses.travel[:1], 4, axis=0))
    assert not np.array_equal(poses.travel[4], poses.travel[3])


def test_the_wrong_number_of_poses_is_refused() -> None:
    clip = Clip(name="Short", figure="keeper", rate="24", length_frames=12)
    with pytest.raises(Refusal, match="12 frames long and has 5 poses"):
        PlayableClip(clip, random_motion(5))


def test_keys_pose_a_figure_in_its_joints_order() -> None:
    def key(*values: float) -> Curve:
        return Curve(
            keys=tuple(Key(time=4 * k, value=v, span="even") for k, v in enumerate(values))
        )

    figure = small_figure()
    channels = {
        "travel.z": key(0, 2),
        "travel.heading": key(0, 90),
        "root.y": key(0.9, 1.1),
        "head.turn.x": key(0, 40),
        "head.turn.y": key(10, 20),
    }
    motion = motion_of(channels, figure, np.array([0.0, 2, 4]))
    assert motion.travel[1] == pytest.approx([0, 1, np.pi / 4])
    assert motion.root_move[2] == pytest.approx([0, 1.1, 0])
    # The head's order is YXZ: its y is outermost.
    expected = rotation.from_axes("YXZ", np.array([[20.0, 40, 0]]))
    assert np.allclose(motion.rotations[2, 2], expected)
    assert np.allclose(motion.rotations[:, 3], rotation.IDENTITY)
    poses = KeyedPose(channels=channels)
    assert poses_to_motion(poses, figure, 5).frames == 5


def test_a_channel_that_cannot_be_keyed_is_named() -> None:
    curve = Curve(keys=(Key(time=0, value=0),))
    with pytest.raises(Refusal, match=r"“tail\.wag”"):
        motion_of({"tail.wag": curve}, small_figure(), np.zeros(1))


def test_conforming_meets_every_shared_frame() -> None:
    motion = random_motion(241)
    slow = conformed(motion, Fraction(120), Fraction(24))
    assert slow.frames == 49
    assert np.array_equal(slow.rotations, motion.rotations[::5])
    broadcast = conformed(motion, Fraction(120), Fraction(24000, 1001))
    assert broadcast.frames == 48


def test_bringing_a_file_in() -> None:
    rows = bvh_values(1).repeat(25, axis=0)
    phase = 2 * np.pi * np.arange(25) / 24
    rows[:, 6:] += 10 * np.sin(phase)[:, None]
    rows[:, 3] = 2.0 * np.arange(25)  # the root's z, in centimetres
    file = bvh.read(bvh_text(rows, FileStyle()))
    found = inspect(file)
    assert (found.joints, found.frames, found.unit) == (5, 25, "cm")
    assert found.last_repeats_first
    figure, playable = bring_in(file, Wanted(name="Walk"), "f")
    assert (playable.clip.is_cycle, playable.clip.length_frames) == (True, 24)
    assert playable.clip.period == pytest.approx((0, 0.48, 0), abs=1e-9)
    # Two rounds on, the clip shows what the file showed, two strides further.
    far = forward(figure, playable.at(np.array([48.0 + 7]))).positions[0]
    near = forward(figure, playable.at(np.array([7.0]))).positions[0]
    assert np.abs(far - near - [0, 0, 0.96]).max() < 1e-9


def test_a_cycle_brought_in_at_another_rate_still_closes() -> None:
    rows = bvh_values(1).repeat(17, axis=0)
    phase = 2 * np.pi * np.arange(17) / 16
    rows[:, 6:] += 6 * np.sin(phase)[:, None]
    rows[:, 3] = 3.0 * np.arange(17)
    file = bvh.read(bvh_text(rows, FileStyle()))
    figure, playable = bring_in(file, Wanted(name="Walk", rate=Fraction(96)), "f")
    # 16 frames at 120 are 12.8 at 96: kept as 13, closed, and as far round as before.
    assert playable.clip.length_frames == 13
    assert playable.clip.period == pytest.approx((0, 0.48, 0), abs=1e-9)
    ends = playable.samples.at(np.array([0, 13]))
    assert np.allclose(ends.rotations[0], ends.rotations[1], atol=1e-9)
    steps = np.diff(playable.at(np.arange(40.0)).travel[:, 1])
    assert np.ptp(steps) < 1e-9
    assert figure.names


def test_a_range_a_rate_and_a_height_can_be_asked_for() -> None:
    file = bvh.read(bvh_text(bvh_values(121), FileStyle()))
    wanted = Wanted(
        name="Part", start=10, end=110, rate=Fraction(24), metres_per_unit=0.02, is_cycle=False
    )
    figure, playable = bring_in(file, wanted, "f")
    assert playable.clip.length_frames == 20
    assert figure.offsets[1] == pytest.approx([0, 0.6, 0.04])
    direct = bring_in(file, Wanted(name="All", metres_per_unit=0.02, is_cycle=False), "f")[1]
    assert np.allclose(playable.samples.rotations[3], direct.samples.rotations[25])


@pytest.mark.parametrize(("start", "end"), [(5, 5), (-1, 4), (0, 99)])
def test_a_range_outside_the_file_is_refused(start: int, end: int) -> None:
    file = bvh.read(bvh_text(bvh_values(10), FileStyle()))
    with pytest.raises(Refusal, match="is not inside 0 to 10"):
        bring_in(file, Wanted(name="No", start=start, end=end), "f")
