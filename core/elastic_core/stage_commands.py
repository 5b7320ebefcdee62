"""`hours capture-stage`: the stand-in stage, on loopback."""

import asyncio
import contextlib
import time
from fractions import Fraction
from typing import Annotated
from uuid import uuid4

import typer

from .capture.stage.broadcast import Broadcast
from .capture.stage.performer import Move
from .capture.stage.suit import suit
from .command_base import plainly
from .errors import Refusal
from .formats.stage_lines import (
    LONGEST_LINE_BYTES,
    Greeting,
    StageFrame,
    doing_line,
    frame_line,
    greeting_line,
    greeting_of,
    read_ask,
)

DEFAULT_PORT = 8790
# So many frames a second at the most: a suit is worked out in a millisecond or two.
MOST_FPS = 240
# How often captured frames go out.
_BEATS_A_SECOND = 60
# Who does not listen is hung up on, once so much waits for them.
_MOST_WAITING_BYTES = 4 << 20


def add_to(app: typer.Typer) -> None:
    """Put the command in the program."""
    app.command("capture-stage")(capture_stage)


@plainly
def capture_stage(
    port: Annotated[int, typer.Option(min=1, max=65535, help="On 127.0.0.1.")] = DEFAULT_PORT,
    fps: Annotated[int, typer.Option(help="Frames a second.")] = 120,
    seed: Annotated[int, typer.Option(min=0, help="Of noise and hiccups.")] = 7,
) -> None:
    """Stream made-up motion of a made-up suit, as a capture stage would: noisy, with frames lost, late and
    doubled. Ctrl-C stops it."""
    if not 1 <= fps <= MOST_FPS:
        raise Refusal(f"The stage captures from 1 to {MOST_FPS} frames a second.")
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(_serve(port, fps, seed))


async def _serve(port: int, fps: int, seed: int) -> None:
    stage = _Stage(fps, seed)
    try:
        server = await asyncio.start_server(
            stage.greet, "127.0.0.1", port, limit=LONGEST_LINE_BYTES
        )
    except OSError:
        raise Refusal(f"Port {port} is taken already: give another with --port.") from None
    typer.echo(f"The capture stage sends {fps} frames a second at 127.0.0.1:{port}.")
    async with server:
        await stage.run()


class _Stage:
    """Who listens, what is asked for, and the frames that go to all of them."""

    def __init__(self, fps: int, seed: int) -> None:
        self.fps = fps
        self.broadcast = Broadcast(fps, seed)
        self.move: Move = "stand"
        self.listeners: set[asyncio.StreamWriter] = set()
        self.greeting: Greeting = greeting_of(suit(), uuid4().hex, Fraction(fps), time.time())

    async def greet(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Somebody listens, and may ask, until they go."""
        writer.write(greeting_line(self.greeting) + doing_line(self.move))
        self.listeners.add(writer)
        try:
            while line := await reader.readline():
                move = read_ask(line)
                if move is not None:
                    self.move = move
                    self._tell(doing_line(move))
        except (ValueError, ConnectionError):
            # A line without an end, or one who went away in its midst.
            pass
        finally:
            self._part_from(writer)

    async def run(self) -> None:
        """Capture on, in time with the clock."""
        began = time.monotonic()
        while True:
            due = int((time.monotonic() - began) * self.fps) - self.broadcast.number
            if due > 0:
                self._send(min(due, self.fps))
            await asyncio.sleep(1 / _BEATS_A_SECOND)

    def _send(self, count: int) -> None:
        frames = self.broadcast.sent(self.move, count)
        if self.move == "stumble":
            self.move = "walk"
            self._tell(doing_line(self.move))
        if self.listeners:
            self._tell(
                b"".join(
                    frame_line(StageFrame(f.number, f.number / self.fps, f.position, f.rotations))
                    for f in frames
                )
            )

    def _tell(self, lines: bytes) -> None:
        for writer in list(self.listeners):
            writer.write(lines)
            if writer.transport.get_write_buffer_size() > _MOST_WAITING_BYTES:
                self._part_from(writer)

    def _part_from(self, writer: asyncio.StreamWriter) -> None:
        self.listeners.discard(writer)
        writer.close()
