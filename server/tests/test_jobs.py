"""Long work: asked for once, told as it goes, cancelled, taken up again."""

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from accounts.models import Membership
from core.tests.motions import FileStyle, bvh_text, bvh_values
from documents.memory import memory
from documents.models import Document
from elastic_core.errors import Refusal
from elastic_core.formats import bvh, bvh_rows
from elastic_core.formats.bvh_clip import Wanted, bring_in
from elastic_core.formats.clip_file import ClipFile
from elastic_core.formats.scene_file import read_own_file
from jobs import running
from jobs.models import Job
from jobs.running import Run, carry_out_job
from library import files, motions, reading, shelf
from library.models import MotionBlock, MotionChunk, MotionIndex, StoredFile

from .conftest import Demo, client_of, files_kept
from .test_import import bring, send

VALUES = bvh_values(3000)
TAKE = bvh_text(VALUES, FileStyle())


@pytest.fixture(autouse=True)
def everything_is_large(monkeypatch: pytest.MonkeyPatch) -> None:
    """Small files go the way of large ones, in many blocks, and tell of each."""
    monkeypatch.setattr(reading, "LIGHT_BYTES", 1000)
    monkeypatch.setattr(bvh_rows, "BLOCK_BYTES", 1 << 14)
    monkeypatch.setattr(motions, "WHOLE_BYTES", 1 << 16)
    monkeypatch.setattr(running, "TELL_EVERY_S", 0.0)


def work() -> None:
    """What a worker does with all that waits."""
    for job in Job.objects.filter(state=Job.State.WAITING).order_by("created"):
        carry_out_job(job.pk)


def jobs_of(client: Client, demo: Demo) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get(f"/api/productions/{demo.production}/jobs").json()
    return found


def queued() -> int:
    with connection.cursor() as cursor:
        cursor.execute("SELECT count(*) FROM procrastinate_jobs WHERE status = 'todo'")
        return int(cursor.fetchone()[0])


def read_in(client: Client, demo: Demo) -> str:
    """The take sent and read by a worker; the name of its file."""
    send(client, demo, TAKE)
    work()
    return str(Job.objects.get(kind="read motion").outcome["file"])


def on_progress(monkeypatch: pytest.MonkeyPatch, at: int, do: Callable[[Run], None]) -> None:
    """Do something when a worker has told of its progress so many times."""
    told = Run.progress
    count = [0]

    def progress(run: Run, *figures: Any) -> None:
        count[0] += 1
        if count[0] == at:
            do(run)
        told(run, *figures)

    monkeypatch.setattr(Run, "progress", progress)


def test_a_large_file_is_read_and_brought_in_by_a_worker(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    figures: list[tuple[int, int, str]] = []
    told = Run.progress

    def heard(run: Run, figure: int, of: int, unit: str) -> None:
        figures.append((figure, of, unit))
        told(run, figure, of, unit)

    monkeypatch.setattr(Run, "progress", heard)
    before = queued()
    asked = send(owner, demo, TAKE)
    assert asked.status_code == 202
    assert (asked.json()["state"], asked.json()["title"]) == ("waiting", "slow_walk-01.bvh")
    assert queued() == before + 1
    work()
    (read,) = jobs_of(owner, demo)
    assert (read["state"], read["figure"], read["of"]) == ("done", 3000, 3000)
    assert read["says"] == ["3,000 frames are read."]
    assert [figure for figure, _, _ in figures] == sorted(figure for figure, _, _ in figures)
    assert len(figures) > 10
    base = f"/api/productions/{demo.production}/files/{read['file']}"
    report = owner.get(base).json()
    assert (report["frames"], report["suggested_name"]) == (3000, "Slow walk 01")
    wish = {"file": read["file"], "name": "Long", "is_cycle": False, "token": "one"}
    assert bring(owner, demo, **wish).status_code == 202
    figures.clear()
    work()
    made = jobs_of(owner, demo)[1]
    assert (made["state"], made["title"]) == ("done", "Long")
    assert made["says"] == ["Long is in the library.", "Long is a new lay figure."]
    assert {unit for _, _, unit in figures} == {
        "frames kept",
        "frames searched for feet on the ground",
    }
    clip = shelf.clip_of(Document.objects.get(pk=made["clip"]))
    direct = bring_in(bvh.read(TAKE), Wanted(name="Long", is_cycle=False), "f")[1]
    assert isinstance(clip.samples, motions.KeptMotion)
    assert clip.clip.plants == direct.clip.plants
    here, there = clip.samples.whole(), direct.samples.whole()
    assert np.abs(here.rotations - there.rotations).max() < 1e-6
    assert np.abs(here.moves[2] - there.moves[2]).max() < 1e-6
    assert motions.name_of(there) == clip.clip.motion
    assert not MotionBlock.objects.filter(pk__startswith="in:").exists()


def test_poses_of_a_large_file_are_read_by_window(demo: Demo, owner: Client) -> None:
    file = read_in(owner, demo)
    memory.forget()
    kept = StoredFile.objects.get(sha256=file)
    rows = reading.motion_of(kept)
    asked: list[int] = []
    fetch = files.slices

    def counted(of: StoredFile, ranges: Any) -> list[bytes]:
        asked.extend(end - start for start, end in ranges)
        return fetch(of, ranges)

    found = bvh.IndexedBvh(
        rows.index,  # type: ignore[attr-defined]
        lambda ranges: counted(kept, ranges),
    )
    picked = np.array([2999, 0, 1500, 1501])
    with CaptureQueriesContext(
        connection,
    ) as queries:
        assert np.array_equal(found.rows(picked), VALUES[picked])
    assert len(queries) == 1
    assert sum(asked) < len(TAKE) / 500
    base = f"/api/productions/{demo.production}/files/{file}"
    pack = owner.post(f"{base}/frames", {"most": 240}, content_type="application/json")
    assert pack.status_code == 200


def test_slices_are_the_bytes_wherever_chunks_end(
    demo: Demo, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(files, "CHUNK_BYTES", 1000)
    kept = files.store(demo.scene.production, "take.bvh", TAKE)
    ranges = [
        (0, 10),
        (990, 1010),
        (2500, 5500),
        (999, 1000),
        (1000, 1001),
        (len(TAKE) - 7, len(TAKE)),
    ]
    assert files.slices(kept, ranges) == [TAKE[start:end] for start, end in ranges]
    assert files.slices(kept, []) == []
    assert files.load(kept) == TAKE


def test_windows_of_a_kept_motion_are_the_motion(demo: Demo) -> None:
    whole = bring_in(bvh.read(TAKE), Wanted(name="Long", is_cycle=False), "f")[1].samples
    name = motions.store(whole)
    memory.forget()
    kept = motions.load(name)
    assert isinstance(kept, motions.KeptMotion)
    picked = np.array([2999, 0, 1023, 1024, 5, 5])
    there = whole.whole().at(picked)
    with CaptureQueriesContext(connection) as queries:
        here = kept.at(picked)
        travel = kept.travel_at(picked)
    # Three chunks in one query, and none again for the travel.
    assert len(queries) == 1
    assert np.array_equal(here.rotations, there.rotations.astype("f4"))
    assert np.array_equal(here.moves[2], there.moves[2].astype("f4"))
    assert np.array_equal(travel, there.travel.astype("f4"))
    assert sum(window.frames for window in kept.windows()) == 3000
    assert motions.store(kept) == name == motions.name_of(kept.whole())


def test_what_runs_is_cancelled_and_leaves_nothing(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    documents = Document.objects.count()
    send(owner, demo, TAKE)
    on_progress(monkeypatch, 3, lambda run: cancelled(owner, run))
    work()
    (told,) = jobs_of(owner, demo)
    assert (told["state"], told["is_cancelled"]) == ("cancelled", True)
    assert 0 < told["figure"] < 3000
    assert (files_kept().count(), MotionIndex.objects.count()) == (0, 0)
    # The same may be asked for again.
    file = read_in_again(owner, demo)
    on_progress(monkeypatch, 2, lambda run: cancelled(owner, run))
    bring(owner, demo, file=file, name="Long", is_cycle=False)
    work()
    assert jobs_of(owner, demo)[-1]["state"] == "cancelled"
    assert Document.objects.count() == documents
    assert not MotionChunk.objects.filter(block__sha256__startswith="in:").exists()


def cancelled(client: Client, run: Run) -> None:
    client.post(f"/api/jobs/{run.job.pk}/cancel")


def read_in_again(client: Client, demo: Demo) -> str:
    send(client, demo, TAKE)
    work()
    return str(Job.objects.get(kind="read motion", state="done").outcome["file"])


def test_what_waits_is_cancelled_at_once(demo: Demo, owner: Client) -> None:
    job = send(owner, demo, TAKE).json()["id"]
    assert owner.post(f"/api/jobs/{job}/cancel").json()["state"] == "cancelled"
    assert files_kept().count() == 0
    work()
    carry_out_job(Job.objects.get().pk)
    assert Job.objects.get().tries == 0
    # Its end was seen: it is listed no more.
    owner.post(f"/api/jobs/{job}/seen")
    assert jobs_of(owner, demo) == []


def test_a_broken_file_is_refused_by_its_frame_and_not_kept(demo: Demo, owner: Client) -> None:
    lines = TAKE.split(b"\n")
    lines[-10] = lines[-10] + b" 1.0"
    send(owner, demo, b"\n".join(lines))
    work()
    (told,) = jobs_of(owner, demo)
    assert told["state"] == "refused"
    assert told["says"] == ["Frame 2991 has 17 values; 16 were expected."]
    assert files_kept().count() == 0


def test_a_wish_that_cannot_be_met_is_refused_in_a_sentence(demo: Demo, owner: Client) -> None:
    file = read_in(owner, demo)
    bring(owner, demo, file=file, name="Never", start=10, end=4000)
    work()
    told = jobs_of(owner, demo)[-1]
    assert told["says"] == ["The range 10 to 4000 is not inside 0 to 3000."]
    assert not Document.objects.filter(kind="clip", name="Never").exists()


def test_the_same_wish_is_the_same_job(demo: Demo, owner: Client) -> None:
    first = send(owner, demo, TAKE).json()
    assert send(owner, demo, TAKE, "again.bvh").json()["id"] == first["id"]
    work()
    # Read once, it is known at once.
    assert send(owner, demo, TAKE).json()["state"] == "done"
    wish = {"file": Job.objects.get().outcome["file"], "name": "Twice", "is_cycle": False}
    for token in ("one", "one", "two"):
        bring(owner, demo, **wish, token=token)
        work()
    assert Document.objects.filter(kind="clip", name="Twice").count() == 2


def test_what_a_dead_worker_left_is_taken_up_from_the_start(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A worker dies in the middle: another does the job, and the first, were it alive, says nothing."""
    file = read_in(owner, demo)
    bring(owner, demo, file=file, name="Long", is_cycle=False)
    job = Job.objects.get(kind="bring in")

    def die(run: Run) -> None:
        raise KeyboardInterrupt

    on_progress(monkeypatch, 2, die)
    with pytest.raises(KeyboardInterrupt):
        carry_out_job(job.pk)
    left = MotionBlock.objects.get(pk__startswith="in:")
    assert left.chunks.count() >= 1
    first = Job.objects.get(pk=job.pk)
    assert (first.state, first.tries) == ("running", 1)
    carry_out_job(job.pk)
    assert Document.objects.filter(kind="clip", name="Long").count() == 1
    assert not MotionBlock.objects.filter(pk__startswith="in:").exists()
    with pytest.raises(running.Stopped), Run(first).closing():
        raise AssertionError
    with pytest.raises(running.Stopped):
        Run(first).progress(1, 2, "frames")
    Run(first).refuse("No.")
    assert Job.objects.get(pk=job.pk).state == "done"
    # Done, it is not done once more.
    carry_out_job(job.pk)
    assert Document.objects.filter(kind="clip", name="Long").count() == 1


def test_what_nobody_foresaw_is_told_too(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    send(owner, demo, TAKE)
    monkeypatch.setattr(bvh, "indexed", lambda *args: 1 / 0)
    work()
    assert jobs_of(owner, demo)[0]["says"] == [running.UNEXPECTED]


def test_nobody_else_sees_or_cancels_a_job(demo: Demo, owner: Client) -> None:
    job = send(owner, demo, TAKE).json()["id"]
    user = User.objects.create_user("colleague")
    Membership.objects.create(production_id=demo.production, user=user, role=Membership.Role.EDITOR)
    colleague = client_of(user)
    assert jobs_of(colleague, demo) == []
    assert colleague.get(f"/api/jobs/{job}").status_code == 404
    assert colleague.post(f"/api/jobs/{job}/cancel").status_code == 404
    assert colleague.post(f"/api/jobs/{job}/seen").status_code == 404
    assert owner.get(f"/api/jobs/{job}").json()["state"] == "waiting"


def test_the_clip_file_of_a_long_take_goes_out_in_pieces(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    file = read_in(owner, demo)
    bring(owner, demo, file=file, name="Long", is_cycle=False)
    work()
    clip = Document.objects.get(kind="clip", name="Long")
    there = shelf.clip_of(clip).samples.whole()
    monkeypatch.setattr(motions.KeptMotion, "whole", lambda kept: 1 / 0)
    pieces = list(owner.get(f"/api/clips/{clip.pk}/file"))
    assert max(map(len, pieces)) < sum(map(len, pieces)) / 4
    held = read_own_file(ClipFile, b"".join(pieces), "clip").playable().samples.whole()
    assert np.array_equal(held.travel, there.travel)
    assert np.array_equal(held.rotations, there.rotations)
    assert all(np.array_equal(held.moves[joint], there.moves[joint]) for joint in there.moves)


def test_two_people_read_the_same_file_and_one_cancels(demo: Demo, owner: Client) -> None:
    user = User.objects.create_user("colleague")
    Membership.objects.create(production_id=demo.production, user=user, role=Membership.Role.EDITOR)
    colleague = client_of(user)
    first, second = send(owner, demo, TAKE).json(), send(colleague, demo, TAKE).json()
    assert first["id"] != second["id"]
    owner.post(f"/api/jobs/{first['id']}/cancel")
    work()
    assert [job["state"] for job in jobs_of(owner, demo)] == ["cancelled"]
    assert [job["says"] for job in jobs_of(colleague, demo)] == [["3,000 frames are read."]]
    # What one has read, the other need not read again.
    again = send(owner, demo, TAKE).json()
    work()
    done = owner.get(f"/api/jobs/{again['id']}").json()
    assert (done["state"], done["of"], done["file"]) == (
        "done",
        0,
        jobs_of(colleague, demo)[0]["file"],
    )


def test_what_is_cancelled_while_it_is_refused_is_cancelled(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    send(owner, demo, TAKE)

    def cancelled_and_refused(run: Run) -> None:
        cancelled(owner, run)
        raise Refusal("No.")

    on_progress(monkeypatch, 2, cancelled_and_refused)
    work()
    assert [job["state"] for job in jobs_of(owner, demo)] == ["cancelled"]
    assert files_kept().count() == 0


def own_file(client: Client, demo: Demo, data: bytes, name: str = "amble.clip.json") -> Any:
    upload = {"upload": SimpleUploadedFile(name, data)}
    return client.post(f"/api/productions/{demo.production}/own-files", upload)


def test_a_large_file_of_ours_is_opened_by_a_job(demo: Demo, owner: Client) -> None:
    amble = demo.document("clip", "Amble")
    text = owner.get(f"/api/clips/{amble.pk}/file").getvalue()
    other = text.replace(b'"name":"Amble"', b'"name":"Harbour amble"', 1)
    for round_ in (1, 2):
        asked = own_file(owner, demo, other)
        assert asked.status_code == 202
        work()
        job = owner.get(f"/api/jobs/{asked.json()['id']}").json()
        assert job["state"] == "done"
        came = ["1 new clip came with it."] if round_ == 1 else []
        assert job["says"] == ["Harbour amble is in the library.", *came]
        # What is here already is used, and the file itself is not kept.
        assert Document.objects.filter(name="Harbour amble").count() == 1
        assert job["clip"] == str(Document.objects.get(name="Harbour amble").pk)
    assert files_kept().count() == 0


def test_a_large_file_that_is_none_of_ours_is_refused_and_not_kept(
    demo: Demo, owner: Client
) -> None:
    before = Document.objects.count()
    refused = own_file(owner, demo, b"{" + b" " * 5000 + b"}")
    assert refused.status_code == 422
    assert refused.json()["message"].startswith(
        "This is no timeline, and neither a scene nor a clip"
    )
    motion = send(owner, demo, b"PNG" + b" " * 5000)
    assert "does not begin with HIERARCHY" in motion.json()["message"]
    # It begins as ours do, and goes on otherwise: nothing of it stays.
    half = b'{"format":"elastic-hours-clip","version":2,' + b" " * 5000
    asked = own_file(owner, demo, half)
    assert asked.status_code == 202
    work()
    job = owner.get(f"/api/jobs/{asked.json()['id']}").json()
    assert job["state"] == "refused"
    assert job["says"][0].startswith("This is not a clip file that can be read.")
    assert (Document.objects.count(), files_kept().count()) == (before, 0)
