"""Clips and takes are printed by themselves, and in every form; two stand side by side."""

import io
import zipfile
from typing import Any

import numpy as np
import pytest
from django.test import Client
from PIL import Image, ImageSequence

from .conftest import Demo
from .test_jobs import jobs_of, work
from .test_keeping import send
from .test_prints import film_of, marked, prints, read_film

pytestmark = pytest.mark.django_db
SMALL = {"width": 320, "height": 180, "view": "side", "mark": True}


def printed(client: Client, demo: Demo, path: str, **wanted: Any) -> tuple[dict[str, Any], bytes]:
    """The card of what came of it, and its file."""
    answer = send(client, "post", f"/api{path}/prints", {"look": SMALL, **wanted})
    assert answer.status_code == 202, answer.content
    work()
    job = jobs_of(client, demo)[0]
    assert job["state"] == "done", job["says"]
    card = prints(client, demo)[0]
    return card, film_of(client, card)


def clip(demo: Demo, name: str = "Amble") -> str:
    return f"/clips/{demo.document('clip', name).pk}"


def pictures_in(data: bytes) -> list[np.ndarray]:
    with Image.open(io.BytesIO(data)) as held:
        return [np.asarray(one.convert("RGB")) for one in ImageSequence.Iterator(held)]


def test_a_clip_is_a_film_of_as_many_frames_as_are_wanted(demo: Demo, editor: Client) -> None:
    """A cycle of 24 frames goes on for two rounds and a half, and on its way."""
    card, film = printed(editor, demo, clip(demo), end=60)
    assert (card["name"], card["frames"], card["first_frame"]) == ("Amble", 60, 0)
    assert (card["has_sound"], card["beside"], card["captured"]) == (False, None, False)
    pictures, samples = read_film(film)
    assert [marked(picture) for picture in pictures] == list(range(60))
    assert samples == 0
    again, _ = printed(editor, demo, clip(demo))
    assert again["frames"] == 24


def test_a_cycle_as_a_picture_that_moves_goes_round_without_a_hitch(
    demo: Demo, editor: Client
) -> None:
    look = {**SMALL, "mark": False}
    card, data = printed(editor, demo, clip(demo), form="webp", look=look)
    once = pictures_in(data)
    assert (card["form"], len(once)) == ("webp", 24)
    with Image.open(io.BytesIO(data)) as held:
        shown_ms = [one.convert("RGB").info["duration"] for one in ImageSequence.Iterator(held)]
    assert sum(shown_ms) == 1_000
    # What comes after its last frame in a longer print is its first one.
    _, longer = printed(editor, demo, clip(demo), form="webp", look=look, start=24, end=26)
    for first, later in zip(once[:2], pictures_in(longer), strict=True):
        assert (np.abs(first.astype(int) - later).max(axis=-1) > 8).mean() < 0.002


def test_another_rate_and_the_frames_it_shows(demo: Demo, editor: Client) -> None:
    """At 12 a second every other frame, with what is heard as long as it was."""
    scene = f"/scenes/{demo.document('scene', 'Sc 06 Three lamps lit').pk}"
    card, film = printed(editor, demo, scene, start=24, end=72, rate="12")
    assert (card["frames"], card["pictures"], card["rate"]) == (48, 24, "12")
    assert (card["frames_per_second"], card["shown_frames_per_second"]) == (12.0, 24.0)
    pictures, samples = read_film(film)
    assert [marked(picture) for picture in pictures] == list(range(24, 72, 2))
    assert abs(samples / 48_000 - 2.0) < 1 / 24
    _, data = printed(editor, demo, clip(demo), form="gif", rate="12")
    assert [marked(one) for one in pictures_in(data)] == list(range(0, 24, 2))


def test_a_gif_and_numbered_pictures_without_paper(demo: Demo, editor: Client) -> None:
    _, data = printed(editor, demo, clip(demo), form="gif", end=12)
    assert [marked(one) for one in pictures_in(data)] == list(range(12))
    clear = {"width": 160, "height": 90, "view": "side", "transparent": True}
    card, data = printed(editor, demo, clip(demo), form="png", end=3, look=clear)
    assert card["look"]["transparent"] is True
    with zipfile.ZipFile(io.BytesIO(data)) as held:
        assert held.namelist() == [f"frame {number:04}.png" for number in range(3)]
        image = np.asarray(Image.open(io.BytesIO(held.read("frame 0001.png"))))
    assert image.shape == (90, 160, 4)
    # Nothing but the figure and its shade is there.
    assert (image[:8, :, 3] == 0).all()
    assert (image[:, :40, 3] == 0).all()
    assert (image[:, :, 3] == 255).mean() > 0.01


def test_a_contact_sheet_of_every_eighth_frame_and_of_the_keys(demo: Demo, editor: Client) -> None:
    card, data = printed(editor, demo, clip(demo), form="contact", every=8)
    assert card["frames"] == 3
    (sheet,) = pictures_in(data)
    # Two by two, with paper where the fourth would be.
    assert sheet.shape == (375, 655, 3)
    cells = [sheet[5 + 185 * row :, 5 + 325 * column :] for row in (0, 1) for column in (0, 1)]
    assert [marked(cell[:180, :320]) for cell in cells[:3]] == [0, 8, 16]
    assert (cells[3] == [251, 248, 241]).all()
    keyed, data = printed(editor, demo, clip(demo), form="pdf", every=None)
    assert 4 <= keyed["frames"] <= 24
    assert data.startswith(b"%PDF")


def test_two_revisions_of_a_scene_stand_side_by_side(demo: Demo, editor: Client) -> None:
    scene = demo.document("scene", "Sc 06 Three lamps lit")
    edit = {"kind": "rename_scene", "name": "Sc 06 Three lamps, later"}
    body = {"edit": edit, "base_revision": 1, "token": "a"}
    assert send(editor, "post", f"/api/scenes/{scene.pk}/edits", body).status_code == 200
    card, film = printed(
        editor,
        demo,
        f"/scenes/{scene.pk}",
        beside=1,
        start=10,
        end=13,
        look={**SMALL, "width": 640},
    )
    assert (card["revision"], card["beside"]) == (2, 1)
    pictures, samples = read_film(film)
    assert [picture.shape for picture in pictures] == [(180, 640, 3)] * 3
    for half in (0, 320):
        assert [marked(one[:, half : half + 320]) for one in pictures] == [10, 11, 12]
    # What is heard is that of the newer one.
    assert abs(samples / 48_000 - 3 / 24) < 1 / 24


def test_a_take_beside_what_it_was(demo: Demo, editor: Client) -> None:
    take = demo.document("take", "quay_pacing_07")
    look = {"width": 640, "height": 180, "view": "side"}
    card, film = printed(
        editor, demo, f"/takes/{take.pk}", captured=True, start=30, end=36, look=look
    )
    assert (card["captured"], card["frames"], card["rate"]) == (True, 6, "24")
    pictures, _ = read_film(film)
    for picture in pictures:
        left, right = picture[:, :320].astype(int), picture[:, 320:].astype(int)
        # He is in both of them, nearly where he was, and not as he was.
        for half in (left, right):
            assert 0.01 < (np.abs(half - half[2, 2]).max(axis=-1) > 60).mean() < 0.2
        assert 0.0005 < (np.abs(left - right).max(axis=-1) > 60).mean() < 0.05
    alone, _ = printed(editor, demo, f"/takes/{take.pk}", start=0, end=4)
    assert (alone["captured"], alone["frames"]) == (False, 4)


def test_what_walks_in_place_is_seen_where_it_stands(demo: Demo, editor: Client) -> None:
    """With a still view: walking over the ground it leaves the picture, in place it does not."""
    look = {**SMALL, "view": "stage", "yaw_degrees": 90, "follow": False, "mark": False}
    seen = []
    for in_place in (False, True):
        wanted = {"form": "webp", "start": 140, "end": 142, "look": look, "in_place": in_place}
        _, data = printed(editor, demo, clip(demo), **wanted)
        picture = pictures_in(data)[0].astype(int)
        seen.append((np.abs(picture - picture[2, 2]).max(axis=-1) > 60).mean())
    assert seen[0] < 0.001 < 0.005 < seen[1]


def test_only_a_take_stands_beside_what_it_was(demo: Demo, editor: Client) -> None:
    wanted = {"look": SMALL, "end": 2, "captured": True}
    refused = send(editor, "post", f"/api{clip(demo)}/prints", wanted)
    assert refused.status_code == 422
    assert refused.json()["message"] == "Only a take is printed beside what it was."
    through = {"look": {**SMALL, "view": "camera"}}
    refused = send(editor, "post", f"/api{clip(demo)}/prints", through)
    assert refused.json()["message"] == "“Amble” has no camera to look through."
    once = send(
        editor, "post", f"/api{clip(demo, 'Look back')}/prints", {"look": SMALL, "end": 9_000}
    )
    assert once.status_code == 202
    work()
    assert prints(editor, demo)[0]["frames"] < 9_000
