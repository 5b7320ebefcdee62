"""An animator's hands on the page: what a test does, in the words of the trade."""

import re
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from playwright.sync_api import APIResponse, Locator, Page, expect

STEPS = 8
# Where time begins on the desk, and where the lanes begin under ruler and beats.
LABEL_WIDTH, FIRST_LANE = 158, 56


PATIENCE_S = 90

# Counts what the page has asked and has no answer to. Laid in before the page's own scripts.
COUNTS_WHAT_IS_ASKED = """
window.asked = 0;
const ask = window.fetch;
window.fetch = async (...question) => {
  window.asked += 1;
  try {
    const answer = await ask(...question);
    await answer.clone().arrayBuffer();
    return answer;
  } finally {
    window.asked -= 1;
  }
};
"""
# Nothing asked while ten frames are painted, and everything that moves by itself has arrived.
IS_STILL = """() => new Promise((done) => {
  let quiet = 0;
  const look = () => {
    quiet = window.asked ? 0 : quiet + 1;
    if (quiet > 10) done();
    else requestAnimationFrame(look);
  };
  look();
}).then(() => Promise.allSettled(
  document.getAnimations()
    .filter((one) => one.effect.getComputedTiming().endTime !== Infinity)
    .map((one) => one.finished)))
  .then(() => {})"""
IS_PAINTED = "() => new Promise((done) => requestAnimationFrame(() => done()))"


def still(page: Page) -> None:
    """Every answer has come, and what came is painted."""
    page.evaluate(IS_STILL)


def painted(page: Page) -> None:
    """The next frame of the page has begun."""
    page.evaluate(IS_PAINTED)


def until(page: Page, comes: Callable[[], object]) -> None:
    """Look again and again, until what must come has come."""
    deadline = time.monotonic() + PATIENCE_S
    while not comes():
        assert time.monotonic() < deadline, "It never came."
        painted(page)


@dataclass
class Desk:
    """The page of one signed-in person."""

    page: Page
    address: str

    def sign_in(
        self, account: str = "mika", password: str = "lamplight", sees: str = "The Last Lamp"
    ) -> None:
        self.page.goto(self.address)
        self.page.get_by_label("Account").fill(account)
        self.page.get_by_label("Password").fill(password)
        self.page.get_by_role("button", name="Sign in").click()
        expect(self.page.get_by_role("heading", name=sees)).to_be_visible()

    def come_in(self) -> None:
        """By the door, signed in already: into the library."""
        self.page.goto(self.address)
        expect(self.page.get_by_role("heading", name="The Last Lamp")).to_be_visible()

    def sign_out(self, name: str = "Mika Kallas") -> None:
        # A page that is still opening is put together anew, and its menu shuts.
        still(self.page)
        self.page.get_by_role("button", name=f"{name}: account").click()
        self.page.get_by_role("button", name="Sign out").click()
        # The page goes to the door by itself; whoever goes elsewhere meanwhile is stopped by it.
        expect(self.page.get_by_label("Password")).to_be_visible()

    def choose_file(self, path: Path) -> None:
        # What a page that is still opening is given goes with what it puts together anew.
        still(self.page)
        self.page.get_by_test_id("motion-file").set_input_files(path)

    def bring_in(self, path: Path, name: str) -> str:
        """Import a file under a name; what the page says of it."""
        self.choose_file(path)
        self.page.get_by_label("Name", exact=True).fill(name)
        self.as_a_clip()
        self.page.get_by_role("button", name="Bring it in").click()
        expect(self.page.get_by_role("dialog")).to_have_count(0)
        return self.notice()

    def as_a_clip(self) -> None:
        """Long or rough motion is proposed as a take to clean; here it is not."""
        self.page.get_by_role("radio", name="A clip", exact=True).click()

    def notice(self) -> str:
        return self.page.locator(".notice > span").inner_text()

    def new_scene(self) -> None:
        self.page.get_by_role("button", name="New scene", exact=True).click()
        expect(self.page.get_by_label("Time desk")).to_be_visible()

    def open(self, shelf: str, name: str) -> None:
        """A document of the library, by its address."""
        self.page.goto(f"{self.address}/{shelf}/{self.id_of(shelf, name)}")

    def open_scene(self, name: str) -> None:
        self.open("scenes", name)
        expect(self.stints().first).to_be_visible()

    def copy_of(self, shelf: str, name: str) -> None:
        """A copy of a document, to do with as one likes, opened."""
        copy = self.post(f"/api/documents/{self.id_of(shelf, name)}/duplicate", {})
        self.page.goto(f"{self.address}/{shelf}/{copy['id']}")

    def open_copy(self, name: str) -> None:
        """A copy of a scene, opened."""
        self.copy_of("scenes", name)
        expect(self.stints().first).to_be_visible()
        self.settled()

    def send(self, method: str, path: str, body: object = None) -> APIResponse:
        """Ask the server, as the page would."""
        ask = self.page.request
        csrf = ask.get(f"{self.address}/api/session").json()["csrf"]
        return ask.fetch(
            f"{self.address}{path}", method=method, headers={"X-CSRFToken": csrf}, data=body
        )

    def post(self, path: str, body: object) -> Any:
        """What comes of asking for something."""
        answer = self.send("post", path, body)
        assert answer.ok, answer.text()
        return answer.json()

    def production_id(self) -> str:
        """That of the demo."""
        found: str = self.page.request.get(f"{self.address}/api/productions").json()[0]["id"]
        return found

    def id_of(self, shelf: str, name: str) -> str:
        """That of a document of the demo, by the shelf's name in an address ("scenes", "cut-outs")."""
        address = f"{self.address}/api/productions/{self.production_id()}"
        cards = self.page.request.get(address).json()[shelf.replace("-", "_")]
        found: str = next(row["id"] for row in cards if row["name"] == name)
        return found

    def stints(self) -> Locator:
        return self.page.locator("[data-stint]")

    def stint(self, place: int) -> Locator:
        return self.stints().nth(place)

    def span(self, stint: Locator) -> tuple[int, int]:
        """The shown frames of a stint, first and last."""
        found = re.search(r"frames (\d+) to (\d+)$", stint.get_attribute("aria-label") or "")
        assert found
        return int(found[1]), int(found[2])

    def saved(self, revision: int) -> None:
        expect(self.page.locator(".saved")).to_have_text(f"Saved, rev {revision}")

    def frame(self) -> int:
        return int(self.page.get_by_test_id("frame").inner_text())

    def pixels_a_frame(self) -> float:
        """Measured on the first stint of the desk."""
        box = self.stint(0).locator(".card").bounding_box()
        first, last = self.span(self.stint(0))
        assert box
        return box["width"] / (last - first + 1)

    def draw(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        """Press, draw and let go, as a hand does: in steps."""
        mouse = self.page.mouse
        mouse.move(*start)
        mouse.down()
        for k in range(1, STEPS + 1):
            share = k / STEPS
            mouse.move(
                start[0] + (end[0] - start[0]) * share, start[1] + (end[1] - start[1]) * share
            )
            painted(self.page)
        mouse.up()

    def lay(self, clip: str, x: float, y: float) -> None:
        """Draw a clip from the drawer to a point of the desk."""
        card = self.page.locator(f'[data-clip="{clip}"]')
        card.scroll_into_view_if_needed()
        box = card.bounding_box()
        assert box
        self.draw((box["x"] + 50, box["y"] + 12), (x, y))

    def lay_at_start(self, clip: str) -> None:
        rows = self.page.locator(".rows").bounding_box()
        assert rows
        self.lay(clip, rows["x"] + LABEL_WIDTH + 1, rows["y"] + FIRST_LANE + 14)

    def draw_end(self, stint: Locator, frames: int) -> None:
        self._draw_grip(stint, "end", frames)

    def draw_start(self, stint: Locator, frames: int) -> None:
        self._draw_grip(stint, "start", frames)

    def draw_body(self, stint: Locator, frames: float) -> None:
        box = stint.locator(".card").bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + 26
        self.draw((x, y), (x + frames * self.pixels_a_frame(), y))

    def _draw_grip(self, stint: Locator, grip: str, frames: int) -> None:
        box = stint.locator(f'[data-grip="{grip}"]').bounding_box()
        assert box
        x, y = box["x"] + 4, box["y"] + box["height"] / 2
        self.draw((x, y), (x + frames * self.pixels_a_frame(), y))

    def go_to(self, frame: int) -> None:
        """Bring the playhead to a frame, as the scene shows it."""
        self.page.locator(".stage-canvas").focus()
        self.page.keyboard.press("Home")
        for _ in range((frame - 1) // 10):
            self.page.keyboard.press("Shift+ArrowRight")
        for _ in range((frame - 1) % 10):
            self.page.keyboard.press("ArrowRight")
        assert self.frame() == frame

    def lay_at(self, clip: str, frame: int) -> None:
        """Without a mouse: lay a clip of the drawer at a frame."""
        count = self.stints().count()
        self.go_to(frame)
        self.page.locator(f'[data-clip="{clip}"]').focus()
        self.page.keyboard.press("Enter")
        expect(self.stints()).to_have_count(count + 1)
        self.settled()

    def lay_on_top(self, clip: str, frame: int) -> None:
        """Draw a clip to the topmost lane, at a frame."""
        top = self.page.locator(".lane-bed").first.bounding_box()
        assert top
        x = top["x"] + LABEL_WIDTH + (frame - 0.5) * self.pixels_a_frame()
        count = self.stints().count()
        self.lay(clip, x, top["y"] + 20)
        expect(self.stints()).to_have_count(count + 1)
        self.settled()
        self.page.locator("[data-stint]").first.focus()
        self.page.keyboard.press("Enter")

    def choose(self, place: int, adding: bool = False) -> None:
        """Choose a stint by keys."""
        self.stint(place).focus()
        self.page.keyboard.press("Shift+Enter" if adding else "Enter")

    def settled(self) -> None:
        """Everything made is saved."""
        expect(self.page.locator(".saved")).to_have_text(re.compile(r"^Saved, rev \d+$"))

    def revision(self) -> int:
        self.settled()
        return int(self.page.locator(".saved").inner_text().rsplit(" ", 1)[1])

    def undoes(self, label: str) -> None:
        """What was last made, by the name that undo gives it, is saved."""
        name = re.compile("^Undo: " + re.escape(label) + r" \(")
        expect(self.page.get_by_role("button", name=name)).to_be_visible()
        self.settled()

    def undo(self) -> None:
        """One step back."""
        before = self.revision()
        self.page.locator(".stage-canvas").focus()
        self.page.keyboard.press("Control+z")
        expect(self.page.locator(".saved")).not_to_have_text(f"Saved, rev {before}")
        self.settled()

    def set(self, label: str, value: object) -> None:
        """Write a number or a name, and leave the field."""
        field = self.page.get_by_label(label, exact=True)
        field.fill(str(value))
        field.press("Enter")

    def library(self) -> None:
        self.page.get_by_role("link", name="Library").click()
        expect(self.page.get_by_role("heading", name="Clips")).to_be_visible()

    def still(self) -> None:
        still(self.page)

    def picture(self) -> bytes:
        """The stage as it is painted now."""
        return self.page.locator(".stage-canvas").screenshot()

    def shows(self, wanted: Callable[[bytes], bool]) -> bytes:
        """Wait until the stage is painted as wanted."""
        seen = self.picture()
        deadline = time.monotonic() + PATIENCE_S
        while not wanted(seen):
            assert time.monotonic() < deadline, "The stage never showed it."
            painted(self.page)
            seen = self.picture()
        return seen
