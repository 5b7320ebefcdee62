"""A production as one file: out, and in again on an empty machine, with nothing lost."""

import io
import json
import zipfile
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client

from accounts.models import Membership, Production
from copies.bringing import bring
from copies.nightly import due, file_name, keep, keep_all, tonight
from copies.taking import pieces, take
from documents.memory import memory
from documents.models import Block, Document, Revision, Use
from documents.opening import document_of, opened
from elastic_core.errors import Refusal
from library.models import MotionBlock, SoundBlock, StoredFile
from prints.models import Print

from .conftest import Demo, client_of, edit
from .prints import kept_print

MOVE = {"kind": "move_stint", "stint": "stand-2", "start": 266}
RENAME = {"kind": "rename_scene", "name": "港の灯 “Dusk”"}


def taken(production: Production) -> bytes:
    out = io.BytesIO()
    take(production, out)
    return out.getvalue()


def entries(data: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def emptied() -> None:
    """As on a machine where nothing was ever made."""
    Print.objects.all().delete()
    Use.objects.all().delete()
    Production.objects.all().delete()
    User.objects.all().delete()
    for dense in (Block, MotionBlock, SoundBlock):
        dense.objects.all().delete()
    memory.forget()


@pytest.fixture
def used(demo: Demo, owner: Client) -> Production:
    """The demo with a history: undone, archived, printed, with an author who has left."""
    gone = User.objects.create_user("gone", first_name="Aino", last_name="Meri")
    Membership.objects.create(production=demo.scene.production, user=gone, role="editor")
    assert edit(client_of(gone), demo, MOVE, 1).status_code == 200
    assert edit(owner, demo, RENAME, 2).status_code == 200
    assert edit(owner, demo, {**MOVE, "start": 268}, 3).status_code == 200
    back = owner.post(f"{demo.url}/undo", {"base_revision": 4}, content_type="application/json")
    assert back.status_code == 200
    Document.objects.filter(name="Hurry").update(archived=True, tags=["rain", "夜"])
    kept_print(demo)
    gone.memberships.all().delete()
    return demo.scene.production


def test_it_comes_back_equal_byte_for_byte(used: Production) -> None:
    data = taken(used)
    assert taken(used) == data
    documents, files = used.documents.count(), used.files.count()
    emptied()
    brought = bring(io.BytesIO(data))
    here = brought.production
    assert (here.pk, here.name) == (used.pk, "The Last Lamp")
    assert (here.documents.count(), here.files.count()) == (documents, files)
    assert (here.documents.count() > 30, here.prints.count()) == (True, 1)
    assert brought.new_accounts == ("gone", "mika")
    assert not User.objects.get(username="mika").has_usable_password()
    assert list(here.memberships.values_list("user__username", "role")) == [("mika", "owner")]
    # Whoever takes it out again has the same file.
    assert entries(taken(here)) == entries(data)
    assert taken(here) == data
    assert b"".join(pieces(here))[:4] == b"PK\x03\x04"


def test_everything_opens_plays_and_goes_on(used: Production, demo: Demo) -> None:
    data = taken(used)
    now = {row.pk: document_of(row).model_dump_json() for row in used.documents.all()}
    uses = set(Use.objects.values_list("document_id", "used_id"))
    emptied()
    bring(io.BytesIO(data))
    for row in Document.objects.all():
        assert document_of(row).model_dump_json() == now[row.pk], row.name
        assert opened(row).document.name == row.name
    assert set(Use.objects.values_list("document_id", "used_id")) == uses
    scene = Document.objects.get(pk=demo.scene.pk)
    assert (scene.name, scene.head) == ("港の灯 “Dusk”", 3)
    history = list(scene.revisions.order_by("number").values_list("number", "author__username"))
    assert history == [(1, "mika"), (2, "gone"), (3, "mika"), (4, "mika")]
    # What was undone can be done again, and work goes on.
    mika = client_of(User.objects.get(username="mika"))
    again = mika.post(f"{demo.url}/redo", {"base_revision": 3}, content_type="application/json")
    assert again.json()["revision"] == 4
    frames = mika.post(
        f"{demo.url}/frames", {"start": 0, "end": 24}, content_type="application/json"
    )
    assert frames.status_code == 200
    sound = Document.objects.filter(kind="sound").first()
    assert sound is not None
    assert mika.get(f"/api/sounds/{sound.pk}/peaks").status_code == 200


def test_a_copy_lies_beside_it_with_ids_of_its_own(used: Production) -> None:
    data = taken(used)
    with pytest.raises(Refusal, match="“The Last Lamp” is here already"):
        bring(io.BytesIO(data))
    before = Document.objects.count()
    copied = bring(io.BytesIO(data), "Second unit").production
    assert (copied.name, copied.pk != used.pk) == ("Second unit", True)
    assert Document.objects.count() == 2 * before
    scene = copied.documents.get(name="港の灯 “Dusk”")
    own = set(copied.documents.values_list("pk", flat=True))
    # It uses what lies beside it, and nothing of the other.
    assert {use.used_id for use in scene.uses.all()} <= own
    assert {str(name) for name in document_of(scene).document_ids} <= {str(pk) for pk in own}
    assert opened(scene).document.played_frames == 290
    one = copied.prints.get()
    assert one.document_id in own


def changed(data: bytes, change: Callable[[str, bytes], bytes | None]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            made = change(name, old.read(name))
            if made is not None:
                new.writestr(name, made)
    return out.getvalue()


def test_what_is_broken_is_refused_and_nothing_is_left(used: Production) -> None:
    data = taken(used)
    emptied()

    def without(start: str) -> bytes:
        return changed(data, lambda name, held: None if name.startswith(start) else held)

    def bent(start: str) -> bytes:
        return changed(data, lambda name, held: b"x" + held[1:] if name.startswith(start) else held)

    def newer(name: str, held: bytes) -> bytes:
        if name != "production.json":
            return held
        told = json.loads(held)
        told["migrations"]["library"] = "9999_holograms"
        return json.dumps(told).encode()

    for broken, says in (
        (b"", "is broken"),
        (data[: len(data) // 2], "is broken"),
        (b"PK\x03\x04 no zip", "is broken"),
        (without("production.json"), "no production of Elastic Hours"),
        (without("documents/"), "lacks a part"),
        (without("files/"), "lacks a part"),
        (without("motions/"), "lacks a part"),
        (without("end.json"), "lacks a part"),
        (bent("files/"), "is not the one that it was: it is broken"),
        (bent("documents/"), "JSON"),
        (changed(data, newer), "of a newer Elastic Hours"),
    ):
        with pytest.raises(Refusal, match=says):
            bring(io.BytesIO(broken))
        assert (Production.objects.count(), Revision.objects.count()) == (0, 0)
        assert (User.objects.count(), StoredFile.objects.count()) == (0, 0)


def test_an_owner_takes_it_out_from_the_page(used: Production, owner: Client) -> None:
    answer = owner.get(f"/api/productions/{used.pk}/whole")
    assert answer.headers["Content-Disposition"].endswith("The%20Last%20Lamp.production.zip")
    streamed: Any = answer
    with zipfile.ZipFile(io.BytesIO(b"".join(streamed.streaming_content))) as archive:
        assert archive.testzip() is None
        told = json.loads(archive.read("production.json"))
    assert (told["name"], len(told["documents"])) == ("The Last Lamp", used.documents.count())


def test_copies_are_kept_by_number(used: Production, tmp_path: Path) -> None:
    night = datetime(2026, 11, 29, 2, 0, tzinfo=UTC)
    Document.objects.update(changed=night)
    StoredFile.objects.update(created=night)
    Print.objects.update(created=night)
    Production.objects.update(created=night)
    for day in range(5):
        moment = night + timedelta(days=day, minutes=1)
        Document.objects.filter(name="Amble").update(changed=moment - timedelta(minutes=1))
        (made,) = keep_all(tmp_path, 3, moment)
        assert made.name == f"{moment:%Y-%m-%d %H%M%S}.production.zip"
    (folder,) = [path for path in tmp_path.iterdir() if path.is_dir()]
    assert folder.name == file_name(used).removesuffix(".production.zip")
    kept = sorted(path.name[:10] for path in folder.iterdir())
    assert kept == ["2026-12-01", "2026-12-02", "2026-12-03"]
    # Where nothing has changed, there is nothing to keep anew.
    assert keep_all(tmp_path, 3, night + timedelta(days=6)) == []
    assert len(list(folder.iterdir())) == 3


def test_each_night_once_however_late(settings: Any, used: Production, tmp_path: Path) -> None:
    at = datetime(2026, 11, 29, 1, 59, tzinfo=UTC)
    last = at - timedelta(days=1) + timedelta(minutes=2)
    assert not due(last, 2, at)
    assert due(last, 2, at + timedelta(minutes=1))
    assert due(last, 2, at + timedelta(days=3))
    assert not due(at + timedelta(minutes=1), 2, at + timedelta(hours=22))
    settings.COPIES_FOLDER = str(tmp_path / "copies")
    tonight()
    tonight()
    (copy,) = (tmp_path / "copies").glob("*/*.production.zip")
    assert copy.read_bytes() == taken(used)
    settings.COPIES_FOLDER = ""
    tonight()


def test_a_copy_is_whole_or_not_there(
    used: Production, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    there = tmp_path / "lamp.zip"
    there.write_bytes(b"last night's")

    def full(*words: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("copies.nightly.take", full)
    with pytest.raises(OSError, match="No space left"):
        keep(used, there)
    assert [path.name for path in tmp_path.iterdir()] == ["lamp.zip"]
    assert there.read_bytes() == b"last night's"
