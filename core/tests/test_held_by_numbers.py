"""Places that a change could slip through unseen: each is held by numbers that were worked out apart."""

from dataclasses import replace

import numpy as np
import pytest

from demo.production import demo
from elastic_core import rotation
from elastic_core.arrays import by_runs
from elastic_core.clip.document import Plant
from elastic_core.clip.pose import MoveRoot, RestJoint, Turn, posed
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.motion import Motion, blend, join_runs
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Stint

from .motions import material, random_motion, scene_of, turning_cycle

ODO = demo().figures["odo"]
HEAD, CHEST = ODO.place_of("head"), ODO.place_of("chest")


def test_moves_are_blended_where_both_have_them_and_kept_where_one_has() -> None:
    a, b = random_motion(4, seed=1), random_motion(4, seed=2)
    ones, threes = np.ones((4, 3)), np.full((4, 3), 3.0)
    a = replace(a, moves={1: ones, 2: ones}, scales={3: np.full((4, 3), 2.0)})
    b = replace(b, moves={1: threes, 4: threes}, scales={})
    weight = np.array([0.0, 0.25, 0.5, 1.0])
    mixed = blend(a, b, weight)
    assert mixed.moves[1][:, 0].tolist() == [1, 1.5, 2, 3]
    assert (mixed.moves[2] == 1).all()
    assert (mixed.moves[4] == 3).all()
    # Whoever does not scale a joint leaves it in its own size.
    assert mixed.scales[3][:, 1].tolist() == [2, 1.75, 1.5, 1]
    assert mixed.travel[:, 0] == pytest.approx(
        a.travel[:, 0] + weight * (b.travel[:, 0] - a.travel[:, 0])
    )
    with pytest.raises(Refusal, match="poses of one figure"):
        blend(a, random_motion(4, joints=6), weight)


def test_runs_are_laid_end_to_end_with_their_moves_and_scales() -> None:
    a, b = random_motion(2, seed=1), random_motion(3, seed=2)
    a = replace(a, moves={1: np.ones((2, 3))}, scales={2: np.full((2, 3), 4.0)})
    b = replace(b, moves={1: np.full((3, 3), 5.0)})
    run = join_runs([a, b])
    assert run.moves[1][:, 0].tolist() == [1, 1, 5, 5, 5]
    assert run.scales[2][:, 2].tolist() == [4, 4, 1, 1, 1]
    with pytest.raises(Refusal, match="move different joints"):
        join_runs([a, replace(b, moves={})])


def plants_of(elastic: Elastic, start: float, length: float) -> list[tuple[str, float, float]]:
    """A cycle of twenty frames with a plant over its seam and one inside, as the desk shows them."""
    cycle = turning_cycle(length=20)
    plants = (
        Plant(joint="left", side="left", start=16, end=24),
        Plant(joint="right", side="right", start=6, end=14),
    )
    clip = cycle.clip.model_copy(update={"plants": plants})
    stint = Stint(
        id="s", source=ClipSource(id="Round"), start=start, length_frames=length, elastic=elastic
    )
    shown = desk_of(scene_of([stint]), material(replace(cycle, clip=clip))).lanes[0].stints[0]
    return [(plant.side, plant.start, plant.end) for plant in shown.plants]


def test_plants_by_frame_follow_a_time_that_bends() -> None:
    """Source: 0…20 at pace 1, held for 10, then backwards from 20 to 10."""
    bent = Elastic(
        pins=(
            Pin(played=0, source=0),
            Pin(played=20, source=20, span="held"),
            Pin(played=30, source=20),
            Pin(played=40, source=10),
        )
    )
    source = [*range(20), *[20] * 10, *(20 - k for k in range(10))]
    expected: list[tuple[str, float, float]] = []
    for side, first, length in (("left", 16, 8), ("right", 6, 8)):
        down = [(frame - first) % 20 < length for frame in source]
        edges = [k for k in range(1, 40) if down[k] != down[k - 1]]
        edges = [0, *edges] if down[0] else edges
        edges = [*edges, 40] if len(edges) % 2 else edges
        pairs = zip(edges[::2], edges[1::2], strict=True)
        expected += [(side, 100.0 + a, 100.0 + b) for a, b in pairs]
    assert plants_of(bent, 100, 40) == expected
    assert expected == [
        ("left", 100, 104),
        ("left", 116, 135),
        ("right", 106, 114),
        ("right", 137, 140),
    ]


def test_plants_of_an_even_time_are_told_to_the_part_of_a_frame() -> None:
    assert plants_of(Elastic.at_pace(0.8), 0, 25) == [
        ("left", 0, pytest.approx(5)),
        ("left", pytest.approx(20), 25),
        ("right", pytest.approx(7.5), pytest.approx(17.5)),
    ]


def one_pose(heading: float = 0.0) -> Motion:
    motion = Motion.resting(1, len(ODO.joints), ODO.offsets[0])
    return motion.carried(by_runs(np.array([[0.4, -0.3, heading]])))


@pytest.mark.parametrize("heading", [0.0, 0.9])
def test_the_root_is_turned_about_an_axis_of_the_world_whichever_way_it_heads(
    heading: float,
) -> None:
    pose = one_pose(heading)
    before = forward(ODO, pose)
    turned = posed(ODO, pose, [Turn(joint=ODO.names[0], axis=(2.0, 0.0, 0.0), degrees=30.0)])
    after = forward(ODO, turned)
    about_x = rotation.about_axis("X", np.radians([30.0]))
    expected = rotation.multiply(about_x, before.rotations[:, HEAD])
    assert rotation.angle_between(after.rotations[:, HEAD], expected).max() < 1e-9
    root = before.positions[0, 0]
    carried = root + rotation.rotate(about_x, before.positions[:, HEAD] - root)
    assert after.positions[:, HEAD] == pytest.approx(carried)
    assert after.positions[0, 0] == pytest.approx(root)
    assert turned.travel.tolist() == pose.travel.tolist()


def test_a_joint_is_turned_about_the_world_and_rests_again() -> None:
    pose = one_pose(0.9)
    before = forward(ODO, pose)
    change = Turn(joint="chest", axis=(0.0, 0.0, 1.0), degrees=-25.0)
    turned = posed(ODO, pose, [change])
    about_z = rotation.about_axis("Z", np.radians([-25.0]))
    expected = rotation.multiply(about_z, before.rotations[:, CHEST])
    world = forward(ODO, turned).rotations[:, CHEST]
    assert rotation.angle_between(world, expected).max() < 1e-9
    rested = posed(ODO, turned, [RestJoint(joint="chest")])
    assert np.abs(forward(ODO, rested).positions - before.positions).max() < 1e-12
    still = posed(ODO, pose, [Turn(joint="chest", axis=(0.0, 0.0, 0.0), degrees=50.0)])
    assert np.array_equal(still.rotations, pose.rotations)


def test_the_root_moves_in_the_world_over_its_travel() -> None:
    pose = one_pose(0.9)
    moved = posed(ODO, pose, [MoveRoot(by=(0.1, 0.02, -0.3))])
    step = forward(ODO, moved).positions[0] - forward(ODO, pose).positions[0]
    assert np.abs(step - [0.1, 0.02, -0.3]).max() < 1e-12
    assert moved.travel.tolist() == pose.travel.tolist()


def test_a_plant_on_the_desk_knows_its_ankle_and_its_toes_whichever_joint_it_stands_on() -> None:
    made = demo()
    lane = desk_of(made.scene, made.material).lanes[0]
    feet = {
        (stint.clip_name, plant.joint, plant.ankle, plant.toe)
        for stint in lane.stints
        for plant in stint.plants
        if plant.side == "left"
    }
    assert {(ankle, toe) for _, _, ankle, toe in feet} == {("l_ankle", "l_toe")}
    assert {joint for name, joint, _, _ in feet if name == "Amble"} <= {"l_ankle", "l_toe"}
