"""Takes recorded from the capture stage in the page: live, counted down, numbered, and kept whatever dies."""

import os
import re
from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Locator, Page, expect

from .desk import Desk, until
from .site import Site, new_site


@pytest.fixture(scope="module")
def site() -> Iterator[Site]:
    site = new_site("hours_e2e_stage", os.environ["DATABASE_URL"])
    site.start()
    site.start_worker()
    yield site
    site.stop()


@pytest.fixture
def page(open_page: Callable[[], Page], site: Site) -> Iterator[Page]:
    """The record sheet, opened in the library, and a stage that sends."""
    site.start_stage()
    page = open_page()
    Desk(page, site.address).sign_in()
    open_sheet(page)
    expect(page.get_by_text(re.compile(r"live, \d+ ms behind"))).to_be_visible()
    yield page
    site.kill_stage()


def open_sheet(page: Page) -> None:
    page.get_by_role("button", name="Record from the stage …").click()
    expect(in_sheet(page)).to_be_visible()


def in_sheet(page: Page) -> Locator:
    return page.get_by_role("dialog", name="Record from the stage")


def behind_ms(page: Page) -> int:
    told = page.get_by_text(re.compile(r"live, \d+ ms behind")).inner_text()
    return int(re.sub(r"\D", "", told))


def recorded_frames(page: Page) -> int:
    told = page.locator(".record-told").inner_text()
    found = re.search(r"([\d,]+) frames", told)
    return int(found[1].replace(",", "")) if found and "Recording" in told else 0


def set_up(page: Page, label: str, countdown: str = "0") -> None:
    page.get_by_label("Name of the takes; they are numbered").fill(label)
    page.get_by_label("Countdown in seconds").fill(countdown)
    page.get_by_label("Countdown in seconds").press("Enter")


def kept(page: Page, name: str) -> str:
    """What is said of the take once it is there."""
    told, said = page.locator(".record-told"), list[str]()

    def is_there() -> bool:
        # Read once: what is said next says something else. While it is recorded it is not there yet.
        said.append(told.inner_text())
        is_over = not said[-1].startswith("Recording ")
        return is_over and re.search(rf"{name}: \d+ frames", said[-1]) is not None

    until(page, is_there)
    expect(in_sheet(page).get_by_role("link", name=name, exact=True)).to_be_visible()
    return said[-1]


def test_a_take_is_seen_live_counted_down_recorded_and_circled(page: Page) -> None:
    # How far behind depends on the machine; that it is told and does not grow does not.
    until(page, lambda: behind_ms(page) < 2_000)
    page.get_by_role("button", name="walk", exact=True).click()
    expect(page.get_by_role("button", name="walk", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    set_up(page, "quay walk", "1")
    page.get_by_label("The figure that plays the takes").select_option("Odo")
    page.get_by_role("button", name="Record", exact=True).click()
    expect(page.get_by_text("Nothing is recorded yet.")).to_be_visible()
    # A key too many ends nothing: while a take is under way the sheet stays.
    page.keyboard.press("Escape")
    until(page, lambda: recorded_frames(page) > 240)
    page.get_by_role("button", name="Stop", exact=True).click()
    told = kept(page, "quay walk 1")
    frames = int(re.search(r"(\d+) frames", told)[1])  # type: ignore[index]
    assert frames > 200
    page.get_by_role("button", name="Circle quay walk 1").click()
    expect(page.get_by_role("button", name="Rub out the circle of quay walk 1")).to_be_visible()
    # It opens, and is cleaned, like a file.
    in_sheet(page).get_by_role("link", name="quay walk 1", exact=True).click()
    expect(page.get_by_role("complementary", name="Recipe")).to_be_visible()
    expect(page.get_by_text(f"{frames:,}", exact=True)).to_be_visible()
    expect(page.locator("canvas.stage-canvas")).to_have_attribute("data-figures", "2")
    lost = re.search(r"(\d+) lost, (\d+) of them filled", told)
    if lost:
        expect(page.locator(".lost-row")).to_contain_text(f"Never came {lost[1]} frame")


def test_a_take_by_keys_alone_and_one_that_is_thrown_away(page: Page) -> None:
    set_up(page, "灯台 歩き")
    page.get_by_role("dialog").focus()
    page.keyboard.press("3")
    expect(page.get_by_role("button", name="walk", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    page.keyboard.press("r")
    until(page, lambda: recorded_frames(page) > 60)
    page.keyboard.press("r")
    kept(page, "灯台 歩き 1")
    page.keyboard.press("r")
    until(page, lambda: recorded_frames(page) > 10)
    page.keyboard.press("x")
    expect(page.get_by_text("Thrown away.")).to_be_visible()
    expect(in_sheet(page).get_by_role("link", name="灯台 歩き 2", exact=True)).to_have_count(0)
    # The number of what was thrown away is free again.
    page.keyboard.press("r")
    until(page, lambda: recorded_frames(page) > 10)
    page.keyboard.press("r")
    kept(page, "灯台 歩き 2")


def test_a_stage_that_is_killed_keeps_what_came_and_is_found_again(page: Page, site: Site) -> None:
    set_up(page, "cut short")
    page.get_by_role("button", name="Record", exact=True).click()
    until(page, lambda: recorded_frames(page) > 120)
    site.kill_stage()
    told = kept(page, "cut short 1")
    assert told.startswith("The stage went away: what came until then is kept.")
    assert int(re.search(r"(\d+) frames", told)[1]) > 100  # type: ignore[index]
    expect(page.get_by_text("No capture stage answers at")).to_be_visible()
    expect(page.get_by_role("button", name="Record", exact=True)).to_be_disabled()
    site.start_stage()
    expect(page.get_by_text(re.compile(r"live, \d+ ms behind"))).to_be_visible()


def test_a_worker_that_is_killed_and_a_page_that_is_reloaded_lose_nothing(
    page: Page, site: Site
) -> None:
    set_up(page, "held on")
    page.get_by_role("button", name="Record", exact=True).click()
    until(page, lambda: recorded_frames(page) > 120)
    site.kill_worker()
    page.reload()
    open_sheet(page)
    # The take is still under way: what came is kept, and the next worker goes on with it.
    expect(page.get_by_role("button", name="Stop", exact=True)).to_be_visible()
    stood = recorded_frames(page)
    site.start_worker()
    until(page, lambda: recorded_frames(page) not in (0, stood))
    page.get_by_role("button", name="Stop", exact=True).click()
    told = kept(page, "held on 1")
    assert int(re.search(r"(\d+) frames", told)[1]) > 120  # type: ignore[index]
    assert "lost" in told
