"""What the interface costs on a trial of 2,000 pieces, held against the aims; prints ratios, fails at nothing.

    make bench            (or: .venv/bin/python benchmarks/bench.py [--seconds 60] [--calls 60])

Everything is measured on the real server in a process of its own: calls over HTTP, the live load in Chromium.
"""

import argparse
import gzip
import http.client
import itertools
import random
import socket
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from contextlib import suppress
from pathlib import Path

from playwright.sync_api import sync_playwright

from adhaero.bench.over import making
from adhaero.bench.plan import boards, edits, factors, levels, settled, trials
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.boards import BoardEntry
from adhaero.bench.plan.levels import LevelEntry
from adhaero.bench.shop.rig_form import RigEntry
from adhaero.bench.shop.rigs import save_rig
from adhaero.store.file import ShopFile, open_shop
from adhaero.store.pieces import amend_piece, insert_batch
from adhaero.store.pulls import insert_pull
from adhaero.store.rows import insert

PIECES, SETS, BOARDS = 2000, 4, 100
RATE_HZ = 80
CALL_MS, BUNDLE_KB, DELAY_MS = 100, 350, 150
WEB = Path(__file__).parents[1] / "src/adhaero/web/assets"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update"]
WATCH = """() => {
  window.seen = [];
  const shown = document.querySelector('[data-live-load]');
  let last = 0;
  const look = () => {
    const lines = Number(shown.getAttribute('data-live-load'));
    if (lines !== last) { last = lines; window.seen.push([lines, performance.timeOrigin + performance.now()]); }
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
}"""


def build_trial(file: ShopFile) -> int:
    """Plan the trial as a person does, then fill in its breaks in one transaction."""
    trial = trials.create_trial(file, "How does a shop of 2,000 pieces answer?", seed=1)
    for name, was, now in (
        ("joint", "scarf", "edge"),
        ("glue", "", "Wren"),
        ("width_mm", "", "30 mm"),
        ("depth_mm", "", "9 mm"),
        ("span_mm", "", "120 mm"),
    ):
        edits.edit_plan(file, trial, name, was, now)
    factor = plan_view.view_plan(file, trial).factors[0].id
    factors.edit_factor(file, trial, factor, "kind", "glue", "prep")
    for name in ("planed", "scraped", "sanded", "toothed"):
        levels.add_level(file, trial, factor, LevelEntry(name))
    edits.edit_plan(file, trial, "pieces_each", "5", str(PIECES // SETS))
    boards.add_boards(file, trial, BoardEntry("larch", str(PIECES // BOARDS), str(BOARDS)))
    settled.freeze_plan(file, trial)
    pieces = making.view_making(file, trial).pieces
    rng = random.Random(1)
    now = file.now()
    with file.changing("Filled by the benchmark", trial, undoable=False) as connection:
        values = {"trial_id": trial, "number": 1, "glue": "Wren", "glue_family": "fish", "started_utc": now}
        batch = insert_batch(connection, **values)
        for piece in pieces[:-5]:
            closed = {"sawn_utc": now, "batch_id": batch, "closed_utc": now, "clamped_utc": now, "released_utc": now}
            amend_piece(connection, piece.id, **closed)
            for name, size in (("width_mm", 30.0), ("depth_mm", 9.0)):
                measured = size + rng.gauss(0, 0.05)
                typed = {"piece_id": piece.id, "name": name, "mm": measured, "typed": f"{measured:.2f} mm"}
                insert(connection, "measurement", typed)
            load = rng.gauss({"planed": 700, "scraped": 690, "sanded": 610, "toothed": 720}[piece.treatment], 60)
            pull = {"piece_id": piece.id, "attempt": 1, "source": "hand", "state": "kept", "started_utc": now}
            insert_pull(connection, **pull, ended_utc=now, load_n=load, outcome="broke")
        for piece in pieces[-5:]:
            amend_piece(connection, piece.id, sawn_utc=now, batch_id=batch, closed_utc=now, clamped_utc=now)
            amend_piece(connection, piece.id, released_utc=now)
    return trial


class LineRig:
    """Prints a line 80 times a second and remembers when."""

    def __init__(self) -> None:
        self._server = socket.create_server(("127.0.0.1", 0))
        self.port = self._server.getsockname()[1]
        self.sent: list[float] = []
        self.stop = threading.Event()
        threading.Thread(target=self._run, daemon=True).start()

    def _run(self) -> None:
        line, _ = self._server.accept()
        due = time.perf_counter()
        while not self.stop.is_set():
            due += 1 / RATE_HZ
            time.sleep(max(0.0, due - time.perf_counter()))
            self.sent.append(1000 * time.time())
            with suppress(OSError):
                line.sendall(f"load: {20 + 5 * (len(self.sent) % 97) / 97:.2f} kg\r\n".encode())
        self.stop.wait()


def percentile(values: list[float], share: float) -> float:
    return sorted(values)[min(len(values) - 1, int(share * len(values)))]


def report(what: str, value: float, unit: str, aim: float) -> None:
    verdict = "ok" if value <= aim else "MISSED"
    print(f"  {what:52} {value:9.1f} {unit:4} {value / aim:5.2f} of the aim of {aim:g} {unit}  {verdict}", flush=True)


def time_calls(port: int, trial: int, calls: int) -> None:
    print(f"API calls on {PIECES} pieces (gzip, one connection, {calls} each, in random order)")
    paths = {
        "rack": f"/api/trials/{trial}/rack",
        "compare": f"/api/trials/{trial}/compare",
        "findings": f"/api/trials/{trial}/findings",
        "break": f"/api/trials/{trial}/break",
        "making": f"/api/trials/{trial}/making",
        "curing": f"/api/trials/{trial}/curing",
        "timetable": f"/api/trials/{trial}/timetable",
        "plan": f"/api/trials/{trial}/plan",
        "today": "/api/today",
    }
    line = http.client.HTTPConnection("127.0.0.1", port)
    took: dict[str, list[float]] = {name: [] for name in paths}
    sizes: dict[str, tuple[int, int]] = {}
    order = [name for name in paths for _ in range(calls)]
    random.Random(2).shuffle(order)
    for name in order:
        start = time.perf_counter()
        line.request("GET", paths[name], headers={"Accept-Encoding": "gzip"})
        body = line.getresponse().read()
        took[name].append(1000 * (time.perf_counter() - start))
        sizes[name] = (len(body), len(gzip.decompress(body)) if body[:2] == b"\x1f\x8b" else len(body))
    for number in range(calls // 2):
        body = f'{{"reason": "odd {number}"}}'.encode()
        headers = {"Content-Type": "application/json"}
        line.request("PUT", f"/api/trials/{trial}/pieces/{PIECES}/odd", body, headers)
        line.getresponse().read()
        for name in ("rack", "break", "making", "curing", "compare", "findings"):
            start = time.perf_counter()
            line.request("GET", paths[name], headers={"Accept-Encoding": "gzip"})
            sizes[f"{name} after a change"] = sizes[name]
            line.getresponse().read()
            took.setdefault(f"{name} after a change", []).append(1000 * (time.perf_counter() - start))
    for name, values in took.items():
        sent, whole = sizes[name]
        words = f"{name}, p95 (p50 {statistics.median(values):.0f} ms, {sent / 1000:.0f} of {whole / 1000:.0f} kB)"
        report(words, percentile(values, 0.95), "ms", CALL_MS)


def time_live(port: int, trial: int, rig: LineRig, seconds: float) -> None:
    print(f"From a line of the rig to the pixel, {RATE_HZ} lines a second for {seconds:g} s")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"http://127.0.0.1:{port}/trials/{trial}/break?piece={PIECES}")
        page.locator("[data-live-load]").wait_for()
        while int(page.locator("[data-live-load]").get_attribute("data-live-load") or 0) < 80:
            time.sleep(0.1)
        page.evaluate(WATCH)
        time.sleep(seconds)
        seen: list[tuple[int, float]] = page.evaluate("window.seen")
        rig.stop.set()
        time.sleep(1.0)
        shown = page.evaluate("Number(document.querySelector('[data-live-load]').dataset.liveLoad)")
        browser.close()
    # the first line may have lost its beginning: it is not read, and not counted
    delays, done = [], seen[0][0]
    for lines, painted in seen[1:]:
        delays += [painted - rig.sent[number] for number in range(done + 1, lines + 1)]
        done = lines
    report(f"delay, p95 (p50 {statistics.median(delays):.0f} ms)", percentile(delays, 0.95), "ms", DELAY_MS)
    report("delay, worst", max(delays), "ms", DELAY_MS)
    gaps = [later[1] - earlier[1] for earlier, later in itertools.pairwise(seen)]
    print(f"  pictures a second: {1000 / statistics.mean(gaps):.1f}, longest pause {max(gaps):.0f} ms")
    print(f"  lines lost: {len(rig.sent) - 1 - shown} of {len(rig.sent) - 1} after the first, which is not read")


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--seconds", type=float, default=60.0, help="how long the live load is watched")
    parser.add_argument("--calls", type=int, default=60, help="how often each call is made")
    asked = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder, socket.create_server(("127.0.0.1", 0)) as probe:
        path = Path(folder) / "shop.sqlite"
        file = open_shop(path)
        print(f"building a trial of {PIECES} pieces on {BOARDS} boards …", flush=True)
        trial = build_trial(file)
        rig = LineRig()
        save_rig(file, RigEntry("Benchmark", f"socket://127.0.0.1:{rig.port}", "kgf", "5 kN", "0.5 N"))
        port = probe.getsockname()[1]
        probe.close()
        command = [sys.executable, "-m", "adhaero", "serve", "--port", str(port), "--shop", str(path)]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            while socket.socket().connect_ex(("127.0.0.1", port)):
                time.sleep(0.05)
            time_calls(port, trial, asked.calls)
            time_live(port, trial, rig, asked.seconds)
            status = Path(f"/proc/{server.pid}/status").read_text()
            peak = int(status.split("VmHWM:")[1].split()[0]) / 1024
            print(f"Server: peak memory {peak:.0f} MB, shop file {path.stat().st_size / 1e6:.1f} MB")
        finally:
            server.terminate()
            server.wait(10)
    scripts = [file for file in WEB.iterdir() if file.suffix in (".js", ".css")]
    sizes = {file.name: len(gzip.compress(file.read_bytes(), 9)) / 1000 for file in scripts}
    docs = sum(size for name, size in sizes.items() if name.startswith("docs-"))
    print(f"Front end ({docs:.0f} kB more for /api/docs, which no screen loads)")
    report("scripts and styles, gzip", sum(sizes.values()) - docs, "kB", BUNDLE_KB)


if __name__ == "__main__":
    main()
