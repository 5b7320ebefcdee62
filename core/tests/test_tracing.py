"""Pictures under the stage: which lies under which frame, and what laying them is called."""

import pytest
from pydantic import ValidationError

from demo.production import demo
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.view import bench_of
from elastic_core.errors import Refusal
from elastic_core.formats.clip_file import ClipFile, clip_file_pieces
from elastic_core.tracing import Picture, RemoveTracing, SetTracing, Tracing

DEMO = demo()
AMBLE = Made(DEMO.clips["Amble"].clip, DEMO.figures["odo"])
ONE = Picture(file="a" * 64, width_pixels=640, height_pixels=480)
TWO = Picture(file="b" * 64, width_pixels=640, height_pixels=480)


def traced(made: Made, **wanted: object) -> Made:
    return Made(edit_clip(made, SetTracing.model_validate(wanted)).clip, made.figure)


def spans(made: Made) -> list[tuple[int, int, int]]:
    return [(row.picture, row.start, row.end) for row in bench_of(made).traced]


def test_one_picture_lies_under_every_frame_from_its_first() -> None:
    laid = traced(AMBLE, pictures=(ONE,))
    assert spans(laid) == [(0, 0, 24)]
    assert spans(traced(laid, first_frame=10)) == [(0, 10, 24)]
    assert spans(traced(laid, first_frame=-10)) == [(0, 0, 24)]
    assert spans(traced(laid, first_frame=24)) == []


def test_a_run_of_pictures_is_exposed_in_turn_and_the_last_stays() -> None:
    run = traced(AMBLE, pictures=(ONE, TWO, ONE), first_frame=4, frames_each=2)
    assert spans(run) == [(0, 4, 6), (1, 6, 8), (2, 8, 24)]
    assert spans(traced(run, first_frame=-3)) == [(1, 0, 1), (2, 1, 24)]


def test_each_change_of_a_tracing_is_a_step_with_a_name_and_leaves_the_rest() -> None:
    first = edit_clip(AMBLE, SetTracing(pictures=(ONE,), opacity=0.3))
    assert first.label == "Lay a picture under the stage"
    assert first.clip.keys == AMBLE.clip.keys
    made = Made(first.clip, AMBLE.figure)
    fainter = edit_clip(made, SetTracing(opacity=0.2))
    assert fainter.label == "Set the tracing’s opacity"
    higher = edit_clip(Made(fainter.clip, AMBLE.figure), SetTracing(height_metres=3, up_metres=1))
    assert higher.label == "Set the tracing’s height and place"
    assert higher.clip.tracing == Tracing(
        pictures=(ONE,), opacity=0.2, height_metres=3, up_metres=1
    )
    assert edit_clip(made, SetTracing(pictures=(ONE, TWO))).label == "Lay 2 pictures under"
    gone = edit_clip(made, RemoveTracing())
    assert (gone.label, gone.clip.tracing) == ("Take the tracing away", None)


def test_what_cannot_be_traced_is_refused_in_words() -> None:
    with pytest.raises(Refusal, match="no picture to take away"):
        edit_clip(AMBLE, RemoveTracing())
    with pytest.raises(Refusal, match="no picture under the stage any more"):
        edit_clip(AMBLE, SetTracing(opacity=0.2))
    with pytest.raises(Refusal, match="lies so already"):
        edit_clip(traced(AMBLE, pictures=(ONE,)), SetTracing(pictures=(ONE,)))
    with pytest.raises(ValidationError):
        SetTracing(opacity=1.2)


def test_a_clip_file_leaves_pictures_where_they_are() -> None:
    made = traced(AMBLE, pictures=(ONE,))
    assert made.playable.clip.tracing is not None
    written = b"".join(clip_file_pieces(made.figure, made.playable))
    assert ClipFile.model_validate_json(written).clip.tracing is None
