"""A clip made for another figure plays on Odo once it is fitted (rules 2.4 and 5.5)."""

from dataclasses import replace

import numpy as np
import pytest

from demo.production import demo
from elastic_core.anatomy import leg_length_metres
from elastic_core.clip.playable import PlayableClip
from elastic_core.clock import Span
from elastic_core.cycle.feet import steps_of_plant
from elastic_core.errors import Refusal
from elastic_core.fit import fit
from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import Wanted, bring_in
from elastic_core.scene.alone import alone
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.checks import marks_of
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.figures import FitClips
from elastic_core.scene.edits.joins import LayNext
from elastic_core.scene.edits.stints import PlaceStint, RepeatStint
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.held import lane_plants
from elastic_core.scene.join_report import join_report
from elastic_core.scene.material import Material
from elastic_core.scene.staging import staged_with

from .makes import colons_make

DEMO = demo()
ODO, TILDA = DEMO.figures["odo"], DEMO.figures["tilda"]


def foreign() -> tuple[PlayableClip, Material]:
    figure, clip = bring_in(bvh.read(colons_make()), Wanted(name="Harbour walk"), "stranger")
    clips = [*DEMO.clips.items(), ("harbour", clip)]
    return clip, Material.of_clips({**DEMO.figures, "stranger": figure}, clips)


CLIP, MATERIAL = foreign()
STRANGER = MATERIAL.figures["stranger"]
FIT = fit(STRANGER, ODO, ODO.spellings)
PLACE = PlaceStint(
    stint="walk",
    source=ClipSource(id="harbour"),
    start=0,
    lane="l",
    mapping=FIT.mapping(),
)


def empty() -> Scene:
    return Scene(
        name="Test",
        rate="24",
        laid_frames=120,
        played_frames=120,
        figures=(SceneFigure(id="o", name="Odo", figure="odo"),),
        lanes=(Lane(id="l", name="Body", target=BodyTarget(figure="o")),),
    )


def fitted() -> Scene:
    return apply_edit(empty(), PLACE, MATERIAL).scene


def test_without_a_fit_it_is_refused_and_with_one_it_is_one_step() -> None:
    bare = PLACE.model_copy(update={"mapping": None})
    with pytest.raises(Refusal, match="“Harbour walk” moves"):
        apply_edit(empty(), bare, MATERIAL)
    done = apply_edit(empty(), PLACE, MATERIAL)
    assert done.label == "Place Harbour walk"
    assert done.scene.find("walk")[1].holds_feet
    # The next one from the same figure plays without being asked again.
    again = bare.model_copy(update={"stint": "again", "start": 60})
    assert apply_edit(done.scene, again, MATERIAL).scene.find("again")[1].start == 60


def test_feet_stand_on_the_ground_and_the_path_is_as_long_as_his_legs() -> None:
    """Done when 6: slides under 1 cm, feet on the ground."""
    found = fit(TILDA, ODO)
    place = PlaceStint(
        stint="walk",
        source=ClipSource(id="Brisk"),
        start=0,
        lane="l",
        mapping=found.mapping(),
    )
    scene = apply_edit(empty(), place, MATERIAL).scene
    scene = apply_edit(scene, RepeatStint(stint="walk", cycles=4), MATERIAL).scene
    stage, lane = staged_with(scene, MATERIAL, scene.lane("l"))
    shown = alone(stage, lane, Span(0, 80))
    plants = lane_plants(lane, Span(4, 76))
    assert {plant.side for plant in plants} == {"left", "right"}
    for plant in plants:
        assert steps_of_plant(ODO, shown.placed, plant).sum() < 0.01
    marks = marks_of(scene, MATERIAL, scene.lane("l"), Span(0, 80))
    assert {mark.kind for mark in marks} == {"dropped"}
    assert found.dropped == ("braid", "lantern")
    assert found.rests == ("pole",)
    assert found.leg_ratio == pytest.approx(leg_length_metres(ODO) / leg_length_metres(TILDA))
    travel = figure_motion(scene, MATERIAL, scene.figures[0], np.arange(81.0)).travel
    period = DEMO.clips["Brisk"].clip.period
    assert travel[60, 1] == pytest.approx(3 * found.leg_ratio * period[1], rel=1e-6)


def test_what_is_dropped_is_told_on_the_desk_and_in_the_strip() -> None:
    scene = fitted()
    stint = desk_of(scene, MATERIAL).lanes[0].stints[0]
    assert set(stint.dropped) == set(STRANGER.names) - set(FIT.mapping())
    assert "pole" in stint.rests
    marks = marks_of(scene, MATERIAL, scene.lane("l"), Span(0, 120))
    dropped = [mark for mark in marks if mark.kind == "dropped"]
    assert [(mark.frame, mark.amount, mark.unit) for mark in dropped] == [
        (0, len(stint.dropped), "channels")
    ]
    assert {plant.ankle for plant in stint.plants} <= {"l_ankle", "r_ankle"}


def test_a_changed_fit_changes_what_plays() -> None:
    scene = fitted()
    before = figure_motion(scene, MATERIAL, scene.figures[0], np.arange(30.0))
    less = {theirs: own for theirs, own in FIT.mapping().items() if own != "head"}
    edit = FitClips(figure="o", clip="harbour", mapping=less)
    done = apply_edit(scene, edit, MATERIAL)
    assert done.label == "Fit the clips of Harbour walk to Odo"
    after = figure_motion(done.scene, MATERIAL, scene.figures[0], np.arange(30.0))
    assert after.frames == before.frames
    changed = figure_motion(done.scene, MATERIAL, done.scene.figures[0], np.arange(30.0))
    head = ODO.place_of("head")
    assert np.array_equal(
        changed.rotations[:, head], np.tile(ODO.rest_motion.rotations[0, head], (30, 1))
    )
    doubled = dict.fromkeys(list(FIT.mapping())[:2], "head")
    with pytest.raises(Refusal, match="Two joints of the clip would play"):
        apply_edit(scene, edit.model_copy(update={"mapping": doubled}), MATERIAL)
    with pytest.raises(Refusal, match="was made for Odo: nothing has to be fitted"):
        apply_edit(scene, edit.model_copy(update={"clip": "Amble"}), MATERIAL)


def test_a_fitted_clip_is_joined_as_any_other() -> None:
    scene = apply_edit(
        empty(), PlaceStint(stint="a", source=ClipSource(id="Amble"), start=0, lane="l"), MATERIAL
    ).scene
    lay = LayNext(stint="walk", source=ClipSource(id="harbour"), after="a", mapping=FIT.mapping())
    joined = apply_edit(scene, lay, MATERIAL).scene
    report = join_report(joined, MATERIAL, "walk")
    assert report.slide.amount < 0.5
    assert not report.swapped
    # Another clip of the same making is another clip.
    twin = replace(CLIP, clip=CLIP.clip.model_copy(update={"name": "Twin"}))
    clips = [*MATERIAL.clips.items(), ("twin", twin)]
    wider = Material.of_clips(MATERIAL.figures, clips)
    assert isinstance(wider.performance(ClipSource(id="twin")), PlayableClip)
    assert isinstance(joined.find("walk")[1], Stint)


def test_a_foot_that_rolls_takes_over_from_one_that_does_not() -> None:
    """Odo's standing foot is held on its toes, Tilda's rolls: one leg has plants of both kinds."""
    stand = PlaceStint(stint="a", source=ClipSource(id="Stand"), start=0, lane="l")
    scene = apply_edit(empty(), stand, MATERIAL).scene
    lay = LayNext(
        stint="walk", source=ClipSource(id="Brisk"), after="a", mapping=fit(TILDA, ODO).mapping()
    )
    scene = apply_edit(scene, lay, MATERIAL).scene
    scene = apply_edit(scene, RepeatStint(stint="walk", cycles=2), MATERIAL).scene
    stage, lane = staged_with(scene, MATERIAL, scene.lane("l"))
    start = scene.find("walk")[1].start
    plants = lane_plants(lane, Span(start, start + 30))
    assert {plant.rolls for plant in plants} == {True, False}
    shown = alone(stage, lane, Span(0, start + 40))
    for plant in plants:
        assert steps_of_plant(ODO, shown.placed, plant).sum() < 0.002


def test_a_standing_figure_steps_off_on_one_foot_where_both_would_slide() -> None:
    """Laid next to a stand, a wide walk begins where one foot stands and the other is in the air."""
    lay = LayNext(
        stint="walk",
        source=ClipSource(id="Brisk"),
        after="stand-2",
        mapping=fit(TILDA, ODO).mapping(),
    )
    scene = apply_edit(DEMO.scene, lay, MATERIAL).scene
    assert scene.find("walk")[1].alignment.plant in ("left", "right")
    report = join_report(scene, MATERIAL, "walk")
    assert (report.slide.amount < 0.5, report.jump.amount < 8) == (True, True)
    marks = marks_of(scene, MATERIAL, scene.lanes[0], Span(0, scene.laid_frames))
    assert {mark.kind for mark in marks} == {"dropped"}
