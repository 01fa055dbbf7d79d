"""The shop file: opening it, bringing it up to date, and the two ways to use it, reading and changing."""

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from adhaero.core.errors import NotThere, StorageError
from adhaero.store.connecting import connect, give_back, identify, take_waiting
from adhaero.store.migrating import migrate
from adhaero.store.troubles import explain, explain_disk
from adhaero.store.turns import turns_of

HEADER = b"SQLite format 3\x00"


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
        """Give a connection inside a transaction for what is no change of anything."""
        with turns_of(self.path).take(), self._connected(read_only=False) as connection:
            with _transaction(connection):
                yield connection
            # the file by itself is whole again, for whoever copies it by hand; what is saved is saved without it
            with suppress(sqlite3.Error):
                connection.execute("PRAGMA wal_checkpoint(PASSIVE)")

    def open_recorder(self) -> "Recorder":
        """Return a connection of its own for the raw readings of a pull, whose turn comes before all others."""
        return Recorder(self)

    @contextmanager
    def _connected(self, *, read_only: bool) -> Iterator[sqlite3.Connection]:
        try:
            # a quota belongs to one connection: such a one serves nobody else
            opened = None if self.page_limit else identify(self.path, read_only=read_only)
            connection = take_waiting(opened) or self.connect(read_only=read_only)
            try:
                yield connection
            except BaseException:
                connection.close()
                raise
            give_back(opened, connection)
        except sqlite3.Error as error:
            known = explain(error, self.path)
            if known is None:
                raise
            raise known from error

    def connect(self, *, read_only: bool) -> sqlite3.Connection:
        """Return a new connection; the caller closes it."""
        connection = connect(self.path, read_only=read_only)
        if self.page_limit is not None:
            connection.execute(f"PRAGMA max_page_count = {self.page_limit:d}")
        return connection


class Recorder:
    """Writes the raw readings of one pull on a connection of its own, which is opened anew after any trouble."""

    def __init__(self, file: ShopFile) -> None:
        self.file = file
        self._opened: ShopFile | None = None
        self._connection: sqlite3.Connection | None = None

    @contextmanager
    def writing(self) -> Iterator[sqlite3.Connection]:
        """Give the connection inside a transaction; raises `StorageError`, and nothing was saved then."""
        try:
            with turns_of(self.file.path).take(urgent=True):
                if self._connection is None or self._opened is not self.file:
                    self.close()
                    self._opened, self._connection = self.file, self.file.connect(read_only=False)
                with _transaction(self._connection):
                    yield self._connection
        except sqlite3.Error as error:
            self.close()
            known = explain(error, self.file.path)
            if known is None:
                raise
            raise known from error

    def close(self) -> None:
        """Let go of the connection."""
        if self._connection is not None:
            self._connection.close()
            self._connection = None


@contextmanager
def _transaction(connection: sqlite3.Connection) -> Iterator[None]:
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
        connection.execute("COMMIT")
    except BaseException:
        if connection.in_transaction:
            connection.execute("ROLLBACK")
        raise


def open_shop(path: Path, clock: Callable[[], datetime] = utc_now) -> ShopFile:
    """Open a shop file, creating it if there is none and bringing it up to date if it is older.

    Raises
    ------
    StorageError : it is no shop file, belongs to a newer program, or an applied migration was edited.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        # never read but by SQLite: closing a file of one's own takes away the locks that its connections hold
        size = path.stat().st_size if path.exists() else 0
    except OSError as error:
        raise explain_disk(error, path) from error
    if 0 < size < len(HEADER):  # SQLite takes a file of one byte for an empty one
        raise StorageError(f"{path} is not a shop file.", "Expected a file made by Adhaero.", "Name another file.")
    try:
        with turns_of(path).take(), closing(connect(path, read_only=False)) as connection:
            connection.execute("PRAGMA journal_mode = WAL")
            migrate(connection, path, size > 0)
    except StorageError:
        raise
    except sqlite3.DatabaseError as error:
        raise explain(error, path) or StorageError(f"{path} cannot be brought up to date ({error}).") from error
    except OSError as error:
        raise explain_disk(error, path) from error
    return ShopFile(path, clock)
