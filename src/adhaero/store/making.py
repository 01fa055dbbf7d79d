"""What happens to a piece between glue and test: coats, exposures, readings, ticks."""

import sqlite3
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from typing import NotRequired, Protocol, TypedDict, TypeVar, Unpack

from adhaero.core.plan.exposures import ExposureKind
from adhaero.store.rows import amend, delete, fetch_all, insert


class _OfPiece(Protocol):
    @property
    def piece_id(self) -> int: ...


_Row = TypeVar("_Row", bound=_OfPiece)


@dataclass(frozen=True)
class Coat:
    """A coat that soaks in before the next; the last coat is `spread_utc` of the piece."""

    id: int
    piece_id: int
    number: int
    at_utc: str


class NewCoat(TypedDict):
    """What a coat is written with."""

    piece_id: int
    number: int
    at_utc: str


@dataclass(frozen=True)
class Exposure:
    """Something a piece goes through before the test; without an end it is in there still."""

    id: int
    piece_id: int
    kind: ExposureKind
    planned_s: float | None
    begun_utc: str
    ended_utc: str | None
    cycles: int
    note: str


class ExposureChange(TypedDict, total=False):
    """Columns of a stay in something that can be set."""

    ended_utc: str | None
    cycles: int
    note: str


class NewExposure(TypedDict):
    """What a stay in something is written with."""

    piece_id: int
    kind: ExposureKind
    begun_utc: str
    planned_s: NotRequired[float | None]
    note: NotRequired[str]


@dataclass(frozen=True)
class Reading:
    """Something read off a piece besides its sizes, in the unit that its name says."""

    id: int
    piece_id: int
    name: str
    si: float
    typed: str


@dataclass(frozen=True)
class Tick:
    """Something that a piece must have had before the test, and when it had it."""

    id: int
    piece_id: int
    words: str
    done_utc: str


class NewTick(TypedDict):
    """What a tick is written with."""

    piece_id: int
    words: str
    done_utc: str


_OF_TRIAL = "JOIN piece ON piece.id = piece_id WHERE piece.trial_id = :trial"


def _by_piece(rows: Iterable[_Row]) -> dict[int, tuple[_Row, ...]]:
    found: dict[int, list[_Row]] = defaultdict(list)
    for row in rows:
        found[row.piece_id].append(row)
    return {piece_id: tuple(mine) for piece_id, mine in found.items()}


def list_coats(connection: sqlite3.Connection, trial_id: int) -> dict[int, tuple[Coat, ...]]:
    """Return the coats of a trial's pieces in order, by piece. Reads only."""
    sql = f"SELECT coat.id, piece_id, number, at_utc FROM coat {_OF_TRIAL} ORDER BY piece_id, number"
    return _by_piece(fetch_all(connection, Coat, sql, {"trial": trial_id}))


def list_exposures(connection: sqlite3.Connection, trial_id: int) -> dict[int, tuple[Exposure, ...]]:
    """Return the exposures of a trial's pieces in order, by piece. Reads only."""
    sql = (
        "SELECT exposure.id, piece_id, kind, planned_s, begun_utc, ended_utc, cycles, exposure.note FROM exposure"
        f" {_OF_TRIAL} ORDER BY piece_id, exposure.id"
    )
    return _by_piece(fetch_all(connection, Exposure, sql, {"trial": trial_id}))


def list_readings(connection: sqlite3.Connection, trial_id: int) -> dict[int, tuple[Reading, ...]]:
    """Return what else was read off a trial's pieces, by piece. Reads only."""
    sql = f"SELECT reading.id, piece_id, name, si, typed FROM reading {_OF_TRIAL} ORDER BY piece_id, name"
    return _by_piece(fetch_all(connection, Reading, sql, {"trial": trial_id}))


def list_ticks(connection: sqlite3.Connection, trial_id: int) -> dict[int, tuple[Tick, ...]]:
    """Return what a trial's pieces have had, by piece. Reads only."""
    sql = f"SELECT tick.id, piece_id, words, done_utc FROM tick {_OF_TRIAL} ORDER BY piece_id, tick.id"
    return _by_piece(fetch_all(connection, Tick, sql, {"trial": trial_id}))


def put_reading(connection: sqlite3.Connection, piece_id: int, name: str, si: float, typed: str) -> None:
    """Set one reading of a piece; call inside a transaction."""
    connection.execute(
        "INSERT INTO reading (piece_id, name, si, typed) VALUES (:piece, :name, :si, :typed)"
        " ON CONFLICT (piece_id, name) DO UPDATE SET si = :si, typed = :typed",
        {"piece": piece_id, "name": name, "si": si, "typed": typed},
    )


def delete_reading(connection: sqlite3.Connection, piece_id: int, name: str) -> None:
    """Take one reading away; call inside a transaction."""
    connection.execute(
        "DELETE FROM reading WHERE piece_id = :piece AND name = :name", {"piece": piece_id, "name": name}
    )


def insert_coat(connection: sqlite3.Connection, **row: Unpack[NewCoat]) -> int:
    """Write a coat and return its id; call inside a transaction."""
    return insert(connection, "coat", row)


def insert_exposure(connection: sqlite3.Connection, **row: Unpack[NewExposure]) -> int:
    """Write a stay in something and return its id; call inside a transaction."""
    return insert(connection, "exposure", row)


def amend_exposure(connection: sqlite3.Connection, exposure_id: int, **change: Unpack[ExposureChange]) -> None:
    """Set columns of a stay in something; call inside a transaction."""
    amend(connection, "exposure", exposure_id, change)


def insert_tick(connection: sqlite3.Connection, **row: Unpack[NewTick]) -> int:
    """Write a tick and return its id; call inside a transaction."""
    return insert(connection, "tick", row)


def delete_tick(connection: sqlite3.Connection, tick_id: int) -> None:
    """Delete a tick; call inside a transaction."""
    delete(connection, "tick", tick_id)
