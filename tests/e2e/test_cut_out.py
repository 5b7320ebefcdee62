"""A figure is cut out of a layered set by hand, made, and walked (rules 2.1 and 4.6)."""

import re
from dataclasses import dataclass
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from .desk import Desk, until
from .frames import array_in, frames


@dataclass
class Table:
    """The cut-out's room, with a cut-out of its own."""

    desk: Desk

    @property
    def page(self) -> Page:
        return self.desk.page

    @property
    def told(self) -> dict[str, Any]:
        """The cut-out as the server has it."""
        cut_out = self.page.url.rsplit("/", 1)[-1]
        address = f"{self.desk.address}/api/cut-outs/{cut_out}"
        found: dict[str, Any] = self.page.request.get(address).json()
        return found

    def part(self, name: str) -> dict[str, Any]:
        parts = self.told["cut_out"]["parts"]
        found: dict[str, Any] = next(one["part"] for one in parts if one["part"]["name"] == name)
        return found

    def order(self) -> list[str]:
        """From back to front."""
        return [one["part"]["name"] for one in self.told["cut_out"]["parts"]]

    def brad(self, part: str) -> Locator:
        return self.page.get_by_role("button", name=f"Pivot of {part}", exact=True)

    def choose(self, part: str) -> None:
        self.page.get_by_role("button", name=part, exact=True).click()
        expect(self.page.get_by_label("Hangs on")).to_be_visible()


@pytest.fixture
def table(desk: Desk) -> Table:
    desk.come_in()
    desk.page.get_by_role("button", name="Cut a figure out of Paper Odo").click()
    expect(desk.page.get_by_role("region", name="Parts")).to_be_visible()
    return Table(desk)


@pytest.fixture
def walks(table: Table) -> Table:
    """Six actions: cut out, make, a clip of it, and the walk starter’s three. Its bench is open."""
    page = table.page
    expect(page.get_by_text("It has two legs to walk on")).to_be_visible()
    page.get_by_role("button", name="Make the figure").click()
    expect(page.locator(".notice").first).to_contain_text("Paper Odo is in the library.")
    page.get_by_role("button", name="New clip of it").click()
    page.get_by_role("radio", name="Walk", exact=True).click()
    page.get_by_role("button", name="amble", exact=True).click()
    expect(page.locator(".seam-badge")).to_have_text("seam closed")
    page.get_by_role("button", name="Keep as keys").click()
    expect(page.locator(".notice").last).to_contain_text("24 frames, 8 poses.")
    return table


def test_twelve_pictures_become_a_figure_that_walks(walks: Table) -> None:
    page = walks.page
    clip = page.url.rsplit("/", 1)[-1]

    def bench() -> dict[str, Any]:
        found: dict[str, Any] = page.request.get(f"{walks.desk.address}/api/clips/{clip}").json()
        return found["bench"]  # type: ignore[no-any-return]

    until(page, lambda: len(bench()["plants"]) == 2)
    assert max(plant["slide_cm"] for plant in bench()["plants"]) < 0.1
    assert bench()["seam"]["joints"][0]["gap_degrees"] < 0.5


def test_it_plays_a_clip_of_odos_swaps_its_hand_and_passes_its_arm_behind(walks: Table) -> None:
    page, desk = walks.page, walks.desk
    desk.library()
    page.get_by_role("button", name="Make a run of Paper Odo").click()
    expect(page.get_by_role("region", name="Exposure sheet")).to_be_visible()
    desk.set("Order of the drawings", "11 hold 6, 12 hold 6")
    expect(page.locator(".saved")).to_have_text("Saved, rev 2")
    desk.library()
    desk.new_scene()
    page.locator('[data-clip^="Paper Odo"]').last.focus()
    page.keyboard.press("Enter")
    expect(desk.stints()).to_have_count(1)
    desk.choose(0)
    page.locator('[data-clip="Amble"]').focus()
    page.keyboard.press("Shift+Enter")
    sheet = page.get_by_role("dialog", name="Fit Amble to Paper Odo")
    expect(sheet).to_contain_text("11 play, 9 are dropped, 0 of Paper Odo’s rest.")
    sheet.get_by_role("button", name="Fit and lay it").click()
    expect(desk.stints()).to_have_count(2)
    desk.settled()
    checks = page.get_by_role("group", name=re.compile("^Checks of Paper Odo, Body:"))
    told = [mark.get_attribute("aria-label") or "" for mark in checks.get_by_role("button").all()]
    assert not [mark for mark in told if "slide" in mark], told
    # Another hand, and from frame 11 on the arm behind the coat.
    page.locator(".stage-canvas").focus()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Paper Odo", exact=True).click()
    card = page.get_by_role("complementary", name="Figure: Paper Odo")
    card.get_by_label("Drawings of near hand").select_option(label="Paper Odo")
    desk.undoes("Paper Odo’s near hand shows Paper Odo")
    desk.go_to(11)
    torso = int(card.get_by_label("Order of torso from the playhead on").input_value())
    card.get_by_label("Order of near arm from the playhead on").fill(str(torso - 1))
    card.get_by_label("Order of near arm from the playhead on").press("Enter")
    expect(card.get_by_role("button", name="Delete the order of near arm at 11")).to_be_visible()
    desk.settled()
    view = page.request.get(f"{desk.address}/api/scenes/{page.url.rsplit('/', 1)[-1]}").json()
    figure = view["desk"]["figures"][0]["id"]
    pack = frames(desk, 0, 24)
    hands = array_in(pack, f"{figure}/drawings/near hand")
    assert hands.tolist() == [11] * 6 + [12] * 6 + [11] * 6 + [12] * 6
    orders = array_in(pack, f"{figure}/orders/near arm")
    assert set(orders[10:].tolist()) == {torso - 1}
    assert torso - 1 not in orders[:10]


def test_a_brad_is_drawn_and_taken_back(table: Table) -> None:
    page = table.page
    before = table.part("head")["pivot"]
    box = table.brad("head").bounding_box()
    assert box is not None
    start = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    table.desk.draw(start, (start[0] + 30, start[1] - 20))
    until(page, lambda: table.part("head")["pivot"] != before)
    moved = table.part("head")["pivot"]
    # As far to the right and up as the hand went, in heights of the sheet.
    assert moved[0] - before[0] == pytest.approx(1.5 * (moved[1] - before[1]), rel=0.1)
    assert moved[0] > before[0]
    page.keyboard.press("Control+z")
    until(page, lambda: table.part("head")["pivot"] == before)
    page.keyboard.press("Alt+ArrowRight")
    until(page, lambda: table.part("head")["pivot"][0] == pytest.approx(before[0] + 0.002))
    # Drawn far past the table's edge it stays within sight.
    table.desk.draw(start, (1270, 4))
    until(page, lambda: table.part("head")["pivot"][1] > moved[1])
    box, paper = table.brad("head").bounding_box(), page.locator(".paper-table").bounding_box()
    assert box is not None
    assert paper is not None
    assert box["x"] + box["width"] / 2 < paper["x"] + paper["width"]
    assert box["y"] + box["height"] / 2 > paper["y"]


def test_parts_are_named_hung_and_laid_by_keys(table: Table) -> None:
    page = table.page
    order = table.order()
    table.choose("near arm")
    page.get_by_label("Called", exact=True).fill("ランプの腕")
    page.get_by_label("Called", exact=True).press("Enter")
    until(page, lambda: "ランプの腕" in table.order())
    assert table.part("near hand")["parent"] == "ランプの腕"
    page.get_by_label("Hangs on").select_option(label="hips")
    until(page, lambda: table.part("ランプの腕")["parent"] == "hips")
    place = order.index("near arm")
    page.get_by_role("button", name="ランプの腕 nearer to the back").click()
    until(page, lambda: table.order().index("ランプの腕") == place - 1)
    page.get_by_label("Hangs on").select_option(label="near hand")
    expect(page.locator(".notice").first).to_contain_text("near hand hangs on ランプの腕 itself.")


def test_it_is_tried_before_it_is_made(table: Table) -> None:
    """The paper swings about its brads, and stands still at rest."""
    page = table.page
    paper = page.locator(".paper-table > g").nth(table.order().index("near foot"))
    rest = paper.get_attribute("transform")
    assert not rest
    page.get_by_role("button", name="Try the joints").click()
    until(page, lambda: (paper.get_attribute("transform") or "").startswith("matrix("))
    page.get_by_role("button", name="Stop").click()
    page.get_by_role("button", name="Rest").click()
    until(page, lambda: not paper.get_attribute("transform"))


def test_what_carries_nothing_is_said(table: Table) -> None:
    page = table.page
    for name in table.order():
        table.choose(name)
        page.get_by_role("button", name="Take it out").click()
        expect(page.get_by_role("button", name=name, exact=True)).to_have_count(0)
    expect(page.get_by_role("status").filter(has_text="has no parts yet")).to_be_visible()
    expect(page.get_by_role("button", name="Make the figure")).to_be_disabled()
    page.get_by_role("button", name="Make a part of drawing 6").click()
    until(page, lambda: table.order() == ["part 6"])
    expect(page.get_by_role("button", name="Make the figure")).to_be_enabled()
