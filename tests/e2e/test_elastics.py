"""Retiming by hand: strands, pace, slow motion, bakes, exposure, rides and the camera."""

import re

from playwright.sync_api import Locator, expect

from .desk import Desk, painted

AMBLE = 2
Point = tuple[float, float]


def unfolded(desk: Desk, place: int = AMBLE) -> Locator:
    """A stint's strands, under its lane."""
    desk.choose(place)
    if not desk.page.get_by_role("checkbox", name="Strands").is_checked():
        desk.page.keyboard.press("z")
    strip = desk.page.locator(".strands:not(.is-scene)")
    expect(strip).to_be_visible()
    desk.still()
    return strip


def middle(of: Locator) -> Point:
    box = of.bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def pin(strip: Locator, place: int) -> Locator:
    return strip.locator(f'[data-pin="{place}"]')


def looked_at(desk: Desk) -> bytes:
    """The stage without the plan, and with the focus on it as it always is when it is compared."""
    desk.page.get_by_role("checkbox", name="Plan").uncheck()
    focused(desk)
    desk.still()
    return desk.picture()


def looks_as(desk: Desk, before: bytes) -> None:
    focused(desk)
    desk.shows(lambda seen: seen == before)


def focused(desk: Desk) -> None:
    """On the stage, and by keys: only then its edge is drawn."""
    desk.page.keyboard.press("Shift")
    desk.page.locator(".stage-canvas").focus()


def thread_at(strip: Locator, share: float, high: float) -> Point:
    """A place among the threads: along them, and from the upper ruler down."""
    box = strip.locator(".thread-hand").bounding_box()
    assert box
    return box["x"] + box["width"] * share, box["y"] + box["height"] * high


class Counted:
    """Actions of a person, by what they were."""

    def __init__(self) -> None:
        self.done: list[str] = []

    def do(self, what: str) -> None:
        self.done.append(what)


def test_source_90_plays_at_36_is_one_typed_pair_and_is_never_applied_twice(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    strip = unfolded(desk)
    desk.set("Frame of the clip that is to be pinned", 41)
    desk.set("Frame of the scene that it is to play at", 148)
    desk.undoes("Amble: 41 plays at 148")
    expect(strip.get_by_label("Pin: 41 plays at 148")).to_be_visible()
    desk.go_to(148)
    tied = looked_at(desk)
    # Typed again it is the same place, and no factor.
    desk.set("Frame of the clip that is to be pinned", 41)
    desk.set("Frame of the scene that it is to play at", 148)
    desk.still()
    looks_as(desk, tied)
    expect(strip.locator("[data-pin]")).to_have_count(3)
    page.get_by_role("button", name="Bake", exact=True).click()
    desk.undoes("Bake Amble")
    expect(page.get_by_label("Its time")).to_contain_text("as made")
    # Its two ends are left.
    expect(strip.locator("[data-pin]")).to_have_count(2)
    expect(page.get_by_role("button", name="Straighten").last).to_be_disabled()
    looks_as(desk, tied)
    # Another bake of what is straight plays the same again.
    page.get_by_role("button", name="Bake", exact=True).click()
    expect(page.locator(".notice").last).to_contain_text("Amble baked")
    desk.settled()
    looks_as(desk, tied)
    # What was before is two steps back.
    desk.undo()
    desk.undo()
    expect(strip.locator("[data-pin]")).to_have_count(3)


def test_a_strand_is_pinned_drawn_and_let_go_of(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    strip = unfolded(desk)
    before = desk.revision()
    # A press pins it, and moves nothing.
    desk.go_to(130)
    plain = looked_at(desk)
    page.mouse.click(*thread_at(strip, 0.5, 0.3))
    expect(strip.locator("[data-pin]")).to_have_count(3)
    desk.undoes(f"Pin Amble at {pinned_at(pin(strip, 1))}")
    looks_as(desk, plain)
    # Escape in the middle of a draw leaves it as it was.
    head = middle(pin(strip, 1).locator(".head"))
    page.mouse.move(*head)
    page.mouse.down()
    page.mouse.move(head[0] + 30, head[1], steps=5)
    painted(page)
    page.keyboard.press("Escape")
    page.mouse.up()
    assert desk.revision() == before + 1
    # Drawn far beyond the next pin it stops a frame short of it.
    desk.draw(head, (head[0] + 900, head[1]))
    desk.undoes("Move a pin of Amble")
    played = [pinned_at(pin(strip, place)) for place in range(3)]
    assert played[1] == played[2] - 1
    # By keys: a frame back, and out.
    pin(strip, 1).focus()
    page.keyboard.press("Alt+ArrowLeft")
    expect(strip.get_by_label(re.compile(f"plays at {played[2] - 2}$"))).to_be_visible()
    desk.settled()
    pin(strip, 1).focus()
    page.keyboard.press("Delete")
    expect(strip.locator("[data-pin]")).to_have_count(2)
    desk.settled()
    # One draw of a strand pins it and moves it at once.
    start = thread_at(strip, 0.5, 0.2)
    desk.draw(start, (start[0] + 40, start[1]))
    expect(strip.locator("[data-pin]")).to_have_count(3)
    expect(page.get_by_role("button", name=re.compile("^Undo: Amble: .* plays at"))).to_be_visible()
    desk.settled()


def pinned_at(of: Locator) -> int:
    found = re.search(r"plays at (-?[\d.]+)$", of.get_attribute("aria-label") or "")
    assert found
    return round(float(found[1]))


def test_slow_motion_of_the_whole_scene_and_of_one_stint_in_four_actions(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    scene = Counted()
    loop_by_hand(desk, 88, 112)
    scene.do("draw the range 88 to 112 along the ruler")
    page.keyboard.press("y")
    scene.do("press Y")
    slow_to_35(desk)
    scene.do("type 35, Enter, Enter")
    desk.undoes("Slow the scene to 35 %, 88 to 112")
    expect(page.locator(".notice").last).to_contain_text("The scene plays for 327 frames now.")
    assert len(scene.done) <= 4
    print("slow motion of the scene:", "; ".join(scene.done))
    # What is laid stays as it lies; the playhead says what plays.
    assert desk.span(desk.stint(AMBLE)) == (91, 170)
    desk.go_to(130)
    expect(page.locator(".frame-box")).to_contain_text("plays 104")
    page.keyboard.press("Shift+Z")
    strip = page.locator(".strands.is-scene")
    # Its ends, and the four corners of the pace.
    expect(strip.locator("[data-pin]")).to_have_count(6)
    strip.get_by_role("button", name="Straighten").click()
    desk.undoes("Straighten the scene")
    expect(page.locator(".frame-box")).not_to_contain_text("plays")

    one = Counted()
    desk.choose(AMBLE)
    one.do("choose Amble")
    loop_by_hand(desk, 120, 144)
    one.do("draw the range 120 to 144 along the ruler")
    page.keyboard.press("y")
    one.do("press Y")
    slow_to_35(desk)
    one.do("type 35, Enter, Enter")
    desk.undoes("Slow Amble to 35 %, 120 to 144")
    assert desk.span(desk.stint(AMBLE)) == (91, 209)
    assert desk.span(desk.stint(AMBLE + 1))[0] == 163 + 39
    assert len(one.done) <= 4
    print("slow motion of one stint:", "; ".join(one.done))


def test_slow_motion_with_camera_and_flame_is_a_beat_and_a_number(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 05 The lamp is lit")
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+Y")
    desk.undoes("Straighten the scene")
    made = Counted()
    page.locator('[data-beat="lights-it"]').focus()
    page.keyboard.press("Enter")
    made.do("choose the beat")
    page.keyboard.press("y")
    made.do("press Y")
    card = page.get_by_role("complementary", name="Slow this")
    expect(card.get_by_label("Frames of the ramps at both ends")).to_have_value("4")
    slow_to_35(desk)
    made.do("type 35, Enter, Enter")
    desk.undoes("Slow the scene to 35 %, 45 to 69")
    expect(page.locator(".notice").last).to_contain_text("The scene plays for 159 frames now.")
    assert len(made.done) <= 4
    print("slow motion, camera and flame included:", "; ".join(made.done))
    # All of them go by the scene's time: what plays at 100 is laid at 65 for the camera too.
    desk.go_to(100)
    expect(page.locator(".frame-box")).to_contain_text("plays 65.6")
    page.get_by_role("button", name="Camera key at 51").focus()
    page.keyboard.press("Enter")
    # 4 frames of the ramp go over 2.7 laid ones, and the 3.3 that are left to it at 35 %: 57.4 from 0.
    assert desk.frame() == 58


def loop_by_hand(desk: Desk, first: int, last: int) -> None:
    """Shift, and draw along the ruler."""
    ruler = desk.page.locator("svg.ruler").bounding_box()
    start, end = (desk.stint(place).locator(".card").bounding_box() for place in (0, 5))
    assert ruler
    assert start
    assert end
    # From the first stint's start to the last one's end, so that a line's width counts for nothing.
    frames = desk.span(desk.stint(5))[1]
    pixels = (end["x"] + end["width"] - start["x"]) / frames
    x = [start["x"] + frame * pixels for frame in (first - 1, last)]
    desk.page.keyboard.down("Shift")
    desk.draw((x[0], ruler["y"] + 15), (x[1], ruler["y"] + 15))
    desk.page.keyboard.up("Shift")
    expect(desk.page.get_by_label("First frame of the loop")).to_have_value(str(first))
    expect(desk.page.get_by_label("Last frame of the loop")).to_have_value(str(last))


def slow_to_35(desk: Desk) -> None:
    card = desk.page.get_by_role("complementary", name="Slow this")
    expect(card.get_by_label("Pace in percent")).to_be_focused()
    desk.page.keyboard.type("35")
    desk.page.keyboard.press("Enter")
    expect(card.get_by_role("status").first).to_contain_text("becomes")
    desk.still()
    desk.page.keyboard.press("Enter")


def test_the_card_says_what_cannot_be_and_leaves_everything(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    before = desk.revision()
    desk.choose(AMBLE)
    page.keyboard.press("y")
    card = page.get_by_role("complementary", name="Slow this")
    card.get_by_text("the ends stay").click()
    expect(card.get_by_role("alert")).to_contain_text("Nothing lies beside this range")
    expect(card.get_by_role("button", name="Slow it")).to_be_disabled()
    desk.set("First frame of the range", 110)
    desk.set("Last frame of the range", 130)
    expect(card.get_by_role("alert")).to_have_count(0)
    desk.set("Frames of the ramps at both ends", 60)
    expect(card.get_by_role("alert")).to_contain_text("do not fit into this range")
    card.get_by_role("button", name="Leave it").click()
    expect(page.get_by_role("complementary", name="Stint: Amble")).to_be_visible()
    assert desk.revision() == before


def test_the_pace_is_drawn_and_stepped(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    page.get_by_role("checkbox", name="Ripple").check()
    strip = unfolded(desk)
    page.mouse.click(*thread_at(strip, 0.3, 0.3))
    expect(strip.locator("[data-pin]")).to_have_count(3)
    desk.settled()
    level = strip.locator('[data-level="1"]')
    start = middle(level)
    desk.draw(start, (start[0], start[1] + 12))
    expect(
        page.get_by_role("button", name=re.compile("^Undo: Amble: a stretch at"))
    ).to_be_visible()
    desk.settled()
    drawn = int(level.get_attribute("aria-valuenow") or 0)
    assert 40 < drawn < 95
    level.focus()
    page.keyboard.press("ArrowDown")
    expect(level).not_to_have_attribute("aria-valuenow", str(drawn))
    desk.settled()
    # What follows has moved on by whole frames, and joins as it did.
    first, _ = desk.span(desk.stint(AMBLE + 1))
    assert first > 163
    pin(strip, 1).focus()
    page.keyboard.press("Enter")
    card = page.get_by_role("complementary", name="Pin")
    card.get_by_text("eased", exact=True).click()
    desk.undoes(f"Amble: eased from {pinned_at(pin(strip, 1))}")


def test_exposure_stands_on_a_lane_and_shows_as_brackets(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    page.get_by_label("Lane Body of Odo").focus()
    page.keyboard.press("Enter")
    field = page.get_by_label("Exposure: how long each pose stays")
    desk.go_to(132)
    plain = looked_at(desk)
    field.select_option("on twos")
    desk.undoes("Odo, Body: on twos")
    expect(page.locator("path.holds")).to_have_count(1)
    expect(page.get_by_label("Lane Body of Odo")).to_contain_text("on twos")
    focused(desk)
    desk.shows(lambda seen: seen != plain)
    field.select_option("a pattern …")
    desk.set("Drawings a second", 10)
    desk.undoes("Odo, Body: on 2, 2, 3, 2, 3")
    field.select_option(label="as the scene")
    expect(page.locator("path.holds")).to_have_count(0)
    desk.settled()
    looks_as(desk, plain)
    page.get_by_role("checkbox", name="Own time").click()
    desk.undoes("Odo, Body: keep its own time")


def test_attaching_moves_nothing_at_the_playhead(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(100)
    before = looked_at(desk)
    page.get_by_label("Lane Body of Gull").focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Gull, the figure").click()
    card = page.get_by_role("complementary", name="Figure: Gull")
    card.get_by_label("Whom it is to ride on").select_option("Odo")
    card.get_by_label("The joint that it is to ride on").select_option("Head")
    card.get_by_role("button", name="Attach from 100 on").click()
    desk.undoes("Gull rides on Odo’s head")
    expect(card.get_by_label("First frame on head")).to_have_value("100")
    page.keyboard.press("Escape")
    desk.still()
    looks_as(desk, before)
    desk.go_to(140)
    desk.shows(lambda seen: seen != before)


def test_the_camera_is_keyed_by_what_is_seen(desk: Desk) -> None:
    page = desk.page
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(60)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Set one up here").click()
    desk.undoes("Set up the camera at 60")
    keys = page.locator(".is-camera .row-key")
    expect(keys).to_have_count(1)
    desk.go_to(120)
    page.keyboard.press("5")
    expect(page.get_by_role("radio", name="Camera")).to_be_checked()
    # Only while the camera is chosen does drawing key it, and the stage says so.
    expect(page.get_by_text("Framing: what you draw")).to_have_count(1)
    x, y = middle(page.locator(".stage-canvas"))
    desk.still()
    desk.draw((x, y), (x + 90, y + 10))
    desk.undoes("Key the camera at 120")
    expect(keys).to_have_count(2)
    page.get_by_text("by angles").click()
    desk.undoes("The camera turns by angles")
    keys.nth(1).focus()
    page.keyboard.press("Alt+ArrowRight")
    desk.undoes("Move a key of the camera to 121")
    page.keyboard.press("Escape")
    expect(page.get_by_text("Framing: what you draw")).to_have_count(0)
    # Looked round without it, one stands where it stood, and nothing is keyed.
    revision = desk.revision()
    desk.draw((x, y), (x - 60, y))
    expect(page.get_by_role("radio", name="Camera")).not_to_be_checked()
    assert desk.revision() == revision
    page.get_by_role("checkbox", name="Camera").check()
    expect(page.get_by_label("What the scene’s camera sees")).to_be_visible()


def test_a_hold_moves_on_what_follows_on_its_lane_or_on_every_one(desk: Desk) -> None:
    desk.open_copy("Sc 04 Quay at dusk")
    page = desk.page
    desk.choose(AMBLE)
    page.keyboard.press("r")
    desk.go_to(110)
    desk.set("Frames that the pose at the playhead is held for", 6)
    page.get_by_role("button", name="Hold here").click()
    desk.undoes("Amble: hold 110 for 6 frames")
    later = page.get_by_role("button", name=re.compile("^Glide, 2.92 cycles"))
    assert [desk.span(desk.stint(AMBLE)), desk.span(desk.stint(3))] == [(91, 176), (169, 236)]
    assert desk.span(later) == (149, 288)
    desk.undo()
    page.get_by_role("checkbox", name="A hold moves every lane on").check()
    page.get_by_role("button", name="Hold here").click()
    desk.undoes("Amble: hold 110 for 6 frames")
    assert [desk.span(desk.stint(AMBLE)), desk.span(desk.stint(3))] == [(91, 176), (169, 236)]
    assert desk.span(later) == (155, 294)
    # A beat that began before it stays, and one that began after it goes along.
    beats = page.locator(".time-desk").get_by_role("button", name=re.compile("^Beat "))
    told = [label.get_attribute("aria-label") for label in beats.all()]
    assert told[0] == "Beat Hears it, frames 63 to 98"
    assert told[2] == "Beat Runs, frames 169 to 294"
