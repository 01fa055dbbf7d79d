"""The values of what a plan varies."""

from dataclasses import dataclass
from typing import Literal

from adhaero.bench.facts.entry import Entry, Line, Short
from adhaero.bench.facts.requirements import require_not_in_use, require_open_plan
from adhaero.bench.plan.factors import RESERVE, require_factor
from adhaero.bench.plan.treatments import LONGEST_NAME, follow
from adhaero.bench.shop.glues import GlueEntry, put_glue
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.glue import GlueFamily
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import find_joint
from adhaero.core.plan.fields import FACTORS, QUANTITIES, Factor
from adhaero.core.plan.treatments import (
    MOST_VALUES,
    Spacing,
    round_value,
    space,
)
from adhaero.core.quantity import Kind, parse_count, parse_quantity, show_as_typed
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.glues import find_glue
from adhaero.store.plans import FactorRow, delete_level, insert_level, list_levels


@dataclass(frozen=True)
class LevelEntry(Entry):
    """A value of what is varied, as typed; `family` for a glue that is not on the shelf yet."""

    value: Line = ""
    family: GlueFamily | Literal[""] = ""


@dataclass(frozen=True)
class SpacedEntry(Entry):
    """Values from the lowest to the highest, as typed."""

    lowest: Short
    highest: Short
    count: Short
    spacing: Spacing = Spacing.RATIO


def add_level(file: ShopFile, trial_id: int, factor_id: int, entry: LevelEntry) -> int:
    """Add a value of what is varied.

    Raises
    ------
    EntryError : it cannot be read, or stands there already. StateError : the plan is settled.
    """
    with file.changing(f"Added {entry.value.strip()}", trial_id) as connection:
        trial = require_open_plan(connection, trial_id)
        factor = require_factor(connection, trial.id, factor_id)
        level_id = put_level(connection, factor, entry)
        follow(connection, trial_id)
        return level_id


def add_spaced(file: ShopFile, trial_id: int, factor_id: int, entry: SpacedEntry) -> None:
    """Add quantities from the lowest to the highest, evenly or by ratio; those that stand there already stay."""
    with file.changing("Added values", trial_id) as connection:
        require_open_plan(connection, trial_id)
        factor = require_factor(connection, trial_id, factor_id)
        name = FACTORS[Factor(factor.kind)].quantity
        if name is None:
            raise EntryError(
                f"{FACTORS[Factor(factor.kind)].words} is no quantity.", "Only quantities can be spaced.", field="kind"
            )
        quantity = QUANTITIES[name]
        unit = read_units(connection).default_for(quantity.kind)
        low = parse_quantity(entry.lowest, quantity.kind, unit, quantity.bounds, field="lowest").si
        high = parse_quantity(entry.highest, quantity.kind, unit, quantity.bounds, field="highest").si
        count = parse_count(entry.count, "values", 2, MOST_VALUES, field="count")
        there = {level.value_si for level in list_levels(connection, trial_id) if level.factor_id == factor_id}
        inner = space(low, high, count, entry.spacing)
        for value in (low, *(_round_in_unit(one, quantity.kind, unit) for one in inner[1:-1]), high):
            if value not in there:
                there.add(value)
                put_level(connection, factor, LevelEntry(show_as_typed(value, quantity.kind, unit)))
        follow(connection, trial_id)


def _round_in_unit(value: float, kind: Kind, unit: str) -> float:
    if kind is Kind.TIME:
        for size in (86_400.0, 3600.0, 60.0):
            if value >= 2 * size:
                return round_value(value / size) * size
        return round_value(value)
    one = parse_quantity("1", kind, unit).si if unit and kind is not Kind.SLOPE else 1.0
    return round_value(value / one) * one


def put_level(connection: Connection, factor: FactorRow, entry: LevelEntry, *, by_name: bool = False) -> int:
    """Insert a value of what is varied; call inside a transaction, then `follow`. Raises `EntryError`.

    Parameters
    ----------
    by_name : a glue that nobody put on the shelf yet stands by its name alone.
    """
    mine = [one for one in list_levels(connection, factor.trial_id) if one.factor_id == factor.id]
    if len(mine) >= MOST_VALUES:
        raise EntryError(f"{len(mine)} values are there already.", f"Up to {MOST_VALUES} fit.", field="value")
    name, value, glue_id = _read_level(connection, Factor(factor.kind), entry, by_name=by_name)
    for other in mine:
        if other.name.lower() == name.lower() or (value is not None and _alike(other.value_si, value)):
            same = "" if other.name.lower() == name.lower() else f" (“{other.name}” is the same)"
            raise EntryError(f"{name} is there already{same}.", "Each value stands once.", field="value")
    rank = len(mine) + 1
    return insert_level(connection, factor_id=factor.id, rank=rank, name=name, code="", value_si=value, glue_id=glue_id)


def _alike(one: float | None, other: float) -> bool:
    return one is not None and abs(one - other) <= 1e-9 * max(abs(one), abs(other))


def _read_level(
    connection: Connection, factor: Factor, entry: LevelEntry, *, by_name: bool
) -> tuple[str, float | None, int | None]:
    text = entry.value.strip()
    if not text:
        raise EntryError("The value is empty.", "Expected what this set is made with.", field="value")
    if len(text) > LONGEST_NAME:
        raise EntryError(
            f"That is {len(text)} letters long.", f"Up to {LONGEST_NAME} fit.", "Shorten it.", field="value"
        )
    if factor is Factor.CURE_TIME and text.lower() == RESERVE:
        return RESERVE, None, None
    if quantity_name := FACTORS[factor].quantity:
        quantity = QUANTITIES[quantity_name]
        default = read_units(connection).default_for(quantity.kind)
        value = parse_quantity(text, quantity.kind, default, quantity.bounds, field="value")
        return value.typed, value.si, None
    if factor is Factor.JOINT:
        return JOINTS[find_joint(text)].name, None, None
    if factor is not Factor.GLUE:
        return text, None, None
    glue = find_glue(connection, text)
    if glue is not None:
        return glue.name, None, glue.id
    if not entry.family and by_name:
        return text, None, None
    if not entry.family:
        raise EntryError(
            f"{text} is not on the shelf yet.",
            "Its family is needed, for its cautions.",
            "Choose the family.",
            field="family",
        )
    return text, None, put_glue(connection, GlueEntry(text, entry.family))


def remove_level(file: ShopFile, trial_id: int, level_id: int) -> None:
    """Remove a value from an open plan, and the sets that are made with it."""
    with file.changing("Removed a value", trial_id) as connection:
        require_not_in_use(connection, trial_id, "value")
        if all(one.id != level_id for one in list_levels(connection, trial_id)):
            raise NotThere(f"There is no value {level_id} in this trial.", do="Reload: it may have been removed.")
        delete_level(connection, level_id)
        follow(connection, trial_id)
