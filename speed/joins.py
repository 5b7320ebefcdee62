"""(o) Where to join: 300 frames against 300, of a figure of sixty joints."""

import statistics
import time

import numpy as np
from scipy.spatial.transform import Rotation

from elastic_core.figure import Figure, Joint
from elastic_core.join.where import Moments, best_joins, join_map, joint_weights

from .told import told

JOINTS, FRAMES, PAIRS, ROUNDS = 60, 300, 400, 7
MARK_SECONDS, LEAST_RATIO = 0.5, 20.0


def run() -> bool:
    """Prints how long it takes, and how often a loop over pairs would take that; False for a mark missed."""
    figure = Figure(
        name="Chain",
        joints=tuple(
            Joint(name=f"j{k}", parent=k - 1, offset=(0.0, 0.05, 0.02)) for k in range(JOINTS)
        ),
    )
    random = np.random.default_rng(4)

    def moments() -> Moments:
        path = np.cumsum(random.normal(0, 0.01, (FRAMES, JOINTS, 3)), axis=0)
        feet = random.random((FRAMES, 2)) > 0.5
        return Moments(np.arange(float(FRAMES)), path, random.normal(0, 1, path.shape), feet)

    outgoing, incoming = moments(), moments()
    times = []
    for _ in range(ROUNDS):
        began = time.perf_counter()
        found = join_map(figure, outgoing, incoming)
        best_joins(found, outgoing, incoming)
        times.append(time.perf_counter() - began)
    median = statistics.median(times)
    weights = joint_weights(figure)
    began = time.perf_counter()
    for k in range(PAIRS):
        a, b = outgoing.positions[k % FRAMES], incoming.positions[(7 * k) % FRAMES]
        about = weights @ a, weights @ b
        _, apart = Rotation.align_vectors(a - about[0], b - about[1], weights)
        assert apart >= 0
    by_pairs = (time.perf_counter() - began) / PAIRS * FRAMES**2
    ratio = by_pairs / median
    says = f"{median:.3f} s (mark {MARK_SECONDS}), {ratio:.0f} x pair by pair (at least {LEAST_RATIO:.0f})"
    good = median < MARK_SECONDS and ratio >= LEAST_RATIO
    return told(f"(o) {FRAMES} x {FRAMES} places to join", says, good)
