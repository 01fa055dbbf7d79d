"""A connection to a shop file."""

import sqlite3
from pathlib import Path
from urllib.parse import quote

Connection = sqlite3.Connection


def connect(path: Path, *, read_only: bool) -> sqlite3.Connection:
    """Return a connection that waits five seconds for others; raises `sqlite3.Error`."""
    uri = f"file:{quote(str(path))}?mode={'ro' if read_only else 'rwc'}"
    connection = sqlite3.connect(uri, uri=True, isolation_level=None, timeout=5.0, check_same_thread=False)
    try:
        connection.row_factory = sqlite3.Row
        connection.execute("PRAGMA foreign_keys = ON")
        connection.execute("PRAGMA synchronous = FULL")
    except BaseException:
        connection.close()
        raise
    return connection
