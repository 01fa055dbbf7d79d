"""A shop, a practice rig and a browser for the screen tests."""

import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from datetime import timedelta
from pathlib import Path

import pytest
import uvicorn
from playwright.sync_api import Browser, BrowserContext, Page, expect

from adhaero.api.app import create_app
from adhaero.bench.shop.rig_form import RigEntry
from adhaero.bench.shop.rigs import save_rig
from adhaero.bench.shop.view import DEMO
from adhaero.store.file import ShopFile, utc_now
from adhaero.store.settings import put_setting
from tests.practice import PracticeRig
from tests.shops import Clock, Shop, empty_shop

expect.set_options(timeout=45_000)


@dataclass
class RunningShop:
    """The application on a shop file of its own, with the practice rig beside it."""

    file: ShopFile
    rig: PracticeRig
    url: str = ""
    rig_id: int = 0
    port: int = 0
    server: uvicorn.Server = field(init=False)

    def start(self) -> None:
        config = uvicorn.Config(create_app(self.file), port=self.port, log_level="error", timeout_graceful_shutdown=1)
        self.server = uvicorn.Server(config)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        while not self.server.started:
            time.sleep(0.01)
        self.port = self.server.servers[0].sockets[0].getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"

    def stop(self) -> None:
        self.server.should_exit = True
        self.thread.join(timeout=60)


@pytest.fixture
def shop(tmp_path: Path) -> Iterator[RunningShop]:
    """An empty practice shop with its rig."""
    file = empty_shop(tmp_path / "shop.sqlite")
    with file.changing("Opened a practice shop", undoable=False) as connection:
        put_setting(connection, DEMO, "1")
    with PracticeRig() as rig:
        running = RunningShop(file, rig)
        running.rig_id = save_rig(
            file, RigEntry("Practice press", rig.url, "kgf", "5 kN", "0.5 N", offset="1.8", simulated=True)
        )
        running.start()
        yield running
        running.stop()


@pytest.fixture
def trial(shop: RunningShop) -> Shop:
    """A planned trial in the running shop, made in the past so that its steps can follow."""
    made = Shop(shop.file, Clock(utc_now() - timedelta(hours=27)))
    made.file = replace(shop.file, clock=made.clock)
    return made.plan()


@pytest.fixture
def context(browser: Browser, shop: RunningShop) -> Iterator[BrowserContext]:
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=shop.url)
    context.set_default_timeout(45_000)
    yield context
    context.close()


@pytest.fixture
def page(context: BrowserContext) -> Iterator[Page]:
    page = context.new_page()
    troubles: list[str] = []
    page.on("pageerror", lambda error: troubles.append(str(error)))
    page.on(
        "console",
        lambda message: troubles.append(message.text) if "Content Security Policy" in message.text else None,
    )
    yield page
    assert troubles == []
