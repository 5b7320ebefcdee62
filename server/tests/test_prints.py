"""Prints are made by a job, stay with what they show, are played by pieces, and thrown away."""

import io
import json
from typing import Any

import av
import numpy as np
import pytest
from django.test import Client

from api.films import LONGEST_RANGE_BYTES
from elastic_core.printing.press import Press
from jobs.models import Job
from jobs.running import Run, carry_out_job
from library.models import StoredFile
from prints.models import Print, PrintPart

from .conftest import Demo
from .prints import kept_print, made_up
from .test_jobs import jobs_of, on_progress, work
from .test_keeping import send

pytestmark = pytest.mark.django_db
SMALL = {"width": 320, "height": 180, "mark": True, "burns": ["frame", "revision"]}


def asked(client: Client, demo: Demo, scene: str = "Sc 06 Three lamps lit", **wanted: Any) -> Any:
    found = demo.document("scene", scene)
    body = {"look": SMALL, "start": 24, "end": 36, **wanted}
    return send(client, "post", f"/api/scenes/{found.pk}/prints", body)


def prints(client: Client, demo: Demo) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get(f"/api/productions/{demo.production}/prints").json()
    return found


def film_of(client: Client, card: dict[str, Any]) -> bytes:
    answer: Any = client.get(f"/api/prints/{card['id']}/film")
    return b"".join(answer.streaming_content)


def read_film(film: bytes) -> tuple[list[np.ndarray], int]:
    """Its pictures, and how many samples are heard with them."""
    pictures, samples = list[np.ndarray](), 0
    with av.open(io.BytesIO(film), "r") as held:
        for frame in held.decode():
            if isinstance(frame, av.VideoFrame):
                pictures.append(frame.to_ndarray(format="rgb24"))
            elif isinstance(frame, av.AudioFrame):
                samples += frame.samples
    return pictures, samples


def marked(picture: np.ndarray) -> int:
    cells = picture[8, 8:288:16].mean(axis=-1) < 128
    return int("".join("1" if cell else "0" for cell in cells[2:]), 2)


def test_a_scene_is_printed_with_its_sound_and_stays(demo: Demo, editor: Client) -> None:
    job = asked(editor, demo)
    assert job.status_code == 202
    assert job.json()["title"] == "Sc 06 Three lamps lit, rev 1"
    work()
    (done,) = jobs_of(editor, demo)
    assert (done["state"], done["figure"], done["of"], done["unit"]) == ("done", 12, 12, "frames")
    assert done["says"] == ["Sc 06 Three lamps lit, rev 1 is printed."]
    (card,) = prints(editor, demo)
    assert card["id"] == done["print"]
    assert (card["name"], card["revision"], card["frames"], card["first"]) == (
        "Sc 06 Three lamps lit", 1, 12, 24,
    )  # fmt: skip
    assert card["has_sound"] is True
    assert card["look"]["burns"] == ["frame", "revision"]
    film = film_of(editor, card)
    assert len(film) == card["size_bytes"]
    pictures, samples = read_film(film)
    assert [marked(picture) for picture in pictures] == list(range(24, 36))
    assert abs(samples / 48_000 - 0.5) < 1 / 24


def test_layers_and_cut_outs_come_with_their_pictures(demo: Demo, editor: Client) -> None:
    """The sea is blue in the print, too."""
    asked(
        editor,
        demo,
        "Sc 07 The flame holds",
        start=0,
        end=1,
        form="webm",
        look={**SMALL, "mark": False},
    )
    work()
    (card,) = prints(editor, demo)
    assert (card["form"], card["has_sound"]) == ("webm", False)
    ((picture,), _) = read_film(film_of(editor, card))
    red, _, blue = picture[60:90, 10:60].reshape(-1, 3).mean(axis=0)
    assert blue - red > 15


@pytest.mark.parametrize(
    ("wanted", "says"),
    [
        ({"start": 900, "end": 1000}, "There are no frames to print."),
        ({"look": {"view": "camera"}}, "“Sc 06 Three lamps lit” has no camera to look through."),
        ({"look": {"width": 321}}, "even number of pixels: not 321 × 720"),
        ({"look": {"transparent": True}}, "Without its paper a print is numbered PNG pictures"),
        (
            {"form": "gif", "start": 0, "end": 15, "look": {"width": 4096, "height": 4096}},
            "has 7 frames at the most",
        ),
        ({"beside": 9}, "“Sc 06 Three lamps lit” has no revision 9."),
    ],
    ids=json.dumps,
)
def test_what_cannot_be_printed_is_said_at_once(
    demo: Demo, editor: Client, wanted: dict[str, Any], says: str
) -> None:
    answer = asked(editor, demo, **wanted)
    assert answer.status_code == 422
    assert says in answer.json()["message"]
    assert not Job.objects.filter(kind="print").exists()


def test_a_scene_that_went_meanwhile_is_said(demo: Demo, owner: Client) -> None:
    scene = demo.document("scene", "Sc 06 Three lamps lit")
    copy = send(owner, "post", f"/api/documents/{scene.pk}/duplicate", {}).json()["id"]
    send(owner, "post", f"/api/scenes/{copy}/prints", {"look": SMALL})
    assert owner.delete(f"/api/documents/{copy}").status_code == 200
    work()
    (job,) = jobs_of(owner, demo)
    assert job["state"] == "refused"
    assert job["says"] == ["What was to be printed is not in this production any more."]
    assert prints(owner, demo) == []


def test_a_cancelled_print_leaves_nothing(
    demo: Demo, editor: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    files_before = StoredFile.objects.count()
    asked(editor, demo)

    def cancel(run: Run) -> None:
        assert editor.post(f"/api/jobs/{run.job.pk}/cancel").status_code == 200

    on_progress(monkeypatch, 4, cancel)
    monkeypatch.setattr("jobs.running.TELL_EVERY_S", 0.0)
    work()
    (job,) = jobs_of(editor, demo)
    assert job["state"] == "cancelled"
    assert (Print.objects.count(), StoredFile.objects.count()) == (0, files_before)
    assert PrintPart.objects.count() == 0


class Killed(BaseException):
    """The worker, by a signal: it says nothing."""


@pytest.mark.parametrize("changes", [False, True], ids=["as it was", "changed meanwhile"])
def test_who_takes_a_print_up_goes_on_where_it_was(
    demo: Demo, editor: Client, monkeypatch: pytest.MonkeyPatch, *, changes: bool
) -> None:
    monkeypatch.setattr("elastic_core.printing.film.PART_FRAMES", 6)
    asked(editor, demo, rounds=2)
    painted: list[int] = []
    paint = Press.frame

    def counted(press: Press, played: int) -> bytes:
        if len(painted) == 9:
            painted.append(-1)
            raise Killed
        painted.append(played)
        return paint(press, played)

    monkeypatch.setattr(Press, "frame", counted)
    with pytest.raises(Killed):
        work()
    job = Job.objects.get()
    assert (job.state, job.print_parts.count()) == (Job.State.RUNNING, 1)
    if changes:
        # Whatever of it is another now: no film is half of the one and half of the other.
        job.print_parts.update(content="of a clip that was mended")
    carry_out_job(job.pk)
    job.refresh_from_db()
    assert (job.state, job.tries, job.print_parts.count()) == (Job.State.DONE, 2, 0)
    first, then = painted[: painted.index(-1)], painted[painted.index(-1) + 1 :]
    assert first == list(range(24, 33))
    assert then == list(range(24 if changes else 30, 36))
    (card,) = prints(editor, demo)
    pictures, _ = read_film(film_of(editor, card))
    assert (card["frames"], card["rounds"]) == (12, 2)
    assert [marked(picture) for picture in pictures] == 2 * list(range(24, 36))


def test_a_film_is_played_by_pieces(demo: Demo, viewer: Client) -> None:
    film = made_up(9 << 20)
    url = f"/api/prints/{kept_print(demo, film).pk}/film"

    def piece(wanted: str) -> Any:
        return viewer.get(url, headers={"range": wanted})

    first = piece("bytes=0-")
    assert first.status_code == 206
    assert first.headers["Content-Range"] == f"bytes 0-{LONGEST_RANGE_BYTES - 1}/{len(film)}"
    assert first.content == film[:LONGEST_RANGE_BYTES]
    middle = piece("bytes=1048570-1048590")
    assert middle.content == film[1_048_570:1_048_591]
    end = piece(f"bytes={len(film) - 5}-{len(film) + 100}")
    assert end.content == film[-5:]
    assert piece(f"bytes={len(film)}-").status_code == 416
    whole = viewer.get(url)
    assert whole.status_code == 200
    assert b"".join(whole.streaming_content) == film  # type: ignore[attr-defined]
    kept = viewer.get(f"{url}?keep=true")
    assert "attachment" in kept.headers["Content-Disposition"]


def test_a_print_outlives_its_scene_and_is_thrown_away_with_its_film(
    demo: Demo, owner: Client
) -> None:
    made = kept_print(demo, b"one film")
    twin = Print.objects.get(pk=made.pk)
    twin.pk = None
    twin.save()
    made.document = None
    made.save()
    assert [one["name"] for one in prints(owner, demo)] == ["Sc 04 Quay at dusk"] * 2
    assert owner.delete(f"/api/prints/{made.pk}").status_code == 200
    # Another print is the same film.
    assert StoredFile.objects.filter(pk=made.film_id).exists()
    assert owner.delete(f"/api/prints/{twin.pk}").status_code == 200
    assert not StoredFile.objects.filter(pk=made.film_id).exists()
    assert owner.get(f"/api/prints/{twin.pk}").status_code == 404
