"""Power where no formula reaches: boards as blocks, pieces that only hold. Breaks a plan many times over."""

from dataclasses import dataclass
from math import log

import numpy as np

from adhaero.core.errors import EntryError
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.pairs import compare_all
from adhaero.core.stats.power import sigma_log_from_cv
from adhaero.core.stats.sets import fit_sets

MOST_RUNS = 20_000


@dataclass(frozen=True)
class SimulatedPlan:
    """A plan to be broken.

    Attributes
    ----------
    cv_pct : scatter within a board, percent; groups, n : sets and pieces of each; difference_pct : of the first set
        above all others.
    board_cv_pct : scatter between boards, percent; None: no boards. Each board holds one piece of every set.
    held_pct : share of the pieces that only hold, percent: the rig ends at that point of all strengths.
    """

    cv_pct: float
    groups: int
    n: int
    difference_pct: float
    board_cv_pct: float | None = None
    held_pct: float = 0.0


@dataclass(frozen=True)
class SimulatedPower:
    """What the broken plans showed.

    Attributes
    ----------
    runs : plans broken; power : share of them that show the first two sets apart, error : its standard error.
    no_estimate : share of them whose pieces gave no estimate of that pair.
    """

    runs: int
    power: float
    error: float
    no_estimate: float


def simulate_power(plan: SimulatedPlan, runs: int = 1000, seed: int = 1) -> SimulatedPower:
    """Break a plan `runs` times with log-normal strengths and compare it as `analyse` would.

    Raises
    ------
    EntryError : a scatter, difference or number that cannot be.
    """
    _check(plan, runs)
    rng = np.random.default_rng(seed)
    sigma = sigma_log_from_cv(plan.cv_pct)
    between = 0.0 if plan.board_cv_pct is None else sigma_log_from_cv(plan.board_cv_pct)
    shift = np.zeros(plan.groups)
    shift[0] = log(1 + plan.difference_pct / 100)
    sets = np.repeat(np.arange(plan.groups), plan.n)
    boards = None if plan.board_cv_pct is None else np.tile(np.arange(plan.n), plan.groups)
    limit = _find_limit(plan, shift, float(np.hypot(sigma, between)))
    seen, lost = 0, 0
    for _ in range(runs):
        logs = shift[sets] + rng.normal(0.0, sigma, sets.size)
        if boards is not None:
            logs += rng.normal(0.0, between, plan.n)[boards]
        held = logs > limit
        lower = np.where(held, limit, logs)
        bounds = Bounds(lower, np.where(held, np.inf, logs))
        pair = compare_all(fit_sets(bounds, sets, plan.groups, boards))[0]
        low, high = pair.log_ci95 or (None, None)
        if low is None and high is None:
            lost += 1
        elif (low is not None and low > 0) or (high is not None and high < 0):
            seen += 1
    power = seen / runs
    return SimulatedPower(runs, power, float(np.sqrt(power * (1 - power) / runs)), lost / runs)


def _check(plan: SimulatedPlan, runs: int) -> None:
    for name, value, least, most in (
        ("cv", plan.cv_pct, 0, 300),
        ("groups", plan.groups, 1, 50),
        ("n", plan.n, 1, 500),
        ("difference", plan.difference_pct, 0, 10_000),
        ("runs", runs, 0, MOST_RUNS),
    ):
        if not least < value <= most:
            raise EntryError(f"{name} is {value:g}.", f"It must be above {least}, {most} at most.", field=name)
    if not 0 <= plan.held_pct <= 90:
        raise EntryError(f"held is {plan.held_pct:g} %.", "Expected 0 to 90 %.", field="held")
    if plan.board_cv_pct is not None and not 0 <= plan.board_cv_pct <= 300:
        raise EntryError(f"The boards' scatter is {plan.board_cv_pct:g} %.", "Expected 0 to 300 %.", field="board_cv")


def _find_limit(plan: SimulatedPlan, shift: "np.ndarray[tuple[int], np.dtype[np.float64]]", spread: float) -> float:
    """Return the logarithm that the wanted share of all pieces lies above."""
    if plan.held_pct == 0:
        return float("inf")
    draws = np.random.default_rng(0).normal(0.0, spread, 20_000)
    return float(np.quantile(np.add.outer(shift, draws), 1 - plan.held_pct / 100))
