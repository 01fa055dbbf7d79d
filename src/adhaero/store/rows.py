"""From rows to frozen dataclasses, by the names of the columns."""

import json
import sqlite3
from collections.abc import Callable, Hashable, Mapping
from enum import Enum
from functools import cache
from typing import Any, TypeVar, get_args, get_origin, get_type_hints

Row = TypeVar("Row")


@cache
def _decoders(row: Hashable) -> dict[str, Callable[[Any], Any]]:
    """Return how the columns of a row become its fields, where they do not stand in the file as they are."""
    found: dict[str, Callable[[Any], Any]] = {}
    for name, hint in get_type_hints(row).items():
        kinds = [one for one in get_args(hint) or (hint,) if one is not type(None)]
        kind = kinds[0]
        if get_origin(hint) is tuple:
            found[name] = _read_list
        elif get_origin(hint) is dict:
            found[name] = json.loads
        elif kind is bool:
            found[name] = bool
        elif isinstance(kind, type) and issubclass(kind, Enum):
            found[name] = {None: None, **kind._value2member_map_}.__getitem__
    return found


def _read_list(text: str) -> tuple[Any, ...]:
    return () if text == "[]" else tuple(json.loads(text))


def _encode(values: Mapping[str, Any]) -> dict[str, Any]:
    """Return values as the file keeps them: lists and dicts as JSON, members of closed sets as their words."""
    return {
        name: json.dumps(value, ensure_ascii=False) if isinstance(value, list | tuple | dict) else value
        for name, value in values.items()
    }


def fetch_all(
    connection: sqlite3.Connection, row: type[Row], sql: str, values: Mapping[str, Any] | None = None
) -> list[Row]:
    """Return every row of a query as a `row`; its columns are the fields of the class. Reads only."""
    cursor = connection.execute(sql, dict(values or {}))
    names = tuple(column[0] for column in cursor.description)
    if set(names) != set(row.__match_args__):  # type: ignore[attr-defined]
        raise TypeError(f"{row.__name__} has other fields than the columns {', '.join(names)}")
    decode: dict[str, Callable[[Any], Any]] = _decoders(row)  # type: ignore[arg-type]
    found = []
    for values_found in cursor:
        # a frozen dataclass sets each field through object.__setattr__, six times as slow on thousands of rows
        one = object.__new__(row)
        one.__dict__.update(zip(names, values_found, strict=True))
        for name, read in decode.items():
            one.__dict__[name] = read(one.__dict__[name])
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
    cursor = connection.execute(f"INSERT INTO {table} ({names}) VALUES ({marks})", _encode(values))
    return int(cursor.lastrowid or 0)


def amend(connection: sqlite3.Connection, table: str, row_id: int, values: Mapping[str, Any]) -> None:
    """Set columns of one row; call inside a transaction. Table and names come from the code, never from a person."""
    assignments = ", ".join(f"{name} = :{name}" for name in values)
    connection.execute(f"UPDATE {table} SET {assignments} WHERE id = :row_id", {**_encode(values), "row_id": row_id})


def delete(connection: sqlite3.Connection, table: str, row_id: int) -> None:
    """Delete one row; call inside a transaction."""
    connection.execute(f"DELETE FROM {table} WHERE id = :id", {"id": row_id})
