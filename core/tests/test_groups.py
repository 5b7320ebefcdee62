"""A run of stints kept as one plays exactly as it lay, and follows its parts (rule 9.4)."""

from fractions import Fraction

import numpy as np
import pytest

from demo.production import demo
from elastic_core.clock import Span
from elastic_core.cycle.feet import steps_of_plant
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.fit import fit
from elastic_core.moments import source
from elastic_core.scene.alone import alone
from elastic_core.scene.cast import BodyTarget, SceneSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.groups import UseGroup, grouped
from elastic_core.scene.edits.joins import SetJoin
from elastic_core.scene.edits.paste import CopiedStint, PasteStints
from elastic_core.scene.edits.stints import MoveStint, StretchStint
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.held import lane_plants
from elastic_core.scene.material import Material
from elastic_core.scene.part import ScenePart
from elastic_core.scene.staging import staged_with

DEMO = demo()
FRAMES = np.arange(288.0)


def kept(*stints: str) -> tuple[Scene, Scene, Material]:
    """The demo with a run of Odo's stints as a group, the group, and what it is made of."""
    inner = grouped(DEMO.scene, stints, "Rounds")
    named = SceneSource(id="rounds", figure="odo")
    part = ScenePart(inner, DEMO.material, inner.figure("odo"))
    material = Material(DEMO.figures, {**DEMO.material.performances, named: part})
    use = UseGroup(stints=stints, stint="group", source=named)
    return apply_edit(DEMO.scene, use, material).scene, inner, material


@pytest.mark.parametrize(
    ("stints", "most_metres"),
    [
        (("amble", "hurry"), 1e-9),
        (("stand-1", "look-back"), 1e-9),
        (("hurry",), 1e-9),
        (("stand-1", "look-back", "amble", "hurry", "reach", "stand-2"), 1e-9),
        # A foot stands through a join of the group and through the one at its end: where it stands is
        # read before the first join in one stint after another, before the last one from the group.
        (("amble", "hurry", "reach"), 0.001),
    ],
)
def test_a_group_plays_exactly_as_it_lay(stints: tuple[str, ...], most_metres: float) -> None:
    scene, _, material = kept(*stints)
    before = figure_motion(DEMO.scene, DEMO.material, DEMO.scene.figures[0], FRAMES)
    after = figure_motion(scene, material, scene.figures[0], FRAMES)
    assert np.abs(after.travel - before.travel).max() < 1e-9
    assert np.abs(after.root_move - before.root_move).max() < 1e-9
    odo = DEMO.figures["odo"]
    there, here = (forward(odo, one).positions for one in (before, after))
    assert np.linalg.norm(here - there, axis=-1).max() < most_metres


def test_a_group_is_one_stint_with_its_joins_and_its_plants() -> None:
    scene, inner, material = kept("amble", "hurry")
    lane = scene.lane("odo-body")
    assert [stint.id for stint in lane.stints] == [
        "stand-1",
        "look-back",
        "group",
        "reach",
        "stand-2",
    ]
    group = scene.find("group")[1]
    assert (group.start, group.end) == (90, 230)
    assert group.holds_join
    assert group.alignment.plant == "left"
    assert [stint.start for stint in inner.lanes[0].stints] == [0, 72]
    assert (inner.laid_frames, inner.figures[0].mark) == (140, (0.0, 0.0, 0.0))
    shown = next(s for s in desk_of(scene, material).lanes[0].stints if s.id == "group")
    assert shown.name == "Rounds, Odo"
    assert {plant.side for plant in shown.plants} == {"left", "right"}


def test_a_group_follows_its_parts() -> None:
    _, inner, material = kept("amble", "hurry")
    changed = apply_edit(inner, SetJoin(stint="hurry", shape="late"), material).scene
    named = SceneSource(id="rounds", figure="odo")
    part = ScenePart(changed, DEMO.material, changed.figure("odo"))
    scene, _, _ = kept("amble", "hurry")
    live = Material(DEMO.figures, {**DEMO.material.performances, named: part})
    before = figure_motion(scene, material, scene.figures[0], FRAMES)
    after = figure_motion(scene, live, scene.figures[0], FRAMES)
    assert np.abs(after.rotations[160:172] - before.rotations[160:172]).max() > 0.01
    assert np.array_equal(after.rotations[:80], before.rotations[:80])


def test_what_is_no_run_says_why() -> None:
    with pytest.raises(Refusal, match="there is a stint between"):
        grouped(DEMO.scene, ["amble", "reach"], "No")
    with pytest.raises(Refusal, match="on one lane"):
        grouped(DEMO.scene, ["amble", "flap-1"], "No")
    scene, _, material = kept("amble", "hurry")
    moved = apply_edit(scene, MoveStint(stint="group", start=95), material).scene
    assert moved.find("group")[1].start == 95


def on_tilda(material: Material) -> Scene:
    """The group that was kept, pasted onto a lane of Tilda's."""
    odo, tilda = DEMO.figures["odo"], DEMO.figures["tilda"]
    stint = Stint(id="g", source=SceneSource(id="rounds", figure="odo"), start=0, length_frames=140)
    lane = Lane(id="l", name="Body", target=BodyTarget(figure="t"))
    scene = Scene(
        name="Ferry",
        rate="24",
        laid_frames=140,
        played_frames=140,
        figures=(SceneFigure(id="t", name="Tilda", figure="tilda"),),
        lanes=(lane,),
    )
    paste = PasteStints(
        copies=(CopiedStint(stint=stint, row=0),),
        rate=Fraction(24),
        frame=0,
        lane="l",
        mapping=fit(odo, tilda).mapping(),
    )
    return apply_edit(scene, paste, material).scene


def test_a_group_plays_on_another_figure_with_its_joins_and_feet_that_stand() -> None:
    _, inner, material = kept("amble", "hurry")
    scene = on_tilda(material)
    odo, tilda = DEMO.figures["odo"], DEMO.figures["tilda"]
    (stint,) = scene.lanes[0].stints
    assert stint.holds_feet
    frames = np.arange(139.0)
    part = material.performance(SceneSource(id="rounds", figure="odo"))
    assert isinstance(part, ScenePart)
    theirs = part.at(source(frames)).travel
    ratio = fit(odo, tilda).leg_ratio
    travel = figure_motion(scene, material, scene.figures[0], frames).travel
    assert travel[:, :2] - travel[0, :2] == pytest.approx(
        ratio * (theirs[:, :2] - theirs[0, :2]), abs=1e-9
    )
    stage, lane = staged_with(scene, material, scene.lanes[0])
    shown = alone(stage, lane, Span(0, 139))
    for plant in lane_plants(lane, Span(4, 135)):
        assert steps_of_plant(tilda, shown.placed, plant).sum() < 0.01
    desk = desk_of(scene, material).lanes[0].stints[0]
    assert desk.dropped == ["pole"]
    # It is live: what is changed in the group is changed here.
    slower = apply_edit(inner, StretchStint(stint="amble", length_frames=90), material).scene
    other = ScenePart(slower, DEMO.material, slower.figure("odo"))
    performances = {**material.performances, SceneSource(id="rounds", figure="odo"): other}
    changed = Material(material.figures, performances)
    after = figure_motion(scene, changed, scene.figures[0], frames).travel
    assert np.abs(after - travel).max() > 0.2


def test_a_group_of_another_figure_is_not_pasted_without_a_fit() -> None:
    _, _, material = kept("amble", "hurry")
    scene = on_tilda(material)
    bare = scene.figures[0].model_copy(update={"fits": ()})
    unfitted = scene.model_copy(update={"figures": (bare,)})
    with pytest.raises(Refusal, match="was made for another figure"):
        figure_motion(unfitted, material, bare, np.arange(4.0))
