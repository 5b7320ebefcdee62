"""A worker: does what is asked for, and takes up what a worker that died has left."""

import asyncio
from contextlib import suppress
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from procrastinate import App
from procrastinate.contrib.django import app
from procrastinate.exceptions import ConnectorException

# A worker that was not heard of for so many of its heartbeats is dead.
BEATS_MISSED = 4


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        with app.replace_connector(app.connector.get_worker_connector()) as working:  # type: ignore[attr-defined]
            asyncio.run(_work(working))


async def _work(app: App) -> None:
    beat = settings.WORKER_HEARTBEAT_SECONDS
    async with app.open_async():
        taking_up = asyncio.create_task(_take_up(app, beat))
        try:
            await app.run_worker_async(
                delete_jobs="always",
                update_heartbeat_interval=beat,
                stalled_worker_timeout=BEATS_MISSED * beat,
                shutdown_graceful_timeout=1,
            )
        finally:
            taking_up.cancel()


async def _take_up(app: App, beat: float) -> None:
    """Again and again: jobs whose worker is dead wait once more for another."""
    while True:
        # Where the database cannot be reached, there is nothing to take up until it is back.
        with suppress(ConnectorException):
            stalled = await app.job_manager.get_stalled_jobs(
                seconds_since_heartbeat=BEATS_MISSED * beat
            )
            for job in stalled:
                await app.job_manager.retry_job(job)
        await asyncio.sleep(beat)
