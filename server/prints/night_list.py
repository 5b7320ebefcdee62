"""The night list: prints under way and waiting, in the order they are taken up, and what came to nothing."""

from datetime import timedelta
from uuid import uuid4

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from accounts.models import Membership, Production
from elastic_core.errors import Refusal
from jobs.asking import ask, cancel
from jobs.models import Job

from .models import Print
from .printing import PRINT, PrintWish, throw_away

_ORDER = {Job.State.RUNNING.value: 0, Job.State.WAITING.value: 1}


def listed(production: Production, person: User) -> list[Job]:
    """What runs, then what waits, whoever asked for it; then what of the person's own came to nothing."""
    over = (Job.State.REFUSED, Job.State.CANCELLED)
    own = Q(state__in=over, person=person, seen=False)
    rows = production.jobs.filter(kind=PRINT.key).select_related("person")
    shown = rows.filter(Q(state__in=Job.UNDER_WAY) | own)
    return sorted(shown, key=lambda job: (_ORDER.get(job.state, 2), job.place, job.created))


def frames_per_second(job: Job) -> float | None:
    """How fast a print goes that is under way; none before its first frame."""
    if job.state != Job.State.RUNNING or not job.begun or not job.figure:
        return None
    return job.figure / max(1e-3, (timezone.now() - job.begun).total_seconds())


def take_off(member: Membership, job: Job) -> None:
    """Take a print back, or put one away that came to nothing.

    Raises Refusal for another person's, but for owners.
    """
    if job.person_id != member.user_id and member.role != Membership.Role.OWNER:
        raise Refusal("Whoever asked for a print takes it back, or an owner of the production.")
    if job.state in Job.UNDER_WAY:
        cancel(job)
    Job.objects.filter(pk=job.pk).exclude(state__in=Job.UNDER_WAY).update(seen=True)


def print_again(job: Job, person: User) -> None:
    """Ask once more for what came to nothing. Raises Refusal for what is under way."""
    if job.state in Job.UNDER_WAY:
        raise Refusal("It is under way already.")
    wish = PrintWish.model_validate(job.wish).model_copy(update={"token": uuid4().hex})
    ask(PRINT, job.production, person, job.title, wish)
    Job.objects.filter(pk=job.pk).update(seen=True)


def throw_old_away(production: Production, days: int) -> list[Print]:
    """Prints older than so many days go, all of them or none."""
    before = timezone.now() - timedelta(days=days)
    with transaction.atomic():
        rows = list(production.prints.filter(created__lt=before).select_related("film"))
        for row in rows:
            throw_away(row)
    return rows
