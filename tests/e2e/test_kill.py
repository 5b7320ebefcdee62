"""Power cuts: server, database and worker are killed at any moment of a run of edits and long work;
nothing confirmed is lost, and nothing is there by half or twice."""

import io
import os
import random
import threading
import time
from collections.abc import Callable
from typing import Any

import av
import psycopg
import pytest
from playwright.sync_api import APIRequestContext, Browser, Error

from core.tests.makes import long_take
from elastic_core.printing.film import PART_FRAMES

from .cluster import Cluster
from .site import Site, new_site

THOROUGH = os.environ.get("HOURS_THOROUGH") == "1"
KILLS = 100 if THOROUGH else 10
EDITS_A_KILL = 18
# How far into a request, and how far into long work.
LONGEST_REQUEST_SECONDS, LONGEST_JOB_SECONDS = 0.05, 1.5
FRAMES = 4_800
PATIENCE_SECONDS = 120


class Client:
    """What the page does: it sends an edit again, under its token, until it has an answer."""

    def __init__(self, requests: APIRequestContext, site: Site, cluster: Cluster) -> None:
        self.requests, self.site, self.cluster = requests, site, cluster
        self.headers: dict[str, str] = {}

    def sign_in(self) -> None:
        csrf = self.requests.get(f"{self.site.address}/api/session").json()["csrf"]
        state = self.requests.post(
            f"{self.site.address}/api/session",
            data={"account": "mika", "password": "lamplight"},
            headers={"X-CSRFToken": csrf},
        ).json()
        self.headers = {"X-CSRFToken": state["csrf"]}

    def until_answered(self, call: Callable[[], Any]) -> Any:
        for _ in range(60):
            try:
                answer = call()
                if answer.status < 500:
                    return answer
            except Error:
                pass
            # A process that was just killed takes a moment to be gone.
            time.sleep(0.2)
            self.revive()
        raise AssertionError("It never came back.")

    def revive(self) -> None:
        """Whoever looks after the machine starts again what is gone."""
        if self.cluster_is_gone():
            self.cluster.revive()
        if self.site.process is not None and self.site.process.poll() is not None:
            self.site.start()
        if self.site.worker is not None and self.site.worker.poll() is not None:
            self.site.start_worker()

    def cluster_is_gone(self) -> bool:
        try:
            self.cluster._bash(f'cluster_runs "{self.cluster.folder}"')
        except Exception:
            return True
        return False

    def get(self, path: str) -> Any:
        url = f"{self.site.address}{path}"
        return self.until_answered(lambda: self.requests.get(url)).json()

    def send_file(self, path: str, name: str, data: bytes) -> Any:
        file: Any = {"name": name, "mimeType": "application/octet-stream", "buffer": data}
        url = f"{self.site.address}{path}"
        return self.until_answered(
            lambda: self.requests.post(url, multipart={"upload": file}, headers=self.headers)
        )

    def until(self, holds: Callable[[], bool]) -> None:
        """Wait for what must come."""
        deadline = time.monotonic() + PATIENCE_SECONDS
        while not holds():
            assert time.monotonic() < deadline
            time.sleep(0.1)

    def all_done(self, production: str) -> list[dict[str, Any]]:
        """The jobs that were asked for, once all of them have come to an end."""
        deadline = time.monotonic() + PATIENCE_SECONDS
        while True:
            self.revive()
            jobs: list[dict[str, Any]] = self.get(f"/api/productions/{production}/jobs")
            if all(job["state"] not in ("waiting", "running") for job in jobs):
                return jobs
            assert time.monotonic() < deadline, jobs
            time.sleep(0.2)

    def post(self, path: str, body: dict[str, Any]) -> Any:
        url = f"{self.site.address}{path}"
        return self.until_answered(lambda: self.requests.post(url, data=body, headers=self.headers))


@pytest.fixture
def client(browser: Browser) -> Any:
    cluster = Cluster.create()
    try:
        site = new_site("hours_kill", cluster.url)
        site.start()
        site.start_worker()
        context = browser.new_context()
        client = Client(context.request, site, cluster)
        client.sign_in()
        yield client
        context.close()
        site.kill_worker()
        site.kill()
    finally:
        cluster.remove()


def test_what_was_confirmed_is_there_after_power_cuts(client: Client) -> None:
    seed = random.randrange(10**6)
    print(f"The moments come from the seed {seed}.")
    moments = random.Random(seed)
    production = client.get("/api/productions")[0]["id"]
    library = f"/api/productions/{production}"
    take = client.send_file(f"{library}/files", "round.bvh", long_take(FRAMES)).json()
    assert take["kind"] == "read motion"
    client.all_done(production)
    file = client.get(f"/api/jobs/{take['id']}")["file"]

    scene = client.get(library)["scenes"][0]["id"]
    path = f"/api/scenes/{scene}"
    before = len(client.get(path)["desk"]["beats"])
    confirmed: dict[str, int] = {}
    asked: list[str] = []
    revision = 1
    dying = ["server", "database", "worker"] * (KILLS // 3 + 1)
    for cut, dies in enumerate(dying[:KILLS]):
        at = moments.randrange(EDITS_A_KILL)
        if dies == "worker":
            asked.append(f"Round {cut}")
            wish = {"file": file, "name": asked[-1], "token": f"cut-{cut}"}
            assert client.post(f"{library}/clips", wish).status == 202
        kill, longest = {
            "server": (client.site.kill, LONGEST_REQUEST_SECONDS),
            "database": (client.cluster.kill, LONGEST_REQUEST_SECONDS),
            "worker": (client.site.kill_worker, LONGEST_JOB_SECONDS),
        }[dies]
        killer = threading.Timer(moments.uniform(0, longest), kill)
        for k in range(EDITS_A_KILL):
            if k == at:
                killer.start()
            name = f"beat-{cut}-{k}"
            frame = len(confirmed) % 200
            beat = {"kind": "add_beat", "beat": name, "name": name}
            beat |= {"start": frame, "end": frame + 1}
            body = {"edit": beat, "base_revision": revision, "token": name}
            answer = client.post(f"{path}/edits", body)
            assert answer.status == 200, answer.text()
            revision = answer.json()["scene"]["revision"]
            confirmed[name] = revision
        killer.join()
        client.revive()

    beats = [beat["id"] for beat in client.get(path)["desk"]["beats"]]
    # Each is there, and each only once, though some were sent twice.
    assert sorted(beat for beat in beats if beat.startswith("beat-")) == sorted(confirmed)
    edits = KILLS * EDITS_A_KILL
    assert len(beats) == before + edits
    history = client.get(f"/api/documents/{scene}/history")[:edits]
    assert [row["number"] for row in history] == list(range(edits + 1, 1, -1))
    labels = {row["number"]: row["label"] for row in history}
    assert all(labels[number] == f"Add the beat {name}" for name, number in confirmed.items())

    # And what was asked of the workers came in once, and whole.
    jobs = client.all_done(production)
    assert {job["state"] for job in jobs} == {"done"}
    clips = {clip["id"]: clip for clip in client.get(library)["clips"]}
    made = [clip for clip in clips.values() if clip["name"].startswith("Round")]
    assert sorted(clip["name"] for clip in made) == sorted(asked)
    assert {clip["length_frames"] for clip in made} == {FRAMES}
    assert {job["clip"] for job in jobs if job["kind"] == "bring in"} == {c["id"] for c in made}
    with psycopg.connect(client.site.environment["DATABASE_URL"]) as connection:
        left = "SELECT count(*) FROM library_motionblock WHERE sha256 LIKE 'in:%'"
        assert connection.execute(left).fetchone() == (0,)


def test_a_print_ends_whole_and_once(client: Client) -> None:
    """Its worker is killed in the middle, and the server, and the worker that took it up."""
    production = client.get("/api/productions")[0]["id"]
    library = f"/api/productions/{production}"
    scenes = client.get(library)["scenes"]
    scene = next(one["id"] for one in scenes if one["name"] == "Sc 06 Three lamps lit")
    look = {"width": 640, "height": 360}
    client.post(f"/api/scenes/{scene}/prints", {"look": look, "token": "once"})

    def so_far() -> int:
        (job,) = client.get(f"{library}/jobs")
        assert job["state"] in ("waiting", "running"), job
        return int(job["figure"])

    # In its first part, and when one part of it is kept.
    for until, kept in ((24, 0), (PART_FRAMES + 1, PART_FRAMES)):
        client.site.freeze_worker_in("print", until)
        assert until <= so_far() < 216
        client.site.kill_worker()
        client.site.kill()
        with psycopg.connect(client.site.environment["DATABASE_URL"]) as connection:
            parts = "SELECT count(*) FROM prints_printpart"
            assert connection.execute(parts).fetchone() == (kept // PART_FRAMES,)
        client.revive()
    (job,) = client.all_done(production)
    assert job["state"] == "done", job
    (made,) = client.get(f"{library}/prints")
    assert (made["id"], made["frames"]) == (job["print"], 216)
    with psycopg.connect(client.site.environment["DATABASE_URL"]) as connection:
        assert connection.execute("SELECT count(*) FROM prints_printpart").fetchone() == (0,)
    film = client.until_answered(
        lambda: client.requests.get(f"{client.site.address}/api/prints/{made['id']}/film?keep=true")
    ).body()
    with av.open(io.BytesIO(film)) as held:
        assert sum(1 for _ in held.decode(video=0)) == 216
