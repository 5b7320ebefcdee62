"""The line to the capture stage: what it sends is read as it comes."""

import select
import socket
import time
from collections.abc import Iterator

from django.conf import settings

from elastic_core.capture.stage.performer import Move
from elastic_core.errors import Refusal
from elastic_core.formats.stage_lines import (
    LONGEST_LINE_BYTES,
    Greeting,
    ask_line,
    read_greeting,
)

_ANSWERS_SECONDS = 2.0
_PIECE_BYTES = 1 << 16


class Gone(Exception):
    """The stage has hung up."""


def address() -> str:
    """Where a stage is listened for."""
    host, port = settings.CAPTURE_STAGE
    return f"{host}:{port}"


class StageLine:
    """A connection to the stage. Raises Refusal where none answers, or what answers is none."""

    def __init__(self) -> None:
        try:
            self._socket = socket.create_connection(settings.CAPTURE_STAGE, _ANSWERS_SECONDS)
        except OSError:
            raise Refusal(f"No capture stage answers at {address()}.") from None
        self._rest = b""
        try:
            self.first_line = next(self._until(time.monotonic() + _ANSWERS_SECONDS))
            self.greeting: Greeting = read_greeting(self.first_line)
        except (Gone, StopIteration):
            self.close()
            raise Refusal(f"What answers at {address()} says nothing.") from None
        except Refusal:
            self.close()
            raise

    def __enter__(self) -> "StageLine":
        return self

    def __exit__(self, *problem: object) -> None:
        self.close()

    def close(self) -> None:
        """Hang up."""
        self._socket.close()

    def arrived(self, wait_seconds: float) -> list[bytes]:
        """The whole lines that have come; waits so long for the first of them. Raises Gone."""
        if not self._whole() and select.select([self._socket], [], [], wait_seconds)[0]:
            self._read()
        lines = self._whole()
        self._rest = self._rest[sum(map(len, lines)) :]
        return lines

    def ask(self, move: Move) -> None:
        """Ask for a move. Raises Gone."""
        try:
            self._socket.sendall(ask_line(move))
        except OSError:
            raise Gone from None

    def _until(self, last: float) -> Iterator[bytes]:
        """One line, if it comes before then."""
        while b"\n" not in self._rest:
            left = last - time.monotonic()
            if left <= 0 or not select.select([self._socket], [], [], left)[0]:
                return
            self._read()
        line, _, self._rest = self._rest.partition(b"\n")
        yield line + b"\n"

    def _whole(self) -> list[bytes]:
        return self._rest[: self._rest.rfind(b"\n") + 1].splitlines(keepends=True)

    def _read(self) -> None:
        try:
            piece = self._socket.recv(_PIECE_BYTES)
        except OSError:
            raise Gone from None
        if not piece or len(self._rest) > LONGEST_LINE_BYTES:
            raise Gone
        self._rest += piece
