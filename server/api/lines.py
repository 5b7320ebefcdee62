"""The voice room: lines, their reading, and mouth charts."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import Router
from ninja.responses import Status

from documents.kinds import Opened
from documents.models import Document
from documents.opening import opened
from elastic_core.errors import Refusal
from elastic_core.formats.captions import labels_of, vtt_of
from elastic_core.sheet.changed import changes_in
from elastic_core.sheet.of_line import sheet_of_line
from elastic_core.voice.chart import ChartMouths, MouthChart, usual_mouths
from elastic_core.voice.line import Line
from elastic_core.voice.line_edits import BringSheetIn
from elastic_core.voice.view import sheet_of
from jobs.asking import ask
from library import lines
from library.kinds import SOUND
from library.lines import CHART, LINE, LineMade

from .access import document, membership, person
from .downloads import download
from .jobs import job_view
from .library import chart_card, line_card
from .rooms import Room, routes_of
from .schemas import (
    ChartCard,
    ChartEditWanted,
    ChartOutcome,
    ChartView,
    JobView,
    LineCard,
    LineEditWanted,
    LineOutcome,
    LineView,
    NewChartWanted,
    NewLineWanted,
    ReadLineWanted,
    SheetForm,
    SheetWanted,
    WordsForm,
)
from .sheets import sheet_out

makers = Router(tags=["line"])


def _line_shown(row: Document, now: Opened[Line], known: Opened[Line] | None) -> dict[str, Any]:
    made: LineMade = now.made_of
    return {"line": sheet_of(made.line, made.chart, made.run, made.sound.seconds)}


router = routes_of(
    Room(
        kind=LINE,
        view=LineView,
        shown=_line_shown,
        wanted=LineEditWanted,
        outcome=LineOutcome,
        told=lambda edited: {},
    )
)


@router.post("/{uuid:document_id}/read", response={202: JobView})
def read_line(request: HttpRequest, document_id: UUID, wanted: ReadLineWanted) -> Status[JobView]:
    """Lay the line's text on its sound, or read the sound alone, as a job."""
    found, _ = document(request, LINE.key, document_id, to_change=True)
    wish = lines.ReadLine(
        line=str(found.pk), rough=wanted.rough, again_at=wanted.again_at, token=wanted.token
    )
    job = ask(lines.READ_LINE, found.production, person(request), f"Read {found.name}", wish)
    return Status(202, job_view(job))


@router.get("/{uuid:document_id}/sheet", response=None)
def line_sheet(request: HttpRequest, document_id: UUID, form: SheetForm) -> HttpResponseBase:
    """The line's exposure sheet: as CSV, or on paper as PDF."""
    found, _ = document(request, LINE.key, document_id)
    made: LineMade = opened(found).made_of
    return sheet_out(sheet_of_line(made.line, made.chart, made.run), form)


@router.get("/{uuid:document_id}/words", response=None)
def line_words(request: HttpRequest, document_id: UUID, form: WordsForm) -> HttpResponseBase:
    """What is said when, for other tools: captions (WebVTT), or a line a word with tabs between."""
    found, _ = document(request, LINE.key, document_id)
    line: Line = opened(found).document
    if line.reading is None or not line.reading.words:
        raise Refusal(f"Nothing is read in “{line.name}” yet.")
    if form == "vtt":
        captions = vtt_of(line.reading, line.speaker)
        return download(captions, f"{found.name}.vtt", "text/vtt; charset=utf-8")
    labels = labels_of(line.reading)
    return download(labels, f"{found.name} words.txt", "text/plain; charset=utf-8")


@router.post("/{uuid:document_id}/sheet-changes", response=BringSheetIn)
def sheet_changes(request: HttpRequest, document_id: UUID, wanted: SheetWanted) -> BringSheetIn:
    """What was changed on the line's sheet outside, as the edit that makes it so here."""
    found, _ = document(request, LINE.key, document_id, to_change=True)
    made: LineMade = opened(found).made_of
    return changes_in(wanted.csv.encode(), made.line, made.chart, made.run)


def _chart_shown(
    row: Document, now: Opened[MouthChart], known: Opened[MouthChart] | None
) -> dict[str, Any]:
    chart = now.document
    return {"chart": chart, "stood_in": chart.stood_in, "reach_degrees": chart.reach_degrees}


charts = routes_of(
    Room(
        kind=CHART,
        view=ChartView,
        shown=_chart_shown,
        wanted=ChartEditWanted,
        outcome=ChartOutcome,
        told=lambda edited: {},
    )
)


@makers.get("/{uuid:production_id}/our-mouths", response=ChartMouths)
def our_mouths(request: HttpRequest, production_id: UUID) -> ChartMouths:
    """The mouths of a line that has no chart."""
    membership(request, production_id)
    return usual_mouths()


@makers.post("/{uuid:production_id}/lines", response={201: LineCard})
def new_line(request: HttpRequest, production_id: UUID, wanted: NewLineWanted) -> Status[LineCard]:
    """A sound of the production with its text becomes a line."""
    member = membership(request, production_id, to_change=True)
    production = member.production
    sound = production.documents.filter(kind=SOUND.key, pk=wanted.sound).first()
    if sound is None:
        raise Refusal("That sound is not in this production.")
    chart = wanted.chart and production.documents.filter(kind=CHART.key, pk=wanted.chart).first()
    if wanted.chart and not chart:
        raise Refusal("That mouth chart is not in this production.")
    line = Line(
        name=wanted.name or sound.name,
        sound=str(sound.pk),
        text=wanted.text.strip(),
        speaker=wanted.speaker,
        rate=wanted.rate,
        chart=str(chart.pk) if chart else "",
    )
    return Status(201, line_card(lines.new_line(production, line, person(request))))


@makers.post("/{uuid:production_id}/charts", response={201: ChartCard})
def new_chart(
    request: HttpRequest, production_id: UUID, wanted: NewChartWanted
) -> Status[ChartCard]:
    """A mouth chart of the production, on a figure's face: ours to begin with, or a copy of another one."""
    member = membership(request, production_id, to_change=True)
    begun = lines.Begun(wanted.name, wanted.like, wanted.figure, wanted.part, wanted.view)
    chart = lines.chart_to_begin_with(member.production, begun)
    row = lines.new_chart(member.production, chart, person(request))
    return Status(201, chart_card(row))
