"""Rules 2.1 to 2.3: forward kinematics against 4 × 4 matrices built with scipy."""

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from demo.production import demo
from elastic_core import rotation
from elastic_core.anatomy import leg_joints
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, Joint, forward
from elastic_core.moments import source
from elastic_core.motion import Motion, blend

from .motions import random_motion, small_figure


def independent_positions(figure: Figure, motion: Motion) -> np.ndarray:
    """One frame and one joint at a time, with homogeneous matrices."""
    result = np.zeros((motion.frames, len(figure.joints), 3))
    for frame in range(motion.frames):
        x, z, heading = motion.travel[frame]
        ground = np.eye(4)
        ground[:3, :3] = Rotation.from_euler("y", heading).as_matrix()
        ground[:3, 3] = x, 0, z
        world: list[np.ndarray] = []
        for place, joint in enumerate(figure.joints):
            local = np.eye(4)
            turn = Rotation.from_quat(motion.rotations[frame, place], scalar_first=True)
            rest = Rotation.from_quat(joint.rest, scalar_first=True)
            local[:3, :3] = (rest * turn).as_matrix()
            move = motion.moves[place][frame] if place in motion.moves else joint.offset
            local[:3, 3] = motion.root_move[frame] if place == 0 else move
            world.append((ground if place == 0 else world[joint.parent]) @ local)
        result[frame] = [matrix[:3, 3] for matrix in world]
    return result


def test_forward_kinematics_agrees_with_matrices() -> None:
    motion = random_motion(40)
    moved = np.asfortranarray(np.random.default_rng(2).normal(size=(40, 3)))
    motion = Motion(motion.travel, motion.root_move, motion.rotations, {2: moved})
    figure = small_figure()
    joints = list(figure.joints)
    rest = tuple(Rotation.from_euler("xyz", [0.2, -0.5, 0.9]).as_quat(scalar_first=True))
    joints[1] = joints[1].model_copy(update={"rest": rest})
    figure = figure.model_copy(update={"joints": tuple(joints)})
    placed = forward(figure, motion)
    assert np.abs(placed.positions - independent_positions(figure, motion)).max() < 1e-12


def test_world_rotations_carry_offsets_to_positions() -> None:
    figure, motion = small_figure(), random_motion(10)
    placed = forward(figure, motion)
    reached = placed.positions[:, 1] + rotation.rotate(placed.rotations[:, 1], figure.offsets[2])
    assert np.abs(reached - placed.positions[:, 2]).max() < 1e-12


def test_a_thousand_joints_in_one_chain() -> None:
    joints = [Joint(name="0", parent=-1, offset=(0, 1, 0))]
    joints += [Joint(name=str(k), parent=k - 1, offset=(0, 0, 0.01)) for k in range(1, 3000)]
    figure = Figure(name="Chain", joints=tuple(joints))
    assert forward(figure, figure.rest_motion).positions[0, -1] == pytest.approx([0, 1, 29.99])


def test_height_spans_end_sites() -> None:
    figure = Figure(
        name="Pole",
        joints=(
            Joint(name="base", parent=-1, offset=(0, 1, 0), end_sites=((0, -1, 0),)),
            Joint(name="top", parent=0, offset=(0, 0.5, 0), end_sites=((0, 0.25, 0),)),
        ),
    )
    assert figure.height_metres == pytest.approx(1.75)


@pytest.mark.parametrize(
    ("joints", "reason"),
    [
        ((), "root"),
        (
            (
                Joint(name="a", parent=-1, offset=(0, 0, 0)),
                Joint(name="a", parent=0, offset=(0, 0, 0)),
            ),
            "share",
        ),
        (
            (
                Joint(name="a", parent=-1, offset=(0, 0, 0)),
                Joint(name="b", parent=2, offset=(0, 0, 0)),
            ),
            "parent",
        ),
    ],
)
def test_what_is_no_tree_is_refused(joints: tuple[Joint, ...], reason: str) -> None:
    with pytest.raises(Refusal, match=reason):
        Figure(name="No", joints=joints)


def test_motion_of_another_figure_is_refused() -> None:
    with pytest.raises(Refusal, match="5 joints; the motion has 3"):
        forward(small_figure(), random_motion(4, joints=3))


def test_a_new_travel_leaves_the_picture_as_it_was() -> None:
    figure, motion = small_figure(), random_motion(30)
    path = np.asfortranarray(np.random.default_rng(4).normal(size=(30, 3)))
    before = forward(figure, motion).positions
    after = forward(figure, motion.relaid(path)).positions
    assert np.abs(before - after).max() < 1e-12


def test_blending_at_the_ends_gives_the_ends() -> None:
    a, b = random_motion(5, seed=1), random_motion(5, seed=2)
    mixed = blend(a, b, np.array([0.0, 0.25, 0.5, 0.75, 1.0]))
    assert np.abs(mixed.rotations[0] - a.rotations[0]).max() < 1e-12
    assert rotation.angle_between(mixed.rotations[4], b.rotations[4]).max() < 1e-7
    assert np.allclose(mixed.travel[2], (a.travel[2] + b.travel[2]) / 2)


def test_what_follows_from_a_figure_is_worked_out_once_and_not_for_its_copy() -> None:
    figure = small_figure()
    made: list[int] = []

    def make() -> int:
        made.append(len(made))
        return made[-1]

    assert [figure.once("key", make) for _ in range(3)] == [0, 0, 0]
    assert figure.once("another", make) == 1
    assert figure.model_copy(update={"name": "Other"}).once("key", make) == 2


def test_only_some_joints_are_placed_as_all_of_them_are() -> None:
    odo = demo().figures["odo"]
    motion = demo().clips["Amble"].at(source(np.arange(12)))
    whole, legs = forward(odo, motion), forward(odo, motion, leg_joints(odo))
    own = list(leg_joints(odo))
    assert {odo.names[place] for place in own} >= {"hips", "l_knee", "r_toe"}
    assert np.array_equal(legs.positions[:, own], whole.positions[:, own])
    assert np.array_equal(legs.rotations[:, own], whole.rotations[:, own])
    others = [place for place in range(len(odo.joints)) if place not in own]
    assert others
    assert np.isnan(legs.positions[:, others]).all()
