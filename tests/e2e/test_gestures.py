"""Every gesture has a key, is one undo step, and the step has a name."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import expect

from .desk import Desk

Before = Callable[[Desk], object]
# Odo's stints by their places: Stand, Look back, Amble, Hurry, Reach and light, Stand.
AMBLE, HURRY, LAST_STAND = 2, 3, 5


def one(desk: Desk) -> None:
    desk.choose(AMBLE)


def two(desk: Desk) -> None:
    desk.choose(AMBLE)
    desk.choose(HURRY, adding=True)


def amid(desk: Desk) -> None:
    desk.choose(AMBLE)
    desk.go_to(100)


def lane(desk: Desk) -> None:
    desk.page.get_by_label("Lane Body of Gull").focus()
    desk.page.keyboard.press("Enter")


def lane_head(desk: Desk) -> None:
    desk.page.get_by_label("Lane Body of Gull").focus()


def upper(desk: Desk) -> None:
    """A lane over Odo's, so that his stints have somewhere to go."""
    desk.page.get_by_label("Lane Body of Odo").focus()
    desk.page.keyboard.press("Enter")
    desk.page.keyboard.press("Shift+N")
    expect(desk.page.locator("[data-lane]")).to_have_count(4)
    desk.settled()
    desk.choose(LAST_STAND)


def join(desk: Desk) -> None:
    desk.page.locator('[data-join="hurry"]').focus()
    desk.page.keyboard.press("Enter")


def beat(desk: Desk) -> None:
    desk.page.locator('[data-beat="hears-it"]').focus()
    desk.page.keyboard.press("Enter")


def figure(desk: Desk) -> None:
    desk.page.keyboard.press("Escape")
    desk.page.get_by_role("button", name="Gull", exact=True).click()


def copied(desk: Desk) -> None:
    desk.choose(AMBLE)
    desk.page.keyboard.press("Control+c")
    desk.go_to(280)


def gap(desk: Desk) -> None:
    desk.page.get_by_label("Gap of Gull: waits in the next").focus()


# what is chosen first, the keys, the name of the one step that they make
GESTURES: list[tuple[Before, str, str]] = [
    (one, "Alt+ArrowRight", "Move Amble"),
    (one, "Alt+ArrowLeft", "Move Amble"),
    (two, "Alt+ArrowRight", "Move 2 stints"),
    (one, "Alt+Shift+ArrowLeft", "Trim the end of Amble"),
    (one, "Alt+Shift+ArrowRight", "Repeat Amble"),
    (one, "Control+Alt+ArrowRight", "Trim the start of Amble"),
    (one, "Control+Alt+ArrowLeft", "Trim the start of Amble"),
    (one, "Alt+PageDown", "Slip Amble"),
    (one, "Alt+PageUp", "Slip Amble"),
    (amid, "/", "Split Amble"),
    (one, "d", "Duplicate Amble"),
    (two, "d", "Duplicate 2 stints"),
    (copied, "Control+v", "Paste Amble"),
    (one, "Control+x", "Delete Amble"),
    (one, "Delete", "Delete Amble"),
    (two, "Backspace", "Delete 2 stints"),
    (one, "j", "Colour Amble"),
    (two, "j", "Colour 2 stints"),
    (one, "i", "Nail down Amble"),
    (upper, "Alt+ArrowUp", "Move Stand to Over Body"),
    (join, "Alt+ArrowRight", "Move the cut Amble to Hurry"),
    (one, "b", "Add the beat Beat 4"),
    (beat, "Alt+ArrowLeft", "Move the beat Hears it"),
    (beat, "Alt+Shift+ArrowLeft", "Trim the beat Hears it"),
    (beat, "Control+Alt+ArrowRight", "Trim the beat Hears it"),
    (beat, "j", "Colour the beat Hears it"),
    (beat, "Delete", "Delete the beat Hears it"),
    (lane, "m", "Gull, Body: mute"),
    (lane, "o", "Gull, Body: solo"),
    (lane, "k", "Gull, Body: lock"),
    (lane, "f", "Gull, Body: fold"),
    (lane, "x", "Gull, Body: ease over gaps"),
    (lane, "j", "Gull, Body: colour"),
    (lane, "Shift+N", "Add a lane to Gull"),
    (lane, "Delete", "Delete the lane Body"),
    (lane_head, "Alt+ArrowUp", "Move the lane Body"),
    (lane_head, "Alt+ArrowDown", "Move the lane Body"),
    (gap, "Enter", "Gull, Body: ease over gaps"),
    (figure, "Delete", "Take Gull out"),
]


def test_every_key_makes_one_step_with_a_name(desk: Desk) -> None:
    desk.open_copy("Sc 04 Quay at dusk")
    desk.settled()
    for before, keys, label in GESTURES:
        desk.page.keyboard.press("Escape")
        before(desk)
        revision = desk.revision()
        desk.page.keyboard.press(keys)
        undo = desk.page.get_by_role("button", name=re.compile("^Undo: " + re.escape(label)))
        expect(undo, keys).to_be_visible()
        desk.settled()
        # One step back, and it is as it was.
        desk.page.keyboard.press("Control+z")
        desk.saved(revision)
        while desk.revision() > 1:
            desk.undo()
        expect(desk.stints()).to_have_count(10)


def test_stints_are_copied_into_another_scene(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    two(desk)
    page.keyboard.press("Control+c")
    expect(page.locator(".notice")).to_contain_text("Copied 2 stints.")
    desk.library()
    desk.new_scene()
    desk.go_to(11)
    page.keyboard.press("Control+v")
    expect(desk.stints()).to_have_count(2)
    desk.undoes("Paste 2 stints")
    # As far apart as they were, from the playhead on, with their join and their figure.
    assert [desk.span(desk.stint(k)) for k in range(2)] == [(11, 90), (83, 150)]
    expect(page.get_by_role("button", name="Join Amble to Hurry, 8 frames")).to_be_visible()
    expect(page.get_by_label("Lane Body of Odo")).to_be_visible()


@pytest.mark.parametrize(
    ("before", "name", "label"),
    [
        (one, "Dusk walk", "Rename Amble to Dusk walk"),
        (lane, "Wings", "Rename the lane Body to Wings"),
        (beat, "Listens", "Rename the beat Hears it to Listens"),
    ],
)
def test_names_are_written_after_f2(desk: Desk, before: Before, name: str, label: str) -> None:
    desk.open_copy("Sc 04 Quay at dusk")
    before(desk)
    desk.page.keyboard.press("F2")
    field = desk.page.locator(".side [data-name-field]")
    expect(field).to_be_focused()
    # Letters are written here, and move nothing.
    desk.page.keyboard.type(name)
    desk.page.keyboard.press("Enter")
    expect(desk.page.get_by_role("button", name=re.compile(f"^Undo: {label}"))).to_be_visible()
    desk.page.keyboard.press("Control+z")
    desk.settled()


def test_jumping_goes_from_cut_to_cut_from_beat_to_beat_and_from_step_to_step(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(1)

    def pressed(key: str, times: int) -> list[int]:
        found = []
        for _ in range(times):
            page.keyboard.press(key)
            found.append(desk.frame())
        return found

    assert pressed("PageDown", 4) == [25, 63, 71, 75]
    assert pressed("PageUp", 2) == [71, 63]
    desk.go_to(1)
    assert pressed("Shift+PageDown", 2) == [63, 99]
    assert pressed("Shift+PageUp", 1) == [63]
    assert pressed("'", 1)[0] in range(64, 104)


def test_keys_are_listed_and_never_fire_while_something_is_written(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.settled()
    page.keyboard.press("?")
    sheet = page.get_by_role("dialog", name="Keys of this room")
    expect(sheet).to_be_visible()
    listed = {key.inner_text() for key in sheet.locator("kbd").all()}
    assert {"Space", "Alt+Left", "Ctrl+Shift+Z", "PageDown", "W", "?"} <= listed
    assert len(listed) > 60
    page.keyboard.press("Escape")
    expect(sheet).to_have_count(0)
    revision, frame = desk.revision(), desk.frame()
    page.get_by_label("Find a clip").fill("")
    page.get_by_label("Find a clip").press_sequentially("dbm /jw")
    assert page.get_by_label("Find a clip").input_value() == "dbm /jw"
    assert (desk.revision(), desk.frame()) == (revision, frame)
    expect(page.get_by_label("Lane Body of Gull")).to_be_visible()


def test_a_box_shift_and_the_playhead_choose_several(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    chosen = page.locator('[data-stint][aria-pressed="true"]')
    page.keyboard.press("Control+a")
    expect(chosen).to_have_count(10)
    desk.go_to(121)
    page.keyboard.press("a")
    expect(chosen).to_have_count(5)
    page.keyboard.press("Escape")
    expect(chosen).to_have_count(0)
    # A box over the gull's and the capstan's first stints, from the empty capstan lane upwards.
    capstan = page.locator('[data-lane="capstan-body"] .lane-bed').bounding_box()
    gull = desk.page.locator('[data-stint="glide-1"] .card').bounding_box()
    assert capstan
    assert gull
    desk.draw(
        (gull["x"] - 20, capstan["y"] + capstan["height"] - 6), (gull["x"] + 40, gull["y"] + 20)
    )
    expect(chosen).to_have_count(1)
    page.locator('[data-stint="turn"]').click(modifiers=["Shift"], position={"x": 60, "y": 20})
    expect(chosen).to_have_count(2)
    page.keyboard.press("Escape")
    beat(desk)
    page.keyboard.press("u")
    expect(chosen).to_have_count(5)


def test_drawing_catches_on_cuts_unless_alt_is_held(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.settled()
    turn = page.locator('[data-stint="turn"]')
    # The hurry ends at 230; less than two frames away is near enough to catch.
    apart = 230 - 120
    desk.draw_start(turn, apart - 1.6)
    expect(turn).to_have_attribute("aria-label", re.compile("frames 231 to"))
    page.keyboard.press("Control+z")
    expect(turn).to_have_attribute("aria-label", re.compile("frames 121 to"))
    desk.settled()
    page.keyboard.down("Alt")
    desk.draw_start(turn, apart - 1.6)
    page.keyboard.up("Alt")
    expect(turn).to_have_attribute("aria-label", re.compile("frames 2(29|30) to"))
    page.keyboard.press("Control+z")
    desk.settled()


def test_keys_pressed_quickly_are_all_made(desk: Desk) -> None:
    """None waits for the answer to the one before, and none starts from what no longer stands."""
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.choose(AMBLE)
    before = desk.revision()
    start, end = desk.span(desk.stint(AMBLE))
    for _ in range(4):
        page.keyboard.press("Alt+Shift+ArrowRight")
    expect(desk.stint(AMBLE)).to_have_attribute("aria-label", re.compile(f"{start} to {end + 4}$"))
    assert desk.revision() == before + 4
    field = page.get_by_label("Last frame in the scene: trims the end")
    field.focus()
    for key in ("ArrowDown", "ArrowDown", "ArrowDown", "ArrowUp"):
        field.press(key)
    expect(desk.stint(AMBLE)).to_have_attribute("aria-label", re.compile(f"{start} to {end + 2}$"))
    assert desk.revision() == before + 8
    expect(field).to_have_value(str(end + 2))
    heard = page.get_by_label(re.compile("^Beat Hears it, frames"))
    first, last = desk.span(heard)
    heard.focus()
    for _ in range(3):
        page.keyboard.press("Alt+ArrowRight")
    name = f"Beat Hears it, frames {first + 3} to {last + 3}"
    expect(page.get_by_label(name, exact=True)).to_be_visible()
    assert desk.revision() == before + 11


def test_a_refused_number_does_not_stay_written(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.choose(AMBLE)
    before = desk.revision()
    pace = page.get_by_label("Pace in percent: stretches the stint")
    expect(pace).to_have_value("100")
    pace.fill("20000")
    pace.press("Enter")
    expect(page.locator(".notice.is-trouble")).to_be_visible()
    expect(pace).to_have_value("100")
    assert desk.revision() == before
    toggle = page.get_by_role("button", name=re.compile("^Ghosts: 2 on either side"))
    toggle.click()
    button, menu = toggle.bounding_box(), page.locator(".ghost-menu.show").bounding_box()
    assert button
    assert menu
    # The menu opens under its button.
    assert abs(menu["x"] + menu["width"] - button["x"] - button["width"]) < 4
    assert 0 <= menu["y"] - button["y"] - button["height"] < 10
    ghosts = page.get_by_label("Ghosts on either side")
    ghosts.fill("9")
    ghosts.press("Enter")
    expect(page.get_by_text("Write a number, 1 to 6.")).to_be_visible()
    ghosts.fill("6")
    ghosts.press("Enter")
    expect(page.get_by_role("button", name=re.compile("^Ghosts: 6 on either side"))).to_be_visible()
    ghosts.press("ArrowUp")
    expect(ghosts).to_have_value("6")


def test_the_card_marks_what_follows_before_it_does(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.choose(AMBLE)
    pace = page.get_by_label("Pace in percent: stretches the stint")
    pace.focus()
    expect(page.locator(".follows input")).to_have_attribute(
        "aria-label", "Last frame in the scene: trims the end"
    )
    told = page.locator(".told")
    expect(told).to_have_text("The last frame in the scene goes with it. The rest stays.")
    pace.fill("80")
    pace.press("Enter")
    page.locator(".stage-canvas").focus()
    expect(told).to_have_text("Now: the last frame in the scene 170 → 190; the pace 100 → 80.")
    expect(page.get_by_label("First frame in the scene: moves the stint")).to_have_value("91")
    expect(page.get_by_label("Last frame of the clip: trims the end")).to_have_value("80")
    page.keyboard.press("Control+z")
    desk.settled()
