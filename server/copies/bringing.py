"""Bringing a production in from its one file: all of it, or nothing."""

import hashlib
import re
import zipfile
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any, TypeVar
from uuid import uuid4

from django.contrib.auth.models import User
from django.db import transaction
from django.db.migrations.loader import MigrationLoader

from accounts.models import Membership, Production
from documents.models import Block, Document, Revision, Use
from elastic_core.errors import Refusal, refusing
from elastic_core.formats.zips import BROKEN
from library import files
from library.models import (
    MotionBlock,
    MotionChunk,
    MotionIndex,
    SoundBlock,
    SoundChunk,
    StoredFile,
)
from prints.models import Print

from .form import (
    END,
    MANIFEST,
    End,
    Kept,
    KeptDocument,
    KeptIndex,
    KeptMotion,
    KeptRevision,
    KeptSound,
    Manifest,
    chunk_name,
)
from .taking import Progress

_UUID = re.compile(r"\b[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}\b")
_PIECE_BYTES = 1 << 20
_REVISIONS_AT_ONCE = 20
K = TypeVar("K", bound=Kept)


@dataclass(frozen=True)
class BroughtIn:
    """A production that is here now, and the accounts that were made for its people: none has a password."""

    production: Production
    new_accounts: tuple[str, ...]


def bring(
    file: Path | IO[bytes], name: str | None = None, progress: Progress = lambda done, of: None
) -> BroughtIn:
    """A production from its file. With a name of its own it is a copy, beside one that may be here.

    Raises Refusal in one sentence for what is no such file, is broken, or is here already.
    """
    try:
        with zipfile.ZipFile(file) as archive, transaction.atomic(), refusing():
            return _Bringing(archive, name).all_of_it(progress)
    except KeyError:
        raise Refusal(
            "This file lacks a part of what was in it: it cannot be brought in."
        ) from None
    except BROKEN:
        raise Refusal("This file is broken: it cannot be read to its end.") from None


class _Bringing:
    """One file on its way in."""

    def __init__(self, archive: zipfile.ZipFile, name: str | None) -> None:
        self.archive = archive
        names = archive.namelist()
        if MANIFEST not in names:
            raise Refusal("This is no production of Elastic Hours.")
        if End.model_validate_json(archive.read(END)).entries != len(names) - 1:
            raise Refusal("This file lacks a part of what was in it: it cannot be brought in.")
        self.manifest = Manifest.model_validate_json(archive.read(MANIFEST))
        self.name = name or self.manifest.name
        self.ids: Mapping[str, str] = {}
        if name is not None:
            own = [*self.manifest.documents, *(one.id for one in self.manifest.prints)]
            self.ids = {str(one): str(uuid4()) for one in own}
        self.people: dict[str, User] = {}

    def all_of_it(self, progress: Progress) -> BroughtIn:
        told = self.manifest
        self._check_version()
        if not self.ids and Production.objects.filter(pk=told.id).exists():
            raise Refusal(
                f"“{told.name}” is here already. Bring it in under another name, as a copy."
            )
        new = self._people()
        production = Production.objects.create(pk=uuid4() if self.ids else told.id, name=self.name)
        Production.objects.filter(pk=production.pk).update(created=told.created)
        production.refresh_from_db()
        for person in told.people:
            if person.role is not None:
                user = self.people[person.account]
                Membership.objects.create(production=production, user=user, role=person.role)
        of, done = len(told.files) + len(told.documents), 0
        kept = {}
        for file in told.files:
            kept[file.sha256] = self._file(production, file.sha256, file.name)
            StoredFile.objects.filter(pk=kept[file.sha256].pk).update(created=file.created)
            progress(done := done + 1, of)
        self._dense()
        self._read(kept)
        uses: list[tuple[str, str]] = []
        for document in told.documents:
            uses += self._document(production, str(document))
            progress(done := done + 1, of)
        Use.objects.bulk_create([Use(document_id=one, used_id=other) for one, other in uses])
        self._prints(production, kept)
        return BroughtIn(production, new)

    def _check_version(self) -> None:
        known = MigrationLoader(None, ignore_no_migrations=True).disk_migrations
        for app, newest in self.manifest.migrations.items():
            if newest and (app, newest) not in known:
                raise Refusal(
                    "This file is of a newer Elastic Hours: bring this one up to date first."
                )

    def _people(self) -> tuple[str, ...]:
        """The accounts of its people; those that are not here are made, and nobody can sign in by them yet."""
        new = []
        for person in self.manifest.people:
            user, is_new = User.objects.get_or_create(
                username=person.account,
                defaults={"first_name": person.first_name, "last_name": person.last_name},
            )
            if is_new:
                user.set_unusable_password()
                user.save(update_fields=["password"])
                new.append(person.account)
            self.people[person.account] = user
        return tuple(new)

    def _file(self, production: Production, sha256: str, name: str) -> StoredFile:
        kept = files.store_pieces(production, name, lambda: self._pieces(f"files/{sha256}"))
        if kept.sha256 != sha256:
            raise Refusal(f"“{name}” in this file is not the one that it was: it is broken.")
        return kept

    def _pieces(self, name: str) -> Iterator[bytes]:
        with self.archive.open(name) as entry:
            while piece := entry.read(_PIECE_BYTES):
                yield piece

    def _entries(self, folder: str, ending: str = "") -> Iterator[tuple[str, str]]:
        """What lies in a folder: its own name, and where it is."""
        for place in self.archive.namelist():
            inner = place.removeprefix(f"{folder}/")
            if inner != place and "/" not in inner and inner.endswith(ending):
                yield inner.removesuffix(ending), place

    def _told(self, place: str, form: type[K]) -> K:
        return form.model_validate_json(self.archive.read(place))

    def _dense(self) -> None:
        """Blocks and motions; what is named by its content and is here already is the same."""
        for name, place in self._entries("blocks"):
            data = self.archive.read(place)
            if hashlib.sha256(data).hexdigest() != name:
                raise Refusal("Dense data in this file is not what it was: it is broken.")
            Block.objects.get_or_create(sha256=name, defaults={"data": data})
        for name, place in self._entries("motions", ".json"):
            told = self._told(place, KeptMotion)
            motion, is_new = MotionBlock.objects.get_or_create(
                sha256=name, defaults=told.model_dump(exclude={"chunks"})
            )
            if is_new:
                MotionChunk.objects.bulk_create(
                    MotionChunk(block=motion, number=number, data=data)
                    for number, data in self._chunks("motions", name, told.chunks)
                )

    def _chunks(self, folder: str, name: str, count: int) -> Iterable[tuple[int, bytes]]:
        for number in range(count):
            yield number, self.archive.read(chunk_name(folder, name, number))

    def _read(self, kept: Mapping[str, StoredFile]) -> None:
        """Sounds decoded, and motion indexed."""
        for name, place in self._entries("sounds", ".json"):
            told = self._told(place, KeptSound)
            sound, is_new = SoundBlock.objects.get_or_create(
                sha256=name, defaults=told.model_dump(exclude={"chunks"})
            )
            if is_new:
                for number, data in self._chunks("sounds", name, told.chunks):
                    SoundChunk.objects.create(block=sound, number=number, data=data)
        for name, place in self._entries("indexes", ".json"):
            index = self._told(place, KeptIndex)
            MotionIndex.objects.create(file=kept[name], **index.model_dump())

    def _document(self, production: Production, name: str) -> list[tuple[str, str]]:
        """A document with its whole history; what it uses."""
        with self.archive.open(f"documents/{name}.jsonl") as lines:
            kept = KeptDocument.model_validate_json(self._renamed(next(lines)))
            told = kept.model_dump(exclude={"id", "created", "changed", "uses"})
            row = Document.objects.create(pk=kept.id, production=production, **told)
            waiting: list[Revision] = []
            for line in lines:
                waiting.append(self._revision(row, self._renamed(line)))
                if len(waiting) == _REVISIONS_AT_ONCE:
                    _keep(waiting)
            _keep(waiting)
        standing = row.revisions.filter(number=kept.head).values_list("pk", flat=True).first()
        if standing is None:
            raise Refusal(f"“{kept.name}” in this file lacks the revision that stands.")
        # Not by saving, which would say that it was made and changed now.
        Document.objects.filter(pk=row.pk).update(
            standing=standing, created=kept.created, changed=kept.changed
        )
        return [(str(kept.id), str(used)) for used in kept.uses]

    def _revision(self, row: Document, line: bytes) -> Revision:
        told = KeptRevision.model_validate_json(line)
        author = None if told.author is None else self.people[told.author]
        return Revision(document=row, author=author, **told.model_dump(exclude={"author"}))

    def _prints(self, production: Production, kept: Mapping[str, StoredFile]) -> None:
        here = {str(pk) for pk in production.documents.values_list("pk", flat=True)}
        for one in self.manifest.prints:
            document = one.document and self._id(one.document)
            row = Print.objects.create(
                pk=self._id(one.id),
                production=production,
                document_id=document if document in here else None,
                film=kept[one.film],
                author=None if one.author is None else self.people[one.author],
                **one.model_dump(exclude={"id", "document", "film", "author", "created"}),
            )
            Print.objects.filter(pk=row.pk).update(created=one.created)

    def _id(self, name: Any) -> str:
        return self.ids.get(str(name), str(name))

    def _renamed(self, line: bytes) -> bytes:
        """A line with the ids of a copy."""
        if not self.ids:
            return line
        return _UUID.sub(lambda found: self._id(found[0]), line.decode()).encode()


def _keep(waiting: list[Revision]) -> None:
    """Keep revisions, as of when they were made."""
    created = [revision.created for revision in waiting]
    Revision.objects.bulk_create(waiting)
    for revision, moment in zip(waiting, created, strict=True):
        revision.created = moment
    Revision.objects.bulk_update(waiting, ["created"])
    waiting.clear()
