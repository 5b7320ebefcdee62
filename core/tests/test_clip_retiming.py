"""An elastic applied to keys (rules 1.6 and 3.3)."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core.beats import Beat
from elastic_core.clip.document import Clip, Plant
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Edited, Made
from elastic_core.clip.edits.retiming import RetimeKeys
from elastic_core.curve import Curve, Key
from elastic_core.errors import Refusal

ODO = demo().figures["odo"]
HEAD = "head.turn.x"
KEYS = Curve(keys=tuple(Key(time=t, value=3 * t) for t in (0, 10, 20, 30, 40)))
CLIP = Clip(
    name="Nod",
    figure="odo",
    rate="24",
    length_frames=48,
    keys={HEAD: KEYS},
    plants=(Plant(joint="l_toe", side="left", start=24, end=40),),
    beats=(Beat(id="b", name="Nods", start=20, end=40),),
)


def retimed(**wanted: object) -> Edited:
    return edit_clip(Made(CLIP, ODO), RetimeKeys.model_validate({"start": 10, "end": 30, **wanted}))


def test_what_follows_moves_on_and_the_clip_grows() -> None:
    done = retimed(pace=0.5)
    assert done.label == "Retime keys of 10 to 29 to 50 %"
    assert done.clip.keys[HEAD].times.tolist() == [0, 10, 30, 50, 60]
    assert done.clip.keys[HEAD].values_of_keys.tolist() == [0, 30, 60, 90, 120]
    assert done.clip.length_frames == 68
    assert done.notes == ("3 keys moved.", "The clip has 68 frames now.")
    (plant,), (beat,) = done.clip.plants, done.clip.beats
    assert (plant.start, plant.end, beat.start, beat.end) == (38, 60, 30, 60)
    same = retimed(length_frames=40)
    assert same.clip.keys[HEAD].times.tolist() == [0, 10, 30, 50, 60]


def test_the_ends_stay_and_snapping_is_told() -> None:
    done = retimed(pace=0.8, ripple=False)
    times = done.clip.keys[HEAD].times
    assert done.clip.length_frames == 48
    assert times.tolist() == [0, 8, 21, 33, 41]
    assert done.notes[0] == "4 keys moved."
    assert done.notes[1].startswith("Snapped to whole frames, by 0.")
    exact = retimed(pace=0.8, ripple=False, snap=False).clip.keys[HEAD].times
    assert np.abs(exact - times).max() == pytest.approx(float(done.notes[1].split()[5]), abs=0.006)
    assert exact[2] - exact[1] == pytest.approx(10 / 0.8)


def test_keys_that_meet_are_told_and_slopes_run_at_the_pace() -> None:
    close = CLIP.model_copy(update={"keys": {HEAD: Curve(keys=(
        Key(time=0, value=0), Key(time=10, value=1, span="free", in_slope=2.0, out_slope=4.0),
        Key(time=11, value=2), Key(time=12, value=3), Key(time=40, value=0),
    ))}})  # fmt: skip
    edit = RetimeKeys(start=10, end=14, pace=4.0)
    done = edit_clip(Made(close, ODO), edit)
    assert "1 key that met another was replaced." in done.notes
    slow = edit_clip(Made(close, ODO), RetimeKeys(start=10, end=14, pace=0.5)).clip.keys[HEAD]
    assert slow.out_slopes[1] == pytest.approx(2.0)


def test_what_cannot_be_retimed_says_so() -> None:
    with pytest.raises(Refusal, match="A range lies inside 0 to 48"):
        retimed(end=60, pace=0.5)
    with pytest.raises(Refusal, match="Ramps of 9 frames do not fit"):
        retimed(pace=4.0, ramp_frames=9)
    linked = CLIP.model_copy(update={"is_cycle": True, "half_linked": True})
    with pytest.raises(Refusal, match="unlink the halves"):
        edit_clip(Made(linked, ODO), RetimeKeys(start=2, end=9, pace=0.5))
