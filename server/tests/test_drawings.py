"""Drawings: pictures brought in by a job, sets and runs edited, and layers in a scene (rules 7.3 and 7.5)."""

import io
import zipfile
from typing import Any

import numpy as np
import pytest
from django.test import Client
from PIL import Image

from documents.models import Document
from documents.opening import document_of
from elastic_core.drawings.drawing_set import DrawingSet
from elastic_core.drawings.run import DrawingRun
from elastic_core.figure import Figure
from elastic_core.scene.document import Scene
from jobs.models import Job
from jobs.running import carry_out_job
from library.models import PictureSize, StoredFile

from .conftest import Demo, files_kept
from .test_keeping import send

pytestmark = pytest.mark.django_db
NEW = "/api/productions/{0}/drawings"


def drawing(number: int, size: tuple[int, int] = (300, 200), form: str = "PNG") -> bytes:
    """A picture like no other number's: a dot farther to the right."""
    image = Image.new("RGBA", size, (0, 0, 0, 0))
    image.paste((34, 48, 60, 255), (10 * number % size[0], 20, 10 * number % size[0] + 8, 60))
    out = io.BytesIO()
    (image.convert("RGB") if form == "JPEG" else image).save(out, form)
    return out.getvalue()


def kept(client: Client, demo: Demo, name: str, data: bytes) -> dict[str, Any]:
    upload = io.BytesIO(data)
    upload.name = name
    answer = client.post(f"/api/productions/{demo.production}/drawing-files", {"upload": upload})
    found: dict[str, Any] = answer.json()
    assert answer.status_code == 201, found
    return found


def brought(client: Client, demo: Demo, files: dict[str, bytes], **more: Any) -> Job:
    """The job that brings files in, done."""
    wanted = {
        "files": [kept(client, demo, name, data) for name, data in files.items()],
        "name": "Gull",
        "token": f"t{Job.objects.count()}",
        **more,
    }
    answer = send(client, "post", NEW.format(demo.production), wanted)
    assert answer.status_code == 202, answer.json()
    carry_out_job(answer.json()["id"])
    return Job.objects.get(pk=answer.json()["id"])


def set_in(job: Job) -> DrawingSet:
    found: DrawingSet = document_of(Document.objects.get(pk=job.outcome["drawings"]))
    return found


def run_in(job: Job) -> DrawingRun:
    found: DrawingRun = document_of(Document.objects.get(pk=job.outcome["run"]))
    return found


def test_numbered_pictures_become_a_set_and_a_run_of_it(demo: Demo, editor: Client) -> None:
    files = {f"gull {k}.png": drawing(k) for k in (10, 2, 1, 4)}
    job = brought(editor, demo, files)
    assert job.state == Job.State.DONE
    assert (job.figure, job.of, job.unit) == (4, 4, "pictures")
    drawn, run = set_in(job), run_in(job)
    assert drawn.numbers == (1, 2, 4, 10)
    assert [one.name for one in drawn.drawings] == [f"gull {k}.png" for k in (1, 2, 4, 10)]
    assert (run.numbers, run.play, run.length_frames) == ((1, 2, 4, 10), "repeat", 8)
    assert job.outcome["says"] == [
        "Gull is in the library, with a run of its 4 drawings.",
        "3, 5, 6, 7, 8 and 9 are missing.",
    ]
    shelf = editor.get(f"/api/productions/{demo.production}").json()
    card = next(card for card in shelf["drawings"] if card["name"] == "Gull")
    assert (card["drawings"], card["missing"], len(card["strip"])) == (4, 6, 4)
    told = next(card for card in shelf["runs"] if card["name"] == "Gull")
    assert (told["drawings"], told["count"], told["length_frames"]) == (card["id"], 4, 8)


def test_pictures_are_made_light_once(demo: Demo, editor: Client) -> None:
    job = brought(
        editor,
        demo,
        {"gull 1.png": drawing(1, (3000, 2000)), "gull 2.jpg": drawing(2, (2000, 3000), "JPEG")},
    )
    first, second = set_in(job).drawings
    assert (first.picture.width_pixels, first.picture.height_pixels) == (3000, 2000)
    assert (second.picture.width_pixels, second.picture.height_pixels) == (2000, 3000)
    rows = PictureSize.objects.filter(sha256=first.picture.file)
    assert sorted(rows.values_list("pixels", flat=True)) == [160, 1280]
    url = f"/api/productions/{demo.production}/pictures/{first.picture.file}"
    sizes = {}
    for size in ("small", "shown"):
        answer = editor.get(f"{url}?size={size}")
        assert answer.headers["Content-Type"] == "image/webp"
        assert "immutable" in answer.headers["Cache-Control"]
        with Image.open(io.BytesIO(answer.content)) as image:
            sizes[size] = (image.size, image.mode)
    assert sizes == {"small": ((160, 107), "RGBA"), "shown": ((1280, 853), "RGBA")}
    # A picture that came another way is made light when it is first asked for.
    rows.delete()
    assert editor.get(f"{url}?size=small").status_code == 200
    assert rows.count() == 1


def test_what_is_taken_apart_is_not_kept_beside_its_pieces(demo: Demo, editor: Client) -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for k in (1, 2, 3):
            archive.writestr(f"a/{k}.png", drawing(k))
        archive.writestr("notes.txt", b"hello")
    before = files_kept().count()
    job = brought(editor, demo, {"gull.zip": out.getvalue()})
    assert set_in(job).numbers == (1, 2, 3)
    assert job.outcome["says"][-1] == "1 file left out: no picture."
    assert files_kept().count() == before + 3


def test_an_animation_keeps_its_times(demo: Demo, editor: Client) -> None:
    frames = [Image.new("RGB", (40, 30), colour) for colour in ("red", "green", "blue")]
    out = io.BytesIO()
    frames[0].save(out, "GIF", save_all=True, append_images=frames[1:], duration=[80, 250, 40])
    run = run_in(brought(editor, demo, {"blink.gif": out.getvalue()}))
    assert [(one.drawing, one.frames) for one in run.held] == [(1, 2), (2, 6), (3, 1)]


def test_a_sheet_is_cut_and_pictures_go_into_a_set_that_is_there(
    demo: Demo, editor: Client
) -> None:
    sheet = Image.new("RGBA", (60, 40), (0, 0, 0, 0))
    for place in range(6):
        sheet.paste(
            (20 * place + 20, 0, 0, 255),
            (
                20 * (place % 3) + 2,
                20 * (place // 3) + 2,
                20 * (place % 3) + 9,
                20 * (place // 3) + 9,
            ),
        )
    out = io.BytesIO()
    sheet.save(out, "PNG")
    job = brought(editor, demo, {"sheet.png": out.getvalue()}, grid={"columns": 3, "rows": 2})
    assert set_in(job).numbers == (1, 2, 3, 4, 5, 6)
    into = job.outcome["drawings"]
    more = brought(editor, demo, {"x.png": drawing(5), "y.png": drawing(6)}, into=into)
    assert set_in(more).numbers == (1, 2, 3, 4, 5, 6, 7, 8)
    assert more.outcome["run"] is None
    clash = brought(editor, demo, {"gull 3.png": drawing(7), "gull 4.png": drawing(8)}, into=into)
    assert (clash.state, clash.says) == (
        Job.State.REFUSED,
        "“Gull” has drawings 3 and 4 already: replace them, or give other numbers.",
    )
    before = set_in(more).drawing(3).picture
    instead = brought(
        editor, demo, {"gull 3.png": drawing(7), "gull 4.png": drawing(8)}, into=into, replace=True
    )
    assert set_in(instead).drawing(3).picture != before
    assert set_in(instead).numbers == (1, 2, 3, 4, 5, 6, 7, 8)


def test_what_is_no_picture_is_refused_in_words(demo: Demo, editor: Client) -> None:
    upload = io.BytesIO(b"HIERARCHY\n")
    upload.name = "walk.bvh"
    answer = editor.post(f"/api/productions/{demo.production}/drawing-files", {"upload": upload})
    assert answer.status_code == 422
    assert "“walk.bvh” is none of PNG, JPEG" in answer.json()["message"]
    job = brought(editor, demo, {"1.png": drawing(1), "2.png": drawing(2)[:90]})
    assert (job.state, job.says) == (
        Job.State.REFUSED,
        "“2.png” is broken off: it cannot be read to its end.",
    )
    script = b'<svg xmlns="http://www.w3.org/2000/svg"><image href="file:///etc/passwd"/></svg>'
    reach = brought(editor, demo, {"1.svg": script})
    assert "points at other files" in reach.says
    count = StoredFile.objects.filter(name="1.svg").count()
    assert count == 0


def test_a_run_is_edited_undone_and_taken_out_as_a_sheet(demo: Demo, editor: Client) -> None:
    row = demo.document("run", "Flame flickers")
    url = f"/api/runs/{row.pk}"
    sheet = editor.get(url).json()["run"]
    assert (sheet["order"], sheet["pattern"], sheet["round_frames"]) == ("1-6 on 3", [3], 18)
    assert (sheet["uses"]["least"], sheet["uses"]["most"]) == (10, 10)
    edit = {"kind": "pin_drawing", "drawing": 4, "frame": 9}
    seen = send(editor, "post", f"{url}/edits", {"edit": edit, "base_revision": 2, "preview": True})
    shown = seen.json()["run"]["run"]["shown"]
    assert next(one["frame"] for one in shown if one["drawing"] == 4) == 9
    assert Document.objects.get(pk=row.pk).head == 2
    made = send(editor, "post", f"{url}/edits", {"edit": edit, "base_revision": 2})
    assert made.json()["label"] == "Pin drawing 4 to 10"
    csv = editor.get(f"{url}/sheet?form=csv").content.decode()
    assert "Drawing" in csv.splitlines()[0]
    undone = send(editor, "post", f"{url}/undo", {"base_revision": 3}).json()
    assert undone["run"]["run"]["pins"] == []
    wrong = {"kind": "order_run", "order": "1 to 8"}
    refused = send(editor, "post", f"{url}/edits", {"edit": wrong, "base_revision": 2})
    assert "cannot be read. Type drawings like 1-8" in refused.json()["message"]


def test_a_set_is_edited_and_its_runs_stand(demo: Demo, editor: Client) -> None:
    row = demo.document("drawings", "Flame")
    url = f"/api/drawings/{row.pk}"
    before = editor.get(url).json()["drawings"]
    assert (len(before["drawn"]["drawings"]), before["missing"], before["same"]) == (6, [], [])
    assert before["height_pixels"] == 1600
    up = before["placed"][0]["up"]
    assert np.array(up) == pytest.approx([0.0, 1.0, 0.0])
    edit = {"kind": "drop_drawings", "numbers": [3]}
    after = send(editor, "post", f"{url}/edits", {"edit": edit, "base_revision": 2}).json()
    assert after["drawings"]["drawings"]["missing"] == [3]
    run = demo.document("run", "Flame flickers")
    assert editor.get(f"/api/runs/{run.pk}").json()["run"]["lacking"] == [3]
    stranger = {
        "kind": "replace_drawing",
        "number": 1,
        "picture": {"file": "0" * 64, "width_pixels": 9, "height_pixels": 9},
    }
    refused = send(editor, "post", f"{url}/edits", {"edit": stranger, "base_revision": 3})
    assert refused.json()["message"] == "One of the pictures is not here: bring it in first."


def test_a_set_becomes_a_layer_that_boils_on_a_pole(demo: Demo, editor: Client) -> None:
    drawn, run = demo.document("drawings", "Flame"), demo.document("run", "Flame flickers")
    edit = {
        "kind": "add_layer", "layer": "lamp", "drawings": str(drawn.pk), "run": str(run.pk),
        "height_metres": 0.3, "to": "odo", "joint": "pole",
    }  # fmt: skip
    answer = send(editor, "post", f"{demo.url}/edits", {"edit": edit, "base_revision": 1})
    assert answer.status_code == 200, answer.json()
    desk = answer.json()["scene"]["desk"]
    assert [layer["name"] for layer in desk["layers"]] == ["Flame"]
    lane = next(lane for lane in desk["lanes"] if lane["target"]["kind"] == "layer")
    assert (lane["takes_runs_of"], lane["stints"][0]["end"]) == (str(drawn.pk), 288)
    used = send(editor, "delete", f"/api/documents/{run.pk}").json()["message"]
    assert used.startswith("“Flame flickers” is used in “Sc 04 Quay at dusk”")
    elsewhere = {**edit, "layer": "other", "run": str(demo.document("run", "Sea swells").pk)}
    refused = send(editor, "post", f"{demo.url}/edits", {"edit": elsewhere, "base_revision": 2})
    assert refused.json()["message"] == "The run “Sea swells” has other drawings."


def test_a_scene_with_drawings_goes_out_and_comes_in_whole(
    demo: Demo, editor: Client, owner: Client
) -> None:
    scene = demo.document("scene", "Sc 07 The flame holds")
    answer = editor.get(f"/api/scenes/{scene.pk}/file")
    data = b"".join(answer) if answer.streaming else answer.content
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert sum(name.startswith("pictures/") for name in archive.namelist()) == 17
    made = owner.post(
        "/api/productions", {"name": "Elsewhere"}, content_type="application/json"
    ).json()
    upload = io.BytesIO(data)
    upload.name = "holds.scene.zip"
    opened = owner.post(f"/api/productions/{made['id']}/own-files", {"upload": upload})
    assert opened.status_code in (200, 201), opened.json()
    there = Document.objects.get(production=made["id"], kind="scene")
    held: Scene = document_of(there)
    before: Scene = document_of(scene)
    assert [layer.height_metres for layer in held.layers] == [
        layer.height_metres for layer in before.layers
    ]
    kinds = Document.objects.filter(production=made["id"]).values_list("kind", flat=True)
    assert sorted(kinds).count("run") == sorted(kinds).count("drawings") == 3
    # The cut-out's head is still that of its drawings, and is swapped by them there as here.
    heads = Document.objects.get(production=made["id"], name="Gull heads")
    gull: Figure = document_of(Document.objects.get(production=made["id"], name="Paper gull"))
    assert gull.dress.drawing_ids == {str(heads.pk)}
