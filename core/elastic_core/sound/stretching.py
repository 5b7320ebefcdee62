"""A stretch of sound made longer or shorter with its pitch kept, by FFmpeg's `atempo` filter."""

import av
import av.filter
import numpy as np

from .document import HOUSE_RATE
from .samples import Samples

# What one filter can do; more is done by several of them in a row.
_SLOWEST, _FASTEST = 0.5, 2.0
_BLOCK_SAMPLES = 4_096
# The filter's last window needs something to overlap with.
_RUN_OUT_SAMPLES = 8_192
# Each filter lets what it overlaps be heard a little early: measured with bursts, at paces of 20 to 350 %.
_EARLY_SAMPLES = 460


def stretched(samples: Samples, count: int) -> Samples:
    """As much sound in so many samples. [n, channels] → [count, channels]."""
    if count == len(samples) or not count or not len(samples):
        return _fitted(samples, count)
    channels = samples.shape[1]
    pace = len(samples) / count
    steps = _in_steps(pace)
    early = _EARLY_SAMPLES * sum(float(np.prod(steps[:place])) for place in range(len(steps)))
    whole = np.pad(samples, ((round(early), int(_RUN_OUT_SAMPLES * max(1.0, pace))), (0, 0)))
    layout = "mono" if channels == 1 else "stereo"
    graph = av.filter.Graph()
    source = graph.add_abuffer(sample_rate=HOUSE_RATE, format="flt", layout=layout)
    nodes = [source, *(graph.add("atempo", f"{step:.9f}") for step in steps)]
    nodes += [graph.add("aformat", "sample_fmts=flt"), graph.add("abuffersink")]
    graph.link_nodes(*nodes).configure()
    found: list[Samples] = []
    for start in range(0, len(whole), _BLOCK_SAMPLES):
        block = np.ascontiguousarray(whole[start : start + _BLOCK_SAMPLES]).reshape(1, -1)
        frame = av.AudioFrame.from_ndarray(block, format="flt", layout=layout)
        frame.sample_rate = HOUSE_RATE
        frame.pts = start
        graph.push(frame)
        found += _pulled(graph, channels)
    graph.push(None)
    found += _pulled(graph, channels)
    return _fitted(np.concatenate(found), count)


def _in_steps(pace: float) -> list[float]:
    """Paces that one filter after another can do, which come to this one together."""
    steps = []
    while not _SLOWEST <= pace <= _FASTEST:
        step = _SLOWEST if pace < _SLOWEST else _FASTEST
        steps.append(step)
        pace /= step
    return [*steps, pace]


def _pulled(graph: av.filter.Graph, channels: int) -> list[Samples]:
    found: list[Samples] = []
    while True:
        try:
            frame = graph.pull()
        except (av.BlockingIOError, av.EOFError):
            return found
        assert isinstance(frame, av.AudioFrame)
        found.append(frame.to_ndarray().reshape(-1, channels).astype(np.float32))


def _fitted(samples: Samples, count: int) -> Samples:
    """Cut, or run out into silence, to so many samples."""
    missing = count - len(samples)
    if missing <= 0:
        return samples[:count]
    return np.concatenate([samples, np.zeros((missing, samples.shape[1]), dtype=np.float32)])
