"""Who asks: the person of the request's session, read together with it."""

from collections.abc import Callable

from django.contrib.auth import HASH_SESSION_KEY, SESSION_KEY, get_user
from django.contrib.auth.models import AnonymousUser, User
from django.http import HttpRequest, HttpResponse
from django.utils.crypto import constant_time_compare
from django.utils.functional import SimpleLazyObject


def person_of(request: HttpRequest) -> User | AnonymousUser:
    """The person, if the session still vouches for them; Django's own look-up where it is in doubt."""
    session = request.session
    signed_in, vouched = session.get(SESSION_KEY), session.get(HASH_SESSION_KEY)
    person: User | None = getattr(session, "person", None)
    if (
        person is not None
        and person.is_active
        and signed_in == str(person.pk)
        and vouched
        and constant_time_compare(vouched, person.get_session_auth_hash())
    ):
        return person
    found = get_user(request)
    assert isinstance(found, User | AnonymousUser)
    return found


def with_person(
    answer: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: `request.user`, looked up when it is first asked for."""

    def ask(request: HttpRequest) -> HttpResponse:
        def look_up() -> User | AnonymousUser:
            found = person_of(request)
            request.asked_by = found.get_username() or "-"  # type: ignore[attr-defined]
            return found

        # Django's own middleware puts the same lazy object here.
        request.user = SimpleLazyObject(look_up)  # type: ignore[assignment]
        return answer(request)

    return ask
