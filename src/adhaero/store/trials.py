"""Trials and their plans: the question, what is held constant, the sets and the boards."""

import sqlite3
from dataclasses import dataclass

from adhaero.store.rows import fetch_all, fetch_one


@dataclass(frozen=True)
class Trial:
    """One question and the words of its plan; its quantities stand in `quantity`."""

    id: int
    question: str
    guess: str
    judged: str
    factor: str
    factor_name: str
    joint: str
    fixture: str
    material_a: str
    material_b: str
    grain_a: str
    grain_b: str
    glue: str
    prep: str
    seed: int
    practice: int
    created_utc: str
    frozen_utc: str | None
    removed_utc: str | None


@dataclass(frozen=True)
class QuantityRow:
    """One quantity of a plan."""

    id: int
    trial_id: int
    name: str
    si: float
    typed: str


@dataclass(frozen=True)
class Treatment:
    """One set of a trial."""

    id: int
    trial_id: int
    rank: int
    name: str
    code: str
    value_si: float | None
    glue_id: int | None
    solid: int
    pieces: int


@dataclass(frozen=True)
class Board:
    """One board of a trial and how many pieces it holds."""

    id: int
    trial_id: int
    rank: int
    name: str
    species: str
    holds: int


_TRIAL = (
    "SELECT id, question, guess, judged, factor, factor_name, joint, fixture, material_a, material_b, grain_a, grain_b,"
    " glue, prep, seed, practice, created_utc, frozen_utc, removed_utc FROM trial"
)
_TREATMENT = "SELECT id, trial_id, rank, name, code, value_si, glue_id, solid, pieces FROM treatment"
_BOARD = "SELECT id, trial_id, rank, name, species, holds FROM board"


def list_trials(connection: sqlite3.Connection, *, removed: bool = False) -> list[Trial]:
    """Return the trials, newest first. Reads only."""
    where = "IS NOT NULL" if removed else "IS NULL"
    return fetch_all(connection, Trial, f"{_TRIAL} WHERE removed_utc {where} ORDER BY id DESC")


def fetch_trial(connection: sqlite3.Connection, trial_id: int) -> Trial | None:
    """Return one trial. Reads only."""
    return fetch_one(connection, Trial, f"{_TRIAL} WHERE id = :id", {"id": trial_id})


def list_quantities(connection: sqlite3.Connection, trial_id: int) -> dict[str, QuantityRow]:
    """Return the quantities of a plan by name. Reads only."""
    rows = fetch_all(
        connection,
        QuantityRow,
        "SELECT id, trial_id, name, si, typed FROM quantity WHERE trial_id = :trial",
        {"trial": trial_id},
    )
    return {row.name: row for row in rows}


def put_quantity(connection: sqlite3.Connection, trial_id: int, name: str, si: float, typed: str) -> None:
    """Set one quantity of a plan; call inside a transaction."""
    connection.execute(
        "INSERT INTO quantity (trial_id, name, si, typed) VALUES (:trial, :name, :si, :typed)"
        " ON CONFLICT (trial_id, name) DO UPDATE SET si = :si, typed = :typed",
        {"trial": trial_id, "name": name, "si": si, "typed": typed},
    )


def list_treatments(connection: sqlite3.Connection, trial_id: int) -> list[Treatment]:
    """Return the sets of a trial in their order. Reads only."""
    return fetch_all(
        connection, Treatment, f"{_TREATMENT} WHERE trial_id = :trial ORDER BY rank, id", {"trial": trial_id}
    )


def list_boards(connection: sqlite3.Connection, trial_id: int) -> list[Board]:
    """Return the boards of a trial in their order. Reads only."""
    return fetch_all(connection, Board, f"{_BOARD} WHERE trial_id = :trial ORDER BY rank, id", {"trial": trial_id})


def delete_quantity(connection: sqlite3.Connection, trial_id: int, name: str) -> None:
    """Clear one quantity of a plan; call inside a transaction."""
    connection.execute(
        "DELETE FROM quantity WHERE trial_id = :trial AND name = :name", {"trial": trial_id, "name": name}
    )


def delete_joined_treatments(connection: sqlite3.Connection, trial_id: int) -> None:
    """Remove every set of a plan but the solid baseline; call inside a transaction."""
    connection.execute("DELETE FROM treatment WHERE trial_id = :trial AND solid = 0", {"trial": trial_id})
