"""Every kind of edit, in any order (rules 5.1, 8.1, 8.3): valid in, valid out, and back again."""

from typing import Any, get_args

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from elastic_core.beats import Beat
from elastic_core.clip.playable import PlayableClip
from elastic_core.clip.pose import MoveRoot, Turn
from elastic_core.drawings.playing import RunPlayed
from elastic_core.errors import Refusal
from elastic_core.scene.cast import ClipSource, LayerTarget, LineSource, RunSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Scene, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.base import Edited
from elastic_core.scene.edits.whole import SwapClip
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.material import Material
from elastic_core.scene.timing import mean_pace, source_at
from elastic_core.voice.chart import usual_mouths
from elastic_core.voice.line import Line, run_of
from elastic_core.voice.playing import LinePlayed

from .drawn import run_of_drawings, set_of
from .motions import material, once_clip, scene_of, turning_cycle
from .sounds import bursts, document_of

ROUND = turning_cycle(length=20)
CLIPS = material(ROUND, once_clip(30))
SAID = Line(name="Said", sound="bell")
SPOKEN = LinePlayed(SAID, run_of(SAID, usual_mouths(), 2.0))
MATERIAL = Material(
    CLIPS.figures,
    {
        **CLIPS.performances,
        LineSource(id="line"): SPOKEN,
        RunSource(id="flicker"): RunPlayed(run_of_drawings(drawings="flame")),
    },
    {"bell": document_of(bursts(2.0))},
    drawn={"flame": set_of(1, 2, 3), "sea": set_of(1, 2)},
)
COPY = PlayableClip(ROUND.clip.model_copy(update={"name": "Copy"}), ROUND.samples)
WITH_COPY = material(ROUND, once_clip(30), COPY)
A = Stint(id="a", source=ClipSource(id="Round"), start=0, length_frames=50)
B = Stint(id="b", source=ClipSource(id="Reach"), start=40, length_frames=30)
START = scene_of([A, B]).model_copy(
    update={"beats": (Beat(id="beat", name="Stands", start=0, end=20),)}
)

EDIT: TypeAdapter[SceneEdit] = TypeAdapter(SceneEdit)
KINDS = {kind.model_fields["kind"].default for kind in get_args(get_args(SceneEdit)[0])}

stint = st.sampled_from("abcde")
new = st.sampled_from("cdefgh")
lane = st.sampled_from(["lane", "lane-1", "lane-2"])
fix = st.sampled_from(["f", "g"])
beat = st.sampled_from(["beat", "other"])
figure = st.sampled_from(["k", "figure-1"])
frame = st.integers(-20, 300)
sound = st.sampled_from(["s", "t"])
sound_lane = st.sampled_from(["voice", "sea"])
sound_frame = st.floats(-5, 120)
ripple = st.booleans()
switch = st.none() | st.booleans()
colour = st.sampled_from(["rose", "moss"])
name = st.sampled_from(["Quay", "灯台", "  Lamp  "])
copied = st.builds(
    lambda stint, name, row: {"stint": {**stint.model_dump(), "id": name}, "row": row},
    st.sampled_from([A, B]),
    new,
    st.integers(0, 1),
)

FIELDS: dict[str, dict[str, st.SearchStrategy[Any]]] = {
    "place_stint": {
        "stint": new,
        "source": st.sampled_from([ClipSource(id="Round"), ClipSource(id="Reach")]),
        "start": frame,
        "lane": st.none() | lane,
        "ripple": ripple,
    },
    "move_stint": {"stint": stint, "start": frame, "lane": st.none() | lane, "ripple": ripple},
    "move_stints": {
        "stints": st.lists(stint, min_size=1, max_size=3, unique=True),
        "frames": st.integers(-60, 60),
        "ripple": ripple,
    },
    "trim_stint": {
        "stint": stint,
        "edge": st.sampled_from(["start", "end"]),
        "frame": frame,
        "ripple": ripple,
    },
    "slip_stint": {"stint": stint, "source_frames": st.floats(-40, 40)},
    "move_cut": {"stint": stint, "frame": frame},
    "repeat_stint": {"stint": stint, "cycles": st.floats(0.1, 8), "ripple": ripple},
    "stretch_stint": {"stint": stint, "length_frames": st.integers(1, 200), "ripple": ripple},
    "pace_stint": {"stint": stint, "pace": st.floats(0.1, 4), "ripple": ripple},
    "split_stint": {"stint": stint, "frame": frame, "new_stint": new},
    "delete_stints": {
        "stints": st.lists(stint, min_size=1, max_size=2, unique=True),
        "ripple": ripple,
    },
    "add_pin": {"stint": st.none() | stint, "played": frame},
    "pin_source": {
        "stint": st.none() | stint,
        "source": st.floats(-20, 120),
        "played": frame,
        "ripple": ripple,
    },
    "pin_shown": {"stint": stint, "drawing": st.integers(0, 4), "frame": frame},
    "set_pin": {
        "stint": st.none() | stint,
        "pin": st.integers(0, 4),
        "played": st.none() | frame,
        "source": st.none() | st.floats(-20, 120),
        "span": st.none() | st.sampled_from(["even", "eased", "ramped", "held"]),
        "ripple": ripple,
    },
    "remove_pin": {"stint": st.none() | stint, "pin": st.integers(0, 4)},
    "set_pace": {
        "stint": st.none() | stint,
        "pin": st.integers(0, 4),
        "pace": st.floats(-2, 5),
        "ripple": ripple,
    },
    "set_ramp": {
        "stint": st.none() | stint,
        "pin": st.integers(0, 4),
        "frames": st.floats(0.5, 12),
        "ripple": ripple,
    },
    "slow_range": {
        "stint": st.none() | stint,
        "start": st.integers(-2, 60),
        "end": st.integers(10, 90),
        "pace": st.none() | st.floats(0.1, 3),
        "length_frames": st.none() | st.integers(1, 80),
        "ramp_frames": st.sampled_from([0.0, 2.0, 4.0]),
        "ripple": ripple,
        "all_lanes": switch.map(bool),
    },
    "hold_frame": {
        "stint": st.none() | stint,
        "frame": st.integers(-2, 80),
        "frames": st.integers(1, 20),
        "ripple": ripple,
        "all_lanes": switch.map(bool),
    },
    "attach_figure": {
        "attachment": st.sampled_from(["t", "u"]),
        "figure": figure,
        "to": figure,
        "joint": st.sampled_from(["head", "hips"]),
        "start": frame,
        "end": st.none() | frame,
        "turns": st.booleans(),
        "keeps_offset": st.booleans(),
    },
    "set_attachment": {
        "figure": figure,
        "attachment": st.sampled_from(["t", "u"]),
        "start": st.none() | frame,
        "end": st.none() | frame,
    },
    "detach_figure": {"figure": figure, "attachment": st.sampled_from(["t", "u"])},
    "key_camera": {
        "frame": frame,
        "eye": st.sampled_from([(0.0, 1.5, 5.0), (3.0, 1.0, 2.0)]),
        "look": st.sampled_from([(0.0, 1.0, 0.0), (1.0, 1.0, 0.0)]),
        "roll": st.floats(-20, 20),
        "zoom": st.floats(0.5, 4),
    },
    "set_camera": {
        "aim": st.none() | st.sampled_from(["look", "angle"]),
        "keeps_own_time": switch,
        "pattern": st.none() | st.sampled_from([(1,), (2,)]),
    },
    "set_camera_key": {
        "frame": frame,
        "to": st.none() | frame,
        "span": st.none() | st.sampled_from(["hold", "even", "eased"]),
    },
    "remove_camera_key": {"frame": frame},
    "remove_camera": {},
    "slow_travel": {
        "stint": stint,
        "start": st.integers(-2, 60),
        "end": st.integers(5, 90),
        "pace": st.floats(0, 3),
        "ramp_frames": st.sampled_from([0.0, 3.0]),
        "keeps_ends": st.booleans(),
    },
    "straighten_travel": {"stint": stint},
    "use_bake": {"stint": stint, "clip": st.sampled_from(["Round", "Reach"])},
    "turn_round": {"stint": st.none() | stint},
    "expose": {
        "stint": st.none() | stint,
        "lane": st.none() | lane,
        "joints": st.none() | st.lists(st.sampled_from(["hips", "head"]), min_size=1, unique=True),
        "place": st.booleans(),
        "pattern": st.none() | st.sampled_from([(2,), (3,), (2, 2, 3, 1)]),
        "drawings_a_second": st.none() | st.sampled_from(["12", "10", "8"]),
        "anchor": frame,
    },
    "straighten": {"stint": st.none() | stint, "ripple": ripple},
    "name_stint": {"stint": stint, "name": st.none() | name},
    "colour_stints": {"stints": st.lists(stint, min_size=1, unique=True), "colour": colour},
    "set_number": {
        "stint": stint,
        "number": st.sampled_from(["scene_from", "scene_to", "clip_from", "clip_to", "pace"]),
        "value": st.floats(-5, 120),
        "ripple": ripple,
    },
    "set_join": {
        "stint": stint,
        "length_frames": st.none() | st.integers(0, 30),
        "shape": st.none() | st.sampled_from(["even", "late"]),
        "plant": st.none() | st.sampled_from(["left", "both", "none"]),
        "heading": st.none() | st.sampled_from(["keep", "feet", "placed"]),
        "nudge": st.none() | st.just((0.1, -0.2, 0.3)),
        "holds_feet": switch,
    },
    "place_join": {"stint": stint, "root": st.just((1.0, 2.0, 0.3))},
    "meet_stint": {
        "stint": stint,
        "at": frame,
        "in_frame": st.floats(-40, 80),
        "length_frames": st.none() | st.integers(0, 30),
        "plant": st.none() | st.sampled_from(["right", "none"]),
    },
    "lay_next": {
        "stint": new,
        "source": st.sampled_from([ClipSource(id="Round"), ClipSource(id="Reach")]),
        "after": stint,
    },
    "match_steps": {"stint": stint, "steps": st.integers(1, 6)},
    "hold_stint_feet": {"stint": stint, "holds": st.booleans()},
    "nail_stint": {
        "stint": stint,
        "nailed": st.booleans(),
        "placement": st.none() | st.just((1.0, 2.0, 0.5)),
    },
    "duplicate_stints": {
        "stints": st.lists(stint, min_size=1, max_size=2, unique=True),
        "new_stints": st.lists(new, min_size=1, max_size=2, unique=True),
        "ripple": ripple,
    },
    "paste_stints": {
        "copies": st.lists(copied, min_size=1, max_size=2, unique_by=lambda c: c["stint"]["id"]),
        "rate": st.sampled_from(["24", "30000/1001"]),
        "frame": frame,
        "lane": st.none() | lane,
        "ripple": ripple,
    },
    "add_lane": {"figure": figure, "name": st.none() | name},
    "set_lane": {
        "lane": lane,
        "name": st.none() | name,
        "gap": st.none() | st.sampled_from(["rest", "hold", "wait", "ease"]),
        "ease_frames": st.none() | st.integers(1, 30),
        "muted": switch,
        "keeps_own_time": switch,
        "soloed": switch,
        "folded": switch,
    },
    "mask_lane": {
        "lane": lane,
        "joints": st.none() | st.lists(st.sampled_from(["hips", "chest", "head"]), unique=True),
    },
    "set_gap": {"stint": stint, "gap": st.none() | st.sampled_from(["rest", "ease"])},
    "use_group": {
        "stints": st.lists(stint, min_size=1, max_size=2, unique=True),
        "stint": new,
        "source": st.just({"kind": "scene", "id": "inner", "figure": "k"}),
    },
    "fade_stint": {
        "stint": stint,
        "fade_in": st.integers(0, 20),
        "fade_out": st.integers(0, 20),
        "weight": st.floats(0, 1),
    },
    "cross_stage": {
        "stint": stint,
        "start": st.just((0.0, 1.0)),
        "to": st.just((3.0, 2.0)),
        "frames": st.integers(1, 200),
        "stride": st.sampled_from(["made", "fitted"]),
        "ripple": ripple,
    },
    "add_fix_lane": {"figure": figure},
    "pose_fix": {
        "lane": lane,
        "frame": frame,
        "fix": fix,
        "changes": st.lists(
            st.builds(
                Turn,
                joint=st.sampled_from(["hips", "chest"]),
                axis=st.just((0.3, 1.0, 0.0)),
                degrees=st.floats(-170, 170),
            )
            | st.builds(MoveRoot, by=st.just((0.1, -0.1, 0.2))),
            min_size=1,
            max_size=2,
        ),
    },
    "set_fix": {
        "fix": fix,
        "at": st.none() | frame,
        "fade_in": st.none() | st.integers(0, 20),
        "stands_frames": st.none() | st.integers(0, 20),
    },
    "unfix_joint": {"fix": fix, "joint": st.sampled_from(["hips", "chest"])},
    "remove_fix": {"fix": fix},
    "key_weight": {"stint": stint, "frame": frame, "weight": st.none() | st.floats(0, 1)},
    "fit_clips": {
        "figure": figure,
        "clip": st.sampled_from(["Round", "Reach"]),
        "mapping": st.just({"hips": "hips"}),
    },
    "key_size": {"figure": figure, "frame": frame, "size": st.none() | st.floats(0.05, 20)},
    "set_size": {"figure": figure, "size": st.floats(0.05, 20)},
    "set_rest": {
        "figure": figure,
        "clip": st.none() | st.sampled_from(["Round", "Reach"]),
        "frame": st.floats(0, 40),
    },
    "move_lane": {"lane": lane, "place": st.integers(0, 4)},
    "remove_lane": {"lane": lane},
    "add_beat": {"beat": beat, "name": name, "colour": colour, "start": frame, "end": frame},
    "set_beat": {
        "beat": beat,
        "name": st.none() | name,
        "start": st.none() | frame,
        "end": st.none() | frame,
    },
    "remove_beat": {"beat": beat},
    "add_figure": {"figure": st.just("keeper")},
    "rename_figure": {"figure": figure, "name": name},
    "set_mark": {"figure": figure, "mark": st.just((1.0, -2.0, 0.7))},
    "remove_figure": {"figure": figure},
    "set_length": {"laid_frames": st.integers(1, 400)},
    "add_guide": {
        "guide": st.sampled_from(["g", "h"]),
        "name": st.none() | name,
        "frame": frame,
        "place": st.just((1.0, 0.0, 2.0)),
        "heading_degrees": st.floats(-400, 400),
    },
    "key_guide": {
        "guide": st.sampled_from(["g", "h"]),
        "frame": frame,
        "place": st.just((0.5, 1.0, -1.0)),
        "heading_degrees": st.floats(-400, 400),
        "by_hand": st.booleans(),
    },
    "set_guide": {
        "guide": st.sampled_from(["g", "h"]),
        "name": st.none() | name,
        "keeps_own_time": switch,
        "pattern": st.none() | st.just((2,)),
    },
    "set_guide_key": {
        "guide": st.sampled_from(["g", "h"]),
        "frame": frame,
        "to": st.none() | frame,
        "span": st.none() | st.sampled_from(["even", "hold"]),
    },
    "remove_guide_key": {"guide": st.sampled_from(["g", "h"]), "frame": frame},
    "remove_guide": {"guide": st.sampled_from(["g", "h"])},
    "add_sound_lane": {"lane": sound_lane, "name": st.none() | name},
    "set_sound_lane": {
        "lane": sound_lane,
        "name": st.none() | name,
        "muted": switch,
        "level_db": st.none() | st.floats(-60, 12),
        "keeps_own_time": switch,
    },
    "remove_sound_lane": {"lane": sound_lane},
    "lay_sound": {
        "laid": sound,
        "sound": st.just("bell"),
        "lane": sound_lane,
        "start": sound_frame,
    },
    "move_sound": {"laid": sound, "start": sound_frame, "lane": st.none() | sound_lane},
    "trim_sound": {
        "laid": sound,
        "edge": st.sampled_from(["start", "end"]),
        "frame": sound_frame,
    },
    "set_sound": {
        "laid": sound,
        "name": st.none() | name,
        "level_db": st.none() | st.floats(-60, 12),
        "fade_in_seconds": st.none() | st.floats(0, 5),
        "fade_out_seconds": st.none() | st.floats(0, 5),
        "muted": switch,
    },
    "split_sound": {"laid": sound, "frame": sound_frame, "new": sound},
    "duplicate_sound": {"laid": sound, "new": sound},
    "remove_sound": {"laid": sound},
    "boil_ink": {
        "figure": st.none() | figure,
        "stint": st.none() | stint,
        "ink": st.none() | st.just({"amount_cm": 1.0, "seed": 4, "on": 3}),
    },
    "draw_part": {
        "figure": figure,
        "part": st.sampled_from(["hand", "beak"]),
        "run": st.just("flicker"),
        "start": frame,
    },
    "order_card": {
        "figure": figure,
        "card": st.sampled_from(["hand", "beak"]),
        "frame": frame,
        "order": st.none() | st.integers(-5, 5),
    },
    "add_layer": {
        "layer": st.sampled_from(["l", "m"]),
        "lane": st.none() | lane,
        "drawings": st.sampled_from(["flame", "sea"]),
        "run": st.none() | st.just("flicker"),
        "stands": st.sampled_from(["card", "overlay", "behind", "under"]),
        "height_metres": st.floats(0.1, 10),
        "start": frame,
        "to": st.none() | figure,
        "joint": st.none() | st.sampled_from(["head", "hips"]),
    },
    "set_layer": {
        "layer": st.sampled_from(["l", "m"]),
        "name": st.none() | name,
        "stands": st.none() | st.sampled_from(["card", "overlay", "behind", "under"]),
        "place": st.none() | st.just((0.5, 1.0, -1.0)),
        "heading_degrees": st.none() | st.floats(-400, 400),
        "mirrored": switch,
        "steps": switch,
    },
    "key_opacity": {
        "layer": st.sampled_from(["l", "m"]),
        "frame": frame,
        "opacity": st.none() | st.floats(0, 1),
    },
    "ride_layer": {
        "layer": st.sampled_from(["l", "m"]),
        "to": figure,
        "joint": st.none() | st.sampled_from(["head", "hips", "tail"]),
        "start": frame,
        "end": st.none() | frame,
        "turns": st.booleans(),
    },
    "let_layer_off": {"layer": st.sampled_from(["l", "m"])},
    "remove_layer": {"layer": st.sampled_from(["l", "m"])},
    "lay_line": {
        "line": st.just("line"),
        "sound": st.just("bell"),
        "laid": sound,
        "sound_lane": sound_lane,
        "start": sound_frame,
        "figure": st.none() | figure,
        "stint": st.none() | new,
    },
    "free_from_sound": {"stint": stint},
    "drive_jaw": {
        "stint": stint,
        "joint": st.sampled_from(["head", "hips", "tail"]),
        "degrees": st.floats(-90, 90),
        "ease_frames": st.integers(1, 24),
    },
    "mark_accents": {"laid": sound, "colour": st.sampled_from(["rose", "ochre"])},
    "rename_scene": {"name": name},
    "set_backdrop": {"backdrop": st.sampled_from(["paper", "quay"])},
    "swap_clip": {
        "clip": st.sampled_from(["Round", "Reach"]),
        "by": st.sampled_from(["Round", "Reach"]),
    },
}


def edits(kind: str) -> st.SearchStrategy[SceneEdit]:
    fields = st.fixed_dictionaries({"kind": st.just(kind), **FIELDS[kind]})
    return fields.map(EDIT.validate_python)


def test_the_table_names_every_kind_of_edit() -> None:
    assert set(FIELDS) == KINDS


@settings(max_examples=300)
@given(st.lists(st.sampled_from(sorted(KINDS)).flatmap(edits), max_size=10))
def test_any_run_of_edits_keeps_the_scene_valid_and_undo_restores_it(run: list[SceneEdit]) -> None:
    scene = START
    for edit in run:
        before = scene.model_dump_json()
        edited, refusal = outcome(scene, edit)
        # The edit left its input alone: stepping back shows it bit for bit.
        assert scene.model_dump_json() == before
        if edited is None:
            assert refusal.endswith(".")
            continue
        assert 0 < len(edited.label) < 400
        scene = edited.scene
        # What is saved is what is read again.
        assert Scene.model_validate_json(scene.model_dump_json()) == scene
        check(scene)


def outcome(scene: Scene, edit: SceneEdit) -> tuple[Edited | None, str]:
    try:
        return apply_edit(scene, edit, MATERIAL), ""
    except Refusal as refusal:
        return None, str(refusal)


def check(scene: Scene) -> None:
    for layer in scene.layers:
        assert {ride.to for ride in layer.attachments} <= scene.ids_on_stage - {layer.id}
        assert any(lane.target == LayerTarget(layer=layer.id) for lane in scene.lanes)
    ids = [stint.id for stint in scene.stints]
    assert len(ids) == len(set(ids))
    assert len({lane.id for lane in scene.lanes}) == len(scene.lanes)
    for held in scene.lanes:
        drives = scene.layer_of(held) or scene.figure(held.figure)
        assert drives.id in scene.ids_on_stage
        fixed = [fix.at for fix in held.fixes or ()]
        assert fixed == sorted(fixed)
        starts = [stint.start for stint in held.stints]
        assert starts == sorted(starts)
        for at in range(0, scene.played_frames, 5):
            assert sum(stint.start <= at < stint.end for stint in held.stints) <= 2
    for stint in scene.stints:
        assert stint.start >= 0
        assert stint.length_frames >= 1
        clip = MATERIAL.performance(stint.source)
        # By hand it may be bent out of what its clip has: that is marked where it plays.
        if not clip.is_cycle and stint.elastic.is_identity:
            slack = 1.5 * abs(mean_pace(stint)) + 1e-6
            assert source_at(scene, clip, stint, stint.start) >= -slack
            assert source_at(scene, clip, stint, stint.end) <= clip.length_frames + slack
    for beat in scene.beats:
        assert 0 <= beat.start < beat.end
    frames = np.arange(0.0, scene.played_frames, 11)
    for member in scene.figures:
        motion = figure_motion(scene, MATERIAL, member, frames)
        assert np.isfinite(motion.rotations).all()
        assert np.isfinite(motion.travel).all()
    desk = desk_of(scene, MATERIAL)
    assert [shown.id for row in desk.lanes for shown in row.stints] == ids


def test_a_clip_is_swapped_for_a_copy_in_one_scene() -> None:
    swapped = apply_edit(START, SwapClip(clip="Round", by="Copy"), WITH_COPY)
    assert swapped.label == "Play Copy for Round"
    assert [stint.source.id for stint in swapped.scene.stints] == ["Copy", "Reach"]
    back = apply_edit(swapped.scene, SwapClip(clip="Copy", by="Round"), WITH_COPY)
    assert back.scene == START
    with pytest.raises(
        Refusal, match="Reach cannot stand in for Round: it is another kind of clip"
    ):
        apply_edit(START, SwapClip(clip="Round", by="Reach"), WITH_COPY)
    with pytest.raises(Refusal, match="Copy is no longer in the scene"):
        apply_edit(START, SwapClip(clip="Copy", by="Round"), WITH_COPY)
