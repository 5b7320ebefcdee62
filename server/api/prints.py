"""The prints' room: what is to be printed, what was, and films out."""

from uuid import UUID, uuid4

from django.http import Http404, HttpRequest
from django.http.response import HttpResponseBase
from ninja import Router
from ninja.responses import Status

from documents.opening import opened
from elastic_core.clock import parse_rate
from elastic_core.errors import Refusal
from elastic_core.printing.look import PrintLook
from elastic_core.scene.document import Scene
from jobs.asking import ask
from prints.models import Print
from prints.printing import PRINT_SCENE, PrintScene, throw_away
from scenes.kinds import SCENE

from .access import document, membership, person
from .films import film_out
from .jobs import job_view
from .schemas import JobView, PrintCard, PrintWanted

router = Router(tags=["prints"])
of_production = Router(tags=["prints"])


@of_production.get("/{uuid:production_id}/prints", response=list[PrintCard])
def read_prints(request: HttpRequest, production_id: UUID) -> list[PrintCard]:
    """The production's prints, the newest first."""
    member = membership(request, production_id)
    rows = Print.objects.filter(production=member.production).select_related("film", "author")
    return [print_card(row) for row in rows]


@router.post("/scenes/{uuid:document_id}/prints", response={202: JobView})
def print_scene(request: HttpRequest, document_id: UUID, wanted: PrintWanted) -> Status[JobView]:
    """A scene as it stands, printed by a job: a film with its sound."""
    found, member = document(request, SCENE.key, document_id, to_change=True)
    scene: Scene = opened(found).document
    end = scene.played_frames if wanted.end is None else min(wanted.end, scene.played_frames)
    if wanted.start >= end:
        raise Refusal("There are no frames to print.")
    if wanted.look.view == "camera" and scene.camera is None:
        raise Refusal(f"“{scene.name}” has no camera to look through.")
    wish = PrintScene(
        document=found.pk,
        revision=found.head,
        look=wanted.look,
        start=wanted.start,
        end=end,
        form=wanted.form,
        token=wanted.token or uuid4().hex,
    )
    title = f"{scene.name}, rev {found.head}"
    return Status(202, job_view(ask(PRINT_SCENE, member.production, person(request), title, wish)))


@router.get("/prints/{uuid:print_id}", response=PrintCard)
def read_print(request: HttpRequest, print_id: UUID) -> PrintCard:
    """One print."""
    return print_card(_print(request, print_id))


@router.get("/prints/{uuid:print_id}/film", response=None)
def read_film(request: HttpRequest, print_id: UUID, keep: bool = False) -> HttpResponseBase:
    """The film itself: to `keep`, or the piece of it that is played."""
    found = _print(request, print_id)
    name = f"{found}.{found.form}"
    return film_out(found.film, found.form, name, request.headers.get("Range"), to_keep=keep)


@router.delete("/prints/{uuid:print_id}", response=None)
def throw_print_away(request: HttpRequest, print_id: UUID) -> None:
    """Throw a print away."""
    throw_away(_print(request, print_id, to_change=True))


def print_card(row: Print) -> PrintCard:
    """A print as the page shows it."""
    return PrintCard(
        id=row.pk,
        document=row.document_id,
        name=row.name,
        revision=row.revision,
        form=row.form,  # type: ignore[arg-type]
        look=PrintLook.model_validate(row.look),
        first=row.first,
        frames=row.frames,
        first_frame=row.first_frame,
        rate=row.rate,
        frames_per_second=float(parse_rate(row.rate)),
        has_sound=row.has_sound,
        size_bytes=row.film.size_bytes,
        author=(row.author.get_full_name() or row.author.username) if row.author else None,
        created=row.created,
    )


def _print(request: HttpRequest, print_id: UUID, *, to_change: bool = False) -> Print:
    found = Print.objects.select_related("film", "author").filter(pk=print_id).first()
    if found is None:
        raise Http404
    membership(request, found.production_id, to_change=to_change)
    return found
