"""Where drawings stand on a face that nobody has placed them on, and lids for it."""

import pytest

from elastic_core.figure import Figure, Joint
from elastic_core.voice.blinks import Blink, eyes
from elastic_core.voice.chart import MouthChart
from elastic_core.voice.faces import lids, proposed_place, usual_eyes

from .motions import material, turning_cycle

KEEPER = material(turning_cycle(length=20)).figures["keeper"]


def test_a_mouth_stands_before_the_head_and_eyes_over_it() -> None:
    tall = KEEPER.height_metres
    mouth, both = (proposed_place(KEEPER, part) for part in ("mouth", "eyes"))
    assert mouth.joint == both.joint == "head"
    assert mouth.offset == pytest.approx((0, 0, 0.08 * tall), abs=1e-4)
    assert mouth.width_metres == pytest.approx(0.08 * tall, abs=1e-4)
    assert both.offset[1] == pytest.approx(0.065 * tall, abs=1e-4)


def test_a_figure_without_a_known_head_has_it_on_its_last_joint() -> None:
    post = Figure(
        name="Post",
        joints=(
            Joint(name="foot", parent=-1, offset=(0.0, 0.0, 0.0)),
            Joint(name="top", parent=0, offset=(0.0, 2.0, 0.0)),
        ),
    )
    place = proposed_place(post, "mouth")
    assert (place.joint, place.offset) == ("top", (0.0, 0.0, 0.16))


def test_our_eyes_are_what_blinks_are_exposed_by() -> None:
    chart = MouthChart(name="Eyes", part="eyes", mouths=usual_eyes())
    shown = eyes((Blink(frame=4, length=4),), 12)
    assert {one.mouth for one in shown} <= set(chart.by_key)
    assert {one.drawing for one in shown} == {1, 2, 3}
    # A lid that is all the way down reaches to the lower edge of the eye.
    lowest = {share: min(y for x, y in lids(share)[0].points) for share in (0.0, 0.5, 1.0)}
    assert lowest[0.0] == pytest.approx(0.24)
    assert lowest[0.5] == pytest.approx(0.0, abs=1e-9)
    assert lowest[1.0] == pytest.approx(-0.24)
