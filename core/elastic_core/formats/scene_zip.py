"""A scene file, its sounds and the pictures of its mouths in one zip: `scene.json`, `sounds/SHA-256.ENDING` and
`pictures/SHA-256` (docs/formats.md)."""

import hashlib
import io
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field

from ..errors import Refusal
from ..sound.document import Sound
from .scene_file import SceneFile, read_scene_file
from .zips import ZIP_START, entry_named, unzipped

SCENE_NAME = "scene.json"


@dataclass(frozen=True)
class PackedScene:
    """A scene file, and the files of sounds and pictures beside it by their SHA-256."""

    scene: SceneFile
    files: Mapping[str, bytes] = field(default_factory=dict)


def name_of_file(sound: Sound) -> str:
    """Where a sound's file lies in the zip."""
    return f"sounds/{sound.file}.{sound.form.lower()}"


def pictures_of(scene: SceneFile) -> dict[str, str]:
    """The pictures that the file's drawings, its cut-outs and mouths of its charts are: their files → the name
    of the set, the figure or the chart."""
    drawn = {
        drawing.picture.file: held.name
        for held in scene.drawings.values()
        for drawing in held.drawings
    }
    drawn |= {
        one.picture.file: figure.name
        for figure in scene.figures.values()
        for card in figure.dress.cards
        for one in card.pictures
    }
    return drawn | {
        mouth.picture.file: chart.name
        for chart in scene.charts.values()
        for mouth in chart.mouths
        if mouth.picture is not None
    }


def _name_of_picture(file: str) -> str:
    return f"pictures/{file}"


def _names(scene: SceneFile) -> dict[str, str]:
    """Where each file that belongs to a scene lies in the zip: file → its name there."""
    names = {sound.file: name_of_file(sound) for sound in scene.sounds.values()}
    return names | {file: _name_of_picture(file) for file in sorted(pictures_of(scene))}


def write_scene_zip(packed: PackedScene) -> bytes:
    """The zip of a scene with its sounds and pictures."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        text = packed.scene.model_dump_json().encode()
        archive.writestr(entry_named(SCENE_NAME, packed=True), text)
        for file, name in _names(packed.scene).items():
            archive.writestr(entry_named(name), packed.files[file])
    return out.getvalue()


def read_packed_scene(data: bytes) -> PackedScene:
    """A scene file, alone or in a zip. Raises Refusal in one sentence, also where a sound or a picture is
    missing."""
    packed = _packed(data)
    for sound in packed.scene.sounds.values():
        if sound.file not in packed.files:
            raise Refusal(
                f"The sound “{sound.name}” is not beside the scene: bring in the whole .scene.zip."
            )
    for file, chart in pictures_of(packed.scene).items():
        if file not in packed.files:
            raise Refusal(
                f"A picture of “{chart}” is not beside the scene: bring in the whole .scene.zip."
            )
    return packed


def scene_without_sounds(data: bytes) -> SceneFile:
    """A scene file, alone or in a zip, whether its sounds are beside it or not. Raises Refusal for what is
    none."""
    return _packed(data).scene


def _packed(data: bytes) -> PackedScene:
    return _unzipped(data) if data.startswith(ZIP_START) else PackedScene(read_scene_file(data))


def _unzipped(data: bytes) -> PackedScene:
    held = unzipped(data)
    if SCENE_NAME not in held:
        raise Refusal("There is no scene.json in this zip file.")
    scene = read_scene_file(held[SCENE_NAME])
    files = {file: held[name] for file, name in _names(scene).items() if name in held}
    for name, file in files.items():
        if hashlib.sha256(file).hexdigest() != name:
            raise Refusal("A file in this zip is not the one that the scene was made with.")
    return PackedScene(scene, files)
