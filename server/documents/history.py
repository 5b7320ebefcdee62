"""Revisions: the head of a document moves along them (rules 8.1, 8.2)."""

from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db.models import Max

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


def first(document: Document, body: dict[str, Any], label: str, author: User | None) -> Revision:
    """The first revision of a new document."""
    return Revision.objects.create(
        document=document, number=1, parent=None, label=label[:200], author=author, body=body
    )


def check_stands(document: Document, base_revision: int) -> None:
    """Refuse what is meant for a revision that no longer stands."""
    if document.head != base_revision:
        raise Outdated(document)


def check_other(document: Document, number: int) -> None:
    """Refuse to go back to where the document stands."""
    if number == document.head:
        raise Refusal(f"“{document.name}” stands at revision {number} already.")


def held(document: Document) -> Document:
    """The document held for change, whatever revision stands."""
    return Document.objects.select_for_update().get(pk=document.pk)


def locked(document: Document, base_revision: int) -> Document:
    """The document held for change; refused if `base_revision` no longer stands."""
    row = held(document)
    check_stands(row, base_revision)
    return row


def save(
    document: Document,
    body: dict[str, Any],
    label: str,
    author: User,
    token: str | None = None,
) -> Revision:
    """A new revision on the head of a locked document."""
    last = document.revisions.aggregate(last=Max("number"))["last"]
    return Revision.objects.create(
        document=document,
        number=last + 1,
        parent=document.head,
        label=label[:200],
        author=author,
        body=body,
        token=token,
    )


def made_already(document: Document, token: str | None) -> Revision | None:
    """The revision that an edit with this token became, if it was sent before."""
    return document.revisions.defer("body").filter(token=token).first() if token else None


def before(document: Document) -> Revision:
    """The step before. Raises Refusal where there is none."""
    parent = _standing(document).parent
    if parent is None:
        raise Refusal("There is nothing to undo.")
    return document.revisions.defer("body").get(number=parent)


def after(document: Document) -> Revision:
    """The step that was last made from here. Raises Refusal where there is none."""
    following = _following(document)
    if following is None:
        raise Refusal("There is nothing to redo.")
    return following


def steps(document: Document) -> Steps:
    """The labels of undo and redo."""
    known = document.revisions.defer("body").filter(number=document.head) | (
        document.revisions.defer("body").filter(parent=document.head)
    )
    rows = sorted(known, key=lambda row: -row.number)
    head = next(row for row in rows if row.number == document.head)
    following = next((row for row in rows if row.parent == document.head), None)
    return Steps(
        undo=head.label if head.parent is not None else None,
        redo=following.label if following else None,
    )


def _standing(document: Document) -> Revision:
    return document.revisions.defer("body").get(number=document.head)


def _following(document: Document) -> Revision | None:
    rows = document.revisions.defer("body").filter(parent=document.head)
    return rows.order_by("-number").first()
