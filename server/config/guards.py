"""What every answer carries, whoever gives it: the page, a file, the API or an error."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

# Everything the page needs ships with it.
_POLICY = "; ".join(
    (
        "default-src 'self'",
        "img-src 'self' data: blob:",
        "style-src 'self'",
        "object-src 'none'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
        "form-action 'self'",
    )
)


def guarded(
    answer: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware, the outermost: a strict Content-Security-Policy, and no frame round us."""

    def ask(request: HttpRequest) -> HttpResponse:
        response = answer(request)
        response.headers["Content-Security-Policy"] = _POLICY
        response.headers["X-Frame-Options"] = "DENY"
        return response

    return ask
