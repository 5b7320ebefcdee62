"""`hours print`: a scene file as a film with its sound, or as numbered pictures."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Annotated, get_args

import numpy as np
import typer

from .clock import parse_rate
from .command_base import frames_in, plainly
from .errors import Refusal
from .formats.clip_file import ClipFile
from .formats.scene_file import read_own_file
from .formats.scene_zip import PackedScene, read_packed_scene
from .formats.sound_file import read_sound
from .printing.at_rate import AtRate
from .printing.contact import print_contact
from .printing.film import Heard, print_film
from .printing.keyed import every, key_frames
from .printing.look import (
    BURNT,
    CELL_SIZE,
    ENDINGS,
    HOUSE_EVERY,
    HOUSE_SIZE,
    MOST_ROUNDS,
    Burnt,
    ContactForm,
    FilmForm,
    MovingForm,
    PrintForm,
    PrintLook,
    View,
    checked_form,
)
from .printing.moving import print_moving
from .printing.press import press_for
from .printing.sequence import print_pictures
from .printing.sheet import Printed
from .scene.document import Scene
from .scene.hearing import heard_stamp, mixed
from .scene.material import Material
from .scene.of_clip import scene_of_clip
from .sound.samples import Samples

FORMS: Mapping[str, PrintForm] = {
    ENDINGS[form]: form for form in get_args(PrintForm) if form != "png"
}
_HOUSE_SIZE = f"{HOUSE_SIZE[0]}x{HOUSE_SIZE[1]}"
_CELL_SIZE = f"{CELL_SIZE[0]}x{CELL_SIZE[1]}"
# How a clip file says that it is one, near its beginning.
_CLIP, _HEAD_BYTES = b'"elastic-hours-clip"', 200
_OUT = f"FILE{', FILE'.join(FORMS)} or a FOLDER."


def add_to(app: typer.Typer) -> None:
    """Put the command in the program."""
    app.command("print")(print_file)


@plainly
def print_file(
    source: Annotated[
        Path, typer.Argument(metavar="SCENE|CLIP", help="A scene file or a clip file.")
    ],
    out: Annotated[Path, typer.Argument(metavar="OUT", help=_OUT)],
    frames: Annotated[
        str | None, typer.Option("--range", help="Frames A:B, from 0; B is not among them.")
    ] = None,
    size: Annotated[
        str | None, typer.Option(help="WIDTHxHEIGHT, even numbers; of a contact sheet's one frame.")
    ] = None,
    view: Annotated[str, typer.Option(help=f"{', '.join(get_args(View)[:-1])}.")] = "three-quarter",
    burn: Annotated[str, typer.Option(help=f"Burnt in: {', '.join(BURNT)}.")] = "",
    rounds: Annotated[int, typer.Option(help="A film's frames round and round, so often.")] = 1,
    grid: Annotated[bool, typer.Option(help="With the ground's grid.")] = False,
    mark: Annotated[bool, typer.Option(help="With each frame's number for machines.")] = False,
    transparent: Annotated[bool, typer.Option(help="Without the paper.")] = False,
    nth: Annotated[
        int | None, typer.Option("--every", help="On a contact sheet: every nth frame.")
    ] = None,
    keys: Annotated[bool, typer.Option(help="On a contact sheet: the frames with keys.")] = False,
    fps: Annotated[
        str | None, typer.Option(help="Of a film or a picture that moves: 24, 30000/1001.")
    ] = None,
) -> None:
    """Print a scene or a clip: a film with its sound, a picture that moves, a contact sheet, or a folder of
    numbered pictures. What is painted is what the stage shows."""
    form: PrintForm | None = FORMS.get(out.suffix.lower()) if out.suffix else "png"
    if form is None:
        raise Refusal(f"A print is {_OUT[:-1]} for its pictures.")
    is_film, is_contact = form in get_args(FilmForm), form in get_args(ContactForm)
    if not 1 <= rounds <= MOST_ROUNDS or (rounds > 1 and not is_film):
        raise Refusal(f"A film goes round 1 to {MOST_ROUNDS} times; pictures are written once.")
    if (keys or nth is not None) and not is_contact:
        raise Refusal("Frames are chosen for a contact sheet: FILE.png or FILE.pdf.")
    if keys and nth is not None:
        raise Refusal("Either every so many frames, or the frames with keys.")
    moves = is_film or form in get_args(MovingForm)
    if fps is not None and not moves:
        raise Refusal(
            "A film or a picture that moves has a rate; pictures by themselves have none."
        )
    wanted = _read(source.read_bytes())
    scene, material = wanted.scene, wanted.material
    span = _span(frames, scene.played_frames)
    look = PrintLook(
        **_size(size or (_CELL_SIZE if is_contact else _HOUSE_SIZE)),
        view=_view(view), burns=_burns(burn), grid=grid, mark=mark, transparent=transparent,
    )  # fmt: skip
    checked_form(form, look)
    with press_for(Printed(scene, material, look), wanted.pictures) as page:
        press = AtRate(page, span, scene.rate if fps is None else parse_rate(fps))
        count = rounds * len(press.pictures)
        if form == "png":
            print_pictures(page, span, out)
        elif form == "webp" or form == "gif":
            print_moving(press, press.pictures, out, form)
        elif form == "contact" or form == "pdf":
            chosen = key_frames(scene, material, span) if keys else every(span, _nth(nth))
            print_contact(page, chosen, out, form, scene.name, transparent=transparent)
            count = len(chosen)
        else:
            heard = press.heard(wanted.heard)
            print_film(press, press.pictures, out, form, heard, rounds=rounds)
    typer.echo(f"{out}: {count} frames, {look.width} × {look.height}.")


@dataclass(frozen=True)
class _ToPrint:
    """A scene with all that its picture is made from, and what is heard of it."""

    scene: Scene
    material: Material
    pictures: Mapping[str, bytes] = field(default_factory=dict)
    heard: Heard | None = None


def _read(data: bytes) -> _ToPrint:
    """A scene file, or a clip file as the scene of it alone. Raises Refusal for any other."""
    if _CLIP not in data[:_HEAD_BYTES]:
        held = read_packed_scene(data)
        return _ToPrint(held.scene.scene, held.scene.material(), held.files, _heard(held))
    file = read_own_file(ClipFile, data, "clip")
    clip = file.playable()
    named = replace(clip, clip=clip.clip.model_copy(update={"figure": "figure"}))
    material = Material.of_clips({"figure": file.figure}, [("clip", named)])
    return _ToPrint(scene_of_clip("clip", named, file.figure.name), material)


def _nth(frames: int | None) -> int:
    if frames is not None and frames < 1:
        raise Refusal("Every nth frame: a whole number from 1 on.")
    return frames or HOUSE_EVERY


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
