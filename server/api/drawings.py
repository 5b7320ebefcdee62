"""The drawings room: sets and runs, and how pictures come in."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import File, Router
from ninja.files import UploadedFile
from ninja.responses import Status

from documents.kinds import Opened
from documents.models import Document
from documents.opening import document_of, opened
from elastic_core.drawings.drawing_set import DrawingSet
from elastic_core.drawings.run import DrawingRun
from elastic_core.drawings.view import run_sheet, set_sheet
from elastic_core.errors import Refusal
from elastic_core.formats.picture_files import form_of_picture
from elastic_core.sheet.of_run import sheet_of_run
from jobs.asking import ask
from library import drawings, files
from library.drawings import BRING_IN_DRAWINGS, DRAWINGS, RUN, BringInDrawings, PictureCame

from .access import document, membership, person
from .doors import MayBringIn
from .jobs import job_view
from .library import run_card
from .rooms import Room, routes_of
from .schemas import (
    JobView,
    KeptPicture,
    NewDrawings,
    NewRun,
    RunCard,
    RunEditWanted,
    RunOutcome,
    RunView,
    SetEditWanted,
    SetOutcome,
    SetView,
    SheetForm,
)
from .sheets import sheet_out

makers = Router(tags=["drawings"])
LARGEST_BYTES = 512 << 20
drawing_door = MayBringIn(lambda: LARGEST_BYTES)


def _set_shown(
    row: Document, now: Opened[DrawingSet], known: Opened[DrawingSet] | None
) -> dict[str, Any]:
    return {"drawings": set_sheet(now.document)}


def _run_shown(
    row: Document, now: Opened[DrawingRun], known: Opened[DrawingRun] | None
) -> dict[str, Any]:
    return {"run": run_sheet(now.document, _drawn(now))}


def _drawn(now: Opened[DrawingRun]) -> DrawingSet | None:
    """A run's set, where it is one that is there."""
    return now.made_of if isinstance(now.made_of, DrawingSet) else None


sets = routes_of(
    Room(
        kind=DRAWINGS,
        view=SetView,
        shown=_set_shown,
        wanted=SetEditWanted,
        outcome=SetOutcome,
        told=lambda edited: {},
    )
)
runs = routes_of(
    Room(
        kind=RUN,
        view=RunView,
        shown=_run_shown,
        wanted=RunEditWanted,
        outcome=RunOutcome,
        told=lambda edited: {},
    )
)


@runs.get("/{uuid:document_id}/sheet", response=None)
def read_run_sheet(request: HttpRequest, document_id: UUID, form: SheetForm) -> HttpResponseBase:
    """The run's exposure sheet: as CSV, or on paper as PDF."""
    found, _ = document(request, RUN.key, document_id)
    return sheet_out(sheet_of_run(opened(found).document), form)


@makers.post("/{uuid:production_id}/drawing-files", auth=drawing_door, response={201: KeptPicture})
def keep_drawing_file(
    request: HttpRequest, production_id: UUID, upload: File[UploadedFile]
) -> Status[KeptPicture]:
    """Keep a file with pictures, as it came; what is none is refused."""
    member = membership(request, production_id, to_change=True)
    taken = drawing_door.taken(upload)
    name = (upload.name or "drawing")[-120:]
    form_of_picture(next(iter(taken.chunks()), b""), name)
    kept = files.store_pieces(member.production, name, taken.chunks)
    return Status(201, KeptPicture(file=kept.sha256, name=name))


@makers.post("/{uuid:production_id}/drawings", response={202: JobView})
def bring_in_drawings(
    request: HttpRequest, production_id: UUID, wanted: NewDrawings
) -> Status[JobView]:
    """Kept files become drawings, by a job: pictures are taken apart, and made light."""
    member = membership(request, production_id, to_change=True)
    if wanted.into is not None:
        drawings.drawings_in(member.production, wanted.into)
    wish = BringInDrawings(
        **wanted.model_dump(exclude={"files"}),
        files=[PictureCame(file=one.file, name=one.name) for one in wanted.files],
    )
    job = ask(BRING_IN_DRAWINGS, member.production, person(request), wanted.name, wish)
    return Status(202, job_view(job))


@makers.post("/{uuid:production_id}/runs", response={201: RunCard})
def new_run(request: HttpRequest, production_id: UUID, wanted: NewRun) -> Status[RunCard]:
    """A run of a set: of all its drawings, or like another one."""
    member = membership(request, production_id, to_change=True)
    row, drawn = drawings.drawings_in(member.production, wanted.drawings)
    name = wanted.name or row.name
    run = drawings.run_of_all(drawn, str(row.pk), name)
    if wanted.like is not None:
        other = member.production.documents.filter(kind=RUN.key, pk=wanted.like).first()
        if other is None:
            raise Refusal("That run is not in this production.")
        like: DrawingRun = document_of(other)
        run = like.model_copy(update={"name": name, "drawings": str(row.pk)})
    return Status(201, run_card(drawings.new_run(member.production, run, person(request))))
