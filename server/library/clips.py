"""Clips on the bench: edited, and made into frames."""

import hashlib
from dataclasses import dataclass

from django.contrib.auth.models import User
from django.db import transaction

from accounts.models import Production
from documents import history
from documents.models import Document
from elastic_core.clip.document import Clip
from elastic_core.clip.edits import ClipEdit, edit_clip
from elastic_core.clip.edits.base import Edited, Made
from elastic_core.tracing import SetTracing

from . import pictures, shelf


@dataclass(frozen=True)
class Opened:
    """A clip on the bench. `content` names exactly what its frames come from."""

    made: Made
    content: str


def opened(document: Document, revision: int | None = None) -> Opened:
    """The clip at the head, or as one of its revisions has it."""
    number = document.head if revision is None else revision
    if revision is not None:
        history.revision_of(document, number)
    return Opened(shelf.made_of(document, number), f"{document.pk}:{number}")


def preview(document: Document, edit: ClipEdit) -> tuple[Opened, Edited]:
    """What an edit would give; nothing is saved."""
    before = opened(document)
    if isinstance(edit, SetTracing) and edit.pictures:
        pictures.check(document.production, edit.pictures)
    edited = edit_clip(before.made, edit)
    samples = None if edited.clip.is_keyed else before.made.samples
    lead_in = before.made.lead_in if edited.clip.lead_in else None
    made = Made(edited.clip, before.made.figure, samples, lead_in)
    name = hashlib.sha256(edit.model_dump_json().encode()).hexdigest()[:16]
    return Opened(made, f"{before.content}:{name}"), edited


def save_edit(
    document: Document, edit: ClipEdit, base_revision: int, author: User, token: str | None = None
) -> tuple[Document, Opened, Edited]:
    """Apply an edit and save the outcome as a new revision; one sent again is made once."""
    with transaction.atomic():
        row = Document.objects.select_for_update().get(pk=document.pk)
        if (made := history.made_already(row, token)) is not None:
            standing = opened(row)
            return row, standing, Edited(standing.made.clip, made.label)
        held = history.locked(document, base_revision)
        _, edited = preview(held, edit)
        body = edited.clip.model_dump(mode="json")
        history.save(held, body, edited.label, author, edited.clip.name, token)
    return held, opened(held), edited


def walk(document: Document, base_revision: int, *, forward: bool) -> Document:
    """One step back or forward."""
    with transaction.atomic():
        return history.walk(document, base_revision, forward=forward)


def go_back(document: Document, revision: int, base_revision: int, author: User) -> Document:
    """An earlier revision stands again, as a new step."""
    with transaction.atomic():
        held = history.locked(document, base_revision)
        history.go_back(held, revision, author)
    return held


def create(production: Production, clip: Clip, author: User, label: str) -> Document:
    """A new clip of keys."""
    body = clip.model_dump(mode="json")
    return history.create(production, Document.Kind.CLIP, clip.name, body, label, author)
