"""Answers as JSON, written once by their own models."""

from django.http import HttpResponse
from pydantic import BaseModel


def written(answer: BaseModel) -> HttpResponse:
    """A large answer: it is not checked against its own schema a second time."""
    return HttpResponse(answer.model_dump_json(), content_type="application/json; charset=utf-8")
