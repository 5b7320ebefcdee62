"""Sessions that know their person: both are read in one query."""

from typing import Any

from django.contrib.auth import SESSION_KEY
from django.contrib.auth.models import User
from django.contrib.sessions.backends.base import VALID_KEY_CHARS
from django.contrib.sessions.backends.db import SessionStore as DatabaseStore
from django.db import connection
from django.utils import timezone
from django.utils.crypto import constant_time_compare, get_random_string, salted_hmac

from .models import PersonSession

_OWN_CHARACTERS = 20
_PERSON = [field.attname for field in User._meta.concrete_fields]
# Asked at every request: put together from expressions each time, it took as long again as the database.
_SESSION = f"""
    SELECT session.session_key, session.session_data, session.expire_date,
        {", ".join(f"person.{name}" for name in _PERSON)}
    FROM accounts_personsession session LEFT JOIN auth_user person ON person.id = session.person_id
    WHERE session.session_key = %s AND session.expire_date > %s
"""


def vouches(key: str) -> bool:
    """Whether a session's key was made here: asked of no database, before anything else is taken in."""
    own, seal = key[:_OWN_CHARACTERS], key[_OWN_CHARACTERS:]
    return constant_time_compare(seal, _seal(own))


def _seal(own: str) -> str:
    return salted_hmac("hours.session", own).hexdigest()[:_OWN_CHARACTERS]


class SessionStore(DatabaseStore):
    """Kept in the database, with the person who signed in; `person` is there once it is loaded."""

    person: User | None = None

    def _get_new_session_key(self) -> str:
        """A key that is unique, half of it a seal that only this server can make."""
        while True:
            own = get_random_string(_OWN_CHARACTERS, VALID_KEY_CHARS)
            key = own + _seal(own)
            if not self.exists(key):
                return key

    @classmethod
    def get_model_class(cls) -> type[PersonSession]:
        return PersonSession

    def create_model_instance(self, data: dict[str, Any]) -> PersonSession:
        made = super().create_model_instance(data)
        assert isinstance(made, PersonSession)
        signed_in = data.get(SESSION_KEY)
        made.person_id = int(signed_in) if signed_in else None
        return made

    def _get_session_from_db(self) -> PersonSession | None:
        with connection.cursor() as cursor:
            cursor.execute(_SESSION, [self.session_key, timezone.now()])
            row = cursor.fetchone()
        if row is None:
            self._session_key = None
            return None
        key, data, expires, *of_person = row
        self.person = User.from_db("default", _PERSON, of_person) if of_person[0] else None
        return PersonSession(session_key=key, session_data=data, expire_date=expires)
