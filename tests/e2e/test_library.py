"""The library: finding, tidying, files of our own, and people."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Locator, Page, expect

from .conftest import add_account
from .desk import Desk, until


def shelf(desk: Desk, name: str) -> Locator:
    return desk.page.get_by_role("region", name=name, exact=True)


def slips(desk: Desk, of: str) -> Locator:
    return shelf(desk, of).locator(".slip .name")


def names(desk: Desk, of: str) -> list[str]:
    return slips(desk, of).all_inner_texts()


def menu(desk: Desk, card: str, item: str) -> None:
    desk.page.get_by_role("button", name=f"What to do with {card}", exact=True).click()
    desk.page.locator(".dropdown-menu.show").get_by_text(item).click()


def test_cards_are_found_by_name_tag_and_figure(desk: Desk) -> None:
    page = desk.page
    desk.come_in()
    menu(desk, "Look back", "Rename and tag …")
    page.get_by_label("Tags, with commas between them").fill("listening, act")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("button", name="listening")).to_be_visible()
    find = page.get_by_label("Find in the library")
    find.fill("gull")
    expect(slips(desk, "Clips")).to_have_text(["Flap", "Glide", "Paper flap"])
    find.fill("")
    page.get_by_role("button", name="listening").click()
    expect(slips(desk, "Clips")).to_have_text(["Look back"])
    page.get_by_role("button", name="listening").click()
    page.get_by_label("Order").select_option(label="Longest first")

    def longest_first() -> bool:
        """Whatever other tests have left on the shelf, the longer one stands before the shorter."""
        found = names(desk, "Clips")
        return found.index("Turn") < found.index("Look back") < found.index("Hurry")

    until(page, longest_first)
    page.get_by_label("Order").select_option(label="By name")


def test_the_archive_takes_out_of_sight_and_gives_back(desk: Desk) -> None:
    page = desk.page
    desk.come_in()
    menu(desk, "Startle", "Duplicate")
    expect(shelf(desk, "Clips").get_by_text("Startle copy")).to_be_visible()
    menu(desk, "Startle copy", "Archive")
    expect(shelf(desk, "Clips").get_by_text("Startle copy")).to_have_count(0)
    page.get_by_role("checkbox", name="The archive").check()
    expect(slips(desk, "Clips")).to_have_text(["Startle copy"])
    menu(desk, "Startle copy", "Bring back from the archive")
    expect(shelf(desk, "Clips").get_by_text("Startle copy")).to_have_count(0)
    page.get_by_role("checkbox", name="The archive").uncheck()
    menu(desk, "Startle copy", "Delete …")
    page.get_by_role("button", name="Delete", exact=True).click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(shelf(desk, "Clips").get_by_text("Startle copy")).to_have_count(0)


def test_what_is_used_is_not_deleted_and_says_where(desk: Desk) -> None:
    page = desk.page
    desk.come_in()
    menu(desk, "Amble", "Delete …")
    page.get_by_role("button", name="Delete", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("“Amble” is used in “")
    page.get_by_role("button", name="Keep it").click()
    assert "Amble" in names(desk, "Clips")
    page.get_by_role("button", name="What to do with Amble", exact=True).click()
    page.locator(".dropdown-menu.show").get_by_text("Sc 04 Quay at dusk", exact=True).click()
    expect(page).to_have_url(re.compile("/scenes/"))


def test_a_clip_plays_while_it_is_pointed_at(desk: Desk) -> None:
    desk.come_in()
    strip = shelf(desk, "Clips").locator(".strip").first
    assert strip.locator("canvas").count() == 1
    strip.hover()
    moving = strip.locator(".is-moving")
    expect(moving).to_be_visible()
    first = moving.screenshot()
    until(desk.page, lambda: moving.screenshot() != first)
    desk.page.mouse.move(5, 5)
    expect(moving).to_have_count(0)


def test_a_scene_goes_out_and_comes_in_again(desk: Desk, tmp_path: Path) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.set("Name", "Sc 05 Out and in")
    desk.settled()
    desk.library()
    with page.expect_download() as download:
        menu(desk, "Sc 05 Out and in", "Take out as a file")
    file = tmp_path / "dusk.scene.json"
    download.value.save_as(file)
    menu(desk, "Sc 05 Out and in", "Delete …")
    page.get_by_role("button", name="Delete", exact=True).click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    clips = names(desk, "Clips")
    desk.choose_file(file)
    expect(page.locator(".notice")).to_contain_text("A scene, Sc 05 Out and in.")
    assert names(desk, "Clips") == clips
    desk.open_scene("Sc 05 Out and in")
    expect(desk.stints()).to_have_count(10)


def test_a_bad_file_says_what_is_wrong_and_the_others_go_on(
    desk: Desk, makes: dict[str, Path], tmp_path: Path
) -> None:
    page = desk.page
    desk.come_in()
    picture = tmp_path / "lamp.bvh"
    picture.write_bytes(b"\x89PNG\r\n\x1a\n" + bytes(200))
    page.get_by_test_id("motion-file").set_input_files([picture, makes["broken"], makes["tabs"]])
    files = page.get_by_role("list", name="Files").get_by_role("listitem")
    expect(files.filter(has_text="cannot be read")).to_have_count(2)
    expect(files.filter(has_text="to be brought in")).to_have_count(1)
    files.nth(1).get_by_role("button").first.click()
    expect(page.get_by_role("alert")).to_have_text(
        "The file says 99 frames and holds 6: it has been cut short."
    )
    files.nth(2).get_by_role("button").first.click()
    page.get_by_label("Name", exact=True).fill("歩き")
    # Its range by keys and by hand.
    page.get_by_label("End of the range").focus()
    page.keyboard.press("PageDown")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_label("Last frame")).to_have_value("21")
    page.get_by_role("button", name="Bring it in").click()
    expect(files.filter(has_text="in the library")).to_have_count(1)
    page.get_by_role("button", name="Close", exact=True).last.click()
    expect(shelf(desk, "Clips").get_by_text("歩き", exact=True).first).to_be_visible()


def test_a_large_file_shows_how_far_it_is_and_can_be_cancelled(desk: Desk, tmp_path: Path) -> None:
    page = desk.page
    desk.come_in()
    large = tmp_path / "large.bvh"
    large.write_bytes(b"HIERARCHY\n" + b"# " + b"x" * 100_000_000)
    # A slow line, so that there is something to see.
    session = page.context.new_cdp_session(page)
    session.send("Network.enable")
    slow = {
        "offline": False,
        "latency": 0,
        "downloadThroughput": -1,
        "uploadThroughput": 20_000_000,
    }
    session.send("Network.emulateNetworkConditions", slow)
    desk.choose_file(large)
    expect(page.get_by_text(re.compile(r"^Sending, [1-9]\d? % of 100.0 MB$"))).to_be_visible()
    page.get_by_role("dialog").get_by_role("button", name="Cancel").first.click()
    expect(page.get_by_text("Cancelled.", exact=True)).to_be_visible()


def test_a_viewer_looks_and_plays_and_cannot_change(
    desk: Desk, open_page: Callable[[], Page]
) -> None:
    page = desk.page
    desk.come_in()
    add_account("vera", "tide-table-9", "Vera Lind")
    page.get_by_role("button", name="People").click()
    page.get_by_label("Account to invite").fill("vera")
    page.get_by_label("As what").select_option(label="as viewer")
    page.get_by_role("button", name="Invite").click()
    expect(page.get_by_role("cell", name="Vera Lind", exact=True)).to_be_visible()
    # On a machine at which someone else sat before, with a session of its own.
    vera = Desk(open_page(), desk.address)
    vera.sign_in()
    vera.sign_out()
    vera.sign_in("vera", "tide-table-9")
    expect(vera.page.get_by_text("you are viewer")).to_be_visible()
    expect(vera.page.get_by_role("button", name="Bring in files")).to_have_count(0)
    vera.open_scene("Sc 04 Quay at dusk")
    spans = [vera.span(vera.stint(k)) for k in range(10)]
    vera.draw_body(vera.stint(1), 20)
    vera.choose(1)
    vera.page.keyboard.press("Delete")
    vera.page.keyboard.press("b")
    expect(vera.page.get_by_label("First frame in the scene: moves the stint")).to_be_disabled()
    vera.still()
    assert [vera.span(vera.stint(k)) for k in range(10)] == spans
    vera.page.keyboard.press("Escape")
    vera.page.locator(".stage-canvas").focus()
    vera.page.keyboard.press("Space")
    vera.page.wait_for_function(
        "() => Number(document.querySelector('[data-testid=frame]').textContent) > 6"
    )
    # Taken out again, there is nothing here for her.
    page.get_by_role("button", name="Take Vera Lind out").click()
    expect(page.get_by_role("cell", name="Vera Lind", exact=True)).to_have_count(0)
    vera.page.reload()
    expect(vera.page.get_by_text("There is nothing here that you can see.")).to_be_visible()


def test_a_production_of_ones_own_begins_empty_and_teaches(
    open_page: Callable[[], Page], address: str
) -> None:
    add_account("nele", "tide-table-9", "Nele Raud")
    desk = Desk(open_page(), address)
    desk.sign_in("nele", "tide-table-9", sees="Productions")
    page = desk.page
    expect(page.get_by_text("You belong to no production yet.")).to_be_visible()
    page.get_by_label("Name of the new production").fill("Fog bells")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", name="Fog bells")).to_be_visible()
    expect(shelf(desk, "Clips")).to_contain_text("Drop motion files (BVH) here")
    page.get_by_role("button", name="People").click()
    page.get_by_role("button", name="Leave").click()
    expect(page.get_by_role("alert")).to_contain_text("A production keeps an owner.")


def test_a_password_is_changed_and_the_new_one_signs_in(
    open_page: Callable[[], Page], address: str
) -> None:
    add_account("rita", "tide-table-9", "Rita Meri")
    rita = Desk(open_page(), address)
    rita.sign_in("rita", "tide-table-9", sees="Productions")
    page = rita.page
    page.get_by_role("button", name="Rita Meri: account").click()
    page.get_by_role("button", name="Change password …").click()
    page.get_by_label("Password now").fill("tide-table-9")
    page.get_by_label("New password", exact=True).fill("ebb-and-flow-4")
    page.get_by_label("The new one again").fill("ebb-and-flow-4")
    page.get_by_role("button", name="Change it").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    again = Desk(open_page(), address)
    again.sign_in("rita", "ebb-and-flow-4", sees="Productions")
