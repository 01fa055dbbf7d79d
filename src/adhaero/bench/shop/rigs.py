"""The cards of rigs: what one is, where its lines come from and how they are read, and its calibration."""

from dataclasses import dataclass

from adhaero.bench.facts.entry import Entry, Short
from adhaero.bench.facts.requirements import require_same_form
from adhaero.bench.shop.rig_card import list_differences, read_meaning
from adhaero.bench.shop.rig_form import RigEntry, read_rig_form
from adhaero.core.errors import EntryError, InUse, NotThere
from adhaero.core.quantity import Kind, factor
from adhaero.core.rig.kinds import LoadEntry, LoadUnit, RigKind
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.rigs import (
    Rig,
    amend_rig,
    amend_rig_version,
    count_rig_pulls,
    count_version_pulls,
    delete_calibrations,
    delete_rig,
    delete_rig_rows,
    fetch_rig,
    insert_calibration,
    insert_rig,
    insert_rig_version,
    list_rig_users,
    newest_calibration,
    newest_rig_versions,
)


@dataclass(frozen=True)
class RigKindView:
    """A kind of rig in words."""

    name: RigKind
    words: str
    reading: str
    entry: LoadEntry
    needs: tuple[str, ...]
    caution: str


@dataclass(frozen=True)
class RigView:
    """A rig in the shop: its card as its form shows it, and what it can carry and tell apart, N."""

    id: int
    entry: RigEntry
    capacity_n: float
    resolution_n: float
    version: int


def view_rig(connection: Connection, rig: Rig) -> RigView:
    """Return the card of a rig. Reads only."""
    version = newest_rig_versions(connection).get(rig.id)
    return RigView(
        rig.id, _show_rig(connection, rig), rig.capacity_n, rig.resolution_n, version.number if version else 1
    )


def _show_rig(connection: Connection, rig: Rig) -> RigEntry:
    """Return a rig as its form shows it: load = (reading − offset) · factor, in the rig's unit."""
    calibration = newest_calibration(connection, rig.id)
    return RigEntry(
        name=rig.name,
        url=rig.url,
        unit=rig.unit,
        capacity=rig.capacity_typed,
        resolution=rig.resolution_typed,
        number_index=rig.number_index,
        displacement_index=rig.displacement_index,
        displacement_unit=rig.displacement_unit,
        offset=f"{calibration.offset_reading:.10g}" if calibration else "0",
        factor=f"{calibration.newton_per_unit / factor(Kind.FORCE, rig.unit):.10g}" if calibration else "1",
        kind=rig.kind,
        bore=rig.bore_typed,
        lever_ratio="" if rig.lever_ratio is None or rig.arm_hung_mm else f"{rig.lever_ratio:g}",
        tare=rig.tare_typed,
        fixtures=rig.fixtures,
        decimal_mark=rig.decimal_mark,
        baud=rig.baud,
        parity=rig.parity,
        stop_bits=rig.stop_bits,
        far_host=rig.far_host,
        simulated=rig.simulated,
        gauge_unit=rig.gauge_unit,
        arm_piece=rig.arm_piece_typed,
        arm_hung=rig.arm_hung_typed,
        lever=rig.lever_typed,
        balance=rig.balance_typed,
        handle=rig.handle_typed,
        guide=rig.guide,
        check=rig.check_typed,
        check_give=rig.check_give_typed,
    )


@dataclass(frozen=True)
class RigEdit(Entry):
    """A rig as it was shown, and as it shall be."""

    was: RigEntry
    now: RigEntry


@dataclass(frozen=True)
class UnitChoice(Entry):
    """The unit that a rig prints, and the one that is right."""

    printed: Short
    right: Short


def save_rig(file: ShopFile, entry: RigEntry, rig_id: int | None = None, was: RigEntry | None = None) -> int:
    """Add or change a rig; a changed offset or factor is a new calibration, the old ones stay with their breaks.

    `was` is the rig as the person saw it. Raises `StaleEdit` when another window changed it since.
    """
    name = entry.name.strip()
    with file.changing(f"{'Added' if rig_id is None else 'Changed'} rig {name}") as connection:
        if rig_id is not None and was is not None:
            rig = require_rig(connection, rig_id)
            require_same_form(_show_rig(connection, rig), was, rig.name)
        read = read_rig_form(connection, entry, rig_id)
        if rig_id is None:
            rig_id = insert_rig(connection, **read.values)
        else:
            amend_rig(connection, require_rig(connection, rig_id).id, **read.values)
        amend_rig(connection, rig_id, **read.particular)
        _calibrate(file, connection, rig_id, read.offset, read.per_unit)
        keep_version(file, connection, rig_id)
        return rig_id


def keep_version(file: ShopFile, connection: Connection, rig_id: int) -> None:
    """Write a new version of a rig where its card means something else than the one in use; call inside a change.

    A version that nothing was broken on yet is set up, not used: it takes the new meaning.
    """
    meaning = read_meaning(require_rig(connection, rig_id))
    current = newest_rig_versions(connection).get(rig_id)
    if current is not None and not list_differences(current.meaning, meaning):
        return
    if current is not None and not count_version_pulls(connection, current.id):
        amend_rig_version(connection, current.id, meaning)
        return
    number = current.number + 1 if current else 1
    insert_rig_version(connection, rig_id=rig_id, number=number, from_utc=file.now(), meaning=meaning)


def _calibrate(file: ShopFile, connection: Connection, rig_id: int, offset: float, per_unit: float) -> None:
    """Write a new calibration where it differs from the one in use."""
    current = newest_calibration(connection, rig_id)
    if current is None or (current.offset_reading, current.newton_per_unit) != (offset, per_unit):
        insert_calibration(
            connection, rig_id=rig_id, offset_reading=offset, newton_per_unit=per_unit, made_utc=file.now()
        )


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
            amend_rig(connection, rig_id, prints=printed)
            return
        if named is None or right not in (printed, named):
            raise EntryError(
                f"“{right}” is neither in the lines nor on the card.", f"Choose {printed} or {rig.unit}.", field="right"
            )
        calibration = newest_calibration(connection, rig_id)
        if calibration is None:
            raise EntryError(f"{rig.name} has no calibration.", do="Save its card once.", field="right")
        per_unit = calibration.newton_per_unit / factor(Kind.FORCE, rig.unit) * factor(Kind.FORCE, named)
        amend_rig(connection, rig_id, unit=named, prints="")
        _calibrate(file, connection, rig_id, calibration.offset_reading, per_unit)
        keep_version(file, connection, rig_id)


def _as_card_unit(printed: str) -> LoadUnit | None:
    """Return the unit of a card that means a printed one."""
    names = {"kg": "kgf", "lb": "lbf"}
    unit = names.get(printed, printed)
    return LoadUnit(unit) if unit in list(LoadUnit) else None


def require_rig(connection: Connection, rig_id: int) -> Rig:
    """Return a rig; raises `NotThere`."""
    rig = fetch_rig(connection, rig_id)
    if rig is None:
        raise NotThere(f"There is no rig {rig_id}.", do="It may have been removed.")
    return rig


def remove_rig(file: ShopFile, rig_id: int) -> None:
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
        delete_rig_rows(connection, rig_id)
        delete_calibrations(connection, rig_id)
        delete_rig(connection, rig_id)
