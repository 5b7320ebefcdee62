"""Large files of our own, opened by a job: what takes seconds keeps nobody waiting."""

from typing import Any

from pydantic import BaseModel

from jobs.kinds import JobKind
from jobs.models import Job
from jobs.running import Run
from library import files, reading

from . import interchange


class OpenFile(BaseModel):
    """A kept file of ours, by its name, that is to be opened; `token` names the wish: it may be opened
    again."""

    file: str
    token: str


def open_kept(run: Run, wish: OpenFile) -> None:
    """Open the file, all of it or nothing, and let go of it."""
    kept = reading.stored(run.production, wish.file)
    data = files.load(kept)
    run.progress(0, 1, "file opened")
    with run.closing():
        opened = interchange.open_file(run.production, data, run.person)
        made = opened.document
        says = [f"{made.name} is in the library.", *opened.says]
        run.outcome = {"clip": str(made.pk) if made.kind == "clip" else None, "says": says}
        forget(run.job, wish)


def forget(job: Job, wish: OpenFile) -> None:
    """The file is not kept, once nobody waits for it."""
    waiting = job.production.jobs.exclude(pk=job.pk).filter(
        kind=job.kind, state__in=Job.UNDER_WAY, wish__file=wish.file
    )
    if not waiting.exists():
        unread: Any = job.production.files.filter(sha256=wish.file, motion_index=None)
        unread.delete()


def _tidy(job: Job, wish: OpenFile) -> None:
    if job.state not in Job.UNDER_WAY:
        forget(job, wish)


OPEN_FILE = JobKind("open file", OpenFile, open_kept, _tidy)
