"""What is done alike to figures, clips and scenes: names, tags, the archive, copies, histories."""

from uuid import UUID

from django.db import transaction
from django.http import HttpRequest
from ninja import Router
from ninja.responses import Status

from accounts.people import shown_name
from documents import keeping

from .access import document, person
from .schemas import Copied, DocumentChange, RevisionRow

router = Router(tags=["documents"])
MOST_REVISIONS = 2000


@router.patch("/{uuid:document_id}", response=None)
def change_document(request: HttpRequest, document_id: UUID, wanted: DocumentChange) -> None:
    """Another name, other tags, into the archive or back."""
    found, _ = document(request, None, document_id, to_change=True)
    with transaction.atomic():
        if wanted.name is not None:
            keeping.rename(found, wanted.name, person(request))
        if wanted.tags is not None:
            keeping.tag(found, wanted.tags)
        if wanted.archived is not None:
            keeping.archive(found, wanted.archived)


@router.post("/{uuid:document_id}/duplicate", response={201: Copied})
def duplicate_document(request: HttpRequest, document_id: UUID) -> Status[Copied]:
    """A copy of what stands."""
    found, _ = document(request, None, document_id, to_change=True)
    made = keeping.duplicate(found, person(request))
    return Status(201, Copied(id=made.pk, name=made.name))


@router.delete("/{uuid:document_id}", response=None)
def delete_document(request: HttpRequest, document_id: UUID) -> None:
    """Throw a document away for good; refused where it is used."""
    found, _ = document(request, None, document_id, to_change=True)
    keeping.delete(found)


@router.get("/{uuid:document_id}/history", response=list[RevisionRow])
def read_history(request: HttpRequest, document_id: UUID) -> list[RevisionRow]:
    """Every saved step, the newest first."""
    found, _ = document(request, None, document_id)
    rows = found.revisions.select_related("author").defer("body").order_by("-number")
    return [
        RevisionRow(
            number=row.number,
            parent=row.parent,
            label=row.label,
            author=shown_name(row.author) if row.author else "",
            created=row.created,
            stands=row.number == found.head,
        )
        for row in rows[:MOST_REVISIONS]
    ]
