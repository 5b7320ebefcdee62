"""Who may see and change what: a table of every route, and a check that none is missing."""

import hashlib
from collections.abc import Iterator
from dataclasses import replace
from io import BytesIO
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client

from accounts.models import Membership, Production
from api.routes import api
from core.tests.motions import FileStyle, bvh_text, bvh_values
from core.tests.sounds import bursts, file_of
from documents.models import Document, Revision
from documents.opening import document_of
from elastic_core.scene.hearing import heard_stamp
from library import files, shelf
from library.shelf import figure_of

from .conftest import Demo
from .prints import kept_print
from .stages import MadeStage
from .test_pictures import picture

NOBODY = "00000000-0000-0000-0000-000000000000"

READ, CHANGE, OWN = "read", "change", "own"
REFUSES = {
    CHANGE: "You can look at this production, and not change it.",
    OWN: "Only an owner of the production can do that.",
}
PRODUCTION, SCENE = "/api/productions/{production_id}", "/api/scenes/{document_id}"
CLIP = "/api/clips/{document_id}"
TAKE_ROOM = "/api/takes/{document_id}"
LINE, CHART = "/api/lines/{document_id}", "/api/charts/{document_id}"
PRINT = "/api/prints/{print_id}"
SET, RUN = "/api/drawings/{document_id}", "/api/runs/{document_id}"
CUT_OUT = "/api/cut-outs/{document_id}"
PICTURE = PRODUCTION + "/pictures/{sha256}"
SOUND = "/api/sounds/{document_id}"
FILE = PRODUCTION + "/files/{sha256}"
GULLS_PICTURE = "/api/figures/{figure_id}/pictures/{sha256}"
NIGHT_LIST = PRODUCTION + "/night-list"
Body = dict[str, Any] | None
WINDOW = {"from_frame": 600, "to_frame": 780, "quick": True}

# method, path in the schema, body, who may: anyone inside, those who may change, owners
ROUTES: list[tuple[str, str, Body, str]] = [
    ("get", PRODUCTION, None, READ),
    ("patch", PRODUCTION, {"name": "No"}, OWN),
    ("get", PRODUCTION + "/members", None, READ),
    ("get", PRODUCTION + "/jobs", None, READ),
    ("get", PRODUCTION + "/whole", None, OWN),
    ("post", PRODUCTION + "/members", {"account": "stranger"}, OWN),
    ("patch", PRODUCTION + "/members/{account}", {"role": "viewer"}, OWN),
    ("delete", PRODUCTION + "/members/{account}", None, OWN),
    ("post", PRODUCTION + "/files", None, CHANGE),
    ("post", PRODUCTION + "/gltf-files", None, CHANGE),
    ("post", PRODUCTION + "/own-files", None, CHANGE),
    ("get", FILE, None, READ),
    ("get", FILE + "/figure", None, READ),
    ("get", FILE + "/fit?figure={figure_id}", None, READ),
    ("post", FILE + "/frames", {"end": 4}, READ),
    ("post", PRODUCTION + "/clips", {"file": "0", "name": "No"}, CHANGE),
    ("post", PRODUCTION + "/scenes", {"name": "No"}, CHANGE),
    ("patch", "/api/documents/{document_id}", {"name": "No"}, CHANGE),
    ("post", "/api/documents/{document_id}/duplicate", {}, CHANGE),
    ("delete", "/api/documents/{document_id}", None, CHANGE),
    ("get", "/api/documents/{document_id}/history", None, READ),
    ("get", "/api/figures/{figure_id}", None, READ),
    ("get", "/api/figures/{figure_id}/body", None, READ),
    ("put", "/api/figures/{figure_id}/feet", {"feet": {}}, CHANGE),
    ("get", "/api/figures/{figure_id}/frames", None, READ),
    ("get", "/api/figures/{gull_id}/pictures/{paper}", None, READ),
    ("get", "/api/clips/{document_id}/frames", None, READ),
    ("get", "/api/clips/{document_id}/file", None, READ),
    ("get", "/api/clips/{document_id}/gltf", None, READ),
    ("get", CLIP, None, READ),
    ("get", CLIP + "/head", None, READ),
    ("get", CLIP + "/gaits", None, READ),
    ("post", CLIP + "/poses", {"start": -2, "end": 4}, READ),
    ("post", CLIP + "/numbers", {"frame": 3, "joints": ["head"]}, READ),
    ("post", CLIP + "/traces", {"channels": ["root.y"], "start": 0, "end": 4}, READ),
    (
        "post",
        CLIP + "/edits",
        {"edit": {"kind": "turn_dial", "frames": 2}, "base_revision": 1},
        CHANGE,
    ),
    ("post", CLIP + "/undo", {"base_revision": 1}, CHANGE),
    ("post", CLIP + "/redo", {"base_revision": 1}, CHANGE),
    ("post", CLIP + "/go-back", {"base_revision": 1, "revision": 1}, CHANGE),
    (
        "post",
        CLIP + "/fit-keys",
        {"figure": "{figure_id}", "keys": {"head.turn.x": [{"time": 0, "value": 5}]}},
        CHANGE,
    ),
    ("post", PRODUCTION + "/pictures", None, CHANGE),
    ("post", PRODUCTION + "/sounds", None, CHANGE),
    ("get", SOUND + "/peaks", None, READ),
    ("get", SOUND + "/heard", None, READ),
    ("get", PICTURE, None, READ),
    ("post", PRODUCTION + "/new-clips", {"name": "No", "source": "blank"}, CHANGE),
    ("get", TAKE_ROOM, None, READ),
    ("get", TAKE_ROOM + "/head", None, READ),
    ("get", TAKE_ROOM + "/frames", None, READ),
    ("get", TAKE_ROOM + "/fit?figure={figure_id}", None, READ),
    ("get", TAKE_ROOM + "/cuts", None, READ),
    ("post", TAKE_ROOM + "/cleaned", WINDOW, READ),
    ("post", TAKE_ROOM + "/poses", {**WINDOW, "start": 0, "end": 4}, READ),
    ("post", TAKE_ROOM + "/curves", {**WINDOW, "joints": ["head"]}, READ),
    ("post", TAKE_ROOM + "/cycles", WINDOW, READ),
    ("post", TAKE_ROOM + "/keys-against-error", {**WINDOW, "degrees": 2, "cm": 1}, READ),
    ("post", TAKE_ROOM + "/onto", {"figure": "{figure_id}"}, READ),
    ("post", TAKE_ROOM + "/to-bench", {**WINDOW, "name": "No", "start": 0, "end": 9}, CHANGE),
    ("post", TAKE_ROOM + "/clips", {"name": "No"}, CHANGE),
    (
        "post",
        TAKE_ROOM + "/edits",
        {"edit": {"kind": "circle_take", "circled": True}, "base_revision": 1},
        CHANGE,
    ),
    ("post", TAKE_ROOM + "/undo", {"base_revision": 1}, CHANGE),
    ("post", TAKE_ROOM + "/redo", {"base_revision": 1}, CHANGE),
    ("post", TAKE_ROOM + "/go-back", {"base_revision": 1, "revision": 1}, CHANGE),
    ("post", PRODUCTION + "/takes", {"file": "0", "name": "No"}, CHANGE),
    ("get", PRODUCTION + "/recipes", None, READ),
    ("post", PRODUCTION + "/recipes", {"name": "No", "recipe": {"steps": []}}, CHANGE),
    ("post", PRODUCTION + "/recipe-runs", {"takes": [NOBODY]}, CHANGE),
    ("get", PRODUCTION + "/stage", None, READ),
    ("get", PRODUCTION + "/stage/live", None, READ),
    ("post", PRODUCTION + "/stage/asks", {"move": "walk"}, CHANGE),
    ("post", PRODUCTION + "/stage/recordings", {}, CHANGE),
    ("post", PRODUCTION + "/stage/recordings/{recording_id}/stop", None, CHANGE),
    ("get", LINE, None, READ),
    ("get", LINE + "/head", None, READ),
    ("post", LINE + "/read", {"token": "no"}, CHANGE),
    (
        "post",
        LINE + "/edits",
        {"edit": {"kind": "set_line_text", "text": "No"}, "base_revision": 1},
        CHANGE,
    ),
    ("post", LINE + "/undo", {"base_revision": 1}, CHANGE),
    ("post", LINE + "/redo", {"base_revision": 1}, CHANGE),
    ("post", LINE + "/go-back", {"base_revision": 1, "revision": 1}, CHANGE),
    ("get", CHART, None, READ),
    ("get", CHART + "/head", None, READ),
    (
        "post",
        CHART + "/edits",
        {"edit": {"kind": "drop_mouth", "key": "fv"}, "base_revision": 1},
        CHANGE,
    ),
    ("post", CHART + "/undo", {"base_revision": 1}, CHANGE),
    ("post", CHART + "/redo", {"base_revision": 1}, CHANGE),
    ("post", CHART + "/go-back", {"base_revision": 1, "revision": 1}, CHANGE),
    ("post", PRODUCTION + "/lines", {"sound": NOBODY}, CHANGE),
    ("get", PRODUCTION + "/our-mouths", None, READ),
    ("get", LINE + "/words?form=vtt", None, READ),
    ("get", LINE + "/sheet?form=csv", None, READ),
    ("post", LINE + "/sheet-changes", {"csv": "Frame"}, CHANGE),
    ("get", "/api/scenes/{document_id}/sheet?form=csv", None, READ),
    ("post", PRODUCTION + "/charts", {"name": "No"}, CHANGE),
    ("get", SET, None, READ),
    ("get", SET + "/head", None, READ),
    (
        "post",
        SET + "/edits",
        {"edit": {"kind": "drop_drawings", "numbers": [1]}, "base_revision": 2},
        CHANGE,
    ),
    ("post", SET + "/undo", {"base_revision": 1}, CHANGE),
    ("post", SET + "/redo", {"base_revision": 1}, CHANGE),
    ("post", SET + "/go-back", {"base_revision": 1, "revision": 1}, CHANGE),
    ("get", RUN, None, READ),
    ("get", RUN + "/head", None, READ),
    (
        "post",
        RUN + "/edits",
        {"edit": {"kind": "seed_run", "seed": 3}, "base_revision": 2},
        CHANGE,
    ),
    ("post", RUN + "/undo", {"base_revision": 2}, CHANGE),
    ("post", RUN + "/redo", {"base_revision": 2}, CHANGE),
    ("post", RUN + "/go-back", {"base_revision": 2, "revision": 1}, CHANGE),
    ("get", RUN + "/sheet?form=csv", None, READ),
    ("post", PRODUCTION + "/drawing-files", None, CHANGE),
    (
        "post",
        PRODUCTION + "/drawings",
        {"files": [{"file": "0" * 64, "name": "1.png"}], "name": "No", "token": "no"},
        CHANGE,
    ),
    ("post", PRODUCTION + "/runs", {"drawings": NOBODY}, CHANGE),
    ("post", PRODUCTION + "/cut-outs", {"drawings": NOBODY}, CHANGE),
    ("get", CUT_OUT, None, READ),
    ("get", CUT_OUT + "/head", None, READ),
    (
        "post",
        CUT_OUT + "/edits",
        {"edit": {"kind": "drop_part", "part": "head"}, "base_revision": 2},
        CHANGE,
    ),
    ("post", CUT_OUT + "/undo", {"base_revision": 2}, CHANGE),
    ("post", CUT_OUT + "/redo", {"base_revision": 2}, CHANGE),
    ("post", CUT_OUT + "/go-back", {"base_revision": 2, "revision": 1}, CHANGE),
    ("post", CUT_OUT + "/figure", None, CHANGE),
    ("get", SCENE, None, READ),
    ("get", SCENE + "/head", None, READ),
    (
        "post",
        SCENE + "/edits",
        {"edit": {"kind": "set_length", "laid_frames": 300}, "base_revision": 1},
        CHANGE,
    ),
    ("post", SCENE + "/undo", {"base_revision": 1}, CHANGE),
    ("post", SCENE + "/redo", {"base_revision": 1}, CHANGE),
    ("post", SCENE + "/go-back", {"base_revision": 1, "revision": 1}, CHANGE),
    ("post", SCENE + "/frames", {"start": 0, "end": 4}, READ),
    ("post", SCENE + "/bakes", {"stint": "amble", "name": "No"}, CHANGE),
    ("post", SCENE + "/groups", {"stints": ["amble"], "name": "No"}, CHANGE),
    ("get", SCENE + "/fit?figure=odo&clip={clip_id}", None, READ),
    ("post", SCENE + "/strands", {"stint": "hurry"}, READ),
    ("post", SCENE + "/join", {"stint": "hurry"}, READ),
    ("post", SCENE + "/join-map", {"stint": "hurry"}, READ),
    ("post", SCENE + "/join-pair", {"stint": "hurry", "at": 166, "in_frame": 3}, READ),
    ("post", SCENE + "/checks", {"start": 0, "end": 48}, READ),
    ("get", SCENE + "/sound?heard={heard}&piece=0", None, READ),
    ("get", SCENE + "/bvh?figure=odo", None, READ),
    ("get", SCENE + "/gltf?figure=odo", None, READ),
    ("get", SCENE + "/places?figure=odo", None, READ),
    ("get", SCENE + "/timeline", None, READ),
    ("get", SCENE + "/wav?heard={heard}", None, READ),
    ("get", SCENE + "/file", None, READ),
    ("post", SCENE + "/prints", {"start": 0, "end": 4}, CHANGE),
    ("post", CLIP + "/prints", {"start": 0, "end": 4}, CHANGE),
    ("post", TAKE_ROOM + "/prints", {"start": 0, "end": 4}, CHANGE),
    ("get", PRODUCTION + "/prints", None, READ),
    ("post", PRODUCTION + "/prints/old", {"days": 30}, CHANGE),
    ("get", NIGHT_LIST, None, READ),
    ("put", NIGHT_LIST, {"order": []}, CHANGE),
    ("patch", NIGHT_LIST + "/{job_id}", {"is_held": True}, CHANGE),
    ("delete", NIGHT_LIST + "/{job_id}", None, CHANGE),
    ("post", NIGHT_LIST + "/{job_id}/again", None, CHANGE),
    ("get", PRINT, None, READ),
    ("get", PRINT + "/film", None, READ),
    ("delete", PRINT, None, CHANGE),
]
FOR_ANYONE = {("get", "/api/session"), ("post", "/api/session"), ("delete", "/api/session")}
OWN_ONLY = {
    ("get", "/api/productions"),
    ("post", "/api/productions"),
    ("post", "/api/session/password"),
}
# Nobody's but the person's who asked for it: see test_jobs.
OWN_JOBS = {
    ("get", "/api/jobs/{job_id}"),
    ("post", "/api/jobs/{job_id}/cancel"),
    ("post", "/api/jobs/{job_id}/seen"),
}
TAKE = bvh_text(bvh_values(6), FileStyle())
DRAWN = picture().getvalue()
RUNG = file_of(bursts(0.2), "WAV")


def call(client: Client, demo: Demo, method: str, path: str, body: Body) -> Any:
    lamp = demo.document("scene", "Sc 05 The lamp is lit")
    gull = demo.document("figure", "Paper gull")
    named = {
        "scenes": lamp if "heard" in path else demo.scene,
        "clips": demo.document("clip", "Amble"),
        "sounds": demo.document("sound", "Harbour bell"),
        "takes": demo.document("take", "quay_pacing_07"),
        "lines": demo.document("line", "Odo, line 1"),
        "charts": demo.document("chart", "Odo, front"),
        "drawings": demo.document("drawings", "Flame"),
        "cut-outs": demo.document("cut_out", "Paper Odo"),
        "runs": demo.document("run", "Flame flickers"),
    }
    document = named.get(path.split("/")[2], demo.document("clip", "Reach and light"))
    ids = {
        "production_id": demo.production,
        "figure_id": demo.document("figure", "Odo").pk,
        "document_id": document.pk,
        "clip_id": demo.document("clip", "Flap").pk,
        "gull_id": gull.pk,
        "paper": figure_of(gull).dress.cards[0].pictures[0].picture.file,
        "account": "mika",
        "recording_id": NOBODY,
        "job_id": NOBODY,
        "heard": heard_stamp(document_of(lamp)),
        "print_id": kept_print(demo).pk if "print_id" in path else NOBODY,
        "sha256": hashlib.sha256(DRAWN if "/pictures/" in path else TAKE).hexdigest(),
    }
    url = path.format(**ids)
    if path.endswith("pictures"):
        return client.post(url, {"upload": BytesIO(DRAWN)})
    if path.endswith("/sounds"):
        return client.post(url, {"upload": BytesIO(RUNG)})
    if path.endswith("files"):
        return client.post(url, {"upload": BytesIO(b"HIERARCHY")})
    if body and body.get("figure") == "{figure_id}":
        body = {**body, "figure": str(ids["figure_id"])}
    content = {} if body is None else {"data": body, "content_type": "application/json"}
    return getattr(client, method)(url, **content)


@pytest.fixture(autouse=True)
def stage(settings: Any) -> Iterator[None]:
    """A capture stage that is there, and sends nothing."""
    made = MadeStage([], dies=True)
    settings.CAPTURE_STAGE = made.address
    yield
    made.close()


def test_every_route_is_in_the_table() -> None:
    paths = api.get_openapi_schema()["paths"]
    routes = {(method, path) for path, item in paths.items() for method in item}
    table = {(method, path.split("?")[0]) for method, path, _, _ in ROUTES}
    # Its names here tell whose they are.
    gulls = "/api/figures/{gull_id}/pictures/{paper}"
    table = {(m, path.replace(gulls, GULLS_PICTURE)) for m, path in table}
    assert routes == table | FOR_ANYONE | OWN_ONLY | OWN_JOBS


@pytest.mark.parametrize(
    ("method", "path", "body", "who"), ROUTES, ids=lambda value: str(value)[:60]
)
def test_strangers_see_nothing_and_viewers_change_nothing(
    method: str,
    path: str,
    body: Body,
    who: str,
    demo: Demo,
    stranger: Client,
    viewer: Client,
    editor: Client,
) -> None:
    production = Production.objects.get(pk=demo.production)
    files.store(production, "take.bvh", TAKE)
    files.store(production, "pose.png", DRAWN)
    before = Revision.objects.count(), Membership.objects.count(), Document.objects.count()
    assert call(Client(), demo, method, path, body).status_code == 401
    outside = call(stranger, demo, method, path, body)
    assert outside.status_code == 404
    assert "nothing here" in outside.json()["message"]
    inside = call(viewer, demo, method, path, body)
    if who == READ:
        assert inside.status_code == 200
    else:
        assert (inside.status_code, inside.json()["message"]) == (422, REFUSES[who])
    if who == OWN:
        refused = call(editor, demo, method, path, body)
        assert (refused.status_code, refused.json()["message"]) == (422, REFUSES[OWN])
    assert before == (
        Revision.objects.count(),
        Membership.objects.count(),
        Document.objects.count(),
    )


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
    elsewhere = Production.objects.create(name="Elsewhere")
    amble = shelf.clip_of(demo.document("clip", "Amble"))
    figure = shelf.add_figure(elsewhere, shelf.figure_of(demo.document("figure", "Odo")), None)
    clip = amble.clip.model_copy(update={"figure": str(figure.pk)})
    foreign = shelf.add_clip(elsewhere, replace(amble, clip=clip), None)
    change = {
        "kind": "place_stint",
        "stint": "n",
        "source": {"kind": "clip", "id": str(foreign.pk)},
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


def test_too_many_wrong_passwords_rest_the_account(demo: Demo) -> None:
    client = Client()

    def attempt(account: str, password: str) -> Any:
        wanted = {"account": account, "password": password}
        return client.post("/api/session", wanted, content_type="application/json")

    for _ in range(7):
        assert attempt("mika", "wrong").status_code == 401
    for password in ("wrong", "lamplight"):
        locked = attempt("mika", password)
        assert locked.status_code == 429
        assert locked.json()["message"] == "Too many wrong passwords. Try again in 10 minutes."
    # Others on the same machine are not locked out with it.
    User.objects.create_user("nele", password="harbourwall")
    assert attempt("nele", "harbourwall").status_code == 200


def test_a_password_is_changed_with_the_old_one(demo: Demo) -> None:
    def enter(password: str) -> Client:
        client = Client()
        wanted = {"account": "mika", "password": password}
        client.post("/api/session", wanted, content_type="application/json")
        return client

    here, elsewhere = enter("lamplight"), enter("lamplight")

    def change(old: str, new: str) -> Any:
        return here.post(
            "/api/session/password", {"old": old, "new": new}, content_type="application/json"
        )

    assert change("wrong", "tide-table-9").json()["message"] == "That is not your password now."
    assert change("lamplight", "short").json()["message"].startswith("This password is too short")
    assert change("lamplight", "tide-table-9").status_code == 200
    assert here.get(demo.url).status_code == 200
    assert elsewhere.get(demo.url).status_code == 401
    assert enter("lamplight").get(demo.url).status_code == 401
    assert enter("tide-table-9").get(demo.url).status_code == 200
