"""Clamps and weights of the shop."""

import sqlite3
from dataclasses import dataclass

from adhaero.store.rows import fetch_all


@dataclass(frozen=True)
class ClampsRow:
    """Clamps of one kind in the shop."""

    id: int
    name: str
    kind: str
    number: int
    force_n: float
    force_typed: str
    force_known: str
    in_line: int
    side_by_side: int


_CLAMPS = "SELECT id, name, kind, number, force_n, force_typed, force_known, in_line, side_by_side FROM clamps"


def list_clamps(connection: sqlite3.Connection) -> list[ClampsRow]:
    """Return the clamps in the shop by name. Reads only."""
    return fetch_all(connection, ClampsRow, f"{_CLAMPS} ORDER BY name")
