"""Cut-outs: joints that turn in the plane of the paper alone, and cards that hang on them (rule 2.1)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from elastic_core import rotation
from elastic_core.drawings.playing import RunPlayed
from elastic_core.dress import Card, CardPicture, Dress
from elastic_core.elastic import Elastic
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, Joint, forward
from elastic_core.motion import Motion
from elastic_core.scene.card_order import AS_MADE
from elastic_core.scene.cast import RunSource
from elastic_core.scene.document import Scene, SceneFigure
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.material import Material

from .drawn import picture, run_of_drawings

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


EDIT: TypeAdapter[SceneEdit] = TypeAdapter(SceneEdit)


def with_hand(drawings: str = "hands") -> tuple[Scene, Material]:
    """A scene with the cut-out, and runs of hands and of something else."""
    figure = paper()
    card = figure.dress.cards[0].model_copy(update={"drawings": drawings})
    figure = figure.model_copy(update={"dress": Dress(cards=(card,))})
    scene = Scene(
        name="Paper",
        rate="24",
        laid_frames=48,
        played_frames=48,
        figures=(SceneFigure(id="p", name="Paper", figure="paper"),),
    )
    made_of = Material(
        {"paper": figure},
        {
            RunSource(id="wave"): RunPlayed(run_of_drawings("1, 2 on 6", drawings="hands")),
            RunSource(id="flicker"): RunPlayed(run_of_drawings()),
        },
    )
    return scene, made_of


def test_a_hand_is_swapped_by_a_run_of_its_drawings() -> None:
    scene, made_of = with_hand()
    edit = {"kind": "draw_part", "figure": "p", "part": "hand", "run": "wave", "start": 10}
    drawn = apply_edit(scene, EDIT.validate_python(edit), made_of)
    assert drawn.label == "Paper’s hand shows Flicker"
    (shown,) = frames_of(drawn.scene, made_of, np.arange(48.0))
    row = shown.drawings["hand"].tolist()
    # Before it plays the card shows what it was made with.
    assert row[:10] == [-1] * 10
    assert row[10:18] == [1, 1, 2, 2, 2, 2, 2, 2]
    assert drawn.scene.lanes[0].stints[0].end == 48
    with pytest.raises(Refusal, match="Paper’s hand has a lane already"):
        apply_edit(drawn.scene, EDIT.validate_python(edit), made_of)
    with pytest.raises(Refusal, match="has other drawings than hand"):
        apply_edit(scene, EDIT.validate_python({**edit, "run": "flicker"}), made_of)
    with pytest.raises(Refusal, match="no part of paper called “foot”"):
        apply_edit(scene, EDIT.validate_python({**edit, "part": "foot"}), made_of)


def test_an_arm_passes_in_front_and_behind_again() -> None:
    scene, made_of = with_hand()
    for frame, order in ((12, 9), (30, -2)):
        edit = {"kind": "order_card", "figure": "p", "card": "hand", "frame": frame, "order": order}
        scene = apply_edit(scene, EDIT.validate_python(edit), made_of).scene
    (shown,) = frames_of(scene, made_of, np.arange(48.0))
    assert shown.orders["hand"].tolist() == [AS_MADE] * 12 + [9] * 18 + [-2] * 18
    slow = scene.model_copy(update={"elastic": Elastic.at_pace(0.5)})
    (half,) = frames_of(slow, made_of, np.arange(48.0))
    assert np.flatnonzero(np.diff(half.orders["hand"])).tolist() == [23]
    away = {"kind": "order_card", "figure": "p", "card": "hand", "frame": 12}
    left = apply_edit(scene, EDIT.validate_python(away), made_of).scene
    assert [key.frame for key in left.figures[0].card_orders] == [30]
    with pytest.raises(Refusal, match="hand has no key of its order there"):
        apply_edit(left, EDIT.validate_python(away), made_of)
