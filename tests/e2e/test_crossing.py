"""A walk drawn across the stage, and a figure drawn larger: by hand, each one step."""

import re

from playwright.sync_api import expect

from .desk import Desk


def test_a_walk_is_drawn_across_the_stage(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.choose(2)
    page.get_by_role("radio", name="stride fitted").click()
    page.get_by_role("button", name="Draw it in Plan").click()
    expect(page.get_by_text("Press where it sets off")).to_be_visible()
    desk.still()
    box = page.locator(".stage-canvas").bounding_box()
    assert box
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    # About as far as 80 frames of it go.
    desk.draw((middle[0] - 110, middle[1] + 30), (middle[0] + 110, middle[1] - 30))
    label = re.compile(r"^Undo: Amble crosses the stage in 80 frames ")
    expect(page.get_by_role("button", name=label)).to_be_visible()
    assert re.search(r"its stride is \d\.\d\d m, \d+ % of what it was made", desk.notice())
    # It was not the first on its lane: nailed down it goes from there.
    expect(page.get_by_role("button", name="Chain it")).to_be_visible()
    expect(page.get_by_text("Press where it sets off")).to_have_count(0)
    desk.undo()
    expect(page.get_by_role("button", name="Nail down")).to_be_visible()
    desk.settled()


def test_by_numbers_what_cannot_be_is_told(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.choose(2)
    desk.set("Frames that it takes to cross", 10)
    page.get_by_role("button", name="Cross", exact=True).click()
    told = page.get_by_text("“Amble” would have to go at 857 % of its pace")
    expect(told).to_be_visible()
    desk.choose(0)
    expect(page.get_by_role("region", name="Cross the stage")).to_have_count(0)


def test_a_figure_is_drawn_larger_from_above(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(1)
    page.get_by_role("button", name="Odo", exact=True).click()
    page.keyboard.press("4")
    desk.still()
    size = page.get_by_label("Size of the figure in percent: its stride grows with it")
    expect(size).to_have_value("100")
    box = page.locator(".stage-canvas").bounding_box()
    assert box
    # He stands a little below the middle; the ring is 0.64 m about him, 122 pixels a metre here.
    knob = (box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.52 + 78)
    before = desk.picture()
    desk.draw(knob, (knob[0], knob[1] + 40))
    label = re.compile(r"^Undo: Odo at 1\d\d % ")
    expect(page.get_by_role("button", name=label)).to_be_visible()
    desk.settled()
    desk.shows(lambda picture: picture != before)


def test_a_size_is_keyed_and_the_figure_grows(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    # These would show where he is later on.
    for shown in ("Ghosts", "Prints", "Plan"):
        page.get_by_role("checkbox", name=shown).click()
    desk.go_to(40)
    desk.still()
    small = desk.picture()
    page.get_by_role("button", name="Odo", exact=True).click()
    key = page.get_by_role("button", name="Key the size at the playhead")
    key.click()
    desk.undoes("Odo at 100 % at 40")
    page.keyboard.press("Escape")
    desk.go_to(60)
    page.get_by_role("button", name="Odo", exact=True).click()
    key.click()
    desk.undoes("Odo at 100 % at 60")
    desk.set("Size at 60, in percent", 140)
    desk.undoes("Odo at 140 % at 60")
    page.keyboard.press("Escape")
    desk.go_to(40)
    desk.shows(lambda picture: picture == small)
    page.get_by_role("button", name="Odo", exact=True).click()
    page.get_by_role("button", name="Take away the key of the size at 60").click()
    desk.undoes("Delete a size key of Odo")
    expect(page.get_by_label("Size at 40, in percent")).to_have_value("100")
    desk.undo()
    desk.settled()
