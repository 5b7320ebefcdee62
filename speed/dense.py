"""(j) A real take's size, 4,511 frames and 31 joints, with a key on every frame: edits of one key, in the
server's own process."""

import os
import statistics
import time
from pathlib import Path
from typing import Any

import numpy as np

from elastic_core import rotation
from elastic_core.arrays import by_runs
from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.figure import Figure, Joint
from elastic_core.motion import Motion

from . import in_process
from .told import told

FRAMES, JOINTS, EDITS = 4_511, 31, 20
ADDS_KB, SAVE_SECONDS, OPEN_SECONDS, GROWS_MB = 200.0, 0.5, 0.3, 100.0


def take() -> tuple[Figure, PlayableClip]:
    """A chain that wanders, as captured motion does."""
    chance = np.random.default_rng(7)
    figure = Figure(
        name="Keeper",
        joints=tuple(
            Joint(name=f"j{k}", parent=k - 1, offset=(0.0, 0.9 if k == 0 else 0.06, 0.0))
            for k in range(JOINTS)
        ),
    )
    turns = np.cumsum(chance.normal(0, 0.4, (FRAMES, JOINTS, 3)), axis=0) % 60
    path = np.cumsum(chance.normal(0.004, 0.002, (FRAMES, 3)), axis=0)
    root = np.tile([0.0, 0.9, 0.0], (FRAMES, 1)) + chance.normal(0, 0.01, (FRAMES, 3))
    motion = Motion(by_runs(path), by_runs(root), by_runs(rotation.from_axes("ZXY", turns)))
    clip = Clip(name="Wanders", figure="", rate="24", length_frames=FRAMES)
    return figure, PlayableClip(clip, motion)


def resident_mb() -> float:
    """What this process holds now."""
    pages = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / (1 << 20)


def run() -> bool:
    client = in_process.client()
    from dataclasses import replace

    from django.db import connection

    from accounts.models import Production
    from documents.memory import memory
    from library import shelf

    figure, playable = take()
    production = Production.objects.get()
    owner = shelf.add_figure(production, figure, None)
    clip = playable.clip.model_copy(update={"figure": str(owner.pk)})
    row = shelf.add_clip(production, replace(playable, clip=clip), None)
    url = f"/api/clips/{row.pk}"

    def stored() -> float:
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT (SELECT coalesce(sum(octet_length(data)), 0) FROM documents_block)"
                " + (SELECT sum(octet_length(body::text)) FROM documents_revision)"
            )
            return float(cursor.fetchone()[0]) / 1000

    def change(k: int, view: dict[str, Any]) -> tuple[float, dict[str, Any]]:
        edit = {"kind": "key_pose", "frame": 100 + k, "joints": [f"j{k % JOINTS}"]}
        edit["changes"] = [
            {"kind": "turn", "joint": f"j{k % JOINTS}", "axis": [1, 0, 0], "degrees": 5}
        ]
        body = {"edit": edit, "base_revision": view["revision"], "token": f"t{k}"}
        body["known"] = view["content"]
        began = time.perf_counter()
        answer = client.post(f"{url}/edits", body, content_type="application/json")
        seconds = time.perf_counter() - began
        assert answer.status_code == 200, answer.content[:300]
        return seconds, answer.json()["clip"]

    view = client.get(url).json()
    _, view = change(0, view)
    _, view = change(1, view)
    before, size = resident_mb(), stored()
    times = []
    for k in range(2, 2 + EDITS):
        seconds, view = change(k, view)
        times.append(seconds)
    grew, adds = resident_mb() - before, (stored() - size) / EDITS
    opens = []
    for _ in range(3):
        memory.forget()
        began = time.perf_counter()
        answer = client.get(url)
        opens.append(time.perf_counter() - began)
    saves, cold = statistics.median(times), statistics.median(opens)
    began = time.perf_counter()
    client.get(url)
    warm = time.perf_counter() - began
    name = f"(j) {FRAMES:,} frames x {JOINTS} joints in keys"
    size_mb = len(answer.content) / 1e6
    return all(
        [
            told(name, f"one key adds {adds:.0f} kB (mark {ADDS_KB:.0f})", adds < ADDS_KB),
            told("", f"is saved in {saves:.2f} s (mark {SAVE_SECONDS})", saves < SAVE_SECONDS),
            told(
                "",
                f"opens in {warm:.2f} s, cold {cold:.2f} s, {size_mb:.1f} MB (mark {OPEN_SECONDS})",
                cold < OPEN_SECONDS,
            ),
            told(
                "", f"{EDITS} edits grow it by {grew:.0f} MB (mark {GROWS_MB:.0f})", grew < GROWS_MB
            ),
        ]
    )
