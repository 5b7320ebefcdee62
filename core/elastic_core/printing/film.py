"""Films: pictures and what is heard with them, encoded as MP4 (H.264, AAC) or WebM (VP9, Opus)."""

import io
import tempfile
from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Protocol, cast

import av
import numpy as np
from av.audio.stream import AudioStream
from av.container import OutputContainer
from av.video.reformatter import ColorRange, Colorspace
from av.video.stream import VideoStream

from ..sound.document import HOUSE_RATE
from ..sound.samples import Samples
from .look import FilmForm
from .painter import Painter
from .press import Picture, pixels_of
from .whole import check_folder, written_whole

Heard = Callable[[int, int], Samples]
"""What is heard over the samples `[start, start + count)` at the house rate, in stereo. [count, 2]"""


@dataclass(frozen=True)
class _Codecs:
    picture: str
    sound: str
    options: Mapping[str, object]


# Drawn lines want their edges: a constant quality, and colour as fine as everyone can play.
_FORMS: dict[FilmForm, _Codecs] = {
    "mp4": _Codecs("libx264", "aac", {"crf": "16", "preset": "veryfast", "tune": "animation"}),
    "webm": _Codecs(
        "libvpx-vp9",
        "libopus",
        {"crf": "24", "b": "0", "deadline": "realtime", "cpu-used": "6", "row-mt": "1"},
    ),
}
# What a worker that dies loses is a part at the most. Each begins with a whole picture: players find their way.
PART_FRAMES = 120
_SOUND_BITS = 192_000
_BT_709 = 1
# A sound at another pace is stretched anew for each block: few are asked for.
_BLOCK_SAMPLES = 10 * HOUSE_RATE


class Film:
    """A film that is being written, picture by picture. Made by `film_at`."""

    def __init__(self, pictures: "_Pictures") -> None:
        self._pictures = pictures

    def add(self, picture: Picture) -> None:
        """The next picture. [height, width, 3]"""
        self._pictures.add(picture)

    def add_png(self, png: bytes) -> None:
        """The same, as the press paints it."""
        self.add(pixels_of(png))


@contextmanager
def film_at(path: Path, form: FilmForm, rate: Fraction, size: tuple[int, int]) -> Iterator[Film]:
    """A film to be written at a path: pictures of `size` (width, height). It is finished, or else goes, at the
    end.

    Raises Refusal where it cannot be written.
    """
    codecs = _FORMS[form]
    with written_whole(path), av.open(str(path), "w", format=form) as out:
        pictures = _Pictures(out, codecs, rate, size)
        yield Film(pictures)
        pictures.close()


class Parts(Protocol):
    """Where the parts of a film are kept until they are joined: what is there already is not painted again."""

    def has(self, number: int) -> bool:
        """Whether a part is there."""

    def keep(self, number: int, part: Path) -> None:
        """Keep a part that was written at a path."""

    def read(self, number: int) -> bytes:
        """A part that is there."""


def parts_of(span: range) -> list[range]:
    """A span's frames, part by part."""
    return [span[start : start + PART_FRAMES] for start in range(0, len(span), PART_FRAMES)]


def print_film(
    press: Painter,
    span: range,
    path: Path,
    form: FilmForm,
    heard: Heard | None,
    on_picture: Callable[[int], None] = lambda done: None,
    parts: Parts | None = None,
    rounds: int = 1,
) -> None:
    """A span of a print's played frames as a film, part by part, round and round so often; `heard` counts from
    the scene's beginning. Raises Refusal as `film_at` does, and for a frame that cannot be painted."""
    check_folder(path)
    with tempfile.TemporaryDirectory(dir=path.parent, prefix=".parts-") as folder:
        kept = _InFolder(Path(folder)) if parts is None else parts
        for number, frames in enumerate(parts_of(span)):
            before = frames.start - span.start
            if not kept.has(number):
                part = Path(folder) / f"part.{form}"
                _print_part(press, frames, part, form, lambda done, b=before: on_picture(b + done))  # type: ignore[misc]
                kept.keep(number, part)
            else:
                on_picture(before + len(frames))
        _join(press, span, path, form, heard, kept, rounds)


def _print_part(
    press: Painter, frames: range, path: Path, form: FilmForm, on_picture: Callable[[int], None]
) -> None:
    """Some frames as a film without sound. While a picture is encoded the next one is painted."""
    with (
        film_at(path, form, press.rate, press.size) as film,
        ThreadPoolExecutor(1) as encoder,
    ):
        under_way: Future[None] | None = None
        for done, frame in enumerate(frames, start=1):
            png = press.frame(frame)
            if under_way:
                under_way.result()
            under_way = encoder.submit(film.add_png, png)
            on_picture(done)
        if under_way:
            under_way.result()


def _join(
    press: Painter,
    span: range,
    path: Path,
    form: FilmForm,
    heard: Heard | None,
    parts: Parts,
    rounds: int,
) -> None:
    """The parts as one film, picture for picture as they were encoded, with what is heard; round and round."""
    rate = press.rate
    with written_whole(path), av.open(str(path), "w", format=form) as out:
        stream: VideoStream | None = None
        sound: _Sound | None = None
        for turn in range(rounds):
            # Of so many samples, however many frames a round has: what is rounded does not add up.
            ahead = round(turn * len(span) / rate * HOUSE_RATE)
            over = round((turn + 1) * len(span) / rate * HOUSE_RATE)
            first = begins = round(span.start / rate * HOUSE_RATE)
            for number, frames in enumerate(parts_of(span)):
                before = frames.start - span.start
                with av.open(io.BytesIO(parts.read(number)), "r") as part:
                    own = part.streams.video[0]
                    if stream is None:
                        stream = out.add_stream_from_template(own)
                        sound = _Sound(out, _FORMS[form]) if heard else None
                    for packet in part.demux(own):
                        if packet.dts is not None and packet.pts is not None:
                            _retimed(packet, turn * len(span) + before, rate)
                            packet.stream = stream
                            out.mux(packet)
                heard_until = round((before + len(frames)) / rate * HOUSE_RATE) + begins
                while heard and sound and first < min(begins + over - ahead, heard_until):
                    samples = heard(first, min(_BLOCK_SAMPLES, begins + over - ahead - first))
                    sound.add(samples)
                    first += len(samples)
        if sound:
            sound.close()


def _retimed(packet: "av.Packet[VideoStream]", before: int, rate: Fraction) -> None:
    """A packet of a part where it stands in the film, so many frames on: counted in frames, so that what a
    container rounds does not add up."""
    tick = packet.time_base * rate
    packet.pts = before + round((packet.pts or 0) * tick)
    packet.dts = before + round((packet.dts or 0) * tick)
    packet.duration, packet.time_base = 1, 1 / rate


@dataclass(frozen=True)
class _InFolder:
    """Parts of a film that is printed in one go."""

    folder: Path

    def has(self, number: int) -> bool:
        return (self.folder / str(number)).exists()

    def keep(self, number: int, part: Path) -> None:
        part.replace(self.folder / str(number))

    def read(self, number: int) -> bytes:
        return (self.folder / str(number)).read_bytes()


class _Pictures:
    def __init__(
        self, out: OutputContainer, codecs: _Codecs, rate: Fraction, size: tuple[int, int]
    ) -> None:
        self._out, self._rate, self._count = out, rate, 0
        stream = cast(VideoStream, out.add_stream(codecs.picture, rate=rate))
        stream.width, stream.height = size
        stream.pix_fmt = "yuv420p"
        stream.options = dict(codecs.options)
        # Rec. ITU-R BT.709, as every player takes a film of this size to be.
        stream.codec_context.color_primaries = _BT_709
        stream.codec_context.color_trc = _BT_709
        stream.codec_context.colorspace = _BT_709
        self._stream = stream

    def add(self, picture: Picture) -> None:
        whole = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture), format="rgb24")
        frame = whole.reformat(
            format="yuv420p", dst_colorspace=Colorspace.ITU709, dst_color_range=ColorRange.MPEG
        )
        frame.pts, frame.time_base = self._count, 1 / self._rate
        self._count += 1
        self._out.mux(self._stream.encode(frame))

    def close(self) -> None:
        self._out.mux(self._stream.encode(None))


class _Sound:
    def __init__(self, out: OutputContainer, codecs: _Codecs) -> None:
        self._out, self._done = out, 0
        self._stream = cast(AudioStream, out.add_stream(codecs.sound, rate=HOUSE_RATE))
        self._stream.layout = "stereo"
        self._stream.bit_rate = _SOUND_BITS

    def add(self, samples: Samples) -> None:
        block = np.ascontiguousarray(np.clip(samples, -1.0, 1.0).T, dtype=np.float32)
        frame = av.AudioFrame.from_ndarray(block, format="fltp", layout="stereo")
        frame.sample_rate = HOUSE_RATE
        frame.pts, frame.time_base = self._done, Fraction(1, HOUSE_RATE)
        self._done += len(samples)
        self._out.mux(self._stream.encode(frame))

    def close(self) -> None:
        self._out.mux(self._stream.encode(None))
