"""Two people, or two machines, on one scene; and the scene's history."""

import re
from pathlib import Path

from playwright.sync_api import APIResponse, Page, Route, expect

from .desk import Desk, until


def scene_for(desk: Desk, makes: dict[str, Path], clip: str) -> str:
    """A new scene with one stint of a cycle; its address."""
    desk.come_in()
    desk.bring_in(makes["tabs"], clip)
    desk.new_scene()
    desk.lay_at_start(clip)
    desk.saved(2)
    return desk.page.url


def both_open(desk: Desk, other: Desk, url: str) -> None:
    other.page.goto(url)
    expect(other.stints()).to_have_count(1)


def hold_back_heads(page: Page) -> None:
    """The page does not hear of newer revisions until its own edit comes too late."""
    page.route("**/head", lambda route: route.abort())


def test_a_late_edit_waits_for_a_choice_and_can_go_on_top(
    desk: Desk, other_desk: Desk, makes: dict[str, Path]
) -> None:
    both_open(desk, other_desk, scene_for(desk, makes, "On top"))
    desk.page.unroute_all()
    hold_back_heads(desk.page)
    other_desk.draw_end(other_desk.stint(0), 24)
    other_desk.saved(3)
    desk.draw_body(desk.stint(0), 10)
    told = desk.page.get_by_role("region", name="The scene was changed meanwhile")
    expect(told).to_be_visible()
    desk.page.unroute_all()
    # Theirs is on the desk already; mine is not lost, and not in it.
    expect(desk.stint(0)).to_have_attribute("aria-label", re.compile("2 cycles, frames 1 to 48"))
    expect(desk.page.locator(".saved")).to_have_text("Not saved: 1 edit")
    told.get_by_role("button", name="Apply mine on top").click()
    desk.saved(4)
    first, last = desk.span(desk.stint(0))
    assert (first, last - first + 1) == (11, 48)
    expect(other_desk.stint(0)).to_have_attribute("aria-label", re.compile("frames 11 to 58"))


def test_a_late_edit_can_give_way(desk: Desk, other_desk: Desk, makes: dict[str, Path]) -> None:
    both_open(desk, other_desk, scene_for(desk, makes, "Gives way"))
    hold_back_heads(desk.page)
    other_desk.draw_end(other_desk.stint(0), 24)
    other_desk.saved(3)
    desk.draw_body(desk.stint(0), 10)
    told = desk.page.get_by_role("region", name="The scene was changed meanwhile")
    told.get_by_role("button", name="Keep theirs").click()
    desk.page.unroute_all()
    desk.saved(3)
    assert desk.span(desk.stint(0)) == (1, 48)


def test_the_page_notices_what_others_do_within_seconds(
    desk: Desk, other_desk: Desk, makes: dict[str, Path]
) -> None:
    both_open(desk, other_desk, scene_for(desk, makes, "Notices"))
    other_desk.draw_end(other_desk.stint(0), 24)
    other_desk.saved(3)
    expect(desk.stint(0)).to_have_attribute("aria-label", re.compile("2 cycles"), timeout=6000)
    assert desk.notice() == "Mika Kallas: Repeat Notices."
    desk.saved(3)


def held_answers(page: Page, path: str) -> list[tuple[Route, APIResponse]]:
    """The server answers what the page asks, but the answer is held on its way."""
    held: list[tuple[Route, APIResponse]] = []
    page.route(path, lambda route: held.append((route, route.fetch())))
    return held


def let_go(page: Page, path: str, held: list[tuple[Route, APIResponse]]) -> None:
    for route, answer in held:
        route.fulfill(response=answer)
    page.unroute(path)


def test_what_was_asked_before_an_edit_of_ones_own_is_no_news(
    desk: Desk, makes: dict[str, Path]
) -> None:
    page = desk.page
    scene_for(desk, makes, "Late news")
    expect(page.locator(".notice")).to_have_count(0)
    held = held_answers(page, "**/head")
    until(page, lambda: held)
    desk.draw_body(desk.stint(0), 10)
    desk.saved(3)
    let_go(page, "**/head", held)
    # Once it has asked again, anything there was to say has been said, and stands for a while.
    with page.expect_response("**/head"):
        pass
    assert page.locator(".notice").count() == 0


def test_a_scene_read_before_an_edit_of_ones_own_does_not_take_it_back(
    desk: Desk, makes: dict[str, Path]
) -> None:
    page = desk.page
    scene = scene_for(desk, makes, "Late read").rsplit("/", 1)[-1]
    # Frames that come after the change would have the scene read again in silence.
    desk.still()
    held = held_answers(page, f"**/api/scenes/{scene}")
    view = page.request.get(f"{desk.address}/api/scenes/{scene}").json()
    change_clip(desk, next(iter(view["desk"]["lanes"]))["stints"][0]["source"]["id"])
    until(page, lambda: held)
    desk.draw_body(desk.stint(0), 10)
    desk.saved(3)
    # It would be set right in a moment, so every word it says meanwhile is kept.
    page.evaluate(
        """() => {
          const saved = document.querySelector('.saved');
          window.told = [];
          new MutationObserver(() => window.told.push(saved.textContent)).observe(saved, {
            characterData: true, childList: true, subtree: true,
          });
        }"""
    )
    let_go(page, f"**/api/scenes/{scene}", held)
    expect(page.get_by_text("A clip of this scene has changed.")).to_be_visible()
    desk.still()
    assert page.evaluate("window.told") == []
    assert desk.span(desk.stint(0)) == (11, 34)


def test_an_answer_does_not_take_away_what_is_being_written(
    desk: Desk, makes: dict[str, Path]
) -> None:
    page = desk.page
    scene_for(desk, makes, "Being written")
    desk.choose(0)
    field = page.get_by_label("First frame in the scene: moves the stint")
    held = held_answers(page, "**/edits")
    field.press("ArrowUp")
    expect(field).to_have_value("2")
    field.fill("7")
    until(page, lambda: held)
    let_go(page, "**/edits", held)
    desk.saved(3)
    expect(field).to_have_value("7")
    # An arrow goes on from what is written.
    field.press("ArrowUp")
    desk.saved(4)
    assert desk.span(desk.stint(0)) == (8, 31)
    expect(field).to_have_value("8")


def change_clip(desk: Desk, clip: str) -> None:
    """Another colour, as another person would give it."""
    address = desk.address
    csrf = desk.page.request.get(f"{address}/api/session").json()["csrf"]
    made = desk.page.request.post(
        f"{address}/api/clips/{clip}/edits",
        headers={"X-CSRFToken": csrf},
        data={"edit": {"kind": "set_colour", "colour": "plum"}, "base_revision": 1},
    )
    assert made.ok, made.text()


def test_any_step_can_be_looked_at_and_gone_back_to(desk: Desk, makes: dict[str, Path]) -> None:
    page = desk.page
    scene_for(desk, makes, "Steps")
    desk.draw_end(desk.stint(0), 24)
    desk.saved(3)
    desk.draw_body(desk.stint(0), 12)
    desk.saved(4)
    page.get_by_role("button", name=re.compile("^History")).click()
    history = page.get_by_role("complementary", name="History")
    steps = history.get_by_role("listitem")
    expect(steps).to_have_count(4)
    assert steps.nth(0).inner_text().split("\n")[:2] == ["4", "Move Steps"]
    steps.nth(2).get_by_role("button").first.click()
    expect(desk.stint(0)).to_have_attribute("aria-label", re.compile("1 cycle, frames 1 to 24"))
    expect(page.get_by_text("You look at revision 2; the scene stands at 4.")).to_be_visible()
    # Looking changes nothing, and nothing can be changed meanwhile.
    desk.draw_body(desk.stint(0), 12)
    desk.saved(4)
    page.get_by_role("button", name="Go back to this").click()
    desk.saved(5)
    assert desk.span(desk.stint(0)) == (1, 24)
    expect(steps).to_have_count(5)
    desk.undoes("Go back to revision 2")
    page.keyboard.press("Control+z")
    expect(desk.stint(0)).to_have_attribute("aria-label", re.compile("2 cycles, frames 13 to 60"))
