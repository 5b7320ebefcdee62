"""Rules 1.8, 1.9, 5.6 and 9.4: every lane has a clock of its own, and is set down once."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction

import numpy as np
import pytest

from elastic_core.arrays import Array, Index
from elastic_core.clip.playable import PlayableClip
from elastic_core.colour import Colour
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.exposure import Exposure
from elastic_core.formats.frame_pack import pack, pack_frames
from elastic_core.moments import Source, played, source
from elastic_core.motion import Motion
from elastic_core.scene.cast import (
    BodyTarget,
    ClipSource,
    LayerTarget,
    PartTarget,
    SceneSource,
    StintSource,
    Target,
)
from elastic_core.scene.clock import clock_of
from elastic_core.scene.document import Lane, Scene, Stint
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.stints import PlaceStint
from elastic_core.scene.evaluate import BLOCK_FRAMES, figure_motion, frames_of, layers_of
from elastic_core.scene.material import Material
from elastic_core.scene.part import ScenePart
from elastic_core.scene.staging import placements_of

from .motions import material, once_clip, scene_of, turning_cycle

ROUND, REACH = turning_cycle(), once_clip()
MATERIAL = material(ROUND, REACH)
HALF = Elastic.at_pace(0.5)


def stint(name: str, clip: str, start: float, length: float, **more: object) -> Stint:
    made = {"id": name, "source": ClipSource(id=clip), "start": start, "length_frames": length}
    return Stint.model_validate({**made, **more})


def lane(name: str, stints: Sequence[Stint], **more: object) -> Lane:
    made = {"id": name, "name": name, "target": BodyTarget(figure="k"), "stints": tuple(stints)}
    return Lane.model_validate({**made, **more})


def with_lanes(*lanes: Lane, length: int = 200, **more: object) -> Scene:
    """Lanes from the top down."""
    return scene_of([], length).model_copy(update={"lanes": lanes, **more})


def motion(scene: Scene, frames: Array, made_of: Material = MATERIAL) -> Motion:
    return figure_motion(scene, made_of, scene.figures[0], frames)


def test_a_lane_that_keeps_its_own_time_plays_through_the_scenes_elastic() -> None:
    bent = with_lanes(lane("b", [stint("a", "Round", 0, 100)]), elastic=HALF)
    own = with_lanes(lane("b", [stint("a", "Round", 0, 100)], keeps_own_time=True), elastic=HALF)
    plain = with_lanes(lane("b", [stint("a", "Round", 0, 100)]))
    frames = np.arange(0.0, 100.0)
    assert np.array_equal(motion(own, frames).rotations, motion(plain, frames).rotations)
    assert np.array_equal(motion(bent, frames).rotations, motion(plain, frames / 2).rotations)


def test_a_lanes_exposure_stands_instead_of_the_scenes() -> None:
    twos, ones = Exposure(pattern=(2,)), Exposure()
    stints = [stint("a", "Round", 0, 100)]
    scene = with_lanes(lane("b", stints, exposure=ones), exposure=twos)
    held = with_lanes(lane("b", stints), exposure=twos)
    frames = np.arange(0.0, 24.0)
    plain = motion(with_lanes(lane("b", stints)), frames)
    assert np.array_equal(motion(scene, frames).rotations, plain.rotations)
    assert np.array_equal(motion(held, frames).rotations[1::2], plain.rotations[::2])


def test_a_clock_says_when_a_moment_first_plays() -> None:
    there_and_back = Elastic(
        pins=(Pin(played=0, source=0), Pin(played=40, source=40), Pin(played=60, source=20))
    )
    clock = clock_of(with_lanes(lane("b", []), elastic=there_and_back), lane("b", []))
    assert clock.time(played([10, 50])).tolist() == [10, 30]
    assert clock.first_played(clock.time(played([50]))).tolist() == [30]


def test_a_lane_over_others_with_another_clock_starts_where_the_figure_stands_then() -> None:
    under = lane("under", [stint("a", "Round", 0, 150)])
    over = lane("over", [stint("b", "Reach", 60, 30)], keeps_own_time=True)
    scene = with_lanes(over, under, elastic=HALF)
    shown = motion(scene, np.array([59.0, 60.0]))
    below = motion(with_lanes(under, elastic=HALF), np.array([60.0]))
    assert shown.travel[1] == pytest.approx(below.travel[0], abs=1e-9)


def test_of_four_lanes_each_begins_where_those_below_have_brought_the_figure() -> None:
    """Placements over lanes: against the same stints, nailed by hand where they should stand."""
    rows = [
        lane("l4", [stint("f", "Reach", 70, 20), stint("g", "Reach", 95, 12)]),
        lane("l3", [stint("d", "Round", 40, 25), stint("e", "Reach", 60, 18)]),
        lane("l2", [stint("c", "Reach", 30, 30)]),
        lane("l1", [stint("a", "Round", 0, 50), stint("b", "Round", 44, 90)]),
    ]
    scene = with_lanes(*rows)
    expected: dict[str, Array] = {}
    for place in range(len(rows) - 1, -1, -1):
        below = with_lanes(*rows[place + 1 :])
        for one in rows[place].stints:
            before = [s for s in rows[place].stints if s.start < one.start]
            if not rows[place + 1 :] or (before and before[-1].end >= one.start):
                continue
            start = motion(below, np.array([one.start])).travel[0]
            shown = motion(with_lanes(*rows[place:]), np.array([one.start])).travel[0]
            assert shown == pytest.approx(start, abs=1e-9)
            expected[one.id] = start
    assert sorted(expected) == ["c", "d", "f", "g"]
    nailed = [
        row.model_copy(
            update={
                "stints": tuple(
                    one.model_copy(update={"nailed": tuple(place)})
                    for one, place in zip(
                        row.stints, placements_of(scene, MATERIAL, row).tolist(), strict=True
                    )
                )
            }
        )
        for row in rows
    ]
    frames = np.arange(0.0, 120.0)
    apart = motion(with_lanes(*nailed), frames).travel - motion(scene, frames).travel
    assert np.abs(apart).max() < 1e-9


def test_frames_beyond_one_block_are_those_of_one_long_run() -> None:
    scene = with_lanes(
        lane("over", [stint("r", "Reach", BLOCK_FRAMES - 10, 30)]),
        lane("b", [stint("a", "Round", 0, 700), stint("c", "Reach", 690, 40)]),
        length=800,
    )
    frames = np.arange(0.0, 800.0)
    (blocks,) = frames_of(scene, MATERIAL, frames)
    whole = motion(scene, frames)
    assert np.array_equal(blocks.motion.travel, whole.travel)
    assert np.array_equal(blocks.motion.rotations, whole.rotations)


@dataclass(frozen=True, eq=False)
class Counted:
    """A performance that counts what it is asked."""

    inner: PlayableClip
    asked: list[tuple[str, int]] = field(default_factory=list)

    def __getattr__(self, name: str) -> object:
        return getattr(self.inner, name)

    def at(self, frames: Source) -> Motion:
        self.asked.append(("poses", len(frames)))
        return self.inner.at(frames)

    def travel_at(self, frames: Source) -> Array:
        self.asked.append(("travel", len(frames)))
        return self.inner.travel_at(frames)


def test_every_stint_is_set_down_once_and_only_what_shows_is_posed() -> None:
    counted = Counted(ROUND)
    rows = [
        lane(f"l{k}", [stint(f"{k}-{n}", "Round", 100 * n + 5 * k, 60) for n in range(8)])
        for k in range(8, 0, -1)
    ]
    scene = with_lanes(*rows, length=900)
    made_of = Material(MATERIAL.figures, {ClipSource(id="Round"): counted})  # type: ignore[dict-item]
    frames = np.arange(0.0, 900.0)
    frames_of(scene, made_of, frames)
    poses = [frames for what, frames in counted.asked if what == "poses"]
    travels = [frames for what, frames in counted.asked if what == "travel"]
    # Two blocks of frames: every frame posed once, but for the ends of stints that are cut by both.
    assert sum(poses) <= len(frames) + 8
    # Each stint is asked once where it arrives and leaves; and for its start one that lies below.
    assert len(travels) <= 64 + 64
    asked = len(counted.asked)
    frames_of(scene, made_of, frames[:24])
    assert len(counted.asked) - asked <= 64 + 64 + 3


@dataclass(frozen=True)
class Flame:
    """A run of six drawings on twos, as a lane sees it."""

    name: str = "Flame"
    colour: Colour = "ochre"
    figure: str = ""
    rate: Fraction = Fraction(24)
    length_frames: int = 12
    is_cycle: bool = True
    channels: frozenset[str] = frozenset({"drawings"})
    plants: tuple[()] = ()
    rests: tuple[()] = ()

    def drawings_at(self, frames: Source) -> Index:
        return (np.floor(frames % 12 / 2) + 1).astype(np.intp)


def drawn(target: Target, *stints: Stint, **more: object) -> tuple[Scene, Material]:
    scene = with_lanes(lane("f", stints).model_copy(update={"target": target, **more}))
    flames: Mapping[StintSource, object] = {ClipSource(id="Flame"): Flame()}
    return scene, Material(MATERIAL.figures, flames)  # type: ignore[arg-type]


def test_a_layer_shows_whole_drawings_through_every_elastic() -> None:
    slow = stint("a", "Flame", 0, 48, elastic=Elastic.at_pace(0.3))
    scene, made_of = drawn(LayerTarget(layer="flame"), slow)
    row = layers_of(scene, made_of, np.arange(0.0, 48.0))["flame"]
    assert row.dtype == np.intp
    assert set(row.tolist()) <= set(range(1, 7))
    assert row.tolist() == [int(np.floor(0.3 * k % 12 / 2)) + 1 for k in range(48)]


def test_a_part_of_a_figure_has_its_drawings_in_the_figures_frames() -> None:
    scene, made_of = drawn(PartTarget(figure="k", part="mouth"), stint("a", "Flame", 4, 8))
    (shown,) = frames_of(scene, made_of, np.arange(0.0, 12.0))
    assert shown.drawings["mouth"].tolist() == [1, 1, 1, 1, 1, 1, 2, 2, 3, 3, 4, 4]


def test_a_lane_takes_only_what_performs_for_its_target() -> None:
    scene, made_of = drawn(LayerTarget(layer="flame"))
    both = Material(made_of.figures, {**MATERIAL.performances, **made_of.performances})
    wrong = PlaceStint(stint="n", source=ClipSource(id="Round"), start=0, lane="f")
    with pytest.raises(Refusal, match="“Round” has nothing for the lane “f” to play"):
        apply_edit(scene, wrong, both)
    right = PlaceStint(stint="n", source=ClipSource(id="Flame"), start=0, lane="f")
    assert len(apply_edit(scene, right, both).scene.lanes[0].stints) == 1


def test_a_part_of_a_scene_plays_in_another_one_as_it_lies_there() -> None:
    inner = with_lanes(lane("b", [stint("a", "Round", 0, 50), stint("c", "Reach", 44, 30)]))
    part = ScenePart(inner, MATERIAL, inner.figures[0])
    outer_stint = stint("p", "", 0, 60).model_copy(
        update={"source": SceneSource(id="inner", figure="k"), "elastic": Elastic.at_pace(0.8)}
    )
    outer = with_lanes(lane("b", [outer_stint]))
    made_of = Material(MATERIAL.figures, {SceneSource(id="inner", figure="k"): part})
    frames = np.arange(0.0, 60.0)
    shown, there = motion(outer, frames, made_of), motion(inner, 0.8 * frames)
    assert np.abs(shown.rotations - there.rotations).max() < 1e-12
    # It is set down where the outer scene has the figure: both marks are the same here.
    assert shown.travel == pytest.approx(there.travel, abs=1e-9)
    assert part.travel_at(source(frames)) == pytest.approx(part.at(source(frames)).travel)


def test_paper_grows_and_what_plays_grows_with_it() -> None:
    slow = with_lanes(lane("b", []), length=100, elastic=HALF).model_copy(
        update={"played_frames": 200}
    )
    longer = slow.with_laid_frames(110)
    assert (longer.laid_frames, longer.played_frames) == (110, 220)
    with pytest.raises(Refusal, match="A scene has 200,000 frames at the most"):
        slow.with_laid_frames(150_000)


def test_frame_packs_carry_whole_numbers_and_refuse_kinds_that_no_page_reads() -> None:
    scene, made_of = drawn(LayerTarget(layer="flame"), stint("a", "Flame", 0, 24))
    frames = np.arange(0.0, 24.0)
    shown = frames_of(scene, made_of, frames)
    data = pack_frames(shown, {}, layers_of(scene, made_of, frames))
    length = int.from_bytes(data[:8], "little")
    entry = json.loads(data[8 : 8 + length])["layers/flame"]
    assert (entry["dtype"], entry["shape"]) == ("I32", [24])
    start, end = (8 + length + at for at in entry["data_offsets"])
    row = np.frombuffer(data[start:end], dtype="<i4")
    assert row.tolist() == [k % 12 // 2 + 1 for k in range(24)]
    with pytest.raises(ValueError, match="carries no float64"):
        pack({"x": np.zeros(3)}, {})
