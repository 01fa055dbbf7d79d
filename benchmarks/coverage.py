"""How often the ranges hold the truth, and how often a thing is called clear that is none: trials broken many times.

    .venv/bin/python benchmarks/coverage.py [--runs 1000] [--seed 1]

Prints the table of docs/method. Log-normal breaks, analysed as `analyse` and Compare do. Three sets of n pieces (one
10 % stronger), scatter 15 %, but for

- unequal scatter: 5, 15 and 30 %;
- 30 % held: the rig ends where 30 % of all pieces would only hold;
- boards: n boards with a piece of each set, scattering by 20 %; mixed boards: two woods, each on its own n boards;
- one-sided: a third set, 60 % stronger, of which no piece breaks below the rig's end; the truth lies in its open range;
- n = 2: one set of two pieces that borrows the scatter of the others;
- composite: equal sets in two conditions: how often the lead of the first is called more than chance;
- power: equal sets, 30 % held: how often the simulated power calls two of them apart.
"""

import argparse
from collections.abc import Callable
from math import exp, inf

import numpy as np

from adhaero.core.stats.analyse import Analysis, Question, analyse
from adhaero.core.stats.breaks import Outcome, Specimen
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.composite import combine_conditions, compare_marks
from adhaero.core.stats.power import sigma_log_from_cv
from adhaero.core.stats.power_simulated import SimulatedPlan, simulate_power
from adhaero.core.stats.sets import fit_sets

NAMES = ("Heron", "Plover", "Wren", "Teal")
SHIFT = np.log([1.1, 1.0, 1.0])
LONG = np.random.default_rng(0).normal(0, 1, 100_000)
Rng = np.random.Generator


def make(logs: list[np.ndarray], limit: float = inf, boards: list[np.ndarray] | None = None) -> tuple[Specimen, ...]:
    """Return sets of logarithms as pieces; above the limit they held."""
    return tuple(
        Specimen(
            f"{name}{turn}",
            name,
            exp(min(value, limit)),
            Outcome.HELD if value > limit else Outcome.BROKE,
            block=None if boards is None else str(boards[row][turn]),
        )
        for row, (name, mine) in enumerate(zip(NAMES, logs, strict=False))
        for turn, value in enumerate(mine)
    )


def draw_plain(rng: Rng, n: int, held: bool = False) -> tuple[Specimen, ...]:
    """Return three sets of one scatter."""
    sigma = sigma_log_from_cv(15)
    limit = float(np.quantile(np.add.outer(SHIFT, sigma * LONG), 0.7)) if held else inf
    return make([shift + rng.normal(0, sigma, n) for shift in SHIFT], limit)


def draw_unequal(rng: Rng, n: int, held: bool = False) -> tuple[Specimen, ...]:
    """Return three sets of different scatter."""
    sigmas = [sigma_log_from_cv(cv) for cv in (5, 15, 30)]
    limit = float(np.quantile(SHIFT[:, None] + np.outer(sigmas, LONG), 0.7)) if held else inf
    return make([shift + rng.normal(0, one, n) for shift, one in zip(SHIFT, sigmas, strict=True)], limit)


def draw_boards(rng: Rng, n: int, held: bool = False) -> tuple[Specimen, ...]:
    """Return three sets, one piece of each on every board."""
    sigma, between = sigma_log_from_cv(15), sigma_log_from_cv(20)
    limit = float(np.quantile(np.add.outer(SHIFT, np.hypot(sigma, between) * LONG), 0.7)) if held else inf
    board = rng.normal(0, between, n)
    return make([shift + board + rng.normal(0, sigma, n) for shift in SHIFT], limit, [np.arange(n)] * 3)


def draw_mixed(rng: Rng, n: int, held: bool = False) -> tuple[Specimen, ...]:
    """Return four sets, two of each wood, each wood on its own boards."""
    sigma, between = sigma_log_from_cv(15), sigma_log_from_cv(20)
    shifts = np.append(SHIFT, 0.0)
    limit = float(np.quantile(np.add.outer(shifts, np.hypot(sigma, between) * LONG), 0.7)) if held else inf
    board = rng.normal(0, between, 2 * n)
    on = [np.arange(n), np.arange(n), np.arange(n, 2 * n), np.arange(n, 2 * n)]
    return make(
        [shift + board[mine] + rng.normal(0, sigma, n) for shift, mine in zip(shifts, on, strict=True)], limit, on
    )


def draw_one_sided(rng: Rng, n: int) -> tuple[Specimen, ...]:
    """Return two sets and a third of which no piece broke, drawn until that is so."""
    sigma = sigma_log_from_cv(15)
    limit = np.log(1.25)
    while True:
        third = np.log(1.6) + rng.normal(0, sigma, n)
        if (third > limit).all():
            return make(
                [np.minimum(rng.normal(shift, sigma, n), limit - 1e-6) for shift in (0.0, -0.1)] + [third], limit
            )


def draw_two(rng: Rng, n: int) -> tuple[Specimen, ...]:
    """Return three sets, one of two pieces."""
    sigma = sigma_log_from_cv(15)
    return make([shift + rng.normal(0, sigma, 2 if row == 0 else n) for row, shift in enumerate(SHIFT)])


def cover(
    draw: Callable[[Rng], tuple[Specimen, ...]], truth: np.ndarray, block: str | None, runs: int, seed: int
) -> str:
    """Return the shares of trials whose ranges of one typical strength, and of all ratios together, hold."""
    rng = np.random.default_rng(seed)
    question = Question("strength", "glue", block=block)
    one, of, together, answered = 0, 0, 0, 0
    for _ in range(runs):
        result: Analysis = analyse.__wrapped__(draw(rng), question)
        for row, group in enumerate(result.groups):
            ends = group.typical_ci95
            if ends is not None:
                one, of = one + (ends[0] <= exp(truth[row]) <= ends[1]), of + 1
        if all(pair.ratio_ci95 is not None for pair in result.pairs):
            answered += 1
            together += all(_holds(pair.ratio_ci95, _true(pair.a, pair.b, truth)) for pair in result.pairs)
    return f"{100 * one / of:.1f} % | {100 * together / answered:.1f} % | {100 * (1 - answered / runs):.1f} %"


def _true(a: str, b: str, truth: np.ndarray) -> float:
    return exp(truth[NAMES.index(a)] - truth[NAMES.index(b)])


def _holds(ends: tuple[float | None, float | None] | None, truth: float) -> bool:
    low, high = ends or (None, None)
    return (low is None or low <= truth) and (high is None or truth <= high)


def lead_by_chance(k: int, runs: int, seed: int) -> float:
    """Return how often the first of k equal sets is called clearly ahead of another."""
    rng = np.random.default_rng(seed)
    names = [f"set {n}" for n in range(k)]
    places = {"dry": {n: i for i, n in enumerate(names)}, "wet": {n: k + i for i, n in enumerate(names)}}
    claimed = 0
    for _ in range(runs):
        logs = rng.normal(3, 0.15, 2 * k * 6)
        fit = fit_sets(Bounds(logs, logs), np.repeat(np.arange(2 * k), 6), 2 * k)
        strengths = {c: {n: exp(fit.effects[at]) for n, at in mine.items()} for c, mine in places.items()}
        leads = compare_marks(combine_conditions(strengths, {"dry": 1, "wet": 1}), fit, places)
        claimed += any(one.ci95 is not None and one.ci95[0] > 1 for one in leads)
    return claimed / runs


def main() -> None:
    """Print the table."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--runs", type=int, default=1000)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    error = 100 * (0.95 * 0.05 / asked.runs) ** 0.5
    print(f"{asked.runs} trials a line; a true 95 % shows as 95 ± {2 * error:.1f}\n")
    print("| breaks | n | typical | all ratios | no answer |\n|---|---|---|---|---|")
    four = np.append(SHIFT, 0.0)
    lines: list[tuple[str, int, Callable[[Rng], tuple[Specimen, ...]], np.ndarray, str | None]] = []
    for n in (5, 10, 30):
        lines += [
            ("plain", n, lambda rng, n=n: draw_plain(rng, n), SHIFT, None),
            ("30 % held", n, lambda rng, n=n: draw_plain(rng, n, True), SHIFT, None),
            ("unequal scatter", n, lambda rng, n=n: draw_unequal(rng, n), SHIFT, None),
            ("unequal scatter, 30 % held", n, lambda rng, n=n: draw_unequal(rng, n, True), SHIFT, None),
            ("within boards", n, lambda rng, n=n: draw_boards(rng, n), SHIFT, "board"),
            ("within boards, 30 % held", n, lambda rng, n=n: draw_boards(rng, n, True), SHIFT, "board"),
        ]
    lines += [
        ("mixed boards", 6, lambda rng: draw_mixed(rng, 6), four, "board"),
        ("mixed boards, 30 % held", 6, lambda rng: draw_mixed(rng, 6, True), four, "board"),
        ("one set of two pieces", 6, lambda rng: draw_two(rng, 6), SHIFT, None),
        ("one set held throughout", 6, lambda rng: draw_one_sided(rng, 6), np.log([1.0, exp(-0.1), 1.6]), None),
    ]
    for kind, n, draw, truth, block in sorted(lines, key=lambda line: line[0]):
        print(f"| {kind} | {n} | {cover(draw, truth, block, asked.runs, asked.seed)} |", flush=True)
    print("\n| by chance alone | |\n|---|---|")
    for k in (3, 6, 10):
        share = lead_by_chance(k, asked.runs, asked.seed)
        print(f"| a composite's lead called more than chance, {k} equal sets | {100 * share:.1f} % |", flush=True)
    for held in (0.0, 30.0):
        share = simulate_power(SimulatedPlan(15, 2, 6, 1e-9, held_pct=held), asked.runs, asked.seed).power
        print(f"| two equal sets called apart, {held:.0f} % held | {100 * share:.1f} % |", flush=True)


if __name__ == "__main__":
    main()
