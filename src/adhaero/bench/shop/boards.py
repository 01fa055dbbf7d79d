"""The boards that stand in the shop, with their sizes, prices and defects."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, TypedDict

from adhaero.bench.facts.entry import Entry, Line, Reason, Short, Text
from adhaero.bench.facts.requirements import require_same_form
from adhaero.bench.shop.units import read_units
from adhaero.core.choice import read_choice
from adhaero.core.errors import EntryError, InUse, NotThere
from adhaero.core.form import FormReader
from adhaero.core.quantity import Bounds, Kind, parse_count, parse_optional, parse_quantity
from adhaero.core.wood import Rings
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.stock_boards import (
    Defect,
    StockBoard,
    amend_stock_board,
    delete_defect,
    delete_stock_board,
    fetch_stock_board,
    insert_defect,
    insert_stock_board,
    list_board_users,
    list_defects,
    list_stock_boards,
)

_LONGEST_BOARD_MM = 20_000.0


@dataclass(frozen=True)
class StockBoardEntry(Entry):
    """A board as typed; `defects` one to a line: `400 to 460 knot`."""

    name: Line
    species: Line
    length: Short
    width: Short
    thickness: Short
    moisture: Short = ""
    rings: Rings | Literal[""] = ""
    source: Reason = ""
    defects: Text = ""
    count: Short = "1"
    price: Short = ""


@dataclass(frozen=True)
class StockBoardView:
    """A board in the shop as its form shows it, with its photo and the trials that saw it."""

    id: int
    entry: StockBoardEntry
    photo_id: int | None
    users: list[str]


@dataclass(frozen=True)
class StockBoardEdit(Entry):
    """A board as it was shown, and as it shall be."""

    was: StockBoardEntry
    now: StockBoardEntry


def view_stock_boards(connection: Connection) -> list[StockBoardView]:
    """Return the boards in the shop. Reads only."""
    defects = list_defects(connection)
    return [
        StockBoardView(
            one.id, _show_board(one, defects.get(one.id, ())), one.photo_id, list_board_users(connection, one.id)
        )
        for one in list_stock_boards(connection)
    ]


def save_stock_board(
    file: ShopFile, entry: StockBoardEntry, board_id: int | None = None, was: StockBoardEntry | None = None
) -> list[int]:
    """Add boards alike, or change one; return their ids.

    `was` is the board as the person saw it. Raises `EntryError`, or `StaleEdit` when another window changed it since.
    """
    name = entry.name.strip()
    with file.changing(f"{'Added' if board_id is None else 'Changed'} board {name}") as connection:
        others = {one.name.lower() for one in list_stock_boards(connection) if one.id != board_id}
        form = FormReader()
        count = 1
        if board_id is None:
            count = form.read(parse_count, entry.count or "1", "boards", 1, 200, field="count").value_or(1)
        named = form.read(_name_boards, name, count, others)
        values, defects = _read_board(form, entry, read_units(connection).length)
        if board_id is None:
            ids = [insert_stock_board(connection, **values, name=one) for one in named.value]
        else:
            board = require_stock_board(connection, board_id)
            old = list_defects(connection).get(board_id, ())
            if was is not None:
                require_same_form(_show_board(board, old), was, board.name)
            amend_stock_board(connection, board_id, **values, name=name)
            for one in old:
                delete_defect(connection, one.id)
            ids = [board_id]
        for one_id in ids:
            for defect in defects:
                insert_defect(connection, stock_board_id=one_id, **defect)
        return ids


def _show_board(board: StockBoard, defects: Sequence[Defect]) -> StockBoardEntry:
    """Return a board as its form shows it."""
    return StockBoardEntry(
        name=board.name,
        species=board.species,
        length=board.length_typed,
        width=board.width_typed,
        thickness=board.thickness_typed,
        moisture=board.moisture_typed,
        rings=Rings(board.rings) if board.rings else "",
        source=board.source,
        defects="\n".join(one.typed for one in defects),
        price=board.price_typed,
    )


def _name_boards(name: str, count: int, others: set[str]) -> list[str]:
    """Return the names of boards alike; raises `EntryError`."""
    names = [name] if count == 1 else [f"{name} {number}" for number in range(1, count + 1)]
    for one in names:
        if not name or len(one) > 60:
            raise EntryError("The board has no name.", "Expected 1 to 60 letters.", field="name")
        if one.lower() in others:
            raise EntryError(f"There is a board called {one} already.", "Each name stands once.", field="name")
    return names


class _Card(TypedDict):
    """A board as read from its form, but for its name."""

    species: str
    source: str
    length_mm: float
    length_typed: str
    width_mm: float
    width_typed: str
    thickness_mm: float
    thickness_typed: str
    price: float | None
    price_typed: str
    moisture_pct: float | None
    moisture_typed: str
    rings: str


class _Stretch(TypedDict):
    """A defect as read: from where to where on the board."""

    from_mm: float
    to_mm: float
    typed: str
    words: str


def _read_board(form: FormReader, entry: StockBoardEntry, unit: str) -> tuple[_Card, list[_Stretch]]:
    """Finish the form of a board; raises `EntryError`."""
    length, width, thickness = (
        form.read(parse_quantity, typed, Kind.LENGTH, unit, Bounds(highest=highest), field=field)
        for field, typed, highest in (
            ("length", entry.length, _LONGEST_BOARD_MM),
            ("width", entry.width, 2000.0),
            ("thickness", entry.thickness, 500.0),
        )
    )
    any_price = Bounds(highest=1e6, zero_allowed=True)
    price = form.read(parse_optional, entry.price, Kind.NUMBER, bounds=any_price, field="price")
    moisture = form.read(parse_optional, entry.moisture, Kind.PERCENT, bounds=Bounds(highest=60), field="moisture")
    if entry.rings:
        form.read(read_choice, Rings, entry.rings, "rings", "is not how rings lie")
    defects = form.read(_read_defects, entry.defects, unit)
    form.finish()
    for defect in defects.value:
        if defect["from_mm"] >= length.value.si:
            raise EntryError(f"“{defect['typed']}” lies beyond the board ({length.value.si:g} mm).", field="defects")
    board = _Card(
        species=entry.species.strip()[:60],
        source=entry.source.strip()[:200],
        length_mm=length.value.si,
        length_typed=length.value.typed,
        width_mm=width.value.si,
        width_typed=width.value.typed,
        thickness_mm=thickness.value.si,
        thickness_typed=thickness.value.typed,
        price=price.value.si if price.value else None,
        price_typed=price.value.typed if price.value else "",
        moisture_pct=moisture.value.si if moisture.value else None,
        moisture_typed=moisture.value.typed if moisture.value else "",
        rings=entry.rings,
    )
    return board, defects.value


def _read_defects(text: str, unit: str) -> list[_Stretch]:
    found: list[_Stretch] = []
    for line in (line.strip() for line in text.replace(";", "\n").splitlines()):
        if not line:
            continue
        low_text, _, rest = line.partition(" to ")
        high_text, _, words = rest.strip().partition(" ")
        if words.split(" ")[0] in ("mm", "cm", "m", "in"):
            after, _, words = words.partition(" ")
            high_text = f"{high_text} {after}"
        if not rest:
            raise EntryError(
                f"“{line}” is not a stretch of the board.",
                "Expected from, to and what it is, e.g. 400 to 460 knot.",
                field="defects",
            )
        bounds = Bounds(highest=_LONGEST_BOARD_MM, zero_allowed=True)
        low = parse_quantity(low_text, Kind.LENGTH, unit, bounds, field="defects").si
        high = parse_quantity(high_text, Kind.LENGTH, unit, bounds, field="defects").si
        if not low < high:
            raise EntryError(f"“{line}” runs backwards.", "Expected the nearer end first.", field="defects")
        found.append(_Stretch(from_mm=low, to_mm=high, typed=line, words=words.strip()))
    return found


def require_stock_board(connection: Connection, board_id: int) -> StockBoard:
    """Return a board of the shop; raises `NotThere`."""
    board = fetch_stock_board(connection, board_id)
    if board is None:
        raise NotThere(f"There is no board {board_id} in the shop.", do="It may have been removed.")
    return board


def remove_stock_board(file: ShopFile, board_id: int) -> None:
    """Take a board out of the shop; raises `InUse` while a trial saws it."""
    with file.changing("Removed a board") as connection:
        board = require_stock_board(connection, board_id)
        if users := list_board_users(connection, board_id):
            raise InUse(f"{board.name} is sawn for the trial “{users[0]}”.", "A board in use stays.")
        delete_stock_board(connection, board_id)
