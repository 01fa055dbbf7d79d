"""How many pieces it takes: what difference two sets of n can tell apart, and n for a difference."""

from dataclasses import dataclass
from functools import lru_cache
from math import ceil, comb, exp, inf, log, log1p, sqrt

from adhaero.core.errors import EntryError
from adhaero.core.stats.laws import find_normal, find_t, reach_noncentral_t

POWER = 0.8
LEVEL = 0.05
MOST_PIECES = 100_000


@dataclass(frozen=True)
class Power:
    """What a planned comparison can see.

    Attributes
    ----------
    sigma_log : scatter of the logarithms, √ln(1+(cv/100)²).
    detectable_pct : the smallest difference, percent, seen with 80 % power; None below two pieces.
    n_needed, power : pieces per group for the wanted difference, and the power at n; None without one.
    pairwise_level : the two-sided level of one pair, 5 % over the number of pairs (Bonferroni).
    """

    sigma_log: float
    detectable_pct: float | None
    n_needed: int | None
    power: float | None
    pairwise_level: float


def sigma_log_from_cv(cv_pct: float) -> float:
    """Return the standard deviation of logs of a log-normal with this coefficient of variation (percent)."""
    return sqrt(log1p((cv_pct / 100) ** 2))


def compute_t_power(shift: float, sigma: float, n: int, level: float) -> float:
    """Return the power of the two-sided two-sample t test, both tails counted.

    Parameters
    ----------
    shift : true difference of the two means; sigma : their common standard deviation (same unit).
    n : pieces in each group, 2 or more; level : two-sided level.

    Notes
    -----
    Noncentral t with 2(n−1) df and noncentrality (shift/sigma)·√(n/2).
    """
    df = 2 * (n - 1)
    centre = shift / sigma * sqrt(n / 2)
    if centre > 37:  # beyond the reach of the noncentral t's series, and certain anyway
        return 1.0
    return min(1.0, reach_noncentral_t(-find_t(level / 2, df), df, centre))


@lru_cache(maxsize=1024)
def compute_n_needed(shift: float, sigma: float, level: float = LEVEL) -> int | None:
    """Return the smallest number of pieces per group, at least 2, that sees `shift` with 80 % power.

    None above 100,000: no shop breaks that many. Searched from the answer for a known scatter (normal distribution),
    which is a few pieces too low.
    """
    start = 2 * ((find_normal(POWER) - find_normal(level / 2)) * sigma / shift) ** 2
    if start > MOST_PIECES:
        return None
    n = max(2, ceil(start))
    while compute_t_power(shift, sigma, n, level) < POWER:
        n += 1
    while n > 2 and compute_t_power(shift, sigma, n - 1, level) >= POWER:
        n -= 1
    return n


def compute_power_beside(shift: float, sigma: float, n: int, beside: int, level: float = LEVEL) -> float:
    """Return the power of the two-sided two-sample t test of n pieces against `beside` that are broken already."""
    df = n + beside - 2
    if df < 1:
        return 0.0
    centre = shift / sigma / sqrt(1 / n + 1 / beside)
    return 1.0 if centre > 37 else min(1.0, reach_noncentral_t(-find_t(level / 2, df), df, centre))


def find_n_beside(shift: float, sigma: float, beside: int, most: int = 200) -> int | None:
    """Return the fewest pieces that see `shift` with 80 % power against `beside` pieces; None where not `most` do.

    Examples
    --------
    >>> find_n_beside(0.2, 0.12, 6), find_n_beside(0.05, 0.12, 6)
    (8, None)
    """
    for n in range(1, most + 1):
        if compute_power_beside(shift, sigma, n, beside) >= POWER:
            return n
    return None


@lru_cache(maxsize=4096)
def _find_multiple(n: int, level: float) -> float:
    """Return the difference that two groups of n see with 80 % power, in standard errors: it is free of the scatter."""

    def shortfall(multiple: float) -> float:
        return compute_t_power(multiple * sqrt(2 / n), 1.0, n, level) - POWER

    from scipy import optimize  # loaded where it is needed: a command starts at once

    high = 8.0
    while shortfall(high) < 0 and high < 1e4:
        high *= 2
    return float(optimize.brentq(shortfall, 0.0, high, xtol=1e-12, rtol=1e-12))


def compute_detectable_pct(sigma: float, n: int, level: float) -> float | None:
    """Return the smallest difference in percent that two groups of n see with 80 % power; None for n < 2."""
    if n < 2:
        return None
    shift = _find_multiple(n, level) * sigma * sqrt(2 / n)
    return 100 * (exp(shift) - 1) if shift < 700 else inf


def compute_power(cv_pct: float, groups: int, n: int, difference_pct: float | None = None) -> Power:
    """Return what `groups` groups of `n` pieces with a scatter of `cv_pct` percent can tell apart.

    Raises
    ------
    EntryError : scatter not above 0, fewer than two groups or pieces, or a difference not above 0.

    Examples
    --------
    >>> round(compute_power(15, 4, 6).detectable_pct, 2)
    43.97
    """
    for name, value, least in (("cv", cv_pct, 0), ("groups", groups, 1), ("n", n, 1)):
        if not value > least:
            raise EntryError(f"{name} is {value:g}.", f"It must be above {least}.", field=name)
    if difference_pct is not None and not difference_pct > 0:
        raise EntryError(f"The difference is {difference_pct:g} %.", "It must be above 0 %.", field="difference")
    sigma = sigma_log_from_cv(cv_pct)
    level = LEVEL / comb(groups, 2)
    shift = None if difference_pct is None else log(1 + difference_pct / 100)
    return Power(
        sigma_log=sigma,
        detectable_pct=compute_detectable_pct(sigma, n, level),
        n_needed=None if shift is None else compute_n_needed(shift, sigma, level),
        power=None if shift is None else compute_t_power(shift, sigma, n, level),
        pairwise_level=level,
    )
