"""From a rig's reading to newtons."""

from dataclasses import dataclass
from statistics import fmean, stdev
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from adhaero.core.errors import RigError

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
