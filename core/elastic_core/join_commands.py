"""`hours` on joins: where two motions meet best, both as one, and what is off in one."""

import json
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Annotated, Any, get_args

import numpy as np
import typer

from .clip.checks import marks_of_clip
from .clip.playable import PlayableClip
from .command_base import frames_in, plainly, read_bvh, span_of
from .errors import Refusal
from .figure import Figure
from .formats import bvh
from .formats.bvh_clip import Wanted, bring_in
from .formats.bvh_motion import file_from, guess_unit
from .join.alignment import HeadingRule
from .join.where import Moments, Planted, best_joins, join_map, moments_of
from .scene.chain import Chained, Hand, chained
from .scene.document import JoinShape

# So many frames of each are compared at once.
MOST_FRAMES = 2_000
# Without a window, so much of a long file's end.
USUAL_FRAMES = 300


def add_to(app: typer.Typer) -> None:
    """Put the commands in the program."""
    for command in (joins, chain, check):
        app.command()(command)


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


@plainly
def chain(
    outgoing: Annotated[Path, typer.Argument(metavar="A")],
    incoming: Annotated[Path, typer.Argument(metavar="B")],
    out: Annotated[Path, typer.Argument(metavar="OUT")],
    at: Annotated[
        str, typer.Option(help="OUT:IN, the first file's frame and the second one's that meet.")
    ],
    length: Annotated[int, typer.Option(help="Over how many frames the first hands over.")] = 8,
    shape: Annotated[str, typer.Option(help="even, smooth, early or late.")] = "smooth",
    plant: Annotated[
        str | None,
        typer.Option(help="left, right, both or none; without it, what is planted in both."),
    ] = None,
    heading: Annotated[str, typer.Option(help="keep, feet or placed.")] = "keep",
    hold_feet: Annotated[
        bool, typer.Option("--hold-feet", help="Keep planted feet where they stand.")
    ] = False,
    as_json: Annotated[bool, typer.Option("--json", help="Machine-readable.")] = False,
) -> None:
    """Two motions as one: the second laid on the first where both meet, and what that does."""
    file = read_bvh(outgoing)
    metres = guess_unit(file).metres
    first, second = (
        Chained(*bring_in(read, Wanted(name="clip", metres_per_unit=metres), "figure"), read.frames)
        for read in (file, read_bvh(incoming))
    )
    out_frame, in_frame = frames_in(at, "where they meet as OUT:IN, a frame of each: 40:12")
    wanted = Hand(
        out_frame,
        in_frame,
        length,
        _one_of(shape, JoinShape, "shape"),
        None if plant is None else _one_of(plant, Planted, "foot"),
        _one_of(heading, HeadingRule, "heading"),
    )
    done = chained(first, second, wanted, hold_feet=hold_feet)
    out.write_text(
        bvh.write(file_from(first.figure, done.motion, file.rate, metres)), encoding="utf-8"
    )
    report = done.report
    facts = {
        "length_frames": done.motion.frames,
        "join": {"start": int(report.start), "end": int(report.end)},
        "slide_cm": report.slide.amount,
        "jump_degrees": report.jump.amount,
        "jump_joint": report.jump.joint,
        "jump_frame": int(report.jump.frame),
        "heading_change_degrees": report.heading_change_degrees,
        "root_lowered_cm": report.lowered.amount,
        "plant": done.plant,
        "swapped": report.swapped,
    }
    for note in done.notes:
        typer.echo(note, err=True)
    if as_json:
        typer.echo(json.dumps(facts, ensure_ascii=False))
        return
    typer.echo(f"{done.motion.frames} frames, joined over {int(report.start)} to {int(report.end)}")
    typer.echo(f"slide     {report.slide.amount:.2f} cm")
    jump = report.jump
    typer.echo(f"jump      {jump.amount:.1f}° of {jump.joint} at {int(jump.frame)}")
    typer.echo(f"heading   {report.heading_change_degrees:+.1f}°")
    typer.echo(f"lowered   {report.lowered.amount:.2f} cm")
    if report.swapped:
        typer.echo("swapped   left and right change places: join on the same foot")


@plainly
def check(
    file: Path, as_json: Annotated[bool, typer.Option("--json", help="Machine-readable.")] = False
) -> None:
    """What is off in a motion, frame by frame: slides, jumps, crossed feet, soles under the floor."""
    wanted = Wanted(name=file.stem[:120] or "clip", is_cycle=False)
    marks = marks_of_clip(*bring_in(read_bvh(file), wanted, "figure"))
    if as_json:
        typer.echo(json.dumps({"marks": [asdict(mark) for mark in marks]}, ensure_ascii=False))
        return
    for mark in marks:
        last = f" to {mark.end - 1}" if mark.end > mark.frame + 1 else ""
        typer.echo(f"{mark.frame}{last}  {mark.kind}  {mark.joint}  {mark.amount:.1f} {mark.unit}")
    if not marks:
        typer.echo("clean")


def _one_of(text: str, known: Any, what: str) -> Any:
    """A word of a few. Raises Refusal for any other."""
    words = get_args(known)
    if text not in words:
        raise Refusal(f"There is no {what} called “{text}”; there are {', '.join(words)}.")
    return text
