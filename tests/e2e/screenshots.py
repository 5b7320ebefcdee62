"""Takes the pictures in docs/screenshots, from the demo and a made-up take."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from core.tests.makes import tabs_make

from .desk import Desk
from .site import ROOT, served

FOLDER = ROOT / "docs" / "screenshots"


def take(page: Page, name: str) -> None:
    page.wait_for_timeout(700)
    page.screenshot(path=FOLDER / f"{name}.png")


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    motion = Path(tempfile.mkdtemp()) / "harbour_stroll.bvh"
    motion.write_bytes(tabs_make())
    with served("hours_screenshots") as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        desk = Desk(page, address)
        page.goto(address)
        page.get_by_label("Account").wait_for()
        take(page, "sign-in")
        desk.sign_in()
        desk.choose_file(motion)
        page.get_by_role("button", name="Bring it in").wait_for()
        take(page, "import")
        page.get_by_role("button", name="Bring it in").click()
        page.get_by_role("button", name="Close this notice").click()
        take(page, "library")
        desk.open_scene("Sc 04 Quay at dusk")
        page.get_by_role("button", name="Join Amble to Hurry").click(force=True)
        for _ in range(8):
            page.keyboard.press("Shift+ArrowRight")
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        take(page, "scene-three-quarter")
        page.get_by_role("radio", name="Side", exact=True).click()
        page.get_by_role("button", name="Hurry, 5⅝ cycles").press("Enter")
        for _ in range(8):
            page.keyboard.press("Shift+ArrowRight")
        take(page, "scene-side")
        browser.close()


if __name__ == "__main__":
    main()
