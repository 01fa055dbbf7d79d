"""One linear model of logarithms, by least squares where every piece broke, by likelihood where some are bounds."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import expm1, inf, sqrt

import numpy as np
from numpy.typing import NDArray

from adhaero.core.stats.censored import Bounds, find_bounded, fit_censored
from adhaero.core.stats.design import Design
from adhaero.core.stats.laws import beyond_chi2, beyond_f
from adhaero.core.stats.scatter import Floats


@dataclass(frozen=True)
class OverallTest:
    """Is there any difference between the sets at all?"""

    method: str
    statistic: float
    df: tuple[float, ...]
    p: float


@dataclass(frozen=True)
class LinearFit:
    """A fitted model of logarithms.

    Attributes
    ----------
    coefficients, covariance : (p,), (p, p) of the columns of the design; NaN for what the pieces do not tell.
    sigma : scatter of the logarithms; df : its degrees of freedom, infinite where the likelihood alone tells it.
    misfit : residual sum of squares, or −2 log-likelihood where `likelihood`.
    columns : how many coefficients the n pieces tell.
    """

    coefficients: Floats
    covariance: Floats
    sigma: float
    df: float
    misfit: float
    columns: int
    n: int
    likelihood: bool = False


def fit_linear(design: Design, bounds: Bounds, *, few_pieces: bool = True) -> LinearFit | None:
    """Fit a model whose design has full rank.

    Parameters
    ----------
    few_pieces : where there are bounds, count the n pieces as least squares counts them: the likelihood's σ² times
        n / (n − p), known to n − p degrees of freedom. Else the likelihood alone, as if σ were known.

    Returns
    -------
    LinearFit; None where there is nothing left to judge the scatter by, or the likelihood has no maximum. By
    likelihood, coefficients that run off to infinity are NaN, and pieces that only they concern add nothing.
    """
    if bounds.exact.all():
        return _fit_least_squares(design, bounds.lower)
    kept = find_bounded(design, bounds)
    p, n = design.rows.shape[1], int(kept.sum())
    columns = np.arange(p)
    inner = design
    if not kept.all():
        bounds = bounds.take(kept)
        inner = design.take(kept)
        columns = np.flatnonzero((inner.rows != 0).any(axis=0))
        inner = inner.keep_columns(columns)
    if not inner.has_full_rank():
        return None
    fit = fit_censored(inner, bounds)
    left = n - columns.size
    if fit is None or (few_pieces and left < 1):
        return None
    larger = n / left if few_pieces else 1.0
    coefficients, covariance = np.full(p, np.nan), np.full((p, p), np.nan)
    coefficients[columns] = fit.coefficients
    covariance[np.ix_(columns, columns)] = larger * fit.covariance
    df = float(left) if few_pieces else inf
    sigma = sqrt(larger) * fit.sigma
    return LinearFit(coefficients, covariance, sigma, df, -2 * fit.log_likelihood, columns.size, n, likelihood=True)


def _fit_least_squares(design: Design, logs: Floats) -> LinearFit | None:
    df = logs.size - design.rows.shape[1]
    if df < 1:
        return None
    # designs here are of 0 and 1 or standardised: the normal equations lose nothing that matters
    inverse = np.asarray(np.linalg.inv(design.gram()), dtype=np.float64)
    centre = float(logs.mean())
    coefficients = inverse @ design.collect(logs - centre) + centre * (inverse @ design.collect(np.ones_like(logs)))
    misfit = float(((logs - design.predict(coefficients)) ** 2).sum())
    sigma2 = misfit / df
    covariance = sigma2 * inverse
    return LinearFit(coefficients, covariance, sqrt(sigma2), float(df), misfit, design.rows.shape[1], logs.size)


def compare_nested(full: LinearFit | None, plain: LinearFit | None, more: int, method: str) -> OverallTest | None:
    """Test what `more` further coefficients explain: F by least squares, the likelihood ratio by likelihood.

    Where few pieces are counted, the ratio is turned into the F that it is without bounds,
    (e^(LR/n) − 1) · (n − p) / more.

    None where either has no fit, or nothing is left to judge the scatter by.
    """
    if full is None or plain is None or more < 1:
        return None
    if full.likelihood:
        statistic = max(0.0, plain.misfit - full.misfit)
        if full.df == inf:
            return OverallTest(method, statistic, (float(more),), beyond_chi2(statistic, more))
        statistic = expm1(min(statistic / full.n, 700.0)) * full.df / more
        return OverallTest(method, statistic, (float(more), full.df), beyond_f(statistic, more, full.df))
    if full.misfit <= 0:
        return None
    statistic = max(0.0, (plain.misfit - full.misfit) / more / (full.misfit / full.df))
    return OverallTest(method, statistic, (float(more), full.df), beyond_f(statistic, more, full.df))


def code(values: Sequence[str], levels: Sequence[str]) -> NDArray[np.intp]:
    """Return the place of each value among the levels."""
    places = {level: index for index, level in enumerate(levels)}
    return np.array([places[value] for value in values], dtype=np.intp)
