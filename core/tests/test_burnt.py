"""What is burnt into a print, what a print refuses, and what its page is handed (rule 9.1)."""

import json
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from typer.testing import CliRunner

from elastic_core.beats import Beat
from elastic_core.command_line import app
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.print_commands import FORMS
from elastic_core.printing.look import BURNT, PrintLook
from elastic_core.printing.press import Handed, Press
from elastic_core.printing.sheet import Printed, sheet_of
from elastic_core.scene.document import Scene
from elastic_core.scene.evaluate import frames_of

from .test_files_out import MATERIAL, SCENE, scene_file, unpacked

BEAT = Beat(id="b", name="He hauls", start=20, end=40)
MARKED = SCENE.model_copy(update={"beats": (BEAT,), "first_frame": 101})
# The laid second half plays first.
TURNED = MARKED.model_copy(
    update={
        "elastic": Elastic(pins=(Pin(played=0, source=80), Pin(played=80, source=0))),
    }
)


def sheet(scene: Scene = MARKED, revision: int | None = 7, **look: Any) -> dict[str, Any]:
    made = PrintLook.model_validate(look)
    found: dict[str, Any] = json.loads(sheet_of(Printed(scene, MATERIAL, made, revision)))
    return found


def test_all_is_burnt_in_where_it_is_asked_for() -> None:
    told = sheet(burns=BURNT)["burnt"]
    assert len(told) == 90
    assert told[0] == [f"{SCENE.name}  ·  rev 7  ·  Round", "101  ·  0.00 s  ·  00:00:04:05"]
    # Frame 24 plays in the beat; of two stints in a join the one that takes over is named.
    assert told[24][0] == f"{SCENE.name}  ·  rev 7  ·  He hauls  ·  Round"
    assert told[50] == [f"{SCENE.name}  ·  rev 7  ·  Reach", "151  ·  2.08 s  ·  00:00:06:07"]
    assert sheet(burns=["time"])["burnt"][24] == ["", "1.00 s"]
    assert sheet(burns=["revision"], revision=None)["burnt"][3] == ["", ""]
    assert sheet()["burnt"] == []


def test_beats_and_stints_are_those_of_the_time_that_plays() -> None:
    told = [left for left, _ in sheet(TURNED, burns=["beat", "lanes"])["burnt"]]
    assert told[5] == "Reach"
    assert told[50] == "He hauls  ·  Round"
    assert [frame for frame, left in enumerate(told) if "He hauls" in left] == list(range(41, 61))


def test_a_print_is_of_even_pixels_and_through_a_camera_that_is_there() -> None:
    with pytest.raises(Refusal, match="even number of pixels: not 1281 × 720"):
        PrintLook(width=1281)
    with pytest.raises(Refusal, match="has no camera to look through"):
        sheet(view="camera")
    assert set(FORMS) == {".mp4", ".webm", ".webp", ".gif", ".png", ".pdf"}


def test_the_page_is_handed_its_frames_and_pictures_and_nothing_else() -> None:
    printed = Printed(SCENE, MATERIAL, PrintLook())
    handed = Handed(printed, {"a" * 64: b"\x89PNG"}.__getitem__)
    data, kind = handed.at("frames/24-48")
    assert kind == "application/octet-stream"
    arrays, metadata = unpacked(data)
    assert metadata["content"] == "printed"
    (shown,) = frames_of(SCENE, MATERIAL, np.arange(24.0, 48.0))
    assert np.abs(arrays["k/positions"] - shown.placed.positions).max() < 1e-6
    # Past the end there is nothing more.
    assert unpacked(handed.at("frames/80-104")[0])[0]["k/positions"].shape[0] == 10
    assert handed.at("pictures/" + "a" * 64) == (b"\x89PNG", "image/png")
    with pytest.raises(Refusal, match="Nothing is printed from"):
        handed.at("scenes/secret")
    assert SCENE.rate == Fraction(24)


def test_a_browser_that_does_not_start_is_said(tmp_path: Path) -> None:
    handed = Handed(Printed(SCENE, MATERIAL, PrintLook()), {}.__getitem__)
    with pytest.raises(Refusal, match="The press stopped"):
        Press(handed, tmp_path, "/bin/false")


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["--range", "40:4000"], "The range 40:4000 is not inside 0:90."),
        (
            ["--range", "forty"],
            "Write a range as its first frame and the one after its last: 12:24.",
        ),
        (["--size", "641x360"], "A print is an even number of pixels: not 641 × 360."),
        (["--size", "large"], "Write a size as WIDTHxHEIGHT: 1280x720."),
        (["--view", "camera"], f"“{SCENE.name}” has no camera to look through."),
        (["--view", "roof"], "“roof” is no view. It is three-quarter, side, front, plan, camera."),
        (["--burn", "frame,price"], "“price” cannot be burnt in."),
    ],
    ids=lambda value: " ".join(value) if isinstance(value, list) else "",
)
def test_what_cannot_be_printed_is_one_line(tmp_path: Path, words: list[str], says: str) -> None:
    scene, out = tmp_path / "quay.scene.json", tmp_path / "out.mp4"
    scene.write_text(scene_file().model_dump_json())
    told = CliRunner().invoke(app, ["print", str(scene), str(out), *words])
    assert told.exit_code == 1
    assert says in told.stderr
    assert len(told.stderr.strip().splitlines()) == 1
    assert not out.exists()


def test_a_print_is_a_film_or_a_folder(tmp_path: Path) -> None:
    scene = tmp_path / "quay.scene.json"
    scene.write_text(scene_file().model_dump_json())
    told = CliRunner().invoke(app, ["print", str(scene), str(tmp_path / "out.avi")])
    assert told.exit_code == 1
    assert (
        "A print is FILE.mp4, FILE.webm, FILE.webp, FILE.gif, FILE.png, FILE.pdf or a FOLDER"
        in told.stderr
    )
