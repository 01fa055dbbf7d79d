"""Pieces, their glue-ups and their measured sizes."""

import sqlite3
from collections import defaultdict
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.core.plan.exposures import TestedAs
from adhaero.store.rows import amend, fetch_all, fetch_one, insert


@dataclass(frozen=True)
class Piece:
    """One piece: where it comes from and what has been done to it."""

    id: int
    trial_id: int
    treatment_id: int
    board_id: int
    position: int
    glue_turn: int
    break_turn: int
    label: str
    sawn_utc: str | None
    batch_id: int | None
    prepped_utc: str | None
    spread_utc: str | None
    closed_utc: str | None
    clamped_utc: str | None
    released_utc: str | None
    void_reason: str | None
    excluded_reason: str | None
    odd_reason: str | None
    odd_utc: str | None
    note: str
    pair: int | None
    pilot: bool
    deviation: str
    clamp_peak_n: float | None
    clamp_settled_n: float | None
    tested_as: TestedAs
    panel: int | None
    source_cell: str
    source_label: str


class PieceChange(TypedDict, total=False):
    """Columns of a piece that can be set."""

    treatment_id: int
    label: str
    sawn_utc: str | None
    batch_id: int | None
    closed_utc: str | None
    released_utc: str | None
    void_reason: str | None
    excluded_reason: str | None
    odd_reason: str | None
    odd_utc: str | None
    prepped_utc: str | None
    spread_utc: str | None
    source_cell: str
    clamped_utc: str | None
    deviation: str
    clamp_peak_n: float | None
    clamp_settled_n: float | None
    tested_as: TestedAs


class NewPiece(TypedDict):
    """What a piece is written with."""

    trial_id: int
    treatment_id: int
    board_id: int
    position: int
    glue_turn: int
    break_turn: int
    label: str
    pair: NotRequired[int | None]
    pilot: NotRequired[bool]
    panel: NotRequired[int | None]
    sawn_utc: NotRequired[str | None]
    closed_utc: NotRequired[str | None]
    excluded_reason: NotRequired[str | None]
    note: NotRequired[str]
    source_cell: NotRequired[str]
    source_label: NotRequired[str]


@dataclass(frozen=True)
class Batch:
    """One glue-up: pieces glued in one go, and what was when they were."""

    id: int
    trial_id: int
    number: int
    glue: str
    glue_family: str
    glue_opened_on: str | None
    glue_lot: str
    glue_kept: str
    shop_temperature_c: float | None
    shop_temperature_typed: str
    humidity_pct: float | None
    humidity_typed: str
    wood_moisture_pct: float | None
    wood_moisture_typed: str
    started_utc: str
    note: str
    mixed_utc: str | None
    who: str
    spread_g: float | None
    spread_typed: str
    photo_id: int | None


class BatchChange(TypedDict, total=False):
    """Columns of a batch that can be set."""

    note: str
    mixed_utc: str | None
    who: str
    spread_g: float | None
    spread_typed: str
    photo_id: int | None


class NewBatch(TypedDict):
    """What a batch is written with."""

    trial_id: int
    number: int
    glue: str
    glue_family: str
    started_utc: str
    glue_opened_on: NotRequired[str | None]
    glue_lot: NotRequired[str]
    shop_temperature_c: NotRequired[float | None]
    shop_temperature_typed: NotRequired[str]
    humidity_pct: NotRequired[float | None]
    humidity_typed: NotRequired[str]
    wood_moisture_pct: NotRequired[float | None]
    wood_moisture_typed: NotRequired[str]
    note: NotRequired[str]
    glue_kept: NotRequired[str]


@dataclass(frozen=True)
class Measurement:
    """One measured size of a piece: the mean of its readings, and their standard deviation if there are several."""

    id: int
    piece_id: int
    name: str
    mm: float
    typed: str
    readings: int
    scatter_mm: float | None


_PIECE = (
    "SELECT id, trial_id, treatment_id, board_id, position, glue_turn, break_turn, label, sawn_utc, batch_id,"
    " prepped_utc, spread_utc, closed_utc, clamped_utc, released_utc, void_reason, excluded_reason, odd_reason,"
    " odd_utc, note, pair, pilot, deviation, clamp_peak_n, clamp_settled_n, tested_as, panel,"
    " source_cell, source_label FROM piece"
)
_BATCH = (
    "SELECT id, trial_id, number, glue, glue_family, glue_opened_on, glue_lot, glue_kept, shop_temperature_c,"
    " shop_temperature_typed, humidity_pct, humidity_typed, wood_moisture_pct, wood_moisture_typed, started_utc, note,"
    " mixed_utc, who, spread_g, spread_typed, photo_id FROM batch"
)


def list_pieces(connection: sqlite3.Connection, trial_id: int) -> list[Piece]:
    """Return the pieces of a trial by board and place. Reads only."""
    return fetch_all(
        connection, Piece, f"{_PIECE} WHERE trial_id = :trial ORDER BY board_id, position, id", {"trial": trial_id}
    )


def fetch_piece(connection: sqlite3.Connection, piece_id: int) -> Piece | None:
    """Return one piece. Reads only."""
    return fetch_one(connection, Piece, f"{_PIECE} WHERE id = :id", {"id": piece_id})


def find_label(connection: sqlite3.Connection, trial_id: int, label: str) -> Piece | None:
    """Return the piece of a trial with a label, in capitals or not. Reads only."""
    return fetch_one(
        connection,
        Piece,
        f"{_PIECE} WHERE trial_id = :trial AND label = :label COLLATE NOCASE",
        {"trial": trial_id, "label": label},
    )


def list_batches(connection: sqlite3.Connection, trial_id: int) -> list[Batch]:
    """Return the glue-ups of a trial in their order. Reads only."""
    return fetch_all(connection, Batch, f"{_BATCH} WHERE trial_id = :trial ORDER BY number", {"trial": trial_id})


def fetch_batch(connection: sqlite3.Connection, batch_id: int) -> Batch | None:
    """Return one glue-up. Reads only."""
    return fetch_one(connection, Batch, f"{_BATCH} WHERE id = :id", {"id": batch_id})


def list_measurements(connection: sqlite3.Connection, trial_id: int) -> dict[int, dict[str, Measurement]]:
    """Return the measured sizes of a trial's pieces, by piece and name, in the order of the names. Reads only."""
    rows = fetch_all(
        connection,
        Measurement,
        "SELECT measurement.id, piece_id, name, mm, typed, readings, scatter_mm FROM measurement"
        " JOIN piece ON piece.id = measurement.piece_id WHERE piece.trial_id = :trial ORDER BY name",
        {"trial": trial_id},
    )
    found: dict[int, dict[str, Measurement]] = defaultdict(dict)
    for row in rows:
        found[row.piece_id][row.name] = row
    return found


def fetch_measurement(connection: sqlite3.Connection, measurement_id: int) -> Measurement | None:
    """Return one measured size. Reads only."""
    return fetch_one(
        connection,
        Measurement,
        "SELECT id, piece_id, name, mm, typed, readings, scatter_mm FROM measurement WHERE id = :id",
        {"id": measurement_id},
    )


def put_measurement(
    connection: sqlite3.Connection,
    piece_id: int,
    name: str,
    mm: float,
    typed: str,
    readings: int = 1,
    scatter_mm: float | None = None,
) -> None:
    """Set one measured size; call inside a transaction."""
    connection.execute(
        "INSERT INTO measurement (piece_id, name, mm, typed, readings, scatter_mm)"
        " VALUES (:piece, :name, :mm, :typed, :readings, :scatter)"
        " ON CONFLICT (piece_id, name) DO UPDATE"
        " SET mm = :mm, typed = :typed, readings = :readings, scatter_mm = :scatter",
        {
            "piece": piece_id,
            "name": name,
            "mm": mm,
            "typed": typed,
            "readings": readings,
            "scatter": scatter_mm,
        },
    )


def delete_measurement(connection: sqlite3.Connection, piece_id: int, name: str) -> None:
    """Take one measured size away; call inside a transaction."""
    connection.execute(
        "DELETE FROM measurement WHERE piece_id = :piece AND name = :name", {"piece": piece_id, "name": name}
    )


def delete_pieces(connection: sqlite3.Connection, trial_id: int) -> None:
    """Take back every piece of a trial with what was read off it; call inside a transaction."""
    for table in ("measurement", "reading", "tick", "coat", "exposure"):
        connection.execute(
            f"DELETE FROM {table} WHERE piece_id IN (SELECT id FROM piece WHERE trial_id = :trial)", {"trial": trial_id}
        )
    connection.execute("DELETE FROM piece WHERE trial_id = :trial", {"trial": trial_id})


def insert_piece(connection: sqlite3.Connection, **row: Unpack[NewPiece]) -> int:
    """Write a piece and return its id; call inside a transaction."""
    return insert(connection, "piece", row)


def amend_piece(connection: sqlite3.Connection, piece_id: int, **change: Unpack[PieceChange]) -> None:
    """Set columns of a piece; call inside a transaction."""
    amend(connection, "piece", piece_id, change)


def insert_batch(connection: sqlite3.Connection, **row: Unpack[NewBatch]) -> int:
    """Write a batch and return its id; call inside a transaction."""
    return insert(connection, "batch", row)


def amend_batch(connection: sqlite3.Connection, batch_id: int, **change: Unpack[BatchChange]) -> None:
    """Set columns of a batch; call inside a transaction."""
    amend(connection, "batch", batch_id, change)
