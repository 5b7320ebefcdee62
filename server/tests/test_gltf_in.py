"""glTF files are brought in clip by clip, by the same sheet as any motion (rule 6.7)."""

import json
from fractions import Fraction
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from core.tests import gltf_reader
from demo.production import demo as core_demo
from elastic_core.dress import Dress
from elastic_core.figure import forward
from elastic_core.formats.gltf import GltfClip, write_glb
from library import shelf

from .conftest import Demo
from .test_keeping import send
from .test_scene import positions

pytestmark = pytest.mark.django_db


def sent(client: Client, demo: Demo, data: bytes, name: str = "stranger.glb") -> Any:
    url = f"/api/productions/{demo.production}/gltf-files"
    return client.post(url, {"upload": SimpleUploadedFile(name, data)})


def made_figure(pack: bytes) -> str:
    """The one figure in a frame pack."""
    length = int.from_bytes(pack[:8], "little")
    names: list[str] = list(json.loads(pack[8 : 8 + length]))
    return next(name.split("/")[0] for name in names if name.endswith("/positions"))


def tilda(*names: str) -> bytes:
    """Somebody who is no figure of the production under these names: Odo, his joints called otherwise."""
    made = core_demo()
    odo = made.figures["odo"]
    joints = tuple(
        joint.model_copy(update={"name": f"mk:{joint.name}", "mirror": None})
        for joint in odo.joints
    )
    stranger = odo.model_copy(update={"joints": joints, "name": "Stranger", "dress": Dress()})
    clips = [GltfClip(name, made.clips[name].samples.whole(), Fraction(24)) for name in names]
    return write_glb(stranger, clips)


def test_each_clip_is_brought_in_by_the_sheet_and_goes_out_again(
    demo: Demo, editor: Client
) -> None:
    reports = sent(editor, demo, tilda("Amble", "Look back")).json()
    assert [one["suggested_name"] for one in reports] == ["Amble", "Look back"]
    amble = reports[0]
    assert (amble["frames"], amble["joints"], amble["rate"]) == (25, 20, "24")
    assert amble["cycle_length_frames"] == 24
    assert amble["height_metres"] == pytest.approx(1.423, abs=0.001)
    wish = {"file": amble["file"], "name": "Stranger ambles", "is_cycle": True}
    made = send(editor, "post", f"/api/productions/{demo.production}/clips", wish)
    assert made.status_code in (200, 201), made.json()
    row = demo.document("clip", "Stranger ambles")
    playable = shelf.made_of(row).playable
    assert (playable.clip.length_frames, playable.clip.is_cycle) == (24, True)
    # And out again: where it was, to a tenth of a millimetre.
    back = gltf_reader.read(editor.get(f"/api/clips/{row.pk}/gltf").content)
    here = core_demo()
    placed = forward(here.figures["odo"], here.clips["Amble"].samples.whole())
    places, _ = back.world(0, np.arange(25) / 24)
    by_name = [back.names.index(f"mk:{name}") for name in here.figures["odo"].names]
    assert np.abs(places[:, by_name] - placed.positions).max() < 2e-4


def test_clips_of_a_stranger_are_joined_without_a_jump(demo: Demo, editor: Client) -> None:
    clips = {}
    for report in sent(editor, demo, tilda("Amble", "Hurry")).json():
        name = f"Stranger’s {report['suggested_name']}"
        wish = {"file": report["file"], "name": name, "is_cycle": True}
        send(editor, "post", f"/api/productions/{demo.production}/clips", wish)
        clips[name] = str(demo.document("clip", name).pk)
    made = send(
        editor, "post", f"/api/productions/{demo.production}/scenes", {"name": "Met"}
    ).json()
    url = f"/api/scenes/{made['id']}"

    def edited(kind: str, base: int, **more: Any) -> Any:
        change = {"edit": {"kind": kind, **more}, "base_revision": base}
        answer = send(editor, "post", f"{url}/edits", change)
        assert answer.status_code == 200, answer.content
        return answer.json()["scene"]["desk"]["lanes"][0]

    amble, hurry = ({"kind": "clip", "id": pk} for pk in clips.values())
    lane = edited("place_stint", 1, stint="a", source=amble, start=0)
    length = lane["stints"][0]["end"]
    # Laid on the last eight frames of the one before, it is joined to it.
    lane = edited("place_stint", 2, stint="b", source=hurry, start=length - 8, lane=lane["id"])
    first, then = lane["stints"]
    assert (first["end"] - then["start"], then["start"]) == (8, length - 8)
    answer = send(editor, "post", f"{url}/frames", {"start": 0, "end": int(then["end"])})
    places = positions(answer.content, made_figure(answer.content))
    steps = np.linalg.norm(np.diff(places, axis=0), axis=-1).max(axis=-1)
    # No joint moves faster through the join than the faster of the two does by itself.
    join = slice(int(then["start"]) - 2, int(first["end"]) + 2)
    assert steps[join].max() < 1.1 * steps[int(first["end"]) + 2 :].max()


def test_a_file_of_one_clip_is_called_as_it_is(demo: Demo, editor: Client) -> None:
    (report,) = sent(editor, demo, tilda("Amble"), "harbour_stroll-02.glb").json()
    assert report["suggested_name"] == "Harbour stroll 02"


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"HIERARCHY", "This is no glTF file: it cannot be read."),
        (write_glb(core_demo().figures["odo"]), "Nothing moves in this glTF file."),
    ],
    ids=["another form", "at rest"],
)
def test_what_cannot_be_read_is_not_kept(
    demo: Demo, editor: Client, data: bytes, says: str
) -> None:
    before = demo.scene.production.files.count()
    answer = sent(editor, demo, data)
    assert (answer.status_code, answer.json()["message"]) == (422, says)
    assert demo.scene.production.files.count() == before
