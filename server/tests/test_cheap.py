"""What an interactive request may cost: database queries, and how often its edit is worked out."""

from collections.abc import Callable
from typing import Any

import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from accounts.models import Production
from documents import editing
from documents.models import Document, Use
from elastic_core.clip.edits import edit_clip
from elastic_core.scene.cast import BodyTarget
from elastic_core.scene.document import Lane, Scene, SceneFigure
from library import kinds
from scenes.kinds import SCENE

from .conftest import Demo, edit

MOST_QUERIES = 4
# Session and person; the document, who may see it, and what it uses.
PREVIEW_QUERIES = 2
DRAG = {"kind": "move_stint", "stint": "hurry", "start": 140}
BOW = {
    "kind": "key_pose",
    "frame": 6,
    "changes": [{"kind": "turn", "joint": "chest", "axis": [1, 0, 0], "degrees": 30}],
}


def queries(work: Callable[[], Any]) -> int:
    """How many queries a request takes once the process is warm."""
    work()
    with CaptureQueriesContext(
        connection,
    ) as seen:
        answer = work()
    assert answer.status_code == 200, answer.content[:300]
    told = [query["sql"] for query in seen.captured_queries]
    # A test runs in a transaction of its own; the server does not.
    return len([sql for sql in told if "SAVEPOINT" not in sql])


def post(client: Client, url: str, body: dict[str, Any]) -> Any:
    return client.post(url, body, content_type="application/json")


def test_a_preview_of_a_scene_costs_few_queries(demo: Demo, owner: Client) -> None:
    assert queries(lambda: edit(owner, demo, DRAG, 1, preview=True)) <= PREVIEW_QUERIES
    wanted = {"start": 120, "end": 144, "edit": DRAG}
    assert queries(lambda: post(owner, f"{demo.url}/frames", wanted)) <= PREVIEW_QUERIES


def test_a_joins_read_outs_while_it_is_drawn_cost_few_queries(demo: Demo, owner: Client) -> None:
    longer = {"kind": "set_join", "stint": "hurry", "length_frames": 12}
    wanted = {"stint": "hurry", "edit": longer}
    assert queries(lambda: post(owner, f"{demo.url}/join", wanted)) <= PREVIEW_QUERIES
    assert queries(lambda: post(owner, f"{demo.url}/join-map", wanted)) <= PREVIEW_QUERIES


def test_a_preview_on_the_bench_costs_few_queries(demo: Demo, owner: Client) -> None:
    amble = f"/api/clips/{demo.document('clip', 'Amble').pk}"
    body = {"edit": BOW, "base_revision": 1, "preview": True}
    # Its room tells too where the clip is used.
    assert queries(lambda: post(owner, f"{amble}/edits", body)) <= PREVIEW_QUERIES + 1
    for route, wanted in (
        ("poses", {"start": 0, "end": 24, "edit": BOW}),
        ("traces", {"channels": ["root.y"], "start": 0, "end": 24, "edit": BOW}),
        ("numbers", {"frame": 6, "joints": ["chest"], "edit": BOW}),
    ):
        asked = {"url": f"{amble}/{route}", "body": wanted}
        assert queries(lambda asked=asked: post(owner, **asked)) <= PREVIEW_QUERIES  # type: ignore[misc]


def test_the_head_that_pages_ask_for_costs_two_queries(demo: Demo, owner: Client) -> None:
    for document in (demo.scene, demo.document("clip", "Amble")):
        url = f"/api/{document.kind}s/{document.pk}/head"
        assert queries(lambda url=url: owner.get(url)) <= 2  # type: ignore[misc]


def test_an_edit_is_worked_out_once_for_all_that_a_page_asks_of_it(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    worked_out = []

    def counted(made: Any, wanted: Any) -> Any:
        worked_out.append(wanted.kind)
        return edit_clip(made, wanted)

    monkeypatch.setattr(kinds, "edit_clip", counted)
    amble = f"/api/clips/{demo.document('clip', 'Amble').pk}"
    body = {"edit": BOW, "base_revision": 1}
    post(owner, f"{amble}/edits", {**body, "preview": True})
    post(owner, f"{amble}/poses", {"start": 0, "end": 24, "edit": BOW})
    post(owner, f"{amble}/traces", {"channels": ["root.y"], "start": 0, "end": 9, "edit": BOW})
    post(owner, f"{amble}/numbers", {"frame": 6, "joints": ["chest"], "edit": BOW})
    assert post(owner, f"{amble}/edits", body).status_code == 200
    assert worked_out == ["key_pose"]


def test_an_answer_leaves_out_what_the_page_shows_already(demo: Demo, owner: Client) -> None:
    shown = owner.get(demo.url).json()
    body = {"known": shown["content"], "preview": True}
    answer = edit(owner, demo, DRAG, 1, **body).json()["scene"]["desk"]
    assert [lane["id"] for lane in answer["lanes"]] == ["odo-body"]
    assert answer["lane_ids"] == ["odo-body", "gull-body", "capstan-body"]
    whole = edit(owner, demo, DRAG, 1, known="other", preview=True).json()["scene"]["desk"]
    assert [lane["id"] for lane in whole["lanes"]] == answer["lane_ids"]
    amble = f"/api/clips/{demo.document('clip', 'Amble').pk}"
    bench = owner.get(amble).json()
    body = {"edit": BOW, "base_revision": 1, "known": bench["content"]}
    changed = post(owner, f"{amble}/edits", body).json()["clip"]["bench"]
    assert {curve["joint"] for curve in changed["curves"]} == {"chest"}
    assert changed["channels"] == bench["bench"]["channels"]


def test_two_thousand_clips_are_listed_in_pages_from_their_columns(
    demo: Demo, owner: Client
) -> None:
    production = Production.objects.get(pk=demo.production)
    amble = demo.document("clip", "Amble")
    rows = Document.objects.bulk_create(
        Document(
            production=production,
            kind="clip",
            name=f"Clip {k}",
            figure=amble.figure,
            rate=amble.rate,
            length_frames=24,
            facts=amble.facts,
            told_of=1,
        )
        for k in range(2_000)
    )
    Use.objects.bulk_create(Use(document=demo.scene, used=row) for row in rows[:300])
    url = f"/api/productions/{demo.production}?most=2000"
    assert queries(lambda: owner.get(url)) <= 6
    page = owner.get(url).json()
    assert (len(page["clips"]), page["after"]) == (2_000 - 30, page["clips"][-1]["id"])
    rest = owner.get(f"{url}&after={page['after']}").json()
    names = [clip["name"] for clip in [*page["clips"], *rest["clips"]]]
    assert len(set(names)) == len(names) == 2_012
    assert rest["after"] is None
    assert sum(bool(clip["used_in"]) for clip in page["clips"]) > 290


def test_a_row_from_before_there_were_columns_tells_itself(demo: Demo, owner: Client) -> None:
    hurry = demo.document("clip", "Hurry")
    known = owner.get(f"/api/productions/{demo.production}").json()
    Document.objects.update(figure=None, facts={}, thumbnail=b"", rate="", told_of=0)
    again = owner.get(f"/api/productions/{demo.production}").json()
    assert again == known
    hurry.refresh_from_db()
    assert (hurry.told_of, hurry.grade, hurry.length_frames) == (1, "closed", 16)


def test_columns_follow_an_edit_and_its_undo(demo: Demo, owner: Client) -> None:
    amble = demo.document("clip", "Amble")
    change = {"kind": "set_length", "length_frames": 30}
    url = f"/api/clips/{amble.pk}"
    post(owner, f"{url}/edits", {"edit": change, "base_revision": 1})
    amble.refresh_from_db()
    assert (amble.length_frames, amble.told_of) == (30, 2)
    post(owner, f"{url}/undo", {"base_revision": 2})
    amble.refresh_from_db()
    assert (amble.length_frames, amble.told_of) == (24, 1)


def test_a_scene_plays_a_part_of_another_one_and_never_itself(demo: Demo, owner: Client) -> None:
    production = Production.objects.get(pk=demo.production)
    odo = str(demo.document("figure", "Odo").pk)
    outer = Scene(
        name="Sc 05",
        rate="24",
        laid_frames=60,
        played_frames=60,
        figures=(SceneFigure(id="odo", name="Odo", figure=odo),),
        lanes=(Lane(id="l", name="Body", target=BodyTarget(figure="odo")),),
    )
    row = editing.create(SCENE, production, outer, "New scene", None)

    def place(scene: Document, lane: str, inner: Document) -> Any:
        source = {"kind": "scene", "id": str(inner.pk), "figure": "odo"}
        change = {"kind": "place_stint", "stint": "p", "source": source, "start": 300, "lane": lane}
        head = Document.objects.get(pk=scene.pk).head
        return post(owner, f"/api/scenes/{scene.pk}/edits", {"edit": change, "base_revision": head})

    placed = place(row, "l", demo.scene)
    assert placed.status_code == 200, placed.content[:300]
    stint = placed.json()["scene"]["desk"]["lanes"][0]["stints"][0]
    assert (stint["name"], stint["end"]) == ("Sc 04 Quay at dusk, Odo", 588)
    assert Use.objects.filter(document=row, used=demo.scene).exists()
    refused = place(demo.scene, "odo-body", row)
    assert refused.status_code == 422
    assert "would play itself" in refused.json()["message"]
