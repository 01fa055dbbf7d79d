"""Timetables: how one was asked for, how good it is, and its tasks."""

import sqlite3
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.core.plan.tasks import TaskKind
from adhaero.store.rows import amend, fetch_all, fetch_one, insert


@dataclass(frozen=True)
class TimetableRow:
    """A trial's timetable as it was solved."""

    id: int
    trial_id: int
    solved_utc: str
    finish_utc: str
    bound_utc: str | None
    proved: bool
    odd_hours: bool
    finish_by_utc: str | None
    give_typed: str
    break_typed: str


class NewTimetable(TypedDict):
    """What a timetable is written with."""

    trial_id: int
    solved_utc: str
    finish_utc: str
    proved: bool
    odd_hours: bool
    give_typed: str
    break_typed: str
    bound_utc: NotRequired[str | None]
    finish_by_utc: NotRequired[str | None]


@dataclass(frozen=True)
class TaskRow:
    """One task; `pieces` are the ids of those that it is about."""

    id: int
    trial_id: int
    name: str
    kind: TaskKind
    batch: str
    begin_utc: str
    end_utc: str
    odd: bool
    pinned: bool
    pieces: tuple[int, ...]


class TaskChange(TypedDict, total=False):
    """Columns of a task that can be set."""

    begin_utc: str
    end_utc: str
    pinned: bool


class NewTask(TypedDict):
    """What a task is written with."""

    trial_id: int
    name: str
    kind: TaskKind
    batch: str
    begin_utc: str
    end_utc: str
    odd: bool
    pieces: Sequence[int]
    pinned: NotRequired[bool]


@dataclass(frozen=True)
class TaskClamps:
    """How many of which clamps a task holds."""

    id: int
    task_id: int
    name: str
    number: int


class NewTaskClamps(TypedDict):
    """What the clamps of a task are written with."""

    task_id: int
    name: str
    number: int


def fetch_timetable(connection: sqlite3.Connection, trial_id: int) -> TimetableRow | None:
    """Return the timetable of a trial. Reads only."""
    return fetch_one(
        connection,
        TimetableRow,
        "SELECT id, trial_id, solved_utc, finish_utc, bound_utc, proved, odd_hours, finish_by_utc, give_typed,"
        " break_typed FROM timetable WHERE trial_id = :trial",
        {"trial": trial_id},
    )


def list_tasks(connection: sqlite3.Connection, trial_id: int) -> list[TaskRow]:
    """Return the tasks of a trial in the order of their begin. Reads only."""
    return fetch_all(
        connection,
        TaskRow,
        "SELECT id, trial_id, name, kind, batch, begin_utc, end_utc, odd, pinned, pieces FROM task"
        " WHERE trial_id = :trial ORDER BY begin_utc, end_utc, id",
        {"trial": trial_id},
    )


def list_task_clamps(connection: sqlite3.Connection, trial_id: int) -> dict[int, tuple[TaskClamps, ...]]:
    """Return the clamps of a trial's tasks, by task. Reads only."""
    rows = fetch_all(
        connection,
        TaskClamps,
        "SELECT task_clamps.id, task_id, task_clamps.name, number FROM task_clamps JOIN task ON task.id = task_id"
        " WHERE trial_id = :trial ORDER BY task_id, task_clamps.id",
        {"trial": trial_id},
    )
    found: dict[int, list[TaskClamps]] = defaultdict(list)
    for row in rows:
        found[row.task_id].append(row)
    return {task_id: tuple(mine) for task_id, mine in found.items()}


def delete_timetable(connection: sqlite3.Connection, trial_id: int) -> None:
    """Take a trial's timetable away with its tasks; call inside a transaction."""
    connection.execute(
        "DELETE FROM task_clamps WHERE task_id IN (SELECT id FROM task WHERE trial_id = :trial)", {"trial": trial_id}
    )
    connection.execute("DELETE FROM task WHERE trial_id = :trial", {"trial": trial_id})
    connection.execute("DELETE FROM timetable WHERE trial_id = :trial", {"trial": trial_id})


def insert_timetable(connection: sqlite3.Connection, **row: Unpack[NewTimetable]) -> int:
    """Write a timetable and return its id; call inside a transaction."""
    return insert(connection, "timetable", row)


def insert_task(connection: sqlite3.Connection, **row: Unpack[NewTask]) -> int:
    """Write a task and return its id; call inside a transaction."""
    return insert(connection, "task", row)


def insert_task_clamps(connection: sqlite3.Connection, **row: Unpack[NewTaskClamps]) -> int:
    """Write clamps of a task and return their id; call inside a transaction."""
    return insert(connection, "task_clamps", row)


def amend_task(connection: sqlite3.Connection, task_id: int, **change: Unpack[TaskChange]) -> None:
    """Set columns of a task; call inside a transaction."""
    amend(connection, "task", task_id, change)
