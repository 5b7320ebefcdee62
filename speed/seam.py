"""(i) The seam report of a cycle of sixty joints."""

import statistics
import time

import numpy as np

from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.cycle.seam import seam_report
from elastic_core.figure import Figure, Joint
from elastic_core.motion import Motion
from elastic_core.rotation import from_axes

from .told import told

JOINTS, FRAMES, MARK_MS, ROUNDS = 60, 48, 20.0, 30


def run() -> bool:
    figure = Figure(
        name="Chain",
        joints=tuple(
            Joint(name=f"j{k}", parent=k - 1, offset=(0.0, 0.05, 0.0)) for k in range(JOINTS)
        ),
    )
    turn = np.arange(FRAMES + 1) / FRAMES * 2 * np.pi
    degrees = 20 * np.sin(turn[:, None, None] + np.arange(JOINTS)[None, :, None] + np.arange(3))
    motion = Motion.resting(FRAMES + 1, JOINTS, figure.offsets[0])
    motion.rotations[:] = from_axes("ZXY", degrees)
    clip = Clip(name="Round", figure="chain", rate="24", length_frames=FRAMES, is_cycle=True)
    playable = PlayableClip(clip, motion)
    seam_report(figure, playable)
    times = []
    for _ in range(ROUNDS):
        began = time.perf_counter()
        report = seam_report(figure, playable)
        times.append((time.perf_counter() - began) * 1000)
    assert report.grade == "closed"
    median = statistics.median(times)
    good = median < MARK_MS
    says = f"median {median:.1f} ms (mark {MARK_MS:.0f})"
    return told("(i) seam report, 60 joints", says, good)
