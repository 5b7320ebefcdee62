"""(r) Elastics: a thousand pins at a million moments, against what SciPy and NumPy take; a scene's elastic
against none."""

import statistics
import time
from collections.abc import Callable

import numpy as np
from scipy.interpolate import PchipInterpolator

from demo.production import demo
from elastic_core.clock import Span
from elastic_core.elastic import Elastic, Pin, PinSpan
from elastic_core.retime.ranges import Slowing, slowed
from elastic_core.scene.document import Scene
from elastic_core.scene.evaluate import frames_of

from .told import told

PINS, MOMENTS, ROUNDS = 1_000, 1_000_000, 7
MOST_TIMES, MOST_MORE = 1.2, 1.1
FRAMES = 48


def _ratio(ours: Callable[[int], object], theirs: Callable[[int], object]) -> float:
    """How many times as long ours takes: medians of turns taken one after the other."""
    took: tuple[list[float], list[float]] = ([], [])
    for k in range(ROUNDS + 1):
        for place, run in enumerate((ours, theirs)):
            began = time.perf_counter()
            run(k)
            took[place].append(time.perf_counter() - began)
    # The first turn of each only warms it up.
    return statistics.median(took[0][1:]) / statistics.median(took[1][1:])


def _pinned(span: PinSpan) -> tuple[Elastic, np.ndarray, np.ndarray]:
    chance = np.random.default_rng(7)
    played = np.cumsum(chance.uniform(0.5, 3.0, PINS))
    source = np.cumsum(chance.uniform(0.1, 4.0, PINS))
    pins = tuple(
        Pin(played=float(p), source=float(u), span=span)
        for p, u in zip(played, source, strict=True)
    )
    return Elastic(pins=pins), played, source


def _evaluation() -> bool:
    even, played, source = _pinned("even")
    eased, _, _ = _pinned("eased")
    pchip = PchipInterpolator(played, source)
    moments = np.sort(np.random.default_rng(8).uniform(played[0], played[-1], MOMENTS))
    ratios = {
        "even to np.interp": _ratio(
            lambda _: even.source(moments), lambda _: np.interp(moments, played, source)
        ),
        "eased to SciPy's PCHIP": _ratio(lambda _: eased.source(moments), lambda _: pchip(moments)),
    }
    shown = "; ".join(f"{name} {ratio:.2f}" for name, ratio in ratios.items())
    return told(
        "(r) 1,000 pins at 1,000,000 moments",
        f"{shown} (mark {MOST_TIMES})",
        all(ratio <= MOST_TIMES for ratio in ratios.values()),
    )


def _scene() -> bool:
    made = demo()
    elastic = slowed(Elastic(), Span(88, 113), Slowing(pace=0.35, ramp_frames=4))
    bent = made.scene.model_copy(update={"elastic": elastic, "played_frames": 327})

    def play(scene: Scene, k: int) -> None:
        # Others each time: the same ones would be remembered. In between frames, so that both mix poses.
        frames_of(scene, made.material, np.arange(FRAMES) + 150.3 + 0.01 * k)

    ratio = _ratio(lambda k: play(bent, k), lambda k: play(made.scene, k))
    return told(
        "    a scene's elastic, 48 frames of the demo",
        f"{ratio:.2f} x none (mark {MOST_MORE})",
        ratio <= MOST_MORE,
    )


def run() -> bool:
    return all([_evaluation(), _scene()])
