"""Connections on their way in: whose they are, how much may come, and whose turn it is.

How much a stranger may send is decided when the head of the request is there; threads are given out by
turns, so that one person's many questions leave room for another's.
"""

import copy
import threading
from collections import Counter, OrderedDict, deque
from http.cookies import CookieError, SimpleCookie
from socket import socket
from typing import Any

from django.conf import settings
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import create_server
from waitress.task import ErrorTask, ThreadedTaskDispatcher

from accounts.sessions import vouches
from api.doors import LARGEST_EDIT_BYTES, LARGEST_SIGN_IN_BYTES
from api.problems import ProblemResponse

# What comes in is refused in words by the doors behind; beyond this it is not taken in at all.
LARGEST_BODY_BYTES = 2 * max(settings.LARGEST_UPLOAD_BYTES, LARGEST_EDIT_BYTES)
MOST_CONNECTIONS = 1_000
# A connection on which nothing has come or gone for so long is closed.
IDLE_SECONDS = 60


def listen(answer: Any, listening: socket, map: dict[int, Any], turns: "Turns") -> Any:
    """Take connections of a socket into the map of those that are waited for together."""
    server = create_server(
        answer,
        map=map,
        _dispatcher=turns,
        sockets=[listening],
        connection_limit=MOST_CONNECTIONS,
        channel_timeout=IDLE_SECONDS,
        # Read on while an answer is worked out: so it is seen when its asker goes.
        channel_request_lookahead=1,
        max_request_body_size=LARGEST_BODY_BYTES,
        ident="",
        **_proxy(),
    )
    server.channel_class = Connection
    return server


def is_busy(map: dict[int, Any], turns: "Turns") -> bool:
    """Whether something is being answered, waits for its turn, or is still on its way out."""
    if turns.queue.running or turns.queue.by_sender:
        return True
    return any(getattr(connection, "total_outbufs_len", 0) for connection in map.values())


def _proxy() -> dict[str, Any]:
    """What a proxy in front of us may tell, where there is one (docs/operating.md)."""
    if not settings.BEHIND_PROXY:
        return {}
    return {
        "trusted_proxy": settings.BEHIND_PROXY,
        "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto", "x-forwarded-host"},
    }


class Head(HTTPRequestParser):  # type: ignore[misc]
    """Reads a request; a stranger's may be a sign-in, and no more."""

    adj: Any

    def parse_header(self, header_plus: bytes) -> None:
        super().parse_header(header_plus)
        if not vouches(session_key(self.headers)):
            self.adj = copy.copy(self.adj)
            self.adj.max_request_body_size = LARGEST_SIGN_IN_BYTES


class SaidError(ErrorTask):  # type: ignore[misc]
    """What is wrong with a request itself, told as everything is."""

    def execute(self) -> None:
        told = ProblemResponse(self.request.error.code)
        self.status = f"{told.status_code} {told.reason_phrase}"
        self.response_headers.append(("Content-Type", told.headers["Content-Type"]))
        self.set_close_on_finish()
        self.content_length = len(told.content)
        self.write(told.content)


class Connection(HTTPChannel):  # type: ignore[misc]
    parser_class = Head
    error_task_class = SaidError

    @property
    def sender(self) -> str:
        """Whose request is at hand: a session's, or an address's."""
        headers = self.requests[0].headers if self.requests else {}
        key = session_key(headers)
        return key if vouches(key) else str(self.addr[0])


def session_key(headers: dict[str, str]) -> str:
    """The session that a request names in its cookie."""
    try:
        found = SimpleCookie(headers.get("COOKIE", "")).get(settings.SESSION_COOKIE_NAME)
    except CookieError:
        return ""
    return found.value if found else ""


class Turns(ThreadedTaskDispatcher):  # type: ignore[misc]
    """Threads for what waits, sender by sender; none has more than half of the threads."""

    def __init__(self, threads: int) -> None:
        super().__init__()
        self.queue = Waiting(max(1, threads // 2), self.queue_cv)
        self.set_thread_count(threads)


class Waiting:
    """What waits for a thread, as the dispatcher's queue: it is asked and changed under its lock."""

    def __init__(self, most_each: int, changed: threading.Condition) -> None:
        self.most_each = most_each
        self.changed = changed
        self.running: Counter[str] = Counter()
        self.by_sender: OrderedDict[str, deque[Connection]] = OrderedDict()

    def append(self, connection: Connection) -> None:
        self.by_sender.setdefault(connection.sender, deque()).append(connection)

    def __len__(self) -> int:
        """How many senders have something that may be begun."""
        return sum(self.running[sender] < self.most_each for sender in self.by_sender)

    def popleft(self) -> "Turn":
        """The first request of the sender whose turn it is."""
        sender = next(name for name in self.by_sender if self.running[name] < self.most_each)
        waiting = self.by_sender.pop(sender)
        connection = waiting.popleft()
        if waiting:
            # Behind the others, until they have had their turn.
            self.by_sender[sender] = waiting
        self.running[sender] += 1
        return Turn(self, sender, connection)

    def over(self, sender: str) -> None:
        with self.changed:
            self.running[sender] -= 1
            if not self.running[sender]:
                del self.running[sender]
            self.changed.notify()


class Turn:
    """A request that has a thread."""

    def __init__(self, waiting: Waiting, sender: str, connection: Connection) -> None:
        self.waiting, self.sender, self.connection = waiting, sender, connection

    def service(self) -> None:
        try:
            self.connection.service()
        finally:
            self.waiting.over(self.sender)

    def cancel(self) -> None:
        self.connection.cancel()
