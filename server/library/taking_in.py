"""A motion file becomes a take: kept as it came, with the house recipe beside it."""

from collections.abc import Callable
from fractions import Fraction
from uuid import UUID, uuid4

from django.contrib.auth.models import User
from django.db import transaction
from pydantic import BaseModel

from accounts.models import Production
from documents import editing
from documents.models import Document
from documents.opening import document_of
from elastic_core.capture.recipe import house_recipe
from elastic_core.capture.take import Take, TakeOnto
from elastic_core.clock import Rate
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.fit import fit
from elastic_core.formats.bvh_clip import Wanted, planned, take_windows
from elastic_core.names import Name
from jobs.kinds import JobKind
from jobs.models import Job
from jobs.running import Run

from . import motions, reading, shelf
from .kinds import FIGURE
from .takes import TAKE


class TakeIn(BaseModel):
    """A file that was read, to be kept as a take with the house recipe to the clip's rate; `onto` is the figure
    that it is for. `token` names the wish."""

    file: str
    name: Name
    metres_per_unit: float | None = None
    clip_rate: Rate = Fraction(24)
    onto: UUID | None = None
    token: str = ""


def take_in_now(production: Production, wish: TakeIn, author: User) -> Document:
    """Keep a file's motion as it came, while one waits."""
    coming = _coming(production, wish, uuid4().hex, lambda frames, of, unit: None)
    with transaction.atomic():
        return shelved(production, *coming, author, wish.onto)


def take_in(run: Run, wish: TakeIn) -> None:
    """Keep a long file's motion as it came, as a job."""
    coming = _coming(run.production, wish, run.name, run.progress)
    with run.closing():
        made = shelved(run.production, *coming, run.person, wish.onto)
        run.outcome = {"take": str(made.pk), "says": [f"{made.name} is in the library."]}


def _coming(
    production: Production, wish: TakeIn, under: str, progress: Callable[[int, int, str], None]
) -> tuple[Figure, Take]:
    """The lay figure of a file's skeleton, and the take, whose samples are kept as they came. Raises Refusal
    where the file is missing, and as the core's `planned` does."""
    stored = reading.stored(production, wish.file)
    read = reading.motion_of(stored)
    wanted = Wanted(name=wish.name, metres_per_unit=wish.metres_per_unit, is_cycle=False)
    plan = planned(read, wanted, figure_id="")
    of = plan.clip.length_frames
    motion = motions.store_windows(
        take_windows(read, plan), under, lambda frames: progress(frames, of, "frames kept")
    )
    take = Take(
        name=wish.name,
        figure="",
        motion=motion,
        file=stored.sha256,
        rate=read.rate,
        length_frames=of,
        recipe=house_recipe(wish.clip_rate),
    )
    return plan.figure, take


def shelved(
    production: Production,
    figure: Figure,
    take: Take,
    author: User | None,
    onto: UUID | None = None,
) -> Document:
    """A take on the shelf, with a lay figure of its own where its skeleton is new; onto a figure, if it is for
    one. Raises Refusal where that is not in the production."""
    owner = shelf.figure_with_skeleton(production, figure) or shelf.add_figure(
        production, figure.model_copy(update={"name": f"{take.name} suit"[:120]}), author
    )
    going = None if onto is None else onto_of(production, owner, onto)
    made = take.model_copy(update={"figure": str(owner.pk), "onto": going})
    return editing.create(TAKE, production, made, f"Bring in {take.name}", author)


def onto_of(production: Production, owner: Document, onto: UUID) -> TakeOnto | None:
    """How takes of a skeleton go onto a figure: as the last one went, or as names and sides propose. None for
    the skeleton's own figure."""
    if owner.pk == onto:
        return None
    target = production.documents.filter(kind=FIGURE.key, pk=onto).first()
    if target is None:
        raise Refusal("That figure is not in this production.")
    for row in production.documents.filter(kind=TAKE.key, figure=owner.pk).order_by("-changed"):
        before: Take = document_of(row)
        if before.onto is not None and before.onto.figure == str(onto):
            # Frames belong to their own take: its rest pose is elsewhere.
            return before.onto.model_copy(update={"rest_frame": None})
    figure = shelf.figure_of(target)
    found = fit(shelf.figure_of(owner), figure, figure.spellings)
    return TakeOnto(figure=str(onto), mapping=found.mapping())


def _forget_windows(job: Job, wish: TakeIn) -> None:
    motions.forget_windows(job.pk.hex)


TAKE_IN = JobKind("take in", TakeIn, take_in, _forget_windows)
