"""A motion file that was read becomes a clip, and a lay figure where its skeleton is new."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from uuid import UUID, uuid4

from django.contrib.auth.models import User
from django.db import transaction
from pydantic import BaseModel

from accounts.models import Production
from documents.models import Document
from elastic_core.clip.playable import PlayableClip
from elastic_core.clock import parse_rate
from elastic_core.colour import COLOURS, Colour
from elastic_core.cycle.contacts import with_contacts
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.fit import fit_clip, fitted, retarget
from elastic_core.formats.bvh import BvhMotion
from elastic_core.formats.bvh_clip import Plan, Wanted, closed_cycle, planned, take_windows
from jobs.kinds import JobKind
from jobs.models import Job
from jobs.running import Run

from . import motions, reading, shelf
from .kinds import CLIP, FIGURE

Progress = Callable[[int, int, str], None]


class Onto(BaseModel):
    """The figure that is to play a clip, and the confirmed mapping: clip joint → its joint."""

    figure: UUID
    mapping: dict[str, str]


class BringIn(BaseModel):
    """How a file that was read is to be brought in. Frames are the file's, `[start, end)`.

    `token` is the page's name for the wish, so that one sent twice is done once.
    """

    file: str
    name: str
    start: int = 0
    end: int | None = None
    rate: str | None = None
    metres_per_unit: float | None = None
    is_cycle: bool | None = None
    colour: Colour | None = None
    onto: Onto | None = None
    figure_name: str | None = None
    token: str = ""


@dataclass(frozen=True)
class Target:
    """The figure that is to play what comes in, and how."""

    document: Document
    figure: Figure
    mapping: Mapping[str, str]


@dataclass(frozen=True)
class Coming:
    """A clip that is made and not on the shelf yet. Its figure is the file's own, or the target's."""

    figure: Figure
    playable: PlayableClip
    target: Target | None


@dataclass(frozen=True)
class BroughtIn:
    """What came of it, and what there is to say."""

    document: Document
    figure_is_new: bool
    says: list[str]


def bring_in_now(production: Production, wish: BringIn, author: User) -> BroughtIn:
    """Make the clip while one waits."""
    coming = made(production, wish, uuid4().hex, lambda figure, of, unit: None)
    with transaction.atomic():
        return shelved(production, coming, author)


def bring_in(run: Run, wish: BringIn) -> None:
    """Make the clip, as a job."""
    coming = made(run.production, wish, run.name, run.progress)
    with run.closing():
        brought = shelved(run.production, coming, run.person)
        run.outcome = {
            "clip": str(brought.document.pk),
            "figure_is_new": brought.figure_is_new,
            "says": [f"{brought.document.name} is in the library.", *brought.says],
        }


def made(production: Production, wish: BringIn, under: str, progress: Progress) -> Coming:
    """The clip with its contacts, its samples kept; what is not finished lies `under` a name.

    Raises Refusal where the file or the figure is missing, or as the core's `planned` does.
    """
    file = reading.motion_of(reading.stored(production, wish.file))
    plan = planned(file, _choices(production, wish), figure_id="")
    figure = plan.figure
    if wish.figure_name is not None:
        figure = figure.model_copy(update={"name": wish.figure_name})
    target = target_in(production, wish.onto) if wish.onto else None
    if plan.is_cycle:
        cycle = closed_cycle(file, plan)
        if target is None:
            return Coming(figure, with_contacts(figure, cycle), None)
        name = str(target.document.pk)
        return Coming(figure, fit_clip(figure, cycle, target.figure, name, target.mapping), target)
    return Coming(figure, _take(file, plan, target, under, progress), target)


def _take(
    file: BvhMotion, plan: Plan, target: Target | None, under: str, progress: Progress
) -> PlayableClip:
    """A clip that plays once, kept a window at a time, so that no length of it fills the memory."""
    clip, figure, windows = plan.clip, plan.figure, take_windows(file, plan)
    of = clip.length_frames
    if target is not None:
        own, onto, mapping = plan.figure, target.figure, target.mapping
        windows = (retarget(own, window, onto, mapping) for window in windows)
        clip = fitted(own, clip, onto, str(target.document.pk), mapping)
        figure = onto
    name = motions.store_windows(windows, under, lambda frames: progress(frames, of, "frames kept"))
    clip = clip.model_copy(update={"motion": name})
    return with_contacts(
        figure,
        PlayableClip(clip, motions.load(name)),
        lambda frames: progress(frames, of, "frames searched for feet on the ground"),
    )


def shelved(production: Production, coming: Coming, author: User) -> BroughtIn:
    """What came in, on the shelf, with a lay figure of its own if its skeleton is new."""
    playable, target = coming.playable, coming.target
    if target is None:
        known = shelf.figure_with_skeleton(production, coming.figure)
        owner = known or shelf.add_figure(production, coming.figure, author)
        clip = playable.clip.model_copy(update={"figure": str(owner.pk)})
        playable = replace(playable, clip=clip)
    else:
        owner = known = target.document
        shelf.learn_spellings(owner, target.mapping, author)
    document = shelf.add_clip(production, playable, author)
    clip = playable.clip
    says = [f"It plays on {owner.name}." if known else f"{owner.name} is a new lay figure."]
    if clip.rests:
        says.append(f"{len(clip.rests)} of its joints rest.")
    if clip.is_cycle:
        says.insert(0, f"A cycle of {clip.length_frames} frames, 0 to {clip.length_frames - 1}.")
    return BroughtIn(document, known is None, says)


def target_in(production: Production, onto: Onto) -> Target:
    """The figure that is to play. Raises Refusal where it is not in the production."""
    document, figure = figure_in(production, onto.figure)
    return Target(document, figure, onto.mapping)


def figure_in(production: Production, figure: UUID) -> tuple[Document, Figure]:
    """A figure of the production. Raises Refusal where it is not in it."""
    found: Document | None = production.documents.filter(kind=FIGURE.key, pk=figure).first()
    if found is None:
        raise Refusal("That figure is not in this production.")
    return found, shelf.figure_of(found)


def _choices(production: Production, wish: BringIn) -> Wanted:
    return Wanted(
        name=wish.name,
        start=wish.start,
        end=wish.end,
        rate=parse_rate(wish.rate) if wish.rate else None,
        metres_per_unit=wish.metres_per_unit,
        is_cycle=wish.is_cycle,
        colour=wish.colour or _next_colour(production),
    )


def _next_colour(production: Production) -> Colour:
    """The clip colours in turn, so that neighbours in the drawer differ."""
    clips = production.documents.filter(kind=CLIP.key).count()
    return COLOURS[clips % len(COLOURS)]


def _forget_windows(job: Job, wish: BringIn) -> None:
    motions.forget_windows(job.pk.hex)


BRING_IN = JobKind("bring in", BringIn, bring_in, _forget_windows)
