"""What a plan holds: its quantities and its words, what can be varied, and what is missing."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final

from adhaero.core.errors import EntryError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import Fixture
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint
from adhaero.core.quantity import Bounds, Kind
from adhaero.core.wood import Grain

_DAY = 86_400.0


@dataclass(frozen=True)
class PlanQuantity:
    """A quantity of a plan: its name on the screen, what it measures, what makes sense."""

    words: str
    kind: Kind
    bounds: Bounds


QUANTITIES: Final[Mapping[str, PlanQuantity]] = MappingProxyType(
    {
        "width_mm": PlanQuantity("width", Kind.LENGTH, Bounds(highest=500)),
        "depth_mm": PlanQuantity("depth", Kind.LENGTH, Bounds(highest=500)),
        "length_mm": PlanQuantity("length", Kind.LENGTH, Bounds(highest=2000)),
        "overlap_mm": PlanQuantity("overlap", Kind.LENGTH, Bounds(highest=500)),
        "slope": PlanQuantity("slope", Kind.SLOPE, Bounds(lowest=1, highest=30)),
        "span_mm": PlanQuantity("span between the supports", Kind.LENGTH, Bounds(highest=2000)),
        "load_arm_mm": PlanQuantity("from each load to its support", Kind.LENGTH, Bounds(highest=1000)),
        "angle_deg": PlanQuantity("angle between the parts", Kind.ANGLE, Bounds(highest=90, zero_allowed=True)),
        "clamp_pressure_mpa": PlanQuantity("clamp pressure", Kind.STRESS, Bounds(highest=20, zero_allowed=True)),
        "clamp_time_s": PlanQuantity("clamp time", Kind.TIME, Bounds(highest=90 * _DAY, zero_allowed=True)),
        "cure_time_s": PlanQuantity("cure time", Kind.TIME, Bounds(highest=30 * 366 * _DAY, zero_allowed=True)),
        "gap_mm": PlanQuantity("gap", Kind.LENGTH, Bounds(highest=20, zero_allowed=True)),
        "margin_pct": PlanQuantity("difference that matters", Kind.PERCENT, Bounds(highest=200)),
        "cv_pct": PlanQuantity("assumed scatter", Kind.PERCENT, Bounds(highest=100)),
    }
)

CHOICES: Final[Mapping[str, tuple[str, ...]]] = MappingProxyType(
    {
        "judged": ("joint", "glue", "both"),
        "joint": tuple(Joint),
        "fixture": (Fixture.BLOCK_SHEAR, Fixture.BEND_3, Fixture.BEND_4),
        "grain_a": tuple(Grain),
        "grain_b": tuple(Grain),
    }
)

WORDS: Final = ("question", "guess", "factor_name", "material_a", "material_b", "glue", "prep")
LONGEST: Final = 300

PIECE_SIZES: Final = ("width_mm", "depth_mm", "overlap_mm")


class Factor(StrEnum):
    """What a trial varies."""

    GLUE = "glue"
    CLAMP_PRESSURE = "clamp_pressure"
    CLAMP_TIME = "clamp_time"
    CURE_TIME = "cure_time"
    PREP = "prep"
    SPECIES = "species"
    GRAIN = "grain"
    GAP = "gap"
    OWN = "own"


@dataclass(frozen=True)
class FactorForm:
    """A factor in words, and the quantity that its values set, if they are quantities."""

    words: str
    quantity: str | None = None


FACTORS: Final[Mapping[Factor, FactorForm]] = MappingProxyType(
    {
        Factor.GLUE: FactorForm("glue"),
        Factor.CLAMP_PRESSURE: FactorForm("clamp pressure", "clamp_pressure_mpa"),
        Factor.CLAMP_TIME: FactorForm("clamp time", "clamp_time_s"),
        Factor.CURE_TIME: FactorForm("cure time", "cure_time_s"),
        Factor.PREP: FactorForm("surface prep"),
        Factor.SPECIES: FactorForm("species"),
        Factor.GRAIN: FactorForm("grain orientation"),
        Factor.GAP: FactorForm("gap", "gap_mm"),
        Factor.OWN: FactorForm("something else"),
    }
)


def check_choice(name: str, value: str) -> None:
    """Raise `EntryError` when a plan's word is none of those offered for it."""
    if value not in CHOICES[name]:
        raise EntryError(f"“{value}” is not known here.", f"Choose one of {', '.join(CHOICES[name])}.", field=name)


def needed_sizes(joint: Joint, fixture: Fixture) -> tuple[str, ...]:
    """Return the names of the sizes that a joint and a fixture need, the piece's before the rig's."""
    names = dict.fromkeys((*JOINTS[joint].sizes, *FIXTURES[fixture].sizes))
    return tuple(sorted(names, key=lambda name: name in ("span_mm", "load_arm_mm")))


def find_missing_sizes(joint: Joint, fixture: Fixture, sizes: Mapping[str, float]) -> tuple[str, ...]:
    """Return a sentence for each size that is still needed, and for sizes that do not fit each other."""
    missing = [name for name in needed_sizes(joint, fixture) if name not in sizes]
    found = [f"The {QUANTITIES[name].words} is missing: type it under “The piece”." for name in missing]
    length, span, arm = sizes.get("length_mm"), sizes.get("span_mm"), sizes.get("load_arm_mm")
    bending = fixture in (Fixture.BEND_3, Fixture.BEND_4)
    if bending and length is not None and span is not None and span >= length:
        found.append(
            f"The span ({span:.4g} mm) is not below the length of the piece ({length:.4g} mm): it would fall through."
        )
    if fixture is Fixture.BEND_4 and span is not None and arm is not None and 2 * arm >= span:
        found.append(f"Two arms of {arm:.4g} mm do not fit into a span of {span:.4g} mm.")
    return tuple(found)
