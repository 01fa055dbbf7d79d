"""Trials: the question, the words and quantities of the plan, and what was changed after it was settled."""

import sqlite3
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.core.fixture import Fixture
from adhaero.core.joint import Joint
from adhaero.core.plan.fields import AnswerKind, Faces, JudgedFor, Matched
from adhaero.core.wood import Grain
from adhaero.store.rows import amend, fetch_all, fetch_one, insert


@dataclass(frozen=True)
class Trial:
    """One question and the words of its plan; its quantities stand in `quantity`."""

    id: int
    question: str
    guess: str
    guess_utc: str | None
    judged: JudgedFor
    answer: AnswerKind
    joint: Joint
    fixture: Fixture
    material_a: str
    material_b: str
    grain_a: Grain
    grain_b: Grain
    glue: str
    prep: str
    spread: str
    condition: str
    faces: Faces
    matched: Matched
    together: str
    label_scheme: str
    pieces_each: int
    pilot: int
    spares: str
    rig_id: int | None
    seed: int
    practice: bool
    created_utc: str
    frozen_utc: str | None
    removed_utc: str | None
    copied_from: int | None
    reference_id: int | None
    fence: str
    stop_block: str
    blade: str
    planer: str
    conclusion: str
    blind: str
    looks: str
    joint_said: bool


class TrialChange(TypedDict, total=False):
    """Columns of a trial that can be set."""

    question: str
    guess: str
    judged: JudgedFor
    joint: Joint
    fixture: Fixture
    material_a: str
    material_b: str
    grain_a: Grain
    grain_b: Grain
    glue: str
    prep: str
    seed: int
    practice: bool
    created_utc: str
    frozen_utc: str | None
    removed_utc: str | None
    answer: AnswerKind
    spread: str
    condition: str
    faces: Faces
    matched: Matched
    together: str
    label_scheme: str
    pieces_each: int
    pilot: int
    spares: str
    rig_id: int | None
    guess_utc: str | None
    copied_from: int | None
    reference_id: int | None
    fence: str
    stop_block: str
    blade: str
    planer: str
    conclusion: str
    blind: str
    looks: str
    joint_said: bool


class NewTrial(TypedDict):
    """What a trial is written with."""

    question: str
    seed: int
    created_utc: str
    prep: NotRequired[str]
    practice: NotRequired[bool]
    spread: NotRequired[str]
    condition: NotRequired[str]
    copied_from: NotRequired[int | None]


@dataclass(frozen=True)
class QuantityRow:
    """One quantity of a plan."""

    id: int
    trial_id: int
    name: str
    si: float
    typed: str


@dataclass(frozen=True)
class Amendment:
    """A change of a settled plan, and why."""

    id: int
    trial_id: int
    at_utc: str
    field: str
    words: str
    before: str
    after: str
    reason: str


class NewAmendment(TypedDict):
    """What an amendment is written with."""

    trial_id: int
    at_utc: str
    field: str
    words: str
    before: str
    after: str
    reason: str


_TRIAL = (
    "SELECT id, question, guess, guess_utc, judged, answer, joint, fixture, material_a, material_b, grain_a, grain_b,"
    " glue, prep, spread, condition, faces, matched, together, label_scheme, pieces_each, pilot, spares, rig_id, seed,"
    " practice, created_utc, frozen_utc, removed_utc, copied_from, reference_id, fence, stop_block, blade, planer,"
    " conclusion, blind, looks, joint_said"
    " FROM trial"
)


def list_trials(connection: sqlite3.Connection, *, removed: bool = False) -> list[Trial]:
    """Return the trials, the one that was begun last first. Reads only."""
    where = "IS NOT NULL" if removed else "IS NULL"
    return fetch_all(connection, Trial, f"{_TRIAL} WHERE removed_utc {where} ORDER BY created_utc DESC, id DESC")


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


def delete_quantity(connection: sqlite3.Connection, trial_id: int, name: str) -> None:
    """Clear one quantity of a plan; call inside a transaction."""
    connection.execute(
        "DELETE FROM quantity WHERE trial_id = :trial AND name = :name", {"trial": trial_id, "name": name}
    )


def list_amendments(connection: sqlite3.Connection, trial_id: int) -> list[Amendment]:
    """Return the changes of a settled plan, oldest first. Reads only."""
    return fetch_all(
        connection,
        Amendment,
        "SELECT id, trial_id, at_utc, field, words, before, after, reason FROM amendment WHERE trial_id = :trial"
        " ORDER BY id",
        {"trial": trial_id},
    )


def insert_trial(connection: sqlite3.Connection, **row: Unpack[NewTrial]) -> int:
    """Write a trial and return its id; call inside a transaction."""
    return insert(connection, "trial", row)


def amend_trial(connection: sqlite3.Connection, trial_id: int, **change: Unpack[TrialChange]) -> None:
    """Set columns of a trial; call inside a transaction."""
    amend(connection, "trial", trial_id, change)


def insert_amendment(connection: sqlite3.Connection, **row: Unpack[NewAmendment]) -> int:
    """Write an amendment and return its id; call inside a transaction."""
    return insert(connection, "amendment", row)


def put_trial_field(connection: sqlite3.Connection, trial_id: int, name: str, value: str | int) -> None:
    """Set one word or number of a plan by its name; call inside a transaction. Raises `KeyError` for no such field."""
    if name not in TrialChange.__annotations__:
        raise KeyError(name)
    amend(connection, "trial", trial_id, {name: value})
