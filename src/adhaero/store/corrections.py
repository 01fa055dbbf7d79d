"""Corrections of kept breaks: what was changed afterwards, from what to what, and why."""

import sqlite3
from collections import defaultdict
from dataclasses import dataclass
from typing import TypedDict, Unpack

from adhaero.store.rows import fetch_all, insert


@dataclass(frozen=True)
class Correction:
    """One value of a kept break that was changed."""

    id: int
    piece_id: int
    pull_id: int | None
    field: str
    before: str
    after: str
    reason: str
    at_utc: str


class NewCorrection(TypedDict):
    """What a correction is written with."""

    piece_id: int
    pull_id: int | None
    field: str
    before: str
    after: str
    reason: str
    at_utc: str


def list_corrections(connection: sqlite3.Connection, trial_id: int) -> dict[int, tuple[Correction, ...]]:
    """Return the corrections of a trial by piece, oldest first. Reads only."""
    rows = fetch_all(
        connection,
        Correction,
        "SELECT correction.id, piece_id, pull_id, field, before, after, reason, at_utc FROM correction"
        " JOIN piece ON piece.id = piece_id WHERE trial_id = :trial ORDER BY correction.id",
        {"trial": trial_id},
    )
    found: dict[int, list[Correction]] = defaultdict(list)
    for row in rows:
        found[row.piece_id].append(row)
    return {piece_id: tuple(mine) for piece_id, mine in found.items()}


def insert_correction(connection: sqlite3.Connection, **row: Unpack[NewCorrection]) -> int:
    """Write a correction and return its id; call inside a transaction."""
    return insert(connection, "correction", row)
