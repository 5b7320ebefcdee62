"""Captured motion in the page: a take becomes a keyed cycle in a few deeds; every change is seen and undone."""

import re
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from elastic_core.capture.plants import worst_slide
from elastic_core.capture.stage.performer import Move, performed
from elastic_core.capture.stage.suit import suit
from elastic_core.capture.stage.unclean import Uncleanness, uncleaned
from elastic_core.cycle.seam import seam_report
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from
from elastic_core.formats.clip_file import ClipFile
from elastic_core.formats.scene_file import read_own_file

from .desk import Desk, painted, until

TAKE = "quay_pacing_07"
WATCH: tuple[tuple[Move, float], ...] = (
    ("arms out", 1.2), ("stand", 0.6), ("walk", 5.2), ("turn", 1.6), ("walk", 1.8), ("stand", 0.8),
)  # fmt: skip


def captured(path: Path, seed: int) -> Path:
    """A take that the page has never seen, of 120 frames a second."""
    how = Uncleanness(tilt_degrees=(-1.3, 0.8), drift_metres_a_minute=0.3)
    motion = uncleaned(performed(WATCH, 120), how, 120, seed=seed)
    path.write_text(bvh.write(file_from(suit(), motion, Fraction(120), 0.01)), encoding="utf-8")
    return path


@dataclass
class Room:
    """The takes room, and what is done in it."""

    page: Page
    address: str
    deeds: list[str] = field(default_factory=list)

    def does(self, what: str) -> None:
        self.deeds.append(what)

    def open(self, name: str) -> None:
        Desk(self.page, self.address).open("takes", name)
        self.ready()

    def ready(self) -> None:
        expect(self.page.get_by_role("complementary", name="Recipe")).to_be_visible()
        expect(self.step("thin").locator(".measured")).to_be_visible()

    def step(self, name: str) -> Locator:
        return self.page.locator(f'[data-step="{name}"]')

    def view(self) -> dict[str, Any]:
        """The take as the server has it."""
        id = self.page.url.rsplit("/", 1)[-1]
        found: dict[str, Any] = self.page.request.get(f"{self.address}/api/takes/{id}").json()
        return found

    def saved(self, label: str) -> None:
        """Wait until the last step is this one."""
        undo = self.page.get_by_role("button", name=f"Undo: {label} (Ctrl+Z)", exact=True)
        expect(undo).to_be_visible()

    def undone(self, label: str) -> None:
        """Take the last step back, which is this one; then it is no more."""
        self.saved(label)
        self.page.keyboard.press("Control+z")
        redo = self.page.get_by_role("button", name=f"Redo: {label} (Ctrl+Shift+Z)", exact=True)
        expect(redo).to_be_visible()

    def frame(self) -> int:
        return int(self.page.get_by_test_id("frame").inner_text())

    def compares(self) -> str:
        chosen = self.page.get_by_role("radiogroup", name="Compare").locator("[aria-checked=true]")
        return chosen.inner_text()


@pytest.fixture
def room(desk: Desk) -> Room:
    room = Room(desk.page, desk.address)
    room.open(TAKE)
    return room


def kept_clip(page: Page, address: str) -> ClipFile:
    """The clip on the bench, as its file."""
    id = page.url.rsplit("/", 1)[-1]
    return read_own_file(
        ClipFile, page.request.get(f"{address}/api/clips/{id}/file").body(), "clip"
    )


def test_an_unknown_take_is_a_clean_closed_keyed_walk_on_odo_in_a_few_deeds(
    desk: Desk, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    page, address = desk.page, desk.address
    room = Room(page, address)
    desk.come_in()
    room.does("drop the file")
    desk.choose_file(captured(tmp_path / "harbour watch.bvh", seed=4711))
    expect(page.get_by_text("A take is proposed", exact=False)).to_be_visible()
    room.does("choose Odo")
    page.get_by_label("Plays on").select_option("Odo, fitted")
    room.does("bring it in")
    page.get_by_role("button", name="Bring it in").click()
    room.ready()
    # The house recipe has run: what it did is told before anything is asked.
    expect(room.step("mend").locator(".measured")).to_contain_text("0 spikes")
    room.does("press the best loop")
    page.get_by_role("button", name=re.compile("^Play loop 1")).click()
    room.does("take it to the bench")
    page.keyboard.press("Enter")
    expect(page.get_by_label(re.compile("^Key sheet"))).to_be_visible()
    expect(page.get_by_text("seam closed")).to_be_visible()

    file = kept_clip(page, address)
    playable = file.playable()
    assert (file.figure.name, file.clip.is_cycle, file.clip.is_keyed) == ("Odo", True, True)
    assert float(file.clip.rate) == 24
    slide = worst_slide(file.figure, playable.samples.whole(), file.clip.plants)
    assert slide is not None
    assert slide.amount < 0.5
    seam = seam_report(file.figure, playable)
    assert seam.grade == "closed"
    # One round of its walk, which takes 1.05 seconds, goes about 1.3 metres ahead.
    assert file.clip.length_frames == pytest.approx(1.05 * 24, abs=1.5)
    keys = sum(len(curve) for curve in file.clip.keys.values())
    every = 4 * len(file.clip.keys) * file.clip.length_frames
    with capsys.disabled():
        print(f"\nA take to a cycle on Odo: {len(room.deeds)} deeds: {', '.join(room.deeds)}.")
        print(f"Foot slide {slide.amount:.2f} cm, seam {seam.grade}, {keys} keys.")
    assert len(room.deeds) <= 10
    assert keys < every / 3


def test_one_key_flips_and_each_is_told_by_its_look(room: Room) -> None:
    page = room.page
    expect(page.locator("canvas.stage-canvas")).to_have_attribute("data-figures", "2")
    assert room.compares() == "Beside"
    tags = page.locator(".paper-tag")
    expect(tags).to_have_count(2)
    page.keyboard.press("f")
    assert room.compares() == "Captured"
    expect(page.locator("canvas.stage-canvas")).to_have_attribute("data-figures", "1")
    page.keyboard.press("f")
    assert room.compares() == "Cleaned"
    page.keyboard.press("Shift+F")
    assert room.compares() == "Beside"


def test_a_drawn_cut_off_is_seen_while_it_is_drawn_and_is_one_step(room: Room) -> None:
    page = room.page
    slider = page.get_by_role("slider", name="Smooth what is faster than", exact=True)
    before = room.view()
    told = room.step("smooth").locator(".measured").inner_text()
    box = slider.bounding_box()
    assert box
    y = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + box["width"] * 0.62, y)
    page.mouse.down()
    for share in (0.5, 0.42, 0.34):
        page.mouse.move(box["x"] + box["width"] * share, y)
        painted(page)
    # Before it is let go, what it would give is measured, and nothing is saved.
    until(page, lambda: room.step("smooth").locator(".measured").inner_text() != told)
    assert room.view()["revision"] == before["revision"]
    page.mouse.up()
    room.undone("Set Smooth")
    after = room.view()
    assert after["take"]["recipe"] == before["take"]["recipe"]


def test_a_spike_is_refused_and_mended_after_all_by_keys(room: Room) -> None:
    page = room.page
    page.get_by_role("radio", name="Spikes").click()
    found = len(page.locator(".spike-list li").all())
    assert found >= 15
    page.keyboard.press("Home")
    page.keyboard.press("PageDown")
    at = room.frame()
    assert at > 0
    page.keyboard.press("x")
    label = page.get_by_role("button", name=re.compile("^Undo: Refuse the spike of"))
    expect(label).to_be_visible()
    refused = room.view()["take"]["by_hand"]["refused"]
    assert len(refused) == 1
    expect(
        page.get_by_role("checkbox", name=re.compile("^Mend ")).filter(visible=True)
    ).not_to_have_count(0)
    page.keyboard.press("x")
    expect(page.get_by_role("button", name=re.compile("^Undo: Mend the spike of"))).to_be_visible()
    assert room.view()["take"]["by_hand"]["refused"] == []


def test_contacts_are_painted_and_found_again(room: Room) -> None:
    page = room.page
    row = page.get_by_role("img", name=re.compile("^Contacts: "))
    before = row.get_attribute("aria-label")
    box = page.locator(".contact-ground").first.bounding_box()
    assert box
    y = box["y"] + box["height"] / 2
    # Past the end of the take it is painted to its end.
    Desk(page, room.address).draw(
        (box["x"] + box["width"] * 0.9, y), (box["x"] + box["width"] * 1.4, y)
    )
    expect(
        page.get_by_role("button", name=re.compile("^Undo: Put the left foot on the ground"))
    ).to_be_visible()
    mark = room.view()["take"]["by_hand"]["feet"][0]
    assert mark["end"] == room.view()["take"]["length_frames"]
    page.get_by_role("button", name="As they are found").click()
    room.saved("Contacts as they are found")
    expect(row).to_have_attribute("aria-label", str(before))


def test_source_90_plays_at_36_typed_and_drawn(room: Room) -> None:
    page = room.page
    page.get_by_label("Pin a source frame: source at frame").fill("90 at 36")
    page.keyboard.press("Enter")
    room.saved("Source 90 plays at 36")
    expect(page.get_by_test_id("frame")).to_have_text("036")
    expect(page.get_by_test_id("source")).to_have_text("source 90")
    # A level stepped by a key is one step, and what was pinned stays pinned.
    level = page.get_by_role("slider", name="Pace from pin 2 on")
    level.focus()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("button", name=re.compile(r"^Undo: At \d"))).to_be_visible()
    pins = room.view()["take"]["by_hand"]["elastic"]["pins"]
    assert (pins[1]["source"], pins[1]["played"]) == (90, 36)
    page.keyboard.press("Control+z")
    page.get_by_role("button", name="Take out all pins").click()
    room.saved("Take out all pins")
    assert room.view()["take"]["by_hand"]["elastic"] is None


def test_everything_by_keys(room: Room) -> None:
    """Trim, pin, beat, key, contact and circle without the mouse: each is one step that is taken back."""
    page = room.page
    page.keyboard.press("Home")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    assert room.frame() == 30
    for key, label in (
        ("k", "Always key 150"),
        ("i", "Source 150 plays at 30"),
        ("o", "Circle the take"),
        ("p", "Add the beat Beat 1"),
        ("[", "Trim to 150–1920"),
    ):
        page.keyboard.press(key)
        room.undone(label)
        page.keyboard.press("Home")
        for _ in range(3):
            page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("w")
    until(page, lambda: room.frame() != 30)


def test_keys_against_error_and_a_share_of_them(room: Room) -> None:
    page = room.page
    thin = room.step("thin")
    thin.get_by_role("button", name="Keys against error").click()
    points = thin.locator(".keys-against g")
    expect(points).to_have_count(5)
    said = [str(point.get_attribute("aria-label")) for point in points.all()]
    counts = [int(text.split(" keys")[0].replace(",", "")) for text in said]
    errors = [float(re.search(r"off by ([\d.]+)°", text)[1]) for text in said]  # type: ignore[index]
    assert counts == sorted(counts, reverse=True)
    assert all(error <= limit for error, limit in zip(errors, (0.2, 0.5, 1, 2, 5), strict=True))
    points.nth(4).focus()
    page.keyboard.press("Enter")
    room.saved("Set Thin")
    expect(points.nth(4)).to_have_attribute("aria-pressed", "true")
    assert room.view()["take"]["recipe"]["steps"][-1]["degrees"] == 5
    thin.get_by_role("radio", name="a share").click()
    expect(thin.get_by_label("Share of the keys")).to_be_visible()
    expect(thin.locator(".measured")).to_contain_text("keys")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(thin.get_by_label("Keys within, as a number")).to_have_value("2")


def test_beats_become_clips_and_a_reload_changes_nothing(room: Room) -> None:
    page = room.page
    page.get_by_role("radio", name="Cut up").click()
    page.keyboard.press("Home")
    for key in ("p", "End", "Shift+ArrowLeft", "p"):
        page.keyboard.press(key)
    until(page, lambda: len(room.view()["take"]["beats"]) == 2)
    page.reload()
    room.ready()
    assert len(room.view()["take"]["beats"]) == 2
    page.keyboard.press("Shift+P")
    expect(page.get_by_text("2 clips in the library.")).to_be_visible()
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    until(page, lambda: not room.view()["take"]["beats"])


def test_two_tabs_on_one_take_hear_of_each_other(room: Room, other_desk: Desk) -> None:
    other = Room(other_desk.page, room.address)
    other.open(TAKE)
    room.page.keyboard.press("o")
    room.saved("Circle the take")
    # The other tab hears of it, and takes the circle back; the first one hears of that.
    other.page.get_by_role("button", name="Rub out the circle (O)").click()
    other.saved("Rub out the circle")
    expect(room.page.get_by_role("button", name="Circle the good one (O)")).to_be_visible()


def test_a_take_of_a_japanese_name_fits_a_small_window(desk: Desk, tmp_path: Path) -> None:
    page, room = desk.page, Room(desk.page, desk.address)
    page.set_viewport_size({"width": 1024, "height": 700})
    desk.come_in()
    desk.choose_file(captured(tmp_path / "灯台守の見回り.bvh", seed=12))
    expect(page.get_by_label("Name", exact=True)).to_have_value("灯台守の見回り")
    page.get_by_role("button", name="Bring it in").click()
    room.ready()
    assert np.isclose(page.evaluate("document.documentElement.scrollWidth"), 1024)
    expect(page.get_by_role("button", name="Keep as a clip")).to_be_in_viewport()
    page.keyboard.press("Shift+K")
    expect(page.get_by_text("1 clip in the library.")).to_be_visible()


def test_a_wrong_file_says_so_and_leaves_the_library_as_it_was(desk: Desk, tmp_path: Path) -> None:
    page = desk.page
    desk.come_in()
    broken = captured(tmp_path / "cut short.bvh", seed=3)
    broken.write_bytes(broken.read_bytes()[:90_000])
    takes = page.get_by_role("region", name="Takes").locator(".slip")
    count = takes.count()
    desk.choose_file(broken)
    expect(page.get_by_role("dialog")).to_contain_text("cut short")
    page.keyboard.press("Escape")
    expect(takes).to_have_count(count)
