"""Strands as they go over the wire, and a bake of a stint."""

import pytest
from django.test import Client

from documents.models import Document

from .conftest import Demo, edit
from .test_cheap import PREVIEW_QUERIES, post, queries

TIE = {"kind": "pin_source", "stint": "amble", "source": 41, "played": 147}


def strands(client: Client, demo: Demo, **wanted: object) -> dict[str, object]:
    answer = client.post(f"{demo.url}/strands", wanted, content_type="application/json")
    assert answer.status_code == 200, answer.content
    found: dict[str, object] = answer.json()
    return found


def test_strands_tell_a_thread_for_each_source_frame(demo: Demo, owner: Client) -> None:
    made = strands(owner, demo, stint="amble")
    assert (made["start"], made["end"], made["is_straight"]) == (90, 170, True)
    assert made["round_frames"] == 24
    assert made["threads_source"] == [float(k) for k in range(1, 81)]
    assert set(made["threads_way"]) == {"on"}  # type: ignore[call-overload]
    tied = strands(owner, demo, stint="amble", edit=TIE)
    pins = [(pin["played"], pin["source"]) for pin in tied["pins"]]  # type: ignore[attr-defined]
    assert pins == [(90, 1), (147, 41), (169, 80)]
    assert tied["pins"][1]["pace_before"] == pytest.approx(40 / 57)  # type: ignore[index]
    # Nothing was saved: it was only looked at.
    assert strands(owner, demo, stint="amble")["is_straight"] is True
    whole = strands(owner, demo)
    assert (whole["end"], len(whole["shown"])) == (288, 288)  # type: ignore[arg-type]


def test_strands_while_a_pin_is_drawn_cost_no_more_than_frames(demo: Demo, owner: Client) -> None:
    strands(owner, demo, stint="amble", edit=TIE)
    drawn = {**TIE, "played": 146.0}
    wanted = {"stint": "amble", "edit": drawn}
    assert queries(lambda: post(owner, f"{demo.url}/strands", wanted)) <= PREVIEW_QUERIES


def test_a_stint_is_baked_and_nothing_is_applied_twice(demo: Demo, owner: Client) -> None:
    assert edit(owner, demo, TIE, 1).status_code == 200
    wish = {"stint": "amble", "name": "Amble baked"}
    answer = owner.post(f"{demo.url}/bakes", wish, content_type="application/json")
    assert answer.status_code == 201
    clip = Document.objects.get(pk=answer.json()["clip"])
    assert (clip.name, clip.kind) == ("Amble baked", "clip")
    use = {"kind": "use_bake", "stint": "amble", "clip": str(clip.pk)}
    outcome = edit(owner, demo, use, 2).json()
    assert outcome["label"] == "Bake Amble"
    stint = outcome["scene"]["desk"]["lanes"][0]["stints"][2]
    assert (stint["is_straight"], stint["clip_name"]) == (True, "Amble baked")
    assert (stint["start"], stint["end"]) == (90, 170)
    refused = edit(owner, demo, {**use, "stint": "hurry"}, 3)
    assert refused.status_code == 422
    assert refused.json()["message"] == "Hurry was changed since it was baked: bake it again."


def test_who_may_only_look_bakes_nothing(demo: Demo, viewer: Client) -> None:
    wish = {"stint": "amble", "name": "No"}
    answer = viewer.post(f"{demo.url}/bakes", wish, content_type="application/json")
    assert answer.status_code == 422
    assert not Document.objects.filter(name="No").exists()
    assert strands(viewer, demo, stint="amble")["is_straight"] is True
