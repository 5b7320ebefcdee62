"""Every room and dialog against axe: nothing serious."""

import io
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from axe_core_python.sync_playwright import Axe
from PIL import Image
from playwright.sync_api import Page, expect

from .bench_room import Bench
from .desk import Desk, still

# What is in order is not told: on a large page that takes five times as long.
ONLY_VIOLATIONS = {"resultTypes": ["violations"]}


def violations(page: Page) -> list[str]:
    still(page)
    found = Axe().run(page, options=ONLY_VIOLATIONS)["violations"]
    return [
        f"{problem['id']}: {node['html'][:160]}"
        for problem in found
        if problem["impact"] in ("serious", "critical")
        for node in problem["nodes"]
    ]


def scene(desk: Desk) -> None:
    desk.open_scene("Sc 04 Quay at dusk")


def with_keys(*keys: str) -> Callable[[Desk], None]:
    def shown(desk: Desk) -> None:
        scene(desk)
        for key in keys:
            desk.page.keyboard.press(key)

    return shown


def stint(desk: Desk) -> None:
    scene(desk)
    desk.choose(1)


def several(desk: Desk) -> None:
    stint(desk)
    desk.choose(2, adding=True)


def join(desk: Desk) -> None:
    scene(desk)
    desk.page.locator('[data-join="hurry"]').focus()
    desk.page.keyboard.press("Enter")


def lane(desk: Desk) -> None:
    scene(desk)
    desk.page.get_by_label("Lane Body of Odo").focus()
    desk.page.keyboard.press("Enter")


def beat(desk: Desk) -> None:
    scene(desk)
    desk.page.locator('[data-beat="rounds"]').focus()
    desk.page.keyboard.press("Enter")


def figure(desk: Desk) -> None:
    scene(desk)
    desk.page.get_by_role("button", name="Odo", exact=True).click()


def lamp(desk: Desk) -> None:
    desk.open_scene("Sc 05 The lamp is lit")


def sound(desk: Desk) -> None:
    lamp(desk)
    desk.page.locator('[data-sound="bell"]').focus()
    desk.page.keyboard.press("Enter")


def sound_lane(desk: Desk) -> None:
    lamp(desk)
    desk.page.get_by_role("button", name="Sound lane Sea").press("Enter")


def guide(desk: Desk) -> None:
    desk.open_copy("Sc 05 The lamp is lit")
    desk.page.get_by_role("button", name="Set a guide down").click()
    desk.undoes("Add the guide Guide")


def on_bench(*keys: str, card: str = "Seam") -> Callable[[Desk], None]:
    def shown(desk: Desk) -> None:
        bench = Bench(desk)
        bench.open("Amble")
        bench.choose("Left knee")
        bench.page.get_by_role("radio", name=card).click()
        for key in keys:
            bench.page.keyboard.press(key)

    return shown


def beat_on_bench(desk: Desk) -> None:
    bench = Bench(desk)
    bench.copy_of("Amble")
    bench.page.keyboard.press("p")
    bench.saved("Add the beat Beat 1")


def tracing(desk: Desk) -> None:
    on_bench()(desk)
    desk.page.get_by_role("button", name="Tracing picture").click()


def pasting(desk: Desk) -> None:
    """Keys of the gull on their way onto Odo."""
    on_bench()(desk)
    page = desk.page
    production = page.request.get(f"{desk.address}/api/productions").json()[0]["id"]
    library = page.request.get(f"{desk.address}/api/productions/{production}").json()
    gull = next(row["id"] for row in library["figures"] if row["name"] == "Gull")
    held = {"figure": gull, "keys": {"head.turn.x": [{"time": 0, "value": 5}]}}
    page.evaluate("held => localStorage.setItem('hours/copied', JSON.stringify(held))", held)
    page.keyboard.press("Control+v")
    page.get_by_role("dialog", name="Paste onto Odo").wait_for()


def library(desk: Desk) -> None:
    desk.come_in()


def new_clip(desk: Desk) -> None:
    library(desk)
    desk.page.get_by_role("button", name="New clip").click()


def people(desk: Desk) -> None:
    library(desk)
    desk.page.get_by_role("button", name="People").click()


def menu(desk: Desk) -> None:
    library(desk)
    desk.page.get_by_role("button", name="What to do with Amble", exact=True).click()


def naming(desk: Desk) -> None:
    menu(desk)
    desk.page.get_by_role("button", name="Rename and tag …").click()


def deleting(desk: Desk) -> None:
    menu(desk)
    desk.page.get_by_role("button", name="Delete …").click()


def password(desk: Desk) -> None:
    library(desk)
    desk.page.get_by_role("button", name="Mika Kallas: account").click()
    desk.page.get_by_role("button", name="Change password …").click()


def productions(desk: Desk) -> None:
    desk.page.goto(f"{desk.address}/?all")
    expect(desk.page.get_by_role("heading", name="Productions")).to_be_visible()


def take(*keys: str, card: str = "Cycle") -> Callable[[Desk], None]:
    def shown(desk: Desk) -> None:
        page = desk.page
        desk.open("takes", "quay_pacing_07")
        expect(page.locator('[data-step="thin"] .measured')).to_be_visible()
        page.get_by_role("radio", name=card).click()
        for key in keys:
            page.keyboard.press(key)

    return shown


def fitting_a_take(desk: Desk) -> None:
    take(card="Figure")(desk)
    desk.page.get_by_role("button", name="Which joint plays which …").click()
    desk.page.get_by_role("dialog").get_by_text("These rest").wait_for()


def keys_against_error(desk: Desk) -> None:
    take()(desk)
    desk.page.get_by_role("button", name="Keys against error").click()
    desk.page.locator(".keys-against g").first.wait_for()


def line(*keys: str, card: str = "Rules") -> Callable[[Desk], None]:
    def shown(desk: Desk) -> None:
        page = desk.page
        desk.open("lines", "Odo, line 1")
        page.get_by_role("rowheader", name="1", exact=True).wait_for()
        page.get_by_role("radio", name=card).click()
        page.get_by_role("heading", name="Exposure sheet").click()
        for key in keys:
            page.keyboard.press(key)

    return shown


def words_said(desk: Desk) -> None:
    line(card="The text")(desk)
    desk.page.get_by_text("How its words are said").click()


def new_chart(desk: Desk) -> None:
    library(desk)
    desk.page.get_by_role("button", name="New chart …").click()
    expect(desk.page.get_by_role("dialog", name="New chart")).to_be_visible()


def a_lines_stint(desk: Desk) -> None:
    desk.open_copy("Sc 06 Three lamps lit")
    desk.page.get_by_role("button", name=re.compile("^Odo, line 1, frames")).first.click()
    expect(desk.page.get_by_label("The joint that opens with the mouth")).to_be_visible()


def new_line(desk: Desk) -> None:
    library(desk)
    desk.page.get_by_role("button", name="New line …").click()
    desk.page.get_by_role("dialog", name="New line").wait_for()


def drawings(*keys: str) -> Callable[[Desk], None]:
    """A run on the light table, with keys pressed there."""

    def shown(desk: Desk) -> None:
        desk.open("runs", "Flame flickers")
        expect(desk.page.get_by_role("region", name="Exposure sheet")).to_be_visible()
        for key in keys:
            desk.page.keyboard.press(key)

    return shown


def cut_out(desk: Desk) -> None:
    """A cut-out on the table, with a part chosen."""
    desk.open("cut-outs", "Paper Odo")
    desk.page.get_by_role("button", name="near hand", exact=True).click()
    expect(desk.page.get_by_label("Hangs on")).to_be_visible()


def parts(desk: Desk) -> None:
    """The card of a cut-out in a scene."""
    desk.open_scene("Sc 07 The flame holds")
    desk.page.get_by_role("button", name="Paper gull", exact=True).first.click()
    expect(desk.page.get_by_role("region", name="Its parts")).to_be_visible()


def printing(desk: Desk) -> None:
    """The sheet on which a print is described."""
    desk.open_scene("Sc 06 Three lamps lit")
    desk.page.keyboard.press("Control+p")
    expect(desk.page.get_by_role("dialog", name="Print Sc 06 Three lamps lit")).to_be_visible()


def prints(desk: Desk) -> None:
    """Two prints of a few frames, one under the other."""
    scene = desk.id_of("scenes", "Sc 06 Three lamps lit")
    for view in ("side", "front"):
        wish = {"look": {"width": 160, "height": 90, "view": view}, "end": 2, "token": view}
        desk.post(f"/api/scenes/{scene}/prints", wish)
    desk.page.goto(f"{desk.address}/productions/{desk.production_id()}/prints")
    expect(desk.page.locator(".drying-line .slate").nth(1)).to_be_visible()
    expect(desk.page.locator(".drying-line .is-wet")).to_have_count(0)
    desk.page.keyboard.press("u")
    expect(desk.page.get_by_label("What lies under the pane")).not_to_have_value("")


def new_drawings(desk: Desk) -> None:
    library(desk)
    desk.page.get_by_test_id("motion-file").set_input_files(
        {"name": "gull 1.png", "mimeType": "image/png", "buffer": one_picture()}
    )
    desk.page.get_by_text("It is one sheet of many drawings, to be cut").click()


def one_picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (80, 60), "#8CC9E8").save(out, "PNG")
    return out.getvalue()


def a_layer(desk: Desk) -> None:
    desk.open_copy("Sc 07 The flame holds")
    desk.page.get_by_role("button", name="Lane Drawings of Flame").click()
    expect(desk.page.get_by_label("Opacity at the playhead")).to_be_visible()


def a_run_in_a_scene(desk: Desk) -> None:
    desk.open_copy("Sc 07 The flame holds")
    desk.page.get_by_role("button", name=re.compile("^Flame flickers, .*frames 1")).first.click()
    expect(desk.page.get_by_label("Drawing to pin")).to_be_visible()


def a_sound_to_be_said(desk: Desk) -> None:
    desk.open_copy("Sc 06 Three lamps lit")
    desk.page.locator("[data-sound]").first.focus()
    desk.page.keyboard.press("Enter")
    desk.page.get_by_text("Odo says it").wait_for()


PLACES: dict[str, Callable[[Desk], None]] = {
    "library": library,
    "people": people,
    "new clip": new_clip,
    "bench": on_bench(),
    "bench, walk": on_bench(card="Walk"),
    "bench, feet": on_bench(card="Feet"),
    "bench, cycle": on_bench("u", card="Cycle"),
    "bench, uses": on_bench("r", card="Uses"),
    "bench, history": on_bench("h"),
    "bench, keys": on_bench("?"),
    "bench, naming": on_bench("n"),
    "bench, a beat": beat_on_bench,
    "bench, tracing": tracing,
    "bench, pasting": pasting,
    "a card's menu": menu,
    "rename": naming,
    "delete": deleting,
    "password": password,
    "productions": productions,
    "scene": scene,
    "a stint": stint,
    "several stints": several,
    "a join": join,
    "a lane": lane,
    "a beat": beat,
    "a figure": figure,
    "a sound": sound,
    "a sound lane": sound_lane,
    "a guide": guide,
    "a take, its cycles": take(),
    "a take, what it lost": take("Shift+F", card="Lost"),
    "a take, its spikes": take(card="Spikes"),
    "a take, its figure": take(card="Figure"),
    "a take, fitted": fitting_a_take,
    "a take, cut up": take("p", "Control+z", card="Cut up"),
    "a take, keys against error": keys_against_error,
    "a line": line("Shift+ArrowDown"),
    "a line, its text": line(card="The text"),
    "a line, its words": words_said,
    "a line, on the face": line("w", card="On the face"),
    "a line, a note": line("n"),
    "a line, its keys": line("?"),
    "a cut-out, a part": cut_out,
    "a cut-out in a scene": parts,
    "a new line": new_line,
    "a new chart": new_chart,
    "a line's stint": a_lines_stint,
    "a sound that is said": a_sound_to_be_said,
    "drawings": drawings("PageDown"),
    "drawings, history": drawings("h"),
    "drawings, keys": drawings("?"),
    "new drawings": new_drawings,
    "a layer of drawings": a_layer,
    "a run in a scene": a_run_in_a_scene,
    "printing": printing,
    "prints": prints,
    "recording, no stage": take("Shift+R"),
    "history": with_keys("h"),
    "keys": with_keys("?"),
}


@pytest.mark.parametrize("place", PLACES)
def test_nothing_serious(desk: Desk, place: str) -> None:
    PLACES[place](desk)
    assert violations(desk.page) == []


def test_nothing_serious_before_signing_in(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_label("Account").wait_for()
    assert violations(page) == []


def test_nothing_serious_on_the_import_sheet(desk: Desk, makes: dict[str, Path]) -> None:
    page = desk.page
    library(desk)
    page.get_by_test_id("motion-file").set_input_files([makes["colons"], makes["broken"]])
    page.get_by_label("Plays on").select_option(label="Odo, fitted")
    expect(page.get_by_text(re.compile("are dropped"))).to_be_visible()
    assert violations(page) == []
