"""A newcomer's hour, from three files of somebody else's to a scene that is taken out and kept."""

import re
from pathlib import Path

import numpy as np
from playwright.sync_api import expect

from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import positions_in_file_units
from elastic_core.formats.scene_file import read_scene_file
from elastic_core.scene.evaluate import frames_of

from .desk import Desk


def test_a_newcomers_hour(desk: Desk, makes: dict[str, Path], tmp_path: Path) -> None:
    page = desk.page

    # Three files come in at once. One is for Odo himself: his joints have other names in it.
    desk.come_in()
    page.get_by_test_id("motion-file").set_input_files(
        [makes["tabs"], makes["colons"], makes["slow"]]
    )
    sheet = page.get_by_role("dialog", name="Bring in 3 files")
    files = sheet.get_by_role("list", name="Files").get_by_role("listitem")
    expect(files.filter(has_text="to be brought in")).to_have_count(3)
    files.nth(1).get_by_role("button").first.click()
    sheet.get_by_label("Name", exact=True).fill("Harbour walk")
    sheet.get_by_label("Plays on").select_option(label="Odo, fitted")
    fit = sheet.get_by_role("region", name="Fit to Odo")
    expect(fit).to_contain_text("19 play, 36 are dropped, 1 of Odo’s rest.")
    expect(fit.get_by_label("rig:LeftUpLeg plays")).to_have_value("l_hip")
    expect(fit).to_contain_text("These rest: Pole.")
    sheet.get_by_role("button", name="Bring in all 3").click()
    expect(files.filter(has_text="in the library")).to_have_count(3)
    sheet.get_by_role("button", name="Close").last.click()

    # A scene of eight stints: Odo's day, laid by keys at the playhead.
    desk.new_scene()
    page.get_by_label("Name", exact=True).fill("Sc 07 A newcomer")
    page.keyboard.press("Enter")
    desk.saved(2)
    day = [
        ("Stand", 1),
        ("Look back", 43),
        ("Amble", 73),
        ("Hurry", 91),
        ("Harbour walk", 101),
        ("Amble", 131),
        ("Reach and light", 149),
        ("Stand", 205),
    ]
    for clip, frame in day:
        desk.lay_at(clip, frame)
    expect(desk.stints()).to_have_count(8)
    expect(page.locator("[data-join]")).to_have_count(7)
    laid = [desk.span(desk.stint(k)) for k in range(8)]
    assert [first for first, _ in laid] == [frame for _, frame in day]
    assert laid[4] == (101, 136)  # one and a half seconds at 24 fps

    # Three mistakes, each undone by name, one step each.
    desk.choose(3)
    page.keyboard.press("Delete")
    expect(desk.stints()).to_have_count(7)
    desk.settled()
    desk.undoes("Delete Hurry")
    desk.undo()
    expect(desk.stints()).to_have_count(8)
    desk.draw_body(desk.stint(6), 20)
    expect(desk.stint(6)).not_to_have_attribute("aria-label", re.compile("frames 149"))
    desk.undoes("Move Reach and light")
    desk.undo()
    expect(desk.stint(6)).to_have_attribute("aria-label", re.compile("frames 149 to 212"))
    desk.choose(0)
    desk.set("Pace in percent: stretches the stint", 96)
    expect(desk.stint(0)).to_have_attribute("aria-label", re.compile("frames 1 to 50"))
    desk.undoes("Stretch Stand to 96 %")
    desk.undo()
    desk.settled()
    assert [desk.span(desk.stint(k)) for k in range(8)] == laid

    # Beats, to find the parts of the action again.
    for name, first, last in (("Waits", 1, 72), ("Walks", 73, 148), ("Lights", 149, 252)):
        desk.go_to(first)
        page.keyboard.press("Escape")
        page.keyboard.press("b")
        expect(page.get_by_role("complementary", name=re.compile("^Beat: "))).to_be_visible()
        desk.set("Name", name)
        desk.set("Last frame of the beat", last)
        desk.settled()
    names = [beat.get_attribute("aria-label") for beat in page.locator("[data-beat]").all()]
    assert names == [
        "Beat Waits, frames 1 to 72",
        "Beat Walks, frames 73 to 148",
        "Beat Lights, frames 149 to 252",
    ]
    desk.go_to(1)
    page.keyboard.press("Shift+PageDown")
    assert desk.frame() == 73

    # Watched once through, every frame.
    page.keyboard.press("e")
    page.keyboard.press("Space")
    page.wait_for_function(
        "() => Number(document.querySelector('[data-testid=frame]').textContent) > 90"
    )
    page.keyboard.press("Space")

    # Taken out: what other tools read is what was on the stage.
    page.keyboard.press("Escape")
    with page.expect_download() as download:
        page.get_by_role("link", name="As BVH").click()
    out = tmp_path / "odo.bvh"
    download.value.save_as(out)
    scene = page.url.rsplit("/", 1)[1]
    held = read_scene_file(page.request.get(f"{desk.address}/api/scenes/{scene}/file").body())
    frames = np.arange(float(held.scene.played_frames))
    shown = frames_of(held.scene, held.material(), frames)[0].placed.positions
    taken = positions_in_file_units(bvh.read(out.read_bytes())).positions
    assert taken.shape == shown.shape
    assert np.abs(taken - shown).max() < 1e-4

    # Home, and back: everything is where it was.
    desk.go_to(160)
    revision = desk.revision()
    page.reload()
    expect(desk.stints()).to_have_count(8)
    desk.saved(revision)
    desk.still()
    assert desk.frame() == 160
    assert [desk.span(desk.stint(k)) for k in range(8)] == laid
    desk.library()
    expect(page.get_by_role("link", name=re.compile("^Sc 07 A newcomer"))).to_be_visible()
