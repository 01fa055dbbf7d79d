"""The low end by a second opinion: a Weibull distribution fitted to one set, bounds counted as bounds."""

from dataclasses import dataclass
from math import exp, log

import numpy as np
from scipy import optimize, stats

from adhaero.core.stats.censored import Bounds, Floats

LOW = 0.05
_STEPS = 2000
_STILL = 1e-10


@dataclass(frozen=True)
class Weibull:
    """A fitted Weibull distribution.

    Attributes
    ----------
    shape, scale : k, and the strength that 63 % of pieces stay below.
    low, low_ci95 : the strength that 5 % of pieces stay below, and its 95 % interval by profile likelihood (None at an
        end that the pieces leave open).
    """

    n: int
    shape: float
    scale: float
    low: float
    low_ci95: tuple[float | None, float | None]


def fit_weibull(bounds: Bounds) -> Weibull | None:
    """Fit a Weibull distribution by maximum likelihood to the bounds of logarithms of one set.

    Returns
    -------
    Weibull; None where there is no maximum: fewer than three pieces, or fewer than two different breaks.
    """
    exact = bounds.lower[bounds.exact]
    if bounds.lower.size < 3 or np.unique(exact).size < 2:
        return None
    spread = float(exact.std(ddof=1)) or 0.1
    start = np.array([float(exact.mean()) + 0.45 * spread, log(0.78 * spread)])
    fit = optimize.minimize(
        _misfit, start, args=(bounds,), method="Nelder-Mead", options={"xatol": 1e-7, "fatol": 1e-10}
    )
    if not fit.success or not -12 < fit.x[1] < 6:
        return None
    centre, log_sigma = (float(one) for one in fit.x)
    low = centre + exp(log_sigma) * _DEEP
    limit = float(fit.fun) + float(stats.chi2.ppf(0.95, 1)) / 2
    ends = [_find_end(bounds, low, log_sigma, limit, side) for side in (-1, 1)]
    return Weibull(
        n=bounds.lower.size,
        shape=exp(-log_sigma),
        scale=exp(centre),
        low=exp(low),
        low_ci95=(None if ends[0] is None else exp(ends[0]), None if ends[1] is None else exp(ends[1])),
    )


_DEEP = log(-log(1 - LOW))


def _misfit(theta: Floats, bounds: Bounds) -> float:
    """Return minus the log-likelihood of logarithms by the smallest extreme value, location and log scale given."""
    centre, sigma = theta[0], np.exp(np.clip(theta[1], -30, 30))
    z_low, z_high = (bounds.lower - centre) / sigma, (bounds.upper - centre) / sigma
    exact = bounds.exact
    with np.errstate(over="ignore", divide="ignore", invalid="ignore"):
        broke = z_low[exact] - np.exp(z_low[exact]) - np.log(sigma)
        # survival above the lower bound, less that above the upper one
        survive, beyond = -np.exp(z_low[~exact]), -np.exp(z_high[~exact])
        bound = survive + np.log(-np.expm1(beyond - survive))
    total = float(broke.sum() + bound.sum())
    return -total if np.isfinite(total) else 1e300


def _find_end(bounds: Bounds, low: float, log_sigma: float, limit: float, side: int) -> float | None:
    """Return where the profile likelihood of the low point falls to its limit."""
    sigma = log_sigma

    def profile(at: float) -> float:
        nonlocal sigma
        found = optimize.minimize_scalar(
            lambda s: _misfit(np.array([at - np.exp(s) * _DEEP, s]), bounds),
            bracket=(sigma - 0.1, sigma + 0.1),
            tol=1e-7,
        )
        sigma = float(found.x)
        return float(found.fun) - limit

    step = exp(log_sigma) / 2
    near = low
    for _ in range(60):
        far = near + side * step
        if profile(far) > 0:
            return float(optimize.brentq(profile, min(near, far), max(near, far), xtol=1e-6))
        near, step = far, step * 1.5
    return None


def estimate_steps(bounds: Bounds) -> list[tuple[float, float]]:
    """Return the distribution without a shape, to be plotted beside it: at each broken logarithm the share below.

    Self-consistency on the intervals between bounds (Turnbull, J. R. Stat. Soc. B 38, 1976); with pieces that held only
    it is the product-limit estimate.
    """
    points = np.unique(np.concatenate([bounds.lower, bounds.upper]))
    finite = points[np.isfinite(points)]
    # the cells: each finite point itself, and the gap above each of them, from below the first
    at = np.concatenate([[finite[0] - 1.0], np.repeat(finite, 2)])
    is_gap = np.arange(at.size) % 2 == 0
    where = np.concatenate(
        [
            [finite[0] - 1e-9],
            np.ravel(np.column_stack([finite, np.append((finite[:-1] + finite[1:]) / 2, finite[-1] + 1.0)])),
        ]
    )
    exact = bounds.exact
    inside = np.where(
        exact[:, None],
        (where == bounds.lower[:, None]) & ~is_gap,
        (where > bounds.lower[:, None]) & (where <= bounds.upper[:, None]),
    )
    mass = inside.any(axis=0).astype(float)
    mass /= mass.sum()
    for _ in range(_STEPS):
        share = inside * mass
        new = (share / share.sum(axis=1, keepdims=True)).mean(axis=0)
        if float(np.abs(new - mass).max()) < _STILL:
            break
        mass = new
    below = np.cumsum(mass) - mass / 2
    broke = np.unique(bounds.lower[exact])
    return [(float(one), float(below[np.flatnonzero((where == one) & ~is_gap)[0]])) for one in broke]


def say_weibull(level: str, fit: Weibull | None, unit: str) -> str:
    """Return the low end of a set in words; `unit` in words, or the name of the column."""
    if fit is None:
        return f"{level}: too few pieces that broke at different strengths."
    low, high = fit.low_ci95
    ends = f"{'far below' if low is None else f'{low:.3g}'} to {'far above' if high is None else f'{high:.3g}'}"
    return f"{level}: 5 in 100 break below {fit.low:.3g} {unit} ({ends}); shape {fit.shape:.2g}, scale {fit.scale:.3g}."
