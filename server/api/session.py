"""Signing in and out."""

from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import User
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.views.decorators.csrf import csrf_protect
from ninja import Router
from ninja.decorators import decorate_view
from ninja.responses import Status

from .schemas import Person, Problem, SessionState, SignIn

router = Router(tags=["session"])


@router.get("", auth=None, response=SessionState)
def read_session(request: HttpRequest) -> SessionState:
    """Who is signed in, and the token that changes need."""
    return _state(request)


@router.post("", auth=None, response={200: SessionState, 401: Problem})
@decorate_view(csrf_protect)
def sign_in(request: HttpRequest, wanted: SignIn) -> Status[SessionState | Problem]:
    user = authenticate(request, username=wanted.account.strip(), password=wanted.password)
    if not isinstance(user, User):
        problem = Problem(message="That account and password do not belong together.")
        return Status(401, problem)
    login(request, user)
    return Status(200, _state(request))


@router.delete("", response=SessionState)
def sign_out(request: HttpRequest) -> SessionState:
    logout(request)
    return _state(request)


def _state(request: HttpRequest) -> SessionState:
    user = request.user
    person = None
    if isinstance(user, User):
        name = user.get_full_name() or user.username
        initials = "".join(part[0] for part in name.split()[:2]).upper()
        person = Person(account=user.username, name=name, initials=initials)
    return SessionState(person=person, csrf=get_token(request))
