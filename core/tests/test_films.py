"""Films are read again: how many pictures, which, when, and what is heard with them (rule 9.2)."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from PIL import Image

from elastic_core.errors import Refusal
from elastic_core.formats.picture_files import written_png
from elastic_core.printing.film import PART_FRAMES, film_at, print_film
from elastic_core.printing.look import FilmForm, PrintLook
from elastic_core.printing.press import Picture, Press
from elastic_core.printing.sheet import Printed
from elastic_core.sound.document import HOUSE_RATE
from elastic_core.sound.samples import Samples, in_stereo

from .sounds import EVERY_SECONDS, bursts, centres
from .test_files_out import MATERIAL, SCENE

SIZE = (64, 48)
RATES = [Fraction(24), Fraction(24_000, 1_001), Fraction(25)]


def picture(number: int) -> Picture:
    """Grey by its number in the left half; red, green, blue in turn in the right one."""
    made = np.zeros((SIZE[1], SIZE[0], 3), dtype=np.uint8)
    made[:, : SIZE[0] // 2] = 20 + number % 200
    made[:, SIZE[0] // 2 :, number % 3] = 200
    return made


class Blank(Press):
    """Paints nothing, at once."""

    def __init__(self, rate: Fraction = Fraction(24)) -> None:
        scene = SCENE.model_copy(update={"rate": rate})
        self.printed = Printed(scene, MATERIAL, PrintLook(width=SIZE[0], height=SIZE[1]))
        self.painted: list[int] = []

    def frame(self, played: int) -> bytes:
        self.painted.append(played)
        return written_png(Image.fromarray(picture(played)))


def film(
    path: Path, form: FilmForm, rate: Fraction, frames: int, sounds: Samples | None = None
) -> None:
    """A film of so many pictures, in as many parts as it takes."""

    def heard(start: int, count: int) -> Samples:
        assert sounds is not None
        silence = np.zeros((count, 2), dtype=np.float32)
        return np.concatenate([sounds[start : start + count], silence])[:count]

    print_film(Blank(rate), range(frames), path, form, None if sounds is None else heard)


def read_sounds(path: Path) -> Samples:
    """What is heard, from second 0 on: every block where its own time says. [samples, 2]"""
    with av.open(str(path)) as held:
        stream = held.streams.audio[0]
        assert stream.rate == HOUSE_RATE
        blocks = [
            (round(block.pts * block.time_base * HOUSE_RATE), block.to_ndarray().T)
            for block in held.decode(stream)
        ]
    end = max(start + len(block) for start, block in blocks)
    whole = np.zeros((end, 2), dtype=np.float32)
    for start, block in blocks:
        kept = block[max(0, -start) :]
        whole[max(0, start) : max(0, start) + len(kept)] = kept
    return whole


@pytest.mark.parametrize("form", ["mp4", "webm"])
@pytest.mark.parametrize("rate", RATES, ids=str)
def test_every_picture_is_there_in_its_colours_at_its_time(
    tmp_path: Path, form: FilmForm, rate: Fraction
) -> None:
    path = tmp_path / f"film.{form}"
    film(path, form, rate, 50)
    with av.open(str(path)) as held:
        stream = held.streams.video[0]
        assert (stream.width, stream.height) == SIZE
        assert stream.average_rate == pytest.approx(rate, rel=1e-4)
        shown = [(frame.time, frame.to_ndarray(format="rgb24")) for frame in held.decode(stream)]
    assert len(shown) == 50
    for number, (time, pixels) in enumerate(shown):
        # Matroska counts milliseconds.
        assert time == pytest.approx(float(number / rate), abs=0.0011)
        grey = pixels[8:40, 4:20].reshape(-1, 3)
        assert np.abs(grey - (20.0 + number)).mean() < 4
        colours = pixels[8:40, 44:60].reshape(-1, 3).mean(axis=0)
        assert np.abs(colours - np.eye(3)[number % 3] * 200).max() < 12


@pytest.mark.parametrize("form", ["mp4", "webm"])
def test_sound_stands_where_it_was_laid_for_a_minute(tmp_path: Path, form: FilmForm) -> None:
    """Within a millisecond, from the first burst to the last; and as long as the pictures within a frame."""
    path = tmp_path / f"film.{form}"
    rate = Fraction(24_000, 1_001)
    frames = round(60 * rate)
    film(path, form, rate, frames, in_stereo(bursts(60)))
    samples = read_sounds(path)
    laid, found = np.array(centres(bursts(60))), np.array(centres(samples))
    assert len(found) == len(laid) == 60 / EVERY_SECONDS
    assert np.abs(found - laid).max() < 0.001
    assert abs(len(samples) / HOUSE_RATE - frames / rate) < 1 / rate


@pytest.mark.parametrize("form", ["mp4", "webm"])
@pytest.mark.parametrize("rate", RATES, ids=str)
def test_parts_are_joined_without_a_seam(tmp_path: Path, form: FilmForm, rate: Fraction) -> None:
    """Picture for picture as each part was encoded, at the times of one film."""
    path, frames = tmp_path / f"film.{form}", 2 * PART_FRAMES + 7
    film(path, form, rate, frames)
    with av.open(str(path)) as held:
        stream = held.streams.video[0]
        assert stream.average_rate == pytest.approx(rate, rel=1e-4)
        moments = list[int]()
        for packet in held.demux(stream):
            if packet.dts is not None:
                moments.append(packet.dts)
        assert len(moments) == frames
        assert (np.diff(moments) > 0).all()
        held.seek(0)
        shown = [(frame.time, frame.to_ndarray(format="rgb24")) for frame in held.decode(stream)]
    assert len(shown) == frames
    for number, (time, pixels) in enumerate(shown):
        assert time == pytest.approx(float(number / rate), abs=0.0011)
        grey = pixels[8:40, 4:20].reshape(-1, 3)
        assert np.abs(grey - (20.0 + number % 200)).mean() < 4


@pytest.mark.parametrize("form", ["mp4", "webm"])
def test_a_round_is_printed_as_often_as_it_is_wanted(tmp_path: Path, form: FilmForm) -> None:
    """Painted once; picture and sound begin again together, whatever a round's length in samples."""
    rate, rounds, length = Fraction(30_000, 1_001), 5, 41
    sounds, blank = in_stereo(bursts(4)), Blank(rate)
    path = tmp_path / f"film.{form}"

    def heard(start: int, count: int) -> Samples:
        return sounds[start : start + count]

    print_film(blank, range(15, 15 + length), path, form, heard, rounds=rounds)
    assert blank.painted == list(range(15, 15 + length))
    with av.open(str(path)) as held:
        stream = held.streams.video[0]
        shown = [(frame.time, frame.to_ndarray(format="rgb24")) for frame in held.decode(stream)]
    assert len(shown) == rounds * length
    for number, (time, pixels) in enumerate(shown):
        assert time == pytest.approx(float(number / rate), abs=0.0011)
        grey = pixels[8:40, 4:20].reshape(-1, 3)
        assert np.abs(grey - (20.0 + 15 + number % length)).mean() < 4
    samples = read_sounds(path)
    assert abs(len(samples) / HOUSE_RATE - rounds * length / rate) < 1 / rate
    once = [
        at - 15 / rate
        for at in centres(bursts(4))
        if 15 / rate < at - 0.1 < (15 + length) / rate - 0.2
    ]
    laid = [at + float(turn * length / rate) for turn in range(rounds) for at in once]
    found = np.array(centres(samples))
    assert max(np.abs(found - float(at)).min() for at in laid) < 0.001


class Kept(dict[int, bytes]):
    """Parts that outlive whoever prints."""

    def has(self, number: int) -> bool:
        return number in self

    def keep(self, number: int, part: Path) -> None:
        self[number] = part.read_bytes()

    def read(self, number: int) -> bytes:
        return self[number]


class Killed(Exception):
    pass


def test_what_was_printed_is_not_painted_again(tmp_path: Path) -> None:
    path, span, kept = tmp_path / "film.mp4", range(10, 10 + 2 * PART_FRAMES + 30), Kept()

    def until(done: int) -> None:
        if done == PART_FRAMES + 40:
            raise Killed

    first = Blank()
    with pytest.raises(Killed):
        print_film(first, span, path, "mp4", None, until, kept)
    assert (list(kept), path.exists()) == ([0], False)
    assert list(tmp_path.iterdir()) == []
    then, done = Blank(), list[int]()
    print_film(then, span, path, "mp4", None, done.append, kept)
    assert then.painted == list(span[PART_FRAMES:])
    assert done == [PART_FRAMES, *range(PART_FRAMES + 1, len(span) + 1)]
    whole = tmp_path / "whole.mp4"
    print_film(Blank(), span, whole, "mp4", None)
    assert path.read_bytes() == whole.read_bytes()


def test_of_a_range_that_is_heard_which_plays_there(tmp_path: Path) -> None:
    """From frame 30 on, for a minute less that; asked for in few pieces, none of them past its end."""
    path, asked, whole = tmp_path / "film.mp4", list[tuple[int, int]](), in_stereo(bursts(60))

    def heard(start: int, count: int) -> Samples:
        asked.append((start, count))
        return whole[start : start + count]

    done: list[int] = []
    print_film(Blank(), range(30, 60 * 24), path, "mp4", heard, done.append)
    assert done == list(range(1, 60 * 24 - 30 + 1))
    assert len(asked) == 6
    assert asked[0][0] == 30 * HOUSE_RATE // 24
    assert sum(asked[-1]) == 60 * HOUSE_RATE
    laid = np.array([at - 30 / 24 for at in centres(bursts(60)) if at > 1.5])
    found = np.array(centres(read_sounds(path)))
    assert np.abs(found[-len(laid) :] - laid).max() < 0.001


def test_what_cannot_be_written_is_said_and_nothing_stays(tmp_path: Path) -> None:
    lost = tmp_path / "no such folder" / "film.mp4"
    with pytest.raises(Refusal, match=r"film\.mp4 cannot be written"):
        film(lost, "mp4", RATES[0], 2)
    broken = tmp_path / "film.mp4"

    def breaks_off() -> None:
        with film_at(broken, "mp4", RATES[0], SIZE) as made:
            made.add(picture(0))
            raise Refusal("The page stopped.")

    with pytest.raises(Refusal, match="The page stopped"):
        breaks_off()
    assert not broken.exists()
