"""Made-up sounds in all forms: bursts of a tone, one each half second."""

import io
from dataclasses import dataclass

import av
import numpy as np
import soundfile

from elastic_core.sound.document import HOUSE_RATE, Sound
from elastic_core.sound.samples import Samples

BURST_SECONDS, EVERY_SECONDS, TONE_HZ = 0.1, 0.5, 300.0
FORMS = ("WAV", "AIFF", "FLAC", "OGG", "MP3", "M4A")


def bursts(seconds: float = 4.0, rate_hz: int = HOUSE_RATE, channels: int = 1) -> Samples:
    """A tone of 300 Hz for the first tenth of each half second. [n, channels]"""
    at = np.arange(round(seconds * rate_hz)) / rate_hz
    tone = 0.4 * np.sin(2 * np.pi * TONE_HZ * at) * (at % EVERY_SECONDS < BURST_SECONDS)
    return np.repeat(tone[:, None], channels, axis=1).astype(np.float32)


def file_of(samples: Samples, form: str, rate_hz: int = HOUSE_RATE) -> bytes:
    """The samples as a file of one of the six forms."""
    out = io.BytesIO()
    if form == "M4A":
        _write_m4a(out, samples, rate_hz)
        return out.getvalue()
    subtype = {"OGG": "VORBIS", "MP3": None}.get(form, "PCM_16")
    with soundfile.SoundFile(
        out, "w", rate_hz, samples.shape[1], format=form, subtype=subtype
    ) as file:
        # The OGG writer of the library fails on all of it at once.
        for start in range(0, len(samples), 4096):
            file.write(samples[start : start + 4096])
    return out.getvalue()


def _write_m4a(out: io.BytesIO, samples: Samples, rate_hz: int) -> None:
    layout = "mono" if samples.shape[1] == 1 else "stereo"
    with av.open(out, "w", format="ipod") as container:
        stream = container.add_stream("aac", rate=rate_hz)
        stream.layout = layout
        for start in range(0, len(samples), 1024):
            piece = np.ascontiguousarray(samples[start : start + 1024].T)
            frame = av.AudioFrame.from_ndarray(piece, format="fltp", layout=layout)
            frame.sample_rate, frame.pts = rate_hz, start
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))


def centres(samples: Samples) -> list[float]:
    """The seconds at which bursts have their middle, from their energy. [n, channels] → list."""
    loud = samples[:, 0].astype(np.float64) ** 2
    # So even that a burst which two stretches share, and dips between them, is one.
    smooth = np.convolve(loud, np.ones(2_400) / 2_400, mode="same")
    on = np.concatenate([[False], smooth > 0.05 * smooth.max(), [False]])
    edges = np.flatnonzero(np.diff(on.astype(int)))
    found = []
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        at = np.arange(start, end)
        found.append(float((at * loud[start:end]).sum() / loud[start:end].sum()) / HOUSE_RATE)
    return found


def pitch_hz(samples: Samples) -> float:
    """The tone that is loudest."""
    spectrum = np.abs(np.fft.rfft(samples[:, 0]))
    return float(np.fft.rfftfreq(len(samples), 1 / HOUSE_RATE)[np.argmax(spectrum)])


@dataclass(frozen=True)
class Held:
    """Sounds at hand, by the ids of their documents."""

    by_id: dict[str, Samples]

    def samples(self, sound: str, start: int, count: int) -> Samples:
        whole = self.by_id[sound]
        window = np.zeros((count, whole.shape[1]), dtype=np.float32)
        low, high = max(0, start), min(len(whole), start + count)
        if low < high:
            window[low - start : high - start] = whole[low:high]
        return window


def document_of(samples: Samples, name: str = "Bell") -> Sound:
    return Sound(
        name=name,
        file="0" * 64,
        form="WAV",
        rate_hz=HOUSE_RATE,
        channels=samples.shape[1],
        samples=len(samples),
    )
