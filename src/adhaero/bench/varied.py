"""What a plan varies: its factors, their values, the sets that follow from them, and the controls."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import inf

from adhaero.bench.guards import require_not_in_use, require_open_plan, require_unchanged
from adhaero.bench.shop import GlueEntry, put_glue
from adhaero.bench.stock import read_units
from adhaero.core.errors import EntryError, NotThere, PlanError
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import find_joint
from adhaero.core.plan.fields import FACTORS, QUANTITIES, Factor
from adhaero.core.plan.labels import choose_codes, join_codes
from adhaero.core.plan.treatments import (
    CONTROLS,
    MOST_FACTORS,
    MOST_SETS,
    MOST_VALUES,
    SetKind,
    Spacing,
    Varied,
    combine,
    round_value,
    space,
)
from adhaero.core.quantity import Kind, parse_count, parse_quantity, show_as_typed
from adhaero.store.file import ShopFile
from adhaero.store.rows import Connection, amend, insert
from adhaero.store.shop import find_glue
from adhaero.store.trials import (
    FactorRow,
    LevelRow,
    Treatment,
    Trial,
    delete_factor,
    delete_level,
    delete_made_of,
    delete_scope,
    delete_treatment,
    find_standard_recipe,
    list_factors,
    list_levels,
    list_scopes,
    list_treatment_levels,
    list_treatments,
)

LONGEST_NAME = 60


@dataclass(frozen=True)
class LevelEntry:
    """A value of what is varied, as typed; `family` for a glue that is not on the shelf yet."""

    value: str
    family: str = ""


@dataclass(frozen=True)
class SpacedEntry:
    """Values from the lowest to the highest, as typed."""

    lowest: str
    highest: str
    count: str
    spacing: Spacing


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
        values = {"trial_id": trial_id, "rank": rank, "kind": kind, "name": _clean_name(name)}
        factor_id = insert(connection, "factor", values)
        follow(connection, trial_id)
        return factor_id


def remove_factor(file: ShopFile, trial_id: int, factor_id: int) -> None:
    """Hold constant again what was varied; its values go."""
    with file.changing("Held one thing constant", trial_id) as connection:
        require_not_in_use(connection, trial_id, "value")
        _require_factor(connection, trial_id, factor_id)
        delete_factor(connection, factor_id)
        follow(connection, trial_id)


def edit_factor(file: ShopFile, trial_id: int, factor_id: int, field: str, was: str, typed: str) -> None:
    """Set the `kind` or `name` of what is varied, or the values it goes with (`only_with`, ids with spaces between).

    Another kind takes the values away: they are values of something else.
    """
    with file.changing("Changed what is varied", trial_id) as connection:
        require_open_plan(connection, trial_id)
        factor = _require_factor(connection, trial_id, factor_id)
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
            amend(connection, "factor", factor_id, {field: typed if field == "kind" else _clean_name(typed)})
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
        insert(connection, "factor_scope", {"factor_id": factor.id, "level_id": level_id})


# pieces of a trial over years that are kept for a date that is not set yet
RESERVE = "reserve"


def add_level(file: ShopFile, trial_id: int, factor_id: int, entry: LevelEntry) -> int:
    """Add a value of what is varied.

    Raises
    ------
    EntryError : it cannot be read, or stands there already. StateError : the plan is settled.
    """
    with file.changing(f"Added {entry.value.strip()}", trial_id) as connection:
        trial = require_open_plan(connection, trial_id)
        factor = _require_factor(connection, trial.id, factor_id)
        level_id = put_level(connection, factor, entry)
        follow(connection, trial_id)
        return level_id


def add_spaced(file: ShopFile, trial_id: int, factor_id: int, entry: SpacedEntry) -> None:
    """Add quantities from the lowest to the highest, evenly or by ratio; those that stand there already stay."""
    with file.changing("Added values", trial_id) as connection:
        require_open_plan(connection, trial_id)
        factor = _require_factor(connection, trial_id, factor_id)
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


def put_level(connection: Connection, factor: FactorRow, entry: LevelEntry) -> int:
    """Insert a value of what is varied; call inside a transaction, then `follow`. Raises `EntryError`."""
    mine = [one for one in list_levels(connection, factor.trial_id) if one.factor_id == factor.id]
    if len(mine) >= MOST_VALUES:
        raise EntryError(f"{len(mine)} values are there already.", f"Up to {MOST_VALUES} fit.", field="value")
    name, value, glue_id = _read_level(connection, Factor(factor.kind), entry)
    for other in mine:
        if other.name.lower() == name.lower() or (value is not None and _alike(other.value_si, value)):
            same = "" if other.name.lower() == name.lower() else f" (“{other.name}” is the same)"
            raise EntryError(f"{name} is there already{same}.", "Each value stands once.", field="value")
    values = {"factor_id": factor.id, "rank": len(mine) + 1, "name": name, "code": "", "value_si": value}
    return insert(connection, "level", {**values, "glue_id": glue_id})


def _alike(one: float | None, other: float) -> bool:
    return one is not None and abs(one - other) <= 1e-9 * max(abs(one), abs(other))


def _read_level(connection: Connection, factor: Factor, entry: LevelEntry) -> tuple[str, float | None, int | None]:
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


def add_control(file: ShopFile, trial_id: int, kind: str, recipe: str = "") -> int:
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


def put_control(connection: Connection, trial: Trial, kind: str, recipe: str = "") -> int:
    """Insert a control; call inside a transaction, then `follow`. Raises `EntryError`."""
    if kind not in list(CONTROLS):
        raise EntryError(f"“{kind}” is no baseline.", f"Choose one of {', '.join(CONTROLS)}.", field="kind")
    others = list_treatments(connection, trial.id)
    if any(one.kind == kind for one in others):
        raise EntryError(f"{CONTROLS[SetKind(kind)]} is there already.", "Each baseline stands once.", field="kind")
    if kind == SetKind.STANDARD and not recipe.strip():
        recipe = find_standard_recipe(connection)
    values = {"trial_id": trial.id, "rank": 10_000 + len(others), "name": CONTROLS[SetKind(kind)], "code": ""}
    return insert(
        connection,
        "treatment",
        {**values, "kind": kind, "recipe": recipe.strip()[:300], "pieces": trial.pieces_each},
    )


def edit_set(file: ShopFile, trial_id: int, set_id: int, field: str, was: str, typed: str) -> None:
    """Set the number of `pieces` of one set (empty for as many as all), or the `recipe` of a control."""
    with file.changing("Changed a set", trial_id) as connection:
        trial = require_open_plan(connection, trial_id)
        one = _require_set(connection, trial_id, set_id)
        if field not in ("pieces", "recipe"):
            raise EntryError(f"A set has no “{field}”.", field=field)
        current = one.recipe if field == "recipe" else str(one.pieces)
        require_unchanged(f"the {field} of {one.name}", current, was, field)
        if field == "recipe":
            amend(connection, "treatment", set_id, {"recipe": typed.strip()[:300]})
            return
        own = bool(typed.strip())
        pieces = parse_count(typed, "pieces of a set", 0, 1000, field=field) if own else trial.pieces_each
        amend(connection, "treatment", set_id, {"pieces": pieces, "pieces_own": int(own)})


def leave_out(file: ShopFile, trial_id: int, set_ids: Sequence[int], *, out: bool) -> None:
    """Leave combinations out of the plan, or take them in again."""
    with file.changing("Left sets out" if out else "Took sets in", trial_id) as connection:
        require_open_plan(connection, trial_id)
        for set_id in set_ids:
            one = _require_set(connection, trial_id, set_id)
            if one.kind != SetKind.MADE:
                raise EntryError(f"{one.name} is a baseline.", "Remove it instead.", field="sets")
            amend(connection, "treatment", set_id, {"left_out": int(out)})


def remove_control(file: ShopFile, trial_id: int, set_id: int) -> None:
    """Remove a control from an open plan."""
    with file.changing("Removed a baseline", trial_id) as connection:
        require_not_in_use(connection, trial_id, "set")
        one = _require_set(connection, trial_id, set_id)
        if one.kind == SetKind.MADE:
            raise EntryError(f"{one.name} follows from the values.", "Leave it out instead.", field="sets")
        # solid pieces of several woods are one baseline: they come and go together
        for other in list_treatments(connection, trial_id):
            if other.kind == one.kind:
                delete_treatment(connection, other.id)
        follow(connection, trial_id)


def _require_factor(connection: Connection, trial_id: int, factor_id: int) -> FactorRow:
    for one in list_factors(connection, trial_id):
        if one.id == factor_id:
            return one
    raise NotThere(f"Nothing with the number {factor_id} is varied here.", do="Reload: it may have been removed.")


def _require_set(connection: Connection, trial_id: int, set_id: int) -> Treatment:
    for one in list_treatments(connection, trial_id):
        if one.id == set_id:
            return one
    raise NotThere(f"There is no set {set_id} in this trial.", do="Reload: it may have been removed.")


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
    there = {frozenset(made_of.get(one.id, ())): one for one in rows if one.kind == SetKind.MADE}
    kept = {frozenset(made) for made in wanted}
    for made_from, one in there.items():
        if made_from not in kept:
            delete_treatment(connection, one.id)
    each = connection.execute("SELECT pieces_each FROM trial WHERE id = :id", {"id": trial_id}).fetchone()[0]
    codes = join_codes([tuple(by_id[key].code for key in made) for made in wanted])
    for rank, (made, code) in enumerate(zip(wanted, codes, strict=True), start=1):
        name = _shorten(", ".join(by_id[key].name for key in made))
        values = {"rank": rank, "name": name, "code": code}
        old = there.get(frozenset(made))
        if old is None:
            new = insert(connection, "treatment", {"trial_id": trial_id, "kind": "made", "pieces": each, **values})
            for key in made:
                insert(connection, "treatment_level", {"treatment_id": new, "level_id": key})
        elif (old.rank, old.name, old.code) != (rank, name, code):
            amend(connection, "treatment", old.id, values)
    _follow_woods(connection, trial_id, factors, levels)
    controls = [one for one in list_treatments(connection, trial_id) if one.kind != SetKind.MADE]
    control_codes = choose_codes([one.name for one in controls], codes)
    for rank, (one, code) in enumerate(zip(controls, control_codes, strict=True), start=len(wanted) + 1):
        if (one.rank, one.code) != (rank, code):
            amend(connection, "treatment", one.id, {"rank": rank, "code": code})


def _follow_woods(
    connection: Connection, trial_id: int, factors: Sequence[FactorRow], levels: Mapping[int, Sequence[LevelRow]]
) -> None:
    """Keep one set of solid pieces for each wood where the wood varies, and one alone where it does not.

    Solid ash says nothing of larch: one set of both would make the woods look equally strong (docs/decisions/0010).
    """
    rows = [one for one in list_treatments(connection, trial_id) if one.kind == SetKind.SOLID]
    if not rows:
        return
    woods = [one for row in factors if row.kind == Factor.SPECIES for one in levels[row.id]]
    made_of = list_treatment_levels(connection, trial_id)
    wanted: dict[int | None, str] = {one.id: _shorten(f"{CONTROLS[SetKind.SOLID]}, {one.name}") for one in woods} or {
        None: CONTROLS[SetKind.SOLID]
    }
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
            values = {"trial_id": trial_id, "rank": 10_000, "name": name, "code": "", "recipe": rows[0].recipe}
            new = insert(connection, "treatment", {**values, "kind": rows[0].kind, "pieces": rows[0].pieces})
            _link(connection, new, key)
        elif row.name != name:
            amend(connection, "treatment", row.id, {"name": name})
    for row in spare:
        delete_treatment(connection, row.id)


def _link(connection: Connection, treatment_id: int, level_id: int | None) -> None:
    if level_id is not None:
        insert(connection, "treatment_level", {"treatment_id": treatment_id, "level_id": level_id})


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
                amend(connection, "level", one.id, {"rank": rank, "code": code})
        found[factor_id] = mine
    coded = {one.id: one for one in list_levels(connection, trial_id)}
    return {factor_id: [coded[one.id] for one in mine] for factor_id, mine in found.items()}


def _clean_name(name: str) -> str:
    return " ".join(name.split())[:LONGEST_NAME]


def _shorten(name: str) -> str:
    return name if len(name) <= LONGEST_NAME else f"{name[: LONGEST_NAME - 1]}…"
