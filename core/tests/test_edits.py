"""Edits (rules 5.1, 8.1 and 8.3), by number and by property."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from elastic_core.elastic import Elastic
from elastic_core.errors import Refusal
from elastic_core.scene.document import Scene, Stint
from elastic_core.scene.edits import (
    DeleteStint,
    MoveStint,
    NailStint,
    PaceStint,
    PlaceStint,
    RemoveFigure,
    RenameScene,
    RepeatStint,
    SceneEdit,
    SetGap,
    SetJoin,
    SetLength,
    SetMark,
    SplitStint,
    StretchStint,
    TrimStint,
    apply_edit,
)
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.timing import mean_pace, source_at

from .motions import material, once_clip, scene_of, turning_cycle

MATERIAL = material(turning_cycle(length=20), once_clip(30))
A = Stint(id="a", clip="Round", start=0, length_frames=50)
B = Stint(id="b", clip="Reach", start=40, length_frames=30)


def stint_of(scene: Scene, stint: str) -> Stint:
    return scene.find(stint)[1]


def clip_of(stint: Stint):  # type: ignore[no-untyped-def]
    return MATERIAL.clip(stint.clip).clip


def test_placing_a_clip_plays_it_once_as_made() -> None:
    edited = apply_edit(
        scene_of([A]), PlaceStint(stint="n", clip="Reach", start=60.4, lane="lane"), MATERIAL
    )
    placed = stint_of(edited.scene, "n")
    assert (placed.start, placed.length_frames, placed.in_frame) == (60, 30, 0)
    assert edited.label == "Place Reach"


def test_placing_past_the_end_makes_the_scene_longer_and_says_so() -> None:
    edited = apply_edit(
        scene_of([A], length=70),
        PlaceStint(stint="n", clip="Reach", start=60, lane="lane"),
        MATERIAL,
    )
    assert edited.scene.length_frames == 90
    assert edited.notes == ("The scene is 90 frames long now.",)


def test_a_newcomer_gets_a_figure_and_a_lane() -> None:
    empty = Scene(name="Empty", rate="24", length_frames=40)
    edit = PlaceStint(stint="n", clip="Round", start=5, new_ids=("f", "l"))
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
    with pytest.raises(ValueError, match="it cannot stop"):
        Stint(id="a", clip="Round", start=0, length_frames=9, elastic=Elastic(after="stop"))


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
        (PlaceStint(stint="a", clip="Round", start=90, lane="lane"), "already"),
        (PlaceStint(stint="n", clip="Gone", start=90, lane="lane"), "missing"),
        (PlaceStint(stint="n", clip="Reach", start=38, lane="lane"), "at one time|on top"),
        (MoveStint(stint="a", start=float("inf")), "not a frame"),
        (SetLength(length_frames=900_000), "200,000 frames at the most"),
        (RemoveFigure(figure="nobody"), "no longer in the scene"),
        (SetMark(figure="k", mark=(float("nan"), 0, 0)), "A mark is"),
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
        both.clips,
    )
    with pytest.raises(Refusal, match="“Flap” moves Gull, and this lane moves Keeper"):
        apply_edit(scene_of([]), PlaceStint(stint="n", clip="Flap", start=0, lane="lane"), both)


edits: st.SearchStrategy[SceneEdit] = st.one_of(
    st.builds(MoveStint, stint=st.sampled_from("abc"), start=st.integers(-20, 250)),
    st.builds(
        TrimStint,
        stint=st.sampled_from("abc"),
        edge=st.sampled_from(["start", "end"]),
        frame=st.integers(-20, 300),
    ),
    st.builds(StretchStint, stint=st.sampled_from("abc"), length_frames=st.integers(1, 200)),
    st.builds(PaceStint, stint=st.sampled_from("abc"), pace=st.floats(0.1, 4)),
    st.builds(
        SplitStint,
        stint=st.sampled_from("abc"),
        frame=st.integers(0, 200),
        new_stint=st.sampled_from("cdefgh"),
    ),
    st.builds(DeleteStint, stint=st.sampled_from("abc")),
    st.builds(SetJoin, stint=st.sampled_from("abc"), length_frames=st.integers(0, 30)),
    st.builds(SetJoin, stint=st.sampled_from("abc"), shape=st.sampled_from(["even", "late"])),
    st.builds(
        PlaceStint,
        stint=st.sampled_from("cdefgh"),
        clip=st.sampled_from(["Round", "Reach"]),
        start=st.integers(0, 300),
        lane=st.just("lane"),
    ),
    st.builds(
        NailStint, stint=st.sampled_from("ab"), placement=st.none() | st.just((1.0, 2.0, 0.5))
    ),
    st.builds(SetGap, lane=st.just("lane"), gap=st.sampled_from(["rest", "hold", "wait"])),
    st.builds(SetLength, length_frames=st.integers(1, 400)),
    st.builds(RenameScene, name=st.sampled_from(["Quay", "灯台"])),
)


@settings(max_examples=150, deadline=None)
@given(st.lists(edits, max_size=8))
def test_any_run_of_edits_keeps_the_scene_valid_and_undo_restores_it(run: list[SceneEdit]) -> None:
    scene = scene_of([A, B])
    history = [scene]
    for edit in run:
        before = scene.model_dump_json()
        try:
            edited = apply_edit(scene, edit, MATERIAL)
        except Refusal:
            continue
        # The edit left its input alone: stepping back shows it bit for bit.
        assert scene.model_dump_json() == before
        assert edited.label
        history.append(edited.scene)
        scene = edited.scene
        assert Scene.model_validate_json(scene.model_dump_json()) == scene
        stints = scene.lanes[0].stints
        assert [s.start for s in stints] == sorted(s.start for s in stints)
        for frame in range(0, scene.length_frames, 3):
            assert sum(s.start <= frame < s.end for s in stints) <= 2
        for stint in stints:
            assert stint.start >= 0
            assert stint.length_frames >= 1
            if stint.clip == "Reach":
                assert source_at(scene, clip_of(stint), stint, stint.start) >= -1e-6
                assert source_at(scene, clip_of(stint), stint, stint.end) <= 30 + 1.5 * mean_pace(
                    stint
                )
        motion = figure_motion(
            scene, MATERIAL, scene.figures[0], np.arange(0.0, scene.length_frames, 7)
        )
        assert np.isfinite(motion.rotations).all()
        assert np.isfinite(motion.travel).all()


def test_every_edit_is_read_from_json_by_its_kind() -> None:
    adapter: TypeAdapter[SceneEdit] = TypeAdapter(SceneEdit)
    read = adapter.validate_python({"kind": "trim_stint", "stint": "a", "edge": "end", "frame": 9})
    assert read == TrimStint(stint="a", edge="end", frame=9)
    with pytest.raises(ValueError, match="does not match any of the expected tags"):
        adapter.validate_python({"kind": "teleport", "stint": "a"})
