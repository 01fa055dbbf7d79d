"""A shop, a practice rig and a browser for the screen tests."""

import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

import pytest
import uvicorn
from playwright.sync_api import Browser, Page, sync_playwright

from adhaero.api.app import create_app
from adhaero.bench.shop import DEMO, RigEntry, save_rig
from adhaero.store.file import ShopFile, open_shop
from adhaero.store.shop import put_setting
from tests.practice import PracticeRig

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@dataclass
class RunningShop:
    """The application on a shop file of its own, with the practice rig beside it."""

    file: ShopFile
    rig: PracticeRig
    url: str = ""
    rig_id: int = 0
    server: uvicorn.Server = field(init=False)

    def start(self) -> None:
        app = create_app(self.file)
        self.server = uvicorn.Server(uvicorn.Config(app, port=0, log_level="error", timeout_graceful_shutdown=1))
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        while not self.server.started:
            time.sleep(0.01)
        port = self.server.servers[0].sockets[0].getsockname()[1]
        self.url = f"http://127.0.0.1:{port}"

    def stop(self) -> None:
        self.server.should_exit = True
        self.thread.join(timeout=5)


@pytest.fixture
def shop(tmp_path: Path) -> Iterator[RunningShop]:
    file = open_shop(tmp_path / "shop.sqlite")
    with file.changing("Opened a practice shop", undoable=False) as connection:
        put_setting(connection, DEMO, "1")
    with PracticeRig() as rig:
        running = RunningShop(file, rig)
        running.rig_id = save_rig(
            file,
            RigEntry("Practice press", rig.url, "kgf", "5 kN", "0.5 N", offset="1.8", control_address=rig.control),
        )
        running.start()
        yield running
        running.stop()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def page(browser: Browser, shop: RunningShop) -> Iterator[Page]:
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=shop.url)
    page = context.new_page()
    page.set_default_timeout(10_000)
    troubles: list[str] = []
    page.on("pageerror", lambda error: troubles.append(str(error)))
    yield page
    context.close()
    assert troubles == []
