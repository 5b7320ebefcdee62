"""(l) A motion file of 240 MB comes in by a worker, and its clip file goes out: how much memory each
process of the application took at its peak."""

import json
import os
import time
import urllib.request
from collections.abc import Iterator
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

from core.tests.makes import long_take
from tests.e2e.site import Site, new_site

from .told import told

FRAMES, LEAST_MB, MOST_GB, OPEN_SECONDS = 176_000, 240.0, 1.0, 1.0
_EDGE = "lamplight"


class Visitor:
    """Someone signed in, without a browser."""

    def __init__(self, site: Site) -> None:
        self.address = site.address
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.csrf = str(self.get("/api/session")["csrf"])
        signs = {"account": "mika", "password": "lamplight"}
        self.csrf = str(self.post("/api/session", json.dumps(signs).encode())["csrf"])
        self.production = f"/api/productions/{self.get('/api/productions')[0]['id']}"

    def get(self, path: str) -> Any:
        return json.load(self.opener.open(self.address + path))

    def post(self, path: str, body: bytes, kind: str = "application/json") -> Any:
        headers = {"X-CSRFToken": self.csrf, "Content-Type": kind}
        return json.load(
            self.opener.open(urllib.request.Request(self.address + path, body, headers))
        )

    def send(self, data: bytes) -> Any:
        head = (
            f'--{_EDGE}\r\nContent-Disposition: form-data; name="upload"; filename="l.bvh"\r\n\r\n'
        )
        body = head.encode() + data + f"\r\n--{_EDGE}--\r\n".encode()
        return self.post(f"{self.production}/files", body, f"multipart/form-data; boundary={_EDGE}")

    def done(self, job: Any) -> Any:
        while job["state"] in ("waiting", "running"):
            time.sleep(0.2)
            job = self.get(f"/api/jobs/{job['id']}")
        assert job["state"] == "done", job
        return job

    def size_of(self, path: str, body: bytes | None = None) -> int:
        size = 0
        headers = {"X-CSRFToken": self.csrf, "Content-Type": "application/json"}
        asked = urllib.request.Request(self.address + path, body, headers)
        with self.opener.open(asked) as answer:
            while piece := answer.read(1 << 20):
                size += len(piece)
        return size


def peaks_gb(pid: int) -> Iterator[float]:
    """The most that a process, and each of its children, ever held."""
    status = Path(f"/proc/{pid}/status").read_text(encoding="utf-8")
    kilobytes = next(line.split()[1] for line in status.split("\n") if line.startswith("VmHWM"))
    yield int(kilobytes) * 1024 / 1e9
    for task in Path(f"/proc/{pid}/task").iterdir():
        for child in (task / "children").read_text(encoding="utf-8").split():
            yield from peaks_gb(int(child))


def run() -> bool:
    """Prints the peaks; False where one misses its mark."""
    data = long_take(FRAMES)
    assert len(data) > LEAST_MB * 1e6
    site = new_site("hours_large", os.environ["DATABASE_URL"])
    site.start()
    site.start_worker()
    try:
        return _measured(site, data)
    finally:
        site.stop()


def _opened(visitor: Visitor, file: str) -> tuple[float, int]:
    """How long it takes until a take that was never opened shows its first window, and that window's frames:
    what the room asks for before the figure moves."""
    wish = json.dumps({"file": file, "name": "Large take"}).encode()
    take = visitor.done(visitor.post(f"{visitor.production}/takes", wish))["take"]
    began = time.perf_counter()
    first, last = visitor.get(f"/api/takes/{take}")["take"]["first_window"]
    looked = {"from_frame": first, "to_frame": last, "quick": True}
    frames = visitor.post(f"/api/takes/{take}/cleaned", json.dumps(looked).encode())["frames"]
    shown = {**looked, "start": 0, "end": 24}
    visitor.size_of(f"/api/takes/{take}/poses", json.dumps(shown).encode())
    return time.perf_counter() - began, int(frames)


def _measured(site: Site, data: bytes) -> bool:
    assert site.process
    assert site.worker
    visitor = Visitor(site)
    times = [time.perf_counter()]
    read = visitor.send(data)
    times.append(time.perf_counter())
    file = visitor.done(read)["file"]
    times.append(time.perf_counter())
    report = visitor.get(f"{visitor.production}/files/{file}")
    assert report["frames"] == FRAMES
    times.append(time.perf_counter())
    wish = {"file": file, "name": "Large", "is_cycle": False}
    made = visitor.post(f"{visitor.production}/clips", json.dumps(wish).encode())
    clip = visitor.done(made)["clip"]
    times.append(time.perf_counter())
    out = visitor.size_of(f"/api/clips/{clip}/file")
    times.append(time.perf_counter())
    sent, reading, told_of, making, going = (b - a for a, b in zip(times, times[1:], strict=False))
    opened, poses = _opened(visitor, file)
    serving, working = max(peaks_gb(site.process.pid)), max(peaks_gb(site.worker.pid))
    took = f"sent {sent:.1f} s, read {reading:.1f} s, told {told_of:.2f} s, made {making:.1f} s"
    name = f"(l) {len(data) / 1e6:.0f} MB of motion"
    return all(
        [
            told(name, took, True),
            told("", f"its clip file, {out / 1e6:.0f} MB, goes out in {going:.1f} s", True),
            told(
                "",
                f"as a take it is open in {opened:.2f} s, a window of {poses} frames cleaned "
                f"(mark {OPEN_SECONDS:g})",
                opened < OPEN_SECONDS,
            ),
            told(
                "",
                f"peak {working:.2f} GB in the worker, {serving:.2f} in the server "
                f"(mark {MOST_GB:.0f})",
                max(serving, working) < MOST_GB,
            ),
        ]
    )
