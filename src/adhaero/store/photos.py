"""Photos."""

import sqlite3
from typing import TypedDict, Unpack

from adhaero.store.rows import insert


class NewPhoto(TypedDict):
    """What a photo is written with."""

    jpeg: bytes
    added_utc: str


def fetch_photo(connection: sqlite3.Connection, photo_id: int) -> bytes | None:
    """Return a photo as JPEG. Reads only."""
    row = connection.execute("SELECT jpeg FROM photo WHERE id = :id", {"id": photo_id}).fetchone()
    return None if row is None else bytes(row[0])


def insert_photo(connection: sqlite3.Connection, **row: Unpack[NewPhoto]) -> int:
    """Write a photo and return its id; call inside a transaction."""
    return insert(connection, "photo", row)
