"""Signing in and out."""

from django.contrib.auth import login, logout, update_session_auth_hash
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router
from ninja.errors import HttpError

from accounts import passwords
from accounts.people import shown_name
from elastic_core.errors import Refusal

from .access import person
from .doors import anyone
from .schemas import PasswordChange, Person, SessionState, SignIn

router = Router(tags=["session"])


@router.get("", auth=anyone, response=SessionState)
def read_session(request: HttpRequest) -> SessionState:
    """Who is signed in, and the token that changes need."""
    return _state(request)


@router.post("", auth=anyone, response=SessionState)
def sign_in(request: HttpRequest, response: HttpResponse, wanted: SignIn) -> SessionState:
    """Sign in; after too many wrong passwords an account rests for a while."""
    user = passwords.owner_of(request, wanted.account.strip(), wanted.password)
    if user is None:
        raise HttpError(401, "That account and password do not belong together.")
    login(request, user)
    passwords.remember(response, user.username)
    return _state(request)


@router.delete("", response=SessionState)
def sign_out(request: HttpRequest) -> SessionState:
    logout(request)
    return _state(request)


@router.post("/password", response=SessionState)
def change_password(request: HttpRequest, wanted: PasswordChange) -> SessionState:
    """Another password; other sessions of the account end."""
    user = person(request)
    if passwords.owner_of(request, user.username, wanted.old) is None:
        raise Refusal("That is not your password now.")
    passwords.give(user, wanted.new)
    user.save(update_fields=["password"])
    update_session_auth_hash(request, user)
    return _state(request)


def _state(request: HttpRequest) -> SessionState:
    user = request.user
    if not isinstance(user, User):
        return SessionState(person=None, csrf=get_token(request))
    name = shown_name(user)
    initials = "".join(part[0] for part in name.split()[:2]).upper()
    who = Person(account=user.username, name=name, initials=initials)
    return SessionState(person=who, csrf=get_token(request))
