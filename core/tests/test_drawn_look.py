"""The drawn look: parts on exposures of their own, a place on ones, and ink that boils (rules 1.8 and 7.4)."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from elastic_core.drawings.playing import RunPlayed
from elastic_core.errors import Refusal
from elastic_core.moments import played
from elastic_core.scene.camera import camera_frames
from elastic_core.scene.cast import PartTarget, RunSource
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Lane, Scene, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.evaluate import camera_of, frames_of
from elastic_core.scene.ink import TRACINGS, InkBoil, ink_frames
from elastic_core.scene.material import Material

from .drawn import run_of_drawings
from .motions import material, scene_of, turning_cycle
from .test_lane_time import stint

EDIT: TypeAdapter[SceneEdit] = TypeAdapter(SceneEdit)
SAYS = RunSource(id="says")
_BODY = material(turning_cycle(length=20))
_RUN = RunPlayed(run_of_drawings("1 on 1, 2 on 5, 3 on 2"))
MATERIAL = Material(_BODY.figures, {**_BODY.performances, SAYS: _RUN})
FRAMES = np.arange(48.0)


def done(scene: Scene, kind: str, **fields: Any) -> Scene:
    return apply_edit(scene, EDIT.validate_python({"kind": kind, **fields}), MATERIAL).scene


def walking() -> Scene:
    return scene_of([stint("a", "Round", 0, 60)], length=60)


def shown(scene: Scene) -> Any:
    return frames_of(scene, MATERIAL, FRAMES)[0]


def speaking(scene: Scene) -> Scene:
    """The scene with a mouth that is exposed by what it says."""
    says = Stint(id="says", source=SAYS, start=0, length_frames=60)
    target = PartTarget(figure="k", part="mouth")
    mouth = Lane(id="mouth", name="Mouth", target=target, stints=(says,))
    return scene.model_copy(update={"lanes": (mouth, *scene.lanes)})


def test_body_on_twos_head_on_threes_place_and_camera_on_ones_and_a_mouth_as_it_speaks() -> None:
    """Bit for bit over 48 frames: each is what the scene on ones shows at the frame that it is held from."""
    ones = shown(walking()).motion
    scene = done(speaking(walking()), "expose", lane="lane", pattern=(2,))
    scene = done(scene, "expose", lane="lane", joints=("head",), pattern=(3,))
    scene = done(scene, "expose", lane="lane", place=True, pattern=(1,))
    key = {"eye": (0, 1, 5), "look": (0, 1, 0), "roll": 0, "zoom": 1}
    scene = done(scene, "key_camera", frame=0, **key)
    scene = done(scene, "key_camera", frame=47, **{**key, "eye": (4, 1, 5)})
    look = shown(scene).motion
    head = MATERIAL.figure("keeper").place_of("head")
    others = [k for k in range(len(MATERIAL.figure("keeper").joints)) if k != head]
    twos, threes = FRAMES.astype(int) // 2 * 2, FRAMES.astype(int) // 3 * 3
    assert np.array_equal(look.rotations[:, others], ones.rotations[twos][:, others])
    assert np.array_equal(look.rotations[:, head], ones.rotations[threes][:, head])
    assert np.array_equal(look.root_move, ones.root_move[twos])
    assert np.array_equal(look.travel, ones.travel)
    assert not np.array_equal(look.travel, ones.travel[twos])
    said = [1] * 1 + [2] * 5 + [3] * 2
    assert shown(scene).drawings["mouth"].tolist() == (said * 6)[:48]
    camera = camera_of(scene, FRAMES)
    assert camera is not None
    assert scene.camera is not None
    assert np.array_equal(
        camera.eye, camera_frames(scene.camera, scene.elastic, played(FRAMES)).eye
    )
    assert (np.diff(camera.eye[:, 0]) > 0).all()
    lane = desk_of(scene, MATERIAL).lanes[1]
    assert lane.place_exposure is not None
    assert lane.place_exposure.said == "on ones"


def test_a_place_goes_with_its_poses_again() -> None:
    scene = done(walking(), "expose", lane="lane", pattern=(2,))
    apart = done(scene, "expose", lane="lane", place=True, pattern=(1,))
    assert done(apart, "expose", lane="lane", place=True) == scene
    with pytest.raises(Refusal, match="Say on which lane"):
        done(scene, "expose", place=True, pattern=(1,))


def test_ink_boils_by_its_seed_on_its_exposure() -> None:
    scene = done(walking(), "boil_ink", figure="k", ink={"amount_cm": 0.8, "seed": 7, "on": 3})
    ink = shown(scene).ink
    assert ink[:, 0] == pytest.approx(np.full(48, 0.008))
    assert np.array_equal(ink, ink[FRAMES.astype(int) // 3 * 3])
    numbers = ink[::3, 1]
    assert (np.diff(numbers) != 0).all()
    assert len(set(numbers.tolist())) == TRACINGS
    assert np.array_equal(shown(scene).ink, ink)
    other = done(scene, "boil_ink", figure="k", ink={"amount_cm": 0.8, "seed": 8, "on": 3})
    assert not set(shown(other).ink[:, 1].tolist()) & set(numbers.tolist())
    # The pose is the same, boiling or not.
    assert np.array_equal(shown(scene).placed.positions, shown(walking()).placed.positions)
    assert shown(walking()).ink is None
    assert done(other, "boil_ink", figure="k") == walking()


def test_a_stint_has_ink_of_its_own_while_it_plays() -> None:
    scene = scene_of([stint("a", "Round", 0, 20), stint("b", "Round", 20, 40)], length=60)
    boils = done(scene, "boil_ink", stint="b", ink={"amount_cm": 1.5, "seed": 2, "on": 2})
    ink = shown(boils).ink
    assert np.flatnonzero(ink[:, 0]).tolist() == list(range(20, 48))
    both = done(boils, "boil_ink", figure="k", ink={"amount_cm": 0.5, "seed": 1, "on": 2})
    amounts = shown(both).ink[:, 0]
    assert (amounts[0], amounts[30]) == (0.005, 0.015)


@given(st.integers(0, 999_999), st.integers(1, 6), st.integers(-50, 400))
def test_no_tracing_comes_twice_running(seed: int, on: int, start: int) -> None:
    ink = InkBoil(seed=seed, on=on)
    rows = ink_frames(ink, played(np.arange(start, start + 60.0) * on))
    assert (np.diff(rows[:, 1]) != 0).all()
