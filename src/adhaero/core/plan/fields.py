"""What a plan holds: its quantities and its words, what can be varied, and what is missing."""

import re
from collections.abc import Iterable, Mapping, Sequence
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
    """A quantity of a plan: its name on the screen, what it measures, what makes sense, its own unit if any."""

    words: str
    kind: Kind
    bounds: Bounds
    unit: str = ""


QUANTITIES: Final[Mapping[str, PlanQuantity]] = MappingProxyType(
    {
        "width_mm": PlanQuantity("width", Kind.LENGTH, Bounds(highest=500)),
        "depth_mm": PlanQuantity("depth", Kind.LENGTH, Bounds(highest=500)),
        "length_mm": PlanQuantity("length", Kind.LENGTH, Bounds(highest=2000)),
        "overlap_mm": PlanQuantity("overlap", Kind.LENGTH, Bounds(highest=500)),
        "slope": PlanQuantity("slope", Kind.SLOPE, Bounds(lowest=1, highest=30)),
        "rabbet_width_mm": PlanQuantity("rabbet width", Kind.LENGTH, Bounds(highest=500)),
        "rabbet_depth_mm": PlanQuantity("rabbet depth", Kind.LENGTH, Bounds(highest=500)),
        "tenon_length_mm": PlanQuantity("tenon length, or depth in one part", Kind.LENGTH, Bounds(highest=500)),
        "tenon_width_mm": PlanQuantity("tenon width", Kind.LENGTH, Bounds(highest=500)),
        "tenon_thickness_mm": PlanQuantity("tenon thickness", Kind.LENGTH, Bounds(highest=200)),
        "dowel_count": PlanQuantity("dowels", Kind.NUMBER, Bounds(lowest=1, highest=50)),
        "dowel_diameter_mm": PlanQuantity("dowel diameter", Kind.LENGTH, Bounds(highest=100)),
        "dowel_depth_mm": PlanQuantity("dowel depth in one part", Kind.LENGTH, Bounds(highest=300)),
        "finger_count": PlanQuantity("fingers", Kind.NUMBER, Bounds(lowest=1, highest=100)),
        "finger_length_mm": PlanQuantity("finger length", Kind.LENGTH, Bounds(highest=300)),
        "spline_depth_mm": PlanQuantity("spline depth in one part", Kind.LENGTH, Bounds(highest=200)),
        "half_angle_deg": PlanQuantity("half angle of the V", Kind.ANGLE, Bounds(lowest=2, highest=89)),
        "span_mm": PlanQuantity("span between the supports", Kind.LENGTH, Bounds(highest=2000)),
        "load_arm_mm": PlanQuantity("from each load to its support", Kind.LENGTH, Bounds(highest=1000)),
        "arm_mm": PlanQuantity("arm from the joint to the load", Kind.LENGTH, Bounds(highest=2000)),
        "angle_deg": PlanQuantity("angle between the parts", Kind.ANGLE, Bounds(highest=90, zero_allowed=True)),
        "clamp_pressure_mpa": PlanQuantity("clamp pressure", Kind.STRESS, Bounds(highest=20, zero_allowed=True)),
        "clamp_time_s": PlanQuantity("clamp time", Kind.TIME, Bounds(highest=90 * _DAY, zero_allowed=True)),
        "cure_time_s": PlanQuantity("cure time", Kind.TIME, Bounds(highest=30 * 366 * _DAY, zero_allowed=True)),
        "gap_mm": PlanQuantity("gap", Kind.LENGTH, Bounds(highest=20, zero_allowed=True)),
        "wood_moisture_pct": PlanQuantity("wood moisture", Kind.PERCENT, Bounds(highest=40)),
        "shop_temperature_c": PlanQuantity("shop temperature", Kind.TEMPERATURE, Bounds(lowest=-20, highest=50)),
        "kerf_mm": PlanQuantity("kerf", Kind.LENGTH, Bounds(highest=20, zero_allowed=True)),
        "trim_mm": PlanQuantity("trim off each board end", Kind.LENGTH, Bounds(highest=500, zero_allowed=True)),
        "planing_mm": PlanQuantity("planing allowance", Kind.LENGTH, Bounds(highest=30, zero_allowed=True)),
        "waste_pct": PlanQuantity("glue wasted", Kind.PERCENT, Bounds(highest=300, zero_allowed=True)),
        "seconds_each_s": PlanQuantity("time to spread and close one", Kind.TIME, Bounds(highest=7200), "min"),
        "must_carry_n": PlanQuantity("load that it has to carry", Kind.FORCE, Bounds(highest=1e6)),
        "margin_pct": PlanQuantity("difference that matters", Kind.PERCENT, Bounds(highest=200)),
        "cv_pct": PlanQuantity("assumed scatter", Kind.PERCENT, Bounds(highest=100)),
    }
)


class AnswerKind(StrEnum):
    """What kind of answer a plan asks for."""

    COMPARE = "compare"
    CURVE = "curve"
    RETENTION = "retention"
    TREND = "trend"
    PASS_FAIL = "pass_fail"


ANSWER_WORDS: Final = MappingProxyType(
    {
        AnswerKind.COMPARE: "which is stronger",
        AnswerKind.CURVE: "how it goes with a quantity",
        AnswerKind.RETENTION: "what wet and weather leave",
        AnswerKind.TREND: "how it goes over years",
        AnswerKind.PASS_FAIL: "pass or fail",
    }
)


class JudgedFor(StrEnum):
    """What a trial judges: the joint as built, the glue alone, or both."""

    JOINT = "joint"
    GLUE = "glue"
    BOTH = "both"


JUDGED_WORDS: Final = MappingProxyType(
    {JudgedFor.JOINT: "joint as built", JudgedFor.GLUE: "glue alone", JudgedFor.BOTH: "both"}
)


class Faces(StrEnum):
    """On how many faces glue is spread."""

    ONE = "one"
    BOTH = "both"


class Matched(StrEnum):
    """How pieces of different treatments are matched: not, as halves of one bar, or as neighbours in the board."""

    NOT = ""
    HALVES = "halves"
    NEIGHBOURS = "neighbours"


MATCHED_WORDS: Final = MappingProxyType(
    {
        Matched.NOT: "no pairs",
        Matched.HALVES: "two halves of one bar",
        Matched.NEIGHBOURS: "neighbours on a board",
    }
)
MATCHED_MEANING: Final = MappingProxyType(
    {
        Matched.HALVES: "Each bar is glued in one, double as wide, and ripped into two pieces afterwards: they share "
        "wood, glue and clamp, and differ only in what comes later. Baselines stand alone.",
        Matched.NEIGHBOURS: "The two pieces of a pair lie beside each other on the board. Baselines stand alone.",
    }
)


class StepTurn(StrEnum):
    """Whether work besides the joint comes before or after the glue-up."""

    BEFORE = "before"
    AFTER = "after"


TURN_WORDS: Final = MappingProxyType({StepTurn.BEFORE: "before glue-up", StepTurn.AFTER: "after it"})

CHOICES: Final[Mapping[str, tuple[str, ...]]] = MappingProxyType(
    {
        "judged": tuple(JudgedFor),
        "answer": tuple(AnswerKind),
        "joint": tuple(Joint),
        "fixture": tuple(Fixture),
        "grain_a": tuple(Grain),
        "grain_b": tuple(Grain),
        "faces": tuple(Faces),
        "matched": tuple(Matched),
        "together": ("0", "1"),
        "blind": ("0", "1"),
        "looks": ("0", "1"),
    }
)

WORDS: Final = (
    "question", "guess", "material_a", "material_b", "glue", "prep", "spread", "condition",
    "fence", "stop_block", "blade", "planer",
)  # fmt: skip
LONGEST: Final = 300

SAW_QUANTITIES: Final = ("kerf_mm", "trim_mm", "planing_mm")


class Factor(StrEnum):
    """What a trial varies."""

    GLUE = "glue"
    CLAMP_PRESSURE = "clamp_pressure"
    CLAMP_TIME = "clamp_time"
    CURE_TIME = "cure_time"
    PREP = "prep"
    SPREAD = "spread"
    SPECIES = "species"
    GRAIN = "grain"
    GAP = "gap"
    JOINT = "joint"
    SLOPE = "slope"
    OVERLAP = "overlap"
    CONDITION = "condition"
    OWN = "own"


@dataclass(frozen=True)
class FactorForm:
    """A factor in words, the quantity that its values set, if they are quantities, else the words of a plan."""

    words: str
    quantity: str | None = None
    sets: tuple[str, ...] = ()


FACTORS: Final[Mapping[Factor, FactorForm]] = MappingProxyType(
    {
        Factor.GLUE: FactorForm("glue", sets=("glue",)),
        Factor.CLAMP_PRESSURE: FactorForm("clamp pressure", "clamp_pressure_mpa"),
        Factor.CLAMP_TIME: FactorForm("clamp time", "clamp_time_s"),
        Factor.CURE_TIME: FactorForm("cure time, or age at the test", "cure_time_s"),
        Factor.PREP: FactorForm("surface prep", sets=("prep",)),
        Factor.SPREAD: FactorForm("how the glue is spread", sets=("spread",)),
        Factor.SPECIES: FactorForm("species", sets=("material_a", "material_b")),
        Factor.GRAIN: FactorForm("grain orientation", sets=("grain_a", "grain_b")),
        Factor.GAP: FactorForm("gap", "gap_mm"),
        Factor.JOINT: FactorForm("joint", sets=("joint",)),
        Factor.SLOPE: FactorForm("scarf slope", "slope"),
        Factor.OVERLAP: FactorForm("overlap", "overlap_mm"),
        Factor.CONDITION: FactorForm("what it goes through before the test", sets=("condition",)),
        Factor.OWN: FactorForm("something else"),
    }
)


def check_choice(name: str, value: str) -> None:
    """Raise `EntryError` when a plan's word is none of those offered for it."""
    if value not in CHOICES[name]:
        raise EntryError(f"“{value}” is not known here.", f"Choose one of {', '.join(CHOICES[name])}.", field=name)


def needed_sizes(joints: Iterable[Joint], fixture: Fixture) -> tuple[str, ...]:
    """Return the names of the sizes that joints and a fixture need, the piece's before the rig's."""
    names = dict.fromkeys(name for joint in joints for name in JOINTS[joint].sizes)
    names |= dict.fromkeys(name for name in FIXTURES[fixture].sizes if name != "area_mm2")
    return tuple(sorted(names, key=lambda name: name in RIG_SIZES))


RIG_SIZES: Final = ("span_mm", "load_arm_mm", "arm_mm")


def measured_sizes(joint: Joint, fixture: Fixture) -> tuple[str, ...]:
    """Return the sizes that are measured on each piece: those of the wood that its strength is computed from."""
    names = FIXTURES[fixture].sizes
    if "area_mm2" in names:
        names = JOINTS[joint].sizes
    return tuple(name for name in names if name not in RIG_SIZES and name.endswith("_mm"))


_GRAINS: Final = MappingProxyType(
    {
        "face": Grain.FACE,
        "flat": Grain.FACE,
        "side": Grain.FACE,
        "long": Grain.FACE,
        "edge": Grain.EDGE,
        "end": Grain.END,
    }
)
_GRAIN_FILLERS: Final = frozenset(
    ("to", "on", "and", "grain", "glued", "with", "against", "the", "a", "both", "parts", "in", "of", "joint")
)


def find_grains(words: str) -> tuple[tuple[Grain, ...], tuple[str, ...]]:
    """Return the surfaces that someone's words name in order, and the words that were not understood.

    Examples
    --------
    >>> find_grains("side to end")
    ((<Grain.FACE: 'face'>, <Grain.END: 'end'>), ())
    >>> find_grains("rings opposed")[1]
    ('rings', 'opposed')
    """
    spoken = re.findall(r"[^\W\d_]+", words.lower())
    found = tuple(_GRAINS[word] for word in spoken if word in _GRAINS)
    return found, tuple(word for word in spoken if word not in _GRAINS and word not in _GRAIN_FILLERS)


def read_grains(words: str, otherwise: tuple[Grain, Grain]) -> tuple[Grain, Grain]:
    """Return the two surfaces that someone's words name (`end to face`); one alone stands for both parts.

    Examples
    --------
    >>> read_grains("end to face", (Grain.EDGE, Grain.EDGE))
    (<Grain.END: 'end'>, <Grain.FACE: 'face'>)
    >>> read_grains("long grain", (Grain.END, Grain.END))
    (<Grain.FACE: 'face'>, <Grain.FACE: 'face'>)
    """
    found, _ = find_grains(words)
    if not found:
        return otherwise
    return (found[0], found[1] if len(found) > 1 else found[0])


def find_missing_sizes(joints: Sequence[Joint], fixture: Fixture, sizes: Mapping[str, float]) -> tuple[str, ...]:
    """Return a sentence for the sizes that are still needed, and for sizes that do not fit each other."""
    missing = [QUANTITIES[name].words for name in needed_sizes(joints, fixture) if name not in sizes]
    found = []
    if missing:
        one = len(missing) == 1
        found.append(
            f"{'A size is' if one else 'Sizes are'} missing: {'; '.join(missing)}. "
            f"Type {'it' if one else 'them'} under “The piece”."
        )
    length, span, arm = sizes.get("length_mm"), sizes.get("span_mm"), sizes.get("load_arm_mm")
    bending = fixture in (Fixture.BEND_3, Fixture.BEND_4)
    if bending and length is not None and span is not None and span >= length:
        found.append(
            f"The span ({span:.4g} mm) is not below the length of the piece ({length:.4g} mm): it would fall through."
        )
    if fixture is Fixture.BEND_4 and span is not None and arm is not None and 2 * arm >= span:
        found.append(f"Two arms of {arm:.4g} mm do not fit into a span of {span:.4g} mm.")
    return tuple(found)
