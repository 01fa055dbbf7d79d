"""The plates of the shop: weights that are hung on a piece in steps."""

from dataclasses import dataclass

from adhaero.bench.facts.entry import Entry, Short
from adhaero.bench.facts.requirements import require_same_form
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.form import FormReader
from adhaero.core.quantity import Bounds, Kind, parse_count, parse_quantity
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.plates import PlateRow, amend_plate, delete_plate, insert_plate, list_plates

_SAME: float = 1e-6


@dataclass(frozen=True)
class PlateEntry(Entry):
    """Plates of one weight as typed, and how many there are."""

    weight: Short
    number: Short


@dataclass(frozen=True)
class PlateEdit(Entry):
    """Plates as they were shown, and as they shall be."""

    was: PlateEntry
    now: PlateEntry


@dataclass(frozen=True)
class PlateView:
    """Plates in the shop: their form, and what one weighs, N."""

    id: int
    entry: PlateEntry
    weight_n: float


def view_plates(connection: Connection) -> list[PlateView]:
    """Return the plates in the shop, heaviest first. Reads only."""
    return [PlateView(row.id, _show_plate(row), row.weight_n) for row in list_plates(connection)]


def save_plate(file: ShopFile, entry: PlateEntry, plate_id: int | None = None, was: PlateEntry | None = None) -> int:
    """Add plates, or change them; raises `EntryError`, or `StaleEdit` when another window changed them since."""
    with file.changing(f"{'Added' if plate_id is None else 'Changed'} plates of {entry.weight.strip()}") as connection:
        rows, form = list_plates(connection), FormReader()
        unit, bounds = read_units(connection).force, Bounds(highest=1e5)
        weight = form.read(parse_quantity, entry.weight, Kind.FORCE, unit, bounds, field="weight")
        number = form.read(parse_count, entry.number, "plates", 1, 1000, field="number")
        form.finish()
        others = [row for row in rows if row.id != plate_id]
        if any(abs(row.weight_n / weight.value.si - 1) < _SAME for row in others):
            raise EntryError(
                f"There are plates of {weight.value.typed} already.",
                "Each weight stands once.",
                "Change how many there are.",
                field="weight",
            )
        if plate_id is None:
            return insert_plate(
                connection, weight_n=weight.value.si, weight_typed=weight.value.typed, number=number.value
            )
        row = _require_plate(rows, plate_id)
        if was is not None:
            require_same_form(_show_plate(row), was, f"plates of {row.weight_typed}")
        amend_plate(
            connection, plate_id, weight_n=weight.value.si, weight_typed=weight.value.typed, number=number.value
        )
        return plate_id


def remove_plate(file: ShopFile, plate_id: int) -> None:
    """Take plates out of the shop; what was broken under them keeps its loads."""
    with file.changing("Removed plates") as connection:
        _require_plate(list_plates(connection), plate_id)
        delete_plate(connection, plate_id)


def _show_plate(row: PlateRow) -> PlateEntry:
    return PlateEntry(weight=row.weight_typed, number=str(row.number))


def _require_plate(rows: list[PlateRow], plate_id: int) -> PlateRow:
    for row in rows:
        if row.id == plate_id:
            return row
    raise NotThere(f"There are no plates {plate_id}.", do="They may have been removed.")
