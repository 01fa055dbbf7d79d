"""Files that trials were brought in from: whole, with how they were read."""

import sqlite3
from dataclasses import dataclass
from typing import Any, TypedDict, Unpack

from adhaero.store.rows import fetch_all, insert


@dataclass(frozen=True)
class SourceFile:
    """A file that pieces of a trial came from, without its content.

    Attributes
    ----------
    reading : how it was read. slips : sentences on what its own arithmetic gets wrong.
    """

    id: int
    trial_id: int
    name: str
    added_utc: str
    sha256: str
    reading: dict[str, Any]
    slips: tuple[str, ...]


class NewSourceFile(TypedDict):
    """What a file is written with."""

    trial_id: int
    name: str
    added_utc: str
    sha256: str
    content: bytes
    reading: dict[str, Any]
    slips: tuple[str, ...]


_SOURCE = "SELECT id, trial_id, name, added_utc, sha256, reading, slips FROM source_file"


def list_sources(connection: sqlite3.Connection, trial_id: int | None = None) -> list[SourceFile]:
    """Return the files of a trial, or of the shop, oldest first. Reads only."""
    if trial_id is None:
        return fetch_all(connection, SourceFile, f"{_SOURCE} ORDER BY id")
    return fetch_all(connection, SourceFile, f"{_SOURCE} WHERE trial_id = :trial ORDER BY id", {"trial": trial_id})


def fetch_source_content(connection: sqlite3.Connection, source_id: int) -> bytes | None:
    """Return a file as it came; None where there is none. Reads only."""
    row = connection.execute("SELECT content FROM source_file WHERE id = :id", {"id": source_id}).fetchone()
    return None if row is None else bytes(row["content"])


def insert_source(connection: sqlite3.Connection, **row: Unpack[NewSourceFile]) -> int:
    """Insert a file; call inside a transaction."""
    return insert(connection, "source_file", row)
