"""What a document tells of itself without being opened: the library's columns, and what it uses."""

from typing import Any
from uuid import UUID

from .kinds import Opened, kind_of
from .models import Document, Use
from .opening import opened

COLUMNS = ("figure", "rate", "length_frames", "grade", "facts", "thumbnail", "told_of")


def tell(row: Document, now: Opened[Any]) -> None:
    """Write down what the library tells of the revision that stands; the row is not saved yet."""
    facts = kind_of(row).facts(now)
    row.figure = UUID(facts.figure) if facts.figure else None
    row.rate, row.length_frames, row.grade = facts.rate, facts.length_frames, facts.grade
    row.facts, row.thumbnail = dict(facts.rest), facts.thumbnail
    row.told_of = row.head


def told(row: Document) -> Document:
    """A row whose columns tell of what stands: those from before there were columns are told now."""
    if row.told_of != row.head:
        tell(row, opened(row))
        # Only the columns: nobody has changed the document.
        Document.objects.filter(pk=row.pk, head=row.head).update(
            **{name: getattr(row, name) for name in COLUMNS}
        )
    return row


def note_uses(row: Document, document: Any) -> None:
    """Write down which documents the standing revision uses."""
    wanted = {UUID(name) for name in kind_of(row).uses(document) if name}
    present = set(row.uses.values_list("used", flat=True))
    if present - wanted:
        row.uses.filter(used__in=present - wanted).delete()
    Use.objects.bulk_create(Use(document=row, used_id=pk) for pk in wanted - present)
