"""Pictures: brought in, and given back to be traced."""

from typing import Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile
from ninja.responses import Status

from accounts.models import Production
from elastic_core.tracing import Picture
from library import pictures

from .access import membership
from .doors import MayBringIn

PictureShown = Literal["small", "shown"]
router = Router(tags=["pictures"])
picture_door = MayBringIn(lambda: pictures.LARGEST_BYTES)


@router.post("/{uuid:production_id}/pictures", auth=picture_door, response={201: Picture})
def bring_in_picture(
    request: HttpRequest, production_id: UUID, upload: File[UploadedFile]
) -> Status[Picture]:
    """Keep a PNG, a JPEG or a WebP; of an SVG what it looks like, as a PNG."""
    member = membership(request, production_id, to_change=True)
    kept = pictures.store(
        member.production, upload.name or "picture", picture_door.taken(upload).read()
    )
    return Status(201, kept)


@router.get("/{uuid:production_id}/pictures/{sha256}", response=None)
def read_picture(
    request: HttpRequest, production_id: UUID, sha256: str, size: PictureShown | None = None
) -> HttpResponse:
    """A picture as it was brought in, or as large as it is shown: on a shelf, or on the stage. It is named by
    its bytes, so it never changes."""
    member = membership(request, production_id)
    return shown_picture(member.production, sha256, size)


def shown_picture(
    production: Production, sha256: str, size: PictureShown | None = None
) -> HttpResponse:
    """A picture of a production, to be kept for ever: it is named by its bytes."""
    pixels = None if size is None else pictures.PIXELS[size]
    picture = pictures.load(production, sha256, pixels)
    response = HttpResponse(picture.data, content_type=picture.content_type)
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
