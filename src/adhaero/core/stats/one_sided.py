"""Sets whose pieces are all bounds to one side: how strong they are at least, and what that says of the others.

A set that held throughout has no largest likely strength, but its likelihood says how weak it can hardly be. Its normal
deviate z(μ), the one that the likelihood at μ is the upper tail of, stands in place of (μ − μ̂)/se (analyse.md §3).
"""

from collections.abc import Callable
from dataclasses import dataclass
from math import inf, log, pi

import numpy as np
from scipy import special

from adhaero.core.stats.scatter import Floats

Function = Callable[[Floats], Floats]

SURE = 0.05
_STEPS = 200
_GRID = 33
_ZOOMS = 4


@dataclass(frozen=True)
class Limits:
    """A set that held throughout at its limits.

    Attributes
    ----------
    at : (n,) logarithms that the pieces held, less what is expected beside the set's centre (its boards).
    sigma : scatter of the logarithms.
    """

    at: Floats
    sigma: float

    def log_likelihood(self, mu: Floats) -> Floats:
        """Return the log-likelihood at centres of any shape."""
        found: Floats = special.log_ndtr((np.asarray(mu)[..., None] - self.at) / self.sigma).sum(axis=-1)
        return found

    def find_deviate(self, mu: Floats) -> Floats:
        """Return z(μ), 0 where the likelihood is above a half; it falls as μ rises."""
        return np.maximum(0.0, -special.ndtri_exp(np.minimum(self.log_likelihood(mu), log(0.5))))

    def find_centre(self, log_likelihood: Floats) -> Floats:
        """Return the centres at which the log-likelihood has given values below 0, (m,); Newton from below."""
        wanted = np.atleast_1d(np.asarray(log_likelihood, dtype=np.float64))
        # from a centre that is surely too low the concave likelihood is climbed without overshooting
        mu = float(self.at.min()) + self.sigma * np.minimum(special.ndtri_exp(wanted), 0.0) - 1e-9
        for _ in range(_STEPS):
            z = (mu[:, None] - self.at) / self.sigma
            logs = special.log_ndtr(z)
            slope = np.exp(-0.5 * z**2 - 0.5 * log(2 * pi) - logs).sum(axis=1) / self.sigma
            step = (wanted - logs.sum(axis=1)) / slope
            mu = mu + step
            if float(np.max(np.abs(step))) < 1e-13 * (1 + float(np.max(np.abs(mu)))):
                break
        return mu

    def find_at_least(self) -> float:
        """Return the centre below which the set hardly lies: where its likelihood is 0.05."""
        return float(self.find_centre(np.array([log(SURE)]))[0])


def mirror(limits: Limits) -> Limits:
    """Return a set that fell apart throughout as one that held, all logarithms negated."""
    return Limits(-limits.at, limits.sigma)


@dataclass(frozen=True)
class Known:
    """A set with an estimate: its centre, at which a one-sided set is held against it, and the standard error."""

    mu: float
    se: float


def compare_one_sided(held: Limits, other: Known | Limits, reach: float) -> tuple[float, float]:
    """Return how far a set that held throughout lies above another at least, and how sure it is that it lies above.

    With r²(δ) the least over μ of z(μ + δ)² + (μ − μ_b)²/se_b², the first is the δ at which r is `reach`, the second is
    r(0). Against a set that fell apart throughout its own deviate stands in place of the last term.

    Parameters
    ----------
    held : the set that held; other : what it is compared with, one that fell apart as `Limits` (not mirrored).
    reach : how many standard errors the interval reaches.
    """

    def distance(turn: Floats) -> Floats:
        centre = held.find_centre(special.log_ndtr(-reach * np.cos(turn)))
        if isinstance(other, Known):
            return centre - other.mu - other.se * reach * np.sin(turn)
        return centre + mirror(other).find_centre(special.log_ndtr(-reach * np.sin(turn)))

    def squared(mu: Floats) -> Floats:
        rest = (mu - other.mu) / other.se if isinstance(other, Known) else mirror(other).find_deviate(-mu)
        return held.find_deviate(mu) ** 2 + rest**2

    half = np.array([log(0.5)])
    top = float(held.find_centre(half)[0])
    low = other.mu if isinstance(other, Known) else -float(mirror(other).find_centre(half)[0])
    least = _find_least(distance, 0.0, pi / 2)
    return least, 0.0 if top <= low else float(np.sqrt(_find_least(squared, low, top)))


def _find_least(function: Function, low: float, high: float) -> float:
    """Return the least value of a function with one valley, by ever finer grids."""
    best = inf
    for _ in range(_ZOOMS):
        grid = np.linspace(low, high, _GRID)
        values = function(grid)
        at = int(np.argmin(values))
        best = min(best, float(values[at]))
        low, high = float(grid[max(0, at - 1)]), float(grid[min(_GRID - 1, at + 1)])
    return best
