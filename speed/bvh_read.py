"""(b) Reading a 60-joint, 20,000-frame BVH against np.loadtxt on its rows alone."""

import io
import tracemalloc

import numpy as np

from elastic_core.formats import bvh

from .standard_shot import best_seconds

JOINTS, FRAMES = 60, 20_000


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
    ours = best_seconds(lambda: bvh.read(data), 5)
    theirs = best_seconds(lambda: np.loadtxt(io.BytesIO(rows)), 5)
    tracemalloc.start()
    bvh.read(data)
    # The file's own bytes were there before tracing began.
    peak = (tracemalloc.get_traced_memory()[1] + len(data)) / len(data)
    tracemalloc.stop()
    print(
        f"(b) BVH read        {ours / theirs:6.2f} x the time of np.loadtxt (at most 1.0), {ours:.2f} s"
    )
    print(f"                    {peak:6.2f} x the file's size at its peak (at most 4)")
    return ours / theirs <= 1.0 and peak <= 4
