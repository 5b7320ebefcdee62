"""The bench in the real page: walks made with few deeds, mended, favoured, and never keyed by chance."""

import re

import pytest
from playwright.sync_api import expect

from .bench_room import Bench
from .desk import Desk


@pytest.fixture
def bench(desk: Desk) -> Bench:
    return Bench(desk)


def new_clip(bench: Bench, name: str) -> None:
    bench.desk.come_in()
    bench.click("New clip")
    bench.page.get_by_label("Name", exact=True).fill(name)
    bench.click("Make it")
    bench.ready()


def closed_and_standing(bench: Bench) -> None:
    made = bench.view()["bench"]
    assert made["is_cycle"]
    assert made["seam"]["grade"] == "closed"
    assert made["plants"]
    assert max(plant["slide_cm"] for plant in made["plants"]) < 0.1


def test_a_walk_from_blank_with_the_starter(bench: Bench) -> None:
    new_clip(bench, "Starter walk")
    bench.click("Walk", "radio")
    bench.click("amble")
    expect(bench.page.locator(".seam-badge")).to_have_text("seam closed")
    bench.click("Keep as keys")
    expect(bench.page.locator(".notice")).to_contain_text("24 frames, 8 poses.")
    closed_and_standing(bench)
    print(f"\nwalk with the starter: {len(bench.deeds)} actions")
    assert len(bench.deeds) <= 12


def test_a_walk_from_blank_by_hand(bench: Bench) -> None:
    """Four poses of half a cycle, drawn by the feet; the other half mirrors itself."""
    new_clip(bench, "By hand")
    low = -0.07
    # What the feet do from their rest, ahead and up: left stands and goes back, right swings.
    feet = {
        0: ((0.25, 0.0), (-0.25, 0.03)),
        3: ((0.125, 0.0), (-0.2, 0.1)),
        6: ((0.0, 0.0), (0.0, 0.12)),
        9: ((-0.125, 0.0), (0.2, 0.06)),
    }
    bench.choose("Hips")
    bench.write("Hips, move y", 0.895 + low)
    for frame, (left, right) in feet.items():
        if frame:
            bench.go_to(frame)
        # The feet hang from the lowered root: draw them up to where they stand.
        hangs = low if frame == 0 else 0.0
        bench.draw("l_ankle", frame, (left[0], left[1] - low), up=hangs)
        bench.draw("r_ankle", frame, (right[0], right[1] - low), up=hangs)
        bench.press("Shift+K")
        bench.saved(f"Key the whole figure at {frame}")
    bench.go_to(0)
    bench.choose("Left ankle")
    bench.click("Feet", "radio")
    bench.click("Plant left ankle")
    bench.saved("Plant Left ankle at 0")
    bench.write("Left ankle stands to", 12)
    bench.click("Cycle", "radio")
    bench.write("Stride in metres", 1.0)
    bench.saved("Set the stride to 1.00 m")
    bench.does("tick the link")
    bench.page.get_by_label("The second half follows the first, mirrored").click()
    bench.saved("Link the halves")
    bench.click("Feet", "radio")
    bench.click("Hold all feet")
    bench.saved("Hold all feet")
    closed_and_standing(bench)
    print(f"\nwalk by hand: {len(bench.deeds)} actions")
    assert len(bench.deeds) <= 40


def test_a_walk_is_broken_mended_favoured_and_undone(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    expect(page.locator(".seam-badge")).to_have_text("seam closed")
    # Broken: the chest is keyed on the last frame and does not come back.
    bench.choose("Chest")
    bench.press("End")
    bench.write("Chest, turn y", 40)
    bench.press("k")
    bench.saved("Key Chest at 23")
    expect(page.locator(".seam-badge")).to_contain_text("seam")
    assert bench.view()["bench"]["seam"]["grade"] != "closed"
    worst = page.locator(".gap-list button").first
    expect(worst).to_contain_text("Chest")
    # Mended: point at Close to see it, press to keep it.
    bench.click("ease through", "radio")
    bench.click("Close")
    bench.saved("Close the seam: ease through over 6 frames")
    assert bench.view()["bench"]["seam"]["joints"][0]["gap_degrees"] < 0.5
    # Favoured by key alone.
    bench.go_to(4)
    page.keyboard.press("f")
    for _ in range(12):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    bench.saved("Favour Chest 62 % at 4")
    keys = [
        key["time"]
        for curve in bench.view()["bench"]["curves"]
        if curve["channel"] == "chest.turn.y"
        for key in curve["keys"]
    ]
    assert 4 in keys
    page.get_by_role("button", name="Play (Space)").focus()
    for label in ("Favour Chest 62 % at 4", "Close the seam: ease through over 6 frames"):
        bench.saved(label)
        page.keyboard.press("Control+z")
    bench.saved("Key Chest at 23")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Nothing to undo")).to_be_visible()
    expect(page.locator(".seam-badge")).to_have_text("seam closed")


def test_a_change_shows_in_the_scene_at_once(bench: Bench, other_desk: Desk) -> None:
    other_desk.open_scene("Sc 04 Quay at dusk")
    other_desk.settled()
    # In its second round the amble shows its frame 6 there.
    other_desk.go_to(79)
    other_desk.still()
    before = other_desk.picture()
    bench.open("Amble")
    revision = other_desk.page.locator(".saved").inner_text()
    bench.choose("Chest")
    bench.go_to(6)
    bench.write("Chest, turn x", 60)
    bench.press("k")
    bench.saved("Key Chest at 6")
    expect(other_desk.page.locator(".notice")).to_contain_text("A clip of this scene has changed.")
    other_desk.settled()
    assert other_desk.page.locator(".saved").inner_text() == revision
    other_desk.shows(lambda picture: picture != before)
    bench.page.keyboard.press("Control+z")
    expect(bench.page.get_by_role("button", name="Nothing to undo")).to_be_visible()
    other_desk.shows(lambda picture: picture == before)


def test_with_record_off_no_draw_makes_a_key(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    saved = bench.view()["bench"]["curves"]
    switch = page.get_by_role("switch", name=re.compile("^Record"))
    expect(switch).to_have_attribute("aria-checked", "false")
    for joint, metres in (("r_wrist", (0.1, 0.1)), ("l_ankle", (-0.1, 0.1)), ("hips", (0.0, 0.05))):
        bench.draw(joint, 0, metres)
        expect(page.locator(".loose-flag")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.locator(".loose-flag")).to_have_count(0)
    assert bench.view()["revision"] == 1
    assert bench.view()["bench"]["curves"] == saved
    # K keys all that a draw has changed, not only the joint that was held.
    bench.draw("r_wrist", 0, (0.1, 0.1))
    page.keyboard.press("k")
    bench.saved("Key 3 joints at 0")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Nothing to undo")).to_be_visible()
    # By key alone, too: a centimetre at a time.
    bench.choose("Left ankle")
    page.keyboard.press("Control+Shift+ArrowUp")
    expect(page.locator(".loose-flag")).to_be_visible()
    page.keyboard.press("Escape")
    # With Record every change is keyed at once, and the whole stage edge shows it.
    page.keyboard.press("r")
    expect(page.locator(".bench.is-recording")).to_be_visible()
    bench.draw("r_wrist", 0, (0.1, 0.1))
    bench.saved("Key 3 joints at 0")
    page.get_by_role("link", name="Library").click()
    page.go_back()
    bench.ready()
    expect(switch).to_have_attribute("aria-checked", "false")


def test_keys_are_chosen_moved_copied_and_deleted(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    bench.choose("Neck")
    bench.go_to(9)
    page.keyboard.press("u")
    sheet = page.locator(".sheet-canvas")
    expect(sheet).to_have_attribute("data-chosen", "3")
    page.keyboard.press("Alt+ArrowRight")
    bench.saved("Move 3 keys by +1")
    expect(sheet).to_have_attribute("data-chosen", "3")
    # Pressed quickly, each press is made: none waits for the answer to the one before.
    for key in ("ArrowRight", "ArrowRight", "ArrowLeft", "ArrowLeft"):
        page.keyboard.press(f"Alt+{key}")
    bench.saved("Move 3 keys by -1")
    bench.desk.saved(6)
    expect(sheet).to_have_attribute("data-chosen", "3")
    page.keyboard.press("Alt+ArrowUp")
    bench.saved("Move 3 keys by +1°")
    page.keyboard.press("Shift+H")
    bench.saved("Hold 3 keys")
    page.keyboard.press("Control+c")
    bench.go_to(14)
    page.keyboard.press("Control+v")
    bench.saved("Paste 3 keys at 14")
    page.keyboard.press("u")
    page.keyboard.press("Delete")
    bench.saved("Delete 3 keys")
    box = sheet.bounding_box()
    assert box
    # A box over the whole sheet chooses everything in sight.
    bench.desk.draw((box["x"] + box["width"] - 6, box["y"] + 60), (box["x"] + 160, box["y"] + 3))
    every = sum(key["own"] for c in bench.view()["bench"]["curves"] for key in c["keys"])
    assert every > 600
    expect(sheet).to_have_attribute("data-chosen", str(every))
    # Drawn along all together; what is chosen by hand before the answer comes stays chosen.
    page.keyboard.press("Alt+ArrowRight")
    page.keyboard.press("Escape")
    bench.saved(f"Move {every} keys by +1")
    bench.desk.still()
    expect(sheet).to_have_attribute("data-chosen", "0")


def test_the_dial_is_scrubbed_and_turned(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    page.locator(".dial").scroll_into_view_if_needed()
    box = page.locator(".dial").bounding_box()
    assert box
    side = min(box["width"], box["height"])
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.click(x + side * 0.1, y)
    assert bench.desk.frame() == 6
    page.keyboard.press("m")
    bench.saved("Start the cycle on frame 6")
    names = {pose["frame"]: pose["name"] for pose in bench.view()["bench"]["poses"]}
    assert names[0] == "Contact"
    # Draw the rim a quarter round, back again.
    rim = side * 95 / 292
    bench.desk.draw((x, y - rim), (x + rim, y))
    bench.saved("Start the cycle on frame 18")
    assert bench.view()["bench"]["poses"][0] == {"frame": 0, "name": "Passing"}


def test_curves_are_drawn_by_key_and_slope(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    bench.choose("Left knee")
    bench.go_to(3)
    expect(page.locator(".curve-names")).to_contain_text("Left knee turn x")
    page.keyboard.press("u")
    picture = page.locator(".curves-canvas")
    box = picture.bounding_box()
    assert box
    start, end = -2.0, 35.0
    x = box["x"] + 44 + (3 - start) / (end - start) * (box["width"] - 44)
    found = None
    for y in range(int(box["y"] + 22), int(box["y"] + box["height"] - 10), 5):
        page.mouse.click(x, y)
        if page.get_by_label("Value of the key").count():
            found = y
            break
    assert found is not None
    bench.desk.draw((x, found), (x, found - 20))
    bench.saved("Set a key of Left knee at 3")
    bench.write("Value of the key", 30)
    expect(page.get_by_label("Value of the key")).to_have_value("30")
    # By key alone: a curve's name chooses its key, and the slope is a number.
    page.get_by_role("button", name="Left knee turn z").press("Enter")
    expect(page.get_by_label("Frame of the key")).to_have_value("3")
    bench.write("Slope out of the key", 1.5)
    expect(page.get_by_role("radio", name="free", exact=True)).to_have_attribute(
        "aria-checked", "true"
    )


def test_a_new_clip_is_baked_from_a_scene(bench: Bench) -> None:
    bench.desk.come_in()
    bench.click("New clip")
    page = bench.page
    page.get_by_label("Name", exact=True).fill("朝の歩き")
    bench.click("a scene", "radio")
    bench.write("First frame", 101)
    bench.write("Last frame", 124)
    bench.click("Make it")
    bench.ready()
    made = bench.view()["bench"]
    assert (made["name"], made["length_frames"], made["is_cycle"]) == ("朝の歩き", 24, False)
    assert made["stride_metres"] == pytest.approx(1.12 * 23 / 24, rel=0.05)


def test_the_room_opens_as_it_was_left(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    bench.choose("Left knee")
    bench.go_to(9)
    page.keyboard.press("3")
    bench.click("Feet", "radio")
    page.reload()
    bench.ready()
    expect(page.locator(".joint-list .is-chosen")).to_contain_text("Left knee")
    expect(page.get_by_role("radio", name="Front")).to_have_attribute("aria-checked", "true")
    expect(page.get_by_role("radio", name="Feet")).to_have_attribute("aria-checked", "true")
    assert bench.desk.frame() == 9


def test_a_scene_gets_a_copy_of_its_own(bench: Bench) -> None:
    """Only that scene follows from then on; the clip and its other uses stay."""
    desk, page = bench.desk, bench.page
    desk.open_copy("Sc 04 Quay at dusk")
    scene = page.locator(".crumbs b").inner_text()
    page.get_by_role("link", name="Library").click()
    bench.open("Amble")
    original = bench.id
    bench.click("Uses", "radio")
    row = page.locator(".use-list li").filter(has=page.get_by_role("link", name=scene, exact=True))
    row.get_by_role("button", name="Its own copy").click()
    name = page.locator(".crumbs b").last
    expect(name).to_have_text(re.compile("^Amble copy"))
    copy = name.inner_text()
    assert bench.id != original
    bench.click("Uses", "radio")
    expect(page.locator(".use-list a")).to_have_text([scene])
    page.locator(".use-list a").click()
    undo = page.get_by_role("button", name=f"Undo: Play {copy} for Amble (Ctrl+Z)", exact=True)
    expect(undo).to_be_visible()
