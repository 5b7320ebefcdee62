"""Names, tags, the archive, copies and deletion; histories; files of our own."""

from io import BytesIO
from typing import Any

import numpy as np
from django.test import Client
from PIL import Image

from accounts.models import Membership, Production
from documents.models import Document, Use
from elastic_core.formats.clip_file import ClipFile
from elastic_core.formats.scene_file import read_own_file
from library import shelf

from .conftest import Demo, edit


def send(client: Client, method: str, path: str, body: dict[str, Any] | None = None) -> Any:
    return getattr(client, method)(path, data=body, content_type="application/json")


def path(row: Document, more: str = "") -> str:
    return f"/api/documents/{row.pk}{more}"


def shelf_of(client: Client, demo: Demo, kind: str) -> dict[str, Any]:
    view = client.get(f"/api/productions/{demo.production}").json()
    return {card["name"]: card for card in view[kind]}


def test_a_clip_is_renamed_and_every_scene_follows(demo: Demo, owner: Client) -> None:
    amble = demo.document("clip", "Amble")
    assert send(owner, "patch", path(amble), {"name": " Slow amble "}).status_code == 200
    names = [s["name"] for s in owner.get(demo.url).json()["desk"]["lanes"][0]["stints"]]
    assert names == ["Stand", "Look back", "Slow amble", "Hurry", "Reach and light", "Stand"]
    history = owner.get(path(amble, "/history")).json()
    assert [(row["number"], row["label"], row["stands"]) for row in history] == [
        (2, "Rename to Slow amble", True),
        (1, "Bring in Amble", False),
    ]
    assert history[0]["author"] == "Mika Kallas"


def test_tags_and_the_archive_leave_the_history_alone(demo: Demo, owner: Client) -> None:
    amble = demo.document("clip", "Amble")
    send(owner, "patch", path(amble), {"tags": ["walk", " slow  walk ", "walk", ""]})
    send(owner, "patch", path(amble), {"archived": True})
    card = shelf_of(owner, demo, "clips")["Amble"]
    assert (card["tags"], card["archived"]) == (["walk", "slow walk"], True)
    # Scenes that use it go on.
    assert len(owner.get(demo.url).json()["desk"]["lanes"][0]["stints"]) == 6
    send(owner, "patch", path(amble), {"archived": False})
    assert shelf_of(owner, demo, "clips")["Amble"]["archived"] is False
    assert amble.revisions.count() == 1


def test_a_copy_has_a_history_of_its_own(demo: Demo, owner: Client) -> None:
    send(owner, "patch", path(demo.scene), {"tags": ["dusk"]})
    copies = [send(owner, "post", path(demo.scene, "/duplicate")).json() for _ in range(2)]
    assert [copy["name"] for copy in copies] == [
        "Sc 04 Quay at dusk copy",
        "Sc 04 Quay at dusk copy 2",
    ]
    made = Document.objects.get(pk=copies[0]["id"])
    assert (made.tags, made.head) == (["dusk"], 1)
    assert Use.objects.filter(document=made).count() == 11
    view = owner.get(f"/api/scenes/{made.pk}").json()
    assert (view["name"], len(view["desk"]["lanes"][0]["stints"])) == (copies[0]["name"], 6)


def test_what_is_used_is_not_deleted_and_says_where(demo: Demo, owner: Client) -> None:
    hurry, odo = demo.document("clip", "Hurry"), demo.document("figure", "Odo")

    def refusal(row: Document) -> str:
        refused = send(owner, "delete", path(row))
        assert refused.status_code == 422
        return str(refused.json()["message"])

    used = "“Hurry” is used in “Sc 04 Quay at dusk”. Archive it instead."
    assert refusal(hurry) == used
    edit(owner, demo, {"kind": "delete_stints", "stints": ["hurry"]}, 1)
    # Undo can still bring it back, so it stays.
    assert refusal(hurry).startswith("“Hurry” is used in earlier steps of “Sc 04 Quay at dusk”")
    assert "is used in “Sc 04" in refusal(odo)
    startle = demo.document("clip", "Startle")
    assert send(owner, "delete", path(startle)).status_code == 200
    assert "Startle" not in shelf_of(owner, demo, "clips")
    lamp = demo.document("scene", "Sc 05 The lamp is lit")
    assert send(owner, "delete", path(lamp)).status_code == 200
    # The scene is used by nothing; once it is gone, nothing holds the clip.
    assert send(owner, "delete", path(demo.scene)).status_code == 200
    assert send(owner, "delete", path(hurry)).status_code == 200
    left = "“Sc 06 Three lamps lit”, “Sc 07 The flame holds”"
    assert refusal(odo) == f"“Odo” is used in {left}. Archive it instead."
    for kind, name in (
        ("scene", "Sc 06 Three lamps lit"),
        ("scene", "Sc 07 The flame holds"),
        ("line", "Odo, line 1"),
        ("line", "Odo calls the gull"),
        ("chart", "Odo, front"),
        ("chart", "Odo, three-quarter"),
        ("chart", "Odo’s eyes"),
    ):
        assert send(owner, "delete", path(demo.document(kind, name))).status_code == 200
    take = demo.document("take", "quay_pacing_07")
    assert refusal(odo) == "“Odo” is used in “quay_pacing_07”. Archive it instead."
    assert send(owner, "delete", path(take)).status_code == 200
    assert refusal(odo).startswith(
        "“Odo” is moved by “Amble”, “Look back”, “Reach and light” and 1 more."
    )


def test_any_revision_can_be_looked_at_and_gone_back_to(demo: Demo, owner: Client) -> None:
    for name in ("Dusk", "Night", "Dawn"):
        head = owner.get(f"{demo.url}/head").json()["revision"]
        edit(owner, demo, {"kind": "rename_scene", "name": name}, head)
    looked = owner.get(f"{demo.url}?revision=2").json()
    assert (looked["name"], looked["revision"], looked["head"]) == ("Dusk", 2, 4)
    assert looked["may_change"] is False
    wanted = {"start": 0, "end": 2, "revision": 2}
    assert send(owner, "post", f"{demo.url}/frames", wanted).status_code == 200
    went = send(owner, "post", f"{demo.url}/go-back", {"revision": 2, "base_revision": 4}).json()
    assert (went["name"], went["revision"], went["undo"]) == ("Dusk", 5, "Go back to revision 2")
    assert owner.get(f"{demo.url}/head").json() == {
        "revision": 5,
        "label": "Go back to revision 2",
        "author": "Mika Kallas",
        "made_from": went["made_from"],
    }
    undone = send(owner, "post", f"{demo.url}/undo", {"base_revision": 5}).json()
    assert undone["name"] == "Dawn"
    late = send(owner, "post", f"{demo.url}/go-back", {"revision": 2, "base_revision": 5})
    assert late.status_code == 409
    none = owner.get(f"{demo.url}?revision=99").json()
    assert none["message"] == "“Dawn” has no revision 99."


def open_file(client: Client, production: object, data: bytes) -> Any:
    upload = {"upload": BytesIO(data)}
    return client.post(f"/api/productions/{production}/own-files", upload)


def test_a_scene_file_goes_out_and_in_again_without_loss(demo: Demo, owner: Client) -> None:
    file = owner.get(f"{demo.url}/file").content
    back = open_file(owner, demo.production, file)
    assert back.status_code == 201
    assert (back.json()["kind"], back.json()["name"], back.json()["says"]) == (
        "scene",
        "Sc 04 Quay at dusk",
        [],
    )
    # What is here already is used again.
    assert Document.objects.filter(kind="clip").count() == 12
    again = owner.get(f"/api/scenes/{back.json()['id']}/file").content
    assert again == file


def test_a_scene_file_brings_all_it_needs_elsewhere(demo: Demo, owner: Client) -> None:
    file = owner.get(f"{demo.url}/file").content
    elsewhere = Production.objects.create(name="Elsewhere")
    user = Membership.objects.get(production_id=demo.production).user
    Membership.objects.create(production=elsewhere, user=user, role="owner")
    back = open_file(owner, elsewhere.pk, file).json()
    assert back["says"] == ["3 new figures came with it.", "8 new clips came with it."]

    def frames(scene: object) -> bytes:
        wanted = {"start": 0, "end": 288, "step": 9}
        answer = send(owner, "post", f"/api/scenes/{scene}/frames", wanted).content
        return bytes(answer[8 + int.from_bytes(answer[:8], "little") :])

    assert frames(back["id"]) == frames(demo.scene.pk)


def test_a_spoken_scene_goes_out_and_in_again_with_its_lines_charts_and_pictures(
    demo: Demo, owner: Client
) -> None:
    chart = demo.document("chart", "Odo, front")
    out = BytesIO()
    Image.new("RGBA", (12, 8), (200, 60, 40, 255)).save(out, "PNG")
    out.seek(0)
    out.name = "gasp.png"
    kept = owner.post(f"/api/productions/{demo.production}/pictures", {"upload": out}).json()
    mouth = owner.get(f"/api/charts/{chart.pk}").json()["chart"]["mouths"][4]
    edit = {"kind": "set_mouth", "mouth": {**mouth, "picture": {"file": kept["file"]}}}
    made = send(owner, "post", f"/api/charts/{chart.pk}/edits", {"edit": edit, "base_revision": 1})
    assert made.status_code == 200
    scene = demo.document("scene", "Sc 06 Three lamps lit")
    file = owner.get(f"/api/scenes/{scene.pk}/file").getvalue()
    # Here all of it is there already.
    back = open_file(owner, demo.production, file).json()
    assert (back["name"], back["says"]) == ("Sc 06 Three lamps lit", [])
    assert owner.get(f"/api/scenes/{back['id']}/file").getvalue() == file
    elsewhere = Production.objects.create(name="Elsewhere")
    user = Membership.objects.get(production_id=demo.production).user
    Membership.objects.create(production=elsewhere, user=user, role="owner")
    away = open_file(owner, elsewhere.pk, file).json()
    assert away["says"][-3:] == [
        "1 new sound came with it.",
        "3 new mouth charts came with it.",
        "1 new line came with it.",
    ]
    own = Document.objects.get(production=elsewhere, kind="chart", name="Odo, front")
    shown = owner.get(f"/api/charts/{own.pk}").json()["chart"]
    assert shown["mouths"][4]["picture"]["file"] == kept["file"]
    assert shown["figure"] == str(Document.objects.get(production=elsewhere, name="Odo").pk)
    there = owner.get(f"/api/productions/{elsewhere.pk}/pictures/{kept['file']}")
    assert there.status_code == 200

    def drawings(one: object) -> bytes:
        wanted = {"start": 0, "end": 216, "step": 1}
        pack = send(owner, "post", f"/api/scenes/{one}/frames", wanted).content
        return bytes(pack[8 + int.from_bytes(pack[:8], "little") :])

    assert drawings(away["id"]) == drawings(scene.pk)
    opened_again = open_file(owner, elsewhere.pk, file).json()
    assert opened_again["says"] == []


def test_a_clip_file_goes_out_and_in_again_without_loss(demo: Demo, owner: Client) -> None:
    amble = demo.document("clip", "Amble")
    file = owner.get(f"/api/clips/{amble.pk}/file").getvalue()
    held = read_own_file(ClipFile, file, "clip")
    samples = shelf.clip_of(amble).samples.whole()
    assert np.array_equal(held.playable().samples.whole().rotations, samples.rotations)
    same = open_file(owner, demo.production, file).json()
    assert (same["id"], same["says"]) == (str(amble.pk), [])
    send(owner, "patch", path(amble), {"name": "Other"})
    made = open_file(owner, demo.production, file).json()
    assert made["says"] == ["1 new clip came with it."]
    assert owner.get(f"/api/clips/{made['id']}/file").getvalue() == file


def test_files_that_are_not_ours_say_so(demo: Demo, owner: Client) -> None:
    for data, reason in (
        (
            b"HIERARCHY",
            "This is no timeline, and neither a scene nor a clip file of Elastic Hours.",
        ),
        (
            b'{"format": "elastic-hours-scene"}',
            "This is not a scene file that can be read. Scene is missing.",
        ),
        (
            b'{"format": "elastic-hours-clip"',
            "This is not a clip file that can be read. This is not JSON",
        ),
    ):
        refused = open_file(owner, demo.production, data)
        assert refused.status_code == 422
        assert refused.json()["message"].startswith(reason)
    assert Document.objects.count() == 42
