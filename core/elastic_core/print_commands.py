"""`hours print`: a scene file as a film with its sound, or as numbered pictures."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Annotated, get_args

import numpy as np
import typer

from .command_base import frames_in, plainly
from .errors import Refusal
from .formats.scene_zip import PackedScene, read_packed_scene
from .formats.sound_file import read_sound
from .printing.film import Heard, print_film
from .printing.look import BURNT, HOUSE_SIZE, MOST_ROUNDS, Burnt, FilmForm, PrintLook, View
from .printing.press import press_for
from .printing.sequence import print_pictures
from .printing.sheet import Printed
from .scene.hearing import heard_stamp, mixed
from .sound.samples import Samples

FORMS: Mapping[str, FilmForm] = {".mp4": "mp4", ".webm": "webm"}
_HOUSE_SIZE = f"{HOUSE_SIZE[0]}x{HOUSE_SIZE[1]}"


def add_to(app: typer.Typer) -> None:
    """Put the command in the program."""
    app.command("print")(print_scene)


@plainly
def print_scene(
    scene: Annotated[Path, typer.Argument(metavar="SCENE", help="A scene file.")],
    out: Annotated[Path, typer.Argument(metavar="OUT", help="FILE.mp4, FILE.webm or a FOLDER.")],
    frames: Annotated[
        str | None, typer.Option("--range", help="Frames A:B, from 0; B is not among them.")
    ] = None,
    size: Annotated[str, typer.Option(help="WIDTHxHEIGHT, even numbers.")] = _HOUSE_SIZE,
    view: Annotated[str, typer.Option(help=f"{', '.join(get_args(View)[:-1])}.")] = "three-quarter",
    burn: Annotated[str, typer.Option(help=f"Burnt in: {', '.join(BURNT)}.")] = "",
    rounds: Annotated[int, typer.Option(help="A film's frames round and round, so often.")] = 1,
    grid: Annotated[bool, typer.Option(help="With the ground's grid.")] = False,
    mark: Annotated[bool, typer.Option(help="With each frame's number for machines.")] = False,
) -> None:
    """Print a scene: a film with its sound, or a folder of numbered pictures. What is painted is what the
    stage shows."""
    form = FORMS.get(out.suffix.lower())
    if form is None and out.suffix:
        raise Refusal("A print is FILE.mp4, FILE.webm, or a folder for its pictures.")
    if not 1 <= rounds <= MOST_ROUNDS or (rounds > 1 and form is None):
        raise Refusal(f"A film goes round 1 to {MOST_ROUNDS} times; pictures are written once.")
    held = read_packed_scene(scene.read_bytes())
    span = _span(frames, held.scene.scene.played_frames)
    look = PrintLook(**_size(size), view=_view(view), burns=_burns(burn), grid=grid, mark=mark)
    printed = Printed(held.scene.scene, held.scene.material(), look)
    with press_for(printed, held.files) as press:
        if form is None:
            print_pictures(press, span, out)
        else:
            print_film(press, span, out, form, _heard(held), rounds=rounds)
    typer.echo(f"{out}: {rounds * len(span)} frames, {look.width} × {look.height}.")


def _span(text: str | None, length: int) -> range:
    if text is None:
        return range(length)
    start, end = frames_in(text, "a range as its first frame and the one after its last: 12:24")
    if not 0 <= start < end <= length:
        raise Refusal(f"The range {start}:{end} is not inside 0:{length}.")
    return range(start, end)


def _size(text: str) -> dict[str, int]:
    width, _, height = text.lower().replace("×", "x").partition("x")
    if not (width.isdecimal() and height.isdecimal()):
        raise Refusal(f"Write a size as WIDTHxHEIGHT: {_HOUSE_SIZE}.")
    return {"width": int(width), "height": int(height)}


def _view(text: str) -> View:
    named: dict[str, View] = {name: name for name in get_args(View)[:-1]}
    if text not in named:
        raise Refusal(f"“{text}” is no view. It is {', '.join(named)}.")
    return named[text]


def _burns(text: str) -> tuple[Burnt, ...]:
    wanted = {part.strip() for part in text.split(",") if part.strip()}
    unknown = wanted - set(BURNT)
    if unknown:
        raise Refusal(f"“{min(unknown)}” cannot be burnt in. It is {', '.join(BURNT)}.")
    return tuple(one for one in BURNT if one in wanted)


@dataclass(frozen=True)
class _Recordings:
    """The sounds of a scene file, each read when it is first heard."""

    held: PackedScene
    read: dict[str, Samples] = field(default_factory=dict)

    def samples(self, sound: str, start: int, count: int) -> Samples:
        if sound not in self.read:
            kept = self.held.scene.sounds[sound]
            self.read[sound] = read_sound(self.held.files[kept.file], kept.name).samples
        whole = self.read[sound]
        window = np.zeros((count, whole.shape[1]), dtype=np.float32)
        low, high = max(0, start), min(len(whole), start + count)
        if low < high:
            window[low - start : high - start] = whole[low:high]
        return window


def _heard(held: PackedScene) -> Heard | None:
    scene = held.scene.scene
    if heard_stamp(scene) is None:
        return None
    recordings = _Recordings(held)
    return lambda start, count: mixed(scene, recordings, start, count)
