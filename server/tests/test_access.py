"""Who may see and change what: a table of every route, and a check that none is missing."""

from typing import Any

import pytest
from django.test import Client

from api.routes import api

from .conftest import Demo

NOBODY = "00000000-0000-0000-0000-000000000000"

# method, path in the schema, body, what a viewer gets
ROUTES: list[tuple[str, str, dict[str, Any] | None, int]] = [
    ("get", "/api/productions/{production_id}", None, 200),
    ("post", "/api/productions/{production_id}/files", None, 422),
    ("get", "/api/productions/{production_id}/files/{sha256}", None, 422),
    ("post", "/api/productions/{production_id}/clips", {"file": "0", "name": "No"}, 422),
    ("post", "/api/productions/{production_id}/scenes", {"name": "No"}, 422),
    ("get", "/api/figures/{figure_id}", None, 200),
    ("get", "/api/figures/{figure_id}/frames", None, 200),
    ("get", "/api/clips/{clip_id}/frames", None, 200),
    ("get", "/api/scenes/{scene_id}", None, 200),
    (
        "post",
        "/api/scenes/{scene_id}/edits",
        {"edit": {"kind": "set_length", "length_frames": 300}, "base_revision": 1},
        422,
    ),
    ("post", "/api/scenes/{scene_id}/undo", {"base_revision": 1}, 422),
    ("post", "/api/scenes/{scene_id}/redo", {"base_revision": 1}, 422),
    ("post", "/api/scenes/{scene_id}/frames", {"start": 0, "end": 4}, 200),
    ("get", "/api/scenes/{scene_id}/bvh?figure=odo", None, 200),
    ("get", "/api/scenes/{scene_id}/file", None, 200),
]
FOR_ANYONE = {("get", "/api/session"), ("post", "/api/session"), ("delete", "/api/session")}
OWN_ONLY = {("get", "/api/productions")}


def call(client: Client, demo: Demo, method: str, path: str, body: dict[str, Any] | None) -> Any:
    ids = {
        "production_id": demo.production,
        "figure_id": demo.document("figure", "Odo").pk,
        "clip_id": demo.document("clip", "Amble").pk,
        "scene_id": demo.scene.pk,
        "sha256": "0" * 64,
    }
    url = path.format(**ids)
    if method == "get":
        return client.get(url)
    if path.endswith("/files"):
        from io import BytesIO

        return client.post(url, {"upload": BytesIO(b"HIERARCHY")})
    return client.post(url, body, content_type="application/json")


def test_every_route_is_in_the_table() -> None:
    paths = api.get_openapi_schema()["paths"]
    routes = {(method, path) for path, item in paths.items() for method in item}
    table = {(method, path.split("?")[0]) for method, path, _, _ in ROUTES}
    assert routes == table | FOR_ANYONE | OWN_ONLY


@pytest.mark.parametrize(
    ("method", "path", "body", "viewed"), ROUTES, ids=lambda value: str(value)[:50]
)
def test_strangers_see_nothing_and_viewers_change_nothing(
    method: str,
    path: str,
    body: dict[str, Any] | None,
    viewed: int,
    demo: Demo,
    stranger: Client,
    viewer: Client,
) -> None:
    assert call(Client(), demo, method, path, body).status_code == 401
    outside = call(stranger, demo, method, path, body)
    assert outside.status_code == 404
    assert "nothing here" in outside.json()["message"]
    inside = call(viewer, demo, method, path, body)
    assert inside.status_code == viewed
    if method == "post" and viewed == 422:
        assert inside.json()["message"] == "You can look at this production, and not change it."
    demo.scene.refresh_from_db()
    assert demo.scene.head == 1
    assert demo.scene.revisions.count() == 1


def test_strangers_have_no_productions(stranger: Client, owner: Client) -> None:
    assert stranger.get("/api/productions").json() == []
    assert [row["name"] for row in owner.get("/api/productions").json()] == ["The Last Lamp"]


def test_what_does_not_exist_is_not_found(owner: Client) -> None:
    for path in (
        f"/api/scenes/{NOBODY}",
        f"/api/productions/{NOBODY}",
        f"/api/clips/{NOBODY}/frames",
    ):
        assert owner.get(path).status_code == 404


def test_a_clip_of_another_production_cannot_be_placed(demo: Demo, owner: Client) -> None:
    from accounts.models import Production
    from library import shelf

    elsewhere = Production.objects.create(name="Elsewhere")
    amble = demo.document("clip", "Amble")
    foreign = shelf.add_clip(elsewhere, shelf.clip_of(amble), None)
    change = {
        "kind": "place_stint",
        "stint": "n",
        "clip": str(foreign.pk),
        "start": 300,
        "lane": "odo-body",
    }
    answer = owner.post(
        f"{demo.url}/edits", {"edit": change, "base_revision": 1}, content_type="application/json"
    )
    assert answer.status_code == 422
    assert answer.json()["message"] == "A clip of the scene is missing."


def test_signing_in_and_out(demo: Demo) -> None:
    client = Client(enforce_csrf_checks=True)
    token = client.get("/api/session").json()["csrf"]
    wanted = {"account": "mika", "password": "lamplight"}
    without = client.post("/api/session", wanted, content_type="application/json")
    assert without.status_code == 403

    def post(body: dict[str, str], csrf: str) -> Any:
        headers = {"X-CSRFToken": csrf}
        return client.post("/api/session", body, content_type="application/json", headers=headers)

    wrong = post({**wanted, "password": "no"}, token)
    assert (wrong.status_code, wrong.json()["message"]) == (
        401,
        "That account and password do not belong together.",
    )
    right = post(wanted, token)
    assert right.json()["person"]["initials"] == "MK"
    assert client.get(demo.url).status_code == 200
    # A change without the token is refused even when signed in.
    assert (
        client.post(
            f"{demo.url}/undo", {"base_revision": 1}, content_type="application/json"
        ).status_code
        == 403
    )
    out = client.delete("/api/session", headers={"X-CSRFToken": right.json()["csrf"]})
    assert out.json()["person"] is None
    assert client.get(demo.url).status_code == 401
