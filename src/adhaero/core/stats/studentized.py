"""The studentized range distribution, fast enough to answer while a person types.

SciPy has it (`scipy.stats.studentized_range`), to about the same digits, but one quantile takes 0.1 to 0.2 s
and a comparison of four groups needs six. The tests hold this one against SciPy's.
"""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy import optimize, special, stats

_RANGE_NODES, _RANGE_WEIGHTS = np.polynomial.legendre.leggauss(96)
_SCALE_NODES, _SCALE_WEIGHTS = np.polynomial.legendre.leggauss(160)
_NORMAL_REACH = 8.5


def _range_cdf(width: NDArray[np.float64], groups: int) -> NDArray[np.float64]:
    """Return P(range of `groups` standard normals ≤ width): k∫φ(z)[Φ(z)−Φ(z−w)]^(k−1)dz."""
    z = _NORMAL_REACH * _RANGE_NODES
    density = np.exp(-0.5 * z**2) / np.sqrt(2 * np.pi)
    between = special.ndtr(z) - special.ndtr(z - width[:, None])
    total: NDArray[np.float64] = (between ** (groups - 1) * density) @ _RANGE_WEIGHTS
    return np.minimum(1.0, groups * _NORMAL_REACH * total)


@lru_cache(maxsize=4096)
def compute_range_sf(q: float, groups: int, df: float) -> float:
    """Return P(Q > q) of the studentized range.

    Parameters
    ----------
    q : the studentized range, zero or more.
    groups : number of means, 2 or more.
    df : degrees of freedom of the standard deviation, above 0; infinity for a known one.

    Notes
    -----
    Gauss–Legendre quadrature over z (96 points) and over the scale s = χ/√df between its 1e-13 quantiles
    (160 points). Source: the definition in any text on multiple comparisons, e.g. Hochberg and Tamhane,
    Multiple Comparison Procedures, 1987, appendix 3.
    """
    if np.isinf(df):
        return 1.0 - float(_range_cdf(np.array([q]), groups)[0])
    low, high = np.sqrt(stats.chi2.ppf([1e-13, 1 - 1e-13], df) / df)
    scale = 0.5 * (high - low) * _SCALE_NODES + 0.5 * (high + low)
    log_density = (
        np.log(2) + 0.5 * df * np.log(df / 2) - special.gammaln(df / 2) + (df - 1) * np.log(scale) - 0.5 * df * scale**2
    )
    weights = 0.5 * (high - low) * _SCALE_WEIGHTS * np.exp(log_density)
    return float(min(1.0, max(0.0, weights @ (1.0 - _range_cdf(q * scale, groups)))))


@lru_cache(maxsize=4096)
def compute_range_quantile(probability: float, groups: int, df: float) -> float:
    """Return the q that the studentized range exceeds with 1 − `probability`."""
    target = 1 - probability

    def excess(q: float) -> float:
        return compute_range_sf.__wrapped__(q, groups, df) - target

    high = 8.0
    while excess(high) > 0:
        high *= 2
    return float(optimize.brentq(excess, 0.0, high, xtol=1e-11, rtol=1e-11))
