"""What a model complains of is told in plain sentences (rule 8.3)."""

from typing import Any

import pytest
from pydantic import BaseModel, ValidationError

from elastic_core.beats import AddBeat
from elastic_core.clip.edits.pose import Favour
from elastic_core.cycle.starter import Gait
from elastic_core.elastic import Elastic
from elastic_core.errors import in_words


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
        (Gait, {"lean_degrees": "up"}, "Lean degrees: input should be a valid number"),
        (AddBeat, {"name": "x", "start": 0, "end": 2}, "Beat: field required."),
        (
            Elastic,
            {"pins": [{"played": 3, "source": 0}, {"played": 3, "source": 1}]},
            "Two pins cannot share played frame 3.",
        ),
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
