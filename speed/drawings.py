"""(x) Drawings: two hundred large pictures brought in, twelve lanes of them played, and sheets flipped."""

import gc
import io
import time
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect, sync_playwright

from tests.e2e.desk import Desk, still
from tests.e2e.site import served

from .in_process import client
from .page import CHROMIUM, PLAY_FPS, played
from .told import told

PICTURES, PIXELS = 200, 2_000
BRING_IN_SECONDS, MOST_MEGABYTES = 40.0, 1_024
LANES, PLAY_SECONDS = 12, 20
FLIPS_A_SECOND, FLIP_SECONDS = 24.0, 3.0

# Page down at every refresh for so long: how many drawings were turned to, a second.
FLIPPED = """(seconds) => new Promise((done) => {
  const seen = [];
  const began = performance.now();
  const turn = () => {
    const key = new KeyboardEvent('keydown', { key: 'PageDown', bubbles: true });
    document.body.dispatchEvent(key);
    const frame = document.querySelector('[data-testid=frame]').textContent;
    if (frame !== seen.at(-1)) seen.push(frame);
    const took = (performance.now() - began) / 1000;
    if (took >= seconds) done(seen.length / took);
    else requestAnimationFrame(turn);
  };
  requestAnimationFrame(turn);
})"""


def run() -> bool:
    results = [_brought_in()]
    with served("hours_drawings") as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(**CHROMIUM)  # type: ignore[arg-type]
        desk = Desk(browser.new_page(viewport={"width": 1280, "height": 800}), address)
        desk.sign_in()
        results += [_flipped(desk.page), _played(desk)]
        browser.close()
    return all(results)


def _picture(number: int) -> bytes:
    """A sheet with strokes of the pen on it, as it comes from a scanner."""
    chance = np.random.default_rng(number)
    paper = np.full((PIXELS, PIXELS), 244, dtype=np.uint8) - chance.integers(
        0, 12, (PIXELS, PIXELS), dtype=np.uint8
    )
    for _ in range(40):
        x, y = chance.integers(100, PIXELS - 400, 2)
        paper[y : y + 9, x : x + 300] = 40
    image = Image.fromarray(paper).convert("RGB")
    out = io.BytesIO()
    image.save(out, "PNG", compress_level=1)
    return out.getvalue()


def _brought_in() -> bool:
    """From when all are sent until the set and its run stand, as a worker does it."""
    browser = client()
    from accounts.models import Production
    from jobs.running import carry_out_job
    from library import files

    production = Production.objects.get(name="The Last Lamp")
    kept = []
    for k in range(PICTURES):
        name = f"sheet_{k:04}.png"
        kept.append({"file": files.store(production, name, _picture(k)).sha256, "name": name})
    wanted: dict[str, Any] = {"files": kept, "name": "Sheets", "token": uuid4().hex}
    url = f"/api/productions/{production.pk}/drawings"
    job = browser.post(url, wanted, content_type="application/json").json()
    _from_now_on()
    began = time.perf_counter()
    carry_out_job(job["id"])
    took = time.perf_counter() - began
    done = browser.get(f"/api/jobs/{job['id']}").json()
    assert (done["state"], done["figure"], done["of"]) == ("done", PICTURES, PICTURES), done
    megabytes = _most_megabytes()
    says = (
        f"{took:.1f} s (mark {BRING_IN_SECONDS:.0f}), {megabytes:.0f} MB (mark {MOST_MEGABYTES:,})"
    )
    name = f"(x) {PICTURES} pictures of {PIXELS:,} x {PIXELS:,}"
    return told(name, says, took < BRING_IN_SECONDS and megabytes < MOST_MEGABYTES)


def _from_now_on() -> None:
    """What benches before this one took counts no longer (Linux, proc(5): clear_refs)."""
    gc.collect()
    Path("/proc/self/clear_refs").write_text("5")


def _most_megabytes() -> float:
    """The most memory since then."""
    status = Path("/proc/self/status").read_text()
    return (
        int(next(line for line in status.splitlines() if line.startswith("VmHWM")).split()[1])
        / 1024
    )


def _flipped(page: Page) -> bool:
    page.get_by_role("link", name="Flame flickers", exact=True).click()
    expect(page.get_by_role("region", name="Exposure sheet")).to_be_visible()
    still(page)
    rate: float = page.evaluate(FLIPPED, FLIP_SECONDS)
    says = f"{rate:.0f} drawings a second (mark {FLIPS_A_SECOND:.0f})"
    return told("    flipping on the light table", says, rate >= FLIPS_A_SECOND)


def _played(desk: Desk) -> bool:
    """A scene in which the flame and the sea stand on twelve lanes."""
    ask, production = desk.page.request, desk.production_id()
    headers = {"X-CSRFToken": ask.get(f"{desk.address}/api/session").json()["csrf"]}
    library = ask.get(f"{desk.address}/api/productions/{production}").json()
    scene = next(one["id"] for one in library["scenes"] if one["name"] == "Sc 07 The flame holds")
    copy = ask.post(f"{desk.address}/api/documents/{scene}/duplicate", headers=headers).json()["id"]
    runs = [run for run in library["runs"] if run["name"] in ("Flame flickers", "Sea swells")]
    for k in range(LANES - len(runs)):
        run = runs[k % 2]
        edit = {
            "kind": "add_layer", "layer": f"l{k}", "drawings": run["drawings"], "run": run["id"],
            "place": [0.4 * k - 2, 0.1 * k, 0.5 * k - 2], "height_metres": 0.6,
            "heading_degrees": -58.0 + 4 * k,
        }  # fmt: skip
        url = f"{desk.address}/api/scenes/{copy}/edits"
        ask.post(url, headers=headers, data={"edit": edit, "base_revision": k + 1})
    desk.page.goto(f"{desk.address}/scenes/{copy}")
    expect(desk.stints().first).to_be_visible()
    still(desk.page)
    painted, dropped = played(desk.page, PLAY_SECONDS)
    rate = painted / PLAY_SECONDS
    says = f"{rate:.2f} fps (mark {PLAY_FPS:.0f}), {dropped:.0f} frames dropped"
    holds = rate >= 0.99 * PLAY_FPS and dropped == 0
    return told(f"    {LANES} lanes of drawings, {PLAY_SECONDS} s", says, holds)
