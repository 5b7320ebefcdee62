"""The front door: a kind of gunicorn worker that takes requests in whole before it gives them a thread.

Waitress reads what arrives on all connections in one loop, so whoever sends slowly keeps nobody waiting.
"""

import os
import sys
import time
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
        from .connections import Turns, is_busy, listen

        sys.setswitchinterval(TURN_SECONDS)
        connections: dict[int, Any] = {}
        turns = Turns(self.cfg.threads)
        servers = [
            listen(self.wsgi, listening.sock, connections, turns) for listening in self.sockets
        ]
        while self.alive and self.ppid == os.getppid():
            self._wait(connections)
        # Nothing new is taken in; what was asked already is answered.
        for server in servers:
            server.accepting = False
        self._wait(connections, seconds=0.05)
        last = time.monotonic() + self.cfg.graceful_timeout
        while is_busy(connections, turns) and time.monotonic() < last:
            self._wait(connections, seconds=0.05)
        turns.shutdown(timeout=1)

    def _wait(self, connections: dict[int, Any], seconds: float = BEAT_SECONDS) -> None:
        """Read and write where something comes or can go; and say that this process lives."""
        self.notify()
        wasyncore.loop(timeout=seconds, use_poll=True, map=connections, count=1)
