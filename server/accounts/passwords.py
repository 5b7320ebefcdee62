"""Passwords tried: how often, by whom, and from where.

After some wrong ones an account rests for those at that address. A browser in which the account has been
signed in before is counted by itself, so that nobody can shut out an account's owner by guessing.
"""

from datetime import timedelta
from typing import Any

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import authenticate
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db.models import Sum
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from elastic_core.errors import Refusal

KNOWN, SALT = "known", "hours.known"
KNOWN_DAYS = 365


class TooManyTries(Exception):
    """No password is looked at for a while."""

    def __init__(self) -> None:
        minutes = int(settings.AXES_COOLOFF_TIME.total_seconds() // 60)
        super().__init__(f"Too many wrong passwords. Try again in {minutes} minutes.")


def give(user: User, password: str) -> None:
    """Give an account a password; it is not saved yet. Raises Refusal for one that is no good."""
    try:
        validate_password(password, user)
    except ValidationError as problem:
        raise Refusal(" ".join(problem.messages)) from None
    user.set_password(password)


def owner_of(request: HttpRequest, account: str, password: str) -> User | None:
    """Whose account and password these are; none where they do not belong together.

    Raises TooManyTries.
    """
    if not is_known(request, account) and _failures_from(request) >= settings.MOST_WRONG_PASSWORDS:
        raise TooManyTries
    found = authenticate(request, username=account, password=password)
    if getattr(request, "axes_locked_out", False):
        raise TooManyTries
    return found if isinstance(found, User) else None


def is_known(request: HttpRequest, account: str) -> bool:
    """Whether the account has been signed in in this browser before."""
    return bool(account) and request.get_signed_cookie(KNOWN, default="", salt=SALT) == account


def remember(response: HttpResponse, account: str) -> None:
    """Have the browser known from now on."""
    response.set_signed_cookie(
        KNOWN,
        account,
        salt=SALT,
        max_age=timedelta(days=KNOWN_DAYS),
        httponly=True,
        samesite="Lax",
        secure=settings.SESSION_COOKIE_SECURE,
    )


def counted_as(request: HttpRequest, credentials: dict[str, Any] | None) -> str:
    """Under which name tries are counted (AXES_USERNAME_CALLABLE)."""
    account = str((credentials or {}).get("username", ""))
    return f"{account} in a known browser" if is_known(request, account) else account


def _failures_from(request: HttpRequest) -> int:
    """Wrong passwords from an address of late, whosever they were."""
    since = timezone.now() - settings.AXES_COOLOFF_TIME
    tries = AccessAttempt.objects.filter(
        ip_address=request.META.get("REMOTE_ADDR") or None, attempt_time__gt=since
    )
    return int(tries.aggregate(failures=Sum("failures_since_start"))["failures"] or 0)
