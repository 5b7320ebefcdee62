"""Frame rates, spans and timecode (rules 1.1 and 1.2)."""

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Annotated

from pydantic import BeforeValidator, PlainSerializer, WithJsonSchema

from .errors import Refusal

_BROADCAST_RATES = tuple(Fraction(n * 1000, 1001) for n in (24, 30, 48, 60, 120))
_DROP_FRAMES = {Fraction(30000, 1001): 2, Fraction(60000, 1001): 4}
FASTEST_RATE = 1000
# Few digits and no exponent: a short text can name a number that takes minutes to write down.
_RATE = re.compile(r"(-?[0-9]{1,9})(?:/([0-9]{1,9})|\.[0-9]{1,9})?")


def parse_rate(value: object) -> Fraction:
    """An exact frame rate from `24`, `"24"`, `"23.976"`, `"30000/1001"` or a Fraction.

    Decimals near a broadcast rate (23.976, 29.97, 59.94…) become the exact rational.

    Raises Refusal for what is no rate, or none between 0 and 1000.
    """
    if isinstance(value, Fraction | int):
        rate = Fraction(value)
    else:
        rate = _written_rate(str(value).strip())
    if not 0 < rate <= FASTEST_RATE:
        raise Refusal(f"A frame rate lies between 0 and {FASTEST_RATE}; this one does not.")
    return _nearest_known(rate, tolerance=Fraction(1, 2000))


def _written_rate(text: str) -> Fraction:
    match = _RATE.fullmatch(text)
    if match is None or (match[2] and not int(match[2])):
        shown = text if len(text) <= 40 else f"{text[:40]}…"
        raise Refusal(f"“{shown}” is not a frame rate; write 24, 23.976 or 30000/1001.")
    return Fraction(text)


def rate_from_frame_time(seconds: float) -> Fraction:
    """The frame rate whose frame lasts `seconds`, as written in files with few decimals.

    Raises Refusal for a time that no frame can last.
    """
    if not 0 < seconds < 1e6:
        raise Refusal(f"A frame cannot last {seconds} seconds.")
    rate = Fraction(1 / seconds).limit_denominator(1_000_000)
    # A frame time written with six decimals is off by up to half a unit in the last place.
    slack = rate * rate * Fraction(1, 1_000_000)
    whole = Fraction(round(rate))
    if whole > 0 and abs(whole - rate) <= max(slack, Fraction(1, 5000)):
        return whole
    return _nearest_known(rate, tolerance=max(slack, Fraction(1, 2000)))


def _nearest_known(rate: Fraction, tolerance: Fraction) -> Fraction:
    if rate.denominator in (1, 1001):
        return rate
    known = min(_BROADCAST_RATES, key=lambda candidate: abs(candidate - rate))
    return known if abs(known - rate) <= tolerance else rate.limit_denominator(1_000_000)


def format_rate(rate: Fraction) -> str:
    """`24` or `30000/1001`: the form that is stored."""
    return str(rate)


Rate = Annotated[
    Fraction,
    BeforeValidator(parse_rate),
    PlainSerializer(format_rate, return_type=str),
    WithJsonSchema({"type": "string", "examples": ["24", "30000/1001"]}),
]


@dataclass(frozen=True)
class Span:
    """A half-open range of frames, `[start, end)`."""

    start: float
    end: float

    @property
    def length_frames(self) -> float:
        return self.end - self.start

    def overlap(self, other: "Span") -> "Span":
        """The frames both spans hold; empty spans have length 0 or less."""
        return Span(max(self.start, other.start), min(self.end, other.end))


def seconds(frames: float, rate: Fraction) -> float:
    """How long so many frames last at this rate."""
    return float(Fraction(frames) / rate)


def timecode(frame: int, rate: Fraction) -> str:
    """`hh:mm:ss:ff`, or `hh:mm:ss;ff` with dropped numbers at 30000/1001 and 60000/1001.

    Drop-frame counting follows SMPTE ST 12-1: two (four) frame numbers are left out at the start
    of each minute but every tenth.
    """
    if frame < 0:
        return "-" + timecode(-frame, rate)
    base = round(rate)
    dropped = _DROP_FRAMES.get(rate, 0)
    if dropped:
        per_minute = base * 60 - dropped
        per_ten_minutes = per_minute * 10 + dropped
        tens, rest = divmod(frame, per_ten_minutes)
        frame += dropped * (9 * tens + max(0, rest - dropped) // per_minute)
    total_seconds, frames = divmod(frame, base)
    minutes, secs = divmod(total_seconds, 60)
    hours, mins = divmod(minutes, 60)
    return f"{hours:02}:{mins:02}:{secs:02}{';' if dropped else ':'}{frames:02}"


def parse_timecode(text: str, rate: Fraction) -> int:
    """The frame that a timecode names; the inverse of `timecode`.

    Raises Refusal for what is no timecode of this rate.
    """
    match = re.fullmatch(
        r"(-?)([0-9]{1,9}):([0-5]?[0-9]):([0-5]?[0-9])[:;]([0-9]{1,4})", text.strip()
    )
    if not match:
        raise Refusal(f"“{text}” is not a timecode; write 00:00:03:12.")
    sign, *parts = match.groups()
    hours, minutes, secs, frames = (int(part) for part in parts)
    base = round(rate)
    if frames >= base:
        raise Refusal(f"“{text}” names frame {frames} of a second that has {base}.")
    total_minutes = hours * 60 + minutes
    dropped = _DROP_FRAMES.get(rate, 0)
    if dropped and secs == 0 and frames < dropped and total_minutes % 10:
        raise Refusal(f"“{text}” is a number that drop-frame counting leaves out.")
    frame = (total_minutes * 60 + secs) * base + frames
    frame -= dropped * (total_minutes - total_minutes // 10)
    return -frame if sign else frame


def nearest_frame(frame: float) -> float:
    """The nearest whole frame; halves go up. Raises Refusal for what is no number."""
    if not math.isfinite(frame):
        raise Refusal("That is not a frame.")
    return float(math.floor(frame + 0.5))
