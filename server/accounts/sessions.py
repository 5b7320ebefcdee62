"""Sessions that know their person: both are read in one query."""

from typing import Any

from django.contrib.auth import SESSION_KEY
from django.contrib.auth.models import User
from django.contrib.sessions.backends.db import SessionStore as DatabaseStore

from .models import PersonSession


class SessionStore(DatabaseStore):
    """Kept in the database, with the person who signed in; `person` is there once it is loaded."""

    person: User | None = None

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
        found = super()._get_session_from_db()  # type: ignore[misc]
        self.person = found.person if found else None
        return found  # type: ignore[no-any-return]
