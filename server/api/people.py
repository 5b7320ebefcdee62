"""Productions and who belongs to them."""

from uuid import UUID

from django.db.models import Count, Q
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import Router
from ninja.responses import Status

from accounts import people
from accounts.models import Membership, Production
from copies.form import ENDING
from copies.taking import pieces

from .access import membership, person
from .downloads import download
from .schemas import Invitation, Member, NewProduction, ProductionRow, RoleChange

router = Router(tags=["people"])


@router.get("", response=list[ProductionRow])
def list_productions(request: HttpRequest) -> list[ProductionRow]:
    """The productions that the person belongs to."""
    kept = Q(production__documents__archived=False)
    rows = (
        Membership.objects.filter(user=person(request))
        .select_related("production")
        .annotate(
            scenes=Count("production__documents", kept & Q(production__documents__kind="scene")),
            clips=Count("production__documents", kept & Q(production__documents__kind="clip")),
        )
        .order_by("production__name")
    )
    return [
        ProductionRow(
            id=row.production_id,
            name=row.production.name,
            role=row.role,
            scenes=row.scenes,
            clips=row.clips,
        )
        for row in rows
    ]


@router.post("", response={201: ProductionRow})
def new_production(request: HttpRequest, wanted: NewProduction) -> Status[ProductionRow]:
    """A new, empty production of one's own."""
    made = people.found(wanted.name, person(request))
    row = ProductionRow(id=made.pk, name=made.name, role="owner", scenes=0, clips=0)
    return Status(201, row)


@router.get("/{uuid:production_id}/members", response=list[Member])
def list_members(request: HttpRequest, production_id: UUID) -> list[Member]:
    """Everyone who belongs to a production."""
    return _members(request, membership(request, production_id).production)


@router.post("/{uuid:production_id}/members", response=list[Member])
def invite(request: HttpRequest, production_id: UUID, wanted: Invitation) -> list[Member]:
    """Let an account in."""
    production = membership(request, production_id, to_own=True).production
    people.invite(production, wanted.account, wanted.role)
    return _members(request, production)


@router.patch("/{uuid:production_id}/members/{account}", response=list[Member])
def set_role(
    request: HttpRequest, production_id: UUID, account: str, wanted: RoleChange
) -> list[Member]:
    """Another role for a member."""
    production = membership(request, production_id, to_own=True).production
    people.set_role(production, account, wanted.role)
    return _members(request, production)


@router.delete("/{uuid:production_id}/members/{account}", response=None)
def remove_member(request: HttpRequest, production_id: UUID, account: str) -> None:
    """Take someone out; anyone may leave."""
    leaving = account == person(request).username
    production = membership(request, production_id, to_own=not leaving).production
    people.remove(production, account)


@router.get("/{uuid:production_id}/whole", response=None)
def take_whole(request: HttpRequest, production_id: UUID) -> HttpResponseBase:
    """Everything of a production as one file, for its owners; it goes out as it is read."""
    production = membership(request, production_id, to_own=True).production
    return download(pieces(production), f"{production.name}{ENDING}", "application/zip")


def _members(request: HttpRequest, production: Production) -> list[Member]:
    rows = production.memberships.select_related("user").order_by("user__username")
    return [
        Member(
            account=row.user.username,
            name=people.shown_name(row.user),
            role=row.role,
            is_you=row.user_id == person(request).pk,
        )
        for row in rows
    ]
