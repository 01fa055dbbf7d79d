"""Breaks that are bounds and not numbers: a normal model of logarithms by maximum likelihood (docs/method)."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import optimize, special

Floats = NDArray[np.float64]

_STEPS = 200
_STILL = 1e-11
_SHARPEST = 1e7
_LOG_ROOT_2PI = 0.5 * np.log(2 * np.pi)


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


def find_bounded(design: Floats, bounds: Bounds) -> NDArray[np.bool_]:
    """Return which pieces hold the maximum in place; the others' likelihood runs to 1 as a coefficient runs off.

    A group whose pieces all held has no largest likely value: its coefficient grows without end. In general there is a
    direction in which every break keeps its place while some bounds move away; all of them are found at once by a
    linear program (`scipy.optimize.linprog`).

    Parameters
    ----------
    design : (n, p), full rank; bounds : of n pieces.
    """
    up, down = np.isinf(bounds.upper), np.isinf(bounds.lower)
    free = up ^ down
    if not free.any():
        return ~(up & down)
    if _is_one_hot(design):
        group = np.asarray(design.argmax(axis=1), dtype=np.intp)
        count = np.bincount(group, minlength=design.shape[1])
        lost = (np.bincount(group, up, design.shape[1]) == count) | (np.bincount(group, down, design.shape[1]) == count)
        kept_in_groups: NDArray[np.bool_] = ~(lost[group] | (up & down))
        return kept_in_groups
    n_free, p = int(free.sum()), design.shape[1]
    sign = np.where(up[free], 1.0, -1.0)[:, None]
    fixed = design[~(up | down)]
    found = optimize.linprog(
        np.concatenate([np.zeros(p), -np.ones(n_free)]),
        A_ub=np.hstack([-sign * design[free], np.eye(n_free)]),
        b_ub=np.zeros(n_free),
        A_eq=np.hstack([fixed, np.zeros((fixed.shape[0], n_free))]) if fixed.size else None,
        b_eq=np.zeros(fixed.shape[0]) if fixed.size else None,
        bounds=[(None, None)] * p + [(0, 1)] * n_free,
        method="highs",
    )
    kept: NDArray[np.bool_] = ~(up & down)
    kept[np.flatnonzero(free)] = np.asarray(found.x)[p:] < 0.5
    return kept


def _is_one_hot(design: Floats) -> bool:
    return bool(((design == 0) | (design == 1)).all() and (design.sum(axis=1) == 1).all())


def fit_censored(design: Floats, bounds: Bounds) -> CensoredFit | None:
    """Fit a linear model with normal scatter to logarithms that are known or bounded.

    The likelihood is concave in β/σ and 1/σ (Olsen, Econometrica 46, 1978; Burridge, Biometrika 68, 1981), so that
    Newton's method with halved steps finds its one maximum.

    Parameters
    ----------
    design : (n, p), full rank over pieces that hold the maximum in place (see `find_bounded`).
    bounds : of the n logarithms.

    Returns
    -------
    CensoredFit; None where there is no maximum: the scatter runs to 0, or nothing tells it.
    """
    n, p = design.shape
    if n == 0 or p == 0:
        return None
    middle = np.where(np.isfinite(bounds.lower), bounds.lower, bounds.upper)
    both = np.isfinite(bounds.lower) & np.isfinite(bounds.upper)
    middle = np.where(both, (bounds.lower + np.where(both, bounds.upper, 0.0)) / 2, middle)
    # keeps the numbers near 0, whatever the unit; only where the model holds a constant
    gram = design.T @ design
    ones = np.linalg.lstsq(gram, design.sum(axis=0), rcond=None)[0]
    has_constant = float(np.abs(design @ ones - 1).max()) < 1e-9
    shift = float(middle.mean()) if has_constant else 0.0
    scale = float(middle.std()) or 1.0
    low, high = (bounds.lower - shift) / scale, (bounds.upper - shift) / scale
    start = np.linalg.lstsq(gram, design.T @ ((middle - shift) / scale), rcond=None)[0]
    residual = (middle - shift) / scale - design @ start
    gamma = 1.0 / max(float(np.sqrt((residual**2).mean())), 0.05)
    theta = np.concatenate([start * gamma, [gamma]])
    value, gradient, hessian = _value_and_slopes(design, low, high, bounds.exact, theta)
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
                new = _value_and_slopes(design, low, high, bounds.exact, trial)
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
    return _to_fit(design, (low, high), bounds.exact, theta, value, np.asarray(shift * ones, dtype=float), scale)


def _value_and_slopes(
    design: Floats, low: Floats, high: Floats, exact: NDArray[np.bool_], theta: Floats
) -> tuple[float, Floats, Floats]:
    """Return log-likelihood, gradient and Hessian in β/σ and 1/σ, of the standardised logarithms."""
    eta, gamma = design @ theta[:-1], theta[-1]
    value, by_low, by_high, low_low, high_high, cross = _pieces(low, high, exact, eta, gamma)
    finite_low, finite_high = np.where(np.isfinite(low), low, 0.0), np.where(np.isfinite(high), high, 0.0)
    by_eta = -(by_low + by_high)
    eta_eta = low_low + high_high + 2 * cross
    eta_gamma = -(low_low * finite_low + high_high * finite_high + cross * (finite_low + finite_high))
    gamma_gamma = (low_low * finite_low**2 + high_high * finite_high**2 + 2 * cross * finite_low * finite_high).sum()
    count = int(exact.sum())
    total = float(value.sum() + count * np.log(gamma))
    gradient = np.concatenate(
        [design.T @ by_eta, [(by_low * finite_low + by_high * finite_high).sum() + count / gamma]]
    )
    side = design.T @ eta_gamma
    hessian = np.block(
        [[design.T @ (eta_eta[:, None] * design), side[:, None]], [side[None, :], gamma_gamma - count / gamma**2]]
    )
    return total, gradient, hessian


def _pieces(
    low: Floats, high: Floats, exact: NDArray[np.bool_], eta: Floats, gamma: float
) -> tuple[Floats, Floats, Floats, Floats, Floats, Floats]:
    """Return each piece's log-likelihood and its slopes by z_low and z_high, z = γ y − η (breaks by z_low only)."""
    z_low, z_high = gamma * low - eta, gamma * high - eta
    value = np.empty_like(eta)
    by_low, by_high = np.zeros_like(eta), np.zeros_like(eta)
    low_low, high_high, cross = np.zeros_like(eta), np.zeros_like(eta), np.zeros_like(eta)
    value[exact] = -0.5 * z_low[exact] ** 2 - _LOG_ROOT_2PI
    by_low[exact] = -z_low[exact]
    low_low[exact] = -1.0
    open_ = ~exact
    if open_.any():
        a, b = z_low[open_], z_high[open_]
        chance = _log_between(a, b)
        at_a, at_b = _density_over(a, chance), _density_over(b, chance)
        safe_a, safe_b = np.where(np.isfinite(a), a, 0.0), np.where(np.isfinite(b), b, 0.0)
        value[open_] = chance
        by_low[open_], by_high[open_] = -at_a, at_b
        low_low[open_] = safe_a * at_a - at_a**2
        high_high[open_] = -safe_b * at_b - at_b**2
        cross[open_] = at_a * at_b
    return value, by_low, by_high, low_low, high_high, cross


def _log_between(a: Floats, b: Floats) -> Floats:
    """Return log(Φ(b) − Φ(a)), in whichever tail keeps the digits."""
    flip = a > 0
    low, high = np.where(flip, -b, a), np.where(flip, -a, b)
    log_high, log_low = special.log_ndtr(high), special.log_ndtr(low)
    with np.errstate(divide="ignore"):
        found: Floats = log_high + np.log1p(-np.exp(np.minimum(log_low - log_high, 0.0)))
    return found


def _density_over(z: Floats, log_chance: Floats) -> Floats:
    """Return φ(z) over a probability given by its logarithm; 0 at infinity."""
    square = np.where(np.isfinite(z), z, 0.0) ** 2
    with np.errstate(over="ignore"):
        density = np.exp(-0.5 * square - _LOG_ROOT_2PI - log_chance)
    found: Floats = np.where(np.isfinite(z), density, 0.0)
    return found


def _to_fit(
    design: Floats,
    ends: tuple[Floats, Floats],
    exact: NDArray[np.bool_],
    theta: Floats,
    value: float,
    shift: Floats,
    scale: float,
) -> CensoredFit | None:
    """Return the fit in β and log σ, its covariance from the observed information there."""
    low, high = ends
    gamma = theta[-1]
    sigma = 1.0 / gamma
    eta = design @ theta[:-1]
    _, by_low, by_high, low_low, high_high, cross = _pieces(low, high, exact, eta, gamma)
    # z = (y − xβ)/σ: ∂z/∂β = −x/σ, ∂z/∂log σ = −z, ∂²z/∂(log σ)² = z, ∂²z/∂β ∂log σ = x/σ
    z_low = np.where(np.isfinite(low), gamma * low - eta, 0.0)
    z_high = np.where(np.isfinite(high), gamma * high - eta, 0.0)
    curve = low_low + high_high + 2 * cross
    side = (low_low * z_low + high_high * z_high + cross * (z_low + z_high) + by_low + by_high) / sigma
    corner = (
        low_low * z_low**2 + high_high * z_high**2 + 2 * cross * z_low * z_high + by_low * z_low + by_high * z_high
    ).sum()
    side = design.T @ side
    information = -np.block([[design.T @ (curve[:, None] * design) / sigma**2, side[:, None]], [side[None, :], corner]])
    try:
        np.linalg.cholesky(information)
        covariance = np.linalg.inv(information)
    except np.linalg.LinAlgError:
        return None
    return CensoredFit(
        coefficients=theta[:-1] * sigma * scale + shift,
        covariance=covariance[:-1, :-1] * scale**2,
        sigma=sigma * scale,
        log_likelihood=value - int(exact.sum()) * float(np.log(scale)),
    )
