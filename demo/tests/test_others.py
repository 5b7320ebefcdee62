"""The gull, the capstan and Tilda, by number."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core import rotation
from elastic_core.cycle.feet import steps_of_plant
from elastic_core.cycle.seam import seam_report
from elastic_core.figure import forward
from elastic_core.moments import source

DEMO = demo()


@pytest.mark.parametrize("name", ["Flap", "Glide", "Turn", "Brisk"])
def test_their_cycles_close(name: str) -> None:
    clip = DEMO.clips[name]
    report = seam_report(DEMO.figures[clip.clip.figure], clip)
    assert report.grade == "closed"


def test_the_capstan_turns_at_one_speed_without_a_pause_for_ten_rounds() -> None:
    turn, capstan = DEMO.clips["Turn"], DEMO.figures["capstan"]
    drum = capstan.place_of("drum")
    poses = turn.at(source(np.arange(960)))
    steps = rotation.angle_between(poses.rotations[1:, drum], poses.rotations[:-1, drum])
    assert np.degrees(steps) == pytest.approx(np.full(959, 360 / 96), abs=1e-9)


def test_the_gulls_wings_beat_alike_and_he_stays_in_the_air() -> None:
    flap, gull = DEMO.clips["Flap"], DEMO.figures["gull"]
    placed = forward(gull, flap.at(source(np.arange(12)))).positions
    left, right = placed[:, gull.place_of("l_tip")], placed[:, gull.place_of("r_tip")]
    assert np.abs(left[:, 1] - right[:, 1]).max() < 1e-9
    assert np.ptp(left[:, 1]) > 0.4
    assert placed[..., 1].min() > 1.0


def test_tilda_stands_on_the_ground_and_no_foot_of_hers_slides() -> None:
    brisk, tilda = DEMO.clips["Brisk"], DEMO.figures["tilda"]
    placed = forward(tilda, brisk.at(source(np.arange(40))))
    assert {plant.side for plant in brisk.plants} == {"left", "right"}
    for plant in brisk.plants:
        assert steps_of_plant(tilda, placed, plant).sum() < 0.001
    # The lantern hangs straight down.
    up = rotation.rotate(placed.rotations[:, tilda.place_of("lantern")], np.array([0.0, 1.0, 0.0]))
    assert up[:, 1].min() > np.cos(np.radians(8))
