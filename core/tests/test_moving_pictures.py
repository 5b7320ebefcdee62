"""Pictures that move, contact sheets, two prints side by side, and clips as scenes: read again (rule 9.1)."""

import io
import re
import zipfile
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageSequence

from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.clip.playing import playable_of, walking_in_place
from elastic_core.curve import Curve, Key
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.formats.picture_files import written_png
from elastic_core.printing.at_rate import AtRate
from elastic_core.printing.beside import Beside, half_of
from elastic_core.printing.contact import PAGE_COLUMNS, PAGE_ROWS, print_contact
from elastic_core.printing.keyed import every, key_frames
from elastic_core.printing.look import MovingForm, PrintForm, PrintLook, checked_form
from elastic_core.printing.moving import durations_ms, print_moving
from elastic_core.printing.sequence import print_zip
from elastic_core.scene.document import Scene
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.material import Material
from elastic_core.scene.of_clip import MEMBER, scene_of_clip
from elastic_core.sound.samples import Samples

from .motions import small_figure, turning_cycle
from .test_files_out import MATERIAL, SCENE
from .test_films import SIZE, Blank, picture

FIGURE = small_figure()


class Clear(Blank):
    """Paints a number's grey on nothing."""

    def frame(self, played: int) -> bytes:
        made = np.zeros((SIZE[1], SIZE[0], 4), dtype=np.uint8)
        made[:, : SIZE[0] // 2] = [20 + played, 20 + played, 20 + played, 255]
        return written_png(Image.fromarray(made))


def shown(path: Path) -> tuple[list[np.ndarray], list[int]]:
    """The pictures of a moving one, and how long each shows in milliseconds."""
    with Image.open(path) as held:
        assert held.info["loop"] == 0
        frames = list[np.ndarray]()
        times = list[int]()
        for one in ImageSequence.Iterator(held):
            frames.append(np.asarray(one.convert("RGB")))
            times.append(int(one.info["duration"]))
        return frames, times


@given(
    st.sampled_from(["24", "25", "30", "24000/1001", "12", "50", "15"]),
    st.integers(1, 400),
    st.sampled_from(["webp", "gif"]),
)
def test_a_round_lasts_as_long_as_its_frames(rate: str, frames: int, form: MovingForm) -> None:
    shown_ms = durations_ms(frames, Fraction(rate), form)
    tick = 1 if form == "webp" else 10
    assert len(shown_ms) == frames
    assert all(one > 0 and one % tick == 0 for one in shown_ms)
    # Nowhere on the way is it off by more than half of what the form can tell.
    ends = np.cumsum(shown_ms)
    wanted = [float(Fraction(k * 1_000) / Fraction(rate)) for k in range(1, frames + 1)]
    assert np.abs(ends - wanted).max() <= tick / 2
    assert max(shown_ms) - min(shown_ms) <= tick


def test_a_webp_is_every_picture_as_it_was_painted(tmp_path: Path) -> None:
    path, told = tmp_path / "flame.webp", list[int]()
    print_moving(Blank(), range(30, 54), path, "webp", told.append)
    frames, times = shown(path)
    assert told == list(range(1, 25))
    assert len(frames) == 24
    assert sum(times) == 1_000
    assert all(np.array_equal(one, picture(30 + k)) for k, one in enumerate(frames))


def test_a_gif_has_one_palette_and_the_colours_that_are_there(tmp_path: Path) -> None:
    path = tmp_path / "flame.gif"
    print_moving(Blank(), range(24), path, "gif")
    frames, times = shown(path)
    assert (len(frames), sum(times)) == (24, 1_000)
    # What is still in all of them is the same colour in all of them: nothing flickers.
    for k, one in enumerate(frames):
        assert np.abs(one.astype(int) - picture(k)).max() <= 12
        assert np.array_equal(one[:, 40, (k + 1) % 3], frames[0][:, 40, 1])


def test_without_paper_what_is_not_painted_is_clear(tmp_path: Path) -> None:
    print_moving(Clear(), range(5), tmp_path / "clear.webp", "webp")
    with Image.open(tmp_path / "clear.webp") as held:
        rows = [np.asarray(one.convert("RGBA")) for one in ImageSequence.Iterator(held)]
    assert all((one[:, 40:, 3] == 0).all() and (one[:, :32, 3] == 255).all() for one in rows)
    print_contact(Clear(), [1, 2], tmp_path / "clear.png", "contact", "", transparent=True)
    with Image.open(tmp_path / "clear.png") as sheet:
        assert sheet.mode == "RGBA"
        assert sheet.getpixel((1, 1)) == (0, 0, 0, 0)
    look = PrintLook(transparent=True)
    for form in ("png", "webp", "contact"):
        checked_form(form, look)
    refused: tuple[PrintForm, ...] = ("mp4", "webm", "gif", "pdf")
    for form in refused:
        with pytest.raises(Refusal, match="Without its paper a print is numbered PNG pictures"):
            checked_form(form, look)


def test_what_a_form_cannot_show_is_said(tmp_path: Path) -> None:
    with pytest.raises(Refusal, match="A GIF shows 50 pictures a second at the most"):
        print_moving(Blank(Fraction(60)), range(4), tmp_path / "fast.gif", "gif")
    with pytest.raises(Refusal, match=re.escape("A WebP of 64 × 48 has 39,062 frames at the most")):
        print_moving(Blank(), range(39_063), tmp_path / "long.webp", "webp")
    nowhere = tmp_path / "nowhere" / "lamp.webp"
    with pytest.raises(Refusal, match="cannot be written: there is no folder"):
        print_moving(Blank(), range(3), nowhere, "webp")
    (tmp_path / "in the way.gif").mkdir()
    with pytest.raises(Refusal, match=r"in the way\.gif cannot be written"):
        print_moving(Blank(), range(3), tmp_path / "in the way.gif", "gif")


def test_numbered_pictures_in_one_file(tmp_path: Path) -> None:
    print_zip(Blank(), range(98, 102), tmp_path / "pictures.zip")
    with zipfile.ZipFile(tmp_path / "pictures.zip") as held:
        names = held.namelist()
        assert names == [f"frame {number:04}.png" for number in range(98, 102)]
        with Image.open(io.BytesIO(held.read(names[2]))) as image:
            assert np.array_equal(np.asarray(image.convert("RGB")), picture(100))


@pytest.mark.parametrize(
    ("rate", "first", "count"),
    [
        ("12", [98, 100, 102], 12),
        ("24", [98, 99, 100], 24),
        ("30", [98, 98, 99, 100, 101, 102, 102], 30),
        ("48", [98, 98, 99, 99], 48),
    ],
)
def test_at_another_rate_each_picture_is_the_frame_that_stands_then(
    tmp_path: Path, rate: str, first: list[int], count: int
) -> None:
    film = AtRate(Blank(), range(98, 122), Fraction(rate))
    assert film.size == SIZE
    assert film.pictures == range(count)
    shown = [98 + film.shown(number) for number in film.pictures]
    assert shown[: len(first)] == first
    assert shown[-1] in (120, 121)
    assert sorted(set(shown)) == shown if count <= 24 else set(shown) == set(range(98, 122))
    with Image.open(io.BytesIO(film.frame(2))) as image:
        assert np.array_equal(np.asarray(image.convert("RGB")), picture(first[2]))
    print_moving(film, film.pictures, tmp_path / "rate.webp", "webp")
    with Image.open(tmp_path / "rate.webp") as held:
        times = [one.convert("RGB").info["duration"] for one in ImageSequence.Iterator(held)]
    assert sum(times) == 1_000


def test_what_is_heard_at_another_rate_begins_with_the_first_picture() -> None:
    film = AtRate(Blank(), range(48, 72), Fraction(12))
    asked: list[tuple[int, int]] = []

    def heard(start: int, count: int) -> Samples:
        asked.append((start, count))
        return np.zeros((count, 2), dtype=np.float32)

    found = film.heard(heard)
    assert found is not None
    assert found(10, 5).shape == (5, 2)
    assert asked == [(96_010, 5)]
    assert film.heard(None) is None


def test_a_contact_sheet_has_its_frames_in_rows(tmp_path: Path) -> None:
    frames = every(range(10, 70), 5)
    assert frames == list(range(10, 70, 5))
    print_contact(Blank(), frames, tmp_path / "sheet.png", "contact", "Sc 04")
    with Image.open(tmp_path / "sheet.png") as held:
        sheet = np.asarray(held.convert("RGB"))
    gap = 4
    # Twelve of 64 × 48 lie four by three, as wide as a desk.
    assert sheet.shape == (3 * (48 + gap) + gap, 4 * (64 + gap) + gap, 3)
    for place, frame in enumerate(frames):
        row, column = divmod(place, 4)
        top, left = gap + row * (48 + gap), gap + column * (64 + gap)
        assert np.array_equal(sheet[top : top + 48, left : left + 64], picture(frame))
    with pytest.raises(Refusal, match="400 frames at the most, not 401"):
        print_contact(Blank(), range(401), tmp_path / "much.png", "contact", "")
    with pytest.raises(Refusal, match="There are no frames to print"):
        print_contact(Blank(), [], tmp_path / "none.png", "contact", "")


def test_pages_hold_sixteen_and_say_what_they_are(tmp_path: Path) -> None:
    path = tmp_path / "sheet.pdf"
    print_contact(Blank(), list(range(33)), path, "pdf", "灯台 の 夜, rev 3")
    text = path.read_bytes()
    assert PAGE_COLUMNS * PAGE_ROWS == 16
    assert len(re.findall(rb"/Type /Page\b", text)) == 3
    assert len(set(re.findall(rb"/FormXob\.[0-9a-f]+", text))) == 33


def test_two_prints_side_by_side_end_with_the_longer(tmp_path: Path) -> None:
    short, long = Blank(), Blank()
    last = short.printed.scene.played_frames - 1
    both = Beside(short, long)
    assert both.size == (128, 48)
    for played in (3, last + 7):
        with Image.open(io.BytesIO(both.frame(played))) as image:
            pixels = np.asarray(image)
        assert np.array_equal(pixels[:, :64], picture(min(played, last)))
        assert np.array_equal(pixels[:, 64:], picture(min(played, last)))
    print_moving(both, range(12), tmp_path / "both.webp", "webp")
    assert len(shown(tmp_path / "both.webp")[0]) == 12
    assert [half_of(width) for width in (1_280, 1_282, 1_920, 16)] == [640, 640, 960, 16]


def hauls(times: tuple[float, ...], length: int, *, is_cycle: bool = True) -> PlayableClip:
    """A clip of one joint with keys at these frames."""
    keys = tuple(Key(time=time, value=3 * place) for place, time in enumerate(times))
    clip = Clip(
        name="Hauls", figure="k", rate=Fraction(24), length_frames=length, is_cycle=is_cycle,
        keys={f"{FIGURE.names[1]}.turn.x": Curve(keys=keys)},
    )  # fmt: skip
    return playable_of(FIGURE, clip)


def hauling(times: tuple[float, ...], length: int, frames: int) -> tuple[Scene, Material]:
    """The same as a cycle by itself, round and round."""
    clip = hauls(times, length)
    return scene_of_clip("hauls", clip, "Odo", frames), Material.of_clips(
        {"k": FIGURE}, [("hauls", clip)]
    )


def test_frames_with_keys_are_those_that_were_drawn() -> None:
    scene, material = hauling((0, 5, 12), 20, 60)
    found = key_frames(scene, material, range(60))
    assert found == [0, 5, 12, 20, 25, 32, 40, 45, 52]
    # In half the pace each comes up at twice its frame; a key between two frames shows on the next one.
    halved = Elastic(pins=(Pin(played=0, source=0), Pin(played=60, source=30)))
    slow = scene.model_copy(update={"elastic": halved})
    assert key_frames(slow, material, range(60)) == [0, 10, 24, 40, 50]
    between, material = hauling((0, 6.5), 20, 20)
    assert key_frames(between, material, range(20)) == [0, 7]
    assert key_frames(between, material, range(3, 20)) == [3, 7]
    # Of a half that follows the other the keys are as much.
    linked = hauls((0, 5), 20)
    linked = playable_of(FIGURE, linked.clip.model_copy(update={"half_linked": True}))
    both = Material.of_clips({"k": FIGURE}, [("hauls", linked)])
    assert key_frames(scene_of_clip("hauls", linked, "Odo"), both, range(20)) == [0, 5, 10, 15]
    with pytest.raises(Refusal, match="has keys: print every so many frames"):
        key_frames(SCENE, MATERIAL, range(20))


def test_a_clip_by_itself_plays_as_it_is() -> None:
    scene, material = hauling((0, 5, 12), 20, 47)
    assert (scene.played_frames, scene.first_frame) == (47, 0)
    (posed,) = frames_of(scene, material, np.arange(47.0))
    alone = hauls((0, 5, 12), 20).samples.whole().rotations
    assert posed.figure.id == MEMBER
    assert np.abs(posed.motion.rotations - alone[np.arange(47) % 20]).max() < 1e-12
    # In place it does the same, and goes nowhere.
    round_clip = turning_cycle()
    walks = Material.of_clips({"keeper": FIGURE}, [("round", round_clip)])
    still = Material.of_clips({"keeper": FIGURE}, [("round", walking_in_place(round_clip))])
    both = [
        frames_of(scene_of_clip("round", one, "Odo", 50), held, np.arange(50.0))[0].motion
        for one, held in ((round_clip, walks), (walking_in_place(round_clip), still))
    ]
    assert np.abs(both[0].travel[-1]).max() > 0.5
    assert np.abs(both[1].travel).max() < 1e-9
    assert np.abs(both[0].rotations - both[1].rotations).max() < 1e-9
    once = hauls((0, 5), 20, is_cycle=False)
    assert scene_of_clip("hauls", once, "Odo").played_frames == 20
    with pytest.raises(Refusal, match="“Hauls” plays once, and has 20 frames"):
        scene_of_clip("hauls", once, "Odo", 21)
