"""Edits (rules 5.1, 8.1 and 8.3), by number and by property."""

import numpy as np
import pytest
from pydantic import TypeAdapter

from elastic_core.beats import AddBeat, SetBeat
from elastic_core.elastic import Elastic
from elastic_core.errors import Refusal
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.document import Scene, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.figures import RemoveFigure, SetMark
from elastic_core.scene.edits.joins import NailStint, SetJoin
from elastic_core.scene.edits.lanes import SetLane
from elastic_core.scene.edits.paste import CopiedStint, DuplicateStints, PasteStints
from elastic_core.scene.edits.stints import (
    DeleteStints,
    MoveCut,
    MoveStint,
    MoveStints,
    PaceStint,
    PlaceStint,
    RepeatStint,
    SlipStint,
    SplitStint,
    StretchStint,
    TrimStint,
)
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.timing import mean_pace, source_at

from .motions import material, once_clip, scene_of, turning_cycle

MATERIAL = material(turning_cycle(length=20), once_clip(30))
A = Stint(id="a", source=ClipSource(id="Round"), start=0, length_frames=50)
B = Stint(id="b", source=ClipSource(id="Reach"), start=40, length_frames=30)


def stint_of(scene: Scene, stint: str) -> Stint:
    return scene.find(stint)[1]


def clip_of(stint: Stint):  # type: ignore[no-untyped-def]
    return MATERIAL.performance(stint.source)


def test_placing_a_clip_plays_it_once_as_made() -> None:
    edited = apply_edit(
        scene_of([A]),
        PlaceStint(stint="n", source=ClipSource(id="Reach"), start=60.4, lane="lane"),
        MATERIAL,
    )
    placed = stint_of(edited.scene, "n")
    assert (placed.start, placed.length_frames, placed.in_frame) == (60, 30, 0)
    assert edited.label == "Place Reach"


def test_placing_past_the_end_makes_the_scene_longer_and_says_so() -> None:
    edited = apply_edit(
        scene_of([A], length=70),
        PlaceStint(stint="n", source=ClipSource(id="Reach"), start=60, lane="lane"),
        MATERIAL,
    )
    assert edited.scene.laid_frames == 90
    assert edited.notes == ("The scene is 90 frames long now.",)


def test_a_newcomer_gets_a_figure_and_a_lane() -> None:
    empty = Scene(name="Empty", rate="24", laid_frames=40, played_frames=40)
    edit = PlaceStint(stint="n", source=ClipSource(id="Round"), start=5)
    scene = apply_edit(empty, edit, MATERIAL).scene
    assert [figure.name for figure in scene.figures] == ["Keeper"]
    assert scene.lanes[0].stints[0].start == 5
    again = apply_edit(scene, edit.model_copy(update={"stint": "m", "start": 30.0}), MATERIAL).scene
    assert len(again.figures) == 1
    assert len(again.lanes[0].stints) == 2


def test_drawing_a_cycles_end_repeats_it_and_keeps_its_start() -> None:
    scene = scene_of([A])
    edited = apply_edit(scene, TrimStint(stint="a", edge="end", frame=130), MATERIAL)
    longer = stint_of(edited.scene, "a")
    assert (longer.start, longer.length_frames, longer.in_frame) == (0, 130, 0)
    assert edited.label == "Repeat Round"
    before = figure_motion(scene, MATERIAL, scene.figures[0], np.arange(50.0))
    after = figure_motion(edited.scene, MATERIAL, scene.figures[0], np.arange(50.0))
    assert np.array_equal(before.rotations, after.rotations)


def test_drawing_a_clip_that_plays_once_past_its_end_stops_there_and_says_so() -> None:
    edited = apply_edit(scene_of([B]), TrimStint(stint="b", edge="end", frame=500), MATERIAL)
    assert stint_of(edited.scene, "b").end == 70
    assert edited.notes == ("Reach ends here: it plays once, and has no more frames.",)
    edited = apply_edit(scene_of([B]), TrimStint(stint="b", edge="start", frame=2), MATERIAL)
    assert stint_of(edited.scene, "b").start == 40


def test_a_clip_played_backwards_has_room_the_other_way_round() -> None:
    back = B.model_copy(
        update={"in_frame": 20.0, "elastic": Elastic.at_pace(-1.0), "length_frames": 10.0}
    )
    edited = apply_edit(scene_of([back]), TrimStint(stint="b", edge="end", frame=500), MATERIAL)
    # From its frame 20 it comes to frame 0 after twenty frames.
    assert stint_of(edited.scene, "b").end == 60
    edited = apply_edit(scene_of([back]), TrimStint(stint="b", edge="start", frame=0), MATERIAL)
    assert stint_of(edited.scene, "b").start == 30


def test_time_that_stops_is_refused() -> None:
    with pytest.raises(Refusal, match="it cannot stop"):
        Stint(
            id="a",
            source=ClipSource(id="Round"),
            start=0,
            length_frames=9,
            elastic=Elastic(after="stop"),
        )


def test_trimming_the_start_keeps_every_pose_that_stays() -> None:
    scene = scene_of([A, B])
    edited = apply_edit(scene, TrimStint(stint="a", edge="start", frame=13), MATERIAL)
    trimmed = stint_of(edited.scene, "a")
    assert (trimmed.start, trimmed.end, trimmed.in_frame) == (13, 50, 13)
    for frame in (13, 20, 49):
        assert source_at(edited.scene, clip_of(trimmed), trimmed, frame) == frame


@pytest.mark.parametrize(
    ("edit", "kept"),
    [
        (MoveStint(stint="a", start=7), {"source", "length", "pace", "whole source"}),
        (TrimStint(stint="a", edge="end", frame=44), {"start", "source", "pace"}),
        (StretchStint(stint="a", length_frames=75), {"start", "source", "whole source"}),
        (PaceStint(stint="a", pace=0.5), {"start", "source", "whole source"}),
        (RepeatStint(stint="a", cycles=3), {"start", "source", "pace"}),
    ],
    ids=lambda value: getattr(value, "kind", ""),
)
def test_trim_move_and_stretch_never_stand_in_for_one_another(
    edit: SceneEdit, kept: set[str]
) -> None:
    scene = scene_of([A])
    edited = apply_edit(scene, edit, MATERIAL).scene
    before, after = A, stint_of(edited, "a")
    clip = clip_of(A)

    def whole(stint: Stint, owner: Scene) -> float:
        return source_at(owner, clip, stint, stint.end) - source_at(owner, clip, stint, stint.start)

    same = {
        "start": before.start == after.start,
        "source": before.in_frame == after.in_frame,
        "length": before.length_frames == after.length_frames,
        "pace": mean_pace(before) == pytest.approx(mean_pace(after)),
        "whole source": whole(before, scene) == pytest.approx(whole(after, edited)),
    }
    assert {name for name, value in same.items() if value} == kept


def test_rounds_and_pace_by_number() -> None:
    scene = apply_edit(scene_of([A]), RepeatStint(stint="a", cycles=4.25), MATERIAL).scene
    assert stint_of(scene, "a").length_frames == 85
    scene = apply_edit(scene, PaceStint(stint="a", pace=0.5), MATERIAL).scene
    assert stint_of(scene, "a").length_frames == 170
    assert mean_pace(stint_of(scene, "a")) == pytest.approx(0.5)
    scene = apply_edit(scene, PaceStint(stint="a", pace=1), MATERIAL).scene
    assert stint_of(scene, "a") == stint_of(scene, "a").model_copy(update={"length_frames": 85.0})
    assert stint_of(scene, "a").elastic.pins == ()


def test_a_join_is_set_by_number_without_moving_either_start() -> None:
    scene = scene_of([A, B])
    edited = apply_edit(scene, SetJoin(stint="b", length_frames=4), MATERIAL)
    a, b = stint_of(edited.scene, "a"), stint_of(edited.scene, "b")
    assert (a.start, a.end, b.start, b.end) == (0, 44, 40, 70)
    assert edited.label == "Set the join Round to Reach"
    shaped = apply_edit(scene, SetJoin(stint="b", shape="late"), MATERIAL).scene
    assert stint_of(shaped, "b").shape == "late"
    assert stint_of(shaped, "a") == A


@pytest.mark.parametrize(
    ("edit", "reason"),
    [
        (MoveStint(stint="x", start=1), "no longer in the scene"),
        (MoveStint(stint="b", start=3), "on top of each other"),
        (MoveStint(stint="b", start=0), "on top of each other"),
        (SetJoin(stint="a", length_frames=3), "Nothing comes before Round"),
        (SplitStint(stint="a", frame=0, new_stint="n"), "between its first and its last"),
        (SplitStint(stint="a", frame=45, new_stint="n"), "inside a join"),
        (RepeatStint(stint="b", cycles=2), "plays once"),
        (PlaceStint(stint="a", source=ClipSource(id="Round"), start=90, lane="lane"), "already"),
        (PlaceStint(stint="n", source=ClipSource(id="Gone"), start=90, lane="lane"), "missing"),
        (
            PlaceStint(stint="n", source=ClipSource(id="Reach"), start=38, lane="lane"),
            "at one time|on top",
        ),
        (RemoveFigure(figure="nobody"), "no longer in the scene"),
    ],
    ids=lambda value: getattr(value, "kind", ""),
)
def test_what_cannot_be_done_says_why_and_changes_nothing(edit: SceneEdit, reason: str) -> None:
    scene = scene_of([A, B])
    before = scene.model_dump_json()
    with pytest.raises(Refusal, match=reason) as refused:
        apply_edit(scene, edit, MATERIAL)
    assert str(refused.value).endswith(".")
    assert scene.model_dump_json() == before


def test_a_clip_for_another_figure_is_refused_by_name() -> None:
    gull = once_clip(10, name="Flap")
    gull = type(gull)(gull.clip.model_copy(update={"figure": "gull"}), gull.samples)
    both = material(gull)
    both = type(both)(
        {**both.figures, "gull": both.figures["keeper"].model_copy(update={"name": "Gull"})},
        both.performances,
    )
    with pytest.raises(Refusal, match="“Flap” moves Gull, and this lane moves Keeper"):
        apply_edit(
            scene_of([]),
            PlaceStint(stint="n", source=ClipSource(id="Flap"), start=0, lane="lane"),
            both,
        )


def spans(scene: Scene, lane: str = "lane") -> dict[str, tuple[float, float]]:
    return {stint.id: (stint.start, stint.end) for stint in scene.lane(lane).stints}


C = Stint(id="c", source=ClipSource(id="Round"), start=90, length_frames=20)


@pytest.mark.parametrize(
    ("edit", "after"),
    [
        # Joined by ten frames to begin with; each keeps its distance to what was changed.
        (MoveStint(stint="a", start=6), {"a": (6, 56), "b": (46, 76), "c": (96, 116)}),
        (MoveStint(stint="b", start=44), {"a": (0, 50), "b": (44, 74), "c": (94, 114)}),
        (
            TrimStint(stint="a", edge="end", frame=56),
            {"a": (0, 56), "b": (46, 76), "c": (96, 116)},
        ),
        (
            TrimStint(stint="a", edge="start", frame=8),
            {"a": (0, 42), "b": (32, 62), "c": (82, 102)},
        ),
        (
            StretchStint(stint="b", length_frames=20),
            {"a": (0, 50), "b": (40, 60), "c": (80, 100)},
        ),
        (RepeatStint(stint="a", cycles=3), {"a": (0, 60), "b": (50, 80), "c": (100, 120)}),
        (DeleteStints(stints=("a",)), {"b": (0, 30), "c": (50, 70)}),
        (DeleteStints(stints=("b",)), {"a": (0, 50), "c": (60, 80)}),
        (MoveStints(stints=("b",), frames=3), {"a": (0, 50), "b": (43, 73), "c": (93, 113)}),
        (
            PlaceStint(stint="n", source=ClipSource(id="Round"), start=75, lane="lane"),
            {"a": (0, 50), "b": (40, 70), "n": (75, 95), "c": (110, 130)},
        ),
        (
            DuplicateStints(stints=("b",), new_stints=("n",)),
            {"a": (0, 50), "b": (40, 70), "n": (70, 100), "c": (120, 140)},
        ),
    ],
    ids=lambda value: getattr(value, "kind", ""),
)
def test_ripple_carries_what_follows(
    edit: SceneEdit, after: dict[str, tuple[float, float]]
) -> None:
    scene = scene_of([A, B, C])
    rippled = apply_edit(scene, edit.model_copy(update={"ripple": True}), MATERIAL).scene
    assert spans(rippled) == after


def test_without_ripple_what_follows_stays() -> None:
    scene = scene_of([A, B, C])
    moved = apply_edit(scene, DeleteStints(stints=("a", "b")), MATERIAL)
    assert spans(moved.scene) == {"c": (90, 110)}
    assert moved.label == "Delete 2 stints"


def test_several_move_together_and_stop_at_the_first_frame() -> None:
    scene = scene_of([A, B, C])
    moved = apply_edit(scene, MoveStints(stints=("b", "c"), frames=5), MATERIAL)
    assert spans(moved.scene) == {"a": (0, 50), "b": (45, 75), "c": (95, 115)}
    assert moved.label == "Move 2 stints"
    back = apply_edit(moved.scene, MoveStints(stints=("a", "b", "c"), frames=-99), MATERIAL)
    assert back.scene == moved.scene


def test_a_copy_lies_right_after_or_where_there_is_room() -> None:
    scene = scene_of([A, C])
    copied = apply_edit(scene, DuplicateStints(stints=("a",), new_stints=("n",)), MATERIAL)
    # Frames 50 to 100 are not free, so it comes after the last one, and says so.
    assert spans(copied.scene)["n"] == (110, 160)
    assert copied.notes == ("Laid at 111, where there is room.",)
    again = apply_edit(copied.scene, DuplicateStints(stints=("n",), new_stints=("m",)), MATERIAL)
    assert spans(again.scene)["m"] == (160, 210)
    assert again.scene.find("m")[1].in_frame == A.in_frame


def test_pasting_keeps_distances_and_seconds() -> None:
    slow = A.model_copy(update={"elastic": Elastic.at_pace(0.5)})
    copies = (
        CopiedStint(stint=slow.model_copy(update={"id": "p"}), row=0),
        CopiedStint(stint=C.model_copy(update={"id": "q"}), row=0),
    )
    # From a scene at 12 fps into one at 24: twice the frames.
    paste = PasteStints(copies=copies, rate="12", frame=30, lane="lane")
    pasted = apply_edit(scene_of([]), paste, MATERIAL).scene
    assert spans(pasted) == {"p": (30, 130), "q": (210, 250)}
    p = pasted.find("p")[1]
    assert mean_pace(p) == pytest.approx(0.5)
    assert source_at(pasted, clip_of(p), p, 130) == pytest.approx(50)


def test_pasting_into_an_empty_scene_brings_the_figure() -> None:
    empty = Scene(name="Empty", rate="24", laid_frames=40, played_frames=40)
    paste = PasteStints(copies=(CopiedStint(stint=A, row=0),), rate="24", frame=0)
    pasted = apply_edit(empty, paste, MATERIAL).scene
    assert [figure.name for figure in pasted.figures] == ["Keeper"]
    assert spans(pasted, "lane-1") == {"a": (0, 50)}
    assert pasted.laid_frames == 50


def test_a_cut_between_two_stints_of_one_clip_moves_without_a_trace() -> None:
    scene = apply_edit(
        scene_of([A]), SplitStint(stint="a", frame=24, new_stint="n"), MATERIAL
    ).scene
    moved = apply_edit(scene, MoveCut(stint="n", frame=31), MATERIAL)
    assert spans(moved.scene) == {"a": (0, 31), "n": (31, 50)}
    assert moved.label == "Move the cut Round to Round"
    frames = np.arange(50.0)
    before = figure_motion(scene_of([A]), MATERIAL, scene.figures[0], frames)
    after = figure_motion(moved.scene, MATERIAL, scene.figures[0], frames)
    assert np.abs(before.rotations - after.rotations).max() < 1e-12
    assert np.abs(before.travel - after.travel).max() < 1e-12


def test_a_joined_cut_moves_as_a_whole_and_stops_where_a_clip_ends() -> None:
    moved = apply_edit(scene_of([A, B]), MoveCut(stint="b", frame=45), MATERIAL)
    assert spans(moved.scene) == {"a": (0, 55), "b": (45, 70)}
    assert source_at(moved.scene, clip_of(B), moved.scene.find("b")[1], 45) == 5
    # Reach has nothing before its own start.
    early = apply_edit(scene_of([A, B]), MoveCut(stint="b", frame=10), MATERIAL)
    assert spans(early.scene) == {"a": (0, 50), "b": (40, 70)}
    assert early.notes == ("Reach begins here: it plays once, and has no more frames.",)
    with pytest.raises(Refusal, match="There is a gap between Round and Round"):
        apply_edit(scene_of([A, C]), MoveCut(stint="c", frame=60), MATERIAL)


def test_slipping_changes_the_part_and_neither_place_nor_pace() -> None:
    slipped = apply_edit(scene_of([A]), SlipStint(stint="a", source_frames=7.5), MATERIAL).scene
    after = stint_of(slipped, "a")
    assert (after.start, after.end, after.in_frame, mean_pace(after)) == (0, 50, 7.5, 1)
    short = B.model_copy(update={"in_frame": 5.0, "length_frames": 20.0})
    held = apply_edit(scene_of([short]), SlipStint(stint="b", source_frames=50), MATERIAL)
    assert stint_of(held.scene, "b").in_frame == 10
    assert held.notes == ("Reach has no more frames that way: it plays once.",)


def test_a_locked_lane_keeps_its_stints() -> None:
    locked = apply_edit(scene_of([A, B]), SetLane(lane="lane", locked=True), MATERIAL).scene
    for edit in (
        MoveStint(stint="a", start=9),
        DeleteStints(stints=("b",)),
        PlaceStint(stint="n", source=ClipSource(id="Round"), start=90, lane="lane"),
        RemoveFigure(figure="k"),
    ):
        with pytest.raises(Refusal, match="is locked"):
            apply_edit(locked, edit, MATERIAL)
    free = apply_edit(locked, SetLane(lane="lane", locked=False), MATERIAL)
    assert free.scene == scene_of([A, B])


def test_beats_are_kept_in_order_and_inside_the_scene() -> None:
    scene = scene_of([A, B], length=100)
    for name, start, end in (("Hurries", 50, 80), ("Stands", 0, 30)):
        beat = AddBeat(beat=name, name=name, start=start, end=end)
        scene = apply_edit(scene, beat, MATERIAL).scene
    assert [beat.name for beat in scene.beats] == ["Stands", "Hurries"]
    moved = apply_edit(scene, SetBeat(beat="Stands", start=60, end=90), MATERIAL)
    assert [beat.name for beat in moved.scene.beats] == ["Hurries", "Stands"]
    assert moved.label == "Move the beat Stands"
    trimmed = apply_edit(scene, SetBeat(beat="Stands", end=35), MATERIAL)
    assert trimmed.label == "Trim the beat Stands"
    for wrong in (SetBeat(beat="Stands", end=101), SetBeat(beat="Stands", start=40)):
        with pytest.raises(Refusal, match=r"A beat (lies inside|ends after)"):
            apply_edit(scene, wrong, MATERIAL)


def test_every_edit_is_read_from_json_by_its_kind() -> None:
    adapter: TypeAdapter[SceneEdit] = TypeAdapter(SceneEdit)
    read = adapter.validate_python({"kind": "trim_stint", "stint": "a", "edge": "end", "frame": 9})
    assert read == TrimStint(stint="a", edge="end", frame=9)
    with pytest.raises(ValueError, match="does not match any of the expected tags"):
        adapter.validate_python({"kind": "teleport", "stint": "a"})


def test_nailing_a_stint_down_leaves_it_where_it_stands() -> None:
    scene = scene_of([A, B])
    frames = np.arange(0.0, 70.0, 3)
    before = figure_motion(scene, MATERIAL, scene.figures[0], frames)
    nailed = apply_edit(scene, NailStint(stint="b"), MATERIAL)
    assert nailed.label == "Nail down Reach"
    after = figure_motion(nailed.scene, MATERIAL, scene.figures[0], frames)
    assert np.abs(before.travel - after.travel).max() < 1e-12
    # Now an earlier edit no longer carries it along.
    moved = SetMark(figure="k", mark=(5.0, 0.0, 0.0))
    away = apply_edit(nailed.scene, moved, MATERIAL).scene
    late = np.arange(52.0, 70.0)
    kept = figure_motion(away, MATERIAL, scene.figures[0], late)
    there = figure_motion(nailed.scene, MATERIAL, scene.figures[0], late)
    assert np.abs(kept.travel - there.travel).max() < 1e-12
    chained = apply_edit(nailed.scene, NailStint(stint="b", nailed=False), MATERIAL)
    assert (chained.scene, chained.label) == (scene, "Chain Reach")
