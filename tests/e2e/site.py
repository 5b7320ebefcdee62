"""The real application for tests in a browser: its own database, migrated, with the demo, served."""

import os
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit

import psycopg

ROOT = Path(__file__).resolve().parents[2]
SERVER = ROOT / "server"


@contextmanager
def served(name: str) -> Iterator[str]:
    """A fresh database called `name` beside the test one, and the address it is served at."""
    base = urlsplit(os.environ["DATABASE_URL"])
    with psycopg.connect(urlunsplit(base), autocommit=True) as connection:
        connection.execute(f'DROP DATABASE IF EXISTS "{name}"')
        connection.execute(f'CREATE DATABASE "{name}"')
    address = urlunsplit(base._replace(path=f"/{name}"))
    environment = {**os.environ, "DATABASE_URL": address, "HOURS_SECRET": "for tests only"}
    for command in (["migrate", "--verbosity", "0"], ["load_demo"]):
        manage = [sys.executable, "manage.py", *command]
        subprocess.run(manage, cwd=SERVER, env=environment, check=True, stdout=subprocess.DEVNULL)
    port = _free_port()
    serve = [sys.executable, "-m", "gunicorn", "config.wsgi", "--worker-class", "gthread"]
    serve += ["--workers", "2", "--threads", "4", "--no-control-socket"]
    serve += ["--bind", f"127.0.0.1:{port}", "--log-level", "warning"]
    server = subprocess.Popen(serve, cwd=SERVER, env=environment)
    try:
        _wait_for(port)
        yield f"http://127.0.0.1:{port}"
    finally:
        server.terminate()
        server.wait(timeout=20)


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _wait_for(port: int) -> None:
    for _ in range(200):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.1)
    raise RuntimeError("The server did not start.")
