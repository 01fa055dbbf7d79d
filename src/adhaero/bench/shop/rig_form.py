"""A rig as it is typed: what its card must say, and what of it cannot be."""

from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Annotated, Final

from annotated_types import Ge, Le, MaxLen

from adhaero.bench.facts.entry import Entry, Line, Reason, Short
from adhaero.bench.shop.units import read_units
from adhaero.core.choice import read_choice
from adhaero.core.errors import EntryError
from adhaero.core.fixture import Fixture, compute_gauge_load
from adhaero.core.form import FormReader, Read
from adhaero.core.quantity import Bounds, Kind, Quantity, factor, parse_optional, parse_quantity
from adhaero.core.rig.addresses import check_address
from adhaero.core.rig.entry.card import find_ratio, half_division
from adhaero.core.rig.kinds import FORMS as RIG_FORMS
from adhaero.core.rig.kinds import GaugeUnit, LoadUnit, Parity, RigKind, TravelUnit
from adhaero.core.rig.lines import DecimalMark
from adhaero.core.units import Units
from adhaero.store.connecting import Connection
from adhaero.store.rigs import (
    NewRig,
    RigChange,
    list_rigs,
)

MOST_CAPACITY_N: Final = 1e8
_MOST: Final = 1e9
_RATIO_GIVE: Final = 0.01


@dataclass(frozen=True)
class RigEntry(Entry):
    """A rig as typed.

    `unit` is that of its lines; `offset` is what it shows with nothing on it, and `factor` by how much its readings
    are multiplied to be right, both numbers as typed. `far_host` is a host outside this network whose lines are
    allowed; `simulated` says that the address on this computer may be the practice rig. `arm_piece`, `arm_hung` are
    from the pivot of a lever, which weighs `lever` and balances at `balance`; `handle` is the most that may hang on it.
    `displacement_index` is the number of a line that says how far the piece moved, None without.
    `check` is the weight that is hung on a day of breaking, which may read off by `check_give`.
    """

    name: Line
    url: Line
    unit: LoadUnit
    capacity: Short
    resolution: Short
    number_index: Annotated[int, Ge(0), Le(20)] = 0
    displacement_index: Annotated[int, Ge(0), Le(20)] | None = None
    displacement_unit: TravelUnit = TravelUnit.MILLIMETRE
    offset: Short = "0"
    factor: Short = "1"
    kind: RigKind = RigKind.PRESS
    bore: Short = ""
    lever_ratio: Short = ""
    tare: Short = ""
    fixtures: Reason = ""
    decimal_mark: DecimalMark = DecimalMark.AUTO
    baud: Annotated[int, Ge(1), Le(10_000_000)] = 115_200
    parity: Parity = Parity.NONE
    stop_bits: Annotated[int, Ge(1), Le(9)] = 1
    far_host: Annotated[str, MaxLen(253)] = ""
    simulated: bool = False
    gauge_unit: GaugeUnit = GaugeUnit.NONE
    arm_piece: Short = ""
    arm_hung: Short = ""
    lever: Short = ""
    balance: Short = ""
    handle: Short = ""
    guide: Reason = ""
    check: Short = ""
    check_give: Short = ""


@dataclass(frozen=True)
class RigRead:
    """A rig as its form was understood; load = (reading − `offset`) · `per_unit`, N."""

    values: NewRig
    particular: RigChange
    offset: float
    per_unit: float


def read_rig_form(connection: Connection, entry: RigEntry, rig_id: int | None) -> RigRead:
    """Return what the form of a rig says; `rig_id` is the rig that it stands for already.

    Raises
    ------
    EntryErrors : everything in it that cannot be, each with its field.
    """
    form = FormReader()
    kind = form.read(_read_kind, connection, entry)
    capacity, resolution = _read_limits(form, connection, entry, kind.value_or(RigChange()))
    mark = form.read(read_choice, DecimalMark, entry.decimal_mark, "decimal_mark", "is not a decimal mark of a rig")
    offset, per_unit = form.read(_read_number, entry.offset, "offset"), form.read(_read_factor, entry)
    truth = form.read(_read_check_weight, connection, entry)
    for check in (_check_name, _check_line):
        form.read(check, connection, entry, rig_id)
    form.finish()
    values = NewRig(
        name=entry.name.strip(),
        url=entry.url.strip(),
        number_index=entry.number_index,
        displacement_index=entry.displacement_index,
        displacement_unit=entry.displacement_unit,
        unit=entry.unit,
        capacity_n=capacity.value.si,
        capacity_typed=capacity.value.typed,
        resolution_n=resolution.value.si,
        resolution_typed=resolution.value.typed,
        decimal_mark=mark.value,
        baud=entry.baud,
        parity=entry.parity,
        stop_bits=entry.stop_bits,
        far_host=entry.far_host.strip().lower(),
        simulated=entry.simulated,
    )
    return RigRead(values, RigChange(**(kind.value | truth.value)), offset.value, per_unit.value)


def _read_limits(
    form: FormReader, connection: Connection, entry: RigEntry, kind: RigChange
) -> tuple[Read[Quantity], Read[Quantity]]:
    """Return how much a rig pulls and how fine it reads; of a jack also as its gauge shows them."""
    capacity = form.read(_read_limit, connection, entry.capacity, "capacity", kind)
    resolution = form.read(_read_limit, connection, entry.resolution, "resolution", kind)
    if capacity.there and resolution.there and resolution.value.si >= capacity.value.si:
        form.refuse(
            EntryError(
                f"It reads in steps of {resolution.value.typed} and pulls up to {capacity.value.typed}.",
                "A step is much smaller than the capacity.",
                "Check both numbers and their units.",
                field="resolution",
            )
        )
    return capacity, resolution


def _read_limit(connection: Connection, typed: str, field: str, kind: RigChange) -> Quantity:
    """Return a load, or for a jack what a pressure makes: all of it at the limit, half a division as its step."""
    bore_mm = kind.get("bore_mm")
    if bore_mm is not None:
        # a number alone stands for the load, unless the gauge has a unit
        with suppress(EntryError):
            gauge = kind.get("gauge_unit") or "no unit"
            pressure = parse_quantity(typed, Kind.STRESS, gauge, Bounds(highest=1000), field=field)
            make = half_division if field == "resolution" else compute_gauge_load
            return replace(pressure, si=make(pressure.si, bore_mm))
    bounds = Bounds(highest=MOST_CAPACITY_N)
    return parse_quantity(typed, Kind.FORCE, read_units(connection).force, bounds, field=field)


def _read_check_weight(connection: Connection, entry: RigEntry) -> RigChange:
    """Return the weight that is hung on a day of breaking, and by how much it may be off; a hundredth unless said."""
    unit, bounds = read_units(connection).force, Bounds(highest=MOST_CAPACITY_N)
    weight = parse_optional(entry.check, Kind.FORCE, unit, bounds, field="check")
    give = parse_optional(entry.check_give, Kind.FORCE, unit, bounds, field="check_give")
    if give is not None and weight is None:
        raise EntryError("There is no check weight.", "A tolerance goes with one.", "Type its weight.", field="check")
    return RigChange(
        check_n=weight.si if weight else None,
        check_typed=weight.typed if weight else "",
        check_give_n=give.si if give else None,
        check_give_typed=give.typed if give else "",
    )


def _read_number(typed: str, field: str) -> float:
    return parse_quantity(typed, Kind.NUMBER, bounds=Bounds(-_MOST, _MOST, zero_allowed=True), field=field).si


def _read_factor(entry: RigEntry) -> float:
    """Return the newtons of one unit that a rig shows; raises `EntryError`."""
    multiplier = _read_number(entry.factor, "factor")
    if multiplier == 0:
        raise EntryError(
            "The factor is 0.", "Every load would read 0.", "Expected 1 for a rig that reads true.", field="factor"
        )
    unit = read_choice(LoadUnit, entry.unit, "unit", "is not a unit of a rig")
    per_unit = multiplier * factor(Kind.FORCE, unit)
    if not 1e-9 <= abs(per_unit) < _MOST:
        raise EntryError(
            f"The factor makes {abs(per_unit):.3g} N of one unit.",
            "Expected about 1 for a rig that reads true.",
            field="factor",
        )
    return per_unit


def _read_kind(connection: Connection, entry: RigEntry) -> RigChange:
    """Return what is particular to a kind of rig. Raises `EntryError`."""
    kind = read_choice(RigKind, entry.kind, "kind", "is no kind of rig")
    units = read_units(connection)
    needs = RIG_FORMS[kind].needs
    bore = tare = handle = None
    if "bore" in needs:
        bore = parse_quantity(entry.bore, Kind.LENGTH, units.length, Bounds(highest=500), field="bore")
    if "tare" in needs:
        bounds = Bounds(zero_allowed=True, highest=1e5)
        tare = parse_optional(entry.tare, Kind.FORCE, units.force, bounds, field="tare")
    if "handle" in needs:
        handle = parse_optional(entry.handle, Kind.FORCE, units.force, Bounds(highest=1e6), field="handle")
    unknown = set(entry.fixtures.split()) - set(Fixture)
    if unknown:
        raise EntryError(f"“{min(unknown)}” is not a fixture.", f"Choose from {', '.join(Fixture)}.", field="fixtures")
    card = RigChange(
        kind=kind,
        bore_mm=bore.si if bore else None,
        bore_typed=bore.typed if bore else "",
        gauge_unit=read_choice(GaugeUnit, entry.gauge_unit, "gauge_unit") if "gauge_unit" in needs else GaugeUnit.NONE,
        tare_n=tare.si if tare else None,
        tare_typed=tare.typed if tare else "",
        handle_n=handle.si if handle else None,
        handle_typed=handle.typed if handle else "",
        guide=entry.guide.strip(),
        fixtures=" ".join(sorted(entry.fixtures.split())),
    )
    return card | (_read_lever(entry, units) if kind is RigKind.LEVER else _NO_LEVER)


_NO_LEVER: Final = RigChange(
    lever_ratio=None, arm_piece_mm=None, arm_piece_typed="", arm_hung_mm=None, arm_hung_typed="", lever_n=None,
    lever_typed="", balance_mm=None, balance_typed="",
)  # fmt: skip


def _read_lever(entry: RigEntry, units: Units) -> RigChange:
    """Return the arms of a lever or its ratio, and what its own weight does. Raises `EntryError`."""
    bounds = Bounds(highest=1e4)
    piece = parse_optional(entry.arm_piece, Kind.LENGTH, units.length, bounds, field="arm_piece")
    hung = parse_optional(entry.arm_hung, Kind.LENGTH, units.length, bounds, field="arm_hung")
    ratio = parse_optional(entry.lever_ratio, Kind.NUMBER, bounds=Bounds(highest=1000), field="lever_ratio")
    weight = parse_optional(entry.lever, Kind.FORCE, units.force, Bounds(zero_allowed=True), field="lever")
    balance = parse_optional(entry.balance, Kind.LENGTH, units.length, bounds, field="balance")
    if hung is not None and piece is None:
        raise EntryError("The arm of the piece is missing.", "A lever has two arms, or a ratio.", field="arm_piece")
    if hung is None and ratio is None:
        raise EntryError(
            "The lever has no ratio.",
            "Both arms from the pivot make one: arm of what hangs ÷ arm of the piece.",
            "Type the arms, or the ratio.",
            field="lever_ratio" if piece is None else "arm_hung",
        )
    from_arms = find_ratio(hung.si, piece.si) if hung is not None and piece is not None else None
    if from_arms is not None and ratio is not None and abs(from_arms / ratio.si - 1) > _RATIO_GIVE:
        raise EntryError(
            f"The arms make a ratio of {from_arms:.4g}, and {ratio.si:g} is typed.",
            "They say the same thing.",
            "Leave the ratio empty, or correct an arm.",
            field="lever_ratio",
        )
    if weight is not None and weight.si and (piece is None or balance is None):
        raise EntryError(
            "The lever's weight pulls at its balance point.",
            "Its moment needs the arm of the piece and where the lever balances.",
            "Lay the lever over an edge and measure from the pivot.",
            field="balance" if balance is None else "arm_piece",
        )
    return RigChange(
        lever_ratio=from_arms or (ratio.si if ratio else None),
        arm_piece_mm=piece.si if piece else None,
        arm_piece_typed=piece.typed if piece else "",
        arm_hung_mm=hung.si if hung else None,
        arm_hung_typed=hung.typed if hung else "",
        lever_n=weight.si if weight else None,
        lever_typed=weight.typed if weight else "",
        balance_mm=balance.si if balance else None,
        balance_typed=balance.typed if balance else "",
    )


def _check_name(connection: Connection, entry: RigEntry, rig_id: int | None) -> None:
    if not 1 <= len(entry.name.strip()) <= 80:
        raise EntryError("The rig has no name.", "Expected 1 to 80 letters.", field="name")
    if any(rig.name.lower() == entry.name.strip().lower() and rig.id != rig_id for rig in list_rigs(connection)):
        raise EntryError(f"There is a rig called {entry.name.strip()} already.", "Each name stands once.", field="name")


def _check_line(_: Connection, entry: RigEntry, __: int | None) -> None:
    """Raise `EntryError` for an address or a serial line that cannot be."""
    read_choice(Parity, entry.parity, "parity", "is not a parity of a rig")
    if not 50 <= entry.baud <= 4_000_000:
        raise EntryError(
            f"{entry.baud} baud is no speed of a serial port.", "Expected e.g. 9600 or 115200.", field="baud"
        )
    if entry.displacement_index == entry.number_index:
        raise EntryError(
            "Load and displacement are the same number of the line.",
            "A line gives each of them once.",
            "Choose another number for the displacement, or none.",
            field="displacement_index",
        )
    if entry.stop_bits not in (1, 2):
        raise EntryError(f"{entry.stop_bits} stop bits are unusual.", "Choose 1 or 2.", field="stop_bits")
    if entry.url.strip():
        check_address(entry.url, entry.far_host.strip().lower())
