"""Rigs and their calibrations."""

import sqlite3
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.core.rig.kinds import LoadUnit, Parity, RigKind
from adhaero.core.rig.lines import DecimalMark
from adhaero.store.rows import amend, delete, fetch_all, fetch_one, insert


@dataclass(frozen=True)
class Rig:
    """A rig: where its lines come from and what it can do."""

    id: int
    name: str
    url: str
    number_index: int
    unit: LoadUnit
    capacity_n: float
    capacity_typed: str
    resolution_n: float
    resolution_typed: str
    kind: RigKind
    bore_mm: float | None
    bore_typed: str
    lever_ratio: float | None
    tare_n: float | None
    tare_typed: str
    fixtures: str
    decimal_mark: DecimalMark
    prints: str
    baud: int
    parity: Parity
    stop_bits: int
    far_host: str
    simulated: bool


class RigChange(TypedDict, total=False):
    """Columns of a rig that can be set."""

    name: str
    url: str
    number_index: int
    unit: LoadUnit
    capacity_n: float
    capacity_typed: str
    resolution_n: float
    resolution_typed: str
    kind: RigKind
    bore_mm: float | None
    bore_typed: str
    lever_ratio: float | None
    tare_n: float | None
    tare_typed: str
    fixtures: str
    decimal_mark: DecimalMark
    prints: str
    baud: int
    parity: Parity
    stop_bits: int
    far_host: str
    simulated: bool


class NewRig(TypedDict):
    """What a rig is written with."""

    name: str
    url: str
    unit: LoadUnit
    capacity_n: float
    capacity_typed: str
    resolution_n: float
    resolution_typed: str
    number_index: NotRequired[int]
    kind: NotRequired[RigKind]
    bore_mm: NotRequired[float | None]
    bore_typed: NotRequired[str]
    lever_ratio: NotRequired[float | None]
    tare_n: NotRequired[float | None]
    tare_typed: NotRequired[str]
    fixtures: NotRequired[str]
    decimal_mark: NotRequired[DecimalMark]
    prints: NotRequired[str]
    baud: NotRequired[int]
    parity: NotRequired[Parity]
    stop_bits: NotRequired[int]
    far_host: NotRequired[str]
    simulated: NotRequired[bool]


@dataclass(frozen=True)
class CalibrationRow:
    """A calibration of a rig; the newest is the one in use."""

    id: int
    rig_id: int
    offset_reading: float
    newton_per_unit: float
    made_utc: str


class NewCalibration(TypedDict):
    """What a calibration is written with."""

    rig_id: int
    offset_reading: float
    newton_per_unit: float
    made_utc: str


_RIG = (
    "SELECT id, name, url, number_index, unit, capacity_n, capacity_typed, resolution_n, resolution_typed, kind,"
    " bore_mm, bore_typed, lever_ratio, tare_n, tare_typed, fixtures, decimal_mark, prints, baud, parity, stop_bits,"
    " far_host, simulated FROM rig"
)


_CALIBRATION = "SELECT id, rig_id, offset_reading, newton_per_unit, made_utc FROM calibration"


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


def insert_rig(connection: sqlite3.Connection, **row: Unpack[NewRig]) -> int:
    """Write a rig and return its id; call inside a transaction."""
    return insert(connection, "rig", row)


def amend_rig(connection: sqlite3.Connection, rig_id: int, **change: Unpack[RigChange]) -> None:
    """Set columns of a rig; call inside a transaction."""
    amend(connection, "rig", rig_id, change)


def delete_rig(connection: sqlite3.Connection, rig_id: int) -> None:
    """Delete a rig; call inside a transaction."""
    delete(connection, "rig", rig_id)


def insert_calibration(connection: sqlite3.Connection, **row: Unpack[NewCalibration]) -> int:
    """Write a calibration and return its id; call inside a transaction."""
    return insert(connection, "calibration", row)
