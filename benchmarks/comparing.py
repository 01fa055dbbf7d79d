"""What Compare costs on trials of many sets, before and after a change; prints ratios, fails at nothing.

    make bench            (or: .venv/bin/python -m benchmarks.comparing)

128 sets of ten pieces (32 glues in four conditions) and 49 sets of ten (seven glues at seven ages), on the real server
in a process of its own: calls over HTTP, the page in Chromium.
"""

import resource
import subprocess
import sys
import tempfile
import time
import urllib.parse
import urllib.request
from contextlib import suppress
from dataclasses import replace
from pathlib import Path

from playwright.sync_api import sync_playwright

from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.exclusions import exclude_piece, include_piece
from adhaero.bench.compare.view import show_compare
from adhaero.store.file import ShopFile, open_shop
from tests.made_up import GLUES, KINDS, MadeUp, many, put

PORT = 8931
FIRST_MS, AGAIN_MS, ELEMENTS = 1000.0, 100.0, 5000
FLAGS = ["--no-sandbox", "--disable-gpu"]


def ages() -> MadeUp:
    years = KINDS["years"]
    return replace(years, varied=[("glue", GLUES[:7]), *years.varied[1:]], each=10)


def call(path: str) -> float:
    begun = time.perf_counter()
    with urllib.request.urlopen(f"http://127.0.0.1:{PORT}{path}", timeout=120) as answer:
        answer.read()
    return 1000 * (time.perf_counter() - begun)


def first_answer(trial: int, slice_words: str) -> float:
    """Return how long the tabs and the slice take, one after the other as the page asks for them."""
    words = urllib.parse.urlencode({"slice": slice_words})
    return call(f"/api/trials/{trial}/slices") + call(f"/api/trials/{trial}/compare?{words}")


def measure(file: ShopFile, trial: int, name: str) -> None:
    from adhaero.bench.compare.across import view_slices

    words = view_slices(file, trial, Choice()).first
    piece = show_compare(file, trial, Choice(slice=words)).dots[0].piece_id
    first_answer(trial, words)
    again = min(first_answer(trial, words) for _ in range(5))
    after = []
    for _ in range(3):
        exclude_piece(file, trial, piece, "slid in the clamp")
        after.append(first_answer(trial, words))
        include_piece(file, trial, piece)
        after.append(first_answer(trial, words))
    exclude_piece(file, trial, piece, "slid in the clamp")
    first_answer(trial, words)
    asked = urllib.parse.urlencode({"slice": words})
    rest = {one: call(f"/api/trials/{trial}/{one}?{asked}") for one in ("across", "checks", "findings", "shares")}
    include_piece(file, trial, piece)
    report(f"{name}: nothing changed", again, "ms", AGAIN_MS)
    report(f"{name}: after a change, the longest of 6", max(after), "ms", FIRST_MS)
    for one, taken in rest.items():
        report(f"{name}: {one}, first time after a change", taken, "ms", FIRST_MS)


def look(trial: int, name: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        for turn in ("first", "again"):
            begun = time.perf_counter()
            page.goto(f"http://127.0.0.1:{PORT}/trials/{trial}/compare")
            page.get_by_role("table", name="The sets in numbers").wait_for()
            report(f"{name}: the page stands, {turn}", 1000 * (time.perf_counter() - begun), "ms", FIRST_MS)
        page.wait_for_timeout(2000)
        report(f"{name}: elements", page.evaluate("document.querySelectorAll('*').length"), "", ELEMENTS)
        report(f"{name}: height", page.evaluate("document.querySelector('main').scrollHeight"), "px", 4000)
        browser.close()


def report(name: str, value: float, unit: str, aim: float) -> None:
    print(f"{name:56} {value:9.0f} {unit:3} {value / aim:6.2f} of {aim:g}")


def main() -> None:
    """Run everything."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shop.sqlite"
        file = open_shop(path)
        trials = {"128 sets × 10": put(file, many()), "49 sets × 10": put(file, ages())}
        server = subprocess.Popen(
            [sys.executable, "-m", "adhaero", "serve", "--port", str(PORT), "--shop", str(path)],
            stdout=subprocess.DEVNULL,
        )
        try:
            for _ in range(120):
                with suppress(OSError):
                    call("/api/shop")
                    break
                time.sleep(0.25)
            for name, trial in trials.items():
                measure(file, trial, name)
                look(trial, name)
        finally:
            server.terminate()
            server.wait()
        report(
            "memory of the server, both trials",
            resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024,
            "MB",
            500,
        )


if __name__ == "__main__":
    main()
