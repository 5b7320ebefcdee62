"""Prints out: as a whole to keep, or the ranges that a player asks for (RFC 9110, 14)."""

import re
from collections.abc import Mapping

from django.http import HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase

from library import files
from library.models import StoredFile

from .downloads import download

CONTENT_TYPES: Mapping[str, str] = {
    "mp4": "video/mp4",
    "webm": "video/webm",
    "webp": "image/webp",
    "gif": "image/gif",
    "png": "application/zip",
    "contact": "image/png",
    "pdf": "application/pdf",
}
# So much of a film goes out at a time: a player asks for the rest.
LONGEST_RANGE_BYTES = 4 << 20
_RANGE = re.compile(r"bytes=(\d{1,18})-(\d{0,18})")


def film_out(
    film: StoredFile, form: str, name: str, wanted: str | None, *, to_keep: bool
) -> HttpResponseBase:
    """A film, or with `wanted` (a Range header) a piece of it."""
    kind = CONTENT_TYPES[form]
    if to_keep:
        return download(files.pieces_of(film), name, kind)
    match = _RANGE.fullmatch(wanted or "")
    if match is None:
        return _told(StreamingHttpResponse(files.pieces_of(film), content_type=kind))
    start, size = int(match[1]), film.size_bytes
    last = min(size - 1, int(match[2] or size - 1), start + LONGEST_RANGE_BYTES - 1)
    if last < start:
        return HttpResponse(status=416)
    (data,) = files.slices(film, [(start, last + 1)])
    answer = HttpResponse(data, content_type=kind, status=206)
    answer.headers["Content-Range"] = f"bytes {start}-{last}/{size}"
    return _told(answer)


def _told(answer: HttpResponseBase) -> HttpResponseBase:
    answer.headers["Accept-Ranges"] = "bytes"
    # A piece of a packed film would be no piece of the film.
    answer.headers["Content-Encoding"] = "identity"
    answer.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer
