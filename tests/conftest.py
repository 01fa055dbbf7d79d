"""How property tests run: as many cases as usual, none of them timed; one browser and one demo for all who need it."""

import shutil
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings
from playwright.sync_api import Browser, sync_playwright

from adhaero.demo.build import build_demo
from adhaero.store.copies import copy_shop
from adhaero.store.file import ShopFile, open_shop

settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


# the longest go first, then all screens, so that no worker is left with one of them at the end
LONGEST = (
    "test_demo.py",
    "test_package.py",
    "test_kill.py",
    "test_whole_job.py",
    "test_stations.py",
    "test_true_sentences.py",
    "test_rigs.py",
    "test_reading.py",
)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Put the files that take longest in front; a file stays together."""
    turn = {name: at for at, name in enumerate(LONGEST)}
    items.sort(key=lambda one: turn.get(one.path.name, len(turn) + (one.path.parent.name != "screens")))


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    """One Chromium for all tests of a worker that need one."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory, worker_id: str) -> ShopFile:
    """A copy of the demo, which takes most of a minute to build: the first worker that asks builds it."""
    folder = tmp_path_factory.getbasetemp() if worker_id == "master" else tmp_path_factory.getbasetemp().parent
    built = folder / "demo.sqlite"
    try:
        (folder / "demo.begun").touch(exist_ok=False)
    except FileExistsError:
        wait_for(built)
    else:
        (folder / "building").mkdir()
        copy_shop(build_demo(folder / "building" / "shop.sqlite", 4124, 7801)).rename(built)
    copy = tmp_path_factory.mktemp("demo") / "shop.sqlite"
    shutil.copy(built, copy)
    return open_shop(copy)


def wait_for(path: Path) -> None:
    for _ in range(1800):
        if path.exists():
            return
        time.sleep(0.2)
    raise TimeoutError(f"{path} is not built")
