"""`hours timeline`: scene files as timelines for editing tools, and timelines as scene files."""

from pathlib import Path
from typing import Annotated
from urllib.parse import unquote, urlsplit

import typer

from .command_base import plainly
from .errors import Refusal
from .formats.scene_zip import PackedScene, read_packed_scene, write_scene_zip

_TIMELINES = (".otio", ".otioz")


def add_to(app: typer.Typer) -> None:
    """Put the command in the program."""
    app.command("timeline")(timeline)


@plainly
def timeline(
    source: Annotated[Path, typer.Argument(metavar="IN", help="A scene file, or a timeline.")],
    out: Annotated[
        Path, typer.Argument(metavar="OUT", help="FILE.otio, FILE.otioz, or FILE.scene.json, .zip.")
    ],
) -> None:
    """A scene file as an OpenTimelineIO timeline, or a timeline as a scene file. The sounds of FILE.otio lie in
    the folder `media` beside it; FILE.otioz has them inside."""
    if source.suffix.lower() in _TIMELINES:
        _to_scene(source, out)
    elif out.suffix.lower() in _TIMELINES:
        _to_timeline(read_packed_scene(source.read_bytes()), out)
    else:
        raise Refusal("A timeline is FILE.otio or FILE.otioz.")


def _to_timeline(held: PackedScene, out: Path) -> None:
    # The library takes its time to load, and no other command wants it.
    from .formats.timeline import media_of, write_otioz, write_timeline

    if out.suffix.lower() == ".otioz":
        out.write_bytes(write_otioz(held))
        return
    text = write_timeline(held.scene)
    for file, place in media_of(held.scene).items():
        beside = out.parent / place
        beside.parent.mkdir(exist_ok=True)
        beside.write_bytes(held.files[file])
    out.write_text(text, encoding="utf-8")


def _to_scene(source: Path, out: Path) -> None:
    from .formats.timeline_in import read_otioz, read_timeline

    if source.suffix.lower() == ".otioz":
        read = read_otioz(source.read_bytes())
    else:
        read = read_timeline(source.read_bytes(), lambda place: _beside(source.parent, place))
    if out.suffix.lower() == ".zip":
        out.write_bytes(write_scene_zip(read.whole()))
    elif out.suffix.lower() == ".json":
        out.write_text(read.packed.scene.model_dump_json(), encoding="utf-8")
        if read.packed.files or read.missing:
            typer.echo("warning: Its sounds and pictures go into FILE.scene.zip.", err=True)
    else:
        raise Refusal("A scene is written as FILE.scene.json or FILE.scene.zip.")
    for note in read.notes:
        typer.echo(f"warning: {note}", err=True)


def _beside(folder: Path, place: str) -> bytes | None:
    """A file by what a timeline calls it: from its folder, or by its whole path."""
    told = urlsplit(place)
    if told.scheme not in ("", "file"):
        return None
    path = folder / unquote(told.path)
    return path.read_bytes() if path.is_file() else None
