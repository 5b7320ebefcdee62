"""Files of other makes, from import to a looped and joined scene and out again."""

import numpy as np
import pytest

from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import Wanted, bring_in
from elastic_core.formats.bvh_motion import positions_in_file_units
from elastic_core.formats.scene_bvh import scene_bvh
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.material import Material

from .makes import colons_make, slow_make, tabs_make
from .test_bvh import independent_positions

MAKES = {"slow": (slow_make, 31, 120), "tabs": (tabs_make, 19, 30), "colons": (colons_make, 55, 60)}


@pytest.mark.parametrize("make", MAKES)
def test_what_comes_out_is_what_the_scene_showed(make: str) -> None:
    made, joints, rate = MAKES[make]
    file = bvh.read(made())
    assert (len(file.joints), float(file.rate)) == (joints, rate)
    difference = positions_in_file_units(file).positions - independent_positions(file)
    assert np.abs(difference).max() < 1e-6
    figure, playable = bring_in(file, Wanted(name=make, is_cycle=True), "f")
    assert 1.2 < figure.height_metres < 2.3
    stints = (
        Stint(id="a", source=ClipSource(id="c"), start=0, length_frames=100),
        Stint(id="b", source=ClipSource(id="c"), start=88, length_frames=112, in_frame=7.0),
    )
    scene = Scene(
        name="Make",
        rate="24",
        laid_frames=200,
        played_frames=200,
        figures=(SceneFigure(id="k", name=make, figure="f", mark=(2.0, 1.0, 0.4)),),
        lanes=(Lane(id="l", name="Body", target=BodyTarget(figure="k"), stints=stints),),
    )
    material = Material.of_clips({"f": figure}, {"c": playable}.items())
    shown = frames_of(scene, material, np.arange(200.0))[0].placed.positions
    back = bvh.read(bvh.write(scene_bvh(scene, material, "k")).encode())
    assert [joint.name for joint in back.joints] == list(figure.names)
    assert np.abs(positions_in_file_units(back).positions - shown).max() < 1e-4
