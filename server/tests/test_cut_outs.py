"""A figure is cut out of a layered set, made, posed and made anew (rules 2.1 and 8.1)."""

from typing import Any

import pytest
from django.test import Client

from documents.models import Document
from documents.opening import document_of
from elastic_core.drawings.cut_out import CutOut
from elastic_core.figure import Figure

from .conftest import Demo
from .test_drawings import brought, drawing
from .test_keeping import send

pytestmark = pytest.mark.django_db


def changed(client: Client, row: Document, edit: dict[str, Any], **more: Any) -> dict[str, Any]:
    row.refresh_from_db()
    wanted = {"edit": edit, "base_revision": row.head, **more}
    answer = send(client, "post", f"/api/cut-outs/{row.pk}/edits", wanted)
    found: dict[str, Any] = answer.json()
    assert answer.status_code == 200, found
    return found


def made(client: Client, row: Document) -> dict[str, Any]:
    answer = send(client, "post", f"/api/cut-outs/{row.pk}/figure")
    found: dict[str, Any] = answer.json()
    assert answer.status_code == 200, found
    return found


def test_a_layered_set_is_cut_into_parts_by_its_names_and_its_paint(
    demo: Demo, editor: Client
) -> None:
    """The demo's twelve sheets: pivots lie where the paint says, and the page is told where everything is."""
    row = demo.document("cut_out", "Paper Odo")
    told = editor.get(f"/api/cut-outs/{row.pk}").json()
    parts = {one["part"]["name"]: one for one in told["cut_out"]["parts"]}
    assert len(parts) == 11
    assert parts["near hand"]["part"]["drawings"] == [11, 12]
    assert parts["near shin"]["part"]["parent"] == "near thigh"
    assert (parts["near foot"]["side"], parts["near foot"]["partner"]) == ("right", "far foot")
    # The knee is painted from 0.31 of the sheet's height downwards, a little right of its middle.
    x, y = parts["near shin"]["part"]["pivot"]
    assert 0.24 < y < 0.32
    assert abs(x) < 0.03
    assert told["cut_out"]["has_legs"] is True
    assert told["cut_out"]["hitch"] is None
    assert len(told["cut_out"]["swing"]) == 48
    assert len(told["pictures"]) == 12
    small = f"/api/productions/{demo.production}/pictures/{told['pictures']['1']['file']}"
    assert editor.get(f"{small}?size=small").status_code == 200


def test_a_set_that_was_brought_in_becomes_a_figure_in_two_calls(
    demo: Demo, editor: Client
) -> None:
    pictures = {f"kite_{name}.png": drawing(k) for k, name in enumerate(("body", "tail"), start=1)}
    job = brought(editor, demo, pictures)
    url = f"/api/productions/{demo.production}/cut-outs"
    answer = send(editor, "post", url, {"drawings": job.outcome["drawings"], "name": "紙の凧"})
    assert answer.status_code == 201, answer.json()
    assert answer.json()["parts"] == 2
    row = Document.objects.get(pk=answer.json()["id"])
    told = made(editor, row)
    assert told["says"] == "紙の凧 is in the library."
    figure: Figure = document_of(Document.objects.get(pk=told["figure"]))
    assert figure.names == ("body", "tail")
    assert all(joint.plane == "x" for joint in figure.joints)
    assert figure.dress.drawing_ids == {job.outcome["drawings"]}
    # Its pictures are shown to those who see the figure.
    file = figure.dress.cards[0].pictures[0].picture.file
    assert editor.get(f"/api/figures/{told['figure']}/pictures/{file}").status_code == 200


def test_a_pivot_is_moved_and_the_figure_is_made_anew(demo: Demo, editor: Client) -> None:
    """As long as nothing that was made for it would play otherwise; else there is another figure."""
    row = demo.document("cut_out", "Paper Odo")
    first = made(editor, row)
    assert made(editor, row)["says"] == "Paper Odo is as it was made."
    preview = changed(
        editor, row, {"kind": "move_pivot", "part": "head", "to": [0.0, 0.8]}, preview=True
    )
    assert preview["label"] == "Move the pivot of head"
    changed(editor, row, {"kind": "move_pivot", "part": "head", "to": [0.0, 0.8]})
    again = made(editor, row)
    assert (again["figure"], again["says"]) == (
        first["figure"],
        "Paper Odo in the library is changed.",
    )
    clip = {"source": "blank", "of": first["figure"], "name": "Paper walk"}
    url = f"/api/productions/{demo.production}/new-clips"
    assert send(editor, "post", url, clip).status_code == 201
    # Another order moves nothing: the clip plays on.
    cut_out: CutOut = document_of(row)
    order = [part.name for part in cut_out.parts]
    changed(editor, row, {"kind": "lay_parts", "parts": order})
    assert made(editor, row)["figure"] == first["figure"]
    changed(editor, row, {"kind": "move_pivot", "part": "head", "to": [0.0, 0.75]})
    other = made(editor, row)
    assert other["figure"] != first["figure"]
    assert "another figure now" in other["says"]


def test_what_cannot_be_made_is_said_and_nothing_is_lost(demo: Demo, editor: Client) -> None:
    row = demo.document("cut_out", "Paper Odo")
    edit = {"kind": "show_drawings", "part": "head", "drawings": [99]}
    answer = send(
        editor, "post", f"/api/cut-outs/{row.pk}/edits", {"edit": edit, "base_revision": row.head}
    )
    assert answer.status_code == 422
    assert answer.json()["message"] == "“Paper Odo” has no drawing 99."
    cut_out: CutOut = document_of(row)
    for part in cut_out.parts:
        changed(editor, row, {"kind": "drop_part", "part": part.name})
    told = editor.get(f"/api/cut-outs/{row.pk}").json()["cut_out"]
    assert (told["hitch"], told["swing"]) == ("“Paper Odo” has no parts yet.", [])
    refused = send(editor, "post", f"/api/cut-outs/{row.pk}/figure")
    assert refused.json()["message"] == "“Paper Odo” has no parts yet."
    used = send(editor, "delete", f"/api/documents/{cut_out.drawings}").json()["message"]
    assert used.startswith("“Paper Odo” is used in “Paper Odo”")
