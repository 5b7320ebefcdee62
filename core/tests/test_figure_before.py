"""While one figure is drawn the others are not worked out anew; whatever they come from, they are."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from demo.production import demo
from elastic_core.elastic import Elastic
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.figures import SetMark, SetRest, SetSize
from elastic_core.scene.edits.fixes import AddFixLane
from elastic_core.scene.edits.lanes import SetLane
from elastic_core.scene.edits.stints import SlipStint
from elastic_core.scene.evaluate import FigureFrames, frames_of
from elastic_core.scene.material import Material

DEMO = demo()
FRAMES = np.arange(100.0, 148.0)
ODO, GULL = 0, 1


def shown(scene: Scene, material: Material = DEMO.material, by: float = 0.0) -> list[FigureFrames]:
    return frames_of(scene, material, FRAMES + by)


def after(*edits: SceneEdit) -> Scene:
    scene = DEMO.scene
    for edit in edits:
        scene = apply_edit(scene, edit, DEMO.material).scene
    return scene


def test_only_the_figure_that_is_drawn_is_worked_out_anew() -> None:
    before = shown(DEMO.scene)
    drawn = shown(after(SlipStint(stint="hurry", source_frames=0.5)))
    assert drawn[GULL] is before[GULL]
    assert drawn[ODO] is not before[ODO]
    assert shown(DEMO.scene)[ODO] is before[ODO]


@pytest.mark.parametrize(
    "edit",
    [
        SetMark(figure="gull", mark=(1.0, 0.0, 0.0)),
        SetSize(figure="gull", size=1.2),
        SetRest(figure="gull", clip="Glide", frame=3),
        SetLane(lane="gull-body", muted=True),
        SetLane(lane="odo-body", soloed=True),
        AddFixLane(figure="gull"),
        SlipStint(stint="flap-1", source_frames=1),
    ],
)
def test_whatever_it_comes_from_makes_another_picture(edit: SceneEdit) -> None:
    before = shown(DEMO.scene)
    assert shown(after(edit))[GULL] is not before[GULL]


def test_other_frames_other_time_and_other_material_are_another_picture() -> None:
    before = shown(DEMO.scene)[GULL]
    assert shown(DEMO.scene, by=0.5)[GULL] is not before
    slowed = DEMO.scene.model_copy(update={"elastic": Elastic.at_pace(0.5)})
    assert shown(slowed)[GULL] is not before
    faster = DEMO.scene.model_copy(update={"rate": Fraction(25)})
    assert shown(faster)[GULL] is not before
    flap = ClipSource(id="Flap")
    changed = replace(DEMO.clips["Flap"], clip=DEMO.clips["Flap"].clip)
    material = Material(DEMO.figures, {**DEMO.material.performances, flap: changed})
    assert shown(DEMO.scene, material)[GULL] is not before
    figures = {**DEMO.figures, "gull": DEMO.figures["gull"].model_copy()}
    assert shown(DEMO.scene, Material(figures, DEMO.material.performances))[GULL] is not before


def test_long_runs_are_not_kept() -> None:
    long = np.arange(0.0, 288.0)
    assert (
        frames_of(DEMO.scene, DEMO.material, long)[GULL]
        is not (frames_of(DEMO.scene, DEMO.material, long)[GULL])
    )
