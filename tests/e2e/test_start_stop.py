"""bin/start and bin/stop: a second start, a killed one, and what only looks like ours."""

import json
import os
import shutil
import signal
import subprocess
import time
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest

from .site import ROOT, free_port, new_site

STAMPS = ("python.stamp", "npm.stamp", "web.stamp")


@dataclass
class Installation:
    """The application as its own scripts run it, with a folder and a database of its own."""

    run: Path
    environment: dict[str, str]

    def start(self) -> subprocess.Popen[bytes]:
        """Started, and answering."""
        shell = subprocess.Popen(
            [ROOT / "bin/start"],
            env=self.environment,
            stdout=(self.run / "said").open("w"),
            stderr=subprocess.STDOUT,
            start_new_session=True,
        )
        # It makes a database and loads the demo into it: on a slow machine that takes minutes.
        deadline = time.monotonic() + 240
        while time.monotonic() < deadline:
            said = self.run / "address"
            if said.exists() and said.read_text() == self.address and self.answers():
                return shell
            assert shell.poll() is None, (self.run / "said").read_text()
            time.sleep(0.1)
        raise AssertionError("It never answered.")

    def says(self, script: str, *words: str) -> str:
        done = subprocess.run(
            [ROOT / "bin" / script, *words],
            env=self.environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            timeout=120,
            check=True,
        )
        return done.stdout

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.environment['HOURS_PORT']}"

    def answers(self) -> bool:
        try:
            self.heard_of()
        except OSError:
            return False
        return True

    def heard_of(self) -> int:
        """How many workers were heard of of late; OSError where the server does not answer."""
        with urllib.request.urlopen(f"{self.address}/health", timeout=20) as answer:
            return int(json.load(answer)["workers"])


@pytest.fixture
def installation(tmp_path: Path) -> Iterator[Installation]:
    for name in STAMPS:
        # What was installed and built for these tests is here already.
        shutil.copy(ROOT / ".run" / name, tmp_path / name)
    shutil.copy(ROOT / ".run" / "env", tmp_path / "env")
    (tmp_path / "cluster").write_text((ROOT / ".run" / "cluster").read_text())
    site = new_site("hours_started", os.environ["DATABASE_URL"])
    environment = {**site.environment, "HOURS_RUN": str(tmp_path)}
    environment["HOURS_PORT"] = str(free_port())
    for name in ("HOURS_SECRET", "HOURS_HEARTBEAT_S"):
        environment.pop(name)
    found = Installation(tmp_path, environment)
    yield found
    found.says("stop")


def test_a_second_start_says_where_the_first_one_is_and_a_stop_stops_it(
    installation: Installation,
) -> None:
    (installation.run / "address").write_text("http://127.0.0.1:9")
    bystander = subprocess.Popen(["sleep", "600"])
    for name in ("server.pid", "worker.pid"):
        (installation.run / name).write_text(str(bystander.pid))
    try:
        first = installation.start()
        running = f"Elastic Hours is running already, at {installation.address}"
        assert running in installation.says("start")

        # Killed, it leaves its server behind, which is still ours.
        os.kill(first.pid, signal.SIGKILL)
        first.wait()
        assert running in installation.says("start")
        assert installation.answers()
        # Its worker comes up after its server.
        deadline = time.monotonic() + 90
        while installation.heard_of() == 0:
            assert time.monotonic() < deadline, "No worker was ever heard of."
            time.sleep(0.1)
        told = installation.says("start", "--check").splitlines()
        assert len(told) == 10
        assert f"Server       runs at {installation.address}" in told
        assert "Workers      1 heard of, 0 jobs waiting" in told

        assert "Stopped." in installation.says("stop")
        assert not installation.answers()
        assert "Nothing was running." in installation.says("stop")
        # Whoever has a number that was once written down is none of ours.
        assert bystander.poll() is None
    finally:
        bystander.kill()
        bystander.wait()


def test_a_start_takes_over_from_what_is_left_of_another(installation: Installation) -> None:
    first = installation.start()
    os.killpg(first.pid, signal.SIGKILL)
    first.wait()
    # Its worker has a group of its own, and lives on without a server.
    again = installation.start()
    assert installation.answers()
    again.terminate()
    again.wait(timeout=60)
    assert not installation.answers()
    assert "Server       does not run" in installation.says("start", "--check")
