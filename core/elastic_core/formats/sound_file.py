"""Sound files: WAV, AIFF, FLAC, OGG, MP3 and M4A, told apart by what they hold and not by their names."""

import io
import struct
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import PurePath

import av
import numpy as np
import soundfile

from ..errors import Refusal
from ..sound.document import HOUSE_RATE, LONGEST_SECONDS, Form
from ..sound.samples import Samples, as_heard, at_house_rate

FORMS = "WAV, AIFF, FLAC, OGG, MP3 or M4A"
_SNIFFED_BYTES = 12
_BLOCK_SAMPLES = 1 << 16
_FASTEST_HZ = 1_000_000


@dataclass(frozen=True, eq=False)
class SoundRead:
    """What a file holds: its own rate and channels, and what is heard of it, at the house rate."""

    form: Form
    rate_hz: int
    channels: int
    samples: Samples


def read_sound(data: bytes, name: str) -> SoundRead:
    """A sound file. Raises Refusal in one sentence for what cannot be read."""
    form = form_of(data, name)
    try:
        rate_hz, blocks = _packets(data) if form == "M4A" else _frames(data)
        samples = _joined(blocks, rate_hz, name)
    except (soundfile.LibsndfileError, av.FFmpegError, ValueError, MemoryError):
        raise Refusal(f"“{name}” cannot be read: it is no whole {form} file.") from None
    if not len(samples):
        raise Refusal(f"“{name}” holds no sound.")
    if not np.isfinite(samples).all():
        raise Refusal(f"“{name}” holds numbers that are no sound.")
    heard = at_house_rate(as_heard(samples), rate_hz)
    return SoundRead(form, rate_hz, samples.shape[1], np.ascontiguousarray(heard))


def form_of(data: bytes, name: str) -> Form:
    """Which form a file has, by how it begins. Raises Refusal for any other."""
    start = data[:_SNIFFED_BYTES]
    if start[:4] in (b"RIFF", b"RF64", b"RIFX") and start[8:12] == b"WAVE":
        return "WAV"
    if start[:4] == b"FORM" and start[8:12] in (b"AIFF", b"AIFC"):
        return "AIFF"
    if start[:4] == b"fLaC":
        return "FLAC"
    if start[:4] == b"OggS":
        return "OGG"
    if start[4:8] == b"ftyp":
        return "M4A"
    if start[:3] == b"ID3" or (len(start) > 1 and start[0] == 0xFF and start[1] & 0xE0 == 0xE0):
        return "MP3"
    raise Refusal(f"“{name}” is no sound that can be read: bring a {FORMS} file.")


def name_of_sound(file_name: str) -> str:
    """What a sound is called at first: its file's name without the ending."""
    return PurePath(file_name).stem.strip()[:120] or "Sound"


Blocks = Iterator[Samples]


def _frames(data: bytes) -> tuple[int, Blocks]:
    file = soundfile.SoundFile(io.BytesIO(data))

    def blocks() -> Blocks:
        with file:
            while len(block := file.read(_BLOCK_SAMPLES, dtype="float32", always_2d=True)):
                yield block

    return _sane(int(file.samplerate)), blocks()


def _packets(data: bytes) -> tuple[int, Blocks]:
    # Named, so that nothing which refers to other files is taken for a sound.
    container = av.open(io.BytesIO(data), mode="r", format="mov")
    if not container.streams.audio:
        raise ValueError("no sound in it")
    stream = container.streams.audio[0]
    rate_hz = _sane(int(stream.codec_context.sample_rate))
    channels = int(stream.codec_context.channels)
    resampler = av.AudioResampler(format="flt", rate=rate_hz)

    def blocks() -> Blocks:
        with container:
            for frame in container.decode(stream):
                for even in resampler.resample(frame):
                    yield even.to_ndarray().reshape(-1, channels).astype(np.float32)

    return rate_hz, blocks()


def _sane(rate_hz: int) -> int:
    if not 0 < rate_hz <= _FASTEST_HZ:
        raise ValueError("no rate that a sound can have")
    return rate_hz


def _joined(blocks: Blocks, rate_hz: int, name: str) -> Samples:
    found: list[Samples] = []
    count = 0
    for block in blocks:
        found.append(block)
        count += len(block)
        if count > LONGEST_SECONDS * rate_hz:
            raise Refusal(
                f"“{name}” is longer than {LONGEST_SECONDS // 60} minutes. Cut it into parts first."
            )
    return np.concatenate(found) if found else np.zeros((0, 1), dtype=np.float32)


def wav_pieces(pieces: Iterable[Samples], count: int) -> Iterator[bytes]:
    """So many samples in stereo at the house rate as a WAV file of 16 bits, a piece at a time: a long one is
    never there as a whole. Each piece is [n, 2]."""
    frame_bytes = 4
    size = count * frame_bytes
    form = struct.pack(
        "<4sIHHIIHH", b"fmt ", 16, 1, 2, HOUSE_RATE, HOUSE_RATE * frame_bytes, frame_bytes, 16
    )
    head = struct.pack("<4sI4s", b"RIFF", 4 + len(form) + 8 + size, b"WAVE")
    yield head + form + struct.pack("<4sI", b"data", size)
    for piece in pieces:
        yield np.round(np.clip(piece, -1.0, 1.0) * 32_767).astype("<i2").tobytes()


def written_flac(samples: Samples, rate_hz: int, *, fine: bool = False) -> bytes:
    """Samples as a FLAC file, of 24 bits where they are kept and of 16 where they are heard."""
    return flac_of([samples], samples.shape[1], rate_hz, fine=fine)


def flac_of(pieces: Iterable[Samples], channels: int, rate_hz: int, *, fine: bool = False) -> bytes:
    """The same of samples that come in pieces, each [n, channels]."""
    out = io.BytesIO()
    subtype = "PCM_24" if fine else "PCM_16"
    with soundfile.SoundFile(out, "w", rate_hz, channels, format="FLAC", subtype=subtype) as file:
        for piece in pieces:
            file.write(np.clip(piece, -1.0, 1.0))
    return out.getvalue()


def read_flac(data: bytes) -> Samples:
    """The samples of a file that `written_flac` wrote. [n, channels]"""
    samples: Samples = soundfile.read(io.BytesIO(data), dtype="float32", always_2d=True)[0]
    return samples
