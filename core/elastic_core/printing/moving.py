"""Pictures that move: WebP without loss and GIF, going round for ever."""

import io
from collections.abc import Callable, Iterator, Mapping, Sequence
from fractions import Fraction
from pathlib import Path

from PIL import Image

from ..errors import Refusal
from .look import MovingForm
from .painter import Painter
from .whole import check_folder, written_whole

# How finely each form counts time, in milliseconds.
_TICK_MS: Mapping[MovingForm, int] = {"webp": 1, "gif": 10}
_NAMES: Mapping[MovingForm, str] = {"webp": "WebP", "gif": "GIF"}
# Browsers slow down whatever asks for less.
_LEAST_GIF_MS = 20
# All of one is in memory at once.
MOST_PIXELS = 120_000_000
_PALETTE_SAMPLES, _PALETTE_SIDE, _COLOURS = 16, 160, 256


def print_moving(
    press: Painter,
    span: range,
    path: Path,
    form: MovingForm,
    on_picture: Callable[[int], None] = lambda done: None,
) -> None:
    """A span of a print's played frames as one picture that moves. Raises Refusal for one that is too large, or
    too fast for its form."""
    check_moving(len(span), press.size, press.rate, form)
    shown_ms = durations_ms(len(span), press.rate, form)
    check_folder(path)
    painted: list[bytes] = []
    for done, frame in enumerate(span, start=1):
        painted.append(press.frame(frame))
        on_picture(done)
    with written_whole(path):
        _write(painted, path, form, shown_ms)


def _write(painted: Sequence[bytes], path: Path, form: MovingForm, shown_ms: list[int]) -> None:
    first, *rest = _indexed(painted) if form == "gif" else map(_opened, painted)
    if form == "gif":
        first.save(path, "GIF", save_all=True, append_images=rest, duration=shown_ms, loop=0,
                   disposal=1, optimize=False)  # fmt: skip
    else:
        # What only adds to the picture before has no clear places: then each is a whole one.
        whole = {"kmin": 0, "kmax": 1} if first.mode == "RGBA" else {}
        first.save(path, "WEBP", save_all=True, append_images=rest, duration=shown_ms, loop=0,
                   lossless=True, method=3, **whole)  # fmt: skip


def check_moving(frames: int, size: tuple[int, int], rate: Fraction, form: MovingForm) -> None:
    """Raises Refusal for a picture that is too large, or too fast for its form."""
    width, height = size
    if frames * width * height > MOST_PIXELS:
        most = max(1, MOST_PIXELS // (width * height))
        raise Refusal(
            f"A {_NAMES[form]} of {width} × {height} has {most:,} frames at the most: print fewer, smaller, "
            "or a film."
        )
    if form == "gif" and 1_000 / rate < _LEAST_GIF_MS:
        most = 1_000 // _LEAST_GIF_MS
        raise Refusal(f"A GIF shows {most} pictures a second at the most: print a WebP or a film.")


def durations_ms(frames: int, rate: Fraction, form: MovingForm) -> list[int]:
    """How long each frame shows. What is rounded does not add up: a round lasts as long as it should."""
    tick = _TICK_MS[form]
    ends = [round(Fraction(k * 1_000) / rate / tick) * tick for k in range(frames + 1)]
    return [end - start for start, end in zip(ends[:-1], ends[1:], strict=True)]


def _opened(png: bytes) -> Image.Image:
    with Image.open(io.BytesIO(png)) as image:
        return image.convert("RGBA" if image.mode == "RGBA" else "RGB")


def _indexed(painted: Sequence[bytes]) -> Iterator[Image.Image]:
    """In the colours of one palette: with one for each, a still background would flicker."""
    palette = _palette(painted)
    for png in painted:
        yield _opened(png).convert("RGB").quantize(palette=palette, dither=Image.Dither.NONE)


def _palette(painted: Sequence[bytes]) -> Image.Image:
    step = max(1, len(painted) // _PALETTE_SAMPLES)
    samples = [_opened(png).convert("RGB") for png in painted[::step][:_PALETTE_SAMPLES]]
    for sample in samples:
        # Nearest: a colour between two that are there is none of the picture's.
        sample.thumbnail((_PALETTE_SIDE, _PALETTE_SIDE), Image.Resampling.NEAREST)
    strip = Image.new("RGB", (sum(one.width for one in samples), samples[0].height))
    left = 0
    for sample in samples:
        strip.paste(sample, (left, 0))
        left += sample.width
    return strip.quantize(_COLOURS, method=Image.Quantize.MEDIANCUT)
