"""The low end by a second opinion: a Weibull distribution fitted to one set, bounds counted as bounds."""

from dataclasses import dataclass
from functools import partial
from math import exp, log, log1p, sqrt

import numpy as np

from adhaero.core.stats.censored import Bounds, Slopes, Top, climb, value_and_slopes
from adhaero.core.stats.design import constant
from adhaero.core.stats.laws import find_chi2
from adhaero.core.stats.scatter import SMALLEST_EXTREME, Floats

LOW = 0.05
_STEPS = 2000
_STILL = 1e-10
_MOST, _CLOSE = 60, 1e-6


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
    shift, scale = float(exact.mean()), float(exact.std())
    standard = Bounds((bounds.lower - shift) / scale, (bounds.upper - shift) / scale)
    one = constant(standard.lower.size)

    def slopes(theta: Floats) -> tuple[float, Floats, Floats]:
        return value_and_slopes(one, standard, theta, SMALLEST_EXTREME)

    top = climb(slopes, np.array([0.45, 1.0]) / 0.78)
    if top is None:
        return None
    eta, gamma = top.theta
    ends = [_find_end(slopes, top, side) for side in (-1, 1)]
    return Weibull(
        n=bounds.lower.size,
        shape=gamma / scale,
        scale=exp(shift + scale * eta / gamma),
        low=exp(shift + scale * (eta + _DEEP) / gamma),
        low_ci95=(_from_standard(ends[0], shift, scale), _from_standard(ends[1], shift, scale)),
    )


_DEEP = log(-log1p(-LOW))


def _from_standard(at: float | None, shift: float, scale: float) -> float | None:
    return None if at is None else exp(shift + scale * at)


def _find_end(slopes: Slopes, top: Top, side: int) -> float | None:
    """Return where the profile likelihood of the low point, (η + D) / γ, has fallen by χ²/2; None where it never does.

    Newton's method on the root of twice the fall, which is nearly straight along the point, from where a quadratic
    likelihood would end.
    """
    (eta, gamma), reach = top.theta, sqrt(find_chi2(0.95, 1))
    low = (eta + _DEEP) / gamma
    turn = np.array([1.0, -low]) / gamma
    away = reach * sqrt(float(turn @ np.linalg.solve(-top.hessian, turn)))
    for _ in range(_MOST):
        at = low + side * away
        # held there, η = γ·at − D: one parameter is left
        found = climb(partial(_along, slopes, at), np.array([gamma]))
        if found is None:
            return None
        gamma = float(found.theta[0])
        fall = sqrt(2 * max(top.value - found.value, 0.0))
        steep = -side * float(slopes(np.array([gamma * at - _DEEP, gamma]))[1][0]) * gamma / fall if fall else 0.0
        further = (reach - fall) / steep if steep > 0 else away
        if abs(further) < _CLOSE * away:
            return float(at)
        away += min(max(further, -away / 2), 2 * away)
    return None


def _along(slopes: Slopes, at: float, theta: Floats) -> tuple[float, Floats, Floats]:
    """Return the likelihood and its slopes with the low point held where it is."""
    value, gradient, hessian = slopes(np.array([theta[0] * at - _DEEP, theta[0]]))
    turn = np.array([at, 1.0])
    return value, np.array([gradient @ turn]), np.array([[turn @ hessian @ turn]])


def estimate_steps(bounds: Bounds) -> list[tuple[float, float]]:
    """Return the distribution without a shape, to be plotted beside it: at each broken logarithm the share below.

    Self-consistency on the intervals between bounds (Turnbull, J. R. Stat. Soc. B 38, 1976); with pieces that held only
    it is the product-limit estimate.
    """
    points = np.unique(np.concatenate([bounds.lower, bounds.upper]))
    finite = points[np.isfinite(points)]
    # the cells, upwards: below the first finite point, then each point itself and the gap above it
    gaps = np.append((finite[:-1] + finite[1:]) / 2, finite[-1] + 1.0)
    cells = np.concatenate([[finite[0] - 1e-9], np.column_stack([finite, gaps]).ravel()])
    # each piece broke somewhere from its first cell to before its end
    exact = bounds.exact
    first = np.searchsorted(cells, bounds.lower, side="right") - exact
    end = np.searchsorted(cells, bounds.upper, side="right")

    def stack(weights: Floats) -> Floats:
        edges = np.bincount(first, weights, cells.size + 1) - np.bincount(end, weights, cells.size + 1)
        found: Floats = np.cumsum(edges)[:-1]
        return found

    mass = (stack(np.ones(exact.size)) > 0.5).astype(np.float64)
    mass /= mass.sum()
    for _ in range(_STEPS):
        total = np.append(0.0, np.cumsum(mass))
        new = mass * stack(1 / (total[end] - total[first])) / exact.size
        if float(np.abs(new - mass).max()) < _STILL:
            break
        mass = new
    below = np.cumsum(mass) - mass / 2
    broke = np.unique(bounds.lower[exact])
    return list(zip(broke.tolist(), below[np.searchsorted(cells, broke)].tolist(), strict=True))


def stretch(share: float) -> float:
    """Return how high a share of weaker pieces stands where a Weibull distribution is a line: ln(−ln(1 − share))."""
    return log(-log1p(-share))


def trace_weibull(fit: Weibull, share: float) -> float:
    """Return the strength that a share of the pieces stays below."""
    return fit.scale * exp(stretch(share) / fit.shape)


def say_weibull(level: str, fit: Weibull | None, unit: str) -> str:
    """Return the low end of a set in words; `unit` in words, or the name of the column."""
    if fit is None:
        return f"{level}: too few pieces that broke at different strengths."
    low, high = fit.low_ci95
    ends = f"{'far below' if low is None else f'{low:.3g}'} to {'far above' if high is None else f'{high:.3g}'}"
    return f"{level}: 5 in 100 break below {fit.low:.3g} {unit} ({ends}); shape {fit.shape:.2g}, scale {fit.scale:.3g}."
