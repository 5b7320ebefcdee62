"""The voice room: a line read, exposed, changed by hand on its sheet, and said by Odo in a scene."""

import csv
import io
import json
import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from .conftest import add_account
from .desk import Desk, still, until
from .test_sounds import drop

LINES = Path(__file__).resolve().parents[2] / "core" / "tests" / "lines"
SPOKEN = json.loads((LINES / "lines.json").read_text(encoding="utf-8"))[4]


@dataclass
class Voice:
    """The voice room with a line of its own."""

    page: Page
    address: str

    @property
    def line(self) -> dict[str, Any]:
        """The line as the server has it."""
        id = self.page.url.rsplit("/", 1)[-1]
        found: dict[str, Any] = self.page.request.get(f"{self.address}/api/lines/{id}").json()
        return found["line"]  # type: ignore[no-any-return]

    def column(self) -> list[str]:
        """The mouth on each frame."""
        return [one["mouth"] for one in self.line["run"] for _ in range(one["length"])]

    def at(self, frame: int) -> dict[str, Any]:
        """What is exposed on a frame, from 0."""
        return next(  # type: ignore[no-any-return]
            one for one in self.line["run"] if one["frame"] <= frame < one["frame"] + one["length"]
        )

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def go_to(self, frame: int) -> None:
        """Stand on a frame, from 1."""
        self.press("Home", *["Shift+ArrowRight"] * ((frame - 1) // 10))
        self.press(*["ArrowRight"] * ((frame - 1) % 10))
        expect(self.page.get_by_test_id("frame")).to_have_text(f"{frame:03}")

    def saved(self, label: str) -> None:
        undo = self.page.get_by_role("button", name=f"Undo: {label} (Ctrl+Z)", exact=True)
        expect(undo).to_be_visible()

    def undone(self, label: str) -> None:
        self.saved(label)
        self.press("Control+z")
        redo = self.page.get_by_role("button", name=f"Redo: {label} (Ctrl+Shift+Z)", exact=True)
        expect(redo).to_be_visible()

    def row(self, frame: int) -> Locator:
        """A row of the sheet, by the frame it shows."""
        header = self.page.get_by_role("rowheader", name=str(frame), exact=True)
        return self.page.get_by_role("row").filter(has=header)

    def read(self) -> None:
        """The reading that is under way has ended."""
        expect(self.page.get_by_role("status", name="Reading the sound")).to_have_count(0)
        until(self.page, lambda: self.line["is_read"])


@pytest.fixture
def voice(desk: Desk) -> Voice:
    """A copy of Odo's line, opened."""
    page = desk.page
    desk.copy_of("lines", "Odo, line 1")
    room = Voice(page, desk.address)
    expect(page.get_by_role("region", name="Exposure sheet")).to_be_visible()
    expect(room.row(1)).to_be_visible()
    return room


def test_a_sound_of_the_library_becomes_a_read_line_in_three_deeds(desk: Desk) -> None:
    page = desk.page
    desk.come_in()
    name = "Odo calls the gull"
    page.get_by_role("button", name=f"Make a line of {name}").click()
    page.get_by_label("What is said").fill("Come down from the lamp, you thieving bird!")
    page.get_by_role("button", name="Expose the line").click()
    room = Voice(page, desk.address)
    expect(page.get_by_role("region", name="Exposure sheet")).to_be_visible()
    room.read()
    line = room.line
    assert [word["word"] for word in line["reading"]["words"]][:3] == ["Come", "down", "from"]
    # The rest of what he calls is in no text, and that is told.
    assert line["reading"]["extra"]
    expect(page.get_by_text("there is speech that the text lacks").first).to_be_visible()
    assert line["told"]["closures_shown"] == line["told"]["closures_wanted"] > 0
    expect(page.get_by_role("button", name="Come", exact=True)).to_be_visible()


def test_words_are_written_along_the_wave(voice: Voice) -> None:
    page = voice.page
    spoken = [word["word"] for word in voice.line["reading"]["words"]]
    # The word here is taken for another one, said as it is typed.
    voice.press("Home", ".", "w")
    page.keyboard.type("Free /f r iy/")
    voice.press("Enter")
    voice.saved("Write “Free”")
    expect(page.get_by_role("button", name="Free", exact=True)).to_be_visible()
    word = voice.line["reading"]["words"][0]
    assert [phone["phone"] for phone in word["phones"]] == ["F", "R", "IY"]
    assert voice.line["said"]["free"] == "F R IY"
    # Escape and a field that is left as it was change nothing.
    voice.press("Home", ".", "w")
    page.keyboard.type("Nothing")
    voice.press("Escape", "w", "Enter")
    expect(page.get_by_role("textbox", name=re.compile("^Words from"))).to_have_count(0)
    assert voice.line["reading"]["words"][0]["word"] == "Free"
    # Drawn over the silence before the first word, past the edge of the desk.
    row = page.locator(".voice-words")
    box, first = (
        row.bounding_box(),
        page.get_by_role("button", name="Free", exact=True).bounding_box(),
    )
    assert box
    assert first
    y = box["y"] + box["height"] / 2
    Desk(page, voice.address).draw((first["x"] - 10, y), (box["x"] + 20, y))
    page.keyboard.type("Oh")
    voice.press("Enter")
    voice.saved("Write “Oh”")
    words = voice.line["reading"]["words"]
    assert [word["word"] for word in words] == ["Oh", "Free", *spoken[1:]]
    assert words[0]["start"] == 0
    # An empty one takes it away; and all of it is taken back.
    voice.press("Home", "w")
    voice.press("Delete", "Enter")
    voice.saved("Take words away")
    for _ in range(3):
        voice.press("Control+z")
    until(page, lambda: [w["word"] for w in voice.line["reading"]["words"]] == spoken)


def test_a_sheet_is_filled_for_two_seconds_by_keys_alone(voice: Voice) -> None:
    page = voice.page
    before = voice.column()
    # A mouth is written on a frame, held longer, and shorter again.
    voice.go_to(5)
    voice.press("5")
    voice.saved("Expose ai on 5")
    length = voice.at(4)["length"]
    voice.press("Alt+ArrowDown")
    voice.saved(f"Hold ai for {length + 1} frames")
    assert voice.at(4)["length"] == length + 1
    voice.press("Alt+ArrowUp")
    voice.saved(f"Hold ai for {length} frames")
    assert voice.at(4)["length"] == length
    # Cut in on twos for half a second; then that half second again until two are full.
    for frame, digit in ((1, "1"), (3, "2"), (5, "7"), (7, "8"), (9, "6"), (11, "0")):
        voice.go_to(frame)
        voice.press(digit)
        key = {m["drawing"]: m["key"] for m in voice.line["mouths"]}[int(digit) or 10]
        voice.saved(f"Expose {key} on {frame}")
    voice.go_to(1)
    voice.press(*["Shift+ArrowDown"] * 11)
    voice.press("f")
    voice.saved("Fill 1–12 on twos")
    voice.press("r")
    voice.saved("Repeat 1–12")
    voice.press("Escape")
    voice.go_to(1)
    voice.press(*["Shift+ArrowDown"] * 23, "Control+c", "Escape")
    voice.go_to(25)
    voice.press("Control+v")
    expect(page.get_by_role("button", name="Undo: Expose 12 mouths")).to_be_visible()
    twelve = ["rest", "mbp", "o", "uw", "e", "smile"]
    filled = [mouth for mouth in twelve for _ in range(2)] * 4
    column = voice.column()
    assert column[:48] == filled
    assert column[49:] == before[49:]
    expect(voice.row(3)).to_contain_text("2")
    expect(voice.row(3)).to_contain_text("✓")
    # A note is written, and what was set by hand is left to the rules again.
    voice.go_to(4)
    voice.press("n")
    page.keyboard.type("looks up")
    voice.press("Enter")
    voice.saved("Write a note")
    expect(voice.row(4)).to_contain_text("looks up")
    voice.press("Control+a", "Delete")
    voice.saved("Leave it to the rules")
    assert voice.column() == before


def test_the_sheet_goes_out_is_changed_elsewhere_and_opens_again(
    voice: Voice, tmp_path: Path
) -> None:
    page = voice.page
    tools = page.get_by_role("button", name="What to do with the sheet")
    before = voice.column()

    def out(item: str) -> bytes:
        tools.click()
        with page.expect_download() as download:
            page.get_by_text(item).click()
        return Path(download.value.path()).read_bytes()

    assert out("Print it, as PDF").startswith(b"%PDF-")
    rows = list(csv.DictReader(io.StringIO(out("Take it out as CSV").decode(), newline="")))
    assert len(rows) == len(before)
    rows[20]["Mouth"] = "10"
    rows[2]["Notes"] = "Breathes in"
    changed = tmp_path / "line 1.csv"
    with changed.open("w", encoding="utf-8-sig", newline="") as file:
        writer = csv.DictWriter(file, list(rows[0]), delimiter=";")
        writer.writeheader()
        writer.writerows(rows)
    page.get_by_test_id("sheet-file").set_input_files(changed)
    voice.saved("Open the sheet again")
    shown = voice.at(20)
    assert (shown["frame"], shown["mouth"], shown["reason"]) == (20, "smile", "by hand")
    after = voice.column()
    end = shown["frame"] + shown["length"]
    assert after[:20] + after[end:] == before[:20] + before[end:]
    expect(voice.row(3)).to_contain_text("Breathes in")
    page.get_by_test_id("sheet-file").set_input_files(changed)
    expect(page.get_by_text("Nothing was changed on that sheet.")).to_be_visible()
    broken = tmp_path / "no sheet.csv"
    broken.write_text("Frame,Mouth\n1,gasp\n", encoding="utf-8")
    page.get_by_test_id("sheet-file").set_input_files(broken)
    expect(page.get_by_text("Frame 1: the chart has no mouth “gasp”.")).to_be_visible()


def test_a_boundary_drawn_and_stepped_moves_its_mouth_and_is_taken_back(voice: Voice) -> None:
    page = voice.page
    edge = page.get_by_role("slider", name="Where “lamps” begins", exact=True)
    standing = float(edge.get_attribute("aria-valuenow") or 0)
    edge.focus()
    voice.press("Shift+ArrowRight")
    voice.saved("Move where L begins")
    expect(edge).to_have_attribute("aria-valuenow", f"{standing + 0.05:.3f}".rstrip("0"))
    voice.undone("Move where L begins")

    def drawn(pixels: int) -> dict[str, Any]:
        """The word “lamps” after its beginning was drawn so far to the left."""
        box = edge.bounding_box()
        assert box
        at = (box["x"] + box["width"] / 2, box["y"] + 10)
        page.mouse.move(*at)
        page.mouse.down()
        page.mouse.move(at[0] - pixels, at[1], steps=4)
        page.mouse.up()
        voice.saved("Move where L begins")
        words = voice.line["reading"]["words"]
        return next(word for word in words if word["word"] == "lamps")  # type: ignore[no-any-return]

    moved = drawn(6)
    assert standing - 0.06 < moved["start"] < standing - 0.02
    assert moved["phones"][0]["by_hand"]
    voice.undone("Move where L begins")
    # Drawn past its neighbour it goes as far as that lets it.
    before = voice.line["reading"]["words"][0]["phones"][-1]
    assert drawn(160)["start"] == pytest.approx(before["start"] + 0.01)


def test_rules_are_changed_and_what_is_by_hand_stays(voice: Voice) -> None:
    page = voice.page
    voice.go_to(40)
    voice.press("0")
    voice.saved("Expose smile on 40")
    by_hand = voice.at(39)
    page.get_by_role("radio", name="ones", exact=True).click()
    voice.saved("Change the rules for mouths")
    assert voice.at(39) == by_hand
    page.get_by_label("Mouth leads the sound by").fill("3")
    voice.press("Enter")
    until(page, lambda: voice.line["rules"]["lead"] == 3)
    assert voice.at(39) == by_hand
    page.get_by_role("radio", name="The text").click()
    page.get_by_label("What is said").fill("Three lamps lit, and the tide still coming in.")
    page.get_by_label("Who says it").click()
    voice.saved("Change the text")
    page.get_by_role("button", name="Expose the line").click()
    voice.read()
    assert voice.at(39) == by_hand
    assert len(voice.line["reading"]["words"]) == 9
    assert voice.line["reading"]["extra"]


def test_mouths_tapped_while_it_plays_are_one_step(voice: Voice) -> None:
    page = voice.page
    page.get_by_label("Speed").select_option(label="0.25x")
    voice.press("Home", "Space")
    until(page, lambda: int(page.get_by_test_id("frame").inner_text()) > 4)
    voice.press("5")
    first = int(page.get_by_test_id("frame").inner_text())
    until(page, lambda: int(page.get_by_test_id("frame").inner_text()) > first + 5)
    voice.press("2")
    until(page, lambda: int(page.get_by_test_id("frame").inner_text()) > first + 12)
    voice.press("Space")
    voice.saved("Expose 2 mouths")
    hands = [one for one in voice.line["run"] if one["reason"] == "by hand"]
    assert [one["mouth"] for one in hands] == ["ai", "mbp"]
    assert abs(hands[0]["frame"] + 1 - first) <= 2
    assert hands[0]["frame"] + hands[0]["length"] == hands[1]["frame"]
    voice.undone("Expose 2 mouths")


def test_blinks_are_proposed_drawn_anew_and_set_by_hand(voice: Voice) -> None:
    page = voice.page
    page.get_by_label("Seed of the blinks").fill("11")
    voice.press("Enter")
    until(page, lambda: voice.line["blink_seed"] == 11)
    first = voice.line["blinks"]
    page.get_by_role("button", name="Draw anew").click()
    until(page, lambda: voice.line["blink_seed"] == 12)
    assert voice.line["blinks"] != first
    expect(page.get_by_role("columnheader", name="Eyes")).to_be_visible()
    accents = {int(one["seconds"] * 24 + 1e-6) for one in voice.line["accents"]}
    for blink in voice.line["blinks"]:
        assert not accents & set(range(blink["frame"], blink["frame"] + blink["length"]))
    frame = next(
        k
        for k in range(20, 90)
        if not any(abs(k - one["frame"]) < 12 for one in voice.line["blinks"])
    )
    voice.go_to(frame + 1)
    voice.press("k")
    voice.saved(f"Blink on {frame + 1}")
    assert frame in [one["frame"] for one in voice.line["blinks"]]
    voice.press("ArrowRight", "k")
    voice.saved("Lift a blink")
    assert frame not in [one["frame"] for one in voice.line["blinks"]]


def test_a_word_goes_round_and_the_face_shows_the_mouth_that_is_exposed(voice: Voice) -> None:
    page = voice.page
    page.get_by_role("button", name="tide", exact=True).click()
    word = next(one for one in voice.line["reading"]["words"] if one["word"] == "tide")
    frame = int(page.get_by_test_id("frame").inner_text())
    assert frame - 1 == int(word["start"] * 24 + 1e-6)
    shown = voice.at(frame - 1)
    expect(page.get_by_test_id("mouth")).to_contain_text(f"drawing {shown['drawing']}, held")
    canvas = page.locator(".voice-face canvas")
    still(page)
    before = canvas.screenshot()
    page.keyboard.press("PageDown")
    still(page)
    assert canvas.screenshot() != before
    page.keyboard.press("l")
    expect(page.get_by_role("button", name="The whole line")).to_be_visible()
    first, last = frame - 1, word["end"] * 24
    for _ in range(20):
        at = int(page.get_by_test_id("frame").inner_text()) - 1
        assert first - 1 <= at <= last + 1 or at == first
        still(page)
    page.keyboard.press("Space")
    page.keyboard.press("l")
    expect(page.get_by_role("button", name="Loop the word")).to_be_visible()


def test_a_dropped_sound_is_said_by_odo_in_three_deeds_and_moves_with_its_mouths(
    desk: Desk,
) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    row = page.get_by_text("Drop a clip here to give its figure a lane").bounding_box()
    assert row
    sound = (LINES / SPOKEN["file"]).read_bytes()
    drop(desk, SPOKEN["file"], sound, row["x"] + 160, row["y"] + 6, "audio/ogg")
    card = page.get_by_role("complementary", name="Sound: ")
    expect(card).to_be_visible()
    card.get_by_label("What is said").fill(SPOKEN["text"])
    card.get_by_role("button", name="Expose it on Odo").click()
    expect(card.get_by_text("Odo says it")).to_be_visible()
    lane = page.get_by_label("Lane Mouth of Odo")
    expect(lane).to_be_visible()
    view = page.request.get(f"{desk.address}/api/scenes/{page.url.rsplit('/', 1)[-1]}").json()
    mouth = next(one for one in view["desk"]["lanes"] if one["name"] == "Mouth")
    heard = view["desk"]["sound_lanes"][0]["sounds"][0]
    assert mouth["stints"][0]["start"] == heard["start"]
    assert len(mouth["charts"]) == 2
    card.get_by_label("The frame at which it starts").fill(str(heard["start"] + 9))
    page.keyboard.press("Enter")
    desk.settled()
    view = page.request.get(f"{desk.address}/api/scenes/{page.url.rsplit('/', 1)[-1]}").json()
    mouth = next(one for one in view["desk"]["lanes"] if one["name"] == "Mouth")
    assert mouth["stints"][0]["start"] == heard["start"] + 8
    assert next(one for one in view["desk"]["lanes"] if one["name"] == "Eyes")["charts"]
    card.get_by_role("button", name="Mark its accents as beats").click()
    expect(page.get_by_role("button", name="Undo: Mark")).to_be_visible()
    view = page.request.get(f"{desk.address}/api/scenes/{page.url.rsplit('/', 1)[-1]}").json()
    accents = [one for one in view["desk"]["beats"] if one["id"].startswith(heard["id"][:36])]
    assert len(accents) >= 2
    assert all(heard["start"] + 8 <= one["start"] < heard["end"] + 8 for one in accents)
    card.get_by_role("link", name="To its words and mouths").click()
    expect(page.get_by_role("region", name="Exposure sheet")).to_be_visible()
    assert Voice(page, desk.address).line["text"] == SPOKEN["text"]


def test_a_jaw_goes_with_the_mouths_and_mouths_are_freed_from_their_sound(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 06 Three lamps lit")
    page.get_by_role("button", name=re.compile("^Odo, line 1, frames")).first.click()
    card = page.get_by_role("complementary", name="Stint: Odo, line 1")
    card.get_by_label("The joint that opens with the mouth").select_option("Head")
    card.get_by_label("Widest, turned down").fill("6")
    page.keyboard.press("Enter")
    card.get_by_role("button", name="Open it with the mouth").click()
    undo = page.get_by_role("button", name="Undo: Drive head by Odo, line 1 (Ctrl+Z)", exact=True)
    expect(undo).to_be_visible()
    expect(page.get_by_label("Lane Jaw of Odo")).to_be_visible()
    card.get_by_role("button", name="Free it").click()
    expect(card.get_by_text("Moves on its own")).to_be_visible()
    view = page.request.get(f"{desk.address}/api/scenes/{page.url.rsplit('/', 1)[-1]}").json()
    lanes = {one["name"]: one for one in view["desk"]["lanes"]}
    assert len(lanes["Jaw"]["fixes"]) >= 20
    assert lanes["Mouth"]["stints"][0]["made"]["with_sound"] is None
    assert lanes["Eyes"]["stints"][0]["made"]["with_sound"] is not None
    card.get_by_role("link", name="To its words and mouths").click()
    expect(page.get_by_role("region", name="Exposure sheet")).to_be_visible()


def test_a_viewer_hears_and_sees_and_changes_nothing(
    desk: Desk, open_page: Callable[[], Page], address: str
) -> None:
    desk.come_in()
    add_account("vera-voice", "harbour-wall-3", "Vera Vik")
    desk.page.get_by_role("button", name="People").click()
    desk.page.get_by_label("Account to invite").fill("vera-voice")
    desk.page.get_by_label("As what").select_option(label="as viewer")
    desk.page.get_by_role("button", name="Invite").click()
    expect(desk.page.get_by_role("cell", name="Vera Vik", exact=True)).to_be_visible()
    page = open_page()
    Desk(page, address).sign_in("vera-voice", "harbour-wall-3")
    page.get_by_role("link", name="Odo, line 1", exact=True).click()
    room = Voice(page, address)
    expect(room.row(1)).to_be_visible()
    mouths = page.locator(".mouth-card")
    expect(mouths).to_have_count(10)
    expect(mouths.first).to_be_disabled()
    expect(page.get_by_role("slider")).to_have_count(0)
    before = room.column()
    room.press("5", "Alt+ArrowDown", "Delete")
    page.get_by_role("button", name="tide", exact=True).click()
    assert room.column() == before
    expect(page.get_by_role("button", name="Expose the line")).to_have_count(0)


def test_a_new_chart_is_drawn_to_its_place_on_another_face(voice: Voice) -> None:
    page = voice.page
    # Eyes are placed as mouths are, on the same card.
    page.get_by_role("radio", name="On the face").click()
    up = page.get_by_label("Above its joint, in cm")
    expect(up).to_have_value("-0.8")
    page.get_by_role("radio", name="Its eyes").click()
    expect(up).to_have_value("8.8")
    page.get_by_role("radio", name="Its mouth").click()
    page.get_by_label("The chart that the line is exposed by").select_option("A new chart …")
    page.get_by_label("The drawings that it begins with").select_option("Our ten mouths")
    page.get_by_label("Whose face it is for").select_option("Tilda")
    page.get_by_role("button", name="Make the chart").click()
    voice.saved("Use another mouth chart")
    expect(page.get_by_role("radio", name="On the face")).to_be_checked()
    chart_url = f"{voice.address}/api/charts/{voice.line['chart']}"

    def place() -> dict[str, Any]:
        found = page.request.get(chart_url).json()["chart"]["place"]
        return found  # type: ignore[no-any-return]

    expect(page.get_by_label("The joint that it stands on")).to_have_value("head")
    before = place()
    still(page)
    face = page.get_by_role("region", name="Face").locator("canvas").bounding_box()
    assert face
    # Found by its card: where a draw upwards from the middle of the face takes it along.
    x, y = face["x"] + face["width"] / 2, face["y"] + face["height"] * 0.585
    Desk(page, voice.address).draw((x, y), (x, y - 20))
    expect(page.get_by_role("button", name="Undo: Place the mouths")).to_be_visible()
    moved = place()
    assert moved["offset"][1] - before["offset"][1] > 0.01
    assert moved["offset"][0] == pytest.approx(before["offset"][0], abs=1e-3)
    assert moved["width_metres"] == before["width_metres"]
    expect(up).to_have_value(f"{100 * moved['offset'][1]:.1f}".rstrip("0").rstrip("."))
    page.get_by_label("Width of the chart, in cm").fill("12")
    page.keyboard.press("Enter")
    until(page, lambda: place()["width_metres"] == 0.12)
    for _ in range(2):
        still(page)
        page.get_by_role("button", name="Undo: Place the mouths").click()
    until(page, lambda: place() == before)
    voice.undone("Use another mouth chart")


def test_own_drawings_and_phones_of_a_chart_and_the_way_back(voice: Voice, tmp_path: Path) -> None:
    page = voice.page
    svg = '<svg xmlns="http://www.w3.org/2000/svg" width="60" height="40"><ellipse {}/></svg>'
    gasp = tmp_path / "gasp.svg"
    gasp.write_text(svg.format('cx="30" cy="20" rx="28" ry="18" fill="#43303A"'), encoding="utf-8")
    before = page.get_by_role("button", name="5 A I").locator("img").get_attribute("src")
    page.get_by_role("button", name="Its drawings and phones …").click()
    sheet = page.get_by_role("dialog", name="Odo, front")
    row = sheet.locator('[data-mouth="ai"]')
    row.locator("input[type=file]").set_input_files(gasp)
    undo = sheet.get_by_role("button", name="Undo: Change A I")
    expect(undo).to_be_visible()
    drawn = page.get_by_role("button", name="5 A I", include_hidden=True).locator("img")
    expect(drawn).not_to_have_attribute("src", before or "")
    broken = tmp_path / "far.svg"
    broken.write_text(svg.format('fill="url(http://127.0.0.1/a)"'), encoding="utf-8")
    row.locator("input[type=file]").set_input_files(broken)
    expect(sheet.get_by_role("alert")).to_contain_text("points at other files")
    # An L is said with an open mouth now, and the mouth that had it has it no longer.
    phones = sheet.get_by_label("Phones of A I")
    phones.fill("aa ae ah ay aw l")
    phones.press("Tab")
    expect(sheet.get_by_label("Phones of TH L")).to_have_value("th dh")
    until(
        page,
        lambda: (
            next(m for m in voice.line["mouths"] if m["key"] == "thl")["phones"] == ["TH", "DH"]
        ),
    )
    for _ in range(2):
        undo.click()
        still(page)
    expect(sheet.get_by_label("Phones of TH L")).to_have_value("th dh l")
    sheet.get_by_role("button", name="Close").last.click()
    expect(drawn).to_have_attribute("src", before or "")
