"""The shop file: opening it, bringing it up to date, and the two ways to use it, reading and changing."""

import hashlib
import shutil
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path

from adhaero.core.errors import NotThere, StorageError
from adhaero.store.history import drop_change_triggers, install_change_triggers

_HEADER = b"SQLite format 3\x00"


def utc_now() -> datetime:
    """Return the present moment."""
    return datetime.now(UTC)


def to_text(moment: datetime) -> str:
    """Return a moment as it stands in the file: UTC, ISO 8601, milliseconds."""
    return moment.astimezone(UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")


@dataclass(frozen=True)
class ShopFile:
    """One shop's file.

    Attributes
    ----------
    path : where it lies.
    clock : what the time is; the demo sets its own.
    page_limit : the most 4 KiB pages the file may grow to, a quota; None for as much as the disk holds.
    """

    path: Path
    clock: Callable[[], datetime] = utc_now
    page_limit: int | None = None

    def now(self) -> str:
        """Return the time as it is written into the file."""
        return to_text(self.clock())

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """Give a connection that cannot write, on one consistent state of the file."""
        with self._connected(read_only=True) as connection:
            connection.execute("BEGIN")
            try:
                yield connection
            finally:
                connection.execute("ROLLBACK")

    @contextmanager
    def changing(
        self, what: str, trial_id: int | None = None, *, undoable: bool = True
    ) -> Iterator[sqlite3.Connection]:
        """Give a connection inside a transaction whose every row change is written down under `what`.

        Raises
        ------
        NotThere : there is no such trial.
        StorageError : the disk is full, or the file cannot be written; nothing was saved.
        """
        with self.recording() as connection:
            if (
                trial_id is not None
                and not connection.execute("SELECT 1 FROM trial WHERE id = :id", {"id": trial_id}).fetchone()
            ):
                raise NotThere(f"There is no trial {trial_id}.", do="Go to Today: it shows the trials that are there.")
            change_id = connection.execute(
                "INSERT INTO change (trial_id, at_utc, what, undoable) VALUES (:trial, :at, :what, :undoable)",
                {"trial": trial_id, "at": self.now(), "what": what, "undoable": int(undoable)},
            ).lastrowid
            connection.execute("INSERT INTO open_change (change_id) VALUES (:id)", {"id": change_id})
            yield connection
            connection.execute("DELETE FROM open_change")

    @contextmanager
    def recording(self) -> Iterator[sqlite3.Connection]:
        """Give a connection inside a transaction for raw readings, which are no change of anything."""
        with self._connected(read_only=False) as connection:
            connection.execute("BEGIN IMMEDIATE")
            try:
                yield connection
                connection.execute("COMMIT")
            except BaseException:
                if connection.in_transaction:
                    connection.execute("ROLLBACK")
                raise

    @contextmanager
    def _connected(self, *, read_only: bool) -> Iterator[sqlite3.Connection]:
        try:
            with closing(_connect(self.path, read_only=read_only)) as connection:
                if self.page_limit is not None:
                    connection.execute(f"PRAGMA max_page_count = {self.page_limit:d}")
                yield connection
        except sqlite3.OperationalError as error:
            raise _explain(error, self.path) from error


def open_shop(path: Path, clock: Callable[[], datetime] = utc_now) -> ShopFile:
    """Open a shop file, creating it if there is none and bringing it up to date if it is older.

    Raises
    ------
    StorageError : it is no shop file, belongs to a newer program, or an applied migration was edited.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    existed = path.exists() and path.stat().st_size > 0
    if existed:
        with path.open("rb") as file:
            if file.read(16) != _HEADER:
                raise StorageError(
                    f"{path} is not a shop file.", "Expected a file made by Adhaero.", "Name another file."
                )
    try:
        with closing(_connect(path, read_only=False)) as connection:
            connection.execute("PRAGMA journal_mode = WAL")
            _migrate(connection, path, existed)
    except sqlite3.DatabaseError as error:
        raise _explain(error, path) from error
    return ShopFile(path, clock)


def _connect(path: Path, *, read_only: bool) -> sqlite3.Connection:
    mode = "ro" if read_only else "rwc"
    uri = f"file:{_quoted(path)}?mode={mode}"
    connection = sqlite3.connect(uri, uri=True, isolation_level=None, timeout=5.0, check_same_thread=False)
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA foreign_keys = ON")
    connection.execute("PRAGMA synchronous = FULL")
    return connection


def _quoted(path: Path) -> str:
    return str(path).replace("%", "%25").replace("?", "%3f").replace("#", "%23")


def _explain(error: sqlite3.Error, path: Path) -> StorageError:
    text = str(error)
    if "full" in text:
        return StorageError("The disk is full.", "Nothing was saved.", f"Make room beside {path.name} and do it again.")
    if "locked" in text or "busy" in text:
        return StorageError("Another program holds the shop file.", "Nothing was saved.", "Close it and do it again.")
    if "not a database" in text or "malformed" in text:
        return StorageError(f"{path} is not a shop file, or is damaged.", "Expected a file made by Adhaero.")
    return StorageError(f"The shop file cannot be used ({text}).", "Nothing was saved.", f"Check {path}.")


def _migrations() -> list[tuple[int, str, str]]:
    folder = resources.files("adhaero.store") / "migrations"
    files = sorted(entry.name for entry in folder.iterdir() if entry.name.endswith(".sql"))
    return [(int(name[:4]), name, (folder / name).read_text(encoding="utf-8")) for name in files]


def _migrate(connection: sqlite3.Connection, path: Path, existed: bool) -> None:
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
        shutil.copy2(path, path.with_name(f"{path.name}.before-{pending[-1][0]:04d}"))
    for number, name, sql in pending:
        _apply(connection, number, name, sql)


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


def _apply(connection: sqlite3.Connection, number: int, name: str, sql: str) -> None:
    connection.execute("BEGIN IMMEDIATE")
    try:
        connection.execute(
            "CREATE TABLE IF NOT EXISTS migration"
            " (number INTEGER PRIMARY KEY, name TEXT NOT NULL, sha256 TEXT NOT NULL) STRICT"
        )
        drop_change_triggers(connection)
        for statement in _statements(sql):
            connection.execute(statement)
        install_change_triggers(connection)
        connection.execute(
            "INSERT INTO migration (number, name, sha256) VALUES (:number, :name, :sha256)",
            {"number": number, "name": name, "sha256": _hash(sql)},
        )
        if broken := connection.execute("PRAGMA foreign_key_check").fetchall():
            raise StorageError(f"Migration {name} leaves {len(broken)} rows without what they refer to.")
        connection.execute(f"PRAGMA user_version = {number:d}")
        connection.execute("COMMIT")
    except BaseException:
        connection.execute("ROLLBACK")
        raise


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
