"""Who may see and change what. What a person may not see does not exist for them: 404."""

from uuid import UUID

from django.contrib.auth.models import User
from django.db.models import F
from django.http import Http404, HttpRequest

from accounts.models import Membership
from documents.models import Document
from documents.opening import USED
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
        raise Refusal("Only an owner can change who belongs to a production.")
    return found


def document(
    request: HttpRequest, kind: str | None, document_id: UUID, *, to_change: bool = False
) -> tuple[Document, Membership]:
    """A document, of one kind or any, of a production that the person belongs to: one query."""
    rows = (
        Document.objects.select_related("production")
        .only("kind", "name", "head", "standing", "production__name")
        .filter(pk=document_id, production__memberships__user=person(request))
        .annotate(role=F("production__memberships__role"), used=USED)
    )
    found = (rows.filter(kind=kind) if kind else rows).first()
    if found is None:
        raise Http404
    member = Membership(user=person(request), production=found.production, role=found.role)
    _check(member, to_change=to_change)
    return found, member


def person(request: HttpRequest) -> User:
    assert isinstance(request.user, User)  # every route but the session's asks for a sign-in
    return request.user


def _check(member: Membership, *, to_change: bool) -> None:
    if to_change and not member.may_change:
        raise Refusal("You can look at this production, and not change it.")
