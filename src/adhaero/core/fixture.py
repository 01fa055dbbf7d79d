"""Fixtures: from the load at break and the sizes of a piece to its strength."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from math import pi
from types import MappingProxyType
from typing import Final

from adhaero.core.errors import EntryError
from adhaero.core.joint import require_size


class Fixture(StrEnum):
    """How the rig loads a piece."""

    BLOCK_SHEAR = "block-shear"
    LAP_TENSION = "lap-tension"
    BUTT_TENSION = "butt-tension"
    CROSS_LAP = "cross-lap"
    BEND_3 = "bend-3"
    BEND_4 = "bend-4"
    CANTILEVER = "cantilever"
    RACKING = "racking"
    WITHDRAWAL = "withdrawal"


@dataclass(frozen=True)
class Strength:
    """What one break says.

    Attributes
    ----------
    load_n : the load at break, N.
    area_mm2 : the glued area that carried it, where the formula uses one.
    strength_mpa : stress at break, MPa; None for a corner, which has a moment.
    moment_nm : moment at break, N·m; None where there is a stress.
    kind : `shear`, `tension`, `bending` or `moment`.
    """

    load_n: float
    area_mm2: float | None
    strength_mpa: float | None
    moment_nm: float | None
    kind: str


Formula = Callable[[Mapping[str, float]], float]


@dataclass(frozen=True)
class FixtureForm:
    """A fixture in words, the sizes it needs, and stress per newton (or moment in N·m per newton)."""

    name: str
    kind: str
    formula: str
    sizes: tuple[str, ...]
    per_newton: Formula
    area: Formula | None = None


def _area(first: str, second: str) -> Formula:
    return lambda sizes: sizes[first] * sizes[second]


def _section(sizes: Mapping[str, float]) -> float:
    return sizes["width_mm"] * sizes["depth_mm"] ** 2


def _over_area(name: str, kind: str, area: Formula, sizes: tuple[str, ...]) -> FixtureForm:
    return FixtureForm(name, kind, "load / glued area", sizes, lambda s: 1 / area(s), area)


FORMS: Final = MappingProxyType(
    {
        Fixture.BLOCK_SHEAR: _over_area(
            "lapped block, pushed", "shear", _area("width_mm", "overlap_mm"), ("width_mm", "overlap_mm")
        ),
        Fixture.LAP_TENSION: _over_area(
            "lap, pulled (peels at its ends)", "shear", _area("width_mm", "overlap_mm"), ("width_mm", "overlap_mm")
        ),
        Fixture.BUTT_TENSION: _over_area(
            "pulled straight apart", "tension", _area("width_mm", "depth_mm"), ("width_mm", "depth_mm")
        ),
        Fixture.CROSS_LAP: _over_area(
            "crossed pieces, pulled apart", "tension", _area("width_mm", "overlap_mm"), ("width_mm", "overlap_mm")
        ),
        Fixture.BEND_3: FixtureForm(
            "bending, one load in the middle",
            "bending",
            "3 · load · span / (2 · width · depth²)",
            ("span_mm", "width_mm", "depth_mm"),
            lambda s: 3 * s["span_mm"] / (2 * _section(s)),
        ),
        Fixture.BEND_4: FixtureForm(
            "bending, two loads",
            "bending",
            "3 · load · arm / (width · depth²), the arm from each load to its support",
            ("load_arm_mm", "width_mm", "depth_mm"),
            lambda s: 3 * s["load_arm_mm"] / _section(s),
        ),
        Fixture.CANTILEVER: FixtureForm(
            "held at the joint, loaded at an arm",
            "bending",
            "6 · load · arm / (width · depth²)",
            ("arm_mm", "width_mm", "depth_mm"),
            lambda s: 6 * s["arm_mm"] / _section(s),
        ),
        Fixture.RACKING: FixtureForm(
            "corner opened or closed", "moment", "load · arm", ("arm_mm",), lambda s: s["arm_mm"] / 1000
        ),
        Fixture.WITHDRAWAL: _over_area("pulled out", "shear", lambda s: s["area_mm2"], ("area_mm2",)),
    }
)


def compute_strength(fixture: Fixture, load_n: float, sizes: Mapping[str, float]) -> Strength:
    """Return the strength of a piece that broke at a load.

    The formulas are those of elementary beam theory (bending) and of mean stress (the others); they stand in
    `FORMS` beside their words.

    Parameters
    ----------
    fixture : how it was loaded.
    load_n : the load, N, zero or more. For two loads, their sum.
    sizes : mm (mm² for `area_mm2`), by the names in `FORMS[fixture].sizes`.

    Raises
    ------
    EntryError : a size is missing or not above zero, or the load is negative.

    Examples
    --------
    >>> sizes = {"load_arm_mm": 90, "width_mm": 22, "depth_mm": 22}
    >>> round(compute_strength(Fixture.BEND_4, 117 * 9.80665, sizes).strength_mpa, 2)
    29.09
    """
    if load_n < 0:
        raise EntryError(f"The load is {load_n:g} N.", "It must be zero or more.", field="load")
    form = FORMS[fixture]
    needed = {name: require_size(sizes, name) for name in form.sizes}
    result = load_n * form.per_newton(needed)
    moment = form.kind == "moment"
    return Strength(
        load_n=load_n,
        area_mm2=form.area(needed) if form.area else None,
        strength_mpa=None if moment else result,
        moment_nm=result if moment else None,
        kind=form.kind,
    )


def compute_gauge_load(pressure_mpa: float, bore_mm: float) -> float:
    """Return the load in N of a hydraulic ram: pressure · π·D²/4."""
    return pressure_mpa * pi * bore_mm**2 / 4
