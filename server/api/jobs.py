"""A person's jobs: how far they are, and taking them back."""

from uuid import UUID

from django.http import Http404, HttpRequest
from ninja import Router

from jobs import asking
from jobs.models import Job

from .access import membership, person
from .schemas import JobView

router = Router(tags=["jobs"])
of_production = Router(tags=["jobs"])


@of_production.get("/{uuid:production_id}/jobs", response=list[JobView])
def read_jobs(request: HttpRequest, production_id: UUID) -> list[JobView]:
    """The person's jobs whose end they have not seen, in the order they were asked for."""
    member = membership(request, production_id)
    rows = member.production.jobs.filter(person=person(request), seen=False)
    return [job_view(row) for row in rows.order_by("created")]


@router.get("/{uuid:job_id}", response=JobView)
def read_job(request: HttpRequest, job_id: UUID) -> JobView:
    """How far a job is."""
    return job_view(_own(request, job_id))


@router.post("/{uuid:job_id}/cancel", response=JobView)
def cancel_job(request: HttpRequest, job_id: UUID) -> JobView:
    """Take the wish back; one that is done stays done."""
    job = _own(request, job_id)
    asking.cancel(job)
    job.refresh_from_db()
    return job_view(job)


@router.post("/{uuid:job_id}/seen", response=None)
def job_seen(request: HttpRequest, job_id: UUID) -> None:
    """Its end was seen: it is listed no more."""
    job = _own(request, job_id)
    Job.objects.filter(pk=job.pk).exclude(state__in=Job.UNDER_WAY).update(seen=True)


def job_view(job: Job) -> JobView:
    """A job as the page shows it."""
    return JobView(
        id=job.pk,
        kind=job.kind,
        title=job.title,
        state=job.state,  # type: ignore[arg-type]
        figure=job.figure,
        of=job.of,
        unit=job.unit,
        is_cancelled=job.is_cancelled,
        says=[job.says] if job.says else job.outcome.get("says", []),
        file=job.outcome.get("file"),
        clip=job.outcome.get("clip"),
        sound=job.outcome.get("sound"),
        take=job.outcome.get("take"),
        drawings=job.outcome.get("drawings"),
        run=job.outcome.get("run"),
        line=job.wish.get("line"),
        print=job.outcome.get("print"),
    )


def _own(request: HttpRequest, job_id: UUID) -> Job:
    found = Job.objects.filter(
        pk=job_id, person=person(request), production__memberships__user=person(request)
    ).first()
    if found is None:
        raise Http404
    return found
