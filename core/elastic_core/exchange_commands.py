"""`hours gltf`: motion for other tools."""

from pathlib import Path
from typing import Annotated

import typer

from .command_base import plainly, read_bvh
from .errors import Refusal
from .formats.bvh_motion import guess_unit, motion_from, skeleton_from
from .formats.clip_file import ClipFile
from .formats.gltf import GltfClip, write_glb
from .formats.scene_file import read_own_file


def add_to(app: typer.Typer) -> None:
    """Put the command in the program."""
    app.command("gltf")(gltf)


@plainly
def gltf(
    source: Annotated[Path, typer.Argument(metavar="IN", help="A motion file or a clip file.")],
    out: Annotated[Path, typer.Argument(metavar="OUT", help="FILE.glb")],
) -> None:
    """A figure with its motion as glTF 2.0: a node for each joint, in metres, at the file's rate."""
    if out.suffix.lower() != ".glb":
        raise Refusal("glTF is written as FILE.glb.")
    if source.suffix.lower() == ".json":
        held = read_own_file(ClipFile, source.read_bytes(), "clip")
        playable = held.playable()
        motion = playable.kept_samples.whole()
        out.write_bytes(write_glb(held.figure, [GltfClip(held.clip.name, motion, held.clip.rate)]))
        return
    read = read_bvh(source)
    metres = guess_unit(read).metres
    figure = skeleton_from(read, source.stem[:120], metres)
    clip = GltfClip(source.stem, motion_from(read, metres), read.rate)
    out.write_bytes(write_glb(figure, [clip]))
    for warning in read.warnings:
        typer.echo(f"warning: {warning}", err=True)
