"""Takes the pictures in docs/screenshots, from the demo and a made-up take."""

import os
import re
import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

from core.tests.makes import colons_make, slow_make, tabs_make

from .bench_room import Bench
from .desk import COUNTS_WHAT_IS_ASKED, Desk, still
from .site import ROOT, Site, new_site

FILES = {
    "quay_walk.bvh": colons_make(),
    "harbour_stroll.bvh": tabs_make(),
    "slow_round.bvh": slow_make(),
}
SOME_SECONDS = re.compile(r"Recording .*: [3-9]\d\d frames")
FOLDER = ROOT / "docs" / "screenshots"


def take(page: Page, name: str) -> None:
    still(page)
    page.screenshot(path=FOLDER / f"{name}.png")


def bench_pictures(desk: Desk) -> None:
    """The bench: posing, keys and curves, and the dial with a seam that does not close."""
    page, bench = desk.page, Bench(desk)
    bench.open("Amble")
    page.keyboard.press("1")
    bench.choose("Right wrist")
    bench.go_to(6)
    page.keyboard.press("2")
    still(page)
    bench.draw("r_wrist", 6, (0.16, 0.22))
    page.keyboard.press("1")
    take(page, "bench-posing")
    page.keyboard.press("Escape")
    bench.choose("Left ankle")
    page.keyboard.press("u")
    page.get_by_text("Speed", exact=True).click()
    page.get_by_role("radio", name="Feet").click()
    take(page, "bench-keys")
    page.get_by_text("Speed", exact=True).click()
    page.keyboard.press("2")
    page.get_by_role("radio", name="Seam").click()
    bench.choose("Chest")
    page.keyboard.press("End")
    bench.write("Chest, turn y", 24)
    page.keyboard.press("k")
    bench.saved("Key Chest at 23")
    page.keyboard.press("Shift+G")
    page.keyboard.press("s")
    take(page, "bench-seam")
    page.keyboard.press("Control+z")
    page.get_by_role("button", name="Nothing to undo").wait_for()
    page.get_by_role("link", name="Library").click()
    page.get_by_role("heading", name="The Last Lamp").wait_for()


def join_pictures(desk: Desk) -> None:
    """A join's card with both poses of another place."""
    page = desk.page
    page.locator("[data-stint]").first.focus()
    page.keyboard.press("Enter")
    page.get_by_label("Frames that it fades in over").fill("10")
    page.keyboard.press("Enter")
    page.locator('[data-join="hurry"]').focus()
    page.keyboard.press("Enter")
    cells = page.locator(".join-map-cells")
    cells.hover(position={"x": 150, "y": 60})
    take(page, "join")
    page.keyboard.press("Escape")


def fix_pictures(desk: Desk) -> None:
    """A pose of Odo's corrected over what plays."""
    page = desk.page
    page.get_by_label("Lane Over Body of Odo").focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Add a fix lane").click()
    desk.undoes("Add a fix lane to Odo")
    page.get_by_label("Lane Fixes of Odo").focus()
    page.keyboard.press("Enter")
    page.get_by_label("Frames that a new fix comes in over").fill("8")
    page.get_by_label("Frames that a new fix goes out over").fill("14")
    page.keyboard.press("Enter")
    desk.go_to(84)
    still(page)
    box = page.locator(".stage-canvas").bounding_box()
    assert box
    head = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 - 70)
    desk.draw(head, (head[0] + 9, head[1] + 4))
    take(page, "fixes")
    desk.undo()
    desk.undo()


def elastic_pictures(desk: Desk) -> None:
    """A moment at 35 % with its brackets and what the camera sees."""
    page = desk.page
    page.keyboard.press("1")
    desk.library()
    desk.open_scene("Sc 05 The lamp is lit")
    page.keyboard.press("Shift+Z")
    page.get_by_role("checkbox", name="Camera").check()
    desk.go_to(72)
    take(page, "scene-elastic")


def takes_pictures(desk: Desk, site: Site) -> None:
    """A take with its recipe, captured beside cleaned; a cycle found in it; one that is recorded."""
    page = desk.page
    site.start_stage()
    page.get_by_role("link", name="quay_pacing_07", exact=True).first.click()
    page.locator('[data-step="thin"] .measured').wait_for()
    for _ in range(9):
        page.keyboard.press("Shift+ArrowRight")
    page.get_by_role("radio", name="Lost").click()
    take(page, "takes-recipe")
    page.get_by_role("radio", name="Cycle").click()
    page.locator(".loop-number").first.click()
    page.keyboard.press("Shift+F")
    page.keyboard.press("2")
    take(page, "takes-cycle")
    page.keyboard.press("1")
    page.keyboard.press("Shift+R")
    sheet = page.get_by_role("dialog", name="Record from the stage")
    sheet.get_by_role("button", name="walk", exact=True).click()
    sheet.get_by_label("Name of the takes; they are numbered").fill("quay walk")
    told, record = sheet.locator(".record-told"), sheet.get_by_role("button", name="Record")
    record.click()
    expect(told).to_contain_text(SOME_SECONDS, timeout=20_000)
    sheet.get_by_role("button", name="Stop", exact=True).click()
    sheet.get_by_role("button", name="Circle quay walk 1").click()
    sheet.get_by_role("button", name="Rub out the circle of quay walk 1").wait_for()
    record.click()
    expect(told).to_contain_text(SOME_SECONDS, timeout=20_000)
    page.screenshot(path=FOLDER / "takes-recording.png")
    sheet.get_by_role("button", name="Throw it away").click()
    expect(told).to_have_text("Thrown away.")
    sheet.get_by_role("button", name="Close").click()
    site.kill_stage()
    page.get_by_role("link", name="Library").click()
    page.get_by_role("heading", name="The Last Lamp").wait_for()


def voice_pictures(desk: Desk) -> None:
    """Odo's line with its reading; some of it by hand on the sheet; and Odo saying it on the quay."""
    page = desk.page
    page.get_by_role("link", name="Odo, line 1", exact=True).click()
    page.get_by_role("rowheader", name="1", exact=True).wait_for()
    page.get_by_role("button", name="tide", exact=True).click()
    take(page, "voice")
    page.keyboard.press("n")
    page.keyboard.type("looks up")
    page.keyboard.press("Enter")
    for key in ("ArrowRight", "ArrowRight", "6", *["Shift+ArrowDown"] * 7):
        page.keyboard.press(key)
    page.get_by_role("radio", name="The text").click()
    page.get_by_text("How its words are said").click()
    page.get_by_role("button", name="Undo: Expose e").wait_for()
    take(page, "voice-sheet")
    for _ in range(2):
        page.keyboard.press("Control+z")
    page.get_by_role("link", name="Library").click()
    page.get_by_role("heading", name="The Last Lamp").wait_for()
    desk.open_scene("Sc 06 Three lamps lit")
    desk.go_to(92)
    page.locator("[data-sound]").first.focus()
    page.keyboard.press("Enter")
    page.get_by_text("Odo says it").wait_for()
    page.keyboard.press("g")
    page.keyboard.press("3")
    box = page.locator(".stage-canvas").first.bounding_box()
    assert box
    middle = (box["x"] + box["width"] / 2 - 120, box["y"] + box["height"] / 2)
    page.mouse.move(*middle)
    for _ in range(12):
        page.mouse.wheel(0, -120)
    page.keyboard.down("Shift")
    for _ in range(2):
        desk.draw((middle[0], middle[1] - 90), (middle[0], middle[1] + 90))
    page.keyboard.up("Shift")
    take(page, "voice-scene")
    page.get_by_role("link", name="Library").click()
    page.get_by_role("heading", name="The Last Lamp").wait_for()


def drawings_pictures(desk: Desk) -> None:
    """The flame on the light table, pinned, with the spacing of its tip; boiling on Odo's pole; and paper."""
    page = desk.page
    page.get_by_role("link", name="Flame flickers", exact=True).click()
    page.get_by_role("rowheader", name="1", exact=True).wait_for()
    page.get_by_label("Drawing to pin").fill("4")
    page.keyboard.press("Enter")
    page.get_by_label("Frame to pin it to").fill("30")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Pin it", exact=True).click()
    page.get_by_role("button", name="Undo: Pin drawing 4 to 30").wait_for()
    for _ in range(8):
        page.keyboard.press("PageDown")
    take(page, "drawings")
    desk.library()
    desk.open_scene("Sc 07 The flame holds")
    page.get_by_role("button", name="Lane Drawings of Flame").click()
    desk.go_to(31)
    take(page, "drawings-scene")
    desk.library()
    page.get_by_role("link", name="Paper Odo", exact=True).click()
    page.get_by_role("button", name="near arm", exact=True).click()
    page.wait_for_load_state("networkidle")
    take(page, "drawings-cut-out")
    desk.library()


def prints_pictures(desk: Desk) -> None:
    """How a print is asked for; and the line, with the same frame of two revisions on the table."""
    page = desk.page
    Bench(desk).open("Amble")
    page.keyboard.press("Control+p")
    form = page.get_by_label("Print it as")
    form.select_option(label="a picture that moves, WebP")
    page.get_by_label("Size", exact=True).select_option(label="640 × 360")
    page.get_by_role("button", name="Print it", exact=True).click()
    expect(page.locator(".notice").first).to_contain_text("is printed.")
    form.select_option(label="a film, MP4")
    page.get_by_role("radio", name="House test").click()
    for name in ("Sc 07 The flame holds", "Sc 05 The lamp is lit"):
        desk.open_scene(name)
        desk.still()
        page.keyboard.press("Control+p")
        expect(page.get_by_role("dialog")).to_be_visible()
        if name.startswith("Sc 05"):
            take(page, "prints-card")
        page.get_by_role("button", name="Print it", exact=True).click()
        expect(page.locator(".notice").first).to_contain_text("is printed.")
        page.get_by_role("button", name="Close", exact=True).last.click()
    page.get_by_role("radio", name="Paper", exact=True).click()
    desk.settled()
    page.locator(".stage-canvas").focus()
    page.keyboard.press("Shift+P")
    page.keyboard.press("Control+p")
    form.select_option(label="a film, WebM")
    page.get_by_role("button", name="Tonight").click()
    expect(page.locator(".notice").first).to_contain_text("is on the night list")
    page.get_by_role("button", name="Close", exact=True).last.click()
    page.get_by_role("link", name="Prints", exact=True).click()
    line = page.locator(".drying-line")
    expect(line.locator(".slate")).to_have_count(3)
    expect(line.locator("progress")).to_be_visible()
    expect(line.locator(".slate")).to_have_count(4)
    page.keyboard.press("PageUp")
    page.keyboard.press("PageUp")
    page.keyboard.press("u")
    expect(page.get_by_role("region", name="Under the pane")).to_contain_text("Sc 05")
    for _ in range(72):
        page.keyboard.press("ArrowRight")
    desk.still()
    take(page, "prints")
    desk.library()


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    folder = Path(tempfile.mkdtemp())
    for name, data in FILES.items():
        (folder / name).write_bytes(data)
    site = new_site("hours_screenshots", os.environ["DATABASE_URL"])
    site.start()
    site.start_worker()
    try:
        pictures(site, folder)
    finally:
        site.stop()


def pictures(site: Site, folder: Path) -> None:
    address = site.address
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.add_init_script(COUNTS_WHAT_IS_ASKED)
        desk = Desk(page, address)
        desk.sign_in()
        page.get_by_test_id("motion-file").set_input_files([folder / name for name in FILES])
        page.get_by_label("Plays on").select_option(label="Odo, fitted")
        page.get_by_text("These rest: pole.").wait_for()
        page.get_by_role("button", name="Cancel").last.click()
        take(page, "library")
        takes_pictures(desk, site)
        voice_pictures(desk)
        bench_pictures(desk)
        drawings_pictures(desk)
        prints_pictures(desk)
        desk.open_scene("Sc 04 Quay at dusk")
        desk.go_to(84)
        take(page, "scene-three-quarter")
        page.get_by_label("Lane Body of Odo").focus()
        page.keyboard.press("Enter")
        page.keyboard.press("Shift+N")
        desk.undoes("Add a lane to Odo")
        page.locator(".desk-grip").hover()
        box = page.locator(".desk-grip").bounding_box()
        assert box
        desk.draw((600, box["y"] + 4), (600, box["y"] - 66))
        desk.lay_on_top("Reach and light", 100)
        page.keyboard.press("Escape")
        join_pictures(desk)
        fix_pictures(desk)
        elastic_pictures(desk)
        browser.close()


if __name__ == "__main__":
    main()
