"""Keys shaped in the real page: softened with a preview, trailed along an arm, retimed over a range."""

import pytest
from playwright.sync_api import expect

from .bench_room import Bench
from .desk import Desk


@pytest.fixture
def bench(desk: Desk) -> Bench:
    return Bench(desk)


def test_keys_are_softened_trailed_and_retimed(bench: Bench) -> None:
    bench.copy_of("Amble")
    page = bench.page
    bench.choose("Neck")
    bench.go_to(3)
    page.keyboard.press("p")
    bench.saved("Add the beat Beat 1")
    page.keyboard.press("Shift+P")
    before = [key["value"] for key in bench.curve("neck.turn.x")["keys"]]
    opener = page.get_by_label("Shape keys: soften, trail, retime")
    opener.click()
    slider = page.get_by_label("Soften the chosen keys, in percent; below 0 sharpen them")
    slider.focus()
    for _ in range(10):
        page.keyboard.press("ArrowRight")
    # Seen, and nothing saved yet.
    assert [key["value"] for key in bench.curve("neck.turn.x")["keys"]] == before
    page.get_by_role("button", name="Soften them").click()
    expect(page.get_by_title("Undo: Soften", exact=False)).to_be_visible()
    after = [key["value"] for key in bench.curve("neck.turn.x")["keys"]]
    assert after != before
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    expect(page.get_by_title("Undo: Soften", exact=False)).to_have_count(0)
    assert [key["value"] for key in bench.curve("neck.turn.x")["keys"]] == before
    opener.click()
    trail = page.get_by_label("Frames that each joint of the chain comes later")
    trail.focus()
    for _ in range(4):
        page.keyboard.press("ArrowRight")
    page.get_by_role("button", name="Let them trail").click()
    bench.saved("Trail Neck by 2")
    expect(page.locator(".notice").last).to_contain_text("comes 2 frames later")
    times = [key["time"] for key in bench.curve("neck.turn.x")["keys"] if key["own"]]
    page.get_by_role("button", name="Retime them").click()
    bench.saved("Retime keys of 0 to 23 to 50 %")
    assert bench.view()["bench"]["length_frames"] == 48
    slower = [key["time"] for key in bench.curve("neck.turn.x")["keys"] if key["own"]]
    assert slower[0] == 2 * times[0]
