"""Whether the server can do its work: for whoever watches over the machine."""

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, JsonResponse

from jobs.kinds import QUEUES

# A worker is heard of once for each queue.
_WORKERS = "SELECT count(*) FROM procrastinate_workers WHERE last_heartbeat > now() - %s * interval '1 second'"
_WAITING = "SELECT count(*) FROM jobs_job WHERE state = 'waiting'"


def health(request: HttpRequest) -> JsonResponse:
    """The database, the workers that were heard of of late, and the jobs that wait for one. 503 where
    the database cannot be asked."""
    of_late = 4 * settings.WORKER_HEARTBEAT_SECONDS
    try:
        with connection.cursor() as cursor:
            cursor.execute(_WORKERS, [of_late])
            workers = cursor.fetchone()
            cursor.execute(_WAITING)
            waiting = cursor.fetchone()
    except DatabaseError:
        return JsonResponse({"database": False}, status=503)
    return JsonResponse(
        {"database": True, "workers": workers[0] // len(QUEUES), "jobs_waiting": waiting[0]}
    )
