"""The shop: its settings, glues, rigs and their calibrations."""

import sqlite3
from dataclasses import dataclass

from adhaero.store.rows import fetch_all, fetch_one


@dataclass(frozen=True)
class Glue:
    """A glue in the shop: the bottle that is open now."""

    id: int
    name: str
    family: str
    opened_on: str | None
    lot: str
    kept: str


@dataclass(frozen=True)
class GlueFigure:
    """One figure of a glue's card."""

    id: int
    glue_id: int
    name: str
    si: float
    typed: str


@dataclass(frozen=True)
class StockBoard:
    """A board in the shop."""

    id: int
    name: str
    species: str
    length_mm: float
    length_typed: str
    width_mm: float
    width_typed: str
    thickness_mm: float
    thickness_typed: str
    moisture_pct: float | None
    moisture_typed: str
    rings: str
    source: str
    photo_id: int | None
    price: float | None
    price_typed: str


@dataclass(frozen=True)
class Defect:
    """A stretch of a board that is skipped."""

    id: int
    stock_board_id: int
    from_mm: float
    to_mm: float
    typed: str
    words: str


@dataclass(frozen=True)
class ClampsRow:
    """Clamps of one kind in the shop."""

    id: int
    name: str
    kind: str
    number: int
    force_n: float
    force_typed: str
    force_known: str
    in_line: int
    side_by_side: int


@dataclass(frozen=True)
class Rig:
    """A rig: where its lines come from and what it can do."""

    id: int
    name: str
    url: str
    number_index: int
    unit: str
    capacity_n: float
    capacity_typed: str
    resolution_n: float
    resolution_typed: str
    kind: str
    bore_mm: float | None
    bore_typed: str
    lever_ratio: float | None
    tare_n: float | None
    tare_typed: str
    fixtures: str
    decimal_mark: str
    prints: str
    baud: int
    parity: str
    stop_bits: int
    far_host: str
    simulated: int


@dataclass(frozen=True)
class CalibrationRow:
    """A calibration of a rig; the newest is the one in use."""

    id: int
    rig_id: int
    offset_reading: float
    newton_per_unit: float
    made_utc: str


_GLUE = "SELECT id, name, family, opened_on, lot, kept FROM glue"
_RIG = (
    "SELECT id, name, url, number_index, unit, capacity_n, capacity_typed, resolution_n, resolution_typed, kind,"
    " bore_mm, bore_typed, lever_ratio, tare_n, tare_typed, fixtures, decimal_mark, prints, baud, parity, stop_bits,"
    " far_host, simulated FROM rig"
)
_FIGURE = "SELECT id, glue_id, name, si, typed FROM glue_figure"
_STOCK = (
    "SELECT id, name, species, length_mm, length_typed, width_mm, width_typed, thickness_mm, thickness_typed,"
    " moisture_pct, moisture_typed, rings, source, photo_id, price, price_typed FROM stock_board"
)
_DEFECT = "SELECT id, stock_board_id, from_mm, to_mm, typed, words FROM defect"
_CLAMPS = "SELECT id, name, kind, number, force_n, force_typed, force_known, in_line, side_by_side FROM clamps"
_CALIBRATION = "SELECT id, rig_id, offset_reading, newton_per_unit, made_utc FROM calibration"


def fetch_settings(connection: sqlite3.Connection) -> dict[str, str]:
    """Return the settings by name. Reads only."""
    return {row["name"]: row["value"] for row in connection.execute("SELECT name, value FROM setting")}


def put_setting(connection: sqlite3.Connection, name: str, value: str) -> None:
    """Set one setting; call inside a transaction."""
    connection.execute(
        "INSERT INTO setting (name, value) VALUES (:name, :value) ON CONFLICT (name) DO UPDATE SET value = :value",
        {"name": name, "value": value},
    )


def list_glues(connection: sqlite3.Connection) -> list[Glue]:
    """Return the glues by name. Reads only."""
    return fetch_all(connection, Glue, f"{_GLUE} ORDER BY name")


def fetch_glue(connection: sqlite3.Connection, glue_id: int) -> Glue | None:
    """Return one glue. Reads only."""
    return fetch_one(connection, Glue, f"{_GLUE} WHERE id = :id", {"id": glue_id})


def find_glue(connection: sqlite3.Connection, name: str) -> Glue | None:
    """Return the glue of a name, whatever its case. Reads only."""
    return fetch_one(connection, Glue, f"{_GLUE} WHERE name = :name COLLATE NOCASE", {"name": name})


def list_glue_users(connection: sqlite3.Connection, glue: Glue) -> list[str]:
    """Return the questions of the trials that use a glue, removed ones included. Reads only."""
    rows = connection.execute(
        "SELECT DISTINCT trial.question FROM trial LEFT JOIN treatment ON treatment.trial_id = trial.id"
        " LEFT JOIN factor ON factor.trial_id = trial.id LEFT JOIN level ON level.factor_id = factor.id"
        " WHERE treatment.glue_id = :id OR level.glue_id = :id OR trial.glue = :name COLLATE NOCASE",
        {"id": glue.id, "name": glue.name},
    )
    return [row[0] for row in rows]


def list_glue_figures(connection: sqlite3.Connection) -> dict[int, dict[str, GlueFigure]]:
    """Return the figures of all glues, by glue and name. Reads only."""
    found: dict[int, dict[str, GlueFigure]] = {}
    for row in fetch_all(connection, GlueFigure, _FIGURE):
        found.setdefault(row.glue_id, {})[row.name] = row
    return found


def put_glue_figure(connection: sqlite3.Connection, glue_id: int, name: str, si: float, typed: str) -> None:
    """Set one figure of a glue; call inside a transaction."""
    connection.execute(
        "INSERT INTO glue_figure (glue_id, name, si, typed) VALUES (:glue, :name, :si, :typed)"
        " ON CONFLICT (glue_id, name) DO UPDATE SET si = :si, typed = :typed",
        {"glue": glue_id, "name": name, "si": si, "typed": typed},
    )


def delete_glue_figures(connection: sqlite3.Connection, glue_id: int, name: str | None = None) -> None:
    """Clear one figure of a glue, or all; call inside a transaction."""
    connection.execute(
        "DELETE FROM glue_figure WHERE glue_id = :glue AND (:name IS NULL OR name = :name)",
        {"glue": glue_id, "name": name},
    )


def list_stock_boards(connection: sqlite3.Connection) -> list[StockBoard]:
    """Return the boards in the shop by name. Reads only."""
    return fetch_all(connection, StockBoard, f"{_STOCK} ORDER BY name")


def fetch_stock_board(connection: sqlite3.Connection, board_id: int) -> StockBoard | None:
    """Return one board of the shop. Reads only."""
    return fetch_one(connection, StockBoard, f"{_STOCK} WHERE id = :id", {"id": board_id})


def list_defects(connection: sqlite3.Connection) -> dict[int, tuple[Defect, ...]]:
    """Return the defects of all boards, by board, from one end on. Reads only."""
    found: dict[int, tuple[Defect, ...]] = {}
    for row in fetch_all(connection, Defect, f"{_DEFECT} ORDER BY stock_board_id, from_mm"):
        found[row.stock_board_id] = (*found.get(row.stock_board_id, ()), row)
    return found


def list_board_users(connection: sqlite3.Connection, board_id: int) -> list[str]:
    """Return the questions of the trials that saw a board of the shop. Reads only."""
    rows = connection.execute(
        "SELECT DISTINCT trial.question FROM board JOIN trial ON trial.id = board.trial_id"
        " WHERE board.stock_board_id = :id",
        {"id": board_id},
    )
    return [row[0] for row in rows]


def delete_stock_board(connection: sqlite3.Connection, board_id: int) -> None:
    """Remove a board of the shop with its defects; call inside a transaction."""
    connection.execute("DELETE FROM defect WHERE stock_board_id = :id", {"id": board_id})
    connection.execute("DELETE FROM stock_board WHERE id = :id", {"id": board_id})


def list_clamps(connection: sqlite3.Connection) -> list[ClampsRow]:
    """Return the clamps in the shop by name. Reads only."""
    return fetch_all(connection, ClampsRow, f"{_CLAMPS} ORDER BY name")


def fetch_photo(connection: sqlite3.Connection, photo_id: int) -> bytes | None:
    """Return a photo as JPEG. Reads only."""
    row = connection.execute("SELECT jpeg FROM photo WHERE id = :id", {"id": photo_id}).fetchone()
    return None if row is None else bytes(row[0])


def list_rigs(connection: sqlite3.Connection) -> list[Rig]:
    """Return the rigs by name. Reads only."""
    return fetch_all(connection, Rig, f"{_RIG} ORDER BY name")


def fetch_rig(connection: sqlite3.Connection, rig_id: int) -> Rig | None:
    """Return one rig. Reads only."""
    return fetch_one(connection, Rig, f"{_RIG} WHERE id = :id", {"id": rig_id})


def list_rig_users(connection: sqlite3.Connection, rig_id: int) -> list[str]:
    """Return the questions of the trials that count on a rig. Reads only."""
    sql = "SELECT question FROM trial WHERE rig_id = :id AND removed_utc IS NULL ORDER BY id"
    return [row["question"] for row in connection.execute(sql, {"id": rig_id})]


def count_rig_pulls(connection: sqlite3.Connection, rig_id: int) -> int:
    """Return how many pulls a rig has recorded. Reads only."""
    return int(connection.execute("SELECT count(*) FROM pull WHERE rig_id = :id", {"id": rig_id}).fetchone()[0])


def newest_calibration(connection: sqlite3.Connection, rig_id: int) -> CalibrationRow | None:
    """Return the calibration in use. Reads only."""
    return fetch_one(
        connection, CalibrationRow, f"{_CALIBRATION} WHERE rig_id = :rig ORDER BY id DESC LIMIT 1", {"rig": rig_id}
    )


def fetch_calibration(connection: sqlite3.Connection, calibration_id: int) -> CalibrationRow | None:
    """Return one calibration. Reads only."""
    return fetch_one(connection, CalibrationRow, f"{_CALIBRATION} WHERE id = :id", {"id": calibration_id})


def delete_calibrations(connection: sqlite3.Connection, rig_id: int) -> None:
    """Remove the calibrations of a rig; call inside a transaction."""
    connection.execute("DELETE FROM calibration WHERE rig_id = :rig", {"rig": rig_id})
