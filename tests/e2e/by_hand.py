"""Requests by hand: what no browser sends, and many at once."""

import http.client
import json
import socket
from typing import Any
from urllib.parse import urlsplit


class Person:
    """A signed-in person without a browser."""

    def __init__(self, address: str, account: str, password: str) -> None:
        self.host = urlsplit(address).netloc
        self.cookies: dict[str, str] = {}
        self.csrf = ""
        self.csrf = self.ask("GET", "/api/session").told["csrf"]
        wanted = {"account": account, "password": password}
        self.csrf = self.ask("POST", "/api/session", wanted).told["csrf"]

    @property
    def headers(self) -> dict[str, str]:
        cookies = "; ".join(f"{name}={value}" for name, value in self.cookies.items())
        return {"Cookie": cookies, "X-CSRFToken": self.csrf, "Content-Type": "application/json"}

    def ask(self, method: str, path: str, wanted: Any = None, seconds: float = 60) -> "Answer":
        """A request on a connection of its own. Raises OSError where it has no answer in time."""
        connection = http.client.HTTPConnection(self.host, timeout=seconds)
        try:
            body = None if wanted is None else json.dumps(wanted)
            connection.request(method, path, body, self.headers)
            answer = connection.getresponse()
            for name, value in answer.getheaders():
                if name.lower() == "set-cookie":
                    cookie, _, kept = value.split(";")[0].strip().partition("=")
                    self.cookies[cookie] = kept
            return Answer(answer.status, answer.read())
        finally:
            connection.close()


class Answer:
    def __init__(self, status: int, data: bytes) -> None:
        self.status, self.data = status, data

    @property
    def told(self) -> Any:
        return json.loads(self.data)


def half_sent(address: str, text: str) -> socket.socket:
    """A connection on which so much of a request was sent, and no more comes."""
    parts = urlsplit(address)
    connection = socket.create_connection((parts.hostname or "", parts.port or 80), timeout=30)
    connection.sendall(text.replace("\n", "\r\n").encode())
    return connection
