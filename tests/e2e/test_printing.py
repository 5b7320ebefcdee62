"""A print is the stage's own picture (rule 9.1), and the file says which frame it shows."""

import base64
import subprocess
import sys
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest

from elastic_core.formats.scene_zip import PackedScene, pictures_of, read_packed_scene
from elastic_core.printing.look import PrintGhosts, PrintLook
from elastic_core.printing.press import Picture, pixels_of, press_for
from elastic_core.printing.sheet import Printed
from elastic_core.sound.document import HOUSE_RATE

from .desk import Desk

HOURS = [sys.executable, "-c", "from copies.command_line import run; run()"]
CELL, BITS = 16, 16
# The pixels of the stage as they are painted.
STAGE = """() => {
  const canvas = document.querySelector('.stage-canvas');
  const {width, height} = canvas;
  const {data} = canvas.getContext('2d').getImageData(0, 0, width, height);
  let text = '';
  for (let at = 0; at < data.length; at += 32768)
    text += String.fromCharCode(...data.subarray(at, at + 32768));
  return {width, height, pixels: btoa(text)};
}"""


def scene_file(desk: Desk, name: str) -> bytes:
    """A scene of the demo as a file, with what it needs beside it."""
    return desk.page.request.get(
        f"{desk.address}/api/scenes/{desk.id_of('scenes', name)}/file"
    ).body()


def as_shown(desk: Desk, held: PackedScene) -> dict[str, bytes]:
    """The pictures of a scene as large as the stage shows them."""
    ask, pictures = desk.page.request, f"/api/productions/{desk.production_id()}/pictures"
    shown = pictures_of(held.scene)
    return {file: ask.get(f"{desk.address}{pictures}/{file}?size=shown").body() for file in shown}


def painted(held: PackedScene, files: dict[str, bytes], look: PrintLook, frame: int) -> Picture:
    printed = Printed(held.scene.scene, held.scene.material(), look)
    with press_for(printed, files) as press:
        return pixels_of(press.frame(frame))


@pytest.mark.parametrize("name", ["Sc 07 The flame holds", "Sc 04 Quay at dusk"])
def test_stage_and_print_differ_in_no_pixel(desk: Desk, name: str) -> None:
    page = desk.page
    desk.open_scene(name)
    desk.go_to(41)
    held = read_packed_scene(scene_file(desk, name))
    files = as_shown(desk, held)
    desk.still()
    stage: dict[str, Any] = page.evaluate(STAGE)
    shape = (stage["height"], stage["width"], 4)
    pixels = np.frombuffer(base64.b64decode(stage["pixels"]), dtype=np.uint8).reshape(shape)
    look = PrintLook(
        width=stage["width"],
        height=stage["height"],
        ghosts=PrintGhosts(count=2, step=8),
        prints=True,
        grid=True,
        numbers=True,
    )
    picture = painted(held, files, look, 40)
    assert picture.std() > 20
    assert int((picture != pixels[..., :3]).any(axis=-1).sum()) == 0
    # And another frame is another picture.
    assert (painted(held, files, look, 41) != picture).any()


def marked(picture: np.ndarray) -> int:
    """The number in the cells at the upper left: black is one."""
    row = picture[CELL // 2, CELL // 2 :: CELL][: BITS + 2].mean(axis=-1) < 128
    assert row[:2].tolist() == [False, True]
    return int("".join("1" if cell else "0" for cell in row[2:]), 2)


def hours(*words: str | Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [*HOURS, *map(str, words)], capture_output=True, text=True, timeout=300, check=False
    )


def test_a_scene_file_is_printed_with_its_sound(desk: Desk, tmp_path: Path) -> None:
    """Without a server or a database: pictures by their numbers, and a film whose frames say which they are."""
    file = tmp_path / "flame.scene.zip"
    file.write_bytes(scene_file(desk, "Sc 06 Three lamps lit"))
    film = tmp_path / "flame.mp4"
    told = hours(
        "print", file, film, "--range", "12:60", "--size", "640x360", "--mark", "--burn", "frame"
    )
    assert told.returncode == 0, told.stderr
    assert told.stdout.strip() == f"{film}: 48 frames, 640 × 360."
    with av.open(str(film)) as held:
        pictures = [frame.to_ndarray(format="rgb24") for frame in held.decode(video=0)]
    with av.open(str(film)) as held:
        heard = np.concatenate([block.to_ndarray() for block in held.decode(audio=0)], axis=1)
    assert [marked(picture) for picture in pictures] == list(range(12, 60))
    assert pictures[0].shape == (360, 640, 3)
    assert abs(heard.shape[1] / HOUSE_RATE - 2.0) < 1 / 24
    assert np.abs(heard).max() > 0.02
    folder = tmp_path / "pictures"
    assert hours("print", file, folder, "--range", "0:2", "--size", "320x180").returncode == 0
    assert [one.name for one in sorted(folder.iterdir())] == ["frame 0000.png", "frame 0001.png"]
    again = hours("print", file, folder, "--range", "0:2", "--size", "320x180")
    assert again.returncode == 1
    assert again.stderr.strip() == "There are pictures in pictures already: name another folder."
