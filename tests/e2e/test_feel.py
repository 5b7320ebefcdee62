"""Nothing is lost and nothing unexplained: reloads, a server that is gone, small and large windows."""

import re

import pytest
from playwright.sync_api import expect

from .desk import Desk


def test_the_room_opens_as_it_was_left(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(97)
    desk.choose(3)
    page.keyboard.press("2")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("g")
    page.keyboard.press("-")
    page.keyboard.press("r")
    page.keyboard.press("Shift+L")
    desk.still()
    scale = desk.pixels_a_frame()
    page.reload()
    expect(desk.stints().first).to_be_visible()
    desk.still()
    assert desk.frame() == 97
    assert desk.pixels_a_frame() == pytest.approx(scale, rel=1e-3)
    expect(page.get_by_label("Stint: Hurry")).to_be_visible()
    expect(page.get_by_role("radio", name="Side", exact=True)).to_be_checked()
    expect(page.get_by_role("checkbox", name="Ghosts")).not_to_be_checked()
    expect(page.get_by_label("Speed")).to_have_value("0.5")
    expect(page.get_by_role("checkbox", name="Ripple")).to_be_checked()
    expect(page.get_by_label("First frame of the loop")).to_have_value("163")


def test_the_whole_scene_and_back_to_where_i_was(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(60)
    whole = desk.pixels_a_frame()
    for _ in range(3):
        page.keyboard.press("ArrowUp")
    near = desk.pixels_a_frame()
    assert near > 2 * whole
    page.keyboard.press("w")
    assert desk.pixels_a_frame() == pytest.approx(whole, rel=1e-3)
    page.keyboard.press("w")
    assert desk.pixels_a_frame() == pytest.approx(near, rel=1e-3)


def test_edits_made_while_the_server_is_gone_are_kept_and_sent(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    revision = desk.revision()
    page.context.set_offline(True)
    desk.choose(2)
    page.keyboard.press("j")
    saved = page.locator(".saved")
    expect(saved).to_have_text("Server gone: 1 edit kept here")
    desk.choose(3)
    page.keyboard.press("j")
    expect(saved).to_have_text("Server gone: 2 edits kept here")
    expect(page.get_by_text("What you make is kept here and sent when it is back.")).to_be_visible()
    page.context.set_offline(False)
    desk.saved(revision + 2)
    desk.undoes("Colour Hurry")
    for _ in range(2):
        desk.undo()
    desk.settled()


def test_kept_edits_outlive_a_reload(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    revision = desk.revision()
    page.route("**/edits", lambda route: route.abort())
    desk.choose(2)
    page.keyboard.press("j")
    expect(page.locator(".saved")).to_have_text("Server gone: 1 edit kept here")
    page.unroute_all()
    page.reload()
    desk.saved(revision + 1)
    desk.undoes("Colour Amble")
    page.keyboard.press("Control+z")
    desk.settled()


@pytest.mark.parametrize(("width", "height"), [(1024, 700), (2560, 1440)])
def test_every_control_is_in_sight(desk: Desk, width: int, height: int) -> None:
    page = desk.page
    page.set_viewport_size({"width": width, "height": height})
    desk.open_copy("Sc 04 Quay at dusk")
    desk.choose(2)
    desk.still()
    overlapping = page.evaluate(
        """() => ['.top-bar', '.stage-bar', '.transport'].flatMap((bar) => {
            const controls = [...document.querySelectorAll(`${bar} :is(button, input, select)`)];
            const boxes = controls.map((control) => control.getBoundingClientRect());
            return controls.flatMap((control, i) => controls.slice(i + 1).filter((_, j) => {
                const [one, other] = [boxes[i], boxes[i + 1 + j]];
                return one.left < other.right - 1 && other.left < one.right - 1
                    && one.top < other.bottom - 1 && other.top < one.bottom - 1;
            }).map((other) => [control, other].map((one) => one.ariaLabel ?? one.innerText)));
        })"""
    )
    assert overlapping == []
    cut = page.evaluate(
        """() => [...document.querySelectorAll('.drawer .clip .name')]
            .filter((name) => name.clientWidth < Math.min(name.scrollWidth, 60))
            .map((name) => name.innerText)"""
    )
    assert cut == []
    outside = page.evaluate(
        """() => [...document.querySelectorAll('.top-bar button, .stage-bar button, .stage-bar input, '
            + '.transport button, .transport input, .transport select')]
            .filter((control) => {
                const box = control.getBoundingClientRect();
                const bar = control.closest('.top-bar, .stage-bar, .transport').getBoundingClientRect();
                return box.width && (box.left < bar.left - 1 || box.right > bar.right + 1);
            })
            .map((control) => control.getAttribute('aria-label') || control.parentElement.innerText)"""
    )
    assert outside == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    stage = page.locator(".stage-canvas").bounding_box()
    assert stage
    assert stage["width"] > 0.5 * width
    assert stage["height"] > 0.35 * height


def test_play_goes_backwards_slower_and_within_the_loop(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.choose(2)
    desk.still()
    page.keyboard.press("Shift+L")
    expect(page.get_by_label("Last frame of the loop")).to_have_value("170")
    desk.go_to(94)
    shown = page.evaluate(
        """async () => {
            const canvas = document.querySelector('.stage-canvas');
            const seen = [];
            const watch = new MutationObserver(() => seen.push(Number(canvas.dataset.frame) + 1));
            watch.observe(canvas, { attributes: true, attributeFilter: ['data-frame'] });
            document.querySelector('[aria-label^="Play backwards"]').click();
            await new Promise((done) => setTimeout(done, 700));
            document.querySelector('[aria-label="Pause"]').click();
            watch.disconnect();
            return seen;
        }"""
    )
    # Back over the start of the loop, on from its end.
    assert min(shown) >= 91
    assert max(shown) <= 170
    assert shown[0] in (94, 93, 92)
    assert any(frame > 160 for frame in shown)


def test_a_clicked_joint_draws_its_arc(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(81)
    desk.still()
    before = desk.picture()
    box = page.locator(".stage-canvas").bounding_box()
    assert box
    # His chest is in the middle of the picture.
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 - 40)
    with_arc = desk.shows(lambda picture: picture != before)
    page.keyboard.press("t")
    desk.shows(lambda picture: picture != with_arc)


def test_a_mark_is_drawn_and_turned_in_plan(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(1)
    page.get_by_role("button", name="Odo", exact=True).click()
    page.keyboard.press("4")
    desk.still()
    across = page.get_by_label("Mark, x")
    expect(across).to_have_value("0")
    box = page.locator(".stage-canvas").bounding_box()
    assert box
    # He stands on his mark, a little below the middle of the picture.
    mark = (box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.52)
    desk.draw(mark, (mark[0] + 80, mark[1] + 60))
    undo = page.get_by_role("button", name=re.compile("^Undo: Set Odo’s mark"))
    expect(undo).to_be_visible()
    assert float(page.get_by_label("Mark, z").input_value()) > 0.3
    assert float(across.input_value()) < -0.2
    page.keyboard.press("Control+z")
    expect(across).to_have_value("0")
