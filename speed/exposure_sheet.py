"""(w) The exposure sheet in the page: two minutes of a line, scrolled and changed; its edits on the server."""

import io
import statistics
import time
from typing import Any

import numpy as np
import soundfile
from playwright.sync_api import Page, expect, sync_playwright

from demo.spoken import SPOKEN, text_of, voice_file
from tests.e2e.desk import Desk, still
from tests.e2e.site import served

from .page import CHROMIUM, SCROLL, SCROLL_FPS
from .told import loop_ms, told

SECONDS, FRAMES = 120, 2_880
EDIT_MS, LOOP_MS = 50.0, 50.0
EDITS = 20
LONGEST_READING_SECONDS = 120

# From a key until what it exposes is on the sheet, and until all that follows from it is, in milliseconds.
EXPOSED = """([key, drawing]) => new Promise((done) => {
  const frame = String(Number(document.querySelector('[data-testid=frame]').textContent));
  const began = performance.now();
  let written = null;
  document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  const look = () => {
    const heads = [...document.querySelectorAll('.sheet-rows th.is-frame')];
    const row = heads.find((head) => head.textContent.trim() === frame)?.closest('tr');
    const shown = row?.querySelector('.cell-number');
    if (shown?.textContent === drawing) {
      written ??= performance.now() - began;
      if (!shown.classList.contains('is-asked')) return done([written, performance.now() - began]);
    }
    requestAnimationFrame(look);
  };
  look();
})"""


def run() -> bool:
    with served("hours_sheet") as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(**CHROMIUM)  # type: ignore[arg-type]
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        desk = Desk(page, address)
        desk.sign_in()
        line = _two_minutes(desk)
        page.goto(f"{address}/lines/{line}")
        expect(page.get_by_role("region", name="Exposure sheet")).to_be_visible()
        expect(page.get_by_role("rowheader", name="1", exact=True)).to_be_visible()
        still(page)
        results = [_scrolled(page), _changed(page)]
        browser.close()
    return all(results)


def _scrolled(page: Page) -> bool:
    fps: float = page.locator(".sheet-rows").evaluate(SCROLL)
    columns = page.locator(".exposure-sheet thead th").count()
    says = f"scrolls at {fps:.0f} fps (mark {SCROLL_FPS:.0f})"
    return told(f"(w) a sheet of {FRAMES:,} x {columns}", says, fps >= SCROLL_FPS)


def _changed(page: Page) -> bool:
    """A drawing written by its number, on one frame after another."""
    took, loops = list[list[float]](), list[float]()
    page.keyboard.press("Home")
    for k in range(EDITS):
        for _ in range(4):
            page.keyboard.press("Shift+ArrowRight")
        drawing = str(5 + k % 2)
        loops.append(loop_ms())
        took.append(page.evaluate(EXPOSED, [drawing, drawing]))
        still(page)
    shown, followed = (statistics.median(one) for one in zip(*took, strict=True))
    loop = statistics.median(loops)
    mark = EDIT_MS * max(1.0, loop / LOOP_MS)
    says = f"{shown:.0f} ms until it shows (mark {mark:.0f}), {followed:.0f} until all follows"
    return told("    a drawing written on it", says, shown < mark)


def _two_minutes(desk: Desk) -> str:
    """The demo's line over and over, with its words, as a line of the production."""
    name = SPOKEN[0]
    once, rate_hz = soundfile.read(io.BytesIO(voice_file(name)))
    times = -(-SECONDS * rate_hz // len(once))
    file = io.BytesIO()
    soundfile.write(file, np.tile(once, times)[: SECONDS * rate_hz], rate_hz, format="FLAC")
    ask = desk.page.request
    session = ask.get(f"{desk.address}/api/session").json()
    headers = {"X-CSRFToken": session["csrf"]}
    production = desk.production_id()
    base = f"{desk.address}/api/productions/{production}"
    upload = {"name": "two minutes.flac", "mimeType": "audio/flac", "buffer": file.getvalue()}
    kept = ask.post(f"{base}/sounds", headers=headers, multipart={"upload": upload}).json()  # type: ignore[dict-item]
    text = " ".join([text_of(name)] * (times - 1))
    wanted: dict[str, Any] = {"sound": kept["id"], "text": text}
    made = ask.post(f"{base}/lines", headers=headers, data=wanted).json()
    url = f"{desk.address}/api/lines/{made['id']}"
    ask.post(f"{url}/read", headers=headers, data={"token": "sheet bench"})
    deadline = time.monotonic() + LONGEST_READING_SECONDS
    while not ask.get(url).json()["line"]["is_read"]:
        assert time.monotonic() < deadline, "The line was never read."
        time.sleep(0.5)
    return str(made["id"])
