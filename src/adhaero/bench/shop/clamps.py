"""The clamps and weights of the shop."""

from dataclasses import dataclass

from adhaero.bench.facts.entry import Entry, Line, Short
from adhaero.bench.facts.requirements import require_same_form
from adhaero.bench.shop.units import read_units
from adhaero.core.choice import read_choice
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.form import FormReader
from adhaero.core.plan.clamping import ClampKind, ForceKnown
from adhaero.core.quantity import Bounds, Kind, parse_count, parse_quantity
from adhaero.store.clamps import ClampsRow, NewClamps, amend_clamps, delete_clamps, insert_clamps, list_clamps
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile


@dataclass(frozen=True)
class ClampsEntry(Entry):
    """Clamps or weights of one kind as typed."""

    name: Line
    kind: ClampKind
    number: Short
    force: Short
    force_known: ForceKnown = ForceKnown.GUESSED
    in_line: Short = "1"
    side_by_side: Short = "1"


@dataclass(frozen=True)
class ClampsView:
    """Clamps in the shop as their form shows them."""

    id: int
    entry: ClampsEntry


@dataclass(frozen=True)
class ClampsEdit(Entry):
    """Clamps as they were shown, and as they shall be."""

    was: ClampsEntry
    now: ClampsEntry


def view_clamps(connection: Connection) -> list[ClampsView]:
    """Return the clamps and weights in the shop. Reads only."""
    return [ClampsView(row.id, _show_clamps(row)) for row in list_clamps(connection)]


def save_clamps(
    file: ShopFile, entry: ClampsEntry, clamps_id: int | None = None, was: ClampsEntry | None = None
) -> int:
    """Add clamps or weights, or change them.

    `was` are they as the person saw them. Raises `EntryError`, or `StaleEdit` when another window changed them since.
    """
    name = entry.name.strip()
    with file.changing(f"{'Added' if clamps_id is None else 'Changed'} {name}") as connection:
        rows = list_clamps(connection)
        unit, most = read_units(connection).force, Bounds(highest=1e6)
        form = FormReader()
        form.read(_check_name, name, {one.name.lower() for one in rows if one.id != clamps_id})
        kind = form.read(read_choice, ClampKind, entry.kind, "kind", "is no kind of clamp")
        number = form.read(parse_count, entry.number, "of them", 1, 1000, field="number")
        force = form.read(parse_quantity, entry.force, Kind.FORCE, unit, most, field="force")
        known = form.read(read_choice, ForceKnown, entry.force_known, "force_known")
        line = form.read(parse_count, entry.in_line, "pieces in line", 1, 100, field="in_line")
        side = form.read(parse_count, entry.side_by_side, "pieces side by side", 1, 100, field="side_by_side")
        form.finish()
        values = NewClamps(
            name=name,
            kind=kind.value,
            number=number.value,
            force_n=force.value.si,
            force_typed=force.value.typed,
            force_known=known.value,
            in_line=line.value,
            side_by_side=side.value,
        )
        if clamps_id is None:
            return insert_clamps(connection, **values)
        row = _require_clamps(rows, clamps_id)
        if was is not None:
            require_same_form(_show_clamps(row), was, row.name)
        amend_clamps(connection, clamps_id, **values)
        return clamps_id


def _check_name(name: str, others: set[str]) -> None:
    if not 1 <= len(name) <= 60:
        raise EntryError("They have no name.", "Expected 1 to 60 letters.", field="name")
    if name.lower() in others:
        raise EntryError(f"{name} are there already.", "Each name stands once.", field="name")


def _show_clamps(row: ClampsRow) -> ClampsEntry:
    """Return clamps as their form shows them."""
    return ClampsEntry(
        name=row.name,
        kind=row.kind,
        number=str(row.number),
        force=row.force_typed,
        force_known=row.force_known,
        in_line=str(row.in_line),
        side_by_side=str(row.side_by_side),
    )


def _require_clamps(rows: list[ClampsRow], clamps_id: int) -> ClampsRow:
    for row in rows:
        if row.id == clamps_id:
            return row
    raise NotThere(f"There are no clamps {clamps_id}.", do="They may have been removed.")


def remove_clamps(file: ShopFile, clamps_id: int) -> None:
    """Take clamps out of the shop."""
    with file.changing("Removed clamps") as connection:
        _require_clamps(list_clamps(connection), clamps_id)
        delete_clamps(connection, clamps_id)
