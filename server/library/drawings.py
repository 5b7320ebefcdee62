"""Drawing sets and runs, as kinds of documents; and the job in which pictures are brought in."""

from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from fractions import Fraction
from uuid import UUID

from django.contrib.auth.models import User
from pydantic import BaseModel, Field

from accounts.models import Production
from documents import editing
from documents.kinds import Facts, Kind, Opened, edit_digest
from documents.models import Document
from documents.opening import Shelf, document_of
from elastic_core.clock import format_rate, nearest_frame
from elastic_core.drawings.drawing_set import DrawingSet, SetDrawing
from elastic_core.drawings.orders import TWOS
from elastic_core.drawings.playing import RunPlayed
from elastic_core.drawings.run import DrawingRun, Held
from elastic_core.drawings.run_edits import RunEdit, RunEdited, edit_run
from elastic_core.drawings.set_edits import AddDrawings, SetEdit, SetEdited, edit_set, told_of
from elastic_core.errors import Refusal
from elastic_core.exposure import LONGEST_HOLD_FRAMES
from elastic_core.formats.picture_files import (
    FileCame,
    Grid,
    PicturePiece,
    is_packed,
    is_svg,
    unpacked,
)
from elastic_core.names import Name
from elastic_core.saying import counted
from elastic_core.tracing import MOST_PICTURES
from jobs.kinds import JobKind
from jobs.models import Job
from jobs.running import Run

from . import files, pictures
from .models import SoundBlock
from .pictures import SHOWN_PIXELS, SMALL_PIXELS, Prepared
from .reading import stored

# Pictures are read beside each other: reading lets other threads go on.
READERS = 2
HOUSE_RATE = Fraction(24)
FRAMES_IN_STRIP = 6
Progress = Callable[[int, int, str], None]

# Sets


def _edit_set(
    shelf: Shelf, before: Opened[DrawingSet], edit: SetEdit
) -> tuple[Opened[DrawingSet], SetEdited]:
    edited = edit_set(before.document, edit)
    known = {one.picture.file for one in before.document.drawings}
    new = {one.picture.file for one in edited.drawn.drawings} - known
    if new:
        pictures.check_files(shelf.production_id, new)
    content = f"{before.content}:{edit_digest(edit)}"
    return Opened(edited.drawn, edited.drawn, content, before.made_from), edited


def _set_facts(now: Opened[DrawingSet]) -> Facts:
    drawn = now.document
    step = max(1, len(drawn.drawings) // FRAMES_IN_STRIP)
    strip = [one.picture.file for one in drawn.drawings[::step]][:FRAMES_IN_STRIP]
    return Facts(
        rest={"drawings": len(drawn.drawings), "missing": len(drawn.missing), "strip": strip}
    )


DRAWINGS: Kind[DrawingSet, SetEdit] = Kind(
    key="drawings",
    read=DrawingSet.model_validate,
    write=lambda drawn: drawn.model_dump(mode="json"),
    weighs=lambda drawn: 2_000 + 700 * len(drawn.drawings),
    uses=lambda drawn: set(),
    open=lambda shelf, drawn, name: Opened(drawn, drawn, name),
    edit=_edit_set,
    facts=_set_facts,
)

# Runs


def _run_uses(run: DrawingRun) -> set[str]:
    return {run.drawings} - {""}


def _open_run(shelf: Shelf, run: DrawingRun, name: str) -> Opened[DrawingRun]:
    drawn = shelf.documents(_run_uses(run), "drawings").get(run.drawings)
    return Opened(run, drawn, name, shelf.made_from(_run_uses(run)))


def _edit_run(
    shelf: Shelf, before: Opened[DrawingRun], edit: RunEdit
) -> tuple[Opened[DrawingRun], RunEdited]:
    edited = edit_run(before.document, edit)
    content = f"{before.content}:{edit_digest(edit)}"
    return Opened(edited.run, before.made_of, content, before.made_from), edited


def _run_facts(now: Opened[DrawingRun]) -> Facts:
    run, drawn = now.document, now.made_of
    known = drawn.by_number if isinstance(drawn, DrawingSet) else {}
    shown = [known[number] for number in run.numbers if number in known]
    return Facts(
        rate=format_rate(run.rate),
        length_frames=RunPlayed(run).length_frames,
        rest={
            "drawings": run.drawings,
            "play": run.play,
            "colour": run.colour,
            "count": len(run.numbers),
            "strip": [one.picture.file for one in shown[:FRAMES_IN_STRIP]],
        },
    )


RUN: Kind[DrawingRun, RunEdit] = Kind(
    key="run",
    read=DrawingRun.model_validate,
    write=lambda run: run.model_dump(mode="json"),
    weighs=lambda run: 1_000 + 200 * len(run.held),
    uses=_run_uses,
    open=_open_run,
    edit=_edit_run,
    facts=_run_facts,
)


def new_run(production: Production, run: DrawingRun, author: User | None) -> Document:
    """A run on the shelf."""
    return editing.create(RUN, production, run, f"New run {run.name}", author)


def drawings_in(production: Production, drawings: UUID) -> tuple[Document, DrawingSet]:
    """A set of the production. Raises Refusal where it is not in it."""
    row = production.documents.filter(kind=DRAWINGS.key, pk=drawings).first()
    if row is None:
        raise Refusal("Those drawings are not in this production.")
    found: DrawingSet = document_of(row)
    return row, found


def run_of_all(drawn: DrawingSet, drawings: str, name: str | None = None) -> DrawingRun:
    """A run of all drawings of a set in order, each on twos, over and over."""
    held = tuple(Held(drawing=number, frames=TWOS) for number in drawn.numbers)
    return DrawingRun(name=name or drawn.name, drawings=drawings, held=held, play="repeat")


# Bringing in


class PictureCame(BaseModel):
    """A file that is kept, and the name that it came under."""

    file: str = Field(pattern="^[0-9a-f]{64}$")
    name: Name


class BringInDrawings(BaseModel):
    """Kept files that become a drawing set with a run of all of it, or go `into` one that is there, with
    `replace` in the place of those that have their numbers. With a `grid` it is one sheet of drawings. `token`
    names the wish."""

    files: list[PictureCame] = Field(min_length=1, max_length=MOST_PICTURES)
    name: Name
    into: UUID | None = None
    replace: bool = False
    grid: Grid | None = None
    token: str = ""


@dataclass(frozen=True)
class DrawingsCame:
    """What came in: the set, its run if it is a new one, and what there is to say."""

    drawings: Document
    run: Document | None
    says: list[str]


@dataclass(frozen=True)
class Coming:
    """Drawings that are kept and on no shelf yet, how long each showed where they came from, and files that
    are none."""

    drawings: list[SetDrawing]
    seconds: list[Fraction | None]
    left_out: tuple[str, ...]


def bring_in_drawings(run: Run, wish: BringInDrawings) -> None:
    """Bring pictures in, as a job."""
    coming = came(run.production, wish, run.progress)
    with run.closing():
        made = shelved(run.production, wish, coming, run.person)
        run.outcome = {
            "drawings": str(made.drawings.pk),
            "run": str(made.run.pk) if made.run else None,
            "says": made.says,
        }
        _let_go(run.production, wish)


def bring_in_now(production: Production, wish: BringInDrawings, author: User) -> DrawingsCame:
    """Bring pictures in while one waits."""
    made = shelved(production, wish, came(production, wish, lambda figure, of, unit: None), author)
    _let_go(production, wish)
    return made


def came(production: Production, wish: BringInDrawings, progress: Progress) -> Coming:
    """Take files apart and keep their pictures, at the sizes that are shown. Raises Refusal as `unpacked` does,
    and for a picture that cannot be read."""
    first = 1
    if wish.into is not None:
        first = drawings_in(production, wish.into)[1].numbers[-1] + 1

    def read(file: str) -> Callable[[], bytes]:
        return lambda: files.load(stored(production, file))

    found = unpacked([FileCame(one.name, read(one.file)) for one in wish.files], wish.grid, first)
    drawings, seconds = list[SetDrawing](), list[Fraction | None]()
    for piece, picture in _prepared(found.pieces):
        kept = pictures.keep(production, picture)
        drawings.append(SetDrawing(number=piece.number, picture=kept, name=piece.name[-255:]))
        seconds.append(piece.seconds)
        done = len(drawings)
        progress(done, max(done, found.count or 0), "pictures")
    if not drawings:
        raise Refusal("There are no pictures in it.")
    return Coming(drawings, seconds, found.left_out)


def _prepared(pieces: Iterator[PicturePiece]) -> Iterator[tuple[PicturePiece, Prepared]]:
    """Pictures read beside each other, in their order, and never more of them at a time than there are readers
    and one."""
    with ThreadPoolExecutor(READERS) as readers:
        waiting: deque[tuple[PicturePiece, Future[Prepared]]] = deque()
        for piece in pieces:
            sizes = (SMALL_PIXELS, SHOWN_PIXELS)
            read = readers.submit(pictures.prepared, piece.name, piece.data, sizes)
            waiting.append((piece, read))
            if len(waiting) > READERS:
                first, ready = waiting.popleft()
                yield first, ready.result()
        for first, ready in waiting:
            yield first, ready.result()


def shelved(
    production: Production, wish: BringInDrawings, coming: Coming, author: User
) -> DrawingsCame:
    """What came, as a set with a run, or in the set that it was for."""
    count = counted(len(coming.drawings), "drawing")
    left = (
        [f"{counted(len(coming.left_out), 'file')} left out: no picture."]
        if coming.left_out
        else []
    )
    if wish.into is not None:
        row, _ = drawings_in(production, wish.into)
        edit = AddDrawings(drawings=tuple(coming.drawings), replace=wish.replace)
        made = editing.save(row, edit, row.head, author, wish.token)
        return DrawingsCame(made.row, None, [f"{count} came into {row.name}.", *made.notes, *left])
    drawn = DrawingSet(name=wish.name, drawings=tuple(coming.drawings))
    drawings = editing.create(DRAWINGS, production, drawn, f"Bring in {drawn.name}", author)
    run = _run_of(drawn, str(drawings.pk), coming.seconds)
    says = [f"{drawn.name} is in the library, with a run of its {count}.", *told_of(drawn), *left]
    return DrawingsCame(drawings, new_run(production, run, author), says)


def _run_of(drawn: DrawingSet, drawings: str, seconds: list[Fraction | None]) -> DrawingRun:
    """A run of all of a set; of what was moving each for as long as it showed there."""
    run = run_of_all(drawn, drawings)
    if not all(seconds):
        return run
    told = [one or Fraction(0) for one in seconds]
    rate = HOUSE_RATE
    if len(set(told)) == 1 and 1 / told[0] >= 1:
        # All alike, as in a movie: one frame each at its own rate, where that is one of frames.
        rate = (1 / told[0]).limit_denominator(1001)
        if rate > HOUSE_RATE / TWOS:
            held = tuple(one.model_copy(update={"frames": 1}) for one in run.held)
            return run.model_copy(update={"held": held, "rate": rate})
        rate = HOUSE_RATE
    held = tuple(
        Held(drawing=one.drawing, frames=_frames(time, rate))
        for one, time in zip(run.held, told, strict=True)
    )
    return run.model_copy(update={"held": held})


def _frames(seconds: Fraction, rate: Fraction) -> int:
    return min(LONGEST_HOLD_FRAMES, max(1, int(nearest_frame(float(seconds * rate)))))


def _forget(job: Job, wish: BringInDrawings) -> None:
    """What was to be taken apart is not kept where nothing came of it."""
    if job.state not in Job.UNDER_WAY:
        _let_go(job.production, wish)


def _let_go(production: Production, wish: BringInDrawings) -> None:
    """What is never a drawing itself is not kept beside those that were made of it."""
    for kept in production.files.filter(sha256__in=[one.file for one in wish.files]):
        start = next(files.pieces_of(kept), b"")
        is_made_into_others = is_packed(start) or is_svg(start) or start.startswith(b"GIF8")
        if is_made_into_others and not SoundBlock.objects.filter(pk=kept.sha256).exists():
            kept.delete()


BRING_IN_DRAWINGS = JobKind("bring in drawings", BringInDrawings, bring_in_drawings, _forget)
