"""The gull and the capstan, by number."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core import rotation
from elastic_core.cycle.seam import seam_report
from elastic_core.figure import forward
from elastic_core.moments import source

DEMO = demo()


@pytest.mark.parametrize("name", ["Flap", "Glide", "Turn"])
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
