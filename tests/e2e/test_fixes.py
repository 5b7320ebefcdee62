"""Fix lanes by hand: a figure posed over what plays, faded in and out; nothing else is touched."""

import re

from playwright.sync_api import Locator, expect

from .desk import Desk

FRAME = 132


def fix_lane(desk: Desk) -> Locator:
    """A fix lane of Odo's, chosen, at the frame."""
    page = desk.page
    page.get_by_label("Lane Body of Odo").focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Add a fix lane").click()
    head = page.get_by_label("Lane Fixes of Odo")
    expect(head).to_be_visible()
    desk.settled()
    head.focus()
    page.keyboard.press("Enter")
    desk.go_to(FRAME)
    expect(page.get_by_role("status").filter(has_text="Posing Odo on Fixes")).to_be_visible()
    return head


def test_a_pose_is_corrected_faded_moved_and_taken_away(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(FRAME - 20)
    desk.still()
    elsewhere = desk.picture()
    fix_lane(desk)
    desk.still()
    plain = desk.picture()
    box = page.locator(".stage-canvas").bounding_box()
    assert box
    # His trunk is in the middle of the picture: whichever joint is nearest is drawn.
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 - 30)
    desk.draw(middle, (middle[0] + 50, middle[1] - 30))
    fixed = page.get_by_role("button", name=re.compile(rf"^Undo: Fix .* of Odo at {FRAME} "))
    expect(fixed).to_be_visible()
    fixes = page.locator("[data-fix]")
    expect(fixes).to_have_count(1)
    desk.settled()
    desk.shows(lambda picture: picture != plain)
    card = page.get_by_role("complementary", name=f"Fix at {FRAME}")
    goes = card.get_by_label("Frames that the fix goes out over")
    expect(goes).to_have_value("4")
    goes.fill("10")
    goes.press("Enter")
    desk.undoes(f"Fade the fix at {FRAME}")
    desk.settled()
    # A press of a key moves it, with its fades.
    fixes.first.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Alt+ArrowRight")
    desk.undoes(f"Move the fix at {FRAME}")
    expect(page.get_by_role("complementary", name=f"Fix at {FRAME + 1}")).to_be_visible()
    desk.settled()
    # Where no fix shows nothing has changed; and nobody poses once Escape is pressed.
    page.keyboard.press("Escape")
    expect(page.get_by_text("Posing Odo on Fixes")).to_have_count(0)
    desk.go_to(FRAME - 20)
    desk.shows(lambda picture: picture == elsewhere)
    fixes.first.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Delete")
    expect(fixes).to_have_count(0)
    desk.undo()
    expect(fixes).to_have_count(1)
    desk.settled()


def test_a_clip_of_another_figure_next_to_a_stint_asks_how_it_fits(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    count = desk.stints().count()
    desk.choose(5)
    page.locator('[data-clip="Brisk"]').focus()
    page.keyboard.press("Shift+Enter")
    sheet = page.get_by_role("dialog", name="Fit Brisk to Odo")
    expect(sheet).to_contain_text("Dropped: braid, lantern.")
    expect(sheet).to_contain_text("These rest: Pole.")
    sheet.get_by_role("button", name="Fit and lay it").click()
    expect(desk.stints()).to_have_count(count + 1)
    desk.undoes("Lay Brisk next to Stand")
    desk.settled()
    checks = page.get_by_role("group", name=re.compile("^Checks of Odo, Body:"))
    marks = checks.get_by_role("button")
    # All that is off is what was told before.
    expect(marks).to_have_count(1)
    expect(marks).to_have_attribute("aria-label", "Dropped channels: 2 in all, the first Braid")
