"""What every command of `hours` shares: plain lines for trouble, and files read."""

import re
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import ParamSpec, TypeVar

import typer

from .errors import Refusal, refusing
from .formats import bvh

P = ParamSpec("P")
_FRAMES = re.compile(r"\s*([0-9]{1,9})\s*:\s*([0-9]{1,9})\s*")
R = TypeVar("R")


def plainly(command: Callable[P, R]) -> Callable[P, R]:
    """Turn refusals and file troubles into one line on stderr and exit code 1."""

    @wraps(command)
    def guarded(*args: P.args, **kwargs: P.kwargs) -> R:
        try:
            with refusing():
                return command(*args, **kwargs)
        except Refusal as refusal:
            problem = str(refusal)
        except OSError as trouble:
            problem = f"{trouble.filename}: {trouble.strerror}."
        except MemoryError:
            problem = "There is not enough memory for this file."
        typer.echo(" ".join(problem.split()), err=True)
        raise typer.Exit(1)

    return guarded


def read_bvh(path: Path) -> bvh.BvhFile:
    """A motion file by its path. Raises Refusal in one sentence where it cannot be read."""
    if path.stat().st_size > bvh.LARGEST_FILE_BYTES:
        raise Refusal(f"The file is larger than {bvh.LARGEST_FILE_BYTES >> 20} MB.")
    return bvh.read(path.read_bytes())


def span_of(text: str | None, frames: int) -> tuple[int, int]:
    """“4:28” → 4, 28; without one, all frames but the last. Raises Refusal for what is no such range."""
    if text is None:
        return 0, frames - 1
    start, end = frames_in(text, "a cycle as its first frame and the frame it comes round on: 4:28")
    if not 0 <= start < end <= frames or end - start < 2:
        raise Refusal(f"The cycle {start}:{end} is not inside 0 to {frames}.")
    return start, end


def frames_in(text: str, written: str) -> tuple[int, int]:
    """“4:28” → 4, 28. Raises Refusal for what is written otherwise, saying how it should be `written`."""
    match = _FRAMES.fullmatch(text)
    if match is None:
        raise Refusal(f"Write {written}.")
    return int(match[1]), int(match[2])
