"""A name of a hundred and twenty letters without a blank stays in its place, and is whole in its title."""

import os
import re
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from playwright.sync_api import Page

from .by_hand import Person
from .desk import Desk, still
from .site import Site, new_site

LONGEST = 120
# What is there once a room is.
FIRST = {
    "productions": ".slip",
    "library": ".slip",
    "scene": "[data-stint]",
    "bench": ".joint-list li",
}
# What is written beyond its card or the page; and what is clipped without saying its whole anywhere.
LOOKS_FOR_TROUBLE = """() => {
  const found = [];
  const width = document.documentElement.clientWidth;
  const isCut = (one) => {
    for (let outer = one; outer; outer = outer.parentElement)
      if (getComputedStyle(outer).overflowX !== 'visible'
          && outer.getBoundingClientRect().right <= width + 1) return true;
    return false;
  };
  for (const one of document.querySelectorAll('body *')) {
    const box = one.getBoundingClientRect();
    if (!box.width || !box.height) continue;
    const says = `${one.tagName}.${one.getAttribute('class')}: ${one.textContent.slice(0, 24)}`;
    if (box.right > width + 1 && !isCut(one)) found.push(`beyond the page: ${says}`);
    const isText = !one.children.length && one.textContent.length > 60 && !one.closest('svg');
    if (!isText || one.scrollWidth <= one.clientWidth + 1) continue;
    const shows = getComputedStyle(one).overflowX === 'visible';
    if (shows) found.push(`beyond its place: ${says}`);
    else if (!one.closest('[title]')) found.push(`without its whole: ${says}`);
  }
  return found;
}"""


def long(word: str) -> str:
    return (word * LONGEST)[:LONGEST]


@pytest.fixture(scope="module")
def site() -> Iterator[Site]:
    site = new_site("hours_names", os.environ["DATABASE_URL"])
    site.start()
    yield site
    site.stop()


@pytest.fixture(scope="module")
def named(site: Site) -> dict[str, str]:
    """The demo with the longest names there can be, everywhere; where its rooms are."""
    mika = Person(site.address, "mika", "lamplight")
    production = mika.ask("GET", "/api/productions").told[0]["id"]
    at = f"/api/productions/{production}"
    library = mika.ask("GET", at).told
    mika.ask("PATCH", at, {"name": long("Lamp")})
    for kind in ("clips", "figures", "scenes"):
        for row in library[kind]:
            wanted = {"name": long(f"{kind}Wm"), "tags": [long("tag")[:40]]}
            mika.ask("PATCH", f"/api/documents/{row['id']}", wanted)
    scene = f"/api/scenes/{library['scenes'][0]['id']}"
    view = mika.ask("GET", scene).told
    revision, desk = view["revision"], view["desk"]
    edits: list[dict[str, Any]] = []
    for lane in desk["lanes"]:
        edits.append({"kind": "set_lane", "lane": lane["id"], "name": long("Lane")})
        for stint in lane["stints"]:
            edits.append({"kind": "name_stint", "stint": stint["id"], "name": long("Stint")})
    for beat in desk["beats"]:
        edits.append({"kind": "set_beat", "beat": beat["id"], "name": long("Beat")})
    for figure in desk["figures"]:
        edits.append({"kind": "rename_figure", "figure": figure["id"], "name": long("Odo")})
    for edit in edits:
        answer = mika.ask("POST", f"{scene}/edits", {"edit": edit, "base_revision": revision})
        assert answer.status == 200, answer.data
        revision += 1
    return {
        "library": f"/productions/{production}",
        "productions": "/?all",
        "scene": scene.removeprefix("/api"),
        "bench": f"/clips/{library['clips'][1]['id']}",
    }


@pytest.mark.parametrize("room", ["productions", "library", "scene", "bench"])
def test_the_longest_name_stays_in_its_place(
    room: str, open_page: Callable[[], Page], site: Site, named: dict[str, str]
) -> None:
    page = open_page()
    page.set_viewport_size({"width": 1024, "height": 700})
    Desk(page, site.address).sign_in(sees=long("Lamp"))
    page.goto(site.address + named[room])
    page.locator(".top-bar .initials").wait_for()
    page.locator(FIRST[room]).first.wait_for()
    still(page)
    assert page.evaluate(LOOKS_FOR_TROUBLE) == []
    if room == "scene":
        page.get_by_role("button", name="History").click()
        page.locator(".history li").first.wait_for()
        assert page.evaluate(LOOKS_FOR_TROUBLE) == []
        page.get_by_role("button", name="Close this card (Esc)").click()
        page.locator("[data-stint]").nth(1).focus()
        page.keyboard.press("Enter")
        page.get_by_role("complementary", name=re.compile("^Stint: Stint")).wait_for()
        assert page.evaluate(LOOKS_FOR_TROUBLE) == []
