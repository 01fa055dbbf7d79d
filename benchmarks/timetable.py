"""Timetables: time to a first plan, gap to the bound, against first come first served; replanning; labels and lanes.

    python benchmarks/timetable.py [--long]

`--long` searches for 60 s as well as for 10 s. Ratios are to the aims, or to what someone would do by hand.
"""

import sys
import tempfile
import time
from dataclasses import replace
from pathlib import Path
from random import Random

import uvicorn
from bench import build_trial, report
from playwright.sync_api import sync_playwright

from adhaero.bench.saw import labels as saw_labels
from adhaero.core.plan.greedy import find_finish, place_in_turn
from adhaero.core.plan.tasks import Line, Making, PlannedBatch, Timetable, estimate_horizon
from adhaero.core.plan.timetable import solve
from adhaero.store.file import open_shop

DAY = 1440
EACH = 8


def make(pieces: int, clamps: int, seed: int = 1) -> Making:
    """Return a making of glue-ups of eight: two clamp times in each, three pieces to a clamp, broken after a day."""
    rng = Random(seed)
    batches = []
    for number in range(-(-pieces // EACH)):
        count = min(EACH, pieces - number * EACH)
        lines = []
        for part, size in enumerate((count - count // 2, count // 2)):
            closed = count - count // 2 if part == 0 else count
            if size:
                clamp = rng.choice((45, 90, 120, 240))
                taken = (("bar clamp", -(-size // 3)),)
                lines.append(
                    Line(
                        f"{number}-{part}",
                        taken,
                        clamp,
                        max(1, clamp // 20),
                        DAY,
                        None,
                        0,
                        1 + size // 2,
                        size,
                        3 * size,
                        closes_min=10 + closed,
                    )
                )
        batches.append(PlannedBatch(str(number), 10 + count, tuple(lines)))
    horizon = min(120 * DAY, estimate_horizon(batches, 50 * 60))
    windows = tuple((day * DAY + 480, day * DAY + 1080) for day in range(horizon // DAY + 1) if day % 7 < 5)
    return Making(tuple(batches), windows, horizon, clamps=(("bar clamp", clamps),))


def search(making: Making, seconds: float) -> tuple[float, Timetable | None]:
    """Return how long the first timetable took, s, and the best one."""
    begun, first, best = time.perf_counter(), 0.0, None
    for found in solve(making, seconds):
        first = first or time.perf_counter() - begun
        best = found
    return first, best


def slip(making: Making, best: Timetable) -> Making:
    """Return what is left at noon of the first day, when the first glue-up was closed twenty minutes late."""
    now = 12 * 60
    begins = {task.batch: task.end for task in best.tasks if task.kind == "glue"}
    batches = []
    for one in making.batches:
        closed = begins[one.key] + 20
        done = closed <= now
        lines = [replace(line, closed_at=closed, clamped_at=closed) for line in one.lines] if done else one.lines
        batches.append(replace(one, lines=tuple(lines)))
    windows = tuple((max(low, now), high) for low, high in making.windows if high > now)
    return replace(making, batches=tuple(batches), now=now, windows=windows)


def time_solver(seconds: tuple[float, ...]) -> None:
    """Print how good timetables are, and how soon."""
    for pieces, clamps in ((12, 6), (60, 10), (400, 20)):
        making = make(pieces, clamps)
        by_hand = place_in_turn(making)
        print(f"Timetable of {pieces} pieces on {clamps} clamps, {len(making.batches)} glue-ups")
        for limit in seconds:
            first, best = search(making, limit)
            if best is None:
                print(f"  nothing found in {limit:g} s")
                continue
            if limit == seconds[0]:
                report("first timetable", 1000 * first, "ms", 2000)
            gap = 0.0 if best.proved else (best.finish - (best.finish_bound or 0)) / best.finish
            print(f"  after {limit:g} s: finish / bound {1 / (1 - gap):.3f}{' (proved)' if best.proved else ''}")
            if by_hand is not None:
                print(f"    first come first served / this: {find_finish(making, by_hand) / best.finish:.3f}")
        if best is not None and pieces < 400:
            later = slip(making, best)
            begun = time.perf_counter()
            again = next(iter(solve(later, 5)), None)
            if again is not None:
                report("planned anew after a slip, first", 1000 * (time.perf_counter() - begun), "ms", 2000)


def time_labels(folder: Path) -> None:
    """Print what a sheet of labels costs on the large trial."""
    file = open_shop(folder / "shop.sqlite")
    trial = build_trial(file)
    begun = time.perf_counter()
    pages = "".join(saw_labels.print_labels(file, trial, "http://127.0.0.1:8700/", "a4-3x8", 1))
    labels = pages.count("data-label")
    seconds = time.perf_counter() - begun
    print(f"Labels: {labels} in {seconds:.2f} s")
    report("1,280 labels", 1000 * seconds * 1280 / labels, "ms", 10_000)


def time_lanes() -> None:
    """Print what the lanes of a timetable with 2,500 pieces cost the browser: drawing, and one step of zoom."""
    from adhaero.api.app import create_app

    making = make(2500, 400)
    begins = place_in_turn(making)
    print(f"Lanes: {len(making.batches)} glue-ups of 2,500 pieces, placed in turn: {'yes' if begins else 'no'}")
    tasks = _lane_tasks(making, begins or {})
    with tempfile.TemporaryDirectory() as folder:
        file = open_shop(Path(folder) / "shop.sqlite")
        trial = build_trial(file)
        server = uvicorn.Server(uvicorn.Config(create_app(file), port=0, log_level="error"))
        import threading

        threading.Thread(target=server.run, daemon=True).start()
        while not server.started:
            time.sleep(0.01)
        port = server.servers[0].sockets[0].getsockname()[1]
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"]
            )
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            view = {
                "entry": {"odd_hours": False, "finish_by_utc": None, "give": "5 %", "break_each": "3 min"},
                "solved_utc": "2026-03-02T08:00:00.000Z", "finish_utc": "2026-06-02T08:00:00.000Z", "words": [],
                "assumed": [], "lanes": ["hands", "bar clamp", "cure", "rig"], "windows": [], "tasks": tasks, "late": 0,
            }  # fmt: skip
            page.route(
                "**/timetable",
                lambda route: route.fulfill(json=view) if "/api/" in route.request.url else route.continue_(),
            )
            begun = time.perf_counter()
            page.goto(f"http://127.0.0.1:{port}/trials/{trial}/timetable")
            page.get_by_role("button", name="Show less time").wait_for()
            report(
                f"page with {len(tasks)} tasks, until it can be used", 1000 * (time.perf_counter() - begun), "ms", 2500
            )
            took = page.evaluate(_ZOOM)
            report("one step of zoom", took, "ms", 100)
            browser.close()
        server.should_exit = True


_ZOOM = """async () => {
  const press = [...document.querySelectorAll('button')].find((one) => one.textContent === '+');
  const begun = performance.now();
  press.click();
  await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
  return performance.now() - begun;
}"""


def _lane_tasks(making: Making, begins: dict[str, int]) -> list[dict[str, object]]:
    def utc(minute: int) -> str:
        return time.strftime("%Y-%m-%dT%H:%M:00.000Z", time.gmtime(1_772_409_600 + 60 * minute))

    found: list[dict[str, object]] = []

    def add(kind: str, lanes: list[str], begin: int, end: int) -> None:
        number = len(found) + 1
        found.append(
            {
                "id": number, "kind": kind, "words": f"{kind} {number}", "lanes": lanes, "begin_utc": utc(begin),
                "end_utc": utc(end), "odd": False, "pinned": False, "state": "to come", "piece_ids": [number],
                "labels": [f"P-{number}"],
            }
        )  # fmt: skip

    for one in making.batches:
        glued = begins.get(f"glue {one.key}", 0)
        add("glue", ["hands"], glued, glued + one.glue_min)
        for line in one.lines:
            off = begins.get(f"release {line.key}", glued + one.glue_min + line.clamp_min)
            test = begins.get(f"measure {line.key}", off + line.cure_min)
            add("clamp", ["bar clamp"], glued + one.glue_min, off)
            add("release", ["hands"], off, off + line.release_min)
            add("cure", ["cure"], off, test)
            add("break", ["hands", "rig"], test, test + line.measure_min + line.break_min)
    return found


def main() -> None:
    """Run everything."""
    time_solver((10.0, 60.0) if "--long" in sys.argv else (10.0,))
    with tempfile.TemporaryDirectory() as folder:
        time_labels(Path(folder))
    time_lanes()


if __name__ == "__main__":
    main()
