"""Every answer that is not a success: one shape, a sentence, and a status that is documented."""

from collections.abc import Callable, Mapping
from typing import Any

from django.core.exceptions import RequestDataTooBig, SuspiciousOperation
from django.db import InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic import ValidationError as Complaints

from accounts.passwords import TooManyTries
from documents.history import Outdated
from elastic_core.errors import Refusal, in_words

from .schemas import Problem

# What is said where nothing better is known.
SENTENCES: Mapping[int, str] = {
    400: "This request cannot be read.",
    401: "Please sign in.",
    403: "This page is older than the sign-in. Load it again.",
    404: "There is nothing here that you can see.",
    405: "That cannot be done here.",
    409: "It has changed since.",
    413: "That is more than can be sent at once.",
    422: "That cannot be done.",
    431: "The head of this request is too long.",
    429: "That was asked too often. Try again later.",
    500: "The server ran into something it did not expect. It is written down.",
    503: "The database cannot be reached just now.",
}
# What any route may answer; 405 comes where there is no route, and 500 is never meant.
ANYWHERE = (400, 401, 403, 404, 409, 413, 422, 429, 503)


class ProblemResponse(HttpResponse):
    """A sentence for the person; `head` is the revision that stands, where an edit came too late."""

    def __init__(self, status: int, message: str = "", head: int | None = None) -> None:
        told = Problem(
            message=message or SENTENCES.get(status, SENTENCES[400 if status < 500 else 500]),
            head=head,
        )
        super().__init__(
            told.model_dump_json(), status=status, content_type="application/json; charset=utf-8"
        )


def told(
    answer: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: whatever the framework says of a request to the API is said in our shape."""

    def ask(request: HttpRequest) -> HttpResponse:
        # No text of ours holds it, and no database keeps it.
        if "\0" in request.path or "%00" in request.META.get("QUERY_STRING", ""):
            return ProblemResponse(400, "An address cannot hold the character of number 0.")
        response = answer(request)
        is_told = response.status_code < 400 or isinstance(response, ProblemResponse)
        if is_told or not request.path.startswith("/api/"):
            return response
        problem = ProblemResponse(response.status_code)
        for name in ("Allow", "Retry-After"):
            if name in response.headers:
                problem.headers[name] = response.headers[name]
        return problem

    return ask


Tell = Callable[[Any], ProblemResponse]
# By the kind of trouble; of several that fit the nearest is taken.
_TELLS: Mapping[type[Exception], Tell] = {
    Refusal: lambda refusal: ProblemResponse(422, str(refusal)),
    Complaints: lambda problem: ProblemResponse(422, in_words(problem.errors()[0])),
    ValidationError: lambda problem: ProblemResponse(422, in_words(problem.errors[0])),
    Outdated: lambda problem: ProblemResponse(409, str(problem), problem.head),
    TooManyTries: lambda problem: ProblemResponse(429, str(problem)),
    Http404: lambda problem: ProblemResponse(404),
    AuthenticationError: lambda problem: ProblemResponse(401),
    HttpError: lambda problem: ProblemResponse(problem.status_code, _reason(problem)),
    RequestDataTooBig: lambda problem: ProblemResponse(413),
    SuspiciousOperation: lambda problem: ProblemResponse(400),
    MultiPartParserError: lambda problem: ProblemResponse(400, "The file did not arrive whole."),
    UnreadablePostError: lambda problem: ProblemResponse(400, "The request did not arrive whole."),
    OperationalError: lambda problem: ProblemResponse(503),
    InterfaceError: lambda problem: ProblemResponse(503),
}


def tell_problems(api: NinjaAPI) -> None:
    """Have every trouble that a route may raise told in words."""
    for kind, tell in _TELLS.items():
        api.add_exception_handler(kind, _handler(tell))


def _handler(tell: Tell) -> Callable[[HttpRequest, Any], HttpResponse]:
    return lambda request, problem: tell(problem)


def _reason(problem: HttpError) -> str:
    """What the reader of a body said; the framework hides it behind words of its own."""
    if isinstance(problem.__cause__, Refusal):
        return str(problem.__cause__)
    return problem.message if problem.message.endswith(".") else ""
