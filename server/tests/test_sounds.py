"""Sounds brought in, laid in a scene, and heard as the API gives them."""

import hashlib
import io
from typing import Any

import numpy as np
import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from accounts.models import Membership, Production
from core.tests.sounds import FORMS, bursts, centres, file_of
from documents.memory import memory
from documents.models import Document
from elastic_core.formats.sound_file import read_flac
from elastic_core.sound.document import HOUSE_RATE
from elastic_core.sound.samples import Samples
from jobs.models import Job
from jobs.running import carry_out_job
from library import sounds
from library.models import SoundChunk, StoredFile

from .conftest import Demo, edit

pytestmark = pytest.mark.django_db
BELL = bursts(4.0)
WAVE = file_of(BELL, "WAV")


def bring_in(client: Client, demo: Demo, data: bytes, name: str = "01 Bell.wav") -> Any:
    upload = SimpleUploadedFile(name, data)
    return client.post(f"/api/productions/{demo.production}/sounds", {"upload": upload})


def laid(client: Client, demo: Demo, start: float = 24.0) -> str:
    """The bell laid in the demo's scene; its document's id."""
    sound: str = bring_in(client, demo, WAVE).json()["id"]
    change = {"kind": "lay_sound", "laid": "bell", "sound": sound, "lane": "x", "start": start}
    answer = edit(client, demo, change, demo.scene.head, token="lay")
    assert answer.status_code == 200, answer.content
    return sound


def desk(client: Client, demo: Demo) -> Any:
    return client.get(demo.url).json()["desk"]


def heard(client: Client, demo: Demo, piece: int = 0, **more: str) -> Any:
    asked = {"heard": desk(client, demo)["heard"], "piece": str(piece), **more}
    return client.get(f"{demo.url}/sound", asked)


def samples(answer: Any) -> Samples:
    assert answer.status_code == 200, answer.content
    assert answer.headers["Content-Type"] == "audio/flac"
    assert "immutable" in answer.headers["Cache-Control"]
    return read_flac(answer.content)


@pytest.mark.parametrize("form", FORMS)
def test_six_forms_become_sounds_whatever_their_names(
    editor: Client, demo: Demo, form: str
) -> None:
    answer = bring_in(editor, demo, file_of(BELL, form), f"3 灯台 bell.{form.lower()}")
    assert answer.status_code == 201, answer.content
    card = answer.json()
    assert (card["name"], card["form"], card["rate_hz"]) == ("3 灯台 bell", form, HOUSE_RATE)
    assert card["length_seconds"] == pytest.approx(4, abs=0.06)
    whole = samples(editor.get(f"/api/sounds/{card['id']}/heard"))
    assert centres(whole) == pytest.approx([0.05 + 0.5 * k for k in range(8)], abs=0.003)


def test_the_same_file_is_one_sound_and_decoded_once(editor: Client, demo: Demo) -> None:
    first, again = (bring_in(editor, demo, WAVE).json()["id"] for _ in range(2))
    assert first == again
    other = bring_in(editor, demo, WAVE, "Buoy.wav").json()
    assert other["id"] != first
    assert SoundChunk.objects.filter(block=hashlib.sha256(WAVE).hexdigest()).count() == 1
    view = editor.get(f"/api/productions/{demo.production}").json()
    assert {"01 Bell", "Buoy"} <= {card["name"] for card in view["sounds"]}


def test_what_is_no_sound_is_refused_and_not_kept(
    editor: Client, viewer: Client, stranger: Client, demo: Demo
) -> None:
    before = StoredFile.objects.count()
    answer = bring_in(editor, demo, b"HIERARCHY\nROOT hips", "walk.bvh")
    assert answer.status_code == 422
    assert answer.json()["message"] == (
        "“walk.bvh” is no sound that can be read: bring a WAV, AIFF, FLAC, OGG, MP3 or M4A file."
    )
    assert bring_in(viewer, demo, WAVE).status_code == 422
    assert bring_in(stranger, demo, WAVE).status_code == 404
    assert StoredFile.objects.count() == before


def test_a_sound_is_drawn_and_heard_by_members_alone(
    editor: Client, viewer: Client, stranger: Client, demo: Demo
) -> None:
    sound = bring_in(editor, demo, WAVE).json()["id"]
    for part in ("peaks", "heard"):
        assert viewer.get(f"/api/sounds/{sound}/{part}").status_code == 200
        assert stranger.get(f"/api/sounds/{sound}/{part}").status_code == 404
    pack = viewer.get(f"/api/sounds/{sound}/peaks").content
    length = int.from_bytes(pack[:8], "little")
    peaks = np.frombuffer(pack[8 + length :], dtype=np.uint8)[: 2 * 750].reshape(-1, 2)
    assert (peaks[5] == [77, 179]).all()


def test_a_laid_sound_is_heard_in_the_scene_where_it_lies(
    editor: Client, stranger: Client, demo: Demo
) -> None:
    assert desk(editor, demo)["heard"] is None
    sound = laid(editor, demo)
    frame = HOUSE_RATE // 24
    whole = samples(heard(editor, demo))
    assert len(whole) == 10 * HOUSE_RATE
    assert np.abs(whole[24 * frame :][: len(BELL)] - BELL).max() <= 1 / 32_767
    assert not whole[24 * frame + len(BELL) :].any()
    seconds = desk(editor, demo)["played_frames"] / 24
    assert len(samples(heard(editor, demo, piece=1))) == round((seconds - 10) * HOUSE_RATE)
    assert heard(editor, demo, piece=9).json()["message"] == "The scene is over by then."
    asked = {"heard": desk(editor, demo)["heard"], "piece": "0"}
    assert stranger.get(f"{demo.url}/sound", asked).status_code == 404
    used = editor.get(f"/api/productions/{demo.production}").json()["sounds"]
    assert [use["name"] for card in used if card["id"] == sound for use in card["used_in"]] == [
        "Sc 04 Quay at dusk"
    ]
    gone = editor.delete(f"/api/documents/{sound}")
    assert gone.status_code == 422
    assert "is used in “Sc 04 Quay at dusk”" in gone.json()["message"]


def test_pieces_of_ten_seconds_join_without_a_gap(editor: Client, demo: Demo) -> None:
    laid(editor, demo, start=24 * 8.5)
    both = np.concatenate([samples(heard(editor, demo, piece=k)) for k in (0, 1)])
    at = round(8.5 * HOUSE_RATE)
    assert np.abs(both[at:][: len(BELL)] - BELL).max() <= 1 / 32_767


def test_what_was_heard_before_an_edit_is_asked_for_by_its_revision(
    editor: Client, demo: Demo
) -> None:
    laid(editor, demo)
    before, revision = desk(editor, demo)["heard"], editor.get(demo.url).json()["revision"]
    change = {"kind": "set_sound", "laid": "bell", "muted": True}
    assert edit(editor, demo, change, revision, token="mute").status_code == 200
    assert not samples(heard(editor, demo)).any()
    late = editor.get(f"{demo.url}/sound", {"heard": before, "piece": "0"})
    assert (late.status_code, late.json()["message"]) == (422, "The sound was changed meanwhile.")
    asked = {"heard": before, "piece": "0", "revision": str(revision)}
    assert samples(editor.get(f"{demo.url}/sound", asked)).any()


def test_a_scene_goes_elsewhere_with_its_sounds(editor: Client, demo: Demo) -> None:
    laid(editor, demo, start=24.25)
    file = editor.get(f"{demo.url}/file")
    assert file.headers["Content-Type"] == "application/zip"
    assert ".scene.zip" in file.headers["Content-Disposition"]
    elsewhere = Production.objects.create(name="Elsewhere")
    user = User.objects.get(username="edda")
    Membership.objects.create(production=elsewhere, user=user, role="owner")
    for says in (["1 new sound came with it."], []):
        upload = SimpleUploadedFile("Quay.scene.zip", file.content)
        back = editor.post(f"/api/productions/{elsewhere.pk}/own-files", {"upload": upload})
        assert back.status_code == 201, back.content
        assert [word for word in back.json()["says"] if "sound" in word] == says
        there = f"/api/scenes/{back.json()['id']}"
        stamp = editor.get(there).json()["desk"]["heard"]
        asked = {"heard": stamp, "piece": "0"}
        same = samples(editor.get(f"{there}/sound", asked)) == samples(heard(editor, demo))
        assert same.all()


def test_drawing_a_sound_asks_the_database_little(
    editor: Client, demo: Demo, django_assert_max_num_queries: Any
) -> None:
    laid(editor, demo)
    base = editor.get(demo.url).json()["revision"]
    change = {"kind": "move_sound", "laid": "bell", "start": 30.25}
    edit(editor, demo, change, base, preview=True)
    with django_assert_max_num_queries(4):
        answer = edit(editor, demo, change, base, preview=True)
    (lane,) = answer.json()["scene"]["desk"]["sound_lanes"]
    assert lane["sounds"][0]["start"] == pytest.approx(30.25, abs=1e-3)


def test_a_sound_of_another_production_cannot_be_laid(editor: Client, demo: Demo) -> None:
    elsewhere = Document.objects.create(
        production=Production.objects.create(name="Far"), kind="sound", name="Far"
    )
    change = {
        "kind": "lay_sound",
        "laid": "a",
        "sound": str(elsewhere.pk),
        "lane": "x",
        "start": 0,
    }
    answer = edit(editor, demo, change, demo.scene.head, token="far")
    assert (answer.status_code, answer.json()["message"]) == (
        422,
        "A sound of the scene is missing.",
    )


def test_a_large_file_is_brought_in_by_a_job(
    editor: Client, demo: Demo, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sounds, "LIGHT_BYTES", 1_000)
    long = bursts(25.0)
    answer = bring_in(editor, demo, file_of(long, "FLAC"), "Long bell.flac")
    assert answer.status_code == 202
    job = answer.json()
    carry_out_job(job["id"])
    done = editor.get(f"/api/jobs/{job['id']}").json()
    assert (done["state"], done["figure"], done["unit"]) == ("done", 3, "pieces of ten seconds")
    assert done["says"] == ["Long bell is in the library."]
    memory.forget()
    whole = samples(editor.get(f"/api/sounds/{done['sound']}/heard"))
    assert np.abs(whole - long).max() <= 1 / 16_383


def test_a_large_file_that_is_broken_off_leaves_nothing(
    editor: Client, demo: Demo, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sounds, "LIGHT_BYTES", 1_000)
    before = StoredFile.objects.count()
    broken = io.BytesIO(file_of(bursts(25.0), "M4A")).getvalue()[:9_000]
    job = bring_in(editor, demo, broken, "Broken.m4a").json()
    carry_out_job(job["id"])
    done = Job.objects.get(pk=job["id"])
    assert (done.state, done.says) == (
        "refused",
        "“Broken.m4a” cannot be read: it is no whole M4A file.",
    )
    assert StoredFile.objects.count() == before
