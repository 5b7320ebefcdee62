"""`hours run`: numbered pictures as a run, frame by frame, and as a numbered sequence."""

import json
import os
import shutil
from pathlib import Path
from typing import Annotated, Any

import typer

from .clock import format_rate, parse_rate
from .command_base import plainly
from .drawings.laid_out import LaidOut, laid_out
from .drawings.numbers import missing_between, numbered
from .drawings.orders import TWOS, held_in, on_pattern, pattern_in
from .drawings.run import DrawingPin, DrawingRun, Held, Play
from .errors import Refusal

PLAYS: dict[str, Play] = {
    "once": "once",
    "repeat": "repeat",
    "bounce": "bounce",
    "backwards": "backwards",
    "boil": "boil",
}
MOST_FILES = 10_000


def add_to(app: typer.Typer) -> None:
    """Put the command in the program."""
    app.command("run")(run)


@plainly
def run(
    files: Annotated[list[Path], typer.Argument(metavar="FILES…")],
    pattern: Annotated[str | None, typer.Option(help="Exposures, over and over: 2,2,3,1.")] = None,
    order: Annotated[str | None, typer.Option(help="Drawings: “1-8, 8-1 on 3, 9 hold 12”.")] = None,
    play: Annotated[str, typer.Option(help="once, repeat, bounce, backwards or boil.")] = "once",
    seed: Annotated[int, typer.Option(help="Of a boil.", min=0, max=999_999)] = 1,
    fps: Annotated[str, typer.Option(help="Frames a second: 24, 23.976 …")] = "24",
    frames: Annotated[int | None, typer.Option(help="How many; one round, without.", min=1)] = None,
    pin: Annotated[
        list[str] | None, typer.Option(help="DRAWING:FRAME, where that drawing begins.")
    ] = None,
    out: Annotated[
        Path | None, typer.Option(help="A folder for the numbered pictures, one a frame.")
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Machine-readable.")] = False,
) -> None:
    """Which drawing shows on every frame. A drawing's number is the last one in its file's name."""
    if play not in PLAYS:
        raise Refusal(f"“{play}” is no way to play. It is {', '.join(PLAYS)}.")
    if len(files) > MOST_FILES:
        raise Refusal(f"A run is made of {MOST_FILES:,} files at the most.")
    absent = next((file for file in files if not file.is_file()), None)
    if absent is not None:
        raise Refusal(f"There is no file {absent}.")
    known = numbered([str(file) for file in files])
    made = DrawingRun(
        name="Run",
        rate=parse_rate(fps),
        held=_held(sorted(known), order, pattern),
        play=PLAYS[play],
        seed=seed,
    )
    lacking = [number for number in made.numbers if number not in known]
    if lacking:
        raise Refusal(f"Drawing {lacking[0]} is in the order, and in no file.")
    laid = laid_out(made, frames or made.length_frames, [_pin(text) for text in pin or ()])
    if out is not None:
        _write(laid, known, out)
    told = _told(made, laid, known)
    if as_json:
        typer.echo(json.dumps(told, allow_nan=False))
        return
    for one in laid.shown:
        typer.echo(f"{one.frame:6}  {one.length:5}  drawing {one.drawing}")
    for name in ("missing", "fell_out"):
        if told[name]:
            typer.echo(f"{name.replace('_', ' ')}: {', '.join(map(str, told[name]))}", err=True)


def _held(numbers: list[int], order: str | None, pattern: str | None) -> tuple[Held, ...]:
    held = (
        tuple(Held(drawing=number, frames=TWOS) for number in numbers)
        if order is None
        else held_in(order)
    )
    if pattern is None:
        return held
    return on_pattern([one.drawing for one in held], pattern_in(pattern))


def _pin(text: str) -> DrawingPin:
    drawing, parted, frame = text.partition(":")
    numbers = [drawing.strip(), frame.strip()]
    if not parted or not all(n.isdecimal() and n.isascii() and len(n) <= 9 for n in numbers):
        raise Refusal(f"“{text[:40]}” is no pin. Type DRAWING:FRAME, like 7:30.")
    return DrawingPin(drawing=int(numbers[0]), frame=int(numbers[1]))


def _told(made: DrawingRun, laid: LaidOut, known: dict[int, str]) -> dict[str, Any]:
    return {
        "fps": format_rate(made.rate),
        "run": [
            {"frame": one.frame, "length": one.length, "drawing": one.drawing} for one in laid.shown
        ],
        "missing": list(missing_between(known)),
        "fell_out": list(laid.fell_out),
    }


def _write(laid: LaidOut, known: dict[int, str], out: Path) -> None:
    """One numbered picture a frame: the same file where the folder's disk allows it, else a copy. All of them,
    or none."""
    if out.exists() and (not out.is_dir() or any(out.iterdir())):
        raise Refusal(f"“{out}” is there already, and not an empty folder.")
    half = out.with_name(f"{out.name}.half")
    half.mkdir(parents=True)
    try:
        for one in laid.shown:
            source = Path(known[one.drawing])
            for frame in range(one.frame, one.frame + one.length):
                _put(source, half / f"frame {frame:04}{source.suffix.lower()}")
        if out.exists():
            out.rmdir()
        half.rename(out)
    except OSError as problem:
        raise Refusal(f"The pictures cannot be written: {problem.strerror}.") from None
    finally:
        shutil.rmtree(half, ignore_errors=True)


def _put(source: Path, target: Path) -> None:
    try:
        os.link(source, target)
    except OSError:
        shutil.copyfile(source, target)
