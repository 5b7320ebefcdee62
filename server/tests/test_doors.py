"""Every way in: what is refused before it is read, and how it is said."""

import re
import tracemalloc
from io import BytesIO
from typing import Any

import numpy as np
import pytest
from django.contrib.auth.models import User
from django.test import Client
from pydantic import ValidationError

from accounts.sessions import vouches
from api import library as library_routes
from api.scene import _desk
from documents import editing
from documents.models import Document, Revision
from documents.opening import opened
from elastic_core.budget import Budget, OverBudget, take, within
from elastic_core.errors import Refusal
from elastic_core.formats.frame_pack import pack
from elastic_core.scene.edits.base import Edited
from scenes import kinds as scene_kinds
from scenes.kinds import SCENE

from .conftest import Demo, edit

pytestmark = pytest.mark.django_db
JSON = "application/json"


def told(answer: Any, status: int) -> str:
    """The sentence of an answer that is no success; it has one shape, whoever gives it."""
    assert answer.status_code == status, answer.content[:200]
    assert answer.headers["Content-Type"].startswith(JSON)
    problem = answer.json()
    assert set(problem) == {"message", "head"}
    assert re.fullmatch(r"[“A-Z].*[.?]", problem["message"])
    return str(problem["message"])


class Unread(BytesIO):
    """A body that nobody may look into."""

    def read(self, *args: Any) -> bytes:
        raise AssertionError("It was read.")

    readline = read


def send_unread(client: Client, path: str, size: int, content_type: str) -> Any:
    environ: Any = {"wsgi.input": Unread(), "CONTENT_LENGTH": str(size)}
    return client.generic("POST", path, b"", content_type, **environ)


FORM = "multipart/form-data; boundary=part"
NEW_SCENE = "/api/productions/{}/scenes"


@pytest.mark.parametrize(
    ("body", "status", "says"),
    [
        ("{", 400, "not JSON that can be read"),
        ("", 422, "is missing"),
        ('{"name": NaN}', 400, "line 1, column 10"),
        ('{"name": "A", "length_frames": 1e999}', 400, "not JSON"),
        (r'{"name": "\ud800"}', 400, "not JSON"),
        (r'{"name": "Lamp\u0000"}', 400, "character of number 0"),
        ('{"name": "A", "length_frames": 200001}', 422, "Length is at the most 200,000 frames."),
        ('{"name": "A", "length_frames": 1' + "0" * 400 + "}", 400, "not JSON"),
        ('{"name": "A", "rate": "1e100000000"}', 422, "is not a frame rate"),
        ('{"name": "' + "x" * 121 + '"}', 422, "Name has at the most 120 characters."),
        ('{"name": "A", "rate": []}', 422, "is not a frame rate"),
        ('["A"]', 422, "Name is missing."),
    ],
)
def test_a_body_that_cannot_be_taken_is_told_in_one_shape(
    body: str, status: int, says: str, demo: Demo, owner: Client
) -> None:
    answer = owner.generic("POST", NEW_SCENE.format(demo.production), body, JSON)
    assert says in told(answer, status)
    assert Document.objects.filter(kind="scene").count() == 4


def test_what_the_framework_refuses_is_told_in_the_same_shape(
    demo: Demo, owner: Client, stranger: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    files = f"/api/productions/{demo.production}/files"
    told(owner.get("/api/nowhere"), 404)
    told(owner.get("/api/productions/not-an-id"), 404)
    assert owner.put("/api/session").headers["Allow"]
    told(owner.put("/api/session"), 405)
    told(owner.generic("POST", files, b"--part\r\n", FORM), 422)
    told(owner.generic("POST", files, b"--part\r\n", "multipart/form-data"), 400)
    told(owner.get("/api/session", headers={"Host": "elsewhere.example"}), 400)
    assert "number 0" in told(owner.get("/api/productions/%00"), 400)
    assert "number 0" in told(owner.get(f"{demo.url}/bvh?figure=%00"), 400)
    told(Client().get(demo.url), 401)
    guarded = Client(enforce_csrf_checks=True)
    guarded.force_login(User.objects.get(username="mika"))
    answer = guarded.post(f"{demo.url}/undo", {"base_revision": 1}, content_type=JSON)
    assert "older than the sign-in" in told(answer, 403)

    def breaks(*args: Any) -> None:
        raise ZeroDivisionError("secret")

    monkeypatch.setattr(library_routes, "_uses", breaks)
    owner.raise_request_exception = False
    sentence = told(owner.get(f"/api/productions/{demo.production}"), 500)
    assert "secret" not in sentence


@pytest.mark.parametrize("size", [1 << 20, 600 << 20])
def test_nothing_of_a_strangers_file_is_read(size: int, demo: Demo, stranger: Client) -> None:
    """600 MB were taken in from anyone who could name a production, and from anyone with a cookie."""
    for name in ("files", "own-files", "pictures"):
        path = f"/api/productions/{demo.production}/{name}"
        told(send_unread(Client(), path, size, FORM), 401)
        told(send_unread(stranger, path, size, FORM), 404)
    told(send_unread(Client(), "/api/session", size, JSON), 413)
    told(send_unread(stranger, f"{demo.url}/edits", size, JSON), 404)
    told(send_unread(stranger, "/api/productions", size, JSON), 413)


def test_a_person_who_only_looks_sends_no_more_than_a_question(
    demo: Demo, viewer: Client, owner: Client
) -> None:
    path = f"/api/productions/{demo.production}/files"
    assert "and not change it" in told(send_unread(viewer, path, 1 << 20, FORM), 422)
    for route in ("frames", "edits"):
        answer = send_unread(viewer, f"{demo.url}/{route}", 1 << 20, JSON)
        assert "and not change it" in told(answer, 422)
    told(send_unread(owner, f"{demo.url}/edits", 17 << 20, JSON), 413)
    large = send_unread(owner, path, 300 << 20, FORM)
    assert told(large, 413) == "The file is larger than 256 MB."


def test_every_answer_is_guarded(demo: Demo, owner: Client) -> None:
    for path in ("/", "/index.html", "/api/session", "/api/nowhere", "/assets/none.js", "/health"):
        answer = owner.get(path)
        assert "frame-ancestors 'none'" in answer.headers["Content-Security-Policy"], path
        assert answer.headers["X-Frame-Options"] == "DENY"
        assert answer.headers["X-Content-Type-Options"] == "nosniff"
        assert "Access-Control-Allow-Origin" not in answer.headers


@pytest.mark.parametrize(
    "number", ["NaN", "Infinity", "-Infinity", "1e999", "1e300", "-5e134", "1000001"]
)
def test_a_number_beyond_measure_moves_nothing(number: str, demo: Demo, owner: Client) -> None:
    """`move_stint` with NaN moved it to 0 without a word."""
    body = '{"base_revision": 1, "edit": {"kind": "move_stint", "stint": "hurry", "start": N}}'
    body = body.replace("N}", f"{number}}}")
    answer = owner.generic("POST", f"{demo.url}/edits", body, JSON)
    told(answer, 400 if number in ("NaN", "Infinity", "-Infinity", "1e999") else 422)
    assert Document.objects.get(pk=demo.scene.pk).head == 1


def test_a_token_has_a_letter_at_the_least(demo: Demo, owner: Client) -> None:
    """An empty one was one edit's name twice over."""
    change = {"kind": "rename_scene", "name": "Quay"}
    for _ in range(2):
        assert told(edit(owner, demo, change, 1, token=""), 422) == "Token is empty."


@pytest.mark.parametrize(
    ("route", "wanted"),
    [
        ("{scene}/frames", {"start": 0, "end": 300_000_000}),
        ("{scene}/frames", {"start": 0, "end": 200_000}),
        ("{clip}/poses", {"start": 0, "end": 300_000_000}),
        ("{clip}/poses", {"start": -1_000_000, "end": 1_000_000}),
        ("{production}/new-clips", {"source": "range", "end": 300_000_000}),
        ("{production}/new-clips", {"source": "range", "end": 20_000}),
        ("{production}/new-clips", {"source": "range", "start": 30, "end": 30}),
        ("{production}/new-clips", {"source": "scene", "start": 900_000}),
    ],
)
def test_a_range_is_looked_at_before_it_is_made(
    route: str, wanted: dict[str, Any], demo: Demo, owner: Client
) -> None:
    """Three hundred million frames took 2.4 GB before they were refused."""
    clip = demo.document("clip", "Amble")
    paths = {
        "scene": demo.url,
        "clip": f"/api/clips/{clip.pk}",
        "production": f"/api/productions/{demo.production}",
    }
    if "new-clips" in route:
        of = str(clip.pk if wanted["source"] == "range" else demo.scene.pk)
        figure = Revision.objects.get(document=demo.scene).body["figures"][0]["id"]
        wanted = {"name": "Long", "of": of, "scene_figure": figure, **wanted}
    scene = Document.objects.get(pk=demo.scene.pk)
    body = Revision.objects.get(document=scene, number=scene.head)
    body.body = {**body.body, "played_frames": 200_000, "laid_frames": 200_000}
    body.save()
    tracemalloc.start()
    answer = owner.post(route.format(**paths), wanted, content_type=JSON)
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    told(answer, 422)
    assert peak < 20 << 20


def test_work_stops_when_it_takes_too_long_or_too_much(
    demo: Demo, owner: Client, settings: Any
) -> None:
    ends = iter(range(96, 80, -1))

    def ask(**environ: Any) -> Any:
        # Others each time: what was worked out before costs nothing.
        wanted = {"start": 0, "end": next(ends)}
        return owner.post(f"{demo.url}/frames", wanted, content_type=JSON, **environ)

    assert ask().status_code == 200
    settings.LARGEST_ANSWER_BYTES = 1 << 10
    assert "Ask for a shorter range." in told(ask(), 422)
    settings.LARGEST_ANSWER_BYTES = 1 << 30
    settings.LONGEST_ANSWER_SECONDS = -1
    assert "longer than can be waited for" in told(ask(), 422)
    settings.LONGEST_ANSWER_SECONDS = 20
    gone: Any = {"waitress.client_disconnected": lambda: True}
    assert told(ask(**gone), 422) == "Nobody waits for it any more."
    # An edit is made, though its page was closed in the same moment.
    change = {"kind": "rename_scene", "name": "Quay at night"}
    assert edit(owner, demo, change, 1).status_code == 200
    made = owner.post(
        f"{demo.url}/edits", {"edit": {**change, "name": "Late"}, "base_revision": 2},
        content_type=JSON, **gone,
    )  # fmt: skip
    assert Document.objects.get(pk=demo.scene.pk).name == "Late"
    assert made.status_code == 200


def test_a_budget_counts_what_is_made_and_ends_with_its_block() -> None:
    take(10**12)
    spent = Budget(80, lambda: None)
    with within(spent):
        take(5)
        with within(None):
            take(10**12)
        with pytest.raises(OverBudget):
            take(6)
    assert spent.taken_bytes == 88
    take(10**12)


def test_one_person_leaves_room_for_others(demo: Demo, owner: Client, settings: Any) -> None:
    settings.MOST_AT_ONCE = 0
    assert "more than can be answered at once" in told(owner.get(demo.url), 429)
    settings.MOST_AT_ONCE = 1
    for _ in range(3):
        # Each gives its turn back, however it ends.
        assert owner.get(demo.url).status_code == 200
        told(owner.get("/api/scenes/00000000-0000-0000-0000-000000000000"), 404)


def test_a_session_vouches_for_itself(demo: Demo, owner: Client) -> None:
    """Before a body is taken in, no database is asked: a made-up key is known by its looks."""
    key = owner.cookies["sessionid"].value
    assert vouches(key)
    assert not vouches(key[:-1] + ("0" if key[-1] != "0" else "1"))
    assert not vouches("a" * 40)
    assert not vouches("")


@pytest.fixture
def unreadable(demo: Demo) -> Document:
    """A clip from before numbers were looked at, and whose columns were not told yet."""
    clip = demo.document("clip", "Look back")
    body = Revision.objects.get(document=clip, number=clip.head)
    body.body = {**body.body, "length_frames": -1}
    body.save()
    Document.objects.filter(pk=clip.pk).update(told_of=0)
    return clip


def test_one_clip_that_cannot_be_read_leaves_the_library_open(
    demo: Demo, owner: Client, unreadable: Document
) -> None:
    view = owner.get(f"/api/productions/{demo.production}")
    assert view.status_code == 200
    names = [card["name"] for card in view.json()["clips"]]
    assert "Amble" in names
    assert "Look back" not in names
    assert view.json()["unreadable"] == [
        {
            "id": str(unreadable.pk),
            "name": "Look back",
            "kind": "clip",
            "why": "Length is at the least 1 frame.",
        }
    ]


def test_health_is_told_to_anyone(demo: Demo) -> None:
    answer = Client().get("/health")
    assert answer.json() == {"database": True, "workers": 0, "jobs_waiting": 0}


def test_a_line_is_written_of_each_request(
    demo: Demo, owner: Client, caplog: pytest.LogCaptureFixture, monkeypatch: pytest.MonkeyPatch
) -> None:
    from config import requests

    lines: list[str] = []
    monkeypatch.setattr(requests._log, "info", lambda form, *of: lines.append(form % of))
    owner.get(demo.url)
    Client().get("/api/productions?x=a%0Ab")
    assert re.fullmatch(rf"mika 200 GET {demo.url} \d+ ms", lines[0])
    assert re.fullmatch(r"- 401 GET /api/productions\?x=a%0Ab \d+ ms", lines[1])


def test_an_answer_holds_no_number_that_is_none(demo: Demo, owner: Client) -> None:
    stint = _desk(opened(demo.scene)).lanes[0].stints[0]
    with pytest.raises(ValidationError, match="finite"):
        type(stint).model_validate({**stint.model_dump(), "start": float("nan")})
    frames = np.full((2, 3), np.inf, dtype=np.float32)
    with pytest.raises(Refusal, match="beyond all measure"):
        pack({"odo/travel": frames}, {})


def test_what_could_not_be_opened_again_is_not_saved(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whatever an edit gives: beyond the model's bounds it is refused, and nothing is changed."""
    scene = opened(demo.scene).document
    broken = scene.model_copy(update={"played_frames": 10**9})
    with pytest.raises(Refusal, match="Length is at the most 200,000 frames"):
        editing.create(SCENE, demo.scene.production, broken, "New scene", None)

    def beyond(scene: Any, edit: Any, material: Any) -> Edited:
        return Edited(scene.model_copy(update={"played_frames": 10**9}), "Too long")

    monkeypatch.setattr(scene_kinds, "apply_edit", beyond)
    answer = edit(owner, demo, {"kind": "rename_scene", "name": "Long"}, 1)
    assert told(answer, 422) == "Length is at the most 200,000 frames."
    assert Document.objects.filter(kind="scene").count() == 4
    assert Document.objects.get(pk=demo.scene.pk).head == 1
    assert Revision.objects.filter(document=demo.scene).count() == 1
