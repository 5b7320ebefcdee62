"""The API: one router a room."""

from typing import Any

from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema

from . import (
    clips,
    cut_outs,
    documents,
    drawings,
    imports,
    jobs,
    library,
    lines,
    people,
    pictures,
    prints,
    scene,
    session,
    sounds,
    stage,
    takes,
)
from .doors import FiniteJson, SignedIn, StrictJson
from .problems import ANYWHERE, tell_problems
from .schemas import Problem


class Api(NinjaAPI):
    """The API, whose schema says of every route what may stand in the way."""

    def get_openapi_schema(self, **options: Any) -> OpenAPISchema:
        schema = super().get_openapi_schema(**options)
        shape = {"$ref": "#/components/schemas/Problem"}
        schema["components"]["schemas"]["Problem"] = Problem.model_json_schema()
        schema["components"]["responses"] = {
            "Problem": {
                "description": "Why not, in a sentence",
                "content": {"application/json": {"schema": shape}},
            }
        }
        problem = {"$ref": "#/components/responses/Problem"}
        for methods in schema["paths"].values():
            for operation in methods.values():
                operation["responses"] |= dict.fromkeys(ANYWHERE, problem)
        return schema


api = Api(
    title="Elastic Hours",
    version="1",
    auth=SignedIn(),
    docs_url=None,
    parser=StrictJson(),
    renderer=FiniteJson(),
)
tell_problems(api)
api.add_router("/session", session.router)
api.add_router("/productions", people.router)
api.add_router("/productions", library.router)
api.add_router("/productions", imports.router)
api.add_router("/productions", pictures.router)
api.add_router("/productions", sounds.router)
api.add_router("/productions", jobs.of_production)
api.add_router("/jobs", jobs.router)
api.add_router("/documents", documents.router)
api.add_router("", library.items)
api.add_router("", sounds.items)
api.add_router("/scenes", scene.router)
api.add_router("/clips", clips.router)
api.add_router("/productions", clips.makers)
api.add_router("/productions", stage.router)
api.add_router("/takes", takes.router)
api.add_router("/productions", takes.makers)
api.add_router("/lines", lines.router)
api.add_router("/charts", lines.charts)
api.add_router("/productions", lines.makers)
api.add_router("/drawings", drawings.sets)
api.add_router("/runs", drawings.runs)
api.add_router("/productions", drawings.makers)
api.add_router("/cut-outs", cut_outs.cut_outs)
api.add_router("/productions", cut_outs.makers)
api.add_router("", prints.router)
api.add_router("/productions", prints.of_production)
