"""Chances and quantiles of the usual laws.

The functions of `scipy.special` that `scipy.stats` calls too: loading that takes longer than most analyses, and each of
its calls fifty times as long as the number itself.
"""

from math import isfinite
from typing import Final

import numpy as np
from scipy import special

from adhaero.core.stats.scatter import Floats

LIKELY = 0.975
"""Where a two-sided 95 % interval ends."""


# a difference that luck makes less often than this is told as one
CLEAR: Final = 0.05


def find_normal(chance: float) -> float:
    """Return what a standard normal number stays below with this chance."""
    return float(special.ndtri(chance))


def find_t(chance: float, df: float) -> float:
    """Return what Student's t stays below with this chance; the normal number for infinite `df`."""
    return float(special.stdtrit(df, chance))


def beyond_t(t: Floats, df: float) -> Floats:
    """Return the chances that Student's t exceeds numbers; those of the normal number for infinite `df`."""
    return np.asarray(special.stdtr(df, -t), dtype=np.float64)


def beyond_f(statistic: float, df: float, df_scatter: float) -> float:
    """Return the chance that F exceeds a statistic."""
    return float(special.fdtrc(df, df_scatter, statistic))


def beyond_f_known(statistic: float, df: float) -> float:
    """Return the chance that F exceeds a statistic where the scatter is known: chi-square of df · F."""
    return beyond_chi2(statistic * df, df)


def beyond_chi2(statistic: float, df: float) -> float:
    """Return the chance that chi-square exceeds a statistic."""
    return float(special.chdtrc(df, statistic))


def find_chi2(chance: float, df: float) -> float:
    """Return what chi-square stays below with this chance."""
    return float(special.chdtri(df, 1 - chance))


def find_lower_factor(wide: float, df: float, share: float, sure: float) -> float:
    """Return k: centre − k · se lies below `share` of all pieces with the chance `sure`.

    From the noncentral t: k = t⁻¹(sure; df, z(share) · wide); the normal's where the scatter is known.

    Parameters
    ----------
    wide : the scatter of the pieces over the standard error of their centre, √n without bounds; df : of the scatter.
    """
    centre = find_normal(share) * wide
    if not isfinite(df):
        return centre + find_normal(sure)
    return float(special.nctdtrit(df, centre, sure))


def reach_noncentral_t(t: float, df: float, centre: float) -> float:
    """Return the chance that |noncentral t| exceeds `t`; the far tail, where its series gives no number, is 0."""
    low = float(special.nctdtr(df, centre, -t))
    return 1 - float(special.nctdtr(df, centre, t)) + (low if isfinite(low) else 0.0)


def find_beta(chance: float, a: float, b: float) -> float:
    """Return what a beta-distributed share stays below with this chance."""
    return float(special.betaincinv(a, b, chance))
