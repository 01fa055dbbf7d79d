"""How property tests run: as many cases as usual, none of them timed; and one browser for all that need one."""

from collections.abc import Iterator

import pytest
from hypothesis import settings
from playwright.sync_api import Browser, sync_playwright

settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    """One Chromium for all tests of a worker that need one."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()
