"""The shop's book and the looks: do their ranges hold, what does stopping save, and what do 500 trials cost.

    make bench            (or: .venv/bin/python -m benchmarks.library [--short])

Coverage over made-up shops of 5 to 30 trials; the whole error of the stopping rule and the pieces that it saves at true
differences of 0, 10 and 20 %; 500 trials of 60 pieces in the book, before and after a change; a set that joins a trial
of 2,000 pieces, and its screens after that. Prints ratios to the aims, fails at nothing.
"""

import sys
import tempfile
import time
from collections.abc import Callable
from math import exp, log, sqrt
from pathlib import Path

import numpy as np

from adhaero.bench.breaking.view import view_break
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import show_compare
from adhaero.bench.cure.view import view_curing
from adhaero.bench.library.book import view_book
from adhaero.bench.over.making import view_making
from adhaero.bench.over.rack import view_rack
from adhaero.bench.over.today import view_today
from adhaero.bench.plan.late import LateEntry, LateValue, add_late
from adhaero.bench.plan.view import view_plan
from adhaero.core.stats.library import fit_network
from adhaero.core.stats.stopping import plan_looks
from adhaero.core.stats.trial_evidence import Evidence
from adhaero.store.file import ShopFile, open_shop
from adhaero.store.trials import amend_trial
from tests.made_up import GLUES, Broken, MadeUp, put

SHORT = "--short" in sys.argv
BETWEEN = {"none": 0.0, "moderate": 0.1, "large": 0.3}
TABLE_MS, SCREEN_MS = 1000.0, 150.0


def made_shop(
    chance: np.random.Generator, trials: int, things: int, between: float
) -> tuple[list[Evidence], list[float]]:
    """Return what trials of three things on six boards say, as their own analyses would, and the truth."""
    true = list(np.linspace(0, 0.5, things))
    found = []
    for trial in range(trials):
        chosen = chance.choice(things, size=3, replace=False)
        level = np.array([true[one] for one in chosen]) + chance.normal(0, between / sqrt(2), 3)
        pieces = level[:, None] + chance.normal(0, 0.15, (3, 6)) + chance.normal(0, 0.1, (1, 6))
        centre = pieces.mean(axis=1)
        left = pieces - pieces.mean(axis=0) - centre[:, None] + pieces.mean()
        variance = float((left**2).sum()) / 10 / 6
        covariance = tuple(tuple(variance if i == j else 0.0 for j in range(3)) for i in range(3))
        names = tuple(str(one) for one in chosen)
        found.append(Evidence(trial, names, tuple(float(one) for one in centre), covariance, 10.0))
    return found, true


def measure_coverage() -> None:
    print("ranges of the book that hold the truth, percent (aim 93 to 97)")
    for trials, things in ((5, 5), (10, 8), (30, 9)):
        for words, between in BETWEEN.items():
            chance, held, count = np.random.default_rng(trials), 0, 0
            for _ in range(60 if SHORT else 400):
                evidence, true = made_shop(chance, trials, things, between)
                network = fit_network(evidence)
                if network.df:
                    for one in network.compare_all():
                        ratio = exp(true[int(one.a)] - true[int(one.b)])
                        held += one.range95[0] <= ratio <= one.range95[1]
                        count += 1
            print(f"  {trials:3} trials, scatter between them {words:9} {100 * held / count:5.1f}")


def measure_stopping() -> None:
    print("looks after each of 10 boards of 4 sets, scatter 10 %, what matters 10 %")
    boards, sets, sigma, margin = 10, 4, 0.1, log(1.1)
    looks = plan_looks(boards, sets)
    for percent in (0, 10, 20):
        chance, wrong, saved, settled = np.random.default_rng(5), 0, 0.0, 0
        runs = 400 if SHORT else 4000
        for _ in range(runs):
            level = np.array([log(1 + percent / 100), 0.0, 0.0, 0.0])
            pieces = level + chance.normal(0, sigma, (boards, sets)) + chance.normal(0, 0.06, (boards, 1))
            said = False
            for look in range(2, boards + 1):
                some = pieces[:look]
                centre = some.mean(axis=0)
                left = some - some.mean(axis=1, keepdims=True) - centre + some.mean()
                reach = looks.ranges[look - 1] * sqrt(float((left**2).sum()) / ((look - 1) * (sets - 1)) / look)
                apart = centre[:, None] - centre[None, :]
                true = level[:, None] - level[None, :]
                said = said or bool((np.abs(apart - true) > reach).any())
                first = int(np.argmax(centre))
                others = [at for at in range(sets) if at != first]
                if all(apart[first, at] > reach or abs(apart[first, at]) + reach <= margin for at in others):
                    saved += (boards - look) / boards
                    settled += 1
                    break
            wrong += said
        print(
            f"  true difference {percent:2} %: some range wrong at some look {100 * wrong / runs:4.1f} % (aim at most "
            f"5), settled {100 * settled / runs:3.0f} %, pieces saved {100 * saved / runs:3.0f} %"
        )


def glue_breaks(names: list[str]) -> Callable[..., Broken]:
    def breaks(made: dict[str, str], board: int, chance: object) -> Broken:
        level = 500 + 15 * names.index(made["glue"])
        return Broken(level * exp(chance.gauss(0, 0.1) + 0.05 * ((board * 7) % 5 - 2)), torn_pct=10.0)  # type: ignore[attr-defined]

    return breaks


def report(words: str, ms: float, aim: float) -> None:
    print(f"  {words:62} {ms:8.0f} ms  {ms / aim:5.2f} of the aim")


def clock(do: Callable[[], object]) -> float:
    begun = time.perf_counter()
    do()
    return 1000 * (time.perf_counter() - begun)


def measure_book(file: ShopFile) -> None:
    trials = 50 if SHORT else 500
    print(f"the book of {trials} trials of 60 pieces")
    names = [f"{GLUES[at % 8]} {at // 8 + 1}" for at in range(30)]
    breaks = glue_breaks(names)
    for at in range(trials):
        mine = [names[(at * 7 + 5 * step) % 30] for step in range(6)]
        put(file, MadeUp(f"Trial {at}?", [("glue", mine)], breaks, boards=(("larch", 10),), each=10))
    report("opened for the first time, every trial read", clock(lambda: view_book(file)), 10 * TABLE_MS)
    report("opened again", min(clock(lambda: view_book(file)) for _ in range(3)), TABLE_MS)
    times = []
    for turn in range(3):
        with file.changing("Asked otherwise", 1 + turn) as connection:
            amend_trial(connection, 1 + turn, question=f"Trial {turn} anew?")
        times.append(clock(lambda: view_book(file)))
    report("after a change of one trial", max(times), TABLE_MS)


def measure_growth(file: ShopFile) -> None:
    print("a set that joins a trial of 2,000 pieces")
    names = list(GLUES[:4])
    kind = MadeUp("Large?", [("glue", names)], glue_breaks([*names, "Osprey"]), boards=(("larch", 100),), each=500)
    trial = put(file, kind)
    factor = view_plan(file, trial).factors[0].id
    boards = ", ".join(f"Board {n}" for n in range(1, 11))
    values = (LateValue(factor, "Osprey", "epoxy"),)  # type: ignore[arg-type]
    entry = LateEntry(20, boards, values=values, reason="it came late")
    screens: dict[str, Callable[[], object]] = {
        "rack": lambda: view_rack(file, trial),
        "plan": lambda: view_plan(file, trial),
        "making": lambda: view_making(file, trial),
        "curing": lambda: view_curing(file, trial),
        "break": lambda: view_break(file, trial),
        "compare": lambda: show_compare(file, trial, Choice()),
        "today": lambda: view_today(file),
    }
    for show in screens.values():
        show()
    report("it joins", clock(lambda: add_late(file, trial, entry)), 10 * SCREEN_MS)
    for words, show in screens.items():
        first = clock(show)
        report(f"{words}, the first time after", first, SCREEN_MS)
        report(f"{words}, again", min(clock(show) for _ in range(3)), SCREEN_MS)


def main() -> None:
    measure_coverage()
    measure_stopping()
    with tempfile.TemporaryDirectory() as folder:
        measure_book(open_shop(Path(folder) / "book.sqlite"))
        measure_growth(open_shop(Path(folder) / "large.sqlite"))


if __name__ == "__main__":
    main()
