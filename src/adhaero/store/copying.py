"""Copies of a shop file that are whole while it is in use: SQLite's own online copy."""

import os
import sqlite3
from contextlib import closing
from pathlib import Path


def copy_online(source: sqlite3.Connection, target: Path) -> None:
    """Copy a database into one file, whole or not at all; raises `sqlite3.Error` and `OSError`.

    What stands in the write-ahead log is in the copy. It is written beside `target` and takes its name when it is done.
    """
    partial = target.with_name(f"{target.name}.part")
    partial.unlink(missing_ok=True)
    try:
        with closing(sqlite3.connect(partial)) as copy:
            source.backup(copy)
            copy.execute("PRAGMA journal_mode = DELETE")
        with partial.open("rb+") as written:
            os.fsync(written.fileno())
        partial.replace(target)
    except BaseException:
        partial.unlink(missing_ok=True)
        raise
