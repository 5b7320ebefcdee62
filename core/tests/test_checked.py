"""What is saved is checked anew: copies are given what they are given without a question."""

import pytest

from demo.production import demo
from elastic_core.errors import Refusal

from .test_every_edit import START

AMBLE = demo().clips["Amble"].clip


def test_a_good_document_comes_out_as_it_was() -> None:
    for document in (START, AMBLE, demo().figures["odo"]):
        assert document.checked() == document
    # Curves are checked as they are made, and are not made again.
    name = next(iter(AMBLE.keys))
    assert AMBLE.checked().keys[name] is AMBLE.keys[name]


def test_a_copy_that_breaks_a_rule_of_its_model_is_refused() -> None:
    lane = START.lanes[0]
    stint = lane.stints[0].model_copy(update={"start": float("nan")})
    deep = lane.model_copy(update={"stints": (stint, *lane.stints[1:])})
    broken = [
        (START.model_copy(update={"laid_frames": 10**9}), "Length is at the most 200,000 frames."),
        (START.model_copy(update={"lanes": (deep,)}), "Start is a plain number."),
        (
            AMBLE.model_copy(update={"period": (0.0, 1e300, 0.0)}),
            "Period is at the most 1,000,000.",
        ),
    ]
    for document, says in broken:
        with pytest.raises(Refusal) as refused:
            document.checked()
        assert str(refused.value) == says
