"""How often the 95 % ranges hold the truth: log-normal breaks simulated many times, analysed as `analyse` does.

    .venv/bin/python benchmarks/coverage.py [--runs 2000] [--seed 1]

Prints the table of docs/method. Three sets of n pieces (one 10 % stronger), scatter 15 %; blocked: n boards with a
piece of each set, boards scattering by 20 %; held: the rig ends where 30 % of all pieces would only hold.

- typical: the range of a set's typical strength holds it (each set by itself; for plain breaks the range is Student's t
  of the numbers as read);
- all ratios: all three ranges of the ratios hold them at once (what "together 19 in 20" says);
- both as Compare asks, few pieces counted (`--few-pieces`), and by the likelihood alone.
"""

import argparse
from math import exp

import numpy as np

from adhaero.core.errors import DataError
from adhaero.core.stats.analyse import Question, analyse
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


def cover(kind: str, n: int, runs: int, seed: int) -> tuple[list[tuple[float, float]], float]:
    """Return the shares of trials whose ranges of typical strengths and ratios hold, both ways, and without answer."""
    rng = np.random.default_rng(seed)
    block = "board" if "blocked" in kind else None
    ways = [Question("strength", "glue", block=block, few_pieces=few) for few in (True, False)]
    counts = np.zeros((2, 4))
    sigma = sigma_log_from_cv(15)
    for _ in range(runs):
        pieces = draw(rng, kind, n)
        for way, question in enumerate(ways):
            try:
                result = analyse.__wrapped__(pieces, question)
            except DataError:  # too few pieces within boards: no answer
                continue
            for row, group in enumerate(result.groups):
                # plain breaks have the range of the average, not of the typical piece
                truth = exp(SHIFT[row]) if "held" in kind else exp(SHIFT[row] + sigma**2 / 2)
                if group.typical_ci95 is not None and block is None:
                    counts[way, :2] += group.typical_ci95[0] <= truth <= group.typical_ci95[1], 1
            if all(pair.ratio_ci95 is not None for pair in result.pairs):
                counts[way, 2:] += all(_holds(pair) for pair in result.pairs), 1
    shares = [(row[0] / row[1] if row[1] else float("nan"), row[2] / row[3]) for row in counts]
    return shares, 1 - counts[0, 3] / runs


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
    print("| breaks | n | typical | all ratios | typical, alone | all ratios, alone | no answer |")
    print("|---|---|---|---|---|---|---|")
    for kind in KINDS:
        for n in (5, 10, 30):
            shares, none = cover(kind, n, asked.runs, asked.seed)
            shown = ["–" if np.isnan(share) else f"{100 * share:.1f} %" for pair in shares for share in pair]
            if "held" not in kind:
                shown[2:] = "–", "–"
            print(f"| {kind} | {n} | {' | '.join(shown)} | {100 * none:.1f} % |", flush=True)


if __name__ == "__main__":
    main()
