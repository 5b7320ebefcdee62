"""A figure's size in the scene: its stride grows with it, and its feet hold."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core.clip.document import Plant
from elastic_core.clock import Span
from elastic_core.cycle.feet import steps_of_plant
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.moments import source
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.crossing import CrossStage
from elastic_core.scene.edits.figures import KeySize, SetMark, SetSize
from elastic_core.scene.edits.joins import NailStint, PlaceJoin
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.held import lane_plants
from elastic_core.scene.join_report import join_report
from elastic_core.scene.join_search import pair_at
from elastic_core.scene.part import ScenePart
from elastic_core.scene.staging import placements_of, staged_with

DEMO = demo()
ODO, MATERIAL = DEMO.figures["odo"], DEMO.material
FRAMES = np.arange(288.0)


def after(*edits: SceneEdit) -> Scene:
    scene = DEMO.scene
    for edit in edits:
        scene = apply_edit(scene, edit, MATERIAL).scene
    return scene


def positions(scene: Scene) -> np.ndarray:
    return frames_of(scene, MATERIAL, FRAMES)[0].placed.positions


@pytest.mark.parametrize("size", [0.5, 1.25, 3.0])
def test_everything_is_as_many_times_as_large_about_the_mark(size: float) -> None:
    mark = (1.0, -2.0, 0.4)
    plain = positions(after(SetMark(figure="odo", mark=mark)))
    sized = positions(after(SetMark(figure="odo", mark=mark), SetSize(figure="odo", size=size)))
    about = np.array([mark[0], 0.0, mark[1]])
    assert np.abs(sized - (about + size * (plain - about))).max() < 1e-9


def test_feet_hold_at_any_size() -> None:
    scene = after(SetSize(figure="odo", size=1.6))
    shown = frames_of(scene, MATERIAL, FRAMES)[0]
    stage, lane = staged_with(scene, MATERIAL, scene.lane("odo-body"))
    assert stage.member.size == 1.6
    for plant in lane_plants(lane, Span(0, 288)):
        assert steps_of_plant(ODO, shown.placed, plant).sum() < 0.003
    report = join_report(scene, MATERIAL, "hurry")
    assert report.slide.amount < 0.2


def test_what_was_nailed_or_set_down_stays_where_it_is_on_the_stage() -> None:
    nailed = after(
        NailStint(stint="hurry", placement=(3.0, 4.0, 0.2)), SetSize(figure="odo", size=2)
    )
    lane = nailed.lane("odo-body")
    place = [stint.id for stint in lane.stints].index("hurry")
    assert np.allclose(placements_of(nailed, MATERIAL, lane)[place], (3.0, 4.0, 0.2))
    # Nailed down where it stands it does not move.
    sized = after(SetSize(figure="odo", size=2))
    still = apply_edit(sized, NailStint(stint="hurry"), MATERIAL).scene
    assert np.abs(positions(still) - positions(sized)).max() < 1e-9
    wanted = PlaceJoin(stint="hurry", root=(0.5, 6.0, 0.3))
    drawn = apply_edit(sized, wanted, MATERIAL).scene
    pair = pair_at(drawn, MATERIAL, "hurry", 166, 3, drawn.find("hurry")[1].alignment.plant)
    assert np.abs(pair.motion.travel[1] - (0.5, 6.0, 0.3)).max() < 1e-6


def test_sizes_have_limits_and_names() -> None:
    edited = apply_edit(DEMO.scene, SetSize(figure="odo", size=1.25), MATERIAL)
    assert edited.label == "Odo at 125 %"
    for size in (0.0, -1.0, 50.0):
        with pytest.raises(ValueError, match="size"):
            SetSize(figure="odo", size=size)
    with pytest.raises(Refusal, match="no longer in the scene"):
        apply_edit(DEMO.scene, SetSize(figure="gone", size=2), MATERIAL)
    resting = DEMO.scene.model_copy(update={"lanes": ()})
    large = apply_edit(resting, SetSize(figure="odo", size=2), MATERIAL).scene
    tall = np.ptp(positions(large)[0, :, 1])
    assert tall == pytest.approx(2 * np.ptp(forward(ODO, ODO.rest_motion).positions[0, :, 1]))


def keyed(*keys: tuple[float, float]) -> Scene:
    return after(*(KeySize(figure="odo", frame=frame, size=size) for frame, size in keys))


def test_keys_that_are_all_alike_are_one_size() -> None:
    once = positions(after(SetSize(figure="odo", size=1.4)))
    same = keyed((0, 1.4), (120, 1.4))
    assert same.figures[0].size == 1.4
    assert np.abs(positions(same) - once).max() < 1e-9


@pytest.mark.parametrize(("first", "last"), [(10, 60), (104, 150), (168, 214)])
def test_a_figure_that_grows_stands_on_its_feet(first: int, last: int) -> None:
    """In a stand, in a walk, and in a run: who bears does not slide."""
    scene = keyed((0, 1.0), (first, 1.0), (last, 1.5))
    shown = frames_of(scene, MATERIAL, FRAMES)[0]
    member = scene.figures[0]
    assert member.sizes is not None
    assert np.abs(shown.motion.scales[0][[first, last, 287], 1] - [1.0, 1.5, 1.5]).max() < 1e-9
    _, lane = staged_with(scene, MATERIAL, scene.lane("odo-body"))
    plants = lane_plants(lane, Span(first, last))
    assert plants
    for plant in plants:
        alone_from, alone_to = _bears_alone(plant, plants, first, last)
        if alone_to - alone_from < 3:
            continue
        bears = plant.model_copy(update={"start": alone_from, "end": alone_to})
        assert steps_of_plant(ODO, shown.placed, bears).sum() < 0.004
    # Both feet down, as in a stand, the ground between them stays: each goes aside as the legs grow apart.
    before = positions(DEMO.scene)
    assert np.array_equal(shown.placed.positions[: first + 1], before[: first + 1])


def _bears_alone(
    plant: Plant, plants: list[Plant], first: float, last: float
) -> tuple[float, float]:
    """The part of a plant in which the other foot is in the air and the size changes."""
    start, end = max(plant.start, first), min(plant.end, last)
    for other in plants:
        if other.side == plant.side:
            continue
        if other.start <= start < other.end:
            start = other.end
        elif start < other.start < end:
            end = other.start
    return start + 1, end - 1


def test_a_growing_figure_is_the_same_in_any_chunk_and_between_frames() -> None:
    scene = keyed((0, 1.0), (110, 1.0), (140, 0.6))
    whole = positions(scene)
    part = frames_of(scene, MATERIAL, np.arange(118.0, 133.0))[0].placed.positions
    assert np.abs(part - whole[118:133]).max() < 1e-9
    between = frames_of(scene, MATERIAL, np.arange(118.0, 133.0, 0.25))[0].placed.positions
    steps = np.linalg.norm(np.diff(between, axis=0), axis=-1)
    # Nothing jumps where one frame's foot gives way to the next one's.
    assert steps.max() < 0.06


def test_size_keys_are_taken_away_and_one_size_takes_them_all() -> None:
    scene = keyed((0, 1.0), (40, 1.2))
    gone = apply_edit(scene, KeySize(figure="odo", frame=40), MATERIAL)
    assert gone.label == "Delete a size key of Odo"
    assert np.abs(positions(gone.scene) - positions(DEMO.scene)).max() < 1e-12
    one = apply_edit(scene, SetSize(figure="odo", size=0.9), MATERIAL)
    assert (one.scene.figures[0].sizes, one.notes) == (None, ("2 keys of its size went.",))
    with pytest.raises(Refusal, match="has no key of its size there"):
        apply_edit(scene, KeySize(figure="odo", frame=7), MATERIAL)
    crossing = CrossStage(stint="amble", start=(0, 0), to=(0, 4), frames=90)
    with pytest.raises(Refusal, match="is keyed"):
        apply_edit(scene, crossing, MATERIAL)


def test_a_part_of_another_scene_grows_as_it_does_there() -> None:
    scene = keyed((0, 1.0), (110, 1.0), (140, 1.6))
    part = ScenePart(scene, MATERIAL, scene.figures[0])
    at = source(np.arange(100.0, 160.0))
    shown = frames_of(scene, MATERIAL, np.arange(100.0, 160.0))[0].motion
    assert np.abs(part.at(at).travel - shown.travel).max() < 1e-12
    assert np.abs(part.travel_at(at) - shown.travel).max() < 1e-9
