"""Joins by hand: where, how laid, what that does, and what is off; each is one step with a name."""

import re
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from, motion_from, skeleton_from

from .desk import Desk

AT_THE_MOST_ACTIONS = 6


def join(desk: Desk, stint: str) -> Locator:
    """Choose the join before a stint, by keys, and its card."""
    desk.page.locator(f'[data-join="{stint}"]').focus()
    desk.page.keyboard.press("Enter")
    card = desk.page.get_by_role("complementary", name="Join")
    expect(card.get_by_role("list", name="What the join does")).to_be_visible()
    expect(card.locator(".join-map-cells")).to_be_visible()
    desk.still()
    return card


def read_out(card: Locator, name: str) -> Locator:
    return card.get_by_role("list", name="What the join does").get_by_role("button", name=name)


def strip(page: Page, lane: str = "Odo, Body") -> Locator:
    return page.get_by_role("group", name=re.compile(f"^Checks of {lane}:"))


def test_a_join_is_read_looked_at_and_met_elsewhere(desk: Desk) -> None:
    desk.open_copy("Sc 04 Quay at dusk")
    card = join(desk, "hurry")
    # The playhead has come to it.
    assert desk.frame() == 167
    expect(read_out(card, "Foot slide")).to_contain_text("0.0 cm")
    expect(read_out(card, "Jump")).to_contain_text("6.7°")
    read_out(card, "Jump").click()
    assert desk.frame() == 167
    places = card.get_by_role("list", name="Best places to join").get_by_role("button")
    expect(places.first).to_have_attribute("aria-pressed", "true")
    expect(places.first).to_contain_text("167 meets 3")
    before = desk.picture()
    places.nth(1).hover()
    desk.shows(lambda seen: seen != before)
    places.nth(1).click()
    desk.undoes("Join Amble to Hurry")
    expect(read_out(card, "Jump")).not_to_contain_text("6.7°")
    desk.undo()
    desk.settled()
    expect(read_out(card, "Jump")).to_contain_text("6.7°")


def test_the_map_is_walked_over_by_arrows(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    card = join(desk, "hurry")
    cells = card.locator(".join-map-cells")
    cells.focus()
    page.keyboard.press("ArrowRight")
    expect(cells).to_have_attribute("aria-valuetext", re.compile(r"^Amble 167, Hurry 4: [\d.]+ cm"))
    page.keyboard.press("ArrowDown")
    expect(cells).to_have_attribute("aria-valuetext", re.compile("^Amble 168, Hurry 4"))
    page.keyboard.press("Enter")
    desk.undoes("Join Amble to Hurry")
    expect(card.get_by_label("First frame of the join: moves the cut")).to_have_value("164")
    desk.undo()
    desk.settled()


def test_how_it_is_laid_is_told_and_undone_in_one_step(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    card = join(desk, "hurry")
    card.get_by_label("Fine turn in degrees").fill("90")
    page.keyboard.press("Enter")
    desk.undoes("Set the join Amble to Hurry")
    expect(card.get_by_text("+90.0°")).to_be_visible()
    expect(read_out(card, "Foot slide")).to_contain_text("0.0 cm")
    desk.undo()
    card.get_by_role("radio", name="Root").click()
    desk.undoes("Set the join Amble to Hurry")
    expect(card.get_by_role("radio", name="Root")).to_be_checked()
    desk.undo()
    card.get_by_text("Hold the feet").click()
    expect(read_out(card, "Foot slide")).not_to_contain_text("0.0 cm")
    desk.undo()
    expect(read_out(card, "Foot slide")).to_contain_text("0.0 cm")
    card.get_by_role("button", name="In step").click()
    desk.undoes("Step from Amble to Hurry in 1")
    desk.undo()
    desk.settled()


def test_the_red_figure_is_set_down_in_plan(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    card = join(desk, "hurry")
    page.get_by_role("radio", name="Plan", exact=True).click()
    card.get_by_text("Both poses").click()
    desk.still()
    box = page.locator(".stage-canvas").bounding_box()
    assert box
    # The camera follows the figure: its root is in the middle of the picture, its arrow to the right.
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    found = None
    for ahead in range(40, 140, 6):
        page.mouse.move(middle[0] + ahead, middle[1])
        desk.draw((middle[0] + ahead, middle[1]), (middle[0] + ahead, middle[1] - 60))
        desk.still()
        undo = page.get_by_role("button", name=re.compile("^Undo: Set down Hurry after Amble"))
        if undo.count():
            found = ahead
            break
        page.get_by_role("radio", name="Plan", exact=True).click()
        page.get_by_role("checkbox", name="Follow").check()
        desk.still()
    assert found
    expect(card.get_by_label("Fine turn in degrees")).not_to_have_value("0")
    desk.undo()
    expect(card.get_by_label("Fine turn in degrees")).to_have_value("0")
    desk.settled()


def test_a_clip_is_laid_next_to_a_stint_by_mouse_and_by_keys(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.settled()
    count = desk.stints().count()
    desk.choose(1)
    page.locator('[data-clip="Startle"]').focus()
    page.keyboard.press("Shift+Enter")
    expect(desk.stints()).to_have_count(count + 1)
    desk.undoes("Lay Startle next to Look back")
    desk.undo()
    expect(desk.stints()).to_have_count(count)
    desk.settled()
    last = desk.stint(5).locator(".card").bounding_box()
    assert last
    desk.lay("Startle", last["x"] + last["width"], last["y"] + 20)
    expect(desk.stints()).to_have_count(count + 1)
    desk.undoes("Lay Startle next to Stand")
    desk.settled()
    expect(strip(page)).to_have_attribute("data-checks", "0")
    desk.undo()
    desk.settled()


def test_the_strip_marks_what_is_off_and_leads_there(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    for lane in ("Odo, Body", "Gull, Body", "Capstan, Body"):
        expect(strip(page, lane)).to_have_attribute("data-checks", "0")
    card = join(desk, "hurry")
    card.get_by_label("Length of the join in frames").fill("0")
    page.keyboard.press("Enter")
    expect(strip(page)).not_to_have_attribute("data-checks", "0")
    mark = strip(page).get_by_role("button", name=re.compile("^Jump: .*°")).first
    desk.go_to(1)
    mark.focus()
    page.keyboard.press("Enter")
    assert abs(desk.frame() - 163) <= 1
    desk.undo()
    expect(strip(page)).to_have_attribute("data-checks", "0")
    desk.settled()


def test_a_reach_over_a_walk_by_a_mask_and_a_fade(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    page.get_by_label("Lane Body of Odo").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Shift+N")
    expect(page.locator("[data-lane]")).to_have_count(4)
    desk.settled()
    desk.lay_on_top("Reach and light", 100)
    page.get_by_label("Frames that it fades in over").fill("10")
    page.keyboard.press("Enter")
    desk.undoes("Fade Reach and light")
    page.get_by_label("Lane Over Body of Odo").focus()
    page.keyboard.press("Enter")
    mask = page.get_by_role("region", name="Joints that the lane drives")
    mask.get_by_role("button", name="Upper body").click()
    desk.undoes("Odo, Over Body: drive 11 joints")
    expect(mask.get_by_label("Left hip", exact=True)).not_to_be_checked()
    mask.get_by_label("Head", exact=True).click()
    desk.undoes("Odo, Over Body: drive 10 joints")
    desk.undo()
    expect(mask.get_by_label("Head", exact=True)).to_be_checked()
    desk.settled()


@pytest.fixture
def foreign(tmp_path: Path) -> list[Path]:
    """Two walks of one skeleton, made elsewhere: the second goes another way, from another place."""
    hours = Path(sys.executable).with_name("hours")
    made = [tmp_path / "harbour amble.bvh", tmp_path / "harbour hurry.bvh"]
    for path, gait in zip(made, ("amble", "hurry"), strict=True):
        subprocess.run([str(hours), "walk", str(path), "--gait", gait], check=True, stdout=-3)
    file = bvh.read(made[1].read_bytes())
    figure = skeleton_from(file, "figure", 1.0)
    moved = motion_from(file, 1.0).moved(np.array([2.0, -3.0, np.radians(130)]))
    made[1].write_text(bvh.write(file_from(figure, moved, file.rate)), encoding="utf-8")
    return made


def test_two_foreign_files_become_one_clean_performance_in_six_actions(
    desk: Desk, foreign: list[Path]
) -> None:
    """Done when 2. An action is what an animator would count: choosing, pressing, drawing."""
    page = desk.page
    desk.come_in()
    actions: list[str] = []

    def act(name: str) -> None:
        actions.append(name)

    act("choose both files")
    page.get_by_test_id("motion-file").set_input_files(foreign)
    act("bring both in")
    page.get_by_role("button", name="Bring in all 2").click()
    sheet = page.get_by_role("dialog")
    files = sheet.get_by_role("list", name="Files").get_by_role("listitem")
    expect(files.filter(has_text="in the library")).to_have_count(2)
    act("close the sheet")
    sheet.get_by_role("button", name="Close").last.click()
    act("a new scene")
    desk.new_scene()
    desk.still()
    act("lay the first")
    desk.lay_at_start("Harbour amble")
    expect(desk.stints()).to_have_count(1)
    desk.settled()
    act("lay the second next to it")
    first = desk.stint(0).locator(".card").bounding_box()
    assert first
    desk.lay("Harbour hurry", first["x"] + first["width"], first["y"] + 20)
    expect(desk.stints()).to_have_count(2)
    desk.settled()
    print(f"{len(actions)} actions: {', '.join(actions)}")
    assert len(actions) <= AT_THE_MOST_ACTIONS
    desk.undoes("Lay Harbour hurry next to Harbour amble")
    checks = page.get_by_role("group", name=re.compile("^Checks of "))
    expect(checks).to_have_attribute("data-checks", "0")
    page.locator("[data-join]").focus()
    page.keyboard.press("Enter")
    card = page.get_by_role("complementary", name="Join")
    expect(read_out(card, "Foot slide")).to_contain_text("0.0 cm")
    expect(card.get_by_text("turned")).to_be_visible()


def test_a_clip_of_another_figure_plays_after_the_fit_sheet(
    desk: Desk, foreign: list[Path]
) -> None:
    """Done when 6, by hand."""
    page = desk.page
    desk.come_in()
    desk.bring_in(foreign[0], "Stranger amble")
    desk.open_copy("Sc 04 Quay at dusk")
    desk.settled()
    count = desk.stints().count()
    last = desk.stint(5).locator(".card").bounding_box()
    assert last
    end = (last["x"] + last["width"], last["y"] + 20)
    desk.lay("Stranger amble", *end)
    sheet = page.get_by_role("dialog", name="Fit Stranger amble to Odo")
    fit = sheet.get_by_role("region", name="Fit to Odo")
    expect(fit.get_by_label("LeftHip plays")).to_have_value("l_hip")
    expect(fit).to_contain_text("These rest: ")
    sheet.get_by_role("button", name="Never mind").click()
    expect(desk.stints()).to_have_count(count)
    desk.lay("Stranger amble", *end)
    sheet.get_by_role("button", name="Fit and lay it").click()
    expect(desk.stints()).to_have_count(count + 1)
    desk.undoes("Lay Stranger amble next to Stand")
    desk.settled()
    card = join(desk, desk.stint(6).get_attribute("data-stint") or "")
    expect(read_out(card, "Foot slide")).to_contain_text("0.0 cm")
    marks = strip(page).get_by_role("button")
    slides = [mark for mark in marks.all() if "slides" in (mark.get_attribute("aria-label") or "")]
    assert slides == []
    # The next one of the same making is laid without being asked.
    desk.choose(6)
    expect(page.get_by_label("Hold the feet")).to_be_checked()
    desk.undo()
    expect(desk.stints()).to_have_count(count)
    desk.settled()


def test_a_run_is_kept_as_a_group_and_plays_as_it_lay(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.settled()
    count = desk.stints().count()
    desk.choose(2)
    desk.choose(3, adding=True)
    page.get_by_label("Name of the group").fill("Rounds")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(desk.stints()).to_have_count(count - 1)
    desk.undoes("Keep 2 stints as Rounds, Odo")
    desk.settled()
    assert desk.span(desk.stint(2)) == (91, 230)
    expect(strip(page)).to_have_attribute("data-checks", "0")
    expect(page.locator('[data-join="reach"]')).to_be_visible()
    desk.undo()
    expect(desk.stints()).to_have_count(count)
    desk.settled()


def test_a_cut_has_a_card_too(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    card = join(desk, "hurry")
    desk.set("Length of the join in frames", 0)
    expect(card).to_contain_text("Cut: Amble to Hurry")
    desk.settled()
    expect(page.locator('[data-join="hurry"]')).to_have_count(0)
    # From its stint one comes back to it, and it becomes a join again where both meet best.
    desk.choose(3)
    page.get_by_role("button", name="Its cut").click()
    expect(read_out(card, "Jump")).to_contain_text("51.9°")
    desk.set("Length of the join in frames", 8)
    expect(card).to_contain_text("Join: Amble to Hurry")
    desk.settled()
    expect(page.locator('[data-join="hurry"]')).to_be_visible()


def test_a_run_is_copied_to_another_figure(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    page.get_by_label("Bring a figure on").select_option(label="Tilda")
    desk.undoes("Bring on Tilda")
    count = desk.stints().count()
    desk.choose(2)
    desk.choose(3, adding=True)
    page.keyboard.press("Control+c")
    head = page.get_by_label("Lane Body of Tilda")
    head.focus()
    page.keyboard.press("Enter")
    desk.go_to(1)
    page.keyboard.press("Control+v")
    sheet = page.get_by_role("dialog", name="Fit Amble to Tilda")
    expect(sheet).to_contain_text("Dropped: pole.")
    sheet.get_by_role("button", name="Fit and lay it").click()
    expect(desk.stints()).to_have_count(count + 2)
    desk.undoes("Paste 2 stints")
    lane = page.locator("[data-lane]").filter(has=head)
    expect(lane.locator("[data-join]")).to_have_count(1)
    marks = strip(page, "Tilda, Body").get_by_role("button")
    # Both stints drop his pole; nothing else is off.
    expect(marks).to_have_count(2)
    for mark in marks.all():
        expect(mark).to_have_attribute("aria-label", "Dropped channels: 1 in all, the first Pole")
    desk.undo()
    expect(desk.stints()).to_have_count(count)
    desk.settled()
