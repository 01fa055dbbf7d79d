"""The glues of the shop, and the figures on their cards."""

import sqlite3
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.core.glue import GlueFamily
from adhaero.store.rows import amend, delete, fetch_all, fetch_one, insert


@dataclass(frozen=True)
class Glue:
    """A glue in the shop: the bottle that is open now."""

    id: int
    name: str
    family: GlueFamily
    opened_on: str | None
    lot: str
    kept: str


class GlueChange(TypedDict, total=False):
    """Columns of a glue that can be set."""

    family: GlueFamily
    opened_on: str | None
    lot: str
    kept: str


class NewGlue(TypedDict):
    """What a glue is written with."""

    name: str
    family: GlueFamily
    opened_on: NotRequired[str | None]
    lot: NotRequired[str]


@dataclass(frozen=True)
class GlueFigure:
    """One figure of a glue's card."""

    id: int
    glue_id: int
    name: str
    si: float
    typed: str


_GLUE = "SELECT id, name, family, opened_on, lot, kept FROM glue"


_FIGURE = "SELECT id, glue_id, name, si, typed FROM glue_figure"


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


def insert_glue(connection: sqlite3.Connection, **row: Unpack[NewGlue]) -> int:
    """Write a glue and return its id; call inside a transaction."""
    return insert(connection, "glue", row)


def amend_glue(connection: sqlite3.Connection, glue_id: int, **change: Unpack[GlueChange]) -> None:
    """Set columns of a glue; call inside a transaction."""
    amend(connection, "glue", glue_id, change)


def delete_glue(connection: sqlite3.Connection, glue_id: int) -> None:
    """Delete a glue; call inside a transaction."""
    delete(connection, "glue", glue_id)
