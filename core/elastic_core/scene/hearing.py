"""What of a scene's sounds is heard when, sample by sample, and all of it together (rules 1.9 and 9.2)."""

import hashlib
import json
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ..elastic import Elastic
from ..sound.document import HOUSE_RATE
from ..sound.samples import Samples, in_stereo
from ..sound.stretching import stretched
from .document import Scene
from .sound_lane import LaidSound, SoundLane

# Slower than this a sound is a drone and faster a chirp: neither is heard, nor what stands or runs backwards.
LEAST_PACE, MOST_PACE = 0.1, 8.0
# Where the pace changes evenly it is told in steps so long; where it holds, no run is longer than the other.
_RAMP_SECONDS, _MOST_SECONDS = 0.25, 10.0
# Two runs hand over to each other in twice as many samples: 20 ms.
_HAND_OVER_SAMPLES = HOUSE_RATE // 100
_EVEN = 1e-6


class Recordings(Protocol):
    """Where the samples of sounds come from, by the ids of their documents."""

    def samples(self, sound: str, start: int, count: int) -> Samples:
        """Samples `[start, start + count)` at the house rate, silence beyond both ends. [count, 1 or 2]"""


@dataclass(frozen=True)
class Run:
    """A stretch of a laid sound at one pace: over the played samples `[start, end)` its own samples from
    `source` to `source_end` are heard. At an end that is not the sound's own it hands over to the next run."""

    start: int
    end: int
    source: float
    source_end: float
    begins: bool
    ends: bool

    @property
    def pace(self) -> float:
        """Samples of its own per played sample."""
        return (self.source_end - self.source) / (self.end - self.start)


def heard_stamp(scene: Scene) -> str | None:
    """Names exactly what is heard of a scene; nothing where it has no sound."""
    if not any(lane.sounds for lane in scene.sound_lanes):
        return None
    follows = any(not lane.keeps_own_time for lane in scene.sound_lanes)
    told = {
        "rate": str(scene.rate),
        "frames": scene.played_frames,
        "elastic": scene.elastic.model_dump(mode="json") if follows else None,
        "lanes": [lane.model_dump(mode="json") for lane in scene.sound_lanes],
    }
    return hashlib.sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()[:32]


def samples_in(scene: Scene) -> int:
    """How many samples a scene plays for."""
    return int(np.ceil(scene.played_frames / float(scene.rate) * HOUSE_RATE))


def mixed(scene: Scene, recordings: Recordings, start: int, count: int) -> Samples:
    """All that is heard over the played samples `[start, start + count)`. [count, 2]"""
    together = np.zeros((count, 2), dtype=np.float32)
    for lane in scene.sound_lanes:
        if lane.muted:
            continue
        for laid in lane.sounds:
            if not laid.muted:
                gain = _gain(lane.level_db + laid.level_db)
                for run in runs_of(scene, lane, laid):
                    _add(together, start, run, laid, gain, recordings)
    return together


def runs_of(scene: Scene, lane: SoundLane, laid: LaidSound) -> list[Run]:
    """What of a laid sound is heard when."""
    fps = float(scene.rate)
    frame = HOUSE_RATE / fps
    first = laid.in_seconds * HOUSE_RATE
    if lane.keeps_own_time:
        begin = round(laid.start * frame)
        length = laid.seconds * HOUSE_RATE
        return [Run(begin, begin + round(length), first, first + length, True, True)]
    end = laid.end(scene.rate)
    runs: list[Run] = []
    for (p0, l0), (p1, l1) in _even_runs(scene.elastic, scene.played_frames, fps):
        pace = (l1 - l0) / (p1 - p0)
        if not LEAST_PACE <= pace <= MOST_PACE:
            continue
        low, high = max(l0, laid.start), min(l1, end)
        if high - low < _EVEN:
            continue
        played = [p0 + (at - l0) / pace for at in (low, high)]
        own = [first + (at - laid.start) * frame for at in (low, high)]
        begin, over = (round(at * frame) for at in played)
        if over > begin:
            begins, ends = low == laid.start, high == end
            runs.append(Run(begin, over, own[0], own[1], begins, ends))
    return runs


def _even_runs(
    elastic: Elastic, played_frames: int, fps: float
) -> Iterator[tuple[tuple[float, float], tuple[float, float]]]:
    """A scene's time as stretches at one pace: their ends as (played, laid) frames."""
    pins = [pin.played for pin in elastic.pins if 0 < pin.played < played_frames]
    for start, end in pairwise([0.0, *pins, float(played_frames)]):
        bends = np.ptp(np.diff(elastic.source(np.linspace(start, end, 5)))) > _EVEN
        seconds = _RAMP_SECONDS if bends else _MOST_SECONDS
        parts = max(1, int(np.ceil((end - start) / fps / seconds)))
        cuts = np.linspace(start, end, parts + 1)
        ends = list(zip(cuts.tolist(), elastic.source(cuts).tolist(), strict=True))
        yield from pairwise(ends)


def _gain(level_db: float) -> float:
    return float(10 ** (level_db / 20))


def _add(
    together: Samples,
    start: int,
    run: Run,
    laid: LaidSound,
    gain: float,
    recordings: Recordings,
) -> None:
    """Add one run to what is heard from `start` on."""
    before = 0 if run.begins else _HAND_OVER_SAMPLES
    after = 0 if run.ends else _HAND_OVER_SAMPLES
    low, high = max(start, run.start - before), min(start + len(together), run.end + after)
    if low >= high:
        return
    if abs(run.pace - 1) < _EVEN:
        own = recordings.samples(laid.sound, round(run.source) + low - run.start, high - low)
    else:
        first = round(run.source - before * run.pace)
        last = round(run.source_end + after * run.pace)
        whole = recordings.samples(laid.sound, first, last - first)
        played = stretched(whole, run.end - run.start + before + after)
        own = played[low - run.start + before : high - run.start + before]
    weights = [*_handed_over(run, low, high), *_fades(run, laid, low, high)]
    heard = own * np.float32(gain)
    for weight in weights:
        heard *= np.clip(weight, 0.0, 1.0)[:, None].astype(np.float32)
    together[low - start : high - start] += in_stereo(heard)


def _handed_over(run: Run, low: int, high: int) -> Iterator[NDArray[np.float64]]:
    """A run's weights at the played samples `[low, high)`, where it takes over from another run and where it
    hands over; none of what it does not do there."""
    twice = 2 * _HAND_OVER_SAMPLES
    if not run.begins and low < run.start + _HAND_OVER_SAMPLES:
        yield (np.arange(low, high) - run.start + _HAND_OVER_SAMPLES) / twice
    if not run.ends and high > run.end - _HAND_OVER_SAMPLES:
        yield (run.end + _HAND_OVER_SAMPLES - np.arange(low, high)) / twice


def _fades(run: Run, laid: LaidSound, low: int, high: int) -> Iterator[NDArray[np.float64]]:
    """How far a sound has faded in, and not yet out, at the same; told in its own time."""
    ends = [run.source + (at - run.start) * run.pace for at in (low, high)]
    first, last = (own / HOUSE_RATE - laid.in_seconds for own in ends)
    if laid.fade_in_seconds and first < laid.fade_in_seconds:
        yield np.linspace(first, last, high - low, endpoint=False) / laid.fade_in_seconds
    if laid.fade_out_seconds and last > laid.seconds - laid.fade_out_seconds:
        own = np.linspace(first, last, high - low, endpoint=False)
        yield (laid.seconds - own) / laid.fade_out_seconds
