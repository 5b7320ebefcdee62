"""Cycles on the bench in the real page: a wheel that turns for ever, seams closed every way, contacts."""

import json
import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import expect
from typer.testing import CliRunner

from core.tests.motions import FileStyle, bvh_text, bvh_values
from elastic_core.command_line import app

from .bench_room import Bench, array_in
from .desk import Desk


@pytest.fixture
def bench(desk: Desk) -> Bench:
    return Bench(desk)


def test_a_take_is_worked_on_key_by_key(bench: Bench, tmp_path: Path) -> None:
    """A pose for every frame, sent as plain values: its keys are chosen, moved and eased as any."""
    page, desk = bench.page, bench.desk
    desk.come_in()
    take = tmp_path / "take.bvh"
    take.write_bytes(bvh_text(bvh_values(150), FileStyle()))
    desk.bring_in(take, "Long take")
    bench.open("Long take")
    channel = bench.view()["bench"]["curves"][-1]["channel"]
    label = bench.view()["bench"]["curves"][-1]["label"]
    before = bench.curve(channel)
    assert (len(before["every_frame"]["values"]), before["keys"]) == (150, [])
    bench.choose(label.rsplit(" ", 2)[0])
    bench.go_to(40)
    page.get_by_role("button", name=label).click()
    value = page.get_by_label("Value of the key")
    expect(value).to_have_value(f"{before['every_frame']['values'][40]:.1f}".removesuffix(".0"))
    expect(page.get_by_label("Slope out of the key")).to_have_count(0)
    page.keyboard.press("Alt+ArrowUp")
    bench.saved("Move 1 key by +1°")
    raised = bench.curve(channel)["every_frame"]["values"]
    wanted = before["every_frame"]["values"]
    wanted[40] += 1
    assert raised == pytest.approx(wanted)
    # Free, it has slopes, and so has every other key of the curve.
    page.keyboard.press("Shift+S")
    bench.saved("Free 1 key")
    expect(page.get_by_label("Slope out of the key")).to_be_visible()
    assert [key["value"] for key in bench.curve(channel)["keys"]] == pytest.approx(wanted)


def test_the_capstan_turns_for_ever(bench: Bench) -> None:
    """Keyed 0° at 0 and 360° at 24, even, repeat with offset: no pause, no jump, no degree less."""
    page = bench.page
    bench.desk.come_in()
    bench.click("New clip")
    page.get_by_label("Name", exact=True).fill("Capstan round")
    page.get_by_label("Figure", exact=True).select_option(label="Capstan")
    bench.click("Make it")
    bench.ready()
    bench.choose("Drum")
    bench.go_to(0)
    bench.write("Drum, turn y", 0)
    bench.press("k")
    bench.saved("Key Drum at 0")
    bench.go_to(12)
    bench.write("Drum, turn y", 180)
    bench.press("k")
    bench.saved("Key Drum at 12")
    # The second key is the full turn, on the frame that is the first again.
    bench.click("Drum turn y")
    bench.write("Frame of the key", 24)
    bench.saved("Set a key of Drum at 12")
    bench.write("Value of the key", 360)
    bench.saved("Set a key of Drum at 24")
    bench.click("Drum turn y")
    page.get_by_label("After the last key").select_option("offset")
    bench.saved("Let Drum repeat with offset")
    bench.go_to(0)
    page.keyboard.press("Control+a")
    page.keyboard.press("u")
    page.keyboard.press("Shift+E")
    expect(page.get_by_role("button", name=re.compile("^Undo: Make even"))).to_be_visible()
    bench.desk.settled()
    expect(page.locator(".seam-badge")).to_have_text("seam closed")
    turned = array_in(bench.poses(0, 241), "rotations").astype(np.float64)[:, 1]
    # About one axis: the angle between neighbours is the speed. [frames], degrees
    between = 2 * np.degrees(np.arccos(np.clip(np.abs((turned[1:] * turned[:-1]).sum(-1)), 0, 1)))
    assert between == pytest.approx(15, abs=1e-3)
    first, last = bench.curve("drum.turn.y")["keys"]
    assert (first["time"], first["value"], first["span"]) == (0, 0, "even")
    assert (last["time"], last["value"]) == (24, 360)
    traced = bench.ask("traces", {"channels": ["drum.turn.y"], "start": 0, "end": 240}).json()[0]
    assert np.abs(np.array(traced["rates"]) - 15).max() < 1e-9
    steps = np.diff(np.array(traced["values"]))
    assert np.abs(steps * traced["steps_a_frame"] - 15).max() < 1e-9


def hours(*words: object) -> str:
    result = CliRunner().invoke(app, [str(word) for word in words])
    assert result.exit_code == 0, result.output
    return result.stdout


def test_an_imported_walk_is_closed_every_way(bench: Bench, tmp_path: Path) -> None:
    """In the page, with the numbers that `hours seam` and `hours close` have."""
    bench.desk.come_in()
    walked, file = tmp_path / "walk.bvh", tmp_path / "take.bvh"
    hours("walk", walked, "--stride", 1.1, "--frames-per-step", 12)
    hours("convert", walked, file, "--end", 25)
    page = bench.page
    bench.desk.choose_file(file)
    page.get_by_label("Name", exact=True).fill("Open walk")
    page.get_by_label("First frame", exact=True).fill("5")
    page.get_by_label("First frame", exact=True).press("Enter")
    page.get_by_label("Last frame", exact=True).fill("20")
    page.get_by_label("Last frame", exact=True).press("Enter")
    bench.click("Cycle", "radio")
    bench.click("Bring it in")
    expect(page.get_by_role("dialog")).to_have_count(0)
    bench.open("Open walk")
    bench.click("Seam", "radio")
    worst = page.locator(".gap-list li").first

    def read_out() -> tuple[str, float, float]:
        name, numbers = worst.locator("span").first.inner_text(), worst.inner_text()
        found = re.search(r"([\d.]+)° ([\d.]+) cm", numbers)
        assert found
        return name, float(found[1]), float(found[2])

    def told(*words: object) -> dict[str, tuple[float, float]]:
        rows = json.loads(hours("seam", *words, "--json"))["joints"]
        return {row["joint"]: (row["gap_degrees"], row["gap_cm"]) for row in rows}

    before = told(file, "--cycle", "5:21")
    name, degrees, cm = read_out()
    joint = next(row["name"] for row in bench.view()["bench"]["joints"] if row["label"] == name)
    assert (degrees, cm) == pytest.approx(before[joint], abs=0.06)
    assert degrees > 5
    expect(page.locator(".seam-badge")).not_to_have_text("seam closed")
    for method, words in (
        ("match", "match ends"),
        ("spread", "spread"),
        ("through", "ease through"),
        ("overlap", "overlap"),
    ):
        bench.click(words, "radio")
        if method != "match":
            bench.write("Frames to close over", 5)
        # Pointing at the button shows what it would do, and saves nothing.
        page.get_by_role("button", name="Close", exact=True).hover()
        expect(page.locator(".seam-badge")).to_have_text(re.compile("closed|°/frame"))
        assert bench.view()["bench"]["seam"]["joints"][0]["gap_degrees"] > 5
        bench.click("Close")
        over = "" if method == "match" else " over 5 frames"
        bench.saved(f"Close the seam: {words}{over}")
        expect(page.locator(".notice")).to_contain_text(re.compile("turned the most, by|No frame"))
        _, degrees, cm = read_out()
        closed = tmp_path / f"{method}.bvh"
        hours("close", file, closed, "--cycle", "5:21", "--method", method, "--frames", 5)
        assert degrees == pytest.approx(max(d for d, _ in told(closed).values()), abs=0.06)
        assert (degrees, cm) == (0.0, 0.0)
        page.keyboard.press("Control+z")
        expect(page.get_by_role("button", name="Nothing to undo")).to_be_visible()


def test_contacts_are_drawn_on_the_dial(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    plants = bench.view()["bench"]["plants"]
    first = next(plant for plant in plants if plant["side"] == "left")
    page.locator(".dial").scroll_into_view_if_needed()
    end = page.locator(f"[data-contact='{first['label']} end']")
    box, dial = end.bounding_box(), page.locator(".dial").bounding_box()
    assert box
    assert dial
    middle = np.array([dial["x"] + dial["width"] / 2, dial["y"] + dial["height"] / 2])
    start = np.array([box["x"] + box["width"] / 2, box["y"] + box["height"] / 2])
    # Two frames of twenty-four on, round the rim.
    turn = 2 * np.pi * 2 / 24
    x, y = start - middle
    c, s = np.cos(turn), np.sin(turn)
    there = middle + np.array([x * c - y * s, x * s + y * c])
    bench.desk.draw((start[0], start[1]), (there[0], there[1]))
    bench.saved(f"Set the contact of {first['label']}")
    after = bench.view()["bench"]["plants"]
    spans = {plant["joint"]: (plant["start"], plant["end"]) for plant in plants}
    spans[first["joint"]] = (first["start"], pytest.approx(first["end"] + 2))
    assert {plant["joint"]: (plant["start"], plant["end"]) for plant in after} == spans
