"""Documents taken down: the heads of all that are asked for in one query, bodies from memory."""

import hashlib
from collections.abc import Iterable, Mapping
from typing import Any
from uuid import UUID

from django.db.models import QuerySet

from elastic_core.errors import Refusal

from .kinds import Opened, kind_of
from .memory import memory
from .models import Document, Revision


class Shelf:
    """The documents of one production, as they stand while one request is answered."""

    def __init__(self, production_id: UUID) -> None:
        self.production_id = production_id
        self._rows: dict[str, Document | None] = {}

    @classmethod
    def beside(cls, row: Document) -> "Shelf":
        """The production's documents, beside one of them; what it uses is known where it was read with it."""
        shelf = cls(row.production_id)
        known: dict[str, Document] | None = row.__dict__.get("rows_beside")
        if known is None:
            # A drag opens its document twice, as it stands and as it would be.
            known = row.__dict__["rows_beside"] = {
                told["id"]: Document(production_id=row.production_id, **told)
                for told in getattr(row, "used", ())
            }
        shelf._rows.update(known)
        return shelf

    def heads(self, ids: Iterable[str]) -> dict[str, Document]:
        """Those of these documents that are in the production: an id from elsewhere is missing."""
        asked = set(ids)
        wanted = asked - set(self._rows)
        known = [found for found in map(_uuid, wanted) if found]
        if known:
            rows = Document.objects.filter(production_id=self.production_id, pk__in=known)
            for row in rows.only("production_id", "kind", "name", "head", "standing"):
                self._rows[str(row.pk)] = row
        for name in wanted:
            self._rows.setdefault(name, None)
        return {name: found for name in asked if (found := self._rows[name]) is not None}

    def documents(self, ids: Iterable[str], kind: str | None = None) -> dict[str, Any]:
        """Standing documents by their ids, of one kind or any; bodies that are new in one query."""
        rows = {
            name: row for name, row in self.heads(ids).items() if kind is None or row.kind == kind
        }
        found = {name: memory.get(("document", row.standing)) for name, row in rows.items()}
        missing = {name: rows[name] for name, document in found.items() if document is None}
        if missing:
            found |= _read_all(missing)
        return found

    def made_from(self, ids: Iterable[str]) -> str:
        """Names what stands of these documents: another name, and one of them has changed."""
        return made_from(f"{name}:{row.standing}" for name, row in self.heads(ids).items())

    def revision(self, name: str) -> str:
        """Names exactly what stands of a document."""
        row = self._rows.get(name)
        return name_of(row, row.standing) if row else name


def made_from(heads: Iterable[str]) -> str:
    """A short name of “id:key” of all that something is made from."""
    return hashlib.sha256(",".join(sorted(heads)).encode()).hexdigest()[:16]


def document_of(row: Document) -> Any:
    """A standing document as its core model."""
    known = memory.get(("document", row.standing))
    return _read(row.revisions.filter(pk=row.standing), row) if known is None else known


def opened(row: Document, number: int | None = None) -> Opened[Any]:
    """A document opened for work: the standing one, or an earlier revision. Raises Refusal where there
    is no such revision."""
    if number is None or number == row.head:
        return open_as(row, row.standing, document_of(row))
    revision = row.revisions.filter(number=number).values_list("pk", flat=True).first()
    if revision is None:
        raise Refusal(f"“{row.name}” has no revision {number}.")
    known = memory.get(("document", revision))
    earlier = _read(row.revisions.filter(pk=revision), row) if known is None else known
    return open_as(row, revision, earlier)


def open_as(row: Document, revision: int, document: Any) -> Opened[Any]:
    """A document that is at hand, opened as the revision with this key."""
    return kind_of(row).open(Shelf.beside(row), document, name_of(row, revision))


def keep(row: Document, revision: int, document: Any) -> None:
    """Prime the memory with what was just saved. Revisions are known there by their keys: even one whose
    transaction is undone is never taken for another."""
    memory.put(("document", revision), document, kind_of(row).weighs(document))


def name_of(row: Document, revision: int) -> str:
    """Names one revision of a document exactly, for what is made from it: “id:key”."""
    return f"{row.pk}:{revision}"


def _read(rows: QuerySet[Revision], row: Document) -> Any:
    revision = rows.only("body").get()
    document = kind_of(row).read(revision.body)
    keep(row, revision.pk, document)
    return document


def _read_all(rows: Mapping[str, Document]) -> dict[str, Any]:
    standing = {row.standing: (name, row) for name, row in rows.items()}
    found: dict[str, Any] = {}
    for pk, body in Revision.objects.filter(pk__in=standing).values_list("pk", "body"):
        name, row = standing[pk]
        found[name] = kind_of(row).read(body)
        keep(row, pk, found[name])
    return found


def _uuid(name: str) -> UUID | None:
    try:
        return UUID(name)
    except ValueError:
        return None
