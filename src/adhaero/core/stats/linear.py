"""One linear model of logarithms, by least squares where every piece broke, by likelihood where some are bounds."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf, sqrt

import numpy as np
from numpy.typing import NDArray
from scipy import linalg, stats

from adhaero.core.stats.censored import Bounds, find_bounded, fit_censored

Floats = NDArray[np.float64]

_RANK = 1e-11


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
    sigma : scatter of the logarithms; df : its degrees of freedom, infinite by likelihood.
    misfit : residual sum of squares, or −2 log-likelihood.
    columns : how many coefficients the pieces tell.
    """

    coefficients: Floats
    covariance: Floats
    sigma: float
    df: float
    misfit: float
    columns: int


def one_hot(codes: NDArray[np.intp], count: int) -> Floats:
    """Return a column of 0 and 1 for each of `count` values."""
    design = np.zeros((codes.size, count))
    design[np.arange(codes.size), codes] = 1.0
    return design


def independent(design: Floats) -> Floats:
    """Return independent columns of a design that span the same (pivoted Cholesky of XᵀX, `scipy.linalg.lapack`)."""
    gram = design.T @ design
    _, order, rank, _ = linalg.lapack.dpstrf(gram, tol=_RANK * float(gram.diagonal().max()))
    return np.asarray(design[:, np.sort(order[:rank] - 1)], dtype=np.float64)


def has_full_rank(design: Floats) -> bool:
    """Return whether the columns of a design are independent."""
    gram = design.T @ design
    return bool(np.linalg.matrix_rank(gram, hermitian=True, tol=_RANK * float(gram.diagonal().max())) == len(gram))


def fit_linear(design: Floats, bounds: Bounds) -> LinearFit | None:
    """Fit a model whose design has full rank.

    Returns
    -------
    LinearFit; None where there is nothing left to judge the scatter by, or the likelihood has no maximum. By
    likelihood, coefficients that run off to infinity are NaN, and pieces that only they concern add nothing.
    """
    if bounds.exact.all():
        return _fit_least_squares(design, bounds.lower)
    kept = find_bounded(design, bounds)
    columns = np.arange(design.shape[1])
    inner = design
    if not kept.all():
        bounds = bounds.take(kept)
        columns = np.flatnonzero((design[kept] != 0).any(axis=0))
        inner = design[np.ix_(kept, columns)]
    if not has_full_rank(inner):
        return None
    fit = fit_censored(inner, bounds)
    if fit is None:
        return None
    p = design.shape[1]
    coefficients, covariance = np.full(p, np.nan), np.full((p, p), np.nan)
    coefficients[columns] = fit.coefficients
    covariance[np.ix_(columns, columns)] = fit.covariance
    return LinearFit(coefficients, covariance, fit.sigma, inf, -2 * fit.log_likelihood, columns.size)


def _fit_least_squares(design: Floats, logs: Floats) -> LinearFit | None:
    df = logs.size - design.shape[1]
    if df < 1:
        return None
    # designs here are of 0 and 1 or standardised: the normal equations lose nothing that matters
    inverse = np.asarray(np.linalg.inv(design.T @ design), dtype=np.float64)
    centre = float(logs.mean())
    coefficients = inverse @ (design.T @ (logs - centre)) + centre * (inverse @ design.sum(axis=0))
    misfit = float(((logs - design @ coefficients) ** 2).sum())
    sigma2 = misfit / df
    covariance = sigma2 * inverse
    return LinearFit(coefficients, covariance, sqrt(sigma2), float(df), misfit, design.shape[1])


def compare_nested(full: LinearFit | None, plain: LinearFit | None, more: int, method: str) -> OverallTest | None:
    """Test what `more` further coefficients explain: F by least squares, the likelihood ratio by likelihood.

    None where either has no fit, or nothing is left to judge the scatter by.
    """
    if full is None or plain is None or more < 1:
        return None
    if full.df == inf:
        statistic = max(0.0, plain.misfit - full.misfit)
        return OverallTest(method, statistic, (float(more),), float(stats.chi2.sf(statistic, more)))
    if full.misfit <= 0:
        return None
    statistic = max(0.0, (plain.misfit - full.misfit) / more / (full.misfit / full.df))
    return OverallTest(method, statistic, (float(more), full.df), float(stats.f.sf(statistic, more, full.df)))


def code(values: Sequence[str], levels: Sequence[str]) -> NDArray[np.intp]:
    """Return the place of each value among the levels."""
    places = {level: index for index, level in enumerate(levels)}
    return np.array([places[value] for value in values], dtype=np.intp)
