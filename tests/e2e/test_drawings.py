"""The drawings room: pictures brought in, a run exposed, pinned and boiled, and layers in a scene."""

import io
import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
from PIL import Image, ImageDraw
from playwright.sync_api import Locator, Page, expect

from .bench_room import on_page
from .desk import Desk, until
from .frames import array_in, frames

SIZE = (360, 480)


def flame(number: int, colour: str = "#D98A1F") -> bytes:
    """A drawing like no other number's."""
    image = Image.new("RGBA", SIZE, (0, 0, 0, 0))
    lean = (number * 37) % 80 - 40
    outline = [(180 + lean, 40), (280, 330), (180, 460), (80, 330)]
    ImageDraw.Draw(image).polygon(outline, fill=colour, outline="#22303C", width=8)
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """A folder of numbered pictures: 7 lacks, and one file is none."""
    place = tmp_path / "lamp_flame"
    place.mkdir()
    for number in (1, 2, 3, 4, 5, 6, 8):
        (place / f"flame_{number:03}.png").write_bytes(flame(number))
    (place / "notes.txt").write_text("on threes")
    return place


@dataclass
class Light:
    """The drawings room with a run of its own; what was done there."""

    desk: Desk
    deeds: list[str] = field(default_factory=list)

    @property
    def page(self) -> Page:
        return self.desk.page

    @property
    def sheet(self) -> dict[str, Any]:
        """The run as the server has it."""
        run = self.page.url.rsplit("/", 1)[-1]
        found: dict[str, Any] = self.page.request.get(f"{self.desk.address}/api/runs/{run}").json()
        return found["run"]  # type: ignore[no-any-return]

    def row(self) -> list[int]:
        """The drawing on each frame."""
        return [one["drawing"] for one in self.sheet["shown"] for _ in range(one["length"])]

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def go_to(self, frame: int) -> None:
        """Stand on a frame, from 1."""
        self.press("Home", *["Shift+ArrowRight"] * ((frame - 1) // 10))
        self.press(*["ArrowRight"] * ((frame - 1) % 10))
        expect(self.page.get_by_test_id("frame")).to_have_text(f"{frame:03}")

    def write(self, label: str, value: object) -> None:
        box = self.page.get_by_label(label, exact=True)
        box.fill(str(value))
        box.press("Enter")

    def saved(self, label: str) -> None:
        undo = self.page.get_by_role("button", name=f"Undo: {label} (Ctrl+Z)", exact=True)
        expect(undo).to_be_visible()

    def undone(self, label: str) -> None:
        self.saved(label)
        self.press("Control+z")
        redo = self.page.get_by_role("button", name=f"Redo: {label} (Ctrl+Shift+Z)", exact=True)
        expect(redo).to_be_visible()

    def played(self, drawing: int, frame: int) -> Locator:
        return self.page.get_by_role("button", name=f"Drawing {drawing} from {frame}", exact=True)


@pytest.fixture
def light(desk: Desk, folder: Path) -> Light:
    """The pictures of the folder brought in, on the light table."""
    desk.come_in()
    room = Light(desk)
    desk.page.get_by_test_id("drawing-folder").set_input_files(folder)
    room.deeds.append("choose the folder")
    expect(desk.page.get_by_label("Name of the drawings")).to_have_value("Lamp flame")
    desk.page.get_by_role("button", name="Bring them in").click()
    room.deeds.append("bring them in")
    expect(desk.page.get_by_role("region", name="Exposure sheet")).to_be_visible()
    expect(desk.page.get_by_test_id("light-table")).to_be_visible()
    return room


def test_a_folder_becomes_a_looping_attached_boiling_flame_in_six_actions(light: Light) -> None:
    desk, page, deeds = light.desk, light.page, light.deeds
    page.get_by_role("radio", name="Boils").click()
    deeds.append("let it boil")
    light.saved("Lamp flame boils")
    desk.open_copy("Sc 04 Quay at dusk")
    card = page.locator('[data-run="Lamp flame"]').last
    card.scroll_into_view_if_needed()
    box, stage = card.bounding_box(), page.locator(".stage-picture canvas").first.bounding_box()
    assert box
    assert stage
    goal = (stage["x"] + 90, stage["y"] + stage["height"] - 40)
    desk.draw((box["x"] + 50, box["y"] + 12), goal)
    deeds.append("draw it onto the stage")
    page.get_by_label("What the card is to ride on").select_option(label="Odo")
    deeds.append("attach it to Odo")
    page.get_by_label("The joint that the card is to ride on").select_option("pole")
    deeds.append("to his pole")
    desk.undoes("Lamp flame rides on Odo’s pole")
    scene = page.url.rsplit("/", 1)[-1]
    view = page.request.get(f"{desk.address}/api/scenes/{scene}").json()["desk"]
    (layer,) = view["layers"]
    assert [ride["joint"] for ride in layer["attachments"]] == ["pole"]
    lane = next(lane for lane in view["lanes"] if lane["target"]["kind"] == "layer")
    assert [(s["start"], s["end"], s["is_cycle"]) for s in lane["stints"]] == [(0, 288, True)]
    places = standing(desk, layer["id"], 0, 48)
    poles = joints(desk, "odo", "pole", 0, 48)
    assert np.abs(places[:, :3] - poles).max() < 1e-6
    print(f"\nA boiling flame on the pole: {', '.join(deeds)}")
    assert len(deeds) <= 6


def standing(desk: Desk, layer: str, start: int, end: int) -> np.ndarray:
    return array_in(frames(desk, start, end), f"standing/{layer}")


def joints(desk: Desk, figure: str, joint: str, start: int, end: int) -> np.ndarray:
    scene = desk.page.url.rsplit("/", 1)[-1]
    view = desk.page.request.get(f"{desk.address}/api/scenes/{scene}").json()["desk"]
    document = next(one["figure"] for one in view["figures"] if one["id"] == figure)
    body = desk.page.request.get(f"{desk.address}/api/figures/{document}").json()
    place = [one["name"] for one in body["joints"]].index(joint)
    found: np.ndarray = array_in(frames(desk, start, end), f"{figure}/positions")[:, place]
    return found


def test_a_run_let_go_on_a_joint_rides_there(light: Light) -> None:
    desk, page = light.desk, light.page
    desk.open_copy("Sc 04 Quay at dusk")
    page.get_by_role("radio", name="Side", exact=True).click()
    # Who is let go on must be on the stage.
    desk.still()
    x, y, z = joints(desk, "odo", "head", 0, 1)[0]
    canvas = page.locator(".stage-picture canvas").first.bounding_box()
    card = page.locator('[data-run="Lamp flame"]').last
    card.scroll_into_view_if_needed()
    box = card.bounding_box()
    assert canvas
    assert box
    across, down, _ = on_page(np.array([x, y, z]), canvas, distance=7.0)
    desk.draw((box["x"] + 50, box["y"] + 12), (across, down))
    desk.undoes("Add Lamp flame")
    expect(page.get_by_label("What it rides on")).to_contain_text("Odo, head")
    desk.page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Lane Drawings of"))).to_have_count(0)


def test_what_lacks_is_told_and_can_be_added(light: Light, tmp_path: Path) -> None:
    page = light.page
    shelf = page.get_by_role("region", name="The drawing set")
    expect(shelf.get_by_text("7 is missing")).to_be_visible()
    assert light.row()[:16] == [1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6, 8, 8, 1, 1]
    late = tmp_path / "flame 7.png"
    late.write_bytes(flame(7))
    page.get_by_test_id("drawing-files").set_input_files(late)
    page.get_by_role("button", name="Add them").click()
    expect(shelf.get_by_role("button", name="Drawing 7, not in the run")).to_be_visible()
    expect(shelf.get_by_text("7 is missing")).to_have_count(0)
    shelf.locator(".set-sheet").nth(6).hover()
    shelf.get_by_role("button", name="What to do with drawing 7").click()
    page.get_by_role("button", name="Add it to the order").click()
    light.saved("Put in drawing 7")
    assert light.sheet["order"] == "1-6, 8-7"
    light.write("Order of the drawings", "1-8, 8-1 on 3, 2 hold 12")
    light.saved("Write the order")
    assert light.sheet["order_frames"] == 16 + 24 + 12
    light.write("Order of the drawings", "one to eight")
    expect(page.get_by_text("cannot be read. Type drawings like 1-8")).to_be_visible()
    assert light.sheet["order_frames"] == 52


def test_a_drawing_is_pinned_by_one_drag_or_one_typed_pair(light: Light) -> None:
    page = light.page
    page.get_by_role("radio", name="Plays once").click()
    light.saved("Lamp flame plays once")
    each = light.played(2, 3).bounding_box()
    third = light.played(3, 5).bounding_box()
    assert each
    assert third
    frame = each["width"] / 2
    light.desk.draw((third["x"] + 6, third["y"] + 8), (third["x"] + 6 + 3 * frame, third["y"] + 8))
    light.saved("Pin drawing 3 to 8")
    assert light.row() == [1, 1, 2, 2, 2, 2, 2, 3, 3, 4, 5, 6, 8, 8]
    light.undone("Pin drawing 3 to 8")
    light.write("Drawing to pin", 6)
    light.write("Frame to pin it to", 3)
    page.get_by_role("button", name="Pin it", exact=True).click()
    light.saved("Pin drawing 6 to 3")
    row = light.row()
    assert row[2] == 6
    gone = sorted(set(range(1, 9)) - {7} - set(row))
    assert gone
    told = f"{', '.join(map(str, gone[:-1]))} and {gone[-1]} fell out" if len(gone) > 1 else ""
    expect(page.get_by_text(told or f"{gone[0]} fell out").first).to_be_visible()
    light.go_to(3)
    light.press("Shift+P")
    light.saved("Take the pin at 3 away")


def test_a_run_is_squeezed_and_says_what_fell_out(light: Light) -> None:
    page = light.page
    light.write("Squeeze the order into so many frames", 4)
    light.saved("Squeeze into 4")
    assert light.sheet["order_frames"] == 4
    gone = sorted({1, 2, 3, 4, 5, 6, 8} - {held["drawing"] for held in light.sheet["run"]["held"]})
    assert len(gone) == 3
    expect(page.get_by_text(f"{gone[0]}, {gone[1]} and {gone[2]} fell out.")).to_be_visible()
    light.undone("Squeeze into 4")
    page.get_by_label("How it is squeezed").select_option("every")
    light.write("Squeeze the order into so many frames", 5)
    expect(page.get_by_text("7 drawings do not go into 5 frames")).to_be_visible()


def test_exposures_are_written_held_and_taken_out_by_keys(light: Light) -> None:
    page = light.page
    light.go_to(4)
    light.press("6")
    light.saved("Write drawing 6")
    assert light.row()[:8] == [1, 1, 2, 6, 3, 3, 4, 4]
    light.press("Alt+Shift+ArrowDown")
    light.saved("Hold drawing 6 2")
    assert light.row()[:8] == [1, 1, 2, 6, 6, 3, 3, 4]
    light.press("Delete")
    light.saved("Take out drawing 6")
    assert light.row()[:6] == [1, 1, 2, 3, 3, 4]
    light.press("9")
    expect(page.get_by_text("The set has no drawing 9.")).to_be_visible()
    # Page down turns from drawing to drawing, and round again.
    light.press("Home", "PageDown", "PageDown")
    expect(page.get_by_test_id("frame")).to_have_text("004")
    page.get_by_role("radio", name="on fours").click()
    light.saved("Expose on fours")
    assert light.row()[:9] == [1, 1, 1, 1, 2, 2, 2, 2, 3]


def test_a_boil_is_drawn_anew_and_never_shows_a_drawing_twice_running(light: Light) -> None:
    page = light.page
    page.get_by_role("radio", name="Boils").click()
    light.saved("Lamp flame boils")
    before = [one["drawing"] for one in light.sheet["shown"]]
    assert all(a != b for a, b in zip(before, before[1:], strict=False))
    expect(page.get_by_text("times in 10 rounds")).to_be_visible()
    light.write("Seed of the boil", 12)
    light.saved("Boil by 12")
    twelve = [one["drawing"] for one in light.sheet["shown"]]
    page.get_by_role("button", name="Draw anew").click()
    until(page, lambda: light.sheet["run"]["seed"] != 12)
    light.write("Seed of the boil", 12)
    until(page, lambda: light.sheet["run"]["seed"] == 12)
    assert [one["drawing"] for one in light.sheet["shown"]] == twelve


def test_a_drawing_is_nudged_marked_and_replaced_on_its_peg(light: Light, tmp_path: Path) -> None:
    page = light.page
    table = page.get_by_test_id("light-table").bounding_box()
    assert table
    middle = (table["x"] + table["width"] / 2, table["y"] + table["height"] / 2)

    def first() -> dict[str, Any]:
        drawn = page.request.get(
            f"{light.desk.address}/api/drawings/{light.sheet['run']['drawings']}"
        ).json()
        found: dict[str, Any] = drawn["drawings"]["drawn"]["drawings"][0]
        return found

    light.press("Home", "n")
    light.desk.draw(middle, (middle[0] + 20, middle[1] - 30))
    until(page, lambda: first()["shift_pixels"] != [0, 0])
    x, y = first()["shift_pixels"]
    assert 0 < x < y
    light.press("Alt+ArrowLeft")
    until(page, lambda: first()["shift_pixels"] == [x - 1, y])
    light.press("m")
    for _ in range(3):
        known = page.get_by_role("region", name="Spacing of tip")
        page.mouse.click(middle[0], middle[1] - 60)
        light.press("PageDown")
    expect(known.get_by_text("1 → 2")).to_be_visible()
    new = tmp_path / "other.png"
    new.write_bytes(flame(1, "#2C8C74"))
    before = first()
    page.get_by_test_id("replace-1").set_input_files(new)
    until(page, lambda: first()["picture"]["file"] != before["picture"]["file"])
    after = first()
    assert (after["shift_pixels"], after["points"]) == (before["shift_pixels"], before["points"])
    assert light.row()[0] == 1


def test_what_is_no_picture_is_refused_and_nothing_is_lost(desk: Desk, tmp_path: Path) -> None:
    desk.come_in()
    page = desk.page
    good, broken = tmp_path / "sea 1.png", tmp_path / "sea 2.png"
    good.write_bytes(flame(1))
    broken.write_bytes(flame(2)[:120])
    page.get_by_test_id("motion-file").set_input_files([good, broken])
    page.get_by_role("button", name="Bring them in").click()
    expect(page.get_by_role("alert").get_by_text("“sea 2.png” is broken off")).to_be_visible()
    page.get_by_role("button", name="Cancel", exact=True).click()
    lying = tmp_path / "harbour.png"
    lying.write_bytes(b"MZ\x90\0 no picture at all")
    page.get_by_test_id("motion-file").set_input_files(lying)
    page.get_by_role("button", name="Bring them in").click()
    expect(page.get_by_text("“harbour.png” is none of PNG, JPEG")).to_be_visible()


def test_a_sheet_of_many_drawings_is_cut(desk: Desk, tmp_path: Path) -> None:
    desk.come_in()
    page = desk.page
    sheet = Image.new("RGBA", (SIZE[0] * 3, SIZE[1] * 2), (0, 0, 0, 0))
    for place in range(5):
        cell = Image.open(io.BytesIO(flame(place)))
        sheet.paste(cell, (SIZE[0] * (place % 3), SIZE[1] * (place // 3)))
    path = tmp_path / "帆 の 波.png"
    sheet.save(path)
    page.get_by_test_id("motion-file").set_input_files(path)
    expect(page.get_by_label("Name of the drawings")).to_have_value("帆 の 波")
    page.get_by_text("It is one sheet of many drawings, to be cut").click()
    for label, count in (("Drawings beside each other", 3), ("Rows of drawings", 2)):
        box = page.get_by_label(label, exact=True)
        box.fill(str(count))
        box.press("Enter")
    page.get_by_role("button", name="Bring them in").click()
    room = Light(desk)
    expect(page.get_by_role("region", name="Exposure sheet")).to_be_visible()
    assert room.sheet["order"] == "1-5"
    expect(page.get_by_role("region", name="The drawing set").locator(".set-sheet")).to_have_count(
        5
    )


MINUTE_FRAMES = 60 * 24


def movie(path: Path, seconds: int, rate: int = 25) -> Path:
    """A movie whose every frame is like no other."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream("mpeg4", rate=rate)
        stream.width, stream.height = 64, 36
        for place in range(seconds * rate):
            pixels = np.full((36, 64, 3), place % 251, dtype=np.uint8)
            pixels[:, : place % 64] = 255 - place % 251
            for packet in stream.encode(av.VideoFrame.from_ndarray(pixels, format="rgb24")):
                out.mux(packet)
        for packet in stream.encode():
            out.mux(packet)
    return path


STAGE_SHOWS = """({ greys, from, to }) => {
  const stage = document.querySelector('canvas.stage-canvas');
  const [grey] = stage.getContext('2d').getImageData(20, 20, 1, 1).data;
  const frame = Number(stage.dataset.frame);
  return frame >= from && frame <= to && Math.abs(grey - greys[frame]) < 8;
}"""


def grey_of(frame: int) -> float:
    """The movie at a frame of the scene, near its left edge, half over the paper."""
    place = frame * 25 // 24
    grey = place % 251
    return ((255 - grey if place % 64 > 7 else grey) + 251) / 2


def test_a_movie_lies_under_the_scene_as_a_reference(desk: Desk, tmp_path: Path) -> None:
    desk.come_in()
    page, room = desk.page, Light(desk)
    page.get_by_test_id("motion-file").set_input_files(movie(tmp_path / "tide.mp4", 60))
    page.get_by_role("button", name="Bring them in").click()
    expect(page.get_by_role("region", name="Exposure sheet")).to_be_visible()
    assert (room.sheet["fps"], room.sheet["order_frames"]) == (25, 1500)
    page.get_by_role("radio", name="Plays once").click()
    room.saved("Tide plays once")
    desk.library()
    desk.new_scene()
    desk.set("Length of the scene in frames", MINUTE_FRAMES)
    desk.settled()
    card = page.locator('[data-run="Tide"]').last
    card.scroll_into_view_if_needed()
    card.focus()
    page.keyboard.press("Enter")
    desk.undoes("Add Tide")
    page.get_by_role("radio", name="under it").click()
    desk.undoes("Tide: stands under the picture")
    lane = page.get_by_role("complementary", name="Lane: Drawings")
    lane.get_by_label("Opacity at the playhead").fill("50")
    lane.get_by_label("Opacity at the playhead").press("Enter")
    desk.undoes("Tide 50 % at 1")
    # It is seen on the stage: wherever the playhead jumps, and while it plays.
    greys = [grey_of(frame) for frame in range(MINUTE_FRAMES)]
    page.keyboard.press("End")
    for frame in (MINUTE_FRAMES - 1, MINUTE_FRAMES - 31, MINUTE_FRAMES - 61):
        page.wait_for_function(STAGE_SHOWS, arg={"greys": greys, "from": frame, "to": frame})
        for _ in range(3):
            page.keyboard.press("Shift+ArrowLeft")
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    page.wait_for_function(STAGE_SHOWS, arg={"greys": greys, "from": 30, "to": 300})
    page.keyboard.press("Space")
    scene = page.url.rsplit("/", 1)[-1]
    view = page.request.get(f"{desk.address}/api/scenes/{scene}").json()["desk"]
    layer = view["layers"][0]["id"]
    packs = [frames(desk, start, start + 288) for start in range(0, MINUTE_FRAMES, 288)]
    drawings = np.concatenate([array_in(pack, f"layers/{layer}") for pack in packs])
    # Under a scene at 24 frames a second the picture of that very moment, within a frame, for a minute.
    assert len(drawings) == MINUTE_FRAMES
    assert np.abs((drawings - 1) / 25 - np.arange(MINUTE_FRAMES) / 24).max() < 1 / 25
    # In its own time it goes on as it was, whatever becomes of the scene's.
    lane.get_by_text("Own time").click()
    desk.undoes("Drawings: keep its own time")


def test_a_layer_stands_behind_fades_and_goes(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 07 The flame holds")
    page.get_by_role("button", name="Lane Drawings of Sea").click()
    card = page.get_by_role("complementary", name="Lane: Drawings")
    expect(card.get_by_role("radio", name="behind all")).to_be_checked()
    card.get_by_label("Height of its sheets").fill("2.5")
    card.get_by_label("Height of its sheets").press("Enter")
    desk.undoes("Sea: 2.5 m high")
    card.get_by_label("Opacity at the playhead").fill("40")
    card.get_by_label("Opacity at the playhead").press("Enter")
    desk.undoes("Sea 40 % at 1")
    until(page, lambda: np.allclose(standing(desk, "sea", 0, 96)[:, 7], 0.4))
    card.get_by_role("button", name="Delete the opacity key at 1").click()
    desk.undoes("Delete an opacity key of Sea at 1")
    drawings = array_in(frames(desk, 0, 96), "layers/sea")
    # On fours, whatever else is on twos.
    assert np.flatnonzero(np.diff(drawings)).tolist() == list(range(3, 92, 4))
    card.get_by_role("button", name="Delete", exact=True).click()
    expect(page.get_by_role("button", name="Lane Drawings of Sea")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Lane Drawings of Sea")).to_have_count(1)
