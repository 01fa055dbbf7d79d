"""Planning: from a keystroke to its consequences, cut lists against their bound, deals against chance and theory.

    python benchmarks/planning.py

The plans are made through the functions that a person drives; ratios are to the aims.
"""

import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from random import Random

from bench import percentile, report

from adhaero.bench.over.rack import view_rack
from adhaero.bench.plan import boards, edits, factors, levels, starters
from adhaero.bench.plan import view as plan_view
from adhaero.bench.saw import cut_list
from adhaero.bench.shop import boards as shop_boards
from adhaero.core.joint import Joint, list_members
from adhaero.core.plan.cutting import Allowances, BoardSize, compute_wood_bill, make_parts, saw_board
from adhaero.core.plan.layout import Place, deal, measure_balance, shuffled
from adhaero.store.file import ShopFile, open_shop

SHAFT = {"length_mm": 300.0, "width_mm": 22.0, "depth_mm": 22.0, "slope": 8.0}


def build_plan(file: ShopFile, sets: tuple[int, int], pieces: int, holds: int) -> int:
    """Plan scarfed shafts with two things varied, on boards of the shop with a size."""
    trial = starters.start_from(file, "prep", question=f"{sets[0] * sets[1]} sets")
    for board in plan_view.view_plan(file, trial).boards:
        boards.remove_board(file, trial, board.id)
    shaft = {"joint": "scarf", "length_mm": "300 mm", "depth_mm": "22 mm", "width_mm": "22 mm", "slope": "1:8"}
    bench = {"fixture": "bend-4", "span_mm": "270 mm", "load_arm_mm": "90 mm"}
    for name, typed in (shaft | bench).items():
        view = plan_view.view_plan(file, trial)
        shown = {one.name: one.typed for one in view.quantities}
        was = shown[name] if name in shown else str(getattr(view.trial, name))
        if was != typed:
            edits.edit_plan(file, trial, name, was, typed)
    factor = plan_view.view_plan(file, trial).factors[0].id
    factors.edit_factor(file, trial, factor, "kind", "prep", "own")
    for number in range(sets[0]):
        levels.add_level(file, trial, factor, levels.LevelEntry(f"prep {number}"))
    second = factors.add_factor(file, trial, "condition")
    for number in range(sets[1]):
        levels.add_level(file, trial, second, levels.LevelEntry(f"state {number}"))
    was = str(plan_view.view_plan(file, trial).trial.pieces_each)
    edits.edit_plan(file, trial, "pieces_each", was, str(pieces))
    planks = -(-sets[0] * sets[1] * pieces // holds)
    width = 27 * -(-2 * holds // 7) + 5
    while planks > 0:
        count = min(planks, 200)
        name = f"Plank {trial} {planks}"
        ids = shop_boards.save_stock_board(
            file, shop_boards.StockBoardEntry(name, "ash", "1900 mm", f"{width} mm", "26 mm", count=str(count))
        )
        boards.take_from_shop(file, trial, ids)
        planks -= count
    return trial


def time_keystrokes(file: ShopFile, trial: int, strokes: int) -> tuple[list[float], int]:
    """Return how long an edit and what follows from it takes, ms, and the number of pieces."""
    took = []
    fields = ("waste_pct", "clamp_pressure_mpa", "cv_pct", "width_mm")
    values = {"waste_pct": "{} %", "clamp_pressure_mpa": "0.{} MPa", "cv_pct": "{} %", "width_mm": "21.{} mm"}
    pieces = 0
    for number in range(strokes):
        name = fields[number % len(fields)]
        was = next(one.typed for one in plan_view.view_plan(file, trial).quantities if one.name == name)
        start = time.perf_counter()
        edits.edit_plan(file, trial, name, was, values[name].format(11 + number))
        pieces = plan_view.view_plan(file, trial).consequences.pieces
        view_rack(file, trial)
        took.append(1000 * (time.perf_counter() - start))
    return took, pieces


def time_plans() -> None:
    print("From a keystroke to its consequences and the rack, on the server")
    with tempfile.TemporaryDirectory() as folder:
        for sets, pieces, holds, aim in (((6, 2), 5, 7, 100), ((25, 5), 20, 7, 500)):
            file = open_shop(Path(folder) / f"{pieces}.sqlite")
            trial = build_plan(file, sets, pieces, holds)
            took, planned = time_keystrokes(file, trial, 24)
            words = f"{planned} pieces, p95 (p50 {statistics.median(took):.0f} ms)"
            report(words, percentile(took, 0.95), "ms", aim)
            start = time.perf_counter()
            was = str(plan_view.view_plan(file, trial).trial.pieces_each)
            edits.edit_plan(file, trial, "pieces_each", was, str(pieces - 1))
            plan_view.view_plan(file, trial)
            report(f"{planned} pieces dealt anew", 1000 * (time.perf_counter() - start), "ms", aim)
            start = time.perf_counter()
            cut_list.view_cut_list(file, trial)
            print(f"  {'its cut list and maps':52} {1000 * (time.perf_counter() - start):9.1f} ms")


def time_cutting() -> None:
    print("Cut list of 2,500 parts on 60 boards")
    members, allowances = list_members(Joint.SCARF, SHAFT), Allowances()
    rng = Random(4)
    sizes = [BoardSize(1800 + 100 * int(rng.random() * 8), 180.0, 26.0, ((700.0, 740.0),)) for _ in range(60)]
    parts = [part for piece in range(1250) for part in make_parts(piece, members, allowances)]
    start = time.perf_counter()
    maps, left = [], parts
    for size in sizes:
        maps.append(saw_board(size, left, allowances))
        placed = {cut.part.piece for cut in maps[-1].cuts}
        left = [part for part in left if part.piece not in placed]
    took = 1000 * (time.perf_counter() - start)
    used = [one for one in maps if one.cuts]
    sawn = sum(len(one.cuts) for one in maps)
    bill = compute_wood_bill([cut.part for one in used for cut in one.cuts], used, allowances)
    print(f"  {sawn} of {len(parts)} parts on {len(used)} boards in {took:.0f} ms")
    print(f"  strip length needed / there: {bill.needed_mm / bill.there_mm:.3f} (1 would be no waste)")


def time_blocks() -> None:
    print("Incomplete blocks: 32 sets of 10 on 46 boards of 7 places")
    counts, holds = [10] * 32, [7] * 46
    took, ours, chance = [], [], []
    for seed in range(10):
        start = time.perf_counter()
        layout = deal(counts, holds, seed)
        took.append(1000 * (time.perf_counter() - start))
        balance = measure_balance(layout, 32)
        ours.append((balance.efficiency or 0) / (balance.bound or 1) if balance else 0)
        chance.append(_chance(counts, holds, seed))
    print(f"  time: {statistics.median(took):.0f} ms")
    print(f"  efficiency / theoretical upper bound: {statistics.mean(ours):.4f} (worst of ten {min(ours):.4f})")
    print(f"  dealt by chance / upper bound: {statistics.mean(chance):.4f}")
    print(f"  what a deal by chance would throw away, saved: {ratio(statistics.mean(ours), statistics.mean(chance))}")


def _chance(counts: list[int], holds: list[int], seed: int) -> float:
    """Return the efficiency of pieces dealt to boards in random order, against the same bound."""
    order = shuffled([one for one, count in enumerate(counts) for _ in range(count)], Random(seed))
    seats = [(board, position) for board, places in enumerate(holds) for position in range(places)]
    places = tuple(Place(one, *seat, 0, 0) for one, seat in zip(order, seats, strict=False))
    balance = measure_balance(places, len(counts))
    return (balance.efficiency or 0) / (balance.bound or 1) if balance else 0


def ratio(ours: float, chance: float) -> str:
    return f"{(ours - chance) / (1 - chance):.0%}"


def main(steps: tuple[Callable[[], None], ...] = (time_plans, time_cutting, time_blocks)) -> None:
    for step in steps:
        step()


if __name__ == "__main__":
    main()
