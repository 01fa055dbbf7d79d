"""The breaks that an analysis is made of: one row a specimen, as in the tidy breaks file."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from types import MappingProxyType
from typing import Final

from adhaero.core.errors import DataError

MOST_LEVELS = 200


class Outcome(StrEnum):
    """What happened to a specimen at its value."""

    BROKE = "broke"
    HELD = "held"
    STEP = "step"
    FELL_APART = "fell_apart"


OUTCOME_WORDS: Final = MappingProxyType(
    {
        Outcome.BROKE: "broke at",
        Outcome.HELD: "held",
        Outcome.STEP: "broke on the weight of",
        Outcome.FELL_APART: "fell apart,",
    }
)


class Estimate(StrEnum):
    """Which question the breaks answer: the joint as built, or the glue line alone."""

    JOINT = "joint"
    GLUELINE = "glueline"


@dataclass(frozen=True, slots=True)
class Specimen:
    """One specimen of an analysis.

    Attributes
    ----------
    label : what is written on it.
    level : the treatment it belongs to, as text.
    value : the response, in the unit of the analysis; None when nothing was written down.
    outcome : what happened at that value.
    held_value : for `step`, the last value that held.
    block : the board it came from, where the analysis is blocked.
    wood_failure_pct : torn wood on the broken face, 0 to 100; None when not judged.
    excluded : why it does not count; None when it does.
    circumstances : what else was noted (rig, calibration, fixture), by name.
    factors : its value of each thing that is varied, by name; empty where one thing is.
    wood : its species, where known; slice : the condition, wood or age that it is compared within, where asked.
    """

    label: str
    level: str
    value: float | None
    outcome: Outcome = Outcome.BROKE
    held_value: float | None = None
    block: str | None = None
    wood_failure_pct: float | None = None
    excluded: str | None = None
    circumstances: Mapping[str, str] = field(default_factory=dict, hash=False)
    factors: Mapping[str, str] = field(default_factory=dict, hash=False)
    wood: str | None = None
    slice: str | None = None


def as_judged(specimens: Iterable[Specimen], estimate: Estimate, wood_failure_from: float) -> tuple[Specimen, ...]:
    """Return the specimens as the question sees them; one at 0, or in steps of which none held, fell apart.

    For the glue line, torn wood from `wood_failure_from` percent on says only that the glue held: the specimen
    becomes `held` at its value (a `step` at its held value; one that fell apart stays as it is).
    """
    judged = (_judge_nothing(one) for one in specimens)
    if estimate is Estimate.JOINT:
        return tuple(judged)
    return tuple(_judge_glue_line(one, wood_failure_from) for one in judged)


def _judge_nothing(one: Specimen) -> Specimen:
    """Return a piece that carried nothing as one that fell apart: a strength of 0 has no logarithm."""
    if one.outcome in (Outcome.BROKE, Outcome.HELD) and one.value == 0:
        return replace(one, outcome=Outcome.FELL_APART)
    if one.outcome is Outcome.STEP and not one.held_value:
        return replace(one, outcome=Outcome.FELL_APART, held_value=None)
    return one


def _judge_glue_line(one: Specimen, wood_failure_from: float) -> Specimen:
    torn = one.wood_failure_pct is not None and one.wood_failure_pct >= wood_failure_from
    if not torn or one.outcome is Outcome.FELL_APART:
        return one
    value = one.held_value if one.outcome is Outcome.STEP else one.value
    return replace(one, outcome=Outcome.HELD, value=value)


def split_by_wood(specimens: Sequence[Specimen]) -> tuple[tuple[Specimen, ...], tuple[str, ...]]:
    """Return the specimens with a set of several woods as one set a wood, and the names of the sets so divided.

    Solid ash is not solid larch: a set whose pieces have several woods, while those of some other set have only one of
    them, is as many sets. Only pieces that count decide; a set is named “Solid, larch”.
    """
    woods: dict[str, set[str]] = {}
    for one in specimens:
        if one.excluded is None:
            woods.setdefault(one.level, set()).add(one.wood or "")
    single = {next(iter(mine)) for mine in woods.values() if len(mine) == 1}
    divided = tuple(level for level, mine in woods.items() if len(mine) > 1 and mine & single)
    if not divided:
        return tuple(specimens), ()
    named = [
        replace(one, level=f"{one.level}, {one.wood}") if one.level in divided and one.wood else one
        for one in specimens
    ]
    counted = {one.level for one in named if one.excluded is None}
    return tuple(one for one in named if one.level in counted), divided


def levels_of(specimens: Sequence[Specimen]) -> tuple[str, ...]:
    """Return the levels in the order of their first appearance."""
    return tuple(dict.fromkeys(one.level for one in specimens))


def check_breaks(specimens: Sequence[Specimen]) -> None:
    """Raise `DataError` for duplicate labels, values that cannot be, or a level with no usable specimen."""
    levels = levels_of(specimens)
    if len(levels) > MOST_LEVELS:
        raise DataError(
            f"There are {len(levels)} sets to compare.",
            f"At most {MOST_LEVELS} can be: every set is compared with every other.",
            "Name the column of what was varied; something measured, like hours or a gap, is a curve.",
            field="by",
        )
    seen: set[str] = set()
    for one in specimens:
        if one.label in seen:
            raise DataError(
                f"Two pieces are labelled {one.label}.", "Each label stands once.", "Rename one.", field=one.label
            )
        seen.add(one.label)
        if one.value is not None and one.value < 0:
            raise DataError(f"{one.label} has the value {one.value:g}.", "A strength is zero or more.", field=one.label)
        if one.excluded is None and one.outcome is not Outcome.FELL_APART and one.value is None:
            raise DataError(
                f"{one.label} ({one.outcome}) has no value.",
                "A piece that counts has a value, or fell apart.",
                "Write the value, or the reason why it does not count in `excluded`.",
                field=one.label,
            )
    usable = {one.level for one in specimens if one.excluded is None}
    for level in levels:
        if level not in usable:
            raise DataError(
                f"No usable piece in {level}.",
                "Each set needs at least one piece that counts.",
                "Put a piece back, or leave the set out of the file.",
                field=level,
            )
