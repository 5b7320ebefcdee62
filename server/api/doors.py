"""Who may come in, asked before anything of a request's body is read."""

import copy
from collections.abc import Callable
from typing import Any

from django.http import HttpRequest
from django.middleware.csrf import CsrfViewMiddleware
from ninja.errors import HttpError
from ninja.files import UploadedFile
from ninja.parser import Parser
from ninja.renderers import JSONRenderer
from ninja.security import SessionAuth

from accounts import at_once
from elastic_core.errors import Refusal
from elastic_core.formats.json_text import read_json

from .access import document, membership, person
from .problems import SENTENCES

# What is asked, and most edits, are a few hundred bytes.
LARGEST_QUESTION_BYTES = 1 << 18
# Keys copied from a long take.
LARGEST_EDIT_BYTES = 16 << 20
LARGEST_SIGN_IN_BYTES = 16 << 10
# Around a file there are the lines that part it from the rest of a form.
FORM_BYTES = 1 << 12


class SignedIn(SessionAuth):
    """A person who is signed in; more than a question is taken from those alone who may change what it
    is about."""

    def __init__(self) -> None:
        super().__init__(csrf=False)

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        found = super().authenticate(request, key)
        if found is not None:
            check_token(request)
            check_turn(request)
            self.check(request)
        return found

    def check(self, request: HttpRequest) -> None:
        """Raises where this person may not send what follows."""
        if size_of(request) > LARGEST_QUESTION_BYTES:
            may_change(request)
            check_size(request, LARGEST_EDIT_BYTES)


class MayBringIn(SignedIn):
    """A person who may change the production that a file is sent to; `largest` is how large it may be."""

    def __init__(self, largest: Callable[[], int]) -> None:
        super().__init__()
        self.largest = largest

    def check(self, request: HttpRequest) -> None:
        may_change(request)
        check_size(request, self.largest() + FORM_BYTES, self.too_large)

    def taken(self, upload: UploadedFile) -> UploadedFile:
        """The file itself. Raises Refusal where it is larger than may be."""
        if (upload.size or 0) > self.largest():
            raise Refusal(self.too_large)
        return upload

    @property
    def too_large(self) -> str:
        return f"The file is larger than {self.largest() >> 20} MB."


def check_turn(request: HttpRequest) -> None:
    """Raises where the person has so much under way that others would have to wait."""
    pk = person(request).pk
    if not at_once.begin(pk):
        raise HttpError(429, "You have asked for more than can be answered at once. Wait a moment.")
    # The middleware says when it is answered.
    request.turn_of = pk  # type: ignore[attr-defined]


def may_change(request: HttpRequest) -> None:
    """Raises where the person may not change what the address names."""
    named = request.resolver_match.kwargs if request.resolver_match else {}
    if "document_id" in named:
        document(request, None, named["document_id"], to_change=True)
    elif "production_id" in named:
        membership(request, named["production_id"], to_change=True)
    else:
        check_size(request, LARGEST_QUESTION_BYTES)


def anyone(request: HttpRequest) -> bool:
    """Someone who may not be signed in yet, with a few words at the most."""
    check_size(request, LARGEST_SIGN_IN_BYTES)
    check_token(request)
    return True


def size_of(request: HttpRequest) -> int:
    """How many bytes follow, by what their sender says."""
    try:
        return int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        raise HttpError(400, SENTENCES[400]) from None


def check_size(request: HttpRequest, most_bytes: int, message: str = SENTENCES[413]) -> None:
    """Raises where more bytes follow than are taken here."""
    if size_of(request) > most_bytes:
        raise HttpError(413, message)


def check_token(request: HttpRequest) -> None:
    """A change carries the page's token in its header: a form of another site cannot send one.

    Django looks into the body of a POST first, and takes in all of a stranger's file to do so; so it is
    asked about the headers alone.
    """
    headers = copy.copy(request)
    headers.method = "PUT" if request.method == "POST" else request.method
    guard = CsrfViewMiddleware(_never_asked)
    guard.process_request(headers)
    if guard.process_view(headers, _never_asked, (), {}) is not None:
        raise HttpError(403, SENTENCES[403])


def _never_asked(request: HttpRequest) -> Any:
    raise AssertionError("The guard only looks at the request.")


class StrictJson(Parser):
    """Bodies as JSON by its standard: numbers are finite, and text can be kept."""

    def parse_body(self, request: HttpRequest) -> Any:
        return read_json(request.body)


class FiniteJson(JSONRenderer):
    """An answer that holds what is no number is not sent."""

    json_dumps_params = {"allow_nan": False}  # noqa: RUF012 (the framework's own)
