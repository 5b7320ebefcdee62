"""Who may see and change what. What a person may not see does not exist for them: 404."""

from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.http import Http404, HttpRequest

from accounts.models import Membership, Production
from documents.models import Document
from elastic_core.errors import Refusal


def membership(
    request: HttpRequest, production_id: UUID, *, to_change: bool = False, to_own: bool = False
) -> Membership:
    """The person's membership of a production."""
    found = (
        Membership.objects.select_related("production")
        .filter(user=person(request), production_id=production_id)
        .first()
    )
    if found is None:
        raise Http404
    _check(found, to_change=to_change)
    if to_own and found.role != Membership.Role.OWNER:
        raise Refusal("Only an owner of the production can do that.")
    return found


# A document, what the person is in its production, and what it uses. Every drag asks for it tens of times
# a second; put together from expressions each time, it took three times as long as the database.
_DOCUMENT = """
    SELECT document.id, document.production_id, document.kind, document.name, document.head,
        document.standing, production.name AS production_name, membership.role AS role,
        (SELECT coalesce(json_agg(json_build_object(
                'id', used.id, 'kind', used.kind, 'name', used.name,
                'head', used.head, 'standing', used.standing)), '[]')
            FROM documents_use uses JOIN documents_document used ON used.id = uses.used_id
            WHERE uses.document_id = document.id
                AND used.production_id = document.production_id) AS used
    FROM documents_document document
    JOIN accounts_production production ON production.id = document.production_id
    JOIN accounts_membership membership ON membership.production_id = document.production_id
    WHERE document.id = %s AND membership.user_id = %s
"""


def document(
    request: HttpRequest, kind: str | None, document_id: UUID, *, to_change: bool = False
) -> tuple[Document, Membership]:
    """A document, of one kind or any, of a production that the person belongs to: one query."""
    rows = Document.objects.raw(_DOCUMENT, [document_id, person(request).pk])
    # Any: the columns that are read along are no fields of it.
    found: Any = next(iter(rows), None)
    if found is None or (kind is not None and found.kind != kind):
        raise Http404
    found.production = Production(pk=found.production_id, name=found.production_name)
    member = Membership(user=person(request), production=found.production, role=found.role)
    _check(member, to_change=to_change)
    return found, member


def person(request: HttpRequest) -> User:
    assert isinstance(request.user, User)  # every route but the session's asks for a sign-in
    return request.user


def _check(member: Membership, *, to_change: bool) -> None:
    if to_change and not member.may_change:
        raise Refusal("You can look at this production, and not change it.")
