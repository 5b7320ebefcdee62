"""Sounds on the desk: brought in, laid, drawn, and heard in step."""

import base64
import re
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from core.tests.sounds import FORMS, bursts, file_of

from .desk import Desk, painted, until

# Notes what is given to the loudspeaker, and when.
NOTES_WHAT_SOUNDS = """
window.sounded = [];
const begin = AudioBufferSourceNode.prototype.start;
AudioBufferSourceNode.prototype.start = function (when, offset, seconds) {
  const rate = this.playbackRate.value;
  window.sounded.push({ when, offset, seconds, rate });
  window.loudspeaker = this.context;
  return begin.call(this, when, offset, seconds);
};
"""
# Each frame that is shown within some seconds, and the moment that the loudspeaker had reached at that refresh.
WATCHES_BOTH = """(seconds) => new Promise((done) => {
  const rows = [];
  const shown = document.querySelector('[data-testid=frame]');
  const heardNow = () => {
    const at = window.loudspeaker.getOutputTimestamp();
    return at.contextTime + (document.timeline.currentTime - at.performanceTime) / 1000;
  };
  const watch = new MutationObserver(() => rows.push([Number(shown.textContent), heardNow()]));
  watch.observe(shown, { childList: true, characterData: true, subtree: true });
  const began = performance.now();
  const look = () => {
    if (performance.now() - began < seconds * 1000) requestAnimationFrame(look);
    else {
      watch.disconnect();
      done(rows);
    }
  };
  look();
})"""
DROPS = """([name, type, data, x, y]) => {
  const bytes = Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0));
  const dataTransfer = new DataTransfer();
  dataTransfer.items.add(new File([bytes], name, { type }));
  const at = { dataTransfer, clientX: x, clientY: y, bubbles: true, cancelable: true };
  const under = document.elementFromPoint(x, y);
  under.dispatchEvent(new DragEvent('dragover', at));
  under.dispatchEvent(new DragEvent('drop', at));
}"""


def sounds(desk: Desk) -> Locator:
    return desk.page.locator("[data-sound]")


def told(sound: Locator) -> tuple[float, float]:
    """Where a sound starts as the scene counts frames, and how many seconds of it are heard."""
    found = re.search(r"from ([\d.]+), ([\d.]+) s$", sound.get_attribute("aria-label") or "")
    assert found
    return float(found[1]), float(found[2])


def box_of(sound: Locator) -> Any:
    box = sound.locator(".sound-bed").bounding_box()
    assert box
    return box


def drop(desk: Desk, name: str, data: bytes, x: float, y: float, kind: str = "audio/wav") -> None:
    written = base64.b64encode(data).decode()
    desk.page.evaluate(DROPS, [name, kind, written, x, y])


def bell_laid(desk: Desk, frame: int = 25, seconds: float = 2.0) -> Locator:
    """A bell in a copy of the scene on the quay, laid at a frame and chosen."""
    desk.open_copy("Sc 04 Quay at dusk")
    desk.go_to(frame)
    desk.page.get_by_test_id("sound-file").set_input_files(
        {
            "name": "1 Bell.wav",
            "mimeType": "audio/wav",
            "buffer": file_of(bursts(seconds), "WAV"),
        }
    )
    expect(sounds(desk)).to_have_count(1)
    desk.undoes("Lay 1 Bell")
    bell = sounds(desk).first
    bell.scroll_into_view_if_needed()
    return bell


def test_six_forms_and_their_names_are_laid_one_after_the_other(desk: Desk, tmp_path: Path) -> None:
    desk.open_copy("Sc 04 Quay at dusk")
    paths = []
    for place, form in enumerate(FORMS):
        path = tmp_path / f"{place + 1} 灯台 {form.lower()}.{form.lower()}"
        path.write_bytes(file_of(bursts(1.0), form))
        paths.append(path)
    desk.page.get_by_test_id("sound-file").set_input_files(paths)
    expect(sounds(desk)).to_have_count(6)
    desk.settled()
    found = [told(sounds(desk).nth(k)) for k in range(6)]
    # Each where the one before ends, on a whole frame; a lossy form may run out after its second.
    for (start, seconds), (after, _) in zip(found, found[1:], strict=False):
        assert after == round(start - 1 + seconds * 24) + 1
    assert [round(seconds, 1) for _, seconds in found] == pytest.approx([1.0] * 6, abs=0.11)
    names = sounds(desk).locator(".sound-name").all_text_contents()
    assert names[0].startswith("1 灯台")


def test_a_file_is_dropped_where_it_is_to_be_heard_and_what_is_none_is_refused(
    desk: Desk,
) -> None:
    desk.open_copy("Sc 04 Quay at dusk")
    rows = desk.page.locator(".rows").bounding_box()
    assert rows
    x = rows["x"] + 158 + 40.5 * desk.pixels_a_frame()
    y = rows["y"] + rows["height"] - 12
    drop(desk, "notes.txt", b"Ring at dusk.", x, y, "text/plain")
    expect(desk.page.locator(".notice")).to_contain_text("“notes.txt” is no sound.")
    drop(desk, "broken.flac", file_of(bursts(1.0), "FLAC")[:300], x, y)
    expect(desk.page.locator(".notice")).to_contain_text("it is no whole FLAC file.")
    expect(sounds(desk)).to_have_count(0)
    drop(desk, "Buoy.wav", file_of(bursts(2.0), "WAV"), x, y)
    expect(sounds(desk)).to_have_count(1)
    assert told(sounds(desk).first)[0] == pytest.approx(41, abs=1)
    lane = desk.page.locator("[data-sound-lane]")
    box = lane.bounding_box()
    assert box
    drop(desk, "Gull.flac", file_of(bursts(1.0), "FLAC"), x + 300, box["y"] + 20, "audio/flac")
    expect(sounds(desk)).to_have_count(2)
    expect(lane).to_have_count(1)


def test_a_sound_is_drawn_by_frames_and_with_alt_to_the_sample(desk: Desk) -> None:
    bell = bell_laid(desk)
    assert told(bell) == (25, 2.0)
    box, frame = box_of(bell), desk.pixels_a_frame()
    middle = (box["x"] + box["width"] / 2, box["y"] + 24)
    desk.draw(middle, (middle[0] + 10.3 * frame, middle[1]))
    desk.undoes("Move 1 Bell")
    assert told(bell) == (35, 2.0)
    desk.page.keyboard.down("Alt")
    desk.draw((middle[0] + 10 * frame, middle[1]), (middle[0] + 12.43 * frame, middle[1]))
    desk.page.keyboard.up("Alt")
    until(desk.page, lambda: told(bell)[0] != 35)
    desk.settled()
    assert told(bell)[0] == pytest.approx(37.43, abs=0.2)
    assert told(bell)[0] % 1 != 0
    desk.set("Milliseconds from the first frame to its start", 1234.5)
    until(desk.page, lambda: told(bell)[0] < 35)
    assert told(bell)[0] == pytest.approx(1 + 1.2345 * 24, abs=0.01)
    # Past the beginning of the scene, and of the file.
    box = box_of(bell)
    middle = (box["x"] + box["width"] / 2, box["y"] + 24)
    desk.draw(middle, (middle[0] - 60 * frame, middle[1]))
    until(desk.page, lambda: told(bell)[0] == 1)
    box = box_of(bell)
    desk.draw((box["x"] + box["width"] - 3, box["y"] + 30), (box["x"] + 900, box["y"] + 30))
    desk.settled()
    assert told(bell) == (1, 2.0)


def test_trimmed_faded_split_and_taken_back_by_keys(desk: Desk) -> None:
    bell = bell_laid(desk)
    box, frame = box_of(bell), desk.pixels_a_frame()
    knob = bell.locator(".fade-knob").last.bounding_box()
    assert knob
    start = (knob["x"] + knob["width"] / 2, knob["y"] + knob["height"] / 2)
    desk.draw(start, (start[0] - 12 * frame, start[1]))
    desk.settled()
    fade = desk.page.get_by_label("Fades out over, in seconds")
    assert float(fade.input_value()) == pytest.approx(0.5, abs=0.05)
    desk.draw((box["x"] + 2, box["y"] + 30), (box["x"] + 2 + 6 * frame, box["y"] + 30))
    desk.undoes("Trim 1 Bell")
    assert told(bell) == (31, 1.75)
    bell.focus()
    for key, label, wanted in (
        ("Alt+ArrowLeft", "Move 1 Bell", [(30, 1.75)]),
        ("Alt+Shift+ArrowLeft", "Trim 1 Bell", [(30, 1.71)]),
    ):
        desk.page.keyboard.press(key)
        desk.undoes(label)
        assert [told(bell)] == wanted
    desk.go_to(50)
    desk.page.keyboard.press("/")
    desk.undoes("Split 1 Bell")
    starts, seconds = zip(*(told(sounds(desk).nth(k)) for k in (0, 1)), strict=True)
    assert starts == (30, 50)
    assert seconds == pytest.approx((0.833, 0.875), abs=0.006)
    desk.page.keyboard.press("m")
    desk.undoes("1 Bell: mute")
    expect(sounds(desk).first).to_have_class(re.compile("is-still"))
    desk.page.keyboard.press("Delete")
    expect(sounds(desk)).to_have_count(1)
    for _ in range(7):
        desk.undo()
    assert told(bell) == (25, 2.0)


def sounding_page(desk: Desk, seconds: float = 12.0) -> Page:
    """The bell laid at the first frame, the loudspeaker awake: browsers wake it at a press."""
    page = desk.page
    page.add_init_script(NOTES_WHAT_SOUNDS)
    bell_laid(desk, frame=1, seconds=seconds)
    page.locator(".stage-canvas").focus()

    def steps_and_hears() -> bool:
        page.keyboard.press("ArrowRight")
        desk.still()
        return bool(page.evaluate("window.sounded.length"))

    until(page, steps_and_hears)
    return page


def watched(desk: Desk) -> tuple[list[Any], list[Any], list[float]]:
    """Three seconds of play: frames as they come up, what sounds, and how many frames both are apart."""
    page = desk.page
    desk.go_to(1)
    page.evaluate("window.sounded.length = 0")
    page.keyboard.press(" ")
    until(page, lambda: desk.frame() > 6)
    rows = page.evaluate(WATCHES_BOTH, 3)
    sounded = page.evaluate("window.sounded")
    page.keyboard.press(" ")
    apart = []
    for frame, heard in rows:
        for one in sounded:
            if one["when"] <= heard < one["when"] + one["seconds"] / one["rate"]:
                apart.append((one["offset"] + (heard - one["when"])) * 24 - (frame - 1))
    return rows, sounded, apart


def drift(apart: list[float]) -> float:
    half = len(apart) // 2
    early, late = (sum(part) / half for part in (apart[:half], apart[-half:]))
    return abs(late - early)


# A machine that does something else for a moment shows no frame meanwhile: then it is watched again.
MOST_TRIES = 5


def test_picture_and_sound_keep_within_a_frame_of_each_other(desk: Desk) -> None:
    page = sounding_page(desk)
    page.keyboard.press("l")
    for _ in range(MOST_TRIES):
        rows, sounded, apart = watched(desk)
        is_busy = len(apart) <= 10 or min(apart) <= -0.1 or max(apart) >= 2.1 or drift(apart) >= 0.7
        if not is_busy:
            break
    assert len(apart) > 10
    # A frame comes up when its sound has begun; one that is late is made up for by the next, and not left out.
    assert min(apart) > -0.1
    assert max(apart) < 2.1
    assert drift(apart) < 0.7
    # What is given to the loudspeaker in parts leaves no gap and says nothing twice.
    parts = [one for one in sounded if one["seconds"] > 0.06 or one["when"] > rows[0][1]]
    for one, after in zip(parts, parts[1:], strict=False):
        if abs(one["when"] + one["seconds"] - after["when"]) < 0.5:
            assert one["when"] + one["seconds"] == pytest.approx(after["when"], abs=1e-6)


def test_scrubbing_is_heard_a_frame_at_a_time_and_every_frame_is_silent(desk: Desk) -> None:
    page = sounding_page(desk)
    desk.go_to(30)
    page.evaluate("window.sounded.length = 0")
    page.keyboard.press("ArrowRight")
    until(page, lambda: page.evaluate("window.sounded.length") > 0)
    (grain,) = page.evaluate("window.sounded")
    assert grain["offset"] == pytest.approx(30 / 24, abs=1e-4)
    assert grain["seconds"] == pytest.approx(0.05, abs=1e-4)
    page.get_by_role("radio", name="Every frame").click()
    expect(page.locator(".sound-switch")).to_contain_text("silent")
    desk.go_to(40)
    page.evaluate("window.sounded.length = 0")
    page.keyboard.press(" ")
    until(page, lambda: desk.frame() > 46)
    page.keyboard.press(" ")
    assert page.evaluate("window.sounded") == []
    page.get_by_role("radio", name="Real time").click()
    expect(page.locator(".sound-switch")).not_to_contain_text("silent")
    page.get_by_role("button", name="Sound off (Shift M)").click()
    expect(page.get_by_role("button", name="Sound on (Shift M)")).to_be_visible()


def test_a_sound_lane_goes_by_the_scenes_time_when_it_is_told_to(desk: Desk) -> None:
    bell = bell_laid(desk)
    desk.page.get_by_role("button", name="Sound lane Sound").click()
    desk.page.get_by_role("radio", name="by the scene’s").click()
    desk.undoes("Sound: go by the scene’s time")
    expect(desk.page.locator(".sound-head")).to_contain_text("by the scene’s time")
    before = told(bell)
    desk.page.keyboard.press("Escape")
    desk.page.keyboard.press("y")
    desk.page.get_by_label("Pace in percent").fill("50")
    desk.page.get_by_label("Pace in percent").press("Enter")
    desk.page.get_by_role("button", name="Slow it").click()
    desk.settled()
    # It lies where it lay, by the laid ruler; an own time would be marked by the played one.
    assert told(bell) == before
    expect(desk.page.locator(".sound-row .own-time-mark")).to_have_count(0)
    desk.page.get_by_role("button", name="Sound lane Sound").click()
    desk.page.get_by_role("radio", name="own time").click()
    expect(desk.page.locator(".sound-row .own-time-mark")).to_have_count(1)
    painted(desk.page)


def test_the_library_holds_sounds_plays_them_and_says_where_they_are_heard(desk: Desk) -> None:
    desk.come_in()
    card = desk.page.locator(".slip", has_text="Harbour bell")
    expect(card).to_contain_text("4.00 s")
    expect(card).to_contain_text("FLAC, 48 kHz, mono")
    expect(card).to_contain_text("in Sc 05 The lamp is lit")
    card.get_by_role("button", name="Hear Harbour bell").click()
    playing = "(audio) => audio.currentTime > 0.05 && Math.abs(audio.duration - 4) < 0.01"
    until(desk.page, lambda: card.locator("audio").evaluate(playing))
    desk.page.get_by_test_id("motion-file").set_input_files(
        {"name": "Squeak.m4a", "mimeType": "audio/mp4", "buffer": file_of(bursts(1.0), "M4A")}
    )
    expect(desk.page.locator(".slip", has_text="Squeak")).to_contain_text("M4A, 48 kHz, mono")
