"""(t) Captured motion: mend and smooth against SciPy's filter on the same numbers, their memory; find a cycle
against a loop over pairs; thinning; a window of a long one."""

import time
import tracemalloc
from fractions import Fraction

import numpy as np
from scipy.signal import butter, sosfiltfilt

from elastic_core import rotation
from elastic_core.arrays import Array
from elastic_core.capture.by_hand import ByHand
from elastic_core.capture.clean import clean
from elastic_core.capture.cycles import find_cycles
from elastic_core.capture.mend import find_spikes, mended
from elastic_core.capture.recipe import house_recipe
from elastic_core.capture.smooth import smoothed
from elastic_core.capture.thin import Tolerance, thinned
from elastic_core.clip.document import Clip
from elastic_core.figure import Figure, Joint, forward
from elastic_core.motion import Motion

from .standard_shot import best_seconds
from .told import told

JOINTS, FRAMES, FPS = 60, 72_000, Fraction(120)
MOST_RATIO, MOST_PEAK = 2.0, 4.0
CYCLE_FRAMES, LEAST_TIMES, MOST_CYCLE_SECONDS = 3_000, 20, 1.5
THIN_FRAMES, MOST_THIN_SECONDS = 1_200, 3.0
WINDOW_FRAMES, MOST_WINDOW_MS = 240, 100.0


def figure() -> Figure:
    """Five chains of joints hung on a hip."""
    joints = [Joint(name="hips", parent=-1, offset=(0.0, 0.9, 0.0))]
    for k in range(1, JOINTS):
        parent = 0 if k % 12 == 1 else k - 1
        joints.append(Joint(name=f"j{k}", parent=parent, offset=(0.02, 0.08, 0.01)))
    return Figure(name="Bench", joints=tuple(joints))


def take(frames: int, seed: int = 1, noise: float = 0.3, fps: float = 120.0) -> Motion:
    """Joints that swing at paces of their own, with noise, and spikes in one of five hundred samples."""
    chance = np.random.default_rng(seed)
    time_ = np.arange(frames) / fps
    vectors = np.zeros((frames, JOINTS, 3), order="F")
    for joint in range(JOINTS):
        for axis in range(3):
            hertz, wide = chance.uniform(0.3, 2.0), chance.uniform(2, 25)
            vectors[:, joint, axis] = np.radians(wide) * np.sin(
                2 * np.pi * hertz * time_ + chance.uniform(0, 6)
            )
    vectors += np.radians(noise) * chance.standard_normal(vectors.shape)
    if noise:
        at = chance.integers(5, frames - 5, frames // 500 * JOINTS)
        vectors[at, chance.integers(0, JOINTS, len(at))] += np.radians(20)
    travel = np.stack([0 * time_, 1.2 * time_, 0 * time_], axis=-1)
    root = np.tile([0.0, 0.9, 0.0], (frames, 1))
    rotations = rotation.from_vector(vectors)
    return Motion(np.asfortranarray(travel), np.asfortranarray(root), np.asfortranarray(rotations))


def _cleaned(who: Figure, motion: Motion) -> Motion:
    fixed = mended(who, motion, find_spikes(who, motion, FPS))
    return smoothed(who, fixed, FPS, 6.0)


def _filters() -> list[bool]:
    who, motion = figure(), take(FRAMES)
    sections = butter(4, 6.0, fs=float(FPS), output="sos")
    plain = np.ascontiguousarray(motion.rotations)
    ratios = []
    for _ in range(3):
        theirs = best_seconds(lambda: sosfiltfilt(sections, plain, axis=0), 1)
        ratios.append(best_seconds(lambda: _cleaned(who, motion), 1) / theirs)
    ratio = float(np.median(ratios))
    size = motion.rotations.nbytes + motion.travel.nbytes + motion.root_move.nbytes
    tracemalloc.start()
    _cleaned(who, motion)
    # The take itself was there before tracing began.
    peak = (tracemalloc.get_traced_memory()[1] + size) / size
    tracemalloc.stop()
    return [
        told(
            "(t) mend and smooth 60 x 72,000",
            f"median {ratio:.2f} x sosfiltfilt (mark {MOST_RATIO:g})",
            ratio <= MOST_RATIO,
        ),
        told(
            "", f"memory at its peak {peak:.2f} x the take (mark {MOST_PEAK:g})", peak <= MOST_PEAK
        ),
    ]


def _pair_by_pair(positions: Array, velocities: Array, rows: range) -> float:
    """The same measure for every pair of some rows with all frames, one pair after another."""
    best = np.inf
    for a in rows:
        for b in range(len(positions)):
            on_a = positions[a, :, 2] + 1j * positions[a, :, 0]
            on_b = positions[b, :, 2] + 1j * positions[b, :, 0]
            on_a, on_b = on_a - on_a.mean(), on_b - on_b.mean()
            fast_a = velocities[a, :, 2] + 1j * velocities[a, :, 0]
            fast_b = velocities[b, :, 2] + 1j * velocities[b, :, 0]
            turn = np.exp(
                1j * np.angle((on_a * on_b.conj()).sum() + (fast_a * fast_b.conj()).sum())
            )
            off = (np.abs(on_a - turn * on_b) ** 2).sum() + (
                np.abs(fast_a - turn * fast_b) ** 2
            ).sum()
            off += ((positions[a, :, 1] - positions[b, :, 1]) ** 2).sum()
            best = min(best, float(off))
    return best


def _cycles() -> list[bool]:
    who, motion = figure(), take(CYCLE_FRAMES, noise=0.0, fps=24.0)
    ours = best_seconds(lambda: find_cycles(who, motion, Fraction(24), 12, 96), 3)
    placed = forward(who, motion).positions
    speeds = np.gradient(placed, axis=0)
    began = time.perf_counter()
    few = range(1)
    _pair_by_pair(placed, speeds, few)
    # A loop over all pairs that are as far apart as a cycle may be long.
    pairs = CYCLE_FRAMES * (96 - 12)
    theirs = (time.perf_counter() - began) / (len(few) * CYCLE_FRAMES) * pairs
    return [
        told(
            "(t) find a cycle in 3,000 frames",
            f"{ours:.2f} s (mark {MOST_CYCLE_SECONDS}), {theirs / ours:.0f} x a loop (mark {LEAST_TIMES})",
            ours < MOST_CYCLE_SECONDS and theirs / ours >= LEAST_TIMES,
        )
    ]


def _thinning() -> list[bool]:
    who = figure()
    motion = smoothed(who, take(5 * THIN_FRAMES), FPS, 6.0).at(np.arange(0, 5 * THIN_FRAMES, 5))
    clip = Clip(name="take", figure="", rate="24", length_frames=THIN_FRAMES)
    seconds = best_seconds(lambda: thinned(who, motion, clip, Tolerance(1.0, 0.5)), 2)
    done = thinned(who, motion, clip, Tolerance(1.0, 0.5))
    return [
        told(
            "(t) thin 60 joints x 1,200 frames",
            f"{seconds:.2f} s (mark {MOST_THIN_SECONDS:g}), {done.keys_before:,} to {done.keys_after:,} keys",
            seconds < MOST_THIN_SECONDS,
        )
    ]


def _window() -> list[bool]:
    """What is cleaned round the playhead of a long take while a number is drawn: not thinned."""
    who, motion = figure(), take(FRAMES)
    recipe = house_recipe(Fraction(24))
    steps = tuple(step for step in recipe.steps if step.step != "thin")
    quick = recipe.model_copy(update={"steps": steps})
    span = (FRAMES // 2, FRAMES // 2 + WINDOW_FRAMES)
    ms = 1000 * best_seconds(lambda: clean(who, motion, FPS, quick, ByHand(), window=span), 5)
    return [
        told(
            "(t) two seconds of a 10-minute take",
            f"cleaned in {ms:.0f} ms (mark {MOST_WINDOW_MS:g})",
            ms < MOST_WINDOW_MS,
        )
    ]


def run() -> bool:
    """Prints the figures; False where one misses its mark."""
    return all([*_filters(), *_cycles(), *_thinning(), *_window()])
