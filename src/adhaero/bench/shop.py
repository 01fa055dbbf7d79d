"""The shop: units, glues and rigs."""

from dataclasses import asdict, dataclass

from adhaero.bench.guards import require_unchanged
from adhaero.bench.hours import HoursView, view_hours
from adhaero.bench.rig_cards import RigKindView, RigView, view_rig
from adhaero.bench.stock import FigureView, StockBoardView, read_units, view_figures, view_stock_boards
from adhaero.bench.supplies import read_shop_breaks, say_tested
from adhaero.core.errors import EntryError, InUse, NotThere
from adhaero.core.glue import GlueFamily, caution_for
from adhaero.core.plan.clamping import ClampKind
from adhaero.core.quantity import Kind
from adhaero.core.rig.kinds import FORMS as RIG_FORMS
from adhaero.core.units import CHOICES, DisplayUnit, Units, check_units, display_unit
from adhaero.core.wood import list_species
from adhaero.store.file import ShopFile
from adhaero.store.history import find_steps
from adhaero.store.rows import Connection, amend, delete, insert
from adhaero.store.shop import (
    ClampsRow,
    Glue,
    delete_glue_figures,
    fetch_glue,
    fetch_settings,
    find_glue,
    list_clamps,
    list_glue_figures,
    list_glue_users,
    list_glues,
    list_rigs,
    put_setting,
)

DEMO = "demo"


@dataclass(frozen=True)
class UnitsView:
    """The shop's units: how to show each kind, and what is offered."""

    length: DisplayUnit
    force: DisplayUnit
    stress: DisplayUnit
    temperature: DisplayUnit
    offered: dict[str, tuple[str, ...]]


@dataclass(frozen=True)
class GlueView:
    """A glue in the shop with what to mind."""

    id: int
    name: str
    family: str
    opened_on: str | None
    lot: str
    kept: str
    caution: str
    figures: list[FigureView]
    tested: list[str]


@dataclass(frozen=True)
class ShopView:
    """Everything in the shop."""

    demo: bool
    units: UnitsView
    hours: HoursView
    glues: list[GlueView]
    rigs: list[RigView]
    boards: list[StockBoardView]
    clamps: list[ClampsRow]
    families: list[str]
    rig_kinds: list[RigKindView]
    clamp_kinds: list[str]
    species: list[str]
    undo: str | None


def is_demo(connection: Connection) -> bool:
    """Return whether this shop is the demo. Reads only."""
    return fetch_settings(connection).get(DEMO) == "1"


def view_shop(file: ShopFile) -> ShopView:
    """Return everything in the shop."""
    with file.reading() as connection:
        units = read_units(connection)
        figures = list_glue_figures(connection)
        tested = say_tested(read_shop_breaks(connection, None, practice=is_demo(connection)))
        return ShopView(
            demo=is_demo(connection),
            units=UnitsView(
                length=display_unit(Kind.LENGTH, units.length),
                force=display_unit(Kind.FORCE, units.force),
                stress=display_unit(Kind.STRESS, units.stress),
                temperature=display_unit(Kind.TEMPERATURE, units.temperature),
                offered={kind.name.lower(): choices for kind, choices in CHOICES.items()},
            ),
            hours=view_hours(connection),
            glues=[
                GlueView(
                    **asdict(glue),
                    caution=caution_for(GlueFamily(glue.family)),
                    figures=view_figures(glue, figures.get(glue.id, {}), units),
                    tested=tested.get(glue.name.lower(), []),
                )
                for glue in list_glues(connection)
            ],
            rigs=[view_rig(connection, rig) for rig in list_rigs(connection)],
            boards=view_stock_boards(connection),
            clamps=list_clamps(connection),
            families=list(GlueFamily),
            rig_kinds=[
                RigKindView(kind.value, form.words, form.reading, form.needs, form.caution)
                for kind, form in RIG_FORMS.items()
            ],
            clamp_kinds=list(ClampKind),
            species=sorted(list_species()),
            undo=step.what if (step := find_steps(connection, None).undo) else None,
        )


def set_unit(file: ShopFile, name: str, was: str, now: str) -> None:
    """Choose one unit of the screens (`length`, `force` …); nothing recorded changes. Raises `StaleEdit`."""
    with file.changing(f"Chose {now} for {name}") as connection:
        units = asdict(read_units(connection))
        if name not in units:
            raise EntryError(f"There is no unit of “{name}”.", f"Choose one of {', '.join(units)}.", field=name)
        require_unchanged(f"the unit of {name}", units[name], was, name)
        check_units(Units(**{**units, name: now}))
        put_setting(connection, f"unit_{name}", now)


@dataclass(frozen=True)
class GlueEntry:
    """A glue as typed."""

    name: str
    family: str
    opened_on: str | None = None
    lot: str = ""


def check_family(family: str) -> GlueFamily:
    """Return a family by its name; raises `EntryError`."""
    if family not in list(GlueFamily):
        raise EntryError(
            f"“{family}” is not a family of glue.", f"Choose one of: {', '.join(GlueFamily)}.", field="family"
        )
    return GlueFamily(family)


def add_glue(file: ShopFile, entry: GlueEntry) -> int:
    """Put a glue on the shelf; its name is new."""
    with file.changing(f"Added glue {entry.name.strip()}") as connection:
        return put_glue(connection, entry)


def put_glue(connection: Connection, entry: GlueEntry) -> int:
    """Insert a glue; call inside a transaction. Raises `EntryError`."""
    name = entry.name.strip()
    check_family(entry.family)
    if not 1 <= len(name) <= 80:
        raise EntryError(
            "The glue has no name." if not name else "The name is too long.", "Expected 1 to 80 letters.", field="name"
        )
    if find_glue(connection, name):
        raise EntryError(
            f"There is a glue called {name} already.",
            "Each name stands once.",
            "Use it, or choose another name.",
            field="name",
        )
    return insert(
        connection,
        "glue",
        {"name": name, "family": entry.family, "opened_on": entry.opened_on, "lot": entry.lot.strip()},
    )


def edit_glue(file: ShopFile, glue_id: int, field: str, was: str, typed: str) -> None:
    """Set the `family`, `opened_on`, `lot` or `kept` of a glue; what was glued with it keeps what was written then.

    Raises
    ------
    StaleEdit : another window changed it; EntryError : no such family or field.
    """
    with file.changing("Changed a glue") as connection:
        glue = _require_glue(connection, glue_id)
        if field not in ("family", "opened_on", "lot", "kept"):
            raise EntryError(f"The {field} of a glue stays.", field=field)
        require_unchanged(f"the {field.replace('_', ' ')} of {glue.name}", str(getattr(glue, field) or ""), was, field)
        text = typed.strip()[:80]
        if field == "family":
            check_family(text)
        amend(connection, "glue", glue_id, {field: text or None if field == "opened_on" else text})


def delete_glue(file: ShopFile, glue_id: int) -> None:
    """Take a glue off the shelf; raises `InUse` while a trial uses it."""
    with file.changing("Removed a glue") as connection:
        glue = _require_glue(connection, glue_id)
        users = list_glue_users(connection, glue)
        if users:
            raise InUse(
                f"{glue.name} is used by the trial “{users[0]}”.",
                "A glue in use stays.",
                "Remove it from the trial first.",
            )
        delete_glue_figures(connection, glue_id)
        delete(connection, "glue", glue_id)


def _require_glue(connection: Connection, glue_id: int) -> Glue:
    glue = fetch_glue(connection, glue_id)
    if glue is None:
        raise NotThere(f"There is no glue {glue_id}.", do="It may have been removed.")
    return glue
