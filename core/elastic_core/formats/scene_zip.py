"""A scene file and its sounds in one zip: `scene.json` and `sounds/SHA-256.ENDING` (docs/formats.md)."""

import hashlib
import io
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field

from ..errors import Refusal
from ..sound.document import Sound
from .scene_file import SceneFile, read_scene_file

ZIP_START = b"PK\x03\x04"
SCENE_NAME = "scene.json"
# Written times would make two zips of one scene differ.
_WRITTEN = (1980, 1, 1, 0, 0, 0)
_LARGEST_BYTES = 1 << 30


@dataclass(frozen=True)
class PackedScene:
    """A scene file, and the sound files beside it by their SHA-256."""

    scene: SceneFile
    files: Mapping[str, bytes] = field(default_factory=dict)


def name_of_file(sound: Sound) -> str:
    """Where a sound's file lies in the zip."""
    return f"sounds/{sound.file}.{sound.form.lower()}"


def write_scene_zip(packed: PackedScene) -> bytes:
    """The zip of a scene with its sounds."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        text = packed.scene.model_dump_json().encode()
        archive.writestr(_entry(SCENE_NAME), text, zipfile.ZIP_DEFLATED)
        for sound in {sound.file: sound for sound in packed.scene.sounds.values()}.values():
            archive.writestr(_entry(name_of_file(sound)), packed.files[sound.file])
    return out.getvalue()


def _entry(name: str) -> zipfile.ZipInfo:
    return zipfile.ZipInfo(name, _WRITTEN)


def read_packed_scene(data: bytes) -> PackedScene:
    """A scene file, alone or in a zip. Raises Refusal in one sentence, also where a sound is missing."""
    packed = _packed(data)
    for sound in packed.scene.sounds.values():
        if sound.file not in packed.files:
            raise Refusal(
                f"The sound “{sound.name}” is not beside the scene: bring in the whole .scene.zip."
            )
    return packed


def scene_without_sounds(data: bytes) -> SceneFile:
    """A scene file, alone or in a zip, whether its sounds are beside it or not. Raises Refusal for what is
    none."""
    return _packed(data).scene


def _packed(data: bytes) -> PackedScene:
    return _unzipped(data) if data.startswith(ZIP_START) else PackedScene(read_scene_file(data))


def _unzipped(data: bytes) -> PackedScene:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > _LARGEST_BYTES:
                raise Refusal("What is packed in this file is larger than can be opened.")
            scene = read_scene_file(archive.read(SCENE_NAME))
            files = {
                sound.file: archive.read(name_of_file(sound))
                for sound in scene.sounds.values()
                if name_of_file(sound) in archive.namelist()
            }
    except KeyError:
        raise Refusal("There is no scene.json in this zip file.") from None
    except (zipfile.BadZipFile, NotImplementedError, EOFError, OSError, RuntimeError, ValueError):
        raise Refusal("This zip file is broken: it cannot be read to its end.") from None
    for name, file in files.items():
        if hashlib.sha256(file).hexdigest() != name:
            raise Refusal("A sound in this zip file is not the one that the scene was made with.")
    return PackedScene(scene, files)
