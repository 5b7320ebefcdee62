"""The API under /api/, and the page for every other address."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import URLPattern, URLResolver, path, re_path

from api.routes import api

from .health import health


def page(request: HttpRequest, path: str = "") -> HttpResponse:
    """The single page; its own router reads the address."""
    index = settings.WEB / "index.html"
    if not index.exists():
        return HttpResponse("The page is not built; run bin/setup.", status=503)
    response = HttpResponse(index.read_bytes(), content_type="text/html; charset=utf-8")
    response.headers["Cache-Control"] = "no-cache"
    return response


urlpatterns: list[URLPattern | URLResolver] = [
    path("api/", api.urls),
    path("health", health),
    re_path(r"^(?!api/|assets/)(?P<path>.*)$", page),
]
