"""Layers of drawings in a scene: what shows, where it stands, and what carries it (rules 7.3 and 7.5)."""

import json
from fractions import Fraction
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from elastic_core import rotation
from elastic_core.drawings.playing import RunPlayed
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.exposure import Exposure
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.formats.scene_file import scene_file
from elastic_core.scene.cast import ClipSource, RunSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit, apply_edit, brings
from elastic_core.scene.evaluate import frames_of, guides_of, layers_of, standing_of
from elastic_core.scene.material import Material
from elastic_core.sheet.of_scene import sheet_of_scene

from .drawn import run_of_drawings, set_of
from .motions import material, scene_of, turning_cycle
from .test_lane_time import lane, stint, with_lanes

EDIT: TypeAdapter[SceneEdit] = TypeAdapter(SceneEdit)
CLIPS = material(turning_cycle(length=20))
RUN = run_of_drawings("0-5 on 3", play="boil", seed=7)
MADE_OF = Material(
    CLIPS.figures,
    {
        **CLIPS.performances,
        RunSource(id="flicker"): RunPlayed(RUN),
        RunSource(id="waves"): RunPlayed(run_of_drawings("1-2 on 4", drawings="sea")),
        RunSource(id="turn"): RunPlayed(run_of_drawings("1-3 on 4", play="once")),
    },
    drawn={"flame": set_of(0, 1, 2, 3, 4, 5), "sea": set_of(1, 2, name="Sea")},
)
FRAMES = np.arange(48.0)


def done(scene: Scene, kind: str, **fields: Any) -> Scene:
    return apply_edit(scene, EDIT.validate_python({"kind": kind, **fields}), MADE_OF).scene


def with_flame(scene: Scene | None = None, **fields: Any) -> Scene:
    scene = scene or scene_of([stint("a", "Round", 0, 48)], length=48)
    return done(
        scene, "add_layer", **{"layer": "l", "drawings": "flame", "run": "flicker", **fields}
    )


def standing(scene: Scene, frames: np.ndarray = FRAMES) -> Any:
    return standing_of(scene, MADE_OF, frames, frames_of(scene, MADE_OF, frames))["l"]


def test_a_set_with_its_run_enters_in_one_edit_and_plays_over_the_scene() -> None:
    scene = with_flame()
    (added,) = [one for one in scene.lanes if one.target.kind == "layer"]
    assert [(s.start, s.end) for s in added.stints] == [(0, 48)]
    assert layers_of(scene, MADE_OF, FRAMES)["l"].tolist() == RUN.drawings_at(FRAMES).tolist()
    once = with_flame(run="turn", start=10)
    row = layers_of(once, MADE_OF, FRAMES)["l"].tolist()
    # A drawing numbered 0 is a drawing; where nothing plays there is none.
    assert row == [-1] * 10 + [1] * 4 + [2] * 4 + [3] * 4 + [-1] * 26
    edit = EDIT.validate_python(
        {"kind": "add_layer", "layer": "l", "drawings": "flame", "run": "flicker"}
    )
    assert brings(edit) == ({RunSource(id="flicker")}, {"flame"})


def test_a_lane_plays_runs_of_its_own_drawings_alone() -> None:
    scene = with_flame()
    own = scene.lanes[0].id
    with pytest.raises(Refusal, match="“Flicker” has other drawings than “Drawings” shows"):
        done(scene, "place_stint", stint="x", source=RunSource(id="waves"), start=60, lane=own)
    with pytest.raises(Refusal, match="The run “Flicker” has other drawings"):
        with_flame(run="waves")
    with pytest.raises(Refusal, match="“Flicker” needs a layer"):
        done(scene, "place_stint", stint="x", source=RunSource(id="flicker"), start=0)
    with pytest.raises(Refusal, match="has nothing for the lane"):
        done(scene, "place_stint", stint="x", source=ClipSource(id="Round"), start=60, lane=own)
    placed = done(scene, "place_stint", stint="x", source=RunSource(id="turn"), start=60, lane=own)
    assert placed.find("x")[1].length_frames == 12


@given(
    st.lists(st.tuples(st.integers(0, 60), st.integers(-40, 80)), min_size=1, max_size=4),
    st.sampled_from([(1,), (2,), (2, 3)]),
    st.floats(0.2, 3.0),
    st.integers(1, 40),
)
def test_no_elastic_join_or_exposure_invents_a_drawing(
    pins: list[tuple[int, int]], pattern: tuple[int, ...], pace: float, overlap: int
) -> None:
    elastic = Elastic(pins=tuple(Pin(played=p, source=s) for p, s in sorted(dict(pins).items())))
    first = stint("a", "x", 0, 60, source=RunSource(id="flicker"), elastic=elastic)
    then = stint(
        "b", "x", 60 - overlap, 60, source=RunSource(id="flicker"), elastic=Elastic.at_pace(pace)
    )
    scene = with_flame(run=None)
    own = scene.lanes[0].model_copy(
        update={"stints": (first, then), "exposure": Exposure(pattern=pattern)}
    )
    scene = scene.model_copy(
        update={"lanes": (own, *scene.lanes[1:]), "elastic": Elastic.at_pace(pace)}
    )
    shown = layers_of(scene, MADE_OF, np.arange(0.0, 60.0, 0.31))["l"]
    assert set(shown.tolist()) <= {-1, *RUN.numbers}


def test_a_drawing_is_pinned_to_a_frame_of_the_scene() -> None:
    scene = with_flame(run="turn")
    own = scene.lanes[0].stints[0].id
    before = desk_of(scene, MADE_OF).lanes[0].stints[0].exposed
    assert [(one.frame, one.drawing) for one in before] == [(0, 1), (4, 2), (8, 3)]
    pinned = done(scene, "pin_shown", stint=own, drawing=2, frame=7)
    row = layers_of(pinned, MADE_OF, FRAMES)["l"].tolist()
    assert row.index(2) == 7
    assert row[:7] == [1] * 7
    assert 3 in row
    exposed = desk_of(pinned, MADE_OF).lanes[0].stints[0].exposed
    assert (exposed[1].frame, exposed[1].drawing) == (7, 2)
    with pytest.raises(Refusal, match=r"Drawing 9 does not come in Flicker\."):
        done(scene, "pin_shown", stint=own, drawing=9, frame=7)
    body = next(lane for lane in scene.lanes if lane.figure).stints[0].id
    with pytest.raises(Refusal, match="“Round” has no drawings"):
        done(scene, "pin_shown", stint=body, drawing=1, frame=7)


def test_a_pinned_boil_keeps_its_order() -> None:
    scene = with_flame()
    own = scene.lanes[0].stints[0].id
    free = layers_of(scene, MADE_OF, FRAMES)["l"]
    third = int(free[20])
    pinned = done(scene, "pin_shown", stint=own, drawing=third, frame=25)
    row = layers_of(pinned, MADE_OF, FRAMES)["l"]
    assert row[25] == third
    assert row[24] != third

    def order(row: np.ndarray) -> list[int]:
        return row[np.flatnonzero(np.diff(row, prepend=row[:1] - 1))].tolist()

    assert order(row[:26]) == order(free[:26])[: len(order(row[:26]))]


def test_a_card_rides_on_a_joint_as_it_plays_through_three_elastics() -> None:
    """Scene elastic over stint elastic over the figure's twos: the pegs are at the joint to 1e-6 m."""
    slow = stint("a", "Round", 0, 60, elastic=Elastic.at_pace(0.7), exposure=Exposure(pattern=(2,)))
    scene = with_lanes(lane("b", [slow]), length=60, elastic=Elastic.at_pace(0.8))
    scene = with_flame(scene.model_copy(update={"played_frames": 60}), to="k", joint="head")
    figure = MADE_OF.figure(scene.figure("k").figure)
    (shown,) = frames_of(scene, MADE_OF, FRAMES)
    at = shown.placed.positions[:, figure.place_of("head")]
    assert np.ptp(at, axis=0).max() > 0.05
    assert standing(scene).place == pytest.approx(at, abs=1e-6)
    # It stays upright; told to turn, it turns as the joint does.
    assert standing(scene).turn == pytest.approx(np.tile([1.0, 0, 0, 0], (48, 1)))
    tip = done(scene, "ride_layer", layer="l", to="k", joint="head", offset=(0, 0.1, 0))
    turns = shown.placed.rotations[:, figure.place_of("head")]
    up = rotation.rotate(turns, np.tile([0.0, 0.1, 0.0], (48, 1)))
    assert standing(tip).place == pytest.approx(at + up, abs=1e-6)
    assert standing(tip).turn == pytest.approx(np.tile([1.0, 0, 0, 0], (48, 1)))
    turned = done(
        scene, "ride_layer", layer="l", to="k", joint="head", turns=True, offset=(0, 0.1, 0)
    )
    assert standing(turned).place == pytest.approx(at + up, abs=1e-6)
    assert np.abs((standing(turned).turn * turns).sum(axis=1)) == pytest.approx(np.ones(48))


def test_a_card_moves_on_ones_while_its_drawing_changes_on_threes() -> None:
    scene = done(with_flame(), "add_guide", guide="g", frame=0, place=(0, 0, 0))
    scene = done(scene, "key_guide", guide="g", frame=47, place=(4.7, 1, 0), heading_degrees=90)
    scene = done(scene, "ride_layer", layer="l", to="g")
    drawings = layers_of(scene, MADE_OF, FRAMES)["l"]
    guide = guides_of(scene, FRAMES)["g"]
    assert np.flatnonzero(np.diff(drawings)).tolist() == list(range(2, 45, 3))
    assert standing(scene).place == pytest.approx(guide[:, :3], abs=1e-9)
    assert (np.diff(standing(scene).place[:, 0]) > 0).all()
    # With steps it stands still while a drawing does.
    stepped = standing(done(scene, "set_layer", layer="l", steps=True))
    assert stepped.place == pytest.approx(guide[FRAMES.astype(int) // 3 * 3, :3], abs=1e-9)
    # The same frame shows the same, whichever frames are asked for.
    late = standing(done(scene, "set_layer", layer="l", steps=True), np.array([31.0]))
    assert late.place[0] == pytest.approx(stepped.place[31])


def test_a_reference_movie_stays_in_step_for_a_minute() -> None:
    """Sixty seconds at 25 frames a second under a scene at 24: the picture of the very moment, in the scene's
    own time and through its elastic."""
    movie = run_of_drawings("1-1500 on 1", play="once").model_copy(update={"rate": Fraction(25)})
    made_of = Material(
        MADE_OF.figures,
        {**MADE_OF.performances, RunSource(id="movie"): RunPlayed(movie)},
        drawn={"flame": set_of(*range(1, 1501))},
    )
    scene = scene_of([], length=1440)
    edit = EDIT.validate_python(
        {"kind": "add_layer", "layer": "l", "drawings": "flame", "run": "movie", "stands": "under"}
    )
    scene = apply_edit(scene, edit, made_of).scene
    frames = np.arange(1440.0)
    row = layers_of(scene, made_of, frames)["l"]
    seconds = frames / 24
    # The picture that shows came up at most a frame of the movie ago.
    assert np.abs((row - 1) / 25 - seconds).max() < 1 / 25
    slow = scene.model_copy(update={"elastic": Elastic.at_pace(0.5)})
    assert layers_of(slow, made_of, frames)["l"][::2].tolist() == row[:720].tolist()
    lane = slow.lanes[0].model_copy(update={"keeps_own_time": True})
    own = slow.model_copy(update={"lanes": (lane, *slow.lanes[1:])})
    assert layers_of(own, made_of, frames)["l"].tolist() == row.tolist()


def test_what_leaves_the_stage_for_the_picture_fills_it() -> None:
    scene = with_flame(to="k", joint="head", height_metres=0.3)
    under = done(scene, "set_layer", layer="l", stands="under").layer("l")
    middle = MADE_OF.drawn["flame"].middle
    # The pegs are at the sheet's foot, so they lie at the picture's.
    assert middle == pytest.approx((0, 0.5))
    assert (under.place, under.height_metres) == ((0, -0.5, 0), 1)
    assert under.attachments == ()
    # Over or under it is one place; what is told counts; back on the stage it stands in its middle.
    over = done(scene, "set_layer", layer="l", stands="overlay", place=(0.2, 0, 0))
    assert over.layer("l").place == (0.2, 0, 0)
    assert done(over, "set_layer", layer="l", stands="under").layer("l").place == (0.2, 0, 0)
    assert done(over, "set_layer", layer="l", stands="behind").layer("l").place == (0, 0, 0)


def test_opacity_is_keyed_over_laid_frames() -> None:
    scene = done(with_flame(), "key_opacity", layer="l", frame=0, opacity=0.0)
    scene = done(scene, "key_opacity", layer="l", frame=40, opacity=1.0)
    shown = standing(scene).opacity
    assert shown[0] == 0
    assert shown[40:] == pytest.approx(np.ones(8))
    assert 0.4 < shown[20] < 0.6
    assert (np.diff(shown[:41]) > 0).all()
    keys = desk_of(scene, MADE_OF).opacity_keys["l"]
    assert [(key.frame, key.opacity) for key in keys] == [(0, 0), (40, 1)]
    one = done(scene, "key_opacity", layer="l", frame=40, opacity=None)
    bare = done(one, "key_opacity", layer="l", frame=0, opacity=None)
    assert bare.layer("l").opacity is None
    with pytest.raises(Refusal, match="has no key of its opacity there"):
        done(bare, "key_opacity", layer="l", frame=0, opacity=None)


def test_what_carried_a_layer_can_go_and_so_can_its_last_lane() -> None:
    scene = with_flame(to="k", joint="head")
    gone = done(scene, "remove_figure", figure="k")
    assert gone.layer("l").attachments == ()
    assert done(scene, "let_layer_off", layer="l").layer("l").attachments == ()
    last = apply_edit(
        scene, EDIT.validate_python({"kind": "remove_lane", "lane": scene.lanes[0].id}), MADE_OF
    )
    assert last.scene.layers == ()
    assert last.notes == ("1 stint went with it.", "The layer Flame went with it.")
    assert done(scene, "remove_layer", layer="l").lanes == scene.lanes[1:]
    with pytest.raises(Refusal, match="Something with that id"):
        with_flame(scene)


def test_a_layer_is_on_the_desk_on_the_sheet_in_the_pack_and_in_the_file() -> None:
    scene = with_flame(to="k", joint="head", name="Lamp")
    desk = desk_of(scene, MADE_OF)
    assert [layer.name for layer in desk.layers] == ["Lamp"]
    assert (desk.lanes[0].figure_name, desk.lanes[0].takes_runs_of) == ("Lamp", "flame")
    assert desk.lanes[0].stints[0].clip_name == "Flicker"
    columns = {column.name: column for column in sheet_of_scene(scene, MADE_OF).columns}
    told = [(c.frame, c.length, int(c.text)) for c in columns["Lamp Drawings"].cells]
    assert [one[1] for one in told] == [3] * 16
    assert [one[2] for one in told] == RUN.drawings_at(np.arange(0.0, 48.0, 3)).tolist()
    figures = frames_of(scene, MADE_OF, FRAMES)
    data = pack_frames(
        figures,
        {},
        layers_of(scene, MADE_OF, FRAMES),
        standing=standing_of(scene, MADE_OF, FRAMES, figures),
    )
    header = json.loads(data[8 : 8 + int.from_bytes(data[:8], "little")])
    assert header["standing/l"]["shape"] == [48, 8]
    assert header["layers/l"]["shape"] == [48]
    held = scene_file(scene, MADE_OF)
    assert set(held.drawings) == {"flame"}
    assert held.runs["flicker"] == RUN
    again = held.material()
    assert (
        layers_of(scene, again, FRAMES)["l"].tolist()
        == layers_of(scene, MADE_OF, FRAMES)["l"].tolist()
    )
    with pytest.raises(Refusal, match="uses drawings that the file does not hold"):
        held.model_copy(update={"drawings": {}}).material()
