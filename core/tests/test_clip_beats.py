"""Beats of a clip: they go along with whatever retimes it, and over the seam of a cycle."""

import pytest

from demo.production import demo
from elastic_core.beats import AddBeat, RemoveBeat, SetBeat
from elastic_core.clip.edits import ClipEdit, edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.cycle import SetCycle, StartWalk, TurnDial
from elastic_core.clip.edits.whole import SetClipLength, SetRate
from elastic_core.clip.view import bench_of
from elastic_core.errors import Refusal

DEMO = demo()
AMBLE = Made(DEMO.clips["Amble"].clip, DEMO.figures["odo"])


def after(made: Made, *edits: ClipEdit) -> Made:
    for edit in edits:
        made = Made(edit_clip(made, edit).clip, made.figure)
    return made


def spans(made: Made) -> dict[str, tuple[float, float]]:
    return {beat.name: (beat.start, beat.end) for beat in bench_of(made).beats}


MARKED = after(
    AMBLE,
    AddBeat(beat="b", name="Right step", start=12, end=24),
    AddBeat(beat="a", name="Left step", start=0, end=12),
)


def test_beats_are_marked_in_order_and_each_is_a_step_with_a_name() -> None:
    assert spans(MARKED) == {"Left step": (0, 12), "Right step": (12, 24)}
    assert [beat.id for beat in MARKED.clip.beats] == ["a", "b"]
    assert edit_clip(MARKED, SetBeat(beat="a", end=9)).label == "Trim the beat Left step"
    gone = edit_clip(MARKED, RemoveBeat(beat="a"))
    assert gone.label == "Delete the beat Left step"
    assert [beat.id for beat in gone.clip.beats] == ["b"]
    # A beat says nothing about the motion: the keys are the very same.
    assert gone.clip.keys == AMBLE.clip.keys


def test_in_a_cycle_a_beat_runs_on_over_the_seam() -> None:
    over = after(MARKED, SetBeat(beat="b", start=20, end=30), SetBeat(beat="a", start=-4, end=2))
    assert spans(over) == {"Right step": (20, 30), "Left step": (20, 26)}
    once = after(MARKED, SetCycle(is_cycle=False))
    with pytest.raises(Refusal, match="inside the clip"):
        edit_clip(once, SetBeat(beat="b", start=20, end=30))
    with pytest.raises(Refusal, match="inside the clip"):
        edit_clip(MARKED, SetBeat(beat="b", start=0, end=25))
    with pytest.raises(Refusal, match="ends after it starts"):
        edit_clip(MARKED, SetBeat(beat="b", start=9, end=9))
    with pytest.raises(Refusal, match="no longer in the clip"):
        edit_clip(MARKED, RemoveBeat(beat="gone"))


def test_beats_follow_what_retimes_the_clip() -> None:
    assert spans(after(MARKED, SetClipLength(length_frames=36))) == {
        "Left step": (0, 18),
        "Right step": (18, 36),
    }
    assert spans(after(MARKED, SetClipLength(length_frames=16, how="trim"))) == {
        "Left step": (0, 12),
        "Right step": (12, 16),
    }
    assert spans(after(MARKED, SetRate(rate="12"))) == {"Left step": (0, 6), "Right step": (6, 12)}
    assert spans(after(MARKED, TurnDial(frames=5))) == {
        "Right step": (7, 19),
        "Left step": (19, 31),
    }
    assert after(MARKED, TurnDial(frames=5), TurnDial(frames=-5)).clip.beats == MARKED.clip.beats
    hurried = after(MARKED, StartWalk(preset="run"))
    length = hurried.clip.length_frames
    assert length < 24
    assert spans(hurried)["Right step"] == (12, length)
