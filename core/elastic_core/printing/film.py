"""Films: pictures and what is heard with them, encoded as MP4 (H.264, AAC) or WebM (VP9, Opus)."""

from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import cast

import av
import numpy as np
from av.audio.stream import AudioStream
from av.container import OutputContainer
from av.video.reformatter import ColorRange, Colorspace
from av.video.stream import VideoStream

from ..errors import Refusal
from ..sound.document import HOUSE_RATE
from ..sound.samples import Samples
from .look import FilmForm
from .press import Picture, Press, pixels_of

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
_SOUND_BITS = 192_000
_BT_709 = 1
# A sound at another pace is stretched anew for each block: few are asked for.
_BLOCK_SAMPLES = 10 * HOUSE_RATE


class Film:
    """A film that is being written, picture by picture. Made by `film_at`."""

    def __init__(self, pictures: "_Pictures", sound: "_Sound | None") -> None:
        self._pictures, self._sound = pictures, sound

    def add(self, picture: Picture) -> None:
        """The next picture. [height, width, 3]"""
        self._pictures.add(picture)

    def add_png(self, png: bytes) -> None:
        """The same, as the press paints it."""
        self.add(pixels_of(png))

    def hear(self, samples: Samples) -> None:
        """What is heard next, at the house rate. [samples, 2]"""
        assert self._sound is not None
        self._sound.add(samples)


@contextmanager
def film_at(
    path: Path, form: FilmForm, rate: Fraction, size: tuple[int, int], *, has_sound: bool = False
) -> Iterator[Film]:
    """A film to be written at a path: pictures of `size` (width, height). It is finished, or else goes, at the
    end.

    Raises Refusal where it cannot be written.
    """
    codecs = _FORMS[form]
    is_whole = False
    try:
        with av.open(str(path), "w", format=form) as out:
            pictures = _Pictures(out, codecs, rate, size)
            sound = _Sound(out, codecs) if has_sound else None
            yield Film(pictures, sound)
            pictures.close()
            if sound:
                sound.close()
        is_whole = True
    except av.FFmpegError as problem:
        raise Refusal(f"{path.name} cannot be written: {problem.strerror}.") from None
    finally:
        if not is_whole:
            path.unlink(missing_ok=True)


def print_film(
    press: Press,
    span: range,
    path: Path,
    form: FilmForm,
    heard: Heard | None,
    on_picture: Callable[[int], None] = lambda done: None,
) -> None:
    """A span of a print's played frames as a film; `heard` counts from the scene's beginning, and is asked on
    this thread alone. While a picture is encoded the next one is painted. Raises Refusal as `film_at` does, and
    for a frame that cannot be painted."""
    look, rate = press.printed.look, press.printed.scene.rate
    first, end = (round(at / rate * HOUSE_RATE) for at in (span.start, span.stop))
    with (
        film_at(path, form, rate, (look.width, look.height), has_sound=heard is not None) as film,
        ThreadPoolExecutor(1) as encoder,
    ):
        under_way: list[Future[None]] = []
        for done, frame in enumerate(span, start=1):
            png = press.frame(frame)
            for before in under_way:
                before.result()
            under_way.clear()
            if heard and first < min(end, round((frame + 1) / rate * HOUSE_RATE)):
                samples = heard(first, min(_BLOCK_SAMPLES, end - first))
                under_way.append(encoder.submit(film.hear, samples))
                first += len(samples)
            under_way.append(encoder.submit(film.add_png, png))
            on_picture(done)
        for before in under_way:
            before.result()


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
