"""Which source time a stint shows at each frame (rules 1.9 and 5.1)."""

from fractions import Fraction
from functools import lru_cache

import numpy as np

from ..arrays import Array, real
from ..clip import Clip
from .document import Scene, Stint


def conform(clip: Clip, scene: Scene) -> float:
    """Clip frames per scene frame when the clip plays as it was made."""
    return _ratio(clip.rate, scene.rate)


@lru_cache(maxsize=256)
def _ratio(a: Fraction, b: Fraction) -> float:
    # Exact division is slow, and a desk asks for the same few thousands of times.
    return float(a / b)


def scene_time(scene: Scene, frames: Array) -> Array:
    """Played frames → scene time: exposure, then the scene's elastic."""
    return scene.elastic.source(scene.exposure.sampled(real(frames)))


def source_time(scene: Scene, clip: Clip, stint: Stint, time: Array) -> Array:
    """Scene time → the clip's own frames, counted on through its rounds."""
    ran = stint.elastic.source(real(time) - stint.start)
    return stint.in_frame + ran * conform(clip, scene)


def source_at(scene: Scene, clip: Clip, stint: Stint, time: float) -> float:
    """`source_time` for one moment."""
    return float(source_time(scene, clip, stint, real(time)))


def times_of_source(scene: Scene, clip: Clip, stint: Stint, source: float) -> list[float]:
    """The moments of the scene at which the stint would show this source time, however long it is."""
    ran = (source - stint.in_frame) / conform(clip, scene)
    return [stint.start + played for played in stint.elastic.played(ran)]


def scene_times_of(scene: Scene, clip: Clip, stint: Stint, source: float) -> list[float]:
    """The moments of the scene at which the stint shows this source time, inside its span."""
    times = times_of_source(scene, clip, stint, source)
    return [time for time in times if stint.start - 1e-6 <= time <= stint.end + 1e-6]


def mean_pace(stint: Stint) -> float:
    """Source run through per frame played, over the whole stint; 1 is as made."""
    edges = stint.elastic.source(np.array([0.0, stint.length_frames]))
    return float(edges[1] - edges[0]) / stint.length_frames


def last_frame(end: float) -> float:
    """The last whole frame before a half-open end."""
    return float(np.ceil(end) - 1)


def room_in_clip(scene: Scene, clip: Clip, stint: Stint) -> tuple[float, float]:
    """How far the stint's start and end could be trimmed outwards before the clip runs out.

    Scene times; infinite for a cycle. Beyond the keyed part the elastic goes on at its end's pace.
    """
    if clip.is_cycle:
        return -np.inf, np.inf
    ends = (0.0, float(clip.length_frames))
    moments = [at for end in ends for at in times_of_source(scene, clip, stint, end)]
    # Backwards the clip's ends come the other way round; where time is held they may never come.
    earliest = max((at for at in moments if at <= stint.start + 1e-6), default=-np.inf)
    latest = min((at for at in moments if at >= stint.end - 1e-6), default=np.inf)
    return earliest, latest
