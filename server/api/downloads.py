"""Files out."""

from collections.abc import Iterator
from urllib.parse import quote

from django.http import HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase


def download(text: str | bytes | Iterator[bytes], name: str, content_type: str) -> HttpResponseBase:
    """A text, or bytes, as a file to keep; one that comes in pieces goes out as they come."""
    answer = HttpResponse if isinstance(text, (str, bytes)) else StreamingHttpResponse
    response: HttpResponseBase = answer(text, content_type=content_type)
    response.headers["Content-Disposition"] = f"attachment; filename*=UTF-8''{quote(name)}"
    return response
