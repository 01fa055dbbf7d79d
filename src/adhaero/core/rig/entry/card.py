"""What makes a load on the piece of what a person reads off: hanger, bucket, ram, lever.

    weights, bucket      F = (W + tare) · ratio + own
    lever                ratio = arm of what hangs / arm of the piece
                         own   = weight of the lever · its balance point / arm of the piece
    jack                 F = p · π D² / 4, known to half a division of the gauge

Moments about the pivot give the lever; the lever's own weight pulls at its balance point.
"""

from dataclasses import dataclass, replace
from math import pi
from typing import Final

from adhaero.core.quantity import Kind, show
from adhaero.core.rig.kinds import RigKind

# fresh water at 20 °C, g/ml (CRC Handbook of Chemistry and Physics)
WATER_G_PER_ML: Final = 0.9982
GRAVITY: Final = 9.80665


@dataclass(frozen=True)
class Card:
    """What makes a load of what is read on a rig, N and mm.

    Attributes
    ----------
    tare_n : what hangs there before anything is put on: a hanger or a bucket. ratio : of a lever.
    own_n : what the lever alone puts on the piece. bore_mm : of the ram of a jack, or None.
    resolution_n : the smallest step of what is read. capacity_n : the highest load on the piece.
    zero_n, scale : the calibration: what is shown with nothing on it, and by what the rest is multiplied.
    gauge_unit : of a number typed without one. tare_typed, bore_typed : as on the card.
    """

    kind: RigKind
    tare_n: float = 0.0
    ratio: float = 1.0
    own_n: float = 0.0
    bore_mm: float | None = None
    resolution_n: float = 0.0
    capacity_n: float | None = None
    zero_n: float = 0.0
    scale: float = 1.0
    gauge_unit: str = ""
    tare_typed: str = ""
    bore_typed: str = ""

    @property
    def ram_mm2(self) -> float | None:
        """Return the area of the ram, mm²; None without one."""
        return None if self.bore_mm is None else pi * self.bore_mm**2 / 4

    @property
    def empty_n(self) -> float:
        """Return the load on the piece with nothing put on: the hanger and the lever alone."""
        return self.tare_n * self.ratio + self.own_n

    def load(self, hung_n: float, *, tare: bool = True) -> float:
        """Return the load on the piece of what is read, N; `tare` where the hanger's own weight comes on top."""
        return (self.calibrate(hung_n) + (self.tare_n if tare else 0.0)) * self.ratio + self.own_n

    def calibrate(self, shown_n: float) -> float:
        """Return the true value of what the rig shows, N."""
        return (shown_n - self.zero_n) * self.scale

    def of_known_weights(self) -> "Card":
        """Return the card for what hangs in plates, whose weight is known and goes through no calibration."""
        return replace(self, zero_n=0.0, scale=1.0)

    def say(self, *, tare: bool = True) -> str:
        """Return what a reading is added to and multiplied with; empty where it is the load itself."""
        parts = []
        if self.zero_n:
            parts.append(f"− {show(self.zero_n, Kind.FORCE)}")
        if self.scale != 1:
            parts.append(f"× {self.scale:.4g} (calibration)")
        if tare and self.tare_n:
            parts.append(f"+ {'bucket' if self.kind is RigKind.BUCKET else 'hanger'} {self.tare_typed}")
        if self.ratio != 1:
            parts.append(f"× {self.ratio:.4g}")
        if self.own_n:
            parts.append(f"+ lever {show(self.own_n, Kind.FORCE)}")
        return ", ".join(parts)


def find_ratio(arm_hung_mm: float, arm_piece_mm: float) -> float:
    """Return how many times a lever multiplies what hangs on it.

    Examples
    --------
    >>> find_ratio(1000, 100)
    10.0
    """
    return arm_hung_mm / arm_piece_mm


def find_own_load(weight_n: float, balance_mm: float, arm_piece_mm: float) -> float:
    """Return what the weight of a lever puts on the piece, N, where it balances `balance_mm` from its pivot.

    Examples
    --------
    A lever of 2 kg that balances at 450 mm, the piece at 100 mm:

    >>> round(find_own_load(2 * 9.80665, 450, 100), 2)
    88.26
    """
    return weight_n * balance_mm / arm_piece_mm


def half_division(division_mpa: float, bore_mm: float) -> float:
    """Return the smallest load that a gauge tells apart: half a division on the ram, N.

    Examples
    --------
    >>> round(half_division(0.5, 30))
    177
    """
    return 0.5 * division_mpa * pi * bore_mm**2 / 4


def weigh_water(volume_ml: float) -> float:
    """Return the weight of water, N.

    Examples
    --------
    >>> round(weigh_water(1000), 2)
    9.79
    """
    return volume_ml * WATER_G_PER_ML / 1000 * GRAVITY
