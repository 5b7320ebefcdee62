"""Takes from the capture stage: numbered, laid on their own clock, and kept whoever dies meanwhile."""

import socket
import struct
import threading
from collections.abc import Callable, Iterator

import numpy as np
import pytest
from django.test import Client
from django.utils import timezone

from api import stage as stage_api
from documents.models import Document
from documents.opening import document_of, opened
from elastic_core.capture.stream import laid
from elastic_core.capture.take import Lost, Take
from elastic_core.formats.stage_lines import read_record
from jobs import running
from jobs.models import Job
from jobs.running import Run, carry_out_job
from library import files, recording
from library.models import RecordedLines, Recording, StoredFile

from .conftest import Demo
from .stages import FPS, MadeStage, made_lines
from .test_joins import unpacked

LINES = made_lines([("arms out", 60), ("stand", 60), ("walk", 240)])
Stages = Callable[..., MadeStage]


@pytest.fixture(autouse=True)
def told_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(running, "TELL_EVERY_S", 0.0)
    monkeypatch.setattr(recording, "_KEPT_EVERY_S", 0.0)


@pytest.fixture
def stage(settings: object) -> Iterator[Stages]:
    """Starts a made stage where the server listens for one."""
    started: list[MadeStage] = []

    def start(*args: object, **how: object) -> MadeStage:
        made = MadeStage(*args, **how)  # type: ignore[arg-type]
        started.append(made)
        settings.CAPTURE_STAGE = made.address  # type: ignore[attr-defined]
        return made

    yield start
    for made in started:
        made.close()


def url(demo: Demo, rest: str = "") -> str:
    return f"/api/productions/{demo.production}/stage{rest}"


def armed(client: Client, demo: Demo, **wanted: object) -> dict[str, object]:
    body = {"label": "quay walk", "countdown_seconds": 0, **wanted}
    answer = client.post(url(demo, "/recordings"), body, content_type="application/json")
    assert answer.status_code == 202, answer.content
    found: dict[str, object] = answer.json()
    return found


def when_kept(monkeypatch: pytest.MonkeyPatch, lines: int, do: Callable[[Run], object]) -> None:
    """Do something once a worker has kept so many lines."""
    told = Run.progress

    def progress(run: Run, figure: int, of: int, unit: str) -> None:
        if unit == "frames" and figure >= lines:
            do(run)
        told(run, figure, of, unit)

    monkeypatch.setattr(Run, "progress", progress)


def stopped(run: Run) -> None:
    for row in Recording.objects.all():
        recording.stop(row)


def work() -> Job:
    job = Job.objects.filter(kind="record", state__in=Job.UNDER_WAY).get()
    carry_out_job(job.pk)
    job.refresh_from_db()
    return job


def the_take(job: Job) -> Take:
    take: Take = document_of(Document.objects.get(pk=job.outcome["take"]))
    return take


def test_a_take_is_recorded_with_its_lost_frames_listed(
    demo: Demo, owner: Client, stage: Stages, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage(LINES)
    when_kept(monkeypatch, len(LINES), stopped)
    odo = demo.document("figure", "Odo")
    under_way = armed(owner, demo, onto=str(odo.pk))
    assert owner.get(url(demo)).json()["recording"]["id"] == under_way["id"]
    job = work()
    assert job.state == Job.State.DONE, job.says
    take = the_take(job)
    # What is kept is laid as the core lays it, frame for frame.
    greeting = b"".join(files.pieces_of(StoredFile.objects.get(sha256=take.file)))
    kept = read_record(greeting.splitlines(keepends=True))
    assert len(kept.frames) == len(LINES)
    done = laid(kept.arrived, kept.greeting.rate)
    assert (take.name, take.length_frames) == ("quay walk 1", done.motion.frames)
    assert take.rate == FPS
    assert take.lost == done.lost
    assert take.lost
    assert all(isinstance(gap, Lost) and gap.filled for gap in take.lost)
    assert take.onto is not None
    assert take.onto.figure == str(odo.pk)
    row = Document.objects.get(pk=job.outcome["take"])
    samples = opened(row).made_of.samples.whole()
    assert np.allclose(samples.rotations, done.motion.rotations, atol=1e-6)
    lost = sum(gap.end - gap.start for gap in take.lost)
    assert job.outcome["says"] == [
        f"quay walk 1: {take.length_frames} frames, {take.length_frames / FPS:.1f} s;"
        f" {lost} lost, {lost} of them filled."
    ]
    assert not RecordedLines.objects.exists()
    assert owner.get(url(demo)).json()["recording"] is None
    # It cleans like a file: the same routes, the same recipe.
    window = {"from_frame": 0, "to_frame": take.length_frames}
    sheet = owner.post(f"/api/takes/{row.pk}/cleaned", window, content_type="application/json")
    assert sheet.status_code == 200, sheet.content
    assert sheet.json()["rate"] == "24"


def test_takes_are_numbered_by_themselves(
    demo: Demo, owner: Client, stage: Stages, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage(made_lines([("walk", 200)]))
    when_kept(monkeypatch, 50, stopped)
    names = []
    for label in ("quay walk", "quay walk", "灯台 歩き", "quay walk"):
        armed(owner, demo, label=label)
        names.append(the_take(work()).name)
    assert names == ["quay walk 1", "quay walk 2", "灯台 歩き 1", "quay walk 3"]
    # All of one suit: the lay figure is there once.
    assert (
        len(
            {
                document_of(row).figure
                for row in Document.objects.filter(kind="take", name__startswith="quay walk")
            }
        )
        == 1
    )


def test_a_stage_that_dies_in_the_middle_keeps_what_came(
    demo: Demo, owner: Client, stage: Stages
) -> None:
    stage(LINES[:200], dies=True)
    armed(owner, demo)
    job = work()
    assert job.state == Job.State.DONE, job.says
    assert job.outcome["says"][0] == "The stage went away: what came until then is kept."
    clocks = [frame.clock for frame in read_record([_greeting(), *LINES[:200]]).frames]
    assert the_take(job).length_frames == round((max(clocks) - min(clocks)) * FPS) + 1


def _greeting() -> bytes:
    made = MadeStage([], dies=True)
    with socket.create_connection(made.address) as line:
        told = line.makefile("rb").readline()
    made.close()
    return told


@pytest.mark.parametrize(("same_run", "frames"), [(True, 360), (False, 150)])
def test_a_worker_that_dies_in_the_middle_loses_nothing(
    demo: Demo,
    owner: Client,
    stage: Stages,
    monkeypatch: pytest.MonkeyPatch,
    same_run: bool,
    frames: int,
) -> None:
    first = stage(LINES[:150])
    armed(owner, demo)

    class Killed(BaseException):
        pass

    def killed(run: Run) -> None:
        raise Killed

    with monkeypatch.context() as until_then:
        when_kept(until_then, 150, killed)
        with pytest.raises(Killed):
            work()
    assert Job.objects.get(kind="record").state == Job.State.RUNNING
    assert RecordedLines.objects.exists()
    first.close()
    stage(LINES[150:], run="run one" if same_run else "run two")
    when_kept(monkeypatch, len(LINES), stopped)
    job = work()
    assert job.state == Job.State.DONE, job.says
    assert abs(the_take(job).length_frames - frames) <= 12
    assert ("The stage was started anew" in job.outcome["says"][0]) is not same_run


def test_what_is_thrown_away_leaves_nothing(
    demo: Demo, owner: Client, stage: Stages, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage(LINES)
    before = Document.objects.count()
    under_way = armed(owner, demo)

    def thrown_away(run: Run) -> None:
        owner.post(f"/api/jobs/{under_way['job']['id']}/cancel")  # type: ignore[index]

    when_kept(monkeypatch, 100, thrown_away)
    assert work().state == Job.State.CANCELLED
    assert (Document.objects.count(), Recording.objects.count()) == (before, 0)
    assert not RecordedLines.objects.exists()


def test_nothing_of_the_countdown_is_in_the_take(
    demo: Demo, owner: Client, stage: Stages, monkeypatch: pytest.MonkeyPatch
) -> None:
    """All that the stage sends comes before the countdown is over: nothing is left to lay down."""
    stage(LINES, dies=True)
    under_way = armed(owner, demo, countdown_seconds=30)
    row = Recording.objects.get(pk=str(under_way["id"]))
    assert 28 < (row.begins - timezone.now()).total_seconds() <= 30
    job = work()
    assert (job.state, job.says) == (Job.State.REFUSED, "No frame came from the stage.")
    assert not Recording.objects.exists()


def test_two_takes_at_once_are_refused_and_a_stage_that_is_not_there_says_so(
    demo: Demo, owner: Client, stage: Stages
) -> None:
    made = stage(LINES)
    armed(owner, demo)
    body = {"label": "another", "countdown_seconds": 0}
    again = owner.post(url(demo, "/recordings"), body, content_type="application/json")
    assert again.status_code == 422
    assert again.json()["message"] == "quay walk 1 is being recorded: stop it first."
    made.close()
    there = owner.get(url(demo)).json()
    assert there["says"] == f"No capture stage answers at 127.0.0.1:{made.address[1]}."
    assert there["figure"] is None
    gone = owner.post(url(demo, "/recordings"), body, content_type="application/json")
    assert gone.status_code == 422
    assert owner.get(url(demo, "/live")).status_code == 422


def test_who_is_captured_is_told_and_can_be_asked(demo: Demo, owner: Client, stage: Stages) -> None:
    made = stage(LINES)
    told = owner.get(url(demo)).json()
    assert (told["rate"], told["doing"], told["says"]) == ("120", "stand", "")
    assert len(told["figure"]["joints"]) == 26
    assert told["figure"]["dress"] is not None
    for move, status in (("stumble", 200), ("fly", 422)):
        answer = owner.post(url(demo, "/asks"), {"move": move}, content_type="application/json")
        assert answer.status_code == status
    assert made.asked.get(timeout=20) == "stumble"
    assert made.asked.empty()


def test_the_live_figure_is_the_newest_frame(
    demo: Demo, owner: Client, stage: Stages, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage(LINES, dies=True)
    data = b"".join(owner.get(url(demo, "/live")).streaming_content)  # type: ignore[attr-defined]
    packs = []
    while data:
        (length,) = struct.unpack("<I", data[:4])
        packs.append(unpacked(data[4 : 4 + length])[0])
        data = data[4 + length :]
    assert packs
    assert packs[-1]["live/positions"].shape == (1, 26, 3)
    # The last frame shows somebody who walks: their hips are above the ground, and ahead of the start.
    hips = packs[-1]["live/positions"][0, 0]
    assert 0.8 < hips[1] < 1.1
    assert hips[2] > 0.5


def test_a_recording_that_is_not_there_cannot_be_stopped(demo: Demo, owner: Client) -> None:
    missing = "6a2f7c9e-0000-4000-8000-000000000000"
    assert owner.post(url(demo, f"/recordings/{missing}/stop")).status_code == 404


def test_no_more_watch_than_leave_room_for_others(
    demo: Demo, owner: Client, stage: Stages, monkeypatch: pytest.MonkeyPatch
) -> None:
    stage(LINES, dies=True)
    places = threading.BoundedSemaphore(1)
    monkeypatch.setattr(stage_api, "_places", places)
    assert places.acquire(blocking=False)
    shut_out = b"".join(owner.get(url(demo, "/live")).streaming_content)  # type: ignore[attr-defined]
    assert shut_out == b""
    places.release()
    seen = b"".join(owner.get(url(demo, "/live")).streaming_content)  # type: ignore[attr-defined]
    assert len(seen) > 1_000
    # Who has watched makes room for the next.
    assert places.acquire(blocking=False)
