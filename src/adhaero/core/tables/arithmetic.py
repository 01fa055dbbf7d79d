"""What summaries compute, of plain numbers."""

import math
from collections.abc import Sequence

import numpy as np

from adhaero.core.tables.headings import Summary


def compute(
    kind: Summary, numbers: Sequence[float], *, population: bool = False, middle: int | None = None
) -> float | None:
    """Return a summary of numbers; None where there is nothing to compute it from.

    Parameters
    ----------
    population : of an sd, by n. middle : of a trimmed mean, how many of the middle ones; None for all but both ends.

    Examples
    --------
    >>> compute(Summary.MEAN, [1, 2, 6]), compute(Summary.TRIMMED, [5, 1, 9, 2, 3]), compute(Summary.COUNT, [])
    (3.0, 3.3333333333333335, 0.0)
    """
    n = len(numbers)
    if kind is Summary.COUNT:
        return float(n)
    if n == 0:
        return 0.0 if kind is Summary.CREDIT else None
    values = np.asarray(numbers, dtype=float)
    match kind:
        case Summary.MEAN:
            return float(values.mean())
        case Summary.SUM | Summary.CREDIT:
            return float(values.sum())
        case Summary.MIN:
            return float(values.min())
        case Summary.MAX:
            return float(values.max())
        case Summary.MEDIAN:
            return float(np.median(values))
        case Summary.RANGE:
            return float(np.ptp(values))
        case Summary.SD | Summary.CV:
            if n < 2:
                return 0.0 if population else None
            sd = float(values.std(ddof=0 if population else 1))
            if kind is Summary.SD:
                return sd
            mean = float(values.mean())
            return 100 * sd / mean if mean else None
        case Summary.WITHOUT_LOWEST:
            return float(np.sort(values)[1:].mean()) if n > 1 else None
        case Summary.TRIMMED:
            return _trim(np.sort(values), middle)
        case _:
            return None


def _trim(values: np.ndarray, middle: int | None) -> float | None:
    n = values.size
    cut = 1 if middle is None else (n - middle) // 2
    if middle is not None and (n - middle) % 2:
        cut = 1
    kept = values[cut : n - cut]
    return float(kept.mean()) if kept.size and cut >= 0 else None


def decimals_of(value: float) -> int:
    """Return how many decimals a typed number has; trailing zeros are not stored.

    Examples
    --------
    >>> decimals_of(407.5), decimals_of(3.0)
    (1, 0)
    """
    text = f"{value:.10f}".rstrip("0")
    return len(text.partition(".")[2])


def is_rounded(shown: float, exact: float, decimals: int) -> bool:
    """Return whether a number is another one rounded to so many decimals, half either way."""
    return abs(shown - exact) <= 0.5 * 10.0**-decimals * (1 + 1e-9) + 1e-9 * max(1.0, abs(exact))


def is_cut(shown: float, exact: float, decimals: int) -> bool:
    """Return whether a number is another one cut off after so many decimals."""
    scale = 10.0**decimals
    return abs(shown - math.trunc(exact * scale + 1e-9) / scale) <= 1e-9 * max(1.0, abs(exact))


def is_close(shown: float, exact: float) -> bool:
    """Return whether a formula's number is the exact one."""
    return abs(shown - exact) <= 1e-5 * max(abs(exact), 1e-9)
