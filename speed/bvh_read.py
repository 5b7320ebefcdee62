"""(b) Reading a 60-joint, 20,000-frame BVH against np.loadtxt on its rows alone."""

import io
import statistics
import tracemalloc

import numpy as np

from elastic_core.formats import bvh

from .standard_shot import best_seconds
from .told import told

JOINTS, FRAMES = 60, 20_000
ROUNDS, MOST_RATIO, MOST_PEAK = 5, 0.6, 4.0


def big_file() -> tuple[bytes, bytes]:
    """A whole file, and its rows alone."""
    lines = ["HIERARCHY"]
    for k in range(JOINTS):
        moves = "Xposition Yposition Zposition " if k == 0 else ""
        lines += [f"{'JOINT' if k else 'ROOT'} j{k}", "{", "OFFSET 0 1 0"]
        lines.append(f"CHANNELS {6 if k == 0 else 3} {moves}Zrotation Xrotation Yrotation")
    lines += ["}"] * JOINTS
    lines += ["MOTION", f"Frames: {FRAMES}", "Frame Time: 0.0083333"]
    values = np.random.default_rng(5).uniform(-180, 180, (FRAMES, JOINTS * 3 + 3))
    text = io.StringIO()
    np.savetxt(text, values, fmt="%.6f")
    rows = text.getvalue().encode()
    return "\n".join(lines).encode() + b"\n" + rows, rows


def run() -> bool:
    """Prints the ratios; False where one misses its mark."""
    data, rows = big_file()
    read = bvh.read(data)
    assert np.array_equal(read.values, np.loadtxt(io.BytesIO(rows)))
    # Side by side, round after round: the machine's other work then weighs on both alike.
    rounds = []
    for _ in range(ROUNDS):
        ours = best_seconds(lambda: bvh.read(data), 2)
        rounds.append(ours / best_seconds(lambda: np.loadtxt(io.BytesIO(rows)), 2))
    ratio = statistics.median(rounds)
    tracemalloc.start()
    bvh.read(data)
    # The file's own bytes were there before tracing began.
    peak = (tracemalloc.get_traced_memory()[1] + len(data)) / len(data)
    tracemalloc.stop()
    spread = f"{min(rounds):.2f} to {max(rounds):.2f}"
    return all(
        [
            told(
                "(b) BVH read, against np.loadtxt",
                f"median {ratio:.2f} x, {spread} (mark {MOST_RATIO})",
                ratio <= MOST_RATIO,
            ),
            told(
                "",
                f"{peak:.2f} x the file's size at its peak (mark {MOST_PEAK:.0f})",
                peak <= MOST_PEAK,
            ),
        ]
    )
