"""Sets on boards that do not connect: boards random, by restricted likelihood, with Kenward and Roger's variance.

log y = set + u_board + e, u and e normal with scatters τ and σ. Pieces of a board share one number, so that every
matrix here is one of sets by boards, and its products follow from two eigenvalues a board: that of the board's mean,
and that of what differs within it (docs/method).
"""

from collections.abc import Callable
from dataclasses import dataclass
from math import inf, log, sqrt

import numpy as np

from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.design import Codes
from adhaero.core.stats.own_scatter import interval_slopes
from adhaero.core.stats.scatter import Floats

_NEWTON = 100
# the logarithm of the least scatter, in that of the residuals, that is taken for one
_SHARPEST = -9.0
_SINGULAR = 1e14
_WALL = 1e10


@dataclass(frozen=True)
class RandomBoards:
    """Sets on random boards.

    Attributes
    ----------
    effects, covariance : (k,), (k, k) of the sets, adjusted for few boards (Φ_A; with bounds C).
    boards, joint : (b,) what is predicted of each board, and the (k + b, k + b) covariance of sets and boards.
    sigma, tau : scatter within and between boards.
    """

    effects: Floats
    covariance: Floats
    boards: Floats
    joint: Floats
    sigma: float
    tau: float
    _phi: Floats
    _turned: Floats
    _weights: Floats

    def find_df(self, weights: Floats) -> Floats:
        """Return Kenward and Roger's degrees of freedom of (m, k) weighted sums of the sets."""
        moved = np.stack([((weights @ one) * weights).sum(axis=1) for one in self._turned])
        with np.errstate(divide="ignore", invalid="ignore"):
            relative = moved / ((weights @ self._phi) * weights).sum(axis=1)
            found: Floats = 2 / ((relative.T @ self._weights) * relative.T).sum(axis=1)
        return found

    def test_equal(self) -> tuple[float, float]:
        """Return F of all sets equal and its second degrees of freedom (Kenward and Roger, Biometrics 53, 1997)."""
        k = self.effects.size
        q = k - 1
        contrasts = np.hstack([np.ones((q, 1)), -np.eye(q)])
        inner = np.linalg.inv(contrasts @ self._phi @ contrasts.T)
        moved = [inner @ (contrasts @ one @ contrasts.T) for one in self._turned]
        first = sum(
            self._weights[i, j] * float(np.trace(moved[i])) * float(np.trace(moved[j]))
            for i in range(2)
            for j in range(2)
        )
        second = sum(self._weights[i, j] * float(np.trace(moved[i] @ moved[j])) for i in range(2) for j in range(2))
        spread = (first + 6 * second) / (2 * q)
        g = ((q + 1) * first - (q + 4) * second) / ((q + 2) * second)
        bottom = 3 * q + 2 * (1 - g)
        c1, c2, c3 = g / bottom, (q - g) / bottom, (q + 2 - g) / bottom
        v0, v1, v2 = 1 + c1 * spread, 1 - c2 * spread, 1 - c3 * spread
        ratio = (1 - second / q) / v1 if abs(v1) > 1e-14 else 1.0
        rho = ratio**2 * v0 / v2 / q if v2 != 0 else inf  # then four degrees of freedom are left
        df = 4 + (q + 2) / (q * rho - 1)
        scale = 1.0 if abs(df - 2) < 1e-2 else df * (1 - second / q) / (df - 2)
        shift = contrasts @ self.effects
        wald = float(shift @ np.linalg.solve(contrasts @ self.covariance @ contrasts.T, shift))
        return scale * wald / q, df


@dataclass(frozen=True)
class _Counts:
    """How many pieces of each set lie on each board, (k, b), and by set and board."""

    cells: Floats
    of_set: Floats
    of_board: Floats

    def product(self, mean: Floats, within: float) -> Floats:
        """Return XᵀMX of a matrix M with the eigenvalues `mean` (b,) of the boards' means and `within` boards."""
        shared = (self.cells * ((mean - within) / self.of_board)) @ self.cells.T
        found: Floats = within * np.diag(self.of_set) + shared
        return found

    def trace(self, mean: Floats, within: float) -> float:
        """Return the trace of such a matrix."""
        return float(mean.sum() + within * (self.of_board - 1).sum())


def fit_random(bounds: Bounds, sets: Codes, boards: Codes, k: int, count: int) -> RandomBoards | None:
    """Fit sets on random boards.

    Parameters
    ----------
    bounds : of n logarithms; sets, boards : (n,) whole numbers from 0, all of k sets and `count` boards present.

    Returns
    -------
    RandomBoards; None where the scatter runs to 0.

    Notes
    -----
    Without bounds restricted maximum likelihood, τ̃ = 0 where that is likeliest. With bounds σ̃ and τ̃ maximise its
    Laplace approximation, which is the same without bounds.
    """
    cells = np.zeros((k, count))
    np.add.at(cells, (sets, boards), 1.0)
    counts = _Counts(cells, cells.sum(axis=1), cells.sum(axis=0))
    if bounds.exact.all():
        found = _find_restricted(bounds.lower, sets, boards, counts)
        if found is None:
            return None
        sigma, tau, effects, u = found
        phi, phi_a, turned, weights = _adjust(counts, sigma, tau)
        joint = _invert(counts.of_set / sigma**2, counts.of_board / sigma**2, cells / sigma**2, tau)
        joint[:k, :k] = phi_a
        return RandomBoards(effects, phi_a, u, joint, sigma, tau, phi, turned, weights)
    peak = _find_laplace(bounds, sets, boards, k, count)
    if peak is None:
        return None
    sigma, tau, effects, u, joint = peak
    phi, phi_a, turned, weights = _adjust(counts, sigma, tau)
    joint[:k, :k] += phi_a - phi
    return RandomBoards(effects, joint[:k, :k].copy(), u, joint, sigma, tau, phi, turned, weights)


def _adjust(counts: _Counts, sigma: float, tau: float) -> tuple[Floats, Floats, Floats, Floats]:
    """Return Φ, Φ_A, the two Φ P_i Φ and the covariance of (τ², σ²), after Kenward and Roger (1997)."""
    n = counts.of_board
    d, e = 1 / (sigma**2 + n * tau**2), 1 / sigma**2
    phi = np.asarray(np.linalg.inv(counts.product(d, e)), dtype=np.float64)
    # of V⁻¹ V_i V⁻¹ for τ² (V_1 = ZZᵀ, whose eigenvalue is the number of pieces) and σ² (V_2 = 1)
    eigen = ((n, 0.0), (np.ones_like(n), 1.0))
    p = [-counts.product(d * mean * d, e * within * e) for mean, within in eigen]
    information, q = np.empty((2, 2)), [[np.empty(0)] * 2 for _ in range(2)]
    for i in range(2):
        for j in range(2):
            mean, within = eigen[i][0] * eigen[j][0], eigen[i][1] * eigen[j][1]
            q[i][j] = counts.product(d**3 * mean, e**3 * within)
            information[i, j] = (
                counts.trace(d**2 * mean, e**2 * within)
                - 2 * float((phi * q[i][j]).sum())
                + float(np.trace(p[i] @ phi @ p[j] @ phi))
            )
    weights = np.asarray(2 * np.linalg.inv(information), dtype=np.float64)
    turned = np.stack([phi @ one @ phi for one in p])
    update = sum(weights[i, j] * (q[i][j] - p[i] @ phi @ p[j]) for i in range(2) for j in range(2))
    phi_a = phi + 2 * phi @ update @ phi
    return phi, np.asarray((phi_a + phi_a.T) / 2, dtype=np.float64), turned, weights


def _find_restricted(
    logs: Floats, sets: Codes, boards: Codes, counts: _Counts
) -> tuple[float, float, Floats, Floats] | None:
    """Return σ̃, τ̃, the sets and the boards by restricted maximum likelihood, profiled over σ."""
    k, n = counts.of_set.size, counts.of_board
    centre = float(logs.mean())
    y = logs - centre
    on_board = np.bincount(boards, y, n.size)
    of_set = np.bincount(sets, y, k)
    within = float(y @ y) - float((on_board**2 / n).sum())
    free = y.size - k

    def solve(ratio: float) -> tuple[float, Floats, float]:
        d = 1 / (1 + n * ratio)
        gram = counts.product(d, 1.0)
        side = of_set + counts.cells @ ((d - 1) * on_board / n)
        effects = np.asarray(np.linalg.solve(gram, side), dtype=np.float64)
        rest = within + float((d * on_board**2 / n).sum()) - float(side @ effects)
        sigma2 = max(rest, 1e-300) / free
        value = free * log(sigma2) - float(np.log(d).sum()) + float(np.linalg.slogdet(gram)[1])
        return value, effects, sigma2

    ratio = _find_ratio(lambda one: solve(one)[0])
    _, effects, sigma2 = solve(ratio)
    if not sigma2 > 1e-20:
        return None
    u = ratio * (on_board - counts.cells.T @ effects) / (1 + n * ratio)
    return sqrt(sigma2), sqrt(ratio * sigma2), effects + centre, u


def _find_ratio(misfit: Callable[[float], float]) -> float:
    """Return the τ²/σ² of the least misfit, 0 where it is least there."""
    from scipy import optimize  # loaded where it is needed: a command starts at once

    grid = np.linspace(-14.0, 14.0, 57)
    values = [misfit(float(np.exp(one))) for one in grid]
    at = int(np.argmin(values))
    found = optimize.minimize_scalar(
        lambda one: misfit(float(np.exp(one))),
        bounds=(float(grid[max(0, at - 1)]), float(grid[min(grid.size - 1, at + 1)])),
        method="bounded",
        options={"xatol": 1e-10},
    )
    return 0.0 if misfit(0.0) <= float(found.fun) else float(np.exp(found.x))


def _invert(of_set: Floats, of_board: Floats, cells: Floats, tau: float) -> Floats:
    """Return the inverse of the curvature in sets and boards; boards do not move where τ is 0."""
    k = of_set.size
    if tau == 0:
        found = np.zeros((k + of_board.size,) * 2)
        found[:k, :k] = np.diag(1 / of_set)
        return found
    top = np.hstack([np.diag(of_set), cells])
    full = np.vstack([top, np.hstack([cells.T, np.diag(of_board + 1 / tau**2)])])
    return np.asarray(np.linalg.inv(full), dtype=np.float64)


class _Laplace:
    """The restricted likelihood of bounds, Laplace's way: boards written as τ·v, so that it is smooth at τ = 0."""

    def __init__(self, bounds: Bounds, sets: Codes, boards: Codes, k: int, count: int) -> None:
        self._bounds, self._sets, self._boards = bounds, sets, boards
        self._cell = sets * count + boards
        self._k, self._count = k, count
        low, high = np.isfinite(bounds.lower), np.isfinite(bounds.upper)
        with np.errstate(invalid="ignore"):
            middle = (bounds.lower + bounds.upper) / 2
        start = np.where(low & high, middle, np.where(low, bounds.lower, bounds.upper))
        self._beta = np.bincount(sets, start, k) / np.bincount(sets, minlength=k)
        self._v = np.zeros(count)
        residual = start - self._beta[sets]
        self.spread = max(float(np.sqrt((residual**2).mean())), 1e-3)

    def misfit(self, sigma: float, tau: float) -> float:
        """Return minus the approximate restricted log-likelihood; a wall where it has no number."""
        with np.errstate(all="ignore"):
            try:
                found = self.evaluate(sigma, tau)[0]
            except np.linalg.LinAlgError:
                return _WALL
        return found if np.isfinite(found) else _WALL

    def evaluate(self, sigma: float, tau: float) -> tuple[float, Floats, Floats, Floats]:
        """Return minus the approximate restricted log-likelihood, sets, boards, and the curvature of sets and v."""
        beta, v = self._beta.copy(), self._v.copy()
        k = self._k
        value, gradient, bend = self._slopes(beta, v, sigma, tau)
        for _ in range(_NEWTON):
            step = np.linalg.solve(bend, gradient)
            rise = float(gradient @ step)
            length = 1.0
            while True:
                new_beta, new_v = beta + length * step[:k], v + length * step[k:]
                new = self._slopes(new_beta, new_v, sigma, tau)
                if new[0] >= value - 1e-12 * (1 + abs(value)) or length < 1e-10:
                    break
                length /= 2
            beta, v, (value, gradient, bend) = new_beta, new_v, new
            if rise < 1e-18 * (1 + abs(value)) or float(np.max(np.abs(length * step))) < 1e-11:
                break
        if np.isfinite(value):
            self._beta, self._v = beta, v
        return -(value - 0.5 * float(np.linalg.slogdet(bend)[1])), beta, tau * v, bend

    def _slopes(self, beta: Floats, v: Floats, sigma: float, tau: float) -> tuple[float, Floats, Floats]:
        k, count = self._k, self._count
        value, slope, curve = interval_slopes(self._bounds, beta[self._sets] + tau * v[self._boards], sigma)
        by_board = np.bincount(self._boards, slope, count)
        gradient = np.concatenate([np.bincount(self._sets, slope, k), tau * by_board - v])
        cells = np.bincount(self._cell, curve, k * count).reshape(k, count)
        bend = np.empty((k + count, k + count))
        bend[:k, :k], bend[k:, k:] = np.diag(cells.sum(axis=1)), np.diag(1 + tau**2 * cells.sum(axis=0))
        bend[:k, k:] = tau * cells
        bend[k:, :k] = bend[:k, k:].T
        return float(value.sum()) - 0.5 * float(v @ v), gradient, bend


def _find_laplace(
    bounds: Bounds, sets: Codes, boards: Codes, k: int, count: int
) -> tuple[float, float, Floats, Floats, Floats] | None:
    from scipy import optimize  # loaded where it is needed: a command starts at once

    likelihood = _Laplace(bounds, sets, boards, k, count)
    scale = likelihood.spread

    def misfit(at: Floats) -> float:
        return likelihood.misfit(scale * float(np.exp(at[0])), scale * float(at[1]))

    starts = [np.array([wide, between]) for wide in (-1.5, -0.7, 0.0, 0.7) for between in (0.1, 0.5, 1.2, 2.5)]
    found = optimize.minimize(
        misfit,
        min(starts, key=misfit),
        method="L-BFGS-B",
        bounds=[(_SHARPEST, 3.0), (0.0, 20.0)],
        options={"ftol": 1e-13, "gtol": 1e-7, "maxiter": 200},
    )
    at = _polish(misfit, np.asarray(found.x, dtype=np.float64))
    sigma, tau = scale * float(np.exp(at[0])), scale * max(0.0, float(at[1]))
    if at[0] <= _SHARPEST + 0.1:
        return None
    if likelihood.misfit(sigma, tau) >= _WALL:
        return None
    _, beta, u, bend = likelihood.evaluate(sigma, tau)
    if not np.isfinite(bend).all() or np.linalg.cond(bend) > _SINGULAR:
        return None
    joint = np.asarray(np.linalg.inv(bend), dtype=np.float64)
    joint[k:, :] *= tau
    joint[:, k:] *= tau
    return sigma, tau, beta, u, joint


def _polish(misfit: Callable[[Floats], float], at: Floats) -> Floats:
    """Sharpen a minimum by Newton's method on central differences; τ stays where it is at its border."""
    free = [0] if at[1] < 1e-4 else [0, 1]
    h = 1e-3
    for _ in range(4):
        here = misfit(at)
        gradient, bend = np.zeros(len(free)), np.zeros((len(free), len(free)))
        unit = np.eye(at.size)[free] * h
        ups, downs = [misfit(at + one) for one in unit], [misfit(at - one) for one in unit]
        for i in range(len(free)):
            gradient[i] = (ups[i] - downs[i]) / (2 * h)
            bend[i, i] = (ups[i] - 2 * here + downs[i]) / h**2
        if len(free) == 2:
            crossed = misfit(at + unit[0] + unit[1]) - ups[0] - ups[1] + here
            bend[0, 1] = bend[1, 0] = crossed / h**2
        if here >= _WALL or np.linalg.eigvalsh(bend)[0] <= 0:
            return at
        step = np.linalg.solve(bend, gradient)
        trial = at.copy()
        trial[free] -= step
        if trial[1] < 0 or trial[0] < _SHARPEST or misfit(trial) > here + 1e-9 * (1 + abs(here)):
            return at
        at = trial
        if float(np.max(np.abs(step))) < 1e-8:
            break
    return at
