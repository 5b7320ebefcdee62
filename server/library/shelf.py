"""Figures and clips of a production: put there, and taken down ready to play."""

from collections.abc import Mapping

from django.contrib.auth.models import User
from django.db import transaction

from accounts.models import Production
from documents import editing, history
from documents.models import Document
from documents.opening import document_of, opened
from elastic_core.clip.edits.base import Made
from elastic_core.clip.playable import PlayableClip
from elastic_core.figure import Figure
from elastic_core.legs import with_legs
from elastic_core.sides import Side

from . import motions
from .kinds import CLIP, FIGURE


def add_figure(production: Production, figure: Figure, author: User | None) -> Document:
    return editing.create(FIGURE, production, figure, f"Make {figure.name}", author)


def add_clip(production: Production, playable: PlayableClip, author: User | None) -> Document:
    """A clip, with its samples if it is not made of keys."""
    with transaction.atomic():
        clip = playable.clip
        if not clip.is_keyed:
            name = motions.store(playable.kept_samples)
            clip = clip.model_copy(update={"motion": name})
        if playable.lead_in is not None:
            clip = clip.model_copy(update={"lead_in": motions.store(playable.lead_in)})
        return editing.create(CLIP, production, clip, f"Bring in {clip.name}", author)


def figure_of(document: Document) -> Figure:
    found: Figure = document_of(document)
    return found


def clip_of(document: Document) -> PlayableClip:
    return made_of(document).playable


def made_of(document: Document, revision: int | None = None) -> Made:
    """A clip as the bench works on it; the standing one without a revision."""
    found: Made = opened(document, revision).made_of
    return found


def learn_spellings(figure: Document, mapping: Mapping[str, str], author: User) -> None:
    """Remember which of a clip's joint names play which joints, as a step of the figure's history."""
    with transaction.atomic():
        row = history.held(figure)
        known = figure_of(row)
        new = {theirs: own for theirs, own in mapping.items() if theirs != own}
        spellings = {**known.spellings, **new}
        if spellings == known.spellings:
            return
        learnt = known.model_copy(update={"spellings": spellings})
        editing.saved(row, learnt, f"Learn {len(new)} spellings of joint names", author)


def set_legs(figure: Document, feet: Mapping[Side, str], author: User) -> Figure:
    """Legs set by hand, or read from names and shape again, as a step of the figure's history."""
    with transaction.atomic():
        row = history.held(figure)
        changed = with_legs(figure_of(row), feet)
        editing.saved(row, changed, "Set the legs" if feet else "Read the legs from names", author)
    return changed


def figure_with_skeleton(production: Production, figure: Figure) -> Document | None:
    """A figure of the production on which motion of this skeleton plays as it is."""
    for document in production.documents.filter(kind=FIGURE.key).order_by("created"):
        if figure_of(document).same_skeleton(figure):
            return document
    return None
