"""The worked examples of docs/: they run as they are written, and each is forty lines at the most."""

import re
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any, Literal

import numpy as np
import pytest
from django.contrib.auth.models import User
from pydantic import BaseModel, Field

from accounts.models import Production
from documents import editing, history, kinds
from documents.kinds import Facts, Kind, Opened, register
from documents.models import Document, Use
from documents.opening import Shelf, opened
from elastic_core.arrays import Array, Index
from elastic_core.colour import Colour
from elastic_core.elastic import Elastic
from elastic_core.errors import Refusal
from elastic_core.exposure import Exposure
from elastic_core.frozen import Frozen
from elastic_core.moments import Source, played
from elastic_core.performance import ChannelKind
from elastic_core.scene.cast import ClipSource, LayerTarget
from elastic_core.scene.clock import clock_of
from elastic_core.scene.cues import cues
from elastic_core.scene.document import Lane, Scene, Stint
from elastic_core.scene.material import Material
from elastic_core.scene.timing import source_time
from jobs import kinds as job_kinds
from jobs.asking import ask
from jobs.kinds import JobKind
from jobs.kinds import register as register_job
from jobs.models import Job
from jobs.running import Run, carry_out_job

from .conftest import Demo

DOCS = Path(__file__).parents[2] / "docs"
KNOWN: dict[str, Any] = {
    "Array": Array, "Index": Index, "Colour": Colour, "ChannelKind": ChannelKind, "Facts": Facts,
    "Field": Field, "Fraction": Fraction, "Frozen": Frozen, "Kind": Kind, "Literal": Literal,
    "Material": Material, "Opened": Opened, "Refusal": Refusal, "Scene": Scene, "Shelf": Shelf,
    "Source": Source, "clock_of": clock_of, "cues": cues, "dataclass": dataclass, "np": np,
    "played": played, "register": register, "source_time": source_time,
    "BaseModel": BaseModel, "INK": {"quay.png": 2, "lamp.png": 5}, "JobKind": JobKind, "Run": Run,
    "register_job": register_job,
}  # fmt: skip


def example(page: str) -> dict[str, Any]:
    """Everything that a page's code defines."""
    blocks = re.findall(r"```python\n(.*?)```", (DOCS / page).read_text(encoding="utf-8"), re.S)
    lines = [line for block in blocks for line in block.splitlines() if line.strip()]
    assert 15 < len(lines) <= 45
    found = dict(KNOWN)
    exec("\n".join(blocks), found)
    return found


@pytest.fixture
def colours_kind(monkeypatch: pytest.MonkeyPatch) -> dict[str, Any]:
    monkeypatch.setattr(kinds, "_KINDS", dict(kinds._KINDS))
    return example("a-new-kind.md")


def test_a_new_kind_is_made_edited_undone_and_told_of(
    demo: Demo, colours_kind: dict[str, Any]
) -> None:
    odo, mika = demo.document("figure", "Odo"), User.objects.get(username="mika")
    production = Production.objects.get(pk=demo.production)
    colours = colours_kind["ColourKey"](name="Odo's inks", figure=str(odo.pk))
    row = editing.create(colours_kind["COLOURS"], production, colours, "New colour key", mika)
    slate = colours_kind["SetInk"](ink="slate", parts=("coat", "cape"))
    made = editing.save(row, slate, 1, mika, token="once")
    assert made.label == "Ink coat, cape in slate"
    assert editing.save(made.row, slate, 1, mika, token="once").row.head == 2
    with pytest.raises(history.Outdated):
        editing.save(made.row, slate, 1, mika)
    with pytest.raises(Refusal, match="one part at least"):
        editing.preview(made.row, colours_kind["SetInk"](ink="rose", parts=()))
    kept = Document.objects.get(pk=row.pk)
    assert (kept.head, kept.facts, kept.figure) == (2, {"inks": 1}, odo.pk)
    assert Use.objects.filter(document=kept, used=odo).exists()
    assert opened(kept).document.inks == {"slate": ("coat", "cape")}
    assert editing.walk(kept, 2, forward=False).facts == {"inks": 0}
    assert history.steps(Document.objects.get(pk=row.pk)).redo == made.label


def test_a_new_target_plays_what_is_placed_on_it_through_every_clock() -> None:
    page = example("a-new-target.md")
    stint = Stint(id="s", source=ClipSource(id="flicker"), start=6, length_frames=30)
    lane = Lane(id="l", name="Lamp", target=LayerTarget(layer="-"), stints=(stint,))
    lane = lane.model_copy(update={"target": page["LampTarget"]()})
    scene = Scene(
        name="Sc",
        rate="24",
        laid_frames=48,
        played_frames=48,
        exposure=Exposure(pattern=(2,)),
        elastic=Elastic.at_pace(0.5),
    ).model_copy(update={"lanes": (lane,)})
    material = Material({}, {ClipSource(id="flicker"): page["Flicker"]()})
    shown = page["lamp_of"](scene, material, np.arange(48.0))
    laid = [(k // 2 * 2) / 2 for k in range(48)]
    expected = [0 if t < 6 else (3, 1, 4, 2)[int((t - 6) % 12 // 3)] for t in laid]
    assert shown.tolist() == expected


def test_a_new_job_is_asked_for_done_and_refused(
    demo: Demo, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(job_kinds, "_KINDS", dict(job_kinds._KINDS))
    page = example("a-new-job.md")
    mika = User.objects.get(username="mika")
    production = Production.objects.get(pk=demo.production)

    def done(*pictures: str) -> Job:
        wish = page["CountBlots"](pictures=pictures)
        asked = ask(page["COUNT_BLOTS"], production, mika, "Blots", wish)
        carry_out_job(asked.pk)
        return Job.objects.get(pk=asked.pk)

    job = done("quay.png", "lamp.png", "lamp.png")
    assert (job.state, job.figure, job.of, job.unit) == ("done", 3, 3, "pictures")
    assert job.outcome == {"blots": 12, "says": ["12 blots on 3 pictures."]}
    assert done("quay.png", "lamp.png", "lamp.png").pk == job.pk
    assert done("gull.png").says == "The picture gull.png is not here any more."


def test_the_operators_page_names_every_setting() -> None:
    root = DOCS.parent
    told = (DOCS / "operating.md").read_text(encoding="utf-8")
    sources = [*(root / "server").glob("config/*.py"), root / "server/gunicorn.conf.py"]
    sources += [root / "bin" / name for name in ("start", "lib.sh")]
    read = {
        name
        for path in sources
        for name in re.findall(r"HOURS_[A-Z_]+", path.read_text(encoding="utf-8"))
    }
    # Made by bin/setup for bin/start alone.
    assert read - {"HOURS_DATABASE_PORT"} == set(re.findall(r"`(HOURS_[A-Z_]+)`", told))
    assert len(told.splitlines()) < 140
