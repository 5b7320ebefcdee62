"""(n) Sixteen people at one server, each reading 48 frames after 48 frames."""

import http.client
import itertools
import json
import os
import threading
import time

from tests.e2e.by_hand import Person
from tests.e2e.site import new_site

from .told import loop_ms, told

PEOPLE, FRAMES, SECONDS = 16, 48, 12.0
# Where a plain loop takes `LOOP_MS`; the marks go with the machine.
MEDIAN_MS, SLOW_MS, LOOP_MS = 200.0, 500.0, 100.0


def run() -> bool:
    site = new_site("hours_crowd", os.environ["DATABASE_URL"])
    site.start()
    try:
        for k in range(PEOPLE):
            site.let_in(f"keeper-{k}", "viewer")
        people = [Person(site.address, f"keeper-{k}", "harbour-wall-3") for k in range(PEOPLE)]
        production = people[0].ask("GET", "/api/productions").told[0]["id"]
        library = people[0].ask("GET", f"/api/productions/{production}").told
        path = f"/api/scenes/{library['scenes'][0]['id']}/frames"
        loop = loop_ms()
        times = _read_by_all(people, path)
    finally:
        site.stop()
    times.sort()
    median, slow = times[len(times) // 2], times[int(0.95 * len(times))]
    weight = max(1.0, loop / LOOP_MS)
    says = f"median {median:.0f} ms (mark {MEDIAN_MS:.0f}), 19 in 20 under {slow:.0f} (mark {SLOW_MS:.0f})"
    good = median < MEDIAN_MS * weight and slow < SLOW_MS * weight
    return told(f"(n) {PEOPLE} people, {len(times) / SECONDS:.0f} answers a second", says, good)


def _read_by_all(people: list[Person], path: str) -> list[float]:
    """How long each answer took, in milliseconds, all of them asking as fast as they are answered."""
    times: list[float] = []
    stop = time.perf_counter() + SECONDS

    def read(person: Person) -> None:
        connection = http.client.HTTPConnection(person.host, timeout=30)
        headers = {**person.headers, "Accept-Encoding": "gzip"}
        for start in itertools.cycle(range(0, 240, FRAMES)):
            began = time.perf_counter()
            if began > stop:
                return
            wanted = json.dumps({"start": start, "end": start + FRAMES})
            connection.request("POST", path, wanted, headers)
            answer = connection.getresponse()
            data = answer.read()
            assert answer.status == 200, data[:200]
            times.append(1000 * (time.perf_counter() - began))

    reading = [threading.Thread(target=read, args=(person,)) for person in people]
    for thread in reading:
        thread.start()
    for thread in reading:
        thread.join()
    return times
