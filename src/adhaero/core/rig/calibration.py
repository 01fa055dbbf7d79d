"""From a rig's reading to newtons."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean, stdev
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from adhaero.core.errors import EntryError, RigError

Reading = TypeVar("Reading", float, NDArray[np.float64])


@dataclass(frozen=True)
class Calibration:
    """A straight line from reading to load: load = (reading − offset) · factor.

    Attributes
    ----------
    offset : what the rig reads with nothing on it, in its own unit.
    newton_per_unit : newtons for one unit of the reading.
    """

    offset: float
    newton_per_unit: float

    def load_n(self, reading: Reading) -> Reading:
        """Return the load of a reading, or of an array of them, in newtons."""
        return (reading - self.offset) * self.newton_per_unit

    def range_of(self, most_n: float) -> tuple[float, float]:
        """Return between which readings a load of up to `most_n` either way lies."""
        half = abs(most_n / self.newton_per_unit)
        return self.offset - half, self.offset + half


@dataclass(frozen=True)
class CheckPoint:
    """A known load, N, what the rig read under it, in its own unit, and whether the load was rising."""

    load_n: float
    reading: float
    rising: bool = True


@dataclass(frozen=True)
class Fit:
    """A calibration fitted to known loads, and how far off it leaves them.

    Attributes
    ----------
    residuals_n : what the calibrated rig would say less the known load, N, point by point.
    worst_of_reading_pct, worst_of_capacity_pct : the largest residual in percent of its load, and of the capacity.
    hysteresis_n : the largest difference of one load read while falling and while rising, N; None without such a pair.
    """

    calibration: Calibration
    residuals_n: tuple[float, ...]
    worst_of_reading_pct: float
    worst_of_capacity_pct: float
    hysteresis_n: float | None


LEAST_POINTS = 3


def fit_calibration(points: Sequence[CheckPoint], capacity_n: float) -> Fit:
    """Return the straight line from reading to load by least squares, with intercept.

    Readings are fitted on loads, since the loads are known and the readings scatter, and the line is turned round
    (classical calibration; Draper and Smith, Applied Regression Analysis).

    Raises
    ------
    EntryError : fewer than three different loads, or readings that do not change with the load.

    Examples
    --------
    >>> fit = fit_calibration([CheckPoint(0, 1), CheckPoint(100, 11), CheckPoint(200, 21)], 500)
    >>> fit.calibration
    Calibration(offset=1.0, newton_per_unit=10.0)
    """
    loads = np.array([one.load_n for one in points])
    readings = np.array([one.reading for one in points])
    if len(set(loads.tolist())) < LEAST_POINTS:
        raise EntryError(
            f"{len(set(loads.tolist()))} different loads are read.",
            "A calibration takes three or more, nothing among them, up and down.",
            "Hang one more known weight.",
            field="points",
        )
    middle = loads - loads.mean()
    slope = float(middle @ (readings - readings.mean()) / (middle @ middle))
    if slope == 0 or not np.isfinite(slope):
        raise EntryError("The readings do not change with the load.", "Check what was read.", field="points")
    # rounded far below what any rig shows: what the arithmetic left over is nothing
    offset = float(readings.mean() - slope * loads.mean())
    calibration = Calibration(_tidy(offset, float(np.max(np.abs(readings)))), float(f"{1 / slope:.12g}"))
    most = float(np.max(loads))
    residuals = np.array([_tidy(one, most) for one in calibration.load_n(readings) - loads])
    hung = loads > 0
    return Fit(
        calibration,
        tuple(float(one) for one in residuals),
        100 * float(np.max(np.abs(residuals[hung]) / loads[hung])),
        100 * float(np.max(np.abs(residuals))) / capacity_n,
        _find_hysteresis(points, calibration),
    )


def _tidy(value: float, among: float) -> float:
    """Return a value without what lies below a billionth of the values that it stands among."""
    return round(float(value), 9 - math.ceil(math.log10(among))) + 0.0 if among > 0 else 0.0


def _find_hysteresis(points: Sequence[CheckPoint], calibration: Calibration) -> float | None:
    found = []
    for load in {one.load_n for one in points}:
        up = [one.reading for one in points if one.load_n == load and one.rising]
        down = [one.reading for one in points if one.load_n == load and not one.rising]
        if up and down:
            found.append(abs((fmean(down) - fmean(up)) * calibration.newton_per_unit))
    return max(found, default=None)


@dataclass(frozen=True)
class Zero:
    """What the rig showed with nothing pulling, in newtons, and how much that jittered."""

    load_n: float
    noise_n: float


def is_at_rest(zero: Zero, capacity_n: float, resolution_n: float) -> bool:
    """Return whether a zero was taken at rest: it jitters by 2 % of the capacity or 20 display steps at most."""
    return zero.noise_n <= max(0.02 * capacity_n, 20 * resolution_n)


def take_zero(loads_n: list[float], least: int = 3) -> Zero:
    """Return the zero of a pull: the mean of the latest loads with nothing pulling.

    Raises
    ------
    RigError : fewer than `least` readings.
    """
    if len(loads_n) < least:
        raise RigError(
            f"The rig has sent {len(loads_n)} readings in the last second.",
            f"Zeroing takes at least {least}.",
            "Wait until the load reads, then zero again.",
        )
    return Zero(fmean(loads_n), stdev(loads_n))
