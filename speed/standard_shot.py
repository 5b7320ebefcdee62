"""(a) The standard shot against the same maths composed from scipy, joint by joint."""

import time
from collections.abc import Callable

import numpy as np
from scipy.interpolate import BSpline, make_interp_spline
from scipy.spatial.transform import Rotation, Slerp

from elastic_core import rotation
from elastic_core.arrays import Array, by_runs
from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.elastic import Elastic
from elastic_core.figure import Figure, Joint
from elastic_core.moments import lane_time
from elastic_core.motion import Motion
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.join import incoming_weight
from elastic_core.scene.material import Material
from elastic_core.scene.staging import placements_of
from elastic_core.scene.timing import source_time

FIGURES, JOINTS, STINTS, JOIN_FRAMES = 10, 60, 4, 24
PACE = 0.9
AGREE_METRES = 1e-6


def shot(frames: int) -> tuple[Scene, Material]:
    """Ten figures of sixty joints, each with four stints of a once-played clip and three joins."""
    chance = np.random.default_rng(11)
    joints = [Joint(name="root", parent=-1, offset=(0, 1, 0))]
    for k in range(1, JOINTS):
        parent = int(max(0, k - 1 - chance.integers(0, 4)))
        joints.append(Joint(name=f"j{k}", parent=parent, offset=(0.02, 0.1, 0.01)))
    figure = Figure(name="Bench", joints=tuple(joints))
    length = frames // STINTS + JOIN_FRAMES
    turns = np.cumsum(chance.normal(0, 1.5, (length + 2, JOINTS, 3)), axis=0)
    path = np.cumsum(chance.normal(0.01, 0.004, (length + 2, 3)), axis=0)
    root = np.tile([0.0, 1.0, 0.0], (length + 2, 1))
    motion = Motion(by_runs(path), by_runs(root), by_runs(rotation.from_axes("ZXY", turns)))
    clip = Clip(name="Clip", figure="f", rate="24", length_frames=length + 2)
    members, lanes = [], []
    for place in range(FIGURES):
        stints = tuple(
            Stint(
                id=f"{place}-{k}",
                source=ClipSource(id="c"),
                start=k * (frames // STINTS),
                length_frames=length if k < STINTS - 1 else frames - k * (frames // STINTS),
                elastic=Elastic.at_pace(PACE),
            )
            for k in range(STINTS)
        )
        members.append(SceneFigure(id=str(place), name=str(place), figure="f"))
        lanes.append(
            Lane(id=str(place), name="Body", target=BodyTarget(figure=str(place)), stints=stints)
        )
    scene = Scene(
        name="Shot",
        rate="24",
        laid_frames=frames,
        played_frames=frames,
        figures=tuple(members),
        lanes=tuple(lanes),
    )
    return scene, Material.of_clips({"f": figure}, {"c": PlayableClip(clip, motion)}.items())


def with_scipy(scene: Scene, material: Material, frames: Array) -> list[Array]:
    """Positions of every figure: Slerp and Rotation for joints, an interpolating spline for the path."""
    figure = material.figures["f"]
    playable = material.clips["c"]
    samples = playable.samples
    times = np.arange(samples.frames, dtype=np.float64)
    path = make_interp_spline(times, samples.travel, k=1)
    results = []
    for lane in scene.lanes:
        ground_of = placements_of(scene, material, lane)
        travel = np.zeros((len(frames), 3))
        local: list[Rotation] = []
        for joint in range(len(figure.joints)):
            keys = Rotation.from_quat(samples.rotations[:, joint], scalar_first=True)
            track = Slerp(times, keys)
            turn = np.zeros((len(frames), 4))
            for place, stint in enumerate(lane.stints):
                inside = (frames >= stint.start) & (frames < stint.end)
                source = np.clip(
                    source_time(scene, playable, stint, lane_time(frames[inside])), 0, times[-1]
                )
                turned = track(source)
                before = lane.stints[place - 1] if place else None
                both = frames[inside] < before.end if before else np.zeros(inside.sum(), dtype=bool)
                if before is not None and both.any():
                    at = frames[inside][both]
                    old = track(
                        np.clip(source_time(scene, playable, before, lane_time(at)), 0, times[-1])
                    )
                    share = incoming_weight(before, stint, lane_time(at))
                    step = (old.inv() * turned[both]).as_rotvec() * share[:, None]
                    quats = turned.as_quat(scalar_first=True)
                    quats[both] = (old * Rotation.from_rotvec(step)).as_quat(scalar_first=True)
                    turn[inside] = quats
                else:
                    turn[inside] = turned.as_quat(scalar_first=True)
            local.append(Rotation.from_quat(turn, scalar_first=True))
        for place, stint in enumerate(lane.stints):
            inside = (frames >= stint.start) & (frames < stint.end)
            travel[inside] = along(path, ground_of[place], scene, playable, stint, frames[inside])
            before = lane.stints[place - 1] if place else None
            both = inside & (frames < before.end) if before else np.zeros(len(frames), dtype=bool)
            if before is not None and both.any():
                old = along(path, ground_of[place - 1], scene, playable, before, frames[both])
                share = incoming_weight(before, stint, lane_time(frames[both]))
                step = travel[both] - old
                step[:, 2] = np.remainder(step[:, 2] + np.pi, 2 * np.pi) - np.pi
                travel[both] = old + step * share[:, None]
        world: list[Rotation] = []
        positions = np.zeros((len(frames), len(figure.joints), 3))
        for joint, parent in enumerate(figure.parents):
            if parent < 0:
                positions[:, 0] = np.stack(
                    [travel[:, 0], 0 * travel[:, 0] + 1, travel[:, 1]], axis=-1
                )
                world.append(Rotation.from_euler("y", travel[:, 2:]) * local[0])
            else:
                positions[:, joint] = positions[:, parent] + world[parent].apply(
                    figure.offsets[joint]
                )
                world.append(world[parent] * local[joint])
        results.append(positions)
    return results


def along(
    path: BSpline, placed: Array, scene: Scene, playable: PlayableClip, stint: Stint, frames: Array
) -> Array:
    """A stint's way over the ground, set down where it is placed. [frames, 3]"""
    last = float(playable.samples.frames - 1)
    found = path(np.clip(source_time(scene, playable, stint, lane_time(frames)), 0, last))
    turn = Rotation.from_euler("y", np.full((len(found), 1), placed[2]))
    moved = turn.apply(np.stack([found[:, 0], 0 * found[:, 0], found[:, 1]], axis=-1))
    return np.stack([moved[:, 0], moved[:, 2], found[:, 2]], axis=-1) + placed


def best_seconds(work: Callable[[], object], times: int) -> float:
    """The least time of several runs."""
    least = float("inf")
    for _ in range(times):
        began = time.perf_counter()
        work()
        least = min(least, time.perf_counter() - began)
    return least


def run() -> bool:
    """Prints the ratios; False where one misses its mark."""
    frames = np.arange(1000.0)
    scene, material = shot(1000)
    ours = frames_of(scene, material, frames)
    theirs = with_scipy(scene, material, frames)
    apart = max(
        float(np.abs(figure.placed.positions - other).max())
        for figure, other in zip(ours, theirs, strict=True)
    )
    mine = best_seconds(lambda: frames_of(scene, material, frames), 5)
    composed = best_seconds(lambda: with_scipy(scene, material, frames), 2)
    rate = FIGURES * JOINTS * len(frames) / mine
    print(f"(a) standard shot   {composed / mine:6.1f} x faster than scipy per joint (at least 8)")
    print(
        f"                    {rate / 1e6:6.2f} million joint-frames a second, {mine * 1e3:.0f} ms"
    )
    print(f"                    {apart:6.1e} m between the two (at most {AGREE_METRES:.0e})")
    big_scene, big_material = shot(8000)
    small_scene, small_material = shot(2000)
    # Side by side, round after round: the machine's other work then weighs on both alike.
    ratios = []
    for _ in range(5):
        small = best_seconds(lambda: frames_of(small_scene, small_material, np.arange(2000.0)), 3)
        big = best_seconds(lambda: frames_of(big_scene, big_material, np.arange(8000.0)), 2)
        ratios.append(big / small)
    growth = float(np.median(ratios))
    print(f"(c) growth          {growth:6.2f} x for 2,000 to 8,000 frames (3.5 to 4.5)")
    return composed / mine >= 8 and 3.5 <= growth <= 4.5 and apart <= AGREE_METRES
