"""Keeping a library tidy: names, tags, the archive, copies, and what may be thrown away."""

from collections.abc import Sequence

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import ProtectedError, TextField
from django.db.models.functions import Cast

from elastic_core.errors import Refusal

from . import history
from .models import Document, Revision

MOST_TAGS = 20


def held(document: Document) -> Document:
    """The document held for change, whatever revision stands."""
    return Document.objects.select_for_update().get(pk=document.pk)


def rename(document: Document, name: str, author: User) -> None:
    """Another name, as a step of the document's history."""
    with transaction.atomic():
        row = held(document)
        if row.name == name:
            return
        body = {**history.standing(row).body, "name": name}
        history.save(row, body, f"Rename to {name}", author, name)


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
    name = copy_name(document)
    body = {**history.standing(document).body, "name": name}
    label = f"Copy of {document.name}"
    with transaction.atomic():
        made = history.create(document.production, document.kind, name, body, label, author)
        tag(made, document.tags)
    return made


def delete(document: Document) -> None:
    """Gone for good. Refused where it is used, now or in an earlier step that undo could reach."""
    with transaction.atomic():
        row = held(document)
        used = sorted(row.used_in.values_list("scene__name", flat=True))
        if used:
            raise Refusal(f"“{row.name}” is used in {_listed(used)}. Archive it instead.")
        earlier = _used_earlier(row)
        if earlier:
            raise Refusal(
                f"“{row.name}” is used in earlier steps of {_listed(earlier)}, which undo can still "
                "reach. Archive it instead."
            )
        made_for = _made_for(row)
        if made_for:
            raise Refusal(f"“{row.name}” is moved by {_listed(made_for)}. Archive it instead.")
        try:
            row.delete()
        except ProtectedError:
            raise Refusal(f"“{row.name}” is still used. Archive it instead.") from None


def _used_earlier(document: Document) -> list[str]:
    if document.kind == Document.Kind.SCENE:
        return []
    revisions = Revision.objects.filter(
        document__production=document.production, document__kind=Document.Kind.SCENE
    ).annotate(text=Cast("body", TextField()))
    found = revisions.filter(text__contains=str(document.pk))
    return sorted(set(found.values_list("document__name", flat=True)))


def _made_for(document: Document) -> list[str]:
    """The clips that move a figure."""
    if document.kind != Document.Kind.FIGURE:
        return []
    clips = Revision.objects.filter(
        document__production=document.production,
        document__kind=Document.Kind.CLIP,
        body__figure=str(document.pk),
    )
    return sorted(set(clips.values_list("document__name", flat=True)))


def _listed(names: Sequence[str], most: int = 3) -> str:
    shown = ", ".join(f"“{name}”" for name in names[:most])
    return shown if len(names) <= most else f"{shown} and {len(names) - most} more"
