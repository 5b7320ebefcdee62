"""Which revision of a document stands, and by whom: what open pages ask every few seconds."""

from accounts.people import shown_name
from documents import history
from documents.models import Document

from .schemas import DocumentHead


def head_of(document: Document, made_from: str = "") -> DocumentHead:
    """The standing revision; `made_from` names what stands of all that it uses."""
    row = history.standing(document)
    author = shown_name(row.author) if row.author else ""
    return DocumentHead(revision=row.number, label=row.label, author=author, made_from=made_from)
