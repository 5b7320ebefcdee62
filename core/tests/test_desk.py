"""What the time desk draws, worked out by the core."""

import numpy as np
import pytest

from elastic_core.clip.document import Plant
from elastic_core.clip.playable import PlayableClip
from elastic_core.elastic import Elastic
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Stint

from .motions import material, once_clip, scene_of, turning_cycle

PLANTS = (
    Plant(joint="l_knee", side="left", start=14, end=24),
    Plant(joint="r_knee", side="right", start=2, end=12),
)


def walker() -> PlayableClip:
    playable = turning_cycle(length=20)
    return PlayableClip(playable.clip.model_copy(update={"plants": PLANTS}), playable.samples)


MATERIAL = material(walker(), once_clip(30))


def test_a_repeated_cycle_shows_its_rounds_and_its_seams() -> None:
    stint = Stint(id="a", source=ClipSource(id="Round"), start=10, length_frames=85, in_frame=45)
    shown = desk_of(scene_of([stint]), MATERIAL).lanes[0].stints[0]
    assert shown.cycles == pytest.approx(4.25)
    # The clip stands at frame 5 of its round, so it comes round after fifteen frames.
    assert (shown.numbers.clip_from, shown.numbers.clip_to) == (5, 90)
    assert shown.cycle_starts == pytest.approx([25, 45, 65, 85])
    assert (shown.earliest, shown.latest) == (None, None)


def test_pace_moves_the_seams() -> None:
    stint = Stint(
        id="a",
        source=ClipSource(id="Round"),
        start=0,
        length_frames=80,
        elastic=Elastic.at_pace(0.5),
    )
    shown = desk_of(scene_of([stint]), MATERIAL).lanes[0].stints[0]
    assert shown.numbers.pace == pytest.approx(0.5)
    assert shown.cycles == pytest.approx(2)
    assert shown.cycle_starts == pytest.approx([40])


def test_plants_come_round_cross_the_seam_and_are_cut_to_the_stint() -> None:
    stint = Stint(id="a", source=ClipSource(id="Round"), start=100, length_frames=50)
    shown = desk_of(scene_of([stint]), MATERIAL).lanes[0].stints[0]
    left = [(p.start, p.end) for p in shown.plants if p.side == "left"]
    right = [(p.start, p.end) for p in shown.plants if p.side == "right"]
    assert np.allclose(left, [(100, 104), (114, 124), (134, 144)])
    assert np.allclose(right, [(102, 112), (122, 132), (142, 150)])


def test_a_clip_that_plays_once_says_how_far_it_reaches() -> None:
    stint = Stint(id="a", source=ClipSource(id="Reach"), start=50, length_frames=10, in_frame=8)
    shown = desk_of(scene_of([stint]), MATERIAL).lanes[0].stints[0]
    assert (shown.earliest, shown.latest) == (42, 72)
    assert shown.cycles is None
    assert shown.cycle_starts == []


def test_joins_and_gaps() -> None:
    stints = [
        Stint(id="a", source=ClipSource(id="Round"), start=20, length_frames=40),
        Stint(id="b", source=ClipSource(id="Reach"), start=48, length_frames=30, shape="late"),
    ]
    lane = desk_of(scene_of(stints, length=100), MATERIAL).lanes[0]
    (join,) = lane.joins
    assert (join.outgoing, join.incoming, join.start, join.end) == ("a", "b", 48, 60)
    assert join.weights == pytest.approx(np.linspace(0, 1, 13) ** 3)
    assert [(gap.start, gap.end) for gap in lane.gaps] == [(0, 20), (78, 100)]
