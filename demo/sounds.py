"""What is heard on the quay: the harbour's bell, and the sea against the stones."""

import hashlib
from functools import cache

import numpy as np
from scipy.signal import lfilter

from elastic_core.formats.sound_file import read_sound, written_flac
from elastic_core.sound.document import HOUSE_RATE, Sound
from elastic_core.sound.samples import Samples

TAU = 2 * np.pi
# A bell's partials: how high above its hum, how loud, and after how many seconds a third is left.
PARTIALS = (
    (1.0, 0.5, 2.4),
    (2.0, 0.8, 1.6),
    (2.4, 0.6, 1.2),
    (3.0, 0.35, 0.9),
    (4.0, 0.5, 0.7),
    (5.33, 0.3, 0.45),
    (6.67, 0.2, 0.3),
)


def bell(hum_hz: float = 196.0, seconds: float = 4.0) -> Samples:
    """Two strokes of the harbour's bell, the second one softer. [n, 1]"""
    at = np.arange(round(seconds * HOUSE_RATE)) / HOUSE_RATE
    sound = np.zeros_like(at)
    for stroke, loud in ((0.0, 1.0), (1.5, 0.6)):
        since = np.maximum(at - stroke, 0.0)
        struck = loud * (at >= stroke) * np.minimum(1.0, since / 0.003)
        for above, share, lasts in PARTIALS:
            sound += struck * share * np.exp(-since / lasts) * np.sin(TAU * hum_hz * above * since)
    sound *= np.minimum(1.0, (seconds - at) / 0.4)
    struck_twice: Samples = (0.6 * sound / np.abs(sound).max()).astype(np.float32)[:, None]
    return struck_twice


def sea(seconds: float = 8.0, seed: int = 5) -> Samples:
    """Water against the quay, a wave every two and a half seconds. [n, 2]"""
    chance = np.random.default_rng(seed)
    at = np.arange(round(seconds * HOUSE_RATE)) / HOUSE_RATE
    noise = chance.normal(size=(len(at), 2))
    low = lfilter([0.02], [1, -0.98], noise, axis=0)
    high = lfilter([0.3], [1, -0.7], noise, axis=0) - low
    wave = (0.5 + 0.5 * np.sin(TAU * at / 2.5 - 1.2)) ** 2
    sound = 0.7 * low + 0.12 * (wave**2)[:, None] * high
    swell = 0.35 + 0.65 * wave[:, None]
    water: Samples = (0.7 * sound * swell / np.abs(sound).max()).astype(np.float32)
    return water


SOUNDS = {"Harbour bell": bell, "Sea at the quay": sea}


@cache
def sound_file(name: str) -> bytes:
    """A sound of the demo as a file."""
    return written_flac(SOUNDS[name](), HOUSE_RATE)


def sound_document(name: str) -> Sound:
    """The same as a document."""
    data = sound_file(name)
    read = read_sound(data, name)
    return Sound(
        name=name,
        file=hashlib.sha256(data).hexdigest(),
        form=read.form,
        rate_hz=read.rate_hz,
        channels=read.channels,
        samples=len(read.samples),
    )
