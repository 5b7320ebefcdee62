"""Each request from outside: what it may take, and the line that is written of it."""

import logging
import time
from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from accounts import at_once
from elastic_core.budget import Budget, OverBudget, within

Answer = Callable[[HttpRequest], HttpResponse]
_log = logging.getLogger("hours.requests")


def logged(answer: Answer) -> Answer:
    """Middleware: a line of who asked what, what came of it, and how long it took."""

    def ask(request: HttpRequest) -> HttpResponse:
        start = time.perf_counter()
        response = answer(request)
        # Their names are known where somebody asked for them; nobody is looked up for the log.
        who = getattr(request, "asked_by", "-")
        took_ms = 1000 * (time.perf_counter() - start)
        # As it stood in the request: no line can be made to look like two.
        what = request.META.get("RAW_URI") or request.get_full_path()
        _log.info("%s %s %s %s %.0f ms", who, response.status_code, request.method, what, took_ms)
        return response

    return ask


def within_budget(answer: Answer) -> Answer:
    """Middleware: the work for a request is stopped when it takes too much, or its asker has gone."""

    def ask(request: HttpRequest) -> HttpResponse:
        try:
            with within(budget_of(request)):
                return answer(request)
        finally:
            turn_of = getattr(request, "turn_of", None)
            if turn_of is not None:
                at_once.end(turn_of)

    return ask


def budget_of(request: HttpRequest) -> Budget:
    """So long and so much, while somebody listens."""
    last = time.monotonic() + settings.LONGEST_ANSWER_SECONDS
    # The server's own: none where it cannot tell.
    has_gone: Callable[[], bool] | None = request.META.get("waitress.client_disconnected")

    def still_wanted() -> None:
        if time.monotonic() > last:
            raise OverBudget("That takes longer than can be waited for. Ask for a shorter range.")
        if has_gone is not None and has_gone():
            raise OverBudget("Nobody waits for it any more.")

    return Budget(settings.LARGEST_ANSWER_BYTES, still_wanted)
