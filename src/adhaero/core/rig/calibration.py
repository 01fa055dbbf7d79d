"""From a rig's reading to newtons."""

from dataclasses import dataclass
from statistics import fmean, stdev

from adhaero.core.errors import RigError


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

    def load_n(self, reading: float, zero_n: float = 0.0) -> float:
        """Return the load in newtons, less the zero taken at the start of the pull."""
        return (reading - self.offset) * self.newton_per_unit - zero_n


@dataclass(frozen=True)
class Zero:
    """What the rig showed with nothing pulling, in newtons, and how much that jittered."""

    load_n: float
    noise_n: float


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
