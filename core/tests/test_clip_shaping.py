"""Keys softened and sharpened, and joints that trail (rule 3.3)."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core.clip.edits import ClipEdit, edit_clip
from elastic_core.clip.edits.base import Edited, Made
from elastic_core.clip.edits.shaping import SoftenKeys, TrailJoints
from elastic_core.clip.playing import playable_of, played_curves
from elastic_core.curve import Curve, Key
from elastic_core.cycle.seam import seam_report
from elastic_core.errors import Refusal

DEMO = demo()
ODO = DEMO.figures["odo"]
AMBLE = Made(DEMO.clips["Amble"].clip.model_copy(update={"half_linked": False}), ODO)
HEAD = "head.turn.x"


def with_curve(made: Made, name: str, curve: Curve, *, is_cycle: bool = True) -> Made:
    keys = {**made.clip.keys, name: curve}
    return Made(made.clip.model_copy(update={"keys": keys, "is_cycle": is_cycle}), ODO)


def edited(made: Made, edit: ClipEdit) -> Edited:
    return edit_clip(made, edit)


def curve(*keys: tuple[float, float], beyond: str = "hold") -> Curve:
    return Curve(keys=tuple(Key(time=t, value=v) for t, v in keys), before=beyond, after=beyond)  # type: ignore[arg-type]


def test_a_key_goes_by_a_share_towards_what_its_neighbours_give() -> None:
    made = with_curve(AMBLE, HEAD, curve((0, 0), (4, 20), (8, 8)), is_cycle=False)
    half = edited(made, SoftenKeys(chosen={HEAD: [4]}, share=0.5))
    assert half.label == "Soften 1 key by 50 %"
    # Between 0 and 8 half way lies 4: from 20 to 12.
    assert half.clip.keys[HEAD].values_of_keys.tolist() == [0, 12, 8]
    whole = edited(made, SoftenKeys(chosen={HEAD: [4]}, share=1))
    assert whole.clip.keys[HEAD].values_of_keys.tolist() == [0, 4, 8]
    sharp = edited(made, SoftenKeys(chosen={HEAD: [4]}, share=-0.25))
    assert sharp.label == "Sharpen 1 key by 25 %"
    assert sharp.clip.keys[HEAD].values_of_keys.tolist() == [0, 24, 8]
    some = edited(made, SoftenKeys(chosen={HEAD: [0, 4]}, share=0.5))
    assert some.notes == ("1 key at an end stayed: nothing stands on its other side.",)
    with pytest.raises(Refusal, match="softened between two others"):
        edited(made, SoftenKeys(chosen={HEAD: [0, 8]}, share=0.5))


def test_in_a_cycle_the_neighbours_go_round() -> None:
    made = with_curve(AMBLE, HEAD, curve((0, 10), (8, 0), (16, 0), beyond="repeat"))
    # From 16, eight frames before, to 8: nothing on both sides.
    soft = edited(made, SoftenKeys(chosen={HEAD: [0]}, share=1))
    assert soft.clip.keys[HEAD].values_of_keys.tolist() == [0, 0, 0]
    wheel = with_curve(AMBLE, HEAD, curve((0, 0), (12, 200), (24, 360), beyond="offset"))
    even = edited(wheel, SoftenKeys(chosen={HEAD: [0, 12]}, share=1)).clip.keys[HEAD]
    # 12 lies between 0 and 360; 0 between 200 − 360 and 200; what a round adds stays.
    assert even.values_of_keys.tolist() == [20, 180, 380]


def test_joints_of_a_chain_come_later_and_later_round_the_seam() -> None:
    chain = ("l_shoulder", "l_elbow", "l_wrist")
    done = edited(AMBLE, TrailJoints(joints=chain, frames=2))
    assert done.label == "Trail 3 joints by 2"
    assert done.notes[-1] == "The last of the chain comes 4 frames later."
    before, after = played_curves(ODO, AMBLE.clip), played_curves(ODO, done.clip)
    frames = np.arange(24.0)
    for depth, joint in enumerate(chain, start=1):
        for axis in "xyz":
            name = f"{joint}.turn.{axis}"
            if name not in AMBLE.clip.keys:
                continue
            was = before[name].values((frames - 2 * depth) % 24)
            assert np.abs(after[name].values(frames) - was).max() < 1e-6
    untouched = [name for name in AMBLE.clip.keys if not name.startswith(chain)]
    assert all(done.clip.keys[name] == AMBLE.clip.keys[name] for name in untouched)
    assert seam_report(ODO, playable_of(ODO, done.clip)).grade == "closed"
    assert all(plant.held for plant in done.clip.plants)


def test_what_plays_once_keeps_its_first_and_its_last_pose() -> None:
    made = with_curve(AMBLE, HEAD, curve((0, 0), (4, 20), (8, 8), (12, 0)), is_cycle=False)
    late = edited(made, TrailJoints(joints=("head",), frames=3)).clip.keys[HEAD]
    assert late.times.tolist() == [0, 7, 11, 12]
    assert late.values_of_keys.tolist() == [0, 20, 8, 0]
    far = edited(made, TrailJoints(joints=("head",), frames=100)).clip.keys[HEAD]
    assert far.times.tolist() == [0, 10, 11, 12]
    early = edited(made, TrailJoints(joints=("head",), frames=-3)).clip.keys[HEAD]
    assert early.times.tolist() == [0, 1, 5, 12]


def test_linked_halves_and_joints_without_keys_do_not_trail() -> None:
    linked = Made(AMBLE.clip.model_copy(update={"half_linked": True}), ODO)
    with pytest.raises(Refusal, match="unlink the halves"):
        edited(linked, TrailJoints(joints=("head",), frames=2))
    keyless = Made(AMBLE.clip.model_copy(update={"keys": {"root.y": curve((0, 1))}}), ODO)
    with pytest.raises(Refusal, match="None of these joints has keys"):
        edited(keyless, TrailJoints(joints=("head",), frames=2))
