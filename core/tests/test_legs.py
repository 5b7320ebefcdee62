"""Legs set by hand on a figure whose names say nothing (rule 5.5)."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core.anatomy import legs_of
from elastic_core.body import body_of
from elastic_core.cycle.feet import hold_feet, steps_of_plant
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, forward
from elastic_core.legs import with_legs
from elastic_core.moments import source

DEMO = demo()
ODO = DEMO.figures["odo"]


def nameless() -> Figure:
    """Odo with joints that only have numbers, and a third leg's worth of joints too many to guess."""
    numbers = {joint.name: f"b{place}" for place, joint in enumerate(ODO.joints)}
    joints = tuple(
        joint.model_copy(update={"name": numbers[joint.name], "mirror": None, "side": "middle"})
        for joint in ODO.joints
    )
    return Figure(name="Nameless", joints=joints)


NAMELESS = nameless()
LEFT, RIGHT = (NAMELESS.names[ODO.place_of(name)] for name in ("l_ankle", "r_ankle"))


def test_a_foot_names_the_two_bones_above_it_and_the_toe_below() -> None:
    figure = with_legs(NAMELESS, {"left": LEFT, "right": RIGHT})
    assert [(leg.side, leg.thigh, leg.shin, leg.foot, leg.toe) for leg in legs_of(figure)] == [
        (leg.side, leg.thigh, leg.shin, leg.foot, leg.toe) for leg in legs_of(ODO)
    ]
    body = body_of(figure)
    assert (body.feet, body.legs_by_hand) == ({"left": LEFT, "right": RIGHT}, True)
    assert Figure.model_validate_json(figure.model_dump_json()) == figure
    read_again = body_of(with_legs(figure, {}))
    assert not read_again.legs_by_hand


def test_what_was_set_stands_instead_of_what_names_say() -> None:
    figure = with_legs(ODO, {"left": "l_wrist"})
    assert [figure.names[leg.foot] for leg in legs_of(figure)] == ["l_wrist"]
    assert [ODO.names[leg.foot] for leg in legs_of(ODO)] == ["l_ankle", "r_ankle"]


def test_feet_are_held_on_legs_that_were_set() -> None:
    """An amble played at nine tenths of its stride: held feet slide less than 2 mm."""
    figure = with_legs(NAMELESS, {"left": LEFT, "right": RIGHT})
    motion = DEMO.clips["Amble"].at(source(np.arange(24)))
    slow = motion.carried(motion.travel * np.array([1.0, 0.9, 1.0]))
    plants = [
        plant.model_copy(update={"joint": NAMELESS.names[ODO.place_of(plant.joint)]})
        for plant in DEMO.clips["Amble"].plants
        if plant.end <= 24
    ]
    assert plants
    held = hold_feet(figure, slow, plants, None).motion
    for plant in plants:
        before = steps_of_plant(figure, forward(figure, slow), plant).sum()
        assert steps_of_plant(figure, forward(figure, held), plant).sum() < 0.002 < before


@pytest.mark.parametrize(
    ("feet", "says"),
    [
        ({"left": "hips"}, "too near the root"),
        ({"left": "l_ankle", "right": "l_ankle"}, "would share"),
        ({"left": "l_ankle", "right": "l_toe"}, "would share"),
        ({"left": "gone"}, "no joint called"),
    ],
)
def test_what_is_no_leg_is_refused(feet: dict[str, str], says: str) -> None:
    with pytest.raises(Refusal, match=says):
        with_legs(ODO, feet)  # type: ignore[arg-type]
