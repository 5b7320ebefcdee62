"""The routes that every kind of document has, made once for each: read, head, edits, undo and redo, and
going back. What a room shows beside them is its own router's."""

from collections.abc import Callable
from contextlib import AbstractContextManager
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router

from accounts.models import Membership
from documents import editing, history
from documents.kinds import Kind, Opened
from documents.models import Document
from documents.opening import opened
from elastic_core.budget import within

from .access import document, person
from .answers import written
from .heads import head_of
from .schemas import DocumentHead, DocumentView, GoBackWanted, RevisionNumber, StepWanted


@dataclass(frozen=True)
class Room:
    """What the page shows of one kind of document.

    view      its schema, and `shown` what of an opened document it tells: only what differs from the
              one that the page shows, where that is known
    wanted    an edit as it is asked for, and `outcome` its answer, with `told` what that tells
    """

    kind: Kind[Any, Any]
    view: type[DocumentView]
    shown: Callable[[Document, Opened[Any], Opened[Any] | None], dict[str, Any]]
    wanted: type[Any]
    outcome: type[Any]
    told: Callable[[Any], dict[str, Any]]

    def view_of(
        self,
        row: Document,
        member: Membership,
        now: Opened[Any],
        revision: int | None = None,
        known: Opened[Any] | None = None,
        *,
        passing: bool = False,
    ) -> DocumentView:
        """What the page shows; an earlier revision can be looked at, and not changed. Of a preview,
        which is passing, there is nothing to undo."""
        steps = history.Steps(None, None) if passing else history.steps(row)
        stands = revision is None or revision == row.head
        return self.view(
            id=row.pk,
            production=row.production_id,
            production_name=row.production.name,
            name=now.document.name,
            revision=row.head if revision is None else revision,
            head=row.head,
            content=now.content,
            made_from=now.made_from,
            may_change=member.may_change and stands,
            undo=steps.undo,
            redo=steps.redo,
            **self.shown(row, now, known),
        )


def to_its_end() -> AbstractContextManager[None]:
    """What is saved in here is saved, though whoever sent it may have gone since, as one does after the
    last edit of the day."""
    return within(None)


def routes_of(room: Room) -> Router:
    """The routes of one kind of document."""
    key, title = room.kind.key, room.kind.key.capitalize()
    router = Router(tags=[key])

    def read(
        request: HttpRequest, document_id: UUID, revision: RevisionNumber | None = None
    ) -> Any:
        """The document that stands, or one of its revisions, as its room shows it."""
        found, member = document(request, key, document_id)
        return written(room.view_of(found, member, opened(found, revision), revision))

    def read_head(request: HttpRequest, document_id: UUID) -> DocumentHead:
        """Which revision stands."""
        return head_of(person(request), key, document_id)

    def edit(request: HttpRequest, document_id: UUID, wanted: room.wanted) -> Any:  # type: ignore[name-defined]
        """Make an edit, or with `preview` say what it would give. A page that says which `content`
        it shows is answered with what differs from that."""
        if wanted.preview:
            return edited(request, document_id, wanted)
        with to_its_end():
            return edited(request, document_id, wanted)

    def edited(request: HttpRequest, document_id: UUID, wanted: Any) -> Any:
        found, member = document(request, key, document_id, to_change=True)
        before = opened(found) if found.head == wanted.base_revision else None
        known = before if before and before.content == wanted.known else None
        if wanted.preview:
            history.check_stands(found, wanted.base_revision)
            made = editing.preview(found, wanted.edit, before)
        else:
            made = editing.save(
                found, wanted.edit, wanted.base_revision, person(request), wanted.token
            )
            made.row.production = found.production
        shown = room.view_of(
            made.row, member, made.opened, known=known, passing=bool(wanted.preview)
        )
        told = room.told(made.edited)
        return written(
            room.outcome(**{key: shown}, label=made.label, notes=list(made.notes), **told)
        )

    def walk(request: HttpRequest, document_id: UUID, wanted: StepWanted, forward: bool) -> Any:
        found, member = document(request, key, document_id, to_change=True)
        with to_its_end():
            held = editing.walk(found, wanted.base_revision, forward=forward)
            held.production = found.production
            return written(room.view_of(held, member, opened(held)))

    def undo(request: HttpRequest, document_id: UUID, wanted: StepWanted) -> Any:
        """Back one step."""
        return walk(request, document_id, wanted, forward=False)

    def redo(request: HttpRequest, document_id: UUID, wanted: StepWanted) -> Any:
        """Forward one step."""
        return walk(request, document_id, wanted, forward=True)

    def go_back(request: HttpRequest, document_id: UUID, wanted: GoBackWanted) -> Any:
        """An earlier revision stands again, as a new step."""
        found, member = document(request, key, document_id, to_change=True)
        author = person(request)
        with to_its_end():
            held = editing.go_back(found, wanted.revision, wanted.base_revision, author)
            held.production = found.production
            return written(room.view_of(held, member, opened(held)))

    at = "/{uuid:document_id}"
    for method, path, answer, work in (
        ("GET", at, room.view, read),
        ("GET", f"{at}/head", DocumentHead, read_head),
        ("POST", f"{at}/edits", room.outcome, edit),
        ("POST", f"{at}/undo", room.view, undo),
        ("POST", f"{at}/redo", room.view, redo),
        ("POST", f"{at}/go-back", room.view, go_back),
    ):
        name = f"{title} {work.__name__.replace('_', ' ')}"
        router.add_api_operation(
            path,
            [method],
            work,
            response=answer,
            operation_id=f"{key}_{work.__name__}",
            summary=name,
        )
    return router
