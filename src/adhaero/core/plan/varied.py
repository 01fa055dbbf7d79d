"""What varies in somebody's table: which of the shop's words a heading means, and how its values are read then."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from adhaero.core.errors import AdhaeroError
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import find_joint
from adhaero.core.plan.exposures import ExposureKind, read_exposure
from adhaero.core.plan.fields import FACTORS, QUANTITIES, Factor, find_grains
from adhaero.core.quantity import Kind, parse_quantity


@dataclass(frozen=True)
class ReadValue:
    """A value as it is written in a plan, and its quantity in SI units where its kind is one."""

    name: str
    si: float | None = None


# the first that a heading names and that its values fit
_SIGNS: Final[tuple[tuple[Factor, frozenset[str]], ...]] = tuple(
    (kind, frozenset(words.split()))
    for kind, words in (
        (Factor.CLAMP_PRESSURE, "pressure clamp clamps clamped clamping"),
        (Factor.CLAMP_TIME, "clamp clamps clamped clamping"),
        (Factor.CURE_TIME, "cure cured cures curing age aged ageing aging"),
        (Factor.GAP, "gap gaps"),
        (Factor.OVERLAP, "overlap lap"),
        (Factor.SLOPE, "slope slopes scarf"),
        (Factor.JOINT, "joint joints joinery"),
        (Factor.GRAIN, "grain grains orientation"),
        (Factor.CONDITION, "condition conditions conditioning exposure exposed weather soak soaked soaking water wet"),
        (Factor.PREP, "prep preparation surface surfaces sanded sanding planed tooling"),
        (Factor.SPREAD, "spread spreading coat coats coating"),
        (Factor.SPECIES, "wood woods species timber timbers"),
        (Factor.GLUE, "glue glues adhesive adhesives"),
    )
)
# headings that a layout gives and nobody wrote: only the values say what they are
_TITLES: Final = frozenset({"block", "sheet", "column", "treatment", "treatments"})
_NAMELESS: Final = _TITLES | {"", "set", "sets", "group", "groups", "kind", "type", "sort", "variant", "variants"}
_WEATHERED: Final = (ExposureKind.SOAK, ExposureKind.OUTDOORS, ExposureKind.FREEZE, ExposureKind.OVEN)
_SAYS_CONDITION: Final = frozenset({"condition", "conditions", "conditioning", "exposure"})
# in which a number without a unit may be meant
_UNITS: Final[Mapping[Kind, tuple[str, ...]]] = {
    Kind.TIME: ("min", "h", "d"), Kind.STRESS: ("MPa", "psi"), Kind.LENGTH: ("mm", "in"), Kind.SLOPE: (),
}  # fmt: skip
_BRACKETS: Final = re.compile(r"[\[(]\s*([^\])]*?)\s*[\])]")
_WORD: Final = re.compile(r"[^\W\d_]+")


def read_values(kind: Factor, heading: str, values: Sequence[str], unit: str = "") -> tuple[ReadValue, ...] | None:
    """Return values of a table as those of a plan's kind; None where one of them cannot be one, or two are the same.

    Parameters
    ----------
    heading : of their column; a unit in it is that of numbers without one. unit : of those, where it names none.

    Examples
    --------
    >>> [one.si for one in read_values(Factor.CLAMP_TIME, "Clamp time (h)", ("1", "90 min"))]
    [3600.0, 5400.0]
    >>> read_values(Factor.CLAMP_TIME, "Clamp time", ("1", "4")) is None, read_values(Factor.JOINT, "", ("a good one",))
    (True, None)
    """
    read = _read_values(kind, heading, values, unit)
    alike = read is not None and len({one.name.casefold() for one in read}) < len(read)
    return None if alike else read


def _read_values(kind: Factor, heading: str, values: Sequence[str], unit: str) -> tuple[ReadValue, ...] | None:
    quantity_name = FACTORS[kind].quantity
    if quantity_name is not None:
        quantity = QUANTITIES[quantity_name]
        of_bare = find_unit(heading, quantity.kind) or unit
        if not of_bare and quantity.kind is not Kind.SLOPE and not all(map(_has_unit, values)):
            return None
        typed = [text if _has_unit(text) else f"{text} {of_bare}".strip() for text in values]
        try:
            read = [parse_quantity(one, quantity.kind, bounds=quantity.bounds) for one in typed]
        except AdhaeroError:
            return None
        return tuple(ReadValue(one.typed, one.si) for one in read)
    if kind is Factor.JOINT:
        try:
            return tuple(ReadValue(JOINTS[find_joint(text)].name) for text in values)
        except AdhaeroError:
            return None
    blank = "not said" if any(text.casefold() == "none" for text in values) else "none"
    if kind is Factor.CONDITION:
        return tuple(ReadValue(_say_condition(heading, text) or blank) for text in values)
    return tuple(ReadValue(text or blank) for text in values)


def guess_kind(heading: str, values: Sequence[str]) -> Factor:
    """Return which kind a heading and its values most likely mean; `OWN` where nothing says it.

    A number without a unit is of no kind until a person says so.

    Examples
    --------
    >>> guess_kind("Clamp time (h)", ("1", "4")).value, guess_kind("Time", ("1", "4")).value
    ('clamp_time', 'own')
    >>> guess_kind("block", ("dry", "soaked 24 h")).value, guess_kind("set", ("Wren", "Tern")).value
    ('condition', 'own')
    """
    words = _words_of(heading)
    for kind, signs in _SIGNS:
        if words & signs and _fits(kind, heading, values):
            return kind
    if " ".join(words) not in _NAMELESS:
        return Factor.OWN
    if read_values(Factor.JOINT, "", values) is not None:
        return Factor.JOINT
    if all(found and not unread for found, unread in map(find_grains, values)):
        return Factor.GRAIN
    if words & _TITLES and any((one := read_exposure(text)) and one.kind in _WEATHERED for text in values):
        return Factor.CONDITION
    return Factor.OWN


def _fits(kind: Factor, heading: str, values: Sequence[str]) -> bool:
    """Return whether values are of a kind, with no surface and no condition that nobody wrote."""
    if kind is Factor.GRAIN:
        return all(find_grains(text)[0] for text in values)
    if kind is Factor.CONDITION:
        says = bool(_words_of(heading) & _SAYS_CONDITION)
        return says or any(read_exposure(_say_condition(heading, text)) is not None for text in values)
    return read_values(kind, heading, values) is not None


def _words_of(heading: str) -> set[str]:
    return set(_WORD.findall(_BRACKETS.sub(" ", heading).casefold()))


def _has_unit(text: str) -> bool:
    return bool(re.search(r"[^\W\d_]|[\"'″”′’°%:]", text))


def find_unit(heading: str, kind: Kind) -> str:
    """Return the unit of a kind of quantity that a heading names; empty without one.

    Examples
    --------
    >>> find_unit("Clamp time (h)", Kind.TIME), find_unit("Cured, days", Kind.TIME), find_unit("Age", Kind.TIME)
    ('h', 'days', '')
    """
    last = _WORD.findall(heading.replace("_", " "))[-1:]
    for unit in (*_BRACKETS.findall(heading), *last):
        try:
            parse_quantity(f"1 {unit}", kind)
        except AdhaeroError:
            continue
        return str(unit)
    return ""


def _say_condition(heading: str, text: str) -> str:
    """Return a condition in words that say what it is: a bare time goes with what its heading names."""
    spoken = heading.strip().casefold()
    here, both = read_exposure(text), read_exposure(f"{spoken} {text}")
    bare = here is not None and here.kind is ExposureKind.OTHER and both is not None and both.kind in _WEATHERED
    return f"{spoken} {text}" if bare else text


def list_kinds(heading: str, values: Sequence[str]) -> Mapping[str, tuple[ReadValue, ...]]:
    """Return how values are read as every kind that they can be of, by its key; numbers without a unit in each.

    Examples
    --------
    >>> [key for key in list_kinds("Time", ("30", "90")) if key.startswith("clamp_time")]
    ['clamp_time min', 'clamp_time h', 'clamp_time d']
    """
    found: dict[str, tuple[ReadValue, ...]] = {}
    for kind in Factor:
        quantity_name = FACTORS[kind].quantity
        read = read_values(kind, heading, values)
        if read is not None:
            found[kind.value] = read
        elif quantity_name is not None:
            in_units = {
                unit: read_values(kind, heading, values, unit) for unit in _UNITS[QUANTITIES[quantity_name].kind]
            }
            found |= {f"{kind.value} {unit}": read for unit, read in in_units.items() if read is not None}
    return found
