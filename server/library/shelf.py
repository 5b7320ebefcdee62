"""Figures and clips of a production: put there, and taken down ready to play."""

from collections.abc import Mapping
from functools import lru_cache
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction

from accounts.models import Production
from documents import history
from documents.models import Document
from elastic_core.clip.document import Clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.playable import PlayableClip
from elastic_core.cycle.seam import SeamReport, seam_report
from elastic_core.figure import Figure

from . import motions


def add_figure(production: Production, figure: Figure, author: User | None) -> Document:
    body = figure.model_dump(mode="json")
    label = f"Make {figure.name}"
    return history.create(production, Document.Kind.FIGURE, figure.name, body, label, author)


def add_clip(production: Production, playable: PlayableClip, author: User | None) -> Document:
    """A clip, with its samples if it is not made of keys."""
    with transaction.atomic():
        clip = playable.clip
        if not clip.is_keyed:
            name = motions.store(playable.kept_samples)
            clip = clip.model_copy(update={"motion": name})
        if playable.lead_in is not None:
            clip = clip.model_copy(update={"lead_in": motions.store(playable.lead_in)})
        body = clip.model_dump(mode="json")
        label = f"Bring in {clip.name}"
        return history.create(production, Document.Kind.CLIP, clip.name, body, label, author)


def figure_of(document: Document) -> Figure:
    return _figure(document.pk, document.head)


def clip_of(document: Document) -> PlayableClip:
    return _clip(document.pk, document.head)


def made_of(document: Document, revision: int | None = None) -> Made:
    """A clip as the bench works on it; the standing one without a revision."""
    return _made(document.pk, document.head if revision is None else revision)


def seam_of(document: Document) -> SeamReport | None:
    """The seam report of a cycle."""
    return _seam(document.pk, document.head)


def learn_spellings(figure: Document, mapping: Mapping[str, str], author: User) -> None:
    """Remember which of a clip's joint names play which joints, as a step of the figure's history."""
    with transaction.atomic():
        row = Document.objects.select_for_update().get(pk=figure.pk)
        known = figure_of(row)
        new = {theirs: own for theirs, own in mapping.items() if theirs != own}
        spellings = {**known.spellings, **new}
        if spellings == known.spellings:
            return
        body = known.model_copy(update={"spellings": spellings}).model_dump(mode="json")
        history.save(row, body, f"Learn {len(new)} spellings of joint names", author, row.name)


def figure_with_skeleton(production: Production, figure: Figure) -> Document | None:
    """A figure of the production on which motion of this skeleton plays as it is."""
    for document in production.documents.filter(kind=Document.Kind.FIGURE).order_by("created"):
        if figure_of(document).same_skeleton(figure):
            return document
    return None


# A revision never changes once it is saved, so what is read from one can be kept.


@lru_cache(maxsize=128)
def _figure(pk: UUID, head: int) -> Figure:
    return Figure.model_validate(_body(pk, head))


@lru_cache(maxsize=256)
def _clip(pk: UUID, head: int) -> PlayableClip:
    return _made(pk, head).playable


# Few: a take of a minute as keys weighs a hundred megabytes.
@lru_cache(maxsize=16)
def _made(pk: UUID, head: int) -> Made:
    clip = Clip.model_validate(_body(pk, head))
    figure = figure_of(Document.objects.get(pk=clip.figure))
    samples = None if clip.is_keyed else motions.load(clip.motion)
    return Made(clip, figure, samples, motions.load(clip.lead_in) if clip.lead_in else None)


@lru_cache(maxsize=1024)
def _seam(pk: UUID, head: int) -> SeamReport | None:
    playable = _clip(pk, head)
    if not playable.clip.is_cycle:
        return None
    figure = Document.objects.get(pk=playable.clip.figure)
    return seam_report(figure_of(figure), playable)


def forget() -> None:
    """Let go of all that was read: for tests, whose revisions are rolled back."""
    for kept in (_figure, _clip, _made, _seam):
        kept.cache_clear()


def _body(pk: UUID, head: int) -> object:
    return Document.objects.get(pk=pk).revisions.get(number=head).body
