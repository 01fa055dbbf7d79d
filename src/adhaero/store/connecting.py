"""Connections to a shop file, and those that wait for their next use."""

import atexit
import sqlite3
from collections import OrderedDict
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from threading import Lock
from typing import Final
from urllib.parse import quote

Connection = sqlite3.Connection

_MOST_IDLE: Final = 8


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


@dataclass(frozen=True)
class Opened:
    """What a connection is opened on: a path, which of the files that lay there, and whether it is only read."""

    path: Path
    device: int
    number: int
    read_only: bool


def identify(path: Path, *, read_only: bool) -> Opened | None:
    """Return what lies at a path now: another file that takes its place is another. None where there is none."""
    try:
        there = path.stat()
    except OSError:
        return None
    return Opened(path, there.st_dev, there.st_ino, read_only)


class _Idle:
    """Connections between two uses: reading the schema anew takes longer than most of what is asked."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._waiting: OrderedDict[sqlite3.Connection, Opened] = OrderedDict()

    def take(self, opened: Opened) -> sqlite3.Connection | None:
        with self._lock:
            for connection, mine in reversed(self._waiting.items()):
                if mine == opened:
                    del self._waiting[connection]
                    return connection
        return None

    def give(self, opened: Opened, connection: sqlite3.Connection) -> None:
        with self._lock:
            self._waiting[connection] = opened
            late = [self._waiting.popitem(last=False)[0] for _ in range(len(self._waiting) - _MOST_IDLE)]
        _close(late)

    def let_go(self, path: Path | None = None) -> None:
        with self._lock:
            found = [one for one, opened in self._waiting.items() if path in (None, opened.path)]
            for one in found:
                del self._waiting[one]
        _close(found)


def _close(connections: list[sqlite3.Connection]) -> None:
    for one in connections:
        with suppress(sqlite3.Error):
            one.close()


_idle = _Idle()
atexit.register(_idle.let_go)


def take_waiting(opened: Opened | None) -> sqlite3.Connection | None:
    """Return a connection that waits for its next use, to be given back or closed; None where none does."""
    return None if opened is None else _idle.take(opened)


def give_back(opened: Opened | None, connection: sqlite3.Connection) -> None:
    """Let a connection wait for its next use, or close it: where its file is gone, or a transaction is open on it."""
    if opened is None or connection.in_transaction or identify(opened.path, read_only=opened.read_only) != opened:
        connection.close()
    else:
        _idle.give(opened, connection)


def let_go(path: Path) -> None:
    """Close the connections to a file that wait."""
    _idle.let_go(path)
