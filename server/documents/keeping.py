"""Keeping a library tidy: names, tags, the archive, copies, and what may be thrown away."""

from collections.abc import Sequence

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import ProtectedError, TextField
from django.db.models.functions import Cast

from elastic_core.errors import Refusal

from . import editing, history
from .kinds import kind_of
from .models import Document, Revision
from .opening import document_of

MOST_TAGS = 20


def rename(document: Document, name: str, author: User) -> None:
    """Another name, as a step of the document's history."""
    with transaction.atomic():
        row = history.held(document)
        if row.name == name:
            return
        named = document_of(row).model_copy(update={"name": name})
        editing.saved(row, named, f"Rename to {name}", author)


def tag(document: Document, tags: Sequence[str]) -> None:
    """Its tags: plain words in order, each once."""
    words = list(dict.fromkeys(word for tag in tags if (word := " ".join(tag.split())[:40])))
    if len(words) > MOST_TAGS:
        raise Refusal(f"A document has {MOST_TAGS} tags at the most.")
    Document.objects.filter(pk=document.pk).update(tags=words)


def archive(document: Document, archived: bool) -> None:
    """Put it out of sight, or bring it back. Scenes that use it go on using it."""
    Document.objects.filter(pk=document.pk).update(archived=archived)


def copy_name(document: Document) -> str:
    """“Amble copy”, “Amble copy 2” …: the first name that is free."""
    taken = set(document.production.documents.values_list("name", flat=True))
    stem = f"{document.name[:100]} copy"
    names = (stem if k == 1 else f"{stem} {k}" for k in range(1, len(taken) + 2))
    return next(name for name in names if name not in taken)


def duplicate(document: Document, author: User) -> Document:
    """A copy of what stands, with a history of its own."""
    named = document_of(document).model_copy(update={"name": copy_name(document)})
    label = f"Copy of {document.name}"
    with transaction.atomic():
        made = editing.create(kind_of(document), document.production, named, label, author)
        tag(made, document.tags)
        made.refresh_from_db(fields=["tags"])
    return made


def delete(document: Document) -> None:
    """Gone for good. Refused where it is used, now or in an earlier step that undo could reach."""
    with transaction.atomic():
        row = history.held(document)
        users = row.used_in.select_related("document").order_by("document__name")
        if users:
            # A scene that uses it is what stands in the way; those that move it are told last.
            says = _SAYS.get(kind := min((use.document.kind for use in users), key=_order), _USED)
            used = sorted({use.document.name for use in users if use.document.kind == kind})
            raise Refusal(f"“{row.name}” {says} {_listed(used)}. Archive it instead.")
        earlier = _used_earlier(row)
        if earlier:
            raise Refusal(
                f"“{row.name}” is used in earlier steps of {_listed(earlier)}, which undo can still "
                "reach. Archive it instead."
            )
        try:
            row.delete()
        except ProtectedError:
            raise Refusal(f"“{row.name}” is still used. Archive it instead.") from None


_USED = "is used in"
_SAYS = {"clip": "is moved by"}


def _order(kind: str) -> tuple[bool, bool]:
    return kind != "scene", kind in _SAYS


def _used_earlier(document: Document) -> list[str]:
    """The documents an earlier revision of which names this one."""
    revisions = (
        Revision.objects.filter(document__production=document.production)
        .exclude(document=document)
        .annotate(text=Cast("body", TextField()))
    )
    found = revisions.filter(text__contains=str(document.pk))
    return sorted(set(found.values_list("document__name", flat=True)))


def _listed(names: Sequence[str], most: int = 3) -> str:
    shown = ", ".join(f"“{name}”" for name in names[:most])
    return shown if len(names) <= most else f"{shown} and {len(names) - most} more"
