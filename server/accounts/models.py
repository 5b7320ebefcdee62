"""Productions and who belongs to them."""

import uuid

from django.contrib.auth.models import User
from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models


class Production(models.Model):
    """Everything made for one film or series."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """One person in one production."""

    class Role(models.TextChoices):
        OWNER = "owner"
        EDITOR = "editor"
        VIEWER = "viewer"

    production = models.ForeignKey(Production, models.CASCADE, related_name="memberships")
    user = models.ForeignKey(User, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role.choices, default=Role.EDITOR)

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("production", "user"), name="one_membership_each"),
        )

    @property
    def may_change(self) -> bool:
        return self.role != self.Role.VIEWER


class PersonSession(AbstractBaseSession):
    """A browser's session, and who is signed in there."""

    person = models.ForeignKey(User, models.CASCADE, null=True)

    class Meta(AbstractBaseSession.Meta):
        verbose_name = "session"

    @classmethod
    def get_session_store_class(cls) -> type:
        from .sessions import SessionStore

        return SessionStore
