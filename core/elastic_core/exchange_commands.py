"""`hours convert` and `gltf`: motion from other tools, and for them."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import Annotated

import numpy as np
import typer

from .clock import parse_rate
from .command_base import plainly, read_bvh
from .errors import Refusal
from .figure import Figure
from .formats import bvh
from .formats.bvh_clip import conformed
from .formats.bvh_motion import file_from, guess_unit, motion_from, skeleton_from
from .formats.clip_file import ClipFile
from .formats.gltf import GltfClip, write_glb
from .formats.gltf_motion import read_gltf
from .formats.scene_file import read_own_file

_GLTF = (".glb", ".gltf")


def add_to(app: typer.Typer) -> None:
    """Put the commands in the program."""
    app.command("convert")(convert)
    app.command("gltf")(gltf)


@dataclass(frozen=True)
class _Held:
    """A figure in metres with the clips of a file, and what there is to say of it."""

    figure: Figure
    clips: tuple[GltfClip, ...]
    warnings: tuple[str, ...] = ()


@plainly
def convert(
    source: Annotated[Path, typer.Argument(metavar="IN", help="A BVH or a glTF file.")],
    out: Annotated[Path, typer.Argument(metavar="OUT", help="FILE.bvh or FILE.glb")],
    fps: Annotated[str | None, typer.Option(help="24, 23.976 or 30000/1001.")] = None,
    start: Annotated[int, typer.Option(help="First frame, counted from 0.")] = 0,
    end: Annotated[int | None, typer.Option(help="The frame after the last.")] = None,
    clip: Annotated[str | None, typer.Option(help="One of a glTF file's clips.")] = None,
) -> None:
    """Write a motion file again, in the same form or the other: a range of it (start up to but not including
    end), at another rate."""
    if source.suffix.lower() not in _GLTF and out.suffix.lower() not in _GLTF:
        _bvh_again(source, out, fps, start, end)
        return
    held = _held(source, None if fps is None else parse_rate(fps))
    kept = [one for one in held.clips if clip in (None, one.name)]
    if not kept:
        known = ", ".join(one.name for one in held.clips) or "none"
        raise Refusal(f"There is no such clip in {source.name}. It has {known}.")
    if out.suffix.lower() in _GLTF:
        _write_glb(out, held.figure, [_cut(one, start, end) for one in kept])
    else:
        if len(kept) > 1:
            names = ", ".join(one.name for one in kept)
            raise Refusal(f"A BVH file has one clip: choose of {names} with --clip.")
        cut = _cut(kept[0], start, end)
        text = bvh.write(file_from(held.figure, cut.motion, cut.rate))
        out.write_text(text, encoding="utf-8")
    _warn(held.warnings)


@plainly
def gltf(
    source: Annotated[Path, typer.Argument(metavar="IN", help="A motion file or a clip file.")],
    out: Annotated[Path, typer.Argument(metavar="OUT", help="FILE.glb")],
) -> None:
    """A figure with its motion as glTF 2.0: a node for each joint, in metres, at the file's rate."""
    held = _held(source, None)
    _write_glb(out, held.figure, list(held.clips))
    _warn(held.warnings)


def _held(source: Path, wanted: Fraction | None) -> _Held:
    """What a file of one of the three forms holds; at another rate where that is wanted."""
    form = source.suffix.lower()
    if form in _GLTF:
        read = read_gltf(source.read_bytes(), source.stem[:120] or "Figure", wanted)
        return _Held(read.figure, read.clips)
    if form == ".json":
        held = read_own_file(ClipFile, source.read_bytes(), "clip")
        return _Held(held.figure, (GltfClip.of(held.playable()),))
    file = read_bvh(source)
    metres = guess_unit(file).metres
    motion = motion_from(file, metres)
    if wanted is not None and wanted != file.rate:
        motion = conformed(motion, file.rate, wanted)
    figure = skeleton_from(file, source.stem[:120] or "Figure", metres)
    made = GltfClip(source.stem or "Clip", motion, wanted or file.rate)
    return _Held(figure, (made,), tuple(file.warnings))


def _cut(clip: GltfClip, start: int, end: int | None) -> GltfClip:
    frames = clip.motion.frames
    last = frames if end is None else end
    _refuse_range(start, last, frames)
    return replace(clip, motion=clip.motion.at(np.arange(start, last)), keyed=None)


def _refuse_range(start: int, end: int, frames: int) -> None:
    if not 0 <= start < end <= frames:
        raise Refusal(f"The range {start} to {end} is not inside 0 to {frames}.")


def _bvh_again(source: Path, out: Path, fps: str | None, start: int, end: int | None) -> None:
    """In the file's own units and columns: numbers that nobody changes stay as they are."""
    read = read_bvh(source)
    last = read.frames if end is None else end
    _refuse_range(start, last, read.frames)
    cut = replace(read, values=read.values[start:last])
    if fps is not None and parse_rate(fps) != read.rate:
        rate = parse_rate(fps)
        motion = conformed(motion_from(cut, 1.0), read.rate, rate)
        cut = file_from(skeleton_from(read, "figure", 1.0), motion, rate)
    out.write_text(bvh.write(cut), encoding="utf-8")
    _warn(read.warnings)


def _write_glb(out: Path, figure: Figure, clips: list[GltfClip]) -> None:
    if out.suffix.lower() != ".glb":
        raise Refusal("glTF is written as FILE.glb.")
    out.write_bytes(write_glb(figure, clips))


def _warn(warnings: Iterable[str]) -> None:
    for warning in warnings:
        typer.echo(f"warning: {warning}", err=True)
