"""A scene is printed from its room, and looked at in the prints’ room: frame by frame, and against another."""

import io
import re
from datetime import UTC, datetime, timedelta

import av
import pytest
from PIL import Image
from playwright.sync_api import expect

from .bench_room import Bench
from .desk import Desk, until

OWN_SIZE = "picture => [picture.naturalWidth, picture.naturalHeight]"


@pytest.fixture
def scene(desk: Desk) -> Desk:
    desk.open_copy("Sc 06 Three lamps lit")
    desk.page.get_by_role("button", name="Print the scene (Ctrl+P)").click()
    desk.page.get_by_label("Size").select_option(label="640 × 360")
    desk.page.keyboard.press("Escape")
    return desk


def test_a_pencil_test_with_sound_is_three_actions(scene: Desk) -> None:
    page, acts = scene.page, list[str]()

    def act(what: str) -> None:
        acts.append(what)

    page.get_by_role("button", name="Print the scene (Ctrl+P)").click()
    act("print")
    page.get_by_role("button", name="Print it").click()
    act("print it")
    page.get_by_role("link", name="All prints").click()
    act("all prints")
    print(f"\nA pencil test: {', '.join(acts)}")
    assert len(acts) <= 3
    line = page.get_by_role("list", name="On the line")
    # Others have copies of the scene beside this one.
    name = re.compile(r"^Sc 06 Three lamps lit copy( \d+)?, rev 1, Mika")
    newest = line.get_by_role("button", name=name).first
    expect(newest).to_be_visible()
    newest.click()
    facts = page.get_by_role("region", name="On the table")
    expect(facts).to_contain_text("9.00 s at 24")
    expect(facts).to_contain_text("mixed")
    # It plays here, and elsewhere.
    video = page.locator(".film-picture video")
    until(page, lambda: abs(video.evaluate("film => film.duration") - 9.0) < 1 / 24)
    frame = page.get_by_test_id("frame")
    for _ in range(30):
        page.keyboard.press("ArrowRight")
    expect(frame).to_have_text("031")
    until(page, lambda: video.evaluate("film => !film.seeking && film.currentTime * 24 | 0") == 30)
    page.keyboard.press("End")
    expect(frame).to_have_text("216")
    page.keyboard.press("ArrowRight")
    expect(frame).to_have_text("216")
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    until(page, lambda: int(frame.inner_text()) > 6)
    page.keyboard.press("Space")
    film = page.request.get(f"{scene.address}{video.get_attribute('src')}").body()
    with av.open(io.BytesIO(film)) as held:
        assert sum(1 for _ in held.decode(video=0)) == 216
    with av.open(io.BytesIO(film)) as held:
        heard = sum(block.samples for block in held.decode(audio=0))
    assert abs(heard / 48_000 - 9.0) < 1 / 24


def test_the_same_again_is_one_key_and_both_are_compared(scene: Desk) -> None:
    page = scene.page
    page.keyboard.press("Shift+P")
    expect(page.locator(".notice").first).to_contain_text("rev 1 is printed.")
    page.get_by_label("Length of the scene in frames").fill("48")
    page.get_by_label("Length of the scene in frames").press("Enter")
    scene.saved(2)
    page.locator(".stage-canvas").focus()
    page.keyboard.press("Shift+P")
    expect(page.locator(".notice").first).to_contain_text("rev 2 is printed.")
    page.get_by_role("link", name="Prints", exact=True).click()
    expect(page.get_by_role("region", name="On the table")).to_contain_text("1 to 48")
    page.keyboard.press("u")
    expect(page.get_by_role("region", name="Under the pane")).to_contain_text("1 to 216")
    pane = page.get_by_label("The pane: how much the upper print covers")
    pane.fill("25")
    expect(page.locator(".film-picture video").last).to_have_attribute(
        "style", re.compile(r"inset\(0px 0px 0px 25%\)")
    )
    under, over = page.locator(".film-picture video").all()
    page.locator(".frame-box").click()
    for _ in range(12):
        page.keyboard.press("ArrowRight")
    for video in (under, over):
        until(page, lambda video=video: video.evaluate("film => film.currentTime * 24 | 0") == 12)  # type: ignore[misc]
    count = page.locator(".drying-line li").count()
    page.keyboard.press("Delete")
    # What goes is gone: it is asked first.
    expect(page.get_by_role("button", name="Yes, throw it away")).to_be_visible()
    expect(page.locator(".drying-line li")).to_have_count(count)
    page.keyboard.press("Delete")
    expect(page.locator(".drying-line li")).to_have_count(count - 1)
    expect(page.get_by_role("region", name="On the table")).to_contain_text("1 to 216")


def test_the_night_list_is_put_in_order_held_and_tried_again(desk: Desk) -> None:
    """Put off until the night, nothing of it is taken up while it is looked at."""
    page, ask = desk.page, desk.page.request
    production = desk.production_id()
    library = ask.get(f"{desk.address}/api/productions/{production}").json()
    scenes = {one["name"]: one["id"] for one in library["scenes"]}
    late = (datetime.now(UTC) + timedelta(hours=9)).isoformat()
    names = ["Sc 05 The lamp is lit", "Sc 06 Three lamps lit", "Sc 07 The flame holds"]
    for name in names:
        desk.post(f"/api/scenes/{scenes[name]}/prints", {"end": 24, "not_before": late})
    page.goto(f"{desk.address}/productions/{production}/prints")
    night = page.get_by_role("region", name="Night list")
    rows = night.get_by_role("listitem")
    expect(rows).to_have_count(3)
    expect(rows.first).to_contain_text("Sc 05 The lamp is lit, rev 1")
    expect(rows.first).to_contain_text("waits until")
    night.get_by_role("button", name="Sc 07 The flame holds, rev 1: earlier").click()
    expect(rows.nth(1)).to_contain_text("Sc 07 The flame holds")
    expect(
        night.get_by_role("button", name="Sc 05 The lamp is lit, rev 1: earlier")
    ).to_be_disabled()
    tick = night.get_by_role("checkbox", name="Sc 06 Three lamps lit, rev 1")
    tick.click()
    expect(rows.nth(2)).to_contain_text("held")
    expect(tick).not_to_be_checked()
    # It is the same for whoever looks next.
    page.reload()
    expect(rows.nth(2)).to_contain_text("held")
    for left in (2, 1, 0):
        night.get_by_role("button", name=re.compile("^Cancel ")).first.click()
        expect(rows).to_have_count(left)
    expect(night).to_contain_text("Nothing waits to be printed")


def test_what_came_to_nothing_is_said_until_it_is_put_away_or_printed_again(desk: Desk) -> None:
    """Its scene is gone when its turn comes."""
    page = desk.page
    production = desk.production_id()
    made = desk.post(f"/api/productions/{production}/scenes", {"name": "Sc 9"})
    page.goto(f"{desk.address}/productions/{production}/prints")
    late = (datetime.now(UTC) + timedelta(hours=9)).isoformat()
    body = {"end": 1, "not_before": late}
    job = desk.post(f"/api/scenes/{made['id']}/prints", body)["id"]
    assert desk.send("delete", f"/api/documents/{made['id']}").ok
    assert desk.send("patch", f"/api/productions/{production}/night-list/{job}", {}).ok
    night = page.get_by_role("region", name="Night list")
    expect(night).to_contain_text("What was to be printed is not in this production any more.")
    night.get_by_role("button", name="The same again: Sc 9, rev 1").click()
    expect(night).to_contain_text("What was to be printed is not in this production any more.")
    night.get_by_role("button", name="Put away Sc 9, rev 1").click()
    expect(night).to_contain_text("Nothing waits to be printed")


def test_a_cycle_becomes_a_picture_that_goes_round_and_a_sheet_of_its_keys(desk: Desk) -> None:
    page, bench = desk.page, Bench(desk)
    bench.copy_of("Amble")
    name = page.locator(".crumbs b").last.inner_text()
    page.keyboard.press("Control+p")
    form, asked = page.get_by_label("Print it as"), page.get_by_role("button", name="Print it")
    form.select_option(label="a picture that moves, WebP")
    page.get_by_label("Size", exact=True).select_option(label="640 × 360")
    page.get_by_label("Without the paper").check()
    asked.click()
    form.select_option(label="a contact sheet, PNG")
    page.get_by_role("radio", name="those with keys").click()
    page.get_by_label("Without the paper").uncheck()
    asked.click()
    page.get_by_role("link", name="All prints").click()
    line = page.get_by_role("list", name="On the line")
    facts = page.get_by_role("region", name="On the table")
    # What is still being printed hangs there too, and is no button yet.
    own = line.get_by_role("button").filter(has_text=name)
    expect(own).to_have_count(2)
    for says, size in ("WebP", (640, 360)), ("contact sheet", (980, 745)):
        own.nth(0 if says == "contact sheet" else 1).click()
        expect(facts).to_contain_text(says)
        picture = page.locator(".print-picture img")
        until(page, lambda at=picture, wanted=size: tuple(at.evaluate(OWN_SIZE)) == wanted)  # type: ignore[misc]
        # Neither is played, nor has a pane over it.
        expect(page.get_by_role("toolbar", name="Play")).to_have_count(0)
        expect(page.get_by_text("Films are laid under films.")).to_be_visible()
        page.keyboard.press("u")
        page.keyboard.press("End")
    expect(facts).to_contain_text("12 from 0 on")
    data = page.request.get(f"{desk.address}{picture.get_attribute('src')}").body()
    with Image.open(io.BytesIO(data)) as sheet:
        assert sheet.size == (980, 745)
    facts.get_by_role("link", name=name).click()
    bench.ready()
