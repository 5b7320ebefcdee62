"""(k) Lanes over lanes of one figure, and sixty lanes over ten thousand frames."""

import statistics
import time

import numpy as np

from demo.production import demo
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.evaluate import frames_of

from .told import told

STINTS, FRAMES, WINDOW = 8, 24, 512
MOST_TIMES, MOST_SECONDS, ROUNDS = 10.0, 1.0, 9
CLIPS = ("Stand", "Amble", "Hurry", "Look back")


def stacked(lanes: int, stints: int, every: int, length: int) -> Scene:
    """Lanes over each other with gaps between their stints, so that each begins where those below have
    brought the figure."""
    rows = tuple(
        Lane(
            id=f"l{row}",
            name=f"Lane {row}",
            target=BodyTarget(figure="odo"),
            stints=tuple(
                Stint(
                    id=f"{row}-{n}",
                    source=ClipSource(id=CLIPS[(row + n) % len(CLIPS)]),
                    start=n * every + 3 * row,
                    length_frames=0.7 * every,
                )
                for n in range(stints)
            ),
        )
        for row in range(lanes)
    )
    return Scene(
        name="Stack",
        rate="24",
        laid_frames=length,
        played_frames=length,
        figures=(SceneFigure(id="odo", name="Odo", figure="odo"),),
        lanes=rows,
    )


def run() -> bool:
    material = demo().material
    frames = np.arange(100.0, 100.0 + FRAMES)
    scenes = {lanes: stacked(lanes, STINTS, 36, 400) for lanes in (1, 4, 8)}
    times: dict[int, list[float]] = {lanes: [] for lanes in scenes}
    for k in range(ROUNDS):
        for lanes, scene in scenes.items():
            # Others each time: the same ones would be remembered.
            now = frames + 0.01 * k
            began = time.perf_counter()
            frames_of(scene, material, now)
            times[lanes].append(time.perf_counter() - began)
    took = {lanes: statistics.median(found) for lanes, found in times.items()}
    ratio = took[8] / took[1]
    shown = ", ".join(f"{lanes}: {1000 * seconds:.1f}" for lanes, seconds in took.items())
    large = stacked(60, STINTS, 1_200, 10_000)
    windows = []
    for start in (0, 5_000, 9_488):
        began = time.perf_counter()
        frames_of(large, material, np.arange(start, start + WINDOW, dtype=np.float64))
        windows.append(time.perf_counter() - began)
    return all(
        [
            told(
                "(k) lanes of 8 stints, 24 frames",
                f"ms {shown}; 8 lanes {ratio:.1f} x one (mark {MOST_TIMES:.0f})",
                ratio <= MOST_TIMES,
            ),
            told(
                "    60 lanes, 10,000 frames",
                f"a window of {WINDOW} in {max(windows):.2f} s (mark {MOST_SECONDS:.0f})",
                max(windows) < MOST_SECONDS,
            ),
        ]
    )
