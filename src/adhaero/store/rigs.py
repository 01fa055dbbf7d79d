"""Rigs and their calibrations."""

import sqlite3
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.core.rig.kinds import GaugeUnit, LoadUnit, Parity, RigKind, TravelUnit
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
    gauge_unit: GaugeUnit
    arm_piece_mm: float | None
    arm_piece_typed: str
    arm_hung_mm: float | None
    arm_hung_typed: str
    lever_n: float | None
    lever_typed: str
    balance_mm: float | None
    balance_typed: str
    handle_n: float | None
    handle_typed: str
    guide: str
    check_n: float | None
    check_typed: str
    check_give_n: float | None
    check_give_typed: str
    displacement_index: int | None
    displacement_unit: TravelUnit


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
    gauge_unit: GaugeUnit
    arm_piece_mm: float | None
    arm_piece_typed: str
    arm_hung_mm: float | None
    arm_hung_typed: str
    lever_n: float | None
    lever_typed: str
    balance_mm: float | None
    balance_typed: str
    handle_n: float | None
    handle_typed: str
    guide: str
    check_n: float | None
    check_typed: str
    check_give_n: float | None
    check_give_typed: str
    displacement_index: int | None
    displacement_unit: TravelUnit


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
    gauge_unit: NotRequired[GaugeUnit]
    arm_piece_mm: NotRequired[float | None]
    arm_piece_typed: NotRequired[str]
    arm_hung_mm: NotRequired[float | None]
    arm_hung_typed: NotRequired[str]
    lever_n: NotRequired[float | None]
    lever_typed: NotRequired[str]
    balance_mm: NotRequired[float | None]
    balance_typed: NotRequired[str]
    handle_n: NotRequired[float | None]
    handle_typed: NotRequired[str]
    guide: NotRequired[str]
    check_n: NotRequired[float | None]
    check_typed: NotRequired[str]
    check_give_n: NotRequired[float | None]
    check_give_typed: NotRequired[str]
    displacement_index: NotRequired[int | None]
    displacement_unit: NotRequired[TravelUnit]


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


@dataclass(frozen=True)
class RigVersion:
    """What made a load of a reading, from when on; `meaning` is the card by the names of its columns."""

    id: int
    rig_id: int
    number: int
    from_utc: str
    meaning: dict[str, float | str | None]


class NewRigVersion(TypedDict):
    """What a version of a rig is written with."""

    rig_id: int
    number: int
    from_utc: str
    meaning: dict[str, float | str | None]


@dataclass(frozen=True)
class CheckWeight:
    """A known weight read on a rig, while the load rose or fell; of a calibration, or to see that it still holds."""

    id: int
    rig_id: int
    calibration_id: int | None
    at_utc: str
    load_n: float
    load_typed: str
    reading: float
    reading_typed: str
    rising: bool


class NewCheckWeight(TypedDict):
    """What a check weight is written with."""

    rig_id: int
    at_utc: str
    load_n: float
    load_typed: str
    reading: float
    reading_typed: str
    rising: bool
    calibration_id: NotRequired[int | None]


_RIG = (
    "SELECT id, name, url, number_index, unit, capacity_n, capacity_typed, resolution_n, resolution_typed, kind,"
    " bore_mm, bore_typed, lever_ratio, tare_n, tare_typed, fixtures, decimal_mark, prints, baud, parity, stop_bits,"
    " far_host, simulated, gauge_unit, arm_piece_mm, arm_piece_typed, arm_hung_mm, arm_hung_typed, lever_n,"
    " lever_typed, balance_mm, balance_typed, handle_n, handle_typed, guide, check_n, check_typed, check_give_n,"
    " check_give_typed, displacement_index, displacement_unit FROM rig"
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


def list_calibrations(connection: sqlite3.Connection, rig_id: int) -> list[CalibrationRow]:
    """Return the calibrations of a rig, oldest first. Reads only."""
    return fetch_all(connection, CalibrationRow, f"{_CALIBRATION} WHERE rig_id = :rig ORDER BY id", {"rig": rig_id})


_VERSION = "SELECT id, rig_id, number, from_utc, meaning FROM rig_version"


def list_rig_versions(connection: sqlite3.Connection, rig_id: int) -> list[RigVersion]:
    """Return the versions of a rig, oldest first. Reads only."""
    return fetch_all(connection, RigVersion, f"{_VERSION} WHERE rig_id = :rig ORDER BY number", {"rig": rig_id})


def newest_rig_versions(connection: sqlite3.Connection) -> dict[int, RigVersion]:
    """Return the version in use of each rig, by the rig. Reads only."""
    return {one.rig_id: one for one in fetch_all(connection, RigVersion, f"{_VERSION} ORDER BY number")}


def list_trial_versions(connection: sqlite3.Connection, trial_id: int) -> dict[int, RigVersion]:
    """Return the versions that the pulls of a trial were made on, by their ids. Reads only."""
    made = (
        f"{_VERSION} WHERE id IN (SELECT version_id FROM pull JOIN piece ON piece.id = pull.piece_id"
        " WHERE piece.trial_id = :trial)"
    )
    return {one.id: one for one in fetch_all(connection, RigVersion, made, {"trial": trial_id})}


def insert_rig_version(connection: sqlite3.Connection, **row: Unpack[NewRigVersion]) -> int:
    """Write a version of a rig and return its id; call inside a transaction."""
    return insert(connection, "rig_version", row)


def amend_rig_version(connection: sqlite3.Connection, version_id: int, meaning: dict[str, float | str | None]) -> None:
    """Set what a version means that nothing was broken on; call inside a transaction."""
    amend(connection, "rig_version", version_id, {"meaning": meaning})


def count_version_pulls(connection: sqlite3.Connection, version_id: int) -> int:
    """Return how many pulls were made on a version of a rig. Reads only."""
    sql = "SELECT count(*) FROM pull WHERE version_id = :id"
    return int(connection.execute(sql, {"id": version_id}).fetchone()[0])


def list_check_weights(connection: sqlite3.Connection, rig_id: int) -> list[CheckWeight]:
    """Return the check weights of a rig, oldest first. Reads only."""
    return fetch_all(
        connection,
        CheckWeight,
        "SELECT id, rig_id, calibration_id, at_utc, load_n, load_typed, reading, reading_typed, rising"
        " FROM check_weight WHERE rig_id = :rig ORDER BY id",
        {"rig": rig_id},
    )


def insert_check_weight(connection: sqlite3.Connection, **row: Unpack[NewCheckWeight]) -> int:
    """Write a check weight and return its id; call inside a transaction."""
    return insert(connection, "check_weight", row)


def delete_rig_rows(connection: sqlite3.Connection, rig_id: int) -> None:
    """Remove the versions and check weights of a rig; call inside a transaction."""
    connection.execute("DELETE FROM check_weight WHERE rig_id = :rig", {"rig": rig_id})
    connection.execute("DELETE FROM rig_version WHERE rig_id = :rig", {"rig": rig_id})


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
