"""Sounds as they lie in a scene, and what is heard of them (rules 1.9 and 9.2)."""

import numpy as np
import pytest

from elastic_core.errors import Refusal
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Scene, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.base import Edited
from elastic_core.scene.edits.elastics import (
    HoldFrame,
    PinSource,
    SlowRange,
    Straighten,
    TurnRound,
)
from elastic_core.scene.edits.sounds import (
    AddSoundLane,
    DuplicateSound,
    LaySound,
    MoveSound,
    RemoveSound,
    RemoveSoundLane,
    SetSound,
    SetSoundLane,
    SplitSound,
    TrimSound,
)
from elastic_core.scene.edits.whole import SetLength
from elastic_core.scene.hearing import heard_stamp, mixed, samples_in
from elastic_core.scene.material import Material
from elastic_core.sound.document import HOUSE_RATE
from elastic_core.sound.samples import Samples

from .motions import material, once_clip, scene_of, turning_cycle
from .sounds import Held, bursts, centres, document_of, pitch_hz

BELL = bursts(4.0)
CLIPS = material(turning_cycle(length=20), once_clip(100))
MATERIAL = Material(CLIPS.figures, CLIPS.performances, {"bell": document_of(BELL)})
RECORDINGS = Held({"bell": BELL})
FRAME = HOUSE_RATE // 24
SCENE = scene_of([], length=240)
LAY = LaySound(laid="a", sound="bell", lane="voice", start=24)


def edited(scene: Scene, *edits: SceneEdit) -> Edited:
    done = Edited(scene, "")
    for edit in edits:
        done = apply_edit(done.scene, edit, MATERIAL)
    return done


def heard(scene: Scene) -> Samples:
    return mixed(scene, RECORDINGS, 0, samples_in(scene))


LAID = edited(SCENE, LAY).scene
FOLLOWING = edited(LAID, SetSoundLane(lane="voice", keeps_own_time=False)).scene


def test_a_laid_sound_is_heard_where_it_lies_to_the_sample() -> None:
    done = edited(SCENE, LAY)
    assert done.label == "Lay Bell"
    assert done.scene.sound_lanes[0].name == "Sound"
    sound = heard(done.scene)
    assert sound.shape == (240 * FRAME, 2)
    assert (sound[24 * FRAME :][: len(BELL)] == BELL).all()
    assert not sound[: 24 * FRAME].any()
    assert not sound[24 * FRAME + len(BELL) :].any()
    moved = edited(done.scene, MoveSound(laid="a", start=24.3331)).scene
    at = round(24.3331 * FRAME)
    # To the nearest sample of the house rate, which is what is kept.
    assert moved.sound_lanes[0].sounds[0].start * FRAME == pytest.approx(at, abs=1e-6)
    assert (heard(moved)[at:][: len(BELL)] == BELL).all()


def test_what_is_heard_in_pieces_is_what_is_heard_at_once() -> None:
    slowed = edited(FOLLOWING, SlowRange(start=40, end=60, pace=0.5, ramp_frames=4)).scene
    for scene in (LAID, slowed):
        whole = heard(scene)
        pieces = [mixed(scene, RECORDINGS, at, 30_011) for at in range(0, len(whole), 30_011)]
        assert (np.concatenate(pieces)[: len(whole)] == whole).all()


def test_a_sound_keeps_its_own_time_under_the_scenes_elastic() -> None:
    slowed = edited(LAID, SlowRange(start=30, end=50, pace=0.4)).scene
    assert slowed.played_frames > 240
    assert (heard(slowed)[: 240 * FRAME] == heard(LAID)).all()


def test_a_sound_that_follows_is_slowed_with_its_pitch_kept() -> None:
    slowed = edited(FOLLOWING, SlowRange(start=24, end=120, pace=0.4, ramp_frames=0)).scene
    sound = heard(slowed)
    # From laid frame 24 on everything comes 2.5 times as far apart.
    wanted = [1 + (k * 0.5 + 0.05) / 0.4 for k in range(8)]
    assert centres(sound) == pytest.approx(wanted, abs=0.02)
    assert pitch_hz(sound) == pytest.approx(300, abs=3)


def test_a_sound_that_follows_through_ramps_stays_on_the_elastic() -> None:
    slowed = edited(FOLLOWING, SlowRange(start=48, end=96, pace=0.5, ramp_frames=8)).scene
    laid = [24 + 24 * (k * 0.5 + 0.05) for k in range(8)]
    wanted = [slowed.elastic.played(at)[0] / 24 for at in laid]
    assert centres(heard(slowed)) == pytest.approx(wanted, abs=0.02)


def test_a_pin_that_changes_no_time_changes_no_sample() -> None:
    pinned = edited(FOLLOWING, PinSource(stint=None, source=60, played=60)).scene
    assert len(pinned.elastic.pins) == 3
    assert np.abs(heard(pinned) - heard(FOLLOWING)).max() < 1e-6


def test_what_stands_or_runs_backwards_is_silent() -> None:
    held = edited(FOLLOWING, HoldFrame(frame=60, frames=24)).scene
    sound = heard(held)
    # But for the 20 ms in which it goes out and comes back.
    assert not sound[61 * FRAME : 83 * FRAME].any()
    goes_on = heard(FOLLOWING)[61 * FRAME : 91 * FRAME]
    assert np.abs(sound[85 * FRAME : 115 * FRAME] - goes_on).max() < 1e-6
    assert not heard(edited(FOLLOWING, TurnRound()).scene).any()


def test_following_or_not_a_sound_begins_when_it_began() -> None:
    slowed = edited(LAID, SlowRange(start=0, end=12, pace=0.5)).scene
    lane = edited(slowed, SetSoundLane(lane="voice", keeps_own_time=False)).scene.sound_lanes[0]
    # Played frame 24 shows laid 12.
    assert lane.sounds[0].start == pytest.approx(12, abs=1e-3)
    follows = edited(slowed, SetSoundLane(lane="voice", keeps_own_time=False)).scene
    back = edited(follows, SetSoundLane(lane="voice", keeps_own_time=True)).scene
    assert back.sound_lanes[0].sounds[0].start == pytest.approx(24, abs=1e-3)


def test_trimming_keeps_what_is_heard_where_it_was() -> None:
    trimmed = edited(
        LAID,
        TrimSound(laid="a", edge="start", frame=30.5),
        TrimSound(laid="a", edge="end", frame=72),
    ).scene
    sound, whole = heard(trimmed), heard(LAID)
    first, last = round(30.5 * FRAME), 72 * FRAME
    assert (sound[first:last] == whole[first:last]).all()
    assert not sound[:first].any()
    assert not sound[last:].any()


def test_no_edge_is_drawn_further_than_the_sound_reaches() -> None:
    beyond = edited(
        LAID,
        TrimSound(laid="a", edge="start", frame=-100),
        TrimSound(laid="a", edge="end", frame=900),
    ).scene
    assert beyond.sound_lanes == LAID.sound_lanes
    crossed = edited(LAID, TrimSound(laid="a", edge="end", frame=0)).scene
    assert crossed.sound_lanes[0].sounds[0].seconds == pytest.approx(0.01)
    with pytest.raises(Refusal, match="would start before the scene does"):
        edited(LAID, MoveSound(laid="a", start=-1))


def test_both_halves_of_a_split_are_the_whole() -> None:
    split = edited(LAID, SplitSound(laid="a", frame=50.2, new="b")).scene
    assert [one.id for one in split.sound_lanes[0].sounds] == ["a", "b"]
    assert (heard(split) == heard(LAID)).all()
    with pytest.raises(Refusal, match="only where it is heard"):
        edited(LAID, SplitSound(laid="a", frame=10, new="b"))


def test_levels_and_mutes() -> None:
    whole = heard(LAID)
    softer = edited(
        LAID, SetSound(laid="a", level_db=-2), SetSoundLane(lane="voice", level_db=-4)
    ).scene
    assert np.abs(heard(softer) - whole * 10 ** (-6 / 20)).max() < 1e-6
    for edit in (SetSound(laid="a", muted=True), SetSoundLane(lane="voice", muted=True)):
        assert not heard(edited(LAID, edit).scene).any()


def test_fades_rise_and_fall_evenly_in_the_sounds_own_time() -> None:
    faded = edited(LAID, SetSound(laid="a", fade_in_seconds=1, fade_out_seconds=2)).scene
    sound, start = heard(faded), 24 * FRAME
    for seconds, share in ((0.05, 0.05), (0.55, 0.55), (1.05, 1), (2.05, 0.975), (3.55, 0.225)):
        at = start + round(seconds * HOUSE_RATE)
        near = slice(at - 80, at + 80)
        assert np.abs(sound[near]).max() == pytest.approx(0.4 * share, rel=0.04)
    # No fade outlasts its sound.
    cut = edited(faded, TrimSound(laid="a", edge="end", frame=36)).scene.sound_lanes[0].sounds[0]
    assert (cut.fade_in_seconds, cut.fade_out_seconds) == (0.5, 0.5)


def test_two_sounds_at_once_are_both_heard() -> None:
    both = edited(
        LAID,
        DuplicateSound(laid="a", new="b"),
        MoveSound(laid="b", start=24),
    ).scene
    assert np.abs(heard(both) - 2 * heard(LAID)).max() < 1e-6


def test_a_scene_plays_until_its_sounds_are_over() -> None:
    done = edited(SCENE, LaySound(laid="a", sound="bell", lane="voice", start=200.5))
    assert done.scene.played_frames == done.scene.laid_frames == 297
    assert done.notes == ("The scene plays for 297 frames now.",)
    slowed = edited(SCENE, SlowRange(start=0, end=48, pace=0.5)).scene
    longer = edited(slowed, LaySound(laid="a", sound="bell", lane="voice", start=280)).scene
    assert (longer.played_frames, longer.laid_frames) == (376, 328)
    assert edited(longer, DuplicateSound(laid="a", new="b")).scene.played_frames == 472


def test_a_scene_that_is_over_before_its_sounds_says_so() -> None:
    slowed = edited(SCENE, SlowRange(start=0, end=48, pace=0.5)).scene
    longer = edited(slowed, LaySound(laid="a", sound="bell", lane="voice", start=188)).scene
    assert longer.played_frames == 288
    straight = edited(longer, Straighten())
    assert (straight.scene.played_frames, straight.scene.laid_frames) == (240, 240)
    says = "Its sounds go on until frame 284: the scene is over before."
    assert straight.notes[-1] == says
    assert edited(LAID, SetLength(laid_frames=120)).notes == ()
    assert edited(LAID, SetLength(laid_frames=119)).notes == (says.replace("284", "120"),)


def test_lanes_are_named_moved_between_and_removed() -> None:
    two = edited(LAID, AddSoundLane(lane="sea"), SetSoundLane(lane="sea", name="海")).scene
    assert [lane.name for lane in two.sound_lanes] == ["Sound", "海"]
    moved = edited(two, MoveSound(laid="a", start=36, lane="sea"))
    assert moved.label == "Move Bell to 海"
    assert [len(lane.sounds) for lane in moved.scene.sound_lanes] == [0, 1]
    gone = edited(moved.scene, RemoveSoundLane(lane="sea"))
    assert gone.notes == ("1 sound went with it.",)
    assert edited(LAID, RemoveSound(laid="a")).scene.sound_lanes[0].sounds == ()


def test_a_ripple_on_all_lanes_carries_sounds_that_follow_and_no_others() -> None:
    walk = Stint(id="walk", source=ClipSource(id="Round"), start=0, length_frames=60)
    slow = SlowRange(stint="walk", start=0, end=20, pace=0.5, ripple=True, all_lanes=True)
    for lanes, start in ((LAID.sound_lanes, 24), (FOLLOWING.sound_lanes, 44)):
        scene = scene_of([walk], length=240).model_copy(update={"sound_lanes": lanes})
        assert edited(scene, slow).scene.sound_lanes[0].sounds[0].start == start


def test_what_is_heard_has_a_name_that_changes_with_it_alone() -> None:
    assert heard_stamp(SCENE) is None
    assert desk_of(SCENE, MATERIAL).heard is None
    stamp = heard_stamp(LAID)
    assert heard_stamp(edited(LAID, SetSound(laid="a", level_db=-1)).scene) != stamp
    renamed = LAID.model_copy(update={"name": "Other", "backdrop": "quay"})
    assert heard_stamp(renamed) == stamp
    bent = SlowRange(start=40, end=60, length_frames=20, pace=None)
    assert heard_stamp(edited(LAID, bent).scene) == stamp
    assert heard_stamp(edited(FOLLOWING, bent).scene) != heard_stamp(FOLLOWING)


def test_the_desk_tells_where_sounds_lie() -> None:
    trimmed = edited(LAID, TrimSound(laid="a", edge="start", frame=48)).scene
    (lane,) = desk_of(trimmed, MATERIAL).sound_lanes
    (shown,) = lane.sounds
    assert (shown.name, shown.start, shown.end) == ("Bell", 48, 120)
    assert (shown.in_seconds, shown.seconds, shown.sound_seconds) == (1, 3, 4)
