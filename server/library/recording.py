"""A take is recorded from the capture stage: what comes is kept as it comes, and laid on its own clock at the
end. Whoever dies meanwhile, the stage or the worker, nothing that came is lost."""

import re
import time
import zlib
from collections.abc import Iterator
from datetime import timedelta
from fractions import Fraction
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from pydantic import BaseModel

from accounts.models import Production
from elastic_core.capture.recipe import house_recipe
from elastic_core.capture.stream import Laid, laid
from elastic_core.capture.take import Take
from elastic_core.clock import Rate
from elastic_core.errors import Refusal
from elastic_core.formats.stage_lines import StageRecord, read_greeting, read_record
from jobs.asking import ask
from jobs.kinds import AT_ONCE, JobKind
from jobs.models import Job
from jobs.running import Run

from . import files, motions
from .models import RecordedLines, Recording
from .stage_line import Gone, StageLine
from .takes import TAKE
from .taking_in import shelved

LONGEST_SECONDS = 600
LONGEST_COUNTDOWN_SECONDS = 30.0
# What came is put away so often: no more than this is lost with the worker.
_KEPT_EVERY_S = 0.25
_LISTEN_S = 0.1
WENT_AWAY = "The stage went away: what came until then is kept."


class Record(BaseModel):
    """A take to be recorded, with the house recipe to the clip's rate, for a figure if there is one."""

    recording: UUID
    clip_rate: Rate = Fraction(24)
    onto: UUID | None = None


def start(
    production: Production,
    person: User,
    label: str,
    countdown_seconds: float,
    clip_rate: Rate,
    onto: UUID | None,
) -> tuple[Recording, Job]:
    """Arm the next take of this name: it is numbered by itself, and begins when the countdown is over. Raises
    Refusal while another is under way in the production."""
    with transaction.atomic():
        Production.objects.select_for_update().get(pk=production.pk)
        under_way = production.jobs.filter(kind=RECORD.key, state__in=Job.UNDER_WAY).first()
        if under_way is not None:
            raise Refusal(f"{under_way.title} is being recorded: stop it first.")
        recording = Recording.objects.create(
            production=production,
            person=person,
            name=next_name(production, label),
            begins=timezone.now() + timedelta(seconds=countdown_seconds),
        )
        wish = Record(recording=recording.pk, clip_rate=clip_rate, onto=onto)
        return recording, ask(RECORD, production, person, recording.name, wish)


def next_name(production: Production, label: str) -> str:
    """The label with the number after the last take of it."""
    label = label.strip()[:110] or "take"
    names = production.documents.filter(kind=TAKE.key, name__startswith=label)
    numbered = re.compile(re.escape(label) + r" (\d{1,6})")
    found = [numbered.fullmatch(name) for name in names.values_list("name", flat=True)]
    return f"{label} {1 + max((int(m[1]) for m in found if m), default=0)}"


def stop(recording: Recording) -> None:
    """Enough: what came is made a take."""
    Recording.objects.filter(pk=recording.pk).update(is_stopped=True)


def record(run: Run, wish: Record) -> None:
    """Listen until it is stopped, then lay down what came."""
    recording = run.production.recordings.filter(pk=wish.recording).first()
    if recording is None:
        raise Refusal("This recording is gone.")
    says = _listen(run, recording)
    kept = read_record(_lines(recording))
    done = laid(kept.arrived, kept.greeting.rate)
    motion = motions.store(done.motion)
    file = files.store_pieces(
        run.production, f"{recording.name}.stage.jsonl", lambda: _pieces(recording)
    )
    take = Take(
        name=recording.name,
        figure="",
        motion=motion,
        file=file.sha256,
        rate=kept.greeting.rate,
        length_frames=done.motion.frames,
        recipe=house_recipe(wish.clip_rate),
        lost=done.lost,
    )
    with run.closing():
        made = shelved(run.production, kept.greeting.figure, take, run.person, wish.onto)
        run.outcome = {"take": str(made.pk), "says": [*says, _told(recording.name, kept, done)]}
        recording.delete()


def _listen(run: Run, recording: Recording) -> list[str]:
    """Keep what comes, until it is stopped or the stage is gone; says what is to be known of its end."""
    count = recording.pieces.count()
    if recording.is_stopped and count:
        return []
    try:
        line = StageLine()
    except Refusal:
        if not count:
            raise
        return [WENT_AWAY]
    with line:
        if not count:
            _keep(recording, 0, [line.first_line])
            count = 1
        elif read_greeting(next(_lines(recording))).run != line.greeting.run:
            return ["The stage was started anew: what came until then is kept."]
        return _kept(run, recording, line, count)


def _kept(run: Run, recording: Recording, line: StageLine, count: int) -> list[str]:
    longest = round(LONGEST_SECONDS * line.greeting.rate)
    waiting: list[bytes] = []
    frames, kept = sum(1 for _ in _lines(recording)) - 1, time.monotonic()
    says: list[str] = []
    while not says:
        try:
            lines = line.arrived(_LISTEN_S)
        except Gone:
            lines, says = [], [WENT_AWAY]
        if timezone.now() >= recording.begins:
            waiting += lines
            frames += len(lines)
        now = time.monotonic()
        if now - kept >= _KEPT_EVERY_S or says:
            if waiting:
                _keep(recording, count, waiting)
                count, waiting = count + 1, []
            kept = now
            run.progress(min(frames, longest), longest, "frames")
            if Recording.objects.filter(pk=recording.pk, is_stopped=True).exists():
                return says
            if frames >= longest:
                says = [f"It was stopped after {LONGEST_SECONDS // 60} minutes."]
    return says


def _keep(recording: Recording, number: int, lines: list[bytes]) -> None:
    data = zlib.compress(b"".join(lines), 1)
    RecordedLines.objects.create(recording=recording, number=number, data=data)


def _pieces(recording: Recording) -> Iterator[bytes]:
    kept = recording.pieces.order_by("number").values_list("data", flat=True)
    for data in kept.iterator(chunk_size=64):
        yield zlib.decompress(bytes(data))


def _lines(recording: Recording) -> Iterator[bytes]:
    for piece in _pieces(recording):
        yield from piece.splitlines(keepends=True)


def _told(name: str, record_: StageRecord, done: Laid) -> str:
    rate = float(record_.greeting.rate)
    lost = sum(gap.end - gap.start for gap in done.lost)
    filled = sum(gap.end - gap.start for gap in done.lost if gap.filled)
    told = f"{name}: {done.motion.frames} frames, {done.motion.frames / rate:.1f} s"
    if lost:
        told += f"; {lost} lost, {filled} of them filled"
    return f"{told}."


def _tidy(job: Job, wish: Record) -> None:
    """Of what was broken off all is kept, for the next worker; what was thrown away or refused goes."""
    if job.state in (Job.State.CANCELLED, Job.State.REFUSED):
        Recording.objects.filter(pk=wish.recording).delete()


RECORD = JobKind("record", Record, record, _tidy, queue=AT_ONCE)
