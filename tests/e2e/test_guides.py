"""Guides on the stage: set down, keyed by hand and by numbers, and carrying figures."""

import re

import pytest
from playwright.sync_api import expect

from .desk import Desk

FRAMES = (1, 49)


def guide_set_down(desk: Desk) -> None:
    """A guide in a copy of the scene on the quay, chosen, keyed at the first frame."""
    desk.open_copy("Sc 04 Quay at dusk")
    desk.page.keyboard.press("Escape")
    desk.page.get_by_role("button", name="Set a guide down").click()
    desk.undoes("Add the guide Guide")
    expect(desk.page.get_by_role("button", name="Guide key at 1")).to_be_visible()


def looked_at(desk: Desk) -> bytes:
    """The stage, without what is drawn of the chosen guide, and without the plan."""
    desk.page.get_by_role("checkbox", name="Plan").uncheck()
    desk.page.keyboard.press("Escape")
    desk.page.locator(".stage-canvas").focus()
    desk.page.keyboard.press("Shift")
    desk.still()
    return desk.picture()


def test_drawn_in_plan_a_guide_is_keyed_at_the_playhead(desk: Desk) -> None:
    guide_set_down(desk)
    page = desk.page
    page.locator(".stage-canvas").focus()
    page.keyboard.press("4")
    desk.go_to(FRAMES[1])
    desk.still()
    canvas = page.locator(".stage-canvas").bounding_box()
    assert canvas
    # The camera follows Odo, who stands on the guide, in the middle of the picture.
    middle = (canvas["x"] + canvas["width"] / 2, canvas["y"] + canvas["height"] * 0.52)
    desk.draw(middle, (middle[0] + 120, middle[1] + 60))
    desk.undoes("Key Guide at 49")
    expect(page.get_by_role("button", name="Guide key at 49")).to_be_visible()
    x, _, z = (
        float(page.get_by_label(f"Stands at, {axis}", exact=True).input_value()) for axis in "xyz"
    )
    assert abs(x) + abs(z) > 0.5
    page.get_by_role("radio", name="even", exact=True).click()
    desk.undoes("Guide: even from 49")
    # Its arrow turns it, the short way.
    desk.set("Its heading in degrees; 360 more is once round", 180)
    desk.undoes("Key Guide at 49")
    key = page.get_by_role("button", name="Guide key at 49")
    key.focus()
    page.keyboard.press("Alt+ArrowRight")
    expect(page.get_by_role("button", name="Guide key at 50")).to_be_visible()
    page.get_by_role("button", name="Guide key at 50").focus()
    page.keyboard.press("Delete")
    expect(page.locator(".row-key")).to_have_count(1)


def test_carrying_moves_nothing_where_it_begins_and_goes_along_from_there(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(FRAMES[1])
    without = looked_at(desk)
    desk.go_to(1)
    page.get_by_role("button", name="Set a guide down").click()
    desk.undoes("Add the guide Guide")
    desk.go_to(FRAMES[1])
    page.get_by_role("button", name="Key it at 49").click()
    desk.undoes("Key Guide at 49")
    desk.set("Stands at, x", 2.5)
    desk.undoes("Key Guide at 49")
    desk.go_to(1)
    before = looked_at(desk)
    desk.go_to(FRAMES[1])
    alone = looked_at(desk)
    desk.go_to(1)
    page.get_by_role("button", name=re.compile("^Guide on ones")).click()
    page.get_by_label("Carry from 1 on").select_option("Gull")
    desk.undoes("Gull rides on Guide")
    expect(page.get_by_label("Guide: Guide").get_by_role("button", name="Gull")).to_be_visible()
    assert looked_at(desk) == before
    desk.go_to(FRAMES[1])
    assert looked_at(desk) != alone
    page.get_by_role("button", name="Gull", exact=True).click()
    expect(page.get_by_label("What it rides on")).to_contain_text("Guide")
    # Taken away, whom it carried stands on the mark again.
    page.get_by_role("button", name=re.compile("^Guide on ones")).click()
    page.get_by_role("button", name="Take the guide away").click()
    desk.undoes("Take Guide away")
    expect(page.locator(".keys-row")).to_have_count(0)
    assert looked_at(desk) == without


def test_an_orbit_is_two_numbers(desk: Desk) -> None:
    guide_set_down(desk)
    page = desk.page
    page.get_by_role("radio", name="even", exact=True).click()
    desk.undoes("Guide: even from 1")
    page.get_by_label("Carry from 1 on").select_option("Gull")
    desk.undoes("Gull rides on Guide")
    desk.go_to(FRAMES[1])
    page.get_by_role("button", name="Key it at 49").click()
    desk.undoes("Key Guide at 49")
    desk.set("Its heading in degrees; 360 more is once round", 360)
    desk.undoes("Key Guide at 49")
    assert float(
        page.get_by_label("Its heading in degrees; 360 more is once round").input_value()
    ) == pytest.approx(360)
