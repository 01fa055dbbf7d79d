"""Measured sizes: the mean of several readings, how well it is known, and what is off the plan."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt
from statistics import fmean, stdev
from typing import Final

from adhaero.core.quantity import Quantity

# what a caliper reads in hand to, mm
CALIPER_MM: Final = 0.05
# more off the plan than this is told
OFF_PLAN: Final = 0.03
# readings of one size that scatter by more than this share of it are told
SCATTERED: Final = 0.01
# a size this many times the planned one, or less than one over it, is in another unit
ANOTHER_UNIT: Final = 5.0


@dataclass(frozen=True)
class Mean:
    """The mean of readings in the unit of their kind, and their standard deviation if there are several."""

    si: float
    scatter: float | None


def average(readings: Sequence[Quantity]) -> Mean:
    """Return the mean of one or more readings.

    Examples
    --------
    >>> from adhaero.core.quantity import Kind, parse_quantity
    >>> average([parse_quantity(one, Kind.LENGTH) for one in ("22.0 mm", "22.2 mm")])
    Mean(si=22.1, scatter=0.1414213562373087)
    """
    values = [one.si for one in readings]
    return Mean(fmean(values), stdev(values) if len(values) > 1 else None)


def find_size_give(scatter_mm: float | None, readings: int) -> float:
    """Return the standard uncertainty of a size, mm: its readings' scatter over √n, and no less than a caliper's."""
    return max(CALIPER_MM, scatter_mm or 0.0) / sqrt(readings)


def find_off_plan(mm: float, planned_mm: float | None) -> float | None:
    """Return by what share a size is off the plan; None where that is too little to tell, or nothing is planned."""
    if not planned_mm or abs(mm / planned_mm - 1) <= OFF_PLAN:
        return None
    return mm / planned_mm - 1


def is_scattered(mm: float, scatter_mm: float | None) -> bool:
    """Return whether readings of one size scatter by enough to be told."""
    return scatter_mm is not None and scatter_mm > SCATTERED * mm


def is_in_another_unit(mm: float, planned_mm: float | None) -> bool:
    """Return whether a size is so far from the planned one that its unit must be another."""
    return bool(planned_mm) and not 1 / ANOTHER_UNIT < mm / (planned_mm or 1.0) < ANOTHER_UNIT
