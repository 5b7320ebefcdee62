"""Taking a production out as one file: read at one moment, a piece at a time, however large it is."""

import re
import zipfile
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from typing import IO, Any

from django.contrib.auth.models import User
from django.db import connection, transaction
from django.db.migrations.recorder import MigrationRecorder

from accounts.models import Membership, Production
from documents.models import Block, Document
from elastic_core.formats.zips import entry_named
from library import files
from library.models import MotionBlock, MotionIndex, SoundBlock
from prints.models import Print

from .form import (
    END,
    MANIFEST,
    End,
    KeptDocument,
    KeptFile,
    KeptIndex,
    KeptMotion,
    KeptPrint,
    KeptRevision,
    KeptSound,
    Manifest,
    Person,
    chunk_name,
)

OUR_APPS = ("accounts", "documents", "library", "prints")
_SHA256 = re.compile(r"\b[0-9a-f]{64}\b")

# Hears how many of how many pieces are written.
Progress = Callable[[int, int], None]


def take(
    production: Production, out: IO[bytes], progress: Progress = lambda done, of: None
) -> None:
    """Write a production as it stands at this moment."""
    with _one_moment():
        of = production.documents.count() + production.files.count()
        for done, _ in enumerate(_written(production, out), start=1):
            progress(done, of)


def pieces(production: Production) -> Iterator[bytes]:
    """A production's file, in pieces as they come."""
    sink = _Sink()
    with _one_moment():
        for _ in _written(production, sink):
            yield sink.taken()
    yield sink.taken()


@contextmanager
def _one_moment() -> Iterator[None]:
    """All that is read in here is of one moment, whoever saves meanwhile."""
    with transaction.atomic():
        # Within another's transaction its moment is that one's.
        if not connection.savepoint_ids:
            with connection.cursor() as cursor:
                cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ, READ ONLY")
        yield


class _Sink:
    """What a zip is written into that is sent as it comes."""

    def __init__(self) -> None:
        self._waiting = bytearray()

    def write(self, data: bytes) -> int:
        self._waiting += data
        return len(data)

    def flush(self) -> None:
        """Nothing is held back."""

    def taken(self) -> bytes:
        data = bytes(self._waiting)
        self._waiting.clear()
        return data


def _written(production: Production, out: Any) -> Iterator[None]:
    """Write it all; stops after each document and each file."""
    named: set[str] = set()
    documents = production.documents.order_by("created", "pk")
    with zipfile.ZipFile(out, "w") as archive:
        _put(archive, MANIFEST, [_manifest(production, documents).model_dump_json().encode()])
        for row in documents.iterator(chunk_size=50):
            name = f"documents/{row.pk}.jsonl"
            _put(archive, name, _lines(row, named))
            yield
        for file in production.files.order_by("sha256"):
            _put(archive, f"files/{file.sha256}", files.pieces_of(file), packed=False)
            yield
        _put_named(archive, named)
        _put_read(archive, production)
        end = End(entries=len(archive.infolist()))
        _put(archive, END, [end.model_dump_json().encode()])


def _manifest(production: Production, documents: Iterable[Document]) -> Manifest:
    prints = production.prints.select_related("film", "author").order_by("created", "pk")
    recorder = MigrationRecorder.Migration.objects
    newest = {
        app: recorder.filter(app=app).order_by("-name").values_list("name", flat=True).first() or ""
        for app in OUR_APPS
    }
    return Manifest(
        migrations=newest,
        id=production.pk,
        name=production.name,
        created=production.created,
        people=_people(production),
        files=[KeptFile.of(file) for file in production.files.order_by("sha256")],
        prints=[_print(one) for one in prints],
        documents=[row.pk for row in documents],
    )


def _people(production: Production) -> list[Person]:
    """Its members, and who else is an author of anything in it."""
    roles = dict(
        Membership.objects.filter(production=production).values_list("user__username", "role")
    )
    authors = User.objects.filter(
        pk__in=production.documents.values("revisions__author")
    ) | User.objects.filter(pk__in=production.prints.values("author"))
    known = User.objects.filter(username__in=roles) | authors
    return [
        Person(
            account=user.username,
            first_name=user.first_name,
            last_name=user.last_name,
            role=roles.get(user.username),
        )
        for user in known.distinct().order_by("username")
    ]


def _print(one: Print) -> KeptPrint:
    author = one.author.username if one.author else None
    return KeptPrint.of(one, document=one.document_id, film=one.film.sha256, author=author)


def _lines(row: Document, named: set[str]) -> Iterator[bytes]:
    """A document and its revisions; what they name by its content is gathered."""
    uses = sorted(row.uses.values_list("used_id", flat=True))
    yield KeptDocument.of(row, uses=uses).model_dump_json().encode() + b"\n"
    for revision in row.revisions.select_related("author").order_by("number").iterator():
        author = revision.author.username if revision.author else None
        line = KeptRevision.of(revision, author=author).model_dump_json()
        named.update(_SHA256.findall(line))
        yield line.encode() + b"\n"


def _put_named(archive: zipfile.ZipFile, named: set[str]) -> None:
    """Blocks and motions that the documents name."""
    wanted = sorted(named)
    for block in Block.objects.filter(pk__in=wanted).order_by("pk").iterator(chunk_size=20):
        _put(archive, f"blocks/{block.pk}", [bytes(block.data)])
    for motion in MotionBlock.objects.filter(pk__in=wanted).order_by("pk"):
        chunks = motion.chunks.order_by("number").values_list("number", "data")
        told = KeptMotion.of(motion, chunks=chunks.count())
        _put(archive, f"motions/{motion.pk}.json", [told.model_dump_json().encode()])
        for number, data in chunks.iterator(chunk_size=4):
            _put(archive, chunk_name("motions", motion.pk, number), [bytes(data)])


def _put_read(archive: zipfile.ZipFile, production: Production) -> None:
    """What was read in its files: sounds decoded, motion indexed."""
    own = production.files.values("sha256")
    for sound in SoundBlock.objects.filter(pk__in=own).order_by("pk"):
        chunks = sound.chunks.order_by("number").values_list("number", "data")
        told = KeptSound.of(sound, chunks=chunks.count())
        _put(archive, f"sounds/{sound.pk}.json", [told.model_dump_json().encode()])
        for number, data in chunks.iterator(chunk_size=4):
            _put(archive, chunk_name("sounds", sound.pk, number), [bytes(data)], packed=False)
    indexes = MotionIndex.objects.filter(file__production=production).select_related("file")
    for index in indexes.order_by("file__sha256"):
        kept = KeptIndex.of(index)
        _put(archive, f"indexes/{index.file.sha256}.json", [kept.model_dump_json().encode()])


def _put(
    archive: zipfile.ZipFile, name: str, data: Iterable[bytes], *, packed: bool = True
) -> None:
    """An entry, a piece at a time. What is packed in itself already is not packed again."""
    with archive.open(entry_named(name, packed=packed), "w", force_zip64=True) as out:
        for piece in data:
            out.write(piece)
