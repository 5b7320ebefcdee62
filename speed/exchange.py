"""(z) glTF of sixty joints over a thousand frames."""

import statistics
import time
from fractions import Fraction

import numpy as np

from elastic_core.figure import Figure, Joint
from elastic_core.formats.gltf import GltfClip, write_glb
from elastic_core.motion import Motion

from .told import told

JOINTS, FRAMES, MOST_SECONDS, ROUNDS = 60, 1_000, 0.5, 5


def run() -> bool:
    chance = np.random.default_rng(7)
    joints = tuple(
        Joint(name=f"j{place}", parent=(place - 1) // 2 if place else -1, offset=(0.05, 0.1, 0.0))
        for place in range(JOINTS)
    )
    figure = Figure(name="Sixty", joints=joints)
    turns = chance.normal(size=(FRAMES, JOINTS, 4))
    turns /= np.linalg.norm(turns, axis=-1, keepdims=True)
    motion = Motion(chance.normal(0, 1, (FRAMES, 3)), chance.normal(0, 0.2, (FRAMES, 3)), turns)
    took: list[float] = []
    for _ in range(ROUNDS):
        began = time.perf_counter()
        glb = write_glb(figure, [GltfClip("Clip", motion, Fraction(24))])
        took.append(time.perf_counter() - began)
    seconds = statistics.median(took)
    says = f"{1000 * seconds:.0f} ms, {len(glb) / 1e6:.1f} MB (mark {1000 * MOST_SECONDS:.0f} ms)"
    return told(f"(z) glTF, {JOINTS} joints, {FRAMES:,} frames", says, seconds < MOST_SECONDS)
