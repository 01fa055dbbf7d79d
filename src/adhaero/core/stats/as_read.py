"""The numbers as they were written down: averages, extremes and scatter, nothing estimated."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class AsRead:
    """Averages and scatter of a group's numbers as read; None where too few numbers are there."""

    mean: float | None
    sd: float | None
    cv_pct: float | None
    median: float | None
    min: float | None
    max: float | None
    trimmed_mean: float | None
    mean_without_lowest: float | None


def compute_as_read(values: Sequence[float]) -> AsRead:
    """Return the summaries of a group's numbers.

    `sd` divides by n−1; `cv_pct` is 100·sd/mean; `trimmed_mean` leaves out the single highest and the single
    lowest number, `mean_without_lowest` the lowest alone.

    Parameters
    ----------
    values : the numbers as read, blanks left out, censored ones at their value.

    Returns
    -------
    AsRead; all None without numbers, `sd` and `cv_pct` None below two, `trimmed_mean` None below four.

    Examples
    --------
    >>> compute_as_read([9.0, 10.0, 11.0, 14.0]).trimmed_mean
    10.5
    """
    numbers = np.sort(np.asarray(values, dtype=float))
    if numbers.size == 0:
        return AsRead(None, None, None, None, None, None, None, None)
    mean = float(numbers.mean())
    sd = float(numbers.std(ddof=1)) if numbers.size > 1 else None
    return AsRead(
        mean=mean,
        sd=sd,
        cv_pct=100 * sd / mean if sd is not None and mean > 0 else None,
        median=float(np.median(numbers)),
        min=float(numbers[0]),
        max=float(numbers[-1]),
        trimmed_mean=float(numbers[1:-1].mean()) if numbers.size >= 4 else None,
        mean_without_lowest=float(numbers[1:].mean()) if numbers.size >= 3 else None,
    )
