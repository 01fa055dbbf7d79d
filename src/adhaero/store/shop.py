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


@dataclass(frozen=True)
class CalibrationRow:
    """A calibration of a rig; the newest is the one in use."""

    id: int
    rig_id: int
    offset_reading: float
    newton_per_unit: float
    made_utc: str


_GLUE = "SELECT id, name, family, opened_on, lot FROM glue"
_RIG = "SELECT id, name, url, number_index, unit, capacity_n, capacity_typed, resolution_n, resolution_typed FROM rig"
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
        " WHERE treatment.glue_id = :id OR trial.glue = :name COLLATE NOCASE",
        {"id": glue.id, "name": glue.name},
    )
    return [row[0] for row in rows]


def list_rigs(connection: sqlite3.Connection) -> list[Rig]:
    """Return the rigs by name. Reads only."""
    return fetch_all(connection, Rig, f"{_RIG} ORDER BY name")


def fetch_rig(connection: sqlite3.Connection, rig_id: int) -> Rig | None:
    """Return one rig. Reads only."""
    return fetch_one(connection, Rig, f"{_RIG} WHERE id = :id", {"id": rig_id})


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
