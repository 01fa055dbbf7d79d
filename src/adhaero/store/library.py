"""The shop's book: what things are called over all trials, and which of its tables a person joined."""

import sqlite3
from dataclasses import dataclass
from typing import TypedDict, Unpack

from adhaero.store.rows import amend, delete, fetch_all, insert


@dataclass(frozen=True)
class Call:
    """What a thing of this name is called in the book: in one trial, or in all where `trial_id` is None."""

    id: int
    subject: str
    trial_id: int | None
    name: str
    called: str


class NewCall(TypedDict):
    """What a call is written with."""

    subject: str
    trial_id: int | None
    name: str
    called: str


@dataclass(frozen=True)
class TableJoin:
    """Two tables of the book that a person made one; a place says fixture, grain and condition in words."""

    id: int
    subject: str
    place: str
    with_place: str


class NewTableJoin(TypedDict):
    """What a join is written with."""

    subject: str
    place: str
    with_place: str


def list_calls(connection: sqlite3.Connection) -> list[Call]:
    """Return what things are called in the book. Reads only."""
    return fetch_all(connection, Call, "SELECT id, subject, trial_id, name, called FROM library_call ORDER BY id")


def insert_call(connection: sqlite3.Connection, **row: Unpack[NewCall]) -> int:
    """Write what a thing is called and return its id; call inside a transaction."""
    return insert(connection, "library_call", row)


def amend_call(connection: sqlite3.Connection, call_id: int, called: str) -> None:
    """Call a thing otherwise; call inside a transaction."""
    amend(connection, "library_call", call_id, {"called": called})


def delete_call(connection: sqlite3.Connection, call_id: int) -> None:
    """Let a thing have its own name again; call inside a transaction."""
    delete(connection, "library_call", call_id)


def list_table_joins(connection: sqlite3.Connection) -> list[TableJoin]:
    """Return the tables that were joined. Reads only."""
    return fetch_all(connection, TableJoin, "SELECT id, subject, place, with_place FROM library_join ORDER BY id")


def insert_table_join(connection: sqlite3.Connection, **row: Unpack[NewTableJoin]) -> int:
    """Write that two tables are one and return its id; call inside a transaction."""
    return insert(connection, "library_join", row)


def delete_table_join(connection: sqlite3.Connection, join_id: int) -> None:
    """Part two tables again; call inside a transaction."""
    delete(connection, "library_join", join_id)
