"""Files out."""

from urllib.parse import quote

from django.http import HttpResponse


def download(text: str, name: str, content_type: str) -> HttpResponse:
    """A text as a file to keep."""
    response = HttpResponse(text, content_type=content_type)
    response.headers["Content-Disposition"] = f"attachment; filename*=UTF-8''{quote(name)}"
    return response
