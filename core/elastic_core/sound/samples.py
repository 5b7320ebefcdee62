"""Samples of a sound, and how they are brought to the house rate."""

from math import gcd

import numpy as np
from numpy.typing import NDArray
from scipy.signal import resample_poly

from .document import HOUSE_RATE

Samples = NDArray[np.float32]
"""A swing of 1 is as loud as a file can say. [samples, channels]"""


def at_house_rate(samples: Samples, rate_hz: int) -> Samples:
    """The same sound at the house rate, by a polyphase filter. [n, channels] → [m, channels]."""
    if rate_hz == HOUSE_RATE:
        return samples
    common = gcd(rate_hz, HOUSE_RATE)
    up, down = HOUSE_RATE // common, rate_hz // common
    resampled: Samples = resample_poly(samples, up, down, axis=0).astype(np.float32)
    # The filter counts a sample that has hardly begun: a sound must not grow by being read.
    return resampled[: max(1, round(len(samples) * HOUSE_RATE / rate_hz))]


def as_heard(samples: Samples) -> Samples:
    """One channel or two, as they are; of more the mean, as one. [n, channels] → [n, 1 or 2]."""
    if samples.shape[1] <= 2:
        return samples
    mean: Samples = samples.mean(axis=1, keepdims=True, dtype=np.float32)
    return mean


def in_stereo(samples: Samples) -> Samples:
    """[n, 1 or 2] → [n, 2]."""
    return samples if samples.shape[1] == 2 else np.repeat(samples, 2, axis=1)
