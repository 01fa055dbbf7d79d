"""What a plan varies: its factors."""

from dataclasses import dataclass

from adhaero.bench.facts.entry import Entry, Line
from adhaero.bench.facts.requirements import require_not_in_use, require_open_plan, require_unchanged
from adhaero.bench.plan.treatments import LONGEST_NAME, follow
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.plan.fields import FACTORS, Factor
from adhaero.core.plan.treatments import (
    MOST_FACTORS,
)
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.plans import (
    FactorRow,
    amend_factor,
    delete_factor,
    delete_level,
    delete_scope,
    insert_factor,
    insert_factor_scope,
    list_factors,
    list_levels,
    list_scopes,
)


@dataclass(frozen=True)
class FactorEntry(Entry):
    """One more thing to vary."""

    kind: Factor
    name: Line = ""


def check_kind(kind: str) -> Factor:
    """Return what can be varied, by its name; raises `EntryError`."""
    if kind not in list(Factor):
        raise EntryError(f"“{kind}” cannot be varied.", f"Choose one of {', '.join(Factor)}.", field="kind")
    return Factor(kind)


def add_factor(file: ShopFile, trial_id: int, kind: str, name: str = "") -> int:
    """Vary one more thing; raises `EntryError` beyond three."""
    with file.changing(f"Varied {name.strip() or FACTORS[check_kind(kind)].words}", trial_id) as connection:
        require_open_plan(connection, trial_id)
        others = list_factors(connection, trial_id)
        if len(others) >= MOST_FACTORS:
            raise EntryError(
                f"{len(others)} things are varied already.",
                f"Up to {MOST_FACTORS} fit one trial: more could not be told apart.",
                "Plan a second trial.",
                field="kind",
            )
        rank = max((one.rank for one in others), default=0) + 1
        factor_id = insert_factor(
            connection, trial_id=trial_id, rank=rank, kind=check_kind(kind), name=_clean_name(name)
        )
        follow(connection, trial_id)
        return factor_id


def remove_factor(file: ShopFile, trial_id: int, factor_id: int) -> None:
    """Hold constant again what was varied; its values go."""
    with file.changing("Held one thing constant", trial_id) as connection:
        require_not_in_use(connection, trial_id, "value")
        require_factor(connection, trial_id, factor_id)
        delete_factor(connection, factor_id)
        follow(connection, trial_id)


def edit_factor(file: ShopFile, trial_id: int, factor_id: int, field: str, was: str, typed: str) -> None:
    """Set the `kind` or `name` of what is varied, or the values it goes with (`only_with`, ids with spaces between).

    Another kind takes the values away: they are values of something else.
    """
    with file.changing("Changed what is varied", trial_id) as connection:
        require_open_plan(connection, trial_id)
        factor = require_factor(connection, trial_id, factor_id)
        if field == "only_with":
            current = " ".join(str(one) for one in sorted(list_scopes(connection, trial_id).get(factor_id, ())))
            require_unchanged("what it goes with", current, was, field)
            _set_scope(connection, trial_id, factor, typed)
        elif field in ("kind", "name"):
            require_unchanged(f"the {field}", str(getattr(factor, field)), was, field)
            if field == "kind" and check_kind(typed) != factor.kind:
                for level in list_levels(connection, trial_id):
                    if level.factor_id == factor_id:
                        delete_level(connection, level.id)
            if field == "kind":
                amend_factor(connection, factor_id, kind=check_kind(typed))
            else:
                amend_factor(connection, factor_id, name=_clean_name(typed))
        else:
            raise EntryError(f"What is varied has no “{field}”.", field=field)
        follow(connection, trial_id)


def _set_scope(connection: Connection, trial_id: int, factor: FactorRow, typed: str) -> None:
    earlier = {one.id for one in list_factors(connection, trial_id) if one.rank < factor.rank}
    allowed = {level.id for level in list_levels(connection, trial_id) if level.factor_id in earlier}
    chosen = {int(one) for one in typed.split() if one.isdigit()}
    if not chosen <= allowed:
        raise EntryError("It can only go with values of what stands above it.", field="only_with")
    delete_scope(connection, factor.id)
    for level_id in sorted(chosen):
        insert_factor_scope(connection, factor_id=factor.id, level_id=level_id)


# pieces of a trial over years that are kept for a date that is not set yet
RESERVE = "reserve"


def require_factor(connection: Connection, trial_id: int, factor_id: int) -> FactorRow:
    """Return a factor of the trial; raises `NotThere`."""
    for one in list_factors(connection, trial_id):
        if one.id == factor_id:
            return one
    raise NotThere(f"Nothing with the number {factor_id} is varied here.", do="Reload: it may have been removed.")


def _clean_name(name: str) -> str:
    return " ".join(name.split())[:LONGEST_NAME]
