"""Who belongs to a production, and as what."""

from django.contrib.auth.models import User
from django.db import transaction

from elastic_core.errors import Refusal

from .models import Membership, Production


def found(name: str, owner: User) -> Production:
    """A new production with its first owner."""
    with transaction.atomic():
        production = Production.objects.create(name=name)
        Membership.objects.create(production=production, user=owner, role=Membership.Role.OWNER)
    return production


def invite(production: Production, account: str, role: str) -> Membership:
    """Let an account in."""
    user = User.objects.filter(username=account.strip(), is_active=True).first()
    if user is None:
        raise Refusal(f"There is no account called “{account.strip()}”.")
    if production.memberships.filter(user=user).exists():
        raise Refusal(f"{shown_name(user)} belongs to {production.name} already.")
    return Membership.objects.create(production=production, user=user, role=role)


def set_role(production: Production, account: str, role: str) -> None:
    """Another role; a production keeps an owner."""
    with transaction.atomic():
        member = _held(production, account)
        member.role = role
        member.save(update_fields=["role"])
        _must_have_owner(production)


def remove(production: Production, account: str) -> None:
    """Take a person out of a production; its documents keep their name as author."""
    with transaction.atomic():
        _held(production, account).delete()
        _must_have_owner(production)


def shown_name(user: User) -> str:
    return user.get_full_name() or user.username


def _held(production: Production, account: str) -> Membership:
    # All of them, so that two owners cannot step down at the same moment.
    members = list(production.memberships.select_for_update().select_related("user"))
    member = next((member for member in members if member.user.username == account), None)
    if member is None:
        raise Refusal(f"“{account}” does not belong to {production.name}.")
    return member


def _must_have_owner(production: Production) -> None:
    if not production.memberships.filter(role=Membership.Role.OWNER).exists():
        raise Refusal("A production keeps an owner. Make someone else an owner first.")
