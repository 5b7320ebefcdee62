"""Scenes as timelines of other tools, out and in; and motion for all of them in one step."""

import csv
import io
import json
import zipfile
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from core.tests.reels import shots
from core.tests.sounds import bursts, file_of
from documents.models import Document
from documents.opening import document_of, opened
from elastic_core.figure import forward
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import positions_in_file_units
from elastic_core.formats.scene_motion import scene_motion
from elastic_core.scene.evaluate import frames_of

from .conftest import Demo

SCENES = (
    "Sc 04 Quay at dusk",
    "Sc 05 The lamp is lit",
    "Sc 06 Three lamps lit",
    "Sc 07 The flame holds",
)


def brought(client: Client, production: object, name: str, data: bytes) -> Any:
    upload = SimpleUploadedFile(name, data)
    return client.post(f"/api/productions/{production}/own-files", {"upload": upload})


def played(row: Document) -> dict[str, Any]:
    now = opened(row)
    found = frames_of(now.document, now.made_of, np.arange(0.0, now.document.played_frames, 9))
    return {one.figure.id: one.placed.positions for one in found}


@pytest.mark.parametrize("name", SCENES)
def test_a_scene_opens_again_with_equal_lanes_pins_and_beats(
    demo: Demo, owner: Client, name: str
) -> None:
    scene = demo.document("scene", name)
    out = owner.get(f"/api/scenes/{scene.pk}/timeline")
    answer = brought(owner, demo.production, "dusk.otioz", out.content)
    assert answer.status_code == 201, answer.content
    again = Document.objects.get(pk=answer.json()["id"])
    # What it uses was here already, so that all is the same, number for number.
    assert document_of(again) == document_of(scene)
    assert answer.json()["says"] == []


def test_in_an_empty_production_it_plays_the_same(demo: Demo, owner: Client) -> None:
    made = owner.post("/api/productions", {"name": "Elsewhere"}, content_type="application/json")
    for name in SCENES:
        scene = demo.document("scene", name)
        out = owner.get(f"/api/scenes/{scene.pk}/timeline").content
        answer = brought(owner, made.json()["id"], "dusk.otioz", out)
        assert answer.status_code == 201, answer.content
        there = played(Document.objects.get(pk=answer.json()["id"]))
        for figure, positions in played(scene).items():
            assert np.abs(there[figure] - positions).max() < 1e-9


def test_a_timeline_of_shots_is_a_scene_of_beats_and_sounds(demo: Demo, owner: Client) -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("content.otio", shots().to_json_string())
        archive.writestr("bell%201.wav", file_of(bursts(2.0), "WAV"))
    answer = brought(owner, demo.production, "reel.otioz", out.getvalue())
    assert answer.status_code == 201, answer.content
    assert answer.json()["says"] == [
        "The sound of “Wind” is not beside the timeline (https://example.org/wind.wav).",
        "1 new sound came with it.",
    ]
    view = owner.get(f"/api/scenes/{answer.json()['id']}").json()
    assert [beat["name"] for beat in view["desk"]["beats"]] == ["Quay", "Cue", "Lamp", "Sea"]
    assert view["name"] == "Reel 2"


def test_what_lacks_its_sounds_or_is_no_timeline_is_refused(demo: Demo, owner: Client) -> None:
    before = Document.objects.count()
    scene = demo.document("scene", "Sc 06 Three lamps lit")
    packed = owner.get(f"/api/scenes/{scene.pk}/timeline").content
    with zipfile.ZipFile(io.BytesIO(packed)) as archive:
        bare = archive.read("content.otio")
    lacking = brought(owner, demo.production, "dusk.otio", bare)
    assert lacking.status_code == 422
    assert "is not beside the timeline: keep its folder with it" in lacking.json()["message"]
    for data in (bare[:2000], b'{"OTIO_SCHEMA": "Clip.2"}', packed[:-200]):
        refused = brought(owner, demo.production, "dusk.otioz", data)
        assert refused.status_code == 422
        assert refused.json()["message"].endswith(".")
    assert Document.objects.count() == before


def test_everybodys_motion_goes_out_in_one_step(demo: Demo, owner: Client) -> None:
    packed = owner.get(f"{demo.url}/bvh?start=11&end=41")
    with zipfile.ZipFile(io.BytesIO(packed.content)) as archive:
        assert archive.namelist() == ["Odo.bvh", "Gull.bvh", "Capstan.bvh"]
        read = bvh.read(archive.read("Gull.bvh"))
    scene = document_of(demo.scene)
    material = opened(demo.scene).made_of
    member = scene.figure("gull")
    motion = scene_motion(scene, material, "gull", 11, 41)
    expected = forward(material.figure(member.figure), motion).positions
    assert read.frames == 30
    assert positions_in_file_units(read).positions == pytest.approx(expected, abs=1e-4)
    table = owner.get(f"{demo.url}/places?figure=gull&start=11&end=41").content.decode()
    head, *rows = csv.reader(io.StringIO(table))
    assert (len(rows), rows[0][0], rows[-1][0]) == (30, "11", "40")
    assert len(head) == 2 + 3 * expected.shape[1]
    numbers = np.array([row[2:] for row in rows], dtype=float).reshape(expected.shape)
    assert numbers == pytest.approx(expected, abs=1e-6)
    refused = owner.get(f"{demo.url}/bvh?start=11&end=4100")
    assert "is not inside" in json.loads(refused.content)["message"]
