"""The API: one router a room, and how refusals become answers."""

from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, ValidationError
from ninja.security import django_auth

from documents.history import Outdated
from elastic_core.errors import Refusal, in_words

from . import clips, documents, imports, jobs, library, people, pictures, scene, session

api = NinjaAPI(title="Elastic Hours", version="1", auth=django_auth, docs_url=None)
api.add_router("/session", session.router)
api.add_router("/productions", people.router)
api.add_router("/productions", library.router)
api.add_router("/productions", imports.router)
api.add_router("/productions", pictures.router)
api.add_router("/productions", jobs.of_production)
api.add_router("/jobs", jobs.router)
api.add_router("/documents", documents.router)
api.add_router("", library.items)
api.add_router("/scenes", scene.router)
api.add_router("/clips", clips.router)
api.add_router("/productions", clips.makers)


def _problem(
    request: HttpRequest, status: int, message: str, head: int | None = None
) -> HttpResponse:
    return api.create_response(request, {"message": message, "head": head}, status=status)


@api.exception_handler(Refusal)
def refused(request: HttpRequest, refusal: Refusal) -> HttpResponse:
    return _problem(request, 422, str(refusal))


@api.exception_handler(Outdated)
def outdated(request: HttpRequest, problem: Outdated) -> HttpResponse:
    return _problem(request, 409, str(problem), problem.head)


@api.exception_handler(OperationalError)
def no_database(request: HttpRequest, problem: OperationalError) -> HttpResponse:
    return _problem(request, 503, "The database cannot be reached just now.")


@api.exception_handler(ValidationError)
def not_valid(request: HttpRequest, problem: ValidationError) -> HttpResponse:
    return _problem(request, 422, in_words(problem.errors[0]))


@api.exception_handler(AuthenticationError)
def signed_out(request: HttpRequest, problem: AuthenticationError) -> HttpResponse:
    return _problem(request, 401, "Please sign in.")


@api.exception_handler(Http404)
def missing(request: HttpRequest, problem: Http404) -> HttpResponse:
    return _problem(request, 404, "There is nothing here that you can see.")
