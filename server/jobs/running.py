"""A job under way: its progress told, its cancelling heard, its end said once."""

import logging
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.db import OperationalError, transaction
from django.utils import timezone

from accounts.models import Production
from elastic_core.errors import Refusal

from .kinds import kind_of
from .models import Job

TELL_EVERY_S = 0.2
UNEXPECTED = "The worker ran into something it did not expect."
log = logging.getLogger(__name__)


class Stopped(Exception):
    """The job was cancelled, or another worker has taken it up."""


class Run:
    """One worker's attempt at a job."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.outcome: dict[str, Any] = {}
        self._told = 0.0

    @property
    def name(self) -> str:
        """A name for what it puts aside until it is done; of all attempts at this job the same."""
        return self.job.pk.hex

    @property
    def production(self) -> Production:
        return self.job.production

    @property
    def person(self) -> User:
        return self.job.person

    def progress(self, figure: int, of: int, unit: str) -> None:
        """Tell how far it is. Raises Stopped where nobody waits for it any more."""
        now = time.monotonic()
        if now - self._told < TELL_EVERY_S and figure < of:
            return
        self._told = now
        if not self._ours().update(figure=figure, of=of, unit=unit):
            raise Stopped

    @contextmanager
    def closing(self) -> Iterator[None]:
        """What is to happen in one step with the job's end. Raises Stopped as `progress` does."""
        with transaction.atomic():
            if self._ours().select_for_update().first() is None:
                raise Stopped
            yield
            self._ours().update(state=Job.State.DONE, outcome=self.outcome, ended=timezone.now())

    def refuse(self, says: str) -> None:
        """Say why it cannot be done; one that was cancelled meanwhile is cancelled."""
        if not self._ours().update(state=Job.State.REFUSED, says=says, ended=timezone.now()):
            self.stop()

    def stop(self) -> None:
        """Say that it is cancelled, if that is why it stopped."""
        standing = Job.objects.filter(
            pk=self.job.pk, tries=self.job.tries, state=Job.State.RUNNING, is_cancelled=True
        )
        standing.update(state=Job.State.CANCELLED, ended=timezone.now())

    def _ours(self) -> Any:
        return Job.objects.filter(
            pk=self.job.pk, tries=self.job.tries, state=Job.State.RUNNING, is_cancelled=False
        )


def carry_out_job(pk: UUID) -> None:
    """Do a job, from its start: what an attempt before has left is thrown away."""
    run = _taken_up(pk)
    if run is None:
        return
    kind = kind_of(run.job)
    wish = kind.wish.model_validate(run.job.wish)
    if run.job.tries > 1:
        kind.tidy(run.job, wish)
    try:
        kind.work(run, wish)
        return
    except Stopped:
        run.stop()
    except Refusal as refusal:
        run.refuse(str(refusal))
    except OperationalError:
        # The database went away: the queue asks once more when it is back.
        raise
    except Exception:
        log.exception("Job %s", run.job.pk)
        run.refuse(UNEXPECTED)
    run.job.refresh_from_db()
    if run.job.state not in (*Job.UNDER_WAY, Job.State.DONE):
        kind.tidy(run.job, wish)


def _taken_up(pk: UUID) -> Run | None:
    """The job as this worker's; none where it is over."""
    with transaction.atomic():
        job = Job.objects.select_for_update(of=("self",)).filter(pk=pk).first()
        if job is None or job.state not in Job.UNDER_WAY:
            return None
        job.state, job.tries, job.figure = Job.State.RUNNING, job.tries + 1, 0
        job.begun = timezone.now()
        job.save(update_fields=("state", "tries", "figure", "begun"))
    return Run(job)
