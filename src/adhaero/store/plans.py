"""What is varied in a trial, the sets and boards that follow, and work besides the joint."""

import sqlite3
from collections import defaultdict
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.core.plan.fields import Factor, StepTurn
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.store.rows import amend, delete, fetch_all, insert


class NewTreatmentLevel(TypedDict):
    """What a level of a treatment is written with."""

    treatment_id: int
    level_id: int


class NewFactorScope(TypedDict):
    """What what a factor is limited to is written with."""

    factor_id: int
    level_id: int


@dataclass(frozen=True)
class FactorRow:
    """One thing that a trial varies."""

    id: int
    trial_id: int
    rank: int
    kind: Factor
    name: str


class FactorChange(TypedDict, total=False):
    """Columns of a factor that can be set."""

    kind: Factor
    name: str


class NewFactor(TypedDict):
    """What a factor is written with."""

    trial_id: int
    rank: int
    kind: Factor
    name: NotRequired[str]


@dataclass(frozen=True)
class LevelRow:
    """One value of what is varied."""

    id: int
    factor_id: int
    rank: int
    name: str
    code: str
    value_si: float | None
    glue_id: int | None


class LevelChange(TypedDict, total=False):
    """Columns of a level that can be set."""

    rank: int
    code: str


class NewLevel(TypedDict):
    """What a level is written with."""

    factor_id: int
    rank: int
    name: str
    code: str
    value_si: NotRequired[float | None]
    glue_id: NotRequired[int | None]


@dataclass(frozen=True)
class Treatment:
    """One set of a trial: a combination of values, or a control. `glue_id` and `recipe` are a control's own."""

    id: int
    trial_id: int
    rank: int
    name: str
    code: str
    kind: TreatmentKind
    glue_id: int | None
    recipe: str
    left_out: bool
    pieces: int
    pieces_own: bool

    @property
    def solid(self) -> bool:
        """Return whether its pieces have no joint."""
        return self.kind == "solid"


class TreatmentChange(TypedDict, total=False):
    """Columns of a treatment that can be set."""

    rank: int
    name: str
    code: str
    pieces: int
    recipe: str
    left_out: bool
    pieces_own: bool


class NewTreatment(TypedDict):
    """What a treatment is written with."""

    trial_id: int
    rank: int
    name: str
    code: str
    pieces: int
    glue_id: NotRequired[int | None]
    kind: NotRequired[TreatmentKind]
    recipe: NotRequired[str]
    left_out: NotRequired[bool]
    pieces_own: NotRequired[bool]


@dataclass(frozen=True)
class Board:
    """One board of a trial and how many pieces it holds."""

    id: int
    trial_id: int
    rank: int
    name: str
    species: str
    holds: int
    stock_board_id: int | None


class BoardChange(TypedDict, total=False):
    """Columns of a board of a plan that can be set."""

    name: str
    species: str
    holds: int


class NewBoard(TypedDict):
    """What a board of a plan is written with."""

    trial_id: int
    rank: int
    name: str
    holds: int
    species: NotRequired[str]
    stock_board_id: NotRequired[int | None]


@dataclass(frozen=True)
class Step:
    """Work on the parts besides the joint, before or after glue-up."""

    id: int
    trial_id: int
    rank: int
    words: str
    turn: StepTurn
    done_utc: str | None


class StepChange(TypedDict, total=False):
    """Columns of a step of work that can be set."""

    done_utc: str | None


class NewStep(TypedDict):
    """What a step of work is written with."""

    trial_id: int
    rank: int
    words: str
    turn: StepTurn


_TREATMENT = "SELECT id, trial_id, rank, name, code, kind, glue_id, recipe, left_out, pieces, pieces_own FROM treatment"


_BOARD = "SELECT id, trial_id, rank, name, species, holds, stock_board_id FROM board"


def list_treatments(connection: sqlite3.Connection, trial_id: int) -> list[Treatment]:
    """Return the sets of a trial in their order. Reads only."""
    return fetch_all(
        connection, Treatment, f"{_TREATMENT} WHERE trial_id = :trial ORDER BY rank, id", {"trial": trial_id}
    )


def list_boards(connection: sqlite3.Connection, trial_id: int) -> list[Board]:
    """Return the boards of a trial in their order. Reads only."""
    return fetch_all(connection, Board, f"{_BOARD} WHERE trial_id = :trial ORDER BY rank, id", {"trial": trial_id})


def list_factors(connection: sqlite3.Connection, trial_id: int) -> list[FactorRow]:
    """Return what a trial varies, in order. Reads only."""
    return fetch_all(
        connection,
        FactorRow,
        "SELECT id, trial_id, rank, kind, name FROM factor WHERE trial_id = :trial ORDER BY rank, id",
        {"trial": trial_id},
    )


def list_levels(connection: sqlite3.Connection, trial_id: int) -> list[LevelRow]:
    """Return the values of everything that a trial varies, in order. Reads only."""
    return fetch_all(
        connection,
        LevelRow,
        "SELECT level.id, factor_id, level.rank, level.name, code, value_si, glue_id FROM level"
        " JOIN factor ON factor.id = level.factor_id WHERE factor.trial_id = :trial"
        " ORDER BY factor.rank, factor.id, level.rank, level.id",
        {"trial": trial_id},
    )


def list_scopes(connection: sqlite3.Connection, trial_id: int) -> dict[int, frozenset[int]]:
    """Return the values that each factor goes with, by factor; those that go with all are left out. Reads only."""
    found: dict[int, set[int]] = defaultdict(set)
    for row in connection.execute(
        "SELECT factor_id, level_id FROM factor_scope JOIN factor ON factor.id = factor_scope.factor_id"
        " WHERE factor.trial_id = :trial",
        {"trial": trial_id},
    ):
        found[row["factor_id"]].add(row["level_id"])
    return {factor_id: frozenset(levels) for factor_id, levels in found.items()}


def list_treatment_levels(connection: sqlite3.Connection, trial_id: int) -> dict[int, tuple[int, ...]]:
    """Return the values that each set is made of, by set. Reads only."""
    found: dict[int, list[int]] = defaultdict(list)
    for row in connection.execute(
        "SELECT treatment_id, level_id FROM treatment_level"
        " JOIN treatment ON treatment.id = treatment_level.treatment_id"
        " WHERE treatment.trial_id = :trial ORDER BY treatment_level.id",
        {"trial": trial_id},
    ):
        found[row["treatment_id"]].append(row["level_id"])
    return {treatment_id: tuple(levels) for treatment_id, levels in found.items()}


def find_standard_recipe(connection: sqlite3.Connection) -> str:
    """Return how the shop's standard joint was made in the latest trial that has one; empty without. Reads only."""
    row = connection.execute(
        "SELECT recipe FROM treatment WHERE kind = 'standard' AND recipe <> '' ORDER BY id DESC LIMIT 1"
    ).fetchone()
    return str(row["recipe"]) if row else ""


def delete_treatment(connection: sqlite3.Connection, treatment_id: int) -> None:
    """Remove a set with what it is made of; call inside a transaction."""
    delete_made_of(connection, treatment_id)
    connection.execute("DELETE FROM treatment WHERE id = :id", {"id": treatment_id})


def delete_made_of(connection: sqlite3.Connection, treatment_id: int) -> None:
    """Remove what a set is made of, not the set; call inside a transaction."""
    connection.execute("DELETE FROM treatment_level WHERE treatment_id = :id", {"id": treatment_id})


def delete_level(connection: sqlite3.Connection, level_id: int) -> None:
    """Remove a value with the sets that are made with it, controls only let go of it; call inside a transaction."""
    rows = connection.execute(
        "SELECT treatment.id, treatment.kind FROM treatment JOIN treatment_level ON treatment_id = treatment.id "
        "WHERE level_id = :id",
        {"id": level_id},
    ).fetchall()
    for row in rows:
        if row["kind"] == "made":
            delete_treatment(connection, row["id"])
        else:
            delete_made_of(connection, row["id"])
    connection.execute("DELETE FROM factor_scope WHERE level_id = :id", {"id": level_id})
    connection.execute("DELETE FROM level WHERE id = :id", {"id": level_id})


def delete_factor(connection: sqlite3.Connection, factor_id: int) -> None:
    """Remove a factor with its values and their sets; call inside a transaction."""
    rows = connection.execute("SELECT id FROM level WHERE factor_id = :id", {"id": factor_id}).fetchall()
    for row in rows:
        delete_level(connection, row["id"])
    connection.execute("DELETE FROM factor_scope WHERE factor_id = :id", {"id": factor_id})
    connection.execute("DELETE FROM factor WHERE id = :id", {"id": factor_id})


def delete_scope(connection: sqlite3.Connection, factor_id: int) -> None:
    """Let a factor go with everything again; call inside a transaction."""
    connection.execute("DELETE FROM factor_scope WHERE factor_id = :id", {"id": factor_id})


def list_steps(connection: sqlite3.Connection, trial_id: int) -> list[Step]:
    """Return the work on the parts besides the joint, in order. Reads only."""
    return fetch_all(
        connection,
        Step,
        "SELECT id, trial_id, rank, words, turn, done_utc FROM step WHERE trial_id = :trial"
        " ORDER BY turn DESC, rank, id",
        {"trial": trial_id},
    )


def insert_factor(connection: sqlite3.Connection, **row: Unpack[NewFactor]) -> int:
    """Write a factor and return its id; call inside a transaction."""
    return insert(connection, "factor", row)


def amend_factor(connection: sqlite3.Connection, factor_id: int, **change: Unpack[FactorChange]) -> None:
    """Set columns of a factor; call inside a transaction."""
    amend(connection, "factor", factor_id, change)


def insert_factor_scope(connection: sqlite3.Connection, **row: Unpack[NewFactorScope]) -> int:
    """Write what a factor is limited to and return its id; call inside a transaction."""
    return insert(connection, "factor_scope", row)


def insert_level(connection: sqlite3.Connection, **row: Unpack[NewLevel]) -> int:
    """Write a level and return its id; call inside a transaction."""
    return insert(connection, "level", row)


def amend_level(connection: sqlite3.Connection, level_id: int, **change: Unpack[LevelChange]) -> None:
    """Set columns of a level; call inside a transaction."""
    amend(connection, "level", level_id, change)


def insert_treatment(connection: sqlite3.Connection, **row: Unpack[NewTreatment]) -> int:
    """Write a treatment and return its id; call inside a transaction."""
    return insert(connection, "treatment", row)


def amend_treatment(connection: sqlite3.Connection, treatment_id: int, **change: Unpack[TreatmentChange]) -> None:
    """Set columns of a treatment; call inside a transaction."""
    amend(connection, "treatment", treatment_id, change)


def insert_treatment_level(connection: sqlite3.Connection, **row: Unpack[NewTreatmentLevel]) -> int:
    """Write a level of a treatment and return its id; call inside a transaction."""
    return insert(connection, "treatment_level", row)


def insert_board(connection: sqlite3.Connection, **row: Unpack[NewBoard]) -> int:
    """Write a board of a plan and return its id; call inside a transaction."""
    return insert(connection, "board", row)


def amend_board(connection: sqlite3.Connection, board_id: int, **change: Unpack[BoardChange]) -> None:
    """Set columns of a board of a plan; call inside a transaction."""
    amend(connection, "board", board_id, change)


def delete_board(connection: sqlite3.Connection, board_id: int) -> None:
    """Delete a board of a plan; call inside a transaction."""
    delete(connection, "board", board_id)


def insert_step(connection: sqlite3.Connection, **row: Unpack[NewStep]) -> int:
    """Write a step of work and return its id; call inside a transaction."""
    return insert(connection, "step", row)


def amend_step(connection: sqlite3.Connection, step_id: int, **change: Unpack[StepChange]) -> None:
    """Set columns of a step of work; call inside a transaction."""
    amend(connection, "step", step_id, change)


def delete_step(connection: sqlite3.Connection, step_id: int) -> None:
    """Delete a step of work; call inside a transaction."""
    delete(connection, "step", step_id)
