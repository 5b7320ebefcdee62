"""The real application for tests in a browser: its own database, migrated, with the demo, served."""

import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit

import psycopg

ROOT = Path(__file__).resolve().parents[2]
SERVER = ROOT / "server"


@dataclass
class Site:
    """The application served from a database; its processes can be ended and started again."""

    environment: dict[str, str]
    port: int
    process: subprocess.Popen[bytes] | None = None
    worker: subprocess.Popen[bytes] | None = None

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        serve = [sys.executable, "-m", "gunicorn", "config.wsgi"]
        serve += ["--bind", f"127.0.0.1:{self.port}", "--log-level", "critical"]
        # In a session of its own, so that its workers can be ended with it.
        self.process = subprocess.Popen(
            serve, cwd=SERVER, env=self.environment, start_new_session=True
        )
        _wait_for(self.port)

    def let_in(self, account: str, role: str, password: str = "harbour-wall-3") -> None:
        """An account in the demo's production."""
        make = [str(Path(sys.executable).parent / "hours"), "adduser", account, "--role", role]
        make += ["--production", "The Last Lamp", "--password-stdin"]
        subprocess.run(
            make,
            env=self.environment,
            input=password,
            text=True,
            check=True,
            stdout=subprocess.DEVNULL,
        )

    def start_worker(self) -> None:
        """What does long work."""
        work = [sys.executable, "manage.py", "work"]
        self.worker = subprocess.Popen(
            work, cwd=SERVER, env=self.environment, start_new_session=True
        )

    def freeze_worker_in(self, kind: str) -> None:
        """Stop the worker's clock as soon as it is some way into a job of this kind."""
        assert self.worker
        told = "SELECT figure FROM jobs_job WHERE kind = %s AND state = 'running' AND figure > 0"
        with psycopg.connect(self.environment["DATABASE_URL"], autocommit=True) as connection:
            for _ in range(3000):
                if connection.execute(told, [kind]).fetchone():
                    break
                time.sleep(0.005)
            else:
                raise RuntimeError("No worker began it.")
        os.killpg(self.worker.pid, signal.SIGSTOP)

    def thaw_worker(self) -> None:
        assert self.worker
        os.killpg(self.worker.pid, signal.SIGCONT)

    def kill_worker(self) -> None:
        if self.worker is not None:
            os.killpg(self.worker.pid, signal.SIGKILL)
            self.worker.wait(timeout=20)

    def kill(self) -> None:
        """End it as a power cut would."""
        if self.process is not None:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait(timeout=20)

    def stop(self) -> None:
        # What a worker had begun is taken up by the next one, however it ended.
        self.kill_worker()
        if self.process is not None:
            self.process.terminate()
            self.process.wait(timeout=20)


def new_site(name: str, database: str) -> Site:
    """A fresh database called `name`, migrated and with the demo; not served yet."""
    base = urlsplit(database)
    with psycopg.connect(urlunsplit(base), autocommit=True) as connection:
        connection.execute(f'DROP DATABASE IF EXISTS "{name}" WITH (FORCE)')
        connection.execute(f'CREATE DATABASE "{name}"')
    address = urlunsplit(base._replace(path=f"/{name}"))
    environment = {**os.environ, "DATABASE_URL": address, "HOURS_SECRET": "for tests only"}
    environment["HOURS_HEARTBEAT_S"] = "0.5"
    for command in (["migrate", "--verbosity", "0"], ["load_demo"]):
        manage = [sys.executable, "manage.py", *command]
        subprocess.run(manage, cwd=SERVER, env=environment, check=True, stdout=subprocess.DEVNULL)
    return Site(environment, free_port())


def beside(name: str) -> str:
    """The address of another database of the test cluster."""
    return urlunsplit(urlsplit(os.environ["DATABASE_URL"])._replace(path=f"/{name}"))


@contextmanager
def served(name: str) -> Iterator[str]:
    """A fresh database called `name` beside the test one, and the address it is served at."""
    site = new_site(name, os.environ["DATABASE_URL"])
    site.start()
    site.start_worker()
    try:
        yield site.address
    finally:
        site.stop()


def free_port() -> int:
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
