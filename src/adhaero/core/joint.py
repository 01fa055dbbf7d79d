"""Joints: the glued area of one piece and what its sizes are called."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final

from adhaero.core.errors import EntryError


class Joint(StrEnum):
    """How the two parts of a piece meet."""

    LAPPED_BLOCK = "lapped-block"
    EDGE = "edge"
    SCARF = "scarf"


@dataclass(frozen=True)
class JointForm:
    """What a joint is called, which sizes it needs and which fixture it is usually broken in."""

    name: str
    sizes: tuple[str, ...]
    usual_fixture: str


FORMS: Final = MappingProxyType(
    {
        Joint.LAPPED_BLOCK: JointForm("lapped block", ("width_mm", "overlap_mm"), "block-shear"),
        Joint.EDGE: JointForm("edge joint", ("width_mm", "depth_mm"), "bend-3"),
        Joint.SCARF: JointForm("scarf", ("width_mm", "depth_mm", "slope"), "bend-4"),
    }
)


def compute_glued_area(joint: Joint, sizes: Mapping[str, float]) -> float:
    """Return the glued area of one piece in mm².

    Lapped block: b·l. Edge joint: b·d. Scarf of slope 1:s over the depth d: b·d·√(1+s²), the length of the
    sloping face being d·√(1+s²) (Pythagoras).

    Parameters
    ----------
    joint : the joint.
    sizes : width b `width_mm`, depth d `depth_mm`, overlap l `overlap_mm` in mm; `slope` s, a number.

    Raises
    ------
    EntryError : a size is missing or not above zero.

    Examples
    --------
    >>> round(compute_glued_area(Joint.SCARF, {"width_mm": 22, "depth_mm": 22, "slope": 8}), 1)
    3902.1
    """
    values = [require_size(sizes, name) for name in FORMS[joint].sizes]
    if joint is Joint.SCARF:
        width, depth, slope = values
        return width * depth * math.sqrt(1 + slope**2)
    return values[0] * values[1]


def require_size(sizes: Mapping[str, float], name: str) -> float:
    """Return a size that must be there and above zero; raise `EntryError` naming it otherwise."""
    value = sizes.get(name)
    words = name.removesuffix("_mm").removesuffix("_mm2").replace("_", " ")
    if value is None:
        raise EntryError(
            f"The {words} is missing.", "It is needed for the area or the strength.", f"Type the {words}.", field=name
        )
    if not (math.isfinite(value) and value > 0):
        raise EntryError(f"The {words} is {value:g} mm.", "It must be above 0.", "Measure it again.", field=name)
    return value
