"""Crossing the stage: from here to there in so many frames, and no foot slides (rules 4.4, 5.5)."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from demo.production import demo
from elastic_core.clock import Span
from elastic_core.cycle.feet import steps_of_plant
from elastic_core.errors import Refusal
from elastic_core.scene.alone import alone
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.checks import marks_of
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.crossing import CrossStage
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.held import lane_plants
from elastic_core.scene.staging import staged_with
from elastic_core.scene.timing import mean_pace

DEMO = demo()
ODO, MATERIAL = DEMO.figures["odo"], DEMO.material
STRIDE = 1.12


def stage(*clips: str, size: float = 1.0) -> Scene:
    stints = tuple(
        Stint(id=f"s{k}", source=ClipSource(id=clip), start=40 * k, length_frames=40, in_frame=3)
        for k, clip in enumerate(clips)
    )
    member = SceneFigure(id="o", name="Odo", figure="odo", mark=(0.5, 0.3, 1.0), size=size)
    return Scene(
        name="Test",
        rate="24",
        laid_frames=240,
        played_frames=240,
        figures=(member,),
        lanes=(Lane(id="l", name="Body", target=BodyTarget(figure="o"), stints=stints),),
    )


def where(scene: Scene, frames: list[float]) -> np.ndarray:
    return figure_motion(scene, MATERIAL, scene.figures[0], np.array(frames)).travel[:, :2]


def ends(scene: Scene, start: int, end: int) -> np.ndarray:
    """Where a walk begins, and where it is as the next stint would begin."""
    first, before, last = where(scene, [float(start), end - 2.0, end - 1.0])
    return np.array([first, last + (last - before)])


@settings(max_examples=25)
@given(
    start=st.tuples(st.floats(-4, 4), st.floats(-4, 4)),
    heading=st.floats(-3.1, 3.1),
    metres=st.floats(2.5, 8),
    frames=st.integers(80, 160),
    size=st.sampled_from([0.7, 1.0, 1.4]),
    stride=st.sampled_from(["made", "fitted"]),
)
def test_it_goes_from_here_to_there(
    start: tuple[float, float],
    heading: float,
    metres: float,
    frames: int,
    size: float,
    stride: str,
) -> None:
    to = (start[0] + metres * np.sin(heading), start[1] + metres * np.cos(heading))
    edit = CrossStage.model_validate(
        {"stint": "s0", "start": start, "to": to, "frames": frames, "stride": stride}
    )
    try:
        scene = apply_edit(stage("Amble", size=size), edit, MATERIAL).scene
    except Refusal:
        # Too far or too near for the time: then it would be another walk.
        natural = STRIDE * size * frames / 24
        assert not 0.6 * natural < metres < 1.4 * natural
        return
    assert ends(scene, 0, frames) == pytest.approx(np.array([start, to]), abs=1e-6)
    seen = where(scene, [float(f) for f in range(frames)])
    # Straight on, and evenly.
    steps = np.linalg.norm(np.diff(seen, axis=0), axis=-1)
    assert np.ptp(steps) < 0.2 * steps.mean()
    assert scene.figures[0].mark[:2] == pytest.approx(start)


@pytest.mark.parametrize(("stride", "metres"), [("made", 5.0), ("fitted", 5.0), ("fitted", 3.6)])
def test_no_foot_slides_whatever_its_stride(stride: str, metres: float) -> None:
    edit = CrossStage.model_validate(
        {"stint": "s0", "start": (0, 0), "to": (0, metres), "frames": 96, "stride": stride}
    )
    scene = apply_edit(stage("Amble"), edit, MATERIAL).scene
    staged, lane = staged_with(scene, MATERIAL, scene.lanes[0])
    shown = alone(staged, lane, Span(0, 96))
    plants = lane_plants(lane, Span(2, 94))
    assert len(plants) >= 6
    for plant in plants:
        assert steps_of_plant(ODO, shown.placed, plant).sum() < 0.002
    assert marks_of(scene, MATERIAL, scene.lanes[0], Span(0, 96)) == []


def test_as_made_the_pace_changes_and_fitted_the_stride() -> None:
    made = CrossStage(stint="s0", start=(0, 0), to=(0, 5 * STRIDE), frames=100)
    done = apply_edit(stage("Amble"), made, MATERIAL)
    walks = done.scene.lanes[0].stints[0]
    assert (walks.stride, walks.holds_feet) == (1.0, True)
    assert mean_pace(walks) == pytest.approx(5 * 24 / 100)
    assert done.label == "Amble crosses the stage in 100 frames"
    assert done.notes == ("5 rounds at 120 % of its pace; its stride stays 1.12 m.",)
    fitted = made.model_copy(update={"stride": "fitted", "frames": 96.0})
    done = apply_edit(stage("Amble"), fitted, MATERIAL)
    walks = done.scene.lanes[0].stints[0]
    assert (walks.stride, walks.holds_feet) == (pytest.approx(5 / 4), True)
    assert mean_pace(walks) == pytest.approx(1)
    assert done.notes == ("4 rounds; its stride is 1.40 m, 125 % of what it was made.",)
    # A round of its own again, whatever stride it had.
    again = apply_edit(done.scene, made, MATERIAL).scene.lanes[0].stints[0]
    assert (again.stride, again.length_frames) == (1.0, 100.0)


def test_a_later_stint_is_nailed_down_and_the_one_before_stays() -> None:
    scene = stage("Stand", "Amble")
    before = where(scene, [0.0, 20.0])
    edit = CrossStage(stint="s1", start=(2, 1), to=(5, 5), frames=100, ripple=True)
    done = apply_edit(scene, edit, MATERIAL).scene
    assert ends(done, 40, 140) == pytest.approx(np.array([[2, 1], [5, 5]]), abs=1e-6)
    assert np.array_equal(where(done, [0.0, 20.0]), before)
    assert done.figures == scene.figures


def test_what_crosses_nothing_is_refused() -> None:
    edit = CrossStage(stint="s0", start=(0, 0), to=(0, 4), frames=90)
    cases = [
        ("Stand", edit, "“Stand” is no straight walk"),
        ("Reach and light", edit, "is no straight walk"),
        ("Amble", edit.model_copy(update={"to": (0.0, 0.0)}), "no way to go"),
        ("Amble", edit.model_copy(update={"frames": 12.0}), "at 714 % of its pace"),
        ("Amble", edit.model_copy(update={"frames": 24.0, "stride": "fitted"}), "would be 357 %"),
    ]
    for clip, wanted, says in cases:
        with pytest.raises(Refusal, match=says):
            apply_edit(stage(clip), wanted, MATERIAL)
