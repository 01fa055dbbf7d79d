"""Bringing a shop file up to date: its migrations, all of them or none, with a copy made before."""

import hashlib
import sqlite3
from collections.abc import Iterator
from importlib import resources
from pathlib import Path

from adhaero.core.errors import StorageError
from adhaero.store.copying import copy_online
from adhaero.store.history import drop_change_triggers, install_change_triggers


def _migrations() -> list[tuple[int, str, str]]:
    folder = resources.files("adhaero.store") / "migrations"
    files = sorted(entry.name for entry in folder.iterdir() if entry.name.endswith(".sql"))
    return [(int(name[:4]), name, (folder / name).read_text(encoding="utf-8")) for name in files]


def newest_version() -> int:
    """Return the newest version of the file that this program knows."""
    return _migrations()[-1][0]


def migrate(connection: sqlite3.Connection, path: Path, existed: bool) -> None:
    """Bring a file up to date, a copy of it made before; raises `StorageError`."""
    known = _migrations()
    version = connection.execute("PRAGMA user_version").fetchone()[0]
    newest = known[-1][0]
    if version > newest:
        raise StorageError(
            f"{path} was written by a newer Adhaero (version {version} of the file; this program knows {newest}).",
            "An older program could damage it.",
            "Update the program.",
        )
    if existed and version == 0 and connection.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]:
        raise StorageError(f"{path} is a database, but not a shop file.", "Expected a file made by Adhaero.")
    _check_applied(connection, version, known)
    pending = [migration for migration in known if migration[0] > version]
    if existed and pending:
        copy_online(connection, path.with_name(f"{path.name}.before-{pending[-1][0]:04d}"))
    if pending:
        _apply(connection, pending)


def _check_applied(connection: sqlite3.Connection, version: int, known: list[tuple[int, str, str]]) -> None:
    if version == 0:
        return
    contents = {number: _hash(sql) for number, _, sql in known}
    for row in connection.execute("SELECT number, name, sha256 FROM migration"):
        if contents.get(row["number"]) != row["sha256"]:
            raise StorageError(
                f"Migration {row['name']} was edited after this file was made with it.",
                "An applied migration never changes.",
                "Use the program that made the file, or restore the migration.",
            )


def _apply(connection: sqlite3.Connection, pending: list[tuple[int, str, str]]) -> None:
    """Apply migrations, all or none; rows may stand without what they refer to only inside one of them."""
    connection.execute("PRAGMA foreign_keys = OFF")
    connection.execute("BEGIN IMMEDIATE")
    try:
        connection.execute(
            "CREATE TABLE IF NOT EXISTS migration"
            " (number INTEGER PRIMARY KEY, name TEXT NOT NULL, sha256 TEXT NOT NULL) STRICT"
        )
        drop_change_triggers(connection)
        for number, name, sql in pending:
            for statement in _statements(sql):
                connection.execute(statement)
            connection.execute(
                "INSERT INTO migration (number, name, sha256) VALUES (:number, :name, :sha256)",
                {"number": number, "name": name, "sha256": _hash(sql)},
            )
            if broken := connection.execute("PRAGMA foreign_key_check").fetchall():
                raise StorageError(f"Migration {name} leaves {len(broken)} rows without what they refer to.")
        install_change_triggers(connection)
        connection.execute(f"PRAGMA user_version = {pending[-1][0]:d}")
        connection.execute("COMMIT")
    except BaseException:
        connection.execute("ROLLBACK")
        raise
    finally:
        connection.execute("PRAGMA foreign_keys = ON")


def _statements(sql: str) -> Iterator[str]:
    """Split a script; never `executescript`, which would commit the open transaction."""
    statement = ""
    for line in sql.splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""


def _hash(sql: str) -> str:
    return hashlib.sha256(sql.encode()).hexdigest()
