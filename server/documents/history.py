"""Saving, undoing and redoing: the head of a document moves along its revisions (rules 8.1, 8.2)."""

from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max

from accounts.models import Production
from elastic_core.errors import Refusal

from .models import Document, Revision


class Outdated(Exception):
    """An edit made on a revision that no longer stands."""

    def __init__(self, document: Document) -> None:
        super().__init__(
            f"“{document.name}” has changed since: it stands at revision {document.head}."
        )
        self.head = document.head


@dataclass(frozen=True)
class Steps:
    """What undo and redo would do, by name; none where there is nothing to do."""

    undo: str | None
    redo: str | None


def create(
    production: Production,
    kind: str,
    name: str,
    body: dict[str, Any],
    label: str,
    author: User | None,
) -> Document:
    """A new document with its first revision."""
    with transaction.atomic():
        document = Document.objects.create(production=production, kind=kind, name=name)
        Revision.objects.create(
            document=document, number=1, parent=None, label=label, author=author, body=body
        )
    return document


def standing(document: Document) -> Revision:
    """The revision at the head."""
    return document.revisions.get(number=document.head)


def check_stands(document: Document, base_revision: int) -> None:
    """Refuse what is meant for a revision that no longer stands."""
    if document.head != base_revision:
        raise Outdated(document)


def locked(document: Document, base_revision: int) -> Document:
    """The document held for change; refused if `base_revision` no longer stands."""
    held = Document.objects.select_for_update().get(pk=document.pk)
    check_stands(held, base_revision)
    return held


def save(
    document: Document,
    body: dict[str, Any],
    label: str,
    author: User,
    name: str,
    token: str | None = None,
) -> Revision:
    """A new revision on the head of a locked document."""
    last = document.revisions.aggregate(last=Max("number"))["last"]
    revision = Revision.objects.create(
        document=document,
        number=last + 1,
        parent=document.head,
        label=label[:200],
        author=author,
        body=body,
        token=token,
    )
    _stand(document, revision.number, name)
    return revision


def made_already(document: Document, token: str | None) -> Revision | None:
    """The revision that an edit with this token became, if it was sent before."""
    return document.revisions.filter(token=token).first() if token else None


def undo(document: Document) -> Revision:
    """Back to the step before, on a locked document."""
    parent = standing(document).parent
    if parent is None:
        raise Refusal("There is nothing to undo.")
    revision = document.revisions.get(number=parent)
    _stand(document, parent, revision.body.get("name", document.name))
    return revision


def redo(document: Document) -> Revision:
    """Forward to the step that was last made from here, on a locked document."""
    following = _following(document)
    if following is None:
        raise Refusal("There is nothing to redo.")
    _stand(document, following.number, following.body.get("name", document.name))
    return following


def walk(document: Document, base_revision: int, *, forward: bool) -> Document:
    """One step back or forward; the document, held until the transaction ends."""
    held = locked(document, base_revision)
    if forward:
        redo(held)
    else:
        undo(held)
    return held


def steps(document: Document) -> Steps:
    """The labels of undo and redo."""
    head = standing(document)
    following = _following(document)
    return Steps(
        undo=head.label if head.parent is not None else None,
        redo=following.label if following else None,
    )


def revision_of(document: Document, number: int | None) -> Revision:
    """A revision by its number; the standing one without."""
    wanted = document.head if number is None else number
    found = document.revisions.filter(number=wanted).first()
    if found is None:
        raise Refusal(f"“{document.name}” has no revision {wanted}.")
    return found


def go_back(document: Document, number: int, author: User) -> Revision:
    """What an earlier revision was, as a new step on a locked document."""
    earlier = revision_of(document, number)
    if number == document.head:
        raise Refusal(f"“{document.name}” stands at revision {number} already.")
    name = earlier.body.get("name", document.name)
    return save(document, earlier.body, f"Go back to revision {number}", author, name)


def _following(document: Document) -> Revision | None:
    return document.revisions.filter(parent=document.head).order_by("-number").first()


def _stand(document: Document, number: int, name: str) -> None:
    document.head = number
    document.name = name
    document.save(update_fields=["head", "name", "changed"])
