"""A worker: does what is asked for, and takes up what a worker that died has left."""

import asyncio
from contextlib import suppress
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from procrastinate import App
from procrastinate.contrib.django import app
from procrastinate.exceptions import ConnectorException

from jobs import nights
from jobs.kinds import QUEUES

# A worker that was not heard of for so many of its heartbeats is dead.
BEATS_MISSED = 4
NIGHT_LOOKS_S = 60.0


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        with app.replace_connector(app.connector.get_worker_connector()) as working:  # type: ignore[attr-defined]
            asyncio.run(_work(working))


async def _work(app: App) -> None:
    beat = settings.WORKER_HEARTBEAT_SECONDS
    async with app.open_async():
        beside = [asyncio.create_task(_take_up(app, beat)), asyncio.create_task(_nightly())]
        workers = [asyncio.create_task(_work_through(app, queue, beat)) for queue in QUEUES]
        try:
            # One alone hears the signal to end, and the others end with it.
            ended, _ = await asyncio.wait(workers, return_when=asyncio.FIRST_COMPLETED)
        finally:
            for task in (*workers, *beside):
                task.cancel()
            await asyncio.gather(*workers, *beside, return_exceptions=True)
        for worker in ended:
            worker.result()


async def _work_through(app: App, queue: str, beat: float) -> None:
    """One worker for each queue: what has to begin at once does not wait for what takes long."""
    await app.run_worker_async(
        queues=[queue],
        delete_jobs="always",
        update_heartbeat_interval=beat,
        stalled_worker_timeout=BEATS_MISSED * beat,
        shutdown_graceful_timeout=1,
        install_signal_handlers=queue == QUEUES[0],
    )


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


async def _nightly() -> None:
    """Again and again: whether there is anything to be done tonight."""
    while True:
        await asyncio.to_thread(nights.look)
        await asyncio.sleep(NIGHT_LOOKS_S)
