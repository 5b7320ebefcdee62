"""`hours seam`, `walk`, `mirror`, `close`: cycles on files."""

import json
from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from .anatomy import legs_of
from .capture.loop import loop_of
from .clip.edits import ClipEdit, edit_clip
from .clip.edits.base import Made
from .clip.edits.cycle import CloseSeam, LinkHalves, StartWalk
from .clip.new import blank
from .clip.playable import PlayableClip
from .clip.playing import playable_of
from .clock import parse_rate
from .command_base import plainly, read_bvh, span_of
from .cycle.feet import slide_cm
from .cycle.mannequin import mannequin
from .cycle.mirror import mirrored
from .cycle.seam import SeamReport, seam_report
from .cycle.starter import PRESETS, Gait, preset
from .cycle.travel import last_repeats_first
from .errors import Refusal
from .figure import Figure, forward
from .formats import bvh
from .formats.bvh_motion import file_from, guess_unit, motion_from, skeleton_from

CycleOption = Annotated[
    str | None, typer.Option("--cycle", help="Its frames A:B from 0; B shows frame A again.")
]
JsonOption = Annotated[bool, typer.Option("--json", help="Machine-readable.")]


def add_to(app: typer.Typer) -> None:
    """Put the commands in the program."""
    for command in (seam, walk, mirror, close):
        app.command()(command)


def _cycle_of(file: bvh.BvhFile, cycle: str | None, lead_frames: int = 0) -> Made:
    """A range of a file as a cycle of keys, with so many frames before it as its lead-in."""
    metres = guess_unit(file).metres
    figure = skeleton_from(file, "figure", metres)
    motion = motion_from(file, metres)
    start, end = span_of(cycle, motion.frames)
    return loop_of(figure, motion, file.rate, start, end, lead_frames=lead_frames)


def _report(made: Made) -> SeamReport:
    return seam_report(made.figure, playable_of(made.figure, made.clip))


def _write(figure: Figure, playable: PlayableClip, out: Path) -> None:
    """A cycle's round and its first pose again, as motion files end."""
    out.write_text(
        bvh.write(file_from(figure, playable.samples.whole(), playable.clip.rate)), encoding="utf-8"
    )


@plainly
def seam(file: Path, cycle: CycleOption = None, as_json: JsonOption = False) -> None:
    """How a cycle's end meets its start, joint by joint, worst first."""
    report = _report(_cycle_of(read_bvh(file), cycle))
    if as_json:
        facts = {"grade": report.grade, "joints": [asdict(gap) for gap in report.joints]}
        typer.echo(json.dumps(facts, ensure_ascii=False))
        return
    typer.echo(f"grade     {report.grade}")
    for gap in report.joints:
        measures = f"{gap.gap_degrees:7.2f}°  {gap.gap_cm:6.2f} cm  {gap.gap_degrees_per_frame:6.2f}°/frame"
        typer.echo(f"{gap.joint:20s} {measures}")


@plainly
def walk(
    out: Path,
    stride: Annotated[
        float | None, typer.Option(help="Metres a round of two steps covers.")
    ] = None,
    frames_per_step: Annotated[int | None, typer.Option(help="Frames of one step.")] = None,
    gait: Annotated[str, typer.Option(help=f"Start from: {', '.join(PRESETS)}.")] = "amble",
    bounce: Annotated[float | None, typer.Option(help="Metres.")] = None,
    lean: Annotated[float | None, typer.Option(help="Degrees.")] = None,
    arm_swing: Annotated[float | None, typer.Option(help="Degrees.")] = None,
    foot_lift: Annotated[float | None, typer.Option(help="Metres.")] = None,
    hip_turn: Annotated[float | None, typer.Option(help="Degrees.")] = None,
    figure: Annotated[Path | None, typer.Option(help="A BVH file with the skeleton.")] = None,
    fps: Annotated[str, typer.Option(help="24, 23.976 or 30000/1001.")] = "24",
    as_json: JsonOption = False,
) -> None:
    """A walk from a few numbers, as BVH: one round, and its first pose again."""
    if gait not in PRESETS:
        raise Refusal(f"There is no gait called “{gait}”; there are {', '.join(PRESETS)}.")
    who = mannequin()
    if figure is not None:
        read = read_bvh(figure)
        who = skeleton_from(read, "figure", guess_unit(read).metres)
    given = {
        "stride_metres": stride,
        "frames_per_step": frames_per_step,
        "bounce_metres": bounce,
        "lean_degrees": lean,
        "arm_swing_degrees": arm_swing,
        "foot_lift_metres": foot_lift,
        "hip_turn_degrees": hip_turn,
    }
    usual = preset(next(name for name in PRESETS if name == gait), who).model_dump()
    numbers = usual | {name: value for name, value in given.items() if value is not None}
    wanted = Gait.model_validate(numbers)
    empty = blank(who, "figure", "walk", parse_rate(fps), 24, is_cycle=True)
    made = Made(edit_clip(Made(empty, who), StartWalk(gait=wanted)).clip, who)
    playable = playable_of(who, made.clip)
    _write(who, playable, out)
    placed = forward(who, playable.samples.whole())
    round_ = (made.clip.length_frames, np.array(made.clip.period))
    slides = [slide_cm(who, placed, plant, round_) for plant in made.clip.plants]
    facts: dict[str, Any] = {
        "frames": made.clip.length_frames,
        "seam": _report(made).grade,
        "slide_cm": max(slides),
    }
    if as_json:
        typer.echo(json.dumps(facts))
    else:
        typer.echo(
            f"{facts['frames']} frames, seam {facts['seam']}, slide {facts['slide_cm']:.3f} cm"
        )


@plainly
def mirror(
    source: Path,
    out: Path,
    half: Annotated[
        bool, typer.Option("--half", help="A cycle: its second half follows the first, mirrored.")
    ] = False,
) -> None:
    """A BVH file with left and right swapped."""
    read = read_bvh(source)
    metres = guess_unit(read).metres
    figure = skeleton_from(read, "figure", metres)
    if not half:
        motion = mirrored(figure, motion_from(read, metres))
        out.write_text(bvh.write(file_from(figure, motion, read.rate)), encoding="utf-8")
        return
    if not last_repeats_first(figure, motion_from(read, metres)):
        raise Refusal("The last pose does not repeat the first: close the cycle first.")
    if not legs_of(figure):
        raise Refusal("This skeleton has no two sides that can be told apart.")
    made = _edited(_straight(_cycle_of(read, None)), LinkHalves(linked=True))
    _write(figure, playable_of(figure, made.clip), out)


def _straight(made: Made) -> Made:
    """A walk that veers a little, set straight: only straight ones have two like halves."""
    x, z, heading = made.clip.period
    if abs(heading) > np.radians(3.0) or abs(x) > 0.1 * max(abs(z), 0.01):
        raise Refusal("A cycle that turns or goes sideways has no mirrored half.")
    return Made(made.clip.model_copy(update={"period": (0.0, z, 0.0)}), made.figure)


def _edited(made: Made, edit: ClipEdit) -> Made:
    edited = edit_clip(made, edit)
    for note in edited.notes:
        typer.echo(note, err=True)
    return Made(edited.clip, made.figure)


@plainly
def close(
    source: Path,
    out: Path,
    cycle: CycleOption = None,
    method: Annotated[str, typer.Option(help="match, spread, through or overlap.")] = "spread",
    frames: Annotated[int, typer.Option(help="Over how many frames.")] = 6,
) -> None:
    """Close a cycle's seam, and write its round and its first pose again."""
    if method not in ("match", "spread", "through", "overlap"):
        raise Refusal(f"There is no way called “{method}”: match, spread, through or overlap.")
    read = read_bvh(source)
    made = _cycle_of(read, cycle, frames if method == "overlap" else 0)
    wanted = CloseSeam.model_validate({"method": method, "frames": frames})
    closed = _edited(made, wanted)
    _write(made.figure, playable_of(made.figure, closed.clip), out)
