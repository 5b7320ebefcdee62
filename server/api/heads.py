"""Which revision of a document stands, and by whom: what open pages ask every few seconds."""

from uuid import UUID

from django.contrib.auth.models import User
from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import CharField, F, OuterRef, Value
from django.db.models.functions import Cast, Concat
from django.http import Http404

from accounts.people import shown_name
from documents.models import Revision, Use
from documents.opening import made_from

from .schemas import DocumentHead


def head_of(person: User, kind: str, document_id: UUID) -> DocumentHead:
    """The standing revision of a document that the person may see, and a name of what stands of all
    that it uses: one query."""
    uses = (
        Use.objects.filter(document=OuterRef("document"))
        .annotate(
            stands=Concat(
                Cast("used_id", CharField()), Value(":"), Cast(F("used__standing"), CharField())
            )
        )
        .values("stands")
    )
    row = (
        Revision.objects.select_related("author")
        .defer("body")
        .annotate(stands=ArraySubquery(uses))
        .filter(
            document_id=document_id,
            document__kind=kind,
            document__production__memberships__user=person,
            number=F("document__head"),
        )
        .first()
    )
    if row is None:
        raise Http404
    author = shown_name(row.author) if row.author else ""
    return DocumentHead(
        revision=row.number, label=row.label, author=author, made_from=made_from(row.stands)
    )
