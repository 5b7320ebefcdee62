"""Making, editing and walking documents of every kind (rules 8.1 to 8.3)."""

from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from pydantic import BaseModel

from accounts.models import Production

from . import history, telling
from .kinds import Edited, Kind, Opened, edit_digest, kind_of
from .memory import memory
from .models import Document, Revision
from .opening import Shelf, keep, name_of, open_as, opened


@dataclass(frozen=True)
class Outcome:
    """What came of an edit; `edited` is none where it had been made before."""

    row: Document
    opened: Opened[Any]
    label: str
    notes: tuple[str, ...] = ()
    edited: Edited | None = None


def create(
    kind: Kind[Any, Any],
    production: Production,
    document: Any,
    label: str,
    author: User | None,
) -> Document:
    """A new document with its first revision."""
    document = document.checked()
    with transaction.atomic():
        row = Document.objects.create(production=production, kind=kind.key, name=document.name)
        revision = history.first(row, kind.write(document), label, author)
        _stands(row, revision, document)
    return row


def preview(row: Document, edit: BaseModel, before: Opened[Any] | None = None) -> Outcome:
    """What an edit would give; nothing is saved. `before` is the document opened, where it is already."""
    return _made(row, before or opened(row), edit)


def save(
    row: Document, edit: BaseModel, base_revision: int, author: User, token: str | None = None
) -> Outcome:
    """Apply an edit and save the outcome as a new revision, in one transaction.

    An edit whose answer was lost can be sent again with its token: it is made once.
    """
    with transaction.atomic():
        held = history.held(row)
        if (made := history.made_already(held, token)) is not None:
            return Outcome(held, opened(held), made.label)
        history.check_stands(held, base_revision)
        before = opened(held)
        outcome = _made(held, before, edit)
        memory.drop(_key(before, edit))
        document = outcome.opened.document
        document.checked()
        revision = history.save(held, kind_of(held).write(document), outcome.label, author, token)
        kind_of(held).keep(outcome.opened, name_of(held, revision.pk))
        _stands(held, revision, document)
    return Outcome(held, opened(held), outcome.label, outcome.notes, outcome.edited)


def saved(
    held: Document, document: Any, label: str, author: User, token: str | None = None
) -> None:
    """A document as a new revision of a row that is held."""
    document = document.checked()
    revision = history.save(held, kind_of(held).write(document), label, author, token)
    _stands(held, revision, document)


def walk(row: Document, base_revision: int, *, forward: bool) -> Document:
    """One step back or forward."""
    with transaction.atomic():
        held = history.locked(row, base_revision)
        revision = (history.after if forward else history.before)(held)
        held.head, held.standing = revision.number, revision.pk
        _stand(held, opened(held))
    return held


def go_back(row: Document, revision: int, base_revision: int, author: User) -> Document:
    """An earlier revision stands again, as a new step."""
    with transaction.atomic():
        held = history.locked(row, base_revision)
        history.check_other(held, revision)
        document = opened(held, revision).document
        saved(held, document, f"Go back to revision {revision}", author)
    return held


def _stands(held: Document, revision: Revision, document: Any) -> None:
    """A revision that was just saved stands from now on."""
    keep(held, revision.pk, document)
    held.head, held.standing = revision.number, revision.pk
    _stand(held, open_as(held, revision.pk, document))


def _stand(held: Document, now: Opened[Any]) -> None:
    """What the row tells of the revision that stands from now on."""
    held.name = now.document.name
    telling.tell(held, now)
    held.save()
    telling.note_uses(held, now.document)


def _made(row: Document, before: Opened[Any], edit: BaseModel) -> Outcome:
    """An edit's outcome. A drag asks for it several times, and it is worked out once."""
    key = _key(before, edit)
    found = memory.get(key)
    if found is None:
        kind = kind_of(row)
        found = kind.edit(Shelf.beside(row), before, edit)
        memory.put(key, found, found[0].weighs)
    after, edited = found
    return Outcome(row, after, edited.label, edited.notes, edited)


def _key(before: Opened[Any], edit: BaseModel) -> tuple[str, ...]:
    return ("edited", before.content, before.made_from, edit_digest(edit))
