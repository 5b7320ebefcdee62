"""A database made before the footing was laid anew opens after it, with the same frames."""

import gzip
import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit

import psycopg
import pytest

ROOT = Path(__file__).parents[2]
KEPT = ROOT / "tests" / "kept" / "2026-11-27"

# In a process of its own, as the server would: with its own database, migrated.
PLAYS = f"""
import django
django.setup()
import numpy as np
from documents.models import Document, Use
from documents.opening import opened
from documents.telling import told
from elastic_core.figure import forward
from elastic_core.moments import source
from elastic_core.scene.evaluate import frames_of
kept = np.load({str(KEPT / "frames.npz")!r})
worst, scenes, clips = 0.0, 0, 0
for row in Document.objects.order_by("created"):
    now = opened(row)
    assert told(row).told_of == row.head
    if row.kind == "scene":
        scenes += 1
        for shown in frames_of(now.document, now.made_of, kept[row.name + "|frames"]):
            was = kept[row.name + "|" + shown.figure.id + "|positions"]
            worst = max(worst, np.abs(shown.placed.positions - was).max())
    if row.kind == "clip":
        clips += 1
        motion = now.made_of.playable.at(source(kept["clip " + row.name + "|frames"]))
        was = kept["clip " + row.name + "|positions"]
        worst = max(worst, np.abs(forward(now.made_of.figure, motion).positions - was).max())
        assert Use.objects.filter(document=row, used=now.document.figure).exists(), row.name
        for number in row.revisions.values_list("number", flat=True):
            assert opened(row, number).document.name
print(worst, scenes, clips)
"""


@pytest.fixture(scope="module")
def kept_database() -> Iterator[str]:
    base = urlsplit(os.environ["DATABASE_URL"])
    name = f"hours_kept_{os.environ.get('PYTEST_XDIST_WORKER', 'one')}"
    with psycopg.connect(urlunsplit(base), autocommit=True) as connection:
        connection.execute(f'DROP DATABASE IF EXISTS "{name}"')
        connection.execute(f'CREATE DATABASE "{name}"')
    address = urlunsplit(base._replace(path=f"/{name}"))
    sql = gzip.decompress((KEPT / "database.sql.gz").read_bytes())
    with psycopg.connect(address, autocommit=True) as connection:
        connection.execute(sql)
    yield address
    with psycopg.connect(urlunsplit(base), autocommit=True) as connection:
        connection.execute(f'DROP DATABASE IF EXISTS "{name}" WITH (FORCE)')


def run(address: str, *words: str) -> str:
    environment = {
        **os.environ,
        "DATABASE_URL": address,
        "DJANGO_SETTINGS_MODULE": "config.settings",
        "PYTHONPATH": f"{ROOT}/core:{ROOT}/server:{ROOT}",
    }
    done = subprocess.run(
        [sys.executable, *words],
        cwd=ROOT / "server",
        env=environment,
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    return done.stdout


def test_it_is_migrated_and_plays_every_frame_as_it_did(kept_database: str) -> None:
    run(kept_database, "manage.py", "migrate", "--verbosity", "0")
    worst, scenes, clips = run(kept_database, "-c", PLAYS).split()
    assert float(worst) < 1e-6
    assert (int(scenes), int(clips)) == (2, 11)
