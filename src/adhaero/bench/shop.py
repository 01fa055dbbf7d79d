"""The shop: units, glues and rigs."""

from dataclasses import asdict, dataclass

from adhaero.bench.guards import require_unchanged
from adhaero.bench.hours import HoursView, view_hours
from adhaero.bench.stock import FigureView, StockBoardView, read_units, view_figures, view_stock_boards
from adhaero.bench.supplies import read_shop_breaks, say_tested
from adhaero.core.errors import EntryError, InUse, NotThere
from adhaero.core.fixture import Fixture
from adhaero.core.glue import GlueFamily, caution_for
from adhaero.core.plan.clamping import ClampKind
from adhaero.core.quantity import Bounds, Kind, factor, parse_quantity
from adhaero.core.rig.addresses import check_address
from adhaero.core.rig.kinds import FORMS as RIG_FORMS
from adhaero.core.rig.kinds import RigKind
from adhaero.core.rig.lines import DecimalMark
from adhaero.core.units import CHOICES, DisplayUnit, Units, check_units, display_unit
from adhaero.core.wood import list_species
from adhaero.store.file import ShopFile
from adhaero.store.history import find_steps
from adhaero.store.rows import Connection, amend, delete, insert
from adhaero.store.shop import (
    ClampsRow,
    Glue,
    Rig,
    count_rig_pulls,
    delete_calibrations,
    delete_glue_figures,
    fetch_glue,
    fetch_rig,
    fetch_settings,
    find_glue,
    list_clamps,
    list_glue_figures,
    list_glue_users,
    list_glues,
    list_rig_users,
    list_rigs,
    newest_calibration,
    put_setting,
)

DEMO = "demo"
RIG_UNITS = ("N", "kN", "kgf", "lbf", "g", "oz")
PARITIES = ("none", "even", "odd")
MOST_CAPACITY_N = 1e8
_MOST = 1e9


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
class RigView:
    """A rig in the shop with the calibration in use: load = (reading − offset) · factor, in the rig's unit."""

    id: int
    name: str
    url: str
    number_index: int
    unit: str
    capacity_n: float
    capacity_typed: str
    resolution_n: float
    resolution_typed: str
    kind: str
    bore_mm: float | None
    bore_typed: str
    lever_ratio: float | None
    tare_n: float | None
    tare_typed: str
    fixtures: str
    decimal_mark: str
    prints: str
    baud: int
    parity: str
    stop_bits: int
    far_host: str
    simulated: bool
    offset: str
    factor: str


@dataclass(frozen=True)
class RigKindView:
    """A kind of rig in words."""

    name: str
    words: str
    reading: str
    needs: tuple[str, ...]
    caution: str


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
            rigs=[_view_rig(connection, rig) for rig in list_rigs(connection)],
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


def _view_rig(connection: Connection, rig: Rig) -> RigView:
    calibration = newest_calibration(connection, rig.id)
    return RigView(
        **(asdict(rig) | {"simulated": bool(rig.simulated)}),
        offset=f"{calibration.offset_reading:.10g}" if calibration else "0",
        factor=f"{calibration.newton_per_unit / factor(Kind.FORCE, rig.unit):.10g}" if calibration else "1",
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


@dataclass(frozen=True)
class RigEntry:
    """A rig as typed.

    `unit` is that of its lines; `offset` is what it shows with nothing on it, and `factor` by how much its readings
    are multiplied to be right, both numbers as typed. `far_host` is a host outside this network whose lines are
    allowed; `simulated` says that the address on this computer may be the practice rig.
    """

    name: str
    url: str
    unit: str
    capacity: str
    resolution: str
    number_index: int = 0
    offset: str = "0"
    factor: str = "1"
    kind: str = RigKind.PRESS
    bore: str = ""
    lever_ratio: str = ""
    tare: str = ""
    fixtures: str = ""
    decimal_mark: str = DecimalMark.AUTO
    baud: int = 115_200
    parity: str = "none"
    stop_bits: int = 1
    far_host: str = ""
    simulated: bool = False


def save_rig(file: ShopFile, entry: RigEntry, rig_id: int | None = None, was: RigEntry | None = None) -> int:
    """Add or change a rig; a changed offset or factor is a new calibration, the old ones stay with their breaks.

    `was` is the rig as the person saw it. Raises `StaleEdit` when another window changed it since.
    """
    name = entry.name.strip()
    with file.changing(f"{'Added' if rig_id is None else 'Changed'} rig {name}") as connection:
        if rig_id is not None and was is not None:
            _require_rig_unchanged(connection, rig_id, was)
        default = read_units(connection).force
        bounds = Bounds(highest=MOST_CAPACITY_N)
        capacity = parse_quantity(entry.capacity, Kind.FORCE, default, bounds, field="capacity")
        resolution = parse_quantity(entry.resolution, Kind.FORCE, default, bounds, field="resolution")
        if resolution.si >= capacity.si:
            raise EntryError(
                f"It reads in steps of {resolution.typed} and pulls up to {capacity.typed}.",
                "A step is much smaller than the capacity.",
                "Check both numbers and their units.",
                field="resolution",
            )
        values = {
            "name": name,
            "url": entry.url.strip(),
            "number_index": entry.number_index,
            "unit": entry.unit,
            "capacity_n": capacity.si,
            "capacity_typed": capacity.typed,
            "resolution_n": resolution.si,
            "resolution_typed": resolution.typed,
            "decimal_mark": entry.decimal_mark,
            "baud": entry.baud,
            "parity": entry.parity,
            "stop_bits": entry.stop_bits,
            "far_host": entry.far_host.strip().lower(),
            "simulated": int(entry.simulated),
            **_read_kind(connection, entry),
        }
        _check_rig(connection, entry, rig_id)
        if rig_id is None:
            rig_id = insert(connection, "rig", values)
        else:
            amend(connection, "rig", require_rig(connection, rig_id).id, values)
        anything = Bounds(-_MOST, _MOST, zero_allowed=True)
        offset = parse_quantity(entry.offset, Kind.NUMBER, bounds=anything, field="offset").si
        multiplier = parse_quantity(entry.factor, Kind.NUMBER, bounds=anything, field="factor").si
        if multiplier == 0:
            raise EntryError(
                "The factor is 0.", "Every load would read 0.", "Expected 1 for a rig that reads true.", field="factor"
            )
        _calibrate(file, connection, rig_id, offset, multiplier * factor(Kind.FORCE, entry.unit))
        return rig_id


def _calibrate(file: ShopFile, connection: Connection, rig_id: int, offset: float, per_unit: float) -> None:
    """Write a new calibration where it differs from the one in use. Raises `EntryError`."""
    if not 1e-9 <= abs(per_unit) < _MOST:
        raise EntryError(
            f"The factor makes {abs(per_unit):.3g} N of one unit.",
            "Expected about 1 for a rig that reads true.",
            field="factor",
        )
    current = newest_calibration(connection, rig_id)
    if current is None or (current.offset_reading, current.newton_per_unit) != (offset, per_unit):
        values = {"rig_id": rig_id, "offset_reading": offset, "newton_per_unit": per_unit}
        insert(connection, "calibration", {**values, "made_utc": file.now()})


def choose_unit(file: ShopFile, rig_id: int, printed: str, right: str) -> None:
    """Say which unit is right where a rig's lines name another than its card.

    Parameters
    ----------
    printed : the unit in the lines. right : `printed`, which changes the card and makes a new calibration, or the unit
        of the card, which the printed one then means.

    Raises
    ------
    EntryError : neither of them.
    """
    with file.changing("Chose the unit of a rig") as connection:
        rig = require_rig(connection, rig_id)
        named = _as_card_unit(printed)
        if right == rig.unit:
            amend(connection, "rig", rig_id, {"prints": printed})
            return
        if named is None or right not in (printed, named):
            raise EntryError(
                f"“{right}” is neither in the lines nor on the card.", f"Choose {printed} or {rig.unit}.", field="right"
            )
        calibration = newest_calibration(connection, rig_id)
        if calibration is None:
            raise EntryError(f"{rig.name} has no calibration.", do="Save its card once.", field="right")
        per_unit = calibration.newton_per_unit / factor(Kind.FORCE, rig.unit) * factor(Kind.FORCE, named)
        amend(connection, "rig", rig_id, {"unit": named, "prints": ""})
        _calibrate(file, connection, rig_id, calibration.offset_reading, per_unit)


def _as_card_unit(printed: str) -> str | None:
    """Return the unit of a card that means a printed one."""
    names = {"kg": "kgf", "lb": "lbf"}
    unit = names.get(printed, printed)
    return unit if unit in RIG_UNITS else None


def _require_rig_unchanged(connection: Connection, rig_id: int, was: RigEntry) -> None:
    view = _view_rig(connection, require_rig(connection, rig_id))
    for name, shown in asdict(was).items():
        words = f"the {name.replace('_', ' ')} of {view.name}"
        require_unchanged(words, str(_entry_text(view, name)), str(shown), name)


def _entry_text(view: RigView, name: str) -> object:
    if name == "lever_ratio":
        return "" if view.lever_ratio is None else f"{view.lever_ratio:g}"
    return getattr(view, f"{name}_typed" if name in ("capacity", "resolution", "bore", "tare") else name)


def _read_kind(connection: Connection, entry: RigEntry) -> dict[str, object]:
    """Return what is particular to a kind of rig. Raises `EntryError`."""
    kind = entry.kind
    if kind not in list(RigKind):
        raise EntryError(f"“{kind}” is no kind of rig.", f"Choose one of {', '.join(RigKind)}.", field="kind")
    units = read_units(connection)
    needs = RIG_FORMS[RigKind(kind)].needs
    bore = ratio = tare = None
    if "bore" in needs:
        bore = parse_quantity(entry.bore, Kind.LENGTH, units.length, Bounds(highest=500), field="bore")
    if "lever_ratio" in needs:
        ratio = parse_quantity(entry.lever_ratio, Kind.NUMBER, bounds=Bounds(highest=1000), field="lever_ratio").si
    if "tare" in needs and entry.tare.strip():
        tare = parse_quantity(entry.tare, Kind.FORCE, units.force, Bounds(zero_allowed=True, highest=1e5), field="tare")
    unknown = set(entry.fixtures.split()) - set(Fixture)
    if unknown:
        raise EntryError(f"“{min(unknown)}” is not a fixture.", f"Choose from {', '.join(Fixture)}.", field="fixtures")
    return {
        "kind": kind,
        "bore_mm": bore.si if bore else None,
        "bore_typed": bore.typed if bore else "",
        "lever_ratio": ratio,
        "tare_n": tare.si if tare else None,
        "tare_typed": tare.typed if tare else "",
        "fixtures": " ".join(sorted(entry.fixtures.split())),
    }


def _check_rig(connection: Connection, entry: RigEntry, rig_id: int | None) -> None:
    if not 1 <= len(entry.name.strip()) <= 80:
        raise EntryError("The rig has no name.", "Expected 1 to 80 letters.", field="name")
    if any(rig.name.lower() == entry.name.strip().lower() and rig.id != rig_id for rig in list_rigs(connection)):
        raise EntryError(f"There is a rig called {entry.name.strip()} already.", "Each name stands once.", field="name")
    for name, offered in (("unit", RIG_UNITS), ("decimal_mark", tuple(DecimalMark)), ("parity", PARITIES)):
        if getattr(entry, name) not in offered:
            words = name.replace("_", " ")
            raise EntryError(
                f"“{getattr(entry, name)}” is not a {words} of a rig.",
                f"Choose one of {', '.join(offered)}.",
                field=name,
            )
    if not 50 <= entry.baud <= 4_000_000:
        raise EntryError(
            f"{entry.baud} baud is no speed of a serial port.", "Expected e.g. 9600 or 115200.", field="baud"
        )
    if entry.stop_bits not in (1, 2):
        raise EntryError(f"{entry.stop_bits} stop bits are unusual.", "Choose 1 or 2.", field="stop_bits")
    if entry.url.strip():
        check_address(entry.url, entry.far_host.strip().lower())


def require_rig(connection: Connection, rig_id: int) -> Rig:
    """Return a rig; raises `NotThere`."""
    rig = fetch_rig(connection, rig_id)
    if rig is None:
        raise NotThere(f"There is no rig {rig_id}.", do="It may have been removed.")
    return rig


def delete_rig(file: ShopFile, rig_id: int) -> None:
    """Remove a rig; raises `InUse` once it has broken a piece."""
    with file.changing("Removed a rig") as connection:
        rig = require_rig(connection, rig_id)
        if users := list_rig_users(connection, rig_id):
            raise InUse(
                f"{rig.name} is the rig of the trial “{users[0]}”.",
                "A rig that a plan counts on stays.",
                "Choose another rig in that plan first.",
            )
        pulls = count_rig_pulls(connection, rig_id)
        if pulls:
            raise InUse(f"{rig.name} has recorded {pulls} pulls.", "A rig with pulls stays, so that they can be read.")
        delete_calibrations(connection, rig_id)
        delete(connection, "rig", rig_id)
