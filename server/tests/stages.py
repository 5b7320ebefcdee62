"""A capture stage for tests: sends made frames to whoever listens, at once, and may die in the midst."""

import socket
import threading
from collections.abc import Sequence
from contextlib import suppress
from fractions import Fraction
from queue import SimpleQueue

from elastic_core.capture.stage.broadcast import Broadcast
from elastic_core.capture.stage.performer import Move
from elastic_core.capture.stage.suit import suit
from elastic_core.formats.stage_lines import (
    StageFrame,
    doing_line,
    frame_line,
    greeting_line,
    greeting_of,
    read_ask,
)

FPS = 120


def made_lines(plan: Sequence[tuple[Move, int]], seed: int = 7) -> list[bytes]:
    """The lines of a stage that is asked for moves, each for so many frames."""
    stage = Broadcast(FPS, seed)
    return [
        frame_line(StageFrame(f.number, f.number / FPS, f.position, f.rotations))
        for move, count in plan
        for f in stage.sent(move, count)
    ]


class MadeStage:
    """Listens on a port of its own. To each who comes: its greeting and its lines; then it hangs up, or waits
    until they do."""

    def __init__(self, lines: Sequence[bytes], *, dies: bool = False, run: str = "run one") -> None:
        self.lines, self.dies, self.run = list(lines), dies, run
        # A move that was asked for is heard on another thread: who wants to know waits for it here.
        self.asked: SimpleQueue[Move] = SimpleQueue()
        self._listening = socket.create_server(("127.0.0.1", 0))
        self.address: tuple[str, int] = self._listening.getsockname()
        threading.Thread(target=self._serve, daemon=True).start()

    def close(self) -> None:
        """Listen no more."""
        with suppress(OSError):
            self._listening.shutdown(socket.SHUT_RDWR)
        self._listening.close()

    def _serve(self) -> None:
        while True:
            try:
                client, _ = self._listening.accept()
            except OSError:
                return
            threading.Thread(target=self._greet, args=(client,), daemon=True).start()

    def _greet(self, client: socket.socket) -> None:
        greeting = greeting_of(suit(), self.run, Fraction(FPS), 1_800_000_000.0)
        try:
            with client:
                client.sendall(greeting_line(greeting) + doing_line("stand"))
                client.sendall(b"".join(self.lines))
                while not self.dies and (heard := client.recv(4096)):
                    for line in heard.splitlines():
                        move = read_ask(line)
                        if move:
                            self.asked.put(move)
                            client.sendall(doing_line(move))
        except OSError:
            return
