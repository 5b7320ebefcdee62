"""Answers as JSON, written once by their own models."""

import orjson
from django.http import HttpResponse
from pydantic import BaseModel


def written(answer: BaseModel) -> HttpResponse:
    """A large answer: it is not checked against its own schema a second time.

    Raises ValueError for one that holds what is no number: no page could read it.
    """
    # So written that it can be told from what was left out, and found below.
    text = answer.model_dump_json()
    if b"NaN" in (raw := text.encode()) or b"Infinity" in raw:
        # It may be part of a name.
        orjson.loads(raw)
    return HttpResponse(raw, content_type="application/json; charset=utf-8")
