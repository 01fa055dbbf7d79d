"""What it takes to come in and to leave: sheets, a data package, a report; prints ratios, fails at nothing.

    make bench            (or: .venv/bin/python benchmarks/leaving.py)

Each case runs in a process of its own: its memory is what it takes above a process that only imports.
"""

import io
import multiprocessing
import random
import resource
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from openpyxl import Workbook

from adhaero.bench.bringing.look import TableSaid, look_at
from adhaero.bench.bringing.package_in import take_package
from adhaero.bench.bringing.package_out import export_package
from adhaero.bench.bringing.staged import Staging
from adhaero.bench.bringing.take import TakeEntry, take_table
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.report import export_report
from adhaero.store.file import ShopFile, open_shop
from adhaero.store.pulls import insert_chunk

SECONDS, MEMORY_MB = 10.0, 200.0
SETS = 40
TRACES, SAMPLES = 1000, 1200


def make_sheet(pieces: int, *, workbook: bool) -> bytes:
    chance = random.Random(1)
    rows = [
        [f"S{at}", f"Glue {at % SETS}", f"B{at % 50}", round(chance.gauss(400, 50))] for at in range(pieces)
    ]  # fmt: skip
    rows.insert(0, ["Piece", "Glue", "Board", "Load (lbf)"])  # type: ignore[arg-type]
    if not workbook:
        return "\n".join(",".join(map(str, row)) for row in rows).encode()
    book = Workbook(write_only=True)
    sheet = book.create_sheet("Docks")
    for row in rows:
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def bring_in(file: ShopFile, content: bytes, *, look: bool = True) -> int:
    staging = Staging()
    sha = staging.put("sheet", content).sha256
    if look:
        look_at(file, staging, sha, TableSaid())
    return take_table(file, staging, sha, TakeEntry(said=TableSaid(), question="How long does it take?"))


def _run(case: str, pieces: int, folder: str, sent: "multiprocessing.Queue[tuple[float, float, str]]") -> None:
    file = open_shop(Path(folder) / f"{case}-{pieces}.sqlite")
    words = ""
    if case in ("csv", "xlsx"):
        content = make_sheet(pieces, workbook=case == "xlsx")
        before, begun = _memory(), time.perf_counter()
        staging = Staging()
        sha = staging.put("sheet", content).sha256
        words = f"{look_at(file, staging, sha, TableSaid()).pieces} pieces"
    elif case == "report":
        trial = bring_in(file, make_sheet(pieces, workbook=False), look=False)
        before, begun = _memory(), time.perf_counter()
        words = f"{len(export_report(file, trial, Choice())) / 1e6:.1f} MB"
    else:
        trial = bring_in(file, make_sheet(pieces, workbook=False), look=False)
        with file.changing("traces", trial) as connection:
            pulls = [row["id"] for row in connection.execute("SELECT id FROM pull LIMIT :n", {"n": TRACES})]
            samples = [(at / 80, 1.37 * at) for at in range(SAMPLES)]
            for pull in pulls:
                insert_chunk(connection, pull, 0, samples, 0)
        content = export_package(file, trial) if case == "package in" else b""
        other = open_shop(Path(folder) / f"other-{pieces}.sqlite")
        before, begun = _memory(), time.perf_counter()
        if case == "package in":
            take_package(other, "package.zip", content)
        else:
            content = export_package(file, trial)
        words = f"{len(content) / 1e6:.1f} MB"
    sent.put((time.perf_counter() - begun, _memory() - before, words))


def _memory() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def measure(case: str, pieces: int, *, run: Callable[..., None] = _run) -> None:
    """Print how long a case takes and what memory, as shares of what it may take."""
    context = multiprocessing.get_context("spawn")
    sent: multiprocessing.Queue[tuple[float, float, str]] = context.Queue()
    with tempfile.TemporaryDirectory() as folder:
        process = context.Process(target=run, args=(case, pieces, folder, sent))
        process.start()
        process.join(timeout=120)
        if sent.empty():
            process.kill()
            print(f"{case:12} {pieces:>6} pieces  did not end")
            return
        seconds, megabytes, words = sent.get()
    print(
        f"{case:12} {pieces:>6} pieces  {seconds:6.2f} s = {seconds / SECONDS:5.2f} of {SECONDS:.0f} s   "
        f"{megabytes:5.0f} MB = {megabytes / MEMORY_MB:4.2f} of {MEMORY_MB:.0f} MB   {words}"
    )
    sys.stdout.flush()


def main() -> None:
    """Measure each case."""
    for case in ("csv", "xlsx"):
        for pieces in (500, 5_000, 50_000):
            measure(case, pieces)
    measure("package out", 2_000)
    measure("package in", 2_000)
    measure("report", 1_280)


if __name__ == "__main__":
    main()
