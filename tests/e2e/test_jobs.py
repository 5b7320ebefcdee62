"""Long work in the page: a large motion file is read and brought in while its bar is watched."""

import os
import re
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from core.tests.makes import long_take

from .desk import Desk
from .site import Site, new_site

FRAMES = 9000


@pytest.fixture
def site() -> Iterator[Site]:
    """A site without a worker yet."""
    site = new_site("hours_e2e_jobs", os.environ["DATABASE_URL"])
    site.start()
    yield site
    site.stop()


@pytest.fixture(scope="module")
def take(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("takes") / "harbour_round.bvh"
    path.write_bytes(long_take(FRAMES))
    assert path.stat().st_size > 10 << 20
    return path


def test_a_large_take_comes_in_although_the_page_and_the_worker_go_away(
    site: Site, open_page: object, take: Path
) -> None:
    page: Page = open_page()  # type: ignore[operator]
    desk = Desk(page, site.address)
    desk.sign_in()
    desk.choose_file(take)
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_text("Waits for a worker …")).to_be_visible()
    # The page goes away; what was asked for stays.
    page.reload()
    jobs = page.get_by_role("region", name="Long work")
    expect(jobs.get_by_text("Waits for a worker …")).to_be_visible()
    site.start_worker()
    expect(jobs.get_by_text(f"{FRAMES:,} frames are read.")).to_be_visible()
    jobs.get_by_role("button", name="Bring in harbour_round.bvh").click()
    expect(sheet.get_by_text("9000 frames at 60 fps")).to_be_visible()
    sheet.get_by_label("Name", exact=True).fill("Harbour round")
    desk.as_a_clip()
    sheet.get_by_role("button", name="Bring it in").click()

    # Its bar moves; then the worker is killed, and the bar stands where it was, also after a reload.
    site.freeze_worker_in("bring in")
    figure = sheet.get_by_text(re.compile(r"^[\d,]+ of 9,000 frames .*, \d+ %$"))
    expect(figure).to_be_visible()
    stood = figure.inner_text()
    bar = sheet.get_by_role("progressbar", name="Progress of Harbour round")
    assert 0 < float(bar.get_attribute("value") or 0) <= 1
    site.kill_worker()
    page.reload()
    expect(jobs.get_by_text(stood)).to_be_visible()
    assert page.get_by_role("link", name=re.compile("^Harbour round")).count() == 0

    # Another worker takes it up from its start, and it is in the library once.
    site.start_worker()
    expect(jobs.get_by_text(re.compile("^Harbour round is in the library."))).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("^Harbour round"))).to_have_count(1)
    jobs.get_by_role("button", name="Put away Harbour round").click()
    jobs.get_by_role("button", name="Put away harbour_round.bvh").click()
    expect(jobs).to_have_count(0)
    page.reload()
    expect(page.get_by_role("link", name=re.compile("^Harbour round"))).to_have_count(1)
    expect(jobs).to_have_count(0)

    # Once more, and cancelled on its way: nothing of it is brought in.
    desk.choose_file(take)
    expect(sheet.get_by_label("Name", exact=True)).to_have_value("Harbour round")
    sheet.get_by_label("Name", exact=True).fill("Never")
    desk.as_a_clip()
    sheet.get_by_role("button", name="Bring it in").click()
    site.freeze_worker_in("bring in")
    sheet.get_by_role("button", name="Cancel Never").click()
    expect(sheet.get_by_text("Stopping …")).to_be_visible()
    site.thaw_worker()
    expect(sheet.get_by_text("Cancelled.")).to_be_visible()
    sheet.get_by_role("button", name="Cancel", exact=True).click()
    assert page.get_by_role("link", name=re.compile("^Never")).count() == 0


def test_a_large_clip_file_is_opened_by_a_worker(
    site: Site, open_page: object, tmp_path: Path
) -> None:
    page: Page = open_page()  # type: ignore[operator]
    desk = Desk(page, site.address)
    desk.sign_in()
    production = page.url.rsplit("/", 1)[1]
    library = page.request.get(f"{site.address}/api/productions/{production}").json()
    amble = next(clip["id"] for clip in library["clips"] if clip["name"] == "Amble")
    text = page.request.get(f"{site.address}/api/clips/{amble}/file").text()
    text = text.replace('"name":"Amble"', '"name":"Harbour amble"', 1)
    path = tmp_path / "harbour.clip.json"
    path.write_text(text[:-1] + " " * (6 << 20) + "}", encoding="utf-8")
    desk.choose_file(path)
    sheet = page.get_by_role("dialog")
    expect(sheet.get_by_text("Waits for a worker …")).to_be_visible()
    site.start_worker()
    # Once all is in, the sheet goes by itself.
    told = page.locator(".notice > span")
    expect(told).to_contain_text("Harbour amble is in the library. 1 new clip came with it.")
    expect(sheet).to_have_count(0)
    expect(page.get_by_role("link", name="Harbour amble")).to_be_visible()


TAKES = 20
LIGHT = {
    "name": "Only shake",
    "steps": [{"step": "conform", "rate": "24"}, {"step": "mend"}, {"step": "smooth"}],
}


def test_a_recipe_runs_over_twenty_takes_is_cancelled_at_once_and_outlives_its_worker(
    site: Site, open_page: object, capsys: pytest.CaptureFixture[str]
) -> None:
    page: Page = open_page()  # type: ignore[operator]
    desk = Desk(page, site.address)
    desk.sign_in()
    ask, production = page.request, page.url.rsplit("/", 1)[1]
    headers = {"X-CSRFToken": ask.get(f"{site.address}/api/session").json()["csrf"]}
    shelf = f"{site.address}/api/productions/{production}"
    take = ask.get(shelf).json()["takes"][0]["id"]
    for _ in range(TAKES - 1):
        ask.post(f"{site.address}/api/documents/{take}/duplicate", headers=headers)
    ask.post(f"{shelf}/recipes", headers=headers, data={"name": "Only shake", "recipe": LIGHT})
    clips = len(ask.get(shelf).json()["clips"])
    page.reload()
    site.start_worker()
    run = page.get_by_role("button", name=f"Run it over {TAKES} takes")
    jobs = page.get_by_role("region", name="Long work")
    figure = jobs.get_by_text(re.compile(r"^[\d,]+ of [\d,]+ steps, at .*, \d+ %$"))

    # The house recipe, which takes long, and is taken back.
    run.click()
    expect(figure).to_be_visible()
    cancel = jobs.get_by_role("button", name=re.compile("^Cancel "))
    began = time.monotonic()
    cancel.click()
    expect(jobs.get_by_text("Cancelled.")).to_be_visible()
    took = time.monotonic() - began
    with capsys.disabled():
        print(f"\nA recipe over {TAKES} takes stopped {took:.2f} s after Cancel was pressed.")
    jobs.get_by_role("button", name=re.compile("^Put away")).click()
    assert len(ask.get(shelf).json()["clips"]) == clips

    # A light one, whose worker is killed on the way: another does it, and every clip is there once.
    page.get_by_label("The recipe to run").select_option("Only shake")
    run.click()
    site.freeze_worker_in("run recipe")
    site.kill_worker()
    expect(figure).to_be_visible()
    assert len(ask.get(shelf).json()["clips"]) == clips
    site.start_worker()
    done = jobs.get_by_text(re.compile(r"quay_pacing_07.*: 384 frames"))
    expect(done).to_be_visible(timeout=60_000)
    assert len(ask.get(shelf).json()["clips"]) == clips + TAKES
