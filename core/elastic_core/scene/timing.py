"""Which source time a stint shows at each moment of its lane (rules 1.9 and 5.1)."""

from fractions import Fraction
from functools import lru_cache

import numpy as np

from ..moments import LaneTime, Source, lane_time
from ..performance import Performance
from .document import Scene, Stint


def conform(performance: Performance, scene: Scene) -> float:
    """Source frames per scene frame when it plays as it was made."""
    return _ratio(performance.rate, scene.rate)


@lru_cache(maxsize=256)
def _ratio(a: Fraction, b: Fraction) -> float:
    # Exact division is slow, and a desk asks for the same few thousands of times.
    return float(a / b)


def source_of(stint: Stint, ratio: float, time: LaneTime) -> Source:
    """Lane time → source frames, counted on through rounds; `ratio`: source frames per scene frame."""
    return Source(stint.in_frame + ratio * stint.elastic.source(time - stint.start))


def source_time(scene: Scene, performance: Performance, stint: Stint, time: LaneTime) -> Source:
    """Lane time → the performance's own frames, counted on through its rounds."""
    return source_of(stint, conform(performance, scene), time)


def source_at(scene: Scene, performance: Performance, stint: Stint, time: float) -> float:
    """`source_time` for one moment."""
    return float(source_time(scene, performance, stint, lane_time(time)))


def times_of_source(
    scene: Scene, performance: Performance, stint: Stint, source: float
) -> list[float]:
    """The moments of the scene at which the stint would show this source time, however long it is."""
    return _times(stint, conform(performance, scene), source)


def _times(stint: Stint, ratio: float, source: float) -> list[float]:
    ran = (source - stint.in_frame) / ratio
    return [stint.start + played for played in stint.elastic.played(ran)]


def scene_times_of(
    scene: Scene, performance: Performance, stint: Stint, source: float
) -> list[float]:
    """The moments of the scene at which the stint shows this source time, inside its span."""
    times = times_of_source(scene, performance, stint, source)
    return [time for time in times if stint.start - 1e-6 <= time <= stint.end + 1e-6]


def mean_pace(stint: Stint) -> float:
    """Source run through per frame played, over the whole stint; 1 is as made."""
    edges = stint.elastic.source(np.array([0.0, stint.length_frames]))
    return float(edges[1] - edges[0]) / stint.length_frames


def last_frame(end: float) -> float:
    """The last whole frame before a half-open end."""
    return float(np.ceil(end) - 1)


def room_in_clip(scene: Scene, performance: Performance, stint: Stint) -> tuple[float, float]:
    """How far the stint's start and end could be trimmed outwards before the clip runs out.

    Scene times; infinite for a cycle. Beyond the keyed part the elastic goes on at its end's pace.
    """
    return room_in_stint(performance, stint, conform(performance, scene))


def room_in_stint(performance: Performance, stint: Stint, ratio: float) -> tuple[float, float]:
    """The same, by the source frames per scene frame."""
    if performance.is_cycle:
        return -np.inf, np.inf
    ends = (0.0, float(performance.length_frames))
    moments = [at for end in ends for at in _times(stint, ratio, end)]
    # Backwards the clip's ends come the other way round; where time is held they may never come.
    earliest = max((at for at in moments if at <= stint.start + 1e-6), default=-np.inf)
    latest = min((at for at in moments if at >= stint.end - 1e-6), default=np.inf)
    return earliest, latest
