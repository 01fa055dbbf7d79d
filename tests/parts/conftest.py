"""A page that mounts one drawing, control or formatter at a time in Chromium: built from web/parts, never shipped."""

import json
import subprocess
import threading
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page

ROOT = Path(__file__).parents[2]
BUILT = ROOT / "build" / "parts" / "parts.html"


class Quiet(SimpleHTTPRequestHandler):
    def log_message(self, *_: object) -> None:
        """Say nothing."""


@dataclass
class Parts:
    """The page of parts, as a test asks it."""

    page: Page

    def ask(self, expression: str, *arguments: object) -> Any:
        """What a function of the page answers, given JSON."""
        told = ", ".join(json.dumps(one) for one in arguments)
        return self.page.evaluate(f"window.parts.{expression}({told})")

    def mount(self, name: str, **props: object) -> None:
        """Show a part alone."""
        self.page.evaluate("([name, props]) => window.parts.mount(name, props)", [name, props])
        self.page.locator("#part > *, [role=dialog]").first.wait_for(state="attached")

    def heard(self) -> list[Any]:
        """What the part told its surroundings so far."""
        return self.page.evaluate("window.parts.heard()")


@pytest.fixture(scope="session")
def parts_url() -> Iterator[str]:
    if not BUILT.is_file():
        subprocess.run(["npx", "vite", "build", "--config", "vite.parts.ts"], cwd=ROOT / "web", check=True)
    server = ThreadingHTTPServer(("127.0.0.1", 0), partial(Quiet, directory=BUILT.parent))
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}/{BUILT.name}"
    server.shutdown()
    server.server_close()


@pytest.fixture(scope="module")
def parts(browser: Browser, parts_url: str) -> Iterator[Parts]:
    page = browser.new_page(viewport={"width": 900, "height": 700}, timezone_id="UTC", locale="en-GB")
    page.set_default_timeout(45_000)
    troubles: list[str] = []
    page.on("pageerror", lambda error: troubles.append(str(error)))
    page.goto(parts_url)
    page.wait_for_function("window.parts !== undefined")
    yield Parts(page)
    page.close()
    assert troubles == []
