"""`hours clean`, `cycles`, `retarget`: captured motion on files."""

import json
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from .anatomy import legs_of
from .capture.clean import Cleaned, StepReport, clean
from .capture.cycles import find_cycles
from .capture.onto import Onto, held_on, onto_figure
from .capture.plants import found_plants, worst_slide
from .capture.recipe import (
    Conform,
    Contacts,
    Ground,
    HoldTheFeet,
    Mend,
    Recipe,
    Smooth,
    Step,
    Thin,
    Trim,
)
from .capture.thin import CM, DEGREES
from .clip.playing import playable_of
from .clock import parse_rate
from .command_base import frames_in, plainly, read_bvh
from .errors import Refusal
from .fit import fit
from .formats import bvh
from .formats.bvh_motion import figure_from, file_from, guess_unit, motion_from, skeleton_from
from .formats.clip_file import clip_file_pieces
from .formats.scene_file import read_own_file
from .motion import Motion

JsonOption = Annotated[bool, typer.Option("--json", help="Machine-readable.")]


def add_to(app: typer.Typer) -> None:
    """Put the commands in the program."""
    app.command("clean")(clean_take)
    app.command("cycles")(cycles)
    app.command("retarget")(retarget_file)


@plainly
def clean_take(
    source: Annotated[Path, typer.Argument(metavar="IN")],
    out: Annotated[Path, typer.Argument(metavar="OUT")],
    keys: Annotated[Path | None, typer.Option(help="Also write the keyed clip here.")] = None,
    recipe: Annotated[Path | None, typer.Option(help="The steps, as a recipe file.")] = None,
    fps: Annotated[str | None, typer.Option(help="Conform to 24, 23.976 …")] = None,
    trim: Annotated[str | None, typer.Option(help="Frames A:B of IN, B not included.")] = None,
    ground: Annotated[
        bool, typer.Option("--ground", help="Level the floor, start at zero.")
    ] = False,
    mend: Annotated[bool, typer.Option("--mend", help="Mend spikes.")] = False,
    smooth: Annotated[float | None, typer.Option(help="Cut-off in Hz.")] = None,
    hold_feet: Annotated[bool, typer.Option("--hold-feet", help="Find plants, hold them.")] = False,
    thin: Annotated[float | None, typer.Option(help="Keys within so many degrees.")] = None,
    as_json: JsonOption = False,
) -> None:
    """Clean a captured take: conform, trim, ground, mend, smooth, hold the feet and thin, as asked for."""
    read = read_bvh(source)
    if recipe is not None:
        wanted = read_own_file(Recipe, recipe.read_bytes(), "recipe")
    else:
        steps: list[Step] = []
        if fps is not None:
            steps.append(Conform(rate=parse_rate(fps)))
        if trim is not None:
            start, end = frames_in(
                trim, "a range as its first frame and the one after its last: 12:24"
            )
            if not 0 <= start < end <= read.frames:
                raise Refusal(f"The range {start}:{end} is not inside 0 to {read.frames}.")
            steps.append(Trim(start=start, end=end))
        if ground:
            steps.append(Ground())
        if mend:
            steps.append(Mend())
        if smooth is not None:
            steps.append(_checked_smooth(smooth))
        if hold_feet:
            steps += [Contacts(), HoldTheFeet()]
        if thin is not None:
            steps.append(_checked_thin(thin))
        wanted = Recipe(name="From the command line", steps=tuple(steps))
    metres = guess_unit(read).metres
    figure = skeleton_from(read, "figure", metres)
    done = clean(figure, motion_from(read, metres), read.rate, wanted, name=_name(source))
    written = file_from(figure, done.motion, done.clip.rate, metres)
    if keys is not None:
        shown = figure_from(read, _name(source), metres)
        clip = done.clip.model_copy(update={"figure": "figure"})
        if clip.is_keyed:
            playable = playable_of(figure, clip)
        else:
            playable = playable_of(figure, clip, done.motion)
        keys.write_bytes(b"".join(clip_file_pieces(shown, playable)))
    out.write_text(bvh.write(written), encoding="utf-8")
    if as_json:
        typer.echo(json.dumps(_facts(done, wanted), ensure_ascii=False))
        return
    for text in wanted.warnings():
        typer.echo(f"warning: {text}", err=True)
    for report in done.reports:
        typer.echo(_line(report))
        for note in report.notes:
            typer.echo(f"          {note}")


def _name(path: Path) -> str:
    return path.stem[:120] or "take"


def _checked_smooth(hz: float) -> Smooth:
    if not 0 < hz <= 500:
        raise Refusal("A cut-off lies between 0 and 500 Hz.")
    return Smooth(hz=hz, limbs_hz=None)


def _checked_thin(degrees: float) -> Thin:
    if not 0 < degrees <= 30:
        raise Refusal("A tolerance lies between 0 and 30 degrees.")
    return Thin(degrees=degrees, cm=degrees * CM / DEGREES)


def _facts(done: Cleaned, recipe: Recipe) -> dict[str, Any]:
    return {
        "frames": done.motion.frames,
        "fps": float(done.clip.rate),
        "steps": [_step_facts(report) for report in done.reports],
        "slide_cm": done.slide.amount if done.slide else None,
        "greatest_change_degrees": done.change.worst_turn.amount,
        "greatest_change_cm": done.change.worst_end.amount,
        "warnings": list(recipe.warnings()),
    }


def _step_facts(report: StepReport) -> dict[str, Any]:
    worst = report.worst
    told = None
    if worst is not None:
        told = {"frame": worst.frame, "joint": worst.joint, "amount": worst.amount}
    return {
        "step": report.step,
        "before": report.before,
        "after": report.after,
        "unit": report.unit,
        "worst": told,
        **report.said,
        "notes": list(report.notes),
    }


def _line(report: StepReport) -> str:
    line = f"{report.step:<9} {report.before:.6g} to {report.after:.6g} {report.unit}"
    if report.worst is not None:
        worst = report.worst
        line += f", most at {worst.frame} in {worst.joint}: {worst.amount:.2f}"
    return line


@plainly
def cycles(
    source: Annotated[Path, typer.Argument(metavar="IN")],
    shortest: Annotated[int | None, typer.Option(help="Frames of the shortest cycle.")] = None,
    longest: Annotated[int | None, typer.Option(help="Frames of the longest.")] = None,
    as_json: JsonOption = False,
) -> None:
    """Find the cycles in a take: where they start and end, how well their ends meet, and which feet stand
    there."""
    read = read_bvh(source)
    metres = guess_unit(read).metres
    figure = skeleton_from(read, "figure", metres)
    motion = motion_from(read, metres)
    plants = found_plants(figure, motion, read.rate)
    found = find_cycles(figure, motion, read.rate, shortest, longest, plants)
    if as_json:
        rows = [
            {
                "start": one.start,
                "end": one.end,
                "length_frames": one.length_frames,
                "seam_degrees": one.seam_degrees,
                "seam_cm": one.seam_cm,
                "score": one.score,
                "planted": one.planted,
            }
            for one in found
        ]
        typer.echo(json.dumps({"cycles": rows}))
        return
    if not found:
        typer.echo("Nothing in this take goes round.")
    for one in found:
        seam = f"seam {one.seam_degrees:.2f}° {one.seam_cm:.2f} cm"
        typer.echo(f"{one.start} to {one.end}  {one.length_frames} frames  {seam}  {one.planted}")


@plainly
def retarget_file(
    clip: Annotated[Path, typer.Argument(metavar="CLIP")],
    figure: Annotated[Path, typer.Argument(metavar="FIGURE")],
    out: Annotated[Path, typer.Argument(metavar="OUT")],
    rest: Annotated[
        int | None, typer.Option(help="The frame of CLIP in which it stands as FIGURE rests.")
    ] = None,
    as_json: JsonOption = False,
) -> None:
    """Carry a motion to another figure: turns relative to rest, the path by leg length, planted feet held."""
    read, target_file = read_bvh(clip), read_bvh(figure)
    metres = guess_unit(read).metres
    theirs = skeleton_from(read, "clip", metres)
    own_metres = guess_unit(target_file).metres
    own = skeleton_from(target_file, "figure", own_metres)
    motion = motion_from(read, metres)
    pose: Motion | None = None
    if rest is not None:
        if not 0 <= rest < motion.frames:
            raise Refusal(f"The clip has frames 0 to {motion.frames - 1}, and none {rest}.")
        pose = motion.at(np.array([rest]))
    report = fit(theirs, own)
    onto = Onto(own, report.mapping(), pose)
    carried = onto_figure(theirs, motion, onto)
    # What stands is told by the take itself, where its legs are known.
    plants = found_plants(theirs, motion, read.rate) if legs_of(theirs) else ()
    held, kept, lowered = held_on(own, carried, plants, read.rate)
    out.write_text(bvh.write(file_from(own, held, read.rate, own_metres)), encoding="utf-8")
    slide = worst_slide(own, held, kept)
    facts = {
        "mapping": report.mapping(),
        "rests": list(report.rests),
        "dropped": list(report.dropped),
        "scale": report.leg_ratio,
        "slide_cm": slide.amount if slide else 0.0,
        "lowered_cm": lowered,
    }
    if as_json:
        typer.echo(json.dumps(facts, ensure_ascii=False))
        return
    typer.echo(f"plays     {len(report.mapping())} joints")
    typer.echo(f"dropped   {', '.join(report.dropped) or 'nothing'}")
    typer.echo(f"rests     {', '.join(report.rests) or 'nothing'}")
    typer.echo(f"slide     {facts['slide_cm']:.2f} cm")
