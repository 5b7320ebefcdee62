"""Odo's performance is clean: his clips join where the search finds, and nothing in them is off."""

import numpy as np
import pytest

from demo.production import ODO_JOINED, demo
from elastic_core.clip.playing import playable_of
from elastic_core.clock import Span
from elastic_core.scene.baking import baked
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.checks import marks_of
from elastic_core.scene.document import Lane, Scene
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.elastics import PinSource, UseBake
from elastic_core.scene.edits.joins import LayNext
from elastic_core.scene.edits.stints import DeleteStints, TrimStint
from elastic_core.scene.edits.travelling import SlowTravel
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.join_report import join_report
from elastic_core.scene.material import Material

DEMO = demo()
SCENE, MATERIAL = DEMO.scene, DEMO.material


def odo(scene: Scene) -> Lane:
    return scene.lane("odo-body")


@pytest.mark.parametrize("lane", ["odo-body", "gull-body", "capstan-body"])
def test_every_check_strip_is_empty(lane: str) -> None:
    whole = Span(0, SCENE.laid_frames)
    assert marks_of(SCENE, MATERIAL, SCENE.lane(lane), whole) == []


@pytest.mark.parametrize("stint", [name for name, *_ in ODO_JOINED])
def test_every_join_of_odo_is_clean(stint: str) -> None:
    report = join_report(SCENE, MATERIAL, stint)
    assert report.slide.amount < 0.5
    assert report.jump.amount < 8.0
    assert report.lowered.amount < 0.5
    assert report.heading_change_degrees == pytest.approx(0, abs=1e-9)
    assert not report.swapped


@pytest.mark.parametrize(("name", "clip", "start", "_end", "in_frame", "plant"), ODO_JOINED)
def test_laying_each_clip_next_to_the_one_before_finds_its_join(
    name: str, clip: str, start: int, _end: int, in_frame: int, plant: str
) -> None:
    stints = odo(SCENE).stints
    place = [stint.id for stint in stints].index(name)
    gone = DeleteStints(stints=tuple(stint.id for stint in stints[place:]))
    scene = apply_edit(SCENE, gone, MATERIAL).scene
    if name == "look-back":
        # He may stand a little less, so that the search has its room.
        cut = TrimStint(stint="stand-1", edge="end", frame=54)
        scene = apply_edit(scene, cut, MATERIAL).scene
    laid = LayNext(stint=name, source=ClipSource(id=clip), after=stints[place - 1].id)
    before, found = odo(apply_edit(scene, laid, MATERIAL).scene).stints[-2:]
    assert (found.start, found.in_frame, found.alignment.plant) == (start, in_frame, plant)
    assert found.holds_join
    assert before.end == stints[place - 1].end


def test_a_bent_stint_baked_plays_the_same_through_its_joins_and_held_feet() -> None:
    tied = apply_edit(SCENE, PinSource(stint="amble", source=41, played=147), MATERIAL).scene
    clip = playable_of(MATERIAL.figure("odo"), baked(tied, MATERIAL, "amble", "Baked"))
    baked_too = {**MATERIAL.performances, ClipSource(id="Baked"): clip}
    material = Material(MATERIAL.figures, baked_too)
    straight = apply_edit(tied, UseBake(stint="amble", clip="Baked"), material).scene
    every = np.arange(float(SCENE.laid_frames))
    before, after = frames_of(tied, MATERIAL, every)[0], frames_of(straight, material, every)[0]
    assert np.abs(before.placed.positions - after.placed.positions).max() < 1e-6


def test_a_slowed_path_keeps_root_and_pelvis_together_and_the_strip_tells_of_the_feet() -> None:
    """The middle third of his run, overdriven: he slides, and it is said where (rule 5.7)."""
    lane = odo(SCENE)
    stint = next(stint for stint in lane.stints if stint.id == "hurry")
    third = stint.length_frames / 3
    start, end = round(stint.start + third), round(stint.end - third)
    slow = SlowTravel(stint="hurry", start=start, end=end, pace=0.4, ramp_frames=3)
    scene = apply_edit(SCENE, slow, MATERIAL).scene
    every = np.arange(stint.start, stint.end)
    now, was = (frames_of(one, MATERIAL, every)[0] for one in (scene, SCENE))
    for shown in (now, was):
        apart = shown.placed.positions[:, 0][:, [0, 2]] - shown.motion.travel[:, :2]
        own = np.hypot(*shown.motion.root_move[:, [0, 2]].T)
        assert np.abs(np.hypot(*apart.T) - own).max() < 1e-3
    marks = marks_of(scene, MATERIAL, odo(scene), Span(start, end))
    slides = [mark.amount for mark in marks if mark.kind == "slide"]
    assert slides
    assert max(slides) > 5.0
    assert marks_of(SCENE, MATERIAL, lane, Span(start, end)) == []
