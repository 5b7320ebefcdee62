"""The prints' room: what is to be printed, what was, and films out."""

from fractions import Fraction
from uuid import UUID, uuid4

from django.contrib.auth.models import User
from django.http import Http404, HttpRequest
from django.http.response import HttpResponseBase
from ninja import Router
from ninja.responses import Status

from accounts.models import Membership, Production
from accounts.people import shown_name
from documents.models import Document
from documents.opening import opened
from elastic_core.capture.take import Take
from elastic_core.clip.document import Clip
from elastic_core.clock import parse_rate
from elastic_core.errors import Refusal
from elastic_core.printing.at_rate import pictures_in
from elastic_core.printing.look import ENDINGS, PrintLook, checked_form
from elastic_core.printing.moving import check_moving
from elastic_core.quantities import MOST_FRAMES
from elastic_core.scene.document import LONGEST_SCENE_FRAMES, Scene
from jobs import waiting
from jobs.asking import ask
from jobs.models import Job
from library.kinds import CLIP
from library.takes import TAKE
from prints import night_list
from prints.models import Print
from prints.printing import PRINT, PrintWish, throw_away
from scenes.kinds import SCENE

from .access import document, membership, person
from .films import film_out
from .jobs import job_view
from .schemas import (
    JobView,
    NightOrder,
    OldPrints,
    PrintCard,
    PrintRow,
    PrintWanted,
    PutOff,
    ThrownAway,
)

router = Router(tags=["prints"])
of_production = Router(tags=["prints"])


@of_production.get("/{uuid:production_id}/prints", response=list[PrintCard])
def read_prints(request: HttpRequest, production_id: UUID) -> list[PrintCard]:
    """The production's prints, the newest first."""
    member = membership(request, production_id)
    rows = Print.objects.filter(production=member.production).select_related(
        "film", "author", "document"
    )
    return [print_card(row) for row in rows]


@router.post("/scenes/{uuid:document_id}/prints", response={202: JobView})
def print_scene(request: HttpRequest, document_id: UUID, wanted: PrintWanted) -> Status[JobView]:
    """A scene as it stands, printed by a job: a film with its sound, or pictures."""
    found, member = document(request, SCENE.key, document_id, to_change=True)
    scene: Scene = opened(found).document
    if scene.camera is None:
        _refuse_camera(scene.name, wanted)
    if wanted.captured:
        raise Refusal("Only a take is printed beside what it was.")
    return _asked(request, member, found, wanted, scene.played_frames, scene.rate)


@router.post("/clips/{uuid:document_id}/prints", response={202: JobView})
def print_clip(request: HttpRequest, document_id: UUID, wanted: PrintWanted) -> Status[JobView]:
    """A clip by itself, printed by a job; a cycle for as long as is wanted."""
    found, member = document(request, CLIP.key, document_id, to_change=True)
    clip: Clip = opened(found).document
    _refuse_camera(clip.name, wanted)
    if wanted.captured:
        raise Refusal("Only a take is printed beside what it was.")
    goes_on = clip.is_cycle and wanted.end is not None
    length = LONGEST_SCENE_FRAMES if goes_on else clip.length_frames
    return _asked(request, member, found, wanted, length, clip.rate)


@router.post("/takes/{uuid:document_id}/prints", response={202: JobView})
def print_take(request: HttpRequest, document_id: UUID, wanted: PrintWanted) -> Status[JobView]:
    """What a take's recipe makes of it, printed by a job, and beside it what it was if that is wanted."""
    found, member = document(request, TAKE.key, document_id, to_change=True)
    take: Take = opened(found).document
    _refuse_camera(take.name, wanted)
    # How many frames come of it its recipe says, when it is run.
    return _asked(request, member, found, wanted, MOST_FRAMES, take.clip_rate)


def _refuse_camera(name: str, wanted: PrintWanted) -> None:
    if wanted.look.view == "camera":
        raise Refusal(f"“{name}” has no camera to look through.")


def _asked(
    request: HttpRequest,
    member: Membership,
    found: Document,
    wanted: PrintWanted,
    length: int,
    rate: Fraction,
) -> Status[JobView]:
    end = length if wanted.end is None else min(wanted.end, length)
    if wanted.start >= end:
        raise Refusal("There are no frames to print.")
    look, form = wanted.look, wanted.form
    checked_form(form, look)
    is_known = wanted.end is not None or length < MOST_FRAMES
    if is_known and (form == "webp" or form == "gif"):
        at = wanted.rate or rate
        count = pictures_in(end - wanted.start, rate, at)
        check_moving(count, (look.width, look.height), at, form)
    if wanted.beside is not None and not found.revisions.filter(number=wanted.beside).exists():
        raise Refusal(f"“{found.name}” has no revision {wanted.beside}.")
    wish = PrintWish(
        document=found.pk,
        revision=found.head,
        end=end,
        token=wanted.token or uuid4().hex,
        **wanted.model_dump(
            include={
                "look",
                "start",
                "form",
                "rounds",
                "every",
                "beside",
                "captured",
                "rate",
                "in_place",
            }
        ),
    )
    title = f"{found.name}, rev {found.head}"
    asked = ask(PRINT, member.production, person(request), title, wish, wanted.not_before)
    return Status(202, job_view(asked))


@of_production.get("/{uuid:production_id}/night-list", response=list[PrintRow])
def read_night_list(request: HttpRequest, production_id: UUID) -> list[PrintRow]:
    """What is printed and what waits, in the order it is taken up, whoever asked for it; and what of the
    person's own came to nothing."""
    member = membership(request, production_id)
    return _night_list(request, member.production)


@of_production.put("/{uuid:production_id}/night-list", response=list[PrintRow])
def put_night_list_in_order(
    request: HttpRequest, production_id: UUID, wanted: NightOrder
) -> list[PrintRow]:
    """Have what waits printed in this order."""
    production = membership(request, production_id, to_change=True).production
    waiting.put_in_order(production, PRINT.key, wanted.order)
    return _night_list(request, production)


@of_production.patch("/{uuid:production_id}/night-list/{uuid:job_id}", response=list[PrintRow])
def put_print_off(
    request: HttpRequest, production_id: UUID, job_id: UUID, wanted: PutOff
) -> list[PrintRow]:
    """Have a print wait, or let it go."""
    production = membership(request, production_id, to_change=True).production
    job = _listed(production, job_id)
    waiting.put_off(job, is_held=wanted.is_held, not_before=wanted.not_before)
    return _night_list(request, production)


@of_production.delete("/{uuid:production_id}/night-list/{uuid:job_id}", response=list[PrintRow])
def take_off_night_list(request: HttpRequest, production_id: UUID, job_id: UUID) -> list[PrintRow]:
    """Take a print back, or put one away that came to nothing: one’s own, or as an owner anybody’s."""
    member = membership(request, production_id, to_change=True)
    night_list.take_off(member, _listed(member.production, job_id))
    return _night_list(request, member.production)


@of_production.post("/{uuid:production_id}/night-list/{uuid:job_id}/again", response=list[PrintRow])
def print_again(request: HttpRequest, production_id: UUID, job_id: UUID) -> list[PrintRow]:
    """What came to nothing is tried once more."""
    production = membership(request, production_id, to_change=True).production
    night_list.print_again(_listed(production, job_id), person(request))
    return _night_list(request, production)


@of_production.post("/{uuid:production_id}/prints/old", response=ThrownAway)
def throw_old_away(request: HttpRequest, production_id: UUID, wanted: OldPrints) -> ThrownAway:
    """Throw away all prints that are older than so many days."""
    production = membership(request, production_id, to_change=True).production
    rows = night_list.throw_old_away(production, wanted.days)
    return ThrownAway(prints=len(rows), size_bytes=sum(row.film.size_bytes for row in rows))


@router.get("/prints/{uuid:print_id}", response=PrintCard)
def read_print(request: HttpRequest, print_id: UUID) -> PrintCard:
    """One print."""
    return print_card(_print(request, print_id))


@router.get("/prints/{uuid:print_id}/film", response=None)
def read_film(request: HttpRequest, print_id: UUID, keep: bool = False) -> HttpResponseBase:
    """The film itself, or the pictures: to `keep`, or the piece of it that is played."""
    found = _print(request, print_id)
    name = f"{found}{ENDINGS[found.form]}"
    return film_out(found.film, found.form, name, request.headers.get("Range"), to_keep=keep)


@router.delete("/prints/{uuid:print_id}", response=None)
def throw_print_away(request: HttpRequest, print_id: UUID) -> None:
    """Throw a print away."""
    throw_away(_print(request, print_id, to_change=True))


def print_card(row: Print) -> PrintCard:
    """A print as the page shows it."""
    rate = parse_rate(row.rate)
    shown = parse_rate(row.shown_rate) if row.shown_rate else rate
    return PrintCard(
        id=row.pk,
        document=row.document_id,
        kind=row.document.kind if row.document else None,  # type: ignore[arg-type]
        name=row.name,
        revision=row.revision,
        beside=row.beside,
        captured=row.captured,
        form=row.form,  # type: ignore[arg-type]
        look=PrintLook.model_validate(row.look),
        first=row.first,
        frames=row.frames,
        rounds=row.rounds,
        pictures=pictures_in(row.frames, shown, rate),
        first_frame=row.first_frame,
        rate=row.rate,
        frames_per_second=float(rate),
        shown_frames_per_second=float(shown),
        has_sound=row.has_sound,
        size_bytes=row.film.size_bytes,
        author=(row.author.get_full_name() or row.author.username) if row.author else None,
        created=row.created,
    )


def _night_list(request: HttpRequest, production: Production) -> list[PrintRow]:
    me = person(request)
    return [_row(job, me) for job in night_list.listed(production, me)]


def _row(job: Job, me: User) -> PrintRow:
    wish = PrintWish.model_validate(job.wish)
    pace = night_list.frames_per_second(job)
    return PrintRow(
        id=job.pk,
        document=wish.document,
        title=job.title,
        form=wish.form,
        look=wish.look,
        state=job.state,  # type: ignore[arg-type]
        figure=job.figure,
        of=job.of or wish.end - wish.start,
        frames_per_second=pace,
        seconds_left=None if pace is None else (job.of - job.figure) / pace,
        not_before=job.not_before,
        is_held=job.is_held,
        is_cancelled=job.is_cancelled,
        says=job.says,
        author=shown_name(job.person),
        is_yours=job.person_id == me.pk,
    )


def _listed(production: Production, job_id: UUID) -> Job:
    found = production.jobs.filter(kind=PRINT.key, pk=job_id).first()
    if found is None:
        raise Http404
    return found


def _print(request: HttpRequest, print_id: UUID, *, to_change: bool = False) -> Print:
    found = Print.objects.select_related("film", "author", "document").filter(pk=print_id).first()
    if found is None:
        raise Http404
    membership(request, found.production_id, to_change=to_change)
    return found
