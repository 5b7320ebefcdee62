"""Exposure sheets of lines and scenes: on paper, as CSV, and opened again."""

import csv
import io
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner

from elastic_core.beats import Beat
from elastic_core.command_line import app
from elastic_core.errors import Refusal
from elastic_core.formats.scene_file import scene_file
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.sounds import SetSoundLane
from elastic_core.scene.material import Material
from elastic_core.sheet.as_csv import columns_in, csv_of
from elastic_core.sheet.as_pdf import ROWS_A_PAGE, pdf_of
from elastic_core.sheet.changed import changes_in
from elastic_core.sheet.document import Sheet, SheetColumn
from elastic_core.sheet.of_line import sheet_of_line
from elastic_core.sheet.of_scene import sheet_of_scene
from elastic_core.voice.blinks import Blink, blinks_of
from elastic_core.voice.chart import Mouth, usual_mouths
from elastic_core.voice.exposing import MouthByHand, MouthRules, MouthRun
from elastic_core.voice.line import Line, Note, run_of
from elastic_core.voice.line_edits import edit_line
from elastic_core.voice.reading import Stretch
from elastic_core.voice.said import phones_on, words_on

from .test_spoken_lanes import CHART, LAY, MATERIAL, SCENE, at_half, mouths
from .voices import reading_of

MOUTHS = usual_mouths()
PHONES = [("L", 0.5, 0.6), ("AE", 0.6, 0.8), ("M", 0.8, 0.9), ("P", 0.9, 1.0), ("T", 1.4, 1.5)]
LINE = Line(
    name="Lamp, 灯",
    sound="voice",
    reading=reading_of(PHONES, 2.0),
    rules=MouthRules(on=2),
    by_hand=(MouthByHand(frame=30, length=4, mouth="smile"),),
    notes=(Note(frame=3, text="=turns his head"),),
)
FRAMES = 48


def run(line: Line) -> MouthRun:
    return run_of(line, MOUTHS, 2.0)


def rows(sheet: Sheet) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(csv_of(sheet), newline="")))


def taken(line: Line, data: bytes) -> Line:
    edit = changes_in(data, line, MOUTHS, run(line))
    return edit_line(line, edit, run(line)).line


def told(line: Line) -> bytes:
    return csv_of(sheet_of_line(line, MOUTHS, run(line))).encode()


def changed(line: Line, frame: int, **cells: str) -> bytes:
    """The line's sheet with other text in some cells of a row."""
    kept = rows(sheet_of_line(line, MOUTHS, run(line)))
    kept[frame] |= {name.capitalize(): text for name, text in cells.items()}
    out = io.StringIO(newline="")
    writer = csv.DictWriter(out, list(kept[0]))
    writer.writeheader()
    writer.writerows(kept)
    return out.getvalue().encode()


def test_a_line_has_a_row_a_frame_and_writes_each_thing_where_it_begins() -> None:
    written = rows(sheet_of_line(LINE, MOUTHS, run(LINE)))
    assert [row["Frame"] for row in written] == [str(k) for k in range(1, FRAMES + 1)]
    assert (written[12]["Seconds"], written[12]["Word"], written[12]["Phone"]) == (
        "0.500",
        "line",
        "l",
    )
    assert [k for k, row in enumerate(written) if row["Phone"]] == [12, 14, 19, 21, 33]
    drawn = {k: row["Mouth"] for k, row in enumerate(written) if row["Mouth"]}
    assert drawn == {one.frame: str(one.drawing) for one in run(LINE).exposures}
    # A spreadsheet does not work it out.
    assert written[3]["Notes"] == "'=turns his head"


def test_what_was_written_opens_again_and_changes_nothing() -> None:
    with pytest.raises(Refusal, match="Nothing was changed"):
        taken(LINE, told(LINE))
    found = columns_in(told(LINE), 1, FRAMES)
    assert found["notes"] == {3: "=turns his head"}


@given(st.integers(0, 47), st.sampled_from(MOUTHS.mouths), st.booleans())
def test_a_mouth_changed_outside_is_by_hand_from_there_to_the_next(
    frame: int, one: Mouth, by_name: bool
) -> None:
    before = run(LINE)
    written = one.name.upper() if by_name else str(one.drawing)
    if before.at(frame).mouth == one.key and before.at(frame).frame == frame:
        return
    after = run(taken(LINE, changed(LINE, frame, mouth=written)))
    starts = [exposed.frame for exposed in before.exposures]
    end = next((start for start in starts if start > frame), FRAMES)
    shown = after.at(frame)
    assert (shown.frame, shown.end, shown.mouth, shown.reason) == (frame, end, one.key, "by hand")
    for k in range(FRAMES):
        if k < frame or k >= end:
            assert after.at(k).mouth == before.at(k).mouth


def test_eyes_go_out_with_their_line_and_come_back_as_blinks() -> None:
    line = LINE.model_copy(update={"blinks": (Blink(frame=8, length=4), Blink(frame=40, length=3))})
    drawn = {
        k: row["Eyes"]
        for k, row in enumerate(rows(sheet_of_line(line, MOUTHS, run(line))))
        if row["Eyes"]
    }
    assert drawn == {0: "1", 8: "2", 9: "3", 11: "2", 12: "1", 40: "2", 41: "3", 42: "2", 43: "1"}
    with pytest.raises(Refusal, match="Nothing was changed"):
        taken(line, told(line))
    # A half on frame 21 that goes on to a closed and an open one is a blink of its own.
    data = told(line).decode().splitlines()
    for frame, drawing in ((20, "half"), (21, "3"), (24, "Open")):
        data[frame + 1] = data[frame + 1].removesuffix(",") + f",{drawing}"
    again = taken(line, "\n".join(data).encode())
    assert again.blinks == (line.blinks[0], Blink(frame=20, length=4), line.blinks[1])
    assert again.by_hand == line.by_hand
    # Without that column they stay as they are.
    without = "\n".join(one.rpartition(",")[0] for one in told(line).decode().splitlines())
    noted = without.replace(",,,,", ",looks up,,,", 1)
    assert taken(line, noted.encode()).blinks == line.blinks
    with pytest.raises(Refusal, match="Frame 6: the eyes have no drawing “wink”"):
        taken(line, changed(line, 5, eyes="wink"))


def test_eyes_that_never_open_are_told() -> None:
    assert blinks_of(["open"] * 3 + ["closed"] + ["open"]) == (Blink(frame=3, length=2),)
    with pytest.raises(Refusal, match="Frame 2: eyes stay shut for 240 frames at the most"):
        blinks_of(["open", *["closed"] * 241])


def test_notes_come_back_and_spreadsheets_may_have_their_way_with_it() -> None:
    again = taken(LINE, changed(LINE, 5, notes="blinks, twice"))
    assert again.notes == (LINE.notes[0], Note(frame=5, text="blinks, twice"))
    lines = changed(LINE, 20, mouth="7.0").decode().replace(",", ";").replace("\r\n", "\n")
    assert run(taken(LINE, b"\xef\xbb\xbf" + lines.encode())).at(20).mouth == "o"


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no column of it is called “Frame”"),
        (b"Row,Mouth\n1,5\n", "no column of it is called “Frame”"),
        (b"Frame,Word\n1,lamp\n", "No column of the sheet is called “Mouth”"),
        (b"Frame,Mouth\n1,gasp\n", "Frame 1: the chart has no mouth “gasp”"),
        (b"Frame,Mouth\none,5\n", "Row 2 has no frame but “one”"),
        (b"Frame,Mouth\n49,5\n", "Row 2 is frame 49; the sheet has 1 to 48"),
        (b"Frame,Mouth\n3,5\n3,6\n", "Row 3 has frame 3 once more"),
        (b"\xff\xfe\x00F", "not text in UTF-8"),
        (b"Frame,Mouth\n1,\x00\n", "it is not text"),
    ],
)
def test_what_is_no_sheet_says_so(data: bytes, says: str) -> None:
    with pytest.raises(Refusal, match=says):
        taken(LINE, data)


def spoken() -> tuple[Scene, Material]:
    """The keeper on his stage, with his line laid on him."""
    return apply_edit(SCENE, LAY, MATERIAL).scene, MATERIAL


def test_a_scene_has_a_column_a_lane_and_what_is_said() -> None:
    scene, material = spoken()
    beat = Beat(id="b", name="Speaks", colour="ochre", start=6, end=10)
    sheet = sheet_of_scene(scene.model_copy(update={"beats": (beat,)}), material)
    by_name = {column.name: column for column in sheet.columns}
    assert sheet.frames == scene.played_frames
    assert [(cell.frame, cell.text) for cell in by_name["Notes"].cells] == [(6, "Speaks")]
    drawn = next(column for column in sheet.columns if column.kind == "drawings")
    said = next(column for column in sheet.columns if column.kind == "said")
    line = material.lines[LAY.line]
    shown = [cell.text for cell in drawn.cells for _ in range(cell.length)]
    assert shown == [str(number) for number in mouths(scene)]
    second = drawn.cells[1]
    assert second.strokes == CHART.mouths[int(second.text) - 1].strokes
    first = line.line.reading.words[0]  # type: ignore[union-attr]
    assert (said.cells[0].frame, said.cells[0].text) == (
        LAY.start + int(first.start * 24),
        first.word,
    )


def test_at_half_the_pace_every_hold_is_twice_as_long_and_words_in_their_own_time_stay() -> None:
    scene, material = spoken()
    whole = sheet_of_scene(scene, material)
    slow = sheet_of_scene(at_half(scene), material)

    def column(sheet: Sheet, kind: str) -> list[tuple[int, str]]:
        found = next(one for one in sheet.columns if one.kind == kind)
        return [(cell.frame, cell.text) for cell in found.cells]

    assert slow.frames == 2 * whole.frames
    assert column(slow, "said") == column(whole, "said")
    assert column(slow, "drawings") == column(whole, "drawings")
    by_scene = apply_edit(scene, SetSoundLane(lane="voices", keeps_own_time=False), material).scene
    followed = sheet_of_scene(at_half(by_scene), material)
    for kind in ("said", "drawings"):
        wanted = [(2 * frame, text) for frame, text in column(whole, kind)]
        assert column(followed, kind) == wanted


def test_a_sheet_is_printed_on_as_many_pages_as_it_takes() -> None:
    sheet = sheet_of_line(LINE, MOUTHS, run(LINE))
    paper = pdf_of(sheet)
    assert paper.startswith(b"%PDF-")
    assert paper.count(b"/Type /Page\n") == 1
    # The same sheet is the same paper, to the byte.
    assert pdf_of(sheet) == paper
    long = replace(sheet, frames=3 * ROWS_A_PAGE + 1)
    assert pdf_of(long).count(b"/Type /Page\n") == 4
    wide = replace(sheet, columns=tuple(SheetColumn(f"Lane {k}", "clips", ()) for k in range(10)))
    assert pdf_of(wide).count(b"/Type /Page\n") == 2
    with pytest.raises(Refusal, match=r"pages\. Print a shorter scene"):
        pdf_of(replace(sheet, frames=200_000))


def test_hours_sheet_writes_both_and_says_what_it_cannot(tmp_path: Path) -> None:
    scene, material = spoken()
    file = tmp_path / "tide.scene.json"
    file.write_text(scene_file(scene, material).model_dump_json(), encoding="utf-8")
    for name in ("tide.csv", "tide.PDF"):
        done = CliRunner().invoke(app, ["sheet", str(file), "--out", str(tmp_path / name)])
        assert done.exit_code == 0, done.output
    written = list(csv.DictReader((tmp_path / "tide.csv").open(encoding="utf-8", newline="")))
    assert len(written) == scene.played_frames
    assert (tmp_path / "tide.PDF").read_bytes().startswith(b"%PDF-")
    refused = CliRunner().invoke(app, ["sheet", str(file), "--out", str(tmp_path / "tide.txt")])
    assert (refused.exit_code, refused.stderr) == (1, "A sheet is written as .csv or .pdf.\n")


def test_pauses_are_written_where_nothing_is_said() -> None:
    pauses = (Stretch(start=1.0, end=1.4),)
    assert LINE.reading is not None
    paused = LINE.reading.model_copy(update={"pauses": pauses})
    (first, pause) = words_on(paused, 24.0, FRAMES)
    assert (first.frame, first.length, first.text) == (12, 12, "line")
    assert (pause.frame, pause.length, pause.text) == (24, 9, "pause")
    assert [one.text for one in phones_on(paused, 24.0, FRAMES)] == ["l", "ae", "m", "p", "t"]
