"""Pictures under the stage: which lies under which frame, and what laying them is called."""

import pytest
from pydantic import ValidationError

from demo.production import demo
from elastic_core.bench.desk import bench_of
from elastic_core.bench.edits import edit_clip
from elastic_core.bench.edits.base import Made
from elastic_core.errors import Refusal
from elastic_core.formats.clip_file import clip_file
from elastic_core.tracing import Picture, SetTracing, Tracing

DEMO = demo()
AMBLE = Made(DEMO.clips["Amble"].clip, DEMO.figures["odo"])
ONE = Picture(file="a" * 64, width_pixels=640, height_pixels=480)
TWO = Picture(file="b" * 64, width_pixels=640, height_pixels=480)


def spans(tracing: Tracing) -> list[tuple[int, int, int]]:
    made = Made(edit_clip(AMBLE, SetTracing(tracing=tracing)).clip, AMBLE.figure)
    return [(row.picture, row.start, row.end) for row in bench_of(made).traced]


def test_one_picture_lies_under_every_frame_from_its_first() -> None:
    assert spans(Tracing(pictures=(ONE,))) == [(0, 0, 24)]
    assert spans(Tracing(pictures=(ONE,), first_frame=10)) == [(0, 10, 24)]
    assert spans(Tracing(pictures=(ONE,), first_frame=-10)) == [(0, 0, 24)]
    assert spans(Tracing(pictures=(ONE,), first_frame=24)) == []


def test_a_run_of_pictures_is_exposed_in_turn_and_the_last_stays() -> None:
    run = Tracing(pictures=(ONE, TWO, ONE), first_frame=4, frames_each=2)
    assert spans(run) == [(0, 4, 6), (1, 6, 8), (2, 8, 24)]
    early = run.model_copy(update={"first_frame": -3})
    assert spans(early) == [(1, 0, 1), (2, 1, 24)]


def test_each_change_of_a_tracing_is_a_step_with_a_name() -> None:
    laid = Tracing(pictures=(ONE,))
    first = edit_clip(AMBLE, SetTracing(tracing=laid))
    assert first.label == "Lay a picture under the stage"
    assert first.clip.keys == AMBLE.clip.keys
    made = Made(first.clip, AMBLE.figure)
    fainter = laid.model_copy(update={"opacity": 0.2})
    assert edit_clip(made, SetTracing(tracing=fainter)).label == "Set the tracing’s opacity"
    run = laid.model_copy(update={"pictures": (ONE, TWO)})
    assert edit_clip(made, SetTracing(tracing=run)).label == "Lay 2 pictures under"
    assert edit_clip(made, SetTracing()).label == "Take the tracing away"
    with pytest.raises(Refusal, match="no picture to take away"):
        edit_clip(AMBLE, SetTracing())
    with pytest.raises(Refusal, match="lies so already"):
        edit_clip(made, SetTracing(tracing=laid))
    with pytest.raises(ValidationError):
        Tracing(pictures=(ONE,), opacity=1.2)


def test_a_clip_file_leaves_pictures_where_they_are() -> None:
    made = Made(edit_clip(AMBLE, SetTracing(tracing=Tracing(pictures=(ONE,)))).clip, AMBLE.figure)
    assert made.playable.clip.tracing is not None
    assert clip_file(made.figure, made.playable).clip.tracing is None
