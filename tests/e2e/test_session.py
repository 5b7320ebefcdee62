"""The page loses nothing: a session that ends elsewhere, another sign-in, and a server in trouble."""

import json
import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, Route, expect

from .conftest import add_account
from .desk import Desk
from .test_two_at_once import hold_back_heads

Open = Callable[[], Page]


def at_work(open_page: Open, address: str) -> Desk:
    """Someone signed in by themselves, with one stint in a new scene."""
    desk = Desk(open_page(), address)
    desk.sign_in()
    desk.new_scene()
    desk.lay_at_start("Amble")
    desk.saved(2)
    return desk


@contextmanager
def another_tab(desk: Desk) -> Iterator[Page]:
    """Another tab of the same browser; what lies behind it is not painted."""
    tab = desk.page.context.new_page()
    tab.goto(desk.address)
    yield tab
    desk.page.bring_to_front()


def sign_in_in(tab: Page, account: str = "mika", password: str = "lamplight") -> None:
    tab.get_by_label("Account").fill(account)
    tab.get_by_label("Password").fill(password)
    tab.get_by_role("button", name="Sign in").click()
    expect(tab.get_by_role("button", name=re.compile(": account$"))).to_be_visible()


def sign_in_again(desk: Desk, password: str = "lamplight") -> None:
    sheet = desk.page.get_by_role("dialog", name="Sign in again")
    sheet.get_by_label("Password").fill(password)
    sheet.get_by_role("button", name="Sign in").click()


def starts_at(desk: Desk) -> int:
    return desk.span(desk.stint(0))[0]


def test_a_new_sign_in_in_another_tab_leaves_an_edit_as_it_is(
    open_page: Open, address: str
) -> None:
    """It was dropped under an empty red notice, while the head said “Saved”."""
    desk = at_work(open_page, address)
    with another_tab(desk) as tab:
        Desk(tab, address).sign_out()
        sign_in_in(tab)
    # Should it have been seen in between, it is over by itself.
    expect(desk.page.get_by_role("dialog")).to_have_count(0)
    desk.draw_body(desk.stint(0), 10)
    desk.saved(3)
    assert starts_at(desk) == 11
    expect(desk.page.get_by_role("dialog")).to_have_count(0)


def test_what_is_made_after_the_session_has_ended_is_saved_when_one_is_back(
    open_page: Open, address: str
) -> None:
    desk = at_work(open_page, address)
    with another_tab(desk) as tab:
        Desk(tab, address).sign_out()
    sheet = desk.page.get_by_role("dialog", name="Sign in again")
    # It is seen before anything is made: the page asks every few seconds what stands.
    expect(sheet).to_be_visible()
    sheet.get_by_role("button", name="Not now").click()
    desk.draw_body(desk.stint(0), 10)
    expect(desk.page.locator(".saved")).to_have_text("Not saved: 1 edit")
    told = desk.page.get_by_role("region", name="You are signed out")
    expect(told).to_contain_text("What you made is kept, and is saved when you are back.")

    with desk.page.expect_download() as taking:
        told.get_by_role("button", name="Take it out as a file").click()
    kept = json.loads(Path(taking.value.path()).read_text(encoding="utf-8"))
    assert kept["steps"][0]["edit"]["kind"] in ("move_stint", "move_stints")

    told.get_by_role("button", name="Sign in").click()
    sign_in_again(desk, "not-mine")
    expect(sheet.get_by_role("alert")).to_have_text(
        "That account and password do not belong together."
    )
    sign_in_again(desk)
    desk.saved(3)
    expect(told).to_have_count(0)
    assert starts_at(desk) == 11


def test_nothing_is_saved_in_another_persons_name(open_page: Open, address: str) -> None:
    add_account("vera-tab", "harbour-wall-3", "Vera Kohl")
    desk = at_work(open_page, address)
    # The page hears of it by its own edit, not between the two.
    hold_back_heads(desk.page)
    with another_tab(desk) as tab:
        Desk(tab, address).sign_out()
        sign_in_in(tab, "vera-tab", "harbour-wall-3")
    desk.draw_body(desk.stint(0), 10)
    expect(desk.page.locator(".saved")).to_have_text("Not saved: 1 edit")
    sheet = desk.page.get_by_role("dialog", name="Sign in again")
    expect(sheet).to_contain_text("Vera Kohl has signed in in this browser since.")
    expect(sheet.get_by_label("Account")).to_have_value("mika")
    with another_tab(desk) as tab:
        # Opened by the other, it is still the first one's.
        tab.goto(desk.page.url)
        expect(tab.locator(".saved")).to_have_count(0)
    desk.page.unroute_all()
    sign_in_again(desk)
    desk.saved(3)


def test_an_edit_that_the_server_could_not_answer_stays_until_it_is_decided(
    open_page: Open, address: str
) -> None:
    desk = at_work(open_page, address)

    def breaks(route: Route) -> None:
        body = {"message": "The server ran into something it did not expect.", "head": None}
        route.fulfill(status=500, json=body)

    desk.page.route("**/edits", breaks)
    desk.draw_body(desk.stint(0), 10)
    told = desk.page.get_by_role("region", name="An edit could not be saved")
    expect(told).to_contain_text("The server ran into something it did not expect.")
    expect(desk.page.locator(".saved")).to_have_text("Not saved: 1 edit")
    # It outlives the page.
    desk.page.reload()
    expect(told).to_be_visible()
    desk.page.unroute("**/edits")
    told.get_by_role("button", name="Try again").click()
    desk.saved(3)
    assert starts_at(desk) == 11

    desk.page.route("**/edits", breaks)
    desk.draw_body(desk.stint(0), 10)
    expect(told).to_be_visible()
    told.get_by_role("button", name="Leave it out").click()
    desk.saved(3)
    expect(told).to_have_count(0)
    assert starts_at(desk) == 11


def test_what_is_being_drawn_when_the_session_is_over_is_drawn_to_its_end(
    open_page: Open, address: str
) -> None:
    """The sheet came between while a preview was asked for, and took the stint out of the hand."""
    desk = at_work(open_page, address)
    box = desk.stint(0).locator(".card").bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + 26
    mouse, frames = desk.page.mouse, desk.pixels_a_frame()
    mouse.move(x, y)
    mouse.down()
    desk.page.context.clear_cookies()
    for k in range(1, 11):
        mouse.move(x + k * frames, y)
    # The preview was refused, and it is told; the sheet waits.
    expect(desk.page.get_by_role("region", name="You are signed out")).to_be_visible()
    sheet = desk.page.get_by_role("dialog", name="Sign in again")
    expect(sheet).to_have_count(0)
    mouse.up()
    expect(desk.page.locator(".saved")).to_have_text("Not saved: 1 edit")
    # Nor does a press beside the sheet send it away.
    expect(sheet).to_be_visible()
    mouse.click(20, 600)
    expect(sheet).to_be_visible()
    sign_in_again(desk)
    desk.saved(3)
    assert starts_at(desk) == 11
