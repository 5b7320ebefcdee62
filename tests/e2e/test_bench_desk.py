"""What lies about the bench in the real page: beats, tracings, copied keys, scales, narrow windows."""

import io
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from .bench_room import Bench
from .desk import Desk


@pytest.fixture
def bench(desk: Desk) -> Bench:
    return Bench(desk)


def test_keys_under_a_beat_are_chosen_at_once(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    bench.choose("Neck")
    bench.go_to(3)
    page.keyboard.press("p")
    bench.saved("Add the beat Beat 1")
    bar = page.locator("[data-beat]")
    expect(bar).to_have_attribute("aria-label", "Beat Beat 1, frames 3 to 8")
    page.get_by_label("Name", exact=True).fill("Left foot comes down")
    page.get_by_label("Name", exact=True).press("Enter")
    bench.saved("Rename the beat Beat 1 to Left foot comes down")
    # By key alone: its end a frame later, then what lies under it.
    bar.focus()
    page.keyboard.press("Alt+Shift+ArrowRight")
    bench.saved("Trim the beat Left foot comes down")
    page.keyboard.press("Shift+P")
    frames = {3, 6, 7, 8, 9}
    own = [key for key in bench.curve("neck.turn.x")["keys"] if key["time"] in frames]
    expect(page.locator(".sheet-canvas")).to_have_attribute("data-chosen", str(3 * len(own)))
    box = bar.locator("> rect").first.bounding_box()
    assert box
    # Drawn along with the mouse, the beat goes over the seam.
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    each = box["width"] / 7
    bench.desk.draw((x, y), (x + 16 * each, y))
    bench.saved("Move the beat Left foot comes down")
    beat = bench.view()["bench"]["beats"][0]
    assert (beat["start"], beat["end"]) == (19, 26)
    page.keyboard.press("Escape")
    page.keyboard.press("Delete")
    bench.saved("Delete the beat Left foot comes down")


def blue(picture: bytes) -> int:
    """Pixels of the tracing's own colour, faint or not."""
    pixels = np.asarray(Image.open(io.BytesIO(picture)).convert("RGB")).astype(int)
    return int(((pixels[..., 2] - pixels[..., 0] > 60) & (pixels[..., 1] < 160)).sum())


def test_pictures_lie_under_the_stage(bench: Bench, tmp_path: Path) -> None:
    bench.copy_of("Amble")
    page, desk = bench.page, bench.desk
    for number in (2, 10):
        Image.new("RGB", (60, 120), "#3030FF").save(tmp_path / f"pose {number}.png")
    (tmp_path / "walk.png").write_bytes(b"HIERARCHY")
    page.keyboard.press("g")
    before = blue(desk.picture())
    menu = page.get_by_role("button", name=re.compile("^Tracing picture"))
    menu.click()
    files = page.get_by_test_id("tracing-files")
    files.set_input_files(tmp_path / "walk.png")
    expect(page.locator(".notice")).to_contain_text(
        "“walk.png” is no PNG, JPEG, WebP, GIF or SVG picture."
    )
    files.set_input_files([tmp_path / "pose 10.png", tmp_path / "pose 2.png"])
    bench.saved("Lay 2 pictures under")
    shown = blue(desk.shows(lambda picture: blue(picture) > before + 3000))
    bench.write("Height of the picture in metres", 3.6)
    bench.saved("Set the tracing’s height")
    desk.shows(lambda picture: blue(picture) > 2 * shown)
    bench.write("First frame of the tracing", 3)
    bench.saved("Set the tracing’s first frame")
    assert bench.view()["bench"]["traced"] == [
        {"picture": 0, "start": 3, "end": 4}, {"picture": 1, "start": 4, "end": 24},
    ]  # fmt: skip
    desk.shows(lambda picture: blue(picture) < before + 1000)
    page.keyboard.press("Escape")
    bench.go_to(5)
    desk.shows(lambda picture: blue(picture) > 2 * shown)
    # From another view it does not show, nor when it is put away; a reload keeps it.
    page.keyboard.press("3")
    desk.shows(lambda picture: blue(picture) < before + 1000)
    page.keyboard.press("2")
    page.keyboard.press("Shift+T")
    desk.shows(lambda picture: blue(picture) < before + 1000)
    page.keyboard.press("Shift+T")
    page.reload()
    bench.ready()
    desk.shows(lambda picture: blue(picture) > 2 * shown)
    menu.click()
    bench.click("Take it away")
    bench.saved("Take the tracing away")
    expect(page.get_by_role("button", name="Choose pictures")).to_be_visible()


def test_keys_go_onto_another_figure_by_a_fit(bench: Bench, makes: dict[str, Path]) -> None:
    page, desk = bench.page, bench.desk
    desk.come_in()
    desk.bring_in(makes["tabs"], "Tabs person")
    bench.open("Tabs person")
    source = bench.view()["bench"]
    page.keyboard.press("Control+a")
    bench.go_to(6)
    page.keyboard.press("u")
    page.keyboard.press("Control+c")
    bench.copy_of("Amble")
    bench.go_to(2)
    page.keyboard.press("Control+v")
    dialog = page.get_by_role("dialog", name="Paste onto Odo")
    expect(dialog).to_contain_text(f"These keys were made for {source['figure_name']}.")
    expect(dialog.get_by_label("LeftLeg plays")).to_have_value("l_knee")
    # By hand the left knee is left out.
    dialog.get_by_label("LeftLeg plays").select_option("")
    expect(dialog).to_contain_text("Left out: LeftLeg.")
    dialog.get_by_role("button", name=re.compile("^Paste [0-9]+ keys at 2$")).click()
    expect(
        page.get_by_role("button", name=re.compile("^Undo: Paste [0-9]+ keys at 2"))
    ).to_be_visible()
    # What was pasted is chosen, ready to be moved on.
    expect(page.locator(".sheet-canvas")).to_have_attribute("data-chosen", re.compile("^5[0-9]$"))
    times = {
        joint: [key["time"] for key in bench.curve(f"{joint}.turn.x")["keys"]]
        for joint in ("l_knee", "r_knee", "l_hip")
    }
    assert 2 in times["r_knee"]
    assert 2 in times["l_hip"]
    assert 2 not in times["l_knee"]


def test_a_piece_is_drawn_out_and_keyed(bench: Bench) -> None:
    bench.copy_of("Amble")
    page, desk = bench.page, bench.desk
    bench.choose("Head")
    bench.go_to(6)
    desk.still()
    before = desk.picture()
    bench.write("Head, scale y", 1.8)
    expect(page.locator(".loose-flag")).to_be_visible()
    desk.shows(lambda picture: picture != before)
    page.keyboard.press("k")
    bench.saved("Key Head at 6")
    assert bench.curve("head.scale.y")["keys"][0]["value"] == pytest.approx(1.8)
    page.get_by_role("radio", name="scale", exact=True).click()
    expect(page.locator(".curve-names")).to_have_text("Head scale y")
    # What is chosen is framed in the curves, and all of it again.
    page.keyboard.press("u")
    frame = page.get_by_role("button", name=re.compile("^Frame the chosen keys"))
    page.keyboard.press("v")
    expect(frame).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("v")
    expect(frame).to_have_attribute("aria-pressed", "false")


def test_keys_land_on_frames_or_anywhere(bench: Bench) -> None:
    bench.copy_of("Amble")
    page, desk = bench.page, bench.desk
    bench.choose("Neck")
    bench.go_to(9)
    page.keyboard.press("u")
    sheet = page.locator(".sheet-canvas")
    box = sheet.bounding_box()
    assert box
    each = min(40.0, (box["width"] - 158 - 18) / 25)
    x, y = box["x"] + 158 + 9.5 * each, box["y"] + 9
    desk.draw((x, y), (x + 1.4 * each, y))
    bench.saved("Move 3 keys by +1")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Nothing to undo")).to_be_visible()
    page.keyboard.press("w")
    expect(page.get_by_role("button", name="keys land anywhere")).to_be_visible()
    page.keyboard.press("u")
    desk.draw((x, y), (x + 1.4 * each, y))
    bench.desk.settled()
    moved = [key["time"] for key in bench.curve("neck.turn.x")["keys"]]
    (apart,) = [time for time in moved if time != round(time)]
    assert apart == pytest.approx(10.4, abs=0.06)
    # And all on frames again, with the rounding told.
    page.get_by_role("button", name="keys land anywhere").click()
    bench.click("Cycle", "radio")
    bench.click("Snap keys to frames")
    bench.saved("Snap 3 keys to frames")
    assert 10 in [key["time"] for key in bench.curve("neck.turn.x")["keys"]]


def test_the_desk_grows_by_hand_and_by_key(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    desk = page.locator(".bench-desk")

    def height() -> float:
        box = desk.bounding_box()
        assert box
        return box["height"]

    before = height()
    page.keyboard.press("Alt+PageUp")
    expect(desk).not_to_have_css("height", f"{before}px")
    assert height() == pytest.approx(before + 30, abs=2)
    box = desk.bounding_box()
    assert box
    bench.desk.draw((600, box["y"]), (600, 100))
    # The stage keeps some room, however far the edge is drawn.
    bench.desk.still()
    stage = page.locator(".bench .stage").bounding_box()
    assert stage
    assert stage["height"] == pytest.approx(180, abs=3)
    page.keyboard.press("Alt+PageDown")
    page.reload()
    bench.ready()
    assert height() == pytest.approx(page.locator(".bench").bounding_box()["height"] - 210, abs=4)


def test_the_root_is_laid_under_the_pelvis(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    bench.click("Cycle", "radio")
    sway = bench.view()["bench"]["root_apart_cm"]
    expect(page.get_by_text(f"{sway:.1f} cm apart at")).to_be_visible()
    # The hips' keys aside by 40 cm: it is told, and taken back without a change of the keys' frames.
    times = {c: [k["time"] for k in bench.curve(c)["keys"] if k["own"]] for c in ("root.x",)}
    shift = {"kind": "shift_values", "chosen": times, "by": 0.4}
    assert bench.ask("edits", {"edit": shift, "base_revision": 1}).ok
    page.reload()
    bench.ready()
    aside = bench.view()["bench"]["root_apart_cm"]
    assert aside == pytest.approx(40, abs=sway)
    expect(page.get_by_text(f"{aside:.1f} cm apart at")).to_be_visible()
    bench.click("Lay the root under")
    bench.saved("Lay the root under the pelvis")
    expect(page.locator(".notice")).to_contain_text(f"They were {aside:.1f} cm apart at")
    assert bench.view()["bench"]["root_apart_cm"] < sway + 0.1


@pytest.mark.parametrize(("width", "height"), [(1024, 700), (1280, 800), (2560, 1440)])
def test_everything_is_in_sight_in_any_window(bench: Bench, width: int, height: int) -> None:
    bench.copy_of("Amble")
    page = bench.page
    page.set_viewport_size({"width": width, "height": height})
    bench.choose("Chest")
    bench.go_to(6)
    page.keyboard.press("u")
    page.get_by_role("button", name="Chest turn y").click()
    for name in (".stage-bar", ".transport", ".favour", ".curves-bar"):
        for row in page.locator(f".bench {name}").all():
            over = row.evaluate("element => element.scrollWidth - element.clientWidth")
            assert over <= 0, name
            box = row.bounding_box()
            assert box
            for control in row.get_by_role("button").all() + row.get_by_role("radio").all():
                own = control.bounding_box()
                assert own
                assert own["x"] >= box["x"] - 1
                assert own["x"] + own["width"] <= box["x"] + box["width"] + 1, control
    page.get_by_role("button", name=re.compile("^Ghosts: ")).click()
    menu = page.locator(".ghost-menu.show").bounding_box()
    bar_box = page.locator(".stage-bar").bounding_box()
    assert menu
    assert bar_box
    assert menu["y"] >= bar_box["y"]
    assert menu["x"] + menu["width"] <= bar_box["x"] + bar_box["width"] + 1
