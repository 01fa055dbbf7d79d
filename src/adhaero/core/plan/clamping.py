"""Clamps: force and pressure on a glue line, and how many clamps a target takes."""

from dataclasses import dataclass
from math import ceil

from adhaero.core.errors import EntryError


@dataclass(frozen=True)
class Clamping:
    """Clamps on one glue line; `clamps_needed` are for the lower and the upper end of the target."""

    area_mm2: float
    force_n: float
    pressure_mpa: float
    target_mpa: tuple[float, float] | None
    within_target: bool | None
    clamps_needed: tuple[int, int] | None


def compute_line_force(pressure_mpa: float, area_mm2: float) -> float:
    """Return the force in N that presses `area_mm2` at `pressure_mpa`: F = p·A."""
    return pressure_mpa * area_mm2


def compute_clamping(
    area_mm2: float, clamp_force_n: float, clamps: int = 1, target_mpa: tuple[float, float] | None = None
) -> Clamping:
    """Return the pressure of clamps on a glue line, p = ΣF/A, held against a target range.

    Parameters
    ----------
    area_mm2 : glued area that the clamps press; clamp_force_n : force of one clamp; clamps : how many press it.
    target_mpa : lowest and highest wanted pressure, or None.

    Raises
    ------
    EntryError : area, force or clamps not above 0, or a target that runs backwards.
    """
    for name, value in (("area", area_mm2), ("force", clamp_force_n), ("clamps", clamps)):
        if not value > 0:
            raise EntryError(f"{name} is {value:g}.", "It must be above 0.", field=name)
    if target_mpa is not None and not 0 < target_mpa[0] <= target_mpa[1]:
        raise EntryError("The target runs backwards.", "Expected lowest:highest, e.g. 175psi:250psi.", field="target")
    force = clamps * clamp_force_n
    pressure = force / area_mm2
    if target_mpa is None:
        return Clamping(area_mm2, force, pressure, None, None, None)
    low, high = (max(1, ceil(one * area_mm2 / clamp_force_n - 1e-9)) for one in target_mpa)
    return Clamping(area_mm2, force, pressure, target_mpa, target_mpa[0] <= pressure <= target_mpa[1], (low, high))
