"""Photos."""

import sqlite3


def fetch_photo(connection: sqlite3.Connection, photo_id: int) -> bytes | None:
    """Return a photo as JPEG. Reads only."""
    row = connection.execute("SELECT jpeg FROM photo WHERE id = :id", {"id": photo_id}).fetchone()
    return None if row is None else bytes(row[0])
