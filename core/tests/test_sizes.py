"""A figure's size in the scene: its stride grows with it, and its feet hold."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core.clock import Span
from elastic_core.cycle.feet import steps_of_plant
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.figures import SetMark, SetSize
from elastic_core.scene.edits.joins import NailStint, PlaceJoin
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.held import lane_plants
from elastic_core.scene.join_report import join_report
from elastic_core.scene.join_search import pair_at
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
