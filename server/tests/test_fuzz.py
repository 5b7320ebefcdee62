"""The API tried with what its own schema allows, and with what it does not: no server error, and no
status or shape that is not documented."""

import json
import os
from collections.abc import Iterator
from typing import Any
from uuid import uuid4

import pytest
import schemathesis
from django.contrib.auth.models import User
from django.core.signals import request_finished, request_started
from django.core.wsgi import get_wsgi_application
from django.db import close_old_connections, transaction
from django.test import Client
from hypothesis import HealthCheck, Phase, given, seed, settings
from hypothesis import strategies as st
from hypothesis.stateful import run_state_machine_as_test
from schemathesis.checks import not_a_server_error
from schemathesis.generation import GenerationMode
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from api.routes import api
from jobs.models import Job
from library import files
from scenes.management.commands.load_demo import ACCOUNT

from .conftest import Demo

THOROUGH = os.environ.get("HOURS_THOROUGH") == "1"
# Of each operation, what its schema allows and what it does not: 55 operations, 30,000 requests.
EXAMPLES = 280 if THOROUGH else 3
CHECKS = [
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_schema_conformance,
]
RAW = json.loads(json.dumps(api.get_openapi_schema(), default=str))
# What only fits when it goes on its own way: frame packs, files and pictures are no JSON.
SCHEMA = schemathesis.openapi.from_dict(RAW)
APP = get_wsgi_application()
OPERATIONS: dict[str, Any] = {
    found.label: found
    for found in (held.ok() for held in SCHEMA.get_all_operations())  # type: ignore[union-attr]
}


class Visitor:
    """A signed-in owner's browser, as seen by the fuzzer."""

    def __init__(self, demo: Demo, client: Client) -> None:
        self.demo = demo
        csrf = client.get("/api/session").json()["csrf"]
        self.headers = {"X-CSRFToken": csrf, "Accept-Encoding": "identity"}
        self.cookies = {name: morsel.value for name, morsel in client.cookies.items()}
        kept = files.store(demo.scene.production, "walk.bvh", b"HIERARCHY")
        clip, figure = demo.document("clip", "Amble"), demo.document("figure", "Odo")
        job = Job.objects.create(
            production=demo.scene.production,
            person=User.objects.get(username=ACCOUNT),
            kind="read motion",
            title="walk",
            wish={},
            content=uuid4().hex,
        )
        self.named = {
            "production_id": demo.production,
            "figure_id": str(figure.pk),
            "sha256": kept.sha256,
            "account": ACCOUNT,
            "job_id": str(job.pk),
        }
        self.documents = {"/clips": str(clip.pk), "/scenes": str(demo.scene.pk)}

    def ids(self, path: str) -> dict[str, str]:
        """What the address of an operation names that is there."""
        document = next(
            (pk for part, pk in self.documents.items() if part in path), str(self.demo.scene.pk)
        )
        named = {**self.named, "document_id": document}
        return {name: value for name, value in named.items() if f"{{{name}}}" in path}


@pytest.fixture
def visitor(demo: Demo, owner: Client) -> Iterator[Visitor]:
    found = Visitor(demo, owner)
    # One connection for all requests, as its transaction is thrown away.
    for signal in (request_started, request_finished):
        signal.disconnect(close_old_connections)
    yield found
    for signal in (request_started, request_finished):
        signal.connect(close_old_connections)


@pytest.mark.parametrize("label", sorted(OPERATIONS))
def test_no_request_breaks_it(label: str, visitor: Visitor) -> None:
    operation = OPERATIONS[label]
    known = visitor.ids(operation.path)
    cases: st.SearchStrategy[Any] = st.one_of(
        [
            operation.as_strategy(mode, path_parameters=named or None)
            for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE)
            for named in (known, {})
        ]
    )

    @seed(20261128)
    @settings(
        max_examples=EXAMPLES * 2,
        deadline=None,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(cases)
    def tried(case: Any) -> None:
        with transaction.atomic():
            response = case.call(app=APP, cookies=visitor.cookies, headers=visitor.headers)
            transaction.set_rollback(True)
        case.validate_response(response, checks=CHECKS)

    tried()


def test_no_row_of_requests_breaks_it(visitor: Visitor) -> None:
    """What one request made is what the next one is about: made, edited, undone, copied, thrown away."""
    made: Any = SCHEMA.as_state_machine()

    class Visit(made):  # type: ignore[misc]
        def setup(self) -> None:
            self.kept = transaction.atomic()
            self.kept.__enter__()

        def teardown(self) -> None:
            transaction.set_rollback(True)
            self.kept.__exit__(None, None, None)

        def get_call_kwargs(self, case: Any) -> dict[str, Any]:
            return {"app": APP, "cookies": visitor.cookies, "headers": visitor.headers}

        def validate_response(self, response: Any, case: Any, **more: Any) -> None:
            case.validate_response(response, checks=CHECKS)

    run_state_machine_as_test(
        Visit,
        settings=settings(
            max_examples=EXAMPLES,
            stateful_step_count=12,
            deadline=None,
            database=None,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        ),
    )
