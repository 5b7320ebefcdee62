"""Keys pasted onto another figure (rules 2.4, 3.3): each key's pose is what the fit makes of it."""

import numpy as np
import pytest

from demo.production import demo
from elastic_core import rotation
from elastic_core.anatomy import leg_length_metres
from elastic_core.channels import motion_of
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.keys import PasteKeys
from elastic_core.clip.fitted_keys import Keys, fitted_keys, joints_with_keys
from elastic_core.clip.new import blank
from elastic_core.clip.playing import in_keys
from elastic_core.clock import parse_rate
from elastic_core.curve import Curve, Key
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.fit import fit, retarget
from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import Wanted, bring_in

from .makes import colons_make, slow_make, tabs_make

ODO = demo().figures["odo"]


def taken(make: object) -> tuple[Figure, Keys]:
    """A made-up person's figure, and every sixth frame of its walk as keys."""
    figure, playable = bring_in(bvh.read(make()), Wanted(name="Take"), "f")  # type: ignore[operator]
    curves = in_keys(figure, playable.clip, playable.samples).keys
    rows = {
        name: tuple(key for key in curve.keys if key.time % 6 == 0 and key.time < 25)
        for name, curve in curves.items()
        if ".move." not in name
    }
    return figure, rows


def curves_of(keys: Keys) -> dict[str, Curve]:
    return {name: Curve(keys=row) for name, row in keys.items() if row}


@pytest.mark.parametrize("make", [slow_make, tabs_make, colons_make])
def test_every_pasted_pose_is_the_fitted_one(make: object) -> None:
    source, keys = taken(make)
    mapping = fit(source, ODO).mapping()
    fitted = fitted_keys(source, ODO, keys, mapping)
    times = np.arange(0.0, 25, 6)
    wanted = retarget(source, motion_of(curves_of(keys), source, times), ODO, mapping)
    pasted = motion_of(curves_of(fitted.keys), ODO, times)
    played = [ODO.place_of(own) for own in mapping.values()]
    apart = np.degrees(rotation.angle_between(pasted.rotations, wanted.rotations))[:, played]
    assert apart.max() < 1e-5
    assert np.abs(pasted.root_move - wanted.root_move).max() < 1e-9
    assert set(fitted.left_out) == {j for j in joints_with_keys(source, keys) if j not in mapping}
    # Frames stay as they are, and no turn goes the long way round.
    assert {key.time for row in fitted.keys.values() for key in row} <= set(times)
    for curve in curves_of(fitted.keys).values():
        assert np.abs(np.diff(curve.values(times))).max(initial=0) < 180


def test_onto_the_same_skeleton_the_keys_are_the_very_same() -> None:
    keys = {name: curve.keys for name, curve in demo().clips["Amble"].clip.keys.items()}
    again = fitted_keys(ODO, ODO, keys, {name: name for name in ODO.names})
    assert again.keys == keys
    assert (again.left_out, again.notes) == ((), ())


def test_the_root_goes_by_leg_length_and_slopes_too() -> None:
    source, _ = taken(tabs_make)
    ratio = leg_length_metres(ODO) / leg_length_metres(source)
    assert abs(ratio - 1) > 0.01
    rest = float(source.offsets[0, 1])
    keys = {"root.y": (Key(time=0, value=rest + 0.1, out_slope=0.02, span="free"),)}
    (key,) = fitted_keys(source, ODO, keys, {"Hips": "hips"}).keys["root.y"]
    assert key.value == pytest.approx(float(ODO.offsets[0, 1]) + 0.1 * ratio)
    assert (key.out_slope, key.span) == (pytest.approx(0.02 * ratio), "free")


def test_scales_go_along_and_moves_and_unmet_joints_are_left_out_by_name() -> None:
    source, _ = taken(slow_make)
    keys = {
        "Head.scale.y": (Key(time=0, value=1.2),),
        "Chest.move.x": (Key(time=0, value=0.1),),
        "LeftHand.turn.z": (Key(time=0, value=10.0),),
    }
    fitted = fitted_keys(source, ODO, keys, {"Head": "head", "Chest": "chest"})
    assert fitted.keys == {"head.scale.y": (Key(time=0, value=1.2),)}
    assert fitted.left_out == ("Chest", "LeftHand")
    with pytest.raises(Refusal, match="nothing would play"):
        fitted_keys(source, ODO, keys, {})


def test_slopes_by_hand_are_told_where_the_turns_differ() -> None:
    source, _ = taken(slow_make)
    # An arm that rests sideways lies otherwise on one that hangs: another axis turns.
    free = (
        Key(time=0, value=0.0, span="free", out_slope=4.0),
        Key(time=6, value=30.0, in_slope=4.0),
    )
    mapping = fit(source, ODO).mapping()
    fitted = fitted_keys(source, ODO, {"LeftArm.turn.y": free}, mapping)
    assert fitted.notes == ("Slopes by hand became eased: the turns differ.",)
    assert all(key.span == "eased" for row in fitted.keys.values() for key in row)


def test_fitted_keys_are_pasted_as_one_step() -> None:
    source, keys = taken(tabs_make)
    empty = blank(ODO, "odo", "Paper", parse_rate("24"), 30, is_cycle=False)
    fitted = fitted_keys(source, ODO, keys, fit(source, ODO).mapping())
    made = edit_clip(Made(empty, ODO), PasteKeys(keys=fitted.keys, frame=2))
    count = sum(len(row) for row in fitted.keys.values())
    assert made.label == f"Paste {count} keys at 2"
    knee = made.clip.keys["l_knee.turn.x"]
    assert [key.time for key in knee.keys] == [2, 8, 14, 20, 26]
