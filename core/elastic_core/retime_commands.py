"""`hours retime`: a motion file through an elastic."""

import json
import re
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path
from typing import Annotated, get_args

import numpy as np
import typer

from .arrays import Array
from .clip.document import Clip
from .clip.playable import PlayableClip
from .clock import Rate, Span, parse_rate
from .command_base import plainly, read_bvh
from .elastic import Elastic, Pin, PinSpan
from .errors import Refusal
from .exposure import Exposure
from .formats import bvh
from .formats.bvh_motion import file_from, motion_from, skeleton_from
from .moments import source as source_frames
from .retime.pins import turned_round
from .retime.ranges import Slowing, slowed

MOST_FRAMES = 200_000
_PIN = re.compile(r"\s*(-?[0-9.]{1,12})\s*:\s*(-?[0-9.]{1,12})\s*")
_PACE = re.compile(r"\s*([0-9.]{1,12})\s*:\s*([0-9.]{1,12})\s*=\s*([0-9.]{1,12})\s*%?\s*")


def add_to(app: typer.Typer) -> None:
    """Put the command in the program."""
    app.command()(retime)


@dataclass(frozen=True)
class _Wanted:
    pins: list[Pin]
    paces: list[tuple[Span, float]]
    ramp_frames: float
    policy: str | None
    reverse: bool


@plainly
def retime(
    source: Annotated[Path, typer.Argument(metavar="IN")],
    out: Annotated[Path, typer.Argument(metavar="OUT")],
    pin: Annotated[
        list[str] | None, typer.Option(help="SOURCE:PLAYED: that source frame plays at that one.")
    ] = None,
    kind: Annotated[str, typer.Option(help="Between pins: even, eased, ramped or held.")] = "even",
    pace: Annotated[
        list[str] | None,
        typer.Option(help="A:B=PERCENT: the played frames A up to but not B at that pace."),
    ] = None,
    ramp: Annotated[float, typer.Option(help="Frames over which a pace comes and goes.")] = 0.0,
    policy: Annotated[
        str | None,
        typer.Option(help="ripple: what follows moves on; absorb: both ends stay."),
    ] = None,
    fps: Annotated[str | None, typer.Option(help="The rate of OUT: 24, 23.976 …")] = None,
    on: Annotated[int, typer.Option(help="Each pose stays for so many frames.")] = 1,
    reverse: Annotated[bool, typer.Option("--reverse", help="From the end to the start.")] = False,
    as_json: Annotated[bool, typer.Option("--json", help="Machine-readable.")] = False,
) -> None:
    """Retime a motion: by pins, by pace, backwards, on twos. Every whole source frame comes out exact.

    A Refusal of what cannot be done comes out as one line.
    """
    if policy not in (None, "ripple", "absorb"):
        raise Refusal("A policy is ripple or absorb.")
    if not 1 <= on <= 1_000:
        raise Refusal("A pose stays for 1 to 1,000 frames.")
    if not 0 <= ramp <= 10_000:
        raise Refusal("A ramp has 0 to 10,000 frames.")
    file = read_bvh(source)
    rate = file.rate if fps is None else parse_rate(fps)
    unit = float(file.rate / rate)
    wanted = _Wanted(_pins(pin or [], kind), _paces(pace or []), ramp, policy, reverse)
    elastic, length = retimed(wanted, file.frames, unit)
    frames = np.arange(length, dtype=np.float64)
    shown = _whole(elastic.source(Exposure(pattern=(on,)).sampled(frames)))
    clip = Clip(name="motion", figure="figure", rate=Rate(file.rate), length_frames=file.frames)
    motion = PlayableClip(clip, motion_from(file, 1.0)).at(source_frames(shown))
    out.write_text(
        bvh.write(file_from(skeleton_from(file, "figure", 1.0), motion, rate)), encoding="utf-8"
    )
    paces = [float(value) for value in elastic.slope(frames) / unit]
    if as_json:
        facts = {"elastic": elastic.model_dump(), "pace": paces, "length_frames": length}
        typer.echo(json.dumps(facts))
        return
    typer.echo(f"{file.frames} frames play for {length}")
    slowest, fastest = int(np.argmin(paces)), int(np.argmax(paces))
    for word, at in (("slowest", slowest), ("fastest", fastest)):
        typer.echo(f"{word} {100 * paces[at]:.1f} % at {at}")


def retimed(wanted: _Wanted, frames: int, unit: float) -> tuple[Elastic, int]:
    """The elastic of played → source frames, and how many frames it plays. Raises Refusal for pins and
    ranges that lie outside of the file, and for what would play for too long."""
    last = float(frames - 1)
    elastic = Elastic(
        pins=(Pin(played=0, source=0), Pin(played=max(last, 1.0) / unit, source=max(last, 1.0)))
    )
    for pin in wanted.pins:
        if not 0 <= pin.source <= last:
            raise Refusal(f"The file has frames 0 to {last:g}, and none {pin.source:g} to pin.")
    if wanted.pins:
        elastic = _by_pins(wanted, last, unit)
    # From the last to the first, so that each is told in frames that no other has moved yet.
    for over, pace in sorted(wanted.paces, key=lambda pair: -pair[0].start):
        slowing = Slowing(pace=pace, ramp_frames=wanted.ramp_frames, unit=unit)
        within = None if wanted.policy != "absorb" else Span(0.0, elastic.pins[-1].played)
        if not 0 <= over.start < over.end <= elastic.pins[-1].played + 1:
            raise Refusal(f"{over.start:g}:{over.end:g} does not lie inside what plays.")
        elastic = slowed(elastic, over, slowing, within)
    length = int(np.ceil(frames / unit)) if wanted.policy == "absorb" else _length(elastic, frames)
    if wanted.reverse and length > 1:
        elastic = turned_round(elastic, Span(0.0, float(length - 1)))
    return elastic, length


def _by_pins(wanted: _Wanted, last: float, unit: float) -> Elastic:
    pins = wanted.pins
    if pins[0].played > 0 and pins[0].source > 0:
        # The start stays the start, unless a pin says otherwise.
        pins = [Pin(played=0, source=0, span=pins[0].span), *pins]
    end = pins[-1]
    if wanted.policy == "ripple":
        pins = [*pins, Pin(played=end.played + 1, source=end.source + unit)]
    elif wanted.policy == "absorb" and end.played < last / unit:
        pins = [*pins, Pin(played=last / unit, source=last)]
    pins[-1] = pins[-1].model_copy(update={"span": "even"})
    return Elastic(pins=tuple(_ramped_on(pins, unit)))


def _ramped_on(pins: list[Pin], unit: float) -> list[Pin]:
    """Ramps that go on from each other: the first sets out as made, each next one at the pace with which the
    one before it ends, as far as none has to turn back."""
    found, pace = list(pins), unit
    for place, (pin, after) in enumerate(pairwise(pins)):
        if pin.span == "ramped":
            mean = (after.source - pin.source) / (after.played - pin.played)
            low, high = sorted((0.0, 2 * mean))
            leaving = min(max(pace, low), high)
            found[place] = pin.model_copy(update={"leaving": leaving})
            pace = 2 * mean - leaving
    return found


def _length(elastic: Elastic, frames: int) -> int:
    """Until the last source frame has played for as long as any: the source's half-open end."""
    end = elastic.pins[-1]
    leaves = float(elastic.slope(np.array(end.played)))
    if leaves > 0 and end.source < frames:
        length = end.played + (frames - end.source) / leaves
    else:
        # It comes to rest, or goes backwards: up to its last pin.
        length = end.played + 1
    if length > MOST_FRAMES:
        raise Refusal(f"That would play for more than {MOST_FRAMES:,} frames.")
    return max(1, int(np.ceil(length - 1e-6)))


def _pins(texts: list[str], kind: str) -> list[Pin]:
    if kind not in get_args(PinSpan):
        raise Refusal("Between pins it is even, eased, ramped or held.")
    found = []
    for text in texts:
        match = _PIN.fullmatch(text)
        if match is None:
            raise Refusal("Write a pin as source and played frame: 90:36.")
        found.append((_number(match[2]), _number(match[1])))
    # Of checked kinds the model takes one.
    return [Pin.model_validate({"played": p, "source": u, "span": kind}) for p, u in sorted(found)]


def _paces(texts: list[str]) -> list[tuple[Span, float]]:
    found = []
    for text in texts:
        match = _PACE.fullmatch(text)
        if match is None:
            raise Refusal("Write a pace as played frames and percent: 88:113=35.")
        start, end, percent = (_number(part) for part in match.groups())
        if percent <= 0 or end <= start:
            raise Refusal("A pace is more than 0 %, over one frame or more.")
        found.append((Span(start, end), percent / 100))
    return found


def _number(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise Refusal(f"“{text}” is not a number of frames.") from None


def _whole(source: Array) -> Array:
    """Source moments, those a hair from a whole frame on it: it comes out as it is."""
    whole = np.round(source)
    return np.where(np.abs(source - whole) < 1e-7, whole, source)
