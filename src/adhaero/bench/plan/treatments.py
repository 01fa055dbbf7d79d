"""The sets that follow from what a plan varies, and its baselines."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import inf
from typing import Annotated

from annotated_types import MaxLen

from adhaero.bench.facts.entry import Entry, Id, Reason
from adhaero.bench.facts.requirements import require_not_in_use, require_open_plan, require_unchanged
from adhaero.core.errors import EntryError, NotThere, PlanError
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.labels import choose_codes, join_codes
from adhaero.core.plan.treatments import (
    CONTROLS,
    MOST_SETS,
    TreatmentKind,
    Varied,
    combine,
)
from adhaero.core.quantity import parse_count
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.plans import (
    FactorRow,
    LevelRow,
    Treatment,
    amend_level,
    amend_treatment,
    delete_made_of,
    delete_treatment,
    find_standard_recipe,
    insert_treatment,
    insert_treatment_level,
    list_factors,
    list_levels,
    list_scopes,
    list_treatment_levels,
    list_treatments,
)
from adhaero.store.trials import Trial, fetch_trial

LONGEST_NAME = 60


@dataclass(frozen=True)
class ControlEntry(Entry):
    """A control, and how it is made."""

    kind: TreatmentKind
    recipe: Reason = ""


@dataclass(frozen=True)
class LeaveOut(Entry):
    """Sets to leave out of the plan, or to take in again."""

    treatments: Annotated[tuple[Id, ...], MaxLen(500)]
    out: bool


def add_control(file: ShopFile, trial_id: int, kind: TreatmentKind, recipe: str = "") -> int:
    """Add a control: solid wood without a joint, the untreated version, or the shop's standard joint.

    Parameters
    ----------
    recipe : how an untreated or standard piece is made, in words; the shop's standard is made as in its latest trial.
    """
    with file.changing(f"Added a baseline: {kind}", trial_id) as connection:
        trial = require_open_plan(connection, trial_id)
        treatment_id = put_control(connection, trial, kind, recipe)
        follow(connection, trial_id)
        return treatment_id


def put_control(connection: Connection, trial: Trial, kind: TreatmentKind, recipe: str = "") -> int:
    """Insert a control; call inside a transaction, then `follow`. Raises `EntryError`."""
    if kind not in CONTROLS:
        raise EntryError(f"“{kind}” is no baseline.", f"Choose one of {', '.join(CONTROLS)}.", field="kind")
    others = list_treatments(connection, trial.id)
    if any(one.kind == kind for one in others):
        raise EntryError(f"{CONTROLS[kind]} is there already.", "Each baseline stands once.", field="kind")
    if kind == TreatmentKind.STANDARD and not recipe.strip():
        recipe = find_standard_recipe(connection)
    return insert_treatment(
        connection,
        trial_id=trial.id,
        rank=10_000 + len(others),
        name=CONTROLS[kind],
        code="",
        kind=kind,
        recipe=recipe.strip()[:300],
        pieces=trial.pieces_each,
    )


def edit_treatment(file: ShopFile, trial_id: int, treatment_id: int, field: str, was: str, typed: str) -> None:
    """Set the number of `pieces` of one set (empty for as many as all), or the `recipe` of a control."""
    with file.changing("Changed a set", trial_id) as connection:
        trial = require_open_plan(connection, trial_id)
        one = _require_treatment(connection, trial_id, treatment_id)
        if field not in ("pieces", "recipe"):
            raise EntryError(f"A set has no “{field}”.", field=field)
        current = one.recipe if field == "recipe" else str(one.pieces)
        require_unchanged(f"the {field} of {one.name}", current, was, field)
        if field == "recipe":
            amend_treatment(connection, treatment_id, recipe=typed.strip()[:300])
            return
        own = bool(typed.strip())
        pieces = parse_count(typed, "pieces of a set", 0, 1000, field=field) if own else trial.pieces_each
        amend_treatment(connection, treatment_id, pieces=pieces, pieces_own=own)


def leave_out(file: ShopFile, trial_id: int, treatment_ids: Sequence[int], *, out: bool) -> None:
    """Leave combinations out of the plan, or take them in again."""
    with file.changing("Left sets out" if out else "Took sets in", trial_id) as connection:
        require_open_plan(connection, trial_id)
        for treatment_id in treatment_ids:
            one = _require_treatment(connection, trial_id, treatment_id)
            if one.kind != TreatmentKind.MADE:
                raise EntryError(f"{one.name} is a baseline.", "Remove it instead.", field="treatments")
            amend_treatment(connection, treatment_id, left_out=out)


def remove_control(file: ShopFile, trial_id: int, treatment_id: int) -> None:
    """Remove a control from an open plan."""
    with file.changing("Removed a baseline", trial_id) as connection:
        require_not_in_use(connection, trial_id, "set")
        one = _require_treatment(connection, trial_id, treatment_id)
        if one.kind == TreatmentKind.MADE:
            raise EntryError(f"{one.name} follows from the values.", "Leave it out instead.")
        # solid pieces of several woods are one baseline: they come and go together
        for other in list_treatments(connection, trial_id):
            if other.kind == one.kind:
                delete_treatment(connection, other.id)
        follow(connection, trial_id)


def _require_treatment(connection: Connection, trial_id: int, treatment_id: int) -> Treatment:
    for one in list_treatments(connection, trial_id):
        if one.id == treatment_id:
            return one
    raise NotThere(f"There is no set {treatment_id} in this trial.", do="Reload: it may have been removed.")


def follow(connection: Connection, trial_id: int) -> None:
    """Bring the sets in line with what is varied: new combinations come, those without their values go.

    Values are ordered by size where they are quantities; sets follow in that order, controls last; each gets a code.
    """
    factors, scopes = list_factors(connection, trial_id), list_scopes(connection, trial_id)
    levels = _order_levels(connection, trial_id, factors)
    wanted = combine(
        [Varied(tuple(one.id for one in levels[row.id]), scopes.get(row.id, frozenset())) for row in factors]
    )
    if len(wanted) > MOST_SETS:
        raise PlanError(
            f"That makes {len(wanted)} sets.", f"Up to {MOST_SETS} can be planned.", "Vary less, or fewer values."
        )
    by_id = {one.id: one for group in levels.values() for one in group}
    made_of = list_treatment_levels(connection, trial_id)
    rows = list_treatments(connection, trial_id)
    there = {frozenset(made_of.get(one.id, ())): one for one in rows if one.kind == TreatmentKind.MADE}
    kept = {frozenset(made) for made in wanted}
    for made_from, one in there.items():
        if made_from not in kept:
            delete_treatment(connection, one.id)
    trial = fetch_trial(connection, trial_id)
    each = trial.pieces_each if trial else 0
    codes = join_codes([tuple(by_id[key].code for key in made) for made in wanted])
    for rank, (made, code) in enumerate(zip(wanted, codes, strict=True), start=1):
        name = _shorten(", ".join(by_id[key].name for key in made))
        old = there.get(frozenset(made))
        if old is None:
            new = insert_treatment(
                connection, trial_id=trial_id, kind=TreatmentKind.MADE, pieces=each, rank=rank, name=name, code=code
            )
            for key in made:
                insert_treatment_level(connection, treatment_id=new, level_id=key)
        elif (old.rank, old.name, old.code) != (rank, name, code):
            amend_treatment(connection, old.id, rank=rank, name=name, code=code)
    _follow_woods(connection, trial_id, factors, levels)
    controls = [one for one in list_treatments(connection, trial_id) if one.kind != TreatmentKind.MADE]
    control_codes = choose_codes([one.name for one in controls], codes)
    for rank, (one, code) in enumerate(zip(controls, control_codes, strict=True), start=len(wanted) + 1):
        if (one.rank, one.code) != (rank, code):
            amend_treatment(connection, one.id, rank=rank, code=code)


def _follow_woods(
    connection: Connection, trial_id: int, factors: Sequence[FactorRow], levels: Mapping[int, Sequence[LevelRow]]
) -> None:
    """Keep one set of solid pieces for each wood where the wood varies, and one alone where it does not.

    Solid ash says nothing of larch: one set of both would make the woods look equally strong (docs/decisions/0010).
    """
    rows = [one for one in list_treatments(connection, trial_id) if one.kind == TreatmentKind.SOLID]
    if not rows:
        return
    woods = [one for row in factors if row.kind == Factor.SPECIES for one in levels[row.id]]
    made_of = list_treatment_levels(connection, trial_id)
    wanted: dict[int | None, str] = {
        one.id: _shorten(f"{CONTROLS[TreatmentKind.SOLID]}, {one.name}") for one in woods
    } or {None: CONTROLS[TreatmentKind.SOLID]}
    of_wood: dict[int | None, Treatment] = {}
    spare: list[Treatment] = []
    for one in rows:
        key = next(iter(made_of.get(one.id, ())), None)
        if key in wanted and key not in of_wood:
            of_wood[key] = one
        else:
            spare.append(one)
    for key, name in wanted.items():
        row = of_wood.get(key)
        if row is None and spare:
            row = spare.pop()
            delete_made_of(connection, row.id)
            _link(connection, row.id, key)
        if row is None:
            new = insert_treatment(
                connection,
                trial_id=trial_id,
                rank=10_000,
                name=name,
                code="",
                recipe=rows[0].recipe,
                kind=rows[0].kind,
                pieces=rows[0].pieces,
            )
            _link(connection, new, key)
        elif row.name != name:
            amend_treatment(connection, row.id, name=name)
    for row in spare:
        delete_treatment(connection, row.id)


def _link(connection: Connection, treatment_id: int, level_id: int | None) -> None:
    if level_id is not None:
        insert_treatment_level(connection, treatment_id=treatment_id, level_id=level_id)


def _order_levels(connection: Connection, trial_id: int, factors: Sequence[FactorRow]) -> dict[int, list[LevelRow]]:
    """Number the values of each factor, quantities by size, and give each a code."""
    found: dict[int, list[LevelRow]] = {row.id: [] for row in factors}
    for one in list_levels(connection, trial_id):
        found[one.factor_id].append(one)
    for factor_id, mine in found.items():
        any_size = any(one.value_si is not None for one in mine)
        mine.sort(key=lambda one: (inf if one.value_si is None and any_size else one.value_si or 0.0, one.rank, one.id))
        for rank, (one, code) in enumerate(zip(mine, choose_codes([one.name for one in mine]), strict=True), start=1):
            if (one.rank, one.code) != (rank, code):
                amend_level(connection, one.id, rank=rank, code=code)
        found[factor_id] = mine
    coded = {one.id: one for one in list_levels(connection, trial_id)}
    return {factor_id: [coded[one.id] for one in mine] for factor_id, mine in found.items()}


def _shorten(name: str) -> str:
    return name if len(name) <= LONGEST_NAME else f"{name[: LONGEST_NAME - 1]}…"
