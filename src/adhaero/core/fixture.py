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
    PRY = "pry"
    LOAD = "load"
    STRESS = "stress"


@dataclass(frozen=True)
class Strength:
    """What one break says.

    Attributes
    ----------
    load_n : the load at break, N.
    area_mm2 : the glued area that carried it, where the formula uses one.
    strength_mpa : stress at break, MPa; None for a corner, which has a moment.
    moment_nm : moment at break, N·m; None where there is a stress.
    kind : `shear`, `tension`, `bending`, `moment`, `none` (prying: pass or fail by the broken face), or of what was
        brought in without sizes `load` or `stress`.
    """

    load_n: float
    area_mm2: float | None
    strength_mpa: float | None
    moment_nm: float | None
    kind: str


Formula = Callable[[Mapping[str, float]], float]


@dataclass(frozen=True)
class FixtureForm:
    """A fixture in words, the sizes it needs, and stress per newton (or moment in N·m per newton).

    `scales` names the sizes that set how much load a piece takes, with the power that the load goes with them.
    """

    name: str
    kind: str
    formula: str
    sits: str
    sizes: tuple[str, ...]
    per_newton: Formula
    scales: tuple[tuple[str, int], ...] = ()
    area: Formula | None = None

    def checks(self, *, solid: bool = False) -> list[str]:
        """Return what is looked after on every piece before it is loaded, in words."""
        glued = () if solid else ("Squeeze-out knocked off where it would carry load",)
        return [*glued, *_CHECKS[self.kind]]


_CHECKS: Final = MappingProxyType(
    {
        "shear": ("Faces that stand and that are pushed are flat and clean", "Nothing rubs along the joint"),
        "tension": ("Grips or pin holes are in line with the joint", "Nothing rubs along the joint"),
        "bending": ("Faces under supports and loads are flat and clean",),
        "moment": ("The clamped leg lies flat, free up to the joint", "The arm is marked where the load comes"),
        "none": (),
        "load": (),
        "stress": (),
    }
)


def _area(first: str, second: str) -> Formula:
    return lambda sizes: sizes[first] * sizes[second]


def _section(sizes: Mapping[str, float]) -> float:
    return sizes["width_mm"] * sizes["depth_mm"] ** 2


def _over_area(name: str, kind: str, sits: str, area: Formula, sizes: tuple[str, ...], scales: str) -> FixtureForm:
    scaling = ((scales, 1),) if scales else ()
    return FixtureForm(name, kind, "load / glued area", sits, sizes, lambda s: 1 / area(s), scaling, area)


_BENDING = (("depth_mm", 2), ("width_mm", 1))

FORMS: Final = MappingProxyType(
    {
        Fixture.BLOCK_SHEAR: _over_area(
            "lapped block, pushed", "shear", "One part stands on the table, the other is pushed down past it.",
            _area("width_mm", "overlap_mm"), ("width_mm", "overlap_mm"), "overlap_mm",
        ),
        Fixture.LAP_TENSION: _over_area(
            "lap, pulled (peels at its ends)", "shear", "Both ends are gripped and pulled apart along the lap.",
            _area("width_mm", "overlap_mm"), ("width_mm", "overlap_mm"), "overlap_mm",
        ),
        Fixture.BUTT_TENSION: _over_area(
            "pulled straight apart", "tension", "Both parts are gripped in line with the joint and pulled apart.",
            _area("width_mm", "depth_mm"), ("width_mm", "depth_mm"), "width_mm",
        ),
        Fixture.CROSS_LAP: _over_area(
            "crossed pieces, pulled apart", "tension", "One part lies across two stops, the other is pushed off it.",
            _area("width_mm", "overlap_mm"), ("width_mm", "overlap_mm"), "overlap_mm",
        ),
        Fixture.BEND_3: FixtureForm(
            "bending, one load in the middle", "bending", "3 · load · span / (2 · width · depth²)",
            "It lies on two supports; one load comes down on the joint in the middle.",
            ("span_mm", "width_mm", "depth_mm"), lambda s: 3 * s["span_mm"] / (2 * _section(s)), _BENDING,
        ),
        Fixture.BEND_4: FixtureForm(
            "bending, two loads", "bending",
            "3 · load · arm / (width · depth²), the arm from each load to its support",
            "It lies on two supports; two equal loads come down either side of the joint.",
            ("load_arm_mm", "width_mm", "depth_mm"), lambda s: 3 * s["load_arm_mm"] / _section(s), _BENDING,
        ),
        Fixture.CANTILEVER: FixtureForm(
            "held at the joint, loaded at an arm", "bending", "6 · load · arm / (width · depth²)",
            "One part is clamped up to the joint; the load comes down on the other at the arm.",
            ("arm_mm", "width_mm", "depth_mm"), lambda s: 6 * s["arm_mm"] / _section(s), _BENDING,
        ),
        Fixture.RACKING: FixtureForm(
            "corner opened or closed", "moment", "load · arm", "One leg is clamped; the other is pushed at the arm.",
            ("arm_mm",), lambda s: s["arm_mm"] / 1000, (("arm_mm", -1),),
        ),
        Fixture.WITHDRAWAL: _over_area(
            "pulled out", "shear", "One part is held down, the other is pulled straight out of it.",
            lambda s: s["area_mm2"], ("area_mm2",), "",
        ),
        Fixture.PRY: FixtureForm(
            "pried, struck or stepped on: pass or fail", "none", "none: the broken face decides",
            "It is broken open by hand, out of line with face and eyes; wood that tore is a pass.", (),
            lambda _: 0.0,
        ),
        Fixture.LOAD: FixtureForm(
            "not said: loads alone", "load", "the load as it is", "How it was loaded is not written down.", (),
            lambda _: 1.0,
        ),
        Fixture.STRESS: FixtureForm(
            "not said: stresses alone", "stress", "the stress as it was written",
            "How it was loaded is not written down.", (), lambda _: 1.0,
        ),
    }
)  # fmt: skip

# what is brought in may have no more than a number; a plan of one's own says how it is loaded
UNSAID: Final = (Fixture.LOAD, Fixture.STRESS)


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
    >>> sizes = {"load_arm_mm": 80, "width_mm": 18, "depth_mm": 18}
    >>> round(compute_strength(Fixture.BEND_4, 85 * 9.80665, sizes).strength_mpa, 2)
    34.3
    """
    if load_n < 0:
        raise EntryError(f"The load is {load_n:g} N.", "It must be zero or more.", field="load")
    form = FORMS[fixture]
    needed = {name: require_size(sizes, name) for name in form.sizes}
    result = load_n * form.per_newton(needed)
    return Strength(
        load_n=load_n,
        area_mm2=form.area(needed) if form.area else None,
        strength_mpa=None if form.kind in ("moment", "none", "load") else result,
        moment_nm=result if form.kind == "moment" else None,
        kind=form.kind,
    )


def compute_gauge_load(pressure_mpa: float, bore_mm: float) -> float:
    """Return the load in N of a hydraulic ram: pressure · π·D²/4."""
    return pressure_mpa * pi * bore_mm**2 / 4


STRENGTH_WORDS: Final = MappingProxyType(
    {
        "bending": "Bending strength",
        "shear": "Shear strength",
        "tension": "Tensile strength",
        "moment": "Moment at the joint",
        "none": "Strength",
        "load": "Load at break",
        "stress": "Stress at break",
    }
)
