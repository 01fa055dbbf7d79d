"""The sets of a trial as a model of logarithms: each by itself, within boards, or with bounds among the breaks."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf, sqrt

import numpy as np

from adhaero.core.errors import DataError
from adhaero.core.stats.censored import Bounds, find_bounded
from adhaero.core.stats.design import Codes, Design, constant, join, one_hot
from adhaero.core.stats.laws import LIKELY, beyond_f, find_normal, find_t
from adhaero.core.stats.linear import LinearFit, OverallTest, compare_nested, fit_linear
from adhaero.core.stats.scatter import Floats


@dataclass(frozen=True)
class SetsFit:
    """Sets, and boards where they are blocks, fitted together.

    Attributes
    ----------
    effects, covariance : (k,), (k, k) of the logarithms of the sets, at the average of the boards; NaN for a set
        without a finite maximum.
    sigma, df : scatter of the logarithms and its degrees of freedom, infinite where the likelihood alone tells it.
    overall : do the sets differ at all? None with one set.
    boards_left_out : boards that tell nothing because all their pieces are bounds to one side.
    short : how many times wider the ranges of the likelihood alone would be if few pieces were counted,
        √(n/(n−p)) · t/z; 1 where they are.
    """

    effects: Floats
    covariance: Floats
    sigma: float
    df: float
    overall: OverallTest | None
    boards_left_out: tuple[int, ...] = ()
    short: float = 1.0

    def combine(self, weights: Floats) -> tuple[float, float] | None:
        """Return Σ weight · set on logs and its standard error; None where one of them has no estimate."""
        used = weights != 0
        if not np.isfinite(self.effects[used]).all():
            return None
        variance = float(weights[used] @ self.covariance[np.ix_(used, used)] @ weights[used])
        return float(weights[used] @ self.effects[used]), float(np.sqrt(max(0.0, variance)))


def compute_welch(logs: Sequence[Floats]) -> OverallTest | None:
    """Return Welch's one-way test of the groups that have a variance; None with fewer than two of them.

    Parameters
    ----------
    logs : logarithms of each group, any lengths.

    Notes
    -----
    Welch, B. L. (1951), On the comparison of several mean values, Biometrika 38, eq. 20 and 21.
    """
    usable = [group for group in logs if group.size > 1 and float(np.ptp(group)) > 0]
    k = len(usable)
    if k < 2:
        return None
    n = np.array([group.size for group in usable], dtype=float)
    means = np.array([group.mean() for group in usable])
    weights = n / np.array([group.var(ddof=1) for group in usable])
    centre = (weights @ means) / weights.sum()
    lack = ((1 - weights / weights.sum()) ** 2 / (n - 1)).sum()
    between = (weights @ (means - centre) ** 2) / (k - 1)
    statistic = between / (1 + 2 * (k - 2) / (k**2 - 1) * lack)
    df = (k**2 - 1) / (3 * lack)
    return OverallTest("welch-anova", float(statistic), (float(k - 1), float(df)), beyond_f(statistic, k - 1, df))


def fit_sets(
    bounds: Bounds, sets: Codes, k: int, boards: Codes | None = None, *, few_pieces: bool = True
) -> SetsFit | None:
    """Fit sets, within boards where they are given, by least squares or, with bounds among the breaks, by likelihood.

    Parameters
    ----------
    bounds : of n logarithms; sets, boards : (n,) whole numbers from 0; k : how many sets there are.
    few_pieces : with bounds, whether few pieces are counted as such (see `fit_linear`).

    Returns
    -------
    SetsFit; None where no set has a finite maximum or the scatter runs to 0.

    Raises
    ------
    DataError : sets never meet on a board, directly or through others, or too few pieces are left to judge the scatter.
    """
    count = 0 if boards is None else int(boards.max()) + 1
    design = _design(sets, k, boards, count)
    if not design.has_full_rank():
        raise _apart("The boards do not connect the sets")
    plain = bool(bounds.exact.all())
    kept = np.ones(sets.size, dtype=bool) if plain else find_bounded(design, bounds)
    left = np.unique(sets[kept])
    if left.size == 0:
        return None
    boards_left = np.arange(0) if boards is None else np.unique(boards[kept])
    inner = design
    if not kept.all():
        inner = _design(
            np.searchsorted(left, sets[kept]),
            left.size,
            None if boards is None else np.searchsorted(boards_left, boards[kept]),
            boards_left.size,
        )
        if not inner.has_full_rank():
            raise _apart("Without the pieces that are bounds to one side, the boards do not connect the sets")
    if (plain or few_pieces) and boards is not None and kept.sum() <= inner.rows.shape[1]:
        raise DataError(
            f"{kept.sum()} pieces are too few to compare {left.size} sets within {boards_left.size} boards.",
            "At least one piece more than boards and sets together is needed.",
            "Break more pieces, or compare without boards.",
            field="block",
        )
    fit = fit_linear(inner, bounds.take(kept), few_pieces=few_pieces)
    if fit is None:
        return None
    effects, covariance = np.full(k, np.nan), np.full((k, k), np.nan)
    weights = _weights(left.size, boards_left.size)
    effects[left] = weights @ fit.coefficients
    covariance[np.ix_(left, left)] = weights @ fit.covariance @ weights.T
    return SetsFit(
        effects,
        covariance,
        fit.sigma,
        fit.df,
        _test_overall(fit, bounds, boards, k),
        tuple(sorted(set(range(count)) - set(boards_left.tolist()))),
        1.0 if plain or few_pieces else _find_short(int(kept.sum()), inner.rows.shape[1]),
    )


def _find_short(n: int, p: int) -> float:
    if n <= p:
        return inf
    return sqrt(n / (n - p)) * find_t(LIKELY, n - p) / find_normal(LIKELY)


def _apart(what: str) -> DataError:
    return DataError(
        f"{what}: some sets never share a board, directly or through others.",
        "Comparing within boards needs sets that meet on boards.",
        "Compare without boards, or break pieces of both sets from one board.",
        field="block",
    )


def _design(sets: Codes, k: int, boards: Codes | None, count: int) -> Design:
    if boards is None:
        return one_hot(sets, k)
    return join([one_hot(boards, count), one_hot(sets, k).keep_columns(np.arange(1, k))])


def _weights(k: int, boards: int) -> Floats:
    """Return what makes the sets, at the average of the boards, each counted once, out of the coefficients."""
    if boards == 0:
        return np.eye(k)
    return np.hstack([np.full((k, boards), 1 / boards), np.eye(k)[:, 1:]])


def _test_overall(fit: LinearFit, bounds: Bounds, boards: Codes | None, k: int) -> OverallTest | None:
    """Test the sets against none; a set that runs off adds 0 to the likelihood with sets, and counts without them."""
    if k < 2:
        return None
    if boards is None:
        without = fit_linear(constant(bounds.lower.size), bounds)
    else:
        without = fit_linear(one_hot(boards, int(boards.max()) + 1), bounds)
    return compare_nested(fit, without, k - 1, "censored-lognormal" if fit.likelihood else "blocked-anova")
