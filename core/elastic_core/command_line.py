"""`hours`: the core on files, for pipelines. Bad input: exit 1 and one plain line."""

import json
from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from . import (
    capture_commands,
    cycle_commands,
    drawing_commands,
    exchange_commands,
    join_commands,
    print_commands,
    retime_commands,
    rotation,
    stage_commands,
    timeline_commands,
    voice_commands,
)
from .anatomy import legs_of
from .clock import format_rate
from .command_base import plainly, read_bvh
from .cycle.contacts import find_contacts
from .errors import Refusal
from .figure import Figure
from .fit import fit
from .formats import bvh
from .formats.bvh_clip import Wanted, bring_in, inspect
from .formats.bvh_motion import (
    guess_unit,
    positions_in_file_units,
    skeleton_from,
)
from .formats.places_csv import places_csv
from .formats.scene_bvh import scene_bvh
from .formats.scene_zip import read_packed_scene

app = typer.Typer(
    help="Motion files and scenes, without the page.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)
scene_app = typer.Typer(help="Scene files.", no_args_is_help=True)
app.add_typer(scene_app, name="scene")
capture_commands.add_to(app)
cycle_commands.add_to(app)
drawing_commands.add_to(app)
exchange_commands.add_to(app)
join_commands.add_to(app)
print_commands.add_to(app)
retime_commands.add_to(app)
stage_commands.add_to(app)
timeline_commands.add_to(app)
voice_commands.add_to(app)


@app.command()
@plainly
def info(
    file: Path, as_json: Annotated[bool, typer.Option("--json", help="Machine-readable.")] = False
) -> None:
    """Say what a BVH file is: joints, frames, rate, length, channels, height, unit, warnings."""
    found = inspect(read_bvh(file))
    facts: dict[str, Any] = asdict(found)
    facts["rate"] = format_rate(found.rate)
    facts["fps"] = float(found.rate)
    facts["height_metres"] = found.height_in_file * found.metres_per_unit
    facts["warnings"] = list(found.warnings)
    if as_json:
        typer.echo(json.dumps(facts, ensure_ascii=False))
        return
    unit = {"own": f"{found.metres_per_unit:.5g} m, scaled to a person"}.get(found.unit, found.unit)
    typer.echo(f"joints    {found.joints}")
    typer.echo(f"channels  {found.channels}")
    typer.echo(f"frames    {found.frames}")
    typer.echo(f"rate      {facts['fps']:.6g} fps ({facts['rate']})")
    typer.echo(f"length    {found.length_seconds:.3f} s")
    typer.echo(f"height    {found.height_in_file:.4g} units, {facts['height_metres']:.2f} m")
    typer.echo(f"unit      {unit}")
    if found.last_repeats_first:
        length = found.cycle_length_frames
        typer.echo(f"cycle     the last pose repeats the first: {length} frames")
    for warning in found.warnings:
        typer.echo(f"warning   {warning}")


@app.command()
@plainly
def positions(
    file: Path, out: Annotated[Path, typer.Option(help="FILE.npz, or FILE.csv for a table.")]
) -> None:
    """World positions of every joint at every frame, in the file's own units: float64, or as a table."""
    read = read_bvh(file)
    placed = positions_in_file_units(read)
    if out.suffix.lower() == ".csv":
        names = [joint.name for joint in read.joints]
        out.write_text(places_csv(names, placed.positions, read.rate), encoding="utf-8", newline="")
        return
    sites = [(j, site) for j, joint in enumerate(read.joints) for site in joint.end_sites]
    tips = [
        placed.positions[:, j] + rotation.rotate(placed.rotations[:, j], np.array(site))
        for j, site in sites
    ]
    ends = np.stack(tips, axis=1) if tips else np.empty((read.frames, 0, 3))
    with out.open("wb") as stream:
        np.savez(
            stream,
            positions=np.ascontiguousarray(placed.positions),
            names=np.array([joint.name for joint in read.joints]),
            parents=np.array([joint.parent for joint in read.joints]),
            fps=np.array(float(read.rate)),
            end_sites=np.ascontiguousarray(ends),
            end_site_parents=np.array([j for j, _ in sites], dtype=np.int64),
        )


@app.command("fit")
@plainly
def fit_report(
    clip: Path,
    figure: Path,
    as_json: Annotated[bool, typer.Option("--json", help="Machine-readable.")] = False,
) -> None:
    """Which channels of a BVH clip a figure can play: what plays, what is dropped, what rests."""
    report = fit(_skeleton(read_bvh(clip)), _skeleton(read_bvh(figure)))
    if as_json:
        proposed = {pair.clip_joint: pair.figure_joint for pair in report.proposed}
        facts = {
            "plays": [asdict(pair) for pair in report.plays],
            "dropped": list(report.dropped),
            "rests": list(report.rests),
            "mapping_proposed": proposed,
            "leg_ratio": report.leg_ratio,
        }
        typer.echo(json.dumps(facts, ensure_ascii=False))
        return
    typer.echo(f"plays     {len(report.plays)} by name, {len(report.proposed)} proposed")
    for pair in report.proposed:
        typer.echo(f"proposed  {pair.clip_joint} plays {pair.figure_joint}")
    typer.echo(f"dropped   {', '.join(report.dropped) or 'nothing'}")
    typer.echo(f"rests     {', '.join(report.rests) or 'nothing'}")
    typer.echo(f"legs      {report.leg_ratio:.3f} times as long as the clip's")


def _skeleton(file: bvh.BvhFile) -> Figure:
    return skeleton_from(file, "figure", guess_unit(file).metres)


@app.command()
@plainly
def contacts(
    file: Path, as_json: Annotated[bool, typer.Option("--json", help="Machine-readable.")] = False
) -> None:
    """When each foot is planted (frames, the end not included), and how far it slides, in cm."""
    figure, playable = bring_in(read_bvh(file), Wanted(name=file.stem[:120] or "clip"), "figure")
    found = find_contacts(figure, playable)
    feet = {figure.names[leg.foot]: leg.side for leg in legs_of(figure)}
    if not feet:
        raise Refusal("This skeleton has no two legs that can be told apart, so no feet.")
    plants = {
        foot: [
            {"start": c.start, "end": c.end, "slide_cm": round(c.slide_cm, 3)}
            for c in found
            if c.joint == foot
        ]
        for foot in feet
    }
    if as_json:
        facts = {
            "frames": playable.clip.length_frames,
            "is_cycle": playable.clip.is_cycle,
            "feet": [
                {"joint": foot, "side": side, "plants": plants[foot]} for foot, side in feet.items()
            ],
        }
        typer.echo(json.dumps(facts, ensure_ascii=False))
        return
    for foot, spans in plants.items():
        for span in spans:
            slide = f"slides {span['slide_cm']:.2f} cm"
            typer.echo(f"{foot}  {span['start']} to {span['end']}  {slide}")


@scene_app.command()
@plainly
def export(
    file: Path,
    figure: Annotated[str, typer.Option(help="The figure's name in the scene.")],
    out: Annotated[Path, typer.Option(help="The BVH file.")],
    start: Annotated[int | None, typer.Option(help="First frame, as the scene shows it.")] = None,
    end: Annotated[int | None, typer.Option(help="The frame after the last.")] = None,
) -> None:
    """A figure's motion in a scene file, as BVH in metres."""
    held = read_packed_scene(file.read_bytes()).scene
    scene, material = held.scene, held.material()
    member = next((f for f in scene.figures if figure in (f.name, f.id)), None)
    if member is None:
        names = ", ".join(f.name for f in scene.figures) or "no figures"
        raise Refusal(f"The scene has no figure called “{figure}”; it has {names}.")
    file_out = scene_bvh(scene, material, member.id, start, end)
    out.write_text(bvh.write(file_out), encoding="utf-8")


def run() -> None:
    """The entry point."""
    app(prog_name="hours")
