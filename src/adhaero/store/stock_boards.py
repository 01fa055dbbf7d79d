"""The boards that stand in the shop, with what is wrong with them."""

import sqlite3
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.store.rows import amend, delete, fetch_all, fetch_one, insert


@dataclass(frozen=True)
class StockBoard:
    """A board in the shop."""

    id: int
    name: str
    species: str
    length_mm: float
    length_typed: str
    width_mm: float
    width_typed: str
    thickness_mm: float
    thickness_typed: str
    moisture_pct: float | None
    moisture_typed: str
    rings: str
    source: str
    photo_id: int | None
    price: float | None
    price_typed: str


class StockBoardChange(TypedDict, total=False):
    """Columns of a board of the shop that can be set."""

    name: str
    species: str
    length_mm: float
    length_typed: str
    width_mm: float
    width_typed: str
    thickness_mm: float
    thickness_typed: str
    moisture_pct: float | None
    moisture_typed: str
    rings: str
    source: str
    photo_id: int | None
    price: float | None
    price_typed: str


class NewStockBoard(TypedDict):
    """What a board of the shop is written with."""

    name: str
    length_mm: float
    length_typed: str
    width_mm: float
    width_typed: str
    thickness_mm: float
    thickness_typed: str
    species: NotRequired[str]
    moisture_pct: NotRequired[float | None]
    moisture_typed: NotRequired[str]
    rings: NotRequired[str]
    source: NotRequired[str]
    price: NotRequired[float | None]
    price_typed: NotRequired[str]


@dataclass(frozen=True)
class Defect:
    """A stretch of a board that is skipped."""

    id: int
    stock_board_id: int
    from_mm: float
    to_mm: float
    typed: str
    words: str


class NewDefect(TypedDict):
    """What a defect is written with."""

    stock_board_id: int
    from_mm: float
    to_mm: float
    typed: str
    words: NotRequired[str]


_STOCK = (
    "SELECT id, name, species, length_mm, length_typed, width_mm, width_typed, thickness_mm, thickness_typed,"
    " moisture_pct, moisture_typed, rings, source, photo_id, price, price_typed FROM stock_board"
)


_DEFECT = "SELECT id, stock_board_id, from_mm, to_mm, typed, words FROM defect"


def list_stock_boards(connection: sqlite3.Connection) -> list[StockBoard]:
    """Return the boards in the shop by name. Reads only."""
    return fetch_all(connection, StockBoard, f"{_STOCK} ORDER BY name")


def fetch_stock_board(connection: sqlite3.Connection, board_id: int) -> StockBoard | None:
    """Return one board of the shop. Reads only."""
    return fetch_one(connection, StockBoard, f"{_STOCK} WHERE id = :id", {"id": board_id})


def list_defects(connection: sqlite3.Connection) -> dict[int, tuple[Defect, ...]]:
    """Return the defects of all boards, by board, from one end on. Reads only."""
    found: dict[int, tuple[Defect, ...]] = {}
    for row in fetch_all(connection, Defect, f"{_DEFECT} ORDER BY stock_board_id, from_mm"):
        found[row.stock_board_id] = (*found.get(row.stock_board_id, ()), row)
    return found


def list_board_users(connection: sqlite3.Connection, board_id: int) -> list[str]:
    """Return the questions of the trials that saw a board of the shop. Reads only."""
    rows = connection.execute(
        "SELECT DISTINCT trial.question FROM board JOIN trial ON trial.id = board.trial_id"
        " WHERE board.stock_board_id = :id",
        {"id": board_id},
    )
    return [row[0] for row in rows]


def delete_stock_board(connection: sqlite3.Connection, board_id: int) -> None:
    """Remove a board of the shop with its defects; call inside a transaction."""
    connection.execute("DELETE FROM defect WHERE stock_board_id = :id", {"id": board_id})
    connection.execute("DELETE FROM stock_board WHERE id = :id", {"id": board_id})


def insert_stock_board(connection: sqlite3.Connection, **row: Unpack[NewStockBoard]) -> int:
    """Write a board of the shop and return its id; call inside a transaction."""
    return insert(connection, "stock_board", row)


def amend_stock_board(connection: sqlite3.Connection, stock_board_id: int, **change: Unpack[StockBoardChange]) -> None:
    """Set columns of a board of the shop; call inside a transaction."""
    amend(connection, "stock_board", stock_board_id, change)


def insert_defect(connection: sqlite3.Connection, **row: Unpack[NewDefect]) -> int:
    """Write a defect and return its id; call inside a transaction."""
    return insert(connection, "defect", row)


def delete_defect(connection: sqlite3.Connection, defect_id: int) -> None:
    """Delete a defect; call inside a transaction."""
    delete(connection, "defect", defect_id)
