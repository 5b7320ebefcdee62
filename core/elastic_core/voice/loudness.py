"""How loud and how bright a sound is, moment by moment: pauses, stops that let go, and a rough guess at
mouths."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array

SPEECH_HZ = 16_000
Speech = NDArray[np.float32]
"""At 16 kHz, one channel. [samples]"""
# A step of the envelope, and how much of the sound each hears.
STEP_SECONDS, _HEARS_SECONDS = 0.002, 0.008
_SILENT_DB = -90.0
# Less of a rise above the floor is a room, not a voice; speech keeps within so much of its loudest.
_OVER_FLOOR_DB, _UNDER_PEAK_DB = 9.0, 38.0
_VOICE_HZ, _BRIGHT_HZ = (60.0, 7_000.0), 1_000.0
_RINGS_SAMPLES = 4_096


@dataclass(frozen=True, eq=False)
class Loudness:
    """The envelope of a sound, in decibels, every 2 ms: all of it, and what lies over 1 kHz. [steps]"""

    whole: Array
    bright: Array

    @cached_property
    def threshold_db(self) -> float:
        """What is louder is speech."""
        floor, peak = np.quantile(self.whole, [0.05, 0.97])
        return float(max(min(floor + _OVER_FLOOR_DB, peak - 6.0), peak - _UNDER_PEAK_DB))

    @cached_property
    def speaks(self) -> NDArray[np.bool_]:
        """Whether anything is said. [steps]"""
        return np.asarray(self.whole > self.threshold_db)

    def step(self, seconds: float) -> int:
        """The step nearest to a time, inside."""
        return min(len(self.whole) - 1, max(0, round(seconds / STEP_SECONDS)))

    def level_db(self, start: float, end: float) -> float:
        """The mean level between two times."""
        low = self.step(start)
        part = self.whole[low : max(low + 1, self.step(end))]
        return float(10 * np.log10(np.mean(10 ** (part / 10))))

    def spoken_share(self, start: float, end: float) -> float:
        """How much of the time between two moments something is said."""
        low = self.step(start)
        return float(np.mean(self.speaks[low : max(low + 1, self.step(end))]))


def loudness_of(speech: Speech) -> Loudness:
    """The envelope of a sound. [samples at 16 kHz]"""
    padded = np.concatenate([speech, np.zeros(max(0, 400 - len(speech)), dtype=np.float32)])
    whole, bright = _filtered(padded)
    return Loudness(_envelope(whole), _envelope(bright))


def _filtered(samples: Speech) -> tuple[Array, Array]:
    """The voice's band, 60 to 7,000 Hz, and what lies over 1 kHz, with zero phase.

    By the spectra of Butterworth filters run forth and back (S. Butterworth, 1930: |H|² = 1 / (1 + w^2n), the
    frequencies warped as the bilinear transform does), so that the process that reads lines comes up without
    a library of filters.
    """
    # What the filters ring on for must not come round to the beginning.
    spectrum = np.fft.rfft(samples, len(samples) + _RINGS_SAMPLES)
    places = np.fft.rfftfreq(len(samples) + _RINGS_SAMPLES)
    with np.errstate(divide="ignore", over="ignore"):
        w = np.tan(np.pi * np.minimum(places, 0.5 - 1e-9))
        low, high, edge = (float(np.tan(np.pi * hz / SPEECH_HZ)) for hz in (*_VOICE_HZ, _BRIGHT_HZ))
        voiced = 1 / (1 + ((w * w - low * high) / (w * (high - low))) ** 4)
        over = 1 / (1 + (edge / w) ** 8)
    whole, bright = (
        np.fft.irfft(spectrum * kept, len(samples) + _RINGS_SAMPLES)[: len(samples)]
        for kept in (voiced, over)
    )
    return np.asarray(whole), np.asarray(bright)


def _envelope(samples: Array) -> Array:
    """Root mean square round every step, in decibels."""
    step, hears = round(STEP_SECONDS * SPEECH_HZ), round(_HEARS_SECONDS * SPEECH_HZ)
    summed = np.concatenate([[0.0], np.cumsum(samples.astype(np.float64) ** 2)])
    middles = np.arange(0, len(samples), step)
    low = np.clip(middles - hears // 2, 0, len(samples))
    high = np.clip(middles + hears // 2, 0, len(samples))
    power = np.maximum(summed[high] - summed[low], 0.0) / np.maximum(1, high - low)
    envelope: Array = np.maximum(_SILENT_DB, 10 * np.log10(power + 1e-12))
    return envelope


def pauses_of(loudness: Loudness, least_seconds: float) -> list[tuple[float, float]]:
    """Where nothing is said for so long, in seconds, both ends of the sound too."""
    silent = np.concatenate([[False], ~loudness.speaks, [False]])
    edges = np.flatnonzero(np.diff(silent.astype(np.int8)))
    spans = zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True)
    found = [(start * STEP_SECONDS, end * STEP_SECONDS) for start, end in spans]
    return [span for span in found if span[1] - span[0] >= least_seconds]
