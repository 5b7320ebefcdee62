"""What a model complains of is told in plain sentences (rule 8.3)."""

from typing import Any

import pytest
from pydantic import BaseModel, ValidationError

from elastic_core.beats import AddBeat
from elastic_core.clip.edits.pose import Favour
from elastic_core.cycle.starter import Gait
from elastic_core.elastic import Elastic
from elastic_core.errors import Refusal, in_words
from elastic_core.exposure import Exposure

NAN = float("nan")


@pytest.mark.parametrize(
    ("model", "wanted", "says"),
    [
        (Gait, {"stride_metres": 9}, "Stride is at the most 6 metres."),
        (Gait, {"frames_per_step": 1}, "Frames per step are at the least 4."),
        (Gait, {"down_share": 0.1}, "Down share is at the least 0.25."),
        (
            Favour,
            {"frame": 1, "share": 0, "fence_frames": 0},
            "Fence is more than 0 frames.",
        ),
        (Gait, {"lean_degrees": "up"}, "Lean degrees is a plain number."),
        (AddBeat, {"name": "x", "start": 0, "end": 2}, "Beat is missing."),
        (
            AddBeat,
            {"beat": "x" * 41, "name": "x", "start": 0, "end": 2},
            "Beat has at the most 40 ",
        ),
        (AddBeat, {"beat": "", "name": "x", "start": 0, "end": 2}, "Beat is empty."),
        (AddBeat, {"beat": 3, "name": "x", "start": 0, "end": 2}, "Beat is a text."),
        (
            AddBeat,
            {"beat": "b", "name": "x", "start": 1e7, "end": 2},
            "Start is at the most 1,000,000.",
        ),
        (AddBeat, {"beat": "b", "name": "x", "start": NAN, "end": 2}, "Start is a plain number."),
        (AddBeat, {"beat": "b", "name": "x", "start": 0, "end": 2, "hue": 1}, "Hue means nothing "),
        (Exposure, {"pattern": []}, "Pattern is empty."),
        (Exposure, {"pattern": [0]}, "Pattern is at the least 1."),
        (Exposure, {"pattern": [1.5]}, "Pattern is a whole number."),
        (Exposure, {"pattern": 2}, "Pattern is a list of another kind."),
    ],
)
def test_complaints_are_sentences(
    model: type[BaseModel], wanted: dict[str, Any], says: str
) -> None:
    with pytest.raises(ValidationError) as found:
        model.model_validate(wanted)
    sentence = in_words(found.value.errors()[0])
    assert sentence.startswith(says)
    assert sentence.endswith(".")
    assert "\n" not in sentence


def test_a_refusal_comes_through_a_model_as_it_is_said() -> None:
    """A validator's ValueError is gathered with other complaints; a refusal is not."""
    assert not issubclass(Refusal, ValueError)
    with pytest.raises(Refusal, match=r"^Two pins cannot share played frame 3\.$"):
        Elastic.model_validate(
            {"pins": [{"played": 3, "source": 0}, {"played": 3 + 1e-9, "source": 1}]}
        )
