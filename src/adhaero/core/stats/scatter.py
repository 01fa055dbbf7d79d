"""How logarithms scatter about their centre, as the likelihood needs it: normal, or the smallest extreme value."""

from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from scipy import special

Floats = NDArray[np.float64]

_LOG_ROOT_2PI = 0.5 * np.log(2 * np.pi)


class Scatter(Protocol):
    """A law of z = (logarithm − centre) / σ whose density is log-concave."""

    def log_density(self, z: Floats) -> tuple[Floats, Floats, Floats]:
        """Return the logarithm of the density at finite z, its slope and its curvature."""
        ...

    def log_between(self, low: Floats, high: Floats) -> Floats:
        """Return the logarithm of the chance to lie between two z, either of which may be infinite."""
        ...


class Normal:
    """Strengths are log-normal."""

    def log_density(self, z: Floats) -> tuple[Floats, Floats, Floats]:
        """See `Scatter`."""
        return -0.5 * z**2 - _LOG_ROOT_2PI, -z, np.full_like(z, -1.0)

    def log_between(self, low: Floats, high: Floats) -> Floats:
        """Return log(Φ(high) − Φ(low)), in whichever tail keeps the digits."""
        flip = low > 0
        left, right = np.where(flip, -high, low), np.where(flip, -low, high)
        log_right, log_left = special.log_ndtr(right), special.log_ndtr(left)
        with np.errstate(divide="ignore"):
            found: Floats = log_right + np.log1p(-np.exp(np.minimum(log_left - log_right, 0.0)))
        return found


class SmallestExtreme:
    """Strengths follow a Weibull distribution: P(Z > z) = exp(−e^z)."""

    def log_density(self, z: Floats) -> tuple[Floats, Floats, Floats]:
        """See `Scatter`."""
        with np.errstate(over="ignore"):
            power = np.exp(z)
        return z - power, 1.0 - power, -power

    def log_between(self, low: Floats, high: Floats) -> Floats:
        """Return log(exp(−e^low) − exp(−e^high))."""
        with np.errstate(over="ignore", divide="ignore", invalid="ignore"):
            survive, beyond = -np.exp(low), -np.exp(high)
            found: Floats = survive + np.log(-np.expm1(beyond - survive))
        return found


NORMAL, SMALLEST_EXTREME = Normal(), SmallestExtreme()
