"""How often the 95 % ranges hold the truth: log-normal breaks simulated many times, analysed as `analyse` does.

    .venv/bin/python benchmarks/coverage.py [--runs 2000] [--seed 1]

Prints the table of docs/method. Three sets of n pieces (one 10 % stronger), scatter 15 %; blocked: n boards with a
piece of each set, boards scattering by 20 %; held: the rig ends where 30 % of all pieces would only hold.

- mean: the range of a set's typical strength holds it (each set by itself; for plain breaks the range is Student's t of
  the numbers as read);
- pairs: all three ranges of the ratios hold them at once (what "together 19 in 20" says);
- widened: the same when the ranges are taken as much wider as the warning about few pieces says.
"""

import argparse
from math import exp

import numpy as np

from adhaero.core.stats.analyse import Question, analyse, widen
from adhaero.core.stats.breaks import Outcome, Specimen
from adhaero.core.stats.pairs import Pair
from adhaero.core.stats.power import sigma_log_from_cv

SETS = ("Heron", "Plover", "Wren")
SHIFT = np.log([1.1, 1.0, 1.0])
KINDS = ("plain", "blocked", "30 % held", "blocked, 30 % held")


def draw(rng: np.random.Generator, kind: str, n: int) -> tuple[Specimen, ...]:
    """Return the pieces of one trial."""
    sigma, between = sigma_log_from_cv(15), sigma_log_from_cv(20)
    logs = SHIFT[:, None] + rng.normal(0, sigma, (3, n))
    if "blocked" in kind:
        logs += rng.normal(0, between, n)
    limit = np.inf
    if "held" in kind:
        spread = np.hypot(sigma, between) if "blocked" in kind else sigma
        limit = float(np.quantile(np.add.outer(SHIFT, spread * LONG), 0.7))
    return tuple(
        Specimen(
            f"{name}{turn}",
            name,
            exp(min(logs[row, turn], limit)),
            Outcome.HELD if logs[row, turn] > limit else Outcome.BROKE,
            block=f"Board {turn}" if "blocked" in kind else None,
        )
        for row, name in enumerate(SETS)
        for turn in range(n)
    )


LONG = np.random.default_rng(0).normal(0, 1, 100_000)


def cover(kind: str, n: int, runs: int, seed: int) -> tuple[float, float, float, float]:
    """Return the shares of trials whose typical ranges, ratios, widened ratios hold the truth, and that have none."""
    rng = np.random.default_rng(seed)
    question = Question("strength", "glue", block="board" if "blocked" in kind else None)
    means, tried, pairs, widened, judged, none = 0, 0, 0, 0, 0, 0
    sigma = sigma_log_from_cv(15)
    for _ in range(runs):
        pieces = draw(rng, kind, n)
        result = analyse.__wrapped__(pieces, question)
        for row, group in enumerate(result.groups):
            if group.typical_ci95 is None or "blocked" in kind:
                continue
            truth = exp(SHIFT[row]) if "held" in kind else exp(SHIFT[row] + sigma**2 / 2)
            means += group.typical_ci95[0] <= truth <= group.typical_ci95[1]
            tried += 1
        if any(pair.ratio_ci95 is None for pair in result.pairs):
            none += 1
            continue
        judged += 1
        pairs += all(_holds(pair) for pair in result.pairs)
        widened += all(_holds(pair) for pair in widen(result).pairs)
    mean = means / tried if tried else float("nan")
    return mean, pairs / judged, widened / judged, none / runs


def _holds(pair: Pair) -> bool:
    truth = exp(SHIFT[SETS.index(pair.a)] - SHIFT[SETS.index(pair.b)])
    return pair.ratio_ci95[0] <= truth <= pair.ratio_ci95[1]


def main() -> None:
    """Print the table."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--runs", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    error = 100 * (0.95 * 0.05 / asked.runs) ** 0.5
    print(f"{asked.runs} trials a line; a true 95 % shows as 95 ± {2 * error:.1f}\n")
    print("| breaks | n | typical | all ratios | widened | no answer |\n|---|---|---|---|---|---|")
    for kind in KINDS:
        for n in (5, 10, 30):
            mean, pairs, widened, none = cover(kind, n, asked.runs, asked.seed)
            shown = "–" if np.isnan(mean) else f"{100 * mean:.1f} %"
            print(
                f"| {kind} | {n} | {shown} | {100 * pairs:.1f} % | {100 * widened:.1f} % | {100 * none:.1f} % |",
                flush=True,
            )


if __name__ == "__main__":
    main()
