"""A production with two members and a stranger, and clients for each."""

from dataclasses import dataclass
from typing import Any

import pytest
from django.conf import settings
from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.test import Client

from accounts.models import Membership
from demo.sounds import SOUNDS, sound_file
from demo.spoken import SPOKEN, voice_file
from demo.takes import TAKES, take_file
from documents.memory import memory
from documents.models import Document
from library.files import sha256_of
from library.models import StoredFile
from scenes.management.commands.load_demo import ACCOUNT, load_demo

# A hash that takes its time on purpose would take a tenth of what all tests take.
settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@dataclass(frozen=True)
class Demo:
    scene: Document

    @property
    def production(self) -> str:
        return str(self.scene.production_id)

    def document(self, kind: str, name: str) -> Document:
        return Document.objects.get(kind=kind, name=name)

    @property
    def url(self) -> str:
        return f"/api/scenes/{self.scene.pk}"


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup: None, django_db_blocker: Any) -> None:
    """The demo is loaded once; every test rolls back what it changes."""
    with django_db_blocker.unblock():
        load_demo()


@pytest.fixture
def demo(db: Any) -> Demo:
    memory.forget()
    return Demo(Document.objects.get(kind="scene", name="Sc 04 Quay at dusk"))


def files_kept() -> QuerySet[StoredFile]:
    """The files that tests brought in: the demo has sounds, lines, takes and drawings of its own."""
    heard = [sound_file(name) for name in SOUNDS] + [voice_file(name) for name in SPOKEN]
    own = heard + [take_file(name) for name in TAKES]
    kept = StoredFile.objects.exclude(sha256__in=[sha256_of(file) for file in own])
    # Its drawings were drawn as lines, and are kept as pictures.
    return kept.exclude(name__endswith=".svg.png")


def client_of(user: User) -> Client:
    client = Client()
    client.force_login(user)
    return client


@pytest.fixture
def owner(demo: Demo) -> Client:
    return client_of(User.objects.get(username=ACCOUNT))


@pytest.fixture
def viewer(demo: Demo) -> Client:
    user = User.objects.create_user("vera")
    Membership.objects.create(production_id=demo.production, user=user, role=Membership.Role.VIEWER)
    return client_of(user)


@pytest.fixture
def editor(demo: Demo) -> Client:
    user = User.objects.create_user("edda")
    Membership.objects.create(production_id=demo.production, user=user, role=Membership.Role.EDITOR)
    return client_of(user)


@pytest.fixture
def stranger(demo: Demo) -> Client:
    return client_of(User.objects.create_user("stranger"))


def edit(client: Client, demo: Demo, change: dict[str, Any], base: int, **more: Any) -> Any:
    return client.post(
        f"{demo.url}/edits",
        {"edit": change, "base_revision": base, **more},
        content_type="application/json",
    )
