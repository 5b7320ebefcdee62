"""The real application for tests in a browser: its own database, migrated, with the demo, served."""

import fcntl
import hashlib
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import SplitResult, urlsplit, urlunsplit

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
    stage: subprocess.Popen[bytes] | None = None

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

    def freeze_worker_in(self, kind: str, figure: int = 1) -> None:
        """Stop the worker's clock as soon as it is so far into a job of this kind."""
        assert self.worker
        told = "SELECT 1 FROM jobs_job WHERE kind = %s AND state = 'running' AND figure >= %s"
        with psycopg.connect(self.environment["DATABASE_URL"], autocommit=True) as connection:
            for _ in range(12_000):
                if connection.execute(told, [kind, figure]).fetchone():
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

    @property
    def stage_port(self) -> int:
        return int(self.environment["HOURS_CAPTURE_STAGE_PORT"])

    def start_stage(self) -> None:
        """The stand-in capture stage, where the server listens for one."""
        self.kill_stage()
        stage = [str(Path(sys.executable).with_name("hours")), "capture-stage"]
        self.stage = subprocess.Popen(
            [*stage, "--port", str(self.stage_port)], stdout=subprocess.DEVNULL
        )
        _wait_for(self.stage_port)

    def kill_stage(self) -> None:
        if self.stage is not None:
            self.stage.kill()
            self.stage.wait(timeout=20)

    def kill(self) -> None:
        """End it as a power cut would."""
        if self.process is not None:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait(timeout=20)

    def stop(self) -> None:
        # What a worker had begun is taken up by the next one, however it ended.
        self.kill_worker()
        self.kill_stage()
        if self.process is not None:
            self.process.terminate()
            self.process.wait(timeout=20)


def new_site(name: str, database: str) -> Site:
    """A fresh database called `name`, migrated and with the demo; not served yet."""
    base = urlsplit(database)
    with _lock(), psycopg.connect(urlunsplit(base), autocommit=True) as connection:
        model = _model(connection, base)
        connection.execute(f'DROP DATABASE IF EXISTS "{name}" WITH (FORCE)')
        connection.execute(f'CREATE DATABASE "{name}" TEMPLATE "{model}"')
    environment = _environment(urlunsplit(base._replace(path=f"/{name}")))
    environment["HOURS_HEARTBEAT_S"] = "0.5"
    environment["HOURS_CAPTURE_STAGE_PORT"] = str(free_port())
    return Site(environment, free_port())


def _environment(address: str) -> dict[str, str]:
    return {**os.environ, "DATABASE_URL": address, "HOURS_SECRET": "for tests only"}


@contextmanager
def _lock() -> Iterator[None]:
    """One process after another: what is copied must have nobody in it."""
    path = Path(tempfile.gettempdir()) / f"hours-model-{os.getuid()}.lock"
    with path.open("w") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield


def _model(connection: "psycopg.Connection[Any]", base: SplitResult) -> str:
    """The database that all fresh ones are copies of: migrated, with the demo; made once for what the code
    and the demo are now."""
    told = hashlib.sha256()
    for folder in ("core/elastic_core", "server", "demo"):
        for path in sorted((ROOT / folder).rglob("*")):
            if path.is_file() and "__pycache__" not in path.parts:
                told.update(f"{path} {path.stat().st_mtime_ns}".encode())
    name = f"hours_model_{told.hexdigest()[:16]}"
    if connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", [name]).fetchone():
        return name
    making = f"{name}_making"
    connection.execute(f'DROP DATABASE IF EXISTS "{making}" WITH (FORCE)')
    connection.execute(f'CREATE DATABASE "{making}"')
    there = urlsplit(os.environ["DATABASE_URL"])
    if base.netloc != there.netloc:
        # A cluster of a test's own: what is made already is carried over.
        with psycopg.connect(urlunsplit(there), autocommit=True) as tests:
            _carry(
                there._replace(path=f"/{_model(tests, there)}"), base._replace(path=f"/{making}")
            )
    else:
        environment = _environment(urlunsplit(base._replace(path=f"/{making}")))
        for command in (["migrate", "--verbosity", "0"], ["load_demo"]):
            manage = [sys.executable, "manage.py", *command]
            subprocess.run(
                manage, cwd=SERVER, env=environment, check=True, stdout=subprocess.DEVNULL
            )
    connection.execute(f'ALTER DATABASE "{making}" RENAME TO "{name}"')
    return name


def _carry(source: SplitResult, target: SplitResult) -> None:
    """All of one database into another, empty one."""
    dump = ["pg_dump", "--format=custom", "--compress=0", urlunsplit(source)]
    restore = ["pg_restore", "--no-owner", "--exit-on-error", "--dbname", urlunsplit(target)]
    with subprocess.Popen(dump, stdout=subprocess.PIPE) as dumping:
        subprocess.run(restore, stdin=dumping.stdout, check=True)
    assert dumping.returncode == 0


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
    for _ in range(900):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.1)
    raise RuntimeError("The server did not start.")
