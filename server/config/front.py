"""The front door: a kind of gunicorn worker that takes requests in whole before it gives them a thread.

Waitress reads what arrives on all connections in one loop, so whoever sends slowly keeps nobody waiting.
"""

import os
import sys
from typing import Any

from gunicorn.workers.base import Worker
from waitress import wasyncore

BEAT_SECONDS = 1.0
# How soon a thread that computes lets another one go on: a short answer is not to wait for long ones.
TURN_SECONDS = 0.001


class Front(Worker):  # type: ignore[misc]
    """One process of the server: a loop that reads and writes, and threads that answer."""

    def run(self) -> None:
        # What it serves is loaded by now, and not before.
        from .connections import Turns, listen

        sys.setswitchinterval(TURN_SECONDS)
        connections: dict[int, Any] = {}
        turns = Turns(self.cfg.threads)
        for listening in self.sockets:
            listen(self.wsgi, listening.sock, connections, turns)
        while self.alive and self.ppid == os.getppid():
            self.notify()
            wasyncore.loop(timeout=BEAT_SECONDS, use_poll=True, map=connections, count=1)
        turns.shutdown(timeout=self.cfg.graceful_timeout)
