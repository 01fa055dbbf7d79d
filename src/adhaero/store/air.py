"""The air of the shop, as a logger wrote it."""

import sqlite3
from dataclasses import dataclass
from typing import TypedDict, Unpack

from adhaero.store.rows import delete, fetch_all, fetch_one, insert


@dataclass(frozen=True)
class ClimateLog:
    """The air of the shop as a logger wrote it; `readings` are JSON: seconds, °C or null, percent or null."""

    id: int
    name: str
    added_utc: str
    from_utc: str
    to_utc: str
    readings: str


class NewAirLog(TypedDict):
    """What a log of the air is written with."""

    name: str
    added_utc: str
    from_utc: str
    to_utc: str
    readings: str


_CLIMATE = "SELECT id, name, added_utc, from_utc, to_utc, readings FROM climate_log"


def list_climate_logs(connection: sqlite3.Connection) -> list[ClimateLog]:
    """Return the logs of the air, oldest first. Reads only."""
    return fetch_all(connection, ClimateLog, f"{_CLIMATE} ORDER BY from_utc, id")


def fetch_climate_log(connection: sqlite3.Connection, log_id: int) -> ClimateLog | None:
    """Return one log of the air. Reads only."""
    return fetch_one(connection, ClimateLog, f"{_CLIMATE} WHERE id = :id", {"id": log_id})


def insert_climate_log(connection: sqlite3.Connection, **row: Unpack[NewAirLog]) -> int:
    """Write a log of the air and return its id; call inside a transaction."""
    return insert(connection, "climate_log", row)


def delete_climate_log(connection: sqlite3.Connection, climate_log_id: int) -> None:
    """Delete a log of the air; call inside a transaction."""
    delete(connection, "climate_log", climate_log_id)
