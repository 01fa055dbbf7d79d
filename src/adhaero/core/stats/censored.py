"""Breaks that are bounds and not numbers: a normal model of logarithms by maximum likelihood (docs/method)."""

from collections.abc import Callable
from dataclasses import dataclass
from math import log

import numpy as np
from numpy.typing import NDArray

from adhaero.core.stats.design import Design
from adhaero.core.stats.scatter import NORMAL, Floats, Scatter

_STEPS = 200
_STILL = 1e-11
_SHARPEST = 1e7


@dataclass(frozen=True)
class Bounds:
    """Between what each logarithm lies: the same number twice for a break, an infinity where nothing is known."""

    lower: Floats
    upper: Floats

    @property
    def exact(self) -> NDArray[np.bool_]:
        """Return which are plain breaks."""
        known: NDArray[np.bool_] = self.lower == self.upper
        return known

    def take(self, chosen: NDArray[np.bool_]) -> "Bounds":
        """Return the bounds of some of the pieces."""
        return Bounds(self.lower[chosen], self.upper[chosen])


@dataclass(frozen=True)
class CensoredFit:
    """The maximum of the likelihood.

    Attributes
    ----------
    coefficients : (p,) of the columns of the design.
    covariance : (p, p), from the observed information of all parameters, log σ included.
    sigma : scatter of the logarithms (maximum likelihood).
    log_likelihood : at the maximum, breaks by their density on the scale of logarithms.
    """

    coefficients: Floats
    covariance: Floats
    sigma: float
    log_likelihood: float


def find_bounded(design: Design, bounds: Bounds) -> NDArray[np.bool_]:
    """Return which pieces hold the maximum in place; the others' likelihood runs to 1 as a coefficient runs off.

    A group whose pieces all held has no largest likely value: its coefficient grows without end. In general there is a
    direction in which every break keeps its place while some bounds move away; all of them are found at once by a
    linear program (`scipy.optimize.linprog`), in which pieces of one row bounded to one side are one.

    Parameters
    ----------
    design : full rank; bounds : of its n pieces.
    """
    up, down = np.isinf(bounds.upper), np.isinf(bounds.lower)
    free = up ^ down
    if not free.any():
        return ~(up & down)
    if _is_one_hot(design.rows):
        group = design.rows.argmax(axis=1)[design.cells]
        sizes = [np.bincount(group, one, design.rows.shape[1]) for one in (None, up, down)]
        lost = (sizes[1] == sizes[0]) | (sizes[2] == sizes[0])
        kept_in_groups: NDArray[np.bool_] = ~(lost[group] | (up & down))
        return kept_in_groups
    from scipy import optimize  # loaded where it is needed: a command starts at once

    same, place = np.unique(2 * design.cells[free] + up[free], return_inverse=True)
    sign = np.where(same % 2 == 1, 1.0, -1.0)[:, None]
    fixed = design.rows[np.unique(design.cells[~(up | down)])]
    found = optimize.linprog(
        np.concatenate([np.zeros(fixed.shape[1]), -np.ones(same.size)]),
        A_ub=np.hstack([-sign * design.rows[same // 2], np.eye(same.size)]),
        b_ub=np.zeros(same.size),
        A_eq=np.hstack([fixed, np.zeros((fixed.shape[0], same.size))]) if fixed.size else None,
        b_eq=np.zeros(fixed.shape[0]) if fixed.size else None,
        bounds=[(None, None)] * fixed.shape[1] + [(0, 1)] * same.size,
        method="highs",
    )
    kept: NDArray[np.bool_] = ~(up & down)
    kept[np.flatnonzero(free)] = (np.asarray(found.x)[fixed.shape[1] :] < 0.5)[place]
    return kept


def _is_one_hot(rows: Floats) -> bool:
    return bool(((rows == 0) | (rows == 1)).all() and (rows.sum(axis=1) == 1).all())


def fit_censored(design: Design, bounds: Bounds) -> CensoredFit | None:
    """Fit a linear model with normal scatter to logarithms that are known or bounded.

    Parameters
    ----------
    design : full rank over pieces that hold the maximum in place (see `find_bounded`).
    bounds : of the n logarithms.

    Returns
    -------
    CensoredFit; None where there is no maximum: the scatter runs to 0, or nothing tells it.
    """
    if design.cells.size == 0 or design.rows.shape[1] == 0:
        return None
    middle = np.where(np.isfinite(bounds.lower), bounds.lower, bounds.upper)
    both = np.isfinite(bounds.lower) & np.isfinite(bounds.upper)
    middle = np.where(both, (bounds.lower + np.where(both, bounds.upper, 0.0)) / 2, middle)
    # keeps the numbers near 0, whatever the unit; only where the model holds a constant
    gram = design.gram()
    ones = np.linalg.lstsq(gram, design.collect(np.ones_like(middle)), rcond=None)[0]
    has_constant = float(np.abs(design.rows @ ones - 1).max()) < 1e-9
    shift = float(middle.mean()) if has_constant else 0.0
    scale = float(middle.std()) or 1.0
    low, high = (bounds.lower - shift) / scale, (bounds.upper - shift) / scale
    start: Floats = np.linalg.lstsq(gram, design.collect((middle - shift) / scale), rcond=None)[0].astype(np.float64)
    residual = (middle - shift) / scale - design.predict(start)
    gamma = 1.0 / max(float(np.sqrt((residual**2).mean())), 0.05)
    theta = np.concatenate([start * gamma, [gamma]])
    top = climb(lambda at: value_and_slopes(design, Bounds(low, high), at), theta)
    if top is None:
        return None
    information = _find_information(top.theta, top.gradient, top.hessian)
    try:
        np.linalg.cholesky(information)
    except np.linalg.LinAlgError:
        return None
    sigma = scale / float(top.theta[-1])
    return CensoredFit(
        coefficients=top.theta[:-1] * sigma + shift * ones,
        covariance=np.asarray(np.linalg.inv(information)[:-1, :-1] * scale**2, dtype=np.float64),
        sigma=sigma,
        log_likelihood=top.value - int(bounds.exact.sum()) * log(scale),
    )


Slopes = Callable[[Floats], tuple[float, Floats, Floats]]


@dataclass(frozen=True)
class Top:
    """Where a log-likelihood is largest, what it is there, and its slopes."""

    theta: Floats
    value: float
    gradient: Floats
    hessian: Floats


def climb(slopes: Slopes, theta: Floats) -> Top | None:
    """Return the top of a concave log-likelihood; None where it has no maximum.

    The likelihood of bounds is concave in β/σ and 1/σ (Olsen, Econometrica 46, 1978; Burridge, Biometrika 68, 1981), so
    that Newton's method with halved steps finds its one maximum. The last parameter, 1/σ, stays above 0.

    Parameters
    ----------
    slopes : the log-likelihood, its gradient and its Hessian at given parameters; theta : (p,) where to begin.
    """
    value, gradient, hessian = slopes(theta)
    for _ in range(_STEPS):
        try:
            step = np.linalg.solve(hessian, gradient)
        except np.linalg.LinAlgError:
            return None
        rise = float(-gradient @ step)
        if abs(rise) < _STILL * (1 + abs(value)) and rise < _STILL:
            break
        length = 1.0
        while True:
            trial = theta - length * step
            if trial[-1] > 0:
                # a step too far may overflow; it is halved like any other that leads down
                with np.errstate(over="ignore", invalid="ignore", divide="ignore"):
                    new = slopes(trial)
                if new[0] >= value - 1e-13 * (1 + abs(value)):
                    break
            length /= 2
            if length < 1e-12:
                return None
        theta, (value, gradient, hessian) = trial, new
        if theta[-1] > _SHARPEST:
            return None
    else:
        return None
    return Top(theta, value, gradient, hessian)


def value_and_slopes(
    design: Design, bounds: Bounds, theta: Floats, law: Scatter = NORMAL
) -> tuple[float, Floats, Floats]:
    """Return log-likelihood, gradient and Hessian in β/σ and 1/σ.

    Parameters
    ----------
    bounds : of the n logarithms, near 0 and 1 in size; theta : (p + 1,).
    """
    exact, eta, gamma = bounds.exact, design.predict(theta[:-1]), float(theta[-1])
    by_eta, eta_eta, eta_gamma = np.empty_like(eta), np.empty_like(eta), np.empty_like(eta)
    # z = γ y − η
    logs = bounds.lower[exact]
    value, slope, curve = law.log_density(gamma * logs - eta[exact])
    by_eta[exact], eta_eta[exact], eta_gamma[exact] = -slope, curve, -curve * logs
    total = float(value.sum()) + logs.size * log(gamma)
    by_gamma = float(slope @ logs) + logs.size / gamma
    gamma_gamma = float(curve @ logs**2) - logs.size / gamma**2
    if logs.size < eta.size:
        open_ = ~exact
        low, high = bounds.lower[open_], bounds.upper[open_]
        z_low, z_high = gamma * low - eta[open_], gamma * high - eta[open_]
        chance = law.log_between(z_low, z_high)
        (at_low, slope_low), (at_high, slope_high) = (_density_over(z, chance, law) for z in (z_low, z_high))
        low, high = np.where(np.isfinite(low), low, 0.0), np.where(np.isfinite(high), high, 0.0)
        low_low, high_high, cross = -slope_low * at_low - at_low**2, slope_high * at_high - at_high**2, at_low * at_high
        by_eta[open_] = at_low - at_high
        eta_eta[open_] = low_low + high_high + 2 * cross
        eta_gamma[open_] = -(low_low * low + high_high * high + cross * (low + high))
        total += float(chance.sum())
        by_gamma += float(at_high @ high - at_low @ low)
        gamma_gamma += float(low_low @ low**2 + high_high @ high**2 + 2 * (cross @ (low * high)))
    hessian = _border(design.gram(eta_eta), design.collect(eta_gamma), gamma_gamma)
    return total, np.append(design.collect(by_eta), by_gamma), hessian


def _border(inner: Floats, side: Floats, corner: float) -> Floats:
    """Return a symmetric matrix with one more row and column."""
    found = np.empty((side.size + 1, side.size + 1))
    found[:-1, :-1], found[-1, :-1], found[:-1, -1], found[-1, -1] = inner, side, side, corner
    return found


def _density_over(z: Floats, log_chance: Floats, law: Scatter) -> tuple[Floats, Floats]:
    """Return the density at z over a chance given by its logarithm (0 at infinity), and the slope of its logarithm."""
    finite = np.isfinite(z)
    log_density, slope, _ = law.log_density(np.where(finite, z, 0.0))
    with np.errstate(over="ignore", invalid="ignore"):
        density = np.exp(log_density - log_chance)
    return np.where(finite, density, 0.0), slope


def _find_information(theta: Floats, gradient: Floats, hessian: Floats) -> Floats:
    """Return the observed information of β and log σ: the Hessian in β/σ and 1/σ, by the chain rule."""
    gamma, coefficients = theta[-1], theta[:-1] / theta[-1]
    turn = _border(gamma * np.eye(coefficients.size), -gamma * coefficients, -gamma)
    turn[-1, :-1] = 0.0
    bend = _border(
        np.zeros((coefficients.size, coefficients.size)),
        -gamma * gradient[:-1],
        gamma * float(gradient[:-1] @ coefficients + gradient[-1]),
    )
    found: Floats = -(turn.T @ hessian @ turn + bend)
    return found
