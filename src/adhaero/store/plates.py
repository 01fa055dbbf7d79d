"""Plates of the shop: weights that are hung in steps."""

import sqlite3
from dataclasses import dataclass
from typing import TypedDict, Unpack

from adhaero.store.rows import amend, delete, fetch_all, insert


@dataclass(frozen=True)
class PlateRow:
    """Plates of one weight in the shop."""

    id: int
    weight_n: float
    weight_typed: str
    number: int


class NewPlate(TypedDict):
    """What plates are written with."""

    weight_n: float
    weight_typed: str
    number: int


def list_plates(connection: sqlite3.Connection) -> list[PlateRow]:
    """Return the plates in the shop, heaviest first. Reads only."""
    sql = "SELECT id, weight_n, weight_typed, number FROM plate ORDER BY weight_n DESC"
    return fetch_all(connection, PlateRow, sql)


def insert_plate(connection: sqlite3.Connection, **row: Unpack[NewPlate]) -> int:
    """Write plates and return their id; call inside a transaction."""
    return insert(connection, "plate", row)


def amend_plate(connection: sqlite3.Connection, plate_id: int, **change: Unpack[NewPlate]) -> None:
    """Set the columns of plates; call inside a transaction."""
    amend(connection, "plate", plate_id, change)


def delete_plate(connection: sqlite3.Connection, plate_id: int) -> None:
    """Delete plates; call inside a transaction."""
    delete(connection, "plate", plate_id)
