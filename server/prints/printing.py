"""A scene is printed, as a job: painted by the page itself, with what is heard of it."""

import shutil
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from uuid import UUID

from django.conf import settings
from pydantic import BaseModel, Field

from accounts.models import Production
from documents.opening import opened
from elastic_core.clock import format_rate
from elastic_core.errors import Refusal
from elastic_core.printing.film import Heard, print_film
from elastic_core.printing.look import MOST_ROUNDS, FilmForm, PrintLook
from elastic_core.printing.press import press_for
from elastic_core.printing.sheet import Printed
from elastic_core.scene.document import Scene
from elastic_core.scene.hearing import heard_stamp, mixed
from elastic_core.scene.material import Material
from jobs.kinds import PRINTS, JobKind
from jobs.models import Job
from jobs.running import Run
from library import files, pictures
from library.models import StoredFile
from scenes.kinds import SCENE
from scenes.recordings import SceneRecordings

from .models import Print, PrintPart

PIECE_BYTES = 1 << 20


class PrintScene(BaseModel):
    """A revision of a scene as a film: the played frames `[start, end)`, round and round so often. `token`
    names the wish: the same may be printed again."""

    document: UUID
    revision: int
    look: PrintLook
    start: int = Field(ge=0)
    end: int = Field(ge=1)
    form: FilmForm = "mp4"
    rounds: int = Field(default=1, ge=1, le=MOST_ROUNDS)
    token: str = ""


def print_scene(run: Run, wish: PrintScene) -> None:
    """Print, from where a worker that died has left it."""
    production = run.production
    row = production.documents.filter(kind=SCENE.key, pk=wish.document).first()
    if row is None:
        raise Refusal("That scene is not in this production any more.")
    now = opened(row, wish.revision)
    scene: Scene = now.document
    material: Material = now.made_of
    span = range(wish.start, min(wish.end, scene.played_frames))
    if not span:
        raise Refusal("There are no frames to print.")
    heard = heard_in(scene, material)
    printed = Printed(scene, material, wish.look, wish.revision)
    with _written_in(run.job) as folder:
        path = folder / f"film.{wish.form}"
        run.progress(0, len(span), "frames")
        with press_for(printed, picture_in(production), settings.WEB) as press:
            print_film(
                press, span, path, wish.form, heard,
                lambda done: run.progress(done, len(span), "frames"),
                KeptParts(run.job, now.content), wish.rounds,
            )  # fmt: skip
        with run.closing():
            film = files.store_pieces(
                production, f"{scene.name}.{wish.form}"[-255:], lambda: _pieces(path)
            )
            made = Print.objects.create(
                production=production,
                document=row,
                name=scene.name,
                revision=wish.revision,
                form=wish.form,
                look=wish.look.model_dump(mode="json"),
                first=span.start,
                frames=len(span),
                rounds=wish.rounds,
                first_frame=scene.first_frame,
                rate=format_rate(scene.rate),
                has_sound=heard is not None,
                film=film,
                author=run.person,
            )
            run.job.print_parts.all().delete()
            run.outcome = {"print": str(made.pk), "says": [f"{made} is printed."]}


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


def _tidy(job: Job, wish: PrintScene) -> None:
    """A film that a worker was killed over. Its parts stay while there is anybody to go on from them."""
    shutil.rmtree(_folder(job), ignore_errors=True)
    if job.state not in Job.UNDER_WAY:
        job.print_parts.all().delete()


PRINT_SCENE = JobKind("print", PrintScene, print_scene, _tidy, queue=PRINTS)
