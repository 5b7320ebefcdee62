"""The order in which what waits is taken up, and what is put off: in our rows, and in the queue's."""

from collections.abc import Sequence
from datetime import UTC, datetime
from uuid import UUID

from django.db import connection, transaction
from django.db.models import Max

from accounts.models import Production
from elastic_core.errors import Refusal

from .models import Job

# Until somebody lets it go.
_NEVER = datetime(9999, 1, 1, tzinfo=UTC)
_QUEUED = """
    UPDATE procrastinate_jobs SET priority = %s, scheduled_at = %s
    WHERE status = 'todo' AND args ->> 'job' = %s
"""


def last_place(kind: str) -> int:
    """The last place that anything of a kind waits in, in whichever production."""
    waits = Job.objects.filter(kind=kind, state=Job.State.WAITING)
    return int(waits.aggregate(last=Max("place"))["last"] or 0)


def put_in_order(production: Production, kind: str, ids: Sequence[UUID]) -> None:
    """Have what waits taken up in this order; what is not named stays behind it, as it was.

    Raises Refusal where one of them waits no more.
    """
    with transaction.atomic():
        waits = production.jobs.select_for_update().filter(kind=kind, state=Job.State.WAITING)
        by_id = {job.pk: job for job in waits.order_by("place", "created")}
        if set(ids) - set(by_id):
            raise Refusal("One of them is under way already, or over. Look again.")
        wanted = [by_id[name] for name in dict.fromkeys(ids)]
        wanted += [job for job in by_id.values() if job not in wanted]
        # They change places among themselves: those of other productions wait no longer for it.
        for place, job in zip(sorted(job.place for job in wanted), wanted, strict=True):
            job.place = place
            _keep(job)


def put_off(job: Job, *, is_held: bool, not_before: datetime | None) -> None:
    """Have a job wait until a moment, or until it is let go; or take it up when its turn comes.

    Raises Refusal where it waits no more.
    """
    with transaction.atomic():
        held = Job.objects.select_for_update().get(pk=job.pk)
        if held.state != Job.State.WAITING:
            raise Refusal("It is under way already, or over.")
        held.is_held, held.not_before = is_held, not_before
        _keep(held)


def let_go(job: Job) -> None:
    """Have the queue forget a job that was taken back, however long it was put off: its turn comes at once."""
    with connection.cursor() as cursor:
        cursor.execute(_QUEUED, [0, None, str(job.pk)])


def _keep(job: Job) -> None:
    job.save(update_fields=("place", "is_held", "not_before"))
    with connection.cursor() as cursor:
        when = _NEVER if job.is_held else job.not_before
        cursor.execute(_QUEUED, [-job.place, when, str(job.pk)])
