"""Asking for a job, and taking the wish back."""

import hashlib
from datetime import datetime

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.utils import timezone
from pydantic import BaseModel

from accounts.models import Production

from . import waiting
from .kinds import PRINTS, JobKind, W, kind_of
from .models import Job
from .tasks import carry_out


def ask(
    kind: JobKind[W],
    production: Production,
    person: User,
    title: str,
    wish: W,
    not_before: datetime | None = None,
) -> Job:
    """The person's job of this wish: the one there is, under way or done, or a new one, that may have to wait
    until a moment. It goes to the end of its list."""
    content = _content(kind, wish, person)
    known = production.jobs.exclude(state__in=(Job.State.REFUSED, Job.State.CANCELLED))
    found = known.filter(content=content).first()
    if found is None:
        try:
            with transaction.atomic():
                found = Job.objects.create(
                    production=production,
                    person=person,
                    kind=kind.key,
                    title=title[:255],
                    wish=wish.model_dump(mode="json"),
                    content=content,
                    not_before=not_before,
                    place=waiting.last_place(kind.key) + 1 if kind.queue == PRINTS else 0,
                )
                deferred = carry_out.configure(
                    queue=kind.queue, schedule_at=not_before, priority=-found.place
                )
                deferred.defer(job=str(found.pk))
        except IntegrityError:
            # Someone asked for the same in the same moment.
            return known.get(content=content)
    elif found.seen:
        Job.objects.filter(pk=found.pk).update(seen=False)
    return found


def cancel(job: Job) -> None:
    """Take the wish back. What waits is cancelled at once, what runs when its worker hears of it."""
    with transaction.atomic():
        held = Job.objects.select_for_update().get(pk=job.pk)
        if held.state == Job.State.WAITING:
            held.state, held.ended = Job.State.CANCELLED, timezone.now()
            waiting.let_go(held)
            kind = kind_of(held)
            kind.tidy(held, kind.wish.model_validate(held.wish))
        held.is_cancelled = held.state != Job.State.DONE
        held.save(update_fields=("state", "ended", "is_cancelled"))


def _content(kind: JobKind[W], wish: BaseModel, person: User) -> str:
    asked = f"{kind.key} {kind.version} {person.pk} {wish.model_dump_json()}"
    return hashlib.sha256(asked.encode()).hexdigest()
