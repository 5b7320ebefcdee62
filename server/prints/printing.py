"""A scene, a clip or a take is printed, as a job: painted by the page itself, with what is heard of it."""

import shutil
import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import get_args
from uuid import UUID

from django.conf import settings
from pydantic import BaseModel, Field

from accounts.models import Production
from documents.kinds import content_name
from documents.models import Document
from elastic_core.clock import Rate, format_rate
from elastic_core.errors import Refusal
from elastic_core.printing.at_rate import AtRate
from elastic_core.printing.beside import half_of, press_beside
from elastic_core.printing.contact import print_contact
from elastic_core.printing.film import Heard, print_film
from elastic_core.printing.keyed import every, key_frames
from elastic_core.printing.look import (
    ENDINGS,
    MOST_ROUNDS,
    ContactForm,
    FilmForm,
    PrintForm,
    PrintLook,
)
from elastic_core.printing.moving import print_moving
from elastic_core.printing.painter import Painter
from elastic_core.printing.press import press_for
from elastic_core.printing.sequence import print_zip
from elastic_core.printing.sheet import Printed
from elastic_core.scene.document import Scene
from elastic_core.scene.hearing import heard_stamp, mixed
from elastic_core.scene.material import Material
from jobs.kinds import PRINTS, JobKind
from jobs.models import Job
from jobs.running import Run
from library import files, pictures
from library.models import StoredFile
from scenes.recordings import SceneRecordings

from .models import Print, PrintPart
from .subjects import Subject, captured, subject_of

PIECE_BYTES = 1 << 20


class PrintWish(BaseModel):
    """A revision of a scene, a clip or a take: its played frames `[start, end)`, a film's round and round so
    often, a contact sheet's every so many, or without `every` those with keys. At the left stands the revision
    `beside`, or what a take was when it was `captured`. `token` names the wish: it may be printed again."""

    document: UUID
    revision: int
    look: PrintLook
    start: int = Field(ge=0)
    end: int = Field(ge=1)
    form: PrintForm = "mp4"
    rounds: int = Field(default=1, ge=1, le=MOST_ROUNDS)
    every: int | None = Field(default=None, ge=1)
    beside: int | None = None
    captured: bool = False
    rate: Rate | None = None
    in_place: bool = False
    token: str = ""


def print_document(run: Run, wish: PrintWish) -> None:
    """Print; a film from where a worker that died has left it."""
    production = run.production
    row = production.documents.filter(pk=wish.document).first()
    if row is None:
        raise Refusal("What was to be printed is not in this production any more.")
    subject = subject_of(row, wish.revision, wish.end, in_place=wish.in_place)
    before = _beside(row, wish)
    scene = subject.scene
    longest = max(one.scene.played_frames for one in (subject, before) if one)
    span = range(wish.start, min(wish.end, longest))
    if not span:
        raise Refusal("There are no frames to print.")
    frames = _chosen(wish, subject, span)
    heard = heard_in(scene, subject.material) if wish.form in get_args(FilmForm) else None
    rate = wish.rate or scene.rate
    told = f"{subject.content} at {format_rate(rate)}"
    content = content_name(told, before.content if before else "")
    with _written_in(run.job) as folder:
        path = folder / f"print{ENDINGS[wish.form]}"
        run.progress(0, len(frames), "frames")
        with _press(wish, subject, before, production) as press:
            _print(run, wish, AtRate(press, span, rate), frames, path, heard, content)
        with run.closing():
            name = f"{scene.name}{ENDINGS[wish.form]}"[-255:]
            film = files.store_pieces(production, name, lambda: _pieces(path))
            made = Print.objects.create(
                production=production,
                document=row,
                name=scene.name,
                revision=wish.revision,
                beside=wish.beside,
                captured=wish.captured,
                form=wish.form,
                look=wish.look.model_dump(mode="json"),
                first=span.start,
                frames=len(frames),
                rounds=wish.rounds,
                first_frame=scene.first_frame,
                rate=format_rate(rate),
                shown_rate=format_rate(scene.rate),
                has_sound=heard is not None,
                film=film,
                author=run.person,
            )
            run.job.print_parts.all().delete()
            run.outcome = {"print": str(made.pk), "says": [f"{made} is printed."]}


def _beside(row: Document, wish: PrintWish) -> Subject | None:
    if wish.captured:
        return captured(row, wish.revision)
    return (
        None
        if wish.beside is None
        else subject_of(row, wish.beside, wish.end, in_place=wish.in_place)
    )


def _chosen(wish: PrintWish, subject: Subject, span: range) -> Sequence[int]:
    """The frames that are painted. Raises Refusal where none has keys and those were asked for."""
    if wish.form not in get_args(ContactForm):
        return span
    if wish.every is None:
        return key_frames(subject.scene, subject.material, span)
    return every(span, wish.every)


@contextmanager
def _press(
    wish: PrintWish, subject: Subject, before: Subject | None, production: Production
) -> Iterator[Painter]:
    picture = picture_in(production)
    if before is None:
        printed = Printed(subject.scene, subject.material, wish.look, wish.revision)
        with press_for(printed, picture, settings.WEB) as press:
            yield press
        return
    look = wish.look.model_copy(update={"width": half_of(wish.look.width)})
    number = wish.revision if wish.beside is None else wish.beside
    left = Printed(before.scene, before.material, look, number)
    right = Printed(subject.scene, subject.material, look, wish.revision)
    with press_beside(left, right, picture, settings.WEB) as both:
        yield both


def _print(
    run: Run,
    wish: PrintWish,
    film: AtRate,
    frames: Sequence[int],
    path: Path,
    heard: Heard | None,
    content: str,
) -> None:
    """Write the file that is wanted. Raises Refusal as its form does."""
    form, clear = wish.form, wish.look.transparent
    of = len(frames) if form in ("png", "contact", "pdf") else len(film.pictures)

    def told(done: int) -> None:
        run.progress(done, of, "frames")

    if form == "contact" or form == "pdf":
        title = run.job.title
        print_contact(film.press, frames, path, form, title, told, transparent=clear)
    elif form == "png":
        print_zip(film.press, film.span, path, told)
    elif form == "webp" or form == "gif":
        print_moving(film, film.pictures, path, form, told)
    else:
        kept = KeptParts(run.job, content)
        print_film(film, film.pictures, path, form, film.heard(heard), told, kept, wish.rounds)


class KeptParts:
    """A job's parts in the database: another worker, on another machine, goes on from them. What was painted
    from anything else than what stands now is none of them."""

    def __init__(self, job: Job, content: str) -> None:
        self._job, self._content = job, content
        job.print_parts.exclude(content=content).delete()

    def has(self, number: int) -> bool:
        return self._job.print_parts.filter(number=number).exists()

    def keep(self, number: int, part: Path) -> None:
        made = {"content": self._content, "data": part.read_bytes()}
        PrintPart.objects.update_or_create(job=self._job, number=number, defaults=made)

    def read(self, number: int) -> bytes:
        return bytes(self._job.print_parts.get(number=number).data)


def throw_away(made: Print) -> None:
    """A print goes, and its film if it is no other's."""
    film = made.film
    made.delete()
    if not film.prints.exists():
        StoredFile.objects.filter(pk=film.pk).delete()


def heard_in(scene: Scene, material: Material) -> Heard | None:
    """What is heard of a scene, sample by sample; none of one without sounds."""
    if heard_stamp(scene) is None:
        return None
    recordings = SceneRecordings(material)
    return lambda start, count: mixed(scene, recordings, start, count)


def picture_in(production: Production) -> Callable[[str], bytes]:
    """The pictures of a production as the stage shows them."""
    return lambda file: pictures.load(production, file, pictures.SHOWN_PIXELS).data


def _pieces(path: Path) -> Iterator[bytes]:
    with path.open("rb") as film:
        while piece := film.read(PIECE_BYTES):
            yield piece


@contextmanager
def _written_in(job: Job) -> Iterator[Path]:
    """Where a job's film is written; it goes with the attempt, or else with the next one."""
    folder = _folder(job)
    folder.mkdir(mode=0o700)
    try:
        yield folder
    finally:
        shutil.rmtree(folder)


def _folder(job: Job) -> Path:
    return Path(tempfile.gettempdir()) / f"hours-print-{job.pk.hex}"


def _tidy(job: Job, wish: PrintWish) -> None:
    """A film that a worker was killed over. Its parts stay while there is anybody to go on from them."""
    shutil.rmtree(_folder(job), ignore_errors=True)
    if job.state not in Job.UNDER_WAY:
        job.print_parts.all().delete()


PRINT = JobKind("print", PrintWish, print_document, _tidy, queue=PRINTS)
