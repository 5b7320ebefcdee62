"""Cut-outs: joints that turn in the plane of the paper alone, and cards that hang on them (rule 2.1)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elastic_core import rotation
from elastic_core.dress import Card, CardPicture, Dress
from elastic_core.figure import Figure, Joint, forward
from elastic_core.motion import Motion

from .drawn import picture

quaternions = st.tuples(*[st.floats(-1, 1)] * 4).filter(lambda q: np.hypot(*q[:2]) > 0.05)


def paper(plane: str | None = "x") -> Figure:
    joints = (
        Joint(name="body", parent=-1, offset=(0, 1, 0), plane=plane),
        Joint(name="upper", parent=0, offset=(0, 0.2, 0.1), plane=plane),
        Joint(name="lower", parent=1, offset=(0, -0.3, 0), plane=plane),
    )
    card = Card(
        name="hand",
        joint="lower",
        pictures=tuple(CardPicture(drawing=k, picture=picture(f"hand {k}")) for k in (1, 2)),
    )
    return Figure(name="Paper", joints=joints, dress=Dress(cards=(card,)))


@given(quaternions)
def test_a_twist_turns_about_its_axis_alone_and_keeps_what_it_had_of_it(
    q: tuple[float, float, float, float],
) -> None:
    unit = rotation.normalise(np.array([q]))
    for axis, name in enumerate("XYZ"):
        turned = rotation.twist(unit, axis)
        assert np.linalg.norm(turned) == pytest.approx(1.0)
        others = [k for k in (1, 2, 3) if k != 1 + axis]
        assert turned[0, others].tolist() == [0.0, 0.0]
        # What turns about that axis alone is left as it is.
        pure = rotation.about_axis(name, np.array([0.7]))
        assert rotation.twist(pure, axis) == pytest.approx(pure)
        assert rotation.twist(turned, axis) == pytest.approx(turned)


@given(st.lists(quaternions, min_size=3, max_size=3))
def test_a_cut_out_never_leaves_its_paper(
    turns: list[tuple[float, float, float, float]],
) -> None:
    """Whatever a clip says, every joint stays in the plane that the figure stands in."""
    figure = paper()
    rotations = rotation.normalise(np.array([turns]))
    motion = Motion(
        np.array([[0.4, -0.2, 0.0]]), np.array([[0.0, 1.0, 0.0]]), np.asfortranarray(rotations)
    )
    placed = forward(figure, motion)
    assert placed.positions[0, :, 0] == pytest.approx(np.full(3, 0.4), abs=1e-9)
    sideways = rotation.rotate(placed.rotations[0], np.tile([1.0, 0.0, 0.0], (3, 1)))
    assert sideways == pytest.approx(np.tile([1.0, 0.0, 0.0], (3, 1)), abs=1e-9)
    lengths = np.linalg.norm(np.diff(placed.positions[0], axis=0), axis=1)
    assert lengths == pytest.approx([np.hypot(0.2, 0.1), 0.3])


def test_a_figure_without_planes_is_as_it_was() -> None:
    figure, free = paper(), paper(None)
    turns = np.zeros((1, 3, 4))
    turns[0] = rotation.from_axes("YXZ", np.array([[30.0, 20.0, 10.0]] * 3))
    motion = Motion(np.zeros((1, 3)), np.array([[0.0, 1.0, 0.0]]), np.asfortranarray(turns))
    assert free.in_plane(motion.rotations) is motion.rotations
    assert not np.allclose(forward(free, motion).positions, forward(figure, motion).positions)
    flat = np.asfortranarray(rotation.twist(turns, 0))
    same = Motion(motion.travel, motion.root_move, flat)
    assert forward(free, same).positions == pytest.approx(forward(figure, motion).positions)


def test_a_cut_out_is_read_as_it_was_written() -> None:
    figure = paper()
    assert Figure.model_validate_json(figure.model_dump_json()) == figure
