"""`hours` on joins: where two motions meet best."""

import json
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Annotated

import numpy as np
import typer

from .clip.playable import PlayableClip
from .command_base import frames_in, plainly, read_bvh, span_of
from .errors import Refusal
from .figure import Figure
from .formats.bvh_clip import Wanted, bring_in
from .join.where import Moments, best_joins, join_map, moments_of

# So many frames of each are compared at once.
MOST_FRAMES = 2_000
# Without a window, so much of a long file's end.
USUAL_FRAMES = 300


def add_to(app: typer.Typer) -> None:
    """Put the commands in the program."""
    app.command()(joins)


@dataclass(frozen=True)
class _Read:
    """A file's motion as a clip; its frame 0 is the file's frame `start`."""

    figure: Figure
    playable: PlayableClip
    start: int

    def moments(self, first: int, end: int) -> Moments:
        """The file's frames `[first, end)`."""
        return moments_of(self.figure, self.playable, np.arange(first, end) - self.start)


def _read(file: Path, cycle: str | None) -> _Read:
    name = file.stem[:120] or "clip"
    motion = read_bvh(file)
    if cycle is None:
        return _Read(*bring_in(motion, Wanted(name=name), "figure"), 0)
    start, end = span_of(cycle, motion.frames)
    if end < motion.frames:
        wanted = Wanted(name=name, start=start, end=end + 1, is_cycle=True)
    else:
        wanted = Wanted(name=name, start=start, end=end, is_cycle=True)
    return _Read(*bring_in(motion, wanted, "figure"), start)


def _window(text: str | None, held: _Read) -> tuple[int, int]:
    """The outgoing frames that are looked at; without a wish, all of them or a long file's end."""
    first, end = held.start, held.start + held.playable.length_frames
    if text is None:
        return max(first, end - USUAL_FRAMES), end
    start, stop = frames_in(
        text, "a window as its first frame and the frame after its last: 120:180"
    )
    if not first <= start < stop <= end:
        raise Refusal(f"The window {start}:{stop} is not inside {first} to {end}.")
    if stop - start > MOST_FRAMES:
        raise Refusal(f"A window has {MOST_FRAMES:,} frames at the most.")
    return start, stop


@plainly
def joins(
    outgoing: Annotated[Path, typer.Argument(metavar="A")],
    incoming: Annotated[Path, typer.Argument(metavar="B")],
    window: Annotated[
        str | None, typer.Option(help="The frames A:B of the first file that are looked at.")
    ] = None,
    cycle_a: Annotated[
        str | None, typer.Option(help="The first one's cycle A:B from 0; B shows frame A again.")
    ] = None,
    cycle_b: Annotated[str | None, typer.Option(help="The second one's cycle.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Machine-readable.")] = False,
) -> None:
    """Where the second motion takes over from the first best: frames, feet on the ground, placement."""
    out, into = _read(outgoing, cycle_a), _read(incoming, cycle_b)
    if not out.figure.same_skeleton(into.figure):
        raise Refusal("The two files have different skeletons: fit one onto the other first.")
    start, end = _window(window, out)
    first = into.start
    leaving = out.moments(start, end)
    coming = into.moments(first, first + min(into.playable.length_frames, MOST_FRAMES))
    found = best_joins(join_map(out.figure, leaving, coming), leaving, coming)
    rows = [
        asdict(join)
        | {
            "out_frame": int(join.out_frame) + out.start,
            "in_frame": int(join.in_frame) + into.start,
            "placement": [*join.placement[:2], float(np.degrees(join.placement[2]))],
        }
        for join in found
    ]
    if as_json:
        typer.echo(json.dumps({"joins": rows, "window": [start, end]}))
        return
    for row in rows:
        typer.echo(
            f"{row['out_frame']:5d} to {row['in_frame']:5d}  {100 * row['score']:6.2f} cm  "
            f"planted: {row['planted']}"
        )
