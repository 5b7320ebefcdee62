"""Documents taken down: the heads of all that are asked for in one query, bodies from memory."""

import hashlib
from collections.abc import Iterable, Mapping
from typing import Any
from uuid import UUID

from django.db.models import Q

from elastic_core.errors import Refusal

from .kinds import Opened, kind_of
from .memory import memory
from .models import Document, Revision


class Shelf:
    """The documents of one production, as they stand while one request is answered."""

    def __init__(self, production_id: UUID) -> None:
        self.production_id = production_id
        self._rows: dict[str, Document | None] = {}

    def heads(self, ids: Iterable[str]) -> dict[str, Document]:
        """Those of these documents that are in the production: an id from elsewhere is missing."""
        asked = set(ids)
        wanted = asked - set(self._rows)
        known = [found for found in map(_uuid, wanted) if found]
        if known:
            rows = Document.objects.filter(production_id=self.production_id, pk__in=known)
            for row in rows.only("production_id", "kind", "name", "head"):
                self._rows[str(row.pk)] = row
        for name in wanted:
            self._rows.setdefault(name, None)
        return {name: found for name in asked if (found := self._rows[name]) is not None}

    def documents(self, ids: Iterable[str], kind: str | None = None) -> dict[str, Any]:
        """Standing documents by their ids, of one kind or any; bodies that are new in one query."""
        rows = {
            name: row for name, row in self.heads(ids).items() if kind is None or row.kind == kind
        }
        found = {name: memory.get(("document", row.pk, row.head)) for name, row in rows.items()}
        missing = {name: rows[name] for name, document in found.items() if document is None}
        if missing:
            found |= _read_all(missing)
        return found

    def made_from(self, ids: Iterable[str]) -> str:
        """Names what stands of these documents: another name, and one of them has changed."""
        return made_from(f"{name}:{row.head}" for name, row in self.heads(set(ids)).items())

    def revision(self, name: str) -> str:
        """“id:head”, which names exactly what stands."""
        row = self._rows.get(name)
        return f"{name}:{row.head}" if row else name


def made_from(heads: Iterable[str]) -> str:
    """A short name of “id:head” of all that something is made from."""
    return hashlib.sha256(",".join(sorted(heads)).encode()).hexdigest()[:16]


def document_of(row: Document, number: int | None = None) -> Any:
    """A document as its core model: the standing one, or an earlier revision. Raises Refusal."""
    wanted = row.head if number is None else number
    known = memory.get(("document", row.pk, wanted))
    if known is not None:
        return known
    revision = row.revisions.filter(number=wanted).only("body").first()
    if revision is None:
        raise Refusal(f"“{row.name}” has no revision {wanted}.")
    return _kept(row, wanted, kind_of(row).read(revision.body))


def opened(row: Document, number: int | None = None) -> Opened[Any]:
    """A document opened for work: the standing one, or an earlier revision."""
    wanted = row.head if number is None else number
    return open_as(row, wanted, document_of(row, wanted))


def open_as(row: Document, number: int, document: Any) -> Opened[Any]:
    """A document that is at hand, opened as one of its revisions."""
    return kind_of(row).open(Shelf(row.production_id), document, f"{row.pk}:{number}")


def keep(row: Document, number: int, document: Any) -> None:
    """Prime the memory with what was just saved."""
    _kept(row, number, document)


def _read_all(rows: Mapping[str, Document]) -> dict[str, Any]:
    which = Q()
    for row in rows.values():
        which |= Q(document_id=row.pk, number=row.head)
    bodies = {
        str(pk): body
        for pk, body in Revision.objects.filter(which).values_list("document_id", "body")
    }
    return {
        name: _kept(row, row.head, kind_of(row).read(bodies[name])) for name, row in rows.items()
    }


def _kept(row: Document, number: int, document: Any) -> Any:
    return memory.put(("document", row.pk, number), document, kind_of(row).weighs(document))


def _uuid(name: str) -> UUID | None:
    try:
        return UUID(name)
    except ValueError:
        return None
