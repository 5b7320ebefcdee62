"""Scene files with their sounds beside them."""

import hashlib
import io
import zipfile

import pytest

from elastic_core.errors import Refusal
from elastic_core.formats.scene_zip import (
    SCENE_NAME,
    PackedScene,
    name_of_file,
    pictures_of,
    read_packed_scene,
    write_scene_zip,
)
from elastic_core.scene.document import Scene
from elastic_core.scene.sound_lane import LaidSound, SoundLane
from elastic_core.voice.chart import Mouth, MouthChart, MouthPicture

from .sounds import bursts, document_of, file_of
from .test_files_out import scene_file

BELL = file_of(bursts(1.0), "FLAC")
SOUND = document_of(bursts(1.0)).model_copy(
    update={"file": hashlib.sha256(BELL).hexdigest(), "form": "FLAC"}
)


def heard(scene: Scene) -> Scene:
    laid = LaidSound(id="a", sound="bell", start=12.25, seconds=0.75, in_seconds=0.25)
    lane = SoundLane(id="voice", name="Voice", sounds=(laid,))
    return scene.model_copy(update={"sound_lanes": (lane,)})


def packed() -> PackedScene:
    held = scene_file()
    with_sound = {"scene": heard(held.scene), "sounds": {"bell": SOUND}}
    return PackedScene(held.model_copy(update=with_sound), {SOUND.file: BELL})


def repacked(**changed: bytes | None) -> bytes:
    """The zip with some of its entries changed, or left out."""
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(write_scene_zip(packed()))) as old,
        zipfile.ZipFile(out, "w") as new,
    ):
        for name in old.namelist():
            data = changed.get(name.split(".")[0].split("/")[0], old.read(name))
            if data is not None:
                new.writestr(name, data)
    return out.getvalue()


def test_a_scene_comes_back_with_its_sounds() -> None:
    data = write_scene_zip(packed())
    again = read_packed_scene(data)
    assert again == packed()
    assert again.scene.material().sound("bell") == SOUND
    # The same scene is the same file, whenever it is written.
    assert write_scene_zip(again) == data
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.namelist() == [SCENE_NAME, f"sounds/{SOUND.file}.flac"]
        assert archive.read(name_of_file(SOUND)) == BELL


def test_a_scene_without_sounds_is_read_alone() -> None:
    assert read_packed_scene(scene_file().model_dump_json().encode()).files == {}


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (packed().scene.model_dump_json().encode(), "“Bell” is not beside the scene"),
        (repacked(sounds=None), "“Bell” is not beside the scene"),
        (repacked(sounds=b"RIFF"), "is not the one that the scene was made with"),
        (repacked(scene=None), "no scene.json"),
        (repacked(scene=b"{}"), "This is not a scene file that can be read"),
        (write_scene_zip(packed())[:900], "This zip file is broken"),
    ],
)
def test_what_is_not_whole_is_refused(data: bytes, says: str) -> None:
    with pytest.raises(Refusal, match=says):
        read_packed_scene(data)


def test_a_scene_whose_sounds_the_file_does_not_name_is_refused() -> None:
    held = packed().scene.model_copy(update={"sounds": {}})
    with pytest.raises(Refusal, match="uses a sound that the file does not hold"):
        held.material()


def test_pictures_of_mouths_lie_beside_the_scene_and_are_missed() -> None:
    drawn = b"a picture"
    name = hashlib.sha256(drawn).hexdigest()
    mouth = Mouth(key="ai", drawing=1, name="A", picture=MouthPicture(file=name))
    chart = MouthChart(name="Keeper", mouths=(mouth,))
    scene = scene_file().model_copy(update={"charts": {"own": chart}})
    assert pictures_of(scene) == {name: "Keeper"}
    data = write_scene_zip(PackedScene(scene, {name: drawn}))
    again = read_packed_scene(data)
    assert again.files == {name: drawn}
    assert again.scene.charts == {"own": chart}
    with pytest.raises(Refusal, match="A picture of “Keeper” is not beside the scene"):
        read_packed_scene(scene.model_dump_json().encode())
