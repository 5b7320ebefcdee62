"""The picture of a sound: how far it swings, bin by bin."""

import numpy as np
from numpy.typing import NDArray

from .samples import Samples

# At the house rate 187.5 bins a second: several to a frame at any rate that is drawn.
SAMPLES_A_PEAK = 256
Peaks = NDArray[np.uint8]


def peaks_of(samples: Samples) -> Peaks:
    """The least and the greatest value of each bin, over all channels. [n, channels] → [bins, 2].

    −1 is written as 1, 0 as 128 and 1 as 255; the last bin may be short.
    """
    starts = np.arange(0, len(samples), SAMPLES_A_PEAK)
    least = np.minimum.reduceat(samples.min(axis=1), starts)
    greatest = np.maximum.reduceat(samples.max(axis=1), starts)
    swing = np.clip(np.stack([least, greatest], axis=-1), -1.0, 1.0)
    peaks: Peaks = np.rint(128 + 127 * swing).astype(np.uint8)
    return peaks
