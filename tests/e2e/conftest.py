"""A served demo for the whole run, and a page in Chromium for each test."""

import os
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from core.tests.makes import colons_make, slow_make, tabs_make
from core.tests.motions import FileStyle, bvh_text, bvh_values

from .desk import COUNTS_WHAT_IS_ASKED, Desk
from .site import beside, served

CHROMIUM = {"executable_path": "/usr/bin/chromium", "args": ["--no-sandbox"]}

# One site for each process that runs tests.
DATABASE = f"hours_e2e_{os.environ.get('PYTEST_XDIST_WORKER', 'one')}"

# Machines differ fivefold in speed; what never comes fails all the same.
PATIENCE_MS = 90_000
expect.set_options(timeout=PATIENCE_MS)


# The files that take longest come first: of two processes neither waits for the other at the end.
LONGEST = ("axe", "kill", "takes", "session", "elastics", "sounds", "two_at_once", "bench", "voice")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    def place(item: pytest.Item) -> int:
        name = item.path.stem.removeprefix("test_")
        return LONGEST.index(name) if name in LONGEST else len(LONGEST)

    items.sort(key=place)


@pytest.fixture(scope="session")
def address() -> Iterator[str]:
    with served(DATABASE) as found:
        yield found


def add_account(account: str, password: str, name: str) -> None:
    """As whoever looks after the machine does it."""
    hours = Path(sys.executable).with_name("hours")
    words = [str(hours), "adduser", account, "--name", name, "--password-stdin"]
    environment = {**os.environ, "DATABASE_URL": beside(DATABASE)}
    subprocess.run(words, input=f"{password}\n", env=environment, check=True, text=True)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(**CHROMIUM)  # type: ignore[arg-type]
        yield browser
        browser.close()


@pytest.fixture
def open_page(browser: Browser) -> Iterator[Callable[[], Page]]:
    """Pages, each in a browser context of its own: another person, or another machine."""
    contexts: list[BrowserContext] = []
    troubles: list[str] = []

    def opened() -> Page:
        context = browser.new_context(
            viewport={"width": 1280, "height": 800}, accept_downloads=True
        )
        contexts.append(context)
        context.add_init_script(COUNTS_WHAT_IS_ASKED)
        page = context.new_page()
        page.set_default_timeout(PATIENCE_MS)
        page.on("pageerror", lambda problem: troubles.append(str(problem)))
        return page

    yield opened
    for context in contexts:
        context.close()
    assert troubles == []


@pytest.fixture
def page(open_page: Callable[[], Page]) -> Page:
    return open_page()


@pytest.fixture(scope="session")
def signed_in(browser: Browser, address: str) -> Any:
    """What a browser keeps of having signed in: once for all tests of this process."""
    context = browser.new_context()
    Desk(context.new_page(), address).sign_in()
    cookies = context.cookies()
    context.close()
    return cookies


def signed_in_desk(page: Page, address: str, signed_in: Any) -> Desk:
    page.context.add_cookies(signed_in)
    return Desk(page, address)


@pytest.fixture
def desk(page: Page, address: str, signed_in: Any) -> Desk:
    """Somebody who is signed in, and where they go first is for the test to say."""
    return signed_in_desk(page, address, signed_in)


@pytest.fixture
def other_desk(open_page: Callable[[], Page], address: str, signed_in: Any) -> Desk:
    """The same person at another machine."""
    return signed_in_desk(open_page(), address, signed_in)


@pytest.fixture(scope="session")
def makes(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """Files of three makes, and a broken one."""
    folder = tmp_path_factory.mktemp("makes")
    contents = {
        "slow.bvh": slow_make(),
        "tabs.bvh": tabs_make(),
        "colons.bvh": colons_make(),
        "broken.bvh": bvh_text(bvh_values(6), FileStyle(), declared=99),
    }
    for name, data in contents.items():
        (folder / name).write_bytes(data)
    return {name.removesuffix(".bvh"): folder / name for name in contents}
