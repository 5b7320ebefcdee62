"""A motion file read as a stream, and its rows read again where they are wanted."""

from fractions import Fraction

import numpy as np
import pytest

from elastic_core.errors import Refusal
from elastic_core.formats import bvh, bvh_clip, bvh_rows
from elastic_core.formats.bvh_clip import (
    Wanted,
    bring_in,
    conformed,
    inspect,
    planned,
    take_windows,
)
from elastic_core.formats.bvh_motion import motion_from
from elastic_core.motion import join_runs

from .motions import FileStyle, bvh_text, bvh_values


def pieces(data: bytes, size: int) -> list[bytes]:
    return [data[start : start + size] for start in range(0, len(data), size)]


@pytest.mark.parametrize("line_end", ["\n", "\r\n", "\r"])
@pytest.mark.parametrize("size", [1, 7, 100, 1000])
def test_a_file_is_the_same_in_whatever_pieces_it_comes(
    line_end: str, size: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(bvh_rows, "BLOCK_BYTES", 64)
    values = bvh_values(12)
    data = bvh_text(values, FileStyle(line_end=line_end, mark=True))
    found = bvh.stream(pieces(data, size))
    blocks = list(found.blocks)
    assert np.array_equal(np.concatenate([block.values for block in blocks]), values)
    assert found.joints == bvh.read(data).joints
    assert found.declared_frames == 12


@pytest.mark.parametrize("line_end", ["\n", "\r\n", "\r"])
def test_rows_are_found_again_where_they_stand(
    line_end: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(bvh_rows, "BLOCK_BYTES", 512)
    values = bvh_values(60)
    data = bvh_text(values, FileStyle(line_end=line_end), declared=50)
    heard: list[int] = []
    index = bvh.indexed(bvh.stream(pieces(data, 300)), heard.append)
    fetched: list[tuple[int, int]] = []

    def fetch(ranges: list[tuple[int, int]]) -> list[bytes]:
        fetched.extend(ranges)
        return [data[start:end] for start, end in ranges]

    file = bvh.IndexedBvh(index, fetch)  # type: ignore[arg-type]
    assert (file.frames, file.channels, file.rate) == (60, 16, bvh.read(data).rate)
    assert "says 50 frames and holds 60" in file.warnings[0]
    assert heard == sorted(heard)
    assert heard[-1] == 60
    picked = np.array([59, 3, 4, 5, 3, 0])
    assert np.array_equal(file.rows(picked), values[picked])
    # Three pieces: 0, 3 to 5, and 59; no more of the file than those rows.
    assert len(fetched) == 3
    assert sum(end - start for start, end in fetched) < len(data) / 8
    assert file.rows(np.empty(0, dtype=np.intp)).shape == (0, 16)


def test_what_is_wrong_far_into_a_stream_is_told_by_its_frame(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(bvh_rows, "BLOCK_BYTES", 128)
    lines = bvh_text(bvh_values(40), FileStyle()).split(b"\n")
    lines[-5] = lines[-5].replace(b".", b"!", 1)
    found = bvh.stream(pieces(b"\n".join(lines), 90))
    with pytest.raises(Refusal, match=r"Frame 36, Hips Zrotation: “.*!.*” is not a number"):
        bvh.indexed(found)
    short = bvh_text(bvh_values(40), FileStyle(), declared=41)
    with pytest.raises(Refusal, match="says 41 frames and holds 40"):
        bvh.indexed(bvh.stream(pieces(short, 90)))


def test_a_byte_that_is_no_text_is_found_wherever_it_stands() -> None:
    data = bvh_text(bvh_values(200), FileStyle())
    assert len(data) > 3 * 4096
    with pytest.raises(Refusal, match="not text"):
        bvh.indexed(bvh.stream(pieces(data[:-30] + b"\0" + data[-30:], 4096)))


@pytest.mark.parametrize("rate", [None, Fraction(24), Fraction(24000, 1001), Fraction(240)])
def test_windows_of_a_take_are_the_take(
    rate: Fraction | None, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whatever the window, and although the root goes round and round."""
    values = bvh_values(500)
    values[:, 2] = np.arange(500) * 7.0 + 100
    file = bvh.read(bvh_text(values, FileStyle(order="ZXY")))
    wanted = Wanted(name="Long", start=3, end=480, rate=rate, is_cycle=False)
    plan = planned(file, wanted, "f")
    whole = conformed(
        motion_from(file, plan.metres_per_unit, slice(3, 480)), file.rate, plan.clip.rate
    )
    for size in (37, 64, 5000):
        monkeypatch.setattr(bvh_clip, "WINDOW_FRAMES", size)
        windows = list(take_windows(file, plan))
        assert max(window.frames for window in windows) <= size
        made = join_runs(windows)
        assert made.frames == plan.clip.length_frames == whole.frames
        assert np.array_equal(made.rotations, whole.rotations)
        assert np.array_equal(made.root_move, whole.root_move)
        assert np.abs(made.travel - whole.travel).max() < 1e-9
        assert all(np.array_equal(made.moves[j], whole.moves[j]) for j in whole.moves)
    assert abs(whole.travel[-1, 2] - whole.travel[0, 2]) > 3 * 2 * np.pi


def test_a_plan_reads_no_more_than_the_ends() -> None:
    values = bvh_values(400)
    values[399] = values[0]
    data = bvh_text(values, FileStyle())
    asked: list[int] = []

    def fetch(ranges: list[tuple[int, int]]) -> list[bytes]:
        asked.extend(end - start for start, end in ranges)
        return [data[start:end] for start, end in ranges]

    file = bvh.IndexedBvh(bvh.indexed(bvh.stream([data])), fetch)  # type: ignore[arg-type]
    plan = planned(file, Wanted(name="Round"), "f")
    assert (plan.is_cycle, plan.repeats, plan.end) == (True, True, 400)
    assert inspect(file).cycle_length_frames == 399
    assert inspect(file, 5, 300).cycle_length_frames is None
    assert sum(asked) < len(data) / 20
    there = bring_in(file, Wanted(name="Round"), "f")[1]
    here = bring_in(bvh.read(data), Wanted(name="Round"), "f")[1]
    assert there.clip == here.clip
    assert np.array_equal(there.samples.whole().rotations, here.samples.whole().rotations)
