"""Power cuts: the server and the database are killed in a run of edits; nothing confirmed is lost."""

import threading
import time
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import APIRequestContext, Browser, Error

from .cluster import Cluster
from .site import Site, new_site

EDITS = 200
# Before which edits something is killed, and how long into the request.
SERVER_DIES = {20: 0.0, 55: 0.012, 90: 0.02, 130: 0.03, 170: 0.045}
DATABASE_DIES = {40: 0.0, 75: 0.01, 110: 0.02, 150: 0.035}


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
        if self.site.process is not None and self.site.process.poll() is not None:
            self.site.start()
        if self.cluster_is_gone():
            self.cluster.revive()

    def cluster_is_gone(self) -> bool:
        try:
            self.cluster._bash(f'cluster_runs "{self.cluster.folder}"')
        except Exception:
            return True
        return False

    def get(self, path: str) -> Any:
        url = f"{self.site.address}{path}"
        return self.until_answered(lambda: self.requests.get(url)).json()

    def post(self, path: str, body: dict[str, Any]) -> Any:
        url = f"{self.site.address}{path}"
        return self.until_answered(lambda: self.requests.post(url, data=body, headers=self.headers))


@pytest.fixture
def client(browser: Browser) -> Any:
    cluster = Cluster.create()
    try:
        site = new_site("hours_kill", cluster.url)
        site.start()
        context = browser.new_context()
        client = Client(context.request, site, cluster)
        client.sign_in()
        yield client
        context.close()
        site.kill()
    finally:
        cluster.remove()


def test_every_confirmed_edit_is_there_after_power_cuts(client: Client) -> None:
    production = client.get("/api/productions")[0]["id"]
    scene = client.get(f"/api/productions/{production}")["scenes"][0]["id"]
    path = f"/api/scenes/{scene}"
    before = len(client.get(path)["desk"]["beats"])
    confirmed: dict[str, int] = {}
    revision = 1
    for k in range(EDITS):
        killers = [
            threading.Timer(delays[k], kill)
            for delays, kill in (
                (SERVER_DIES, client.site.kill),
                (DATABASE_DIES, client.cluster.kill),
            )
            if k in delays
        ]
        for killer in killers:
            killer.start()
        name = f"beat-{k}"
        beat = {"kind": "add_beat", "beat": name, "name": name, "start": k, "end": k + 1}
        body = {"edit": beat, "base_revision": revision, "token": name}
        answer = client.post(f"{path}/edits", body)
        for killer in killers:
            killer.join()
        assert answer.status == 200, answer.text()
        revision = answer.json()["scene"]["revision"]
        confirmed[name] = revision

    client.revive()
    beats = [beat["id"] for beat in client.get(path)["desk"]["beats"]]
    # Each is there, and each only once, though some were sent twice.
    assert sorted(beat for beat in beats if beat.startswith("beat-")) == sorted(confirmed)
    assert len(beats) == before + EDITS
    history = client.get(f"/api/documents/{scene}/history")
    assert [row["number"] for row in history] == list(range(EDITS + 1, 0, -1))
    labels = {row["number"]: row["label"] for row in history}
    assert all(labels[number] == f"Add the beat {name}" for name, number in confirmed.items())
