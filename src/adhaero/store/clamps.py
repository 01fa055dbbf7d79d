"""Clamps and weights of the shop."""

import sqlite3
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.core.plan.clamping import ClampKind, ForceKnown
from adhaero.store.rows import amend, delete, fetch_all, insert


@dataclass(frozen=True)
class ClampsRow:
    """Clamps of one kind in the shop."""

    id: int
    name: str
    kind: ClampKind
    number: int
    force_n: float
    force_typed: str
    force_known: ForceKnown
    in_line: int
    side_by_side: int


class ClampsChange(TypedDict, total=False):
    """Columns of clamps that can be set."""

    name: str
    kind: ClampKind
    number: int
    force_n: float
    force_typed: str
    force_known: ForceKnown
    in_line: int
    side_by_side: int


class NewClamps(TypedDict):
    """What clamps is written with."""

    name: str
    kind: ClampKind
    number: int
    force_n: float
    force_typed: str
    force_known: NotRequired[ForceKnown]
    in_line: NotRequired[int]
    side_by_side: NotRequired[int]


_CLAMPS = "SELECT id, name, kind, number, force_n, force_typed, force_known, in_line, side_by_side FROM clamps"


def list_clamps(connection: sqlite3.Connection) -> list[ClampsRow]:
    """Return the clamps in the shop by name. Reads only."""
    return fetch_all(connection, ClampsRow, f"{_CLAMPS} ORDER BY name")


def insert_clamps(connection: sqlite3.Connection, **row: Unpack[NewClamps]) -> int:
    """Write clamps and return its id; call inside a transaction."""
    return insert(connection, "clamps", row)


def amend_clamps(connection: sqlite3.Connection, clamps_id: int, **change: Unpack[ClampsChange]) -> None:
    """Set columns of clamps; call inside a transaction."""
    amend(connection, "clamps", clamps_id, change)


def delete_clamps(connection: sqlite3.Connection, clamps_id: int) -> None:
    """Delete clamps; call inside a transaction."""
    delete(connection, "clamps", clamps_id)
