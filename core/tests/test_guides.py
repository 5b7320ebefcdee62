"""Guides carry figures: sideways, round, and several at once (rule 7.5)."""

import numpy as np
import pytest

from elastic_core.arrays import Array
from elastic_core.errors import Refusal
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.attaching import AttachFigure, SetAttachment
from elastic_core.scene.edits.base import Edited
from elastic_core.scene.edits.elastics import SlowRange
from elastic_core.scene.edits.guides import (
    AddGuide,
    KeyGuide,
    RemoveGuide,
    RemoveGuideKey,
    SetGuide,
    SetGuideKey,
)
from elastic_core.scene.evaluate import frames_of, guides_of

from .motions import material, once_clip, scene_of, turning_cycle

MATERIAL = material(turning_cycle(length=20), once_clip(100))
STANDS = Stint(id="stands", source=ClipSource(id="Reach"), start=0, length_frames=1)
HOP = Stint(id="hop", source=ClipSource(id="Round"), start=0, length_frames=200)
SECOND = SceneFigure(id="s", name="Second", figure="keeper", mark=(-1.0, 0.5, 0.0))
ALONE = scene_of([STANDS])
SCENE = ALONE.model_copy(
    update={
        "figures": (*ALONE.figures, SECOND),
        "lanes": (
            *ALONE.lanes,
            Lane(id="second", name="Body", target=BodyTarget(figure="s"), stints=(HOP,)),
        ),
    }
)
ADD = AddGuide(guide="g", frame=20, place=(0.5, 0.0, 1.0))
EVERY = np.arange(200.0)


def edited(scene: Scene, *edits: SceneEdit) -> Edited:
    done = Edited(scene, "")
    for edit in edits:
        done = apply_edit(done.scene, edit, MATERIAL)
    return done


def key(frame: float, place: tuple[float, float, float], heading: float = 0.0) -> KeyGuide:
    return KeyGuide(guide="g", frame=frame, place=place, heading_degrees=heading)


def span(frame: float, kind: str) -> SetGuideKey:
    return SetGuideKey.model_validate({"guide": "g", "frame": frame, "span": kind})


def roots(scene: Scene, figure: str, frames: Array = EVERY) -> Array:
    shown = {one.figure.id: one for one in frames_of(scene, MATERIAL, frames)}
    return shown[figure].placed.positions[:, 0]


def ride(figure: str, start: float, **more: object) -> AttachFigure:
    told = {"attachment": f"on-{figure}", "figure": figure, "to": "g", "start": start, **more}
    return AttachFigure.model_validate(told)


SIDEWAYS = edited(SCENE, ADD, key(68, (4.5, 0.0, 1.0)), span(20, "even")).scene


def test_attaching_to_a_guide_in_the_middle_of_its_way_moves_nothing() -> None:
    done = edited(SIDEWAYS, ride("s", 44))
    assert done.label == "Second rides on Guide"
    before, after = roots(SIDEWAYS, "s"), roots(done.scene, "s")
    assert np.abs(before[:45] - after[:45]).max() < 1e-9
    # From then on it goes along: 24 frames of the way's 48, two metres of the four.
    moved = after - before
    assert moved[56] == pytest.approx([1.0, 0, 0], abs=1e-9)
    assert moved[68:] == pytest.approx(np.tile([2.0, 0, 0], (132, 1)), abs=1e-9)


def test_a_bounce_is_carried_sideways_with_an_easing_of_its_own() -> None:
    eased = edited(SIDEWAYS, span(20, "eased"), ride("s", 20)).scene
    moved = roots(eased, "s") - roots(SIDEWAYS, "s")
    # It sets off and arrives gently; up and down stay the clip's own.
    assert moved[21, 0] < 0.02
    assert moved[44, 0] == pytest.approx(2, abs=1e-9)
    assert moved[67, 0] > 3.98
    assert np.abs(moved[:, 1:]).max() < 1e-9


def test_what_turns_with_a_guide_goes_round_it() -> None:
    round_it = edited(
        SCENE,
        ADD,
        key(68, (0.5, 0.0, 1.0), heading=720.0),
        span(20, "even"),
        ride("k", 20),
    ).scene
    place = roots(round_it, "k", np.arange(20.0, 69.0)) - np.array([0.5, 0, 1.0])
    far = np.hypot(place[:, 0], place[:, 2])
    assert far == pytest.approx(np.full(49, far[0]), abs=1e-9)
    # Two rounds in 48 frames: a quarter in six.
    turned = np.degrees(np.unwrap(np.arctan2(place[:, 0], place[:, 2])))
    assert turned - turned[0] == pytest.approx(15.0 * np.arange(49), abs=1e-6)
    alone = edited(round_it, ride("k", 20, attachment="still", turns=False)).scene
    still = roots(alone, "k", np.arange(20.0, 69.0))
    assert np.ptp(still, axis=0) == pytest.approx(np.zeros(3), abs=1e-9)


def test_several_figures_ride_on_one_guide_as_a_train() -> None:
    train = edited(SIDEWAYS, ride("s", 20), ride("k", 20)).scene
    apart = roots(train, "s") - roots(train, "k")
    assert apart == pytest.approx(roots(SCENE, "s") - roots(SCENE, "k"), abs=1e-9)
    assert desk_of(train, MATERIAL).guides[0].carries == ["k", "s"]


def test_a_guide_goes_by_the_scenes_time_or_its_own_and_by_its_exposure() -> None:
    slowed = edited(SIDEWAYS, SlowRange(start=20, end=68, pace=0.5)).scene
    rows = guides_of(slowed, EVERY)["g"]
    assert rows[[20, 68, 116], 0] == pytest.approx([0.5, 2.5, 4.5])
    own = edited(slowed, SetGuide(guide="g", keeps_own_time=True)).scene
    assert guides_of(own, EVERY)["g"][68, 0] == pytest.approx(4.5)
    twos = edited(own, SetGuide(guide="g", pattern=(2,)), ride("s", 20)).scene
    held = guides_of(twos, EVERY)["g"]
    assert np.array_equal(held[0::2], held[1::2])
    assert not np.array_equal(held[1:-1:2], held[2::2])
    # Whoever rides on it goes by it, through its exposure and the scene's elastic alike.
    moved = roots(twos, "s") - roots(own, "s")
    assert moved[30:60, 0] == pytest.approx(held[30:60, 0] - held[20, 0], abs=1e-9)


def test_a_heading_drawn_by_hand_takes_the_short_way_and_one_that_is_written_counts() -> None:
    by_hand = edited(
        SCENE,
        ADD.model_copy(update={"heading_degrees": 170.0}),
        KeyGuide(guide="g", frame=40, place=(0, 0, 0), heading_degrees=-170.0, by_hand=True),
    ).scene
    assert by_hand.guides[0].channels["heading"].values(np.array([40.0]))[0] == 190
    written = edited(by_hand, key(40, (0, 0, 0), heading=-170.0)).scene
    assert written.guides[0].channels["heading"].values(np.array([40.0]))[0] == -170


def test_keys_are_moved_held_and_taken_out() -> None:
    moved = edited(SIDEWAYS, SetGuideKey(guide="g", frame=68, to=92), span(20, "hold"))
    rows = guides_of(moved.scene, EVERY)["g"]
    assert rows[[91, 92], 0] == pytest.approx([0.5, 4.5])
    assert edited(SIDEWAYS, SetGuideKey(guide="g", frame=68, to=20)).notes == (
        "It takes the place of the key that was there.",
    )
    one = edited(SIDEWAYS, RemoveGuideKey(guide="g", frame=20)).scene
    assert one.guides[0].frames == (68,)
    with pytest.raises(Refusal, match="only key of Guide"):
        edited(one, RemoveGuideKey(guide="g", frame=68))
    with pytest.raises(Refusal, match="Guide has no key there"):
        edited(one, RemoveGuideKey(guide="g", frame=20))


def test_a_guide_that_goes_lets_its_riders_stand_on_their_marks() -> None:
    riding = edited(SIDEWAYS, ride("s", 30), SetGuide(guide="g", name="Ferry")).scene
    gone = edited(riding, RemoveGuide(guide="g"))
    assert (gone.label, gone.notes) == ("Take Ferry away", ("1 figure rode on it.",))
    assert roots(gone.scene, "s") == pytest.approx(roots(SCENE, "s"))


def test_a_ride_on_a_guide_has_a_range_as_any() -> None:
    ranged = edited(
        SIDEWAYS, ride("s", 20), SetAttachment(figure="s", attachment="on-s", start=20, end=44)
    ).scene
    moved = roots(ranged, "s") - roots(SIDEWAYS, "s")
    assert moved[43, 0] == pytest.approx(23 / 12)
    assert moved[44:] == pytest.approx(np.zeros((156, 3)), abs=1e-9)


def test_what_is_not_there_is_refused() -> None:
    with pytest.raises(Refusal, match="no longer in the scene"):
        edited(SCENE, ride("s", 20))
    with pytest.raises(Refusal, match="does not play at that frame"):
        edited(SCENE, ADD.model_copy(update={"frame": 900.0}))
    with pytest.raises(Refusal, match="in the scene already"):
        edited(SCENE, ADD.model_copy(update={"guide": "k"}))


def test_a_ripple_on_all_lanes_carries_rides_and_keys_of_guides() -> None:
    walk = SCENE.lanes[1].stints[0].model_copy(update={"length_frames": 100.0})
    lanes = (SCENE.lanes[0], SCENE.lanes[1].model_copy(update={"stints": (walk,)}))
    scene = edited(SIDEWAYS.model_copy(update={"lanes": lanes}), ride("k", 44)).scene
    slow = SlowRange(stint="hop", start=0, end=30, pace=0.5, ripple=True, all_lanes=True)
    after = edited(scene, slow).scene
    assert after.guides[0].frames == (20, 98)
    assert after.figure("k").attachments[0].start == 74
