"""The queue's tasks."""

from uuid import UUID

from django.db import OperationalError, close_old_connections
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

_AGAIN = RetryStrategy(max_attempts=20, wait=3, retry_exceptions=[OperationalError])


@app.task(name="carry out", retry=_AGAIN)
def carry_out(job: str) -> None:
    """Do a job that was asked for."""
    from .running import carry_out_job

    close_old_connections()
    carry_out_job(UUID(job))
