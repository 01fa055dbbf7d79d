"""The breaks that an analysis is made of: one row a specimen, as in the tidy breaks file."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

from adhaero.core.errors import DataError

MOST_LEVELS = 200


class Outcome(StrEnum):
    """What happened to a specimen at its value."""

    BROKE = "broke"
    HELD = "held"
    STEP = "step"
    FELL_APART = "fell_apart"


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


def as_judged(specimens: Iterable[Specimen], estimate: Estimate, wood_failure_from: float) -> tuple[Specimen, ...]:
    """Return the specimens as the question sees them.

    For the glue line, torn wood from `wood_failure_from` percent on says only that the glue held: the specimen
    becomes `held` at its value (a `step` at its held value; one that fell apart stays as it is).
    """
    if estimate is Estimate.JOINT:
        return tuple(specimens)
    return tuple(_judge_glue_line(one, wood_failure_from) for one in specimens)


def _judge_glue_line(one: Specimen, wood_failure_from: float) -> Specimen:
    torn = one.wood_failure_pct is not None and one.wood_failure_pct >= wood_failure_from
    if not torn or one.outcome is Outcome.FELL_APART:
        return one
    value = one.held_value if one.outcome is Outcome.STEP else one.value
    return replace(one, outcome=Outcome.HELD, value=value)


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
        if one.excluded is None and one.outcome is not Outcome.FELL_APART and not one.value:
            raise DataError(
                f"{one.label} ({one.outcome}) has {'the value 0' if one.value == 0 else 'no value'}.",
                "A piece that counts has a value above 0, or fell apart.",
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
