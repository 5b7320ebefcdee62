"""The thread: bring in a file, lay it, loop it, join it, watch it, undo, reload, take it out."""

import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import positions_in_file_units
from elastic_core.formats.scene_file import read_scene_file
from elastic_core.scene.evaluate import frames_of

from .desk import Desk


def test_a_motion_file_becomes_a_looped_scene(
    desk: Desk, makes: dict[str, Path], tmp_path: Path
) -> None:
    page = desk.page
    desk.come_in()
    said = desk.bring_in(makes["tabs"], "Stroll")
    assert said.startswith("Stroll is in the library. A cycle of 30 frames, 0 to 29.")
    desk.new_scene()
    page.get_by_label("Name").fill("Thread")
    page.keyboard.press("Enter")
    desk.saved(2)

    # Lay it: one second of walk at the scene's rate.
    desk.lay_at_start("Stroll")
    expect(desk.stints()).to_have_count(1)
    desk.saved(3)
    assert desk.span(desk.stint(0)) == (1, 24)

    # Loop it to any length: one drag, one step.
    desk.draw_end(desk.stint(0), 66)
    expect(
        page.get_by_role("button", name=re.compile(r"^Stroll, 3¾ cycles, frames 1 to 90$"))
    ).to_be_visible()
    desk.saved(4)
    page.keyboard.press("Control+z")
    expect(
        page.get_by_role("button", name=re.compile(r"^Stroll, 1 cycle, frames 1 to 24$"))
    ).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(page.get_by_role("button", name=re.compile(r"^Stroll, 3¾ cycles"))).to_be_visible()

    # Watch it: frames go on, and the picture with them.
    page.get_by_role("button", name="First frame").click()
    first = desk.picture()
    page.get_by_role("button", name=re.compile(r"^Play \(")).click()
    page.wait_for_function(
        "() => Number(document.querySelector('[data-testid=frame]').textContent) > 20"
    )
    assert desk.picture() != first
    page.get_by_role("button", name=re.compile("^Pause")).click()
    stopped = desk.frame()
    desk.still()
    assert desk.frame() == stopped

    # Everything is there after a reload.
    spans = [desk.span(desk.stint(k)) for k in range(1)]
    page.reload()
    expect(desk.stints()).to_have_count(1)
    assert [desk.span(desk.stint(k)) for k in range(1)] == spans

    # Take it out, over a range, and read it with other tools.
    page.keyboard.press("Escape")  # the room opens with what was chosen; the scene's card is wanted
    page.get_by_label("First frame to take out").fill("11")
    page.keyboard.press("Enter")
    page.get_by_label("Last frame to take out").fill("80")
    page.keyboard.press("Enter")
    with page.expect_download() as download:
        page.get_by_role("link", name="As BVH").click()
    out = tmp_path / "out.bvh"
    download.value.save_as(out)
    back = bvh.read(out.read_bytes())
    assert (back.frames, float(back.rate), len(back.joints)) == (70, 24, 19)
    hips = positions_in_file_units(back).positions[:, 0]
    # He strolls 1.2 metres a second, round after round.
    assert np.ptp(hips[:, 2]) == pytest.approx(1.2 * 69 / 24, abs=0.02)
    assert np.diff(hips[:, 2]).min() > 0.03


@pytest.mark.parametrize(("make", "round_frames"), [("slow", 48), ("tabs", 24), ("colons", 36)])
def test_files_of_other_makes_loop_join_and_come_out(
    desk: Desk, makes: dict[str, Path], make: str, round_frames: int, tmp_path: Path
) -> None:
    page, name = desk.page, f"Make {make}"
    desk.come_in()
    desk.choose_file(makes[make])
    page.get_by_label("Name", exact=True).fill(name)
    desk.as_a_clip()
    page.get_by_role("radio", name="Cycle", exact=True).click()
    page.get_by_role("button", name="Bring it in").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    desk.new_scene()
    desk.lay_at_start(name)
    desk.saved(2)
    assert desk.span(desk.stint(0)) == (1, round_frames)
    standing = desk.picture()
    page.keyboard.press("Space")
    page.wait_for_function(
        "() => Number(document.querySelector('[data-testid=frame]').textContent) > 12"
    )
    page.keyboard.press("Space")
    assert desk.picture() != standing
    # Looped by drawing its end, joined by laying it again over its own end.
    desk.draw_end(desk.stint(0), 66 - round_frames)
    desk.saved(3)
    assert desk.span(desk.stint(0)) == (1, 66)
    box = desk.stint(0).locator(".card").bounding_box()
    assert box
    desk.lay(name, box["x"] + 54.4 * desk.pixels_a_frame(), box["y"] + 20)
    desk.saved(4)
    expect(page.get_by_role("button", name=f"Join {name} to {name}, 12 frames")).to_be_visible()
    page.keyboard.press("Escape")
    with page.expect_download() as download:
        page.get_by_role("link", name="As BVH").click()
    out = tmp_path / "out.bvh"
    download.value.save_as(out)
    back = bvh.read(out.read_bytes())
    scene = page.url.rsplit("/", 1)[1]
    shown = page.request.get(f"{desk.address}/api/scenes/{scene}/file").body()
    held = read_scene_file(shown)
    frames = np.arange(float(held.scene.played_frames))
    expected = frames_of(held.scene, held.material(), frames)[0].placed.positions
    assert np.abs(positions_in_file_units(back).positions - expected).max() < 1e-4


def test_a_clip_that_plays_once_cannot_be_drawn_past_its_end(
    desk: Desk, makes: dict[str, Path]
) -> None:
    desk.come_in()
    desk.bring_in(makes["colons"], "Once")
    desk.new_scene()
    desk.lay_at_start("Once")
    desk.saved(2)
    desk.draw_end(desk.stint(0), 40)
    expect(desk.page.locator(".notice")).to_contain_text("it plays once, and has no more frames")
    assert desk.span(desk.stint(0)) == (1, 36)


def test_a_broken_file_says_what_is_wrong_and_leaves_the_library_alone(
    desk: Desk, makes: dict[str, Path]
) -> None:
    desk.come_in()
    before = desk.page.locator(".filmstrip").count()
    desk.choose_file(makes["broken"])
    expect(desk.page.get_by_role("alert")).to_have_text(
        "The file says 99 frames and holds 6: it has been cut short."
    )
    desk.page.get_by_role("button", name="Close", exact=True).last.click()
    assert desk.page.locator(".filmstrip").count() == before


def test_the_demo_walks_in_real_time_and_drops_no_frame_in_every_frame(desk: Desk) -> None:
    page = desk.page
    desk.open_scene("Sc 04 Quay at dusk")
    expect(desk.stints()).to_have_count(10)
    desk.still()
    frames, seconds = page.evaluate(
        """async () => {
            const read = () => Number(document.querySelector('[data-testid=frame]').textContent);
            document.querySelector('.icon-button.play').click();
            const wait = (n) => new Promise((done) => {
                const look = () => (read() >= n
                    ? done({ frame: read(), at: performance.now() })
                    : requestAnimationFrame(look));
                look();
            });
            const a = await wait(25);
            const b = await wait(a.frame + 48);
            document.querySelector('.icon-button.play').click();
            return [b.frame - a.frame, (b.at - a.at) / 1000];
        }"""
    )
    # Real time: 24 frames a second, whatever the machine paints; a busy one sees either end late.
    assert frames >= 48
    assert seconds == pytest.approx(frames / 24, abs=0.3)
    page.get_by_role("radio", name="Every frame").click()
    shown = page.evaluate(
        """async () => {
            const canvas = document.querySelector('.stage-canvas');
            const seen = [];
            document.querySelector('.icon-button.play').click();
            const watch = new MutationObserver(() => seen.push(Number(canvas.dataset.frame)));
            watch.observe(canvas, { attributes: true, attributeFilter: ['data-frame'] });
            await new Promise((done) => setTimeout(done, 1500));
            document.querySelector('.icon-button.play').click();
            watch.disconnect();
            return seen;
        }"""
    )
    steps = np.diff([frame for k, frame in enumerate(shown) if k == 0 or frame != shown[k - 1]])
    assert len(steps) >= 3
    assert set(steps.tolist()) <= {1}


def test_views_ghosts_and_orbit_change_the_picture(desk: Desk) -> None:
    page = desk.page
    desk.open_scene("Sc 04 Quay at dusk")
    for _ in range(8):
        page.keyboard.press("Shift+ArrowRight")
    assert desk.frame() == 81
    desk.still()
    pictures = {"Three-quarter": desk.picture()}
    for view in ("Side", "Front", "Plan"):
        page.get_by_role("radio", name=view, exact=True).click()
        pictures[view] = desk.picture()
    assert len(set(pictures.values())) == 4
    page.get_by_role("checkbox", name="Ghosts").uncheck()
    assert desk.picture() != pictures["Plan"]
    page.get_by_role("radio", name="Side", exact=True).click()
    without = desk.picture()
    box = page.locator(".stage-canvas").bounding_box()
    assert box
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    desk.draw(middle, (middle[0] + 90, middle[1] - 20))
    assert desk.picture() != without
    expect(page.get_by_role("radio", name="Side", exact=True)).to_have_attribute(
        "aria-checked", "false"
    )


def test_drags_can_be_called_off_and_refusals_put_things_back(desk: Desk) -> None:
    page = desk.page
    desk.open_scene("Sc 04 Quay at dusk")
    spans = [desk.span(desk.stint(k)) for k in range(4)]
    revision = page.locator(".saved").inner_text()
    # Escape in the middle of a drag.
    box = desk.stint(1).locator(".card").bounding_box()
    assert box
    page.mouse.move(box["x"] + 120, box["y"] + 26)
    page.mouse.down()
    page.mouse.move(box["x"] + 190, box["y"] + 26, steps=5)
    page.keyboard.press("Escape")
    page.mouse.up()
    desk.still()
    assert [desk.span(desk.stint(k)) for k in range(4)] == spans
    # A place where it cannot lie.
    desk.draw_body(desk.stint(2), -85)
    expect(page.locator(".notice")).to_contain_text(re.compile("on top of each other|at one time"))
    assert [desk.span(desk.stint(k)) for k in range(4)] == spans
    assert page.locator(".saved").inner_text() == revision


def test_a_wrong_password_is_refused_in_words(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_label("Account").fill("mika")
    page.get_by_label("Password").fill("daylight")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_have_text(
        "That account and password do not belong together."
    )


def test_the_desk_works_by_keyboard_alone(desk: Desk, makes: dict[str, Path]) -> None:
    page = desk.page
    desk.come_in()
    desk.bring_in(makes["tabs"], "By keys")
    desk.new_scene()
    card = page.locator('[data-clip="By keys"]')
    card.focus()
    page.keyboard.press("Enter")
    expect(desk.stints()).to_have_count(1)
    desk.stints().first.focus()
    for first in (2, 3, 4):
        page.keyboard.press("Alt+ArrowRight")
        span = re.compile(f"frames {first} to {first + 23}")
        expect(desk.stint(0)).to_have_attribute("aria-label", span)
    page.keyboard.press("Alt+Shift+ArrowRight")
    expect(desk.stint(0)).to_have_attribute("aria-label", re.compile("frames 4 to 28"))
    page.keyboard.press("Enter")
    expect(page.get_by_label("Stint: By keys")).to_be_visible()
    page.get_by_label("Rounds").fill("4.25")
    page.keyboard.press("Enter")
    expect(desk.stint(0)).to_have_attribute("aria-label", re.compile("4¼ cycles, frames 4 to 105"))
    desk.stints().first.focus()
    page.keyboard.press("Delete")
    expect(desk.stints()).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(desk.stints()).to_have_count(1)


def test_two_stints_are_joined_by_one_drag(desk: Desk, makes: dict[str, Path]) -> None:
    page = desk.page
    desk.come_in()
    desk.bring_in(makes["tabs"], "March")
    desk.new_scene()
    desk.lay_at_start("March")
    expect(desk.stints()).to_have_count(1)
    desk.draw_end(desk.stint(0), 46)
    desk.saved(3)
    assert desk.span(desk.stint(0)) == (1, 70)
    # Laid where nothing lies, then drawn over the first one's end: a join.
    box = desk.stint(0).locator(".card").bounding_box()
    assert box
    desk.lay("March", box["x"] + 80 * desk.pixels_a_frame(), box["y"] + 20)
    expect(desk.stints()).to_have_count(2)
    desk.saved(4)
    start = desk.span(desk.stint(1))[0]
    desk.draw_body(desk.stint(1), 61 - start)
    join = page.get_by_role("button", name="Join March to March, 10 frames")
    expect(join).to_be_visible()
    desk.saved(5)
    join.click(force=True)
    page.get_by_label("Length of the join in frames").fill("6")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Join March to March, 6 frames")).to_be_visible()
    page.get_by_role("radio", name="Late").click()
    expect(page.get_by_role("radio", name="Late")).to_have_attribute("aria-checked", "true")
    # Each was one step.
    for _ in range(3):
        desk.undo()
    assert desk.span(desk.stint(1))[0] == start
    expect(page.locator("[data-join]")).to_have_count(0)
