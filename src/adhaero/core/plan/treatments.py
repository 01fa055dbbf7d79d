"""Sets: the combinations of what is varied, and values spaced evenly or by ratio."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from math import floor, log10

from adhaero.core.errors import EntryError

MOST_FACTORS = 3
MOST_SETS = 500
MOST_VALUES = 60


class TreatmentKind(StrEnum):
    """What a set is for."""

    MADE = "made"
    SOLID = "solid"
    UNTREATED = "untreated"
    STANDARD = "standard"


CONTROLS = {
    TreatmentKind.SOLID: "Solid",
    TreatmentKind.UNTREATED: "Untreated",
    TreatmentKind.STANDARD: "Shop standard",
}


CONTROL_WORDS = {
    TreatmentKind.SOLID: "solid wood, no joint",
    TreatmentKind.UNTREATED: "the untreated version",
    TreatmentKind.STANDARD: "the shop’s standard joint",
}


@dataclass(frozen=True)
class Varied:
    """One thing that is varied: the keys of its values, and of the values of earlier ones that it goes with.

    With an empty `only_with` it is combined with everything; otherwise a set without any of those values has none of it
    (an accelerator that only some glues take).
    """

    levels: tuple[int, ...]
    only_with: frozenset[int] = field(default_factory=frozenset)


def combine(varied: Sequence[Varied]) -> list[tuple[int, ...]]:
    """Return every combination of values, in order, as the keys of the values that each is made of.

    Examples
    --------
    >>> combine([Varied((1, 2)), Varied((7, 8), frozenset({2}))])
    [(1,), (2, 7), (2, 8)]
    """
    sets: list[tuple[int, ...]] = [()]
    for one in varied:
        longer: list[tuple[int, ...]] = []
        for made in sets:
            if one.levels and (not one.only_with or one.only_with.intersection(made)):
                longer += [(*made, level) for level in one.levels]
            else:
                longer.append(made)
        sets = longer
    return [made for made in sets if made]


class Spacing(StrEnum):
    """How values lie between the lowest and the highest."""

    EVEN = "even"
    RATIO = "ratio"


def space(lowest: float, highest: float, count: int, spacing: Spacing) -> tuple[float, ...]:
    """Return values from the lowest to the highest, each step the same difference or the same ratio.

    Raises
    ------
    EntryError : fewer than 2 or more than 60 values, a range that runs backwards, or a ratio from zero.

    Examples
    --------
    >>> [round(value) for value in space(30, 480, 5, Spacing.RATIO)]
    [30, 60, 120, 240, 480]
    """
    if not 2 <= count <= MOST_VALUES:
        raise EntryError(f"{count} values.", f"Expected 2 to {MOST_VALUES}.", field="count")
    if not lowest < highest:
        raise EntryError("The range runs backwards.", "Expected the lowest value first.", "Swap them.", field="highest")
    if spacing is Spacing.RATIO and lowest <= 0:
        raise EntryError(
            "A ratio cannot begin at zero.",
            "Every step multiplies.",
            "Begin above zero, and add zero by itself.",
            field="lowest",
        )
    if spacing is Spacing.RATIO:
        return tuple(lowest * (highest / lowest) ** (step / (count - 1)) for step in range(count))
    return tuple(lowest + (highest - lowest) * step / (count - 1) for step in range(count))


def round_value(value: float, significant: int = 2) -> float:
    """Return a value that a person would set by hand: two significant figures.

    Examples
    --------
    >>> round_value(169.7)
    170.0
    """
    if value == 0:
        return 0.0
    return round(value, significant - 1 - floor(log10(abs(value))))
