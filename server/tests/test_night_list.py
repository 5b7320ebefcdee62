"""The night list: prints that wait, in the order they are taken up, put off, taken back and tried again."""

from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

import pytest
from django.db import connection
from django.test import Client
from django.utils import timezone

from accounts.models import Production
from documents.models import Document
from jobs import asking
from jobs.models import Job
from library.models import StoredFile
from prints.models import Print
from prints.printing import PRINT, PrintWish

from .conftest import Demo, client_of
from .prints import kept_print, made_up
from .test_keeping import send

SCENES = ("Sc 04 Quay at dusk", "Sc 05 The lamp is lit", "Sc 06 Three lamps lit")


def asked(client: Client, demo: Demo, scene: str, **wanted: Any) -> str:
    body = {"end": 24, **wanted}
    found = demo.document("scene", scene)
    answer = send(client, "post", f"/api/scenes/{found.pk}/prints", body)
    assert answer.status_code == 202, answer.content
    return str(answer.json()["id"])


def url(demo: Demo, *more: str) -> str:
    return "/".join((f"/api/productions/{demo.production}/night-list", *more))


def rows(client: Client, demo: Demo) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get(url(demo)).json()
    return found


def taken_up() -> list[str]:
    """What the queue would give a worker now, in its order."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT args ->> 'job' FROM procrastinate_jobs WHERE status = 'todo' AND queue_name = 'prints' "
            "AND (scheduled_at IS NULL OR scheduled_at <= now()) ORDER BY priority DESC, id"
        )
        return [name for (name,) in cursor.fetchall()]


def test_prints_wait_in_their_order_and_change_it(
    demo: Demo, owner: Client, editor: Client
) -> None:
    first, second, third = (asked(owner, demo, scene) for scene in SCENES)
    assert [row["title"] for row in rows(editor, demo)] == [f"{scene}, rev 1" for scene in SCENES]
    assert taken_up() == [first, second, third]
    told = send(editor, "put", url(demo), {"order": [third, first]}).json()
    assert [row["id"] for row in told] == [third, first, second]
    assert taken_up() == [third, first, second]
    # What comes later is printed later.
    fourth = asked(editor, demo, SCENES[0], token="again")
    assert taken_up() == [third, first, second, fourth]
    assert [(row["author"], row["is_yours"]) for row in rows(editor, demo)][3] == ("edda", True)
    Job.objects.filter(pk=third).update(state=Job.State.RUNNING)
    late = send(editor, "put", url(demo), {"order": [third, first]})
    assert (late.status_code, late.json()["message"]) == (
        422,
        "One of them is under way already, or over. Look again.",
    )


def test_another_productions_prints_keep_their_turn(demo: Demo, owner: Client) -> None:
    first = asked(owner, demo, SCENES[0])
    elsewhere = Production.objects.create(name="Elsewhere")
    person = Job.objects.get(pk=first).person
    wish = PrintWish(document=demo.scene.pk, revision=1, look={}, start=0, end=4, token="e")
    other = str(asking.ask(PRINT, elsewhere, person, "Sc 1", wish).pk)
    second, third = (asked(owner, demo, scene) for scene in SCENES[1:])
    send(owner, "put", url(demo), {"order": [third, second, first]})
    assert taken_up() == [third, other, second, first]


def test_a_print_is_put_off_until_tonight_or_until_it_is_let_go(demo: Demo, owner: Client) -> None:
    first, second = (asked(owner, demo, scene) for scene in SCENES[:2])
    night = (timezone.now() + timedelta(hours=5)).replace(microsecond=0)
    tonight = asked(owner, demo, SCENES[2], not_before=night.isoformat())
    assert taken_up() == [first, second]
    told = send(owner, "patch", url(demo, first), {"is_held": True}).json()
    assert (told[0]["id"], told[0]["is_held"]) == (first, True)
    assert datetime.fromisoformat(told[2]["not_before"]) == night
    assert taken_up() == [second]
    send(owner, "patch", url(demo, first), {})
    send(owner, "patch", url(demo, tonight), {})
    # Each has kept its place meanwhile.
    assert taken_up() == [first, second, tonight]
    Job.objects.filter(pk=first).update(state=Job.State.RUNNING)
    late = send(owner, "patch", url(demo, first), {"is_held": True})
    assert late.json()["message"] == "It is under way already, or over."
    assert send(owner, "patch", url(demo, second), {"not_before": "tonight"}).status_code == 422


def test_what_runs_tells_its_pace_and_what_is_left(demo: Demo, owner: Client) -> None:
    pk = asked(owner, demo, SCENES[0])
    begun = timezone.now() - timedelta(seconds=4)
    Job.objects.filter(pk=pk).update(state=Job.State.RUNNING, figure=12, of=24, begun=begun)
    (row,) = rows(owner, demo)
    assert row["frames_per_second"] == pytest.approx(3.0, rel=0.1)
    assert row["seconds_left"] == pytest.approx(4.0, rel=0.1)
    Job.objects.filter(pk=pk).update(figure=0)
    (row,) = rows(owner, demo)
    assert (row["frames_per_second"], row["seconds_left"]) == (None, None)


def test_a_print_is_taken_back_by_its_person_or_an_owner(
    demo: Demo, owner: Client, editor: Client
) -> None:
    owners, editors = asked(owner, demo, SCENES[0]), asked(editor, demo, SCENES[1])
    send(owner, "patch", url(demo, owners), {"is_held": True})
    refused = editor.delete(url(demo, owners))
    assert refused.json()["message"] == (
        "Whoever asked for a print takes it back, or an owner of the production."
    )
    assert [row["id"] for row in owner.delete(url(demo, editors)).json()] == [owners]
    assert owner.delete(url(demo, owners)).json() == []
    # The queue forgets what was held for ever: its turn comes, and finds nothing to do.
    assert set(taken_up()) == {owners, editors}
    assert set(Job.objects.values_list("state", flat=True)) == {"cancelled"}


def test_what_came_to_nothing_is_tried_again_or_put_away(demo: Demo, owner: Client) -> None:
    first, second = (asked(owner, demo, scene) for scene in SCENES[:2])
    Job.objects.all().update(state=Job.State.REFUSED, says="The sound is missing.")
    assert {row["says"] for row in rows(owner, demo)} == {"The sound is missing."}
    told = owner.post(url(demo, first, "again")).json()
    assert [(row["state"], row["title"]) for row in told] == [
        ("waiting", f"{SCENES[0]}, rev 1"),
        ("refused", f"{SCENES[1]}, rev 1"),
    ]
    assert UUID(told[0]["id"]) != UUID(first)
    again = owner.post(url(demo, told[0]["id"], "again"))
    assert again.json()["message"] == "It is under way already."
    assert [row["state"] for row in owner.delete(url(demo, second)).json()] == ["waiting"]


def test_old_prints_are_thrown_away_with_their_films(demo: Demo, owner: Client) -> None:
    old = kept_print(demo, made_up(3_000))
    new = kept_print(demo, made_up(2_000))
    Print.objects.filter(pk=old.pk).update(created=timezone.now() - timedelta(days=31))
    clear = f"/api/productions/{demo.production}/prints/old"
    assert send(owner, "post", clear, {"days": 30}).json() == {"prints": 1, "size_bytes": 3_000}
    assert [row.pk for row in Print.objects.all()] == [new.pk]
    assert not StoredFile.objects.filter(pk=old.film_id).exists()
    assert send(owner, "post", clear, {"days": 30}).json() == {"prints": 0, "size_bytes": 0}
    assert (
        client_of(demo.scene.production.memberships.get().user)
        .get(f"/api/prints/{new.pk}")
        .status_code
        == 200
    )
    assert Document.objects.filter(pk=demo.scene.pk).exists()
