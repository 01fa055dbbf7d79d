"""Kinds of rig: what gives the load, and what must be known of it."""

from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final


class LoadUnit(StrEnum):
    """The unit that a rig prints."""

    NEWTON = "N"
    KILONEWTON = "kN"
    KILOGRAM = "kgf"
    POUND = "lbf"
    GRAM = "g"
    OUNCE = "oz"


class GaugeUnit(StrEnum):
    """The unit of the gauge of a jack; empty for a rig without one."""

    NONE = ""
    BAR = "bar"
    PSI = "psi"
    MEGAPASCAL = "MPa"
    KILOPASCAL = "kPa"


class TravelUnit(StrEnum):
    """The unit of how far a piece moves, as a rig prints it."""

    MILLIMETRE = "mm"
    INCH = "in"
    MICROMETRE = "µm"


class Parity(StrEnum):
    """How a serial line checks its bytes."""

    NONE = "none"
    EVEN = "even"
    ODD = "odd"


class RigKind(StrEnum):
    """What gives the load."""

    PRESS = "press"
    SCALE = "scale"
    WEIGHTS = "weights"
    BUCKET = "bucket"
    JACK = "jack"
    LEVER = "lever"
    HAND = "hand"


class LoadEntry(StrEnum):
    """How the load of a rig without a cable is entered: as it is read."""

    PEAK = "peak"
    PLATES = "plates"
    BUCKET = "bucket"
    GAUGE = "gauge"
    LEVER = "lever"
    FACE = "face"


@dataclass(frozen=True)
class RigForm:
    """A kind of rig in words; `needs` are the fields beside capacity and resolution."""

    words: str
    reading: str
    entry: LoadEntry
    needs: tuple[str, ...]
    caution: str


FORMS: Final = MappingProxyType(
    {
        RigKind.PRESS: RigForm(
            "press with a load cell", "prints its load, or holds the peak", LoadEntry.PEAK, (),
            "A press keeps pushing after the crack: hands off until it is released.",
        ),
        RigKind.SCALE: RigForm(
            "crane or luggage scale", "holds the peak", LoadEntry.PEAK, ("handle",),
            "Stand out of line with the chain: it whips when the piece lets go.",
        ),
        RigKind.WEIGHTS: RigForm(
            "hung weights, in steps", "between the last weight that held and the next, with the hanger",
            LoadEntry.PLATES, ("tare", "handle"),
            "Nothing of you under the weights; set the next one down from the side.",
        ),
        RigKind.BUCKET: RigForm(
            "bucket, weighed afterwards", "weighed with what is in it, or its own weight and the water poured in",
            LoadEntry.BUCKET, ("tare", "handle"),
            "Keep the bucket close to the floor, feet away.",
        ),
        RigKind.JACK: RigForm(
            "jack with a gauge", "gauge pressure on the bore of the ram, known to half a division", LoadEntry.GAUGE,
            ("bore", "gauge_unit"),
            "Oil under pressure: no hands near the hose, release before you reach in.",
        ),
        RigKind.LEVER: RigForm(
            "lever", "weight or scale, with its hanger, times its ratio, and the lever's own weight", LoadEntry.LEVER,
            ("arm_piece", "arm_hung", "lever_ratio", "lever", "balance", "tare", "handle"),
            "The lever's end drops when the piece breaks: stand aside.",
        ),
        RigKind.HAND: RigForm(
            "hand and hammer", "none: pass or fail by the broken face", LoadEntry.FACE, (),
            "Hold it in a vice, not in the hand; eyes covered.",
        ),
    }
)  # fmt: skip
