"""The sets of a plan: the values of what is varied, and the solid baseline."""

from collections.abc import Sequence
from dataclasses import dataclass

from adhaero.bench.book import require_not_in_use, require_open_plan, require_row
from adhaero.bench.shop import GlueEntry, put_glue, read_units
from adhaero.core.errors import EntryError
from adhaero.core.plan.fields import FACTORS, QUANTITIES, Factor
from adhaero.core.plan.labels import choose_codes
from adhaero.core.quantity import parse_quantity
from adhaero.store.file import ShopFile
from adhaero.store.rows import Connection, amend, delete, insert
from adhaero.store.shop import find_glue
from adhaero.store.trials import Treatment, Trial, list_treatments

SOLID = "Solid"


@dataclass(frozen=True)
class SetEntry:
    """A value of what is varied, as typed; `family` for a glue that is not on the shelf yet."""

    value: str
    pieces: int = 5
    family: str = ""
    solid: bool = False


def add_treatment(file: ShopFile, trial_id: int, entry: SetEntry) -> int:
    """Add a value of what is varied (a set), or the solid baseline.

    Raises
    ------
    EntryError : it cannot be read, or stands there already. StateError : the plan is settled.
    """
    with file.changing(f"Added {SOLID if entry.solid else entry.value.strip()}", trial_id) as connection:
        trial = require_open_plan(connection, trial_id)
        others = list_treatments(connection, trial_id)
        name, value, glue_id = (SOLID, None, None) if entry.solid else _read_level(connection, trial, entry)
        _check_new_level(others, name, value)
        treatment_id = insert(
            connection,
            "treatment",
            {
                "trial_id": trial_id,
                "rank": max((one.rank for one in others), default=0) + (1000 if entry.solid else 1),
                "name": name,
                "code": "",
                "value_si": value,
                "glue_id": glue_id,
                "solid": int(entry.solid),
                "pieces": _check_count(entry.pieces),
            },
        )
        _order_and_code(connection, trial_id)
        return treatment_id


def _read_level(connection: Connection, trial: Trial, entry: SetEntry) -> tuple[str, float | None, int | None]:
    text = entry.value.strip()
    if not text:
        raise EntryError("The value is empty.", "Expected what this set is made with.", field="value")
    if len(text) > 60:
        raise EntryError(f"That is {len(text)} letters long.", "Up to 60 fit.", "Shorten it.", field="value")
    factor = Factor(trial.factor)
    if quantity_name := FACTORS[factor].quantity:
        quantity = QUANTITIES[quantity_name]
        default = read_units(connection).default_for(quantity.kind)
        value = parse_quantity(text, quantity.kind, default, quantity.bounds, field="value")
        return value.typed, value.si, None
    if factor is not Factor.GLUE:
        return text, None, None
    glue = find_glue(connection, text)
    if glue is not None:
        return glue.name, None, glue.id
    if not entry.family:
        raise EntryError(
            f"{text} is not on the shelf yet.",
            "Its family is needed, for its cautions.",
            "Choose the family.",
            field="family",
        )
    return text, None, put_glue(connection, GlueEntry(text, entry.family))


def _check_new_level(others: Sequence[Treatment], name: str, value: float | None) -> None:
    for other in others:
        if other.name.lower() == name.lower() or (value is not None and other.value_si == value):
            same = "" if other.name.lower() == name.lower() else f" (“{other.name}” is the same)"
            raise EntryError(f"{name} is there already{same}.", "Each value stands once.", field="value")


def _check_count(pieces: int) -> int:
    if not 0 <= pieces <= 1000:
        raise EntryError(f"{pieces} pieces.", "Expected 0 to 1000.", field="pieces")
    return pieces


def _order_and_code(connection: Connection, trial_id: int) -> None:
    """Number the sets, quantities by size and solid pieces last, and give each a code for its labels."""
    rows = list_treatments(connection, trial_id)
    ordered = sorted(rows, key=lambda one: (one.solid, one.value_si if one.value_si is not None else 0.0, one.rank))
    codes = choose_codes([one.name for one in ordered])
    for rank, (one, code) in enumerate(zip(ordered, codes, strict=True), start=1):
        if (one.rank, one.code) != (rank, code):
            amend(connection, "treatment", one.id, {"rank": rank, "code": code})


def remove_treatment(file: ShopFile, trial_id: int, treatment_id: int) -> None:
    """Remove a set from an open plan."""
    with file.changing("Removed a set", trial_id) as connection:
        require_not_in_use(connection, trial_id, "set")
        require_row(list_treatments(connection, trial_id), treatment_id)
        delete(connection, "treatment", treatment_id)
        _order_and_code(connection, trial_id)
