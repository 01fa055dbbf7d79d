"""From rows to frozen dataclasses, by the names of the columns."""

import sqlite3
from collections.abc import Mapping
from typing import Any, TypeVar

Row = TypeVar("Row")
Connection = sqlite3.Connection


def fetch_all(
    connection: sqlite3.Connection, row: type[Row], sql: str, values: Mapping[str, Any] | None = None
) -> list[Row]:
    """Return every row of a query as a `row`; its columns are the fields of the class. Reads only."""
    cursor = connection.execute(sql, dict(values or {}))
    names = tuple(column[0] for column in cursor.description)
    if set(names) != set(row.__match_args__):  # type: ignore[attr-defined]
        raise TypeError(f"{row.__name__} has other fields than the columns {', '.join(names)}")
    found = []
    for values_found in cursor:
        # a frozen dataclass sets each field through object.__setattr__, six times as slow on thousands of rows
        one = object.__new__(row)
        one.__dict__.update(zip(names, values_found, strict=True))
        found.append(one)
    return found


def fetch_one(
    connection: sqlite3.Connection, row: type[Row], sql: str, values: Mapping[str, Any] | None = None
) -> Row | None:
    """Return the first row of a query, or None. Reads only."""
    found = fetch_all(connection, row, sql, values)
    return found[0] if found else None


def insert(connection: sqlite3.Connection, table: str, values: Mapping[str, Any]) -> int:
    """Insert one row and return its id; call inside a transaction."""
    names = ", ".join(values)
    marks = ", ".join(f":{name}" for name in values)
    cursor = connection.execute(f"INSERT INTO {table} ({names}) VALUES ({marks})", dict(values))
    return int(cursor.lastrowid or 0)


def amend(connection: sqlite3.Connection, table: str, row_id: int, values: Mapping[str, Any]) -> None:
    """Set columns of one row; call inside a transaction. Table and names come from the code, never from a person."""
    assignments = ", ".join(f"{name} = :{name}" for name in values)
    connection.execute(f"UPDATE {table} SET {assignments} WHERE id = :row_id", {**values, "row_id": row_id})


def delete(connection: sqlite3.Connection, table: str, row_id: int) -> None:
    """Delete one row; call inside a transaction."""
    connection.execute(f"DELETE FROM {table} WHERE id = :id", {"id": row_id})
