"""Lines and mouth charts, as kinds of documents; and the job in which a line is read."""

import hashlib
import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal
from uuid import UUID

from django.contrib.auth.models import User
from pydantic import BaseModel

from accounts.models import Production
from documents import editing
from documents.kinds import Facts, Kind, Opened, edit_digest
from documents.memory import memory
from documents.models import Document
from documents.opening import Shelf, document_of
from elastic_core.clock import format_rate
from elastic_core.errors import Refusal
from elastic_core.listening.asking import listener, speech_of
from elastic_core.listening.between import read_between
from elastic_core.sound.document import HOUSE_RATE, Sound
from elastic_core.voice.chart import ChartMouths, ChartSide, MouthChart, usual_mouths
from elastic_core.voice.chart_edits import ChartEdit, ChartEdited, edit_chart
from elastic_core.voice.exposing import MouthRun
from elastic_core.voice.faces import proposed_place, usual_eyes
from elastic_core.voice.line import READ_LANGUAGES, Line, run_of
from elastic_core.voice.line_edits import LineEdit, LineEdited, SetReading, edit_line
from elastic_core.voice.loudness import Speech
from elastic_core.voice.playing import LinePlayed
from elastic_core.voice.reading import Reading
from elastic_core.voice.rough import read_roughly
from jobs.kinds import JobKind
from jobs.models import Job
from jobs.running import Run

from . import pictures, sounds
from .bringing_in import figure_in
from .models import KeptReading

# Goes up where the same sound and text would be read otherwise.
READER = 2

# Charts


def _edit_chart(
    shelf: Shelf, before: Opened[MouthChart], edit: ChartEdit
) -> tuple[Opened[MouthChart], ChartEdited]:
    edited = edit_chart(before.document, edit)
    drawn = {mouth.picture.file for mouth in edited.chart.mouths if mouth.picture is not None}
    if drawn:
        pictures.check_files(shelf.production_id, drawn)
    content = f"{before.content}:{edit_digest(edit)}"
    return Opened(edited.chart, edited.chart, content, before.made_from), edited


def _chart_uses(chart: MouthChart) -> set[str]:
    return {chart.figure} if chart.figure else set()


CHART: Kind[MouthChart, ChartEdit] = Kind(
    key="chart",
    read=MouthChart.model_validate,
    write=lambda chart: chart.model_dump(mode="json"),
    weighs=lambda chart: 4_000 + 2_000 * len(chart.mouths),
    uses=_chart_uses,
    open=lambda shelf, chart, name: Opened(chart, chart, name, shelf.made_from(_chart_uses(chart))),
    edit=_edit_chart,
    facts=lambda now: Facts(
        figure=now.document.figure or None,
        rest={
            "mouths": len(now.document.mouths),
            "part": now.document.part,
            "view": now.document.view,
        },
    ),
)


def new_chart(production: Production, chart: MouthChart, author: User) -> Document:
    """A mouth chart on the shelf."""
    return editing.create(CHART, production, chart, f"New chart {chart.name}", author)


@dataclass(frozen=True)
class Begun:
    """What a new chart is to be: like another one, on a figure's face, seen from a side."""

    name: str
    like: UUID | None = None
    figure: UUID | None = None
    part: Literal["mouth", "eyes"] = "mouth"
    view: ChartSide | None = None


def chart_to_begin_with(production: Production, begun: Begun) -> MouthChart:
    """A new chart: our ten mouths or three eyes, or another chart's drawings; on a figure's face where one is
    named. Raises Refusal where that chart or figure is not in the production."""
    chart = _like(production, begun)
    if begun.view is not None:
        chart = chart.model_copy(update={"view": begun.view})
    if begun.figure is None or str(begun.figure) == chart.figure:
        return chart
    row, figure = figure_in(production, begun.figure)
    place = proposed_place(figure, chart.part)
    return chart.model_copy(update={"figure": str(row.pk), "place": place})


def _like(production: Production, begun: Begun) -> MouthChart:
    if begun.like is None:
        drawn = usual_eyes() if begun.part == "eyes" else usual_mouths().mouths
        return MouthChart(name=begun.name, part=begun.part, mouths=drawn)
    row = production.documents.filter(kind=CHART.key, pk=begun.like).first()
    if row is None:
        raise Refusal("That mouth chart is not in this production.")
    found: MouthChart = document_of(row)
    return found.model_copy(update={"name": begun.name})


# Lines


@dataclass(frozen=True, eq=False)
class LineMade:
    """A line with what it is made of, and its run of mouths."""

    line: Line
    sound: Sound
    chart: ChartMouths
    run: MouthRun


def _line_uses(line: Line) -> set[str]:
    return {line.sound, line.chart} - {""}


def _open_line(shelf: Shelf, line: Line, name: str) -> Opened[Line]:
    found = shelf.documents(_line_uses(line))
    sound, chart = found.get(line.sound), found.get(line.chart)
    if not isinstance(sound, Sound):
        raise Refusal(f"The sound of “{line.name}” is missing.")
    if line.chart and not isinstance(chart, MouthChart):
        raise Refusal(f"The mouth chart of “{line.name}” is missing.")
    mouths = chart if isinstance(chart, MouthChart) else usual_mouths()
    made_from = shelf.made_from(_line_uses(line))
    run = memory.made(
        _run_key(name, made_from), lambda: run_of(line, mouths, sound.seconds), _run_weighs
    )
    return Opened(line, LineMade(line, sound, mouths, run), name, made_from, weighs=40_000)


def _run_key(name: str, made_from: str) -> tuple[str, str, str]:
    return ("run", name, made_from)


def _run_weighs(run: MouthRun) -> int:
    return 400 * len(run.exposures)


def _keep_run(now: Opened[Line], name: str) -> None:
    made: LineMade = now.made_of
    memory.put(_run_key(name, now.made_from), made.run, _run_weighs(made.run))


def line_played(
    shelf: Shelf, line: Line, name: str, part: Literal["mouth", "eyes"] = "mouth"
) -> LinePlayed:
    """A line ready to play on a lane. Raises Refusal where its sound or its chart is missing."""
    made: LineMade = _open_line(shelf, line, name).made_of
    figure = made.chart.figure if isinstance(made.chart, MouthChart) else ""
    return LinePlayed(line, made.run, figure, tuple(sorted(_line_uses(line))), part)


def _edit_line(
    shelf: Shelf, before: Opened[Line], edit: LineEdit
) -> tuple[Opened[Line], LineEdited]:
    made: LineMade = before.made_of
    edited = edit_line(before.document, edit, made.run)
    shelf.heads(_line_uses(edited.line))
    after = _open_line(shelf, edited.line, f"{before.content}:{edit_digest(edit)}")
    return after, edited


def _line_facts(now: Opened[Line]) -> Facts:
    line, made = now.document, now.made_of
    words = line.reading.words if line.reading else ()
    return Facts(
        rate=format_rate(line.rate),
        length_frames=made.run.frames,
        rest={
            "sound": line.sound,
            "speaker": line.speaker,
            "text": line.text[:200],
            "words": len(words),
            "not_heard": len(line.reading.not_heard) if line.reading else 0,
            "is_read": line.is_read,
            "length_seconds": made.sound.seconds,
        },
    )


LINE: Kind[Line, LineEdit] = Kind(
    key="line",
    read=Line.model_validate,
    write=lambda line: line.model_dump(mode="json"),
    weighs=lambda line: 4_000 + 400 * (len(line.reading.phones) if line.reading else 0),
    uses=_line_uses,
    open=_open_line,
    edit=_edit_line,
    facts=_line_facts,
    keep=_keep_run,
)


def new_line(production: Production, line: Line, author: User) -> Document:
    """A line on the shelf. Raises Refusal where its sound or its chart is not in the production."""
    return editing.create(LINE, production, line, f"New line {line.name}", author)


# Reading


class ReadLine(BaseModel):
    """A line to be read: its text in its sound, or `rough` from the sound alone, or `again_at` a moment only
    what lies between the pins round it. `token` names the wish."""

    line: str
    rough: bool = False
    again_at: float | None = None
    token: str


def read_line(run: Run, wish: ReadLine) -> None:
    """Read a line, as a job: what was read once is never read twice."""
    row = Document.objects.get(pk=wish.line, production=run.production)
    line: Line = document_of(row)
    sound: Sound | None = Shelf(run.production.pk).documents([line.sound], "sound").get(line.sound)
    if sound is None:
        raise Refusal(f"The sound of “{line.name}” is missing.")
    if not wish.rough and line.language not in READ_LANGUAGES:
        raise Refusal(
            "Words are read in English only. Read the sound alone, or type phones for the words."
        )
    run.progress(0, 100, "% of the sound")
    if wish.again_at is None:
        reading = _read(run, line, sound, rough=wish.rough)
    else:
        reading = _read_again(run, line, sound, wish.again_at)
    with run.closing():
        row.refresh_from_db()
        text = "" if wish.rough else line.text
        if wish.again_at is not None:
            text = line.read_text
        edit = SetReading(text=text, reading=reading)
        made = editing.save(row, edit, row.head, run.person, wish.token)
        says = list(made.notes) or [f"{row.name} is read."]
        run.outcome = {"line": str(row.pk), "says": says}


def _read(run: Run, line: Line, sound: Sound, *, rough: bool) -> Reading:
    key = _content(sound, line.text, line.said, rough=rough)
    kept = KeptReading.objects.filter(pk=key).first()
    if kept is not None:
        return Reading.model_validate(kept.reading)
    speech = heard(sound)
    if rough:
        reading = read_roughly(speech)
    else:
        if not line.text.strip():
            raise Refusal("The line has no text. Paste it, or read the sound alone.")
        said = {word: [phones] for word, phones in line.said.items()}
        reading = listener().read(speech, line.text, said, _told_by(run))
    KeptReading.objects.get_or_create(pk=key, defaults={"reading": reading.model_dump(mode="json")})
    return reading


def _read_again(run: Run, line: Line, sound: Sound, at_seconds: float) -> Reading:
    if line.reading is None:
        raise Refusal("The sound has not been read yet.")
    said = {word: [phones] for word, phones in line.said.items()}

    def read(speech: Speech, text: str) -> Reading:
        return listener().read(speech, text, said, _told_by(run))

    return read_between(line.reading, heard(sound), at_seconds, read)


def _told_by(run: Run) -> Callable[[float, float], None]:
    def progress(done: float, of: float) -> None:
        share = 100 * done / of if of else 0.0
        run.progress(min(99, round(share)), 100, "% of the sound")

    return progress


def heard(sound: Sound) -> Speech:
    """A sound as it is listened to: one channel at 16 kHz."""
    kept = sounds.kept(sound)
    return speech_of(kept.samples(0, kept.count), HOUSE_RATE)


def _content(sound: Sound, text: str, said: Mapping[str, Sequence[str]], *, rough: bool) -> str:
    told = {"reader": READER, "sound": sound.file, "rough": rough}
    if not rough:
        told |= {"text": text, "said": {word: list(phones) for word, phones in said.items()}}
    return hashlib.sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()


def _nothing_left(job: Job, wish: ReadLine) -> None:
    """A reading is kept whole or not at all."""


READ_LINE = JobKind("read line", ReadLine, read_line, _nothing_left)
